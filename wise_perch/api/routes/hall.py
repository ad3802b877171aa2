"""A hall and its people: who is in it and as what, invitations, what was done by whom."""

from dataclasses import replace
from datetime import UTC, datetime
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import COOKIE, InPerson, TheApp, token_hash
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Name, NewId, TimeZone
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.routes.session import Me, load_me
from wise_perch.core.trainee.hall import Hall, HallMember, Invitation, Member, Role
from wise_perch.store import coaches, halls
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/hall", tags=["hall"])


@dataclass(frozen=True, kw_only=True)
class HallPage:
    """A hall, its people, and for an owner the invitations that still work. `me`: who asks."""

    hall: Hall
    me: UUID
    role: Role
    people: tuple[HallMember, ...]
    invitations: tuple[Invitation, ...]


class HallDetails(BaseModel):
    """What to change of a hall; what is left out stays."""

    name: Name | None = None
    time_zone: TimeZone | None = None
    float_switch_s: float | None = Field(default=None, ge=3, le=5)


class NewHall(BaseModel):
    """A hall to begin."""

    id: NewId
    name: Name
    time_zone: TimeZone = "UTC"


class ChosenHall(BaseModel):
    """The hall to work in from now on."""

    hall: UUID


def _here(request: Request) -> bytes:
    return token_hash(request.cookies.get(COOKIE, ""))


@router.get("")
def show_hall(app: TheApp, member: SignedIn) -> HallPage:
    """The hall, and who is in it."""
    with transaction(app.pool, member=member) as db:
        found = halls.people(db)
        # who left is an owner's to see, and so are addresses
        if not member.may("owner"):
            found = [replace(p, email="") for p in found if p.left_at is None]
        return HallPage(
            hall=halls.one(db),
            me=member.coach,
            role=member.role or "assistant",
            people=tuple(found),
            invitations=tuple(halls.invitations(db, moment=datetime.now(UTC))) if member.may("owner") else (),
        )


@router.patch("")
def change_hall(changes: HallDetails, app: TheApp, member: Coaching) -> Me:
    """Change from when on a float counts touches; its owner also the hall's name and time zone."""
    if (changes.name or changes.time_zone) and not member.may("owner"):
        raise Refused(403, "The hall's name and time zone are for its owner.")
    with transaction(app.pool, member=member) as db:
        was = halls.one(db).name
        halls.change(db, **changes.model_dump())
        if changes.name and changes.name != was:
            halls.tell(db, kind="named", what=changes.name)
        return load_me(db, member)


@router.post("/choose")
def choose_hall(chosen: ChosenHall, request: Request, app: TheApp, member: InPerson) -> Me:
    """Work in another of one's halls from now on, on this device."""
    with transaction(app.pool, member=member) as db:
        own = {hall.id: hall for hall in halls.of_coach(db)}
        coaches.choose_hall(db, token_hash=_here(request), hall=chosen.hall)
    there = Member(coach=member.coach, hall=chosen.hall, role=own[chosen.hall].role)
    with transaction(app.pool, member=there) as db:
        return load_me(db, there)


@router.post("/new", status_code=201)
def begin_hall(new: NewHall, request: Request, app: TheApp, member: InPerson) -> Me:
    """Begin another hall, own it, and work in it from now on; the same id again changes nothing."""
    there = Member(coach=member.coach, hall=new.id, role="owner")
    with transaction(app.pool, member=there) as db:
        coaches.hold(db)
        own = {hall.id: hall.role for hall in halls.of_coach(db)}
        if new.id not in own:
            halls.add(db, name=new.name, time_zone=new.time_zone)
            halls.join(db, coach=member.coach, role="owner")
        coaches.choose_hall(db, token_hash=_here(request), hall=new.id)
        return load_me(db, replace(there, role=own.get(new.id, "owner")))
