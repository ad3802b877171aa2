"""Ladders of settings, hand-load, jumps in share and the first-rep outlook."""

import itertools
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wise_perch.core.body import ladders
from wise_perch.core.body.jumps import find_jumps
from wise_perch.core.body.kit import KitItem
from wise_perch.core.body.ladders import MOST_STEPS, SettingsLadder, hardest_clean, lay_out_ladder
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.loads import hand_load, share_of
from wise_perch.core.body.outlook import PressTested, Reps, brzycki, epley, straddle_press, wall_push_up
from wise_perch.core.body.segments import make_body
from wise_perch.core.body.words import say_figure, setup_lines, show_figures
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.gates import FALLING
from wise_perch.syllabus.shipped import built_in

SYLLABUS = built_in()
MECHANICS = SYLLABUS.mechanics
BODY = make_body(stature_cm=170, mass_kg=65)
TODAY = date(2026, 11, 24)
DIALLED = [d for d in SYLLABUS.drills.values() if d.dial]
KIT = (
    KitItem(kind="box", thickness_cm=30, count=1),
    KitItem(kind="box", thickness_cm=45, count=1),
    KitItem(kind="plate", thickness_cm=2.5, count=4),
    KitItem(kind="pad", thickness_cm=5, count=3),
)


def drill(name: str) -> Drill:
    return SYLLABUS.drills[name]


def climbed(name: str, *, of=BODY, kit=(), tested=None, stands=None) -> SettingsLadder:  # type: ignore[no-untyped-def]
    wanted = drill(name)
    lever = MECHANICS.of_drill(name, wanted.family)
    assert lever
    assert wanted.dial
    return lay_out_ladder(
        lever,
        of,
        dial=wanted.dial,
        settings=settings_for(lever, of, {}),
        kit=kit,
        tested=tested,
        stands=stands,
    )


def clean(name: str, value: float, at: float, days_ago: int = 5, form: Form = Form.CLEAN) -> Evidence:
    wanted = drill(name)
    assert wanted.dial
    return Evidence(
        drill=name,
        day=TODAY - timedelta(days=days_ago),
        measure=wanted.gate.measure,
        value=value,
        form=form,
        dial={wanted.dial.name: at},
    )


def test_every_dialled_drill_of_the_syllabus_has_a_lever_with_its_dial() -> None:
    """A coach can set up any dialled drill; every drill a lever names exists."""
    for wanted in DIALLED:
        lever = MECHANICS.of_drill(wanted.drill, wanted.family)
        assert lever, wanted.drill
        assert wanted.dial
        knob = lever.knob(wanted.dial.name)
        assert knob, wanted.drill
        assert knob.unit == wanted.dial.unit
    named = {name for lever in MECHANICS.levers for name in lever.drills} | {
        name for x in MECHANICS.fixed_loads for name in x.drills
    }
    assert named <= set(SYLLABUS.drills)
    assert set(MECHANICS.test_drills) <= set(SYLLABUS.tests)


def test_every_figure_a_model_gives_on_the_screen_says_what_it_is() -> None:
    """Formula and source stand with every figure, and every currency is one of them."""
    for lever in MECHANICS.levers:
        settings = settings_for(lever, BODY, {})
        for view in lever.views:
            found = solve_one(view.model, BODY, settings)
            assert hasattr(found, "figures"), (lever.lever, found)
            assert set(found.figures) <= set(MECHANICS.figures), lever.lever
        if lever.currency:
            assert lever.currency.figure in found.figures
    assert all(note.formula and note.source for note in MECHANICS.figures.values())


@given(share=st.floats(0, 1))
def test_after_a_tested_height_the_next_step_is_never_wider_than_usual(share: float) -> None:
    """A height tested between two steps stands between them; the coach is not sent past the one that
    follows.
    """
    usual = climbed("low-surface-hold")
    widest = max(b.setting - a.setting for a, b in itertools.pairwise(usual.steps))
    at = round(usual.steps[0].setting + share * (usual.steps[-1].setting - usual.steps[0].setting))
    made = climbed(
        "low-surface-hold", tested=ladders.Tested(setting=at, words="30 s clean", day=TODAY, old=False)
    )
    following = next((s for s in made.steps if s.next), None)
    assert any(s.tested and s.setting == at for s in made.steps)
    if following:
        assert 0 < following.setting - at <= 1.25 * widest


