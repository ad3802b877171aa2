"""Class nights: laid out, followed as they run, looked back at, and taken along."""

from datetime import UTC, date, datetime, timedelta
from typing import Annotated
from uuid import UUID, uuid5

from fastapi import APIRouter
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_house
from wise_perch.api.class_work import STEPS_OF_ROTATION, bring
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Day, Moment, Name, NewId
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.queue import Queue
from wise_perch.api.routes.jobs import JobPage, page_of
from wise_perch.core.class_night.after import EveningAfter, hands_of, look_back
from wise_perch.core.class_night.evening import Evening, NightPerson, minute_of
from wise_perch.core.class_night.events import EventKind, NightEvent, NotPossible, follow, join_in
from wise_perch.core.class_night.follows import tell_changes
from wise_perch.core.class_night.told import EveningTold, tell_evening
from wise_perch.core.floor.story import tell_blocks
from wise_perch.core.floor.walk import Pain
from wise_perch.core.trainee.hall import Member
from wise_perch.store import class_nights, floor, jobs, trainees
from wise_perch.store.class_nights import KeptClass
from wise_perch.store.pool import transaction
from wise_perch.syllabus.files import our_class_rules

router = APIRouter(tags=["class night"])
Minute = Annotated[float, Field(ge=0, le=480, allow_inf_nan=False)]
MOST_PEOPLE, LISTED, SHOWN_EVENTS, WEEKS_BACK = 40, 60, 30, 8
JOB_OF = UUID("7a0c37cc-5a1f-5c3b-9f2e-0d3c1f9f6b11")


class ComesBody(BaseModel):
    """Who comes, from when to when, in min of the evening."""

    model_config = ConfigDict(extra="forbid")
    trainee: UUID
    from_min: Minute = 0
    to_min: Minute | None = None


class NewClass(BaseModel):
    """A class night to lay out."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    day: Day
    time: Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
    minutes: int = Field(ge=10, le=480)
    room: UUID
    coaches: Annotated[list[Name], Field(min_length=1, max_length=10)]
    people: Annotated[list[ComesBody], Field(min_length=1, max_length=MOST_PEOPLE)]


class NewNightEvent(BaseModel):
    """One thing that happened in a class night."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    kind: EventKind
    trainee: UUID | None = None
    block: Annotated[int, Field(ge=0, le=200)] | None = None
    minutes: Minute | None = None
    station: Annotated[str, Field(max_length=40, pattern=r"^[^\x00-\x1f]*$")] = ""
    number: Annotated[int, Field(ge=1, le=200)] | None = None
    other: UUID | None = None
    other_block: Annotated[int, Field(ge=0, le=200)] | None = None
    joint: Annotated[str, Field(max_length=60, pattern=r"^[^\x00-\x1f]*$")] = ""
    level: int = Field(default=0, ge=0, le=10)
    sharp: bool = False
    coaches: Annotated[list[Name], Field(max_length=10)] = []

    def what(self) -> NightEvent:
        """The event as the core takes it."""
        said = self.model_dump(exclude={"id", "at", "coaches"})
        return NightEvent(**said, coaches=tuple(self.coaches))


@dataclass(frozen=True, kw_only=True)
class NightHappened:
    """What happened, and what of the evening changed by it, in words."""

    id: UUID
    at: datetime
    what: NightEvent
    changed: tuple[str, ...]
    struck: bool


@dataclass(frozen=True, kw_only=True)
class ClassPage:
    """A class night as it stands. The clock runs from `begun_at`, stands still from `held_since` on and
    stood still for `held_s` before. `laid_out`: whether its rotation is there; `job`: the work that makes
    it. `longer_min` and `over_min`: what a tap adds.
    """

    id: UUID
    day: date
    time: str
    minutes: float
    room: str
    stations: dict[str, int]
    coaches: tuple[str, ...]
    begun_at: datetime | None
    held_since: datetime | None
    held_s: float
    closed_at: datetime | None
    laid_out: bool
    displayed: bool
    told: EveningTold
    events: tuple[NightHappened, ...]
    job: JobPage | None
    joints: tuple[str, ...]
    stops_at: float
    longer_min: float
    over_min: float


@dataclass(frozen=True, kw_only=True)
class ClassListed:
    """A class night in a list."""

    id: UUID
    day: date
    time: str
    minutes: float
    room: str
    people: int
    state: str


def _job_of(id: UUID) -> UUID:
    return uuid5(JOB_OF, str(id))


