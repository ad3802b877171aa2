"""The line against a camera as optics has it, closed forms, and figures of the trade.

- The pinhole camera with its matrix K [R | t]: Hartley and Zisserman, Multiple View Geometry in Computer
  Vision, second edition, 2004, chapter 6 (value from memory).
- Classes of angular deviation at 15, 30 and 45 degrees: Federation Internationale de Gymnastique, Code of
  Points, Women's Artistic Gymnastics, 2022 to 2024, deductions for precision of handstand positions (value
  from memory).
- Segment lengths as shares of stature: Winter, Biomechanics and Motor Control of Human Movement, fourth
  edition, 2009, figure 4.1, after Drillis and Contini, 1966 (value from memory).
"""

from math import atan, cos, degrees, radians, tan

import numpy as np
import pytest

from tests.core.planning import SYLLABUS
from wise_perch.core.line.judge import judge_line
from wise_perch.core.line.points import CHAIN, Body, Point
from wise_perch.core.line.side import PATH_OF_STATURE, SideLine, side_line

RULES = SYLLABUS.line_rules
LENGTHS = (0.56, 0.49, 0.42, 0.42)
"""Wrist to shoulder, to hip, to knee, to ankle, m."""
FOCAL, WIDE, HIGH = 1400.0, 1080, 1920


def turn(axis: str, deg: float) -> np.ndarray:
    c, s = np.cos(np.radians(deg)), np.sin(np.radians(deg))
    return {
        "x": np.array([[1, 0, 0], [0, c, -s], [0, s, c]]),
        "y": np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]]),
        "z": np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]),
    }[axis]


def joints(lean: float, shoulder: float, hip: float, knee: float) -> np.ndarray:
    """A body in its own plane, m: x toward the fingers, y up, its ankles so that it leans as asked."""
    leans = np.radians([0, -shoulder, -shoulder - hip, -shoulder - hip + knee])
    at = np.zeros((5, 3))
    for n, (a, long) in enumerate(zip(leans, LENGTHS, strict=True)):
        at[n + 1] = at[n] + long * np.array([np.sin(a), np.cos(a), 0])
    own = np.degrees(np.arctan2(at[-1, 0], at[-1, 1]))
    return at @ turn("z", own - lean).T


def seen(
    at: np.ndarray, *, distance: float = 4.5, off: float = 0, pitch: float = 0, roll: float = 0
) -> SideLine:
    """What a pinhole camera K [R | t] makes of it, judged."""
    k = np.array([[FOCAL, 0, WIDE / 2], [0, -FOCAL, HIGH / 2], [0, 0, 1]])
    rotation = turn("z", roll) @ turn("x", pitch) @ turn("y", off)
    middle = np.array([0, 0.95, 0])
    held = (at - middle) @ rotation.T + np.array([0, 0, distance])
    image = held @ k.T
    pixels = image[:, :2] / image[:, 2:]
    points = {f"left_{part}": Point(x=x, y=HIGH - y) for part, (x, y) in zip(CHAIN, pixels, strict=True)}
    wrist = points["left_wrist"]
    points["left_finger"] = Point(x=wrist.x + 30, y=wrist.y)
    return side_line(Body(view="side", points=points, width=WIDE, height=HIGH))


def figures(line: SideLine) -> np.ndarray:
    return np.array([line.lean.value, line.shoulder.value, line.hip.value, line.knee.value])


CASES = [(0, 0, 0, 0), (3, 12, -18, 0), (-5, -6, 20, 8), (8, 25, -25, 0), (0, 0, -30, 15)]


@pytest.mark.parametrize("case", CASES)
def test_square_from_four_metres_every_angle_is_what_it_is(case: tuple[float, ...]) -> None:
    """A flat body before a camera straight to the side: a similarity, which leaves every angle as it is."""
    assert figures(seen(joints(*case))) == pytest.approx(case, abs=1e-6)


