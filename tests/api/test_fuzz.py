"""Every endpoint answers junk with 4xx and a reason, never 5xx: drawn from the api's own OpenAPI document."""

import json
from typing import Any

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.api.conftest import Bench
from wise_perch.api.app import build_app
from wise_perch.api.settings import Settings

DOCUMENT: dict[str, Any] = build_app(Settings(database="postgresql://")).openapi()
SCHEMA = schemathesis.openapi.from_dict(DOCUMENT)
# signing out would end the fuzzing of everything after it
LEFT_OUT = {"/api/sign-out"}
OPERATIONS = [(path, method) for path, methods in DOCUMENT["paths"].items() for method in methods if path not in LEFT_OUT]
RELAXED = settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck), database=None)


@pytest.mark.parametrize(("path", "method"), OPERATIONS)
def test_drawn_requests_never_break_the_server(client: TestClient, path: str, method: str) -> None:
    """Requests that fit the document's shapes, whatever their values, are answered below 500 with a sentence."""

    @RELAXED
    @given(case=SCHEMA[path][method].as_strategy())
    def fuzz(case: schemathesis.Case) -> None:
        words = {key: value for key, value in case.as_transport_kwargs(base_url="http://127.0.0.1").items() if key != "cookies" and value}
        answer = client.request(**{**words, "headers": dict(words["headers"])})
        assert answer.status_code < 500, (case, answer.text)
        if answer.status_code >= 400:
            assert answer.json()["detail"]

    fuzz()


junk = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda x: st.lists(x, max_size=3) | st.dictionaries(st.text(max_size=5), x, max_size=3),
)
WRITES = [(path, method) for path, method in OPERATIONS if method != "get"]


@pytest.mark.parametrize(("path", "method"), WRITES)
def test_junk_bodies_never_break_the_server(bench: Bench, path: str, method: str) -> None:
    """Bodies of no shape at all, and single fields swapped for junk, are answered below 500."""
    run = bench.start()
    good = {
        "/api/trainees/{id}/runs": {"id": run, "started_at": "2026-01-01T00:00:00Z", "rest_s": 30},
        "/api/runs/{run}/tries": bench.body(1, 3.0),
    }.get(path, {})
    url = path.replace("{run}", run).replace("{drill}", "wall-walk").replace("{id}", bench.trainee)

    @RELAXED
    @given(whole=junk, field=junk, name=st.sampled_from(sorted(good) or ["name"]))
    def fuzz(whole: Any, field: Any, name: str) -> None:
        for body in (whole, {**good, name: field}):
            answer = bench.client.request(method, url, content=json.dumps(body), headers={"content-type": "application/json"})
            assert answer.status_code < 500, (body, answer.text)

    fuzz()
