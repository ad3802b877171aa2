"""The body as a chain: check values, limits, and what must hold whatever the size."""

from collections.abc import Mapping

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from wise_perch.core.body.answers import Answer, Infeasible
from wise_perch.core.body.constants import LENGTH_SHARES, MASS_SHARES
from wise_perch.core.body.levers import MODELS, solve_model, solve_one
from wise_perch.core.body.segments import Body, UnlikelyBody, make_body
from wise_perch.core.body.upright import float_limit, hands_to_wall_at, handstand, judge_save

statures = st.floats(90, 230)
masses = st.floats(20, 200)
H170 = make_body(stature_cm=170, mass_kg=65)


def figures(model: str, of: Body, /, **settings: float) -> Mapping[str, float]:
    found = solve_one(model, of, {name.replace("_", "-"): value for name, value in settings.items()})
    assert isinstance(found, Answer), found
    return found.figures


def because(model: str, of: Body, /, **settings: float) -> str:
    found = solve_one(model, of, {name.replace("_", "-"): value for name, value in settings.items()})
    assert isinstance(found, Infeasible), found
    return found.because


def test_the_shares_of_mass_make_a_whole_body() -> None:
    """Every kilogram belongs to a segment."""
    assert sum(s.mass * s.count for s in MASS_SHARES.values()) == pytest.approx(1, abs=1e-12)
    assert all(s.source for s in MASS_SHARES.values())
    assert all(s.source for s in LENGTH_SHARES.values())


def test_a_measured_length_replaces_its_estimate_and_nothing_else() -> None:
    """An arm is divided as the handbook divides it; leg, trunk and head stay estimates."""
    long = make_body(stature_cm=170, mass_kg=65, own_cm={"arm": 85})
    assert long.arm + long.hand == pytest.approx(0.85)
    assert long.upper_arm / long.forearm == pytest.approx(0.186 / 0.146)
    assert (long.trunk, long.leg, long.head) == (H170.trunk, H170.leg, H170.head)
    leg = make_body(stature_cm=170, mass_kg=65, own_cm={"leg": 95, "foot": 30})
    assert leg.leg + leg.ankle_height == pytest.approx(0.95)
    assert leg.part("ankle-to-ball") == pytest.approx(0.0827 / 0.152 * 0.30)


def test_an_arm_that_does_not_hold_its_hand_is_refused() -> None:
    """Lengths no body has are named, not swallowed."""
    with pytest.raises(UnlikelyBody, match="does not hold a hand"):
        make_body(stature_cm=170, mass_kg=65, own_cm={"arm": 50, "hand": 30, "forearm": 25})
    with pytest.raises(UnlikelyBody, match="Shoulder to crown of 80 cm is no length for 170 cm"):
        make_body(stature_cm=170, mass_kg=65, own_cm={"shoulder-to-crown": 80})


