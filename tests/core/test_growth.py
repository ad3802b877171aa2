"""How a dose grows: from what was asked, under the best known, open sets, and back after a gap."""

from dataclasses import replace
from datetime import timedelta
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.planning import SYLLABUS, TODAY, a_case, done, dose
from wise_perch.core.dose.best_known import find_best_known
from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.dose import DayDose, asked_of
from wise_perch.core.dose.open_sets import may_be_open, with_open_set
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side
from wise_perch.core.trainee.pain import Ache

HOLD = "hollow-hold"


def said(found: DayDose) -> str:
    return " ".join(b.text for b in found.because)


def opened(drill: str, *pieces: Evidence, **about: object) -> DayDose:
    case = a_case(*pieces, **about)  # type: ignore[arg-type]
    return with_open_set(choose_dose(SYLLABUS.drills[drill], case), SYLLABUS.drills[drill], case)


def test_as_asked_is_a_lower_bound_and_an_open_set_measures() -> None:
    """The best known is the largest of open sets and sets done as asked; what fell short, was loose or is old
    says nothing; it carries its day and kind.
    """
    measured, asked = done(HOLD, 20, ago=9), done(HOLD, 22, ago=3, asked=22)
    short, loose = done(HOLD, 25, ago=2, asked=30), done(HOLD, 40, ago=1, form=Form.LOOSE)

    def known(*pieces: Evidence) -> tuple[float, int, str] | None:
        best = find_best_known(SYLLABUS.drills[HOLD], a_case(*pieces))
        return best and (best.value, (TODAY - best.day).days, best.kind)

    assert known() is None
    assert known(measured) == (20, 9, "open")
    assert known(measured, asked, short, loose) == (22, 3, "as asked")
    assert known(done(HOLD, 40, ago=70), measured) == (20, 9, "open")
    assert known(short) is None


@pytest.mark.parametrize(("best", "asked", "grown"), [(10, 8, 9), (20, 14, 17), (33, 25, 28), (60, 40, 45)])
def test_a_hold_grows_by_its_length(best: float, asked: float, grown: float) -> None:
    """One second below ten, three below thirty, five beyond, while the best known leaves room."""
    last = done("front-support", asked, ago=2, asked=asked)
    assert dose("front-support", done("front-support", best, ago=9), last).each == grown


def test_no_more_than_most_of_the_best_until_an_open_set_raises_it() -> None:
    """At nine tenths of the best the dose stays; a longer open set lets it go on."""
    stays = dose(HOLD, done(HOLD, 20, ago=9), done(HOLD, 18, ago=2, asked=18))
    assert stays.each == 18
    assert "until an open set has raised what is known" in said(stays)
    assert dose(HOLD, done(HOLD, 26, ago=2), done(HOLD, 18, ago=2, asked=18)).each == 21


@given(
    best=st.floats(3, 90),
    days=st.lists(st.tuples(st.booleans(), st.booleans()), min_size=1, max_size=12),
    measures=st.sampled_from([HOLD, "chest-to-wall-hold", "l-sit", "push-up", "raised-pike-push-up"]),
)
def test_done_as_asked_never_makes_anything_easier(
    best: float, days: list[tuple[bool, bool]], measures: str
) -> None:
    """For any history of days that were done as asked or fell short, with an open set now and then: a day
    done as asked never asks for less the next time, and no dose passes the best known.
    """
    drill = SYLLABUS.drills[measures]
    whole = drill.gate.measure is Measure.REPS
    cm = drill.dial and 30.0
    best = float(round(best)) if whole else best
    pieces = [done(measures, best, ago=60, cm=cm)]
    before = None
    for n, (well, is_open) in enumerate(days):
        ago = 55 - 3 * n
        case = a_case(*pieces, on=TODAY - timedelta(days=ago))
        found, known = choose_dose(drill, case), find_best_known(drill, case)
        assert known is not None
        if found.each > 1 and found.dial is None:
            assert found.each <= known.value + 1e-9
        if before is not None and found.dial is None:
            assert found.each >= before
        value = found.each if well else max(1.0, found.each - 1)
        pieces.append(done(measures, value, ago=ago, asked=found.each, cm=cm))
        if is_open:
            pieces.append(done(measures, found.each + 2, ago=ago, cm=cm))
        before = found.each if well else None


@pytest.mark.parametrize(("weeks", "share"), [(1, None), (3, 0.85), (6, 0.7), (20, 0.5), (60, 0.4)])
def test_after_a_gap_a_share_of_the_last_best(weeks: int, share: float | None) -> None:
    """A best of 30 s that is weeks old is not the beginner's start."""
    found = dose("front-support", done("front-support", 30, ago=7 * weeks))
    if share is None:
        assert "From 65 %" in said(found)
    else:
        assert found.each == int(share * 30 + 1e-9)
        assert f"{weeks} weeks without it: {share * 100:.0f} % of what went before" in said(found)


def test_what_nobody_saw_leaves_the_dose_where_it_was() -> None:
    """A set told by the trainee alone is loose: however often, it neither raises a dose nor lowers it."""
    home = [done(HOLD, 13, ago=ago, asked=13, form=Form.LOOSE) for ago in (6, 4, 2)]
    found = dose(HOLD, done(HOLD, 20, ago=9), *home)
    assert found.each == 13
    assert "not clean, or not seen" in said(found)


