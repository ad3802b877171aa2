"""Progress, the group and reports over the api."""

import csv
from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import PASSWORD, Bench, now
from tests.api.test_long_work import until
from wise_perch.api.settings import Settings

TODAY = datetime.now(UTC).date()
MONTH = TODAY.replace(day=1).isoformat()
GOAL = {"goals": ["freestanding-hold"]}


def add_set(bench: Bench, drill: str, value: float, *, ago: int = 0, **more: Any) -> None:
    at = (datetime.now(UTC) - timedelta(days=ago)).isoformat()
    body = {"id": str(uuid7()), "at": at, "value": value, "form": "clean", **more}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/drills/{drill}/sets", json=body)
    assert answer.status_code == 201, answer.text


def progress(bench: Bench, **query: str) -> dict[str, Any]:
    answer = bench.client.get(f"/api/trainees/{bench.trainee}/progress", params=query)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def measure(bench: Bench, drill: str, **query: str) -> dict[str, Any]:
    answer = bench.client.get(f"/api/trainees/{bench.trainee}/progress/measures/{drill}", params=query)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


@pytest.fixture
def grown(bench: Bench) -> Bench:
    """Somebody with a goal and ten weeks of a hollow hold that grows."""
    assert bench.client.put(f"/api/trainees/{bench.trainee}/goals", json=GOAL).status_code == 204
    for n in range(20):
        add_set(bench, "tuck-hollow-hold", 10 + n, ago=70 - 3 * n)
    return bench


def test_a_page_of_nobody_and_of_somebody(bench: Bench) -> None:
    """Empty it says so; with sets it has a measure, its chances, the road and the card."""
    page = progress(bench)
    assert (page["drill"], page["small"], page["road"], page["card"]["since"]) == ("", [], None, None)
    assert page["course"]["kind"] == "new"
    assert len(page["weeks"]) == 16
    bench.client.put(f"/api/trainees/{bench.trainee}/goals", json=GOAL)
    for n in range(8):
        add_set(bench, "tuck-hollow-hold", 12 + n, ago=40 - 5 * n)
    page = progress(bench)
    assert page["drill"] == "tuck-hollow-hold"
    assert page["road"]["goal"] == "freestanding-hold"
    assert page["card"]["days"] == 8
    story = measure(bench, "tuck-hollow-hold")
    assert [p["value"] for p in story["points"]] == [12 + n for n in range(8)]
    assert story["moves"] == "moves"
    assert story["chances"]["4"]["chance"] <= story["chances"]["26"]["chance"]
    assert story["chances"]["4"]["said"].endswith(" %")
    assert bench.client.get(f"/api/trainees/{bench.trainee}/progress/measures/nothing").status_code == 404
    assert bench.client.get(f"/api/trainees/{uuid7()}/progress").status_code == 404


def test_as_it_stood_and_since(grown: Bench) -> None:
    day = (TODAY - timedelta(days=40)).isoformat()
    before = measure(grown, "tuck-hollow-hold", on=day)
    since = measure(grown, "tuck-hollow-hold", since=day)
    assert max(p["day"] for p in before["points"]) <= day
    assert min(p["day"] for p in since["points"]) >= day
    tomorrow = (TODAY + timedelta(days=1)).isoformat()
    assert (
        measure(grown, "tuck-hollow-hold", on=tomorrow)["points"]
        == measure(grown, "tuck-hollow-hold")["points"]
    )


def test_every_series_as_a_table(grown: Bench) -> None:
    add_set(grown, "side-hops", 8, side="left")
    answer = grown.client.get(f"/api/trainees/{grown.trainee}/progress.csv")
    assert answer.headers["content-type"].startswith("text/csv")
    lines = answer.text.lstrip("\ufeff").splitlines()
    assert lines[0].startswith("trainee,drill,title,way,side,day,value,n,unit,at_least,told_by,clean,gate")
    assert len(lines) == 1 + 20 + 1
    rows = list(csv.DictReader(lines))
    assert [(r["way"], r["side"]) for r in rows if r["drill"] == "side-hops"] == [("reps", "left")]
    semicolons = grown.client.get(f"/api/trainees/{grown.trainee}/progress.csv", params={"semicolons": True})
    assert semicolons.text.lstrip("\ufeff").startswith("trainee;drill;")


