"""Sessions on the floor: made ready, begun, what happens in them, and how they end."""

import json
from dataclasses import replace
from datetime import UTC, date, datetime
from typing import Annotated, Literal
from uuid import UUID, uuid5

from fastapi import APIRouter, Query
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_arranged, load_case, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Day, Moment, NewId, Note
from wise_perch.api.members import SignedIn
from wise_perch.core.floor.kept_session import FloorSession, KeptEvent
from wise_perch.core.floor.ready import event_problem, make_session_ready, sheet_problem
from wise_perch.core.floor.story import SlotDone, Story, tell_blocks, tell_story
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.walk import FloorEvent, FloorNow, FloorSheet, Pain, walk_session
from wise_perch.core.trade.evidence import LONGEST_HOLD_S, Form, Reason, Side
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import RunEnd, Trainee
from wise_perch.core.week.week_plan import monday_of
from wise_perch.store import class_nights, floor, plans, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["floor"])
SHEET = TypeAdapter(FloorSheet)


@dataclass(frozen=True, kw_only=True)
class FloorPage:
    """A session made ready for a day. `sheet` is None where nothing can be run, and `because` says why.

    `from_plan`: it follows the kept plan. `session`: one that was begun for this day already.
    """

    trainee: Trainee
    on: date
    sheet: FloorSheet | None
    because: str
    from_plan: bool
    session: UUID | None
    aches: tuple[Ache, ...]
    pain_some: str
    pain_much: str


@dataclass(frozen=True, kw_only=True)
class SessionPage:
    """A session as it stands, and its story once it has ended."""

    session: FloorSession
    trainee: Trainee
    now: FloorNow
    blocks: tuple[SlotDone, ...]
    story: Story | None


@dataclass(frozen=True, kw_only=True)
class OnTheFloor:
    """Who could be on the floor: a trainee planned for today, or one whose session is under way."""

    trainee: Trainee
    planned: bool
    session: UUID | None


class NewSession(BaseModel):
    """A session to begin, by the sheet that was made ready."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    started_at: Moment
    source: Literal["live", "after"] = "live"
    sheet: FloorSheet


class PainBody(BaseModel):
    """Pain of a joint."""

    model_config = ConfigDict(extra="forbid")
    joint: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f]+$")]
    level: int = Field(ge=0, le=10)
    sharp: bool = False


class NewEvent(BaseModel):
    """One thing that happened in a session."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    kind: Literal["ready", "set", "choose", "skip", "next", "pain", "why", "cue"]
    slot: int | None = Field(default=None, ge=0, le=200)
    key: Annotated[str, Field(max_length=160, pattern=r"^[^\x00-\x1f]*$")] = ""
    how: Annotated[str, Field(max_length=300, pattern=r"^[^\x00-\x1f]*$")] = ""
    value: float | None = Field(default=None, allow_inf_nan=False)
    asked: float | None = Field(default=None, ge=0, le=LONGEST_HOLD_S, allow_inf_nan=False)
    then_value: float | None = Field(default=None, ge=0, le=LONGEST_HOLD_S, allow_inf_nan=False)
    form: Form | None = None
    side: Side | None = None
    setting: float | None = Field(default=None, allow_inf_nan=False)
    energy: int | None = Field(default=None, ge=1, le=5)
    confidence: int | None = Field(default=None, ge=1, le=5)
    pains: Annotated[list[PainBody], Field(max_length=20)] = []
    reason: Reason | None = None
    room: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=30)] = []
    checks: Annotated[dict[Annotated[str, Field(max_length=60)], bool], Field(max_length=30)] = {}
    warm_up: Annotated[str, Field(max_length=60)] = ""

    def what(self) -> FloorEvent:
        """The event as the core takes it."""
        return FloorEvent(
            **{
                **self.model_dump(exclude={"id", "at", "pains", "room"}),
                "room": tuple(self.room),
                "pains": tuple(Pain(**p.model_dump()) for p in self.pains),
            }
        )


class SessionEnd(BaseModel):
    """How a session ended."""

    model_config = ConfigDict(extra="forbid")
    ended_at: Moment
    ended_as: RunEnd
    note: Note = ""


