"""Links that work once: coming into a hall, signing in on another device, choosing a new password."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Path, Request, Response
from pydantic import BaseModel
from pydantic.dataclasses import dataclass
from uuid_utils.compat import uuid7

from wise_perch.api.auth import App, InPerson, TheApp, check_sign_in, hasher, token_hash
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Email, Name, Password, Typed, TypedPassword
from wise_perch.api.routes.session import Me, enter
from wise_perch.core.trainee.hall import Member, Role
from wise_perch.store import coaches, halls
from wise_perch.store.halls import LinkKind, OneTimeLink
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/join", tags=["join"])
Token = Annotated[str, Path(min_length=20, max_length=80, pattern="^[A-Za-z0-9_-]+$")]
GONE = "This link does not work, or no longer: each works once. Ask for another."


@dataclass(frozen=True, kw_only=True)
class LinkShown:
    """What a link that works once is for. `email`: whose password it is about."""

    kind: LinkKind
    hall: str
    role: Role | None
    email: str
    invited_by: str


class NewMember(BaseModel):
    """Somebody new who comes into a hall."""

    email: Email
    name: Name
    password: Password


class KnownMember(BaseModel):
    """Somebody who signs in here already and comes into another hall."""

    email: Typed
    password: TypedPassword


class NewPassword(BaseModel):
    """The password to sign in with from now on."""

    password: Password


def _find(app: App, token: str, kind: LinkKind) -> OneTimeLink:
    """What a link opens. Raises Refused (404) for one that opens nothing of this kind."""
    found = _look(app, token)
    if found.kind != kind:
        raise Refused(404, GONE)
    return found


def _look(app: App, token: str) -> OneTimeLink:
    with transaction(app.pool) as db:
        found = halls.of_link(db, token_hash=token_hash(token), moment=datetime.now(UTC))
    if found is None:
        raise Refused(404, GONE)
    return found


@router.get("/{token}")
def look_at_link(token: Token, app: TheApp) -> LinkShown:
    """What a link is for, before it is used."""
    found = _look(app, token)
    return LinkShown(
        kind=found.kind,
        hall=found.hall_name,
        role=found.role,
        email=found.email if found.kind == "reset" else "",
        invited_by=found.invited_by,
    )


def _come_in(app: App, link: OneTimeLink, coach: Member, new: NewMember | None = None) -> Member:
    """Use an invitation up, and let somebody in by it: all of it or nothing. Raises Conflict."""
    member = Member(coach=coach.coach, hall=link.hall)
    with transaction(app.pool, member=member) as db:
        # a password's link of another hall asks whether this one is there: one after the other
        coaches.hold(db)
        halls.take_link(db, id=link.id, moment=datetime.now(UTC), coach=coach.coach)
        if new is not None:
            hashed = hasher().hash(new.password)
            coaches.add_coach(db, id=coach.coach, email=new.email, name=new.name, password_hash=hashed)
        if not halls.join(db, coach=coach.coach, role=link.role or "assistant"):
            raise Refused(409, "You are in this hall already. The link still works for somebody else.")
        halls.tell(db, kind="joined", about=coach.coach)
    return member


@router.post("/{token}/new", status_code=201)
def join_new(token: Token, who: NewMember, request: Request, response: Response, app: TheApp) -> Me:
    """Come into a hall by an invitation, with a sign-in of one's own."""
    link = _find(app, token, "invitation")
    return enter(request, response, app, _come_in(app, link, Member(coach=uuid7()), who))


@router.post("/{token}/known", status_code=201)
def join_known(token: Token, who: KnownMember, request: Request, response: Response, app: TheApp) -> Me:
    """Come into another hall by an invitation, with the sign-in one has."""
    link = _find(app, token, "invitation")
    known = check_sign_in(request, app, email=who.email.strip().lower(), password=who.password)
    return enter(request, response, app, _come_in(app, link, known))


@router.post("/{token}/me", status_code=201)
def join_as_me(token: Token, request: Request, response: Response, app: TheApp, member: InPerson) -> Me:
    """Come into another hall by an invitation, as who is signed in here."""
    return enter(request, response, app, _come_in(app, _find(app, token, "invitation"), member))


@router.post("/{token}/device", status_code=201)
def sign_in_here(token: Token, request: Request, response: Response, app: TheApp) -> Me:
    """Sign in on this device by a link that was made on another."""
    link = _find(app, token, "device")
    assert link.coach is not None
    member = Member(coach=link.coach, hall=link.hall)
    with transaction(app.pool, member=member) as db:
        halls.take_link(db, id=link.id, moment=datetime.now(UTC), coach=link.coach)
    return enter(request, response, app, member)


@router.post("/{token}/reset", status_code=201)
def choose_password(
    token: Token, wanted: NewPassword, request: Request, response: Response, app: TheApp
) -> Me:
    """Choose a new password by an owner's link. Every session ends, and this browser is signed in."""
    link = _find(app, token, "reset")
    assert link.coach is not None
    member, moment = Member(coach=link.coach, hall=link.hall), datetime.now(UTC)
    hashed = hasher().hash(wanted.password)
    with transaction(app.pool, member=member) as db:
        coaches.hold(db)
        halls.take_link(db, id=link.id, moment=moment, coach=link.coach)
        if halls.is_elsewhere(db, link.coach):
            raise Refused(409, "This sign-in opens another hall too by now. Ask at the machine.")
        coaches.keep_hash(db, password_hash=hashed)
        coaches.end_other_sessions(db, but=b"", moment=moment)
        coaches.forget_devices(db, but=b"", moment=moment)
    return enter(request, response, app, member)
