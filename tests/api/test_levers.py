"""Levers, measures, settings in use and hand-load, through the api."""

from datetime import UTC, datetime, timedelta
from typing import Any

import psycopg
import pytest
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from tests.api.conftest import Bench, now
from tests.api.test_syllabus_and_goals import add_set, drill, intake
from wise_perch.syllabus.shipped import in_use


def measure(bench: Bench, **more: Any) -> Any:
    body = {"id": str(uuid7()), "at": now(), "stature_cm": 170, "mass_kg": 65, **more}
    return bench.client.post(f"/api/trainees/{bench.trainee}/measures", json=body)


def at(bench: Bench, lever: str, trainee: str = "", **settings: float) -> Any:
    named = {name.replace("_", "-"): value for name, value in settings.items()}
    return bench.client.post(
        f"/api/trainees/{trainee or bench.trainee}/levers/{lever}/at", json={"settings": named}
    )


def steps(bench: Bench, lever: str, name: str, **settings: float) -> Any:
    named = {k.replace("_", "-"): value for k, value in settings.items()}
    return bench.client.post(
        f"/api/trainees/{bench.trainee}/levers/{lever}/ladder", json={"drill": name, "settings": named}
    )


def use(bench: Bench, name: str, settings: dict[str, float], id: str = "") -> Any:
    body = {"id": id or str(uuid7()), "at": now(), "drill": name, "settings": settings}
    return bench.client.post(f"/api/trainees/{bench.trainee}/settings", json=body)


def said(position: Any, figure: str, view: int = 0) -> str:
    return str(next(f["words"] for f in position["views"][view]["figures"] if f["figure"] == figure))


def test_without_a_stature_everything_says_what_to_do_first(bench: Bench) -> None:
    """The page comes without a body; a move, a ladder and a setting are refused with the reason."""
    page = bench.client.get(f"/api/trainees/{bench.trainee}/levers").json()
    assert page["size"]["stature_cm"] is None
    assert page["outlooks"] == page["jumps"] == []
    for answer in (
        at(bench, "pike-push-up"),
        steps(bench, "pike-push-up", "pike-push-up"),
        use(bench, "pike-push-up", {}),
    ):
        assert answer.status_code == 409
        assert "Enter stature first" in answer.json()["detail"]


def test_a_move_answers_with_the_settings_it_is_for(bench: Bench) -> None:
    """The figures of the core, said with their units, beside the settings and what they are in the trainee's
    own lengths.
    """
    assert measure(bench).json() == {"kept": True, "doubts": []}
    found = at(bench, "pike-push-up", hands_to_feet=102).json()
    assert found["settings"] == {"hands-to-feet": 102, "surface-height": 0}
    assert (said(found, "share"), said(found, "share", 1)) == ("74 %", "50 %")
    assert found["in_body"]["hands-to-feet"] == "about 5 and a half hands"
    assert found["views"][0]["joints"]["ball"] == [1.02, 0]
    far = at(bench, "pike-push-up", hands_to_feet=170).json()
    assert far["views"][0]["because"] == "out of reach: feet at most 138 cm from the hands"
    assert far["views"][0]["figures"] == []


def test_every_notch_of_a_knob_is_the_position_there(bench: Bench) -> None:
    """What a dial shows while it is turned is what is answered for each of its settings, the other knobs as
    they stand.
    """
    measure(bench)
    path = f"/api/trainees/{bench.trainee}/levers/pike-push-up/along"
    asked = {"knob": "hands-to-feet", "settings": {"surface-height": 30}}
    along = bench.client.post(path, json=asked).json()
    knob = in_use().mechanics.lever("pike-push-up").knob("hands-to-feet")  # type: ignore[union-attr]
    assert knob is not None
    assert [p["settings"]["hands-to-feet"] for p in along] == list(knob.notches())
    for n in (0, 60, len(along) - 1):
        assert along[n] == at(bench, "pike-push-up", **along[n]["settings"]).json()
    unknown = bench.client.post(path, json={**asked, "knob": "nose"})
    assert (unknown.status_code, unknown.json()["detail"]) == (422, "Pike push-up has no setting named nose.")


