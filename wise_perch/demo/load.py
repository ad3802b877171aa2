"""Puts the made-up hall into a database, through the same store that a real coach writes through."""

from dataclasses import asdict
from datetime import UTC, date, datetime, time, timedelta
from random import Random
from secrets import token_urlsafe
from typing import Any
from uuid import UUID

import psycopg
from psycopg.types.json import Jsonb
from uuid_utils.compat import uuid7

from wise_perch.api.auth import hasher, token_hash
from wise_perch.api.cases import load_case, load_house
from wise_perch.core.trade.evidence import Form, Measure
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.habits import WEEK_DAYS
from wise_perch.core.trainee.stored import KeptSet, KeptTry, Run
from wise_perch.demo.lines import drawn_lines
from wise_perch.demo.lived import first_lived_day, live_weeks
from wise_perch.demo.people import COACH_EMAIL, COACH_NAME, COACH_PASSWORD, KIT, PEOPLE, TIME_ZONE, Person
from wise_perch.demo.simulator import History, draw_broken_off, simulate
from wise_perch.store import arrangements, coaches, floor, habits, kept_lines, kit, plans, trainees
from wise_perch.store.evidence import SQL, evidence_row, keep_sets, try_values
from wise_perch.syllabus.shipped import built_in

SEED = 1904
HABIT_SHARE = 0.6
"""How often one of the made-up people does a habit on a day."""


def is_loaded(db: psycopg.Connection) -> bool:
    """Say whether the demo's coach is there."""
    return coaches.for_sign_in(db, email=COACH_EMAIL) is not None


def load(db: psycopg.Connection, syllabus: Syllabus, *, until: date, seed: int = SEED) -> int:
    """Load the hall in one transaction and say how many pieces of evidence it has. `until`: the demo's
    today.
    """
    coach = uuid7()
    with db.transaction():
        db.execute("select set_config('perch.coach_id', %s, true)", [str(coach)])
        coaches.add_coach(
            db,
            id=coach,
            email=COACH_EMAIL,
            name=COACH_NAME,
            password_hash=hasher().hash(COACH_PASSWORD),
            time_zone=TIME_ZONE,
        )
        for kind, thickness_cm, pieces, note in KIT:
            kit.add(db, id=uuid7(), kind=kind, thickness_cm=thickness_cm, count=pieces, note=note)
        count = 0
        for person in PEOPLE:
            trainee = trainees.add(
                db, id=uuid7(), name=person.name, stepping_side=person.stepping_side, note=person.note
            )
            # whoever comes now lived the last weeks by the product; whoever stayed away did so until today
            then = until if person.away_weeks else first_lived_day(until)
            history = simulate(person, syllabus, trainee=trainee.id, until=then, seed=seed)
            history.runs += draw_broken_off(
                person, history.skill, syllabus, trainee=trainee.id, until=until, seed=seed
            )
            _write_history(db, history)
            _decide_person(db, person, trainee.id, syllabus, until=then)
            for line in drawn_lines(
                person.name, syllabus=syllabus, stature_cm=person.stature_cm, until=until, seed=seed
            ):
                kept_lines.add(db, trainee=trainee.id, line=line)
            count += len(history.sets) + sum(len(run.tries) for run in history.runs)
            if person.weeks:
                count += _live_on(db, person, history, until=until, seed=seed)
    return count


def _live_on(db: psycopg.Connection, person: Person, history: History, *, until: date, seed: int) -> int:
    """The last weeks by plan and floor, from where the history stands; how many pieces they came to."""
    begin = load_case(db, history.trainee, load_house(db), on=until).case
    lived = live_weeks(person, begin, trainee=history.trainee, skill=history.skill, until=until, seed=seed)
    for kept in lived.plans:
        plans.keep(
            db,
            id=kept.id,
            trainee=kept.trainee,
            at=kept.at,
            wish=kept.wish,
            planned=kept.planned,
            note=kept.note,
        )
    for done in lived.sessions:
        floor.keep_whole(db, done.session, done.pieces)
    extra = [] if person.extra is None else _did_beside(*person.extra, day=until - timedelta(days=1))
    _write_history(db, History(history.trainee, sets=extra, runs=lived.runs))
    if person.own_days:
        # nobody knows this address: it is shown once, to who makes it
        secret = token_hash(token_urlsafe(32))
        plans.add_link(db, id=uuid7(), trainee=history.trainee, kind="page", token_hash=secret)
        _tell_habits(db, history.trainee, until=until, luck=Random(f"{seed} {person.name}"))
    return (
        len(extra) + sum(len(done.pieces) for done in lived.sessions) + sum(len(r.tries) for r in lived.runs)
    )


