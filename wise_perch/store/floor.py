"""Sessions on the floor: their sheets, what happened in them, the evidence that comes of it, and what
hurts.
"""

from collections.abc import Iterable, Sequence
from datetime import date, datetime
from typing import Any
from uuid import UUID, uuid5

from psycopg import Connection
from psycopg.rows import dict_row
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from wise_perch.core.floor.kept_session import FloorSession, KeptEvent, SessionPiece
from wise_perch.core.floor.walk import FloorEvent, FloorSheet, Pain
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trainee.stored import RunEnd, Source
from wise_perch.store.cases import evidence_of_row
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.evidence import evidence_columns, evidence_row
from wise_perch.store.queries import queries

SQL = queries("floor")
SHEET, EVENT = TypeAdapter(FloorSheet), TypeAdapter(FloorEvent)


KEPT_EVENT = TypeAdapter(KeptEvent)


def _start_values(
    *, id: UUID, trainee: UUID, started_at: datetime, sheet: FloorSheet, source: Source
) -> dict[str, Any]:
    written = SHEET.dump_python(sheet, mode="json", exclude_defaults=True)
    return {
        "id": id,
        "trainee": trainee,
        "day": sheet.day,
        "started_at": started_at,
        "source": source,
        "sheet": Jsonb(written),
    }


def _event_values(*, id: UUID, session: UUID, at: datetime, what: FloorEvent) -> dict[str, Any]:
    written = EVENT.dump_python(what, mode="json", exclude_defaults=True)
    return {"id": id, "session": session, "at": at, "what": Jsonb(written)}


def _session_of(row: dict[str, Any]) -> FloorSession:
    events = tuple(KEPT_EVENT.validate_python(e, strict=False) for e in row["events"])
    return FloorSession(
        **{**row, "sheet": SHEET.validate_python(row["sheet"], strict=False), "events": events}
    )


def start(
    db: Connection, *, id: UUID, trainee: UUID, started_at: datetime, sheet: FloorSheet, source: Source
) -> FloorSession:
    """Start a session; sending the same again changes nothing. Raises Conflict if the id stands for
    another.
    """
    values = _start_values(id=id, trainee=trainee, started_at=started_at, sheet=sheet, source=source)
    db.execute(SQL["start"], values)
    kept = one(db, id)
    if (kept.trainee, kept.started_at) != (trainee, started_at):
        raise Conflict("This id already stands for another session.")
    return kept


def one(db: Connection, id: UUID, *, to_change: bool = False) -> FloorSession:
    """Give one session with all that happened. Raises NotFound.

    With `to_change` nobody else changes it until this transaction ends: what a block comes to is worked out
    from all of its events, and two devices may send some at the same moment.
    """
    if to_change:
        db.execute(SQL["hold_session"], {"id": id})
    with db.cursor(row_factory=dict_row) as cursor:
        rows = cursor.execute(SQL["one"], {"id": id}).fetchall()
    if not rows:
        raise NotFound("There is no such session.")
    return _session_of(rows[0])


