"""What the tests of doses, plans and sessions share: a trainee made from evidence, and weeks to plan for."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta
from random import Random
from typing import Any

from tests.core.test_standing import SYLLABUS, TODAY, done, passing, proven_below
from wise_perch.core.body.kit import KitItem
from wise_perch.core.body.segments import make_body
from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import Arrangement, ChosenSetting, EndedRun
from wise_perch.core.trainee.wall import Wall, read_wall
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import DueTest, WeekQuestion, ask_for_week, usual_kit
from wise_perch.core.week.week_plan import DayWish, Drop, Pin, WeekPlan, Wish, monday_of

BODY = make_body(stature_cm=170, mass_kg=65, own_cm={})
KIT = (
    KitItem(kind="pad", thickness_cm=5, count=3),
    KitItem(kind="plate", thickness_cm=2.5, count=4),
    KitItem(kind="box", thickness_cm=30, count=1),
)
WEEK = monday_of(TODAY) + timedelta(weeks=1)


def a_case(
    *pieces: Evidence,
    goals: Sequence[str] = (),
    aches: Sequence[Ache] = (),
    cleared: bool = True,
    shy: bool = False,
    on: date = TODAY,
    chosen: Mapping[str, tuple[Mapping[str, float], date]] | None = None,
    runs: Sequence[EndedRun] | None = None,
    **more: Any,
) -> JudgedCase:
    """Somebody of 170 cm of whom just these pieces are known."""
    cautions = {} if cleared else {SYLLABUS.intake.cautions[0].caution: True}
    profile = Profile(
        stature_cm=170, mass_kg=65, lengths_cm={}, cautions=cautions, confidence=2 if shy else None
    )
    return judge_case(
        Case(
            on=on,
            syllabus=SYLLABUS,
            arrangement=Arrangement(schools={}, goals=tuple(goals), waivers=(), profile=profile),
            sets=pieces,
            runs=runs,
            chosen={drill: ChosenSetting(settings=s, day=day) for drill, (s, day) in (chosen or {}).items()},
            kit=KIT,
            told_aches=aches,
            rest_s=45,
            float_switch_s=5,
            **more,
        )
    )


def dose(drill: str, *pieces: Evidence, **more: Any) -> DayDose:
    """The dose of a drill for somebody of whom just these pieces are known."""
    return choose_dose(SYLLABUS.drills[drill], a_case(*pieces, **more))


def wall_of(pieces: Sequence[Evidence], on: date = TODAY) -> Wall:
    return read_wall(mark_evidence(pieces, SYLLABUS), SYLLABUS, on=on)


def asked_for(
    *pieces: Evidence,
    goals: Sequence[str] = ("freestanding-hold",),
    tests: Sequence[DueTest] = (),
    heavy: Sequence[tuple[date, str]] | None = None,
    **more: Any,
) -> WeekQuestion:
    """The question of next week, for somebody of whom just these pieces are known."""
    made = ask_for_week(a_case(*pieces, goals=goals, **more), week=WEEK)
    return replace(made, tests=tuple(tests), heavy=made.heavy if heavy is None else tuple(heavy))


def wished(
    *minutes: int,
    place: str = "hall",
    days: Sequence[int] = (0, 2, 5),
    pins: Sequence[Pin] = (),
    drops: Sequence[Drop] = (),
    kit: dict[str, tuple[str, ...]] | None = None,
) -> Wish:
    """A week of so many minutes on each of these days."""
    own = tuple(
        DayWish(day=WEEK + timedelta(days=d), place=place, minutes=m)
        for d, m in zip(days, minutes, strict=False)
    )
    return Wish(
        week=WEEK,
        days=own,
        kit=kit or {**usual_kit(None, SYLLABUS), "home": ("wall", "mat")},
        pins=tuple(pins),
        drops=tuple(drops),
    )


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
        value = (
            d.gate.value * dice.choice([0.3, 0.6, 0.9, 1.0])
            if not d.gate.fewer
            else d.gate.value * dice.choice([1, 2, 3])
        )
        whole = float(round(value)) if d.gate.measure in ("reps", "rate", "touches") else round(value, 1)
        pieces.append(done(name, whole, ago=dice.randrange(0, 50), cm=start))
    # some days of it long ago, some of late
    return [replace(p, day=p.day - timedelta(days=dice.randrange(0, 12))) for p in pieces]


def advanced() -> list[Evidence]:
    """Somebody with all below the free hold proven: exits, wall, and getting up."""
    below = (
        *proven_below("free-hold-10"),
        *proven_below("strict-wall-hspu"),
        *proven_below("free-kick-up"),
        *(passing(SYLLABUS.drills["free-kick-up"], ago=ago) for ago in (3, 0)),
    )
    return [p for own in below for p in own]


__all__ = [
    "BODY",
    "KIT",
    "SYLLABUS",
    "TODAY",
    "WEEK",
    "a_case",
    "advanced",
    "asked_for",
    "done",
    "dose",
    "passing",
    "planned",
    "somebody",
    "wall_of",
    "wished",
]
