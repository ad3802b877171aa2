"""The long view: what was told of a trainee, what a coach has silenced, the days of plans, and reports."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb

from wise_perch.core.progress.events import CourseChange, IntakeOn, Told
from wise_perch.core.trainee.pain import Ache
from wise_perch.store.cases import profile_of
from wise_perch.store.errors import Conflict
from wise_perch.store.queries import queries

SQL = queries("progress")


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptDays:
    """The days planned for a trainee within some days, and those on which anything was recorded."""

    trainee: UUID
    planned: tuple[date, ...]
    done: tuple[date, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptReport:
    """One report. `month` is its first day; `made`: as it was written from the data; `words`: what a coach
    changed of it, by section.
    """

    id: UUID
    trainee: UUID
    month: date
    at: datetime
    made: dict[str, Any]
    words: dict[str, str]


def told(db: Connection, trainee: UUID, *, time_zone: str) -> Told:
    """Everything that was told of a trainee beside what was done."""
    values = {"trainee": trainee, "time_zone": time_zone}
    with db.cursor(row_factory=class_row(Ache)) as cursor:
        aches = tuple(cursor.execute(SQL["aches"], values))
    with db.cursor(row_factory=class_row(CourseChange)) as cursor:
        changes = tuple(cursor.execute(SQL["changes"], values))
    intakes = tuple(
        IntakeOn(day=day, profile=profile_of(profile)) for day, profile in db.execute(SQL["intakes"], values)
    )
    return Told(aches=aches, intakes=intakes, changes=changes)


def silenced(db: Connection, *, trainee: UUID | None = None) -> Mapping[UUID, frozenset[str]]:
    """What is silenced, of one trainee or of everybody who has anything silenced."""
    found: dict[UUID, set[str]] = defaultdict(set)
    for id, turn in db.execute(SQL["silenced"], {"trainee": trainee}):
        found[id].add(turn)
    return {id: frozenset(turns) for id, turns in found.items()}


def silence(db: Connection, *, trainee: UUID, turn: str, silenced: bool, at: datetime) -> None:
    """Silence a turn, or hear of it again; what was said later stands."""
    db.execute(SQL["silence"], {"trainee": trainee, "turn": turn, "silenced": silenced, "at": at})


def kept_days(
    db: Connection, *, first: date, last: date, time_zone: str, trainee: UUID | None = None
) -> dict[UUID, KeptDays]:
    """The days planned and done from one day to another, both included."""
    values = {"first": first, "last": last, "time_zone": time_zone, "trainee": trainee}
    with db.cursor(row_factory=dict_row) as cursor:
        rows = cursor.execute(SQL["kept_days"], values).fetchall()
    return {
        r["trainee"]: KeptDays(trainee=r["trainee"], planned=tuple(r["planned"]), done=tuple(r["done"]))
        for r in rows
    }


def add_report(
    db: Connection,
    *,
    id: UUID,
    trainee: UUID,
    month: date,
    at: datetime,
    made: Mapping[str, Any],
    words: Mapping[str, str],
) -> None:
    """Keep a report. Raises Conflict if the id stands for another one."""
    values = {"id": id, "trainee": trainee, "month": month, "at": at}
    written = {**values, "made": Jsonb(dict(made)), "words": Jsonb(dict(words))}
    if db.execute(SQL["add_report"], written).rowcount == 1:
        return
    with db.cursor(row_factory=class_row(KeptReport)) as cursor:
        kept = cursor.execute(SQL["report"], {"id": id}).fetchone()
    if kept is None or (kept.trainee, kept.month, kept.words) != (trainee, month, dict(words)):
        raise Conflict("This id already stands for another report.")


def newest_report(db: Connection, trainee: UUID, *, month: date) -> KeptReport | None:
    """The newest report of a trainee of a month."""
    values: dict[str, Any] = {"trainee": trainee, "month": month}
    with db.cursor(row_factory=class_row(KeptReport)) as cursor:
        return cursor.execute(SQL["newest_report"], values).fetchone()


def reports_of(db: Connection, *, month: date) -> list[KeptReport]:
    """The newest report of a month of everybody who has one, by name."""
    with db.cursor(row_factory=class_row(KeptReport)) as cursor:
        return cursor.execute(SQL["reports_of"], {"month": month}).fetchall()
