"""The way to a goal: the path, the pillar that holds it back, what is open today, and staying the course."""

from datetime import timedelta

import pytest

from tests.core.test_standing import SYLLABUS, TODAY, done, passing, proven_below
from wise_perch.core.scoring import judge_tries
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.evidence import Evidence, Fell, Measure, Outcome, Try
from wise_perch.core.trainee.goals import GoalStanding, goal_standings, let_tries_lead, why_not
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.standing import standing_of
from wise_perch.core.trainee.stored import Waiver
from wise_perch.core.trainee.wall import State, Wall, read_wall

GOALS = [g.goal for g in SYLLABUS.content.goals]


def wall_of(*pieces: Evidence, waived: tuple[str, ...] = ()) -> Wall:
    waivers = {name: Waiver(drill=name, reason="seen elsewhere", day=TODAY) for name in waived}
    return read_wall(mark_evidence(pieces, SYLLABUS), SYLLABUS, on=TODAY, waivers=waivers)


def toward(goal: str, *pieces: Evidence, waived: tuple[str, ...] = ()) -> GoalStanding:
    wall = wall_of(*pieces, waived=waived)
    return goal_standings(wall, standing_of(wall), [goal])[0]


def ready_for(drill: str, *left_out: str) -> list[Evidence]:
    """Two days of passing everything below a drill, but for what is left out."""
    return [p for group in proven_below(drill) for p in group if p.drill not in left_out]


def getting_up() -> list[Evidence]:
    """Two days of kick-ups that reach vertical away from the wall."""
    up = SYLLABUS.drills["free-kick-up"]
    return [*ready_for("free-kick-up"), *(p for ago in (3, 0) for p in passing(up, ago=ago))]


def test_the_nine_goals_are_there() -> None:
    """Every goal a coach trains for, from the freestanding hold to the hand walk."""
    assert [
        *("freestanding-hold", "hold-30", "strict-push", "linked-kip", "free-push"),
        *("straddle-press", "pike-press", "stalder-press", "hand-walk"),
    ] == GOALS


@pytest.mark.parametrize("goal", GOALS)
def test_a_newcomer_has_a_path_and_something_to_do_today(goal: str) -> None:
    """From nothing every goal has a path that begins with open drills, and the rest says what it waits
    for.
    """
    g = toward(goal)
    assert not g.reached
    assert g.work_on
    assert g.holding is not None
    assert {s.kind for s in g.path} == {"work on", "closed"}
    assert all(s.sentence.startswith("Closed until: ") for s in g.closed)
    assert g.path[-1].drill == SYLLABUS.content.goals[GOALS.index(goal)].drills[0]


@pytest.mark.parametrize("goal", GOALS)
def test_the_path_can_be_walked_in_its_order(goal: str) -> None:
    """Passing each step on two days, in the path's order, never meets a closed one, and reaches the goal."""
    pieces: list[Evidence] = []
    for _ in range(200):
        g = toward(goal, *pieces)
        if g.reached:
            break
        step = next(s for s in g.path if s.kind != "closed")
        d = SYLLABUS.drills[step.drill]
        pieces += [p for ago in (3, 0) for p in passing(d, ago=ago, times=1.5)]
    assert toward(goal, *pieces).reached


def test_a_beginner_is_held_back_by_what_holds_up_the_rest() -> None:
    """What is missing above is traced down to the open drill it all waits for."""
    g = toward("freestanding-hold")
    assert (g.holding, g.headline) == (
        "confidence",
        "Confidence upside down is what limits the freestanding hold.",
    )
    assert "28 later drills wait for low-surface hold." in g.because


def test_a_near_intermediate_is_held_back_by_balance_on_the_side_of_the_falls() -> None:
    """With the ground laid and three of ten at 10 s, balance is named, with the side and what the tries point
    to.
    """
    ground = [*ready_for("free-hold-10", "heel-float"), *getting_up()]
    g = toward("freestanding-hold", *ground, done("heel-float", 6.2), done("free-hold-10", 3))
    assert g.holding == "balance"
    assert [s.drill for s in g.work_on] == ["free-hold-10", "heel-float"]
    tries = [Try(number=n, outcome=Outcome.HELD, value=3.0, fell=Fell.OVER) for n in range(1, 7)]
    result = judge_tries(
        SYLLABUS.free_tries,
        tries,
        RunFacts(day=TODAY, proven={"free-exit": True}, rates={"soft-wall-landing": (9, 10)}),
    )
    assert result.decision == "heel-float"
    seen = let_tries_lead(g, result, SYLLABUS.free_tries.decisions[result.decision].work_on)
    assert seen.headline == "Balance on the over side is what limits the freestanding hold."
    assert seen.because[-1] == "6 of the last 6 falls went over."
    assert seen.work_on[0].drill == "heel-float"