def test_no_force_is_said_without_a_mass(bench: Bench) -> None:
    """Shares do without a mass; newton metres do not, and a press ladder then counts for each kilogram."""
    measure(bench, mass_kg=None)
    figures = [f["figure"] for f in at(bench, "press").json()["views"][0]["figures"]]
    assert "shoulder_moment_nm" not in figures
    assert "lean_deg" in figures
    assert all(
        w["value"].endswith("N m a kg") for w in steps(bench, "press", "partial-press-wall").json()["words"]
    )


@pytest.mark.parametrize(
    ("lever", "settings", "status", "told"),
    [
        ("fly", {}, 404, "no such lever"),
        ("pike-push-up", {"wings": 3}, 422, "has no setting named wings"),
        ("pike-push-up", {"hands-to-feet": 900}, 422, "lies outside 20 to 180"),
        ("pike-push-up", {"hands-to-feet": "near"}, 422, "number"),
    ],
)
def test_what_cannot_be_asked_is_refused(
    bench: Bench, lever: str, settings: Any, status: int, told: str
) -> None:
    """With a reason a person can act on."""
    measure(bench)
    answer = bench.client.post(
        f"/api/trainees/{bench.trainee}/levers/{lever}/at", json={"settings": settings}
    )
    assert answer.status_code == status
    assert told in answer.text


def test_the_ladder_marks_what_was_done_and_the_next_step_with_its_stack(bench: Bench) -> None:
    """A clean set at a setting stands on the ladder; the next step is said in cm, in body units and as a
    stack of the coach's kit.
    """
    measure(bench)
    for kind, thickness in (("box", 30), ("box", 45), ("plate", 2.5)):
        kit = {"id": str(uuid7()), "kind": kind, "thickness_cm": thickness, "count": 2, "note": ""}
        assert bench.client.post("/api/kit", json=kit).status_code == 201
    assert add_set(bench, "raised-pike-push-up", 6, dial_value=30).status_code == 201
    found = steps(bench, "pike-push-up", "raised-pike-push-up").json()
    assert found["tested"] == "30 cm: 6 clean"
    (here,) = [s for s in found["ladder"]["steps"] if s["tested"]]
    assert (here["setting"], here["stack"]) == (30, "one 30 cm box = 30 cm")
    assert found["next_step"]
    assert (found["full"], found["full_title"]) == (1, "Wall handstand push-up")
    assert steps(bench, "pads", "raised-pike-push-up").status_code == 422
    assert steps(bench, "pike-push-up", "fly").status_code == 404
    assert steps(bench, "push-up", "push-up").status_code == 422


def test_a_setting_in_use_reaches_the_drill_the_bench_and_the_wall_bars(bench: Bench) -> None:
    """Kept once, the newest counts, an impossible one is refused; the drill's panel, the Bench's dial and the
    push rungs show it.
    """
    measure(bench)
    id = str(uuid7())
    settings = {"hands-to-feet": 88.0, "surface-height": 0.0}
    assert [use(bench, "pike-push-up", settings, id).status_code for _ in range(2)] == [201, 201]
    assert use(bench, "pike-push-up", {"hands-to-feet": 90}, id).status_code == 409
    assert (
        "cannot be used: out of reach" in use(bench, "pike-push-up", {"hands-to-feet": 170}).json()["detail"]
    )
    assert use(bench, "hollow-hold", {}).status_code == 404
    panel = drill(bench, "pike-push-up")
    assert (panel["setting"]["setting"], panel["lever"]) == (88, "pike-push-up")
    assert (panel["setting"]["words"], panel["setting"]["in_body"]) == (
        "hands to feet 88 cm",
        "about 3 and a half forearms",
    )
    assert "The hands carry 78 %" in panel["for_you"][1]
    ready = bench.client.get(f"/api/trainees/{bench.trainee}/bench/rep-maximum?subject=pike-push-up").json()
    assert ready["dial"] == {"hands-to-feet": 88}
    shares = bench.client.get(f"/api/trainees/{bench.trainee}").json()["shares"]
    assert shares["pike-push-up"] == {"share": "78 %", "at": "hands to feet 88 cm"}
    assert shares["strict-wall-hspu"]["share"] == "100 %"
    listed = {
        d["drill"]: d for d in bench.client.get(f"/api/trainees/{bench.trainee}/levers").json()["drills"]
    }
    assert listed["pike-push-up"]["chosen"].startswith("Chosen on ")
    assert listed["raised-pike-push-up"]["chosen"] == ""


