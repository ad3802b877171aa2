"""The people of a hall: invitations, roles, new passwords, other devices, handing over, leaving."""

import secrets
from datetime import UTC, datetime, timedelta
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict
from uuid_utils.compat import uuid7

from wise_perch.api.addresses import Handed, hand_over
from wise_perch.api.auth import App, TheApp, check_password, token_hash
from wise_perch.api.errors import Refused
from wise_perch.api.fields import NewId, PerhapsName, TypedPassword
from wise_perch.api.members import HereInPerson, OwningInPerson
from wise_perch.core.trainee.deeds import say_invited
from wise_perch.core.trainee.hall import NAMES, Member, Role
from wise_perch.store import halls
from wise_perch.store.halls import LinkKind
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/hall", tags=["hall"])
INVITED = timedelta(days=7)
DEVICE = timedelta(minutes=10)
RESET = timedelta(hours=24)
ELSEWHERE = (
    "{name} works in another hall too: a link would open that as well. The password is reset on the machine"
    " itself: ./perch reset-password"
)


class NewInvitation(BaseModel):
    """An invitation to make: as what, and for whom by name where it is known."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    role: Role
    name: PerhapsName = ""


class NewRole(BaseModel):
    """What somebody is to be from now on."""

    role: Role


class Confirmed(BaseModel):
    """One's own password, for what cannot be undone."""

    present: TypedPassword


def make_one_time_link(
    request: Request,
    app: App,
    member: Member,
    *,
    kind: LinkKind,
    lasts: timedelta,
    id: UUID | None = None,
    role: Role | None = None,
    coach: UUID | None = None,
    name: str = "",
    told: tuple[halls.EventKind, str] | None = None,
) -> Handed:
    """Make a link that works once; one for somebody else is an owner's to make, who is so still. Raises
    Refused (409) where one of this id was made already, and Conflict.
    """
    token = secrets.token_urlsafe(32)
    with transaction(app.pool, member=member) as db:
        if coach != member.coach:
            halls.hold_as_owner(db, member.coach)
        added = halls.add_link(
            db,
            id=id or uuid7(),
            kind=kind,
            token_hash=token_hash(token),
            expires_at=datetime.now(UTC) + lasts,
            role=role,
            coach=coach,
            name=name,
        )
        if not added:
            raise Refused(409, "This link was made already, and is shown only once. Make another.")
        if told:
            halls.tell(db, kind=told[0], about=coach, what=told[1])
    return hand_over(f"/join/{token}", request, app)


@router.post("/invitations", status_code=201)
def invite(new: NewInvitation, request: Request, app: TheApp, member: OwningInPerson) -> Handed:
    """Make a link by which somebody comes into the hall, once, within a week. It is shown once."""
    return make_one_time_link(
        request,
        app,
        member,
        kind="invitation",
        lasts=INVITED,
        id=new.id,
        role=new.role,
        name=new.name,
        told=("invited", say_invited(new.role, new.name)),
    )


@router.post("/invitations/{id}/revoke", status_code=204)
def revoke_invitation(id: UUID, app: TheApp, member: OwningInPerson) -> None:
    """Take an invitation back; it stops working at once."""
    with transaction(app.pool, member=member) as db:
        halls.revoke_invitation(db, id=id, moment=datetime.now(UTC))


@router.post("/people/{coach}/role", status_code=204)
def set_role(coach: UUID, wanted: NewRole, app: TheApp, member: OwningInPerson) -> None:
    """Make somebody in the hall something else. A hall keeps an owner."""
    with transaction(app.pool, member=member) as db:
        halls.hold_as_owner(db, member.coach)
        if halls.set_role(db, coach=coach, role=wanted.role):
            halls.tell(db, kind="role", about=coach, what=NAMES[wanted.role])


@router.post("/people/{coach}/take-out", status_code=204)
def take_out(coach: UUID, app: TheApp, member: OwningInPerson) -> None:
    """Take somebody out of the hall: they see nothing of it from now on, and what they did stays."""
    with transaction(app.pool, member=member) as db:
        halls.hold_as_owner(db, member.coach)
        halls.leave(db, coach=coach, moment=datetime.now(UTC))
        halls.tell(db, kind="taken-out" if coach != member.coach else "left", about=coach)


@router.post("/leave", status_code=204)
def leave_hall(app: TheApp, member: HereInPerson) -> None:
    """Leave the hall. What one did stays with it; its last owner hands it over first."""
    with transaction(app.pool, member=member) as db:
        halls.leave(db, coach=member.coach, moment=datetime.now(UTC))
        halls.tell(db, kind="left", about=member.coach)


@router.post("/people/{coach}/hand-over", status_code=204)
def hand_hall_over(coach: UUID, said: Confirmed, app: TheApp, member: OwningInPerson) -> None:
    """Make somebody else the owner and oneself a coach, in one step."""
    check_password(app, member, said.present)
    with transaction(app.pool, member=member) as db:
        if coach == member.coach:
            raise Refused(422, "The hall is yours already.")
        halls.hold_as_owner(db, member.coach)
        halls.set_role(db, coach=coach, role="owner")
        halls.set_role(db, coach=member.coach, role="coach")
        halls.tell(db, kind="handed-over", about=coach)


@router.post("/people/{coach}/reset", status_code=201)
def make_reset_link(
    coach: UUID, said: Confirmed, request: Request, app: TheApp, member: OwningInPerson
) -> Handed:
    """Make a link by which somebody of this hall chooses a new password, once, within a day. Refused for who
    works in another hall too: it would open that as well.
    """
    check_password(app, member, said.present)
    with transaction(app.pool, member=member) as db:
        who = halls.member(db, coach)
        if halls.is_elsewhere(db, coach):
            raise Refused(409, ELSEWHERE.format(name=who.name))
    return make_one_time_link(
        request, app, member, kind="reset", lasts=RESET, coach=coach, told=("reset", "")
    )


@router.post("/device-link", status_code=201)
def make_device_link(request: Request, app: TheApp, member: HereInPerson) -> Handed:
    """Make a link that signs this coach in on another device, once, within ten minutes."""
    return make_one_time_link(request, app, member, kind="device", lasts=DEVICE, coach=member.coach)