def test_the_strong_but_stiff_are_held_back_by_mobility() -> None:
    """Everything for the press but the fold: mobility holds it back, and the pancake is the work."""
    strong = ready_for("straddle-press", "pancake")
    g = toward("straddle-press", *strong, done("pancake", 48), done("overhead-reach", 28))
    assert (g.holding, g.work_on[0].drill) == ("mobility", "pancake")
    assert g.because[1] == "Pancake: 48 cm on 31 May. Needs 10 cm or less."
    assert [s.drill for s in g.closed] == ["straddle-press"]
    assert "Enough of these together: 2.2 of 2.5 gates (tuck planche 100 %" in g.closed[0].sentence


def test_pillars_make_up_for_each_other() -> None:
    """A strong tuck planche covers a weak pancake, and the other way round, up to half as much again."""
    bare = ready_for("straddle-press", "pancake", "tuck-planche", "v-ups")
    strong = [done("tuck-planche", 15), done("v-ups", 10)]
    assert not any(
        s.drill == "straddle-press" and s.kind == "closed"
        for s in toward("straddle-press", *bare, *strong).path
    )
    weak = [done("tuck-planche", 14), done("v-ups", 10)]
    assert any(
        s.drill == "straddle-press" and s.kind == "closed"
        for s in toward("straddle-press", *bare, *weak).path
    )
    # no amount of one of them replaces the two others
    assert any(s.kind == "closed" for s in toward("straddle-press", *bare, done("tuck-planche", 60)).path)


def test_unproven_exits_hold_an_open_floor_goal_back() -> None:
    """With everything there but a second day of the free exit, exits are named, and that day is the work."""
    ground = [p for p in (*ready_for("free-hold-10", "free-hold-5"), *getting_up()) if p.drill != "free-exit"]
    g = toward("freestanding-hold", *ground, done("free-exit", 5, n=5, ago=2))
    assert (g.holding, g.headline) == ("exits", "Exits are what limit the freestanding hold.")
    assert g.work_on[0].sentence == "Show it clean once more by 26 Jun and it is proven"


def test_little_confidence_is_named_as_what_holds_back() -> None:
    """Where the next drill was done with confidence 2 of 5, confidence holds it back, and the dial
    steps out.
    """
    ground = ready_for("chest-to-wall-hold")
    g = toward("freestanding-hold", *ground, done("chest-to-wall-hold", 12, cm=15, confidence=2))
    assert g.holding == "confidence"
    assert (
        "Chest-to-wall hold: confidence 2 of 5. One step back, lower or farther out, until it is calm."
        in g.because
    )


def test_a_support_never_looked_at_holds_nothing_back() -> None:
    """A mobility drill without evidence may be well; with a poor reading it counts."""
    ground = [p for p in ready_for("free-hold-10") if p.drill not in ("overhead-reach",)]
    assert "mobility" not in [p.pillar for p in toward("freestanding-hold", *ground).pillars]
    assert "mobility" in [
        p.pillar for p in toward("freestanding-hold", *ground, done("overhead-reach", 40)).pillars
    ]


def test_stay_the_course() -> None:
    """The headline stands still though tried, a sub-measure moved: it says so. Without either it keeps
    quiet.
    """
    ground = ready_for("free-hold-10")
    stands = [done("free-hold-10", 2, ago=60), done("free-hold-10", 2, ago=3)]
    moves = [done("toe-float", 4, ago=50), done("toe-float", 7.5, ago=5)]
    ground = [p for p in ground if p.drill != "toe-float"]
    g = toward("freestanding-hold", *ground, *stands, *moves)
    assert (
        g.stay_the_course
        == "Free hold, 10 s × 7 has stood at 2 of 10 since 1 Apr, but toe float moved from 4 s to 7.5 s on 26"
        " May. Stay the course: changing the programme now is the common loss."
    )
    assert toward("freestanding-hold", *ground, stands[0], *moves).stay_the_course is None, (
        "it was not tried of late"
    )
    assert (
        toward("freestanding-hold", *ground, *stands, done("free-hold-10", 3, ago=1), *moves).stay_the_course
        is None
    ), "it moved"
    still = [p for p in moves if p.day < TODAY - timedelta(days=28)]
    assert toward("freestanding-hold", *ground, *stands, *still).stay_the_course is None, "nothing moved"


