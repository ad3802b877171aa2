"""Planned weeks taken along as files: JSON, CSV, calendar."""

import json
from uuid import UUID

from fastapi import APIRouter, Response
from psycopg import Connection

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_house
from wise_perch.api.members import SignedIn
from wise_perch.api.routes.plans import sessions_of_week
from wise_perch.core.floor.kept_session import doses_that_stood
from wise_perch.core.trainee.stored import Trainee
from wise_perch.core.week.kept_plan import KeptPlan
from wise_perch.core.week.week_plan import WeekPlan
from wise_perch.core.week.wishes import with_present_settings
from wise_perch.formats.plan_files import CalendarWeek, SessionsOf, calendar, write_plan
from wise_perch.store import plans
from wise_perch.store.plans import PLAN
from wise_perch.store.pool import transaction

router = APIRouter(tags=["plans"])


def _as_it_stands(db: Connection, kept: KeptPlan) -> tuple[Trainee, WeekPlan]:
    """A kept week as its page shows it, for a file."""
    who, case = judge_trainee(db, kept.trainee, load_house(db))
    stood = doses_that_stood(sessions_of_week(db, who.id, kept.week))
    return who, with_present_settings(kept.planned, case, stood=stood)


@router.get(
    "/plans/{id}/plan.json", response_class=Response, responses={200: {"content": {"application/json": {}}}}
)
def plan_json(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """One version as JSON, as docs/formats.md says, with the doses of the day."""
    with transaction(app.pool, member=member) as db:
        kept = plans.one(db, id)
        who, planned = _as_it_stands(db, kept)
    body = {"trainee": who.name, **PLAN.dump_python(planned, mode="json")}
    return _as_file(
        json.dumps(body, ensure_ascii=False, indent=1).encode(), "application/json", f"plan-{kept.week}.json"
    )


@router.get("/plans/{id}/plan.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def plan_csv(id: UUID, app: TheApp, member: SignedIn, semicolons: bool = False) -> Response:
    """One version as CSV, a line for each block, with the doses of the day; with `semicolons` decimals have
    commas, as some spreadsheets want it.
    """
    with transaction(app.pool, member=member) as db:
        kept = plans.one(db, id)
        _, planned = _as_it_stands(db, kept)
    return _as_file(
        b"\xef\xbb\xbf" + write_plan(planned, semicolons=semicolons).encode(),
        "text/csv; charset=utf-8",
        f"plan-{kept.week}.csv",
    )


@router.get(
    "/plans/{id}/plan.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}}
)
def plan_calendar(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """One version as a calendar file, with the doses of the day."""
    with transaction(app.pool, member=member) as db:
        kept, house = plans.one(db, id), load_house(db)
        who, planned = _as_it_stands(db, kept)
        earlier = plans.how_many(db, who.id, kept.week)[kept.week] - 1
    week = CalendarWeek(planned=planned, changes=earlier, at=kept.at)
    made = calendar([SessionsOf(trainee=who.id, name=who.name, weeks=[week])], time_zone=house.hall.time_zone)
    return _as_file(made, "text/calendar; charset=utf-8", f"plan-{kept.week}.ics")


def _as_file(content: bytes, kind: str, name: str) -> Response:
    return Response(
        content, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )
