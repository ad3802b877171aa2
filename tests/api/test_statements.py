"""How many statements a request costs, counted on the demo's hall: a page reads a case once."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from typing import Any

import psycopg
import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.conftest import SESSION
from wise_perch.api.app import build_app
from wise_perch.api.auth import COOKIE
from wise_perch.api.settings import Settings
from wise_perch.core.week.week_plan import monday_of
from wise_perch.machine.postgres import Cluster, create_database

Counted = Callable[[], Any]


@pytest.fixture
def demo(cluster: Cluster, demo_template: str) -> Iterator[TestClient]:
    """The demo's coach, signed in."""
    create_database(cluster, "counted", template=demo_template)
    with TestClient(
        build_app(Settings(database=cluster.dsn("counted"), long_work=False)), base_url="http://127.0.0.1"
    ) as client:
        client.cookies.set(COOKIE, SESSION)
        yield client


@contextmanager
def statements(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """Every statement that is sent to the database, but for those that begin, end or try a connection."""
    found: list[str] = []
    with monkeypatch.context() as patch:
        for name in ("execute", "executemany"):
            sent = getattr(psycopg.Cursor, name)

            def counting(self: Any, query: Any, *more: Any, sent: Any = sent, **named: Any) -> Any:
                if str(query).strip():
                    found.append(str(query))
                return sent(self, query, *more, **named)

            patch.setattr(psycopg.Cursor, name, counting)
        yield found


def test_a_request_asks_the_database_little(demo: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """Keeping a plan takes 20 statements at most, looking at one 14, the trainee's page 12, an event on the
    floor 8.
    """
    (trainee,) = [t["id"] for t in demo.get("/api/trainees").json() if t["name"] == "Runa Aske"]
    on = datetime.now(UTC).date()
    days = [
        {"day": str(on + timedelta(days=n)), "place": "hall", "minutes": 55}
        for n in (0, 2)
        if monday_of(on + timedelta(days=n)) == monday_of(on)
    ]
    wish = {"week": str(monday_of(on)), "days": days, "kit": {"hall": ["wall", "mat", "pads", "box"]}}

    def cost(ask: Counted, *, most: int) -> Any:
        with statements(monkeypatch) as sent:
            answer = ask()
        assert answer.status_code in (200, 201), answer.text
        assert 0 < len(sent) <= most, "\n".join(sent)
        return answer.json()

    cost(lambda: demo.get(f"/api/trainees/{trainee}"), most=12)
    cost(lambda: demo.get(f"/api/trainees/{trainee}/plan"), most=14)
    cost(lambda: demo.post(f"/api/trainees/{trainee}/plan/look", json=wish), most=14)
    kept = {**wish, "id": str(uuid7()), "at": datetime.now(UTC).isoformat()}
    cost(lambda: demo.post(f"/api/trainees/{trainee}/plans", json=kept), most=20)
    sheet = cost(lambda: demo.get(f"/api/trainees/{trainee}/floor?day={on}"), most=14)["sheet"]
    session = str(uuid7())
    body = {"id": session, "started_at": datetime.now(UTC).isoformat(), "sheet": sheet}
    cost(lambda: demo.post(f"/api/trainees/{trainee}/sessions", json=body), most=8)
    work = [(n, s["planned"]) for n, s in enumerate(sheet["slots"]) if s["kind"] == "work"]
    for slot, key in work[:3]:
        value = 1 if sheet["variants"][key]["dose"]["measure"] == "rate" else 3
        event = {
            "id": str(uuid7()),
            "at": datetime.now(UTC).isoformat(),
            "kind": "set",
            "slot": slot,
            "key": key,
            "value": value,
            "form": "clean",
        }
        cost(lambda e=event: demo.post(f"/api/sessions/{session}/events", json=e), most=8)  # type: ignore[misc]
        cost(lambda e=event: demo.post(f"/api/sessions/{session}/events/{e['id']}/strike"), most=10)  # type: ignore[misc]
