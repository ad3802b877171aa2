"""Every endpoint answers junk with 4xx and a reason, never 5xx: drawn from the api's own OpenAPI document."""

import json
from collections.abc import Iterator
from typing import Any

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD, Bench
from tests.conftest import TEMPLATE
from wise_perch.api.app import build_app
from wise_perch.api.settings import Settings
from wise_perch.machine.postgres import Cluster, create_database
from wise_perch.syllabus.shipped import built_in, read_text

DOCUMENT: dict[str, Any] = build_app(Settings(database="postgresql://")).openapi()
SCHEMA = schemathesis.openapi.from_dict(DOCUMENT)
# signing out, or going to another hall, would end the fuzzing of everything after it; changes have no end
LEFT_OUT = {"/api/sign-out", "/api/hall/new", "/api/changes"}
OPERATIONS = [
    (path, method)
    for path, methods in DOCUMENT["paths"].items()
    for method in methods
    if path not in LEFT_OUT
]
TRUTHS = [status_code_conformance, content_type_conformance, response_schema_conformance]
RELAXED = settings(max_examples=12, suppress_health_check=list(HealthCheck), database=None)


@pytest.fixture(scope="session")
def shared(cluster: Cluster) -> Iterator[Bench]:
    """One application and database for all that is only thrown at it: a new one for every path would cost
    more than the throwing.
    """
    create_database(cluster, "fuzzed", template=TEMPLATE)
    app = build_app(Settings(database=cluster.dsn("fuzzed"), upload_bytes=2_000_000, long_work=False))
    with TestClient(app):
        made = TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False)
        assert (
            made.post(
                "/api/first-coach", json={"email": "a@hall.example", "name": "Coach A", "password": PASSWORD}
            ).status_code
            == 201
        )
        yield Bench(made)
        # whoever was signed out on the way would have been thrown at for nothing
        assert made.get("/api/me").status_code == 200


@pytest.mark.parametrize(("path", "method"), OPERATIONS)
def test_drawn_requests_never_break_the_server(shared: Bench, path: str, method: str) -> None:
    """Requests that fit the document's shapes, whatever their values, are answered below 500 with a
    sentence, and as the document says: status, kind of content, shape.
    """

    @RELAXED
    @given(case=SCHEMA[path][method].as_strategy())
    def fuzz(case: schemathesis.Case) -> None:
        words = {
            key: value
            for key, value in case.as_transport_kwargs(base_url="http://127.0.0.1").items()
            if key != "cookies" and value
        }
        answer = shared.client.request(**{**words, "headers": dict(words["headers"])})
        assert answer.status_code < 500, (case, answer.text)
        if answer.status_code >= 400:
            assert answer.json()["detail"]
        # a file's request is a stream that is gone by now, and the checks would read it
        if "files" not in words:
            case.validate_response(answer, checks=TRUTHS)

    shared.client.post(f"/api/trainees/{shared.trainee}/bring-back")
    fuzz()


junk = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda x: st.lists(x, max_size=3) | st.dictionaries(st.text(max_size=5), x, max_size=3),
)
WRITES = [(path, method) for path, method in OPERATIONS if method != "get"]


