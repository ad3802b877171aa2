"""Forward migrations: the numbered SQL files, each applied once and never edited afterwards."""

import logging
from pathlib import Path

import psycopg
from yoyo import get_backend, read_migrations

FOLDER = Path(__file__).parent / "migrations"
ONE_AT_A_TIME = 7_305_114_220_021
"""The advisory lock of whoever migrates; any constant number will do."""


class NewerDatabase(Exception):
    """The database has seen migrations that this version does not have; the text says what to do."""


def names() -> tuple[str, ...]:
    """The migrations this version has, in order."""
    return tuple(sorted(path.stem for path in FOLDER.glob("*.sql")))


def seen_by(db: psycopg.Connection) -> tuple[str, ...]:
    """The migrations a database has seen; none where it is empty."""
    if (db.execute("select to_regclass('_yoyo_migration')").fetchone() or (None,))[0] is None:
        return ()
    return tuple(str(r[0]) for r in db.execute("select migration_id from _yoyo_migration order by 1"))


def pending(dsn: str) -> tuple[list[str], bool]:
    """The migrations a database still waits for, and whether it has anything in it at all.

    Raises NewerDatabase.
    """
    with psycopg.connect(dsn) as db:
        seen = seen_by(db)
    if newer := sorted(set(seen) - set(names())):
        raise NewerDatabase(
            f"This database was last used by a newer version of Wise Perch (it knows {newer[-1]}). Nothing"
            " was changed. Bring this folder up to date, or restore a backup from before the newer version."
        )
    return [name for name in names() if name not in seen], bool(seen)


def migrate(dsn: str) -> list[str]:
    """Bring the database up to date and name the migrations applied. `dsn` is a postgresql:// address of the
    owner.

    An advisory lock keeps two starts apart, so a lock row left by a start that was killed is safe to break.
    Raises NewerDatabase before anything is done.
    """
    pending(dsn)
    logging.getLogger("yoyo").setLevel(logging.WARNING)
    with psycopg.connect(dsn, autocommit=True) as guard:
        guard.execute("select pg_advisory_lock(%s)", [ONE_AT_A_TIME])
        backend = get_backend(dsn.replace("postgresql://", "postgresql+psycopg://", 1))
        try:
            backend.break_lock()
            waiting = backend.to_apply(read_migrations(str(FOLDER)))
            with backend.lock():
                backend.apply_migrations(waiting)
            return [m.id for m in waiting]
        finally:
            backend.connection.close()
