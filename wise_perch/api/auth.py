"""Sign-in: argon2id passwords, sessions known by the hash of their token, throttled failures, origin-checked
writes.
"""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache
from ipaddress import ip_address, ip_network
from typing import Annotated
from urllib.parse import urlsplit

from fastapi import Depends, Request, Response
from fastapi.security import APIKeyCookie, HTTPAuthorizationCredentials, HTTPBearer
from pwdlib import PasswordHash

from wise_perch.api.errors import Refused
from wise_perch.api.listener import Listener
from wise_perch.api.queue import Queue
from wise_perch.api.settings import Settings
from wise_perch.core.trainee.hall import Member
from wise_perch.store import coaches, halls
from wise_perch.store.pool import Pool, one_statement, transaction

COOKIE = "perch_session"
DEVICE = "perch_device"
"""A cookie of its own, which outlives sessions: on a browser that signed in before nobody else's guesses
count.
"""
DEVICE_DAYS = 400
WINDOW = timedelta(minutes=10)
LIMITS = {"pair": 5, "address": 40, "email": 40, "device": 10, "password": 10}
"""Failed sign-ins within the window before the next is refused: for one email from one address, for each
alone, on a browser known to this coach, and for a password asked again of who is signed in.
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


BY_COOKIE = APIKeyCookie(name=COOKIE, scheme_name="session", auto_error=False)
BY_TOKEN = HTTPBearer(scheme_name="token", auto_error=False)


@dataclass(frozen=True, slots=True)
class App:
    """What every request can reach: the pool, the settings, the queue of long work, what changes."""

    pool: Pool
    settings: Settings
    queue: Queue
    listener: Listener


async def app_of(request: Request) -> App:
    """Give the app's shared parts. Not in a thread: it only looks."""
    return request.app.state.perch  # type: ignore[no-any-return]


def _of_cookie(token: str | None, app: App) -> Member | None:
    if not token:
        return None
    with one_statement(app.pool) as db:
        return coaches.of_session(db, token_hash=token_hash(token), moment=datetime.now(UTC))


def known_coach(
    app: Annotated[App, Depends(app_of)],
    cookie: Annotated[str | None, Depends(BY_COOKIE)],
    bearer: Annotated[HTTPAuthorizationCredentials | None, Depends(BY_TOKEN)],
) -> Member:
    """Say who is signed in, by a session's cookie or a token for scripts, in a hall or not yet. Raises
    Refused 401 without a good one.
    """
    if member := _of_cookie(cookie, app):
        return member
    if bearer is not None:
        with one_statement(app.pool) as db:
            found = coaches.of_token(db, token_hash=token_hash(bearer.credentials), moment=datetime.now(UTC))
        if found:
            return found
        raise Refused(401, "This token is not known here, or was taken back.")
    raise Refused(401, "You are signed out. Sign in again. What you entered waits in this browser.")


def coach_in_person(
    app: Annotated[App, Depends(app_of)], cookie: Annotated[str | None, Depends(BY_COOKIE)]
) -> Member:
    """Say who is signed in by a session, in a hall or not; a token for scripts does not do for what opens
    doors. Raises Refused 401.
    """
    if member := _of_cookie(cookie, app):
        return member
    raise Refused(401, "This is for a coach who is signed in, and not for a script's token.")


TheApp = Annotated[App, Depends(app_of)]
Known = Annotated[Member, Depends(known_coach)]
InPerson = Annotated[Member, Depends(coach_in_person)]


async def check_origin(request: Request) -> None:
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


def _believed(request: Request, proxies: str) -> bool:
    """Whether the other end of this connection is a proxy that was named."""
    if request.client is None or not proxies:
        return False
    return _is_among(request.client.host, proxies)


def _is_among(address: str, proxies: str) -> bool:
    try:
        one = ip_address(address)
        return any(one in ip_network(named, strict=False) for named in proxies.split())
    except ValueError:
        return False


def address_of(request: Request, settings: Settings) -> str:
    """Where a request comes from: the other end of the connection, or, behind a proxy that was named, the
    last address before it that is no such proxy. What anybody else writes into the header is not believed.
    """
    address = request.client.host if request.client else "unknown"
    if not _believed(request, settings.proxies):
        return address
    for told in reversed(request.headers.get("x-forwarded-for", "").split(",")):
        if told.strip() and not _is_among(told.strip(), settings.proxies):
            return told.strip()
    return address


def over_tls(request: Request, settings: Settings) -> bool:
    """Whether a request came over TLS, to us or to a proxy that is believed."""
    told = request.headers.get("x-forwarded-proto", "") if _believed(request, settings.proxies) else ""
    return (told or request.url.scheme) == "https"


