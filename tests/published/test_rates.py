"""Shares of tries against published tables and general-purpose statistics libraries."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from wise_perch.core.scoring.rates import probability_at_least, two_sided_half, wilson_interval

k_of_n = st.integers(1, 400).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n)))


# Newcombe, R. G. (1998), Two-sided confidence intervals for the single proportion: comparison of seven
# methods, Statistics in Medicine 17, 857-872, table I, score method without continuity correction (values
# from memory).
@pytest.mark.parametrize(
    ("k", "n", "low", "high"),
    [(81, 263, 0.2553, 0.3662), (15, 148, 0.0624, 0.1605), (0, 20, 0.0000, 0.1611), (1, 29, 0.0061, 0.1718)],
)
def test_wilson_against_a_published_table(k: int, n: int, low: float, high: float) -> None:
    """The interval agrees with the published table to its four decimals."""
    assert wilson_interval(k, n) == pytest.approx((low, high), abs=5e-5)


@given(k_of_n)
def test_wilson_against_statsmodels(case: tuple[int, int]) -> None:
    """The interval agrees with statsmodels' Wilson method to 1e-9."""
    k, n = case
    assert wilson_interval(k, n) == pytest.approx(
        proportion_confint(k, n, alpha=0.05, method="wilson"), abs=1e-9
    )


@given(k_of_n, st.floats(0.01, 0.99))
def test_posterior_against_scipy(case: tuple[int, int], rate: float) -> None:
    """The posterior probability agrees with scipy's Beta(1 + k, 1 + n - k) survival function to 1e-9."""
    k, n = case
    assert probability_at_least(k, n, rate=rate) == pytest.approx(
        stats.beta.sf(rate, 1 + k, 1 + n - k), abs=1e-9
    )


@given(k_of_n)
def test_binomial_p_against_scipy(case: tuple[int, int]) -> None:
    """The two-sided p agrees with scipy's exact binomial test to a relative 1e-9."""
    k, n = case
    assert two_sided_half(k, n) == pytest.approx(stats.binomtest(k, n, 0.5).pvalue, rel=1e-9)


def test_seven_of_ten_is_thin_evidence() -> None:
    """The arithmetic behind "seven of ten once is not a level": a wide interval and less than an even chance.

    Closed form, worked by hand: P(rate >= 0.7) after 7 of 10 is the chance of at most 7 successes in 11 tries
    at 0.7.
    """
    low, high = wilson_interval(7, 10)
    assert (round(low, 3), round(high, 3)) == (0.397, 0.892)
    assert probability_at_least(7, 10, rate=0.7) == pytest.approx(stats.binom.cdf(7, 11, 0.7), abs=1e-12)
    assert round(probability_at_least(7, 10, rate=0.7), 2) == 0.43
    assert round(probability_at_least(10, 10, rate=0.7), 2) == 0.98


@pytest.mark.parametrize(
    "call",
    [
        lambda: wilson_interval(3, 2),
        lambda: wilson_interval(0, 0),
        lambda: probability_at_least(-1, 2, rate=0.5),
        lambda: two_sided_half(0, 0),
    ],
)
def test_impossible_counts_are_refused(call: object) -> None:
    """More successes than tries, or an interval from no tries, is an error and not a number."""
    with pytest.raises(ValueError, match=r"k of n|no tries|no falls"):
        call()  # type: ignore[operator]
