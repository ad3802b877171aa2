"""Test days: which tests for whom, in one go."""

from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import dict_row
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from wise_perch.core.trainee.stored import KeptTestDay, Turn
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("test_days")
PLAN = TypeAdapter(tuple[Turn, ...])


def _test_day_of(row: dict[str, Any]) -> KeptTestDay:
    return KeptTestDay(id=row["id"], at=row["at"], plan=PLAN.validate_python(row["plan"], strict=False))


def add(db: Connection, *, id: UUID, at: datetime, plan: tuple[Turn, ...]) -> KeptTestDay:
    """Keep a test day; sending the same again changes nothing. Raises Conflict if the id stands for
    another.
    """
    db.execute(SQL["add"], {"id": id, "at": at, "plan": Jsonb(PLAN.dump_python(plan, mode="json"))})
    kept = one(db, id)
    if kept.plan != plan:
        raise Conflict("This id already stands for another test day.")
    return kept


def one(db: Connection, id: UUID) -> KeptTestDay:
    """Give one test day. Raises NotFound."""
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["one"], {"id": id}).fetchone()
    if row is None:
        raise NotFound("There is no such test day.")
    return _test_day_of(row)


def every(db: Connection, *, most: int) -> tuple[KeptTestDay, ...]:
    """Give the newest test days."""
    with db.cursor(row_factory=dict_row) as cursor:
        return tuple(_test_day_of(row) for row in cursor.execute(SQL["every"], {"most": most}))


def strike(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Strike a test day out; its runs stay. Raises NotFound."""
    if db.execute(SQL["strike"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such test day.")
