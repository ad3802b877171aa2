"""Trainees."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from psycopg import Connection, Cursor
from psycopg.rows import RowMaker

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


def by_names(db: Connection, names: Sequence[str]) -> dict[str, Trainee]:
    """Find trainees by name, however cased; keyed by the lower-cased name."""
    with db.cursor(row_factory=a_trainee) as cursor:
        return {t.name.lower(): t for t in cursor.execute(SQL["by_names"], {"names": list(names)})}
