"""Writes a drawn history and what was decided about its trainee, through the store that coaches write by."""

from dataclasses import asdict
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID

import psycopg
from psycopg.types.json import Jsonb
from uuid_utils.compat import uuid7

from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.stored import KeptTry, Run
from wise_perch.demo.people import Person
from wise_perch.demo.simulator import History
from wise_perch.store import arrangements
from wise_perch.store.evidence import SQL, evidence_row, keep_sets, try_values
from wise_perch.syllabus.shipped import built_in


def write_history(db: psycopg.Connection, history: History) -> None:
    """Keep a drawn history."""
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


def decide_person(
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
