"""Planned weeks: looked at, kept version by version, copied to others, and taken along as files."""

import json
from collections.abc import Mapping
from datetime import UTC, date, datetime, timedelta
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Response
from psycopg import Connection
from pydantic import AfterValidator, BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, Name, NewId, Note
from wise_perch.api.knowing import House, house_of, today_of
from wise_perch.api.planning import Planned, asked_for, fingerprint, solved, still_ahead, usual_wish, what_changed, with_past
from wise_perch.core.floor.kept_session import FloorSession
from wise_perch.core.floor.story import SlotDone, tell_blocks
from wise_perch.core.trainee.stored import RunEnd, Trainee
from wise_perch.core.week.kept_plan import KeptPlan, PlanVersion
from wise_perch.core.week.question import Ache
from wise_perch.core.week.week_plan import DayWish, Drop, Pin, Refusal, UnmetWish, WeekPlan, Wish, monday_of
from wise_perch.formats.plan_files import calendar, write_plan
from wise_perch.store import floor, plans, trainees
from wise_perch.store.plans import PLAN
from wise_perch.store.pool import transaction

router = APIRouter(tags=["plans"])
EARLIEST_WEEK, LATEST_WEEK = date(2000, 1, 3), date(2100, 1, 4)
DrillName = Annotated[str, Field(max_length=80, pattern="^[a-z0-9-]*$")]
Kit = Annotated[str, Field(max_length=40, pattern="^[a-z-]+$")]


def _in_reach(day: date) -> date:
    if not EARLIEST_WEEK <= day <= LATEST_WEEK:
        raise ValueError("lies outside the years that are planned here")
    return day


Day = Annotated[date, AfterValidator(_in_reach)]


class DayBody(BaseModel):
    """One day as wished for."""

    model_config = ConfigDict(extra="forbid")
    day: Day
    place: Name
    minutes: int = Field(ge=5, le=240)
    time: Annotated[str, Field(pattern=r"^(([01][0-9]|2[0-3]):[0-5][0-9])?$")] = ""


class PinBody(BaseModel):
    """A drill put on a day by hand."""

    model_config = ConfigDict(extra="forbid")
    day: Day
    drill: DrillName
    sets: int | None = Field(default=None, ge=1, le=30)


class DropBody(BaseModel):
    """A drill taken off a day, or off the week."""

    model_config = ConfigDict(extra="forbid")
    drill: DrillName
    day: Day | None = None


class WishBody(BaseModel):
    """A week as wished for. `against`: the version that changes are told from."""

    model_config = ConfigDict(extra="forbid")
    week: Day
    days: Annotated[list[DayBody], Field(max_length=7)]
    kit: Annotated[dict[Name, Annotated[list[Kit], Field(max_length=40)]], Field(max_length=12)]
    pins: Annotated[list[PinBody], Field(max_length=60)] = []
    drops: Annotated[list[DropBody], Field(max_length=60)] = []
    against: UUID | None = None

    def wish(self) -> Wish:
        """The wish as the core takes it, its days in their order."""
        return Wish(
            week=self.week,
            days=tuple(DayWish(**d.model_dump()) for d in sorted(self.days, key=lambda d: d.day)),
            kit={place: tuple(items) for place, items in self.kit.items()},
            pins=tuple(Pin(**p.model_dump()) for p in self.pins),
            drops=tuple(Drop(**d.model_dump()) for d in self.drops),
        )


class NewPlan(WishBody):
    """A plan to keep. `fingerprint`: that of the plan that was looked at; if the present one differs nothing is kept."""

    id: NewId
    at: Moment
    note: Note = ""
    fingerprint: Annotated[str, Field(max_length=32)] = ""


@dataclass(frozen=True, kw_only=True)
class DrillNamed:
    """A drill that may be put into the week."""

    drill: str
    title: str


@dataclass(frozen=True, kw_only=True)
class SessionDone:
    """A session of this week as it was done."""

    id: UUID
    day: date
    started_at: datetime
    ended_as: RunEnd | None
    source: str
    blocks: tuple[SlotDone, ...]


