"""Lines over the api: judged, kept by their joints, carried in and out, asked for by a school; holds of a
film.
"""

import csv
import json
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner
from uuid_utils.compat import uuid7

from tests.api.conftest import Bench, now
from tests.core.test_line import PARTS, a_body
from wise_perch.cli import app
from wise_perch.core.line.points import Body

HEIGHT = 800.0


def points_of(body: Body) -> dict[str, list[float]]:
    """A body's points as a browser sends them: image axes."""
    return {name: [p.x, HEIGHT - p.y, 2 if p.sure else 1] for name, p in body.points.items()}


def a_picture(*leans: float, drill: str = "free-hold-10") -> dict[str, Any]:
    return {
        "drill": drill,
        "view": "side",
        "width": 800,
        "height": HEIGHT,
        "points": points_of(a_body(*leans)),
    }


def keep(bench: Bench, picture: dict[str, Any], **more: Any) -> str:
    body = {**picture, "id": str(uuid7()), "at": now(), "day": now()[:10], **more}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/lines", json=body)
    assert answer.status_code == 201, answer.text
    return str(answer.json()["id"])


def kept(bench: Bench) -> list[dict[str, Any]]:
    answer = bench.client.get(f"/api/trainees/{bench.trainee}/lines")
    assert answer.status_code == 200, answer.text
    found: list[dict[str, Any]] = answer.json()
    return found


def judged(bench: Bench, picture: dict[str, Any]) -> dict[str, Any]:
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/line/judge", json=picture)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_a_picture_is_judged_and_nothing_kept(bench: Bench) -> None:
    """What bends is said with its doubt and what helps; joints can be taken hold of."""
    found = judged(bench, a_picture(0, -24, -24, -24))
    assert found["said"]["faults"][0] == "closed-shoulder"
    loud = found["said"]["loud"][0]
    assert (loud["value"], loud["says"], len(found["said"]["loud"])) == ("24°", "yes", 3)
    assert found["said"]["help"]["cue"] == "Open the shoulders."
    assert found["said"]["help"]["range"] == "overhead-reach"
    assert [h["joint"] for h in found["handles"]] == list(PARTS)
    assert found["handles"][0]["moves"] == ["left_wrist", "right_wrist"]
    assert kept(bench) == []


def test_the_page_has_what_is_looked_at(bench: Bench) -> None:
    """Drills with their line, a body to place by hand, how a camera is set up, and what was never tried."""
    page = bench.client.get(f"/api/trainees/{bench.trainee}/line").json()
    drills = {d["drill"]: d["target"] for d in page["drills"]}
    assert drills["right-angle-hold"] == "a right angle at the hip"
    assert "hollow-hold" not in drills
    assert [page["shape"][part][1] for part in PARTS] == sorted(page["shape"][part][1] for part in PARTS)
    assert page["ranges"]["overhead-reach"]["free"] is None
    assert "never measured" in page["ranges"]["overhead-reach"]["words"]
    assert page["tried_on"].startswith("Never tried on a photograph")


def test_range_or_habit(bench: Bench) -> None:
    """A closed shoulder with a free overhead reach is habit."""
    body = {"id": str(uuid7()), "at": now(), "value": 0, "form": "clean"}
    answer = bench.client.post(f"/api/trainees/{bench.trainee}/drills/overhead-reach/sets", json=body)
    assert answer.status_code == 201, answer.text
    known = bench.client.get(f"/api/trainees/{bench.trainee}/line").json()["ranges"]["overhead-reach"]
    assert known["free"] is True
    assert "this is habit, not range" in known["words"]


