"""Groups with their evenings, and whom to call for a trainee."""

from datetime import UTC, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from wise_perch.api.auth import TheApp
from wise_perch.api.fields import Day, Name, NewId, Note
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.trainee.groups import Contact, Evening, TrainingGroup
from wise_perch.store import groups
from wise_perch.store.pool import transaction

router = APIRouter(tags=["groups"])


class EveningBody(BaseModel):
    """An evening of every week."""

    model_config = ConfigDict(extra="forbid")
    weekday: int = Field(ge=0, le=6)
    time: Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
    minutes: int = Field(default=90, ge=10, le=480)


class GroupDetails(BaseModel):
    """A group as entered."""

    name: Name
    evenings: Annotated[list[EveningBody], Field(max_length=14)] = []
    members: Annotated[list[UUID], Field(max_length=1000)] = []

    @property
    def when(self) -> tuple[Evening, ...]:
        """The evenings as the core has them, in the week's order."""
        made = [Evening(**e.model_dump()) for e in self.evenings]
        return tuple(sorted(made, key=lambda e: (e.weekday, e.time)))


class NewGroup(GroupDetails):
    """A group to add."""

    id: NewId


class ContactDetails(BaseModel):
    """Whom to call, and for a minor a guardian's consent with its day."""

    contact: Note = ""
    guardian: Note = ""
    consent_day: Day | None = None


@router.get("/groups")
def list_groups(app: TheApp, member: SignedIn) -> tuple[TrainingGroup, ...]:
    """Every group, with who is in it."""
    with transaction(app.pool, member=member) as db:
        return groups.every(db)


@router.post("/groups", status_code=201)
def add_group(new: NewGroup, app: TheApp, member: Coaching) -> TrainingGroup:
    """Add a group; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        return groups.add(db, id=new.id, name=new.name, evenings=new.when, members=new.members)


@router.put("/groups/{id}")
def change_group(id: UUID, details: GroupDetails, app: TheApp, member: Coaching) -> TrainingGroup:
    """Change a group: its name, its evenings, who is in it."""
    with transaction(app.pool, member=member) as db:
        return groups.change(db, id=id, name=details.name, evenings=details.when, members=details.members)


@router.post("/groups/{id}/strike", status_code=204)
def strike_group(id: UUID, app: TheApp, member: Coaching) -> None:
    """Strike a group out; its trainees stay."""
    with transaction(app.pool, member=member) as db:
        groups.strike(db, id=id, moment=datetime.now(UTC))


@router.post("/groups/{id}/restore")
def restore_group(id: UUID, app: TheApp, member: Coaching) -> TrainingGroup:
    """Bring a group back that was struck out."""
    with transaction(app.pool, member=member) as db:
        return groups.restore(db, id=id)


@router.get("/trainees/{id}/contact")
def show_contact(id: UUID, app: TheApp, member: Coaching) -> Contact:
    """Whom to call for a trainee, and a guardian's consent."""
    with transaction(app.pool, member=member) as db:
        return groups.contact(db, id)


@router.put("/trainees/{id}/contact")
def keep_contact(id: UUID, said: ContactDetails, app: TheApp, member: Coaching) -> Contact:
    """Keep whom to call for a trainee, and a guardian's consent."""
    with transaction(app.pool, member=member) as db:
        groups.put_contact(db, trainee=id, **said.model_dump())
        return groups.contact(db, id)
