"""The next weeks by a model: several simulated lives that begin where a trainee stands, and what they have in
common.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from random import Random
from statistics import median

from wise_perch.core.rehearsal.learner import learner_like
from wise_perch.core.rehearsal.rehearse import Rehearsed, rehearse, train_by_plan
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trainee.case import Case, JudgedCase

MODEL = (
    "A model and no promise: simulated trainees who do what the plan says. Growth, fading, noise and fear"
    " differ from one to the next, and all of its figures are our own choice."
)


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekAhead:
    """One week: how many steps of the path are left (the fewest, the middle and the most of all lives), in
    how many lives the goal is reached, and what hands carry, body-weight seconds.
    """

    week: date
    least: int
    middle: float
    most: int
    reached: int
    load_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class GateAhead:
    """A step of the path that was passed in so many lives, and in which week, in the middle of them."""

    drill: str
    title: str
    lives: int
    week: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """The next weeks toward the leading goal. `now`: steps of the path left today; `lives`: how many were
    lived; `gates` those of the path, the soonest first.
    """

    goal: str
    now: int
    lives: int
    model: str
    weeks: tuple[WeekAhead, ...]
    gates: tuple[GateAhead, ...]


def begin_from(case: Case, evidence: Sequence[Evidence]) -> Case:
    """The same case with what its tests said as plain evidence: what is simulated goes on from there."""
    return replace(case, sets=tuple(evidence), runs=(), tested=case.tested or {})


def look_ahead(
    case: Case,
    judged: JudgedCase,
    *,
    days: Sequence[int],
    weeks: int,
    lives: int,
    each_week: Callable[[int], None] | None = None,
) -> Outlook | None:
    """Rehearse the next weeks in several lives; None without a goal that is not reached.

    Args: `days` of a week that are trained (0 is Monday); `each_week` is told of every week of every life
    that is over, counted through; what it raises ends it.
    """
    goal = next((g for g in judged.goals if not g.reached), None)
    if goal is None:
        return None
    # the goal that leads now is the one looked ahead at
    arrangement = replace(
        case.arrangement, goals=(goal.goal, *(g for g in case.arrangement.goals if g != goal.goal))
    )
    begin = begin_from(replace(case, arrangement=arrangement), judged.history.every())
    found = []
    for life in range(lives):
        told = None if each_week is None else _count_through(each_week, life * weeks)
        learner = learner_like(judged, Random(f"rehearsal {life + 1}"))
        found.append(rehearse(learner, train_by_plan, begin, days=days, weeks=weeks, each_week=told))
    return Outlook(
        goal=goal.title,
        now=len(goal.path),
        lives=lives,
        model=MODEL,
        weeks=tuple(_week_ahead(found, n) for n in range(weeks)),
        gates=_gates_ahead(judged, [s.drill for s in goal.path], found),
    )


def _count_through(each_week: Callable[[int], None], before: int) -> Callable[[int], None]:
    return lambda n: each_week(before + n)


def _week_ahead(found: Sequence[Rehearsed], n: int) -> WeekAhead:
    paths = [r.weeks[n].path for r in found]
    return WeekAhead(
        week=found[0].weeks[n].week,
        least=min(paths),
        middle=median(paths),
        most=max(paths),
        reached=sum(r.weeks[n].reached for r in found),
        load_s=median(r.weeks[n].load_s for r in found),
    )


def _gates_ahead(case: JudgedCase, path: Sequence[str], found: Sequence[Rehearsed]) -> tuple[GateAhead, ...]:
    gates = []
    for name in path:
        when = [
            week
            for r in found
            if (week := next((n for n, w in enumerate(r.weeks, start=1) if name in w.newly), None))
        ]
        if when:
            title = case.drills[name].title
            gates.append(GateAhead(drill=name, title=title, lives=len(when), week=int(median(when))))
    return tuple(sorted(gates, key=lambda g: (g.week, -g.lives, g.drill)))
