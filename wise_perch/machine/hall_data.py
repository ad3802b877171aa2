"""Where a hall's data lies on this machine: found again after a move, taken over with words, never hidden
behind a new, empty database.
"""

import hashlib
import secrets
import shutil
import subprocess
from dataclasses import replace
from pathlib import Path

import psycopg
from psycopg import sql

from wise_perch.machine.places import HOME, ROOT, STATE, is_root, read_state, write_state
from wise_perch.machine.postgres import (
    ADMIN,
    APP,
    OWNER,
    SERVER_USER,
    Cluster,
    free_port,
    give_to_server,
    installed,
    make_cluster,
    run_as_server,
)
from wise_perch.machine.progress import Trouble, say, step

OUTSIDE = Path("/var/lib/wise-perch")
"""Where root's cluster lies when PostgreSQL's user may not enter the project's own folder."""
MARK = "belongs-to"
"""The file beside an outside cluster that names the project folder it was made for."""


def _may_enter(folder: Path) -> bool:
    """Say whether PostgreSQL's user may go through `folder`."""
    if not is_root():
        return True
    words = ["runuser", "-u", SERVER_USER, "--", "test", "-x", str(folder)]
    return subprocess.run(words, check=False, stderr=subprocess.DEVNULL).returncode == 0


def _home_of_new() -> Path:
    HOME.mkdir(exist_ok=True)
    if _may_enter(HOME):
        return HOME / "pg"
    return OUTSIDE / hashlib.sha256(str(ROOT).encode()).hexdigest()[:12]


def _holds_data(folder: Path) -> bool:
    """Say whether a folder holds a cluster; another user's folder cannot be looked into."""
    try:
        return (folder / "PG_VERSION").exists()
    except PermissionError:
        raise Trouble(
            f"{folder} belongs to another user, who made this project's database. Run ./perch as that user."
        ) from None


def _where() -> Path | None:
    """The folder of this project's cluster: inside the project whatever it was called when it was made, or
    outside where the state says.
    """
    inside = HOME / "pg" / "data"
    if _holds_data(inside):
        return inside
    kept = (read_state().get("postgres") or {}).get("folder")
    if not kept:
        return None
    path = HOME / kept if not Path(kept).is_absolute() else Path(kept)
    return path if _holds_data(path) else None


def known_cluster() -> Cluster | None:
    """The project's cluster as it is remembered, wherever the project lies now; None where there is none, or
    its passwords are not known.
    """
    state, folder = read_state().get("postgres"), _where()
    if not state or folder is None:
        return None
    return Cluster(
        folder=folder,
        port=state["port"],
        owner_password=state["owner_password"],
        app_password=state["app_password"],
        admin_password=state.get("admin_password", ""),
    )


def remember(cluster: Cluster) -> None:
    """Keep where the cluster is and what opens it; a place inside the project as seen from there."""
    inside = cluster.folder.is_relative_to(HOME)
    write_state(
        postgres={
            "folder": str(cluster.folder.relative_to(HOME) if inside else cluster.folder),
            "port": cluster.port,
            "owner_password": cluster.owner_password,
            "app_password": cluster.app_password,
            "admin_password": cluster.admin_password,
        }
    )


def left_behind() -> list[Path]:
    """Clusters that may be this hall's and are not in use: set aside here, or made for a project folder that
    is this one or is no longer there.
    """
    found = sorted((HOME / "pg").glob("data-*"))
    for mark in sorted(OUTSIDE.glob(f"*/{MARK}")):
        owner = Path(mark.read_text("utf-8").strip())
        if (mark.parent / "data").exists() and (owner == ROOT or not owner.exists()):
            found.append(mark.parent / "data")
    return [path for path in found if _holds_data(path)]


