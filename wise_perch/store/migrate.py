"""Forward migrations: the numbered SQL files, each applied once and never edited afterwards."""

import logging
from pathlib import Path

import psycopg
from yoyo import get_backend, read_migrations

FOLDER = Path(__file__).parent / "migrations"
ONE_AT_A_TIME = 7_305_114_220_021
"""The advisory lock of whoever migrates; any constant number will do."""


def migrate(dsn: str) -> list[str]:
    """Bring the database up to date and name the migrations applied. `dsn` is a postgresql:// address of the
    owner.

    An advisory lock keeps two starts apart, so a lock row left by a start that was killed is safe to break.
    """
    logging.getLogger("yoyo").setLevel(logging.WARNING)
    with psycopg.connect(dsn, autocommit=True) as guard:
        guard.execute("select pg_advisory_lock(%s)", [ONE_AT_A_TIME])
        backend = get_backend(dsn.replace("postgresql://", "postgresql+psycopg://", 1))
        try:
            backend.break_lock()
            pending = backend.to_apply(read_migrations(str(FOLDER)))
            with backend.lock():
                backend.apply_migrations(pending)
            return [m.id for m in pending]
        finally:
            backend.connection.close()