def _page(db: Connection, kept: KeptClass) -> ClassPage:
    evening, rules = kept.evening, our_class_rules()
    found = jobs.newest_of_class(db, kept.id)
    judged = load_house(db).syllabus.rules
    return ClassPage(
        id=kept.id,
        day=kept.day,
        time=evening.time,
        minutes=evening.minutes,
        room=evening.room,
        stations=dict(evening.stations),
        coaches=evening.coaches,
        begun_at=evening.begun_at,
        held_since=evening.held_since,
        held_s=evening.held_s,
        closed_at=evening.closed_at,
        laid_out=evening.price is not None,
        displayed=kept.displayed,
        told=tell_evening(evening, rules),
        events=tuple(
            NightHappened(id=e.id, at=e.at, what=e.what, changed=e.changed, struck=e.struck_at is not None)
            for e in class_nights.events(db, kept.id, most=SHOWN_EVENTS)
        ),
        job=page_of(found) if found else None,
        joints=judged.joints,
        stops_at=judged.pain_stops_at.value,
        longer_min=rules.longer_min.value,
        over_min=rules.over_min.value,
    )


@router.get("/classes")
def list_classes(app: TheApp, member: SignedIn) -> tuple[ClassListed, ...]:
    """The class nights that are kept, the newest day first."""
    with transaction(app.pool, member=member) as db:
        last = load_house(db).today + timedelta(days=400)
        return tuple(_listed(kept) for kept in class_nights.every(db, last=last, most=LISTED))


def _listed(kept: KeptClass) -> ClassListed:
    evening = kept.evening
    state = "over" if evening.closed_at else "under way" if evening.begun_at else "to come"
    return ClassListed(
        id=kept.id,
        day=kept.day,
        time=evening.time,
        minutes=evening.minutes,
        room=evening.room,
        people=len(evening.people),
        state=state,
    )


@router.post("/classes", status_code=202)
def add_class(new: NewClass, app: TheApp, member: Coaching) -> ClassPage:
    """Lay a class night out, as work of the server; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        room = next((r for r in class_nights.rooms(db) if r.id == new.room), None)
        if room is None:
            raise Refused(404, class_nights.NO_ROOM)
        who = {t.id: t for t in trainees.some(db, {p.trainee for p in new.people})}
        people = []
        for comes in {p.trainee: p for p in new.people}.values():
            if comes.trainee not in who:
                raise Refused(404, "One of those is no trainee here.")
            if comes.to_min is not None and comes.to_min <= comes.from_min:
                raise Refused(422, f"{who[comes.trainee].name} would leave before coming.")
            people.append(
                NightPerson(
                    trainee=comes.trainee,
                    name=who[comes.trainee].name,
                    from_min=comes.from_min,
                    to_min=comes.to_min,
                    planned=False,
                    blocks=(),
                )
            )
        evening = Evening(
            day=new.day,
            time=new.time,
            minutes=new.minutes,
            room=room.name,
            stations=room.stations,
            heights=room.heights,
            coaches=tuple(new.coaches),
            people=tuple(people),
        )
        if class_nights.add(db, id=new.id, evening=evening):
            _put_to_work(db, app.queue, member, new.id, _job_of(new.id), len(people))
        return _page(db, class_nights.one(db, new.id))


def _put_to_work(db: Connection, queue: Queue, member: Member, id: UUID, job: UUID, people: int) -> None:
    what = {"class": str(id)}
    total = people + STEPS_OF_ROTATION
    if jobs.add(db, id=job, kind="class-night", trainee=None, what=what, at=datetime.now(UTC), total=total):
        queue.defer(db, member, job)


class LayOutAgain(BaseModel):
    """A class night to lay out once more, by everybody's plans as they are now."""

    model_config = ConfigDict(extra="forbid")
    id: NewId


@router.post("/classes/{id}/lay-out", status_code=202)
def lay_out_again(id: UUID, new: LayOutAgain, app: TheApp, member: Coaching) -> ClassPage:
    """Lay a class night out once more that has not begun; what was set by hand is taken off."""
    with transaction(app.pool, member=member) as db:
        kept = class_nights.one(db, id, to_change=True)
        if kept.evening.begun_at is not None:
            raise Refused(409, "The evening has begun. What is to come follows by itself.")
        _put_to_work(db, app.queue, member, id, new.id, len(kept.evening.people))
        return _page(db, kept)


@router.get("/classes/{id}")
def class_page(id: UUID, app: TheApp, member: SignedIn) -> ClassPage:
    """A class night as it stands."""
    with transaction(app.pool, member=member) as db:
        return _page(db, class_nights.one(db, id))


