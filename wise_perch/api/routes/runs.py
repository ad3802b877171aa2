"""Runs of a test: started, tried, corrected, ended and judged."""

from datetime import UTC, datetime
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field, model_validator

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_arranged, load_case, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, Name, NewId, Note
from wise_perch.api.members import SignedIn
from wise_perch.api.routes.bench import EARLIER
from wise_perch.core.bench.compare import Comparison, compare_runs
from wise_perch.core.bench.ready import make_ready
from wise_perch.core.bench.runs import JudgedRun, judge_run, score_run
from wise_perch.core.trade.evidence import Fell, Form, Side, Try
from wise_perch.core.trade.protocol import Mode, Test, try_problem
from wise_perch.core.trainee.stored import KeptTry, RunEnd
from wise_perch.store import evidence, test_days
from wise_perch.store.pool import transaction
from wise_perch.syllabus.shipped import built_in

router = APIRouter(tags=["bench"])

Setting = Annotated[float, Field(ge=-100, le=500, allow_inf_nan=False)]
TestName = Annotated[str, Field(max_length=60)]
DrillName = Annotated[str, Field(max_length=120)]


class NewRun(BaseModel):
    """A run to start, with the id that makes sending again harmless. `rest_s`: rest between tries, s.

    `subject`: the drill, where the test is run for one. `begin`: the setting a ladder begins at. `source`
    "after" is a paper sheet entered later, "film" tries that a film proposed and the coach kept. `dial`: the
    setting the whole run is made at.
    """

    model_config = ConfigDict(extra="forbid")
    id: NewId
    test: TestName = "free-tries"
    subject: DrillName = ""
    started_at: Moment
    rest_s: int = Field(ge=5, le=600)
    room: Note = ""
    begin: Setting | None = None
    dial: dict[Name, Setting] = Field(default={}, max_length=4)
    source: Literal["live", "after", "film"] = "live"
    test_day: UUID | None = None


class TryFigures(BaseModel):
    """What a try says: its outcome, and the figure and setting where its mode has them."""

    model_config = ConfigDict(extra="forbid")
    outcome: Annotated[str, Field(max_length=40)]
    value: float | None = Field(default=None, allow_inf_nan=False)
    mode: Annotated[str, Field(max_length=40)] = ""
    level: Setting | None = None
    side: Side | None = None
    fell: Fell | None = None
    form: Form | None = None
    note: Note = ""

    def as_try(self, number: int) -> Try:
        """The try as the core counts it."""
        figures = {
            name: getattr(self, name)
            for name in ("outcome", "value", "mode", "level", "side", "fell", "form")
        }
        return Try(number=number, **figures)


class NewTry(TryFigures):
    """One try as it was seen, of a run of `test`. `early`: begun before the rest was over."""

    id: NewId
    test: TestName = "free-tries"
    number: int = Field(ge=1, le=100)
    at: Moment
    early: bool = False

    @model_validator(mode="after")
    def _sound(self) -> "NewTry":
        # a coach's own test is known once somebody has signed in: the route asks again
        test = built_in().tests.get(self.test)
        if test and (problem := _try_problem(test, self.as_try(self.number))):
            raise ValueError(problem)
        return self


class Correction(TryFigures):
    """A try as it should have been entered, with an id of its own. The try it corrects stays kept and struck
    out.
    """

    id: NewId


def _try_problem(test: Test, tried: Try) -> str | None:
    if tried.number > test.most_tries:
        return f"{test.title} have at most {test.most_tries} tries."
    return try_problem(test, tried)


class RunEnding(BaseModel):
    """How and when a run ended; pain needs its joint and 0 to 10. `confidence`: the trainee's own, 1 to 5."""

    model_config = ConfigDict(extra="forbid")
    ended_at: Moment
    ended_as: RunEnd
    pain_joint: Name | None = None
    pain_level: int | None = Field(default=None, ge=0, le=10)
    confidence: int | None = Field(default=None, ge=1, le=5)

    @model_validator(mode="after")
    def _pain_is_whole(self) -> "RunEnding":
        if (self.ended_as == "pain") != (self.pain_joint is not None) or (self.pain_joint is None) != (
            self.pain_level is None
        ):
            raise ValueError("A stop for pain names the joint and says 0 to 10, and no other ending does.")
        return self


