"""The made-up hall: everybody in it is who they are meant to be, whatever day it is drawn for."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from functools import cache
from uuid import uuid4

import pytest

from wise_perch.core.rehearsal.live import as_evidence
from wise_perch.core.scoring import read_evidence_of_tries
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.case import Case, judge_case
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.stored import Arrangement, Run
from wise_perch.core.week.week_plan import monday_of
from wise_perch.demo.lived import LIVED_WEEKS, LivedWeeks, first_lived_day, live_weeks
from wise_perch.demo.load import SEED
from wise_perch.demo.people import PEOPLE, Person
from wise_perch.demo.simulator import History, simulate
from wise_perch.syllabus.shipped import in_use

DAYS = [date(2026, 3, 1), date(2026, 11, 23)]
SYLLABUS = in_use()


def named(name: str) -> Person:
    return next(p for p in PEOPLE if p.name == name)


@cache
def drawn(name: str, until: date) -> History:
    return simulate(named(name), SYLLABUS, trainee=uuid4(), until=until, seed=SEED)


@cache
def lived(name: str, until: date) -> tuple[Case, LivedWeeks]:
    """The case before the last weeks, and what they left behind."""
    person = named(name)
    history = drawn(name, until if person.away_weeks else first_lived_day(until))
    profile = Profile(
        stature_cm=person.stature_cm,
        mass_kg=person.mass_kg,
        lengths_cm=dict(person.lengths_cm),
        cautions=dict.fromkeys(person.cautions, True),
        cleared=person.cleared and bool(person.cautions),
    )
    case = Case(
        on=until,
        syllabus=SYLLABUS,
        arrangement=Arrangement(schools={}, goals=person.goals, waivers=(), profile=profile),
        sets=evidence_of(history),
        runs=[],
        rest_s=45,
        float_switch_s=5,
    )
    left = live_weeks(person, case, trainee=history.trainee, skill=history.skill, until=until, seed=SEED)
    return case, left


def evidence_of(history: History) -> list[Evidence]:
    sets = [
        Evidence(
            **{
                f: getattr(s, f)
                for f in (
                    "drill",
                    "measure",
                    "value",
                    "n",
                    "form",
                    "side",
                    "mode",
                    "window_s",
                    "confidence",
                    "dial",
                )
            },
            day=s.at.date(),
        )
        for s in history.sets
    ]
    runs = [r for r in history.runs if r.ended_at]
    return sets + [p for r in runs for p in told_by(r)]


def told_by(r: Run) -> Sequence[Evidence]:
    known = RunFacts(
        day=r.started_at.date(),
        subject=SYLLABUS.drills.get(r.subject),
        dial=r.dial,
        confidence=r.confidence,
        drills=SYLLABUS.drills,
    )
    return read_evidence_of_tries(SYLLABUS.tests[r.test], r.standing_tries, known)


def leading_goal(name: str, on: date) -> GoalStanding:
    case, left = lived(name, on)
    done = [as_evidence(p, s.session.day) for s in left.sessions for p in s.pieces]
    tried = [p for r in left.runs for p in told_by(r)]
    return judge_case(replace(case, sets=(*case.sets, *done, *tried))).goals[0]


@pytest.mark.parametrize("on", DAYS)
def test_the_beginner_is_shy_and_at_the_wall(on: date) -> None:
    """Tove has the ground laid, a long way to go, and too little confidence for the chest-to-wall hold."""
    goal = leading_goal("Tove Brenna", on)
    assert (goal.holding, goal.work_on[0].drill) == ("confidence", "chest-to-wall-hold")
    assert len(goal.path) > 12


@pytest.mark.parametrize("on", DAYS)
def test_the_near_intermediate_lacks_balance(on: date) -> None:
    """Runa stands on the open floor, with a float that is not yet long enough."""
    goal = leading_goal("Runa Aske", on)
    assert goal.holding == "balance"
    assert len(goal.path) <= 3
    assert {"heel-float", "toe-float"} & {s.drill for s in goal.work_on}


@pytest.mark.parametrize("on", DAYS)
def test_the_strong_but_stiff_lacks_mobility(on: date) -> None:
    """Halvard presses on all but the fold."""
    goal = leading_goal("Halvard Nes", on)
    assert (goal.holding, goal.work_on[0].drill) == ("mobility", "pancake")
    assert any(s.drill == "straddle-press" and s.kind == "closed" for s in goal.path)


def test_the_same_seed_draws_the_same_history() -> None:
    """But for ids, and moved with the day it is drawn for."""
    a, b = (drawn("Sindre Lau", day) for day in DAYS)
    shift = DAYS[1] - DAYS[0]
    assert [(s.drill, s.value, s.form, s.at + shift) for s in a.sets] == [
        (s.drill, s.value, s.form, s.at) for s in b.sets
    ]


@pytest.mark.parametrize("person", PEOPLE, ids=[p.name for p in PEOPLE])
def test_a_history_is_one_that_could_be(person: Person) -> None:
    """Nothing lies in the future, nothing closed is practised, and every figure is one the product would
    take.
    """
    history = drawn(person.name, DAYS[1])
    assert all(s.at.date() < DAYS[1] for s in history.sets)
    for s in history.sets:
        kinds = {(w.measure, w.mode, w.window_s) for w in SYLLABUS.ways(s.drill)}
        assert (s.measure, s.mode, s.window_s) in kinds, s
        assert s.n is None or s.value <= s.n
        assert s.side is None or SYLLABUS.drills[s.drill].gate.each_side
    first: dict[str, date] = {}
    for s in sorted(history.sets, key=lambda s: s.at):
        first.setdefault(s.drill, s.at.date())
    for drill, day in first.items():
        for need in SYLLABUS.needs[drill]:
            before = [first[w] for w in need.any_of if w in first]
            tested = set(SYLLABUS.free_tries.drills.values())
            assert not before or min(before) <= day or set(need.any_of) & tested, (drill, need)


LIVING = [p for p in PEOPLE if p.weeks and not p.away_weeks]


@pytest.mark.parametrize("on", DAYS)
@pytest.mark.parametrize("person", LIVING, ids=[p.name for p in LIVING])
def test_the_last_weeks_are_the_products_own(person: Person, on: date) -> None:
    """Every week up to the present one is planned, every session stands in the plan of its day and was done
    on a day that is over, and nothing was recorded that its sheet does not hold.
    """
    _, left = lived(person.name, on)
    weeks = {p.week: p for p in left.plans}
    assert sorted(weeks) == [first_lived_day(on) + timedelta(weeks=n) for n in range(LIVED_WEEKS + 1)]
    assert left.sessions
    for done in left.sessions:
        day = done.session.day
        assert day < on
        planned = next(d for d in weeks[monday_of(day)].planned.days if d.day == day)
        assert {b.key for b in planned.blocks} == {s.planned for s in done.session.sheet.slots}
        variants = done.session.sheet.variants.values()
        follow = {v.dose.then.drill for v in variants if v.dose and v.dose.then}
        assert {p.drill for p in done.pieces} <= {v.drill for v in variants} | follow
        assert done.session.source == ("self" if day.weekday() in person.own_days else "demo")
        assert (done.session.ended_at or done.session.started_at) >= done.session.started_at
    over = {d.day for p in weeks.values() for d in p.planned.days if d.blocks and d.day < on}
    assert {s.session.day for s in left.sessions} == over


def test_whoever_was_away_has_a_plan_and_no_sessions_before() -> None:
    """The comeback begins in the present week."""
    for on in DAYS:
        _, left = lived("Aslak Rem", on)
        assert {p.week for p in left.plans} == {monday_of(on)}
        assert all(s.session.day >= monday_of(on) for s in left.sessions)


def test_the_same_seed_lives_the_same_weeks() -> None:
    """But for ids."""
    again = lived.__wrapped__("Marit Oland", DAYS[0])[1]
    assert [(s.session.day, [(p.drill, p.value, p.asked) for p in s.pieces]) for s in again.sessions] == [
        (s.session.day, [(p.drill, p.value, p.asked) for p in s.pieces])
        for s in lived("Marit Oland", DAYS[0])[1].sessions
    ]


def test_what_people_want_and_are_asked_is_in_the_syllabus() -> None:
    """Goals, lines, limits, waivers and cautions of the made-up people stand for something."""
    for p in PEOPLE:
        assert set(p.goals) <= {g.goal for g in SYLLABUS.content.goals}, p.name
        assert set(p.lines) <= {line.line for line in SYLLABUS.lines}, p.name
        assert set(p.limits) <= set(SYLLABUS.drills), p.name
        assert {d for d, _ in p.waives} <= set(SYLLABUS.drills), p.name
        assert set(p.cautions) <= {q.caution for q in SYLLABUS.intake.cautions}, p.name
    assert {p.name for p in PEOPLE if p.weeks and p.stature_cm is None} == set()
    assert DAYS[1] - DAYS[0] > timedelta(days=200)
