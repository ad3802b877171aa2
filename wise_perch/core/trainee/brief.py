"""A trainee in brief, as Today shows them: what there is to decide, and the wall bars in miniature."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.course_brief import CourseBrief, find_course
from wise_perch.core.trainee.early import WrongTurn, early_turns
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.standing import WallBars
from wise_perch.core.trainee.standing_still import find_standstills
from wise_perch.core.trainee.to_decide import NOT_TO_DECIDE, Matter, OpenRun, find_matters
from wise_perch.core.trainee.wall import RANK, State

SMALL_BAYS = 4
"""So many bays stand in miniature: what fits beside a name."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallBay:
    """A line of the wall bars in miniature: each rung's weakest required state, and the perch."""

    title: str
    rungs: tuple[State, ...]
    perch_rung: int


@dataclass(frozen=True, slots=True, kw_only=True)
class TodayBrief:
    """What Today shows of one trainee: everything there is to decide, most pressing first, the bars in
    miniature, their course, and what is told early.
    """

    to_decide: bool
    matters: tuple[Matter, ...]
    bays: tuple[SmallBay, ...]
    course: CourseBrief
    turns: tuple[WrongTurn, ...]


def make_brief(case: JudgedCase, *, open_run: OpenRun | None, days: Sequence[date] = ()) -> TodayBrief:
    """Say a trainee in brief. `days`: those of the last months on which anything was recorded, in order."""
    standstills = find_standstills(case)
    matters = find_matters(case, open_run=open_run, standstills=standstills)
    return TodayBrief(
        to_decide=matters[0].kind not in NOT_TO_DECIDE,
        matters=tuple(matters),
        bays=small_bays(case.standing, case.goals),
        course=find_course(case, standstills, days),
        turns=tuple(early_turns(case)),
    )


def small_bays(bars: WallBars, goals: Sequence[GoalStanding]) -> tuple[SmallBay, ...]:
    """Shrink the wall bars to one state a rung: the lines the leading goal runs through, or those that begin
    every way.
    """
    syllabus, gates = bars.wall.syllabus, bars.wall.gates
    leading = next((g.lines for g in goals if not g.reached), ())
    near = (
        leading
        if len(leading) >= SMALL_BAYS
        else dict.fromkeys([*leading, *syllabus.rules.first_lines, *(line.line for line in syllabus.lines)])
    )
    shown = set(list(near)[:SMALL_BAYS])
    return tuple(
        SmallBay(
            title=line.title,
            rungs=tuple(
                min(
                    (gates[d.drill].state for d in rung if not d.optional or len(rung) == 1),
                    key=RANK.__getitem__,
                    default=gates[rung[0].drill].state,
                )
                for rung in line.rungs
            ),
            perch_rung=bars.perch_rung(line),
        )
        for line in syllabus.lines
        if line.line in shown
    )