def test_a_surface_for_feet_is_firm() -> None:
    """At most two pieces where feet push off, and the step moves to what they make; hands may stand on
    more.
    """
    made = climbed("raised-pike-push-up", kit=KIT)
    heights = [s.setting for s in made.steps]
    assert {30, 45, 75} & set(heights)
    assert all(len(s.stack.split(" + ")) <= 2 for s in made.steps)
    pads = [
        *KIT,
        KitItem(kind="pad", thickness_cm=2, count=1),
        KitItem(kind="plate", thickness_cm=1, count=1),
    ]
    assert any(s.stack.count("+") >= 2 for s in climbed("partial-wall-hspu", kit=pads).steps)


@pytest.mark.parametrize("name", [d.drill for d in DIALLED])
@pytest.mark.parametrize("stature", [150, 170, 195])
def test_a_ladder_climbs_from_easy_to_hard_in_like_steps(name: str, stature: float) -> None:
    """Settings go the dial's harder way, each possible; steps of the currency are alike within the rounding
    to a notch.
    """
    of = make_body(stature_cm=stature, mass_kg=60)
    made = climbed(name, of=of)
    settings, values = [s.setting for s in made.steps], [s.value for s in made.steps]
    dial = drill(name).dial
    assert dial
    assert 3 <= len(settings) <= MOST_STEPS + 1
    assert settings == sorted(settings, reverse=dial.harder in FALLING)
    gone = [abs(v - values[0]) for v in values]
    assert gone == sorted(gone)
    steps = [b - a for a, b in itertools.pairwise(gone)]
    # a notch of one centimetre where the curve is steep moves the value by so much; a flat end may be short
    middle = sorted(steps)[len(steps) // 2]
    assert max(steps) < 2.2 * middle


def test_the_tested_limit_stands_on_the_ladder_and_the_next_step_is_harder() -> None:
    """What was done stays as it was done; the next step goes the harder way."""
    tested = hardest_clean(
        [clean("pike-push-up", 8, 95), clean("pike-push-up", 3, 80, form=Form.LOOSE)],
        drills=["pike-push-up"],
        dial=drill("pike-push-up").dial,  # type: ignore[arg-type]
        on=TODAY,
        stale_after_days=56,
    )
    assert tested
    assert (tested.setting, tested.words, tested.old) == (95, "8 clean", False)
    made = climbed("pike-push-up", tested=tested)
    (here,) = [s for s in made.steps if s.tested]
    (following,) = [s for s in made.steps if s.next]
    assert here.setting == 95
    assert following.setting < 95
    assert following.value > here.value


def test_without_a_test_the_ladder_begins_where_the_drill_does() -> None:
    """The step nearest to the start is offered; none is called tested."""
    made = climbed("pike-push-up", stands=110)
    (following,) = [s for s in made.steps if s.next]
    assert abs(following.setting - 110) <= 10
    assert not any(s.tested for s in made.steps)


def test_an_old_limit_gives_way_to_a_fresh_one() -> None:
    """A harder setting of long ago counts after what was done lately, and is called old where it stands
    alone.
    """
    dial = drill("partial-press-wall").dial
    assert dial
    pieces = [clean("partial-press-wall", 2, 5, days_ago=90), clean("partial-press-wall", 2, 20)]
    found = hardest_clean(pieces, drills=["partial-press-wall"], dial=dial, on=TODAY, stale_after_days=56)
    assert found
    assert (found.setting, found.old) == (20, False)
    alone = hardest_clean(pieces[:1], drills=["partial-press-wall"], dial=dial, on=TODAY, stale_after_days=56)
    assert alone
    assert alone.old


def test_heights_are_those_the_kit_makes() -> None:
    """Where a stack lies near a wanted height, the step is that stack; what nothing makes has none."""
    made = climbed("raised-pike-push-up", kit=KIT)
    assert [s.stack for s in made.steps if s.setting == 30] == ["one 30 cm box = 30 cm"]
    low = climbed("partial-wall-hspu", kit=KIT)
    stacks = {s.setting: s.stack for s in low.steps if s.stack}
    assert stacks[5] in ("one 5 cm pad = 5 cm", "two 2.5 cm plates = 5 cm")
    assert all(f"= {setting:g} cm" in words or setting < 0 for setting, words in stacks.items())
    assert all(words.startswith("under each hand") for setting, words in stacks.items() if setting < 0)


@given(stature=st.floats(90, 230), mass=st.floats(20, 200), name=st.sampled_from([d.drill for d in DIALLED]))
def test_any_body_gets_a_ladder_or_a_reason(stature: float, mass: float, name: str) -> None:
    """Every step can be, and is worked out at its own rounded setting."""
    of = make_body(stature_cm=stature, mass_kg=mass)
    made = climbed(name, of=of, kit=KIT)
    assert made.steps or made.because
    lever = MECHANICS.of_drill(name, drill(name).family)
    assert lever
    assert lever.currency
    for step in made.steps:
        found = solve_one(lever.views[0].model, of, {**settings_for(lever, of, {}), made.dial: step.setting})
        assert found.figures[lever.currency.figure] == pytest.approx(step.value, abs=1e-6)  # type: ignore[union-attr]


# --- hand-load


def test_hand_load_is_share_times_seconds() -> None:
    """A wall hold of 30 s is 30 body-weight seconds; eight pike push-ups are their share times three seconds
    each.
    """
    wall = hand_load(
        MECHANICS,
        share_of(MECHANICS, drill("chest-to-wall-hold"), None, {}),
        measure=Measure.HOLD,
        value=30,
        window_s=None,
    )
    assert wall
    assert (wall.share, wall.seconds) == (1, 30)
    pike = hand_load(
        MECHANICS,
        share_of(MECHANICS, drill("pike-push-up"), BODY, {"hands-to-feet": 102}),
        measure=Measure.REPS,
        value=8,
        window_s=None,
    )
    assert pike
    assert pike.share == pytest.approx(0.7446, abs=1e-4)
    assert pike.seconds == pytest.approx(8 * 3 * pike.share)
    assert "surface as usual" in pike.because
    touches = hand_load(
        MECHANICS,
        share_of(MECHANICS, drill("heel-float"), None, {}),
        measure=Measure.TOUCHES,
        value=4,
        window_s=15,
    )
    assert touches
    assert touches.seconds == 15


def test_no_hand_load_without_a_model_a_size_or_work() -> None:
    """A hollow hold carries nothing on the hands that we know of; a pike without a stature, an angle, a
    setting out of reach: none.
    """
    assert share_of(MECHANICS, drill("hollow-hold"), BODY, {}) is None
    assert share_of(MECHANICS, drill("pike-push-up"), None, {"hands-to-feet": 102}) is None
    assert share_of(MECHANICS, drill("pike-push-up"), BODY, {"hands-to-feet": 190}) is None
    assert (
        hand_load(
            MECHANICS,
            share_of(MECHANICS, drill("chest-to-wall-hold"), BODY, {}),
            measure=Measure.ANGLE,
            value=5,
            window_s=None,
        )
        is None
    )
    assert (
        hand_load(
            MECHANICS,
            share_of(MECHANICS, drill("chest-to-wall-hold"), BODY, {}),
            measure=Measure.HOLD,
            value=0,
            window_s=None,
        )
        is None
    )


# --- jumps


def test_between_raised_pikes_and_the_wall_the_jump_is_shown_for_this_body() -> None:
    """In share, at the settings in use, with settings in between whose shares lie between."""
    found = find_jumps(
        SYLLABUS,
        BODY,
        set_to=lambda d: (
            {"surface-height": 20.0, "hands-to-feet": 95.0} if d.drill == "raised-pike-push-up" else {}
        ),
    )
    (jump,) = [j for j in found if (j.lower, j.upper) == ("raised-pike-push-up", "partial-wall-hspu")]
    assert jump.upper_share == 1
    assert jump.lower_share < 0.9
    shares = [b.share for b in jump.between]
    assert shares
    assert shares == sorted(shares)
    assert jump.lower_share < shares[0]
    assert shares[-1] < 1
    for between in jump.between:
        again = share_of(MECHANICS, drill("raised-pike-push-up"), BODY, between.settings)
        assert again
        assert again[0] == pytest.approx(between.share, abs=1e-9)


def test_no_jump_where_the_last_setting_comes_near() -> None:
    """Somebody who does raised pikes at nearly all of the weight has no jump before the wall."""
    near = {"surface-height": 30.0, "hands-to-feet": 70.0}
    found = find_jumps(SYLLABUS, BODY, set_to=lambda d: near if d.drill == "raised-pike-push-up" else {})
    assert not [j for j in found if j.upper == "partial-wall-hspu"]


# --- outlook


def test_the_rep_formulas_agree_with_their_published_form() -> None:
    """Epley, 1985: w (1 + r / 30). Brzycki, 1993: w 36 / (37 - r). They meet at ten reps. Values from
    memory.
    """
    assert epley(0.75, 10) == pytest.approx(1.0)
    assert brzycki(0.75, 10) == pytest.approx(1.0)
    assert epley(0.9, 1) == 0.9
    assert brzycki(0.9, 1) == pytest.approx(0.9)
    assert epley(1, 5) == pytest.approx(1.1667, abs=1e-4)
    assert brzycki(1, 5) == pytest.approx(1.125)


def reps(n: int, share: float) -> Reps:
    return Reps(reps=n, share=share, words="floor", day=TODAY)


def test_the_wall_push_up_is_near_far_or_there() -> None:
    """A band from two formulas and the model's doubt, held against the whole body weight; never a gate."""
    far = wall_push_up([reps(5, 0.72)], MECHANICS)
    perhaps = wall_push_up([reps(8, 0.79)], MECHANICS)
    there = wall_push_up([reps(8, 0.95)], MECHANICS)
    assert far
    assert perhaps
    assert there
    assert (far.reached, perhaps.reached, there.reached) == (False, None, True)
    assert far.low < epley(0.72, 5) < far.high < 1
    assert far.high - far.low == pytest.approx(0.08 + epley(0.72, 5) - brzycki(0.72, 5), abs=1e-9)
    assert "±" in far.model
    assert any("instead of 5" in gain for gain in far.gains)
    assert wall_push_up([], MECHANICS) is None
    assert wall_push_up([reps(25, 0.7)], MECHANICS) is None


@given(n=st.integers(1, 11), share=st.floats(0.5, 0.95))
def test_one_more_rep_never_looks_farther(n: int, share: float) -> None:
    """More reps at the same share, or the same reps at more share, are nearer."""
    here, more, harder = (
        wall_push_up([r], MECHANICS) for r in (reps(n, share), reps(n + 1, share), reps(n, share + 0.02))
    )
    assert here
    assert more
    assert harder
    assert more.low >= here.low
    assert harder.low > here.low


def test_the_straddle_press_by_the_surface_it_was_done_from() -> None:
    """The moment shown against the floor's; a degree of fold, a centimetre of surface and strength are
    priced.
    """
    stiff = straddle_press(
        BODY, PressTested(surface_cm=20, day=TODAY), MECHANICS, fold_deg=60, straddle_deg=20
    )
    assert stiff
    assert stiff.reached is False
    assert stiff.low < stiff.high < stiff.needed
    assert any("degree of fold saves" in gain for gain in stiff.gains)
    assert any("By strength alone" in gain for gain in stiff.gains)
    low = straddle_press(BODY, PressTested(surface_cm=5, day=TODAY), MECHANICS, fold_deg=60, straddle_deg=20)
    assert low
    assert low.low > stiff.low
    assert straddle_press(BODY, None, MECHANICS, fold_deg=45, straddle_deg=30) is None
    assert (
        straddle_press(BODY, PressTested(surface_cm=60, day=TODAY), MECHANICS, fold_deg=20, straddle_deg=0)
        is None
    )


# --- words


def test_figures_are_said_with_their_units_and_never_with_a_mass_nobody_entered() -> None:
    """Percent, centimetres, degrees, newton metres; without a mass no force."""
    note = MECHANICS.figures
    assert say_figure(note["share"], 0.834) == "83 %"
    assert say_figure(note["float_limit_cm"], 4.12) == "4.1 cm"
    assert say_figure(note["float_limit_cm"], 40.1) == "40 cm"
    assert say_figure(note["lean_deg"], -0.01) == "0.0°"
    lever = MECHANICS.lever("press")
    assert lever
    figures = solve_one("press", BODY, settings_for(lever, BODY, {})).figures  # type: ignore[union-attr]
    assert show_figures(MECHANICS, lever, figures, mass_known=True)[0].figure == "shoulder_moment_nm"
    assert "shoulder_moment_nm" not in {
        f.figure for f in show_figures(MECHANICS, lever, figures, mass_known=False)
    }


def test_setup_lines_name_distances_or_the_reason() -> None:
    """The right-angle hold's box, the float's distance, and a setting out of reach."""
    lines = {x.lever: setup_lines(MECHANICS, x, BODY, {}) for x in MECHANICS.levers}
    assert lines["right-angle"] == ("Box 91 cm high, feet 83 cm from the hands.",)
    assert "up to 40 cm from the wall" in lines["wall-back"][0]
    pike = MECHANICS.lever("pike-push-up")
    assert pike
    assert setup_lines(MECHANICS, pike, BODY, {"hands-to-feet": 175}) == (
        "This setting is out of reach: feet at most 138 cm from the hands.",
    )


def test_a_rung_a_coach_put_in_between_is_set_up_like_the_drill_it_came_from() -> None:
    """By its family, so that the gap finder's proposals have a ladder too."""
    made = replace(drill("pike-push-up"), drill="pike-push-up-at-90-cm", family="pike-push-up")
    assert MECHANICS.of_drill(made.drill, made.family) is MECHANICS.lever("pike-push-up")
    assert MECHANICS.of_drill("hollow-hold") is None
