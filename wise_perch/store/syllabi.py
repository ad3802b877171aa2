"""A coach's own syllabus: versions, each kept for good, the newest in use."""

from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row

from wise_perch.core.trainee.stored import SyllabusText, SyllabusVersion
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("syllabi")


def hold(db: Connection) -> None:
    """Let nobody else change this coach's syllabus until this transaction ends."""
    db.execute(SQL["hold"])


def add(db: Connection, *, id: UUID, at: datetime, text: str, note: str) -> None:
    """Keep a version, which is in use from now on; sending the same again changes nothing. Raises Conflict
    for another text.
    """
    db.execute(SQL["add"], {"id": id, "at": at, "text": text, "note": note})
    if one(db, id).text != text:
        raise Conflict("This id already stands for another version.")


def one(db: Connection, id: UUID) -> SyllabusText:
    """Give one version. Raises NotFound."""
    with db.cursor(row_factory=class_row(SyllabusText)) as cursor:
        found = cursor.execute(SQL["one"], {"id": id}).fetchone()
    if found is None:
        raise NotFound("There is no such version of the syllabus.")
    return found


def every(db: Connection) -> list[SyllabusVersion]:
    """Give every version, the newest first."""
    with db.cursor(row_factory=class_row(SyllabusVersion)) as cursor:
        return cursor.execute(SQL["every"]).fetchall()
