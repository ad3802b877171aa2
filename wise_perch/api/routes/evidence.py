"""Tries and sets taken back and brought back."""

from datetime import UTC, datetime
from uuid import UUID

from fastapi import APIRouter
from psycopg import Connection

from wise_perch.api.auth import TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.members import SignedIn
from wise_perch.core.trainee.hall import Member
from wise_perch.store import evidence
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/evidence", tags=["evidence"])


@router.post("/{id}/strike", status_code=204)
def strike_evidence(id: UUID, app: TheApp, member: SignedIn) -> None:
    """Strike out a try or a set; it can be brought back."""
    with transaction(app.pool, member=member) as db:
        _check_own(db, id, member)
        evidence.strike(db, id=id, moment=datetime.now(UTC))


@router.post("/{id}/restore", status_code=204)
def restore_evidence(id: UUID, app: TheApp, member: SignedIn) -> None:
    """Bring back a try or a set that was struck out."""
    with transaction(app.pool, member=member) as db:
        _check_own(db, id, member)
        evidence.strike(db, id=id, moment=None)


def _check_own(db: Connection, id: UUID, member: Member) -> None:
    """Raise Refused (403) where an assistant would take back what somebody else recorded."""
    if not member.may("coach") and evidence.author(db, id) != member.coach:
        raise Refused(403, "Somebody else recorded this. A coach of the hall takes it back.")
