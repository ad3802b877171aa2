"""The coach's kit: pads, plates, blocks and boxes."""

from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row

from wise_perch.core.body.kit import KitKind
from wise_perch.core.trainee.stored import KeptKit
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("kit")


def every(db: Connection) -> tuple[KeptKit, ...]:
    """Give all kit that is not struck out."""
    with db.cursor(row_factory=class_row(KeptKit)) as cursor:
        return tuple(cursor.execute(SQL["every"]))


def add(db: Connection, *, id: UUID, kind: KitKind, thickness_cm: float, count: int, note: str) -> None:
    """Add pieces; sending the same again changes nothing. Raises Conflict if the id stands for others."""
    values = {"id": id, "kind": kind, "thickness_cm": thickness_cm, "count": count, "note": note}
    if db.execute(SQL["add"], values).rowcount == 1:
        return
    kept = next((k for k in every(db) if k.id == id), None)
    if kept is None or (kept.kind, kept.thickness_cm, kept.count, kept.note) != (
        kind,
        thickness_cm,
        count,
        note,
    ):
        raise Conflict("This id already stands for other kit.")


def change(db: Connection, *, id: UUID, kind: KitKind, thickness_cm: float, count: int, note: str) -> None:
    """Change pieces. Raises NotFound."""
    if (
        db.execute(
            SQL["change"],
            {"id": id, "kind": kind, "thickness_cm": thickness_cm, "count": count, "note": note},
        ).rowcount
        == 0
    ):
        raise NotFound("There is no such kit.")


def strike(db: Connection, *, id: UUID, moment: datetime | None) -> None:
    """Strike pieces out at `moment`, or bring them back (None). Raises NotFound."""
    done = (
        db.execute(SQL["strike"], {"id": id, "moment": moment})
        if moment
        else db.execute(SQL["restore"], {"id": id})
    )
    if done.rowcount == 0:
        raise NotFound("There is no such kit.")
