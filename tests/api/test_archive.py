"""The whole hall out and in again, and the one real deletion."""

import json
from collections.abc import Callable, Iterator
from typing import Any

import psycopg
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from jsonschema import Draft202012Validator
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD
from tests.conftest import SESSION
from wise_perch.api.auth import COOKIE
from wise_perch.api.settings import Settings
from wise_perch.machine.places import ROOT
from wise_perch.machine.postgres import ADMIN, Cluster, create_database


@pytest.fixture
def demo(cluster: Cluster, demo_template: str, application: tuple[FastAPI, Settings]) -> Iterator[TestClient]:
    """The demo's coach, over a copy of the demo's hall."""
    create_database(cluster, "archived", template=demo_template)
    app, settings = application
    settings.database = cluster.dsn("archived")
    with TestClient(app, base_url="http://127.0.0.1", cookies={COOKIE: SESSION}) as made:
        yield made
    with psycopg.connect(cluster.dsn("postgres", role=ADMIN), autocommit=True) as db:
        db.execute("drop database archived with (force)")


@pytest.fixture
def demo_archive(demo: TestClient) -> bytes:
    return demo.get("/api/archive").content


def put(client: TestClient, text: bytes, *, keep: bool) -> Any:
    return client.post(f"/api/archive?keep={str(keep).lower()}", content=text)


def judged(client: TestClient) -> dict[str, Any]:
    """Standing and plan of everybody, without what is new by nature."""
    found = {}
    for one in client.get("/api/trainees").json():
        page = client.get(f"/api/trainees/{one['id']}").json()
        found[one["name"]] = (page, client.get(f"/api/trainees/{one['id']}/plan").json())
    return found


def test_a_hall_goes_round_and_comes_back_the_same(
    demo: TestClient, cluster: Cluster, database: str, application: tuple[FastAPI, Settings], cheap: None
) -> None:
    """Out of one database and into an empty one: the next archive is the same to the byte, and so is every
    standing and every plan.
    """
    whole = demo.get("/api/archive")
    assert whole.status_code == 200
    records = json.loads(whole.content)
    kinds = {r["record"] for r in records}
    assert {"archive", "coach", "kit", "trainee"} <= kinds
    before = judged(demo)
    app, settings = application
    settings.database = cluster.dsn(database)
    with TestClient(app, base_url="http://127.0.0.1") as other:
        body = {"email": "other@hall.example", "name": "Other", "password": PASSWORD}
        assert other.post("/api/first-coach", json=body).status_code == 201
        looked = put(other, whole.content, keep=False).json()
        assert (looked["kept"], other.get("/api/trainees").json()) == (False, [])
        kept = put(other, whole.content, keep=True).json()
        assert kept == {**looked, "kept": True}
        assert len(kept["new"]) == sum(r["record"] == "trainee" for r in records)
        assert other.get("/api/archive").content == whole.content
        assert judged(other) == before
        # a second time everybody is here already, and nothing is doubled
        again = put(other, whole.content, keep=True).json()
        assert (again["new"], len(again["here"])) == ([], len(kept["new"]))
        assert other.get("/api/archive").content == whole.content


def test_an_archive_fits_its_schema(demo_archive: bytes) -> None:
    """The JSON Schema in the docs takes what is written, and refuses a field too many and one too few. JSON
    Schema 2020-12 (Wright, Andrews, Hutton, Dennis, 2022) by the general-purpose library jsonschema.
    """
    schema = json.loads((ROOT / "docs/archive.schema.json").read_text("utf-8"))
    records = json.loads(demo_archive)
    kinds = {r["record"]: r for r in records if r["record"] != "trainee" or (r["sessions"] and r["plans"])}
    few = [kinds["archive"], *(r for kind, r in kinds.items() if kind != "archive")]
    whole = kinds["trainee"]
    whole["evidence"] = whole["evidence"][:20]
    check = Draft202012Validator(schema)
    assert [e.message for e in check.iter_errors(few)] == []
    assert not check.is_valid([*few[:-1], {**few[-1], "more": 1}])
    assert not check.is_valid([few[0], {k: v for k, v in whole.items() if k != "intakes"}])


def changed(text: bytes, what: str, into: str) -> bytes:
    assert what.encode() in text
    return text.replace(what.encode(), into.encode(), 1)


