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

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId, Note
from wise_perch.api.knowing import House, house_of, syllabus_of, today_of
from wise_perch.api.levering import refresh_loads
from wise_perch.api.planning import Planned, Story, asked_for, solved, story_of
from wise_perch.api.routes.plans import Day
from wise_perch.core.floor.kept_session import FloorSession, KeptEvent
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.story import SlotDone, tell_blocks
from wise_perch.core.floor.to_evidence import pieces_of_slot
from wise_perch.core.floor.walk import FloorEvent, FloorNow, FloorSheet, Pain, walk_session
from wise_perch.core.trade.evidence import LONGEST_HOLD_S, Form, Side
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.stored import RunEnd, Trainee
from wise_perch.core.week.gather import HALL, usual_kit
from wise_perch.core.week.question import Ache
from wise_perch.core.week.week_plan import DayPlan, DayWish, Refusal, Wish, monday_of
from wise_perch.store import arrangements, floor, plans, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["floor"])
SHEET = TypeAdapter(FloorSheet)
MOST_SETS = 60
"""No block of a session has more sets."""


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
    kind: Literal["ready", "set", "choose", "skip", "next", "pain"]
    slot: int | None = Field(default=None, ge=0, le=200)
    key: Annotated[str, Field(max_length=160, pattern=r"^[^\x00-\x1f]*$")] = ""
    how: Annotated[str, Field(max_length=300, pattern=r"^[^\x00-\x1f]*$")] = ""
    value: float | None = Field(default=None, ge=-100, le=LONGEST_HOLD_S, allow_inf_nan=False)
    then_value: float | None = Field(default=None, ge=0, le=LONGEST_HOLD_S, allow_inf_nan=False)
    form: Form | None = None
    side: Side | None = None
    setting: float | None = Field(default=None, ge=-1000, le=1000, allow_inf_nan=False)
    energy: int | None = Field(default=None, ge=1, le=5)
    confidence: int | None = Field(default=None, ge=1, le=5)
    pains: Annotated[list[PainBody], Field(max_length=20)] = []

    def what(self) -> FloorEvent:
        """The event as the core takes it."""
        return FloorEvent(**{**self.model_dump(exclude={"id", "at", "pains"}), "pains": tuple(Pain(**p.model_dump()) for p in self.pains)})


class SessionEnd(BaseModel):
    """How a session ended."""

    model_config = ConfigDict(extra="forbid")
    ended_at: Moment
    ended_as: RunEnd
    note: Note = ""


def ready_sheet(db: Connection, id: UUID, planned: Planned, *, day: date) -> tuple[FloorSheet | None, str, bool]:
    """The sheet of a day: by the kept plan where there is one, else planned for that day alone; or why there is none."""
    kept = plans.newest(db, id, monday_of(day))
    plan = next((d for d in kept.planned.days if d.day == day and d.blocks), None) if kept else None
    if plan is None:
        found = _planned_alone(planned, day)
        if isinstance(found, str):
            return None, found, False
        return lay_out_session(found, planned.asked, planned.known.wall), "", False
    closed = _closed_by_now(plan, planned)
    if closed:
        return None, f"{closed} Plan the week anew.", True
    return lay_out_session(plan, planned.asked, planned.known.wall), "", True


def _planned_alone(planned: Planned, day: date) -> DayPlan | str:
    syllabus = planned.known.syllabus
    wish = Wish(
        week=monday_of(day),
        days=(DayWish(day=day, place=HALL, minutes=int(syllabus.sessions.usual_minutes.value)),),
        kit=usual_kit(planned.known.frame.profile, syllabus),
    )
    found = solved(planned, wish)
    if isinstance(found, Refusal):
        return " ".join(q.text for q in found.questions)
    return found.days[0] if found.days[0].blocks else found.days[0].why_empty


