"""Today, and trainees with their standing on the wall bars."""

from datetime import date
from uuid import UUID

from fastapi import APIRouter, Response
from pydantic import BaseModel
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_house
from wise_perch.api.fields import Name, NewId, Note
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.today import MAKE_AGAIN_S, MAKE_S, is_ready, ready_briefs, refresh_briefs
from wise_perch.core.bench.runs import ScoredRun, score_runs
from wise_perch.core.body.body_units import say_distances
from wise_perch.core.dose.levers import ShareShown, push_shares
from wise_perch.core.trade.evidence import Side
from wise_perch.core.trade.intake import CautionQuestion
from wise_perch.core.trainee.brief import TodayBrief
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.habits import HabitSaid, first_day, say_habits, sum_up
from wise_perch.core.trainee.standing import Standing
from wise_perch.core.trainee.standing_still import Standstill, find_standstills
from wise_perch.core.trainee.stored import Trainee
from wise_perch.core.trainee.work_on import NextStep, what_to_work_on
from wise_perch.store import evidence, habits, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["trainees"])
RUNS_SHOWN = 6


@dataclass(frozen=True, kw_only=True)
class TodayTrainee:
    """One row of Today. `brief` is null while it is being worked out: ask again for it."""

    id: UUID
    name: str
    brief: TodayBrief | None


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
    """All that the trainee's page shows: the wall bars today, what to work on, and the newest tests, newest
    first.

    `shares`: what rungs of the push line put on this trainee's hands, by drill. `standing_still`: what does
    so on the way to the goals, with what practice would try. `habits`: what was done at home by the day.
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
    standing_still: tuple[Standstill, ...]
    habits: tuple[HabitSaid, ...]
    habits_said: str
    distances_said: tuple[str, ...]


@router.get("/today", response_model=list[TodayTrainee])
def today(app: TheApp, member: SignedIn, again: bool = False) -> Response:
    """Every trainee with what there is to decide, most pressing first. Where much has to be worked out first
    those not ready stand last, without a brief; asking `again` goes on with them, for longer.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        # the database has the finished text; reading and writing it again would only cost time
        if is_ready(db, house, on=house.today):
            return Response(ready_briefs(db, house, on=house.today), media_type="application/json")
    refresh_briefs(app.pool, house, on=house.today, within_s=MAKE_AGAIN_S if again else MAKE_S)
    with transaction(app.pool, member=member) as db:
        return Response(ready_briefs(db, house, on=house.today), media_type="application/json")


@router.get("/trainees")
def list_trainees(app: TheApp, member: SignedIn) -> list[Trainee]:
    """Every trainee, by name."""
    with transaction(app.pool, member=member) as db:
        return trainees.every(db)


@router.post("/trainees", status_code=201)
def add_trainee(new: NewTrainee, app: TheApp, member: Coaching) -> Trainee:
    """Add a trainee."""
    with transaction(app.pool, member=member) as db:
        return trainees.add(db, id=new.id, name=new.name, stepping_side=new.stepping_side, note=new.note)


@router.put("/trainees/{id}")
def change_trainee(id: UUID, details: TraineeDetails, app: TheApp, member: Coaching) -> Trainee:
    """Change a trainee's details."""
    with transaction(app.pool, member=member) as db:
        return trainees.change(
            db, id=id, name=details.name, stepping_side=details.stepping_side, note=details.note
        )


@router.get("/trainees/{id}")
def trainee_page(id: UUID, app: TheApp, member: SignedIn) -> TraineePage:
    """The trainee's page."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        who, case = judge_trainee(db, id, house)
        runs = evidence.runs(db, id, most=RUNS_SHOWN)
        done = habits.since(db, id, first=first_day(case.on))
        said = say_habits(case.syllabus.sessions.habits, done, on=case.on)
        return TraineePage(
            trainee=who,
            on=case.on,
            standing=case.standing.say(),
            next_steps=what_to_work_on(case),
            runs=score_runs(runs, case.syllabus, day_of=house.day_of),
            goals=case.goals,
            goals_to_choose=tuple(
                GoalToChoose(goal=g.goal, title=g.title) for g in case.syllabus.content.goals
            ),
            schools=case.arrangement.schools,
            first_lines=case.syllabus.rules.first_lines,
            intake_done=bool(case.profile and case.profile.cautions),
            uncleared=case.uncleared,
            shares=push_shares(case),
            standing_still=find_standstills(case),
            habits=said,
            habits_said=sum_up(said),
            distances_said=say_distances(case.syllabus.intake, case.profile),
        )
