"""The real interface in headless Chromium, over a real server process and a real database with the demo's
hall.
"""

import os
import signal
import subprocess
from collections.abc import Iterator
from datetime import UTC, datetime
from time import sleep
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import CONNECTIONS, SESSION
from wise_perch.api.auth import COOKIE
from wise_perch.core.week.week_plan import monday_of
from wise_perch.demo.people import COACH_EMAIL, COACH_PASSWORD
from wise_perch.machine import server
from wise_perch.machine.browser import find_chromium
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.postgres import ADMIN, OWNER, Cluster, create_database, free_port

FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking"
    " --disable-component-update --disable-sync"
)
PATIENCE_MS = 120_000
"""How long a step may take before it counts as never: a busy machine is no fault."""
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": find_chromium(), "args": FLAGS.split(), "headless": True}


@pytest.fixture(autouse=True)
def patient(request: pytest.FixtureRequest) -> None:
    """Every page of a test waits for what it is told to find, however busy the machine is."""
    if "context" in request.fixturenames:
        request.getfixturevalue("context").set_default_timeout(PATIENCE_MS)


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}}


class Server:
    """A server process that a test may kill and start again on the same port."""

    def __init__(self, database: str, *, demo: bool) -> None:
        self.database, self.demo = database, f"{COACH_EMAIL} {COACH_PASSWORD}" if demo else ""
        self.port = free_port()
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        environment = {
            **server.environment(database=self.database, web=DIST, demo=self.demo),
            "PERCH_CONNECTIONS": str(CONNECTIONS),
        }
        self.process = subprocess.Popen(
            server.command(self.port),
            cwd=ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        server.wait_until_it_answers(self.port, self.process)

    def answers(self) -> bool:
        """Whether it runs: a test may have left it dead."""
        return self.process is not None and self.process.poll() is None

    def kill(self) -> None:
        """Kill it outright, as a power cut would."""
        if self.process and self.process.poll() is None:
            os.kill(self.process.pid, signal.SIGKILL)
            self.process.wait()


@pytest.fixture(scope="session")
def standing_hall(cluster: Cluster) -> Iterator[Server]:
    """The process behind every hall, started by the first test that needs it: a server takes seconds to
    start, a database little.
    """
    made = Server(cluster.dsn("hall"), demo=True)
    yield made
    made.kill()


@pytest.fixture
def hall(cluster: Cluster, demo_template: str, standing_hall: Server) -> Server:
    """A server over a fresh copy of the demo's hall; it finds its connections gone and makes new ones, as
    after any restart.
    """
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN), autocommit=True) as db:
        db.execute("drop database if exists hall with (force)")
    create_database(cluster, "hall", template=demo_template)
    if not standing_hall.answers():
        standing_hall.start()
    return standing_hall


@pytest.fixture
def empty_hall(cluster: Cluster, database: str) -> Iterator[Server]:
    """A server over an empty database."""
    made = Server(cluster.dsn(database), demo=False)
    made.start()
    yield made
    made.kill()


@pytest.fixture
def coach(page: Page, hall: Server) -> Page:
    """The demo's coach, signed in, on Today."""
    arrive(page, hall)
    expect(page.get_by_role("heading", level=1)).to_contain_text("to decide")
    return page


def arrive(page: Page, hall: Server, path: str = "") -> None:
    """Open a page of the demo's hall as its coach, whose session the template has open; the sign-in form has
    tests of its own.
    """
    page.context.add_cookies([{"name": COOKIE, "value": SESSION, "url": hall.url}])
    page.goto(hall.url + path)


def query(hall: Server, cluster: Cluster, text: str, *values: object) -> list[tuple[Any, ...]]:
    """Look into the database past row-level security."""
    name = hall.database.rsplit("/", 1)[1]
    with psycopg.connect(cluster.dsn(name, role=OWNER)) as db:
        return db.execute(text, list(values)).fetchall()  # type: ignore[arg-type]


def sent(hall: Server, cluster: Cluster, text: str, *, until: object) -> list[tuple[Any, ...]]:
    """What the database answers once what the page sent behind the scenes has come there, or at last."""
    for _ in range(200):
        if (found := query(hall, cluster, text)) == until:
            break
        sleep(0.05)
    return found


def free_today(hall: Server, cluster: Cluster) -> None:
    """Nobody is planned for today, whatever day of the week it is: the floor is empty."""
    week = monday_of(datetime.now(UTC).date())
    query(hall, cluster, "delete from plan where week = %s returning id", week)


def open_bench(page: Page, trainee: str) -> None:
    """From Today to the ready bench of a trainee, by keyboard and links."""
    page.get_by_role("link", name=trainee, exact=True).click()
    page.get_by_role("link", name="Test on the Bench").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(
        "Tests for"
    )  # the trainee's page lists past free tries by the same name
    page.get_by_role("link", name="Ten free tries").click()
    page.get_by_role("checkbox").check()
    expect(page.get_by_role("button", name="Begin the test")).to_be_focused()
    page.keyboard.press("Space")
    expect(page.get_by_text("Try 1 of 10 · ready")).to_be_visible()


def hold(page: Page, seconds: float, key: str) -> None:
    """Hold for some seconds of the page's own clock, and end with one key."""
    page.keyboard.press("Space")
    expect(page.get_by_text("holding")).to_be_visible()
    page.clock.fast_forward(int(seconds * 1000))
    page.keyboard.press(key)
    expect(page.get_by_text("holding")).to_be_hidden()
