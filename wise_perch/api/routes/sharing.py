"""Secret addresses: a calendar to subscribe to, and a trainee's own page, which sends back what was done."""

import secrets
from datetime import UTC, date, datetime, timedelta
from typing import Annotated, Literal
from uuid import UUID, uuid5

from fastapi import APIRouter, Path, Response
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import App, SignedIn, TheApp, token_hash
from wise_perch.api.cases import judge_trainee, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId
from wise_perch.api.long_view import make_report
from wise_perch.core.floor.kept_session import FloorSession, KeptEvent, doses_that_stood
from wise_perch.core.floor.ready import event_problem
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.told import told_set, worked_dose
from wise_perch.core.progress.report import Section
from wise_perch.core.trade.evidence import LONGEST_HOLD_S, Measure
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.habits import HabitSaid, first_day, say_habits
from wise_perch.core.trainee.stored import ShareLink, Sharing
from wise_perch.core.week.week_plan import Block, DayPlan, monday_of
from wise_perch.core.week.wishes import set_day_of, with_present_settings
from wise_perch.formats.plan_files import CalendarWeek, calendar
from wise_perch.store import floor, habits, plans, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["sharing"])
Token = Annotated[str, Path(min_length=20, max_length=80, pattern="^[A-Za-z0-9_-]+$")]
WEEKS_BACK = 2
NO_LINK = "This address does not work, or no longer. Ask your coach for a new one."


class NewLink(BaseModel):
    """A secret address to make."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    kind: Literal["calendar", "page"]


@dataclass(frozen=True, kw_only=True)
class MadeLink:
    """A secret address just made: its path is shown once and not kept."""

    id: UUID
    kind: str
    path: str


@router.get("/trainees/{id}/links")
def list_links(id: UUID, app: TheApp, coach: SignedIn) -> tuple[ShareLink, ...]:
    """The secret addresses of a trainee that still work."""
    with transaction(app.pool, coach=coach) as db:
        trainees.one(db, id)
        return tuple(plans.links(db, id))


@router.post("/trainees/{id}/links", status_code=201)
def make_link(id: UUID, new: NewLink, app: TheApp, coach: SignedIn) -> MadeLink:
    """Make a secret address. It is shown once; take it back and make another if it is lost."""
    token = secrets.token_urlsafe(32)
    with transaction(app.pool, coach=coach) as db:
        trainees.one(db, id)
        if any(link.id == new.id for link in plans.links(db, id)):
            raise Refused(
                409, "This address was made already, and is shown only once. Take it back and make another."
            )
        plans.add_link(db, id=new.id, trainee=id, kind=new.kind, token_hash=token_hash(token))
    path = f"/api/feeds/{token}.ics" if new.kind == "calendar" else f"/shared/{token}"
    return MadeLink(id=new.id, kind=new.kind, path=path)


@router.post("/links/{id}/revoke")
def revoke_link(id: UUID, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Take a secret address back; it stops working at once."""
    with transaction(app.pool, coach=coach) as db:
        plans.revoke(db, id=id, moment=datetime.now(UTC))
    return {"id": id}


def find_sharing(app: App, token: str, kind: str) -> Sharing:
    """What an address opens. Raises Refused (404) for one that opens nothing of this kind."""
    with transaction(app.pool) as db:
        found = plans.of_token(db, token_hash(token))
    if found is None or found.kind != kind:
        raise Refused(404, NO_LINK)
    return found


@router.get(
    "/feeds/{token}.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}}
)
def calendar_feed(token: Token, app: TheApp) -> Response:
    """A trainee's sessions as a calendar to subscribe to."""
    link = find_sharing(app, token, "calendar")
    with transaction(app.pool, coach=link.coach) as db:
        house = load_house(db)
        who, case = judge_trainee(db, link.trainee, house)
        first = monday_of(house.today) - timedelta(weeks=WEEKS_BACK)
        stood = doses_that_stood(floor.of_days(db, who.id, first=first, last=case.on))
        times = plans.how_many(db, link.trainee, first)
        weeks = [
            CalendarWeek(
                planned=with_present_settings(p.planned, case, stood=stood),
                changes=times[p.week] - 1,
                at=p.at,
            )
            for p in plans.from_week(db, link.trainee, first)
        ]
    made = calendar(who.id, who.name, weeks, time_zone=house.coach.time_zone)
    # a calendar keeps what it fetched and asks whether it is still true
    headers = {"Cache-Control": "private, no-cache"}
    return Response(made, media_type="text/calendar; charset=utf-8", headers=headers)


