"""From where a line was judged by eye: the side, the front, or both."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.poses import View
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day

TITLES: Mapping[View, str] = {"side": "Seen from the side", "front": "Seen from the front"}


@dataclass(frozen=True, slots=True, kw_only=True)
class LineSeen:
    """The last day that a drill was looked at from a view."""

    drill: str
    view: View
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class ViewSaid:
    """One tick: whether the drill was looked at from there today, and when last before; empty for never."""

    view: View
    title: str
    today: bool
    last: str


def views_of(drill: Drill, syllabus: Syllabus) -> tuple[View, ...]:
    """From where a drill has to be seen, since its faults show from there; upside down from both, since a
    line is judged there. The side first; nothing where no fault is looked for.
    """
    drawn = [f for f in map(syllabus.poses.of_fault, drill.faults) if f]
    found = set(TITLES) if drawn and drill.drill in syllabus.inverted else {f.view for f in drawn}
    return tuple(view for view in TITLES if view in found)


def say_views(
    drill: Drill, syllabus: Syllabus, seen: Sequence[LineSeen], *, on: date
) -> tuple[ViewSaid, ...]:
    """The ticks of a drill as they stand on a day."""
    last = {s.view: s.day for s in sorted(seen, key=lambda s: s.day) if s.drill == drill.drill}
    return tuple(
        ViewSaid(
            view=view,
            title=TITLES[view],
            today=last.get(view) == on,
            last="today" if last.get(view) == on else say_day(last[view], on) if view in last else "",
        )
        for view in views_of(drill, syllabus)
    )
