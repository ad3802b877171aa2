"""The api over a real database, spoken to as a browser would."""

from collections.abc import Callable, Iterator
from contextlib import ExitStack
from datetime import UTC, datetime
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from uuid_utils.compat import uuid7

from tests.conftest import CONNECTIONS
from wise_perch.api import auth
from wise_perch.api.app import build_app
from wise_perch.api.routes import account, join, session
from wise_perch.api.settings import Settings
from wise_perch.machine.postgres import Cluster

PASSWORD = "a long enough password"


@pytest.fixture(scope="session")
def application() -> tuple[FastAPI, Settings]:
    """One application for all tests; it opens a pool on the database that its settings name when it is
    served.
    """
    settings = Settings(database="", upload_bytes=2_000_000, connections=CONNECTIONS, long_work=False)
    return build_app(settings), settings


@pytest.fixture(scope="session")
def _cheap_hashing() -> Iterator[None]:
    """The same kind of hash at the least cost: how dear a guess is has a test of its own."""
    cheap = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=8, parallelism=1),))
    with pytest.MonkeyPatch.context() as patch:
        for module in (auth, session, account, join):
            patch.setattr(module, "hasher", lambda: cheap)
        yield


@pytest.fixture
def fresh(
    cluster: Cluster, database: str, application: tuple[FastAPI, Settings], _cheap_hashing: None
) -> Iterator[Callable[[], TestClient]]:
    """Make clients of one application, each with cookies of its own."""
    app, settings = application
    settings.database = cluster.dsn(database)
    with ExitStack() as stack:
        stack.enter_context(TestClient(app))

        yield lambda: TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False)


@pytest.fixture
def client(fresh: Callable[[], TestClient]) -> TestClient:
    """The first coach, signed in."""
    made = fresh()
    answer = made.post(
        "/api/first-coach", json={"email": "A@hall.example", "name": "Coach A", "password": PASSWORD}
    )
    assert answer.status_code == 201, answer.text
    return made


def now() -> str:
    return datetime.now(UTC).isoformat()


class Bench:
    """Short words for what a coach does at the bench."""

    def __init__(self, client: TestClient) -> None:
        self.client = client
        self.trainee = str(uuid7())
        assert (
            client.post("/api/trainees", json={"id": self.trainee, "name": "Tilda Moor"}).status_code == 201
        )

    def start(self) -> str:
        run = str(uuid7())
        answer = self.client.post(
            f"/api/trainees/{self.trainee}/runs", json={"id": run, "started_at": now(), "rest_s": 30}
        )
        assert answer.status_code == 201, answer.text
        return run

    def body(self, number: int, seconds: float | None = None, **more: Any) -> dict[str, Any]:
        held = (
            {"outcome": "held", "value": seconds, "fell": "over"}
            if seconds is not None
            else {"outcome": "overshot"}
        )
        return {"id": str(uuid7()), "number": number, "at": now(), **held, **more}

    def send(self, run: str, body: dict[str, Any]) -> Any:
        return self.client.post(f"/api/runs/{run}/tries", json=body)

    def end(self, run: str, **more: Any) -> Any:
        return self.client.post(
            f"/api/runs/{run}/end", json={"ended_at": now(), "ended_as": "finished", **more}
        )


@pytest.fixture
def bench(client: TestClient) -> Bench:
    return Bench(client)


@pytest.fixture
def cheap(_cheap_hashing: None) -> None:
    """Hash cheaply in a test that makes its own clients."""


@pytest.fixture
def working(application: tuple[FastAPI, Settings]) -> Iterator[None]:
    """The application takes up long work."""
    application[1].long_work = True
    yield
    application[1].long_work = False


@pytest.fixture
def busy(working: None, client: TestClient) -> TestClient:
    return client
