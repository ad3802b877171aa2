"""What Today shows, kept ready for each trainee so that reading it grows with trainees, not with history."""

from dataclasses import asdict, dataclass
from datetime import date
from uuid import UUID

from psycopg import Connection
from psycopg.errors import LockNotAvailable
from psycopg.rows import class_row

from wise_perch.store.queries import queries

SQL = queries("briefs")


@dataclass(frozen=True, slots=True, kw_only=True)
class OldBrief:
    """A trainee whose brief has to be made again, and the version of the evidence that there is."""

    trainee: UUID
    evidence_version: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Brief:
    """A brief to keep: the judgement of `day` as JSON (`today`), and what it was made from."""

    trainee: UUID
    evidence_version: int
    syllabus: str
    day: date
    rest_s: int
    urgency: int
    today: str


def old(db: Connection, *, syllabus: str, day: date, rest_s: int, most: int) -> list[OldBrief]:
    """Give the trainees whose brief is missing or no longer true, at most so many, by name."""
    values = {"syllabus": syllabus, "day": day, "rest_s": rest_s, "most": most}
    with db.cursor(row_factory=class_row(OldBrief)) as cursor:
        return cursor.execute(SQL["old"], values).fetchall()


def hold(db: Connection, *, within_s: float | None) -> bool:
    """Let one maker of briefs work for this coach after the other, until the transaction ends; False where
    that is somebody else for longer than `within_s`.
    """
    if within_s is not None:
        db.execute(SQL["wait_most"], {"ms": str(int(within_s * 1000))})
    try:
        with db.transaction():
            db.execute(SQL["hold"])
    except LockNotAvailable:
        return False
    return True


def keep(db: Connection, briefs: list[Brief]) -> None:
    """Keep briefs; one made from newer evidence is never overwritten by an older one."""
    with db.cursor() as cursor:
        cursor.executemany(SQL["keep"], [asdict(b) for b in briefs])


def today(db: Connection, *, syllabus: str, day: date, rest_s: int) -> str:
    """Give every trainee as one JSON text, the most pressing first, with their brief where it is true, else
    null; those stand last.
    """
    row = db.execute(SQL["today"], {"syllabus": syllabus, "day": day, "rest_s": rest_s}).fetchone()
    return str(row[0]) if row else "[]"
