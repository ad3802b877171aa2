"""What is said of a line, what the camera did wrong, the leans of a film, and the drawn stand-ins by their
own joints.
"""

import json
from dataclasses import replace
from math import cos, radians, sin
from pathlib import Path
from random import Random

import pytest

from tests.core.planning import SYLLABUS
from tests.core.test_line import PARTS, RULES, STRAIGHT, a_body
from wise_perch.core.line.film import LeanSeen, lean_of
from wise_perch.core.line.frames import judge_frames, pack
from wise_perch.core.line.holds import Frame, find_holds
from wise_perch.core.line.judge import farthest_off, judge_line
from wise_perch.core.line.points import Body, Point
from wise_perch.core.line.shape import handles_of, outline_of, usual_shape
from wise_perch.core.line.side import side_line
from wise_perch.core.line.words import say_line
from wise_perch.core.trade.schools import with_schools
from wise_perch.formats.junk import Junk
from wise_perch.formats.key_points import parse_bodies
from wise_perch.syllabus.shipped import built_in

STAND_INS = Path(__file__).resolve().parents[2] / "web" / "public" / "stand-ins"
KNOWN = json.loads((STAND_INS / "known.json").read_text("utf-8"))
assert STRAIGHT


def drawn(still: dict) -> Body:  # type: ignore[type-arg]
    points = {name: Point(x=x, y=still["height"] - y) for name, (x, y) in still["points"].items()}
    return Body(view=still["view"], points=points, width=still["width"], height=still["height"])


@pytest.mark.parametrize("still", KNOWN["stills"], ids=[s["name"] for s in KNOWN["stills"]])
def test_each_stand_in_is_what_it_says(still: dict) -> None:  # type: ignore[type-arg]
    """By its own joints every drawn body has the faults it was given and no other; the badly filmed are not
    trusted.
    """
    judged = judge_line(drawn(still), STRAIGHT, RULES)
    assert sorted(v.fault.fault for v in judged.faults if v.says == "yes") == sorted(still["faults"])
    assert any(c.refuses or c.hides for c in judged.camera) == still["refused"]
    assert (STAND_INS / f"{still['name']}.jpg").stat().st_size < 60_000


@pytest.mark.parametrize("film", KNOWN["films"], ids=[f["name"] for f in KNOWN["films"]])
def test_each_film_has_its_holds(film: dict) -> None:  # type: ignore[type-arg]
    """Ten tries are ten holds, each with its side."""
    found = find_holds([Frame(**frame) for frame in film["frames"]]).holds
    many = {"ten-tries": 10}.get(film["name"], 1)
    assert len(found) == many
    wanted = {"falls-over": {"over"}, "falls-under": {"under"}, "ten-tries": {"over", "under"}}
    assert {h.end for h in found} == wanted.get(film["name"], {"still-up"})


def said(body: Body, stature_cm: float | None = None):  # type: ignore[no-untyped-def]
    return say_line(judge_line(body, STRAIGHT, RULES), STRAIGHT, SYLLABUS, stature_cm=stature_cm)


def test_at_most_three_figures_are_loud_and_the_joint_comes_first() -> None:
    """A closed shoulder bends the curve as well: it is named first, with its cue."""
    found = said(a_body(12, -14, -14, -14))
    assert found.heading.startswith("Closed shoulders. Also ")
    assert len(found.loud) == 3
    assert found.loud[0].fault == "closed-shoulder"
    assert found.help is not None
    assert found.help.cue == "Open the shoulders."
    assert len(found.all) == 6


def test_a_figure_is_said_to_the_place_that_its_doubt_leaves() -> None:
    """Degrees whole where chance is more than that; in cm where the stature is known."""
    plain = {f.fault: f for f in said(a_body(10, -12, -12, -12)).all}
    tall = {f.fault: f for f in said(a_body(10, -12, -12, -12), 170).all}
    assert plain["closed-shoulder"].value == "22°"
    assert plain["shoulders-ahead"].value == "+0.05"
    assert tall["shoulders-ahead"].value == "+10 cm"
    assert plain["closed-shoulder"].doubt.startswith("± ")
    assert said(a_body(0, 0, 0, 0)).all[0].value == "0°"


