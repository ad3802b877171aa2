"""A class night taken along: as files, and as an address for a screen in the hall."""

import json
import secrets
from uuid import UUID

from fastapi import APIRouter, Request, Response

from wise_perch.api.addresses import Handed, hand_over
from wise_perch.api.auth import TheApp, token_hash
from wise_perch.api.cases import load_house
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.formats.evening_files import evening_as_calendar, evening_as_csv, evening_as_json
from wise_perch.store import class_nights
from wise_perch.store.pool import transaction

router = APIRouter(tags=["class night"])


@router.post("/classes/{id}/display", status_code=201)
def show_on_display(id: UUID, request: Request, app: TheApp, member: Coaching) -> Handed:
    """Make a secret address for a screen in the hall. It is shown once; the one before it no longer works."""
    token = secrets.token_urlsafe(32)
    with transaction(app.pool, member=member) as db:
        class_nights.one(db, id, to_change=True)
        class_nights.show(db, id, token_hash=token_hash(token))
    return hand_over(f"/display/{token}", request, app)


def _attached(body: str, media: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(body, media_type=f"{media}; charset=utf-8", headers=headers)


@router.get(
    "/classes/{id}/evening.json",
    response_class=Response,
    responses={200: {"content": {"application/json": {}}}},
)
def class_as_json(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """A class night as `./perch class` takes it, with its rotation."""
    with transaction(app.pool, member=member) as db:
        kept = class_nights.one(db, id)
    made = json.dumps(evening_as_json(kept.evening), ensure_ascii=False, indent=2)
    return _attached(made, "application/json", f"class-{kept.day}.json")


@router.get(
    "/classes/{id}/evening.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}}
)
def class_as_csv(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """A class night as CSV, one line a slot."""
    with transaction(app.pool, member=member) as db:
        kept = class_nights.one(db, id)
    return _attached(evening_as_csv(kept.evening), "text/csv", f"class-{kept.day}.csv")


@router.get(
    "/classes/{id}/evening.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}}
)
def class_as_calendar(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """A class night as a calendar, one event a slot."""
    with transaction(app.pool, member=member) as db:
        kept = class_nights.one(db, id)
        zone = load_house(db).hall.time_zone
    made = evening_as_calendar(kept.evening, id=id, time_zone=zone)
    return _attached(made, "text/calendar", f"class-{kept.day}.ics")
