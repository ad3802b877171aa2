"""Coaches, their sessions and failed sign-ins."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.stored import Coach, Dates, Decimal, Units
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("coaches")


def hold(db: Connection) -> None:
    """Let one change of where the coach this transaction acts as belongs, or signs in with, after the other
    until it ends.
    """
    db.execute(SQL["hold"])


def any_coach(db: Connection) -> bool:
    """Say whether there is a coach at all."""
    row = db.execute(SQL["any"]).fetchone()
    return bool(row and row[0])


def add_coach(db: Connection, *, id: UUID, email: str, name: str, password_hash: str) -> None:
    """Add the coach this transaction acts as. Raises Conflict (at the transaction's edge) if the email is
    taken.
    """
    db.execute(SQL["add"], {"id": id, "email": email, "name": name, "password_hash": password_hash})


def hold_first_coach(db: Connection) -> None:
    """Let one request at a time add the very first coach. Raises Conflict if somebody already coaches
    here.
    """
    db.execute(SQL["one_first_coach"])
    if any_coach(db):
        raise Conflict("There is already a coach here. Sign in instead.")


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
    schools: Mapping[str, str] | None = None,
    sounds: bool | None = None,
    volume: int | None = None,
    vibration: bool | None = None,
    voice: bool | None = None,
    units: Units | None = None,
    dates: Dates | None = None,
    decimal: Decimal | None = None,
) -> None:
    """Change the given settings of the coach this transaction acts as."""
    values = {
        "rest_s": rest_s,
        "schools": None if schools is None else Jsonb(dict(schools)),
        "sounds": sounds,
        "volume": volume,
        "vibration": vibration,
        "voice": voice,
        "units": units,
        "dates": dates,
        "decimal": decimal,
    }
    db.execute(SQL["change_settings"], values)


def tell_screen(db: Connection, *, screen: str) -> None:
    """Remember that the coach this transaction acts as was told what a screen is for."""
    db.execute(SQL["tell_screen"], {"screen": screen})


def for_sign_in(db: Connection, *, email: str) -> tuple[UUID, str] | None:
    """Give the id and password hash of the coach with this email, or None."""
    return db.execute(SQL["for_sign_in"], {"email": email}).fetchone()


def keep_hash(db: Connection, *, password_hash: str) -> None:
    """Keep a password hash made again."""
    db.execute(SQL["keep_hash"], {"password_hash": password_hash})


def open_session(
    db: Connection, *, token_hash: bytes, expires_at: datetime, device: str = "", hall: UUID | None = None
) -> None:
    """Open a session for the coach this transaction acts as; `device`: what it is told apart by; `hall`: in
    which it works, None until one is chosen.
    """
    values = {"token_hash": token_hash, "expires_at": expires_at, "device": device, "hall": hall}
    db.execute(SQL["open_session"], values)


def choose_hall(db: Connection, *, token_hash: bytes, hall: UUID) -> None:
    """Let a session of the coach this transaction acts as work in another hall of theirs. Raises NotFound."""
    if db.execute(SQL["choose_hall"], {"token_hash": token_hash, "hall": hall}).rowcount == 0:
        raise NotFound("There is no such hall among yours.")


def of_session(db: Connection, *, token_hash: bytes, moment: datetime) -> Member | None:
    """Say whose session this is and in which hall, or None if it is unknown, over or revoked."""
    with db.cursor(row_factory=class_row(Member)) as cursor:
        return cursor.execute(SQL["of_session"], {"token_hash": token_hash, "moment": moment}).fetchone()


def of_token(db: Connection, *, token_hash: bytes, moment: datetime) -> Member | None:
    """Say whose token for scripts this is and for which hall, or None if it is unknown or taken back."""
    with db.cursor(row_factory=class_row(Member)) as cursor:
        return cursor.execute(SQL["of_token"], {"token_hash": token_hash, "moment": moment}).fetchone()


def end_session(db: Connection, *, token_hash: bytes, moment: datetime) -> None:
    """End the session of this token, whoever it belongs to."""
    db.execute(SQL["end_session"], {"token_hash": token_hash, "moment": moment})


def end_other_sessions(db: Connection, *, but: bytes, moment: datetime) -> None:
    """End every session of the coach this transaction acts as but one; `but`: its token's hash, or empty."""
    db.execute(SQL["revoke_others"], {"but": but, "moment": moment})


@dataclass(frozen=True, slots=True, kw_only=True)
class SignInSession:
    """A session that is good. `here`: it is the one that asks."""

    id: UUID
    opened_at: datetime
    seen_at: datetime | None
    device: str
    here: bool


def sessions(db: Connection, *, here: bytes, moment: datetime) -> list[SignInSession]:
    """Give the sessions of the coach this transaction acts as."""
    with db.cursor(row_factory=class_row(SignInSession)) as cursor:
        return cursor.execute(SQL["sessions"], {"here": here, "moment": moment}).fetchall()


def end_one_session(db: Connection, *, id: UUID, moment: datetime) -> None:
    """End one session of the coach this transaction acts as. Raises NotFound."""
    if db.execute(SQL["end_one"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such session.")


def know_device(db: Connection, *, token_hash: bytes) -> None:
    """Remember that the coach this transaction acts as signed in on this browser."""
    db.execute(SQL["know_device"], {"token_hash": token_hash})


def forget_devices(db: Connection, *, but: bytes, moment: datetime) -> None:
    """Forget every browser this coach signed in on but one."""
    db.execute(SQL["forget_devices"], {"but": but, "moment": moment})


def knows_device(db: Connection, *, email: str, token_hash: bytes) -> bool:
    """Say whether the coach of this email signed in on this browser before."""
    row = db.execute(SQL["knows_device"], {"email": email, "token_hash": token_hash}).fetchone()
    return bool(row and row[0])


@dataclass(frozen=True, slots=True, kw_only=True)
class ScriptToken:
    """A token for scripts, without its secret."""

    id: UUID
    name: str
    made_at: datetime
    used_at: datetime | None


def add_token(db: Connection, *, id: UUID, name: str, token_hash: bytes) -> bool:
    """Keep a token for scripts; False where the id is taken already and nothing was kept."""
    values = {"id": id, "name": name, "token_hash": token_hash}
    return db.execute(SQL["add_token"], values).rowcount == 1


def tokens(db: Connection) -> list[ScriptToken]:
    """Give the tokens for scripts that were not taken back."""
    with db.cursor(row_factory=class_row(ScriptToken)) as cursor:
        return cursor.execute(SQL["tokens"]).fetchall()


def revoke_token(db: Connection, *, id: UUID, moment: datetime) -> None:
    """Take a token for scripts back. Raises NotFound."""
    if db.execute(SQL["revoke_token"], {"id": id, "moment": moment}).rowcount == 0:
        raise NotFound("There is no such token.")


def change_password(db: Connection, *, present: str, password_hash: str) -> None:
    """Keep another password's hash. Raises Conflict where the `present` one was changed meanwhile."""
    values = {"present": present, "password_hash": password_hash}
    if db.execute(SQL["change_password"], values).rowcount == 0:
        raise Conflict("The password was changed elsewhere at this moment. Nothing was changed here.")


def change_email(db: Connection, *, email: str) -> None:
    """Change this coach's email. Raises Conflict (at the transaction's edge) if it is taken."""
    db.execute(SQL["change_email"], {"email": email})


def own_hash(db: Connection) -> str:
    """Give the hash of this coach's password."""
    row = db.execute(SQL["own_hash"]).fetchone()
    if row is None:
        raise NotFound("There is no such coach.")
    return str(row[0])


def count_try(
    db: Connection, *, tried: Sequence[bytes], moment: datetime, before: datetime
) -> dict[bytes, int]:
    """Count one more try under each of these names, and say how many each has since `before`: one statement,
    so that tries made side by side are counted one after the other.
    """
    found = db.execute(SQL["count_try"], {"tried": list(tried), "moment": moment, "before": before})
    return {bytes(name): int(times) for name, times in found}


def uncount_try(db: Connection, *, tried: Sequence[bytes]) -> None:
    """Take one try back under each of these names: it was no guess."""
    db.execute(SQL["uncount_try"], {"tried": list(tried)})


def forget_tries(db: Connection, *, tried: bytes, before: datetime) -> None:
    """Forget the tries of one name, and all of windows that are over."""
    db.execute(SQL["forget_tries"], {"tried": tried, "before": before})


def reset_password(db: Connection, *, email: str, password_hash: str) -> bool:
    """Give a coach another password from outside and end all that is open; the application's role may not.

    False where there is no coach of this email.
    """
    row = db.execute(SQL["reset_password"], {"email": email, "password_hash": password_hash}).fetchone()
    if row is None:
        return False
    db.execute(SQL["reset_sessions"], {"coach": row[0]})
    return True


def remove(db: Connection, *, emails: Sequence[str]) -> None:
    """Remove coaches, and the halls that one of them owns with everything in them; the application's role may
    not.
    """
    db.execute(SQL["remove_halls"], {"emails": list(emails)})
    db.execute(SQL["remove"], {"emails": list(emails)})