def test_a_bad_archive_keeps_nothing_and_says_why(demo_archive: bytes, client: TestClient) -> None:
    """Junk, a cut file, a record that cannot be read, and one that contradicts itself: 4xx with the place,
    and nothing of the rest is kept.
    """
    whole = demo_archive
    bad = {
        "no record": b"[\n{nonsense\n]\n",
        "nothing in it": b"",
        "first record": b"[\n" + whole.split(b"\n", 2)[2],
        "cut off": whole[: whole.rindex(b"\n]")],
        "reads 1": changed(whole, '"version": 1', '"version": 99'),
        "Extra inputs are not permitted": changed(whole, '"gone": false', '"gone": false, "more": 1'),
        "line 1": b"[" * 100_000,
    }
    for said, text in bad.items():
        answer = put(client, text, keep=True)
        assert answer.status_code == 422, said
        assert "Nothing was kept" in answer.json()["detail"], answer.text
        assert said in answer.json()["detail"], answer.text
    lines = whole.decode().splitlines()
    at = next(
        n for n, line in enumerate(lines) if '"record": "trainee"' in line and '"try_number": 1' in line
    )
    twice = json.loads(lines[at].rstrip(","))
    twice["evidence"].append(twice["evidence"][0])
    lines[at] = json.dumps(twice) + ","
    answer = put(client, "\n".join(lines).encode(), keep=True)
    assert (answer.status_code, "contradicts itself" in answer.json()["detail"]) == (422, True)
    assert client.get("/api/trainees").json() == []


def test_nobody_sends_a_hall_without_being_known(client: TestClient, fresh: Callable[[], TestClient]) -> None:
    """An archive may be larger than anything else, so it is read only once it is known whose it is."""
    read = 0

    def pieces() -> Iterator[bytes]:
        nonlocal read
        for _ in range(100):
            read += 1
            yield b" " * 1_000_000

    answer = fresh().post("/api/archive?keep=true", content=pieces())
    assert answer.status_code == 401
    assert client.post("/api/archive", content=b" " * 70_000_000).status_code == 413


def test_one_trainee_goes_alone_away_back_and_for_good(demo: TestClient) -> None:
    """Put away, a trainee is shown nowhere; brought back, they are as they were; erased, nothing of theirs is
    left but a receipt that names nobody, and their own archive brings them back.
    """
    who = demo.get("/api/trainees").json()[0]
    id = who["id"]
    alone = demo.get(f"/api/archive?trainee={id}").content
    assert [r["record"] for r in json.loads(alone)] == ["archive", "trainee"]
    page = demo.get(f"/api/trainees/{id}").json()
    assert demo.post(f"/api/trainees/{id}/put-away").status_code == 204
    assert id not in {t["id"] for t in demo.get("/api/trainees").json()}
    assert id not in {t["id"] for t in demo.get("/api/today").json()}
    assert demo.get(f"/api/trainees/{id}").status_code == 404
    assert [t["id"] for t in demo.get("/api/away").json()] == [id]
    assert demo.post(f"/api/trainees/{id}/bring-back").json()["name"] == who["name"]
    assert demo.get(f"/api/trainees/{id}").json() == page

    receipt = {"receipt": str(uuid7()), "name": who["name"], "present": "tram-depot-hall"}
    early = demo.post(f"/api/trainees/{id}/erase", json=receipt)
    assert (early.status_code, "put away" in early.json()["detail"]) == (409, True)
    demo.post(f"/api/trainees/{id}/put-away")
    for wrong in ({"name": "Somebody Else"}, {"present": "not this"}):
        answer = demo.post(f"/api/trainees/{id}/erase", json={**receipt, **wrong})
        assert answer.status_code in (403, 422), answer.text
    done = demo.post(f"/api/trainees/{id}/erase", json=receipt)
    assert done.status_code == 200, done.text
    assert done.json()["counted"]["evidence"] > 0
    assert who["name"] not in demo.get("/api/archive").text
    assert id not in demo.get("/api/archive").text
    assert [r["trainee"] for r in demo.get("/api/receipts").json()] == [id]
    assert who["name"] not in json.dumps(demo.get("/api/receipts").json())
    assert put(demo, alone, keep=True).json()["new"] == [who["name"]]
    assert demo.get(f"/api/trainees/{id}").json() == page
