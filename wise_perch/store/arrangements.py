"""What a coach decided about trainees beside their evidence: goals, waivers, intake, schools."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.types.json import Jsonb

from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("arrangements")


def choose_goals(db: Connection, *, trainee: UUID, goals: Sequence[str], moment: datetime) -> None:
    """Set a trainee's goals from a moment on, in this order; goals left out are struck out."""
    values = {"trainee": trainee, "goals": list(goals), "moment": moment}
    db.execute(SQL["drop_goals"], values)
    db.execute(SQL["choose_goals"], values)


def waive(db: Connection, *, id: UUID, trainee: UUID, drill: str, reason: str, at: datetime) -> None:
    """Waive a gate; sending the same again changes nothing. Raises Conflict for another waiver of this id or
    gate.
    """
    if (
        db.execute(
            SQL["waive"], {"id": id, "trainee": trainee, "drill": drill, "reason": reason, "at": at}
        ).rowcount
        == 1
    ):
        return
    row = db.execute(SQL["waiver"], {"id": id}).fetchone()
    if row != (trainee, drill, reason):
        raise Conflict("This id already stands for another waiver.")


def take_back(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Take a waiver back. Raises NotFound."""
    if db.execute(SQL["take_back"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such waiver.")


def add_intake(db: Connection, *, id: UUID, trainee: UUID, at: datetime, profile: Mapping[str, Any]) -> None:
    """Keep an intake, the newest of which counts; sending the same again changes nothing. Raises Conflict for
    another one.
    """
    if (
        db.execute(
            SQL["add_intake"], {"id": id, "trainee": trainee, "at": at, "profile": Jsonb(profile)}
        ).rowcount
        == 1
    ):
        return
    row = db.execute(SQL["intake"], {"id": id}).fetchone()
    if row is None or row[0] != trainee or _as_told(row[1]) != _as_told(profile):
        raise Conflict("This id already stands for another intake.")


def _as_told(profile: Mapping[str, Any]) -> dict[str, Any]:
    """An intake without what is carried over from the one before it."""
    return {name: value for name, value in profile.items() if name != "distances_cm"}


def set_schools(db: Connection, *, trainee: UUID, schools: Mapping[str, str]) -> None:
    """Set where a trainee is taught otherwise than the coach's schools say."""
    db.execute(SQL["set_schools"], {"trainee": trainee, "schools": Jsonb(dict(schools))})