def test_a_kept_line_is_joints_and_words(bench: Bench) -> None:
    """Sent again it is the same; struck out it is gone, brought back it is there."""
    picture = a_picture(2, -20, -20, -20)
    body = {**picture, "id": str(uuid7()), "at": now(), "day": now()[:10], "note": "third set"}
    where = f"/api/trainees/{bench.trainee}/lines"
    assert [bench.client.post(where, json=body).status_code for _ in range(2)] == [201, 201]
    (line,) = kept(bench)
    assert (line["note"], line["view"]) == ("third set", "side")
    assert line["said"]["heading"].startswith("Closed shoulders.")
    assert len(line["outline"]["strokes"][0]) == len(PARTS)
    assert line["outline"]["strokes"][0][0] == [0, 0]
    assert bench.client.post(f"/api/lines/{line['id']}/strike").status_code == 204
    assert kept(bench) == []
    assert bench.client.post(f"/api/lines/{line['id']}/restore").status_code == 204
    assert len(kept(bench)) == 1
    assert bench.client.post(f"/api/lines/{uuid7()}/strike").status_code == 404


def test_what_is_not_kept(bench: Bench) -> None:
    """A body without its joints, a day to come, a drill whose line nobody looks at, somebody else's id."""
    where, picture = f"/api/trainees/{bench.trainee}/lines", a_picture(0, 0, 0, 0)
    whole = {**picture, "id": str(uuid7()), "at": now(), "day": now()[:10]}
    few = {k: v for k, v in picture["points"].items() if not k.endswith("hip")}
    for wrong, status, says in (
        ({**whole, "points": few}, 422, "hip"),
        ({**whole, "day": "2999-01-01"}, 422, "not come yet"),
        ({**whole, "drill": "hollow-hold"}, 422, "No line is looked at"),
        ({**whole, "drill": "nothing"}, 404, "no such drill"),
        ({**whole, "points": {"left_thumb": [1, 1, 2]}}, 422, "no point named left_thumb"),
        ({**whole, "run": str(uuid7())}, 404, ""),
    ):
        answer = bench.client.post(where, json=wrong)
        assert answer.status_code == status, answer.text
        assert says in answer.text
    assert kept(bench) == []
    assert bench.client.post(where, json=whole).status_code == 201
    other = {**whole, "at": "2026-01-01T10:00:00Z"}
    assert bench.client.post(where, json=other).status_code == 409


def test_out_and_in_again(bench: Bench, tmp_path: Path) -> None:
    """COCO and CSV are read by the door, which says what the screen says; and by the screen."""
    keep(bench, a_picture(0, -24, -24, -24))
    where = f"/api/trainees/{bench.trainee}/lines"
    coco = bench.client.get(f"{where}.json")
    table = bench.client.get(f"{where}.csv")
    assert len(coco.json()["annotations"][0]["keypoints"]) == 51
    rows = list(csv.DictReader(table.content.decode("utf-8-sig").splitlines()))
    assert {row["point"] for row in rows} == set(points_of(a_body(0, 0, 0, 0)))
    for name, text in (("lines.json", coco.text), ("lines.csv", table.content.decode("utf-8-sig"))):
        path = tmp_path / name
        path.write_text(text, "utf-8")
        done = CliRunner().invoke(app, ["line", str(path), "--drill", "free-hold-10", "--json"])
        assert done.exit_code == 0, done.output
        (found,) = json.loads(done.output)
        assert found["shoulder_deg"] == pytest.approx(24, abs=0.01)
        read = bench.client.post("/api/line/read", json={"name": name, "text": text}).json()
        assert read[0]["points"]["left_hip"][:2] == pytest.approx(
            points_of(a_body(0, -24, -24, -24))["left_hip"][:2]
        )
    junk = bench.client.post("/api/line/read", json={"name": "x.csv", "text": "t_s,view\n1,side\n"})
    assert junk.status_code == 422
    assert "there is no column point" in junk.text