@pytest.mark.parametrize(("path", "method"), WRITES)
def test_junk_bodies_never_break_the_server(shared: Bench, path: str, method: str) -> None:
    """Bodies of no shape at all, and single fields swapped for junk, are answered below 500."""
    bench = shared
    bench.client.post(f"/api/trainees/{bench.trainee}/bring-back")
    run = bench.start()
    good = {
        "/api/trainees/{id}/runs": {
            **{
                "id": run,
                "started_at": "2026-01-01T00:00:00Z",
                "rest_s": 30,
                "test": "push-floor",
                "subject": "",
                "begin": 20.0,
                "dial": {"a": 1},
            },
            **{"source": "after", "room": "", "test_day": None},
        },
        "/api/runs/{run}/tries": bench.body(1, 3.0),
        "/api/trainees/{id}/goals": {"goals": ["hand-walk"]},
        "/api/trainees/{id}/schools": {"schools": {"kip": "after-gates"}},
        "/api/trainees/{id}/waivers": {
            "id": str(uuid7()),
            "at": "2026-01-01T00:00:00Z",
            "drill": "pike-hold",
            "reason": "seen",
        },
        "/api/trainees/{id}/intake": {
            **{
                "id": str(uuid7()),
                "at": "2026-01-01T00:00:00Z",
                "stature_cm": 170.0,
                "mass_kg": 60,
                "lengths_cm": {"arm": 70},
                "kit": ["mat"],
            },
            **{
                "cautions": {q.caution: False for q in built_in().intake.cautions},
                "experience": ["push"],
                "history": "",
                "confidence": 3,
            },
        },
        "/api/syllabus/go-back": {"id": str(uuid7()), "base": None, "to": None},
        "/api/me": {"schools": {}, "rest_s": 45, "sounds": True, "volume": 40, "units": "cm"},
        "/api/runs/{run}/tries/{tried}/correct": {
            "id": str(uuid7()),
            "outcome": "held",
            "value": 3.0,
            "mode": "",
            "level": None,
            "side": "left",
        },
        "/api/kit": {"id": str(uuid7()), "kind": "pad", "thickness_cm": 3, "count": 2, "note": ""},
        "/api/kit/{id}": {"kind": "pad", "thickness_cm": 3, "count": 2, "note": ""},
        "/api/test-days/look": {
            "turns": [{"trainee": bench.trainee, "test": "fold", "subject": ""}],
            "split": True,
        },
        "/api/test-days": {
            "id": str(uuid7()),
            "at": "2026-01-01T00:00:00Z",
            "turns": [{"trainee": bench.trainee, "test": "fold"}],
        },
        **plan_bodies(bench.trainee),
    }.get(path, {})
    tried = bench.body(2, 3.0)
    bench.send(run, tried)
    url = (
        path.replace("{tried}", tried["id"])
        .replace("{run}", run)
        .replace("{drill}", "wall-walk")
        .replace("{id}", bench.trainee)
    )

    @RELAXED
    @given(whole=junk, field=junk, name=st.sampled_from(sorted(good) or ["name"]))
    def fuzz(whole: Any, field: Any, name: str) -> None:
        for body in (whole, {**good, name: field}):
            answer = bench.client.request(
                method, url, content=json.dumps(body), headers={"content-type": "application/json"}
            )
            assert answer.status_code < 500, (body, answer.text)

    fuzz()


def plan_bodies(trainee: str) -> dict[str, dict[str, Any]]:
    """Good bodies of plans, sessions and secret addresses."""
    wish = {
        **{
            "week": "2026-06-01",
            "days": [{"day": "2026-06-02", "place": "hall", "minutes": 55, "time": "18:00"}],
            "kit": {"hall": ["wall", "mat"]},
        },
        **{
            "pins": [{"day": "2026-06-02", "drill": "forearm-plank", "sets": 3}],
            "drops": [{"drill": "bear-walk", "day": None}],
            "against": None,
        },
    }
    kept = {"id": str(uuid7()), "at": "2026-01-01T00:00:00Z", "note": ""}
    event = {
        **{
            "id": str(uuid7()),
            "at": "2026-01-01T00:00:00Z",
            "kind": "pain",
            "slot": 0,
            "key": "a",
            "how": "",
            "value": 3.0,
            "then_value": 2.0,
        },
        **{
            "form": "clean",
            "side": "left",
            "setting": 10.0,
            "energy": 2,
            "confidence": 3,
            "pains": [{"joint": "neck", "level": 2, "sharp": False}],
        },
    }
    return {
        "/api/trainees/{id}/plan/look": wish,
        "/api/trainees/{id}/plans": {**wish, **kept, "fingerprint": ""},
        "/api/trainees/{id}/links": {"id": str(uuid7()), "kind": "page"},
        "/api/sessions/{id}/events": event,
        "/api/sessions/{id}/end": {"ended_at": "2026-01-01T00:00:00Z", "ended_as": "finished", "note": ""},
        "/api/shared/{token}/done": {
            "id": str(uuid7()),
            "at": "2026-01-01T00:00:00Z",
            "day": "2026-06-02",
            "blocks": [{"number": 0, "values": [3]}],
        },
    }


EDIT = {
    "drill": "new-hold",
    "insert": {
        "drill": "new-hold",
        "title": "New hold",
        "gate": {
            "measure": "hold",
            "value": 40,
            "origin": "ours",
            "at": {"dial": "surface-height", "origin": "ours", "at_least": 10},
        },
        "dial": {"name": "surface-height", "harder": "higher", "origin": "ours"},
        "needs": [{"any_of": ["pike-hold"], "state": "met"}],
        "stages": [{"value": 10, "origin": "ours"}],
        "doses": [{"sets": {"least": 1, "most": 2, "origin": "ours"}, "words": "Few."}],
        "cues": ["Tall."],
        "kit": ["wall"],
    },
    "line": "inversion",
    "place": {"above": "pike-hold"},
    "add_to_goals": ["hand-walk"],
}