def _closed_by_now(day: DayPlan, planned: Planned) -> str:
    """What stands in a kept plan but is closed by now, as after an exit has gone stale or a caution was answered with yes."""
    every = planned.known.standing.every()
    for block in day.blocks:
        stands = every.get(block.drill)
        if block.drill and (stands is None or not stands.open):
            reason = "; ".join(w.sentence for w in stands.waits) if stands else "it is no longer in the syllabus"
            return f"{block.title} is in the plan of this day and is closed now: {reason}."
    return ""


@router.get("/trainees/{id}/floor")
def ready(id: UUID, app: TheApp, coach: SignedIn, day: Annotated[Day | None, Query()] = None) -> FloorPage:
    """A session made ready for a day (today without one): its sheet has all that is needed to run it without a server."""
    with transaction(app.pool, coach=coach) as db:
        house, who = house_of(db), trainees.one(db, id)
        on = day or today_of(house.coach)
        planned = asked_for(db, id, house, week=monday_of(on))
        sheet, because, from_plan = ready_sheet(db, id, planned, day=on)
        begun = [s for s in floor.of_days(db, id, first=on, last=on) if s.ended_at is None and s.source == "live"]
    rules = planned.known.syllabus.rules
    return FloorPage(
        trainee=who,
        on=on,
        sheet=sheet,
        because=because,
        from_plan=from_plan,
        session=begun[-1].id if begun else None,
        aches=planned.aches,
        pain_some=rules.pain_some,
        pain_much=rules.pain_much,
    )


@router.get("/floor")
def on_the_floor(app: TheApp, coach: SignedIn) -> tuple[OnTheFloor, ...]:
    """Who is on the floor or planned for today, those under way first."""
    with transaction(app.pool, coach=coach) as db:
        on = today_of(house_of(db).coach)
        going = {s.trainee: s.id for s in reversed(floor.open_sessions(db))}
        planned = {p.trainee for p in plans.of_week(db, monday_of(on)) if any(d.day == on for d in p.planned.days)}
        found = [OnTheFloor(trainee=t, planned=t.id in planned, session=going.get(t.id)) for t in trainees.every(db)]
    return tuple(sorted((x for x in found if x.planned or x.session), key=lambda x: (x.session is None, x.trainee.name.lower())))


def _printable(sheet: FloorSheet) -> None:
    """Refuse figures and letters that no database keeps."""
    try:
        text = json.dumps(SHEET.dump_python(sheet, mode="json"), allow_nan=False)
        text.encode()
    except ValueError:
        raise Refused(422, "The sheet holds figures or letters that can not be kept.") from None
    if "\\u0000" in text or "\\ud8" in text.lower():
        raise Refused(422, "The sheet holds characters that can not be printed.")


def checked_sheet(sheet: FloorSheet, syllabus: Syllabus) -> FloorSheet:
    """A sheet that can be walked and kept. Raises Refused (422) for one that names what is not there."""
    _printable(sheet)
    for key, variant in sheet.variants.items():
        if variant.key != key or (variant.drill and variant.drill not in syllabus.drills):
            raise Refused(422, f"The sheet names {variant.drill[:80] or key[:80]}, which is not in the syllabus.")
        dosed = variant.dosed
        if dosed and not (1 <= dosed.least <= MOST_SETS and 1 <= dosed.sets <= MOST_SETS):
            raise Refused(422, f"{key[:80]} has an impossible number of sets.")
        if dosed and dosed.dialled and not 0 <= dosed.dialled.at < len(dosed.dialled.steps):
            raise Refused(422, f"{key[:80]} has a dial that stands nowhere.")
    named = {n for s in sheet.slots for n in (s.planned, s.back, s.ahead, *s.swaps) if n} | {
        n for v in sheet.variants.values() for n in (v.lighter, v.shy) if n
    }
    if strange := named - set(sheet.variants):
        raise Refused(422, f"The sheet names {sorted(strange)[0][:80]}, which it does not have.")
    if any(not s.planned for s in sheet.slots):
        raise Refused(422, "A block of the sheet has nothing planned.")
    return sheet


