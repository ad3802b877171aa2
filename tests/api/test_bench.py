"""The Bench over the api: every test made ready, corrected, entered from paper, compared; the kit and test
days.
"""

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import Bench, now
from wise_perch.syllabus.shipped import built_in

TESTS = built_in().tests


def begin(bench: Bench, test: str, **more: Any) -> str:
    run = str(uuid7())
    body = {"id": run, "test": test, "started_at": now(), "rest_s": 60, **more}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/runs", json=body)
    assert answer.status_code == 201, answer.text
    return run


def keep(bench: Bench, run: str, test: str, number: int, **figures: Any) -> str:
    body = {"id": str(uuid7()), "test": test, "number": number, "at": now(), **figures}
    answer = bench.client.post(f"/api/runs/{run}/tries", json=body)
    assert answer.status_code == 201, answer.text
    return str(body["id"])


def shown(bench: Bench, run: str) -> dict[str, Any]:
    found: dict[str, Any] = bench.client.get(f"/api/runs/{run}").json()
    return found


def add_kit(client: TestClient, *sorts: tuple[str, float, int]) -> list[str]:
    ids = [str(uuid7()) for _ in sorts]
    for id, (kind, thick, count) in zip(ids, sorts, strict=True):
        assert (
            client.post(
                "/api/kit", json={"id": id, "kind": kind, "thickness_cm": thick, "count": count}
            ).status_code
            == 201
        )
    return ids


@pytest.mark.parametrize("test", list(TESTS))
def test_every_test_is_made_ready(bench: Bench, test: str) -> None:
    """Set-up, cautions, minutes and a sheet come for each, and starting it keeps that very sheet."""
    page = bench.client.get(f"/api/trainees/{bench.trainee}/bench/{test}").json()
    assert page["test"]["setup"]
    assert page["test"]["cautions"]
    assert page["minutes"][str(page["rest_s"])] >= 1
    run = begin(bench, test, subject=page["subject"]["drill"] if page["subject"] else "")
    judged = shown(bench, run)
    assert judged["sheet"] == page["sheet"]
    assert judged["now"]["step"] == page["sheet"]["steps"][page["sheet"]["first"]]


def test_all_tests_in_their_order(bench: Bench) -> None:
    """The list of tests stands in the order they are run, with the newest result of each."""
    run = begin(bench, "wall-landings")
    for n in range(1, 11):
        keep(bench, run, "wall-landings", n, outcome="soft" if n > 2 else "hard")
    bench.end(run)
    page = bench.client.get(f"/api/trainees/{bench.trainee}/tests").json()
    assert [t["test"] for t in page["tests"]] == list(TESTS)
    assert page["tests"][1]["last"]["verdict"]["summary"] == "8 of 10 soft"
    outcome = shown(bench, run)["outcome"]
    assert outcome["title"] == "The kick-up block may go."
    assert any("Soft wall landing" in c["sentence"] for c in outcome["changes"])


def test_heights_come_from_the_kit(bench: Bench) -> None:
    """What the coach owns makes the heights, as stacks in words; a limit found is where the next test begins
    from.
    """
    add_kit(bench.client, ("pad", 5, 3), ("plate", 2.5, 4))
    page = bench.client.get(f"/api/trainees/{bench.trainee}/bench/push-floor").json()
    assert page["sheet"]["stacks"]["7.5"] == "one 5 cm pad + one 2.5 cm plate = 7.5 cm"
    assert page["begin"] == 20
    run = begin(bench, "push-floor")
    keep(bench, run, "push-floor", 1, outcome="clean", mode="pressing", level=15)
    keep(bench, run, "push-floor", 2, outcome="clean", mode="pressing", level=10)
    keep(bench, run, "push-floor", 3, outcome="missed", mode="pressing", level=5)
    bench.end(run)
    again = bench.client.get(f"/api/trainees/{bench.trainee}/bench/push-floor").json()
    assert again["begin"] == 15
    assert [(limit["mode"], limit["words"]) for limit in again["limits"]] == [("pressing", "10 cm")]
    assert bench.client.get(f"/api/trainees/{bench.trainee}/bench/push-floor?begin=30").json()["begin"] == 25


