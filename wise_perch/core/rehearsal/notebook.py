"""Two coaches without the product, in the same world as the plan: what a rehearsal is held against. One
keeps a notebook, the other hands out a fixed programme.

The path and where dials stand are the product's own, so that only the choice of drills and doses differs.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, timedelta

from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.rehearsal.learner import Learner, step_of
from wise_perch.core.rehearsal.live import share_of_able
from wise_perch.core.rehearsal.rehearse import Record, judge_record, keep_piece, open_piece
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
        said += train_named(learner, record, case, names, day, ask=_ask_by_notebook)
    return said


def _ask_by_notebook(_drill: Drill, best: float, set_number: int) -> float | None:
    """The first set open, the others at a share of the best written down."""
    return None if set_number == 0 or best == 0 else max(1.0, float(int(NOTEBOOK_SHARE * best)))


Ask = Callable[[Drill, float, int], float | None]
"""What a set asks for, by the drill, its best on record and the number of the set; None leaves it open."""


def train_named(
    learner: Learner, record: Record, case: JudgedCase, names: Sequence[str], day: date, *, ask: Ask
) -> list[str]:
    """Train these drills on a day, each with as many sets as a notebook has."""
    learner.wake(day, since=record.last_day)
    record.last_day = day
    said = []
    for name in names:
        drill = case.syllabus.drills[name]
        usual = choose_dose(drill, case)
        setting = usual.dial.setting if usual.dial else None
        best = max((p.value for p in case.history.of(name) if p.measure is drill.gate.measure), default=0.0)
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
                    asked = ask(drill, best, k)
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


PROGRAMME_WEEKS, PROGRAMME_SHARE, PROGRAMME_STEP = 4, 0.7, 0.1
"""The fixed programme: for so many weeks the same drills, from so much of their gates on, more each week."""


class FixedProgramme:
    """A coach who hands out a programme: the first open drills of the path, the same for four weeks, every
    set at a share of the gate that grows week by week, whatever came of it. Nothing is left open.
    """

    def __init__(self) -> None:
        """Begin without any."""
        self.names: list[str] = []
        self.weeks = 0

    def __call__(
        self, learner: Learner, record: Record, begin: Case, week: date, days: Sequence[int]
    ) -> list[str]:
        """Train a week of it."""
        number = self.weeks % PROGRAMME_WEEKS
        if number == 0:
            case = judge_record(begin, record, week)
            goal = next((g for g in case.goals if not g.reached), None)
            on_path = [s.drill for s in goal.path] if goal else []
            self.names = [n for n in on_path if case.drills[n].open][:NOTEBOOK_DRILLS]
        self.weeks += 1
        share = PROGRAMME_SHARE + PROGRAMME_STEP * number

        def ask(drill: Drill, _best: float, _set_number: int) -> float | None:
            return max(1.0, float(int(share * drill.gate.value)))

        said: list[str] = []
        for day in (week + timedelta(days=d) for d in days):
            case = judge_record(begin, record, day)
            still_open = [n for n in self.names if case.drills[n].open]
            said += train_named(learner, record, case, still_open, day, ask=ask)
        return said
