"""Coaches, their sessions and failed sign-ins."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from wise_perch.core.trainee.stored import Coach
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("coaches")


def any_coach(db: Connection) -> bool:
    """Say whether there is a coach at all."""
    row = db.execute(SQL["any"]).fetchone()
    return bool(row and row[0])


def add_coach(db: Connection, *, id: UUID, email: str, name: str, password_hash: str, time_zone: str) -> None:
    """Add the coach this transaction acts as. Raises Conflict (at the transaction's edge) if the email is
    taken.
    """
    db.execute(
        SQL["add"],
        {"id": id, "email": email, "name": name, "password_hash": password_hash, "time_zone": time_zone},
    )


def add_first_coach(
    db: Connection, *, id: UUID, email: str, name: str, password_hash: str, time_zone: str
) -> None:
    """Add the very first coach. Raises Conflict if somebody already coaches here."""
    db.execute(SQL["one_first_coach"])
    if any_coach(db):
        raise Conflict("There is already a coach here. Sign in instead.")
    add_coach(db, id=id, email=email, name=name, password_hash=password_hash, time_zone=time_zone)


def me(db: Connection) -> Coach:
    """Give the coach this transaction acts as. Raises NotFound if it acts as nobody."""
    with db.cursor(row_factory=class_row(Coach)) as cursor:
        found = cursor.execute(SQL["me"]).fetchone()
    if found is None:
        raise NotFound("There is no such coach.")
    return found


def change_settings(
    db: Connection,
    *,
    rest_s: int | None = None,
    time_zone: str | None = None,
    schools: Mapping[str, str] | None = None,
    float_switch_s: float | None = None,
    sounds: bool | None = None,
) -> None:
    """Change the given settings of the coach this transaction acts as."""
    chosen = None if schools is None else Jsonb(dict(schools))
    values = {
        "rest_s": rest_s,
        "time_zone": time_zone,
        "schools": chosen,
        "float_switch_s": float_switch_s,
        "sounds": sounds,
    }
    db.execute(SQL["change_settings"], values)


def for_sign_in(db: Connection, *, email: str) -> tuple[UUID, str] | None:
    """Give the id and password hash of the coach with this email, or None."""
    return db.execute(SQL["for_sign_in"], {"email": email}).fetchone()


def keep_hash(db: Connection, *, password_hash: str) -> None:
    """Keep a password hash made again."""
    db.execute(SQL["keep_hash"], {"password_hash": password_hash})


def open_session(db: Connection, *, token_hash: bytes, expires_at: datetime) -> None:
    """Open a session for the coach this transaction acts as."""
    db.execute(SQL["open_session"], {"token_hash": token_hash, "expires_at": expires_at})


def of_session(db: Connection, *, token_hash: bytes, moment: datetime) -> UUID | None:
    """Say whose session this is, or None if it is unknown, over or revoked."""
    row = db.execute(SQL["of_session"], {"token_hash": token_hash, "moment": moment}).fetchone()
    return row[0] if row else None


def revoke_session(db: Connection, *, token_hash: bytes, moment: datetime) -> None:
    """End one session of the coach this transaction acts as."""
    db.execute(SQL["revoke_session"], {"token_hash": token_hash, "moment": moment})


def revoke_all(db: Connection, *, moment: datetime) -> None:
    """End every session of the coach this transaction acts as."""
    db.execute(SQL["revoke_all"], {"moment": moment})


def failures(db: Connection, *, tried: Sequence[bytes], since: datetime) -> int:
    """Count failed sign-ins since a moment under the most tried of these names."""
    row = db.execute(SQL["failures"], {"tried": list(tried), "since": since}).fetchone()
    return int(row[0]) if row else 0


def add_failure(db: Connection, *, tried: Sequence[bytes], moment: datetime) -> None:
    """Note a failed sign-in."""
    db.execute(SQL["add_failure"], {"tried": list(tried), "moment": moment})


def forget_failures(db: Connection, *, tried: bytes, before: datetime) -> None:
    """Forget the failures of one name, and all failures before a moment."""
    db.execute(SQL["forget_failures"], {"tried": tried, "before": before})


def remove(db: Connection, *, email: str) -> None:
    """Remove a coach with everything of theirs; the application's role may not."""
    db.execute(SQL["remove"], {"email": email})
