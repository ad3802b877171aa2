"""A week laid out before it is solved: what it may be made of, each day's time, how much hands may carry."""

from collections.abc import Sequence
from dataclasses import dataclass

from wise_perch.core.week.candidates import Candidate
from wise_perch.core.week.question import WeekQuestion
from wise_perch.core.week.session import Prepared
from wise_perch.core.week.solve import UNIT_S, Puzzle, Slot, cost_in_units
from wise_perch.core.week.week_plan import Wish


@dataclass(frozen=True, kw_only=True)
class LaidWeek:
    """A week before it is solved: what it may be made of, and each day's time beside preparation."""

    question: WeekQuestion
    wish: Wish
    found: Sequence[Candidate]
    prepared: Sequence[Prepared]
    slots: Sequence[Slot]
    puzzle: Puzzle


def load_most(question: WeekQuestion) -> float:
    """The most hand-load this week may still carry, body-weight seconds: so much above the mean of the weeks
    before that nothing more is added, less what is done. From the ramp on it is warned of.
    """
    rules = question.case.syllabus.sessions
    return max(
        0.0,
        max(rules.least_week_load_s.value, (1 + rules.load_stops_at.value) * question.loading.mean_s)
        - question.loading.done_s,
    )


def least_load(found: Sequence[Candidate], days: int) -> float:
    """The hand-load that is in whatever the week has carried, body-weight seconds: the smallest dose of what
    leads, on every day.
    """
    leads = max((c for c in found if c.main and c.dose), key=lambda c: (c.counts, c.name), default=None)
    return leads.dose.load_s * leads.dose.least * days if leads and leads.dose else 0.0


def say_kit(items: frozenset[str], question: WeekQuestion) -> str:
    """Kit as it is said: "box and pads"."""
    words = question.case.syllabus.content.kit
    return " and ".join(words[i][:1].lower() + words[i][1:] for i in sorted(items))


def worth_beside(laid: LaidWeek) -> float:
    """What counts no more than this is only open beside the way."""
    return laid.question.case.syllabus.sessions.weights.beside.value


def seconds_of(candidate: Candidate, sets: int, laid: LaidWeek) -> float:
    """How long a candidate takes with so many sets, s, as the solver reckons."""
    once, each = cost_in_units(candidate, laid.question.case.syllabus.sessions)
    return float(UNIT_S * (once + each * sets))
