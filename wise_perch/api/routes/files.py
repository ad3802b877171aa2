"""Tries in and out as CSV."""

from datetime import UTC, datetime
from uuid import UUID

from fastapi import APIRouter, Response, UploadFile

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.judgement import today_of
from wise_perch.formats.tables import Unreadable
from wise_perch.formats.tries_csv import read_tries, write_tries
from wise_perch.store import coaches, evidence, trainees
from wise_perch.store.imports import ImportPlan, import_tries
from wise_perch.store.pool import transaction

router = APIRouter(tags=["files"])
PROBLEMS_NAMED = 200


@router.get("/tries.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def export(app: TheApp, coach: SignedIn, trainee: UUID | None = None) -> Response:
    """Every try that counts, of all trainees or one, as CSV."""
    with transaction(app.pool, coach=coach) as db:
        if trainee:
            trainees.one(db, trainee)
        text = write_tries(evidence.every_try(db, trainee=trainee))
        day = today_of(coaches.me(db))
    name = f"free-tries-{day}.csv"
    # a mark at the start tells spreadsheets that the text is UTF-8
    return Response(
        b"\xef\xbb\xbf" + text.encode(), media_type="text/csv; charset=utf-8", headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.post("/tries.csv")
def import_file(file: UploadFile, app: TheApp, coach: SignedIn, keep: bool = False) -> ImportPlan:
    """Read a CSV of tries: without `keep` only say what would happen, with it keep all or nothing."""
    try:
        read = read_tries(file.file.read())
    except Unreadable as error:
        raise Refused(422, str(error)) from error
    with transaction(app.pool, coach=coach) as db:
        me = coaches.me(db)
        plan = import_tries(db, read, time_zone=me.time_zone, now=datetime.now(UTC), keep=keep)
    if keep and plan.problems:
        named = [{"where": f"line {p.line}", "what": p.what} for p in plan.problems[:PROBLEMS_NAMED]]
        raise Refused(422, f"Nothing was kept: {len(plan.problems)} lines can not be read.", problems=named)
    return plan
