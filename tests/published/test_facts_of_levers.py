"""Facts of the trade about levers. Common practice, no single source."""

import pytest

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.levers import solve_one
from wise_perch.core.body.segments import Body, make_body
from wise_perch.core.body.upright import float_limit

SIZES = [make_body(stature_cm=h, mass_kg=m) for h, m in ((150, 48), (170, 65), (195, 92))]
BY_SIZE = pytest.mark.parametrize("of", SIZES, ids=lambda b: f"{b.stature:g} m")


def figure(of: Body, model: str, name: str, **settings: float) -> float:
    found = solve_one(model, of, {k.replace("_", "-"): v for k, v in settings.items()})
    assert isinstance(found, Answer), found
    return found.figures[name]


@BY_SIZE
def test_feet_very_near_beats_the_wall_handstand_push_up(of: Body) -> None:
    """A pike push-up with the feet very near asks more than all of the body weight."""
    assert figure(of, "pike-bottom", "share", hands_to_feet=0.3 * of.stature * 100, surface_height=0) > 1
    assert figure(of, "pike-bottom", "share", hands_to_feet=0.6 * of.stature * 100, surface_height=0) < 0.8


@BY_SIZE
def test_feet_raised_is_harder_for_pikes_and_easier_for_presses(of: Body) -> None:
    """The same box makes a pike push-up harder, a pike hold harder and a press easier."""
    box = 0.15 * of.stature * 100
    near = 0.5 * of.stature * 100
    for model in ("pike-bottom", "pike-top"):
        assert figure(of, model, "share", hands_to_feet=near, surface_height=box) > figure(
            of, model, "share", hands_to_feet=near, surface_height=0
        )
    raised = figure(of, "press", "shoulder_moment_nm", fold=40, straddle=0, surface_height=box)
    assert raised < figure(of, "press", "shoulder_moment_nm", fold=40, straddle=0, surface_height=0)


@BY_SIZE
def test_toe_floats_are_harder_than_heel_floats(of: Body) -> None:
    """Chest to the wall the hands lift the feet off only from very near; back to the wall from a forearm and
    a half away.
    """
    assert float_limit(of, facing="chest") < 0.2 * float_limit(of, facing="back")


@BY_SIZE
def test_the_better_the_fold_the_less_strength_a_press_takes(of: Body) -> None:
    """A pancake of 20 degrees more saves a good part of the moment at the shoulders."""
    stiff = figure(of, "press", "shoulder_moment_nm", fold=60, straddle=0, surface_height=0)
    assert figure(of, "press", "shoulder_moment_nm", fold=40, straddle=0, surface_height=0) < 0.75 * stiff


@BY_SIZE
def test_knees_on_the_bench_is_the_easiest_pike_and_the_right_angle_the_hardest_hold(of: Body) -> None:
    """In the order a coach gives them: knees on the bench, pike on the floor, feet raised, right angle,
    handstand.
    """
    cm = of.stature * 100
    knees = figure(of, "knees-on-bench", "share", hands_to_knees=0.5 * cm, surface_height=0.26 * cm)
    floor = figure(of, "pike-top", "share", hands_to_feet=0.6 * cm, surface_height=0)
    raised = figure(of, "pike-top", "share", hands_to_feet=0.6 * cm, surface_height=0.26 * cm)
    assert knees < floor < raised < figure(of, "right-angle", "share") < 1


@BY_SIZE
def test_lower_pads_and_a_ball_nearer_the_toes_are_harder(of: Body) -> None:
    """Pads: lower is more range and more work, a deficit more still. The ball nearer the toes leaves more for
    the hands.
    """
    work = [figure(of, "push-travel", "work_j", pad_height=p) for p in (15, 5, 0, -5)]
    assert work == sorted(work)
    ball = [figure(of, "ball-lean", "share", ball_to_toes=0.01 * d * of.stature * 100) for d in (35, 20, 5)]
    assert ball == sorted(ball)


@BY_SIZE
def test_nearer_the_wall_is_more_upright(of: Body) -> None:
    """Chest to the wall: every hand's width nearer stands straighter and presses less on the wall."""
    leans = [figure(of, "wall-chest", "lean_deg", hands_to_wall=d) for d in (80, 40, 15)]
    force = [figure(of, "wall-chest", "wall_force_n", hands_to_wall=d) for d in (80, 40, 15)]
    assert leans == sorted(leans, reverse=True)
    assert force == sorted(force, reverse=True)
