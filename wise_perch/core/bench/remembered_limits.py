"""Limits: the hardest setting a trainee got to in a test, remembered with its day."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from wise_perch.core.trade.evidence import REMEMBERED, Evidence
from wise_perch.core.trade.protocol import Ladder, Test
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.history import BY_DAY, History


@dataclass(frozen=True, slots=True, kw_only=True)
class RememberedLimit:
    """One limit with its day. `old`: the reading is stale by the syllabus's own rule and wants a re-test."""

    drill: str
    title: str
    test: str
    mode: str
    dial: str
    level: float
    words: str
    day: date
    old: bool


def remember_limits(history: History, syllabus: Syllabus, *, on: date) -> tuple[RememberedLimit, ...]:
    """Give the newest limit of every drill that a ladder tests, in the order of the tests."""
    asked = [
        (test, mode, mode.ladder, drill)
        for test in syllabus.tests.values()
        for mode in test.modes
        if mode.ladder
        for drill in ([test.drills[mode.mode]] if mode.mode in test.drills else test.subjects)
        if drill in syllabus.drills
    ]
    history.fetch([drill for _, _, _, drill in asked])
    found = []
    for test, mode, ladder, drill in asked:
        limits = (p for p in history.of(drill) if p.mode == REMEMBERED and p.day <= on)
        if newest := max(limits, key=BY_DAY, default=None):
            found.append(_limit_of(newest, test, mode.mode, mode.title, ladder, syllabus, on))
    return tuple(found)


def _limit_of(
    newest: Evidence, test: Test, mode: str, said: str, ladder: Ladder, syllabus: Syllabus, on: date
) -> RememberedLimit:
    to_floor = newest.value == 0 and ladder.dial.endswith("height")
    return RememberedLimit(
        drill=newest.drill,
        title=f"{syllabus.drills[newest.drill].title}, {said[:1].lower() + said[1:]}",
        test=test.test,
        mode=mode,
        dial=ladder.dial,
        level=newest.value,
        words="the flat floor" if to_floor else f"{newest.value:g} {ladder.unit}",
        day=newest.day,
        old=(on - newest.day).days > syllabus.rules.stale_after_days.value,
    )


def begin_at(
    test: Test, remembered: Sequence[RememberedLimit], *, drill: str, confidence: int | None, shy_up_to: float
) -> dict[str, float]:
    """Where each ladder of a test begins: a step easier than the limit remembered, or where the test says.

    With a confidence of `shy_up_to` or less (1 to 5) and no limit yet, it begins at the setting for the shy.
    """
    found: dict[str, float] = {}
    for mode in test.modes:
        if mode.ladder is None:
            continue
        own = test.drills.get(mode.mode, drill)
        last = next((r for r in remembered if r.drill == own and r.test == test.test), None)
        ladder = mode.ladder
        if last:
            easier = 1 if ladder.easiest > ladder.hardest else -1
            found[mode.mode] = last.level + easier * ladder.step.value
        elif confidence is not None and confidence <= shy_up_to and ladder.shy:
            found[mode.mode] = ladder.shy.value
    return found