@pytest.mark.parametrize(
    ("model", "settings", "figure", "value", "within"),
    [
        ("handstand", {}, "com_height_cm", 91.8, 0.05),
        ("handstand", {}, "inertia_kg_m2", 67.2, 0.05),
        ("handstand", {}, "natural_rate_per_s", 2.95, 0.005),
        ("handstand", {}, "over_limit_deg", 10.4, 0.05),
        ("handstand", {}, "under_limit_deg", -1.06, 0.005),
        ("pike-top", {"hands_to_feet": 102, "surface_height": 0}, "hip_angle_deg", 64.9, 0.05),
        ("pike-top", {"hands_to_feet": 102, "surface_height": 0}, "share", 0.495, 0.0005),
        ("pike-top", {"hands_to_feet": 102, "surface_height": 45}, "hip_angle_deg", 76.2, 0.05),
        ("pike-top", {"hands_to_feet": 102, "surface_height": 45}, "share", 0.681, 0.0005),
        ("pike-bottom", {"hands_to_feet": 136, "surface_height": 0}, "share", 0.690, 0.0005),
        ("pike-bottom", {"hands_to_feet": 102, "surface_height": 0}, "share", 0.745, 0.0005),
        ("pike-bottom", {"hands_to_feet": 68, "surface_height": 0}, "share", 0.870, 0.0005),
        ("pike-bottom", {"hands_to_feet": 51, "surface_height": 0}, "share", 1.01, 0.005),
        ("pike-bottom", {"hands_to_feet": 102, "surface_height": 30}, "share", 0.797, 0.0005),
        ("pike-bottom", {"hands_to_feet": 68, "surface_height": 30}, "share", 1.01, 0.005),
        ("right-angle", {}, "box_cm", 91, 0.5),
        ("right-angle", {}, "share", 0.863, 0.0005),
        ("knees-on-bench", {"hands_to_knees": 85, "surface_height": 45}, "share", 0.388, 0.0005),
        ("wall-back", {"hands_to_wall": 30}, "lean_deg", 7.2, 0.05),
        ("wall-back", {"hands_to_wall": 30}, "wall_force_n", 40, 0.5),
        ("wall-back", {"hands_to_wall": 30}, "float_limit_cm", 40.1, 0.05),
        ("wall-chest", {"hands_to_wall": 30}, "lean_deg", 8.3, 0.05),
        ("wall-chest", {"hands_to_wall": 30}, "wall_force_n", 41, 0.5),
        ("wall-chest", {"hands_to_wall": 30}, "float_limit_cm", 4.1, 0.05),
        ("push-travel", {"pad_height": 0}, "travel_cm", 25.5, 0.005),
        ("push-travel", {"pad_height": 10}, "share_of_full", 0.61, 0.005),
        ("press", {"fold": 30, "straddle": 0, "surface_height": 0}, "lean_deg", 21.0, 0.05),
        ("press", {"fold": 30, "straddle": 0, "surface_height": 0}, "shoulder_ahead_cm", 20.2, 0.05),
        ("press", {"fold": 30, "straddle": 0, "surface_height": 0}, "shoulder_moment_nm", 64.5, 0.05),
        ("press", {"fold": 30, "straddle": 0, "surface_height": 20}, "lean_deg", 14.3, 0.05),
        ("press", {"fold": 30, "straddle": 0, "surface_height": 20}, "shoulder_ahead_cm", 14.0, 0.05),
        ("press", {"fold": 30, "straddle": 0, "surface_height": 20}, "shoulder_moment_nm", 26.9, 0.05),
        ("press", {"fold": 60, "straddle": 0, "surface_height": 0}, "shoulder_moment_nm", 123, 0.5),
    ],
)
def test_the_check_values_for_a_body_of_170_cm_and_65_kg(
    model: str, settings: dict[str, float], figure: str, value: float, within: float
) -> None:
    """Worked out apart from this code, by hand, from the same table."""
    assert figures(model, H170, **settings)[figure] == pytest.approx(value, abs=within)


@pytest.mark.parametrize(("surface", "least"), [(10, 14), (20, 24), (30, 32), (40, 39)])
def test_a_higher_surface_helps_only_down_to_a_fold(surface: float, least: float) -> None:
    """Below it the feet hang free of the surface, and the answer says how high it may be."""
    assert "too high for this fold" in because(
        "press", H170, fold=least - 1, straddle=0, surface_height=surface
    )
    assert (
        figures("press", H170, fold=least + 1, straddle=0, surface_height=surface)["shoulder_moment_nm"] > 0
    )


def test_out_of_reach_says_how_far_it_goes() -> None:
    """The named limit is the limit: just inside it there is an answer."""
    reason = because("pike-top", H170, hands_to_feet=250, surface_height=0)
    assert reason == "out of reach: feet at most 188 cm from the hands"
    assert figures("pike-top", H170, hands_to_feet=188, surface_height=0)["share"] > 0
    assert (
        because("pike-bottom", H170, hands_to_feet=139, surface_height=0)
        == "out of reach: feet at most 138 cm from the hands"
    )
    assert because("push-travel", H170, pad_height=26) == "no range left: a pad lower than 25.5 cm"
    assert because("wall-back", H170, hands_to_wall=0).startswith(
        "too near: the weight hangs away from the wall; hands at least 6.2 cm"
    )
    assert because("wall-back", H170, hands_to_wall=200).startswith("out of reach: hands at most 189 cm")
    assert "at least 8 cm" in because("hips-over-hands", H170, surface_height=5)
    assert "tip off its hands" in because("ball-lean", H170, ball_to_toes=120)
    short_arms = make_body(stature_cm=170, mass_kg=65, own_cm={"arm": 45})
    assert "measure arm" in because("push-travel", short_arms, pad_height=-5)


