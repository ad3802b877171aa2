"""Long work that a coach asks for: begun, looked at, stopped."""

from datetime import UTC, date, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Day, NewId
from wise_perch.api.long_work import OUTLOOK, WISH
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.routes.plans import WishBody
from wise_perch.core.rehearsal.outlook import Outlook
from wise_perch.core.week.week_plan import monday_of
from wise_perch.store import jobs, trainees
from wise_perch.store.jobs import Job, JobState
from wise_perch.store.pool import transaction

router = APIRouter(tags=["long work"])
WEEKS_AHEAD, LIVES = 12, 5
"""What "the next twelve weeks" look at: so many weeks, in so many simulated lives. Ours."""
MOST_AT_ONCE = 2000


@dataclass(frozen=True, kw_only=True)
class JobPage:
    """How far a piece of long work has come: `done` of `total`, and what could not be done, in words."""

    id: UUID
    state: JobState
    at: datetime
    done: int
    total: int
    wrong: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class OutlookPage:
    """The next weeks of a trainee as a model has them: the newest that was worked out and when, and one that
    is being worked out. `goal`: whether there is any goal to look toward.
    """

    goal: bool
    outlook: Outlook | None
    made_on: date | None
    under_way: JobPage | None


class PlanMany(BaseModel):
    """A week to plan for several trainees, on the days of `model` or as each one's week usually is."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    week: Day
    trainees: Annotated[list[UUID], Field(min_length=1, max_length=MOST_AT_ONCE)]
    model: WishBody | None = None


class NewRehearsal(BaseModel):
    """A rehearsal to begin."""

    model_config = ConfigDict(extra="forbid")
    id: NewId


def page_of(job: Job) -> JobPage:
    """How far a piece of work has come."""
    return JobPage(
        id=job.id, state=job.state, at=job.at, done=job.done, total=job.total, wrong=tuple(job.wrong)
    )


@router.post("/plan-week/jobs", status_code=202)
def plan_many(new: PlanMany, app: TheApp, member: Coaching) -> JobPage:
    """Plan a week for many, as work of the server; sending the same again changes nothing."""
    who = list(dict.fromkeys(str(t) for t in new.trainees))
    with transaction(app.pool, member=member) as db:
        known = {str(t.id) for t in trainees.every(db)}
        if strange := set(who) - known:
            raise Refused(404, f"There is no such trainee: {sorted(strange)[0]}.")
        what = {
            "week": monday_of(new.week).isoformat(),
            "trainees": who,
            "model": WISH.dump_python(new.model.wish(), mode="json") if new.model else None,
        }
        if jobs.add(
            db, id=new.id, kind="plan-weeks", trainee=None, what=what, at=datetime.now(UTC), total=len(who)
        ):
            app.queue.defer(db, member, new.id)
        return page_of(jobs.one(db, new.id))


@router.get("/plan-week/jobs")
def planning_job(app: TheApp, member: SignedIn) -> JobPage | None:
    """The newest planning for many; null where there never was one."""
    with transaction(app.pool, member=member) as db:
        found = jobs.newest(db, "plan-weeks", trainee=None)
        return page_of(found) if found else None


@router.get("/jobs/{id}")
def job_page(id: UUID, app: TheApp, member: SignedIn) -> JobPage:
    """How far a piece of long work has come."""
    with transaction(app.pool, member=member) as db:
        return page_of(jobs.one(db, id))


@router.post("/jobs/{id}/stop")
def stop_job(id: UUID, app: TheApp, member: Coaching) -> JobPage:
    """Ask long work to stop; what is done stays done, what has ended stays as it is."""
    with transaction(app.pool, member=member) as db:
        jobs.ask_to_stop(db, id)
        return page_of(jobs.one(db, id))


@router.get("/trainees/{id}/outlook")
def outlook(id: UUID, app: TheApp, member: SignedIn) -> OutlookPage:
    """The next twelve weeks of a trainee by the model, as they were last worked out."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        known, _ = load_arranged(db, id, house)
        last = jobs.newest(db, "rehearsal", trainee=id, finished=True)
        under_way = jobs.newest(db, "rehearsal", trainee=id)
    found = last.result["outlook"] if last and last.result else None
    return OutlookPage(
        goal=bool(known.arrangement.goals),
        outlook=OUTLOOK.validate_python(found, strict=False) if found else None,
        made_on=house.day_of(last.at) if last and found else None,
        under_way=page_of(under_way) if under_way and not under_way.ended_at else None,
    )


@router.post("/trainees/{id}/outlook", status_code=202)
def rehearse(id: UUID, new: NewRehearsal, app: TheApp, member: Coaching) -> JobPage:
    """Work out the next twelve weeks of a trainee, as work of the server; sending the same again changes
    nothing.
    """
    with transaction(app.pool, member=member) as db:
        known, _ = load_arranged(db, id, load_house(db))
        if not known.arrangement.goals:
            raise Refused(409, "Choose a goal first: the next weeks are looked at on the way to one.")
        what = {"weeks": WEEKS_AHEAD, "lives": LIVES}
        total = WEEKS_AHEAD * LIVES
        at = datetime.now(UTC)
        if jobs.add(db, id=new.id, kind="rehearsal", trainee=id, what=what, at=at, total=total):
            app.queue.defer(db, member, new.id)
        return page_of(jobs.one(db, new.id))