@router.get("/trainees/{id}/floor")
def floor_page(
    id: UUID, app: TheApp, member: SignedIn, day: Annotated[Day | None, Query()] = None
) -> FloorPage:
    """A session made ready for a day (today without one): its sheet has all that is needed to run it without
    a server.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        on = day or house.today
        who, case = judge_trainee(db, id, house, week=monday_of(on))
        kept = plans.newest(db, id, monday_of(on))
        begun = [
            s for s in floor.of_days(db, id, first=on, last=on) if s.ended_at is None and s.source == "live"
        ]
        made = make_session_ready(case, kept.planned if kept else None, day=on)
        # whoever is in a class of this day runs what the class was laid out by
        if (
            made.sheet
            and (in_class := class_nights.sheet_of(db, id, day=on))
            and not sheet_problem(in_class, case.syllabus)
        ):
            made = replace(made, sheet=in_class)
        rules = case.syllabus.rules
        return FloorPage(
            trainee=who,
            on=on,
            sheet=made.sheet,
            because=made.because,
            from_plan=made.from_plan,
            session=begun[-1].id if begun else None,
            aches=case.aches,
            pain_some=rules.pain_some,
            pain_much=rules.pain_much,
        )


@router.get("/floor")
def on_the_floor(
    app: TheApp, member: SignedIn, day: Annotated[Day | None, Query()] = None
) -> tuple[OnTheFloor, ...]:
    """Who is on the floor or planned for a day (today without one), those under way first."""
    with transaction(app.pool, member=member) as db:
        on = day or load_house(db).today
        going = {s.trainee: s.id for s in reversed(floor.open_sessions(db))}
        planned = {p.trainee for p in plans.days_of_week(db, monday_of(on)).values() if on in p.days}
        found = [
            OnTheFloor(trainee=t, planned=t.id in planned, session=going.get(t.id))
            for t in trainees.some(db, planned | set(going))
        ]
    return tuple(sorted(found, key=lambda x: (x.session is None, x.trainee.name.lower())))


def _refuse_unprintable(sheet: FloorSheet) -> None:
    """Refuse figures and letters that no database keeps."""
    try:
        text = json.dumps(SHEET.dump_python(sheet, mode="json"), allow_nan=False)
        text.encode()
    except ValueError:
        raise Refused(422, "The sheet holds figures or letters that cannot be kept.") from None
    if "\\u0000" in text or "\\ud8" in text.lower():
        raise Refused(422, "The sheet holds characters that cannot be printed.")


@router.post("/trainees/{id}/sessions", status_code=201)
def start_session(id: UUID, new: NewSession, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """Begin a session; sending the same again changes nothing."""
    _refuse_unprintable(new.sheet)
    with transaction(app.pool, member=member) as db:
        _, syllabus = load_arranged(db, id, load_house(db))
        if problem := sheet_problem(new.sheet, syllabus):
            raise Refused(422, problem)
        return {
            "id": (
                floor.start(
                    db, id=new.id, trainee=id, started_at=new.started_at, sheet=new.sheet, source=new.source
                ).id
            )
        }


@router.post("/sessions/{id}/events", status_code=201)
def add_session_event(id: UUID, new: NewEvent, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """Keep one thing that happened, and what it comes to as evidence; sending the same again changes
    nothing.
    """
    with transaction(app.pool, member=member) as db:
        session, what = floor.one(db, id, to_change=True), new.what()
        if problem := event_problem(session, what):
            raise Refused(422, problem)
        if floor.add_event(db, id=new.id, session=id, at=new.at, what=what):
            floor.add_aches(
                db,
                [(uuid5(new.id, p.joint), p) for p in what.pains],
                trainee=session.trainee,
                at=new.at,
                event=new.id,
            )
            if what.kind == "cue":
                drill = session.sheet.variants[what.key].drill
                floor.add_cue(db, id=new.id, trainee=session.trainee, at=new.at, drill=drill, cue=what.how)
            kept = KeptEvent(id=new.id, at=new.at, what=what, struck_at=None)
            _put_evidence(
                db,
                replace(session, events=tuple(sorted((*session.events, kept), key=lambda e: (e.at, e.id)))),
                what,
            )
    return {"id": new.id}


def _put_evidence(db: Connection, session: FloorSession, what: FloorEvent) -> None:
    """Write what the block comes to by now."""
    if what.kind not in ("set", "why") or what.slot is None:
        return
    _, syllabus = load_arranged(db, session.trainee, load_house(db))
    made = evidence_of_block(
        session.sheet,
        session.events,
        what.slot,
        session=session.id,
        syllabus=syllabus,
        seen=session.source != "self",
    )
    floor.put_evidence(
        db,
        made.pieces,
        trainee=session.trainee,
        session=session.id,
        source=session.source,
        gone=made.gone,
        moment=datetime.now(UTC),
    )


@router.post("/sessions/{id}/events/{event}/strike")
def strike_session_event(id: UUID, event: UUID, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """Take back what happened; the evidence of its block follows."""
    with transaction(app.pool, member=member) as db:
        session = floor.one(db, id, to_change=True)
        floor.strike_event(db, id=event, session=id, moment=datetime.now(UTC))
        what = next((e.what for e in session.events if e.id == event), None)
        if what:
            _put_evidence(db, floor.one(db, id), what)
    return {"id": event}


@router.post("/sessions/{id}/end")
def end_session(id: UUID, how: SessionEnd, app: TheApp, member: SignedIn) -> SessionPage:
    """End a session; ending it the same way again changes nothing."""
    with transaction(app.pool, member=member) as db:
        return _session_page(
            db, floor.end(db, id=id, ended_at=how.ended_at, ended_as=how.ended_as, note=how.note)
        )


@router.get("/sessions/{id}")
def session_page(id: UUID, app: TheApp, member: SignedIn) -> SessionPage:
    """A session as it stands, or its story."""
    with transaction(app.pool, member=member) as db:
        return _session_page(db, floor.one(db, id))


def _session_page(db: Connection, session: FloorSession) -> SessionPage:
    house = load_house(db)
    loaded = load_case(db, session.trainee, house, on=session.day)
    story = None
    if session.ended_at:
        story = tell_story(
            session, loaded.case, floor.sets_of_session(db, session.id, time_zone=house.hall.time_zone)
        )
    return SessionPage(
        session=session,
        trainee=loaded.trainee,
        now=walk_session(session.sheet, session.standing_events),
        blocks=tell_blocks(session.sheet, session.standing_events),
        story=story,
    )
