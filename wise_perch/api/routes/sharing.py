"""Secret addresses: made, listed, taken back, and the calendar that one of them opens."""

import secrets
from dataclasses import asdict, replace
from datetime import UTC, date, datetime, timedelta
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Path, Request, Response
from psycopg import Connection
from pydantic import BaseModel, ConfigDict
from pydantic.dataclasses import dataclass

from wise_perch.api.addresses import Handed, hand_over
from wise_perch.api.auth import App, TheApp, token_hash
from wise_perch.api.cases import House, judge_trainee, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import NewId
from wise_perch.api.members import Coaching
from wise_perch.core.floor.kept_session import doses_that_stood
from wise_perch.core.trainee.stored import HallSharing, ShareLink, Sharing
from wise_perch.core.week.week_plan import monday_of
from wise_perch.core.week.wishes import with_present_settings
from wise_perch.formats.plan_files import CalendarWeek, SessionsOf, calendar
from wise_perch.store import floor, plans, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["sharing"])
Token = Annotated[str, Path(min_length=20, max_length=80, pattern="^[A-Za-z0-9_-]+$")]
WEEKS_BACK = 2
MADE_ALREADY = "This address was made already, and is shown only once. Take it back and make another."
NO_LINK = "This address does not work, or no longer. Ask your coach for a new one."


class NewLink(BaseModel):
    """A secret address to make."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    kind: Literal["calendar", "page"]


@dataclass(frozen=True, kw_only=True)
class MadeLink(Handed):
    """A secret address just made: it is shown once and not kept."""

    id: UUID
    kind: str


@router.get("/trainees/{id}/links")
def list_links(id: UUID, app: TheApp, member: Coaching) -> tuple[ShareLink, ...]:
    """The secret addresses of a trainee that still work."""
    with transaction(app.pool, member=member) as db:
        trainees.one(db, id)
        return tuple(plans.links(db, id))


@router.post("/trainees/{id}/links", status_code=201)
def make_link(id: UUID, new: NewLink, request: Request, app: TheApp, member: Coaching) -> MadeLink:
    """Make a secret address. It is shown once; take it back and make another if it is lost."""
    token = secrets.token_urlsafe(32)
    with transaction(app.pool, member=member) as db:
        trainees.one(db, id)
        if any(link.id == new.id for link in plans.links(db, id)):
            raise Refused(409, MADE_ALREADY)
        plans.add_link(db, id=new.id, trainee=id, kind=new.kind, token_hash=token_hash(token))
    path = f"/api/feeds/{token}.ics" if new.kind == "calendar" else f"/shared/{token}"
    return MadeLink(id=new.id, kind=new.kind, **asdict(hand_over(path, request, app)))


@router.post("/links/{id}/revoke")
def revoke_link(id: UUID, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Take a secret address back; it stops working at once."""
    with transaction(app.pool, member=member) as db:
        plans.revoke(db, id=id, moment=datetime.now(UTC))
    return {"id": id}


def find_sharing(app: App, token: str, kind: str) -> Sharing:
    """What an address opens. Raises Refused (404) for one that opens nothing of this kind."""
    found = _find_any(app, token)
    if isinstance(found, HallSharing) or found.kind != kind:
        raise Refused(404, NO_LINK)
    return found


def _find_any(app: App, token: str) -> Sharing | HallSharing:
    with transaction(app.pool) as db:
        found = plans.of_token(db, token_hash(token))
    if found is None:
        raise Refused(404, NO_LINK)
    return found


@router.get("/hall/links", tags=["hall"])
def list_hall_links(app: TheApp, member: Coaching) -> tuple[ShareLink, ...]:
    """The secret addresses of the hall's calendar that still work."""
    with transaction(app.pool, member=member) as db:
        return tuple(plans.links(db, None))


class NewHallLink(BaseModel):
    """A secret address of the hall's calendar to make."""

    id: NewId


@router.post("/hall/links", status_code=201, tags=["hall"])
def make_hall_link(new: NewHallLink, request: Request, app: TheApp, member: Coaching) -> Handed:
    """Make a secret address for one calendar of the whole hall. It is shown once."""
    token = secrets.token_urlsafe(32)
    with transaction(app.pool, member=member) as db:
        if any(link.id == new.id for link in plans.links(db, None)):
            raise Refused(409, MADE_ALREADY)
        plans.add_link(db, id=new.id, trainee=None, kind="hall", token_hash=token_hash(token))
    return hand_over(f"/api/feeds/{token}.ics", request, app)


@router.get(
    "/feeds/{token}.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}}
)
def calendar_feed(token: Token, app: TheApp) -> Response:
    """Sessions as a calendar to subscribe to: a trainee's, or the whole hall's."""
    link = _find_any(app, token)
    if isinstance(link, Sharing) and link.kind != "calendar":
        raise Refused(404, NO_LINK)
    with transaction(app.pool, member=link.member) as db:
        house = load_house(db)
        first = monday_of(house.today) - timedelta(weeks=WEEKS_BACK)
        if isinstance(link, Sharing):
            made = calendar([_sessions_of(db, link.trainee, house, first)], time_zone=house.hall.time_zone)
        else:
            # as they were kept: of everybody at once no setting is looked up again
            whose = [
                SessionsOf(trainee=t.id, name=t.name, weeks=_kept_weeks(db, t.id, first))
                for t in trainees.every(db)
            ]
            made = calendar(whose, time_zone=house.hall.time_zone, name=house.hall.name)
    # a calendar keeps what it fetched and asks whether it is still true
    headers = {"Cache-Control": "private, no-cache"}
    return Response(made, media_type="text/calendar; charset=utf-8", headers=headers)


def _sessions_of(db: Connection, trainee: UUID, house: House, first: date) -> SessionsOf:
    who, case = judge_trainee(db, trainee, house)
    stood = doses_that_stood(floor.of_days(db, who.id, first=first, last=case.on))
    weeks = [
        replace(week, planned=with_present_settings(week.planned, case, stood=stood))
        for week in _kept_weeks(db, trainee, first)
    ]
    return SessionsOf(trainee=who.id, name=who.name, weeks=weeks)


def _kept_weeks(db: Connection, trainee: UUID, first: date) -> list[CalendarWeek]:
    times = plans.how_many(db, trainee, first)
    return [
        CalendarWeek(planned=p.planned, changes=times[p.week] - 1, at=p.at)
        for p in plans.from_week(db, trainee, first)
    ]
