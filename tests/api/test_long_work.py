"""Long work of the server: kept, done, stopped, taken up again; a closed page stops nothing."""

import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from time import sleep
from typing import Any
from uuid import UUID

import psycopg
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD
from wise_perch.api import long_work
from wise_perch.api.routes import jobs
from wise_perch.api.settings import Settings
from wise_perch.core.week.week_plan import monday_of

NEXT = monday_of(datetime.now(UTC).date()) + timedelta(weeks=1)
TRIES = 1200


def add(client: TestClient, *names: str) -> list[str]:
    ids = [str(uuid7()) for _ in names]
    for id, name in zip(ids, names, strict=True):
        assert client.post("/api/trainees", json={"id": id, "name": name}).status_code == 201
    return ids


def until(client: TestClient, job: str, *states: str) -> dict[str, Any]:
    """The job, once it has come to one of these states."""
    for _ in range(TRIES):
        found: dict[str, Any] = client.get(f"/api/jobs/{job}").json()
        if found["state"] in states:
            return found
        sleep(0.05)
    raise AssertionError(found)


def plan(client: TestClient, who: list[str], id: str | None = None, **more: Any) -> Any:
    body = {"id": id or str(uuid7()), "week": NEXT.isoformat(), "trainees": who, **more}
    return client.post("/api/plan-week/jobs", json=body)


def kept(client: TestClient) -> list[str]:
    week = client.get("/api/plan-week", params={"week": NEXT.isoformat()}).json()
    return [x["trainee"]["name"] for x in week if x["kept"]]


def test_everybody_is_planned_by_the_server(busy: TestClient) -> None:
    """Asked for once or twice it is done once; progress is told, the newest can be found again without its
    id, and whoever cannot be planned is named while the others are.
    """
    who = add(busy, "Tilda Moor", "Orin Vale", "Saga Holm")
    id = str(uuid7())
    assert plan(busy, who, id).status_code == 202
    assert plan(busy, who, id).json()["id"] == id
    assert plan(busy, who[:1], id).status_code == 409, "the id stands for other work"
    done = until(busy, id, "finished")
    assert (done["done"], done["total"], done["wrong"]) == (3, 3, [])
    assert kept(busy) == ["Orin Vale", "Saga Holm", "Tilda Moor"]
    assert busy.get("/api/plan-week/jobs").json()["id"] == id
    page = busy.get(f"/api/trainees/{who[0]}/plan", params={"week": NEXT.isoformat()}).json()
    assert len(page["versions"]) == 1
    again = plan(busy, who).json()["id"]
    assert until(busy, again, "finished")["wrong"] == []
    page = busy.get(f"/api/trainees/{who[0]}/plan", params={"week": NEXT.isoformat()}).json()
    assert len(page["versions"]) == 1, "what is kept already is not planned over"
    after = (NEXT + timedelta(days=9)).isoformat()
    day = {"day": after, "place": "hall", "minutes": 45}
    elsewhere = {"week": NEXT.isoformat(), "days": [day], "kit": {"hall": []}}
    second = plan(busy, who, model=elsewhere).json()["id"]
    wrong = until(busy, second, "finished")["wrong"]
    assert len(wrong) == 3
    assert wrong[0].startswith("Tilda Moor: ")
    assert plan(busy, [str(uuid7())]).status_code == 404