def test_the_coachs_own_figure_for_counting(bench: Bench) -> None:
    """A coach who counts only below 3 s has it so on every sheet."""
    assert bench.client.patch("/api/hall", json={"float_switch_s": 3}).status_code == 200
    sheet = bench.client.get(f"/api/trainees/{bench.trainee}/bench/heel-float").json()["sheet"]
    assert sheet["steps"][sheet["first"]]["ways"][0]["below"] == 3
    assert bench.client.patch("/api/hall", json={"float_switch_s": 9}).status_code == 422


def test_a_try_put_right_keeps_the_old_value(bench: Bench) -> None:
    """The new figure counts, the old one stays and is struck out; sending again changes nothing, correcting
    the old one twice is refused.
    """
    run = begin(bench, "simple-hold", subject="hollow-hold")
    first = keep(bench, run, "simple-hold", 1, outcome="held", value=12.0)
    bench.end(run, confidence=4)
    new = {"id": str(uuid7()), "outcome": "held", "value": 32.0}
    for _ in range(2):
        assert bench.client.post(f"/api/runs/{run}/tries/{first}/correct", json=new).status_code == 201
    scored = shown(bench, run)["scored"]
    assert scored["verdict"]["figures"]["best"] == 32
    kept = {
        t["id"]: (t["value"], t["struck_at"] is not None, t["replaces"], t["number"])
        for t in scored["run"]["tries"]
    }
    assert kept == {first: (12, True, None, 1), new["id"]: (32, False, first, 1)}
    again = bench.client.post(f"/api/runs/{run}/tries/{first}/correct", json={**new, "id": str(uuid7())})
    assert (again.status_code, "corrected already" in again.json()["detail"]) == (409, True)
    assert (
        bench.client.get(f"/api/trainees/{bench.trainee}/drills/hollow-hold").json()["standing"]["state"]
        == "met"
    )


@pytest.mark.parametrize(
    ("figures", "status", "said"),
    [
        ({"outcome": "held", "value": -3}, 422, "lasts from 0"),
        ({"outcome": "held"}, 422, "needs its seconds"),
        ({"outcome": "flew", "value": 3}, 422, "A try here is held"),
    ],
)
def test_a_correction_is_checked_as_a_try_is(
    bench: Bench, figures: dict[str, Any], status: int, said: str
) -> None:
    """What cannot be is refused in words, and the old value still counts."""
    run = begin(bench, "simple-hold", subject="hollow-hold")
    first = keep(bench, run, "simple-hold", 1, outcome="held", value=12.0)
    answer = bench.client.post(f"/api/runs/{run}/tries/{first}/correct", json={"id": str(uuid7()), **figures})
    assert (answer.status_code, said in answer.json()["detail"]) == (status, True)
    assert shown(bench, run)["scored"]["verdict"]["figures"]["best"] == 12
    assert (
        bench.client.post(
            f"/api/runs/{run}/tries/{uuid7()}/correct",
            json={"id": str(uuid7()), "outcome": "held", "value": 3},
        ).status_code
        == 404
    )


def test_a_paper_sheet_is_marked_as_such(bench: Bench) -> None:
    """Entered afterwards, a run stands on its own day, marked, and checked as a live one is."""
    day = datetime.now(UTC) - timedelta(days=3)
    run = begin(bench, "wall-landings", started_at=day.isoformat(), source="after")
    keep(bench, run, "wall-landings", 1, outcome="soft")
    bench.end(run)
    scored = shown(bench, run)["scored"]
    assert (scored["run"]["source"], scored["day"]) == ("after", str(day.date()))
    assert bench.send(run, {**bench.body(2), "test": "wall-landings", "outcome": "flew"}).status_code == 422


