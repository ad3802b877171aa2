"""Planned weeks: looked at, kept version by version, copied to others, and taken along as files."""

import dataclasses
import hashlib
from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, judge_trainee, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Day, Moment, Name, NewId, Note
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.floor.kept_session import FloorSession, doses_that_stood
from wise_perch.core.floor.story import SlotDone, tell_blocks
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.standing_still import say_course
from wise_perch.core.trainee.stored import RunEnd, Trainee
from wise_perch.core.week.kept_plan import KeptPlan, PlanVersion
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import ask_for_week
from wise_perch.core.week.week_plan import (
    DayWish,
    Drop,
    Pin,
    Refusal,
    UnmetWish,
    WeekPlan,
    Wish,
    list_differences,
    monday_of,
)
from wise_perch.core.week.wishes import (
    only_ahead,
    usual_wish,
    wish_problem,
    with_past_days,
    with_present_settings,
)
from wise_perch.store import floor, plans, trainees
from wise_perch.store.plans import PLAN
from wise_perch.store.pool import transaction

router = APIRouter(tags=["plans"])
DrillName = Annotated[str, Field(max_length=80, pattern="^[a-z0-9-]*$")]
Kit = Annotated[str, Field(max_length=40, pattern="^[a-z-]+$")]


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
    """A plan to keep. `fingerprint`: that of the plan that was looked at; if the present one differs nothing
    is kept.
    """

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
    """A trainee's week. `planned` is None where what was set by hand cannot all be had; `refused` then says
    why.

    `kept`: the version it stands for, or None for one that is only looked at. `changed`: what is otherwise
    than in that version. `course`: whether to go on as it is, in the words of every other room.
    """

    trainee: Trainee
    on: date
    week: date
    course: tuple[str, ...]
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


def fingerprint(planned: WeekPlan) -> str:
    """A plan's name by its content: the same for the same plan."""
    return hashlib.sha256(PLAN.dump_json(planned)).hexdigest()[:16]


def _session_done(session: FloorSession) -> SessionDone:
    return SessionDone(
        id=session.id,
        day=session.day,
        started_at=session.started_at,
        ended_as=session.ended_as,
        source=session.source,
        blocks=tell_blocks(session.sheet, session.standing_events),
    )


@dataclasses.dataclass(frozen=True, kw_only=True)
class _Looked:
    """One trainee's week as it is asked about: who, how they stand, and the version it is held against."""

    who: Trainee
    case: JudgedCase
    kept: KeptPlan | None


def _load_plan(db: Connection, id: UUID, week: date, house: House, *, against: UUID | None = None) -> _Looked:
    who, case = judge_trainee(db, id, house, week=week)
    kept = plans.one(db, against) if against else plans.newest(db, id, week)
    if kept and (kept.trainee, kept.week) != (id, week):
        raise Refused(422, "That version is of another week or trainee.")
    return _Looked(who=who, case=case, kept=kept)


def _solve_week(case: JudgedCase, wish: Wish) -> WeekPlan | Refusal:
    if problem := wish_problem(wish, case):
        raise Refused(422, problem)
    return plan_week(ask_for_week(case, week=wish.week), wish)


def _make_page(
    db: Connection,
    looked: _Looked,
    wish: Wish,
    found: WeekPlan | Refusal,
    *,
    is_kept: bool,
    before: WeekPlan | None = None,
) -> PlanPage:
    case, kept, who = looked.case, looked.kept if is_kept else None, looked.who
    syllabus, week = case.syllabus, found if isinstance(found, WeekPlan) else None
    sessions = sessions_of_week(db, who.id, wish.week)
    shown = with_present_settings(week, case, stood=doses_that_stood(sessions)) if week and kept else week
    return PlanPage(
        trainee=who,
        on=case.on,
        week=wish.week,
        course=say_course(case),
        wish=wish,
        planned=shown,
        refused=found.questions if isinstance(found, Refusal) else (),
        fingerprint=fingerprint(week) if week else "",
        kept=kept.id if kept else None,
        kept_at=kept.at if kept else None,
        versions=tuple(plans.versions(db, who.id, wish.week)),
        changed=list_differences(before, week) if week and before else (),
        kit_words=dict(syllabus.content.kit),
        to_pin=tuple(
            DrillNamed(drill=d.drill, title=d.title) for d in case.drills.values() if d.open and not d.easy
        ),
        titles={name: d.title for name, d in syllabus.drills.items()},
        aches=case.aches,
        cleared=not case.uncleared,
        usual_minutes=int(syllabus.sessions.usual_minutes.value),
        pain_rule=f"At {syllabus.rules.pain_stops_at.value:g} or more, or sharp: {syllabus.rules.pain_much}",
        sessions=tuple(_session_done(s) for s in sessions),
    )


def sessions_of_week(db: Connection, trainee: UUID, week: date) -> list[FloorSession]:
    """The sessions of a trainee in the week that begins on this Monday."""
    return floor.of_days(db, trainee, first=week, last=week + timedelta(days=6))