@router.post("/trainees/{id}/sessions", status_code=201)
def start(id: UUID, new: NewSession, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Begin a session; sending the same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        house = house_of(db)
        trainees.one(db, id)
        sheet = checked_sheet(new.sheet, syllabus_of(db, id, house))
        return {"id": floor.start(db, id=new.id, trainee=id, started_at=new.started_at, sheet=sheet, source=new.source).id}


@router.post("/sessions/{id}/events", status_code=201)
def happened(id: UUID, new: NewEvent, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Keep one thing that happened, and what it comes to as evidence; sending the same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        house, session, what = house_of(db), floor.one(db, id), new.what()
        _check_event(session, what)
        if floor.add_event(db, id=new.id, session=id, at=new.at, what=what):
            aches = [(uuid5(new.id, p.joint), p) for p in what.pains]
            floor.add_aches(db, aches, trainee=session.trainee, at=new.at, event=new.id)
            kept = KeptEvent(id=new.id, at=new.at, what=what, struck_at=None)
            _put(db, replace(session, events=tuple(sorted((*session.events, kept), key=lambda e: (e.at, e.id)))), what, house)
    return {"id": new.id}


def _check_event(session: FloorSession, what: FloorEvent) -> None:
    if what.kind in ("set", "choose", "skip", "next") and (what.slot is None or what.slot >= len(session.sheet.slots)):
        raise Refused(422, "Which block of the session is this about?")
    if what.kind in ("set", "choose") and what.key not in session.sheet.variants:
        raise Refused(422, "The sheet of this session has no such drill.")
    variant = session.sheet.variants.get(what.key)
    if what.kind == "set" and (variant is None or variant.dosed is None):
        raise Refused(422, "This block has no sets; it is done or left out.")
    if what.kind == "pain" and not what.pains:
        raise Refused(422, "Which joint hurts?")


def _put(db: Connection, session: FloorSession, what: FloorEvent, house: House) -> None:
    """Write what the block comes to by now."""
    if what.kind != "set" or what.slot is None:
        return
    syllabus = syllabus_of(db, session.trainee, house)
    found, gone = pieces_of_slot(session.sheet, session.events, what.slot, session=session.id, syllabus=syllabus)
    if gone:
        floor.strike_evidence(db, gone, session=session.id, moment=datetime.now(UTC))
    floor.put_evidence(db, found, trainee=session.trainee, session=session.id, source=session.source)
    profile = arrangements.of(db, [session.trainee], time_zone=house.coach.time_zone)[session.trainee].profile
    for piece in found:
        refresh_loads(db, session.trainee, syllabus, profile, piece=piece.id)


@router.post("/sessions/{id}/events/{event}/strike")
def take_back(id: UUID, event: UUID, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Take back what happened; the evidence of its block follows."""
    with transaction(app.pool, coach=coach) as db:
        house, session = house_of(db), floor.one(db, id)
        floor.strike_event(db, id=event, session=id, moment=datetime.now(UTC))
        what = next((e.what for e in session.events if e.id == event), None)
        if what:
            _put(db, floor.one(db, id), what, house)
    return {"id": event}


@router.post("/sessions/{id}/end")
def end(id: UUID, how: SessionEnd, app: TheApp, coach: SignedIn) -> SessionPage:
    """End a session; ending it the same way again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        house = house_of(db)
        return _page(db, floor.end(db, id=id, ended_at=how.ended_at, ended_as=how.ended_as, note=how.note), house)


@router.get("/sessions/{id}")
def session_page(id: UUID, app: TheApp, coach: SignedIn) -> SessionPage:
    """A session as it stands, or its story."""
    with transaction(app.pool, coach=coach) as db:
        return _page(db, floor.one(db, id), house_of(db))


def _page(db: Connection, session: FloorSession, house: House) -> SessionPage:
    return SessionPage(
        session=session,
        trainee=trainees.one(db, session.trainee),
        now=walk_session(session.sheet, session.standing_events),
        blocks=tell_blocks(session.sheet, session.standing_events),
        story=story_of(db, session, house) if session.ended_at else None,
    )
