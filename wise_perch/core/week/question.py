"""The question a plan answers: one trainee as things stand, with what is due, what hurts, and what was carried already."""

from dataclasses import dataclass, field
from datetime import date

from wise_perch.core.dose.setting import Trained
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.standing import Standing
from wise_perch.core.week.week_plan import Loading


@dataclass(frozen=True, slots=True, kw_only=True)
class Ache:
    """Pain told of a joint: 0 to 10 on a day. `sharp`: sharp, lasting or tingling."""

    joint: str
    level: int
    day: date
    sharp: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class DueTest:
    """A test that is due: how long it takes, the drill it speaks for, what it takes to run it, and why now."""

    test: str
    title: str
    minutes: float
    drill: str
    because: str
    singles: int = 0


@dataclass(frozen=True, kw_only=True)
class WeekQuestion:
    """All that a plan is made from. `aches` newest of each joint; `heavy` days already done, with "push" or "press"."""

    who: Trained
    standing: Standing
    goals: tuple[GoalStanding, ...]
    tests: tuple[DueTest, ...] = ()
    aches: tuple[Ache, ...] = ()
    loading: Loading = field(default_factory=Loading)
    heavy: tuple[tuple[date, str], ...] = ()