def test_a_school_asks_for_the_line(bench: Bench) -> None:
    """By that school a gate is not met before a line within five degrees is kept; by the usual one it is."""
    own = f"/api/trainees/{bench.trainee}"
    body = {"id": str(uuid7()), "at": now(), "value": 40, "form": "clean", "dial_value": 15}
    answer = bench.client.post(f"{own}/drills/chest-to-wall-hold/sets", json=body)
    assert answer.status_code == 201, answer.text

    def stands() -> dict[str, Any]:
        found: dict[str, Any] = bench.client.get(f"{own}/drills/chest-to-wall-hold").json()["standing"]
        return found

    assert stands()["state"] == "met"
    answer = bench.client.put(f"{own}/schools", json={"schools": {"line-proof": "line-shown"}})
    assert answer.status_code in (200, 204), answer.text
    assert stands()["state"] == "not yet"
    assert "keep one from the side within 5°" in stands()["shortfall"]
    assert "its line shown within 5°" in stands()["gate"]
    keep(bench, a_picture(0, -30, -30, -30, drill="chest-to-wall-hold"))
    assert stands()["state"] == "not yet"
    line = keep(bench, a_picture(1, -2, 1, 0, drill="chest-to-wall-hold"))
    assert stands()["state"] == "met"
    assert bench.client.get("/api/today").status_code == 200
    bench.client.post(f"/api/lines/{line}/strike")
    assert stands()["state"] == "not yet"


def test_own_lean_feeds_over_and_under(bench: Bench) -> None:
    """The middle lean of the lines kept, with its doubt; none while none is kept."""
    page = f"/api/trainees/{bench.trainee}/levers"
    assert bench.client.get(page).json()["own_lean"] is None
    for lean in (1, 3, 8):
        keep(bench, a_picture(lean, lean, lean, lean))
    keep(bench, a_picture(-9, -9, -9, -9, drill="chest-to-wall-hold"))
    own = bench.client.get(page).json()["own_lean"]
    assert (own["lean_deg"], own["lines"]) == (3, 3)
    assert own["words"].startswith("Own lean by 3 lines kept: 3.0° over, ± ")


def test_a_film_is_told_by_its_joints(bench: Bench) -> None:
    """Up, held four seconds, over; frames already judged are taken as they are."""
    leans = [0.0] * 40 + [4, 8, 16, 30, 60, 80]
    frames = [
        {"t_s": n / 10, "points": points_of(a_body(lean, lean, lean, lean))} for n, lean in enumerate(leans)
    ]
    found = bench.client.post("/api/line/film", json={"frames": frames}).json()
    assert (found["quality"], found["fingers"]) == (1, 1)
    (hold,) = found["holds"]
    assert hold["end"] == "over"
    assert hold["seconds"] == pytest.approx(4.2, abs=0.11)
    half = [
        {"t_s": f["t_s"], "lean_deg": told["lean_deg"], "inverted": told["inverted"]} if n < 20 else f
        for n, (f, told) in enumerate(zip(frames, found["frames"], strict=True))
    ]
    again = bench.client.post("/api/line/film", json={"frames": half, "fingers": 1}).json()
    assert again["holds"] == found["holds"]
    empty = bench.client.post("/api/line/film", json={"frames": [{"t_s": 0, "points": {}}]}).json()
    assert (empty["holds"], empty["frames"][0]["lost"]) == ([], "body")


def test_tries_from_a_film_say_so(bench: Bench) -> None:
    """A run whose tries a film proposed is marked as such, in the run and in every export."""
    run = {
        "id": str(uuid7()),
        "test": "free-tries",
        "started_at": now(),
        "rest_s": 45,
        "room": "open floor",
        "source": "film",
    }
    where = f"/api/trainees/{bench.trainee}/runs"
    assert bench.client.post(where, json=run).status_code == 201
    tried = {"id": str(uuid7()), "number": 1, "at": now(), "outcome": "held", "value": 4.8, "fell": "over"}
    assert bench.client.post(f"/api/runs/{run['id']}/tries", json=tried).status_code == 201
    assert bench.client.get(f"/api/runs/{run['id']}").json()["scored"]["run"]["source"] == "film"
    assert bench.end(str(run["id"])).status_code in (200, 201, 204)
    (named,) = bench.client.get(f"/api/trainees/{bench.trainee}/line").json()["runs"]
    assert named["run"] == run["id"]
    assert named["words"].startswith("Ten free tries, ")
    line = keep(bench, a_picture(0, 0, 0, 0), run=run["id"])
    assert next(x for x in kept(bench) if x["id"] == line)["run"] == run["id"]
