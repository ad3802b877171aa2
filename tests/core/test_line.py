"""The line: known bodies judged from their points, ranges that hold as often as they say, verdicts, what the
camera did wrong, and holds found in a series of leans.
"""

import json
import re
from dataclasses import replace
from math import cos, radians, sin
from pathlib import Path
from random import Random
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from tests.core.planning import SYLLABUS
from wise_perch.cli import app
from wise_perch.core.line.front import front_line
from wise_perch.core.line.holds import QUALITY_TO_CLAIM, Frame, find_holds
from wise_perch.core.line.judge import judge_line
from wise_perch.core.line.points import COCO, SPREAD, Body, Point
from wise_perch.core.line.side import side_line

RULES = SYLLABUS.line_rules
STRAIGHT = RULES.of_drill("free-hold-30", inverted=True)
PARTS = ("wrist", "shoulder", "hip", "knee", "ankle")
LENGTHS = (170.0, 150.0, 125.0, 120.0)
"""Wrist to shoulder, to hip, to knee, to ankle, pixels."""


def a_body(
    *leans: float, over: int = 1, noise: float = 0.0, dice: Random | None = None, nose: bool = True
) -> Body:
    """A side view whose four segments lean so many degrees toward the fingers, which point to `over`."""
    luck = dice or Random(1)
    at = [(0.0, 100.0)]
    for lean, long in zip(leans, LENGTHS, strict=True):
        x, y = at[-1]
        at.append((x + over * long * sin(radians(lean)), y + long * cos(radians(lean))))
    points = {}
    for part, (x, y) in zip(PARTS, at, strict=True):
        for side in ("left", "right"):
            points[f"{side}_{part}"] = Point(x=400 + x + luck.gauss(0, noise), y=y + luck.gauss(0, noise))
    if nose:
        head = at[1]
        points["nose"] = Point(x=400 + head[0] - over * 12, y=head[1] - 40)
        points["left_ear"] = points["right_ear"] = Point(x=400 + head[0], y=head[1] - 45)
    return Body(view="side", points=points, width=800, height=800)


leans = st.floats(-25, 25)


@given(leans, leans, leans, leans, st.sampled_from((1, -1)))
def test_known_angles_are_found(arm: float, trunk: float, thigh: float, shin: float, over: int) -> None:
    """Whatever the four leans are and to which side the fingers point."""
    found = side_line(a_body(arm, trunk, thigh, shin, over=over))
    assert found.shoulder.value == pytest.approx(arm - trunk, abs=1e-9)
    assert found.hip.value == pytest.approx(trunk - thigh, abs=1e-9)
    assert found.knee.value == pytest.approx(shin - thigh, abs=1e-9)
    path = sum(LENGTHS)
    aside = sum(long * sin(radians(a)) for long, a in zip(LENGTHS, (arm, trunk, thigh, shin), strict=True))
    assert found.offsets["ankle"].value == pytest.approx(aside / path, abs=1e-9)


@given(leans, st.floats(0.2, 5), st.floats(-300, 300))
def test_scale_and_place_do_not_matter(lean: float, scale: float, move: float) -> None:
    body = a_body(lean, 3, -4, 2)
    moved = {n: Point(x=scale * p.x + move, y=scale * p.y - move) for n, p in body.points.items()}
    one, other = side_line(body), side_line(replace(body, points=moved))
    assert one.lean.value == pytest.approx(other.lean.value, abs=1e-6)
    assert one.hip.se == pytest.approx(other.hip.se)
    assert one.arch_index.value == pytest.approx(other.arch_index.value, abs=1e-9)


def test_signs_are_the_trades() -> None:
    """Over is toward the fingers; a closed shoulder, a pike, bent knees and a banana are +, an arch is -."""
    assert (side_line(a_body(5, 5, 5, 5)).lean.value or 0) == pytest.approx(5)
    closed = side_line(a_body(20, -5, 0, 0))
    assert (closed.shoulder.value or 0) > 0
    assert (closed.offsets["shoulder"].value or 0) > 0
    assert (side_line(a_body(0, 10, -20, -20)).hip.value or 0) > 0, "the legs come to the belly's side"
    assert (side_line(a_body(0, 0, 0, 30)).knee.value or 0) > 0, "the feet come to the seat"
    banana = side_line(a_body(-10, -10, 12, 12))
    assert (banana.arch_index.value or 0) > 0, "the belly comes out"
    assert (banana.hip.value or 0) < 0


