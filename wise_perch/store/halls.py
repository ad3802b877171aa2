"""Halls and their people: who is in one, who may come in, who did what."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row

from wise_perch.core.trainee.first_evening import HallSoFar
from wise_perch.core.trainee.hall import Hall, HallMember, Invitation, OwnHall, Role
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("halls")
LinkKind = Literal["invitation", "device", "reset"]
"""What a link that works once does: lets somebody in, signs a coach in elsewhere, gives a new password."""
EventKind = Literal["invited", "joined", "role", "left", "taken-out", "handed-over", "reset", "named"]
NOBODY_THERE = "There is nobody like that in this hall."
LAST_OWNER = "A hall needs an owner. Make somebody else an owner first."
MOST_DEEDS = 500


def add(db: Connection, *, name: str, time_zone: str) -> None:
    """Add the hall that this transaction acts in; its owner joins next."""
    db.execute(SQL["add"], {"name": name, "time_zone": time_zone})


def one(db: Connection) -> Hall:
    """Give the hall this transaction acts in. Raises NotFound if it acts in none."""
    with db.cursor(row_factory=class_row(Hall)) as cursor:
        found = cursor.execute(SQL["one"]).fetchone()
    if found is None:
        raise NotFound("There is no such hall.")
    return found


def change(
    db: Connection,
    *,
    name: str | None = None,
    time_zone: str | None = None,
    float_switch_s: float | None = None,
) -> None:
    """Change what is given of the hall this transaction acts in."""
    db.execute(SQL["change"], {"name": name, "time_zone": time_zone, "float_switch_s": float_switch_s})


def so_far(db: Connection) -> tuple[HallSoFar, tuple[str, ...]]:
    """Give what the hall has of a first evening, and what of it was put off."""
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["so_far"]).fetchone()
    assert row is not None
    left = tuple(row.pop("put_off") or ())
    return HallSoFar(**row), left


def put_off(db: Connection, *, step: str, off: bool) -> None:
    """Put a step of the first evening off, or take it up again."""
    db.execute(SQL["put_off"], {"step": step, "off": off})


def of_coach(db: Connection) -> tuple[OwnHall, ...]:
    """Give the halls of the coach this transaction acts as, by name."""
    with db.cursor(row_factory=class_row(OwnHall)) as cursor:
        return tuple(cursor.execute(SQL["of_coach"]).fetchall())


def people(db: Connection) -> list[HallMember]:
    """Give who is in this hall, and after them who was."""
    with db.cursor(row_factory=class_row(HallMember)) as cursor:
        return cursor.execute(SQL["people"]).fetchall()


def member(db: Connection, coach: UUID) -> HallMember:
    """Give one who is in this hall. Raises NotFound."""
    for person in people(db):
        if person.id == coach and person.left_at is None:
            return person
    raise NotFound(NOBODY_THERE)


def hold(db: Connection) -> Mapping[UUID, Role]:
    """Let one change of the hall's people after the other until the transaction ends; gives who is what."""
    return dict(db.execute(SQL["hold"]).fetchall())


def hold_as_owner(db: Connection, owner: UUID) -> None:
    """Let one change of the hall's people after the other, by somebody who is its owner still. Raises
    Conflict where they are no longer.
    """
    if hold(db).get(owner) != "owner":
        raise Conflict("You are no owner of this hall any more. Nothing was changed.")


def join(db: Connection, *, coach: UUID, role: Role) -> bool:
    """Let somebody in, or in again; False where they are in the hall already and stay what they are."""
    return db.execute(SQL["join"], {"coach": coach, "role": role}).rowcount == 1


def _check_owner_stays(db: Connection, coach: UUID) -> None:
    owners = list(hold(db).values()).count("owner")
    if member(db, coach).role == "owner" and owners < 2:
        raise Conflict(LAST_OWNER)


