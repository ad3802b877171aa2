"""Trainees."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg import Connection, Cursor
from psycopg.rows import RowMaker, class_row
from psycopg.types.json import Jsonb

from wise_perch.core.trade.evidence import Side
from wise_perch.core.trainee.stored import Trainee
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("trainees")


def a_trainee(cursor: Cursor[Any]) -> RowMaker[Trainee]:
    """Make a row a trainee, its side a Side and not a word."""
    names = [column.name for column in cursor.description or ()]

    def make(values: Sequence[Any]) -> Trainee:
        row = dict(zip(names, values, strict=True))
        return Trainee(
            **{**row, "stepping_side": Side(row["stepping_side"]) if row["stepping_side"] else None}
        )

    return make


def add(db: Connection, *, id: UUID, name: str, stepping_side: Side | None, note: str) -> Trainee:
    """Add a trainee; sending the same again changes nothing. Raises Conflict if the id stands for another
    one.
    """
    db.execute(SQL["add"], {"id": id, "name": name, "stepping_side": stepping_side, "note": note})
    kept = one(db, id)
    if kept.name != name:
        raise Conflict("This id already stands for another trainee.")
    return kept


def change(db: Connection, *, id: UUID, name: str, stepping_side: Side | None, note: str) -> Trainee:
    """Change a trainee. Raises NotFound."""
    db.execute(SQL["change"], {"id": id, "name": name, "stepping_side": stepping_side, "note": note})
    return one(db, id)


def one(db: Connection, id: UUID) -> Trainee:
    """Give one trainee. Raises NotFound for an unknown id or another coach's."""
    with db.cursor(row_factory=a_trainee) as cursor:
        found = cursor.execute(SQL["one"], {"id": id}).fetchone()
    if found is None:
        raise NotFound("There is no such trainee.")
    return found


def every(db: Connection) -> list[Trainee]:
    """Give every trainee, by name."""
    with db.cursor(row_factory=a_trainee) as cursor:
        return cursor.execute(SQL["every"]).fetchall()


def some(db: Connection, ids: Collection[UUID]) -> list[Trainee]:
    """Give these trainees, by name; those that are not there are left out."""
    with db.cursor(row_factory=a_trainee) as cursor:
        return cursor.execute(SQL["some"], {"ids": list(ids)}).fetchall()


def by_names(db: Connection, names: Sequence[str]) -> dict[str, Trainee]:
    """Find trainees by name, however cased; keyed by the lower-cased name."""
    with db.cursor(row_factory=a_trainee) as cursor:
        return {t.name.lower(): t for t in cursor.execute(SQL["by_names"], {"names": list(names)})}


@dataclass(frozen=True, slots=True, kw_only=True)
class AwayTrainee:
    """A trainee who left and was put away. `since`: when."""

    id: UUID
    name: str
    since: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Receipt:
    """What was deleted for good: how much of what, and when. It names nobody but by the id."""

    id: UUID
    trainee: UUID
    at: datetime
    counted: dict[str, int]


def put_away(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Put a trainee who left away; everything of theirs stays. Raises NotFound."""
    if db.execute(SQL["put_away"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such trainee.")


def bring_back(db: Connection, *, id: UUID) -> Trainee:
    """Bring a trainee back. Raises NotFound, and Conflict (at once) where the name is taken by now."""
    db.execute(SQL["bring_back"], {"id": id})
    return one(db, id)


def away(db: Connection) -> list[AwayTrainee]:
    """Give who was put away, by name."""
    with db.cursor(row_factory=class_row(AwayTrainee)) as cursor:
        return cursor.execute(SQL["away"]).fetchall()


def anybody(db: Connection, id: UUID) -> Trainee:
    """Give one trainee, put away or not. Raises NotFound."""
    with db.cursor(row_factory=a_trainee) as cursor:
        found = cursor.execute(SQL["anybody"], {"id": id}).fetchone()
    if found is None:
        raise NotFound("There is no such trainee.")
    return found


def hold(db: Connection, id: UUID) -> None:
    """Let nobody else change this trainee until this transaction ends: what is read after it stays so."""
    db.execute(SQL["hold"], {"id": id})


def erase(db: Connection, *, id: UUID, receipt: UUID) -> Receipt:
    """Delete a trainee who was put away with everything of theirs for good, and keep a receipt.

    Raises NotFound, and Conflict where they are not put away.
    """
    held = db.execute(SQL["hold"], {"id": id}).fetchone()
    if held is not None and not held[0]:
        raise Conflict("Only a trainee who was put away can be erased. Nothing was erased.")
    row = db.execute(SQL["erase"], {"id": id}).fetchone()
    if row is None or row[0] is None:
        raise NotFound("There is no such trainee.")
    with db.cursor(row_factory=class_row(Receipt)) as cursor:
        values = {"receipt": receipt, "id": id, "counted": Jsonb(row[0])}
        kept = cursor.execute(SQL["receipt"], values).fetchone()
    assert kept is not None
    return kept


def receipts(db: Connection) -> list[Receipt]:
    """Give every receipt of a deletion, the newest first."""
    with db.cursor(row_factory=class_row(Receipt)) as cursor:
        return cursor.execute(SQL["receipts"]).fetchall()
