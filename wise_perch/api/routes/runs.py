"""The Bench: a run of a test, its tries one by one, its end and its judgement."""

from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.fields import Moment, Name, NewId, Note
from wise_perch.api.judgement import JudgedRun, ScoredRun, judged, scored
from wise_perch.api.knowing import house_of, know, today_of
from wise_perch.core.evidence import Fell, Form, Outcome, try_problem
from wise_perch.core.intake import CautionQuestion
from wise_perch.core.records import KeptTry, RunEnd, Trainee
from wise_perch.core.standing import DrillStanding
from wise_perch.core.syllabus import FreeTriesTest, Syllabus
from wise_perch.store import evidence, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["bench"])


class NewRun(BaseModel):
    """A run to start, with the id that makes sending again harmless. `rest_s`: rest between tries, s."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    test: Literal["free-tries"] = "free-tries"
    started_at: Moment
    rest_s: int = Field(ge=20, le=60)
    room: Note = ""


class NewTry(BaseModel):
    """One try as it was seen. `seconds` only with a held try; `early`: begun before the rest was over."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    number: int = Field(ge=1, le=100)
    at: Moment
    outcome: Outcome
    seconds: float | None = Field(default=None, allow_inf_nan=False)
    fell: Fell | None = None
    form: Form | None = None
    early: bool = False
    note: Note = ""

    @model_validator(mode="after")
    def _sound(self) -> "NewTry":
        if problem := try_problem(outcome=self.outcome, seconds=self.seconds):
            raise ValueError(problem)
        return self


class RunEnding(BaseModel):
    """How and when a run ended; pain needs its joint and 0 to 10."""

    model_config = ConfigDict(extra="forbid")
    ended_at: Moment
    ended_as: RunEnd
    pain_joint: Name | None = None
    pain_level: int | None = Field(default=None, ge=0, le=10)

    @model_validator(mode="after")
    def _pain_is_whole(self) -> "RunEnding":
        if (self.ended_as == "pain") != (self.pain_joint is not None) or (self.pain_joint is None) != (self.pain_level is None):
            raise ValueError("A stop for pain names the joint and says 0 to 10, and no other ending does.")
        return self


@dataclass(frozen=True, kw_only=True)
class PainRule:
    """What pain means for the rest of the day: from `stops_at` of 10 on, `much` is said, below it `some`."""

    joints: tuple[str, ...]
    stops_at: float
    some: str
    much: str

    @staticmethod
    def of(syllabus: Syllabus) -> "PainRule":
        """The rule as the syllabus has it."""
        rules = syllabus.rules
        return PainRule(joints=rules.joints, stops_at=rules.pain_stops_at.value, some=rules.pain_some, much=rules.pain_much)


@dataclass(frozen=True, kw_only=True)
class BenchPage:
    """What stands before a test starts: the protocol, whether exits are proven, and the last runs.

    `minutes` says how long the whole test takes, by the rest between tries in s.
    """

    trainee: Trainee
    test: FreeTriesTest
    minutes: dict[int, int]
    exits: DrillStanding
    uncleared: tuple[CautionQuestion, ...]
    pain: PainRule
    open_run: UUID | None
    runs: tuple[ScoredRun, ...]


@router.get("/trainees/{id}/bench")
def bench(id: UUID, app: TheApp, coach: SignedIn) -> BenchPage:
    """Prepare the ten free tries of a trainee."""
    with transaction(app.pool, coach=coach) as db:
        house, who = house_of(db), trainees.one(db, id)
        known = know(db, id, house, on=today_of(house.coach))
        runs = evidence.runs(db, id, most=4)
    test = known.syllabus.free_tries
    going = next((r.id for r in runs if r.ended_at is None), None)
    return BenchPage(
        trainee=who,
        test=test,
        minutes={rest: test.minutes(rest_s=rest) for rest in range(int(test.rest_least_s.value), int(test.rest_most_s.value) + 1)},
        exits=known.standing.drill(test.exits_drill),
        uncleared=known.uncleared,
        pain=PainRule.of(known.syllabus),
        open_run=going,
        runs=tuple(scored(r, house.coach, known.syllabus) for r in runs if r.ended_at),
    )


@router.post("/trainees/{id}/runs", status_code=201)
def start(id: UUID, new: NewRun, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Start a run; sending the same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        trainees.one(db, id)
        run = evidence.start_run(db, id=new.id, trainee=id, test=new.test, started_at=new.started_at, rest_s=new.rest_s, room=new.room, source="live")
        return {"id": run.id}


@router.get("/runs/{run}")
def show(run: UUID, app: TheApp, coach: SignedIn) -> JudgedRun:
    """A run with its figures so far; once ended, with decision, reasons and what it moved."""
    with transaction(app.pool, coach=coach) as db:
        return judged(db, evidence.run(db, run), house_of(db))


@router.post("/runs/{run}/tries", status_code=201)
def add_try(run: UUID, new: NewTry, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Keep one try; sending the same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        evidence.add_try(db, run_id=run, kept=KeptTry(**new.model_dump(), struck_at=None))
    return {"id": new.id}


@router.post("/runs/{run}/end")
def end(run: UUID, ending: RunEnding, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """End a run; ending it the same way again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        evidence.end_run(db, run_id=run, **ending.model_dump())
    return {"id": run}
