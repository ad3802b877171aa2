"""What one computer needs: ports, digests, state that survives a crash."""

import os
import shutil
import socket
import subprocess
import tempfile
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import UUID

import psycopg
import pytest
from psycopg import sql

from wise_perch import commands
from wise_perch.api.app import from_environment
from wise_perch.cli import app
from wise_perch.machine import backups, hall_data, places
from wise_perch.machine.places import ROOT
from wise_perch.machine.postgres import (
    ADMIN,
    APP,
    OWNER,
    QUICK,
    Cluster,
    create_database,
    free_port,
    make_cluster,
)
from wise_perch.store.migrate import NewerDatabase, migrate


def test_a_taken_port_is_left_alone() -> None:
    """If somebody listens on the usual port another free one is given."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert free_port(port) not in (0, port)
    assert free_port(port) == port


def test_state_is_for_this_user_only_and_keeps_what_it_had(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Passwords are readable by their owner alone; a change keeps the rest, and None forgets."""
    monkeypatch.setattr(places, "HOME", tmp_path)
    monkeypatch.setattr(places, "STATE", tmp_path / "state.json")
    assert places.read_state() == {}
    places.write_state(a=1, b=2)
    places.write_state(b=None, c=3)
    assert places.read_state() == {"a": 1, "c": 3}
    assert places.STATE.stat().st_mode & 0o077 == 0


