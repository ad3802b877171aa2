"""What leads to a goal, small and beside one another: each measure as a share of its own gate."""

from dataclasses import dataclass
from datetime import date
from itertools import islice

from wise_perch.core.progress.forecast import Forecast, find_forecast
from wise_perch.core.progress.measure import SURE
from wise_perch.core.progress.measure_words import ANY_MORE
from wise_perch.core.progress.series import gate_series
from wise_perch.core.trade.evidence import Teller
from wise_perch.core.trade.gates import Gate, say_amount
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.marks import fill_of_gate
from wise_perch.core.trainee.standing_still import stands_still
from wise_perch.core.trainee.wall import State

MOST, POINTS = 8, 20
"""So many measures are shown, and so many of the newest days of each."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallPoint:
    """One day of a small measure: the share of its gate that it fills."""

    day: date
    share: float
    bound: bool
    by: Teller


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallMeasure:
    """One measure, small. `figure`: what is there and what it takes; `moves`: where it goes, in words."""

    drill: str
    title: str
    figure: str
    moves: str
    points: tuple[SmallPoint, ...]


def small_measures(goal: GoalStanding | None, case: JudgedCase) -> tuple[SmallMeasure, ...]:
    """The measures that lead to a goal: what is worked on now, then the rest of its path that was tried."""
    if goal is None:
        return ()
    tried = {p.drill for p in case.history.every()}
    wanted = dict.fromkeys(s.drill for s in (*goal.work_on, *goal.path) if s.drill in tried)
    found = (_small(name, case) for name in wanted)
    return tuple(islice((m for m in found if m.points or case.syllabus.drills[m.drill].dial), MOST))


def _small(name: str, case: JudgedCase) -> SmallMeasure:
    drill, stands = case.syllabus.drills[name], case.drills[name]
    series = gate_series(drill, case.history.of(name), stature_cm=case.stature_cm)
    gate = series.gate
    return SmallMeasure(
        drill=name,
        title=drill.title,
        figure=stands.figure if stands.state is not State.NOT_YET else stands.shortfall,
        moves=_say_moves(find_forecast(series, on=case.on), gate, stands_still(drill, case), stands.state),
        points=tuple(
            SmallPoint(day=r.day, share=fill_of_gate(r.value, r.n, gate), bound=r.bound, by=r.by)
            for r in series.readings[-POINTS:]
        ),
    )


def _say_moves(found: Forecast, gate: Gate, still: bool | None, state: State) -> str:
    if state in (State.PROVEN, State.MET):
        return "kept" if state is State.PROVEN else "to prove"
    if still:
        return "stands still"
    if not found.known or found.rising is None or found.weekly is None:
        return "left for long" if found.because.startswith(ANY_MORE) else "not known yet"
    if found.rising >= SURE:
        step = round(abs(found.weekly), 1)
        return f"moves, {say_amount(step, gate.measure, gate.of)} a week" if step and not gate.of else "moves"
    return "goes back" if found.rising <= 1 - SURE else "no clear direction"
