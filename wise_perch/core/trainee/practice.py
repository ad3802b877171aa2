"""How much a drill was practised, and how much of what its sets asked was done."""

from dataclasses import dataclass
from datetime import date

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.session_rules import Practice as PracticeRules
from wise_perch.core.trade.words import say_share
from wise_perch.core.trainee.case import JudgedCase

WEEK_DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class Practice:
    """The practice of a drill over some weeks: days of it, sets that asked for something, and how many of
    those were done as asked.
    """

    days: int
    weeks: float
    asked: int
    as_asked: int

    @property
    def days_a_week(self) -> float:
        """Days of practice a week."""
        return self.days / max(1.0, self.weeks)

    @property
    def share(self) -> float | None:
        """The share done of what was asked; None where nothing was."""
        return self.as_asked / self.asked if self.asked else None


def practice_of(drill: Drill, case: JudgedCase, *, since: date) -> Practice:
    """The practice of a drill from a day on. What the trainee did alone counts as they told it."""
    pieces = case.history.of_since(drill.drill, since)
    asked = [p for p in pieces if p.asked is not None]
    return Practice(
        days=len({p.day for p in pieces}),
        weeks=(case.on - since).days / WEEK_DAYS,
        asked=len(asked),
        as_asked=sum(p.at_least for p in asked),
    )


def causes_of(found: Practice, rules: PracticeRules) -> tuple[Because, ...]:
    """What practice says of why something does not move."""
    causes = []
    if found.days_a_week < rules.little_days.value:
        text = f"{rules.words.little} {found.days} days in {found.weeks:.0f} weeks."
        causes.append(Because(text=text, origin=rules.little_days.origin))
    if found.share is not None and found.asked >= rules.least_sets.value:
        told = f"{say_share(found.share)} of {found.asked} done as asked."
        if found.share >= rules.easy_from.value:
            causes.append(Because(text=f"{rules.words.easy} {told}", origin=rules.easy_from.origin))
        elif found.share < rules.hard_below.value:
            causes.append(Because(text=f"{rules.words.hard} {told}", origin=rules.hard_below.origin))
    return tuple(causes)