@pytest.mark.parametrize(
    ("test", "body", "said"),
    [
        ("push-floor", {"outcome": "clean", "mode": "pressing"}, "needs its pad height"),
        ("heel-float", {"outcome": "counted", "value": 2.5, "mode": "touches"}, "whole numbers"),
        ("heel-float", {"outcome": "held", "value": 2, "number": 40}, "at most"),
        ("no-such-test", {"outcome": "held", "value": 2}, "no such test"),
    ],
)
def test_a_try_is_checked_by_its_own_test(bench: Bench, test: str, body: dict[str, Any], said: str) -> None:
    """Each test refuses in words what its data does not know."""
    run = begin(bench, test if test in TESTS else "free-tries")
    answer = bench.client.post(
        f"/api/runs/{run}/tries", json={"id": str(uuid7()), "number": 1, "at": now(), "test": test, **body}
    )
    assert (answer.status_code, said in answer.json()["detail"]) == (422, True), answer.text


def test_a_try_of_another_test_is_refused(bench: Bench) -> None:
    """A landing does not go into a run of floats."""
    run = begin(bench, "heel-float")
    answer = bench.client.post(
        f"/api/runs/{run}/tries", json={**bench.body(1), "test": "wall-landings", "outcome": "soft"}
    )
    assert (answer.status_code, "one of heel-float" in answer.json()["detail"]) == (409, True)


@pytest.mark.parametrize(
    ("test", "subject", "said"),
    [
        ("moon-walk", "", "no test"),
        ("simple-hold", "moon-walk", "not run for"),
        ("free-tries", "hollow-hold", "not run for one drill"),
    ],
)
def test_a_test_that_is_not_there(bench: Bench, test: str, subject: str, said: str) -> None:
    """An unknown test or drill is a sentence, before and at the start."""
    body = {"id": str(uuid7()), "test": test, "subject": subject, "started_at": now(), "rest_s": 30}
    for answer in (
        bench.client.get(f"/api/trainees/{bench.trainee}/bench/{test}", params={"subject": subject}),
        bench.client.post(f"/api/trainees/{bench.trainee}/runs", json=body),
    ):
        assert (answer.status_code, said in answer.json()["detail"]) == (422, True), answer.text


def test_two_runs_are_compared_the_earlier_first(bench: Bench) -> None:
    """Whichever is named first, the change goes from the earlier to the later; other tests and trainees do
    not compare.
    """
    runs = []
    for ago, soft in ((9, 1), (1, 9)):
        run = begin(bench, "wall-landings", started_at=(datetime.now(UTC) - timedelta(days=ago)).isoformat())
        for n in range(1, 11):
            keep(bench, run, "wall-landings", n, outcome="soft" if n <= soft else "hard")
        bench.end(run)
        runs.append(run)
    for one, two in (runs, runs[::-1]):
        (change,) = [
            c
            for c in bench.client.get(f"/api/runs/{one}/compare/{two}").json()["changes"]
            if c["title"] == "soft landings"
        ]
        assert (change["first"], change["second"], change["call"]) == ("1 of 10", "9 of 10", "real")
    other = begin(bench, "heel-float")
    assert bench.client.get(f"/api/runs/{runs[0]}/compare/{other}").status_code == 422
    assert shown(bench, runs[1])["before"]["run"]["id"] == runs[0]


def test_the_kit_is_kept_changed_and_struck_out(client: TestClient) -> None:
    """Pieces are added once, changed, struck out and brought back; a stack says what makes a height."""
    pad, _ = add_kit(client, ("pad", 3, 2), ("plate", 1.5, 2))
    same = {"id": pad, "kind": "pad", "thickness_cm": 3, "count": 2}
    assert client.post("/api/kit", json=same).status_code == 201
    assert client.post("/api/kit", json={**same, "count": 9}).status_code == 409
    found = client.get("/api/kit/stack?height_cm=7.5").json()
    assert found["exact"]["text"] == "two 3 cm pads + one 1.5 cm plate = 7.5 cm"
    assert (
        client.put(f"/api/kit/{pad}", json={"kind": "pad", "thickness_cm": 3, "count": 1}).status_code == 200
    )
    found = client.get("/api/kit/stack?height_cm=7.5").json()
    assert (found["exact"], found["lower"]["height_cm"]) == (None, 6)
    client.post(f"/api/kit/{pad}/strike")
    assert [k["thickness_cm"] for k in client.get("/api/kit").json()] == [1.5]
    client.post(f"/api/kit/{pad}/restore")
    assert len(client.get("/api/kit").json()) == 2