LIMITS: Mapping[str, tuple[float, float]] = {
    "hands-to-feet": (0, 300),
    "hands-to-knees": (0, 300),
    "surface-height": (0, 200),
    "hands-height": (0, 200),
    "feet-height": (0, 200),
    "pad-height": (-100, 100),
    "hands-to-wall": (0, 300),
    "body-to-floor-angle": (0, 90),
    "fold": (0, 180),
    "straddle": (0, 85),
    "target-distance": (0, 200),
    "ball-to-toes": (0, 250),
}


@pytest.mark.parametrize("model", MODELS)
@given(stature=statures, mass=masses, data=st.data())
def test_every_answer_is_a_number_or_a_reason(
    model: str, stature: float, mass: float, data: st.DataObject
) -> None:
    """Whatever the body and the setting: finite figures and joints, or a sentence. Never a number that is not
    one.
    """
    own = data.draw(
        st.dictionaries(
            st.sampled_from(["trunk", "leg", "hand", "shoulder-to-crown", "foot"]),
            st.floats(5, 120),
            max_size=3,
        )
    )
    try:
        made = make_body(stature_cm=stature, mass_kg=mass, own_cm=own)
    except UnlikelyBody:
        return
    settings = {name: data.draw(st.floats(*between), label=name) for name, between in LIMITS.items()}
    with np.errstate(all="raise", under="ignore"):
        found = solve_one(model, made, settings)
    if isinstance(found, Infeasible):
        assert len(found.because) > 10
        assert "nan" not in found.because
        return
    flat = [*found.figures.values(), *found.centre, *(v for point in found.joints.values() for v in point)]
    assert np.isfinite(flat).all()


@given(stature=statures, near=st.floats(0.2, 0.75), step=st.floats(0.01, 0.2), surface=st.floats(0, 0.3))
def test_nearer_feet_put_more_on_the_hands(stature: float, near: float, step: float, surface: float) -> None:
    """At the lowest point, as far as the feet come down at all."""
    made = make_body(stature_cm=stature, mass_kg=65)
    at = [
        solve_one("pike-bottom", made, {"hands-to-feet": d * stature, "surface-height": surface * stature})
        for d in (near, near + step)
    ]
    assume(all(isinstance(a, Answer) for a in at))
    first, second = (a.figures["share"] for a in at if isinstance(a, Answer))
    assert first > second


@given(stature=statures, near=st.floats(0.25, 0.85), surface=st.floats(0, 0.3))
def test_the_lowest_points_elbow_is_seen_over_the_wrist(stature: float, near: float, surface: float) -> None:
    """Neither part of the arm is drawn longer than it is, the elbow not under the floor; no moment is
    claimed there, and weighing the arms as drawn would move the share by -0.6 to 1.2 points.
    """
    made = make_body(stature_cm=stature, mass_kg=65)
    found = solve_one(
        "pike-bottom", made, {"hands-to-feet": near * stature, "surface-height": surface * stature}
    )
    assume(isinstance(found, Answer))
    assert isinstance(found, Answer)
    elbow, wrist, shoulder = (found.drawn[name] for name in ("elbow", "wrist", "shoulder"))
    assert elbow[0] == pytest.approx(wrist[0])
    assert 0 <= elbow[1] <= made.forearm + 1e-9
    assert np.hypot(elbow[0] - shoulder[0], elbow[1] - shoulder[1]) <= made.upper_arm + 1e-9
    assert "elbow_moment_nm" not in found.figures
    arms = 0.032 * (1 - 0.430) + 0.056 * 0.436
    moved = arms * (found.joints["elbow"][0] - elbow[0]) / (near * stature / 100)
    assert -0.006 <= moved <= 0.012