def _device_of(request: Request) -> str:
    """What a session is told apart by: the kind of device, by what it says of itself."""
    says = request.headers.get("user-agent", "").lower()
    if "mobi" in says or "android" in says:
        return "phone or tablet"
    return "computer" if "mozilla" in says else "program"


def open_session(response: Response, request: Request, app: App, member: Member) -> Member:
    """Open a new session for a coach who has just shown who they are, and end the one this browser had, even
    where it was another coach's. Without a hall it opens in the only one they are in; of several they choose.
    """
    moment = datetime.now(UTC)
    token = secrets.token_urlsafe(32)
    device = request.cookies.get(DEVICE) or secrets.token_urlsafe(32)
    lasts = timedelta(days=app.settings.session_days)
    with transaction(app.pool, member=member) as db:
        if old := request.cookies.get(COOKIE):
            coaches.end_session(db, token_hash=token_hash(old), moment=moment)
        own = {hall.id: hall for hall in halls.of_coach(db)}
        here = own.get(member.hall) if member.hall else next(iter(own.values())) if len(own) == 1 else None
        hall = here.id if here else None
        coaches.open_session(
            db,
            token_hash=token_hash(token),
            expires_at=moment + lasts,
            device=_device_of(request),
            hall=hall,
        )
        coaches.know_device(db, token_hash=token_hash(device))
    secure = over_tls(request, app.settings)
    for name, value, age in ((COOKIE, token, lasts), (DEVICE, device, timedelta(days=DEVICE_DAYS))):
        response.set_cookie(
            name,
            value,
            max_age=int(age.total_seconds()),
            httponly=True,
            samesite="lax",
            secure=secure,
            path="/",
        )
    return Member(coach=member.coach, hall=hall, role=here.role if here else None)


def _name_of(kind: str, text: str) -> bytes:
    return hashlib.sha256(f"{kind}|{text}".encode()).digest()


def _count(app: App, names: dict[str, str]) -> None:
    """Count a try under each name before anything is hashed. Raises Refused 429 where it is too many."""
    moment = datetime.now(UTC)
    tried = {_name_of(kind, text): LIMITS[kind] for kind, text in names.items()}
    with transaction(app.pool) as db:
        times = coaches.count_try(db, tried=list(tried), moment=moment, before=moment - WINDOW)
    if any(times[name] > most for name, most in tried.items()):
        wait = int(WINDOW.total_seconds())
        detail = f"Too many failed sign-ins. Wait {wait // 60} minutes and try again."
        raise Refused(429, detail, headers={"Retry-After": str(wait)})


def check_sign_in(request: Request, app: App, *, email: str, password: str) -> Member:
    """Check email and password. Raises Refused 401 if they do not fit, 429 after too many failures.

    Whoever guesses is slowed down by where they guess from; the email counts only for browsers that its coach
    never signed in on.
    """
    moment = datetime.now(UTC)
    address = address_of(request, app.settings)
    device = request.cookies.get(DEVICE, "")
    with transaction(app.pool) as db:
        known = bool(device) and coaches.knows_device(db, email=email, token_hash=token_hash(device))
    if known:
        counted = {"device": f"{email}|{device}"}
        _count(app, counted)
    else:
        counted = {"address": address, "pair": f"{email}|{address}", "email": email}
        # one after the other: an address that is refused already counts against nobody's email
        for kind, name in counted.items():
            _count(app, {kind: name})
    with transaction(app.pool) as db:
        found = coaches.for_sign_in(db, email=email)
    # an unknown email costs the same time as a wrong password, and gets the same answer
    good, new_hash = hasher().verify_and_update(password, found[1] if found else _hash_of_nobody())
    if not good or found is None:
        raise Refused(401, "Email and password do not fit together.")
    who = Member(coach=found[0])
    with transaction(app.pool, member=who) as db:
        coaches.uncount_try(db, tried=[_name_of(kind, text) for kind, text in counted.items()])
        own = "device" if known else "pair"
        coaches.forget_tries(db, tried=_name_of(own, counted[own]), before=moment - WINDOW)
        if new_hash:
            coaches.keep_hash(db, password_hash=new_hash)
    return who


def check_password(app: App, member: Member, password: str) -> str:
    """Ask who is signed in for their password again, and give the hash that it fits.

    Raises Refused 403 if it is wrong, 429 after too many.
    """
    _count(app, {"password": str(member.coach)})
    with transaction(app.pool, member=member) as db:
        present = coaches.own_hash(db)
    if not hasher().verify(password, present):
        raise Refused(403, "That is not your present password. Nothing was changed.")
    with transaction(app.pool) as db:
        coaches.uncount_try(db, tried=[_name_of("password", str(member.coach))])
    return present
