"""Dial settings chosen for a trainee."""

from collections.abc import Mapping
from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.types.json import Jsonb

from wise_perch.store.errors import Conflict
from wise_perch.store.queries import queries

SQL = queries("chosen_settings")


def keep_setting(
    db: Connection, *, id: UUID, trainee: UUID, drill: str, settings: Mapping[str, float], at: datetime
) -> None:
    """Keep the settings chosen for a drill; sending the same again changes nothing. Raises Conflict for
    another one of this id.
    """
    kept = dict(settings)
    if (
        db.execute(
            SQL["keep_setting"],
            {"id": id, "trainee": trainee, "drill": drill, "settings": Jsonb(kept), "at": at},
        ).rowcount
        == 1
    ):
        return
    row = db.execute(SQL["setting"], {"id": id}).fetchone()
    if row != (trainee, drill, kept):
        raise Conflict("This id already stands for another setting.")
