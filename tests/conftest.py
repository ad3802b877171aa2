"""A real PostgreSQL for every test worker: a cluster of its own, and for each test a database copied from a
migrated template.
"""

import gc
import itertools
import os
import shutil
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import UUID

import psycopg
import pytest
from fastapi.testclient import TestClient
from hypothesis import settings
from uuid_utils.compat import uuid7

from wise_perch.api.app import build_app
from wise_perch.api.auth import COOKIE, token_hash
from wise_perch.api.settings import Settings
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.hall import Member, Role
from wise_perch.demo import load
from wise_perch.demo.people import COACH_EMAIL
from wise_perch.machine.postgres import OWNER, QUICK, Cluster, create_database, make_cluster
from wise_perch.store import coaches, halls, trainees
from wise_perch.store.migrate import migrate
from wise_perch.store.pool import Pool, act_as, make_pool, transaction
from wise_perch.syllabus.shipped import in_use

# one profile for all: no deadline, since a busy machine is no fault; drawn alike where it decides whether a
# change lands
settings.register_profile("perch", deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("perch")

# a test worker holds a great many objects that never go; looking through them again and again is dear
gc.set_threshold(100_000, 50, 100)

_numbers = itertools.count(1)
TEMPLATE, DEMO_TEMPLATE = "template_perch", "template_demo"
SESSION = "the demo's coach is signed in"
"""The token of a session that the demo's template has open: what a browser's cookie holds."""
CONNECTIONS = 3
"""A pool opens all its connections ahead; tests need few."""


@pytest.fixture(scope="session")
def syllabus() -> Syllabus:
    return in_use()


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    # not pytest's own folder: PostgreSQL's user must be able to enter it
    parent = Path(tempfile.mkdtemp(prefix="perch-test-"))
    parent.chmod(0o755)
    made = make_cluster(parent / "pg", settings=QUICK)
    create_database(made, TEMPLATE)
    migrate(made.dsn(TEMPLATE, role=OWNER))
    yield made
    made.stop(how="immediate")
    shutil.rmtree(parent, ignore_errors=True)


@pytest.fixture(scope="session")
def demo_template(cluster: Cluster) -> str:
    """The name of a database with the demo's hall, drawn once for each worker; tests take copies of it."""
    create_database(cluster, DEMO_TEMPLATE, template=TEMPLATE)
    with psycopg.connect(cluster.dsn(DEMO_TEMPLATE), autocommit=True) as db:
        now = datetime.now(UTC)
        load.load(db, in_use(), until=now.date())
        with db.transaction():
            member = enter_demo(db)
            coaches.open_session(
                db, token_hash=token_hash(SESSION), expires_at=now + timedelta(days=2), hall=member.hall
            )
    _open_today(cluster.dsn(DEMO_TEMPLATE))
    return DEMO_TEMPLATE


def _open_today(dsn: str) -> None:
    """Open Today once, so that what is worked out by the first who looks is there for every test."""
    settings = Settings(database=dsn, connections=CONNECTIONS, long_work=False)
    with TestClient(build_app(settings), base_url="http://127.0.0.1", cookies={COOKIE: SESSION}) as client:
        assert client.get("/api/today").status_code == 200


@pytest.fixture
def database(cluster: Cluster) -> str:
    """The name of a fresh, migrated, empty database."""
    name = f"t{next(_numbers)}"
    create_database(cluster, name, template=TEMPLATE)
    return name


@pytest.fixture
def owner(cluster: Cluster, database: str) -> Iterator[psycopg.Connection]:
    """A connection as the database's owner, to look past row-level security."""
    with psycopg.connect(cluster.dsn(database, role=OWNER), autocommit=True) as db:
        yield db


@pytest.fixture
def pool(cluster: Cluster, database: str) -> Iterator[Pool]:
    made = make_pool(cluster.dsn(database), most=CONNECTIONS)
    made.open()
    yield made
    made.close()


def enter_demo(db: psycopg.Connection) -> Member:
    """Let a transaction act as the demo's owner in the demo's hall."""
    who = coaches.for_sign_in(db, email=COACH_EMAIL)
    assert who is not None
    act_as(db, Member(coach=who[0]))
    member = Member(coach=who[0], hall=halls.of_coach(db)[0].id, role="owner")
    act_as(db, member)
    return member


def add_coach(pool: Pool, email: str = "a@hall.example", *, password_hash: str = "none") -> Member:
    """Add a coach with a hall of their own; without a password's hash they never sign in."""
    member = Member(coach=uuid7(), hall=uuid7(), role="owner")
    with transaction(pool, member=member) as db:
        coaches.add_coach(db, id=member.coach, email=email, name="Coach", password_hash=password_hash)
        halls.add(db, name="Hall", time_zone="UTC")
        halls.join(db, coach=member.coach, role="owner")
    return member


def add_member(pool: Pool, owner: Member, email: str, role: Role, *, password_hash: str = "none") -> Member:
    """Add a coach to somebody's hall."""
    member = Member(coach=uuid7(), hall=owner.hall, role=role)
    with transaction(pool, member=member) as db:
        coaches.add_coach(db, id=member.coach, email=email, name=role.title(), password_hash=password_hash)
        halls.join(db, coach=member.coach, role=role)
    return member


def add_trainee(pool: Pool, coach: Member, name: str = "Tilda Moor") -> UUID:
    with transaction(pool, member=coach) as db:
        return trainees.add(db, id=uuid7(), name=name, stepping_side=None, note="").id