def test_what_is_told_early_is_told_until_it_is_heard(grown: Bench) -> None:
    """A school changed after the fact is told on the page; silenced it is gone, heard again it is back."""
    client, url = grown.client, f"/api/trainees/{grown.trainee}"
    questions = client.get(f"{url}/schools").json()["questions"]
    asked = next(q for q in questions if len(q["schools"]) > 1)
    body = {"schools": {asked["question"]: asked["schools"][1]["school"]}}
    assert client.put(f"{url}/schools", json=body).status_code == 204
    (turn,) = [t for t in progress(grown)["turns"] if t["kind"] == "programme"]
    assert "common loss" in turn["because"]

    def hear(silenced: bool, at: str) -> int:
        told = {"turn": turn["turn"], "silenced": silenced, "at": at}
        return client.put(f"{url}/turns", json=told).status_code

    early, late = (datetime.now(UTC) - timedelta(minutes=1)).isoformat(), now()
    assert hear(True, late) == 200
    assert hear(False, early) == 200, "older than the newest word"
    assert [t for t in progress(grown)["turns"] if t["kind"] == "programme"] == []
    assert hear(False, now()) == 200
    assert [t["turn"] for t in progress(grown)["turns"] if t["kind"] == "programme"] == [turn["turn"]]
    assert (
        client.put(
            f"/api/trainees/{uuid7()}/turns", json={"turn": "x", "silenced": True, "at": now()}
        ).status_code
        == 404
    )


def test_the_group_has_everybody_with_their_course(grown: Bench) -> None:
    add_set(grown, "hollow-hold", 31)
    body = {"id": str(uuid7()), "name": "Orin Vale"}
    assert grown.client.post("/api/trainees", json=body).status_code == 201
    rows = grown.client.get("/api/group", params={"again": True}).json()["rows"]
    assert [(r["name"], r["course"]["kind"]) for r in rows] == [("Orin Vale", "new"), ("Tilda Moor", "moves")]
    assert rows[1]["course"]["fell"][0]["title"] == "Hollow hold"
    today = {t["name"]: t["brief"]["course"] for t in grown.client.get("/api/today").json()}
    assert today["Tilda Moor"] == rows[1]["course"] == progress(grown)["course"], (
        "the same words in every room"
    )


def test_standing_still_is_said_alike_everywhere(bench: Bench) -> None:
    """Thirteen weeks at eighteen seconds: Today, the trainee's page, Progress, the group and the report say
    it in the same words.
    """
    client = bench.client
    client.put(f"/api/trainees/{bench.trainee}/goals", json=GOAL)
    for n in range(26):
        add_set(bench, "low-surface-hold", 18 + 0.2 * (n % 3), ago=90 - int(3.5 * n))
    url = f"/api/trainees/{bench.trainee}"
    (still,) = client.get(url).json()["standing_still"]
    assert "stands still" in still["sentence"]
    today = client.get("/api/today", params={"again": True}).json()[0]["brief"]
    assert any(m["kind"] == "still" and m["sentence"].startswith(still["sentence"]) for m in today["matters"])
    assert progress(bench)["standing_still"] == [still]
    assert today["course"]["sentence"] == f"{still['sentence']}."
    report = client.get(f"{url}/reports/{MONTH}").json()["report"]
    said = {s["section"]: s["words"] for s in report["sections"]}
    assert said["moves"].startswith(still["sentence"])
    assert client.get(f"{url}/plan").json()["course"] == [said["moves"]]


# --- reports ------------------------------------------------------------------------------------------------


def keep(bench: Bench, words: dict[str, str], *, base: str | None, id: str = "") -> Any:
    body = {"id": id or str(uuid7()), "at": now(), "month": MONTH, "base": base, "words": words}
    return bench.client.post(f"/api/trainees/{bench.trainee}/reports", json=body)


