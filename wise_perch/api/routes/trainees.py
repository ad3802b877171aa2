"""Today, and trainees with their standing on the wall bars."""

from datetime import date
from uuid import UUID

from fastapi import APIRouter, Response
from pydantic import BaseModel
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.fields import Name, NewId, Note
from wise_perch.api.judgement import ScoredRun, scored_all
from wise_perch.api.knowing import evidence_of, house_of, know, today_of
from wise_perch.api.levering import Levering, ShareShown, likely_body, push_shares
from wise_perch.api.today import FIRST_LINES, TodayBrief, refresh_briefs
from wise_perch.core.trade.evidence import Side
from wise_perch.core.trade.intake import CautionQuestion
from wise_perch.core.trainee.goals import GoalStanding, with_falls
from wise_perch.core.trainee.standing import Standing
from wise_perch.core.trainee.stored import Trainee
from wise_perch.core.trainee.to_decide import NextStep, next_steps
from wise_perch.store import briefs, evidence, levers, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["trainees"])
RUNS_SHOWN = 6


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
class GoalToChoose:
    """A goal the syllabus knows."""

    goal: str
    title: str


@dataclass(frozen=True, kw_only=True)
class TraineePage:
    """All that the trainee's page shows: the wall bars today, what to work on, and the newest tests, newest first.

    `shares`: what rungs of the push line put on this trainee's hands, by drill.
    """

    trainee: Trainee
    on: date
    standing: Standing
    next_steps: tuple[NextStep, ...]
    runs: tuple[ScoredRun, ...]
    goals: tuple[GoalStanding, ...]
    goals_to_choose: tuple[GoalToChoose, ...]
    schools: dict[str, str]
    first_lines: tuple[str, ...]
    intake_done: bool
    uncleared: tuple[CautionQuestion, ...]
    shares: dict[str, ShareShown]


@router.get("/today", response_model=list[TodayTrainee])
def today(app: TheApp, coach: SignedIn) -> Response:
    """Every trainee with what there is to decide, most pressing first."""
    with transaction(app.pool, coach=coach) as db:
        house = house_of(db)
        refresh_briefs(db, house, on=today_of(house.coach))
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
    with transaction(app.pool, coach=coach) as db:
        house, who = house_of(db), trainees.one(db, id)
        on = today_of(house.coach)
        pieces = evidence_of(db, [id], house)[id]
        known = know(db, id, house, on=on, pieces=pieces)
        shares = push_shares(Levering(known, likely_body(known.frame.profile), levers.settings(db, id), pieces, on))
        runs = scored_all(evidence.runs(db, id, most=RUNS_SHOWN), house.coach, known.syllabus)
        open_floor = scored_all(
            evidence.runs_of_test(db, id, test=known.syllabus.free_tries.test, subject="", most=RUNS_SHOWN), house.coach, known.syllabus
        )
    newest = next((r.verdict for r in open_floor if r.verdict.n), None)
    goals = known.goals
    if newest:
        work_on = known.syllabus.free_tries.decisions[newest.decision].work_on
        goals = tuple(with_falls(g, newest, work_on) for g in goals)
    return TraineePage(
        trainee=who,
        on=on,
        standing=known.standing,
        next_steps=tuple(next_steps(known.standing, goals)),
        runs=runs,
        goals=goals,
        goals_to_choose=tuple(GoalToChoose(goal=g.goal, title=g.title) for g in known.syllabus.content.goals),
        schools=known.frame.schools,
        first_lines=FIRST_LINES,
        intake_done=bool(known.frame.profile and known.frame.profile.cautions),
        uncleared=known.uncleared,
        shares=shares,
    )
