"""What is known of trainees whatever the day, kept so that a page reads it in place of a history."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row
from pydantic import TypeAdapter

from wise_perch.core.trainee.known import Known
from wise_perch.store.queries import queries

SQL = queries("known")
KNOWN = TypeAdapter(Known)
EVERYTHING, RUNS = "*", ""
"""What a trainee's list of changes says beside names of drills."""


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptKnown:
    """What is kept of a trainee. `known` is None where nothing is, or something else made it; `version` is
    that of the trainee's evidence; `changed` names the drills of which it is no longer true.
    """

    trainee: UUID
    version: int
    changed: list[str]
    basis: str | None
    known: str | None

    def read(self, *, basis: str) -> Known | None:
        """What is kept, where it was made by the same things; else None."""
        if self.known is None or self.basis != basis or EVERYTHING in self.changed:
            return None
        return KNOWN.validate_json(self.known)


@dataclass(frozen=True, slots=True, kw_only=True)
class MadeKnown:
    """What was made again of a trainee, from evidence of this version."""

    trainee: UUID
    version: int
    basis: str
    known: Known


def kept(db: Connection, trainees: Sequence[UUID]) -> dict[UUID, KeptKnown]:
    """Give what is kept of these trainees."""
    with db.cursor(row_factory=class_row(KeptKnown)) as cursor:
        rows = cursor.execute(SQL["kept"], {"trainees": list(trainees)}).fetchall()
    return {row.trainee: row for row in rows}


def keep(db: Connection, made: Sequence[MadeKnown]) -> None:
    """Keep what was made; where evidence came meanwhile, or is just being written, nothing is kept."""
    if made:
        columns = {
            "trainees": [m.trainee for m in made],
            "versions": [m.version for m in made],
            "bases": [m.basis for m in made],
            "knowns": [KNOWN.dump_json(m.known, exclude_defaults=True).decode() for m in made],
        }
        db.execute(SQL["keep"], columns)