@dataclass(frozen=True, kw_only=True)
class SharedBlock:
    """One block as the trainee sees it. `drill` is empty where it has none; `sets`: how many; `unit`: what a
    number is asked in, empty where none is.
    """

    number: int
    drill: str
    title: str
    amount: str
    setting: str
    about: str
    cues: tuple[str, ...]
    cautions: tuple[str, ...]
    minutes: float
    sets: int
    each: float
    unit: str


@dataclass(frozen=True, kw_only=True)
class SharedDay:
    """One session as the trainee sees it. `sent`: what was told back already, by block."""

    day: date
    place: str
    time: str
    minutes: float
    blocks: tuple[SharedBlock, ...]
    done: bool
    sent: dict[int, tuple[float, ...]]


@dataclass(frozen=True, kw_only=True)
class SharedPage:
    """A trainee's own page: the sessions of this week and the next, the habits of the day, and their road, in
    the words of the report.
    """

    name: str
    on: date
    days: tuple[SharedDay, ...]
    habits: tuple[HabitSaid, ...]
    road: tuple[Section, ...]


OF_THE_ROAD = ("goal", "new", "moves", "ahead")
"""The sections of a report that stand on the own page."""
UNITS = {
    Measure.HOLD: "s",
    Measure.LOWERING: "s",
    Measure.REPS: "reps",
    Measure.TOUCHES: "touches",
    Measure.RATE: "good",
}


@router.get("/shared/{token}")
def own_page(token: Token, app: TheApp) -> SharedPage:
    """A trainee's own page, for whoever has its address."""
    link = find_sharing(app, token, "page")
    with transaction(app.pool, coach=link.coach) as db:
        house = load_house(db)
        who, case = judge_trainee(db, link.trainee, house)
        on = case.on
        report = make_report(db, link.trainee, house, month=on.replace(day=1))
        told = floor.of_days(db, link.trainee, first=on - timedelta(days=1), last=on + timedelta(days=21))
        stood = doses_that_stood(told)
        weeks = [
            with_present_settings(p.planned, case, stood=stood)
            for p in plans.from_week(db, link.trainee, monday_of(on))
        ]
        days = [d for week in weeks for d in week.days if d.blocks and d.day >= on - timedelta(days=1)]
        done = habits.since(db, who.id, first=first_day(on))
    return SharedPage(
        name=who.name,
        on=on,
        days=tuple(_shared_day(d, told) for d in days),
        habits=say_habits(case.syllabus.sessions.habits, done, on=on),
        road=tuple(s for s in report.sections if s.section in OF_THE_ROAD),
    )


