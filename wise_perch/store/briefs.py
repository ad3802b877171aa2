"""What Today shows, kept ready for each trainee so that reading it grows with trainees, not with history."""

from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from wise_perch.store.queries import queries

SQL = queries("briefs")


@dataclass(frozen=True, slots=True, kw_only=True)
class OldBrief:
    """A trainee whose brief has to be made again. `marks` and `tests` are given where they are still true."""

    trainee: UUID
    name: str
    evidence_version: int
    marks: dict[str, Any] | None
    tests: dict[str, Any] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Brief:
    """A brief to keep: what never depends on the day (`marks`, `tests`), and the judgement of `day`
    (`today`).

    `marks` and `tests` are None where those kept are still true.
    """

    trainee: UUID
    evidence_version: int
    syllabus: str
    day: date
    rest_s: int
    urgency: int
    marks: Any
    tests: Any
    today: Any


def old(db: Connection, *, syllabus: str, day: date, rest_s: int) -> list[OldBrief]:
    """Give the trainees whose brief is missing or no longer true."""
    with db.cursor(row_factory=class_row(OldBrief)) as cursor:
        return cursor.execute(SQL["old"], {"syllabus": syllabus, "day": day, "rest_s": rest_s}).fetchall()


def keep(db: Connection, briefs: list[Brief]) -> None:
    """Keep briefs; one made from newer evidence is never overwritten by an older one."""
    with db.cursor() as cursor:
        cursor.executemany(
            SQL["keep"],
            [
                {**_day_of(b), "marks": Jsonb(b.marks), "tests": Jsonb(b.tests)}
                for b in briefs
                if b.marks is not None
            ],
        )
        cursor.executemany(SQL["keep_day"], [_day_of(b) for b in briefs if b.marks is None])


def _day_of(b: Brief) -> dict[str, Any]:
    names = ("trainee", "evidence_version", "syllabus", "day", "rest_s", "urgency")
    return {**{name: getattr(b, name) for name in names}, "today": Jsonb(b.today)}


def today(db: Connection) -> str:
    """Give every trainee's brief as one JSON text, the most pressing first."""
    row = db.execute(SQL["today"]).fetchone()
    return str(row[0]) if row else "[]"