def test_a_digest_follows_names_and_contents(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    """A build is made again when a source changes its content or its name, and not otherwise."""
    monkeypatch.setattr(places, "ROOT", tmp_path)
    (tmp_path / "a").write_text("1", "utf-8")
    first = places.digest(tmp_path)
    assert places.digest(tmp_path) == first
    (tmp_path / "a").write_text("2", "utf-8")
    second = places.digest(tmp_path)
    (tmp_path / "a").rename(tmp_path / "b")
    assert len({first, second, places.digest(tmp_path)}) == 3


def test_a_cluster_listens_on_loopback_and_starts_again(cluster: Cluster) -> None:
    """The cluster runs, is bound to 127.0.0.1 alone, and creating a database twice is harmless."""
    assert cluster.running()
    create_database(cluster, "twice")
    create_database(cluster, "twice")
    conf = (cluster.folder / "postgresql.conf").read_text("utf-8")
    assert "listen_addresses = '127.0.0.1'" in conf
    assert "unix_socket_directories = ''" in conf


def test_each_role_may_do_what_it_needs_and_no_more(cluster: Cluster, database: str) -> None:
    """The databases' owner is no superuser; the application's role enters the halls' databases alone, and
    makes no temporary tables in them.
    """
    with psycopg.connect(cluster.dsn("postgres", role=OWNER)) as db:
        rights = "select rolname, rolsuper, rolbypassrls, rolcreaterole from pg_roles where rolname = any(%s)"
        found = {name: rest for name, *rest in db.execute(rights, [[OWNER, APP]])}
    assert found == {OWNER: [False, False, False], APP: [False, False, False]}
    for elsewhere in ("postgres", "template1"):
        with pytest.raises(psycopg.OperationalError, match="permission denied"):
            psycopg.connect(cluster.dsn(elsewhere))
    with (
        psycopg.connect(cluster.dsn(database)) as db,
        pytest.raises(psycopg.errors.InsufficientPrivilege),
    ):
        db.execute("create temporary table scratch (x integer)")


def test_an_older_clusters_owner_loses_what_it_does_not_need(monkeypatch: pytest.MonkeyPatch) -> None:
    """A cluster of the days when the owner was all-powerful: its data stays, the owner is parted from the
    admin, and a start that was broken off in between is gone on with.
    """
    parent = Path(tempfile.mkdtemp(prefix="perch-old-"))
    parent.chmod(0o755)
    monkeypatch.setattr(hall_data, "remember", lambda _: None)
    made = make_cluster(parent / "pg", settings=QUICK)
    try:
        helper = made.dsn("postgres", role=ADMIN).replace(f"{ADMIN}:{made.admin_password}", "helper:x")
        with psycopg.connect(made.dsn("postgres", role=ADMIN)) as db:
            db.execute("create role helper superuser login password 'x'")
        with psycopg.connect(helper) as db:
            db.execute(f"drop owned by {OWNER}; drop role {OWNER}; alter role {ADMIN} rename to {OWNER}")
            db.execute(sql.SQL("alter role perch_owner password {}").format(sql.Literal(made.owner_password)))
        with psycopg.connect(helper, autocommit=True) as db:
            db.execute(f"create database perch_own owner {OWNER}")
        old = replace(made, admin_password="")
        migrate(old.dsn("perch_own", role=OWNER))
        with psycopg.connect(old.dsn("perch_own", role=OWNER)) as db:
            db.execute(
                "insert into coach (id, email, name, password_hash) values (%s, 'a', 'A', 'x')", [UUID(int=7)]
            )
        parted = hall_data._with_three_roles(old)
        create_database(parted, "perch_own")
        assert hall_data._with_three_roles(parted) == parted
        with psycopg.connect(parted.dsn("perch_own", role=OWNER)) as db:
            assert db.execute("select rolsuper from pg_roles where rolname = current_user").fetchone() == (
                False,
            )
            assert db.execute("select name from coach").fetchone() == ("A",)
            strange = (
                "select count(*) from pg_tables where schemaname = 'public' and tableowner <> current_user"
            )
            assert db.execute(strange).fetchone() == (0,)
        with psycopg.connect(parted.dsn("perch_own")) as db:
            assert db.execute("select any_coach_yet()").fetchone() == (True,)
            assert db.execute("select count(*) from coach").fetchone() == (0,)
    finally:
        made.stop(how="immediate")
        shutil.rmtree(parent, ignore_errors=True)


@pytest.mark.parametrize(
    ("setting", "said"),
    [
        ({"PERCH_DATABASE": ""}, "PERCH_DATABASE is not set"),
        ({"PERCH_DATABASE": "sqlite:///x"}, "PERCH_DATABASE is not set"),
        (
            {"PERCH_DATABASE": "postgresql://x@127.0.0.1:9/x", "PERCH_SESSION_DAYS": "many"},
            "PERCH_SESSION_DAYS",
        ),
    ],
)
def test_a_server_that_could_never_answer_does_not_start(
    monkeypatch: pytest.MonkeyPatch, setting: dict[str, str], said: str
) -> None:
    """A wrong setting ends the process with a sentence, before anything listens."""
    for name, value in setting.items():
        monkeypatch.setenv(name, value)
    with pytest.raises(SystemExit, match=said):
        from_environment()


def test_older_code_on_a_newer_database_does_not_start(
    monkeypatch: pytest.MonkeyPatch, cluster: Cluster, database: str
) -> None:
    """Neither the server nor a migration touches a database that knows more than this version."""
    with psycopg.connect(cluster.dsn(database, role=OWNER)) as db:
        db.execute("insert into _yoyo_migration (migration_hash, migration_id) values ('x', '9999_later')")
    monkeypatch.setenv("PERCH_DATABASE", cluster.dsn(database))
    with pytest.raises(SystemExit, match="newer version"):
        from_environment()
    with pytest.raises(NewerDatabase, match="9999_later"):
        migrate(cluster.dsn(database, role=OWNER))


@pytest.mark.parametrize("words", [[], ["--help"], ["help"], ["start", "--help"], ["status"], ["--version"]])
def test_asking_installs_nothing(tmp_path: Path, words: list[str]) -> None:
    """In a folder where nothing is set up yet, asking what there is answers and leaves no trace."""
    shutil.copy(ROOT / "perch", tmp_path / "perch")
    (tmp_path / "wise_perch").mkdir()
    shutil.copy(ROOT / "wise_perch/__init__.py", tmp_path / "wise_perch/__init__.py")
    done = subprocess.run(
        [tmp_path / "perch", *words], capture_output=True, text=True, check=False, cwd=tmp_path
    )
    assert (done.returncode, bool(done.stdout + done.stderr)) == (0, True)
    assert sorted(p.name for p in tmp_path.iterdir()) == ["perch", "wise_perch"]


def test_the_overview_names_every_command() -> None:
    """What ./perch says of itself without being set up is what there is."""
    said = subprocess.run([ROOT / "perch"], capture_output=True, text=True, check=True).stdout
    for command in app.registered_commands:
        name = command.name or command.callback.__name__.replace("_", "-")  # type: ignore[union-attr]
        assert name in said or command.hidden, name


def test_root_is_kept_out_of_somebodys_folder(tmp_path: Path) -> None:
    """What root makes in a user's folder they could not use: it is refused, and nothing is made."""
    if os.geteuid() != 0:
        pytest.skip("only root can do this harm")
    shutil.copy(ROOT / "perch", tmp_path / "perch")
    os.chown(tmp_path, 65534, 65534)
    done = subprocess.run([tmp_path / "perch", "start"], capture_output=True, text=True, check=False)
    assert (done.returncode, "belongs to nobody" in done.stderr) == (3, True)
    assert [p.name for p in tmp_path.iterdir()] == ["perch"]


def test_a_backup_comes_before_a_migration_and_every_day_for_a_while(
    cluster: Cluster, database: str, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Where a migration waits a backup is written first; a day has one, those of more than 14 days go, and
    what was kept for another reason stays.
    """
    monkeypatch.setattr(backups, "FOLDER", tmp_path)
    monkeypatch.setattr("wise_perch.store.migrate.pending", lambda _: (["0013_to_come"], True))
    commands._database(cluster, database)
    (before,) = tmp_path.glob("*-before-migration.dump")
    day = datetime(2026, 5, 3, 18, tzinfo=UTC)
    first = backups.daily(cluster, database, moment=day)
    assert first is not None
    assert backups.daily(cluster, database, moment=day + timedelta(hours=23)) is None
    assert backups.daily(cluster, database, moment=day + timedelta(days=13)) is not None
    assert first.exists()
    assert backups.daily(cluster, database, moment=day + timedelta(days=15)) is not None
    assert (first.exists(), before.exists(), len(list(tmp_path.iterdir()))) == (False, True, 3)
    assert all(path.stat().st_mode & 0o077 == 0 for path in tmp_path.iterdir())


def test_without_a_network_the_first_start_says_so(tmp_path: Path) -> None:
    """Setting up needs the network once; where there is none that is said, and no traceback."""
    for name in ("perch", "wise_perch/__init__.py"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        shutil.copy(ROOT / name, tmp_path / name)
    shutil.copytree(ROOT / "requirements", tmp_path / "requirements")
    index = "http://127.0.0.1:9/simple"
    nowhere = {
        "PIP_INDEX_URL": index,
        "PIP_EXTRA_INDEX_URL": "",
        "PIP_FIND_LINKS": "",
        "PIP_RETRIES": "1",
        "PIP_CONFIG_FILE": os.devnull,
        "PIP_NO_CACHE_DIR": "1",
        "UV_DEFAULT_INDEX": index,
        "UV_FIND_LINKS": "",
        "UV_NO_CACHE": "1",
    }
    done = subprocess.run(
        [tmp_path / "perch", "check"],
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, **nowhere},
    )
    assert (done.returncode, "The network cannot be reached" in done.stderr) == (1, True), done.stderr
    assert "Traceback" not in done.stderr
