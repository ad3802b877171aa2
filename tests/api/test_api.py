"""The api: sign-in, the bench, files, and a clear answer to everything that is wrong."""

import io
import json
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import Any

import psycopg
import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid4, uuid7

from tests.api.conftest import PASSWORD, Bench, now
from tests.conftest import add_coach
from wise_perch.api import today as making
from wise_perch.api.app import build_app
from wise_perch.api.routes import trainees as trainee_routes
from wise_perch.api.settings import Settings
from wise_perch.core.trainee.brief import TodayBrief
from wise_perch.core.trainee.case import JudgedCase

Fresh = Callable[[], TestClient]


# --- sign-in ------------------------------------------------------------------------------------------------


def test_the_first_coach_is_offered_once(fresh: Fresh) -> None:
    """An empty installation offers to create the first coach, and only the first."""
    body = {"email": "a@hall.example", "name": "A", "password": PASSWORD}
    assert fresh().get("/api/door").json()["needs_first_coach"] is True
    assert fresh().post("/api/first-coach", json=body).status_code == 201
    assert fresh().get("/api/door").json()["needs_first_coach"] is False
    assert fresh().post("/api/first-coach", json={**body, "email": "b@hall.example"}).status_code == 409


def test_sign_in_gives_a_new_guarded_cookie_each_time(
    client: TestClient, fresh: Fresh, owner: psycopg.Connection
) -> None:
    """The cookie is HttpOnly and SameSite=Lax, new at each sign-in, and its token is kept nowhere in the
    clear.
    """
    other = fresh()
    tokens = set()
    for _ in range(2):
        answer = other.post("/api/sign-in", json={"email": "a@HALL.example", "password": PASSWORD})
        assert answer.status_code == 200
        cookie = answer.headers["set-cookie"].lower()
        assert "httponly" in cookie
        assert "samesite=lax" in cookie
        tokens.add(other.cookies["perch_session"])
    assert len(tokens) == 2
    rows = owner.execute(
        "select encode(token_hash, 'escape'), revoked_at is null from sign_in_session"
    ).fetchall()
    assert not any(token in row[0] for token in tokens for row in rows)
    assert sorted(alive for _, alive in rows) == [False, True, True]
    kept = owner.execute("select password_hash from coach").fetchone()
    assert kept
    assert kept[0].startswith("$argon2id$")


def test_a_session_can_be_ended_and_revoked(client: TestClient, fresh: Fresh) -> None:
    """Signing out ends the session on the server, and signing out everywhere ends the others too."""
    other = fresh()
    other.post("/api/sign-in", json={"email": "a@hall.example", "password": PASSWORD})
    token = other.cookies["perch_session"]
    assert other.post("/api/sign-out").status_code == 204
    assert fresh().get("/api/me", headers={"cookie": f"perch_session={token}"}).status_code == 401
    third = fresh()
    third.post("/api/sign-in", json={"email": "a@hall.example", "password": PASSWORD})
    assert client.post("/api/sign-out?everywhere=true").status_code == 204
    assert third.get("/api/me").status_code == 401


def test_an_expired_session_is_signed_out(client: TestClient, owner: psycopg.Connection) -> None:
    """A session past its end answers 401 with a sentence."""
    owner.execute("update sign_in_session set expires_at = now() - interval '1 second'")
    answer = client.get("/api/today")
    assert (answer.status_code, "Sign in again" in answer.json()["detail"]) == (401, True)


def test_wrong_passwords_are_throttled_and_tell_nothing(client: TestClient, fresh: Fresh) -> None:
    """Wrong password and unknown email get the same answer, and the sixth try in a row has to wait, even with
    the right one.
    """
    other = fresh()
    wrong = [other.post("/api/sign-in", json={"email": "a@hall.example", "password": "no"}) for _ in range(5)]
    assert {a.status_code for a in wrong} == {401}
    unknown = other.post("/api/sign-in", json={"email": "nobody@hall.example", "password": "no"})
    assert unknown.json() == wrong[0].json()
    right = other.post("/api/sign-in", json={"email": "a@hall.example", "password": PASSWORD})
    assert (right.status_code, int(right.headers["retry-after"]) > 0) == (429, True)


