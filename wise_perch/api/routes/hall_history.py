"""Who did what in a hall."""

from datetime import date, datetime, time, timedelta
from typing import Annotated
from uuid import UUID
from zoneinfo import ZoneInfo

from fastapi import APIRouter, Query
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_house
from wise_perch.api.fields import Day
from wise_perch.api.members import SignedIn
from wise_perch.core.trainee.deeds import say_deed
from wise_perch.core.trainee.hall import HallDeed
from wise_perch.store import halls
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/hall", tags=["hall"])
DEEDS_DAYS = 7


@dataclass(frozen=True, kw_only=True)
class HallHistory:
    """What was done in a hall from one day to another, the newest first. `more`: not all of it is shown."""

    first: date
    last: date
    more: bool
    deeds: tuple[HallDeed, ...]


@router.get("/history")
def show_history(
    app: TheApp,
    member: SignedIn,
    last: Annotated[Day | None, Query()] = None,
    by: UUID | None = None,
) -> HallHistory:
    """What was done in the hall in the week up to a day, of everybody or of one member."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        until = last or house.today
        zone = ZoneInfo(house.hall.time_zone)
        before = datetime.combine(until + timedelta(days=1), time(), zone)
        since = before - timedelta(days=DEEDS_DAYS)
        rows = halls.deeds(db, since=since, before=before, time_zone=house.hall.time_zone, by=by)
        syllabus = house.syllabus
        titles = {t.test: t.title for t in syllabus.tests.values()} | {
            d.drill: d.title for d in syllabus.drills.values()
        }
        deeds = tuple(
            HallDeed(
                at=row.at,
                # what was told on the own page the trainee told
                by=row.by or row.name,
                what=say_deed(
                    kind=row.kind, what=row.what, n=row.n, name=row.name, titles=titles, on=house.today
                ),
                trainee=row.trainee,
                name=row.name if row.trainee else "",
            )
            for row in rows
        )
    return HallHistory(
        first=until - timedelta(days=DEEDS_DAYS - 1),
        last=until,
        more=len(deeds) == halls.MOST_DEEDS,
        deeds=deeds,
    )