@router.post("/trainees/{id}/runs", status_code=201)
def start_run(id: UUID, new: NewRun, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """Start a run; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        _, case = judge_trainee(db, id, load_house(db))
        if new.test_day is not None:
            test_days.one(db, new.test_day)
        ready = make_ready(case, test=new.test, subject=new.subject, begin=new.begin)
        run = evidence.start_run(
            db,
            id=new.id,
            trainee=id,
            test=new.test,
            subject=ready.subject_name,
            started_at=new.started_at,
            rest_s=new.rest_s,
            room=new.room,
            source=new.source,
            dial=new.dial,
            sheet=ready.sheet,
            test_day=new.test_day,
        )
        return {"id": run.id}


@router.get("/runs/{run}")
def judged_run(run: UUID, app: TheApp, member: SignedIn) -> JudgedRun:
    """A run with its figures so far; once ended, with decision, reasons and what it moved."""
    with transaction(app.pool, member=member) as db:
        house, the_run = load_house(db), evidence.run(db, run)
        loaded = load_case(db, the_run.trainee, house, on=house.day_of(the_run.started_at))
        sheet = evidence.sheet(db, run)
        others = evidence.runs_of_test(
            db, the_run.trainee, test=the_run.test, subject=the_run.subject, most=EARLIER + 1
        )
    return judge_run(the_run, loaded.case, sheet=sheet, others=others, day_of=house.day_of)


@router.post("/runs/{run}/tries", status_code=201)
def add_try(run: UUID, new: NewTry, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """Keep one try; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        test = load_house(db).syllabus_as_written.tests.get(new.test)
        if test is None:
            raise Refused(422, "There is no such test.")
        if problem := _try_problem(test, new.as_try(new.number)):
            raise Refused(422, problem)
        mode = test.mode(new.mode)
        evidence.add_try(
            db,
            run_id=run,
            kept=KeptTry(**new.model_dump(exclude={"test"}), struck_at=None),
            test=new.test,
            mode=mode,
        )
    return {"id": new.id}


@router.post("/runs/{run}/tries/{tried}/correct", status_code=201)
def correct_try(run: UUID, tried: UUID, new: Correction, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """Put a try right, whether its run is open or closed; the old value stays kept. Sending the same again
    changes nothing.
    """
    with transaction(app.pool, member=member) as db:
        of = evidence.run(db, run)
        tests = load_house(db).syllabus_as_written.tests
        test, old = tests.get(of.test), next((t for t in of.tries if t.id == tried), None)
        if test is None or old is None:
            raise Refused(404, "There is no such try.")
        if problem := _try_problem(test, new.as_try(old.number)):
            raise Refused(422, problem)
        mode: Mode = test.mode(new.mode)
        kept = KeptTry(
            **new.model_dump(), number=old.number, at=old.at, early=old.early, replaces=tried, struck_at=None
        )
        evidence.correct_try(db, run_id=run, kept=kept, test=of.test, mode=mode, moment=datetime.now(UTC))
    return {"id": new.id}


@router.post("/runs/{run}/end")
def end_run(run: UUID, ending: RunEnding, app: TheApp, member: SignedIn) -> dict[str, UUID]:
    """End a run; ending it the same way again changes nothing."""
    with transaction(app.pool, member=member) as db:
        evidence.end_run(db, run_id=run, **ending.model_dump())
    return {"id": run}


@router.get("/runs/{run}/compare/{other}")
def compared_runs(run: UUID, other: UUID, app: TheApp, member: SignedIn) -> Comparison:
    """Compare two runs of one test by one trainee: what changed from the earlier to the later, and is it more
    than noise?
    """
    with transaction(app.pool, member=member) as db:
        one, two = evidence.run(db, run), evidence.run(db, other)
        if (one.trainee, one.test, one.subject) != (two.trainee, two.test, two.subject):
            raise Refused(422, "Only two runs of the same test and drill by the same trainee compare.")
        house = load_house(db)
        _, syllabus = load_arranged(db, one.trainee, house)
    earlier, later = sorted((one, two), key=lambda r: (r.started_at, r.id))
    first, second = (score_run(r, syllabus, day=house.day_of(r.started_at)) for r in (earlier, later))
    return compare_runs(first.verdict, second.verdict)