@dataclass(frozen=True, kw_only=True)
class PlanPage:
    """A trainee's week. `planned` is None where what was set by hand can not all be had; `refused` then says why.

    `kept`: the version it stands for, or None for one that is only looked at. `changed`: what is otherwise than in that version.
    """

    trainee: Trainee
    on: date
    week: date
    wish: Wish
    planned: WeekPlan | None
    refused: tuple[UnmetWish, ...]
    fingerprint: str
    kept: UUID | None
    kept_at: datetime | None
    versions: tuple[PlanVersion, ...]
    changed: tuple[str, ...]
    kit_words: dict[str, str]
    to_pin: tuple[DrillNamed, ...]
    titles: dict[str, str]
    aches: tuple[Ache, ...]
    cleared: bool
    usual_minutes: int
    pain_rule: str
    sessions: tuple[SessionDone, ...]


def _done(session: FloorSession) -> SessionDone:
    return SessionDone(
        id=session.id,
        day=session.day,
        started_at=session.started_at,
        ended_as=session.ended_as,
        source=session.source,
        blocks=tell_blocks(session.sheet, session.standing_events),
    )


def _page(
    db: Connection,
    who: Trainee,
    planned: Planned,
    wish: Wish,
    found: WeekPlan | Refusal,
    *,
    kept: KeptPlan | None,
    looked: bool,
    before: WeekPlan | None = None,
) -> PlanPage:
    syllabus, every = planned.known.syllabus, planned.known.standing.every()
    week = found if isinstance(found, WeekPlan) else None
    return PlanPage(
        trainee=who,
        on=planned.asked.who.on,
        week=wish.week,
        wish=wish,
        planned=week,
        refused=found.questions if isinstance(found, Refusal) else (),
        fingerprint=fingerprint(week) if week else "",
        kept=None if looked or kept is None else kept.id,
        kept_at=None if looked or kept is None else kept.at,
        versions=tuple(plans.versions(db, who.id, wish.week)),
        changed=what_changed(before, week) if week else (),
        kit_words=dict(syllabus.content.kit),
        to_pin=tuple(DrillNamed(drill=d.drill, title=d.title) for d in every.values() if d.open and not d.easy),
        titles={name: d.title for name, d in syllabus.drills.items()},
        aches=planned.aches,
        cleared=not planned.known.uncleared,
        usual_minutes=int(syllabus.sessions.usual_minutes.value),
        pain_rule=f"At {syllabus.rules.pain_stops_at.value:g} or more, or sharp: {syllabus.sessions.words.much}",
        sessions=tuple(_done(s) for s in floor.of_days(db, who.id, first=wish.week, last=wish.week + timedelta(days=6))),
    )


@router.get("/trainees/{id}/plan")
def page(id: UUID, app: TheApp, coach: SignedIn, week: Annotated[Day | None, Query()] = None) -> PlanPage:
    """A trainee's week as it was kept; where it was not planned yet, as it would be. Without `week` the present one."""
    with transaction(app.pool, coach=coach) as db:
        house, who = house_of(db), trainees.one(db, id)
        begun = monday_of(week or today_of(house.coach))
        planned, kept = asked_for(db, id, house, week=begun), plans.newest(db, id, begun)
        if kept:
            return _page(db, who, planned, kept.wish, kept.planned, kept=kept, looked=False)
        wish = usual_wish(db, id, planned, week=begun)
        ahead = still_ahead(wish, on=today_of(house.coach))
        return _page(db, who, planned, ahead, solved(planned, ahead), kept=None, looked=True)


@router.post("/trainees/{id}/plan/look")
def look(id: UUID, wished: WishBody, app: TheApp, coach: SignedIn) -> PlanPage:
    """Plan a week around what is wished for and pinned, and say what changes; nothing is kept."""
    with transaction(app.pool, coach=coach) as db:
        return _looked(db, id, wished, house_of(db))


def _looked(db: Connection, id: UUID, wished: WishBody, house: House) -> PlanPage:
    who, wish, on = trainees.one(db, id), wished.wish(), today_of(house.coach)
    planned = asked_for(db, id, house, week=wish.week)
    kept = plans.one(db, wished.against) if wished.against else plans.newest(db, id, monday_of(wish.week))
    if kept and (kept.trainee, kept.week) != (id, wish.week):
        raise Refused(422, "That version is of another week or trainee.")
    found = solved(planned, still_ahead(wish, on=on))
    if isinstance(found, WeekPlan):
        found = with_past(found, kept, on=on)
    before = kept.planned if kept else solved(planned, still_ahead(usual_wish(db, id, planned, week=wish.week), on=on))
    return _page(db, who, planned, wish, found, kept=kept, looked=True, before=before if isinstance(before, WeekPlan) else None)


