"""What the tests of doses, plans and sessions share: a trainee made from evidence, and weeks to plan for."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from random import Random

from tests.core.test_standing import SYLLABUS, TODAY, done, passing, proven_below
from wise_perch.core.body.kit import KitItem
from wise_perch.core.body.segments import make_body as made_body
from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.dose.setting import Trained
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trainee.goals import goal_standings
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.standing import standing_of
from wise_perch.core.trainee.wall import Wall, read_wall
from wise_perch.core.week.gather import by_drill, daily_loads, heavy_days, sum_loading, usual_kit
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import Ache, DueTest, WeekQuestion
from wise_perch.core.week.week_plan import DayWish, Drop, Pin, WeekPlan, Wish, monday_of

BODY = made_body(stature_cm=170, mass_kg=65, own_cm={})
KIT = (KitItem(kind="pad", thickness_cm=5, count=3), KitItem(kind="plate", thickness_cm=2.5, count=4), KitItem(kind="box", thickness_cm=30, count=1))
WEEK = monday_of(TODAY) + timedelta(weeks=1)


def trained(*pieces: Evidence, shy: bool = False, on: date = TODAY, **more: object) -> Trained:
    return Trained(syllabus=SYLLABUS, on=on, pieces=by_drill(pieces, on=on), body=BODY, kit=KIT, shy=shy, **more)  # type: ignore[arg-type]


def dosed(drill: str, *pieces: Evidence, shy: bool = False, **more: object) -> DayDose:
    """The dose of a drill for somebody of whom just these pieces are known."""
    who = trained(*pieces, shy=shy, **more)
    stands = standing_of(read_wall(mark_evidence(pieces, SYLLABUS), SYLLABUS, on=TODAY)).every()[drill]
    return choose_dose(SYLLABUS.drills[drill], stands, who)


def wall_of(pieces: Sequence[Evidence], on: date = TODAY) -> Wall:
    return read_wall(mark_evidence(pieces, SYLLABUS), SYLLABUS, on=on)


def asked_for(
    *pieces: Evidence,
    goals: Sequence[str] = ("freestanding-hold",),
    aches: Sequence[Ache] = (),
    tests: Sequence[DueTest] = (),
    cleared: bool = True,
    heavy: Sequence[tuple[date, str]] | None = None,
) -> WeekQuestion:
    wall = wall_of(pieces)
    stands = standing_of(wall, cleared=cleared)
    order = {g: n for n, g in enumerate(goals)}
    return WeekQuestion(
        who=trained(*pieces),
        standing=stands,
        goals=tuple(sorted(goal_standings(wall, stands, goals), key=lambda g: order[g.goal])),
        tests=tuple(tests),
        aches=tuple(aches),
        loading=sum_loading(daily_loads(pieces, SYLLABUS, BODY), week=WEEK, weeks=3),
        heavy=tuple(heavy) if heavy is not None else heavy_days(pieces, SYLLABUS, since=WEEK - timedelta(days=1)),
    )


def wished(
    *minutes: int,
    place: str = "hall",
    days: Sequence[int] = (0, 2, 5),
    pins: Sequence[Pin] = (),
    drops: Sequence[Drop] = (),
    kit: dict[str, tuple[str, ...]] | None = None,
) -> Wish:
    """A week of so many minutes on each of these days."""
    own = tuple(DayWish(day=WEEK + timedelta(days=d), place=place, minutes=m) for d, m in zip(days, minutes, strict=False))
    return Wish(week=WEEK, days=own, kit=kit or {**usual_kit(None, SYLLABUS), "home": ("wall", "mat")}, pins=tuple(pins), drops=tuple(drops))


def planned(asked: WeekQuestion, wish: Wish) -> WeekPlan:
    found = plan_week(asked, wish)
    assert isinstance(found, WeekPlan), found
    return found


def somebody(dice: Random) -> list[Evidence]:
    """Somebody who has come some way: all below a few drills proven, and work in every state above."""
    pieces: list[Evidence] = []
    for name in dice.sample(sorted(SYLLABUS.drills), dice.randrange(0, 5)):
        pieces += [p for own in proven_below(name) for p in own]
    for name in dice.sample(sorted(SYLLABUS.drills), 12):
        d = SYLLABUS.drills[name]
        start = d.dial.start.value if d.dial and d.dial.start else None
        value = d.gate.value * dice.choice([0.3, 0.6, 0.9, 1.0]) if not d.gate.fewer else d.gate.value * dice.choice([1, 2, 3])
        whole = float(round(value)) if d.gate.measure in ("reps", "rate", "touches") else round(value, 1)
        pieces.append(done(name, whole, ago=dice.randrange(0, 50), cm=start))
    # some days of it long ago, some of late
    return [replace(p, day=p.day - timedelta(days=dice.randrange(0, 12))) for p in pieces]


def advanced() -> list[Evidence]:
    """Somebody with all below the free hold proven: exits, wall, entries."""
    return [p for own in (*proven_below("free-hold-10"), *proven_below("strict-wall-hspu")) for p in own]


__all__ = [
    "BODY",
    "KIT",
    "SYLLABUS",
    "TODAY",
    "WEEK",
    "advanced",
    "asked_for",
    "done",
    "dosed",
    "passing",
    "planned",
    "somebody",
    "trained",
    "wall_of",
    "wished",
]