@pytest.mark.parametrize("case", CASES)
@pytest.mark.parametrize("off", [-15, 15])
@pytest.mark.parametrize("pitch", [-4, 4])
def test_within_the_advice_angles_stay_within_their_doubt(
    case: tuple[float, ...], off: float, pitch: float
) -> None:
    """Up to fifteen degrees off square, four degrees of pitch, four and a half metres away: each angle within
    the ± that is said of it.
    """
    line = seen(joints(*case), off=off, pitch=pitch)
    for figure, true in zip((line.lean, line.shoulder, line.hip, line.knee), case, strict=True):
        assert figure.value is not None
        assert figure.se is not None
        assert abs(figure.value - true) <= 1.96 * figure.se


@pytest.mark.parametrize("off", [10, 20, 30])
def test_off_square_an_angle_shrinks_by_the_cosine(off: float) -> None:
    """tan(seen) = tan(true) cos(off), from far away: the closed form of a parallel projection."""
    found = seen(joints(8, 0, 0, 0), distance=4000, off=off)
    assert found.lean.value == pytest.approx(degrees(atan(tan(radians(8)) * cos(radians(off)))), abs=0.02)


@pytest.mark.parametrize("roll", [-5, 3])
def test_a_rolled_camera_adds_to_the_lean_one_for_one(roll: float) -> None:
    """And to nothing else."""
    level, rolled = (figures(seen(joints(2, 10, -10, 0), roll=r)) for r in (0, roll))
    assert abs(rolled[0] - level[0]) == pytest.approx(abs(roll), abs=1e-6)
    assert rolled[1:] == pytest.approx(level[1:], abs=1e-6)


def test_ranges_cover_what_they_say_on_two_thousand_draws() -> None:
    """Joints shaken by the spread that is stated: the 95 % range holds the true angle 93 to 97 of 100."""
    dice = np.random.default_rng(2004)
    true = (2.0, 9.0, -11.0, 4.0)
    at = joints(*true)
    path = sum(LENGTHS)
    spread = 0.0085 * path
    inside = np.zeros(4)
    many = 2000
    for _ in range(many):
        shaken = at + np.column_stack([dice.normal(0, spread, (5, 2)), np.zeros(5)])
        line = seen(shaken, distance=4000)
        for n, f in enumerate((line.lean, line.shoulder, line.hip, line.knee)):
            assert f.value is not None
            assert f.se is not None
            inside[n] += abs(f.value - true[n]) <= 1.96 * f.se
    assert np.all((inside / many >= 0.93) & (inside / many <= 0.97)), inside / many


@pytest.mark.parametrize(("bend", "wanted"), [(2, "no"), (15, "yes"), (30, "yes"), (45, "yes")])
def test_every_class_of_the_code_of_points_is_a_fault_here(bend: float, wanted: str) -> None:
    """What gymnastics deducts for, from fifteen degrees on, is told as a fault with both sides seen."""
    target = RULES.of_drill("free-hold-30", inverted=True)
    assert target
    at = joints(0, bend, 0, 0)
    points = {}
    for part, (x, y, _) in zip(CHAIN, at * 400, strict=True):
        for side in ("left", "right"):
            points[f"{side}_{part}"] = Point(x=500 + x, y=100 + y)
    points["left_finger"] = Point(x=540, y=100)
    judged = judge_line(Body(view="side", points=points, width=1000, height=1000), target, RULES)
    verdict = next(v for v in judged.faults if v.fault.fault == "closed-shoulder")
    assert verdict.says == wanted or (bend == 2 and verdict.says == "cannot tell")


def test_the_path_from_wrist_to_ankle_by_winters_shares() -> None:
    """Upper arm .186, forearm .146, trunk from hip to shoulder .288, thigh .245, shank .246 of stature."""
    assert pytest.approx(0.186 + 0.146 + 0.288 + 0.245 + 0.246, abs=0.005) == PATH_OF_STATURE
