"""The question a plan answers: one trainee as things stand, with what is due, what is heavy, and what was
carried already.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.session_lookup import heavy_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.hand_load import loads_by_day
from wise_perch.core.trainee.to_decide import find_due_tests
from wise_perch.core.week.week_plan import Loading

HALL, HOME = "hall", "home"
"""The two places there are without any choice: where all kit is, and where only what the intake names is."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DueTest:
    """A test that is due: how long it takes, the drill it speaks for, what it takes to run it, and why
    now.
    """

    test: str
    title: str
    minutes: float
    drill: str
    because: str
    singles: int = 0


@dataclass(frozen=True, kw_only=True)
class WeekQuestion:
    """All that a plan is made from. `heavy`: days already done, with "push" or "press"."""

    case: JudgedCase
    tests: tuple[DueTest, ...] = ()
    loading: Loading = field(default_factory=Loading)
    heavy: tuple[tuple[date, str], ...] = ()


def weeks_before(week: date, syllabus: Syllabus) -> date:
    """The first day of the weeks whose load a week is held against."""
    return week - timedelta(weeks=int(syllabus.sessions.ramp_weeks.value))


def ask_for_week(case: JudgedCase, *, week: date) -> WeekQuestion:
    """What a plan of the week beginning on Monday `week` is made from."""
    weeks, since = int(case.syllabus.sessions.ramp_weeks.value), week - timedelta(days=1)
    before = weeks_before(week, case.syllabus)
    return WeekQuestion(
        case=case,
        tests=due_tests(case),
        loading=sum_loading(loads_by_day(case, since=before), week=week, weeks=weeks),
        heavy=heavy_days(case.history.all_since(since), case.syllabus, since=since),
    )


def due_tests(case: JudgedCase) -> tuple[DueTest, ...]:
    """The tests that Today asks for, with their minutes."""
    tests = case.syllabus.tests
    return tuple(
        DueTest(
            test=t.test,
            title=t.title if m.drill is None else f"{t.title}: {case.drills[m.drill].title.lower()}",
            minutes=t.minutes(rest_s=case.rest_s),
            drill=m.drill or t.due_for or next(iter(t.drills.values()), ""),
            because=m.sentence,
            singles=int(t.usual_tries.value) if t.exits_drill else 0,
        )
        for m in find_due_tests(case)
        if m.test and (t := tests.get(m.test))
    )


def sum_loading(daily: Mapping[date, float], *, week: date, weeks: int) -> Loading:
    """The mean hand-load of the weeks before a week, and what the week itself has carried. `week` is its
    Monday.
    """
    begun = week - timedelta(weeks=weeks)
    before = sum(s for day, s in daily.items() if begun <= day < week)
    done = sum(s for day, s in daily.items() if week <= day < week + timedelta(weeks=1))
    return Loading(mean_s=before / weeks, done_s=done)


def heavy_days(
    pieces: Sequence[Evidence], syllabus: Syllabus, *, since: date
) -> tuple[tuple[date, str], ...]:
    """The days since one on which something heavy was done, with "push" or "press"."""
    return tuple(
        sorted({(p.day, kind) for p in pieces if p.day >= since and (kind := heavy_of(syllabus, p.drill))})
    )


def usual_kit(profile: Profile | None, syllabus: Syllabus) -> dict[str, tuple[str, ...]]:
    """The kit of each place: everything in the hall, at home what the intake names."""
    own = tuple(k for k in (profile.kit if profile else ()) if k in syllabus.content.kit)
    return {HALL: tuple(syllabus.content.kit), HOME: own}
