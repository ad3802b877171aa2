"""From where lines were judged by eye."""

from datetime import date, datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row

from wise_perch.core.trade.poses import View
from wise_perch.core.trainee.lines_seen import LineSeen
from wise_perch.store.queries import queries

SQL = queries("lines_seen")


def put(
    db: Connection, *, trainee: UUID, day: date, drill: str, view: View, seen: bool, at: datetime
) -> None:
    """Keep whether a drill was looked at from a view on a day; what was said later stands."""
    values = {"trainee": trainee, "day": day, "drill": drill, "view": view, "seen": seen, "at": at}
    db.execute(SQL["put"], values)


def of_drill(db: Connection, trainee: UUID, drill: str) -> tuple[LineSeen, ...]:
    """The last day that a drill was looked at, from each view."""
    with db.cursor(row_factory=class_row(LineSeen)) as cursor:
        return tuple(cursor.execute(SQL["of_drill"], {"trainee": trainee, "drill": drill}))
