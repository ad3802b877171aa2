"""Backups of a database: written, tried out by restoring them, kept for a while, brought back."""

import os
import secrets
import subprocess
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import psycopg
from psycopg import sql

from wise_perch.machine.places import HOME
from wise_perch.machine.postgres import ADMIN, OWNER, Cluster, create_database
from wise_perch.machine.progress import Trouble

FOLDER = HOME / "backups"
KEEP_DAILY = timedelta(days=14)
SCRATCH = "perch_scratch_"
"""What the names of databases begin with that a backup is tried out in: each its own, for the day's backup
may be written while somebody restores another.
"""
INCOMING = "perch_incoming"
"""The database that waits to be put in the place of another; whatever is in it is thrown away."""
DAILY = "daily"


@dataclass(frozen=True, kw_only=True)
class Holds:
    """What is in a database: rows by table, and the migrations it has seen."""

    rows: dict[str, int]
    migrations: tuple[str, ...]

    def said(self) -> str:
        """Say what a coach would look for."""
        words = {
            "coach": ("coach", "coaches"),
            "trainee": ("trainee", "trainees"),
            "evidence": ("piece of evidence", "pieces of evidence"),
            "test_run": ("test run", "test runs"),
            "floor_session": ("session", "sessions"),
            "plan": ("plan", "plans"),
        }
        counted = {table: self.rows.get(table, 0) for table in words}
        return ", ".join(f"{n:,} {words[table][n != 1]}" for table, n in counted.items())


def look(cluster: Cluster, database: str) -> Holds:
    """Count what a database holds."""
    with psycopg.connect(cluster.dsn(database, role=ADMIN)) as db:
        return _count(db)


def _count(db: psycopg.Connection) -> Holds:
    tables = [
        str(row[0])
        for row in db.execute("select tablename from pg_tables where schemaname = 'public' order by 1")
    ]
    rows: dict[str, int] = {}
    for table in tables:
        count = db.execute(sql.SQL("select count(*) from {}").format(sql.Identifier(table))).fetchone()
        rows[table] = int(count[0]) if count else 0
    seen: tuple[str, ...] = ()
    if "_yoyo_migration" in tables:
        found = db.execute("select migration_id from _yoyo_migration order by 1")
        seen = tuple(str(row[0]) for row in found)
    return Holds(rows=rows, migrations=seen)


def exists(cluster: Cluster, database: str) -> bool:
    """Say whether there is such a database."""
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN)) as db:
        found = db.execute("select 1 from pg_database where datname = %s", [database]).fetchone()
    return found is not None


def _run(cluster: Cluster, command: str, *words: str) -> str:
    """Run one of PostgreSQL's clients as the owner; the password goes by the environment, which others on
    the machine cannot read. Raises Trouble with what it said.
    """
    by_owner = {
        "PGHOST": "127.0.0.1",
        "PGPORT": str(cluster.port),
        "PGUSER": OWNER,
        "PGPASSWORD": cluster.owner_password,
    }
    done = subprocess.run(
        [str(cluster.programs / command), *words],
        env={**os.environ, **by_owner},
        stdin=subprocess.DEVNULL,
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        raise Trouble(f"{command} failed, and nothing was changed: {done.stderr.strip()[-600:]}")
    return done.stdout


def _drop(cluster: Cluster, database: str) -> None:
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN), autocommit=True) as db:
        db.execute(sql.SQL("drop database if exists {} with (force)").format(sql.Identifier(database)))


def fill(cluster: Cluster, database: str, file: Path) -> None:
    """Restore a file into a fresh database of this name."""
    _drop(cluster, database)
    create_database(cluster, database)
    _run(
        cluster,
        "pg_restore",
        "--no-owner",
        "--exit-on-error",
        "--single-transaction",
        "--dbname",
        database,
        str(file),
    )