def test_without_a_face_or_fingers_no_side_is_claimed() -> None:
    found = side_line(a_body(5, 5, 5, 5, nose=False))
    assert found.lean.value is None
    assert "fingers" in found.lean.because
    with_fingers = a_body(5, 5, 5, 5, nose=False)
    finger = Point(x=430, y=98)
    known = replace(with_fingers, points={**with_fingers.points, "left_finger": finger})
    assert side_line(known).lean.value == pytest.approx(5)
    lost = {n: p for n, p in known.points.items() if "knee" not in n}
    assert side_line(replace(known, points=lost)).hip.because == "not seen: knee"


def test_a_range_holds_as_often_as_it_says() -> None:
    """Points as noisy as is assumed: 95 % ranges of every figure hold on 93 to 97 of 100 draws."""
    dice = Random(4)
    true = side_line(a_body(6, -3, 4, 9))
    held: dict[str, list[bool]] = {"lean": [], "shoulder": [], "hip": [], "knee": [], "arch_index": []}
    for _ in range(2000):
        seen = side_line(a_body(6, -3, 4, 9, noise=SPREAD * sum(LENGTHS), dice=dice))
        for name, all_held in held.items():
            here, there = getattr(seen, name), getattr(true, name)
            all_held.append(abs(here.value - there.value) <= 1.96 * here.se)
    assert {name: 0.93 <= np.mean(h) <= 0.97 for name, h in held.items()} == dict.fromkeys(held, True)


def test_the_stated_error_is_that_of_a_simulation() -> None:
    """The variance of a bend, worked out, beside the spread of 4,000 draws."""
    dice = Random(9)
    drawn = [
        side_line(a_body(20, -10, 0, 0, noise=SPREAD * sum(LENGTHS), dice=dice)).shoulder for _ in range(4000)
    ]
    spread = float(np.std([f.value for f in drawn]))
    assert drawn[0].se == pytest.approx(spread, rel=0.08)


def test_what_was_guessed_is_less_sure() -> None:
    body = a_body(5, 5, 5, 5)
    guessed = {n: replace(p, sure="hip" not in n) for n, p in body.points.items()}
    unsure, sure = side_line(replace(body, points=guessed)).hip, side_line(body).hip
    assert (unsure.se or 0) > (sure.se or 0)


# --- verdicts -----------------------------------------------------------------------------------------------


def says(body: Body) -> dict[str, str]:
    assert STRAIGHT is not None
    return {v.fault.fault: v.says for v in judge_line(body, STRAIGHT, RULES).faults}


def test_verdicts_of_clear_bodies() -> None:
    """Straight has no fault; each clear fault is named; near a threshold it cannot be told."""
    straight = says(a_body(0, 0, 0, 0))
    assert "yes" not in straight.values()
    assert straight["pike"] == straight["bent-knees"] == straight["banana"] == "no"
    assert says(a_body(25, -10, 0, 0))["closed-shoulder"] == "yes"
    assert says(a_body(0, 15, -25, -25))["pike"] == "yes"
    assert says(a_body(0, 0, 0, 40))["bent-knees"] == "yes"
    assert says(a_body(-15, -15, 15, 15))["banana"] == "yes"
    assert says(a_body(9, 9, 9, 9))["leans-over"] == "yes"
    assert says(a_body(-9, -9, -9, -9))["leans-under"] == "yes"
    assert says(a_body(0, 8, 0, 0))["pike"] == "cannot tell"


def test_each_drill_has_its_own_line() -> None:
    """A right angle at the hip is right where it is asked for; on the wall no lean is a fault."""
    angle = RULES.of_drill("right-angle-hold", inverted=True)
    wall = RULES.of_drill("chest-to-wall-hold", inverted=True)
    assert angle
    assert wall
    found = {v.fault.fault: v.says for v in judge_line(a_body(0, 0, -90, -90), angle, RULES).faults}
    assert found["pike"] == found["arch"] == "no"
    assert "banana" not in found
    assert "leans-over" not in {v.fault.fault for v in judge_line(a_body(9, 9, 9, 9), wall, RULES).faults}
    assert RULES.of_drill("pancake", inverted=False) is None
    drills = [d for t in RULES.targets for d in t.drills]
    assert set(drills) <= set(SYLLABUS.drills)
    assert len(drills) == len(set(drills))
    helped = {f.helped_by for f in RULES.faults if f.helped_by}
    assert helped <= {f.fault for f in SYLLABUS.content.faults}


def front(*, hands: float = 60, shoulders: float = 60, tilt: float = 0.0, aside: float = 0.0) -> Body:
    """A front view with hands and shoulders so far apart, hips tilted and all leaning so many degrees."""
    points = {}
    for part, y, wide in (
        ("wrist", 100, hands),
        ("shoulder", 270, shoulders),
        ("hip", 420, 40),
        ("knee", 545, 40),
        ("ankle", 665, 30),
    ):
        middle = 400 + (y - 100) * sin(radians(aside))
        drop = wide * sin(radians(tilt)) / 2 if part == "hip" else 0
        points[f"left_{part}"] = Point(x=middle - wide / 2, y=y + drop)
        points[f"right_{part}"] = Point(x=middle + wide / 2, y=y - drop)
    return Body(view="front", points=points, width=800, height=800)


