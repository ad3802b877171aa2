"""Who is here: first coach, sign-in, sign-out, settings."""

from datetime import UTC, datetime

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field
from uuid_utils.compat import uuid7

from wise_perch.api.auth import (
    COOKIE,
    InPerson,
    SignedIn,
    TheApp,
    check_sign_in,
    hasher,
    open_session,
    token_hash,
)
from wise_perch.api.cases import check_schools, load_house
from wise_perch.api.fields import Email, Name, Password, TimeZone, Typed, TypedPassword
from wise_perch.api.settings import LOOPBACK
from wise_perch.core.trainee.stored import Coach
from wise_perch.store import coaches
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
    time_zone: TimeZone = "UTC"


class CoachSettings(BaseModel):
    """The settings to change; what is left out stays."""

    rest_s: int | None = Field(default=None, ge=20, le=60)
    time_zone: TimeZone | None = None
    schools: dict[str, str] | None = None
    float_switch_s: float | None = Field(default=None, ge=3, le=5)
    sounds: bool | None = None


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
def first_coach(who: FirstCoach, request: Request, response: Response, app: TheApp) -> Coach:
    """Add the first coach of an empty installation and sign them in."""
    id = uuid7()
    with transaction(app.pool, coach=id) as db:
        hashed = hasher().hash(who.password)
        coaches.add_first_coach(
            db, id=id, email=who.email, name=who.name, password_hash=hashed, time_zone=who.time_zone
        )
        coach = coaches.me(db)
    open_session(response, request, app, id)
    return coach


@router.post("/sign-in")
def sign_in(who: SignIn, request: Request, response: Response, app: TheApp) -> Coach:
    """Sign in; the session's cookie is new each time."""
    coach = check_sign_in(request, app, email=who.email.strip().lower(), password=who.password)
    open_session(response, request, app, coach)
    with transaction(app.pool, coach=coach) as db:
        return coaches.me(db)


@router.post("/sign-out", status_code=204)
def sign_out(
    request: Request, response: Response, app: TheApp, coach: InPerson, everywhere: bool = False
) -> None:
    """End this session, or every session of this coach."""
    moment = datetime.now(UTC)
    with transaction(app.pool, coach=coach) as db:
        if everywhere:
            coaches.end_other_sessions(db, but=b"", moment=moment)
        else:
            coaches.end_session(db, token_hash=token_hash(request.cookies.get(COOKIE, "")), moment=moment)
    response.delete_cookie(COOKIE, path="/")


@router.get("/me")
def me(app: TheApp, coach: SignedIn) -> Coach:
    """The coach who is signed in."""
    with transaction(app.pool, coach=coach) as db:
        return coaches.me(db)


@router.patch("/me")
def change_me(changes: CoachSettings, app: TheApp, coach: SignedIn) -> Coach:
    """Change settings."""
    with transaction(app.pool, coach=coach) as db:
        if changes.schools is not None:
            check_schools(load_house(db).syllabus, changes.schools)
        coaches.change_settings(db, **changes.model_dump())
        return coaches.me(db)
