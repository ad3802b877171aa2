"""Habits as a trainee told them: minutes by the day."""

from datetime import date, datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row

from wise_perch.core.trainee.habits import HabitDay
from wise_perch.store.queries import queries

SQL = queries("habits")


def put(db: Connection, *, trainee: UUID, day: date, habit: str, minutes: float, at: datetime) -> None:
    """Keep the minutes of a habit on a day, 0 for none; what was told later stands."""
    values = {"trainee": trainee, "day": day, "habit": habit, "minutes": minutes, "at": at}
    db.execute(SQL["put"], values)


def since(db: Connection, trainee: UUID, *, first: date) -> tuple[HabitDay, ...]:
    """What a trainee told from a day on."""
    with db.cursor(row_factory=class_row(HabitDay)) as cursor:
        return tuple(cursor.execute(SQL["since"], {"trainee": trainee, "first": first}))