@router.post("/classes/{id}/events", status_code=201)
def add_class_event(id: UUID, new: NewNightEvent, app: TheApp, member: SignedIn) -> ClassPage:
    """Keep what happened, and lay the rest of the evening out anew; the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        kept = class_nights.one(db, id, to_change=True)
        if not class_nights.event_there(db, new.id, of=id):
            what = new.what()
            joints = load_house(db).syllabus.rules.joints
            if what.kind == "pain" and what.joint not in joints:
                raise Refused(422, f"Say where it hurts: {', '.join(joints)}.")
            try:
                evening = (
                    _joined(db, kept, what, new.at)
                    if what.kind == "join"
                    else follow(
                        kept.evening,
                        what,
                        at=new.at,
                        now=datetime.now(UTC),
                        stops_at=load_house(db).syllabus.rules.pain_stops_at.value,
                    )
                )
            except NotPossible as error:
                raise Refused(409, str(error)) from None
            if what.kind == "pain" and what.trainee:
                told = Pain(joint=what.joint, level=what.level, sharp=what.sharp)
                pains = [(uuid5(new.id, what.joint), told)]
                floor.add_aches(db, pains, trainee=what.trainee, at=new.at, event=new.id)
            class_nights.add_event(
                db,
                id=new.id,
                of=id,
                at=new.at,
                what=what,
                evening=evening,
                changed=tell_changes(kept.evening, evening),
            )
        return _page(db, class_nights.one(db, id))


def _joined(db: Connection, kept: KeptClass, what: NightEvent, at: datetime) -> Evening:
    """Somebody comes who was not expected: with their session, from now or so many minutes on."""
    evening = kept.evening
    if what.trainee is None:
        raise NotPossible("Say who comes.")
    if any(p.trainee == what.trainee for p in evening.people):
        raise NotPossible("They are in this class already.")
    since = round(minute_of(evening, at) + (what.minutes or 0.0), 1)
    person = NightPerson(
        trainee=what.trainee,
        name="",
        from_min=min(since, evening.minutes),
        to_min=None,
        planned=False,
        blocks=(),
    )
    brought, sheet = bring(db, person, load_house(db), evening=evening)
    if sheet:
        class_nights.add_sheet(db, id=kept.id, trainee=what.trainee, sheet=sheet)
    return join_in(evening, brought, at=at, now=datetime.now(UTC))


@router.post("/classes/{id}/events/{event}/strike")
def strike_class_event(id: UUID, event: UUID, app: TheApp, member: SignedIn) -> ClassPage:
    """Take back what happened last: the evening stands as before it."""
    with transaction(app.pool, member=member) as db:
        class_nights.one(db, id, to_change=True)
        moment = datetime.now(UTC)
        class_nights.strike_event(db, id=event, of=id, moment=moment)
        floor.strike_told(db, event=event, moment=moment)
        return _page(db, class_nights.one(db, id))


@router.post("/classes/{id}/strike", status_code=204)
def strike_class(id: UUID, app: TheApp, member: Coaching) -> None:
    """Strike a class night out; sessions that were run in it stay."""
    with transaction(app.pool, member=member) as db:
        class_nights.strike(db, id=id, moment=datetime.now(UTC))


@router.post("/classes/{id}/restore")
def restore_class(id: UUID, app: TheApp, member: Coaching) -> ClassPage:
    """Bring a class night back that was struck out."""
    with transaction(app.pool, member=member) as db:
        return _page(db, class_nights.restore(db, id=id))


@router.get("/classes/{id}/after")
def class_after(id: UUID, app: TheApp, member: SignedIn) -> EveningAfter:
    """What a class night came to: done against planned, hands, what next time changes."""
    with transaction(app.pool, member=member) as db:
        kept = class_nights.one(db, id)
        done = {}
        for person in kept.evening.people:
            found = [
                s
                for s in floor.of_days(db, person.trainee, first=kept.day, last=kept.day)
                if s.source == "live"
            ]
            if found:
                done[person.trainee] = tell_blocks(found[-1].sheet, found[-1].standing_events)
        since = kept.day - timedelta(weeks=WEEKS_BACK)
        earlier = [
            (other.day, hands_of(other.evening))
            for other in class_nights.every(db, last=kept.day, most=LISTED)
            if other.id != id and other.day >= since and other.evening.closed_at is not None
        ]
        return look_back(kept.evening, done, earlier, our_class_rules())