def test_a_report_in_the_coachs_words_is_kept_and_never_written_over(grown: Bench) -> None:
    """Written from the data, changed, changed again; who changes what somebody else changed meanwhile is
    refused, and the same sent twice is kept once. No words at all write it anew.
    """
    url = f"/api/trainees/{grown.trainee}/reports"
    page = grown.client.get(f"{url}/{MONTH}").json()
    assert (page["base"], page["kept_at"]) == (None, None)
    sent = str(uuid7())
    first = keep(grown, {"practice": "Well done."}, base=None, id=sent)
    assert first.status_code == 201, first.text
    assert keep(grown, {"practice": "Well done."}, base=None, id=sent).json()["base"] == first.json()["base"]
    assert keep(grown, {"practice": "Otherwise."}, base=None).status_code == 409
    second = keep(grown, {"practice": "Well done!", "next": ""}, base=first.json()["base"])
    said = {s["section"]: s["words"] for s in second.json()["report"]["sections"]}
    assert (said["practice"], "next" in said) == ("Well done!", False)
    assert grown.client.get(f"{url}/{MONTH}").json() == second.json()
    anew = keep(grown, {}, base=second.json()["base"]).json()
    assert anew["kept_at"] is None
    assert anew["report"]["sections"] == page["report"]["sections"]
    assert keep(grown, {"weather": "Fine."}, base=anew["base"]).status_code == 422
    assert keep(grown, {"practice": "x" * 2001}, base=anew["base"]).status_code == 422
    nineties, ahead = "1999-01-01", (date(TODAY.year + 1, 1, 1)).isoformat()
    assert grown.client.get(f"{url}/{nineties}").status_code == 422
    assert grown.client.get(f"{url}/{ahead}").status_code == 422


def test_a_past_month_is_told_as_it_stood(grown: Bench) -> None:
    """Nothing of later stands in it."""
    last = (TODAY.replace(day=1) - timedelta(days=1)).replace(day=1)
    page = grown.client.get(f"/api/trainees/{grown.trainee}/reports/{last.isoformat()}").json()["report"]
    assert page["on"] < MONTH
    figures = {f["title"]: f["now"] for f in page["figures"]}
    newest = max(
        10 + n for n in range(20) if last <= TODAY - timedelta(days=70 - 3 * n) < TODAY.replace(day=1)
    )
    assert figures["Tuck hollow hold"] == f"{newest} s"


@pytest.fixture
def busy(application: tuple[FastAPI, Settings], fresh: Callable[[], TestClient]) -> Iterator[TestClient]:
    """A coach whose server takes up long work."""
    application[1].long_work = True
    try:
        with TestClient(application[0], base_url="http://127.0.0.1") as made:
            body = {"email": "A@hall.example", "name": "Coach A", "password": PASSWORD}
            assert made.post("/api/first-coach", json=body).status_code == 201
            yield made
    finally:
        application[1].long_work = False


def test_a_month_for_everybody_in_one_go(busy: TestClient) -> None:
    """Each gets one; sent twice it is done once; what a coach has worded stays, all else is written again."""
    bench = Bench(busy)
    other = str(uuid7())
    assert busy.post("/api/trainees", json={"id": other, "name": "Orin Vale"}).status_code == 201
    kept = keep(bench, {"practice": "My own words."}, base=None)
    assert kept.status_code == 201
    body = {"id": str(uuid7()), "month": MONTH, "trainees": [bench.trainee, other]}
    assert busy.post("/api/reports/jobs", json=body).status_code == 202
    assert busy.post("/api/reports/jobs", json=body).json()["id"] == body["id"]
    done = until(busy, str(body["id"]), "finished")
    assert (done["done"], done["wrong"]) == (2, [])
    page = busy.get(f"/api/reports/{MONTH}").json()
    assert [r["name"] for r in page["reports"]] == ["Orin Vale", "Tilda Moor"]
    said = {s["section"]: s["words"] for s in page["reports"][1]["sections"]}
    assert said["practice"] == "My own words."
    assert page["trainees"] == 2
    strange = {**body, "id": str(uuid7()), "trainees": [str(uuid7())]}
    assert busy.post("/api/reports/jobs", json=strange).status_code == 404


def test_another_coach_sees_none_of_it(grown: Bench, fresh: Callable[[], TestClient]) -> None:
    stranger = fresh()
    for path in ("progress", "progress/strips", "progress.csv", f"reports/{MONTH}"):
        assert stranger.get(f"/api/trainees/{grown.trainee}/{path}").status_code == 401
    assert stranger.get("/api/group").status_code == 401


def test_the_own_page_tells_the_road_in_the_words_of_the_report(grown: Bench) -> None:
    made = grown.client.post(
        f"/api/trainees/{grown.trainee}/links", json={"id": str(uuid7()), "kind": "page"}
    ).json()
    token = made["path"].rsplit("/", 1)[1]
    road = grown.client.get(f"/api/shared/{token}").json()["road"]
    report = grown.client.get(f"/api/trainees/{grown.trainee}/reports/{MONTH}").json()["report"]
    assert road
    assert all(s in report["sections"] for s in road)
    assert not {s["section"] for s in road} & {"pain", "practice"}
