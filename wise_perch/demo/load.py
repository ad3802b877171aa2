"""Puts the made-up hall into a database, through the same store that a real coach writes through."""

from datetime import UTC, date, datetime, time, timedelta
from random import Random
from secrets import token_urlsafe
from uuid import UUID

import psycopg
from uuid_utils.compat import uuid7

from wise_perch.api.auth import hasher, token_hash
from wise_perch.api.cases import load_case, load_house
from wise_perch.core.trade.evidence import Form, Measure
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.groups import Evening
from wise_perch.core.trainee.habits import WEEK_DAYS
from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.stored import KeptSet
from wise_perch.demo.class_nights import load_class_nights
from wise_perch.demo.lines import drawn_lines
from wise_perch.demo.lived import first_lived_day, live_weeks
from wise_perch.demo.people import (
    COACH_EMAIL,
    COACH_PASSWORD,
    COACHES,
    GROUPS,
    HALL_NAME,
    KIT,
    PEOPLE,
    TIME_ZONE,
    Person,
)
from wise_perch.demo.simulator import History, draw_broken_off, simulate
from wise_perch.demo.writing import decide_person, write_history
from wise_perch.store import coaches, floor, groups, habits, halls, kept_lines, kit, plans, trainees
from wise_perch.store.pool import act_as
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
    hall, password = uuid7(), hasher().hash(COACH_PASSWORD)
    with db.transaction():
        for n, (name, email, role) in enumerate(reversed(COACHES)):
            coach = uuid7()
            # the last one here is the owner, who acts from here on
            act_as(db, Member(coach=coach, hall=hall))
            coaches.add_coach(db, id=coach, email=email, name=name, password_hash=password)
            if n == 0:
                halls.add(db, name=HALL_NAME, time_zone=TIME_ZONE)
            halls.join(db, coach=coach, role=role)
        for kind, thickness_cm, pieces, note in KIT:
            kit.add(db, id=uuid7(), kind=kind, thickness_cm=thickness_cm, count=pieces, note=note)
        coaches.tell_screen(db, screen="*")
        count, ids = 0, {}
        for person in PEOPLE:
            trainee = trainees.add(
                db, id=uuid7(), name=person.name, stepping_side=person.stepping_side, note=person.note
            )
            ids[person.name] = trainee.id
            # whoever comes now lived the last weeks by the product; whoever stayed away did so until today
            then = until if person.away_weeks else first_lived_day(until)
            history = simulate(person, syllabus, trainee=trainee.id, until=then, seed=seed)
            history.runs += draw_broken_off(
                person, history.skill, syllabus, trainee=trainee.id, until=until, seed=seed
            )
            write_history(db, history)
            decide_person(db, person, trainee.id, syllabus, until=then)
            for line in drawn_lines(
                person.name, syllabus=syllabus, stature_cm=person.stature_cm, until=until, seed=seed
            ):
                kept_lines.add(db, trainee=trainee.id, line=line)
            count += len(history.sets) + sum(len(run.tries) for run in history.runs)
            if person.weeks:
                count += _live_on(db, person, history, until=until, seed=seed)
        for name, evenings, who in GROUPS:
            when = [Evening(weekday=day, time=at, minutes=minutes) for day, at, minutes in evenings]
            groups.add(db, id=uuid7(), name=name, evenings=when, members=[ids[one] for one in who])
        load_class_nights(db, until=until, coaches=tuple(name for name, _, _ in COACHES))
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
    write_history(db, History(history.trainee, sets=extra, runs=lived.runs))
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


def forget(owner_dsn: str) -> None:
    """Remove the demo's coach and all that belongs to them. Only the owner's address may: the application
    never deletes.
    """
    with psycopg.connect(owner_dsn) as db:
        coaches.remove(db, emails=[email for _, email, _ in COACHES])