def test_the_front_view() -> None:
    even = front_line(front())
    assert even.hand_width_ratio.value == pytest.approx(1)
    assert even.arms_drift.value == pytest.approx(0)
    wide = front_line(front(hands=140))
    assert wide.hand_width_ratio.value == pytest.approx(140 / 60)
    assert (wide.arms_drift.value or 0) > 10
    assert says(front(hands=140))["hands-wide"] == "yes"
    assert (front_line(front(tilt=20)).hip_tilt.value or 0) > 10
    assert (front_line(front(aside=6)).side_lean.value or 0) == pytest.approx(6, abs=0.1)
    swapped = {
        n.replace("left", "x").replace("right", "left").replace("x", "right"): p
        for n, p in front(hands=140).points.items()
    }
    assert front_line(replace(front(), points=swapped)) == wide, "a model swaps sides from the front"
    one_hand = {n: p for n, p in front().points.items() if n != "left_wrist"}
    assert "both sides" in front_line(replace(front(), points=one_hand)).hip_tilt.because


def test_the_camera_is_told_first() -> None:
    assert STRAIGHT is not None
    fine = judge_line(a_body(0, 0, 0, 0), STRAIGHT, RULES)
    assert fine.camera == ()
    small = judge_line(replace(a_body(0, 0, 0, 0), height=1600, width=1600), STRAIGHT, RULES)
    assert "too small" in small.camera[0].says
    cut = judge_line(replace(a_body(0, 0, 0, 0), height=668), STRAIGHT, RULES)
    assert any("cut off" in c.says for c in cut.camera)
    upright = {n: replace(p, y=800 - p.y) for n, p in a_body(0, 0, 0, 0).points.items()}
    turned = judge_line(replace(a_body(0, 0, 0, 0), points=upright), STRAIGHT, RULES)
    assert any("no handstand" in c.says for c in turned.camera)
    body = a_body(0, 0, 0, 0)
    apart = {
        **body.points,
        "left_shoulder": replace(body.points["left_shoulder"], x=385),
        "right_shoulder": replace(body.points["right_shoulder"], x=445),
    }
    assert any(
        "off square" in c.says for c in judge_line(replace(body, points=apart), STRAIGHT, RULES).camera
    )


# --- holds --------------------------------------------------------------------------------------------------


def film(*holds: tuple[float, float, float], length: float, lost: float = 0.0, seed: int = 1) -> list[Frame]:
    """Ten frames a second; each hold as start, end, and the lean it falls to (0 for coming down upright)."""
    dice, frames = Random(seed), []
    for n in range(int(10 * length)):
        t = n / 10
        lean, up = 60.0, False
        for start, end, falls in holds:
            if start <= t <= end:
                lean, up = dice.gauss(0, 2), True
            elif end < t <= end + 0.6 and falls:
                lean, up = falls * (t - end) / 0.6, True
        if dice.random() < lost:
            frames.append(Frame(t_s=t, lean_deg=None, inverted=None))
        else:
            frames.append(Frame(t_s=t, lean_deg=lean, inverted=up))
    return frames


def test_two_holds_with_their_sides() -> None:
    found = find_holds(film((1, 5, 60), (9, 12, -60), length=15))
    assert [h.end for h in found.holds] == ["over", "under"]
    assert [h.seconds for h in found.holds] == pytest.approx([4, 3], abs=0.4)
    assert found.quality == 1


@pytest.mark.parametrize("seed", range(20))
def test_a_tenth_of_the_frames_lost_changes_little(seed: int) -> None:
    found = find_holds(film((1, 7, 60), length=10, lost=0.1, seed=seed))
    assert [h.end for h in found.holds] == ["over"]
    assert found.holds[0].seconds == pytest.approx(6, abs=0.4)


def test_what_is_no_hold() -> None:
    """Too short, never up, or too little seen: nothing is claimed."""
    assert find_holds(film((1, 1.5, 60), length=4)).holds == ()
    assert find_holds(film(length=4)).holds == ()
    blind = find_holds(film((1, 5, 60), length=10, lost=0.6))
    assert blind.quality < QUALITY_TO_CLAIM
    assert "nothing is claimed" in blind.because
    assert find_holds([]).because
    still_up = find_holds(film((1, 9, 0), length=9))
    assert [h.end for h in still_up.holds] == ["still-up"]


# --- doors --------------------------------------------------------------------------------------------------


