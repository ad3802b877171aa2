"""When to stay the course: the headline of a goal stands still, but something that leads to it moved of
late.
"""

from datetime import date, timedelta
from math import log, sqrt

from wise_perch.core.trade.content import Goal
from wise_perch.core.trade.evidence import SAME_FIGURE
from wise_perch.core.trade.words import say_day, within
from wise_perch.core.trainee.marks import Marks, Record
from wise_perch.core.trainee.wall import Wall
from wise_perch.core.trainee.wording import say_value

LEAST_RISE, BEYOND_CHANCE = 0.1, 1.0
"""A new best within a tenth of the one before is the luck of a day, and of single tries what lies within one
standard deviation of both counts. Ours.
"""


def stay_the_course(goal: Goal, wall: Wall) -> str | None:
    """Say that the headline stands still while something below it moves, or None: changing now would be the
    common loss.
    """
    rules, on = wall.syllabus.rules, wall.on
    head = goal.drills[0]
    still_since = on - timedelta(days=int(rules.standstill_days.value))
    own = wall.marks.get(head, {}).get("gate")
    if head not in wall.gates or own is None or own.last_day is None or not own.records:
        return None
    record = own.records[-1]
    if record.day > still_since or own.last_day <= still_since:
        return None
    moved_since = on - timedelta(days=int(rules.moved_days.value))
    moves = [
        m
        for n in sorted(wall.syllabus.leads_to[goal.goal] - {head})
        if (m := largest_rise(n, wall, moved_since))
    ]
    if not moves:
        return None
    _, told = max(moves)
    gate = wall.syllabus.drills[head].gate
    stood = (
        f"{wall.syllabus.drills[head].title} has stood at {say_value(record.value, record.n, gate)} since"
        f" {say_day(record.day, on)}"
    )
    return f"{stood}, but {told}. Stay the course: changing the programme now is the common loss."


def largest_rise(name: str, wall: Wall, since: date) -> tuple[float, str] | None:
    """The largest rise of a drill's records since a day, over what stood before, said in its unit."""
    found: list[tuple[float, str]] = []
    for reading in wall.syllabus.readings[name]:
        own: Marks | None = wall.marks.get(name, {}).get(reading.key)
        if own is None or reading.key.startswith("value"):
            continue
        before: Record | None = next((r for r in reversed(own.records) if r.day <= since), None)
        newest = own.records[-1] if own.records else None
        if before and newest and newest.day > since and before.fill < 1 and _more_than_luck(before, newest):
            title = wall.syllabus.drills[name].title
            was, now = (say_value(r.value, r.n, reading.gate) for r in (before, newest))
            found.append(
                (
                    newest.fill - before.fill,
                    f"{within(title)} moved from {was} to {now} on {say_day(newest.day, wall.on)}",
                )
            )
    return max(found, default=None)


def _more_than_luck(before: Record, newest: Record) -> bool:
    """Whether a new best says more than a good day does."""
    if before.n and newest.n:
        was, now = (log((r.value + 0.5) / ((r.n or 0) - r.value + 0.5)) for r in (before, newest))
        spread = sum(1 / (r.value + 0.5) + 1 / ((r.n or 0) - r.value + 0.5) for r in (before, newest))
        return now - was >= BEYOND_CHANCE * sqrt(spread)
    return newest.fill - before.fill >= LEAST_RISE * max(before.fill, SAME_FIGURE)