def _tell_habits(db: psycopg.Connection, trainee: UUID, *, until: date, luck: Random) -> None:
    """The last week at home: most habits on most days, none of them every day."""
    for ago in range(1, WEEK_DAYS):
        day = until - timedelta(days=ago)
        for habit in built_in().sessions.habits:
            if luck.random() < HABIT_SHARE:
                at = datetime.combine(day, time(20), UTC)
                minutes = habit.minutes.value
                habits.put(db, trainee=trainee, day=day, habit=habit.habit, minutes=minutes, at=at)


def _did_beside(drill: str, seconds: float, sets: int, *, day: date) -> list[KeptSet]:
    """Holds that nobody planned, in the evening of a day."""
    at = datetime.combine(day, time(20), UTC)
    return [
        KeptSet(
            id=uuid7(),
            drill=drill,
            at=at + timedelta(minutes=3 * n),
            measure=Measure.HOLD,
            value=seconds,
            n=None,
            form=Form.CLEAN,
            side=None,
            mode=None,
            window_s=None,
            confidence=None,
            dial={},
            source="demo",
            note="at home, beside the plan",
            struck_at=None,
        )
        for n in range(sets)
    ]


def _write_history(db: psycopg.Connection, history: History) -> None:
    # one statement, so that the trainee's evidence counts as changed once and not fifteen hundred times
    keep_sets(db, [evidence_row(s, trainee=history.trainee, source=s.source) for s in history.sets])
    with db.cursor() as cursor:
        cursor.executemany(SQL["start_run"], [_start_values(r) for r in history.runs])
        cursor.executemany(SQL["add_try"], [_try_row(r, t) for r in history.runs for t in r.tries])
        cursor.executemany(
            SQL["end_run"],
            [
                {
                    **{
                        name: getattr(r, name)
                        for name in ("ended_at", "ended_as", "pain_joint", "pain_level", "confidence")
                    },
                    "run": r.id,
                }
                for r in history.runs
                if r.ended_at
            ],
        )


def _start_values(r: Run) -> dict[str, Any]:
    names = ("id", "trainee", "test", "subject", "started_at", "rest_s", "room", "source", "test_day")
    return {**{name: getattr(r, name) for name in names}, "dial": Jsonb(r.dial), "sheet": None}


def _try_row(r: Run, t: KeptTry) -> dict[str, Any]:
    return try_values(r.id, t, test=r.test, mode=built_in().tests[r.test].mode(t.mode))


def _decide_person(
    db: psycopg.Connection, person: Person, trainee: UUID, syllabus: Syllabus, *, until: date
) -> None:
    """What the coach decided: goals, waivers, and the intake of the first evening."""
    begun = datetime.combine(until - timedelta(weeks=max(person.weeks, 1)), time(16), UTC)
    arrangements.choose_goals(db, trainee=trainee, goals=person.goals, moment=begun)
    for drill, reason in person.waives:
        arrangements.waive(db, id=uuid7(), trainee=trainee, drill=drill, reason=reason, at=begun)
    if person.stature_cm is None:
        return
    answers = {q.caution: q.caution in person.cautions for q in syllabus.intake.cautions}
    profile = Profile(
        stature_cm=person.stature_cm,
        mass_kg=person.mass_kg,
        lengths_cm=dict(person.lengths_cm),
        cautions=answers,
        cleared=person.cleared and bool(person.cautions),
    )
    arrangements.add_intake(
        db,
        id=uuid7(),
        trainee=trainee,
        at=begun,
        profile={**asdict(profile), "experience": [], "kit": ["wall", "mat"]},
    )


def forget(owner_dsn: str) -> None:
    """Remove the demo's coach and all that belongs to them. Only the owner's address may: the application
    never deletes.
    """
    with psycopg.connect(owner_dsn) as db:
        coaches.remove(db, email=COACH_EMAIL)