def as_coco(*bodies: Body) -> dict[str, Any]:
    """Bodies as a file has them: image axes, y down."""
    annotations = []
    for n, body in enumerate(bodies):
        triples = [
            (p.x, (body.height or 0) - p.y, 2) if (p := body.points.get(name)) else (0, 0, 0) for name in COCO
        ]
        annotations.append({"image_id": n, "view": body.view, "keypoints": [v for t in triples for v in t]})
    images = [{"id": n, "width": b.width, "height": b.height} for n, b in enumerate(bodies)]
    return {"images": images, "annotations": annotations}


def ask(*words: str) -> Any:
    return CliRunner().invoke(app, list(words), catch_exceptions=False)


def test_the_door_judges_in_file_order(tmp_path: Path) -> None:
    path = tmp_path / "k.json"
    path.write_text(json.dumps(as_coco(a_body(9, 9, 9, 9), front(hands=140))), "utf-8")
    found = ask("line", str(path), "--drill", "free-hold-30", "--stature-cm", "170", "--json")
    assert found.exit_code == 0
    side, facing = json.loads(found.stdout)
    assert side["lean_deg"] == pytest.approx(9, abs=0.01)
    assert side["lean_deg_se"] > 0
    assert side["offsets"]["ankle_cm"] == pytest.approx(side["offsets"]["ankle"] * 1.111 * 170, abs=0.1)
    assert {f["fault"]: f["says"] for f in side["faults"]}["leans-over"] == "yes"
    assert facing["hand_width_ratio"] == pytest.approx(140 / 60, abs=0.01)
    assert "lean_deg" not in facing
    said = ask("line", str(path), "--drill", "free-hold-30").stdout
    assert "1, side: " in said
    assert "leans over" in said


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda c: c["annotations"][0].update(view="above"), "view"),
        (lambda c: c["annotations"][0]["keypoints"].pop(), "keypoints"),
        (lambda c: c["annotations"][0].update(image_id=7), "no picture 7"),
        (lambda c: c["annotations"][0].update(extra={"tail": [1, 2, 2]}), "no point named tail"),
        (lambda c: c.pop("annotations"), "annotations"),
    ],
)
def test_junk_is_a_message_and_two(tmp_path: Path, change: Any, words: str) -> None:
    path = tmp_path / "k.json"
    content = as_coco(a_body(0, 0, 0, 0))
    change(content)
    path.write_text(json.dumps(content), "utf-8")
    found = ask("line", str(path), "--drill", "free-hold-30", "--json")
    assert (found.exit_code, words in found.output) == (2, True)


def test_other_refusals(tmp_path: Path) -> None:
    path = tmp_path / "k.json"
    path.write_text("[" * 5000, "utf-8")
    assert ask("line", str(path), "--drill", "free-hold-30").exit_code == 2
    path.write_text(json.dumps(as_coco(a_body(0, 0, 0, 0))), "utf-8")
    assert "no drill named fly" in ask("line", str(path), "--drill", "fly").output
    assert "no line is looked at in pancake" in ask("line", str(path), "--drill", "pancake").output
    assert ask("line", str(path), "--drill", "free-hold-30", "--stature-cm", "17").exit_code == 2
    assert ask("line", str(tmp_path / "none.json"), "--drill", "free-hold-30").exit_code == 2


def test_the_door_finds_holds(tmp_path: Path) -> None:
    path = tmp_path / "s.csv"
    rows = ["t_s,lean_deg,inverted"]
    for f in film((1, 5, 60), length=8, lost=0.1):
        lean = "" if f.lean_deg is None else f"{f.lean_deg:.2f}"
        rows.append(f"{f.t_s},{lean},{'' if f.inverted is None else int(f.inverted)}")
    path.write_text("\n".join(rows) + "\n", "utf-8")
    found = json.loads(ask("hold", str(path), "--json").stdout)
    assert [h["end"] for h in found["holds"]] == ["over"]
    assert 0.8 <= found["quality"] <= 1
    assert re.match(
        r"(3\.\d|4(\.\d)?) s from [\d.]+ s on, over\n\d+ % of the frames read", ask("hold", str(path)).stdout
    )
    for broken, words in (
        ("t_s,lean\n1,2\n", "no column"),
        ("t_s,lean_deg,inverted\n1,x,1\n", "line 2"),
        ("t_s,lean_deg,inverted\n1,2,maybe\n", 'inverted is "maybe"'),
        ("t_s,lean_deg,inverted\nnan,2,1\n", "line 2"),
        ("t_s,lean_deg,inverted\n", "no frames"),
    ):
        path.write_text(broken, "utf-8")
        refused = ask("hold", str(path))
        assert (refused.exit_code, words in refused.output) == (2, True), broken
