"""A coach with a notebook, in the same world as the plan: the reference that a rehearsal is held against.

The path and where dials stand are the product's own, so that only the choice of drills and doses differs.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.rehearsal.learner import Learner, step_of
from wise_perch.core.rehearsal.rehearse import Record, judge_record, keep_piece, open_piece, share_of_able
from wise_perch.core.trade.content import Drill
from wise_perch.core.trainee.case import Case, JudgedCase

NOTEBOOK_DRILLS, NOTEBOOK_SETS, NOTEBOOK_SHARE = 6, 3, 0.7
"""The notebook: six open drills of the path, the first set open, two at so much of the best written down."""


def train_by_notebook(
    learner: Learner, record: Record, begin: Case, week: date, days: Sequence[int]
) -> list[str]:
    """A coach with a notebook: the first open drills of the path, one open set and two at a share of the
    best.
    """
    said: list[str] = []
    for number in days:
        day = week + timedelta(days=number)
        case = judge_record(begin, record, day)
        goal = next((g for g in case.goals if not g.reached), None)
        names = [s.drill for s in goal.path if case.drills[s.drill].open][:NOTEBOOK_DRILLS] if goal else []
        said += _train_named(learner, record, case, names, day)
    return said


def _train_named(
    learner: Learner, record: Record, case: JudgedCase, names: Sequence[str], day: date
) -> list[str]:
    learner.wake(day, since=record.last_day)
    record.last_day = day
    said = []
    for name in names:
        drill = case.syllabus.drills[name]
        usual = choose_dose(drill, case)
        setting = usual.dial.setting if usual.dial else None
        best = max(
            (p.value for p in case.by_drill.get(name, ()) if p.measure is drill.gate.measure), default=0.0
        )
        shares = []
        for also in drill.gate.also:
            able = learner.capacity(drill, setting=setting, step=step_of(usual), set_number=1)
            keep_piece(
                record,
                replace(
                    open_piece(drill, float(int(able * also.value)), None, day),
                    measure=also.measure,
                    mode=also.mode,
                ),
            )
        if drill.gate.of is not None:
            n = int(drill.gate.of if drill.gate.of == drill.gate.value else max(10, drill.gate.of))
            tries = [learner.do(drill, usual, asked=None, setting=setting, set_number=0)[0] for _ in range(n)]
            shares = [0.7] * n
            keep_piece(record, replace(open_piece(drill, sum(tries), n, day), dial=_dial_of(drill, setting)))
        else:
            for side in (None,) if usual.sides == 1 else ("left", "right"):
                for k in range(NOTEBOOK_SETS):
                    asked = None if k == 0 or best == 0 else max(1.0, float(int(NOTEBOOK_SHARE * best)))
                    plain = usual if usual.way in ("stretch", "touches") else replace(usual, way="hold")
                    value, form = learner.do(drill, plain, asked=asked, setting=setting, set_number=k)
                    able = learner.capacity(drill, setting=setting, step=step_of(usual), set_number=k)
                    shares.append(share_of_able(value, drill, plain, able))
                    piece = replace(
                        open_piece(drill, value, None, day),
                        asked=asked,
                        form=form,
                        side=side,  # type: ignore[arg-type]
                        dial=_dial_of(drill, setting),
                    )
                    if usual.way == "touches":
                        continue
                    keep_piece(record, piece)
            if usual.way == "touches":
                value, n_tries = learner.measure(drill)
                keep_piece(record, open_piece(drill, value, n_tries, day))
        learner.learn(drill, shares, day)
        said.append(f"{day:%a} {drill.title}")
    return said


def _dial_of(drill: Drill, setting: float | None) -> dict[str, float]:
    return {drill.dial.name: setting} if drill.dial and setting is not None else {}
