"""Who is here: first coach, sign-in, sign-out, settings."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Request, Response
from psycopg import Connection
from pydantic import BaseModel, Field
from pydantic.dataclasses import dataclass
from uuid_utils.compat import uuid7

from wise_perch.api.auth import (
    COOKIE,
    App,
    InPerson,
    Known,
    TheApp,
    check_sign_in,
    hasher,
    open_session,
    token_hash,
)
from wise_perch.api.cases import check_schools, load_house
from wise_perch.api.fields import Email, Name, Password, TimeZone, Typed, TypedPassword
from wise_perch.api.members import SignedIn
from wise_perch.api.settings import LOOPBACK
from wise_perch.core.trainee.hall import Hall, Member, OwnHall, Role
from wise_perch.core.trainee.stored import Coach, Dates, Decimal, Units
from wise_perch.store import coaches, halls
from wise_perch.store.pool import transaction

router = APIRouter(tags=["session"])


class Door(BaseModel):
    """What the sign-in page needs to know before anyone is signed in."""

    needs_first_coach: bool
    demo_email: str | None
    demo_password: str | None


class SignIn(BaseModel):
    """Email and password."""

    email: Typed
    password: TypedPassword


class FirstCoach(BaseModel):
    """The very first coach of an empty installation."""

    email: Email
    name: Name
    password: Password
    hall: Name | None = None
    time_zone: TimeZone = "UTC"


class CoachSettings(BaseModel):
    """The settings to change; what is left out stays."""

    rest_s: int | None = Field(default=None, ge=20, le=60)
    schools: dict[str, str] | None = None
    sounds: bool | None = None
    volume: int | None = Field(default=None, ge=0, le=100)
    vibration: bool | None = None
    voice: bool | None = None
    units: Units | None = None
    dates: Dates | None = None
    decimal: Decimal | None = None


@dataclass(frozen=True, kw_only=True)
class Me(Coach):
    """Who is signed in, in which hall and as what; without a hall one of `halls` is to be chosen."""

    hall: Hall | None
    role: Role | None
    halls: tuple[OwnHall, ...]


def load_me(db: Connection, member: Member) -> Me:
    """Who is signed in, by the transaction that acts as them."""
    coach = coaches.me(db)
    said = {name: getattr(coach, name) for name in coach.__dataclass_fields__}
    return Me(**said, hall=halls.one(db) if member.hall else None, role=member.role, halls=halls.of_coach(db))


@router.get("/health", tags=["health"])
def health(app: TheApp) -> dict[str, bool]:
    """Say whether the application and its database answer."""
    with transaction(app.pool) as db:
        db.execute("select 1")
    return {"ok": True}


@router.get("/door")
def door(app: TheApp, request: Request) -> Door:
    """Say whether a first coach is needed, and how the demo is entered if there is one: on the machine
    itself, and nowhere else.
    """
    own = {name.strip("[]") for name in LOOPBACK}
    here = request.url.hostname in own and request.client is not None and request.client.host in own
    email, _, password = app.settings.demo.partition(" ") if here else ("", "", "")
    with transaction(app.pool) as db:
        return Door(
            needs_first_coach=not coaches.any_coach(db),
            demo_email=email or None,
            demo_password=password or None,
        )


@router.post("/first-coach", status_code=201)
def first_coach(who: FirstCoach, request: Request, response: Response, app: TheApp) -> Me:
    """Add the first coach of an empty installation, who owns its hall, and sign them in."""
    member = Member(coach=uuid7(), hall=uuid7(), role="owner")
    with transaction(app.pool, member=member) as db:
        coaches.hold_first_coach(db)
        hashed = hasher().hash(who.password)
        coaches.add_coach(db, id=member.coach, email=who.email, name=who.name, password_hash=hashed)
        halls.add(db, name=who.hall or f"{who.name}'s hall", time_zone=who.time_zone)
        halls.join(db, coach=member.coach, role="owner")
        found = load_me(db, member)
    open_session(response, request, app, member)
    return found


@router.post("/sign-in")
def sign_in(who: SignIn, request: Request, response: Response, app: TheApp) -> Me:
    """Sign in; the session's cookie is new each time. Who is in several halls chooses one after it."""
    member = check_sign_in(request, app, email=who.email.strip().lower(), password=who.password)
    return enter(request, response, app, member)


def enter(request: Request, response: Response, app: App, member: Member) -> Me:
    """Open a session for somebody who has shown who they are, and say who they are in which hall."""
    member = open_session(response, request, app, member)
    with transaction(app.pool, member=member) as db:
        return load_me(db, member)


@router.post("/sign-out", status_code=204)
def sign_out(
    request: Request, response: Response, app: TheApp, member: InPerson, everywhere: bool = False
) -> None:
    """End this session, or every session of this coach."""
    moment = datetime.now(UTC)
    with transaction(app.pool, member=member) as db:
        if everywhere:
            coaches.end_other_sessions(db, but=b"", moment=moment)
        else:
            coaches.end_session(db, token_hash=token_hash(request.cookies.get(COOKIE, "")), moment=moment)
    response.delete_cookie(COOKIE, path="/")


@router.get("/me")
def me(app: TheApp, member: Known) -> Me:
    """The coach who is signed in, in which hall and as what."""
    with transaction(app.pool, member=member) as db:
        return load_me(db, member)


class ToldScreen(BaseModel):
    """A screen whose purpose was said."""

    screen: Annotated[str, Field(pattern="^[a-z-]{1,40}$")]


@router.post("/me/told")
def tell_screen(told: ToldScreen, app: TheApp, member: SignedIn) -> Me:
    """Say no more what a screen is for."""
    with transaction(app.pool, member=member) as db:
        coaches.tell_screen(db, screen=told.screen)
        return load_me(db, member)


@router.patch("/me")
def change_me(changes: CoachSettings, app: TheApp, member: SignedIn) -> Me:
    """Change one's own settings."""
    with transaction(app.pool, member=member) as db:
        if changes.schools is not None:
            check_schools(load_house(db).syllabus, changes.schools)
        coaches.change_settings(db, **changes.model_dump())
        return load_me(db, member)