@pytest.mark.parametrize("text", ["a\u0000b@hall.example", "\ud800@hall.example"])
def test_what_no_keyboard_types_signs_nobody_in(client: TestClient, text: str) -> None:
    """Unprintable emails and half characters in passwords are refused with a reason, not an error of the
    server.
    """
    for body in (
        {"email": text, "password": "x"},
        {"email": "a@hall.example", "password": f"{text[0]}\ud800"},
    ):
        answer = client.post(
            "/api/sign-in", content=json.dumps(body), headers={"content-type": "application/json"}
        )
        assert (answer.status_code, bool(answer.json()["detail"])) == (422, True)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"origin": "http://elsewhere.example"}, 403),
        ({"origin": "null"}, 403),
        ({"sec-fetch-site": "cross-site"}, 403),
        ({"origin": "http://127.0.0.1", "sec-fetch-site": "same-origin"}, 201),
        ({}, 201),
    ],
)
def test_writes_from_another_site_are_refused(
    client: TestClient, headers: dict[str, str], status: int
) -> None:
    """A page of another site cannot write with this coach's cookie."""
    assert (
        client.post("/api/trainees", json={"id": str(uuid7()), "name": "X"}, headers=headers).status_code
        == status
    )


def test_every_answer_carries_its_guards(client: TestClient) -> None:
    """No inline script may run, nothing may frame the page, and a coach's data is never cached."""
    headers = client.get("/api/me").headers
    policy = headers["content-security-policy"]
    assert "script-src 'self' 'wasm-unsafe-eval';" in policy
    assert "unsafe-inline" not in policy.split("script-src")[1].split(";")[0]
    assert (headers["cache-control"], headers["x-content-type-options"]) == ("no-store", "nosniff")


# --- the bench ----------------------------------------------------------------------------------------------


def test_a_run_from_start_to_decision(bench: Bench) -> None:
    """Ten tries lead to the figures, the decision with reasons, and what moved on the wall bars."""
    run = bench.start()
    for number in range(1, 11):
        assert bench.send(run, bench.body(number, 6.0 if number <= 6 else None)).status_code == 201
    live = bench.client.get(f"/api/runs/{run}").json()
    assert (live["scored"]["verdict"]["figures"]["held"], live["outcome"]) == (6, None)
    assert bench.end(run).status_code == 200
    judged = bench.client.get(f"/api/runs/{run}").json()
    assert judged["scored"]["verdict"]["decision"] == "exits"
    assert judged["outcome"]["title"] == "Exits first."
    assert "Free hold, 5 s is met: 6 s." in [c["sentence"] for c in judged["outcome"]["changes"]]
    page = bench.client.get(f"/api/trainees/{bench.trainee}").json()
    bar = next(
        d
        for line in page["standing"]["lines"]
        for rung in line["rungs"]
        for d in rung
        if d["drill"] == "free-hold-5"
    )
    assert (bar["state"], bar["out_of_order"]) == ("met", True)


def test_a_run_left_open_moves_nothing_and_is_asked_about(bench: Bench) -> None:
    """Tries of a run still going fill no bar, and Today leads back to the run."""
    run = bench.start()
    bench.send(run, bench.body(1, 12))
    (row,) = bench.client.get("/api/today").json()
    assert (row["brief"]["matters"][0]["kind"], row["brief"]["matters"][0]["run"]) == ("unfinished", run)
    assert bench.client.get(f"/api/trainees/{bench.trainee}/bench/free-tries").json()["open_run"] == run