def test_it_stops_when_asked_and_what_is_done_stays(
    busy: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Stopped in the middle, the first are planned and the others are not; once it has ended nothing changes
    it.
    """
    who = add(busy, "Tilda Moor", "Orin Vale", "Saga Holm")
    gate, at_second = threading.Event(), threading.Event()
    real, seen = long_work.plan_for, list[UUID]()

    def one_and_wait(db: Any, trainee: UUID, *args: Any, **kwargs: Any) -> None:
        seen.append(trainee)
        if len(seen) == 2:
            at_second.set()
            gate.wait(60)
        real(db, trainee, *args, **kwargs)

    monkeypatch.setattr(long_work, "plan_for", one_and_wait)
    id = plan(busy, who).json()["id"]
    assert at_second.wait(60)
    assert busy.get(f"/api/jobs/{id}").json()["done"] == 1
    assert busy.post(f"/api/jobs/{id}/stop").status_code == 200
    gate.set()
    assert until(busy, id, "stopped", "finished")["state"] == "stopped"
    assert len(kept(busy)) == 2
    assert busy.post(f"/api/jobs/{id}/stop").json()["state"] == "stopped"


def test_what_was_left_is_taken_up_by_who_starts_next(
    fresh: Callable[[], TestClient],
    client: TestClient,
    application: tuple[FastAPI, Settings],
    owner: psycopg.Connection,
) -> None:
    """Asked of a process that does no work, marked as begun by one that died: the next process does it, and
    nobody is planned twice.
    """
    who = add(client, "Tilda Moor", "Orin Vale")
    waiting, begun = plan(client, who).json()["id"], plan(client, who[:1]).json()["id"]
    owner.execute("update job set state = 'running', done = 1 where id = %s", [begun])
    owner.execute("update procrastinate_jobs set status = 'doing' where args ->> 'job' = %s", [begun])
    owner.execute("delete from procrastinate_jobs where args ->> 'job' = %s", [waiting])
    app, settings = application
    settings.long_work = True
    try:
        with TestClient(app, base_url="http://127.0.0.1", cookies=dict(client.cookies)) as next_one:
            assert until(next_one, waiting, "finished")["done"] == 2
            assert until(next_one, begun, "finished")["done"] == 1
            assert kept(next_one) == ["Orin Vale", "Tilda Moor"]
    finally:
        settings.long_work = False


def test_another_coach_sees_and_stops_nothing(
    busy: TestClient, fresh: Callable[[], TestClient], owner: psycopg.Connection
) -> None:
    """The work of one coach is not there for another."""
    (who,) = add(busy, "Tilda Moor")
    id = plan(busy, [who]).json()["id"]
    other = fresh()
    body = {"email": "b@hall.example", "name": "Coach B", "password": PASSWORD}
    if other.post("/api/coaches", json=body).status_code == 404:
        other.cookies.clear()
    assert other.get(f"/api/jobs/{id}").status_code in (401, 404)
    assert other.post(f"/api/jobs/{id}/stop").status_code in (401, 404)
    until(busy, id, "finished")


def test_the_next_twelve_weeks_are_a_model_with_its_spread(
    busy: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Without a goal it is refused; with one it is worked out: twelve weeks, the fewest, the middle and the
    most steps left.
    """
    (who,) = add(busy, "Tilda Moor")
    path = f"/api/trainees/{who}/outlook"
    assert busy.post(path, json={"id": str(uuid7())}).status_code == 409
    assert busy.get(path).json() == {"goal": False, "outlook": None, "made_on": None, "under_way": None}
    goals = {"goals": ["freestanding-hold"]}
    assert busy.put(f"/api/trainees/{who}/goals", json=goals).status_code == 204
    monkeypatch.setattr(jobs, "LIVES", 2)
    id = busy.post(path, json={"id": str(uuid7())}).json()["id"]
    assert busy.get(path).json()["under_way"]["total"] == 24
    until(busy, id, "finished")
    page = busy.get(path).json()
    outlook = page["outlook"]
    assert (page["under_way"], len(outlook["weeks"]), outlook["lives"]) == (None, 12, 2)
    assert all(w["least"] <= w["middle"] <= w["most"] for w in outlook["weeks"])
    assert outlook["weeks"][-1]["middle"] < outlook["now"], "whoever follows the plan gets somewhere"
    assert any(w["least"] < w["most"] for w in outlook["weeks"]), "lives differ"
    assert all(1 <= g["lives"] <= outlook["lives"] and 1 <= g["week"] <= 12 for g in outlook["gates"])
    assert "no promise" in outlook["model"]
