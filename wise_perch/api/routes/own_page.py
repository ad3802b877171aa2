"""A trainee's own page by its secret address: what is planned, and what is sent back."""

from datetime import date, timedelta
from typing import Annotated
from uuid import uuid5

from fastapi import APIRouter
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId
from wise_perch.api.long_view import make_report
from wise_perch.api.routes.sharing import Token, find_sharing
from wise_perch.core.floor.kept_session import FloorSession, KeptEvent, doses_that_stood
from wise_perch.core.floor.ready import event_problem
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.told import told_set, worked_dose
from wise_perch.core.progress.report import Section
from wise_perch.core.trade.evidence import LONGEST_HOLD_S, Measure
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.habits import HabitSaid, first_day, say_habits
from wise_perch.core.trainee.stored import Sharing
from wise_perch.core.week.week_plan import Block, DayPlan, monday_of
from wise_perch.core.week.wishes import set_day_of, with_present_settings
from wise_perch.store import floor, habits, plans, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["sharing"])


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
    with transaction(app.pool, member=link.member) as db:
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
    with transaction(app.pool, member=link.member) as db:
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
    with transaction(app.pool, member=link.member) as db:
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
    trainees.hold(db, link.trainee)
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