def test_today_is_made_once_however_many_ask(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """Of many who have to be looked at some are shown at once, the others by name with nothing; each asking
    goes on, one maker at a time, until all are there, and nobody is looked at twice.
    """
    made: list[str] = []
    real = making.make_brief

    def counting(case: JudgedCase, **more: Any) -> TodayBrief:
        made.append("one")
        return real(case, **more)

    monkeypatch.setattr(making, "make_brief", counting)
    monkeypatch.setattr(trainee_routes, "MAKE_S", 0.0)
    for n in range(35):
        client.post("/api/trainees", json={"id": str(uuid7()), "name": f"Trainee {n:02}"})
    first = client.get("/api/today").json()
    ready = [row["brief"] is not None for row in first]
    assert 0 < sum(ready) < 35
    assert ready == sorted(ready, reverse=True), "who is not ready stands last"
    assert [row["name"] for row in first if not row["brief"]] == sorted(
        row["name"] for row in first if not row["brief"]
    )
    monkeypatch.setattr(trainee_routes, "MAKE_S", 30.0)
    with ThreadPoolExecutor(4) as several:
        answers = list(several.map(lambda _: client.get("/api/today").json(), range(4)))
    assert all(row["brief"] for rows in answers for row in rows)
    assert len(made) == 35


def test_a_stop_for_pain_is_asked_about(bench: Bench) -> None:
    """Pain ends the run with its joint, and Today asks before loading."""
    run = bench.start()
    bench.send(run, bench.body(1))
    assert bench.end(run, ended_as="pain").status_code == 422
    assert bench.end(run, ended_as="pain", pain_joint="left wrist", pain_level=4).status_code == 200
    (row,) = bench.client.get("/api/today").json()
    assert row["brief"]["matters"][0]["sentence"].startswith("Left wrist 4 of 10")


def test_a_run_that_ends_before_its_first_try_decides_nothing(bench: Bench) -> None:
    """A run stopped for pain before any try says so, and sends nobody to work on anything."""
    run = bench.start()
    assert bench.end(run, ended_as="pain", pain_joint="neck", pain_level=2).status_code == 200
    outcome = bench.client.get(f"/api/runs/{run}").json()["outcome"]
    assert (outcome["title"], outcome["work_on"]) == ("No try was made.", [])


def test_taking_back_a_try(bench: Bench) -> None:
    """A try taken back no longer counts, and its number is free for the next."""
    run = bench.start()
    body = bench.body(1, 3)
    bench.send(run, body)
    assert bench.client.post(f"/api/evidence/{body['id']}/strike").status_code == 204
    assert bench.client.get(f"/api/runs/{run}").json()["scored"]["verdict"]["n"] == 0
    assert bench.send(run, bench.body(1)).status_code == 201


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"value": -1}, "lasts from 0 to 3600"),
        ({"value": 36000}, "lasts from 0 to 3600"),
        ({"value": None}, "needs its seconds"),
        ({"value": "long"}, "value"),
        ({"outcome": "overshot"}, "Seconds belong"),
        ({"outcome": "flew"}, "A try here is"),
        ({"number": 0}, "number"),
        ({"at": "2099-01-01T00:00:00Z"}, "in the future"),
        ({"at": "2026-01-01T00:00:00"}, "at"),
        ({"id": str(uuid4())}, "version 7"),
        ({"note": "a\u0000b"}, "cannot be printed"),
        ({"extra": 1}, "extra"),
    ],
)
def test_impossible_tries_are_refused_in_words(bench: Bench, change: dict[str, Any], said: str) -> None:
    """A wrong try answers 422 with the reason, and nothing of it is kept."""
    run = bench.start()
    answer = bench.send(run, {**bench.body(1, 3.0), **change})
    assert (answer.status_code, answer.headers["content-type"]) == (422, "application/problem+json")
    assert said in answer.json()["detail"]
    assert bench.client.get(f"/api/runs/{run}").json()["scored"]["run"]["tries"] == []


def test_a_try_after_the_end_is_refused(bench: Bench) -> None:
    """A closed run answers 409, except to a try it has already."""
    run = bench.start()
    kept = bench.body(1, 3)
    bench.send(run, kept)
    bench.end(run)
    assert bench.send(run, kept).status_code == 201
    late = bench.send(run, bench.body(2))
    assert (late.status_code, "closed" in late.json()["detail"]) == (409, True)