@router.post("/trainees/{id}/plans", status_code=201)
def keep(id: UUID, new: NewPlan, app: TheApp, coach: SignedIn) -> PlanPage:
    """Keep a week's plan as its newest version; sending the same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        house = house_of(db)
        looked = _looked(db, id, new, house)
        known = next((v for v in looked.versions if v.id == new.id), None)
        if looked.planned is None and known is None:
            raise Refused(409, " ".join(q.text for q in looked.refused))
        if known is None and new.fingerprint and looked.fingerprint != new.fingerprint:
            raise Refused(409, "What this is planned from has changed since you looked. Look again; what you set by hand stands.")
        if known is None and looked.planned:
            plans.keep(db, id=new.id, trainee=id, at=new.at, wish=new.wish(), planned=looked.planned, note=new.note)
        return _kept_page(db, plans.one(db, new.id), house)


def _kept_page(db: Connection, kept: KeptPlan, house: House) -> PlanPage:
    planned = asked_for(db, kept.trainee, house, week=kept.week)
    return _page(db, trainees.one(db, kept.trainee), planned, kept.wish, kept.planned, kept=kept, looked=False)


@router.get("/plans/{id}")
def version(id: UUID, app: TheApp, coach: SignedIn) -> PlanPage:
    """One version of a week's plan."""
    with transaction(app.pool, coach=coach) as db:
        return _kept_page(db, plans.one(db, id), house_of(db))


@router.get("/plans/{id}/plan.json", response_class=Response, responses={200: {"content": {"application/json": {}}}})
def as_json(id: UUID, app: TheApp, coach: SignedIn) -> Response:
    """One version as JSON, as docs/formats.md says."""
    with transaction(app.pool, coach=coach) as db:
        kept, who = plans.one(db, id), trainees.one(db, plans.one(db, id).trainee)
    body = {"trainee": who.name, **PLAN.dump_python(kept.planned, mode="json")}
    return _file(json.dumps(body, ensure_ascii=False, indent=1).encode(), "application/json", f"plan-{kept.week}.json")


@router.get("/plans/{id}/plan.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def as_csv(id: UUID, app: TheApp, coach: SignedIn) -> Response:
    """One version as CSV, a line for each block."""
    with transaction(app.pool, coach=coach) as db:
        kept = plans.one(db, id)
    return _file(b"\xef\xbb\xbf" + write_plan(kept.planned).encode(), "text/csv; charset=utf-8", f"plan-{kept.week}.csv")


@router.get("/plans/{id}/plan.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}})
def as_calendar(id: UUID, app: TheApp, coach: SignedIn) -> Response:
    """One version as a calendar file."""
    with transaction(app.pool, coach=coach) as db:
        kept, house = plans.one(db, id), house_of(db)
        who = trainees.one(db, kept.trainee)
    made = calendar(who.name, [(str(kept.id), kept.planned)], time_zone=house.coach.time_zone, stamp=datetime.now(UTC))
    return _file(made, "text/calendar; charset=utf-8", f"plan-{kept.week}.ics")


def _file(content: bytes, kind: str, name: str) -> Response:
    return Response(content, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@dataclass(frozen=True, kw_only=True)
class WeekOfTrainee:
    """One trainee's week in a glance. `kept`: the newest version, or None where nothing is planned yet."""

    trainee: Trainee
    kept: UUID | None
    days: tuple[date, ...]


@router.get("/plan-week")
def everybody(app: TheApp, coach: SignedIn, week: Annotated[Day | None, Query()] = None) -> tuple[WeekOfTrainee, ...]:
    """Everybody's week in a glance: who is planned for which days."""
    with transaction(app.pool, coach=coach) as db:
        begun = monday_of(week or today_of(house_of(db).coach))
        kept: Mapping[UUID, KeptPlan] = {p.trainee: p for p in plans.of_week(db, begun)}
        return tuple(
            WeekOfTrainee(
                trainee=t,
                kept=kept[t.id].id if t.id in kept else None,
                days=tuple(d.day for d in kept[t.id].planned.days) if t.id in kept else (),
            )
            for t in trainees.every(db)
        )