@given(stature=statures, fold=st.floats(1, 140), step=st.floats(1, 20))
def test_a_deeper_fold_takes_less_strength(stature: float, fold: float, step: float) -> None:
    """With the legs together, until the feet are off the floor by themselves; from there on it stays so.

    It holds but for the last degrees before the feet leave the floor (2.5 with the legs together, more in a
    straddle), where the arms lean to bring the toes down at all: docs/published-figures.md.
    """
    made = make_body(stature_cm=stature, mass_kg=65)
    deep = solve_one("press", made, {"fold": fold, "straddle": 0, "surface-height": 0})
    stiff = solve_one("press", made, {"fold": fold + step, "straddle": 0, "surface-height": 0})
    deeper = solve_one("press", made, {"fold": max(0.1, fold - 2.5), "straddle": 0, "surface-height": 0})
    assert isinstance(stiff, Answer) or isinstance(deep, Infeasible)
    if isinstance(deeper, Answer) and isinstance(deep, Answer) and isinstance(stiff, Answer):
        assert deep.figures["shoulder_moment_nm"] < stiff.figures["shoulder_moment_nm"]


@given(
    factor=st.floats(0.6, 1.3),
    model=st.sampled_from(
        ["pike-top", "pike-bottom", "knees-on-bench", "right-angle", "push-up", "wall-back", "press"]
    ),
)
def test_scaling_stature_scales_lengths_and_leaves_shares(factor: float, model: str) -> None:
    """A body so much taller, against a room so much larger, stands at the same angles with the same
    shares.
    """
    larger = make_body(stature_cm=170 * factor, mass_kg=65)
    settings = {
        "hands-to-feet": 90.0,
        "hands-to-knees": 85.0,
        "surface-height": 20.0,
        "hands-height": 30.0,
        "feet-height": 10.0,
        "hands-to-wall": 30.0,
    }
    angles = {"fold": 45.0, "straddle": 20.0}
    here = solve_one(model, H170, {**settings, **angles})
    there = solve_one(model, larger, {**{k: v * factor for k, v in settings.items()}, **angles})
    assert isinstance(here, Answer)
    assert isinstance(there, Answer)
    assert there.figures["share"] == pytest.approx(here.figures["share"], rel=1e-9)
    for name, value in here.figures.items():
        if name.endswith("_cm"):
            assert there.figures[name] == pytest.approx(value * factor, rel=1e-9)
        if name.endswith("_deg"):
            assert there.figures[name] == pytest.approx(value, rel=1e-9)
    for joint, (x, z) in here.joints.items():
        assert there.joints[joint] == pytest.approx((x * factor, z * factor), abs=1e-9)


@given(mass=masses)
def test_mass_changes_forces_and_no_share(mass: float) -> None:
    """Shares, angles and lengths are the same for a light and a heavy body; moments and forces grow with the
    mass.
    """
    heavy = make_body(stature_cm=170, mass_kg=mass)
    a, b = (
        figures("pike-bottom", H170, hands_to_feet=90, surface_height=0),
        figures("pike-bottom", heavy, hands_to_feet=90, surface_height=0),
    )
    assert b["share"] == pytest.approx(a["share"], rel=1e-9)
    assert b["shoulder_moment_nm"] == pytest.approx(a["shoulder_moment_nm"] * mass / 65, rel=1e-9)
    assert handstand(heavy).rate == pytest.approx(handstand(H170).rate, rel=1e-9)