def test_another_coachs_ids_do_not_exist(bench: Bench, owner: psycopg.Connection, fresh: Fresh) -> None:
    """What belongs to another coach answers 404 everywhere, like what never was."""
    run, kept = bench.start(), bench.body(1, 3)
    bench.send(run, kept)
    hashed = owner.execute("select password_hash from coach").fetchone()
    assert hashed is not None
    pool = bench.client.app.state.perch.pool  # type: ignore[attr-defined]
    add_coach(pool, "b@hall.example", password_hash=hashed[0])
    spy = fresh()
    assert spy.post("/api/sign-in", json={"email": "b@hall.example", "password": PASSWORD}).status_code == 200
    for trainee, its_run, piece in ((bench.trainee, run, kept["id"]), (uuid7(), uuid7(), uuid7())):
        for path in (
            f"trainees/{trainee}",
            f"trainees/{trainee}/bench/free-tries",
            f"trainees/{trainee}/drills/wall-walk",
            f"runs/{its_run}",
            f"tries.csv?trainee={trainee}",
        ):
            assert spy.get(f"/api/{path}").status_code == 404, path
        assert spy.post(f"/api/runs/{its_run}/tries", json=bench.body(2)).status_code == 404
        assert spy.post(f"/api/evidence/{piece}/strike").status_code == 404
        assert spy.put(f"/api/trainees/{trainee}", json={"name": "Mine"}).status_code == 404
    assert spy.get("/api/today").json() == []


# --- recorded sets ------------------------------------------------------------------------------------------


def test_a_recorded_set_fills_its_bar(bench: Bench) -> None:
    """A clean set meets the gate, struck out it no longer does, and brought back it does again."""
    path = f"/api/trainees/{bench.trainee}/drills/chest-to-wall-hold"
    body = {"id": str(uuid7()), "at": now(), "value": 31, "form": "clean", "dial_value": 12, "confidence": 4}
    for _ in range(2):
        assert bench.client.post(f"{path}/sets", json=body).status_code == 201

    def state() -> str:
        return str(bench.client.get(path).json()["standing"]["state"])

    assert (state(), len(bench.client.get(path).json()["sets"])) == ("met", 1)
    bench.client.post(f"/api/evidence/{body['id']}/strike")
    assert state() == "not yet"
    bench.client.post(f"/api/evidence/{body['id']}/restore")
    assert state() == "met"


@pytest.mark.parametrize(
    ("drill", "change", "status"),
    [
        ("no-such-drill", {}, 404),
        ("wall-walk", {"value": -1}, 422),
        ("wall-walk", {"value": 5000}, 422),
        ("wall-walk", {"n": 10}, 422),
        ("wall-walk", {"form": None}, 422),
        ("wall-walk", {"confidence": 6}, 422),
        ("shoulder-rocks", {"dial_value": 10}, 422),
        ("lunge-to-t", {}, 422),
        ("free-exit", {"n": None}, 422),
        ("free-exit", {"value": 6, "n": 5}, 422),
    ],
)
def test_impossible_sets_are_refused(bench: Bench, drill: str, change: dict[str, Any], status: int) -> None:
    """A set that does not fit its drill is refused with a reason."""
    body = {"id": str(uuid7()), "at": now(), "value": 3, "form": "clean", **change}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/drills/{drill}/sets", json=body)
    assert (answer.status_code, bool(answer.json()["detail"])) == (status, True)


# --- files --------------------------------------------------------------------------------------------------

CSV = (
    "trainee,test,started_at,try,outcome,seconds,fell,form,note\nOrin"
    " Vale,free-tries,2026-05-03T18:00:00Z,1,held,3.1,over,,=1+1\n"
)


def upload(client: TestClient, text: str | bytes, *, keep: bool) -> Any:
    data = text.encode() if isinstance(text, str) else text
    return client.post(
        f"/api/tries.csv?keep={str(keep).lower()}&intake_follows=true",
        files={"file": ("a.csv", io.BytesIO(data), "text/csv")},
    )


def test_import_looks_first_then_keeps(client: TestClient) -> None:
    """A preview keeps nothing; keeping brings the run onto the trainee's page; the export guards formulas."""
    assert upload(client, CSV, keep=False).json()["tries"] == 1
    assert client.get("/api/trainees").json() == []
    assert upload(client, CSV, keep=True).json()["kept"] is True
    assert upload(client, CSV, keep=True).json()["already_kept"] == 1
    (trainee,) = client.get("/api/trainees").json()
    assert (
        client.get(f"/api/trainees/{trainee['id']}").json()["runs"][0]["verdict"]["figures"]["best_hold_s"]
        == 3.1
    )
    out = client.get("/api/tries.csv")
    assert out.content.startswith(b"\xef\xbb\xbftrainee,")
    assert ",'=1+1\r\n" in out.text