def test_few_reps_go_up_to_their_best() -> None:
    """Of two reps nine tenths would be one for ever: reps go up to what is known, and never beyond it."""
    two = [done("wall-walk", 2, ago=5), done("wall-walk", 1, ago=2, asked=1)]
    assert dose("wall-walk", *two).each == 2
    assert dose("wall-walk", two[0], done("wall-walk", 2, ago=2, asked=2)).each == 2


def test_coming_back_grows_at_a_double_step() -> None:
    """Until the old best is there again."""
    old, best = done("front-support", 60, ago=150), done("front-support", 50, ago=5)
    last = done("front-support", 33, ago=2, asked=33)
    assert dose("front-support", old, best, last).each == 43
    assert dose("front-support", best, last).each == 38


def test_the_first_day_of_something_heavy_is_singles() -> None:
    """Nobody begins a press or a push upside down with sets of five."""
    first = dose("straddle-press")
    assert first.each == 1
    assert "first day is singles" in said(first)
    assert dose("push-up").each > 1


def test_a_set_as_asked_is_no_miss_however_little_was_asked() -> None:
    """Short clean holds at a setting leave the dial where it is, or move it on; they never walk it back."""
    little = [done("chest-to-wall-hold", 8, ago=ago, cm=30, asked=8) for ago in (9, 6, 3)]
    dial = dose("chest-to-wall-hold", *little).dial
    assert dial is not None
    assert dial.setting <= 30


def test_an_open_set_comes_once_a_week() -> None:
    """The first set of a hold measures the best, up to a ceiling; not again within the week."""
    due = opened(HOLD, done(HOLD, 20, ago=8), done(HOLD, 13, ago=3, asked=13))
    assert (due.open_set, due.ceiling, due.first) == (True, 40, None)
    assert due.amount == "1 open set, then 1 × 16 s"
    assert due.first_words == "as long as stays clean, at most 40 s"
    assert not opened(HOLD, done(HOLD, 20, ago=3)).open_set
    assert due.length_s > choose_dose(SYLLABUS.drills[HOLD], a_case(done(HOLD, 20, ago=8))).length_s


@pytest.mark.parametrize(
    ("drill", "about"),
    [
        ("chest-to-wall-hold", {"aches": (Ache(joint="left wrist", level=2, day=TODAY),)}),
        ("free-exit", {}),
        ("lowering-to-floor", {}),
        ("heel-float", {}),
        ("straddle-press", {}),
    ],
)
def test_no_open_set_where_it_would_hurt(drill: str, about: dict[str, object]) -> None:
    """Not with pain, in an exit, in a lowering toward the head, in counted tries, on a first day."""
    case = a_case(**about)  # type: ignore[arg-type]
    assert not may_be_open(choose_dose(SYLLABUS.drills[drill], case), SYLLABUS.drills[drill], case)


def test_not_with_little_confidence_either() -> None:
    """Whoever was afraid the last time is not asked for as long as it goes."""
    shy = opened("chest-to-wall-hold", done("chest-to-wall-hold", 20, ago=8, cm=60, confidence=1))
    assert not shy.open_set


def test_the_best_of_a_drill_with_two_sides_is_the_weaker_sides() -> None:
    """What one leg can do says nothing for the other; while one side is unknown the other speaks alone."""
    lunge = SYLLABUS.drills["right-angle-one-leg"]

    def known(*sides: tuple[Side, float]) -> float | None:
        pieces = [replace(done(lunge.drill, value, ago=3), side=side) for side, value in sides]
        best = find_best_known(lunge, a_case(*pieces))
        return best and best.value

    assert known((Side.LEFT, 20), (Side.LEFT, 12), (Side.RIGHT, 9)) == 9
    assert known((Side.LEFT, 20)) == 20


def test_what_each_set_asks_for() -> None:
    """An open set asks for nothing, the first for the gate where it is within reach, the others for the dose;
    counted tries and windows for nothing, since they are themselves what is measured.
    """
    due = opened(HOLD, done(HOLD, 20, ago=8))
    assert [asked_of(due, done=n) for n in (0, 1)] == [None, due.each]
    gate = dose(HOLD, done(HOLD, 28, ago=2))
    assert [asked_of(gate, done=n) for n in (0, 1)] == [30, gate.each]
    for drill in ("free-hold-5", "wall-kick-up", "overhead-reach"):
        assert asked_of(dose(drill), done=0) is None
    sided = dose("right-angle-one-leg", done("right-angle-one-leg", 9.5, ago=2, side=None))
    assert sided.sides == 2


def test_a_week_of_clean_days_is_never_lighter_for_a_longer_best() -> None:
    """More good days never give a smaller dose: the longer best asks for at least as much."""
    dice = Random(4)
    for _ in range(60):
        best, more = sorted((dice.uniform(4, 60), dice.uniform(4, 60)))
        one, two = (dose(HOLD, done(HOLD, value, ago=4)).each for value in (best, more))
        assert one <= two


def test_a_lowering_goes_a_second_beyond_the_slowest_known() -> None:
    """Never the whole gate of somebody who has a third of it; at the gate it stays there."""
    name = "lowered-press-free"
    assert dose(name).each == 2
    assert dose(name, done(name, 1.6, ago=3)).each == 2
    assert dose(name, done(name, 3.4, ago=3)).each == 4
    assert dose(name, done(name, 9.0, ago=3)).each == SYLLABUS.drills[name].gate.value