@pytest.mark.parametrize(
    "wrong", [{"kind": "sofa"}, {"thickness_cm": 0}, {"thickness_cm": 3.14159}, {"count": 0}, {"count": 100}]
)
def test_kit_that_cannot_be(client: TestClient, wrong: dict[str, Any]) -> None:
    """A kind, thickness or count that is none is refused."""
    body = {"id": str(uuid7()), "kind": "pad", "thickness_cm": 3, "count": 2} | wrong
    assert client.post("/api/kit", json=body).status_code == 422


def test_a_test_day_of_two(bench: Bench) -> None:
    """Two trainees and three tests: in order, with minutes, kept once; a run begun in it is found there with
    how it ended.
    """
    other = str(uuid7())
    bench.client.post("/api/trainees", json={"id": other, "name": "Ulf Strand"})
    turns = [
        {"trainee": t, "test": n}
        for t in (bench.trainee, other)
        for n in ("fold", "free-tries", "simple-hold")
    ]
    looked = bench.client.post("/api/test-days/look", json={"turns": turns}).json()
    assert [t["test"] for t in looked["turns"]] == ["free-tries"] * 2 + ["simple-hold"] * 2 + ["fold"] * 2
    assert looked["minutes"][0]["together"] < sum(looked["minutes"][0]["alone"].values())
    assert {
        m["day"]
        for m in bench.client.post("/api/test-days/look", json={"turns": turns, "split": True}).json()[
            "minutes"
        ]
    } == {1, 2}
    day = str(uuid7())
    for _ in range(2):
        assert (
            bench.client.post("/api/test-days", json={"id": day, "at": now(), "turns": turns}).status_code
            == 201
        )
    run = begin(bench, "free-tries", test_day=day)
    keep(bench, run, "free-tries", 1, outcome="overshot")
    bench.end(run, ended_as="stopped")
    kept = bench.client.get(f"/api/test-days/{day}").json()
    assert [(t["run"], t["ended_as"], t["tries"]) for t in kept["turns"][:2]] == [
        (run, "stopped", 1),
        (None, None, 0),
    ]
    assert [d["id"] for d in bench.client.get("/api/test-days").json()] == [day]
    bench.client.post(f"/api/test-days/{day}/strike")
    assert bench.client.get(f"/api/test-days/{day}").status_code == 404
    assert shown(bench, run)["scored"]["run"]["test_day"] == day
    assert (
        bench.client.post(
            "/api/test-days/look", json={"turns": [{"trainee": str(uuid7()), "test": "fold"}]}
        ).status_code
        == 404
    )


def test_confidence_keeps_a_gate_from_being_proven(bench: Bench) -> None:
    """A gate met in fear on two days is met and not proven: the run's confidence goes with its evidence."""
    for ago in (4, 1):
        started = (datetime.now(UTC) - timedelta(days=ago)).isoformat()
        run = begin(bench, "simple-hold", subject="tuck-hollow-hold", started_at=started)
        keep(bench, run, "simple-hold", 1, outcome="held", value=40.0)
        bench.end(run, confidence=2)
    assert (
        bench.client.get(f"/api/trainees/{bench.trainee}/drills/tuck-hollow-hold").json()["standing"]["state"]
        == "met"
    )


@pytest.mark.parametrize("preferred", ["left", "right", None])
def test_both_sides_are_asked_for_in_turn(bench: Bench, preferred: str | None) -> None:
    """Whichever side a trainee prefers, both are measured, the preferred one first (the right one if none is
    known).
    """
    details = {"name": "Tilda Moor", "stepping_side": preferred, "note": ""}
    assert bench.client.put(f"/api/trainees/{bench.trainee}", json=details).status_code == 200
    sheet = bench.client.get(f"/api/trainees/{bench.trainee}/bench/wrist-bend").json()["sheet"]
    first = preferred or "right"
    second = "left" if first == "right" else "right"
    assert [sheet["steps"][f"bend {n}"]["side"] for n in range(1, 5)] == [first, second, first, second]
