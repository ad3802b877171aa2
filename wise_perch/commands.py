"""The commands of a hall's own machine: start, stop, status, backup, restore, upgrade, reset-password,
reset-demo, release.
"""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from wise_perch.machine.progress import Trouble, say

if TYPE_CHECKING:
    # the doors need no database, and loading its client takes as long as many of them do
    from wise_perch.machine.front import Front
    from wise_perch.machine.postgres import Cluster
    from wise_perch.machine.server import Address

commands = typer.Typer()
DEMO, OWN = "perch_demo", "perch_own"


@contextmanager
def plain_trouble() -> Iterator[None]:
    """Turn trouble with the machine into its sentence and exit 1, without a traceback."""
    try:
        yield
    except Trouble as trouble:
        say(f"  {trouble}")
        raise typer.Exit(1) from None


def _in_use() -> str:
    from wise_perch.machine import places

    return DEMO if places.read_state().get("demo", True) else OWN


def _database(cluster: "Cluster", name: str) -> str:
    """Make sure of the database `name`, up to date, and give the application's address of it."""
    from wise_perch.machine import backups, postgres
    from wise_perch.machine.progress import step
    from wise_perch.store.migrate import NewerDatabase, migrate, pending

    postgres.create_database(cluster, name)
    owner = cluster.dsn(name, role=postgres.OWNER)
    try:
        waiting, has_data = pending(owner)
    except NewerDatabase as error:
        raise Trouble(str(error)) from None
    if waiting and has_data:
        with step("writing a backup before the database is changed"):
            say(f"    {backups.keep(cluster, name, 'before-migration')}")
    if applied := migrate(owner):
        say(f"  migrated: {', '.join(applied)}")
    return cluster.dsn(name)


def _load_demo(database: str) -> None:
    from datetime import UTC, datetime

    import psycopg

    from wise_perch.demo import load
    from wise_perch.machine.progress import step
    from wise_perch.syllabus.shipped import in_use

    with psycopg.connect(database, autocommit=True) as db:
        if not load.is_loaded(db):
            with step("drawing the demo's history"):
                load.load(db, in_use(), until=datetime.now(UTC).date())


def _certificate(certificate: Path | None, key: Path | None, address: "Address") -> dict[str, str]:
    """A domain's certificate as it is kept. Raises Trouble where one comes without the other."""
    if certificate is None and key is None:
        return {"certificate": address.certificate, "key": address.key}
    if certificate is None or key is None or not (certificate.is_file() and key.is_file()):
        raise Trouble("A domain's certificate comes as two files: --certificate FILE and --key FILE.")
    return {"certificate": str(certificate.resolve()), "key": str(key.resolve())}


def _say_front(door: "Front") -> None:
    """Say how phones come in, with the address as a code to point one at."""
    import segno

    typer.echo(f"Phones in the hall: {door.outside}/")
    segno.make(f"{door.outside}/", error="m").terminal(out=sys.stdout, compact=True)
    if door.own_authority:
        say(f"  A phone trusts the hall once, by the page at {door.trust}")
    say("  To sign a phone in without typing: The hall, Open on a phone.")


