"""Where somebody is on the way, in a line: who moves, who stands still, who has not been seen, and what fell
of late.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from typing import Literal, get_args

from wise_perch.core.trade.gates import say_at
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import capitalise, say_day, within
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.course import largest_rise
from wise_perch.core.trainee.limits import came_harder
from wise_perch.core.trainee.marks import FULL, Marks, TraineeMarks
from wise_perch.core.trainee.standing_still import Standstill

CourseKind = Literal["still", "away", "back", "unmoved", "new", "moves"]
WANTS: tuple[CourseKind, ...] = get_args(CourseKind)
"""The kinds of course, what wants a word most first."""
WEEK_DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class FellOn:
    """A gate that fell for the first time on a day."""

    title: str
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class CourseBrief:
    """Somebody's course: its kind, the sentence that says it, the last day anything was recorded, and the
    gates that fell in the month of the day it is told, the newest first.
    """

    kind: CourseKind
    sentence: str
    last_day: date | None
    fell: tuple[FellOn, ...]


def first_pass(drill: str, marks: TraineeMarks, syllabus: Syllabus) -> date | None:
    """The first day on which all of a drill's gate had fallen; None where it never did."""
    own = marks.get(drill, {})
    days = [_first_full(own.get(r.key)) for r in syllabus.gate_readings[drill]]
    known = [d for d in days if d is not None]
    return max(known) if known and len(known) == len(days) else None


def _first_full(marks: Marks | None) -> date | None:
    """The first record that fills its gate."""
    return next((r.day for r in marks.records if r.fill >= FULL), None) if marks else None


def find_course(
    case: JudgedCase, standstills: Sequence[Standstill], days: Sequence[date] = ()
) -> CourseBrief:
    """Say where somebody is on the way to their leading goal, or without one on any. `days`: those of the
    last months on which anything was recorded, in order.
    """
    marks, on, rules = case.wall.marks, case.on, case.syllabus.sessions.wrong_turns
    last_days = [m.last_day for of_drill in marks.values() for m in of_drill.values() if m.last_day]
    last = max((d for d in last_days if d <= on), default=None)
    fell = [
        FellOn(title=d.title, day=day)
        for d in case.syllabus.drills.values()
        if (day := first_pass(d.drill, marks, case.syllabus)) and _same_month(day, on)
    ]
    newest_first = tuple(sorted(fell, key=lambda f: (-f.day.toordinal(), f.title)))
    kind, sentence = _course_of(
        case, standstills, last, rules.away_days.value, _back(days, case), newest_first
    )
    return CourseBrief(kind=kind, sentence=sentence, last_day=last, fell=newest_first)


def _same_month(day: date, on: date) -> bool:
    return day <= on and (day.year, day.month) == (on.year, on.month)


def _course_of(
    case: JudgedCase,
    standstills: Sequence[Standstill],
    last: date | None,
    away_days: float,
    back: str,
    fell: Sequence[FellOn],
) -> tuple[CourseKind, str]:
    on = case.on
    if last is None:
        return "new", "Nothing recorded yet."
    if (on - last).days > away_days:
        return "away", f"Not seen for {(on - last).days // WEEK_DAYS} weeks, last on {say_day(last, on)}."
    if back:
        return "back", back
    leading = next((g for g in case.goals if not g.reached), None)
    if leading and leading.stay_the_course:
        return "moves", leading.stay_the_course
    if standstills:
        return "still", f"{standstills[0].sentence}."
    names = case.syllabus.leads_to[leading.goal] if leading else case.syllabus.drills
    since = on - timedelta(days=int(case.syllabus.rules.moved_days.value))
    told = max((m for n in names if (m := largest_rise(n, case.wall, since))), default=None)
    if told:
        return "moves", f"{capitalise(told[1])}."
    if moved := _dial_moved(case, since):
        return "moves", moved
    if fell:
        newest = fell[0]
        return "moves", (
            f"{len(fell)} steps passed for the first time this month, the last on"
            f" {say_day(newest.day, on)}: {within(newest.title)}."
            if len(fell) > 1
            else f"{newest.title} passed for the first time on {say_day(newest.day, on)}."
        )
    weeks = int(case.syllabus.rules.moved_days.value) // WEEK_DAYS
    way = f" on the way to {within(leading.title)}" if leading else ""
    return "unmoved", f"No new best{way} in {weeks} weeks."


def _back(days: Sequence[date], case: JudgedCase) -> str:
    """Whether somebody came back of late after weeks in which nothing was recorded."""
    rules = case.syllabus
    lately = case.on - timedelta(days=int(rules.rules.moved_days.value))
    away = rules.sessions.wrong_turns.away_days.value
    for before, day in pairwise(days):
        if day >= lately and (day - before).days > away:
            return f"Back on {say_day(day, case.on)} after {(day - before).days // WEEK_DAYS} weeks away."
    return ""


def _dial_moved(case: JudgedCase, since: date) -> str:
    """What on the way goes at a harder setting by now, of what is at hand."""
    leading = next((g for g in case.goals if not g.reached), None)
    for step in leading.path if leading else ():
        drill = case.syllabus.drills[step.drill]
        if drill.dial and (found := came_harder(drill, case.history.of(step.drill), since=since)):
            before, after = found
            return (
                f"{drill.title}: {drill.dial.name.replace('-', ' ')} from {before.setting:g} to"
                f" {say_at(after.setting, drill.dial.unit)} on {say_day(after.day, case.on)}."
            )
    return ""