def set_role(db: Connection, *, coach: UUID, role: Role) -> bool:
    """Make somebody in the hall something else; False where they are that already. Raises NotFound, and
    Conflict where no owner would be left.
    """
    if role != "owner":
        _check_owner_stays(db, coach)
    else:
        hold(db)
        member(db, coach)
    return db.execute(SQL["set_role"], {"coach": coach, "role": role}).rowcount == 1


def leave(db: Connection, *, coach: UUID, moment: datetime) -> None:
    """Take somebody out of the hall; what they did stays, and links made for them or by them end. Raises
    NotFound, and Conflict where no owner would be left.
    """
    _check_owner_stays(db, coach)
    db.execute(SQL["leave"], {"coach": coach, "moment": moment})
    db.execute(SQL["end_links_of"], {"coach": coach, "moment": moment})


def is_elsewhere(db: Connection, coach: UUID) -> bool:
    """Say whether a coach is in another hall too."""
    row = db.execute(SQL["elsewhere"], {"coach": coach}).fetchone()
    return bool(row and row[0])


def add_link(
    db: Connection,
    *,
    id: UUID,
    kind: LinkKind,
    token_hash: bytes,
    expires_at: datetime,
    role: Role | None = None,
    coach: UUID | None = None,
    name: str = "",
) -> bool:
    """Keep a link that works once; False where the id is taken already and nothing was kept.

    An invitation has a `role` and may have a `name`; the others are for a `coach`.
    """
    values = {"id": id, "kind": kind, "role": role, "coach": coach, "name": name}
    return (
        db.execute(SQL["add_link"], {**values, "token_hash": token_hash, "expires_at": expires_at}).rowcount
        == 1
    )


def invitations(db: Connection, *, moment: datetime) -> list[Invitation]:
    """Give the invitations that still work, the newest first."""
    with db.cursor(row_factory=class_row(Invitation)) as cursor:
        return cursor.execute(SQL["invitations"], {"moment": moment}).fetchall()


def revoke_invitation(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Take an invitation back. Raises NotFound."""
    if db.execute(SQL["revoke_link"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such invitation.")


@dataclass(frozen=True, slots=True, kw_only=True)
class OneTimeLink:
    """What a link that works once opens: an invitation as `role`, or something for a `coach` by `email`."""

    id: UUID
    kind: LinkKind
    hall: UUID
    hall_name: str
    role: Role | None
    coach: UUID | None
    email: str
    invited_by: str


def of_link(db: Connection, *, token_hash: bytes, moment: datetime) -> OneTimeLink | None:
    """Say what a link opens, or None if it was used, taken back, too old or never made. Needs no coach."""
    with db.cursor(row_factory=class_row(OneTimeLink)) as cursor:
        return cursor.execute(SQL["of_token"], {"token_hash": token_hash, "moment": moment}).fetchone()


def take_link(db: Connection, *, id: UUID, moment: datetime, coach: UUID) -> None:
    """Use a link up. Raises Conflict where somebody was before."""
    row = db.execute(SQL["take_link"], {"id": id, "moment": moment, "coach": coach}).fetchone()
    if not (row and row[0]):
        raise Conflict("This link was used already, and works only once. Ask for another.")


def tell(db: Connection, *, kind: EventKind, about: UUID | None = None, what: str = "") -> None:
    """Keep what the coach this transaction acts as did among the hall's people."""
    db.execute(SQL["tell"], {"kind": kind, "about": about, "what": what})


@dataclass(frozen=True, slots=True, kw_only=True)
class DeedRow:
    """One thing somebody did, as it is kept: `what` and `n` by its kind."""

    at: datetime
    by: str
    kind: str
    what: str
    n: int
    trainee: UUID | None
    name: str


def deeds(
    db: Connection, *, since: datetime, before: datetime, time_zone: str, by: UUID | None = None
) -> list[DeedRow]:
    """Give what was done in the hall within some days, the newest first; of one member where one is named."""
    values = {"since": since, "before": before, "time_zone": time_zone, "by": by, "most": MOST_DEEDS}
    with db.cursor(row_factory=class_row(DeedRow)) as cursor:
        return cursor.execute(SQL["deeds"], values).fetchall()