@commands.command()
def start(
    demo: Annotated[
        bool | None,
        typer.Option(
            "--demo/--empty", help="the made-up hall, or a database of your own; the last choice is kept"
        ),
    ] = None,
    host: Annotated[
        str | None, typer.Option(help="the address to listen on; 127.0.0.1 is this machine alone; kept")
    ] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535, help="the port to listen on; kept")] = None,
    name: Annotated[
        list[str] | None, typer.Option(help="a name browsers call this machine by; may be given twice; kept")
    ] = None,
    processes: Annotated[
        int | None,
        typer.Option(min=1, max=32, help="how many processes answer; one does for a hall of its own; kept"),
    ] = None,
    lan: Annotated[
        bool | None,
        typer.Option("--lan/--no-lan", help="serve phones in the hall over TLS, or this machine alone; kept"),
    ] = None,
    lan_port: Annotated[
        int | None, typer.Option(min=1, max=65535, help="the port phones use; 8443 unless chosen; kept")
    ] = None,
    certificate: Annotated[
        Path | None, typer.Option(help="a domain's certificate for phones, in place of one made here; kept")
    ] = None,
    key: Annotated[Path | None, typer.Option(help="the key of that certificate; kept")] = None,
    data: Annotated[Path | None, typer.Option(help="use the data in this folder from now on")] = None,
    new: Annotated[
        bool, typer.Option("--new", help="begin with an empty database though an unused one lies about")
    ] = False,
) -> None:
    """Set up what is missing, start everything in the background and say where it is."""
    from dataclasses import replace

    from wise_perch.demo.people import COACH_EMAIL, COACH_PASSWORD
    from wise_perch.machine import browser_side, hall_data, places, server

    with plain_trouble():
        wanted = demo if demo is not None else bool(places.read_state().get("demo", True))
        if data is not None:
            hall_data.take(data.resolve())
        web = browser_side.ensure_built()
        cluster = hall_data.ensure_running(new=new)
        places.write_state(demo=wanted)
        database = _database(cluster, DEMO if wanted else OWN)
        if wanted:
            _load_demo(database)
        address = server.remembered()
        address = replace(
            address,
            host=host or address.host,
            port=port or address.port,
            names=address.names if name is None else tuple(name),
            processes=processes or address.processes,
            lan=address.lan if lan is None else lan,
            lan_port=lan_port or address.lan_port,
            **_certificate(certificate, key, address),
        )
        sign_in = f"{COACH_EMAIL} {COACH_PASSWORD}" if wanted else ""
        door = server.ensure_running(database=database, web=web, demo=sign_in, address=address)
    say("")
    typer.echo(f"Wise Perch: http://{address.called}:{address.port}/")
    if door:
        _say_front(door)
    elif address.host not in ("127.0.0.1", "localhost", "::1"):
        say(
            "It listens beyond this machine, and what is sent can be read on the way: put TLS before it"
            " (docs/operate.md)."
        )
    if wanted:
        typer.echo(f"Demo sign-in: {COACH_EMAIL}  password: {COACH_PASSWORD}")
        say("The hall and everybody in it are made up. For a database of your own: ./perch start --empty")
    else:
        say(
            "Your own database. The first visit offers to create the first coach. For the demo: ./perch start"
            " --demo"
        )
    say("To stop: ./perch stop")


@commands.command()
def stop() -> None:
    """Stop the server and PostgreSQL; nothing kept is lost."""
    from wise_perch.machine import hall_data, server

    with plain_trouble():
        stopped = [
            name
            for name, ran in (
                ("the server", server.stop_if_running()),
                ("PostgreSQL", hall_data.stop_if_running()),
            )
            if ran
        ]
    say(f"Stopped {' and '.join(stopped)}." if stopped else "Nothing was running.")


@commands.command()
def status() -> None:
    """Say what runs, where the data lies, how much it is, and the newest backup."""
    from wise_perch import __version__
    from wise_perch.machine import backups, hall_data, places, postgres, server

    with plain_trouble():
        address, cluster = server.running(), hall_data.known_cluster()
        typer.echo(f"Wise Perch {__version__} in {places.ROOT}")
        if address is not None:
            well = server.answers(address.port, address.called)
            typer.echo(
                f"server: http://{address.called}:{address.port}/" + ("" if well else " (does not answer)")
            )
        else:
            typer.echo("server: stopped")
        if cluster is None:
            typer.echo("data: none yet")
            return
        runs = cluster.running()
        typer.echo(
            f"PostgreSQL {cluster.major}: "
            + (f"runs on 127.0.0.1:{cluster.port}" if runs else "stopped")
            + f"; data in {cluster.folder}"
        )
        newest = max(postgres.installed(), default=cluster.major)
        if newest > cluster.major:
            typer.echo(f"PostgreSQL {newest} is installed; to move the data to it: ./perch upgrade")
        typer.echo(f"database in use: {_in_use()}")
        if runs and backups.exists(cluster, _in_use()):
            typer.echo(f"holds: {backups.look(cluster, _in_use()).said()}")
        files = sorted(backups.FOLDER.glob(f"{_in_use()}-*.dump"), key=lambda path: path.stat().st_mtime)
        typer.echo(f"newest backup: {files[-1] if files else 'none yet'}")


@commands.command()
def backup(
    file: Annotated[Path | None, typer.Argument(help="where to; .perch/backups if none is named")] = None,
) -> None:
    """Write a backup of the database in use and try it out by restoring it beside."""
    from wise_perch.machine import backups, hall_data
    from wise_perch.machine.progress import step

    with plain_trouble():
        cluster = hall_data.ensure_running()
        if not backups.exists(cluster, _in_use()):
            raise Trouble("There is nothing to back up yet: ./perch start makes the database.")
        with step("writing the backup and trying it out"):
            if file is None:
                file = backups.keep(cluster, _in_use(), "by-hand")
                held = backups.look(cluster, _in_use())
            else:
                held = backups.write(cluster, _in_use(), file.resolve())
    typer.echo(f"{file}")
    say(f"It holds {held.said()}: what people entered, cautions too. Keep it where nobody else reads.")