def write(cluster: Cluster, database: str, file: Path) -> Holds:
    """Write a backup of a database and try it out: it is restored beside, and every table counted.

    A file that is there already is never written over. Raises Trouble where it cannot be written, or does not
    hold what the database held.
    """
    if file.exists():
        raise Trouble(f"{file} is there already, and a backup is never written over another file.")
    if not file.parent.is_dir():
        raise Trouble(f"There is no folder {file.parent}.")
    draft = file.with_name(file.name + ".unfinished")
    scratch = SCRATCH + secrets.token_hex(4)
    try:
        draft.touch(mode=0o600)
        with psycopg.connect(cluster.dsn(database, role=ADMIN)) as db:
            # the rows are counted in the very moment that is dumped, whatever comes in meanwhile
            db.execute("set transaction isolation level repeatable read")
            snapshot = str((db.execute("select pg_export_snapshot()").fetchone() or [""])[0])
            there = _count(db)
            dump = ("--format=custom", f"--snapshot={snapshot}", "--file", str(draft), database)
            _run(cluster, "pg_dump", *dump)
        fill(cluster, scratch, draft)
        held = look(cluster, scratch)
        if held != there:
            short = [t for t in there.rows if held.rows.get(t) != there.rows[t]]
            raise Trouble(f"The backup does not hold what the database holds ({', '.join(short)}).")
        draft.replace(file)
    except OSError as error:
        raise Trouble(f"The backup could not be written: {error}. Nothing else was changed.") from None
    finally:
        draft.unlink(missing_ok=True)
        _drop(cluster, scratch)
    return held


def _named(database: str, why: str, moment: datetime) -> Path:
    FOLDER.mkdir(exist_ok=True, mode=0o700)
    return FOLDER / f"{database}-{moment:%Y-%m-%dT%H%M%S}-{why}.dump"


def keep(cluster: Cluster, database: str, why: str) -> Path:
    """Write a backup into .perch/backups, named after the database, the moment (UTC) and why."""
    file = _named(database, why, datetime.now(UTC))
    write(cluster, database, file)
    return file


def daily(cluster: Cluster, database: str, *, moment: datetime | None = None) -> Path | None:
    """Write the day's backup unless there is one less than a day old, and take away daily ones of more than
    14 days. Others, as those before a migration, stay until somebody takes them away.
    """
    now = moment or datetime.now(UTC)
    kept = {path: _moment_of(path, database) for path in FOLDER.glob(f"{database}-*-{DAILY}.dump")}
    known = {path: at for path, at in kept.items() if at is not None}
    if any(now - at < timedelta(days=1) for at in known.values()):
        return None
    file = _named(database, DAILY, now)
    write(cluster, database, file)
    for path, at in known.items():
        if now - at > KEEP_DAILY:
            path.unlink(missing_ok=True)
    return file


def _moment_of(path: Path, database: str) -> datetime | None:
    text = path.name.removeprefix(f"{database}-").removesuffix(f"-{DAILY}.dump")
    try:
        return datetime.strptime(text, "%Y-%m-%dT%H%M%S").replace(tzinfo=UTC)
    except ValueError:
        return None


def look_into(cluster: Cluster, file: Path, *, known: set[str]) -> Holds:
    """Restore a file into a database that waits, and count it. `known` are the migrations this version has.

    Raises Trouble for a file that is no backup of ours, or one of a newer version. Nothing in use is touched.
    """
    if not file.is_file():
        raise Trouble(f"There is no file {file}.")
    try:
        fill(cluster, INCOMING, file)
    except Trouble as trouble:
        _drop(cluster, INCOMING)
        raise Trouble(f"{file} cannot be restored. {trouble}") from None
    held = look(cluster, INCOMING)
    newer = sorted(set(held.migrations) - known)
    if not held.migrations or newer:
        _drop(cluster, INCOMING)
        what = f"was made by a newer version (it knows {newer[0]})" if newer else "is no backup of Wise Perch"
        raise Trouble(f"{file} {what}. Nothing was changed.")
    return held


def put_in_place(cluster: Cluster, database: str) -> Path | None:
    """Put what look_into restored in the place of `database`, keeping a backup of what was there.

    Gives the file of that backup, or None where there was nothing. The server must be stopped.
    """
    before: Path | None = None
    if exists(cluster, database):
        before = keep(cluster, database, "before-restore")
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN)) as db:
        db.execute(
            "select pg_terminate_backend(pid) from pg_stat_activity where datname = any(%s)",
            [[database, INCOMING]],
        )
    old = database + "_old"
    _drop(cluster, old)
    # both names change in one transaction: there is no moment without a database
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN)) as db:
        if before is not None:
            _rename_in(db, database, old)
        _rename_in(db, INCOMING, database)
    _drop(cluster, old)
    return before


def _rename_in(db: psycopg.Connection, old: str, new: str) -> None:
    db.execute(sql.SQL("alter database {} rename to {}").format(sql.Identifier(old), sql.Identifier(new)))
