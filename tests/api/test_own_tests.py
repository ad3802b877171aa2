"""A coach's own test through the api: kept with the syllabus, run, its tries checked against it, exported."""

from typing import Any

from uuid_utils.compat import uuid7

from tests.api.conftest import Bench, now
from tests.api.test_syllabus_and_goals import intake

OWN: dict[str, Any] = {
    "test": "own-hollow",
    "title": "Hollow, two goes",
    "drill": "hollow-hold",
    "way": "best",
    "measure": "hold",
    "tries": 2,
    "rest_s": 20,
    "due_after_days": 28,
}


def keep(bench: Bench, **edit: Any) -> Any:
    versions = bench.client.get("/api/syllabus").json()["versions"]
    body = {"id": str(uuid7()), "base": versions[0]["id"] if versions else None, "edits": [edit]}
    return bench.client.post("/api/syllabus/versions", json=body)


def begun(bench: Bench) -> str:
    run = str(uuid7())
    body = {"id": run, "started_at": now(), "test": "own-hollow", "rest_s": 20}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/runs", json=body)
    assert answer.status_code == 201, answer.text
    return run


def tried(bench: Bench, run: str, number: int, **more: Any) -> Any:
    body = {
        "id": str(uuid7()),
        "test": "own-hollow",
        "number": number,
        "at": now(),
        "outcome": "held",
        **more,
    }
    return bench.client.post(f"/api/runs/{run}/tries", json={**body, **more})


def end(bench: Bench, run: str) -> None:
    ending = {"ended_at": now(), "ended_as": "finished"}
    assert bench.client.post(f"/api/runs/{run}/end", json=ending).status_code == 200


def test_a_test_of_ones_own_is_run_and_meets_its_gate(bench: Bench) -> None:
    """Offered, run, refused what it does not take, decided, and read back from its export."""
    intake(bench)
    unknown = bench.client.post(
        f"/api/trainees/{bench.trainee}/runs",
        json={"id": str(uuid7()), "started_at": now(), "test": "own-hollow", "rest_s": 20},
    )
    assert unknown.status_code in (404, 422)
    assert keep(bench, drill="hollow-hold", own_test=OWN).status_code == 201
    offered = bench.client.get(f"/api/trainees/{bench.trainee}/tests").json()["tests"]
    assert "own-hollow" in {t["test"] for t in offered}
    run = begun(bench)
    assert tried(bench, run, 1).status_code == 422, "a hold needs its seconds"
    assert tried(bench, run, 5, value=30).status_code == 422, "two goes, on one side"
    assert tried(bench, run, 1, value=31).status_code == 201
    assert tried(bench, run, 2, value=12, mode="own").status_code == 201
    assert (
        bench.client.post(
            f"/api/runs/{run}/end", json={"ended_at": now(), "ended_as": "finished"}
        ).status_code
        == 200
    )
    page = bench.client.get(f"/api/runs/{run}")
    assert page.status_code == 200, page.text
    assert page.json()["outcome"]["title"] == "The gate is reached."
    drill = bench.client.get(f"/api/trainees/{bench.trainee}/drills/hollow-hold").json()
    assert drill["standing"]["state"] == "met"
    text = bench.client.get("/api/tries.csv?test=own-hollow").text
    assert "31" in text
    again = bench.client.post("/api/tries.csv?keep=true", files={"file": ("t.csv", text.encode())})
    assert again.status_code == 200, again.text


def test_what_is_set_aside_is_not_offered_and_still_counts(bench: Bench) -> None:
    keep(bench, drill="hollow-hold", own_test=OWN)
    run = begun(bench)
    tried(bench, run, 1, value=31)
    end(bench, run)
    assert keep(bench, drill="", test="own-hollow", aside=True).status_code == 201
    assert keep(bench, drill="", test="free-tries", aside=True).status_code == 201
    offered = {t["test"] for t in bench.client.get(f"/api/trainees/{bench.trainee}/tests").json()["tests"]}
    assert not {"own-hollow", "free-tries"} & offered
    drill = bench.client.get(f"/api/trainees/{bench.trainee}/drills/hollow-hold").json()
    assert drill["standing"]["state"] == "met"
    assert keep(bench, drill="", test="nothing", aside=True).status_code == 422


def test_going_back_to_ours_loses_no_try(bench: Bench) -> None:
    """Without its test a run shows nothing and says so; all else answers, and an export has its tries."""
    keep(bench, drill="hollow-hold", own_test=OWN)
    run = begun(bench)
    tried(bench, run, 1, value=31)
    end(bench, run)
    newest = bench.client.get("/api/syllabus").json()["versions"][0]["id"]
    back = {"id": str(uuid7()), "base": newest, "to": None}
    assert bench.client.post("/api/syllabus/go-back", json=back).status_code in (200, 201)
    assert bench.client.get(f"/api/runs/{run}").status_code in (404, 409, 410)
    for page in ("", "/tests", "/drills/hollow-hold", "/plan"):
        assert bench.client.get(f"/api/trainees/{bench.trainee}{page}").status_code == 200, page
    text = bench.client.get("/api/tries.csv").text
    assert "own-hollow" in text
    assert ",31," in text
    refused = bench.client.post("/api/tries.csv?keep=true", files={"file": ("t.csv", text.encode())})
    assert refused.status_code == 422
    again = {"id": str(uuid7()), "base": back["id"], "to": newest}
    assert bench.client.post("/api/syllabus/go-back", json=again).status_code in (200, 201)
    assert bench.client.get(f"/api/runs/{run}").json()["outcome"]["title"] == "The gate is reached."