@commands.command()
def restore(
    file: Annotated[Path, typer.Argument(help="a file that ./perch backup wrote")],
    yes: Annotated[bool, typer.Option("--yes", help="do not ask")] = False,
    new: Annotated[
        bool, typer.Option("--new", help="into a new database, though an unused one lies about")
    ] = False,
) -> None:
    """Bring a backup back in place of the database in use; what was there is kept as a backup first."""
    from wise_perch.machine import backups, hall_data, places, server
    from wise_perch.machine.progress import step
    from wise_perch.store.migrate import names

    with plain_trouble():
        if not file.is_file():
            raise Trouble(f"There is no file {file}.")
        if places.read_state().get("demo") is None:
            places.write_state(demo=False)
        target = _in_use()
        if new and (aside := hall_data.set_aside_unreadable()):
            say(f"The data that no PostgreSQL here can read stays in {aside}.")
        cluster = hall_data.ensure_running(new=new)
        with step("looking into the backup"):
            held = backups.look_into(cluster, file.resolve(), known=set(names()))
        say(f"{file} holds {held.said()}.")
        if backups.exists(cluster, target):
            say(f"{target} holds {backups.look(cluster, target).said()}. A backup of that is written first.")
        if not yes and not _agreed("Put the backup in its place? Type yes: "):
            raise Trouble("Nothing was changed.")
        was_running = server.stop_if_running()
        before = backups.put_in_place(cluster, target)
        _database(cluster, target)
    say(f"Restored into {target}." + (f" What was there is in {before}." if before else ""))
    say("To start: ./perch start" + (" (it ran before, and was stopped for this)" if was_running else ""))


def _agreed(question: str) -> bool:
    if not sys.stdin.isatty():
        say("Nobody is there to ask; add --yes to go on without asking.")
        return False
    return input(question).strip().lower() == "yes"


@commands.command()
def upgrade() -> None:
    """Move the data to the newest PostgreSQL on this machine, after a backup; the old folder stays."""
    from wise_perch.machine import hall_data, majors, server

    with plain_trouble():
        cluster = hall_data.known_cluster()
        if cluster is None:
            raise Trouble("There is no data yet.")
        if majors.newest() <= cluster.major:
            say(f"The data is PostgreSQL {cluster.major}'s, the newest on this machine. Nothing to do.")
            return
        server.stop_if_running()
        cluster = hall_data.ensure_running()
        aside = majors.carry_over(cluster)
    say(f"Moved to PostgreSQL {majors.newest()}. The old data stays in {aside} until you take it away.")
    say("To start: ./perch start")


@commands.command()
def reset_password(email: str) -> None:
    """Give the coach with this email a new password, printed once, and end all their sessions."""
    import secrets

    import psycopg

    from wise_perch.api.auth import hasher
    from wise_perch.machine import hall_data
    from wise_perch.machine.postgres import OWNER
    from wise_perch.store import coaches

    with plain_trouble():
        cluster = hall_data.ensure_running()
        _database(cluster, _in_use())
        password = "-".join(secrets.token_hex(2) for _ in range(5))
        with psycopg.connect(cluster.dsn(_in_use(), role=OWNER)) as db:
            if not coaches.reset_password(db, email=email.lower(), password_hash=hasher().hash(password)):
                raise Trouble(f"There is no coach with the email {email} in {_in_use()}.")
    typer.echo(password)
    say("Sign in with it and choose your own under Account. All sessions of this coach are ended.")


@commands.command()
def reset_demo() -> None:
    """Throw away what was entered into the demo and draw its history again, up to today. Your own database is
    not touched.
    """
    from wise_perch.demo.load import forget
    from wise_perch.machine import hall_data, postgres

    with plain_trouble():
        cluster = hall_data.ensure_running()
        database = _database(cluster, DEMO)
        forget(cluster.dsn(DEMO, role=postgres.OWNER))
        _load_demo(database)
    say("The demo is as new. Sign in again.")


@commands.command()
def release(
    file: Annotated[
        Path | None, typer.Argument(help="where to write it; wise-perch-VERSION.tar.gz here")
    ] = None,
) -> None:
    """Write a release archive with the browser side built: a hall that unpacks it needs no Node."""
    from wise_perch import __version__
    from wise_perch.machine.release import write_release

    with plain_trouble():
        there = (file or Path(f"wise-perch-{__version__}.tar.gz")).resolve()
        count = write_release(there)
    typer.echo(f"{there}: {count} files")