@pytest.mark.parametrize(
    ("test", "said"),
    [
        ("heel-float", "The fingers alone take the heels off with the hands up to 40 cm from the wall"),
        ("toe-float", "The hands alone take the feet off only within 4.1 cm of the wall"),
        ("push-floor", "of range"),
        ("press-start", "For a fold of 45° and a half straddle of 30° the arms lean"),
    ],
)
def test_the_bench_says_distances_for_this_trainee(bench: Bench, test: str, said: str) -> None:
    """In its set-up lines, worked out from the trainee's own size; nothing before that is known."""
    url = f"/api/trainees/{bench.trainee}/bench/{test}"
    assert bench.client.get(url).json()["for_you"] == []
    measure(bench)
    assert said in " ".join(bench.client.get(url).json()["for_you"])


def test_hand_load_follows_the_measures(bench: Bench, owner: psycopg.Connection) -> None:
    """Each set carries its load; a trunk that is longer than estimated changes it without touching the
    evidence.
    """
    assert add_set(bench, "pike-push-up", 8, dial_value=102).status_code == 201
    assert drill(bench, "pike-push-up")["hand_loads"] == {}
    measure(bench)
    (before,) = drill(bench, "pike-push-up")["hand_loads"].values()
    assert before["share"] == pytest.approx(0.7446, abs=1e-4)
    assert before["seconds"] == pytest.approx(8 * 3 * before["share"])
    evidence = owner.execute("select * from evidence").fetchall()
    measure(bench, lengths_cm={"trunk": 54})
    (after,) = drill(bench, "pike-push-up")["hand_loads"].values()
    assert after["share"] != pytest.approx(before["share"], abs=1e-3)
    assert owner.execute("select * from evidence").fetchall() == evidence


def test_over_and_under(bench: Bench) -> None:
    """Saveable or not, by which side, and what the fingers do."""
    measure(bench)
    url = f"/api/trainees/{bench.trainee}/levers/over-under"

    def asked(lean: float, rate: float = 0) -> Any:
        return bench.client.post(url, json={"lean_deg": lean, "lean_rate_deg_s": rate}).json()

    assert [asked(x)["words"] for x in (-2, 4, 12)] == ["Lost under", "Saveable", "Lost over"]
    assert asked(4, 60)["words"] == "Lost over"
    assert asked(4)["over_limit_deg"] == pytest.approx(10.4, abs=0.05)
    assert "Fingers press" in asked(8)["save"]["advice"] or "Fingertips" in asked(8)["save"]["advice"]
    assert bench.client.post(url, json={"lean_deg": 80}).status_code == 422


# --- measures


