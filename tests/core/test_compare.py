"""Two runs side by side: what changed, and whether it is more than noise."""

import math
from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_benchmarks import at, made, run, seconds, touches
from wise_perch.core.bench.compare import (
    bootstrap_difference,
    compare_runs,
    fisher_p,
    newcombe,
    permutation_p,
    probability_greater,
)
from wise_perch.core.trade.evidence import Try


def free(*values: float) -> list[Try]:
    return [made("held", v) for v in values]


def landings(soft: int, n: int = 10) -> list[Try]:
    return [made("soft")] * soft + [made("hard")] * (n - soft)


def test_a_great_change_is_real_and_a_small_one_noise() -> None:
    """From 1 to 9 of 10 is more than noise; from 6 to 7 is not, whatever it feels like."""
    great = compare_runs(run("wall-landings", *landings(1)), run("wall-landings", *landings(9)))
    small = compare_runs(run("wall-landings", *landings(6)), run("wall-landings", *landings(7)))
    assert [c.call for c in great.changes if c.title == "soft landings"] == ["real"]
    assert [c.call for c in small.changes if c.title == "soft landings"] == ["noise"]
    assert "6 of 10" in [c.first for c in small.changes]


def test_seconds_are_compared_by_rearranging() -> None:
    """Ten long holds against ten short ones is real; the same holds again are not."""
    first, second = (
        run("free-tries", *free(*[2.0 + n / 10 for n in range(10)])),
        run("free-tries", *free(*[6.0 + n / 10 for n in range(10)])),
    )
    found = {c.title: c for c in compare_runs(first, second).changes}["seconds of held tries"]
    assert found.call == "real"
    assert found.p is not None
    assert found.p < 0.001
    assert found.interval
    assert found.interval[0] < 4 < found.interval[1]
    assert {c.call for c in compare_runs(first, first).changes} == {"noise"}


def test_two_tries_each_are_too_few() -> None:
    """With two tries on each side even the most extreme arrangement is common, and that is said."""
    first, second = (
        run("simple-hold", made("held", v), made("held", v + 1), subject="hollow-hold") for v in (10.0, 50.0)
    )
    (found,) = compare_runs(first, second).changes
    assert found.call == "too few"
    assert "too few tries" in found.sentence


def test_two_scales_never_compare() -> None:
    """Seconds and touches are refused with a sentence, as is a run without a try."""
    a, b = run("heel-float", *seconds(8, 9, 10)), run("heel-float", *touches(3, 4))
    assert "two scales never compare" in compare_runs(a, b).refused
    assert compare_runs(a, run("heel-float")).refused == "One of the two has no try."


def test_fewer_touches_are_better() -> None:
    """The direction of better is the measure's own."""
    (found,) = compare_runs(
        run("heel-float", *touches(6, 6, 6)), run("heel-float", *touches(2, 2, 2))
    ).changes
    assert "4.0 touches better" in found.sentence


@pytest.mark.parametrize(
    ("first", "second", "call", "said"),
    [(15, 12.5, "noise", "2.5 cm harder"), (20, 5, "real", "15 cm harder"), (5, 20, "real", "15 cm easier")],
)
def test_limits_move_by_more_than_a_step_or_not(first: float, second: float, call: str, said: str) -> None:
    """One reading each: within a step a day gives and takes, beyond it something has changed."""
    found = {
        c.title: c for c in compare_runs(run("push-floor", at(first)), run("push-floor", at(second))).changes
    }["Pressed from"]
    assert found.call == call
    assert said in found.sentence


def by_enumeration(a: list[float], b: list[float]) -> float:
    """The two-sided permutation p by going through every arrangement with plain loops."""
    joined, seen, hits, total = a + b, abs(sum(b) / len(b) - sum(a) / len(a)), 0, 0
    for chosen in combinations(range(len(joined)), len(a)):
        left = [joined[i] for i in chosen]
        right = [joined[i] for i in range(len(joined)) if i not in chosen]
        total += 1
        hits += abs(sum(right) / len(right) - sum(left) / len(left)) >= seen - 1e-9
    return hits / total


values = st.lists(st.integers(0, 200).map(lambda n: n / 10), min_size=1, max_size=5)


@settings(max_examples=60)
@given(values, values)
def test_the_permutation_p_is_that_of_every_arrangement(a: list[float], b: list[float]) -> None:
    """Exact where all arrangements can be gone through, and the same whichever run comes first."""
    assert permutation_p(a, b) == pytest.approx(by_enumeration(a, b), abs=1e-12)
    assert permutation_p(a, b) == pytest.approx(permutation_p(b, a), abs=1e-12)


@given(st.integers(1, 12), st.integers(1, 12), st.data())
def test_chances_and_intervals_are_sound(n1: int, n2: int, data: st.DataObject) -> None:
    """The chance of higher and that of lower add up to one; the interval holds the difference and turns round
    with the runs.
    """
    k1, k2 = data.draw(st.integers(0, n1)), data.draw(st.integers(0, n2))
    assert probability_greater(k1, n1, k2, n2) + probability_greater(k2, n2, k1, n1) == pytest.approx(
        1, abs=1e-9
    )
    low, high = newcombe(k1, n1, k2, n2)
    assert low <= k2 / n2 - k1 / n1 <= high
    assert newcombe(k2, n2, k1, n1) == pytest.approx((-high, -low))
    assert 0 < fisher_p(k1, n1, k2, n2) <= 1 + 1e-9


def test_many_values_are_drawn_always_alike() -> None:
    """Where there are too many arrangements they are drawn, the same every time, and so are the resamples of
    the interval.
    """
    a, b = [math.sin(n) + 3 for n in range(20)], [math.cos(n) + 3.2 for n in range(20)]
    assert permutation_p(a, b) == permutation_p(a, b)
    assert bootstrap_difference(a, b) == bootstrap_difference(a, b)
