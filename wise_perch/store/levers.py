"""Dial settings chosen for a trainee, and the hand-load of what was done."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb

from wise_perch.core.body.loads import HandLoad
from wise_perch.store.errors import Conflict
from wise_perch.store.queries import queries

SQL = queries("levers")


@dataclass(frozen=True, slots=True, kw_only=True)
class ChosenSetting:
    """The settings a coach last chose for a drill, by knob."""

    drill: str
    settings: dict[str, float]
    at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """One piece of work as the hand-load needs it. `dial` by name; `level` the setting of a test's ladder."""

    id: UUID
    drill: str
    test: str
    measure: str
    value: float
    window_s: float | None
    level: float | None
    dial: dict[str, float]


def keep_setting(db: Connection, *, id: UUID, trainee: UUID, drill: str, settings: Mapping[str, float], at: datetime) -> None:
    """Keep the settings chosen for a drill; sending the same again changes nothing. Raises Conflict for another one of this id."""
    kept = dict(settings)
    if db.execute(SQL["keep_setting"], {"id": id, "trainee": trainee, "drill": drill, "settings": Jsonb(kept), "at": at}).rowcount == 1:
        return
    row = db.execute(SQL["setting"], {"id": id}).fetchone()
    if row != (trainee, drill, kept):
        raise Conflict("This id already stands for another setting.")


def settings(db: Connection, trainee: UUID) -> dict[str, ChosenSetting]:
    """Give the newest settings chosen for each drill of a trainee."""
    with db.cursor(row_factory=class_row(ChosenSetting)) as cursor:
        return {row.drill: row for row in cursor.execute(SQL["settings"], {"trainee": trainee})}


def unloaded(db: Connection, trainee: UUID, *, made_from: str, run: UUID | None = None, piece: UUID | None = None) -> list[Work]:
    """Give the work of a trainee, or of one run or piece, whose hand-load was not worked out from `made_from`."""
    with db.cursor(row_factory=class_row(Work)) as cursor:
        return cursor.execute(SQL["unloaded"], {"trainee": trainee, "made_from": made_from, "run": run, "piece": piece}).fetchall()


def keep_loads(db: Connection, trainee: UUID, found: Iterable[tuple[UUID, HandLoad | None]], *, made_from: str) -> None:
    """Keep hand-loads; None says that nothing is known of that piece from these measures."""
    pieces = list(found)
    if pieces:
        values = {
            "ids": [id for id, _ in pieces],
            "shares": [None if load is None else float(load.share) for _, load in pieces],
            "seconds": [None if load is None else float(load.seconds) for _, load in pieces],
            "becauses": [load.because if load else "" for _, load in pieces],
        }
        db.execute(SQL["keep_loads"], {**values, "trainee": trainee, "made_from": made_from})


def loads(db: Connection, ids: Sequence[UUID]) -> dict[UUID, HandLoad]:
    """Give the hand-load of these pieces of work, where it is known."""
    with db.cursor(row_factory=dict_row) as cursor:
        rows = cursor.execute(SQL["loads"], {"ids": list(ids)})
        return {row["id"]: HandLoad(share=row["share"], seconds=row["seconds"], because=row["because"]) for row in rows}
