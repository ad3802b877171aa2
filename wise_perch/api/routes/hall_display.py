"""What a screen on the hall's wall shows of a class night, by its secret address: places and clocks,
nobody's results.
"""

from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter

from wise_perch.api.auth import TheApp, token_hash
from wise_perch.api.errors import Refused
from wise_perch.api.routes.sharing import Token
from wise_perch.core.class_night.display import DisplayPerson, tell_display
from wise_perch.store import class_nights
from wise_perch.store.errors import NotFound
from wise_perch.store.pool import transaction

router = APIRouter(tags=["class night"])
NO_DISPLAY = "This address shows nothing, or no longer. Ask a coach for a new one."


@dataclass(frozen=True, kw_only=True)
class DisplayPage:
    """A class night for a screen on the wall. The clock runs from `begun_at`, stands still from `held_since`
    on and stood still for `held_s` before. No health, no tests, no full names.
    """

    room: str
    time: str
    minutes: float
    begun_at: datetime | None
    held_since: datetime | None
    held_s: float
    closed: bool
    people: tuple[DisplayPerson, ...]


@router.get("/display/{token}")
def show_display(token: Token, app: TheApp) -> DisplayPage:
    """Who is where, what, and what comes next, for a screen in the hall."""
    with transaction(app.pool) as db:
        found = class_nights.of_token(db, token_hash(token))
    if found is None:
        raise Refused(404, NO_DISPLAY)
    member, id = found
    try:
        with transaction(app.pool, member=member) as db:
            evening = class_nights.one(db, id).evening
    except NotFound:
        raise Refused(404, NO_DISPLAY) from None
    return DisplayPage(
        room=evening.room,
        time=evening.time,
        minutes=evening.minutes,
        begun_at=evening.begun_at,
        held_since=evening.held_since,
        held_s=evening.held_s,
        closed=evening.closed_at is not None,
        people=tell_display(evening),
    )
