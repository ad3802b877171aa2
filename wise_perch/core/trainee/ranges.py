"""What is known of a trainee's range where a line asks whether it is range or habit."""

from dataclasses import dataclass
from datetime import date

from wise_perch.core.trade.gates import say_amount
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.wall import State


@dataclass(frozen=True, slots=True, kw_only=True)
class RangeKnown:
    """What a measured range says of a fault that it could explain. `free`: whether it is there; None where it
    was never measured.
    """

    drill: str
    title: str
    free: bool | None
    day: date | None
    words: str


def known_ranges(case: JudgedCase) -> dict[str, RangeKnown]:
    """The ranges that explain a fault of the line, by drill."""
    wanted = {f.range for f in case.syllabus.line_rules.faults if f.range in case.syllabus.drills}
    return {drill: _known(case, drill) for drill in sorted(wanted)}


def _known(case: JudgedCase, drill: str) -> RangeKnown:
    title = case.syllabus.drills[drill].title
    pieces = case.history.of(drill)
    if not pieces:
        words = f"{title} was never measured: whether this is range or habit is not known."
        return RangeKnown(drill=drill, title=title, free=None, day=None, words=words)
    newest = max(pieces, key=lambda p: p.day)
    free = case.standing.drill(drill).state is State.MET
    said = f"{say_amount(newest.value, newest.measure, newest.n)} on {say_day(newest.day, case.on)}"
    words = (
        f"{title} is free ({said}): this is habit, not range."
        if free
        else f"{title} is not free yet ({said}): this is range. Open it first, and do not force the line."
    )
    return RangeKnown(drill=drill, title=title, free=free, day=newest.day, words=words)