@pytest.mark.parametrize(
    ("text", "status", "said"),
    [
        (CSV.replace("3.1", "-1"), 422, "Nothing was kept"),
        (CSV.replace("outcome", "result"), 422, "missing column: outcome"),
        (b"\x00" * 100, 422, "no text file"),
        (CSV + "x" * 2_000_000, 413, "larger than"),
    ],
)
def test_bad_files_are_refused_in_words(
    client: TestClient, text: str | bytes, status: int, said: str
) -> None:
    """Bad lines, wrong columns, no text, too large: each is said, and nothing is half stored."""
    answer = upload(client, text, keep=True)
    assert (answer.status_code, said in answer.json()["detail"]) == (status, True), answer.text
    assert client.get("/api/trainees").json() == []


def test_a_body_without_a_declared_length_is_bounded_too(client: TestClient) -> None:
    """A streamed body is cut off at the same limit."""
    answer = client.post(
        "/api/trainees",
        content=(b"x" * 100_000 for _ in range(30)),
        headers={"content-type": "application/json"},
    )
    assert answer.status_code == 413


def test_names_are_unique_and_printable(client: TestClient) -> None:
    """Two trainees of one name, an empty name and unprintable characters are refused; the same trainee sent
    again is not.
    """
    body = {"id": str(uuid7()), "name": "  Åse   Lund 🤸 "}
    assert client.post("/api/trainees", json=body).json()["name"] == "Åse Lund 🤸"
    assert client.post("/api/trainees", json=body).status_code == 201
    assert client.post("/api/trainees", json={"id": str(uuid7()), "name": "åse lund 🤸"}).status_code == 409
    for name in ("", "  ", "a\u0000b", "x" * 121, "\ud800"):
        raw = json.dumps({"id": str(uuid7()), "name": name})
        assert (
            client.post(
                "/api/trainees", content=raw, headers={"content-type": "application/json"}
            ).status_code
            == 422
        ), repr(name)


# --- trouble ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("host", "code"),
    [
        ("127.0.0.1:8420", 200),
        ("LOCALHOST", 200),
        ("[::1]:8420", 200),
        ("depot.example", 421),
        ("127.0.0.1.depot.example:8420", 421),
        ("", 421),
    ],
)
def test_a_server_answers_to_its_own_names_only(client: TestClient, host: str, code: int) -> None:
    """A page elsewhere whose name was pointed at this machine gets nothing out of it."""
    answer = client.get("/api/door", headers={"host": host})
    assert answer.status_code == code
    if code == 421:
        assert "PERCH_HOSTS" in answer.json()["detail"]


@pytest.mark.parametrize(
    ("host", "peer", "shown"),
    [
        ("127.0.0.1", "127.0.0.1", True),
        ("hall.example", "127.0.0.1", False),
        ("127.0.0.1", "10.0.0.9", False),
    ],
)
def test_the_demo_is_said_aloud_on_this_machine_only(
    client: TestClient, host: str, peer: str, *, shown: bool
) -> None:
    """The demo's password stands at the door for whoever sits here, and for nobody from elsewhere."""
    running: Any = client.app
    settings = running.state.perch.settings.model_copy(update={"demo": "coach@depot.example tram"})
    app = build_app(settings.model_copy(update={"hosts": "*"}))
    app.state.perch = replace(running.state.perch, settings=settings)
    # not entered: it shares the pool of the one that runs
    outside = TestClient(app, base_url=f"http://{host}", client=(peer, 50000))
    assert (outside.get("/api/door").json()["demo_password"] == "tram") is shown


def test_a_database_that_is_away_is_said_in_words() -> None:
    """Without its database the app still answers: 503, what is safe, and when to try again."""
    app = build_app(Settings(database="postgresql://perch_app:x@127.0.0.1:9/none"))
    with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as lost:
        app.state.perch.pool.timeout = 0.3
        answer = lost.get("/api/door")
    assert (answer.status_code, answer.headers["retry-after"]) == (503, "5")
    assert "sending it again later is safe" in answer.json()["detail"]


def test_an_unknown_path_is_a_plain_404(client: TestClient) -> None:
    """A path that is nothing answers 404 in the same shape as every other error."""
    answer = client.get("/api/nothing")
    assert (answer.status_code, answer.headers["content-type"]) == (404, "application/problem+json")