def ensure_running(*, new: bool = False) -> Cluster:
    """Give the project's cluster, started if it does not run, and made if there is none anywhere.

    Where an unused one lies about, a new one is made only if `new` says so. Raises Trouble with what to do.
    """
    folder = _where()
    if folder is None:
        return _make(new=new)
    _can_be_entered(folder)
    cluster = known_cluster()
    if cluster is None:
        cluster = _with_new_passwords(folder)
    _of_this_project_alone(cluster)
    if not cluster.running():
        with step("starting PostgreSQL"):
            cluster = replace(cluster, port=free_port(cluster.port))
            remember(cluster)
            cluster.start()
    return _with_three_roles(cluster)


def set_aside_unreadable() -> Path | None:
    """Rename a cluster that no PostgreSQL on this machine can read, so that a new one can be made beside it;
    None where there is none such.
    """
    folder = _where()
    if folder is None:
        return None
    major = int((folder / "PG_VERSION").read_text("ascii").strip())
    if major in installed():
        return None
    return folder.rename(folder.with_name(f"data-{major}-unreadable-{secrets.token_hex(4)}"))


def take(folder: Path) -> None:
    """Use the data at `folder` for this project from now on. Raises Trouble if there is none."""
    path = folder if _holds_data(folder) else folder / "data"
    if not _holds_data(path):
        raise Trouble(f"{folder} holds no database of PostgreSQL. Nothing was changed.")
    present = _where()
    if present is not None and present.resolve() == path.resolve():
        return
    if present is not None:
        raise Trouble(
            f"This project has data already, at {present}. Nothing was changed. Stop it (./perch stop), move"
            " that folder away, and run the same command again."
        )
    state = read_state().get("postgres") or {}
    inside = HOME / "pg" / "data"
    if path.is_relative_to(HOME) and path != inside:
        path = path.rename(inside)
    elif path.parent.parent == OUTSIDE:
        (path.parent / MARK).write_text(str(ROOT), "utf-8")
    write_state(postgres={**state, "folder": str(path)} if state else None)
    if not state:
        _with_new_passwords(path)


def _make(*, new: bool) -> Cluster:
    others = left_behind()
    if others and not new:
        raise Trouble(
            "There is data here that may be this hall's, and it is not in use: "
            + ", ".join(str(path) for path in others)
            + f". Nothing was changed. To use it: ./perch start --data {others[0]}. To begin with an empty"
            " database and leave it where it is: ./perch start --new."
        )
    home = _home_of_new()
    if (home / "data").exists():
        # no cluster is in it, or _where would have found it: an attempt that was broken off
        (home / "data").rename(home / f"unfinished-{secrets.token_hex(4)}")
    with step("making a private PostgreSQL cluster"):
        cluster = make_cluster(home)
    if home.parent == OUTSIDE:
        (home / MARK).write_text(str(ROOT), "utf-8")
    remember(cluster)
    return cluster


def _owner_of(folder: Path) -> str:
    """Who owns a folder; empty where that is nobody this machine knows."""
    try:
        return folder.owner()
    except KeyError:
        return ""


def _can_be_entered(folder: Path) -> None:
    """Raise Trouble where PostgreSQL's user cannot reach its data any more; mend who owns a copied folder."""
    if not is_root():
        return
    if _owner_of(folder) != SERVER_USER:
        shutil.chown(folder.parent, SERVER_USER, SERVER_USER)
        for path in (folder, *folder.rglob("*")):
            give_to_server(path)
    folder.chmod(0o700)
    if not _may_enter(folder.parent):
        raise Trouble(
            f"PostgreSQL's user may not go into {folder.parent}, where this hall's data is. Nothing is lost."
            " Move the project to a folder that everybody may go through (as /srv/wise-perch), or allow it"
            f" (chmod o+x, for each folder above {HOME}), and run the same command again."
        )


