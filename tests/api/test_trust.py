"""Nobody gets in, and nothing is decided by a device's clock: accounts, sessions, tokens, the throttle,
bounds on time, answers that are sent once.
"""

import asyncio
import csv
import io
import re
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from threading import Event
from typing import Any

import psycopg
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from starlette.types import Message, Receive, Scope, Send
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD, Bench, now
from tests.api.test_syllabus_and_goals import NO
from wise_perch.api.app import build_app
from wise_perch.api.auth import COOKIE, DEVICE, LIMITS
from wise_perch.api.guard import Guard
from wise_perch.api.settings import Settings
from wise_perch.machine.places import DIST
from wise_perch.machine.postgres import Cluster

Fresh = Callable[[], TestClient]
WHO = {"email": "a@hall.example", "password": PASSWORD}


def sign_in(client: TestClient, password: str = PASSWORD, **headers: str) -> int:
    return client.post("/api/sign-in", json={**WHO, "password": password}, headers=headers).status_code


# --- the throttle -------------------------------------------------------------------------------------------


def test_guesses_side_by_side_are_counted_one_after_the_other(client: TestClient, fresh: Fresh) -> None:
    """Twenty guesses at the same moment: no more are hashed than may be tried."""
    guesser = fresh()
    with ThreadPoolExecutor(20) as many:
        answers = list(many.map(lambda n: sign_in(guesser, f"guess {n}"), range(20)))
    assert (answers.count(401), answers.count(429)) == (LIMITS["pair"], 20 - LIMITS["pair"])


