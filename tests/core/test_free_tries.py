"""Ten free tries: every figure, and the order in which a cause is looked for."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wise_perch.core.scoring.free_tries import (
    FreeTriesContext,
    FreeTriesScore,
    gate_evidence,
    rules_of,
    score_free_tries,
)
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.evidence import Fell, Form, Measure, Outcome, Try
from wise_perch.core.trade.protocol import try_problem
from wise_perch.syllabus.shipped import built_in

TEST = built_in().free_tries
RULES = rules_of(TEST)
KNOWN = FreeTriesContext(exits_proven=True, soft_landings=(9, 10))
WORDS = {"o": Outcome.OVERSHOT, "u": Outcome.UNDERSHOT}


def tries(*words: object) -> list[Try]:
    """Write tries down: a number held and fell over, a pair (seconds, how), "o" overshot, "u" undershot."""
    made = []
    for number, word in enumerate(words, 1):
        if isinstance(word, str):
            made.append(Try(number=number, outcome=WORDS[word]))
        else:
            seconds, fell = word if isinstance(word, tuple) else (word, "over")
            made.append(
                Try(
                    number=number,
                    outcome=Outcome.HELD,
                    value=float(seconds),
                    fell=Fell(fell) if fell else None,
                )
            )
    return made


def scored(*words: object, context: FreeTriesContext = KNOWN) -> FreeTriesScore:
    return score_free_tries(tries(*words), RULES, context)


def test_counts_and_shares() -> None:
    """Held, overshot and undershot add up, and every share is of all tries."""
    s = scored(3.1, "o", 5.4, "u", (2.2, "under"), "o", 12, "u", "u", (4, "down"))
    assert (s.n, s.held, s.overshot, s.undershot) == (10, 5, 2, 3)
    assert (s.held_share, s.reach_share, s.overshoot_share, s.ten_second_share) == (0.5, 0.7, 0.2, 0.1)
    assert s.mean_hold_s == pytest.approx((3.1 + 5.4 + 2.2 + 12 + 4) / 5)
    assert s.best_hold_s == 12
    assert (s.falls_over, s.falls_under) == (3, 1)


def test_a_held_try_below_one_second_only_passed_through() -> None:
    """Below 1.0 s a held try counts as overshot if it fell over, else as undershot, and adds no fall and no
    seconds.
    """
    s = scored((0.9, "over"), (0.99, "under"), (0.5, "down"), (0.2, None), (1.0, "over"))
    assert (s.held, s.overshot, s.undershot) == (1, 1, 3)
    assert (s.falls_over, s.falls_under, s.mean_hold_s) == (1, 0, 1.0)


def test_ten_seconds_is_ten_seconds() -> None:
    """10.0 s counts as long and 9.9 s does not."""
    assert scored(*[9.9] * 10).ten_second_share == 0
    assert scored(*[10.0] * 10).ten_second_share == 1


def test_without_a_held_try_there_is_no_mean() -> None:
    """Without held tries the mean, the best and the fall figures are unknown, not zero."""
    s = scored("o", "u")
    assert (s.mean_hold_s, s.best_hold_s, s.fall_p, s.fall_pattern) == (None, None, None, None)


def test_no_tries_at_all() -> None:
    """A run without tries has no shares and no intervals, and still says what comes first."""
    s = scored()
    assert (s.held_share, s.held_interval, s.decision) == (None, None, "entry")
    assert s.p_ten_second_at_least_0_7 == pytest.approx(0.3)


@pytest.mark.parametrize(
    ("words", "context", "decision"),
    [
        ([10] * 7 + ["u"] * 3, KNOWN, "intermediate"),
        ([10] * 7 + ["u"] * 3, FreeTriesContext(exits_proven=False), "intermediate"),
        ([9.9] * 10, FreeTriesContext(exits_proven=False, soft_landings=(0, 10)), "exits"),
        (["u"] * 6 + [5] * 4, FreeTriesContext(exits_proven=True, soft_landings=(0, 10)), "entry"),
        (["u"] * 5 + [5] * 5, FreeTriesContext(exits_proven=True, soft_landings=(6, 10)), "kick-up-block"),
        (["o"] * 6 + [9] * 4, KNOWN, "heel-float"),
        (["o"] * 6 + [(9, "under")] * 4, KNOWN, "toe-float"),
        ([(4.9, "over"), (4.9, "under")] * 5, KNOWN, "both-floats"),
        (["o"] * 7 + [9] * 3, KNOWN, "both-floats"),
        ([(5, "down")] * 10, KNOWN, "near-wall-float"),
        ([10] * 6 + ["o"] * 4, KNOWN, "near-wall-float"),
    ],
)
def test_decision_order(words: list[object], context: FreeTriesContext, decision: str) -> None:
    """The cause is looked for in order: level, exits, entry, landings, floats on the falling side, then more
    of the same.
    """
    s = scored(*words, context=context)
    assert s.decision == decision
    assert s.level == ("intermediate" if decision == "intermediate" else "beginner")
    assert s.reasons
    assert s.decision in built_in().free_tries.decisions


def test_seven_of_seven_is_not_seven_of_ten() -> None:
    """Fewer than ten tries make nobody intermediate, however long they last."""
    s = scored(*[12] * 7)
    assert (s.ten_second_share, s.level, s.decision) == (1.0, "beginner", "near-wall-float")


def test_what_is_not_known_is_passed_over_and_named() -> None:
    """A step without evidence is passed over and named, but only where the search came by it."""
    nothing = FreeTriesContext()
    assert scored(*[2] * 10, context=nothing).unchecked == ("exits", "soft landings")
    assert scored(*["u"] * 10, context=nothing).unchecked == ("exits",)
    assert scored(*[10] * 10, context=nothing).unchecked == ()
    assert scored(*[2] * 10).unchecked == ()


@pytest.mark.parametrize(
    ("over", "under", "pattern"),
    [
        (3, 0, None),
        (4, 0, "over"),
        (4, 2, "over"),
        (2, 4, "under"),
        (3, 2, None),
        (5, 3, None),
        (6, 3, "over"),
        (0, 4, "under"),
    ],
)
def test_a_pattern_needs_four_falls_and_two_thirds(over: int, under: int, pattern: str | None) -> None:
    """A fall pattern is named only from four falls on, with two thirds or more going one way."""
    assert scored(*[(2, "over")] * over, *[(2, "under")] * under).fall_pattern == pattern


def test_two_tries_with_one_number_are_refused() -> None:
    """The same try counted twice is an error, not a longer run."""
    with pytest.raises(ValueError, match="same number"):
        score_free_tries([*tries("o"), *tries("u")], RULES)


@pytest.mark.parametrize("seconds", [-1.0, 36000.0, float("nan"), float("inf")])
def test_impossible_holds_are_refused(seconds: float) -> None:
    """A hold of -1 s or 10 hours is refused when it is written down."""
    assert (try_problem(TEST, Try(number=1, outcome=Outcome.HELD, value=seconds)) or "").startswith(
        "A hold lasts"
    )


any_try = st.one_of(
    st.sampled_from(["o", "u"]),
    st.tuples(st.floats(0, 60).map(lambda s: round(s, 1)), st.sampled_from(["over", "under", "down", None])),
)


@given(st.lists(any_try, max_size=15), st.booleans())
def test_any_run_is_consistent(words: list[object], proven: bool) -> None:
    """Whatever is written down, counts add up, shares lie within 0 to 1, intervals hold their share, and a
    reason is given.
    """
    s = scored(*words, context=FreeTriesContext(exits_proven=proven))
    assert s.held + s.overshot + s.undershot == s.n == len(words)
    assert s.reasons
    if s.n:
        assert s.held_interval is not None
        assert s.held_share is not None
        assert 0 <= s.held_interval[0] <= s.held_share <= s.held_interval[1] <= 1
        assert s.reach_share is not None
        assert s.reach_share >= s.held_share


@given(st.lists(any_try, min_size=1, max_size=10), st.randoms())
def test_the_order_of_writing_down_does_not_matter(words: list[object], dice: object) -> None:
    """Tries are told apart by their numbers, so shuffling them changes nothing."""
    made = tries(*words)
    shuffled = list(made)
    dice.shuffle(shuffled)  # type: ignore[attr-defined]
    assert score_free_tries(shuffled, RULES) == score_free_tries(made, RULES)


def test_what_a_run_tells_about_drills() -> None:
    """Reach speaks for the free kick-up, the best clean hold for the free hold, long clean holds for the 10 s
    gate.
    """
    made = [
        *tries(12, 6, "o", "u"),
        Try(number=5, outcome=Outcome.HELD, value=20, fell=Fell.OVER, form=Form.LOOSE),
    ]
    found = {e.drill: e for e in gate_evidence(made, TEST, RunFacts(day=date(2026, 5, 3)))}
    assert (found["free-kick-up"].value, found["free-kick-up"].n) == (4, 5)
    assert found["free-hold-5"].value == 12
    assert (found["free-hold-10"].value, found["free-hold-10"].n, found["free-hold-10"].measure) == (
        1,
        5,
        Measure.RATE,
    )
    assert gate_evidence([], TEST, RunFacts(day=date(2026, 5, 3))) == []