def places(value: Any, at: tuple[str | int, ...] = ()) -> list[tuple[str | int, ...]]:
    """Every key and place within a value, however deep."""
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    return [*([at] if at else []), *(p for key, child in inner for p in places(child, (*at, key)))]


def test_junk_anywhere_in_an_edit_is_answered(client: TestClient) -> None:
    """One part of an edit, however deep, swapped for junk: a refusal, problems with lines, or a sound trial;
    never a fault.
    """
    sound = client.post("/api/syllabus/try", json={"edits": [EDIT]})
    assert sound.json()["problems"] == []
    big = st.sampled_from(
        [1e308, -1e308, 10**400, float("nan"), float("inf"), "\ud800", "\x00", "a" * 5000, -0.0]
    )

    @settings(RELAXED, max_examples=150)
    @example(place=("insert", "gate", "value"), value=1e308)
    @given(place=st.sampled_from(places(EDIT)), value=junk | big)
    def fuzz(place: tuple[str | int, ...], value: Any) -> None:
        spoilt = json.loads(json.dumps(EDIT))
        inner = spoilt
        for step in place[:-1]:
            inner = inner[step]
        inner[place[-1]] = value
        answer = client.post(
            "/api/syllabus/try",
            content=json.dumps({"edits": [spoilt]}),
            headers={"content-type": "application/json"},
        )
        assert answer.status_code < 500, (place, value, answer.text)
        if answer.status_code == 200:
            found = answer.json()
            assert all(p["line"] >= 1 and p["what"] for p in found["problems"])
        else:
            assert answer.json()["detail"]

    fuzz()


@settings(RELAXED, max_examples=40)
@given(data=st.binary(max_size=200) | st.text(max_size=200).map(lambda t: t.encode("utf-8", "replace")))
def test_any_bytes_as_a_syllabus_are_answered(data: bytes) -> None:
    """Whatever the bytes, the reader gives problems with lines and no exception."""
    found = read_text(data.decode("utf-8", "replace"))
    assert found.syllabus is None
    assert all(p.line >= 1 and p.what for p in found.problems)


def test_junk_anywhere_in_a_sheet_is_answered(bench: Bench) -> None:
    """One part of a session's sheet, however deep, swapped for junk: begun or refused with a reason; what is
    begun can be run and read.
    """
    ready = bench.client.get(f"/api/trainees/{bench.trainee}/floor").json()["sheet"]
    # three blocks are enough to be spoilt in every way
    used = {s["planned"] for s in ready["slots"][:6]}
    sheet = {**ready, "slots": [{**s, "back": "", "ahead": "", "swaps": []} for s in ready["slots"][:6]]}
    sheet["variants"] = {
        k: {**v, "lighter": "", "shy": ""} for k, v in ready["variants"].items() if k in used
    }
    big = st.sampled_from(
        [1e308, -1e308, 10**400, float("nan"), float("inf"), "\ud800", "\x00", "a" * 5000, -0.0, -1, 0]
    )

    @settings(RELAXED, max_examples=120)
    @given(place=st.sampled_from(places(sheet)), value=junk | big)
    def fuzz(place: tuple[str | int, ...], value: Any) -> None:
        spoilt = json.loads(json.dumps(sheet))
        inner = spoilt
        for step in place[:-1]:
            inner = inner[step]
        inner[place[-1]] = value
        id = str(uuid7())
        body = {"id": id, "started_at": "2026-01-01T00:00:00Z", "sheet": spoilt}
        answer = bench.client.post(
            f"/api/trainees/{bench.trainee}/sessions",
            content=json.dumps(body),
            headers={"content-type": "application/json"},
        )
        assert answer.status_code < 500, (place, value, answer.text)
        if answer.status_code == 201:
            for what in (
                {"kind": "ready", "energy": 1, "confidence": 1},
                {"kind": "set", "slot": 4, "key": sheet["slots"][4]["planned"], "value": 3},
            ):
                event = {"id": str(uuid7()), "at": "2026-01-01T00:00:00Z", **what}
                assert bench.client.post(f"/api/sessions/{id}/events", json=event).status_code < 500, (
                    place,
                    value,
                )
            assert bench.client.get(f"/api/sessions/{id}").status_code == 200, (place, value)
        else:
            assert answer.json()["detail"]

    fuzz()