def _shared_day(day: DayPlan, told: list[FloorSession]) -> SharedDay:
    mine = [s for s in told if s.day == day.day]
    sent = {
        n: _values_sent(s, n)
        for s in mine
        if s.source == "self"
        for n in range(len(s.sheet.slots))
        if _values_sent(s, n)
    }
    blocks = tuple(_shared_block(n, b) for n, b in enumerate(day.blocks))
    return SharedDay(
        day=day.day,
        place=day.place,
        time=day.time,
        minutes=-(-day.length_s // 60),
        blocks=blocks,
        done=bool(mine),
        sent=sent,
    )


def _values_sent(session: FloorSession, slot: int) -> tuple[float, ...]:
    return tuple(
        e.value for e in session.standing_events if e.kind == "set" and e.slot == slot and e.value is not None
    )


def _shared_block(number: int, block: Block) -> SharedBlock:
    dose, prepares = block.dose, block.kind == "prepare"
    return SharedBlock(
        number=number,
        drill=block.drill,
        title=block.title,
        # preparation is told by its minutes, since its one counted hold is the least of it
        amount=dose.amount if dose and not prepares else "",
        setting=dose.place if dose else "",
        about=f"{block.about} {dose.amount}." if dose and prepares else block.about,
        cues=block.cues,
        cautions=block.cautions,
        minutes=-(-block.length_s // 60),
        sets=dose.sets if dose and block.kind == "work" else 0,
        each=dose.each if dose else 0.0,
        unit=UNITS.get(dose.measure, "") if dose and block.kind == "work" and dose.way != "stretch" else "",
    )


class ToldHabit(BaseModel):
    """The minutes of a habit on a day, as the trainee tells them: 0 takes them back."""

    model_config = ConfigDict(extra="forbid")
    at: Moment
    day: date
    habit: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f]+$")]
    minutes: float = Field(ge=0, le=240, allow_inf_nan=False)


@router.post("/shared/{token}/habits", status_code=201)
def tell_habit(token: Token, told: ToldHabit, app: TheApp) -> SharedPage:
    """Keep the minutes of a habit on one of the last seven days; the same again changes nothing."""
    link = find_sharing(app, token, "page")
    with transaction(app.pool, coach=link.coach) as db:
        house = load_house(db)
        if not first_day(house.today) <= told.day <= house.today:
            raise Refused(422, "A habit is told for one of the last seven days.")
        _, syllabus = load_arranged(db, link.trainee, house)
        if told.habit not in {h.habit for h in syllabus.sessions.habits}:
            raise Refused(422, f"There is no habit named {told.habit}.")
        habits.put(db, trainee=link.trainee, day=told.day, habit=told.habit, minutes=told.minutes, at=told.at)
    return own_page(token, app)


class ToldBlock(BaseModel):
    """What a trainee did of one block: a number for each set, in the block's unit."""

    model_config = ConfigDict(extra="forbid")
    number: int = Field(ge=0, le=200)
    values: Annotated[
        list[Annotated[float, Field(ge=0, le=LONGEST_HOLD_S, allow_inf_nan=False)]], Field(max_length=60)
    ] = []


class ToldDay(BaseModel):
    """A session as the trainee tells it."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    day: date
    blocks: Annotated[list[ToldBlock], Field(max_length=60)]


@router.post("/shared/{token}/done", status_code=201)
def tell_day(token: Token, told: ToldDay, app: TheApp) -> SharedPage:
    """Take what a trainee did; it is marked as self-reported, counts as work and meets no gate. The same
    again changes nothing.
    """
    link = find_sharing(app, token, "page")
    with transaction(app.pool, coach=link.coach) as db:
        _keep_told(db, link, told)
    return own_page(token, app)


def _keep_told(db: Connection, link: Sharing, told: ToldDay) -> None:
    house = load_house(db)
    kept = plans.newest(db, link.trainee, monday_of(told.day))
    plan = next((d for d in kept.planned.days if d.day == told.day and d.blocks), None) if kept else None
    if plan is None:
        raise Refused(422, "Nothing is planned on that day.")
    _, case = judge_trainee(db, link.trainee, house)
    plan = set_day_of(plan, case)
    sheet = lay_out_session(plan, case)
    # a day is told once, even where two send it at the same moment
    floor.hold_days_of(db, link.trainee)
    if any(
        s.source == "self" and s.id != told.id
        for s in floor.of_days(db, link.trainee, first=told.day, last=told.day)
    ):
        raise Refused(409, "This day was told already.")
    session = floor.start(
        db, id=told.id, trainee=link.trainee, started_at=told.at, sheet=sheet, source="self"
    )
    if session.ended_at:
        return
    _write_told(db, told, session, plan, case.syllabus)
    floor.end(db, id=told.id, ended_at=told.at, ended_as="finished", note="self-reported")


def _write_told(
    db: Connection, told: ToldDay, session: FloorSession, plan: DayPlan, syllabus: Syllabus
) -> None:
    """Write each set as an event, and what they come to: nobody saw the form, so it counts as work and meets
    no gate.
    """
    for block in told.blocks:
        if block.number >= len(plan.blocks):
            raise Refused(422, "That session has no such block.")
        planned = plan.blocks[block.number]
        dose, events = worked_dose(planned), []
        if dose is None:
            continue
        for n, value in enumerate(block.values):
            what = told_set(planned, dose, slot=block.number, number=n, value=value)
            if problem := event_problem(session, what):
                raise Refused(422, f"{planned.title}: {problem}")
            # a moment apart, so that they stay in their order
            event = KeptEvent(
                id=uuid5(told.id, f"{block.number} {n}"),
                at=told.at + timedelta(milliseconds=n),
                what=what,
                struck_at=None,
            )
            floor.add_event(db, id=event.id, session=told.id, at=event.at, what=what)
            events.append(event)
        made = evidence_of_block(
            session.sheet, events, block.number, session=told.id, syllabus=syllabus, seen=False
        )
        floor.put_evidence(
            db, made.pieces, trainee=session.trainee, session=told.id, source="self", moment=told.at
        )