def test_unlikely_measures_are_asked_about_and_kept_when_said_to_be_so(bench: Bench) -> None:
    """Nothing is kept until the coach says it is so; what cannot be is refused; metres are named."""
    doubtful = measure(bench, lengths_cm={"arm": 95}).json()
    assert doubtful["kept"] is False
    assert "Arm of 95 cm is far from the usual 75 cm" in doubtful["doubts"][0]
    url = f"/api/trainees/{bench.trainee}/measures"
    assert bench.client.get(url).json()["stature_cm"] is None
    assert measure(bench, lengths_cm={"arm": 95}, sure=True).json()["kept"] is True
    assert bench.client.get(url).json()["measured_cm"] == {"arm": 95}
    for body, told in (
        ({"stature_cm": 1.7}, "looks like metres"),
        ({"lengths_cm": {"arm": 0.74}}, "looks like metres"),
        ({"lengths_cm": {"arm": 20}, "sure": True}, "is no length for 170 cm"),
        ({"lengths_cm": {"tail": 20}}, "no length named tail"),
        ({"mass_kg": 6}, "outside 20 to 200 kg"),
        ({"stature_cm": 400}, "outside 90 to 230"),
    ):
        answer = measure(bench, **body)
        assert answer.status_code == 422
        assert told in answer.json()["detail"]
    assert bench.client.get(url).json()["measured_cm"] == {"arm": 95}


def test_measures_leave_the_rest_of_the_intake_and_do_not_stand_for_it(bench: Bench) -> None:
    """Cautions stay as they were answered; measures alone are no intake."""
    measure(bench)
    assert bench.client.get(f"/api/trainees/{bench.trainee}").json()["intake_done"] is False
    intake(bench, cautions={**dict.fromkeys(_cautions(bench), False), "eyes": True}, experience=["kick-up"])
    measure(bench, stature_cm=172)
    profile = bench.client.get(f"/api/trainees/{bench.trainee}/intake").json()["profile"]
    assert (profile["stature_cm"], profile["cautions"]["eyes"], profile["experience"]) == (
        172,
        True,
        ["kick-up"],
    )
    shown = bench.client.get(f"/api/trainees/{bench.trainee}").json()
    assert shown["intake_done"] is True
    assert shown["uncleared"]


def _cautions(bench: Bench) -> list[str]:
    return [
        q["caution"] for q in bench.client.get(f"/api/trainees/{bench.trainee}/intake").json()["cautions"]
    ]


def test_two_very_different_trainees_at_the_same_setting(bench: Bench) -> None:
    """The same box and distance put different shares on a short and a tall pair of hands."""
    measure(bench, stature_cm=150, mass_kg=45)
    tall = str(uuid7())
    bench.client.post("/api/trainees", json={"id": tall, "name": "Orin Vast"})
    body = {"id": str(uuid7()), "at": now(), "stature_cm": 196, "mass_kg": 95}
    assert bench.client.post(f"/api/trainees/{tall}/measures", json=body).status_code == 200
    short_share, tall_share = (
        said(at(bench, "pike-push-up", who, hands_to_feet=80).json(), "share") for who in ("", tall)
    )
    assert (short_share, tall_share) == ("77 %", "86 %")


def test_the_first_rep_outlook_and_the_jump_come_from_evidence(bench: Bench) -> None:
    """Reps at a share, a tested start height, and the jump to the wall, each with its sentence."""
    measure(bench)
    add_set(bench, "raised-pike-push-up", 6, dial_value=30)
    add_set(bench, "partial-press-free", 2, dial_value=20)
    page = bench.client.get(f"/api/trainees/{bench.trainee}/levers").json()
    assert [o["goal"] for o in page["outlooks"]] == ["strict-wall-hspu", "straddle-press"]
    assert "6 clean at 88 %" in page["outlooks"][0]["sentence"]
    assert "A clean press from 20 cm" in page["outlooks"][1]["sentence"]
    use(bench, "partial-press-free", {"surface-height": 20, "fold": 60, "straddle": 20})
    stiff = bench.client.get(f"/api/trainees/{bench.trainee}/levers").json()["outlooks"][1]
    assert "a fold of 60° ± 5°" in stiff["sentence"]
    assert stiff["needed"] > page["outlooks"][1]["needed"]
    jump = next(j for j in page["jumps"] if j["upper"] == "partial-wall-hspu")
    assert jump["between"]
    measure(bench, mass_kg=None)
    page = bench.client.get(f"/api/trainees/{bench.trainee}/levers").json()
    assert [o["goal"] for o in page["outlooks"]] == ["strict-wall-hspu"]


