"""The first evening of an empty hall, and the made-up trainee to look round with."""

from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from psycopg import Connection
from pydantic import BaseModel
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_house
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.trainee.first_evening import EveningGuide, guide
from wise_perch.demo.sample import add_sample
from wise_perch.store import groups, halls
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/hall", tags=["hall"])


@dataclass(frozen=True, kw_only=True)
class FirstEvening:
    """The first evening's guide, and the sample trainee where there is one."""

    guide: EveningGuide
    sample: UUID | None


class PutOff(BaseModel):
    """A step to put off or to take up again; "*" stands for all of them."""

    step: Literal["kit", "trainee", "intake", "test", "week", "*"]
    off: bool = True


def _first_evening(db: Connection) -> FirstEvening:
    so_far, left = halls.so_far(db)
    tests = load_house(db).syllabus.tests.values()
    shortest = min(test.minutes(rest_s=test.rest_usual_s.value) for test in tests)
    return FirstEvening(guide=guide(so_far, left=left, test_minutes=shortest), sample=groups.sample(db))


@router.get("/first-evening")
def show_first_evening(app: TheApp, member: SignedIn) -> FirstEvening:
    """What an empty hall does first, and next, until the first week stands."""
    with transaction(app.pool, member=member) as db:
        return _first_evening(db)


@router.post("/first-evening")
def put_step_off(wanted: PutOff, app: TheApp, member: Coaching) -> FirstEvening:
    """Put a step of the first evening off, or take it up again."""
    with transaction(app.pool, member=member) as db:
        halls.put_off(db, step=wanted.step, off=wanted.off)
        return _first_evening(db)


@router.post("/sample", status_code=201)
def add_sample_trainee(app: TheApp, member: Coaching) -> FirstEvening:
    """Add a made-up trainee with four months of drawn history, to look round with. Where there is one nothing
    changes.
    """
    with transaction(app.pool, member=member) as db:
        halls.hold(db)
        if groups.sample(db) is None:
            house = load_house(db)
            add_sample(db, house.syllabus, until=house.today)
        return _first_evening(db)


@router.post("/sample/take-away")
def take_sample_away(app: TheApp, member: Coaching) -> FirstEvening:
    """Take the made-up trainee away for good."""
    with transaction(app.pool, member=member) as db:
        groups.take_sample_away(db)
        return _first_evening(db)
