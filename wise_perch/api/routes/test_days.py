"""Test days: several tests, several trainees, one bench."""

from datetime import UTC, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, load_arranged, load_house
from wise_perch.api.fields import Moment, NewId
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.bench.ready import find_test
from wise_perch.core.bench.runs import title_of
from wise_perch.core.bench.test_day import DayMinutes, in_order, minutes_of_days, over_two_days
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.stored import KeptTestDay, Run, RunEnd, Trainee, Turn
from wise_perch.store import evidence, test_days, trainees
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/test-days", tags=["bench"])
SHOWN = 10


class Choice(BaseModel):
    """One test for one trainee. `subject`: the drill, where the test is run for one (the first there is
    without).
    """

    model_config = ConfigDict(extra="forbid")
    trainee: UUID
    test: Annotated[str, Field(max_length=60)]
    subject: Annotated[str, Field(max_length=120)] = ""


class Choices(BaseModel):
    """What is to be tested; `split` over two days."""

    model_config = ConfigDict(extra="forbid")
    turns: Annotated[list[Choice], Field(min_length=1, max_length=200)]
    split: bool = False


class NewTestDay(Choices):
    """A test day to keep, with the id that makes sending again harmless."""

    id: NewId
    at: Moment


@dataclass(frozen=True, kw_only=True)
class TurnSaid:
    """One turn with its names. `run`: the run that was begun for it, if any, and how it ended. `held`: why it
    has to wait.
    """

    trainee: UUID
    name: str
    test: str
    subject: str
    title: str
    day: int
    run: UUID | None
    ended_as: RunEnd | None
    tries: int


@dataclass(frozen=True, kw_only=True)
class TestDayPage:
    """A test day: its turns in their order, and the minutes of each day. `id` is None for one that is only
    looked at.
    """

    id: UUID | None
    at: datetime | None
    turns: tuple[TurnSaid, ...]
    minutes: tuple[DayMinutes, ...]
    trainees: tuple[Trainee, ...]


def _order_turns(db: Connection, wanted: Choices, house: House) -> tuple[Turn, ...]:
    tests = house.syllabus.tests
    turns = []
    for choice in wanted.turns:
        _, syllabus = load_arranged(db, choice.trainee, house)
        test, drill = find_test(syllabus, choice.test, choice.subject)
        turns.append(Turn(trainee=choice.trainee, test=test.test, subject=drill.drill if drill else ""))
    return over_two_days(turns, tests) if wanted.split else in_order(turns, tests)


def _test_day_page(
    db: Connection, house: House, plan: tuple[Turn, ...], *, kept: KeptTestDay | None
) -> TestDayPage:
    syllabus = house.syllabus
    everybody = {t.id: t for t in trainees.every(db)}
    runs = evidence.runs_of_day(db, kept.id) if kept else []
    there = tuple(t for t in plan if t.trainee in everybody and t.test in syllabus.tests)
    return TestDayPage(
        id=kept.id if kept else None,
        at=kept.at if kept else None,
        turns=tuple(_say_turn(t, everybody[t.trainee].name, syllabus, runs) for t in there),
        minutes=minutes_of_days(there, syllabus.tests, warm_up_min=syllabus.intake.warm_up_minutes.value),
        trainees=tuple(everybody[id] for id in dict.fromkeys(t.trainee for t in there)),
    )


def _say_turn(turn: Turn, name: str, syllabus: Syllabus, runs: list[Run]) -> TurnSaid:
    mine = [r for r in runs if (r.trainee, r.test, r.subject) == (turn.trainee, turn.test, turn.subject)]
    run = mine[-1] if mine else None
    return TurnSaid(
        trainee=turn.trainee,
        name=name,
        test=turn.test,
        subject=turn.subject,
        title=title_of(syllabus.tests[turn.test], syllabus.drills.get(turn.subject)),
        day=turn.day,
        run=run.id if run else None,
        ended_as=run.ended_as if run else None,
        tries=len(run.standing_tries) if run else 0,
    )


@router.post("/look")
def look_at_test_day(wanted: Choices, app: TheApp, member: SignedIn) -> TestDayPage:
    """Put tests in order and say the minutes, without keeping anything."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        return _test_day_page(db, house, _order_turns(db, wanted, house), kept=None)


@router.post("", status_code=201)
def add_test_day(new: NewTestDay, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Keep a test day; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        return {"id": test_days.add(db, id=new.id, at=new.at, plan=_order_turns(db, new, house)).id}


@router.get("")
def list_test_days(app: TheApp, member: SignedIn) -> tuple[TestDayPage, ...]:
    """The newest test days."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        return tuple(
            _test_day_page(db, house, kept.plan, kept=kept) for kept in test_days.every(db, most=SHOWN)
        )


@router.get("/{id}")
def test_day_page(id: UUID, app: TheApp, member: SignedIn) -> TestDayPage:
    """One test day with what was done of it."""
    with transaction(app.pool, member=member) as db:
        house, kept = load_house(db), test_days.one(db, id)
        return _test_day_page(db, house, kept.plan, kept=kept)


@router.post("/{id}/strike")
def strike_test_day(id: UUID, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Strike a test day out; the runs made in it stay."""
    with transaction(app.pool, member=member) as db:
        test_days.strike(db, id=id, moment=datetime.now(UTC))
    return {"id": id}
