"""The whole hall as one archive, out and in; trainees put away, brought back, and erased."""

from collections.abc import Iterator
from datetime import UTC, datetime
from tempfile import SpooledTemporaryFile
from typing import IO
from uuid import UUID

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse
from psycopg import DataError, IntegrityError
from pydantic import BaseModel

from wise_perch.api.auth import App, TheApp, check_password
from wise_perch.api.cases import load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import NewId, TypedPassword, printable
from wise_perch.api.members import Coaching, Owning, OwningInPerson, SignedIn
from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.stored import Trainee
from wise_perch.formats.archive import BadArchive, read_archive, write_archive
from wise_perch.store import archive, syllabi, trainees
from wise_perch.store.archive import ArchivePlan
from wise_perch.store.errors import NotFound
from wise_perch.store.imports import hold_imports
from wise_perch.store.pool import transaction
from wise_perch.store.trainees import AwayTrainee, Receipt

router = APIRouter(tags=["archive"])
ARCHIVE = {200: {"content": {"application/json": {"schema": {"type": "array", "items": {}}}}}}


@router.get("/archive", response_class=StreamingResponse, responses=ARCHIVE)  # type: ignore[arg-type]
def export_archive(app: TheApp, member: Coaching, trainee: UUID | None = None) -> StreamingResponse:
    """Everything the hall has, for its owner, or one trainee with everything of theirs, as one archive."""
    if trainee is None and not member.may("owner"):
        raise Refused(403, "The whole hall's archive is for its owner. A trainee's own is for every coach.")
    name = f"wise-perch-{datetime.now(UTC):%Y-%m-%d}.json"
    if trainee is not None:
        with transaction(app.pool, member=member) as db:
            # another coach's, or nobody's, is said before anything is sent
            trainees.anybody(db, trainee)
        name = f"trainee-{trainee}.json"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return StreamingResponse(
        _write(app, member, trainee), media_type="application/json; charset=utf-8", headers=headers
    )


def _write(app: App, member: Member, trainee: UUID | None) -> Iterator[bytes]:
    with transaction(app.pool, member=member, one_moment=True) as db:
        yield from write_archive(archive.records(db, trainee=trainee))


class _LookedAt(Exception):
    """Takes back what was only tried."""


IN_MEMORY = 4 * 1024 * 1024
BODY = {"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "array"}}}}}


@router.post("/archive", openapi_extra=BODY)
async def import_archive(request: Request, app: TheApp, member: Owning, keep: bool = False) -> ArchivePlan:
    """Take an archive in: without `keep` only say what would happen, with it keep all or nothing.

    Looking does all that keeping does, and takes it back: what it says is what will be.
    """
    # read only now, when it is known whose it is: nobody else fills the disk
    with SpooledTemporaryFile(max_size=IN_MEMORY) as file:
        async for piece in request.stream():
            file.write(piece)
        file.seek(0)
        return await run_in_threadpool(_take, file, app, member, keep=keep)


def _take(file: IO[bytes], app: App, member: Member, *, keep: bool) -> ArchivePlan:
    plan = ArchivePlan()
    try:
        with transaction(app.pool, member=member) as db:
            hold_imports(db)
            syllabi.hold(db)
            new = archive.is_new(db)
            for kind, record in read_archive(file):
                archive.take(db, kind, record, plan, new=new)
            # a syllabus that cannot be read would close every page
            load_house(db)
            plan.kept = keep
            if not keep:
                raise _LookedAt
    except _LookedAt:
        return plan
    except BadArchive as error:
        raise Refused(422, f"Nothing was kept: {error}.") from None
    except NotFound:
        raise Refused(
            422, "Nothing was kept: the archive contradicts itself (something in it names what is not in it)."
        ) from None
    except (IntegrityError, DataError) as error:
        said = (error.diag.message_primary or "").replace('"', "")
        raise Refused(422, f"Nothing was kept: the archive contradicts itself ({said}).") from None
    return plan


@router.post("/trainees/{id}/put-away", status_code=204)
def put_away(id: UUID, app: TheApp, member: Coaching) -> None:
    """Put a trainee who left away: they are shown nowhere, and everything of theirs stays."""
    with transaction(app.pool, member=member) as db:
        trainees.put_away(db, id=id, moment=datetime.now(UTC))


@router.post("/trainees/{id}/bring-back")
def bring_back(id: UUID, app: TheApp, member: Coaching) -> Trainee:
    """Bring a trainee back as they were left."""
    with transaction(app.pool, member=member) as db:
        return trainees.bring_back(db, id=id)


@router.get("/away")
def list_away(app: TheApp, member: SignedIn) -> list[AwayTrainee]:
    """Who was put away, by name."""
    with transaction(app.pool, member=member) as db:
        return trainees.away(db)


class Erasing(BaseModel):
    """What has to be said before somebody is erased: their name as it is kept, and the coach's password."""

    receipt: NewId
    name: str
    present: TypedPassword


@router.post("/trainees/{id}/erase")
def erase(id: UUID, said: Erasing, app: TheApp, member: OwningInPerson) -> Receipt:
    """Delete a trainee who was put away, with everything of theirs, for good."""
    check_password(app, member, said.present)
    with transaction(app.pool, member=member) as db:
        who = trainees.anybody(db, id)
        if who.name.casefold() != printable(said.name).casefold():
            raise Refused(422, f"The name does not fit: it is kept as {who.name}. Nothing was erased.")
        return trainees.erase(db, id=id, receipt=said.receipt)


@router.get("/receipts")
def list_receipts(app: TheApp, member: SignedIn) -> list[Receipt]:
    """What was erased for good: how much of what, and when; nobody's name."""
    with transaction(app.pool, member=member) as db:
        return trainees.receipts(db)