def test_another_coach_reaches_nothing_of_it(bench: Bench, client: TestClient) -> None:
    """Without signing in there is no lever, no measure and no setting."""
    measure(bench)
    client.cookies.clear()
    assert bench.client.get(f"/api/trainees/{bench.trainee}/measures").status_code == 401
    assert at(bench, "pike-push-up").status_code == 401
    assert use(bench, "pike-push-up", {}).status_code == 401


def test_drills_are_drawn_in_a_trainees_own_lengths(bench: Bench) -> None:
    """In the usual ones while nothing is known; with the faults of a drill where they are asked for."""
    url = f"/api/trainees/{bench.trainee}/drawings"
    asked = {"drill": ["free-hold-10", "pike-push-up"]}
    usual = bench.client.get(url, params=asked).json()
    assert [d["drill"] for d in usual] == asked["drill"]
    assert [len(d["pictures"]) for d in usual] == [1, 9]
    assert [d["faults"] for d in usual] == [[], []]
    intake(bench, stature_cm=190)
    tall = bench.client.get(url, params={**asked, "faults": True}).json()
    assert tall[0]["pictures"][0]["toes"][1] > usual[0]["pictures"][0]["toes"][1] + 0.15
    assert "banana" in {f["fault"] for f in tall[0]["faults"]}
    many = {"drill": [f"drill-{n}" for n in range(61)]}
    assert bench.client.get(url, params=many).status_code == 422
    assert bench.client.get(f"/api/trainees/{uuid7()}/drawings", params=asked).status_code == 404


def test_from_where_a_line_was_seen_is_kept_by_the_day(bench: Bench) -> None:
    """Two ticks, told again or taken back; the newest word stands; only views that show a fault."""
    url = f"/api/trainees/{bench.trainee}/drills/chest-to-wall-hold"
    views = bench.client.get(url).json()["views"]
    assert [(v["view"], v["today"], v["last"]) for v in views] == [("side", False, ""), ("front", False, "")]
    day = views and bench.client.get(f"/api/trainees/{bench.trainee}/plan").json()["on"]

    def tell(view: str, seen: bool, at: str = "", on: str = day, drill: str = url) -> int:
        body = {"at": at or now(), "day": on, "view": view, "seen": seen}
        return bench.client.post(f"{drill}/seen", json=body).status_code

    def today() -> dict[str, bool]:
        return {v["view"]: v["today"] for v in bench.client.get(url).json()["views"]}

    assert tell("side", True) == 201
    assert tell("front", True) == 201
    assert today() == {"side": True, "front": True}
    assert tell("front", False) == 201
    assert tell("front", True, at="2020-01-01T10:00:00+00:00") == 201, "late, and older than the newest word"
    assert today() == {"side": True, "front": False}
    assert tell("side", True, on="2999-01-01") == 422
    other = url.replace("chest-to-wall-hold", "front-support")
    assert tell("front", True, drill=other) == 422, "not upside down, and nothing is looked for from there"
    assert tell("front", True, drill=url.replace("chest-to-wall-hold", "nothing")) == 404


def test_a_drill_says_what_lies_ahead_or_what_would_make_it_known(bench: Bench) -> None:
    url = f"/api/trainees/{bench.trainee}/drills/hollow-hold"
    page = bench.client.get(url).json()
    assert page["ahead"]["known"] is False
    assert page["ahead_said"].startswith("Not known yet: no set measured the best.")
    for ago in (40, 33, 26, 19, 12, 5):
        at = (datetime.now(UTC) - timedelta(days=ago)).isoformat()
        assert add_set(bench, "hollow-hold", 20 - ago / 10, at=at).status_code == 201
    page = bench.client.get(url).json()
    assert page["ahead"]["known"] is True
    assert "30 s once:" in page["ahead_said"]
    add_set(bench, "hollow-hold", 31)
    assert bench.client.get(url).json()["ahead_said"] == "", "met: nothing lies ahead of it"
