"""Groups with their evenings, whom to call, and the sample trainee."""

from collections.abc import Collection, Sequence
from datetime import date, datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb

from wise_perch.core.trainee.groups import Contact, Evening, TrainingGroup
from wise_perch.store import trainees
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("groups")


def every(db: Connection) -> tuple[TrainingGroup, ...]:
    """Give every group, by name."""
    with db.cursor(row_factory=dict_row) as cursor:
        rows = cursor.execute(SQL["every"]).fetchall()
    return tuple(
        TrainingGroup(
            id=row["id"],
            name=row["name"],
            evenings=tuple(Evening(**evening) for evening in row["evenings"]),
            members=tuple(UUID(member) for member in row["members"]),
        )
        for row in rows
    )


def one(db: Connection, id: UUID) -> TrainingGroup:
    """Give one group. Raises NotFound."""
    for group in every(db):
        if group.id == id:
            return group
    raise NotFound("There is no such group.")


def _evenings(evenings: Sequence[Evening]) -> Jsonb:
    return Jsonb([{"weekday": e.weekday, "time": e.time, "minutes": e.minutes} for e in evenings])


def add(
    db: Connection, *, id: UUID, name: str, evenings: Sequence[Evening], members: Collection[UUID]
) -> TrainingGroup:
    """Add a group; sending the same again changes nothing. Raises Conflict if the id stands for another."""
    added = db.execute(SQL["add"], {"id": id, "name": name, "evenings": _evenings(evenings)}).rowcount == 1
    if added:
        _put_members(db, id, members)
    kept = one(db, id)
    if kept.name != name:
        raise Conflict("This id already stands for another group.")
    return kept


def change(
    db: Connection, *, id: UUID, name: str, evenings: Sequence[Evening], members: Collection[UUID]
) -> TrainingGroup:
    """Change a group: its name, its evenings, who is in it. Raises NotFound."""
    if db.execute(SQL["hold"], {"id": id}).fetchone() is None:
        raise NotFound("There is no such group.")
    db.execute(SQL["change"], {"id": id, "name": name, "evenings": _evenings(evenings)})
    _put_members(db, id, members)
    return one(db, id)


def _put_members(db: Connection, id: UUID, members: Collection[UUID]) -> None:
    there = {t.id for t in trainees.some(db, set(members))}
    if set(members) - there:
        raise NotFound("One of those is no trainee here.")
    db.execute(SQL["put_members"], {"id": id, "members": list(there)})


def strike(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Strike a group out; its trainees stay. Raises NotFound."""
    if db.execute(SQL["strike"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such group.")


def restore(db: Connection, *, id: UUID) -> TrainingGroup:
    """Bring a group back that was struck out. Raises NotFound."""
    if db.execute(SQL["restore"], {"id": id}).rowcount == 0:
        raise NotFound("There is no such group.")
    return one(db, id)


def contact(db: Connection, trainee: UUID) -> Contact:
    """Give whom to call for a trainee, empty where nothing was said. Raises NotFound."""
    trainees.one(db, trainee)
    with db.cursor(row_factory=class_row(Contact)) as cursor:
        found = cursor.execute(SQL["contact"], {"trainee": trainee}).fetchone()
    return found or Contact(contact="", guardian="", consent_day=None)


def put_contact(
    db: Connection, *, trainee: UUID, contact: str, guardian: str, consent_day: date | None
) -> None:
    """Keep whom to call for a trainee, and a guardian's consent with its day. Raises NotFound."""
    trainees.one(db, trainee)
    values = {"trainee": trainee, "contact": contact, "guardian": guardian, "consent_day": consent_day}
    db.execute(SQL["put_contact"], values)


def mark_sample(db: Connection, trainee: UUID) -> None:
    """Mark a trainee as made up, to look round with."""
    db.execute(SQL["mark_sample"], {"trainee": trainee})


def sample(db: Connection) -> UUID | None:
    """Give the sample trainee, if there is one."""
    row = db.execute(SQL["sample"]).fetchone()
    return row[0] if row else None


def take_sample_away(db: Connection) -> bool:
    """Take the sample trainee away for good; False where there was none."""
    row = db.execute(SQL["take_sample_away"]).fetchone()
    return bool(row and row[0])
