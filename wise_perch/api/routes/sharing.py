"""Secret addresses: made, listed, taken back, and the calendar that one of them opens."""

import secrets
from datetime import UTC, datetime, timedelta
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel, ConfigDict
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import App, SignedIn, TheApp, token_hash
from wise_perch.api.cases import judge_trainee, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import NewId
from wise_perch.core.floor.kept_session import doses_that_stood
from wise_perch.core.trainee.stored import ShareLink, Sharing
from wise_perch.core.week.week_plan import monday_of
from wise_perch.core.week.wishes import with_present_settings
from wise_perch.formats.plan_files import CalendarWeek, calendar
from wise_perch.store import floor, plans, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["sharing"])
Token = Annotated[str, Path(min_length=20, max_length=80, pattern="^[A-Za-z0-9_-]+$")]
WEEKS_BACK = 2
NO_LINK = "This address does not work, or no longer. Ask your coach for a new one."


class NewLink(BaseModel):
    """A secret address to make."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    kind: Literal["calendar", "page"]


@dataclass(frozen=True, kw_only=True)
class MadeLink:
    """A secret address just made: its path is shown once and not kept."""

    id: UUID
    kind: str
    path: str


@router.get("/trainees/{id}/links")
def list_links(id: UUID, app: TheApp, coach: SignedIn) -> tuple[ShareLink, ...]:
    """The secret addresses of a trainee that still work."""
    with transaction(app.pool, coach=coach) as db:
        trainees.one(db, id)
        return tuple(plans.links(db, id))


@router.post("/trainees/{id}/links", status_code=201)
def make_link(id: UUID, new: NewLink, app: TheApp, coach: SignedIn) -> MadeLink:
    """Make a secret address. It is shown once; take it back and make another if it is lost."""
    token = secrets.token_urlsafe(32)
    with transaction(app.pool, coach=coach) as db:
        trainees.one(db, id)
        if any(link.id == new.id for link in plans.links(db, id)):
            raise Refused(
                409, "This address was made already, and is shown only once. Take it back and make another."
            )
        plans.add_link(db, id=new.id, trainee=id, kind=new.kind, token_hash=token_hash(token))
    path = f"/api/feeds/{token}.ics" if new.kind == "calendar" else f"/shared/{token}"
    return MadeLink(id=new.id, kind=new.kind, path=path)


@router.post("/links/{id}/revoke")
def revoke_link(id: UUID, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Take a secret address back; it stops working at once."""
    with transaction(app.pool, coach=coach) as db:
        plans.revoke(db, id=id, moment=datetime.now(UTC))
    return {"id": id}


def find_sharing(app: App, token: str, kind: str) -> Sharing:
    """What an address opens. Raises Refused (404) for one that opens nothing of this kind."""
    with transaction(app.pool) as db:
        found = plans.of_token(db, token_hash(token))
    if found is None or found.kind != kind:
        raise Refused(404, NO_LINK)
    return found


@router.get(
    "/feeds/{token}.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}}
)
def calendar_feed(token: Token, app: TheApp) -> Response:
    """A trainee's sessions as a calendar to subscribe to."""
    link = find_sharing(app, token, "calendar")
    with transaction(app.pool, coach=link.coach) as db:
        house = load_house(db)
        who, case = judge_trainee(db, link.trainee, house)
        first = monday_of(house.today) - timedelta(weeks=WEEKS_BACK)
        stood = doses_that_stood(floor.of_days(db, who.id, first=first, last=case.on))
        times = plans.how_many(db, link.trainee, first)
        weeks = [
            CalendarWeek(
                planned=with_present_settings(p.planned, case, stood=stood),
                changes=times[p.week] - 1,
                at=p.at,
            )
            for p in plans.from_week(db, link.trainee, first)
        ]
    made = calendar(who.id, who.name, weeks, time_zone=house.coach.time_zone)
    # a calendar keeps what it fetched and asks whether it is still true
    headers = {"Cache-Control": "private, no-cache"}
    return Response(made, media_type="text/calendar; charset=utf-8", headers=headers)