def test_nothing_is_said_that_the_picture_does_not_show() -> None:
    """Too small it is refused, off square a fault may be hidden, with half a body nothing is claimed."""
    body = a_body(0, 0, 0, 0)
    small = replace(body, height=4000)
    assert said(small).heading == "This picture cannot be judged."
    assert said(small).loud == ()
    half = replace(body, points={n: p for n, p in body.points.items() if "knee" not in n})
    assert said(half).heading == "Not enough of the body is placed yet."
    apart = dict(body.points)
    for part in PARTS:
        left = apart[f"left_{part}"]
        apart[f"left_{part}"] = replace(left, x=left.x - 40)
    off = said(replace(body, points=apart))
    assert "off square" in off.camera[0]
    assert off.heading == "No fault shows, but the camera may hide one."
    assert {f.says for f in off.all} <= {"cannot tell", "yes"}


def through_a_camera(distance: float, *, roll: float = 0.0) -> Body:
    """A straight body of two sides 0.44 m apart, seen square from the side at a distance in m."""
    points = {}
    heights = {part: 1.9 * at[1] for part, at in usual_shape().items()}
    for part, up in heights.items():
        for side, near in (("left", -0.22), ("right", 0.22)):
            scale = 900 * 4 / (distance + near)
            x, y = 0.0, (up - 0.95) * scale
            turned = radians(roll)
            points[f"{side}_{part}"] = Point(
                x=1000 + x * cos(turned) - y * sin(turned), y=1500 + x * sin(turned) + y * cos(turned)
            )
    points["left_finger"] = Point(x=points["left_wrist"].x + 60, y=points["left_wrist"].y)
    return Body(view="side", points=points, width=2000, height=3000)


def test_a_camera_that_stands_too_near_is_told() -> None:
    """The nearer side looks longer: from a metre and a half it is said, from four metres not."""
    near = judge_line(through_a_camera(1.6), STRAIGHT, RULES)
    assert any("too near" in c.says for c in near.camera)
    far = judge_line(through_a_camera(4.5), STRAIGHT, RULES)
    assert far.camera == ()


def test_a_tilted_camera_is_told_from_the_front() -> None:
    """Both hands stand on one floor."""
    points = {}
    for part, up in usual_shape().items():
        for side, x in (("left", -60), ("right", 60)):
            points[f"{side}_{part}"] = Point(
                x=400 + x, y=100 + 600 * up[1] + (0.2 * x if part == "wrist" else 0)
            )
    body = Body(view="front", points=points, width=800, height=800)
    judged = judge_line(body, STRAIGHT, RULES)
    assert any("off level" in c.says for c in judged.camera)
    level = {n: replace(p, y=100) if "wrist" in n else p for n, p in points.items()}
    assert judge_line(replace(body, points=level), STRAIGHT, RULES).camera == ()


def test_how_far_off_a_line_may_at_least_be_called() -> None:
    """By the angles that the drill asks for, less what may be chance; not where the camera hides it."""
    off = farthest_off(judge_line(a_body(0, -24, -24, -24), STRAIGHT, RULES), STRAIGHT)
    assert off is not None
    assert 15 < off < 24
    assert farthest_off(judge_line(a_body(0, 0, 0, 0), STRAIGHT, RULES), STRAIGHT) == 0
    wall = RULES.of_drill("chest-to-wall-hold", inverted=True)
    assert wall
    leaning = a_body(-12, -12, -12, -12)
    assert farthest_off(judge_line(leaning, wall, RULES), wall) == 0
    assert farthest_off(judge_line(replace(leaning, height=4000), wall, RULES), wall) is None


def test_a_school_moves_the_target() -> None:
    """Who teaches a shallow hollow has it as target; the usual school and the wall keep theirs."""
    hollow = with_schools(built_in(), {"body-line": "hollow"}).line_rules
    target = hollow.of_drill("free-hold-30", inverted=True)
    usual = with_schools(built_in(), {}).line_rules.of_drill("free-hold-30", inverted=True)
    assert target
    assert usual
    assert (target.target, usual.target) == ("hollow", "straight")
    curved = a_body(0, -7, -16, -16)
    by = {t.target: {v.fault.fault: v for v in judge_line(curved, t, RULES).faults} for t in (target, usual)}
    hip = by["straight"]["pike"].value, by["hollow"]["pike"].value
    assert hip[0] is not None
    assert hip[1] is not None
    assert hip[0] - hip[1] == pytest.approx(6)
    wall = hollow.of_drill("chest-to-wall-hold", inverted=True)
    assert wall
    assert wall.target == "wall"