def test_a_forwarded_address_is_believed_of_named_proxies_alone(
    client: TestClient, fresh: Fresh, application: tuple[Any, Settings], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Another address in a header makes no new guesser; behind a named proxy the last address before it
    counts, whatever the guesser wrote in front of it.
    """
    for n in range(LIMITS["pair"]):
        assert sign_in(fresh(), "no", **{"x-forwarded-for": f"10.0.0.{n}"}) == 401
    assert sign_in(fresh(), "no", **{"x-forwarded-for": "10.9.9.9"}) == 429
    app, settings = application
    monkeypatch.setattr(settings, "proxies", "10.0.0.0/8")
    behind = TestClient(app, base_url="http://127.0.0.1", client=("10.1.1.1", 5000))
    for n in range(LIMITS["pair"]):
        assert sign_in(behind, "no", **{"x-forwarded-for": f"1.2.3.{n}, 203.0.113.7, 10.2.2.2"}) == 401
    assert sign_in(behind, "no", **{"x-forwarded-for": "9.9.9.9, 203.0.113.7"}) == 429
    assert sign_in(behind, "no", **{"x-forwarded-for": "203.0.113.8"}) == 401


def test_nobody_locks_a_coach_out_of_a_browser_they_know(
    client: TestClient, application: tuple[Any, Settings], monkeypatch: pytest.MonkeyPatch, fresh: Fresh
) -> None:
    """Guesses from many addresses close the email for strange browsers, and not for one its coach signed in
    on; that one has guesses of its own, and no more.
    """
    app, settings = application
    monkeypatch.setattr(settings, "proxies", "10.0.0.0/8")
    attacker = TestClient(app, base_url="http://127.0.0.1", client=("10.1.1.1", 5000))
    for n in range(LIMITS["email"]):
        assert sign_in(attacker, "no", **{"x-forwarded-for": f"203.0.113.{n}"}) == 401
    assert sign_in(attacker, PASSWORD, **{"x-forwarded-for": "198.51.100.1"}) == 429
    assert client.post("/api/sign-out").status_code == 204
    assert DEVICE in client.cookies
    assert sign_in(client) == 200
    guesses = [sign_in(client, "no") for _ in range(LIMITS["device"] + 1)]
    assert guesses[-1] == 429
    # a device is known to its own coach alone
    other = fresh()
    other.cookies.set(DEVICE, "made up")
    assert sign_in(other) == 429


# --- sessions, password, tokens ----------------------------------------------------------------------------


def test_signing_in_over_anothers_cookie_ends_that_session(
    client: TestClient, fresh: Fresh, owner: psycopg.Connection
) -> None:
    """On a shared computer the next coach to sign in leaves nobody's session behind."""
    owner.execute(
        "insert into coach (id, email, name, password_hash) select %s, 'b@hall.example', 'B', password_hash"
        " from coach",
        [uuid7()],
    )
    first = client.cookies[COOKIE]
    answer = client.post("/api/sign-in", json={**WHO, "email": "b@hall.example"})
    assert answer.json()["name"] == "B"
    left = fresh()
    left.cookies.set(COOKIE, first)
    assert left.get("/api/me").status_code == 401


def test_sessions_are_listed_and_ended_one_by_one(client: TestClient, fresh: Fresh) -> None:
    """Each place is listed with when it was seen; the one asking is named; an ended one is out at once."""
    phone = fresh()
    assert sign_in(phone, **{"user-agent": "Mozilla/5.0 (Mobile)"}) == 200
    listed = client.get("/api/me/sessions").json()
    assert sorted((s["device"], s["here"]) for s in listed) == [("phone or tablet", False), ("program", True)]
    other = next(s for s in listed if not s["here"])
    assert client.post(f"/api/me/sessions/{other['id']}/end").status_code == 204
    assert phone.get("/api/me").status_code == 401
    assert client.get("/api/me").status_code == 200
    assert client.post(f"/api/me/sessions/{uuid7()}/end").status_code == 404


def test_a_new_password_ends_every_other_session(client: TestClient, fresh: Fresh) -> None:
    """The present password is asked for; with it the new one counts, and whoever else was in is out."""
    other = fresh()
    assert sign_in(other) == 200
    body = {"present": "not this one", "password": "another long password"}
    assert client.post("/api/me/password", json=body).status_code == 403
    body["present"] = PASSWORD
    assert client.post("/api/me/password", json=body).status_code == 204
    assert (client.get("/api/me").status_code, other.get("/api/me").status_code) == (200, 401)
    assert sign_in(other) == 401
    assert sign_in(other, "another long password") == 200


def test_a_new_email_signs_in_and_a_taken_one_is_refused(
    client: TestClient, fresh: Fresh, owner: psycopg.Connection
) -> None:
    """The email changes with the password alone; one that another coach has is a conflict."""
    owner.execute(
        "insert into coach (id, email, name, password_hash) values (%s, 'b@hall.example', 'B', 'x')",
        [uuid7()],
    )
    body = {"present": PASSWORD, "email": "B@hall.example"}
    assert client.post("/api/me/email", json=body).status_code == 409
    body["email"] = "new@hall.example"
    assert client.post("/api/me/email", json=body).json()["email"] == "new@hall.example"
    assert fresh().post("/api/sign-in", json={**WHO, "email": "new@hall.example"}).status_code == 200


def test_a_script_has_a_token_that_can_be_taken_back(client: TestClient, fresh: Fresh) -> None:
    """A token reads and writes as its coach, opens no doors, is shown once and is over when taken back."""
    body = {"id": str(uuid7()), "name": "nightly export"}
    made = client.post("/api/me/tokens", json=body).json()
    assert client.post("/api/me/tokens", json=body).status_code == 409
    script = fresh()
    script.headers["authorization"] = f"Bearer {made['token']}"
    assert script.get("/api/me").status_code == 200
    assert script.post("/api/trainees", json={"id": str(uuid7()), "name": "By Script"}).status_code == 201
    for path in ("/api/me/tokens", "/api/me/sessions"):
        assert script.get(path).status_code == 401, path
    assert (
        script.post("/api/me/password", json={"present": PASSWORD, "password": "x" * 12}).status_code == 401
    )
    (listed,) = client.get("/api/me/tokens").json()
    assert (listed["name"], listed["used_at"] is not None, "token" in listed) == (
        "nightly export",
        True,
        False,
    )
    assert client.post(f"/api/me/tokens/{made['id']}/revoke").status_code == 204
    assert script.get("/api/me").status_code == 401


# --- what counts is what came last -------------------------------------------------------------------------


def at(hours: float) -> str:
    return (datetime.now(UTC) + timedelta(hours=hours)).isoformat()


def test_the_intake_that_came_last_counts_whatever_its_clock_said(bench: Bench) -> None:
    """A phone a day ahead says "no cautions"; what is kept after it, with a caution, closes what is upside
    down all the same.
    """
    client, trainee = bench.client, bench.trainee

    def keep(hours: float, cautions: dict[str, bool]) -> None:
        body = {"id": str(uuid7()), "at": at(hours), "stature_cm": 170, "cautions": {**NO, **cautions}}
        answer = client.post(f"/api/trainees/{trainee}/intake", json=body)
        assert answer.status_code == 201, answer.text

    keep(23, {"eyes": False})
    keep(0, {"eyes": True})
    page = client.get(f"/api/trainees/{trainee}/intake").json()
    assert page["profile"]["cautions"]["eyes"] is True


def test_the_settings_that_came_last_count(bench: Bench) -> None:
    """A phone two hours ahead does not win over what was kept later."""
    client, trainee = bench.client, bench.trainee
    size = {"id": str(uuid7()), "at": now(), "stature_cm": 170, "cautions": NO}
    assert client.post(f"/api/trainees/{trainee}/intake", json=size).status_code == 201
    settings = []
    for hours, apart in ((2, 90.0), (0, 100.0)):
        body = {
            "id": str(uuid7()),
            "drill": "pike-push-up",
            "at": at(hours),
            "settings": {"hands-to-feet": apart},
        }
        answer = client.post(f"/api/trainees/{trainee}/settings", json=body)
        settings.append(answer.status_code)
    assert settings == [201, 201], answer.text
    page = client.get(f"/api/trainees/{trainee}/drills/pike-push-up").text
    assert "100 cm" in page
    assert "90 cm" not in page


def test_another_time_zone_makes_today_again(bench: Bench) -> None:
    """A set done late in the evening is on another day in another zone, and Today says so at once."""
    client = bench.client
    body = {"id": str(uuid7()), "at": now(), "value": 20, "form": "clean"}
    assert (
        client.post(f"/api/trainees/{bench.trainee}/drills/chest-to-wall-hold/sets", json=body).status_code
        == 201
    )
    client.get("/api/today")
    version = "select evidence_version, (select evidence_version from trainee_brief) from trainee"
    with bench_owner(client) as db:
        before = db.execute(version).fetchone()
        assert before is not None
        assert before[0] == before[1], "what is kept is true"
    assert client.patch("/api/hall", json={"time_zone": "Pacific/Kiritimati"}).status_code == 200
    with bench_owner(client) as db:
        after = db.execute(version).fetchone()
        assert after is not None
        assert after[0] > after[1], "and no longer so"


def bench_owner(client: TestClient) -> psycopg.Connection:
    dsn = client.app.state.perch.settings.database  # type: ignore[attr-defined]
    db = psycopg.connect(dsn)
    me = client.get("/api/me").json()
    db.execute("select set_config('perch.coach_id', %s, false)", [me["id"]])
    db.execute("select set_config('perch.hall_id', %s, false)", [me["hall"]["id"]])
    return db


# --- files in either order ----------------------------------------------------------------------------------


def put(client: TestClient, path: str, text: bytes) -> dict[str, Any]:
    answer = client.post(
        f"{path}?keep=true&intake_follows=true", files={"file": ("a.csv", io.BytesIO(text), "text/csv")}
    )
    assert answer.status_code == 200, answer.text
    return answer.json()  # type: ignore[no-any-return]


@pytest.mark.parametrize("first", ["evidence", "tries"])
def test_evidence_and_tries_of_the_same_runs_count_once_in_either_order(bench: Bench, first: str) -> None:
    """Exported, and imported for another trainee in either order, the pieces are the same as they were; a
    run that was never ended is no evidence anywhere.
    """
    client = bench.client
    run = bench.start()
    for number, seconds in enumerate((3.0, 12.5, None, 4.0), start=1):
        assert bench.send(run, bench.body(number, seconds)).status_code == 201
    assert bench.end(run).status_code == 200
    unfinished = bench.start()
    assert bench.send(unfinished, bench.body(1, 9.0)).status_code == 201
    body = {"id": str(uuid7()), "at": now(), "value": 20, "form": "clean"}
    client.post(f"/api/trainees/{bench.trainee}/drills/chest-to-wall-hold/sets", json=body)
    files = {
        name: client.get(f"/api/{name}.csv?trainee={bench.trainee}").content.replace(
            b"Tilda Moor", b"Her Twin"
        )
        for name in ("evidence", "tries")
    }
    tried = csv.DictReader(io.StringIO(files["tries"].decode("utf-8-sig")))
    assert {line["seconds"] for line in tried} == {"3", "12.5", "", "4"}
    for name in (first, "tries" if first == "evidence" else "evidence"):
        put(client, f"/api/{name}.csv", files[name])
    twin = next(t["id"] for t in client.get("/api/trainees").json() if t["name"] == "Her Twin")
    again = {name: client.get(f"/api/{name}.csv?trainee={twin}").content for name in files}
    assert sorted(again["tries"].splitlines()) == sorted(files["tries"].splitlines())

    def pieces(text: bytes) -> list[bytes]:
        # a day is kept at noon, so that lines of one day may come in another order
        return sorted(text.splitlines())

    assert pieces(again["evidence"]) == pieces(files["evidence"])


def test_a_csv_that_brings_new_people_asks_for_their_intake(client: TestClient) -> None:
    """A CSV holds no cautions: without the word that their intake follows nobody new is kept."""
    text = b"trainee,day,drill,measure,value\nNew Person,2026-05-03,pike-hold,hold,20\n"
    files = {"file": ("a.csv", io.BytesIO(text), "text/csv")}
    refused = client.post("/api/evidence.csv?keep=true", files=files)
    assert (refused.status_code, "no cautions" in refused.json()["detail"]) == (422, True)
    assert client.get("/api/trainees").json() == []
    assert put(client, "/api/evidence.csv", text)["new_trainees"] == ["New Person"]


# --- names, days that are not there -------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["Ti\u202elda", "Til\u200bda", "\u200eTilda", "Til\u200dda"])
def test_a_name_with_what_nobody_sees_is_refused(client: TestClient, name: str) -> None:
    """Two names that look the same would be two trainees."""
    answer = client.post("/api/trainees", json={"id": str(uuid7()), "name": name})
    assert (answer.status_code, "cannot be seen" in answer.json()["detail"]) == (422, True)


def test_a_run_of_a_test_day_that_is_not_there_is_refused(bench: Bench) -> None:
    """A run names a test day of this coach's or none."""
    body = {"id": str(uuid7()), "started_at": now(), "rest_s": 30, "test_day": str(uuid7())}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/runs", json=body)
    assert (answer.status_code, "test day" in answer.json()["detail"]) == (404, True)


# --- bounds, and what is sent once --------------------------------------------------------------------------


async def _asked(app: Callable[..., Any], *, body: list[Message], answer_s: float) -> list[Message]:
    sent: list[Message] = []
    waiting = iter(body)

    async def receive() -> Message:
        for message in waiting:
            return message
        # the rest of the body never comes
        await asyncio.Event().wait()
        raise AssertionError

    async def send(message: Message) -> None:
        sent.append(message)

    scope: Scope = {
        "type": "http",
        "method": "POST",
        "path": "/api/x",
        "raw_path": b"/api/x",
        "root_path": "",
        "query_string": b"",
        "scheme": "http",
        "http_version": "1.1",
        "client": ("127.0.0.1", 1),
        "server": ("127.0.0.1", 80),
        "headers": [(b"host", b"127.0.0.1")],
        "extensions": {},
    }
    await Guard(app, most_bytes=1000, hosts=["127.0.0.1"], answer_s=answer_s)(scope, receive, send)
    return sent


def test_a_body_that_never_comes_is_not_waited_for() -> None:
    """Half a body and silence: the request ends with 408, and holds nothing for ever."""

    async def reads(_scope: Scope, receive: Receive, send: Send) -> None:
        while (message := await receive())["type"] == "http.request" and message["more_body"]:
            pass
        await send({"type": "http.response.start", "status": 200, "headers": []})

    half: Message = {"type": "http.request", "body": b"{", "more_body": True}
    sent = asyncio.run(_asked(reads, body=[half], answer_s=0.05))
    assert sent[0]["status"] == 408


def test_an_answer_that_never_comes_is_said() -> None:
    """Whatever a request does, it is answered in time: 503, with what to do."""

    async def never(_scope: Scope, _receive: Receive, _send: Send) -> None:
        await asyncio.Event().wait()

    whole: Message = {"type": "http.request", "body": b"{}", "more_body": False}
    sent = asyncio.run(_asked(never, body=[whole], answer_s=0.05))
    assert sent[0]["status"] == 503
    assert b"sending it again is safe" in sent[1]["body"]


def test_a_route_that_takes_too_long_is_answered_all_the_same() -> None:
    """A plain route works in a thread of its own; who waits for it is answered in time."""
    app, ends = FastAPI(), Event()

    @app.post("/api/x")
    def slow() -> None:
        ends.wait(timeout=120)

    whole: Message = {"type": "http.request", "body": b"", "more_body": False}
    try:
        sent = asyncio.run(_until_answered(app, whole, ends))
    finally:
        ends.set()
    assert sent[0]["status"] == 503


async def _until_answered(app: FastAPI, whole: Message, ends: Event) -> list[Message]:
    sent = await _asked(app, body=[whole], answer_s=0.2)
    assert not ends.is_set(), "it was answered before the route was done"
    ends.set()
    return sent


def test_what_a_reader_has_is_not_sent_again(bench: Bench) -> None:
    """Lists and feeds carry a tag; named again they are 304 without a body until something changes."""
    client = bench.client
    link = client.post(f"/api/trainees/{bench.trainee}/links", json={"id": str(uuid7()), "kind": "calendar"})
    feed = link.json()["path"]
    for path in (feed, "/api/trainees", "/api/tries.csv"):
        first = client.get(path)
        again = client.get(path, headers={"if-none-match": first.headers["etag"]})
        assert (again.status_code, again.content) == (304, b""), path
    before = client.get("/api/trainees").headers["etag"]
    client.post("/api/trainees", json={"id": str(uuid7()), "name": "Somebody New"})
    assert client.get("/api/trainees", headers={"if-none-match": before}).status_code == 200
    assert client.get(feed).headers["cache-control"] == "private, no-cache"
    assert client.get("/api/trainees").headers["cache-control"] == "no-store"


def test_heads_are_answered_and_large_answers_compressed(client: TestClient) -> None:
    """HEAD says what GET would, without a body; what is large comes compressed to whoever takes that."""
    head, page = client.head("/api/syllabus"), client.get("/api/syllabus")
    assert (head.status_code, head.content, page.status_code) == (200, b"", 200)
    assert page.headers["content-encoding"] == "gzip"
    plain = client.get("/api/syllabus", headers={"accept-encoding": "identity"})
    assert ("content-encoding" in plain.headers, plain.json()) == (False, page.json())


@pytest.fixture(scope="module")
def with_pages(cluster: Cluster) -> TestClient:
    """A server that serves the built browser side too."""
    return TestClient(
        build_app(Settings(database=cluster.dsn("none"), web=DIST)), base_url="http://127.0.0.1"
    )


def test_built_files_are_fetched_once_and_come_compressed(with_pages: TestClient) -> None:
    """What bears its content's hash in its name is immutable, and was compressed when it was built; the page
    that names it is asked for every time.
    """
    page = with_pages.get("/", headers={"cookie": f"{COOKIE}=somebody"})
    assert page.headers["cache-control"] == "no-cache"
    script = re.findall(r"/assets/[^\"]+\.js", page.text)[0]
    packed = with_pages.get(script, headers={"accept-encoding": "gzip"})
    plain = with_pages.get(script, headers={"accept-encoding": "identity"})
    assert (packed.headers["content-encoding"], packed.content) == ("gzip", plain.content)
    assert int(packed.headers["content-length"]) < len(plain.content) / 2
    for answer in (packed, plain):
        assert "immutable" in answer.headers["cache-control"]
        assert answer.headers["content-type"].startswith("text/javascript")
    again = with_pages.get(script, headers={"if-none-match": packed.headers["etag"]})
    assert again.status_code == 304


def test_who_is_not_signed_in_gets_the_heading_with_the_page(with_pages: TestClient) -> None:
    """It stands before any script has come, and no browser keeps it for the page of who is signed in; every
    other screen is the same page for all.
    """
    door, kept = with_pages.get("/"), with_pages.get("/", headers={"cookie": f"{COOKIE}=somebody"})
    heading = '<h1 class="mb-4 text-3xl">Sign in</h1>'
    assert (heading in door.text, heading in kept.text) == (True, False)
    assert door.headers["cache-control"] == "no-store"
    assert re.findall(r"/assets/[^\"]+", door.text) == re.findall(r"/assets/[^\"]+", kept.text)
    assert with_pages.get("/trainees/x").text == kept.text


def test_an_error_is_logged_without_what_it_was_about(
    bench: Bench, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """The log says where it happened, and no value of anybody's."""

    def fails(*_: object, **__: object) -> None:
        secret = bench.client.get("/api/trainees").json()[0]["name"]
        raise RuntimeError(f"unforeseen, {len(secret)} letters")

    monkeypatch.setattr("wise_perch.api.routes.trainees.find_standstills", fails)
    assert bench.client.get(f"/api/trainees/{bench.trainee}").status_code == 500
    said = capsys.readouterr().out
    assert "RuntimeError: unforeseen, 10 letters" in said
    assert "trainee_page" in said
    assert "Tilda Moor" not in said


@pytest.mark.parametrize(
    ("path", "status", "kind"),
    [
        ("/robots.txt", 200, "text/plain"),
        ("/favicon.ico", 200, "image/svg+xml"),
        ("/icon.svg", 200, "image/svg+xml"),
        ("/apple-touch-icon.png", 404, "application/problem+json"),
        ("/wp-login.php", 404, "application/problem+json"),
        ("/assets/none.js", 404, "application/problem+json"),
        ("/trainees/x/plan", 200, "text/html"),
    ],
)
def test_files_are_answered_as_files(with_pages: TestClient, path: str, status: int, kind: str) -> None:
    """Robots and icons are what they are, a file that is not there is not a page, and a screen is one."""
    answer = with_pages.get(path)
    assert (answer.status_code, answer.headers["content-type"].partition(";")[0]) == (status, kind)
