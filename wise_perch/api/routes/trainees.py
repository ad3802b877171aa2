"""Today, trainees, their standing on the wall bars, and recorded sets."""

from datetime import UTC, date, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, Name, NewId, Note
from wise_perch.api.judgement import ScoredRun, TodayBrief, evidence_of, refresh_briefs, scored, today_of
from wise_perch.core.content import Drill
from wise_perch.core.evidence import LONGEST_HOLD_S, Form, Measure, Side
from wise_perch.core.marks import marks
from wise_perch.core.matters import NextStep, next_steps
from wise_perch.core.records import KeptSet, Trainee
from wise_perch.core.standing import DrillStanding, Standing, standing
from wise_perch.store import briefs, coaches, evidence, trainees
from wise_perch.store.pool import transaction
from wise_perch.syllabus import built_in

router = APIRouter(tags=["trainees"])
RUNS_SHOWN = 6
SETS_SHOWN = 30
MOST = {Measure.HOLD: LONGEST_HOLD_S, Measure.REPS: 1000, Measure.RATE: 1000, Measure.DISTANCE: 1000}
"""The largest figure taken for one set of each measure, in its unit."""


@dataclass(frozen=True, kw_only=True)
class TodayTrainee:
    """One row of Today."""

    id: UUID
    name: str
    brief: TodayBrief


class TraineeDetails(BaseModel):
    """A trainee as entered."""

    name: Name
    stepping_side: Side | None = None
    note: Note = ""


class NewTrainee(TraineeDetails):
    """A trainee to add, with the id that makes sending again harmless."""

    id: NewId


@dataclass(frozen=True, kw_only=True)
class TraineePage:
    """All that the trainee's page shows: the wall bars today, what to work on, and the newest tests, newest first."""

    trainee: Trainee
    on: date
    standing: Standing
    next_steps: tuple[NextStep, ...]
    runs: tuple[ScoredRun, ...]


@dataclass(frozen=True, kw_only=True)
class DrillPage:
    """One drill of one trainee: how it stands, what the syllabus says of it, and the newest sets."""

    standing: DrillStanding
    drill: Drill
    sets: tuple[KeptSet, ...]


Cm = Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)]


class NewSet(BaseModel):
    """One set of a drill. `value` in the unit of the drill's measure; for a rate it is k of `n`."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    value: float = Field(ge=0, allow_inf_nan=False)
    n: int | None = Field(default=None, ge=1, le=1000)
    form: Form
    side: Side | None = None
    confidence: int | None = Field(default=None, ge=1, le=5)
    dial_cm: Cm | None = None
    note: Note = ""


@router.get("/today", response_model=list[TodayTrainee])
def today(app: TheApp, coach: SignedIn) -> Response:
    """Every trainee with what there is to decide, most pressing first."""
    with transaction(app.pool, coach=coach) as db:
        me = coaches.me(db)
        refresh_briefs(db, me, built_in(), on=today_of(me))
        # the database has the finished text; reading and writing it anew would only cost time
        return Response(briefs.today(db), media_type="application/json")


@router.get("/trainees")
def every(app: TheApp, coach: SignedIn) -> list[Trainee]:
    """Every trainee, by name."""
    with transaction(app.pool, coach=coach) as db:
        return trainees.every(db)


@router.post("/trainees", status_code=201)
def add(new: NewTrainee, app: TheApp, coach: SignedIn) -> Trainee:
    """Add a trainee."""
    with transaction(app.pool, coach=coach) as db:
        return trainees.add(db, id=new.id, name=new.name, stepping_side=new.stepping_side, note=new.note)


@router.put("/trainees/{id}")
def change(id: UUID, details: TraineeDetails, app: TheApp, coach: SignedIn) -> Trainee:
    """Change a trainee's details."""
    with transaction(app.pool, coach=coach) as db:
        return trainees.change(db, id=id, name=details.name, stepping_side=details.stepping_side, note=details.note)


@router.get("/trainees/{id}")
def page(id: UUID, app: TheApp, coach: SignedIn) -> TraineePage:
    """The trainee's page."""
    syllabus = built_in()
    with transaction(app.pool, coach=coach) as db:
        me, who = coaches.me(db), trainees.one(db, id)
        on = today_of(me)
        stands = standing(marks(evidence_of(db, id, me, syllabus), syllabus), syllabus, on=on)
        runs = tuple(scored(run, me, syllabus) for run in evidence.runs(db, id, most=RUNS_SHOWN))
    return TraineePage(trainee=who, on=on, standing=stands, next_steps=tuple(next_steps(stands)), runs=runs)


def _drill(name: str) -> Drill:
    found = built_in().drills.get(name)
    if found is None:
        raise Refused(404, "There is no such drill in the syllabus.")
    return found


@router.get("/trainees/{id}/drills/{drill}")
def drill_page(id: UUID, drill: str, app: TheApp, coach: SignedIn) -> DrillPage:
    """One drill of one trainee."""
    syllabus, wanted = built_in(), _drill(drill)
    with transaction(app.pool, coach=coach) as db:
        me = coaches.me(db)
        trainees.one(db, id)
        stands = standing(marks(evidence_of(db, id, me, syllabus), syllabus), syllabus, on=today_of(me))
        return DrillPage(standing=stands.drill(drill), drill=wanted, sets=tuple(evidence.sets(db, id, drill, most=SETS_SHOWN)))


@router.post("/trainees/{id}/drills/{drill}/sets", status_code=201)
def add_set(id: UUID, drill: str, new: NewSet, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Keep one set of a drill; sending the same again changes nothing."""
    gate, dial = _drill(drill).gate, _drill(drill).dial
    if problem := _set_problem(new, gate.measure, one_sided=gate.each_side, has_dial=dial is not None):
        raise Refused(422, problem)
    kept = KeptSet(
        **new.model_dump(exclude={"dial_cm"}),
        drill=drill,
        measure=gate.measure,
        mode=gate.mode,
        dial={dial.name: new.dial_cm} if dial and new.dial_cm is not None else {},
        source="live",
        struck_at=None,
    )
    with transaction(app.pool, coach=coach) as db:
        trainees.one(db, id)
        evidence.add_set(db, trainee=id, kept=kept)
    return {"id": new.id}


def _set_problem(new: NewSet, measure: Measure, *, one_sided: bool, has_dial: bool) -> str | None:
    if new.value > MOST[measure]:
        return f"{new.value:g} is more than anyone does; the most taken here is {MOST[measure]:g}."
    if measure is Measure.RATE and (new.n is None or new.value > new.n or new.value != int(new.value)):
        return "This drill is counted as whole successes of a number of tries."
    if measure is not Measure.RATE and new.n is not None:
        return "Only a drill counted as k of n has a number of tries."
    if one_sided and new.side is None:
        return "This drill is done on one side: left or right?"
    if new.dial_cm is not None and not has_dial:
        return "This drill has no setting in centimetres."
    return None


@router.post("/evidence/{id}/strike", status_code=204, tags=["evidence"])
def strike(id: UUID, app: TheApp, coach: SignedIn) -> None:
    """Strike out a try or a set; it can be brought back."""
    with transaction(app.pool, coach=coach) as db:
        evidence.strike(db, id=id, moment=datetime.now(UTC))


@router.post("/evidence/{id}/restore", status_code=204, tags=["evidence"])
def restore(id: UUID, app: TheApp, coach: SignedIn) -> None:
    """Bring back a try or a set that was struck out."""
    with transaction(app.pool, coach=coach) as db:
        evidence.strike(db, id=id, moment=None)
