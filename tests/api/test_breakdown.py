"""Breaking down a goal through the api: proposed, looked at, kept as a version, chosen and planned."""

from typing import Any

import pytest
from uuid_utils.compat import uuid7

from tests.api.conftest import Bench


def proposed(bench: Bench, title: str, **said: Any) -> Any:
    answer = bench.client.post("/api/syllabus/breakdown", json={"title": title, **said})
    assert answer.status_code == 200, answer.text
    return answer.json()


def looked(bench: Bench, b: Any, **bay: Any) -> Any:
    body = {"wanted": b["wanted"], "rungs": b["rungs"], **bay}
    answer = bench.client.post("/api/syllabus/breakdown/look?who=true", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_goal_of_ones_own_is_kept_chosen_and_planned(bench: Bench) -> None:
    """From its name to a week that works toward it; the goal stands beside ours, with a line of its own."""
    b = proposed(bench, "Tuck balance on two canes")
    look = looked(bench, b)
    assert look["problems"] == []
    assert [d["title"] for d in look["drawings"]] == [r["title"] for r in b["rungs"]]
    assert look["standing"] == "Everybody below all of it."
    body = {"id": str(uuid7()), "base": None, "edits": [look["edit"]], "note": ""}
    for _ in range(2):
        assert bench.client.post("/api/syllabus/versions", json=body).status_code == 201
    page = bench.client.get("/api/syllabus").json()
    assert (page["content"]["lines"][-1]["title"], page["content"]["goals"][-1]["goal"]) == (
        "Tuck balance on two canes",
        "tuck-balance-on-two-canes",
    )
    url = f"/api/trainees/{bench.trainee}/goals"
    assert bench.client.put(url, json={"goals": ["tuck-balance-on-two-canes"]}).status_code == 204
    trainee = bench.client.get(f"/api/trainees/{bench.trainee}").json()
    drawn = bench.client.get(
        f"/api/trainees/{bench.trainee}/drawings?drill=tuck-balance-on-two-canes&drill=nothing-at-all"
    ).json()
    assert [d["title"] for d in drawn] == ["Tuck balance on two canes"], "a drill of one's own is drawn"
    (goal,) = trainee["goals"]
    assert goal["path"][-1]["drill"] == "tuck-balance-on-two-canes"
    assert trainee["next_steps"]
    again = proposed(bench, "Tuck balance on two canes")
    assert looked(bench, again)["edit"]["drill"] == "tuck-balance-on-two-canes-2"


def test_what_is_said_goes_before_what_the_title_says(bench: Bench) -> None:
    """A form, a place or a standard that the coach names is taken as it is; a way the form lacks is left
    out.
    """
    b = proposed(bench, "My own thing", form="planche-hold", at={"legs": "straddle", "range": "part"})
    assert (b["wanted"]["form"], b["wanted"]["at"]) == ("planche-hold", {"legs": "straddle"})
    assert b["wanted"]["gate"]["value"] == 5
    gate = {"measure": "hold", "value": 30, "origin": "ours"}
    assert proposed(bench, "One-arm handstand", gate=gate)["rungs"][1]["gate"]["value"] == 12


def test_what_the_hands_carry_stands_beside_a_lighter_drill(bench: Bench) -> None:
    """Where a pose fits, the share of weight is worked out, less for each lighter drill."""
    rungs = proposed(bench, "Handstand push-up on canes")["rungs"]
    said = {r["drill"]: r["said"] for r in rungs if r["way"] == "share"}
    shares = [int(said[d].split("carry ")[1].split(" ")[0]) for d in ("raised-pike-push-up", "pike-push-up")]
    assert 100 > shares[0] > shares[1] > 40


def test_a_change_of_the_bay_is_checked_at_once(bench: Bench) -> None:
    """A standard of nothing is named, a step too big has what lies between, a bay without its goal is
    refused.
    """
    b = proposed(bench, "Tuck balance on two canes")
    b["rungs"][3]["kept"] = False
    found = looked(bench, b)["too_big"]
    assert [(x["upper"], x["between"]["title"]) for x in found] == [(2, "Tuck balance on parallettes")]
    b["rungs"][0]["gate"]["value"] = 0
    assert any("met by doing nothing" in p for p in looked(bench, b)["problems"])
    body = {"wanted": b["wanted"], "rungs": b["rungs"][4:]}
    assert bench.client.post("/api/syllabus/breakdown/look", json=body).status_code == 422


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ({"title": "A"}, "title"),
        ({"title": "One-arm", "form": "flying"}, "no form of skill named flying"),
        ({"title": "One-arm", "at": {"legs": "crossed"}}, "no crossed of legs"),
        ({"title": "One-arm", "at": {"wings": "two"}}, "no two of wings"),
    ],
)
def test_what_is_not_known_is_refused(bench: Bench, body: dict[str, Any], said: str) -> None:
    """A form or a step that is not there is named, and nothing is proposed."""
    answer = bench.client.post("/api/syllabus/breakdown", json=body)
    assert answer.status_code == 422
    assert said in answer.text
