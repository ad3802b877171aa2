"""Long work of the server: what was asked for, how far it has come, how it ended."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("jobs")

JobKind = Literal["plan-weeks", "rehearsal", "reports", "class-night"]
JobState = Literal["waiting", "running", "finished", "stopped", "failed"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """A piece of long work. `done` of `total` steps; `wrong`: what could not be done, in words; `result`:
    what it came to.
    """

    id: UUID
    kind: JobKind
    trainee: UUID | None
    what: dict[str, Any]
    at: datetime
    state: JobState
    done: int
    total: int
    wrong: list[str]
    result: dict[str, Any] | None
    stop_asked: bool
    ended_at: datetime | None


def add(
    db: Connection,
    *,
    id: UUID,
    kind: JobKind,
    trainee: UUID | None,
    what: Mapping[str, Any],
    at: datetime,
    total: int,
) -> bool:
    """Keep work that was asked for, and say whether it is new. Raises Conflict if the id stands for other
    work.
    """
    values = {"id": id, "kind": kind, "trainee": trainee, "what": Jsonb(dict(what)), "at": at, "total": total}
    if db.execute(SQL["add"], values).rowcount == 1:
        return True
    kept = one(db, id)
    if (kept.kind, kept.trainee, kept.what) != (kind, trainee, dict(what)):
        raise Conflict("This id already stands for other work.")
    return False


def one(db: Connection, id: UUID) -> Job:
    """Give one piece of work. Raises NotFound."""
    with db.cursor(row_factory=class_row(Job)) as cursor:
        found = cursor.execute(SQL["one"], {"id": id}).fetchone()
    if found is None:
        raise NotFound("There is no such work.")
    return found


def newest(db: Connection, kind: JobKind, *, trainee: UUID | None, finished: bool = False) -> Job | None:
    """Give the newest work of a kind, about one trainee or about none; only `finished` work if so asked."""
    with db.cursor(row_factory=class_row(Job)) as cursor:
        values = {"kind": kind, "trainee": trainee, "finished": finished}
        return cursor.execute(SQL["newest"], values).fetchone()


def newest_of_class(db: Connection, id: UUID) -> Job | None:
    """Give the newest work that laid a class night out."""
    with db.cursor(row_factory=class_row(Job)) as cursor:
        return cursor.execute(SQL["newest_of_class"], {"class": str(id)}).fetchone()


def come_to(db: Connection, id: UUID, *, done: int, wrong: Sequence[str]) -> bool:
    """Say how far work has come; answers whether it may go on: not once it was asked to stop, or has
    ended.
    """
    row = db.execute(SQL["come_to"], {"id": id, "done": done, "wrong": Jsonb(list(wrong))}).fetchone()
    return row is not None and not row[0]


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftJob:
    """Work that has not ended, and who asked for it in which hall."""

    hall: UUID
    coach: UUID
    job: UUID


def left(db: Connection) -> list[LeftJob]:
    """Give the work of every hall that has not ended, the oldest first."""
    with db.cursor(row_factory=class_row(LeftJob)) as cursor:
        return cursor.execute(SQL["left"]).fetchall()


def ask_to_stop(db: Connection, id: UUID) -> None:
    """Ask work to stop; what has ended stays as it is. Raises NotFound."""
    one(db, id)
    db.execute(SQL["ask_to_stop"], {"id": id})


def end(
    db: Connection,
    id: UUID,
    *,
    state: JobState,
    wrong: Sequence[str],
    done: int | None = None,
    result: Mapping[str, Any] | None = None,
    moment: datetime,
) -> None:
    """End work; what has ended stays as it is."""
    made = None if result is None else Jsonb(dict(result))
    values = {"id": id, "state": state, "wrong": Jsonb(list(wrong)), "done": done, "result": made}
    db.execute(SQL["end"], {**values, "moment": moment})