@router.get("/trainees/{id}/plan")
def plan_page(
    id: UUID, app: TheApp, member: SignedIn, week: Annotated[Day | None, Query()] = None
) -> PlanPage:
    """A trainee's week as it was kept; where it was not planned yet, as it would be. Without `week` the
    present one.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        begun = monday_of(week or house.today)
        looked = _load_plan(db, id, begun, house)
        if looked.kept:
            return _make_page(db, looked, looked.kept.wish, looked.kept.planned, is_kept=True)
        wish = _usual_wish(db, looked, begun)
        return _make_page(db, looked, wish, _solve_week(looked.case, wish), is_kept=False)


def _usual_wish(db: Connection, looked: _Looked, week: date) -> Wish:
    before = plans.last(db, looked.who.id)
    return only_ahead(
        usual_wish(looked.case, week=week, before=before.wish if before else None), on=looked.case.on
    )


@router.post("/trainees/{id}/plan/look")
def look_at_plan(id: UUID, wished: WishBody, app: TheApp, member: SignedIn) -> PlanPage:
    """Plan a week around what is wished for and pinned, and say what changes; nothing is kept."""
    with transaction(app.pool, member=member) as db:
        wish = wished.wish()
        looked = _load_plan(db, id, wish.week, load_house(db), against=wished.against)
        before = (
            looked.kept.planned
            if looked.kept
            else _solve_week(looked.case, _usual_wish(db, looked, wish.week))
        )
        return _make_page(
            db,
            looked,
            wish,
            _plan_ahead(looked, wish),
            is_kept=False,
            before=before if isinstance(before, WeekPlan) else None,
        )


def _plan_ahead(looked: _Looked, wish: Wish) -> WeekPlan | Refusal:
    """Plan the days to come; those that are over stay as the kept version has them."""
    found = _solve_week(looked.case, only_ahead(wish, on=looked.case.on))
    if isinstance(found, Refusal):
        return found
    return with_past_days(found, looked.kept.planned if looked.kept else None, on=looked.case.on)


@router.post("/trainees/{id}/plans", status_code=201)
def keep_plan(id: UUID, new: NewPlan, app: TheApp, member: Coaching) -> PlanPage:
    """Keep a week's plan as its newest version; sending the same again changes nothing."""
    wish = new.wish()
    with transaction(app.pool, member=member) as db:
        looked = _load_plan(db, id, wish.week, load_house(db), against=new.against)
        if not plans.is_kept(db, new.id):
            found = _plan_ahead(looked, wish)
            if isinstance(found, Refusal):
                raise Refused(409, " ".join(q.text for q in found.questions))
            if new.fingerprint and fingerprint(found) != new.fingerprint:
                raise Refused(
                    409,
                    "What this is planned from has changed since you looked. Look again; what you set by hand"
                    " stands.",
                )
            kept = plans.keep(db, id=new.id, trainee=id, at=new.at, wish=wish, planned=found, note=new.note)
        else:
            kept = plans.one(db, new.id)
        return _make_page(db, replace(looked, kept=kept), kept.wish, kept.planned, is_kept=True)


def plan_for(
    db: Connection, trainee: UUID, house: House, *, week: date, model: Wish | None, id: UUID, at: datetime
) -> None:
    """Plan and keep one trainee's week as `id`, on the days and at the places of `model` or as it usually is;
    kept before it stays as it is, and without a model so does whatever the coach has kept meanwhile. Raises
    Refused, with why it cannot be planned.
    """
    if plans.is_kept(db, id):
        return
    looked = _load_plan(db, trainee, week, house)
    if model is None and looked.kept:
        return
    wish = replace(model, week=week, pins=(), drops=()) if model else _usual_wish(db, looked, week)
    found = _plan_ahead(looked, wish)
    if isinstance(found, Refusal):
        raise Refused(409, " ".join(q.text for q in found.questions))
    plans.keep(db, id=id, trainee=trainee, at=at, wish=wish, planned=found, note="")


@router.get("/plans/{id}")
def plan_version(id: UUID, app: TheApp, member: SignedIn) -> PlanPage:
    """One version of a week's plan."""
    with transaction(app.pool, member=member) as db:
        kept = plans.one(db, id)
        who, case = judge_trainee(db, kept.trainee, load_house(db))
        return _make_page(db, _Looked(who=who, case=case, kept=kept), kept.wish, kept.planned, is_kept=True)


@dataclass(frozen=True, kw_only=True)
class WeekOfTrainee:
    """One trainee's week in a glance. `kept`: the newest version, or None where nothing is planned yet."""

    trainee: Trainee
    kept: UUID | None
    days: tuple[date, ...]


@router.get("/plan-week")
def week_of_everybody(
    app: TheApp, member: SignedIn, week: Annotated[Day | None, Query()] = None
) -> tuple[WeekOfTrainee, ...]:
    """Everybody's week in a glance: who is planned for which days."""
    with transaction(app.pool, member=member) as db:
        begun = monday_of(week or load_house(db).today)
        kept = plans.days_of_week(db, begun)
        return tuple(
            WeekOfTrainee(
                trainee=t,
                kept=kept[t.id].id if t.id in kept else None,
                days=tuple(kept[t.id].days) if t.id in kept else (),
            )
            for t in trainees.every(db)
        )
