"""Figures of the trade, reached by evidence through standing and not read back from the data. Common
practice, no single source.
"""

import pytest

from tests.core.test_standing import done, passing, proven_below, stand, stands
from wise_perch.core.scoring.free_tries import FreeTriesContext, rules_of, score_free_tries
from wise_perch.core.trade.evidence import Measure, Outcome, Try
from wise_perch.core.trainee.wall import State
from wise_perch.syllabus.shipped import in_use


# common practice, no single source
@pytest.mark.parametrize(
    ("drill", "enough", "short"),
    [
        ("hollow-hold", 30, 29),
        ("overhead-weighted-hold", 50, 49),
        ("chest-to-wall-60", 60, 59),
        ("low-surface-hold", 30, 29),
        ("shoulder-rocks", 15, 14),
        ("right-angle-hold", 30, 29),
        ("low-wall-climb", 30, 29),
        ("chest-to-wall-hold", 30, 29),
        ("chest-to-wall-90", 90, 89),
        ("back-to-wall-hold", 30, 29),
        ("back-to-wall-60", 60, 59),
        ("soft-wall-landing", 7, 6),
        ("slack-to-tall", 10, 9),
        ("foot-switches", 20, 19),
        ("foot-switches-2", 20, 19),
        ("foot-switches-3", 20, 19),
        ("finger-press", 15, 14),
        ("heel-float", 10, 9.9),
        ("toe-float", 10, 9.9),
        ("near-wall-float", 20, 19),
        ("free-hold-5", 5, 4.9),
        ("free-hold-10", 7, 6),
        ("push-up", 15, 14),
        ("knees-on-bench-pike", 5, 4),
        ("pike-push-up", 8, 7),
        ("pike-push-up-parallettes", 8, 7),
        ("raised-pike-push-up", 5, 4),
        ("raised-pike-parallettes", 5, 4),
        ("kip-single", 1, 0),
        ("kip-linked", 2, 1),
        ("fold-and-lean", 10, 9),
        ("planche-lean", 5, 4),
        ("stalder-press", 2, 1),
    ],
)
def test_gates(drill: str, enough: float, short: float) -> None:
    """Each gate is met by the trade's number and missed just below it."""
    assert stand(drill, done(drill, enough, cm=15)).state is State.MET
    assert stand(drill, done(drill, short, cm=15)).state is State.NOT_YET


# common practice, no single source
def test_a_wall_walk_is_three_and_the_last_one_held() -> None:
    """Three walks in a row are not enough without the last one held for 20 s."""
    three, held = done("wall-walk", 3), done("wall-walk", 20, measure=Measure.HOLD)
    assert stand("wall-walk", three).state is State.NOT_YET
    assert stand("wall-walk", three, done("wall-walk", 19, measure=Measure.HOLD)).state is State.NOT_YET
    assert stand("wall-walk", three, held).state is State.MET


# common practice, no single source
@pytest.mark.parametrize(("cm", "state"), [(15, State.MET), (15.5, State.NOT_YET)])
def test_close_to_the_wall_is_15_cm(cm: float, state: State) -> None:
    """Chest to the wall counts at 15 cm or less."""
    assert stand("chest-to-wall-hold", done("chest-to-wall-hold", 40, cm=cm)).state is state


# common practice, no single source
@pytest.mark.parametrize(
    ("seconds", "pads", "state"),
    [(5, 0, State.MET), (4.9, 0, State.NOT_YET), (8, 3, State.NOT_YET), (5, -2, State.MET)],
)
def test_a_lowering_takes_five_seconds_to_the_flat_floor(seconds: float, pads: float, state: State) -> None:
    """Five seconds in control, on the floor or below it; on pads it is practice."""
    assert stand("lowering-to-floor", done("lowering-to-floor", seconds, cm=pads)).state is state


# common practice, no single source
@pytest.mark.parametrize(
    ("drill", "value"),
    [("push-up", 20), ("pike-push-up", 12), ("raised-pike-push-up", 8), ("hollow-hold", 60)],
)
def test_from_the_upper_figure_on_a_drill_is_easy(drill: str, value: float) -> None:
    """A range such as 8 to 12: the gate is the lower figure, and from the upper one the drill is no longer
    worth its time.
    """
    assert stand(drill, done(drill, value)).easy is True
    assert stand(drill, done(drill, value - 1)).easy is False


# common practice, no single source
@pytest.mark.parametrize(
    ("touches", "reached"),
    [
        (6, []),
        (5, ["5 touches"]),
        (4, ["5 touches", "4 touches"]),
        (3, ["5 touches", "4 touches", "3 touches"]),
    ],
)
def test_floats_come_down_in_touches_before_they_hold(touches: int, reached: list[str]) -> None:
    """Five, four, three touches in 15 s are stages of a float; they never fill its seconds."""
    piece = done("heel-float", touches, measure=Measure.TOUCHES, window_s=15)
    d = stand("heel-float", piece)
    assert [s.text.split(" or ")[0] for s in d.stages if s.reached] == reached
    assert (d.state, d.fill) == (State.NOT_YET, 0)


# common practice, no single source
def test_the_partial_push_waits_for_hold_and_raised_pike() -> None:
    """It needs back-to-wall 30 s and five raised pike push-ups, proven because the head nears the floor."""
    without = [p for name in proven_below("partial-wall-hspu") for p in name]
    assert stands(*without).drill("partial-wall-hspu").open
    for lacking in ("back-to-wall-hold", "raised-pike-push-up"):
        assert not stands(*(p for p in without if p.drill != lacking)).drill("partial-wall-hspu").open


# common practice, no single source
def test_the_pike_press_waits_for_a_solid_free_hold_and_a_straddle_press() -> None:
    """One straddle press from standing is enough, where its own gate asks three."""
    needed = [p for group in proven_below("pike-press") for p in group]
    bare = [p for p in needed if p.drill != "straddle-press"]
    one = [done("straddle-press", 1, ago=ago) for ago in (3, 0)]
    assert stands(*bare, *one).drill("pike-press").open
    assert not stands(*bare).drill("pike-press").open
    assert not stands(*(p for p in [*bare, *one] if p.drill != "free-hold-10")).drill("pike-press").open


# common practice, no single source
def test_lowered_and_partial_press_open_together() -> None:
    """Eccentric and partial range are of like difficulty, and which comes easier varies: both open at
    once.
    """
    before = stands()
    assert not before.drill("lowered-press-wall").open
    assert not before.drill("partial-press-wall").open
    ready = [p for name in ("hip-raise", "back-to-wall-hold") for p in passing(in_use().drills[name])]
    after = stands(*ready)
    assert after.drill("lowered-press-wall").open
    assert after.drill("partial-press-wall").open


# common practice, no single source
def test_the_line_between_beginner_and_intermediate() -> None:
    """Ten seconds in seven of ten tries is intermediate; six of ten is not."""
    rules = rules_of(in_use().free_tries)

    def level(long: int) -> str:
        tries = [Try(number=i, outcome=Outcome.HELD, value=10.0 if i <= long else 9.9) for i in range(1, 11)]
        return score_free_tries(tries, rules, FreeTriesContext()).level

    assert (level(7), level(6)) == ("intermediate", "beginner")


# common practice, no single source
def test_rests_between_single_tries() -> None:
    """Between tries treated as personal bests a coach rests twenty to sixty seconds."""
    test = in_use().free_tries
    assert (test.rest_least_s.value, test.rest_most_s.value, test.modes[0].tries.value) == (20, 60, 10)
