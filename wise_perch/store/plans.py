"""Kept plans of weeks, version by version, and secret addresses of a calendar or a trainee's own page."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Literal, LiteralString
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.stored import HallSharing, ShareLink, Sharing
from wise_perch.core.week.kept_plan import KeptPlan, PlanVersion
from wise_perch.core.week.week_plan import WeekPlan, Wish
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("plans")
WISH, PLAN = TypeAdapter(Wish), TypeAdapter(WeekPlan)
LinkKind = Literal["calendar", "page", "hall"]


def _plan_of(row: dict[str, Any]) -> KeptPlan:
    typed = {
        "wish": WISH.validate_python(row["wish"], strict=False),
        "planned": PLAN.validate_python(row["planned"], strict=False),
    }
    return KeptPlan(**{**row, **typed})


def _fetch_rows(db: Connection, statement: LiteralString, values: dict[str, Any]) -> list[dict[str, Any]]:
    with db.cursor(row_factory=dict_row) as cursor:
        return cursor.execute(statement, values).fetchall()


def keep(
    db: Connection, *, id: UUID, trainee: UUID, at: datetime, wish: Wish, planned: WeekPlan, note: str
) -> KeptPlan:
    """Keep a version of a week's plan; sending the same again changes nothing. Raises Conflict if the id
    stands for another.
    """
    values = {"id": id, "trainee": trainee, "week": wish.week, "at": at, "note": note}
    documents = {
        "wish": Jsonb(WISH.dump_python(wish, mode="json")),
        "planned": Jsonb(PLAN.dump_python(planned, mode="json")),
    }
    db.execute(SQL["keep"], {**values, **documents})
    kept = one(db, id)
    if (kept.trainee, kept.wish) != (trainee, wish):
        raise Conflict("This id already stands for another plan.")
    return kept


def one(db: Connection, id: UUID) -> KeptPlan:
    """Give one version. Raises NotFound."""
    rows = _fetch_rows(db, SQL["one"], {"id": id})
    if not rows:
        raise NotFound("There is no such plan.")
    return _plan_of(rows[0])


def is_kept(db: Connection, id: UUID) -> bool:
    """Say whether a version of this id is there."""
    return db.execute(SQL["is_kept"], {"id": id}).fetchone() is not None


def how_many(db: Connection, trainee: UUID, week: date) -> dict[date, int]:
    """Say how many versions each week from `week` on has."""
    return dict(db.execute(SQL["how_many"], {"trainee": trainee, "week": week}).fetchall())


def newest(db: Connection, trainee: UUID, week: date) -> KeptPlan | None:
    """Give the newest version of a week's plan, if there is one."""
    rows = _fetch_rows(db, SQL["newest"], {"trainee": trainee, "week": week})
    return _plan_of(rows[0]) if rows else None


def last(db: Connection, trainee: UUID) -> KeptPlan | None:
    """Give the newest version of the latest week that was planned, if there is one."""
    rows = _fetch_rows(db, SQL["last"], {"trainee": trainee})
    return _plan_of(rows[0]) if rows else None


def from_week(db: Connection, trainee: UUID, week: date) -> list[KeptPlan]:
    """Give the newest version of each week from one on, earliest first."""
    return [_plan_of(row) for row in _fetch_rows(db, SQL["from_week"], {"trainee": trainee, "week": week})]


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedDays:
    """The days that a trainee's newest plan of a week has, and which plan that is."""

    trainee: UUID
    id: UUID
    days: list[date]


def days_of_week(db: Connection, week: date) -> dict[UUID, PlannedDays]:
    """Give for which days of a week everybody is planned, by trainee."""
    with db.cursor(row_factory=class_row(PlannedDays)) as cursor:
        return {p.trainee: p for p in cursor.execute(SQL["days_of_week"], {"week": week}).fetchall()}


def versions(db: Connection, trainee: UUID, week: date) -> Sequence[PlanVersion]:
    """Give every version of a week's plan, the newest first."""
    with db.cursor(row_factory=class_row(PlanVersion)) as cursor:
        return cursor.execute(SQL["versions"], {"trainee": trainee, "week": week}).fetchall()


def add_link(db: Connection, *, id: UUID, trainee: UUID | None, kind: LinkKind, token_hash: bytes) -> None:
    """Keep the hash of a secret address; one for the whole hall is of no trainee."""
    db.execute(SQL["add_link"], {"id": id, "trainee": trainee, "kind": kind, "token_hash": token_hash})


def links(db: Connection, trainee: UUID | None) -> Sequence[ShareLink]:
    """Give the secret addresses of a trainee, or of the whole hall, that still work."""
    with db.cursor(row_factory=class_row(ShareLink)) as cursor:
        return cursor.execute(SQL["links"], {"trainee": trainee}).fetchall()


def revoke(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Take a secret address back. Raises NotFound."""
    if db.execute(SQL["revoke"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such address.")


def of_token(db: Connection, token_hash: bytes) -> Sharing | HallSharing | None:
    """Say whose secret address this is, if it still works. Needs no coach."""
    row = db.execute(SQL["of_token"], {"token_hash": token_hash}).fetchone()
    if row is None:
        return None
    hall, coach, trainee, kind = row
    member = Member(coach=coach, hall=hall)
    return Sharing(member=member, trainee=trainee, kind=kind) if trainee else HallSharing(member=member)
