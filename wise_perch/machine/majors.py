"""From one major version of PostgreSQL to the newest on this machine: a backup, a new cluster, and the old
one set aside whole.
"""

import shutil
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import psycopg

from wise_perch.machine import backups, hall_data
from wise_perch.machine.postgres import ADMIN, Cluster, free_port, installed, make_cluster, programs
from wise_perch.machine.progress import Trouble, say, step


def newest() -> int:
    """The newest major version on this machine. Raises Trouble where there is none."""
    programs()
    return max(installed())


def carry_over(cluster: Cluster) -> Path:
    """Carry every database over to the newest version, and give the folder where the old cluster stays.

    The old folder is renamed only when the new cluster holds everything, row by row. Raises Trouble before
    that with nothing changed.
    """
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN)) as db:
        names = [
            str(row[0])
            for row in db.execute(
                "select datname from pg_database where datname like 'perch\\_%%' and datname <> %s"
                " and not starts_with(datname, %s) order by 1",
                [backups.INCOMING, backups.SCRATCH],
            )
        ]
    with step(f"writing backups of {', '.join(names)}"):
        files = {name: backups.keep(cluster, name, f"before-postgresql-{newest()}") for name in names}
        held = {name: backups.look(cluster, name) for name in names}
    for file in files.values():
        say(f"    {file}")
    incoming = cluster.folder.parent / "incoming"
    shutil.rmtree(incoming, ignore_errors=True)
    with step(f"restoring into PostgreSQL {newest()}"):
        made = make_cluster(incoming, passwords=replace(cluster, port=free_port()))
        try:
            for name, file in files.items():
                backups.fill(made, name, file)
                if backups.look(made, name) != held[name]:
                    raise Trouble(f"{name} did not arrive whole; the old data is as it was.")
        finally:
            made.stop()
    cluster.stop()
    aside = cluster.folder.with_name(f"data-{cluster.major}-{datetime.now(UTC):%Y-%m-%dT%H%M%S}")
    cluster.folder.rename(aside)
    made.folder.rename(cluster.folder)
    shutil.rmtree(incoming, ignore_errors=True)
    hall_data.remember(cluster)
    return aside
