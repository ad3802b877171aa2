"""A coach's account: password, email, where they are signed in, tokens for scripts."""

import secrets
from datetime import UTC, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Depends, Request
from pydantic import BaseModel

from wise_perch.api.auth import COOKIE, DEVICE, InPerson, TheApp, check_password, hasher, token_hash
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Email, Name, NewId, Password, TypedPassword
from wise_perch.api.members import HereInPerson
from wise_perch.api.routes.session import Me, load_me
from wise_perch.store import coaches
from wise_perch.store.coaches import ScriptToken, SignInSession
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/me", tags=["account"])
TOKEN_MARK = "perch_"
"""What a script's token begins with, so that it is known for what it is wherever it turns up."""


class NewPassword(BaseModel):
    """A password to change, with the present one."""

    present: TypedPassword
    password: Password


class NewEmail(BaseModel):
    """An email to change, with the present password."""

    present: TypedPassword
    email: Email


class NewToken(BaseModel):
    """A token to make: a name to know it by."""

    id: NewId
    name: Name


class MadeToken(BaseModel):
    """A token as it is shown once: it is kept only as a hash."""

    id: UUID
    name: str
    token: str


def _here(request: Request) -> bytes:
    return token_hash(request.cookies.get(COOKIE, ""))


Here = Annotated[bytes, Depends(_here)]


@router.post("/password", status_code=204)
def change_password(wanted: NewPassword, request: Request, here: Here, app: TheApp, member: InPerson) -> None:
    """Change the password. Every other session ends, and other browsers are no longer known."""
    present = check_password(app, member, wanted.present)
    moment, hashed = datetime.now(UTC), hasher().hash(wanted.password)
    with transaction(app.pool, member=member) as db:
        coaches.change_password(db, present=present, password_hash=hashed)
        coaches.end_other_sessions(db, but=here, moment=moment)
        coaches.forget_devices(db, but=token_hash(request.cookies.get(DEVICE, "")), moment=moment)


@router.post("/email")
def change_email(wanted: NewEmail, app: TheApp, member: InPerson) -> Me:
    """Change the email to sign in with."""
    check_password(app, member, wanted.present)
    with transaction(app.pool, member=member) as db:
        coaches.change_email(db, email=wanted.email)
        return load_me(db, member)


@router.get("/sessions")
def list_sign_ins(here: Here, app: TheApp, member: InPerson) -> list[SignInSession]:
    """Where this coach is signed in, the one seen last first."""
    with transaction(app.pool, member=member) as db:
        return coaches.sessions(db, here=here, moment=datetime.now(UTC))


@router.post("/sessions/{session}/end", status_code=204)
def end_sign_in(session: UUID, app: TheApp, member: InPerson) -> None:
    """End one session."""
    with transaction(app.pool, member=member) as db:
        coaches.end_one_session(db, id=session, moment=datetime.now(UTC))


@router.get("/tokens")
def list_tokens(app: TheApp, member: HereInPerson) -> list[ScriptToken]:
    """The tokens for scripts that were not taken back."""
    with transaction(app.pool, member=member) as db:
        return coaches.tokens(db)


@router.post("/tokens", status_code=201)
def make_token(wanted: NewToken, app: TheApp, member: HereInPerson) -> MadeToken:
    """Make a token for scripts; it is shown this once, and does what its coach may do but open doors."""
    token = TOKEN_MARK + secrets.token_urlsafe(32)
    with transaction(app.pool, member=member) as db:
        if not coaches.add_token(db, id=wanted.id, name=wanted.name, token_hash=token_hash(token)):
            raise Refused(
                409, "A token of this id was made already, and its secret is shown only once. Make another."
            )
    return MadeToken(id=wanted.id, name=wanted.name, token=token)


@router.post("/tokens/{token}/revoke", status_code=204)
def revoke_token(token: UUID, app: TheApp, member: HereInPerson) -> None:
    """Take a token back; whatever uses it is signed out."""
    with transaction(app.pool, member=member) as db:
        coaches.revoke_token(db, id=token, moment=datetime.now(UTC))
