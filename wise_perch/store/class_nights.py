"""Class nights: rooms, evenings as they were laid out, and what happened in them, each with how it stood
then.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from wise_perch.core.class_night.evening import Evening
from wise_perch.core.class_night.events import NightEvent
from wise_perch.core.class_night.rooms import TrainingRoom
from wise_perch.core.floor.walk import FloorSheet
from wise_perch.core.trainee.hall import Member
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.floor import SHEET
from wise_perch.store.queries import queries

SQL = queries("class_nights")
EVENING, EVENT = TypeAdapter(Evening), TypeAdapter(NightEvent)
NO_ROOM, NO_CLASS = "There is no such room.", "There is no such class night."


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptClass:
    """A class night as it stands. `displayed`: whether a display has an address of it."""

    id: UUID
    day: date
    evening: Evening
    displayed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptNightEvent:
    """What happened in a class night, and what changed by it, in words."""

    id: UUID
    at: datetime
    what: NightEvent
    changed: tuple[str, ...]
    struck_at: datetime | None


def rooms(db: Connection) -> tuple[TrainingRoom, ...]:
    """Give every room, by name."""
    with db.cursor(row_factory=class_row(TrainingRoom)) as cursor:
        return tuple(cursor.execute(SQL["rooms"]))


def _room_values(room: TrainingRoom) -> dict[str, Any]:
    return {
        "id": room.id,
        "name": room.name,
        "stations": Jsonb(dict(room.stations)),
        "heights": Jsonb(dict(room.heights)),
        "day_out": room.day_out,
    }


def _room(db: Connection, id: UUID) -> TrainingRoom:
    for room in rooms(db):
        if room.id == id:
            return room
    raise NotFound(NO_ROOM)


def add_room(db: Connection, room: TrainingRoom) -> TrainingRoom:
    """Add a room; sending the same again changes nothing. Raises Conflict if the id stands for another."""
    db.execute(SQL["add_room"], _room_values(room))
    kept = _room(db, room.id)
    if kept != room:
        raise Conflict("This id already stands for another room.")
    return kept


def change_room(db: Connection, room: TrainingRoom) -> TrainingRoom:
    """Change a room. Raises NotFound."""
    if db.execute(SQL["change_room"], _room_values(room)).rowcount == 0:
        raise NotFound(NO_ROOM)
    return _room(db, room.id)


def strike_room(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Strike a room out; evenings that were held in it stay. Raises NotFound."""
    if db.execute(SQL["strike_room"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound(NO_ROOM)


def restore_room(db: Connection, *, id: UUID) -> TrainingRoom:
    """Bring a room back that was struck out. Raises NotFound."""
    if db.execute(SQL["restore_room"], {"id": id}).rowcount == 0:
        raise NotFound(NO_ROOM)
    return _room(db, id)


def _dump(evening: Evening) -> Jsonb:
    return Jsonb(EVENING.dump_python(evening, mode="json"))


def _class_of(row: dict[str, Any]) -> KeptClass:
    return KeptClass(**{**row, "evening": EVENING.validate_python(row["evening"], strict=False)})


def add(db: Connection, *, id: UUID, evening: Evening) -> bool:
    """Keep a class night that is to be laid out; False where it is there already."""
    values = {"id": id, "day": evening.day, "evening": _dump(evening)}
    return db.execute(SQL["add"], values).rowcount == 1


def one(db: Connection, id: UUID, *, to_change: bool = False) -> KeptClass:
    """Give one class night as it stands; `to_change` holds it until the transaction ends. Raises NotFound."""
    if to_change and db.execute(SQL["hold"], {"id": id}).fetchone() is None:
        raise NotFound(NO_CLASS)
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["one"], {"id": id}).fetchone()
    if row is None:
        raise NotFound(NO_CLASS)
    return _class_of(row)


def every(db: Connection, *, last: date, most: int) -> tuple[KeptClass, ...]:
    """Give the class nights up to a day, the newest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        return tuple(_class_of(row) for row in cursor.execute(SQL["every"], {"last": last, "most": most}))


def lay_out(
    db: Connection, *, id: UUID, evening: Evening, sheets: Mapping[UUID, FloorSheet], moment: datetime
) -> None:
    """Keep how a class night was laid out; what was set before it is no longer in force. Raises NotFound."""
    db.execute(SQL["strike_events"], {"class": id, "moment": moment})
    written = {str(who): _written(sheet) for who, sheet in sheets.items()}
    values = {"id": id, "evening": _dump(evening), "sheets": Jsonb(written)}
    if db.execute(SQL["lay_out"], values).rowcount == 0:
        raise NotFound(NO_CLASS)


def _written(sheet: FloorSheet) -> Any:
    return SHEET.dump_python(sheet, mode="json", exclude_defaults=True)


def add_sheet(db: Connection, *, id: UUID, trainee: UUID, sheet: FloorSheet) -> None:
    """Keep the sheet of somebody who came on the way."""
    db.execute(SQL["add_sheet"], {"id": id, "sheet": Jsonb({str(trainee): _written(sheet)})})


def sheet_of(db: Connection, trainee: UUID, *, day: date) -> FloorSheet | None:
    """Give somebody's sheet in the class night of that day that is under way, if there is one."""
    row = db.execute(SQL["sheet"], {"trainee": str(trainee), "day": day}).fetchone()
    return SHEET.validate_python(row[0], strict=False) if row and row[0] else None


def strike(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Strike a class night out. Raises NotFound."""
    if db.execute(SQL["strike"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound(NO_CLASS)


def restore(db: Connection, *, id: UUID) -> KeptClass:
    """Bring a class night back that was struck out. Raises NotFound."""
    if db.execute(SQL["restore"], {"id": id}).rowcount == 0:
        raise NotFound(NO_CLASS)
    return one(db, id)


def event_there(db: Connection, id: UUID, *, of: UUID) -> bool:
    """Whether this has been kept already. Raises Conflict where the id stands for something of another class
    night.
    """
    row = db.execute(SQL["event"], {"id": id}).fetchone()
    if row is not None and row[0] != of:
        raise Conflict("This id already stands for something else.")
    return row is not None


def add_event(
    db: Connection,
    *,
    id: UUID,
    of: UUID,
    at: datetime,
    what: NightEvent,
    evening: Evening,
    changed: Sequence[str],
) -> None:
    """Keep what happened, and how the evening stands by it."""
    written = EVENT.dump_python(what, mode="json", exclude_defaults=True)
    db.execute(
        SQL["add_event"],
        {
            "id": id,
            "class": of,
            "at": at,
            "what": Jsonb(written),
            "evening": _dump(evening),
            "changed": Jsonb(list(changed)),
        },
    )


def events(db: Connection, id: UUID, *, most: int) -> tuple[KeptNightEvent, ...]:
    """Give what happened in a class night, the newest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        rows = cursor.execute(SQL["events"], {"class": id, "most": most}).fetchall()
    return tuple(
        KeptNightEvent(
            **{
                **row,
                "what": EVENT.validate_python(row["what"], strict=False),
                "changed": tuple(row["changed"]),
            }
        )
        for row in rows
    )


def strike_event(db: Connection, *, id: UUID, of: UUID, moment: datetime) -> None:
    """Take back what happened last: the evening stands as before it. Raises Conflict where something came
    after it, NotFound.
    """
    if not event_there(db, id, of=of):
        raise NotFound("Nothing like that happened in this class night.")
    standing = [e for e in events(db, of, most=200) if e.struck_at is None]
    found = next((e for e in standing if e.id == id), None)
    if found is None:
        return
    if standing[0].id != id:
        raise Conflict("Something has happened since. Take that back first.")
    db.execute(SQL["strike_event"], {"class": of, "id": id, "moment": moment})


def show(db: Connection, id: UUID, *, token_hash: bytes) -> None:
    """Keep the hash of a display's address; the one before it no longer works. Raises NotFound."""
    if db.execute(SQL["show"], {"id": id, "token_hash": token_hash}).rowcount == 0:
        raise NotFound(NO_CLASS)


def of_token(db: Connection, token_hash: bytes) -> tuple[Member, UUID] | None:
    """Which class night a display's address shows, and by whose eyes; None where it shows nothing."""
    row = db.execute(SQL["of_token"], {"token_hash": token_hash}).fetchone()
    return (Member(hall=row[0], coach=row[1]), row[2]) if row else None