@pytest.mark.parametrize(
    "model", ["pike-bottom", "press", "push-travel", "wall-chest", "ball-lean", "hips-over-hands"]
)
def test_many_settings_at_once_are_the_same_as_one_by_one(model: str) -> None:
    """The vectorised answer is the scalar one, setting by setting, and infeasible at the same places."""
    knob = {
        "pike-bottom": "hands-to-feet",
        "press": "surface-height",
        "push-travel": "pad-height",
        "wall-chest": "hands-to-wall",
    }
    name = knob.get(model, "ball-to-toes" if model == "ball-lean" else "surface-height")
    others = {"hands-to-feet": 90.0, "surface-height": 0.0, "fold": 40.0, "straddle": 10.0}
    at = np.linspace(-20, 160, 37) if name == "pad-height" else np.linspace(0, 160, 37)
    many = solve_model(model, H170, {**others, name: at})
    for n, value in enumerate(at):
        one = solve_one(model, H170, {**others, name: float(value)})
        assert isinstance(one, Answer) == bool(many.feasible[n])
        if isinstance(one, Answer):
            for figure, array in many.figures.items():
                assert one.figures[figure] == pytest.approx(
                    float(np.broadcast_to(array, at.shape)[n]), abs=1e-9
                )


def test_the_stalders_fold_puts_the_toes_on_its_target() -> None:
    """The fold that is found puts the toes where the target lies, ahead of the hands, and the weight over
    the middle of the hand; farther takes a deeper fold.
    """
    folds = []
    for target in (0.0, 10.0, 25.0):
        found = solve_one("press-to-target", H170, {"target-distance": target, "straddle": 45})
        assert isinstance(found, Answer)
        assert found.joints["toes"] == pytest.approx((target / 100, 0), abs=2e-4)
        assert found.centre[0] == pytest.approx(H170.part("mid-hand"), abs=1e-9)
        folds.append(found.figures["fold_deg"])
    assert folds == sorted(folds, reverse=True)
    far = solve_one("press-to-target", H170, {"target-distance": 40, "straddle": 45})
    assert isinstance(far, Infeasible)
    assert "ahead of the hands" in far.because


@given(stature=statures, lean=st.floats(-0.2, 0.3), rate=st.floats(-1, 1))
def test_what_can_be_saved_leaning_still_cannot_be_saved_falling_faster(
    stature: float, lean: float, rate: float
) -> None:
    """More speed toward a side never turns lost on that side into saved."""
    made = make_body(stature_cm=stature, mass_kg=60)
    slow, fast = (
        judge_save(made, lean=lean, lean_rate=rate),
        judge_save(made, lean=lean, lean_rate=rate + 0.1),
    )
    assert fast.at > slow.at
    if slow.side == "over":
        assert fast.side == "over"


def test_saving_at_the_limits() -> None:
    """Standing still the limits are the finger pads and the heel of the hand; the advice names the
    fingers.
    """
    stands = handstand(H170)
    assert judge_save(H170, lean=stands.over - 1e-6, lean_rate=0).saveable
    assert judge_save(H170, lean=stands.over + 1e-6, lean_rate=0).side == "over"
    assert judge_save(H170, lean=-stands.under - 1e-6, lean_rate=0).side == "under"
    assert "Fingertips press" in judge_save(H170, lean=stands.over * 0.95, lean_rate=0).advice
    assert "Fingers lift" in judge_save(H170, lean=0, lean_rate=0).advice


@given(stature=statures)
def test_at_the_float_limit_the_weight_stands_over_the_edge_of_the_hand(stature: float) -> None:
    """Back to the wall over the finger pads, chest to the wall over the heel of the hand; there the wall
    carries what it must.
    """
    made = make_body(stature_cm=stature, mass_kg=60)
    for model, facing, edge in (
        ("wall-back", "back", made.part("finger-pads")),
        ("wall-chest", "chest", -made.part("hand-heel")),
    ):
        distance = float_limit(made, facing="back" if facing == "back" else "chest")
        found = solve_one(model, made, {"hands-to-wall": distance * 100})
        assert isinstance(found, Answer)
        assert found.centre[0] == pytest.approx(edge, abs=1e-9)
        again = hands_to_wall_at(
            made, facing="back" if facing == "back" else "chest", lean=np.radians(found.figures["lean_deg"])
        )
        assert float(again) == pytest.approx(distance, abs=1e-9)