def _of_this_project_alone(cluster: Cluster) -> None:
    """Raise Trouble where an outside cluster serves another project folder, of which this one is a copy."""
    mark = cluster.folder.parent / MARK
    if cluster.folder.is_relative_to(HOME):
        return
    owner = Path(mark.read_text("utf-8").strip()) if mark.exists() else ROOT
    if owner != ROOT and (owner / ".perch" / STATE.name).exists():
        raise Trouble(
            f"This folder is a copy of {owner}, and both would write into one database at {cluster.folder}."
            " Nothing was changed. To carry the data over, run ./perch backup there, and here ./perch"
            " restore FILE --new."
        )
    mark.write_text(str(ROOT), "utf-8")


def _with_new_passwords(folder: Path) -> Cluster:
    """Take over a cluster whose passwords are not known: whoever owns its files may set new ones."""
    cluster = Cluster(
        folder=folder,
        port=free_port(),
        owner_password=secrets.token_urlsafe(24),
        app_password=secrets.token_urlsafe(24),
        admin_password=secrets.token_urlsafe(24),
    )
    if cluster.running():
        cluster.stop()
    say(f"  this folder has data at {folder} but not its passwords: they are set again")
    with step("setting new passwords"):
        roles = "\n".join(
            f"do $$ begin if exists (select from pg_roles where rolname = '{role}') then alter role {role}"
            f" password '{cluster.password(role)}'; end if; end $$;"
            for role in (ADMIN, OWNER, APP)
        )
        words = ["--single", "-D", str(folder), "postgres"]
        (folder / "postmaster.pid").unlink(missing_ok=True)
        run_as_server(cluster.programs / "postgres", *words, said=roles + "\n")
    remember(cluster)
    return cluster


def _with_three_roles(cluster: Cluster) -> Cluster:
    """Part the owner from the admin where a cluster is of the days when they were one."""
    if not cluster.admin_password:
        cluster = replace(cluster, admin_password=secrets.token_urlsafe(24))
        remember(cluster)
    try:
        psycopg.connect(cluster.dsn("postgres", role=ADMIN)).close()
    except psycopg.OperationalError:
        with step("giving the database's owner no more rights than it needs"):
            _part_owner_from_admin(cluster)
    return cluster


MOVER = "perch_mover"
"""Exists only while the roles are parted: nobody can rename themselves."""


def _part_owner_from_admin(cluster: Cluster) -> None:
    """Rename the old, all-powerful owner to admin, and give the databases to a new owner who is none."""
    secret = secrets.token_urlsafe(24)
    as_mover = cluster.dsn("postgres", role=OWNER).replace(
        f"{OWNER}:{cluster.owner_password}", f"{MOVER}:{secret}"
    )
    with psycopg.connect(cluster.dsn("postgres", role=OWNER)) as db:
        db.execute(f"drop role if exists {MOVER}")
        db.execute(sql.SQL(f"create role {MOVER} superuser login password {{}}").format(sql.Literal(secret)))
    with psycopg.connect(as_mover) as db:
        names = [
            str(row[0])
            for row in db.execute(
                "select datname from pg_database where not datistemplate and datname <> 'postgres'"
            )
        ]
    # what is in the databases follows whenever one is opened (create_database), so breaking off here is safe
    with psycopg.connect(as_mover) as db:
        db.execute(f"alter role {OWNER} rename to {ADMIN}")
        db.execute(sql.SQL(f"alter role {ADMIN} password {{}}").format(sql.Literal(cluster.admin_password)))
        db.execute(
            sql.SQL(f"create role {OWNER} login createdb password {{}}").format(
                sql.Literal(cluster.owner_password)
            )
        )
        for name in names:
            db.execute(sql.SQL(f"alter database {{}} owner to {OWNER}").format(sql.Identifier(name)))
        db.execute("revoke connect, temporary on database postgres, template1 from public")
        db.execute(f"grant connect on database postgres, template1 to {OWNER}")
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN)) as db:
        db.execute(f"drop role {MOVER}")


def stop_if_running() -> bool:
    """Stop the project's cluster; say whether it ran."""
    cluster = known_cluster()
    if cluster is None or not cluster.running():
        return False
    cluster.stop()
    return True
