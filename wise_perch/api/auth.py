"""Sign-in: argon2id passwords, sessions known by the hash of their token, throttled failures, origin-checked
writes.
"""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache
from typing import Annotated
from urllib.parse import urlsplit
from uuid import UUID

from fastapi import Depends, Request, Response
from pwdlib import PasswordHash

from wise_perch.api.errors import Refused
from wise_perch.api.queue import Queue
from wise_perch.api.settings import Settings
from wise_perch.store import coaches
from wise_perch.store.pool import Pool, transaction

COOKIE = "perch_session"
WINDOW = timedelta(minutes=10)
LIMITS = {"pair": 5, "address": 40, "email": 40}
"""Failed sign-ins within the window before the next is refused: for one email from one address, and for each
alone.
"""


@cache
def hasher() -> PasswordHash:
    """The password hasher: argon2id."""
    return PasswordHash.recommended()


@cache
def _hash_of_nobody() -> str:
    return hasher().hash(secrets.token_hex(16))


def token_hash(token: str) -> bytes:
    """Hash a session token; a token is 256 random bits, so one plain round is enough."""
    return hashlib.sha256(token.encode()).digest()


@dataclass(frozen=True, slots=True)
class App:
    """What every request can reach: the pool, the settings, the queue of long work."""

    pool: Pool
    settings: Settings
    queue: Queue


def app_of(request: Request) -> App:
    """Give the app's shared parts."""
    return request.app.state.perch  # type: ignore[no-any-return]


def coach_of(request: Request, app: Annotated[App, Depends(app_of)]) -> UUID:
    """Say who is signed in. Raises Refused 401 without a good session."""
    token = request.cookies.get(COOKIE)
    if token:
        with transaction(app.pool) as db:
            coach = coaches.of_session(db, token_hash=token_hash(token), moment=datetime.now(UTC))
        if coach:
            return coach
    raise Refused(401, "You are signed out. Sign in again; what you entered waits in this browser.")


TheApp = Annotated[App, Depends(app_of)]
SignedIn = Annotated[UUID, Depends(coach_of)]


def check_origin(request: Request) -> None:
    """Refuse a write that another site's page sends with this coach's cookie. Raises Refused 403.

    Browsers always name the origin of a write; a client that names none is no browser and carries no one's
    cookie by accident.
    """
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return
    origin, site = request.headers.get("origin"), request.headers.get("sec-fetch-site")
    if (origin is not None and urlsplit(origin).netloc != request.headers.get("host")) or site in (
        "cross-site",
        "same-site",
    ):
        raise Refused(403, "This request came from another site's page and was not carried out.")


def open_session(response: Response, request: Request, app: App, coach: UUID) -> None:
    """Open a new session for a coach who has just shown who they are, and end the one this browser had."""
    moment = datetime.now(UTC)
    token = secrets.token_urlsafe(32)
    lasts = timedelta(days=app.settings.session_days)
    with transaction(app.pool, coach=coach) as db:
        if old := request.cookies.get(COOKIE):
            coaches.revoke_session(db, token_hash=token_hash(old), moment=moment)
        coaches.open_session(db, token_hash=token_hash(token), expires_at=moment + lasts)
    secure = request.url.scheme == "https"
    response.set_cookie(
        COOKIE,
        token,
        max_age=int(lasts.total_seconds()),
        httponly=True,
        samesite="lax",
        secure=secure,
        path="/",
    )


def sign_in(request: Request, app: App, *, email: str, password: str) -> UUID:
    """Check email and password. Raises Refused 401 if they do not fit, 429 after too many failures."""
    moment = datetime.now(UTC)
    address = request.client.host if request.client else "unknown"
    tried = {
        kind: hashlib.sha256(f"{kind}|{text}".encode()).digest()
        for kind, text in _throttle_names(email, address).items()
    }
    with transaction(app.pool) as db:
        for kind, name in tried.items():
            if coaches.failures(db, tried=[name], since=moment - WINDOW) >= LIMITS[kind]:
                wait = int(WINDOW.total_seconds())
                detail = f"Too many failed sign-ins. Wait {wait // 60} minutes and try again."
                raise Refused(429, detail, headers={"Retry-After": str(wait)})
        found = coaches.for_sign_in(db, email=email)
    # an unknown email costs the same time as a wrong password, and gets the same answer
    good, new_hash = hasher().verify_and_update(password, found[1] if found else _hash_of_nobody())
    if not good or found is None:
        with transaction(app.pool) as db:
            coaches.add_failure(db, tried=list(tried.values()), moment=moment)
        raise Refused(401, "Email and password do not fit together.")
    with transaction(app.pool, coach=found[0]) as db:
        coaches.forget_failures(db, tried=tried["pair"], before=moment - WINDOW)
        if new_hash:
            coaches.keep_hash(db, password_hash=new_hash)
    return found[0]


def _throttle_names(email: str, address: str) -> dict[str, str]:
    return {"pair": f"{email}|{address}", "address": address, "email": email}
