"""A client generated from the api's OpenAPI document by a general-purpose tool (openapi-python-client) drives
the api: what the document says is what there is. OpenAPI Specification 3.1 (OpenAPI Initiative, 2021).
"""

import asyncio
import importlib
import json
import subprocess
import sys
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from pathlib import Path
from types import ModuleType
from typing import Any
from uuid import UUID

import httpx
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.conftest import CONNECTIONS
from wise_perch.api.app import build_app
from wise_perch.api.document import SAID
from wise_perch.api.settings import Settings
from wise_perch.machine.postgres import Cluster

DOCUMENT: dict[str, Any] = build_app(Settings(database="postgresql://")).openapi()
OPERATIONS = [
    (path, method, operation)
    for path, methods in DOCUMENT["paths"].items()
    for method, operation in methods.items()
]
OPEN = {
    "health",
    "door",
    "first_coach",
    "sign_in",
    "look_at_link",
    "join_new",
    "join_known",
    "sign_in_here",
    "choose_password",
    "calendar_feed",
    "show_display",
    "own_page",
    "shared_drawings",
    "tell_day",
    "tell_habit",
}
"""What needs no sign-in: before it, by a link that works once, and by a secret address."""
PASSWORD = "a long enough password"


def test_the_document_names_everything_once_and_says_who_may_ask() -> None:
    """Operation ids and titles are unique and plain, every route but the open ones needs a session or a
    token, and every error is a problem.
    """
    ids = [operation["operationId"] for _, _, operation in OPERATIONS]
    assert [id for id, n in Counter(ids).items() if n > 1] == []
    assert all(id.replace("_", "").isalpha() and id.islower() for id in ids)
    titles = Counter(schema["title"] for schema in DOCUMENT["components"]["schemas"].values())
    assert [title for title, n in titles.items() if n > 1] == []
    assert {o["operationId"] for _, _, o in OPERATIONS if not o.get("security")} == OPEN
    assert set(DOCUMENT["components"]["securitySchemes"]) == {"session", "token"}
    for path, method, operation in OPERATIONS:
        assert operation["summary"], (method, path)
        for status, answer in operation["responses"].items():
            if int(status) >= 400:
                shared = DOCUMENT["components"]["responses"][answer["$ref"].rpartition("/")[2]]
                assert list(shared["content"]) == ["application/problem+json"], (method, path, status)
        assert set(map(str, SAID)) <= set(operation["responses"])


@pytest.fixture(scope="module")
def generated(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of a client generated from the document."""
    folder = tmp_path_factory.mktemp("generated")
    (folder / "openapi.json").write_text(json.dumps(DOCUMENT), "utf-8")
    tool = Path(sys.executable).with_name("openapi-python-client")
    words = ["generate", "--path", "openapi.json", "--output-path", "perch_client", "--meta", "none"]
    done = subprocess.run([str(tool), *words], cwd=folder, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return folder


def test_a_generated_client_signs_in_runs_a_test_and_takes_it_home(
    generated: Path, cluster: Cluster, database: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """First coach, a token, a trainee, a run with two tries, its end, its result and the export, all by the
    generated classes; and an error comes as the problem the document promises.
    """
    monkeypatch.syspath_prepend(str(generated))
    settings = Settings(database=cluster.dsn(database), connections=CONNECTIONS, long_work=False)
    app = build_app(settings)
    # in a thread of its own: a browser's test before this one may have left a loop running here
    with TestClient(app), ThreadPoolExecutor(1) as threads:
        threads.submit(asyncio.run, _drive(app)).result()


async def _drive(app: FastAPI) -> None:
    module = importlib.import_module
    models: Any = module("perch_client.models")

    async def call(name: str, *words: object, by: Any, **more: object) -> Any:
        found: ModuleType = module(f"perch_client.api.{name}")
        answer = await found.asyncio_detailed(*words, client=by, **more)
        assert answer.status_code < 300, answer.content
        return answer

    client_of: Any = module("perch_client.client")
    over = {"transport": httpx.ASGITransport(app=app)}
    client = client_of.Client(base_url="http://127.0.0.1", httpx_args=over)
    who = {"email": "a@hall.example", "password": PASSWORD}
    await call("session.first_coach", by=client, body=models.FirstCoach(name="Coach A", **who))
    signed = await call("session.sign_in", by=client, body=models.SignIn(**who))
    assert signed.parsed.name == "Coach A"
    made = await call("account.make_token", by=client, body=models.NewToken(id=_id(), name="a test"))

    script = client_of.AuthenticatedClient(
        base_url="http://127.0.0.1", token=made.parsed.token, httpx_args=over
    )
    trainee = models.NewTrainee(id=_id(), name="Tilda Moor")
    await call("trainees.add_trainee", by=script, body=trainee)
    run, at = _id(), datetime.now(UTC)
    started = models.NewRun(id=run, started_at=at, rest_s=30)
    await call("bench.start_run", trainee.id, by=script, body=started)
    for number, seconds in enumerate((4.5, 11.0), start=1):
        tried = models.NewTry(
            id=_id(), number=number, at=at, outcome="held", value=seconds, fell=models.Fell.OVER
        )
        await call("bench.add_try", run, by=script, body=tried)
    ending = models.RunEnding(ended_at=at, ended_as=models.RunEndingEndedAs.FINISHED)
    await call("bench.end_run", run, by=script, body=ending)
    judged = await call("bench.judged_run", run, by=script)
    assert judged.parsed.to_dict()["scored"]["run"]["ended_as"] == "finished"
    table = (await call("files.export_tries", by=script, trainee=trainee.id)).content.decode("utf-8-sig")
    assert [line.split(",")[5] for line in table.splitlines()[1:]] == ["4.5", "11"]

    nobody: Any = module("perch_client.api.bench.judged_run")
    refused = await nobody.asyncio_detailed(_id(), client=script)
    assert (refused.status_code, type(refused.parsed)) == (404, models.ProblemDetails)
    assert refused.parsed.detail


def _id() -> UUID:
    return UUID(str(uuid7()))