def test_leans_of_a_film_take_the_side_that_most_frames_show() -> None:
    """One frame in which the face is read the wrong way round turns nothing."""
    bodies = [(n / 10, a_body(5, 5, 5, 5, over=1)) for n in range(9)]
    odd = a_body(5, 5, 5, 5)
    nose = odd.points["nose"]
    bodies.append((0.9, replace(odd, points={**odd.points, "nose": replace(nose, x=nose.x + 40)})))
    seen, fingers = lean_of(bodies)
    assert fingers == 1
    assert {s.lean_deg for s in seen} == {5.0}
    standing = {n: replace(p, y=800 - p.y) for n, p in odd.points.items()}
    upright, _ = lean_of([(0.0, replace(odd, points=standing))], fingers=1)
    assert upright[0].inverted is False
    kept = LeanSeen(t_s=0.0, lean_deg=3.0, inverted=True)
    assert lean_of([kept], fingers=1)[0] == (kept,)


def test_an_empty_picture_is_not_badly_read() -> None:
    """Half a minute with nobody in it takes nothing from the quality; frames lost here and there do."""
    held = [Frame(t_s=n / 10, lean_deg=0.0, inverted=True) for n in range(50)]
    empty = [Frame(t_s=5 + n / 10, lean_deg=None, inverted=None) for n in range(300)]
    assert find_holds(held + empty).quality == 1
    dice = Random(3)
    lossy = [replace(f, lean_deg=None, inverted=None) if dice.random() < 0.3 else f for f in held]
    assert find_holds(lossy).quality < 0.85


def test_handles_and_outline() -> None:
    """From the side each joint once, moving both sides; from the front by left and right of the picture."""
    body = a_body(3, 0, 0, 0)
    assert [h.joint for h in handles_of(body)] == list(PARTS)
    (stroke,) = outline_of(body).strokes
    assert stroke[0] == (0, 0)
    assert stroke[-1][1] == pytest.approx(1, abs=0.01)
    front = replace(body, view="front")
    assert handles_of(front)[0].joint == "wrist left in the picture"
    assert len(outline_of(replace(front, points={})).strokes) == 0


HEAD = "t_s,view,point,x,y,v"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no points"),
        (HEAD[:-2] + "\n0,side,nose,1,1", "no column v"),
        (HEAD + "\n0,top,nose,1,1,2", "side or front"),
        (HEAD + "\n0,side,thumb,1,1,2", "no point named"),
        (HEAD + "\n0,side,nose,a,1,2", "are numbers"),
        (HEAD + "\n0,side,nose,inf,1,2", "out of reason"),
        (HEAD + "\n0,side,nose,1,1,2\n0,side,nose,1,1,2", "there twice"),
    ],
)
def test_junk_in_a_table_of_points_is_named(text: str, says: str) -> None:
    with pytest.raises(Junk, match=says):
        parse_bodies(text, name="points.csv")


def test_a_table_with_time_is_a_body_a_moment() -> None:
    text = HEAD + "\n0,side,nose,1,2,2\n0,side,left_hip,3,4,1\n0.1,side,nose,5,6,2\n"
    first, second = parse_bodies(text, name="film.csv")
    assert (first.t_s, second.t_s) == (0, 0.1)
    assert first.points == {"nose": (1, 2, 2), "left_hip": (3, 4, 1)}


@pytest.mark.parametrize("seed", range(20))
def test_many_frames_at_once_are_judged_as_one_by_one(seed: int) -> None:
    """The arrays of a film say the same as a single picture, where a side is guessed or missing too."""
    dice = Random(seed)
    bodies = []
    for _ in range(30):
        body = a_body(*(dice.uniform(-40, 40) for _ in range(4)), noise=6, dice=dice)
        points = {
            name: replace(p, sure=dice.random() < 0.7)
            for name, p in body.points.items()
            if "left" in name or dice.random() < 0.9
        }
        bodies.append(replace(body, points={**points, "left_finger": Point(x=9999, y=0)}))
    told = judge_frames(pack(bodies))
    for n, body in enumerate(bodies):
        line = side_line(body)
        for figure, many in (
            (line.lean, told.lean),
            (line.shoulder, told.shoulder),
            (line.hip, told.hip),
            (line.knee, told.knee),
        ):
            assert many[n] == pytest.approx(figure.value, abs=1e-9)
    empty = judge_frames(pack([Body(view="side", points={})]))
    assert not empty.seen[0]
    assert not empty.inverted[0]