def test_fewer_touches_count_as_moving() -> None:
    """Touches are never charted with seconds, yet fewer of them is a sub-measure that moves."""
    ground = [p for p in ready_for("free-hold-10") if p.drill != "heel-float"]
    touches = [
        done("heel-float", n, ago=ago, measure=Measure.TOUCHES, window_s=15) for n, ago in ((6, 50), (4, 5))
    ]
    g = toward(
        "freestanding-hold",
        *ground,
        done("free-hold-10", 2, ago=60),
        done("free-hold-10", 2, ago=3),
        *touches,
    )
    assert g.stay_the_course
    assert "heel float moved from 6 touches to 4 touches on 26 May" in g.stay_the_course


def test_a_reached_goal_says_when() -> None:
    """Reached, with the day it was last shown; by a waiver, it says so."""
    everything = [*ready_for("free-hold-10"), *passing(SYLLABUS.drills["free-hold-10"], ago=4)]
    assert (
        toward("freestanding-hold", *everything).reached_sentence
        == "Freestanding hold, 10 s in 7 of 10, last shown on 27 May."
    )
    assert toward("freestanding-hold", waived=("free-hold-10",)).reached_sentence.endswith(
        "by the coach's waiver."
    )


def test_why_not_says_in_a_sentence_what_opens_a_drill() -> None:
    """Any closed drill says what opens it, alternatives and shares included; an open one says nothing."""
    wall = wall_of()
    stands = standing_of(wall)
    assert why_not(stands.drill("low-surface-hold"), wall) == ""
    assert (
        why_not(stands.drill("slack-to-tall"), wall)
        == "Slack-to-tall waves opens with chest-to-wall hold (30 s at 15 cm or less) or back-to-wall hold"
        " (30 s), met."
    )
    assert "enough of tuck planche, v-ups and pancake (0.0 of 2.5 gates)" in why_not(
        stands.drill("straddle-press"), wall
    )
    for d in stands.every().values():
        assert bool(why_not(d, wall)) is (not d.open)


def test_the_path_takes_the_nearer_of_two_alternatives() -> None:
    """For either wall hold the one already half filled is chosen."""
    ground = ready_for("chest-to-wall-hold")
    g = toward("freestanding-hold", *ground, *passing(SYLLABUS.drills["back-to-wall-hold"]))
    steps = [s.drill for s in g.path]
    # the exits still need the chest side; the waves no longer wait for it
    assert "chest-to-wall-hold" in steps
    assert next(s for s in g.path if s.drill == "slack-to-tall").kind == "work on"


def test_a_stale_exit_is_to_be_proven_again() -> None:
    """A goal on the open floor asks for exits again once they are stale, and before what they carry: at the
    wall first, where the highest that is shown again shows what lies below it.
    """
    old = [
        Evidence(**{**{f: getattr(p, f) for f in p.__slots__}, "day": p.day - timedelta(days=90)})
        for p in ready_for("free-hold-10")
    ]
    g = toward("freestanding-hold", *old)
    assert wall_of(*old).gates["free-exit"].state is State.STALE
    steps = [s.drill for s in g.path]
    first = next(s for s in g.path if s.pillar == "exits")
    assert (first.drill, first.kind) == ("step-down-30", "show again")
    assert not SYLLABUS.drills[first.drill].away
    assert "wall-side-step" not in steps
    assert first.sentence.startswith("Last passed ")
    assert steps.index("free-exit") < steps.index("free-hold-10")


def test_a_stale_goal_brings_back_what_it_stands_on() -> None:
    """A free hold that was shown long ago does not hide stale exits: the way to it leads over them again."""
    old = [
        Evidence(**{**{f: getattr(p, f) for f in p.__slots__}, "day": p.day - timedelta(days=90)})
        for p in (*ready_for("free-hold-10"), *passing(SYLLABUS.drills["free-hold-10"], ago=0))
    ]
    g = toward("freestanding-hold", *old)
    assert not g.reached
    assert {"free-exit", "free-hold-10"} <= {s.drill for s in g.path}
    assert "step-down-30" in {s.drill for s in g.work_on}


def test_getting_up_is_on_the_way_to_a_free_hold_and_no_part_of_it() -> None:
    """The landing and the free kick-up stand on the path while there is one; a hold that is shown needs
    neither on record.
    """
    ground = ready_for("free-hold-10")
    assert {"soft-wall-landing", "free-kick-up"} <= {
        s.drill for s in toward("freestanding-hold", *ground).path
    }
    shown = [p for ago in (3, 0) for p in passing(SYLLABUS.drills["free-hold-10"], ago=ago)]
    assert toward("freestanding-hold", *ground, *shown).reached
