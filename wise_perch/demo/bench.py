"""Test runs of the made-up people: drawn try by try along the same sheets that the Bench follows."""

from collections.abc import Mapping
from datetime import UTC, date, datetime, time, timedelta
from random import Random
from uuid import UUID

from uuid_utils.compat import uuid7

from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.run_sheet import Step, walk_run
from wise_perch.core.trade.evidence import Form
from wise_perch.core.trade.protocol import Mode, Test, harder_first
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.stored import KeptTry, Run

DAYS_AGO = (61, 17)
TESTS: tuple[tuple[str, str], ...] = (
    ("wall-landings", ""),
    ("heel-float", ""),
    ("toe-float", ""),
    ("wall-hold", "chest-to-wall-hold"),
    ("push-floor", ""),
    ("feet-in-pike", ""),
    ("rep-maximum", "push-up"),
    ("overhead-reach", "overhead-reach"),
    ("fold", "pancake"),
)
"""What is run on each of these days, with the drill where a test is run for one."""


def bench_runs(
    name: str, able: Mapping[str, float], syllabus: Syllabus, *, trainee: UUID, until: date, seed: int
) -> list[Run]:
    """Draw the runs of somebody who is tested. `able`: the best they have shown, by drill; what was never
    shown is not tested.
    """
    dice = Random(f"{seed} {name} bench")
    found = []
    for n, ago in enumerate(DAYS_AGO):
        at = datetime.combine(until - timedelta(days=ago), time(15), UTC)
        for test, subject in TESTS:
            spoken_for = subject or next(iter(syllabus.tests[test].drills.values()))
            if able.get(spoken_for):
                run = draw_run(
                    syllabus.tests[test],
                    subject,
                    syllabus,
                    trainee,
                    at,
                    able[spoken_for],
                    later=n > 0,
                    dice=dice,
                )
                found.append(run)
                at += timedelta(minutes=12)
    return found


def draw_run(
    test: Test,
    subject: str,
    syllabus: Syllabus,
    trainee: UUID,
    at: datetime,
    able: float,
    *,
    later: bool,
    dice: Random,
) -> Run:
    """Draw one run of a test, try by try. `able`: the best they have shown; `later` in training a little more
    comes off.
    """
    drill = syllabus.drills.get(subject)
    sheet = lay_out(test, subject=drill)
    tries: list[KeptTry] = []
    while (step := walk_run(sheet, [t.as_try() for t in tries]).step) is not None:
        moment = at + timedelta(seconds=90 * len(tries))
        tries.append(_make_try(test, step, len(tries) + 1, moment, able, later=later, dice=dice))
    dial = (
        {drill.dial.name: drill.dial.start.value}
        if drill and drill.dial and drill.dial.start and not test.modes[0].ladder
        else {}
    )
    return Run(
        id=uuid7(),
        trainee=trainee,
        test=test.test,
        subject=subject,
        started_at=at,
        ended_at=at + timedelta(seconds=90 * len(tries)),
        ended_as="finished",
        rest_s=round(test.rest_usual_s.value),
        room=test.room,
        source="demo",
        dial=dial,
        confidence=dice.choice([3, 4, 4, 5]),
        pain_joint=None,
        pain_level=None,
        tries=tuple(tries),
    )


def _make_try(
    test: Test, step: Step, number: int, at: datetime, able: float, *, later: bool, dice: Random
) -> KeptTry:
    mode = test.mode(step.mode)
    outcome, value, level = _draw_outcome(mode, step, able, later=later, dice=dice)
    # what is read off a scale has no form
    form = None if mode.takes in ("mark", "number") else Form.LOOSE if dice.random() < 0.15 else Form.CLEAN
    return KeptTry(
        id=uuid7(),
        number=number,
        at=at,
        outcome=outcome,
        value=value,
        mode=mode.mode,
        level=level,
        side=step.side,
        fell=None,
        form=form,
        note="",
        early=False,
        struck_at=None,
    )


def _draw_outcome(
    mode: Mode, step: Step, able: float, *, later: bool, dice: Random
) -> tuple[str, float | None, float | None]:
    """An outcome with its figure and setting. Later in training a little more comes off; nobody passes what
    they have shown before.
    """
    better = 0.12 if later else 0.0
    if mode.ladder:
        level, ladder = step.levels[0], mode.ladder
        reach = abs(ladder.easiest - ladder.hardest) * (0.45 + better + 0.1 * dice.random())
        limit = ladder.easiest - reach if harder_first(ladder) else ladder.easiest + reach
        good = level >= limit if harder_first(ladder) else level <= limit
        return next(m.outcome for m in mode.marks if m.passed is good), None, level
    kept = next((m.outcome for m in mode.marks if m.figure), "")
    if mode.takes == "mark":
        return (
            dice.choices([m.outcome for m in mode.marks], weights=[0.5 + better, 0.4 - better, 0.1])[0],
            None,
            None,
        )
    share = 0.6 + better + 0.2 * dice.random()
    match mode.takes:
        case "timer":
            most = mode.ceiling.value if mode.ceiling else able
            return kept, round(min(able * share, most), 1), None
        case "window":
            return kept, float(round(7 - 4 * share)), None
        case "count":
            return kept, float(int(able * share)), None
        case _:
            return kept, float(round(able * (1.5 - share / 2))), None
