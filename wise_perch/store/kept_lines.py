"""Lines judged from pictures, as they are kept."""

from dataclasses import asdict
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import dict_row
from psycopg.types.json import Jsonb

from wise_perch.core.line.kept import KeptLine, LineHeading
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("kept_lines")


def add(db: Connection, *, trainee: UUID, line: KeptLine) -> None:
    """Keep a line; the same again changes nothing. Raises Conflict where the id is another one's."""
    values = asdict(line) | {
        "trainee": trainee,
        "points": Jsonb(line.points),
        "said": Jsonb(asdict(line.said)),
    }
    if db.execute(SQL["add"], values).rowcount == 0:
        with db.cursor(row_factory=dict_row) as cursor:
            there = cursor.execute(SQL["one"], {"id": line.id}).fetchone()
        if there is None or there["trainee"] != trainee or there["at"] != line.at:
            raise Conflict("This id is taken by another line.")


def of_trainee(db: Connection, trainee: UUID, *, most: int) -> tuple[KeptLine, ...]:
    """The lines of a trainee that count, the newest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        return tuple(map(_as_line, cursor.execute(SQL["of_trainee"], {"trainee": trainee, "most": most})))


def strike(db: Connection, *, id: UUID, moment: datetime | None) -> None:
    """Strike out a line, or bring it back with None. Raises NotFound."""
    if db.execute(SQL["one"], {"id": id}).fetchone() is None:
        raise NotFound("There is no such line.")
    db.execute(SQL["strike"], {"id": id, "moment": moment})


def _as_line(row: dict[str, Any]) -> KeptLine:
    points = {name: tuple(triple) for name, triple in row["points"].items()}
    told = row["said"]
    said = LineHeading(heading=told["heading"], faults=tuple(told["faults"]), camera=tuple(told["camera"]))
    return KeptLine(**{**row, "points": points, "said": said})