def open_sessions(db: Connection) -> list[FloorSession]:
    """Give every session that was begun and not ended, the newest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        return [_session_of(row) for row in cursor.execute(SQL["open_sessions"])]


def of_days(db: Connection, trainee: UUID, *, first: date, last: date) -> list[FloorSession]:
    """Give the sessions of a trainee from one day to another, both included."""
    with db.cursor(row_factory=dict_row) as cursor:
        return [
            _session_of(row)
            for row in cursor.execute(SQL["of_days"], {"trainee": trainee, "first": first, "last": last})
        ]


def end(db: Connection, *, id: UUID, ended_at: datetime, ended_as: RunEnd, note: str) -> FloorSession:
    """End a session; ending it the same way again changes nothing. Raises Conflict if it ended another
    way.
    """
    db.execute(SQL["end_session"], {"id": id, "ended_at": ended_at, "ended_as": ended_as, "note": note})
    kept = one(db, id)
    if (kept.ended_at, kept.ended_as) != (ended_at, ended_as):
        raise Conflict("This session has ended already.")
    return kept


def keep_whole(db: Connection, session: FloorSession, pieces: Sequence[SessionPiece]) -> None:
    """Keep a session that is over with all that happened in it and what it came to, every id of it new.
    Raises ValueError for one that has not ended.
    """
    if session.ended_at is None:
        raise ValueError("only a session that is over is kept whole")
    values = _start_values(
        id=session.id,
        trainee=session.trainee,
        started_at=session.started_at,
        sheet=session.sheet,
        source=session.source,
    )
    db.execute(SQL["start"], values)
    with db.cursor() as cursor:
        cursor.executemany(
            SQL["add_event"],
            [_event_values(id=e.id, session=session.id, at=e.at, what=e.what) for e in session.events],
        )
    for event in session.events:
        told = [(uuid5(event.id, p.joint), p) for p in event.what.pains]
        add_aches(db, told, trainee=session.trainee, at=event.at, event=event.id)
    put_evidence(
        db,
        pieces,
        trainee=session.trainee,
        session=session.id,
        source=session.source,
        moment=session.ended_at,
    )
    ending = {"ended_at": session.ended_at, "ended_as": session.ended_as, "note": session.note}
    db.execute(SQL["end_session"], {"id": session.id, **ending})


def add_event(db: Connection, *, id: UUID, session: UUID, at: datetime, what: FloorEvent) -> bool:
    """Keep one thing that happened, and say whether it is new. Raises Conflict if the id stands for something
    else.
    """
    if db.execute(SQL["add_event"], _event_values(id=id, session=session, at=at, what=what)).rowcount == 1:
        return True
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["event"], {"id": id}).fetchone()
    if row is None or row["session"] != session or EVENT.validate_python(row["what"], strict=False) != what:
        raise Conflict("This id already stands for something else that happened.")
    return False


def strike_event(db: Connection, *, id: UUID, session: UUID, moment: datetime) -> None:
    """Take back what happened, with the pain or the cue it told of. Raises NotFound."""
    if db.execute(SQL["strike_event"], {"id": id, "session": session, "moment": moment}).rowcount == 0:
        raise NotFound("There is nothing of this id in the session.")
    strike_told(db, event=id, moment=moment)


def strike_told(db: Connection, *, event: UUID, moment: datetime) -> None:
    """Take back the pain and the cues that an event told of."""
    db.execute(SQL["strike_told"], {"event": event, "moment": moment})


def add_aches(
    db: Connection, told: Iterable[tuple[UUID, Pain]], *, trainee: UUID, at: datetime, event: UUID | None
) -> None:
    """Keep pain told of joints, each under its own id."""
    for id, pain in told:
        values = {
            "id": id,
            "trainee": trainee,
            "at": at,
            "joint": pain.joint,
            "level": pain.level,
            "sharp": pain.sharp,
            "event": event,
        }
        db.execute(SQL["add_ache"], values)


def add_cue(db: Connection, *, id: UUID, trainee: UUID, at: datetime, drill: str, cue: str) -> None:
    """Keep a cue that worked; the same id again changes nothing."""
    db.execute(SQL["add_cue"], {"id": id, "trainee": trainee, "at": at, "drill": drill, "cue": cue})


def put_evidence(
    db: Connection,
    pieces: Sequence[SessionPiece],
    *,
    trainee: UUID,
    session: UUID,
    source: Source,
    gone: Sequence[UUID] = (),
    moment: datetime,
) -> None:
    """Write what blocks of a session come to by now, all in one statement: what they came to before is
    replaced, and `gone`, of which nothing is left, is struck out at `moment`. What a coach struck out by hand
    stays so. Raises Conflict where an id stands for a piece that is none of this session.
    """
    if pieces or gone:
        rows = [evidence_row(p, trainee=trainee, source=source) for p in pieces]
        values = {**evidence_columns(rows), "session": session, "gone": list(gone), "moment": moment}
        if db.execute(SQL["put_evidence"], values).rowcount < len(pieces):
            raise Conflict("This id already stands for another piece of evidence.")


def sets_of_session(db: Connection, session: UUID, *, time_zone: str) -> list[Evidence]:
    """Give what a session came to as sets."""
    return [
        evidence_of_row(*columns)
        for columns in db.execute(SQL["sets_of_session"], {"session": session, "time_zone": time_zone})
    ]
