"""Statistics of two runs, against published worked examples and general-purpose reference libraries."""

import math

import numpy as np
import pytest
from scipy import stats
from scipy.integrate import quad
from statsmodels.stats.proportion import confint_proportions_2indep

from wise_perch.core.bench.compare import (
    bootstrap_difference,
    fisher_p,
    newcombe,
    permutation_p,
    probability_greater,
)

PAIRS = [
    (0, 10, 0, 10),
    (0, 10, 10, 10),
    (7, 10, 6, 10),
    (1, 10, 9, 10),
    (3, 8, 9, 12),
    (10, 10, 7, 10),
    (2, 3, 1, 7),
]


# Fisher, R. A. (1935), The Design of Experiments, chapter 2: the lady tasting tea (value from memory)
def test_the_lady_tasting_tea() -> None:
    """Of eight cups, four each way, three right of four: two-sided p is 34/70; four right of four: 2/70."""
    assert fisher_p(1, 4, 3, 4) == pytest.approx(34 / 70, abs=1e-12)
    assert fisher_p(0, 4, 4, 4) == pytest.approx(2 / 70, abs=1e-12)


# the hypergeometric distribution written out: the sum of all tables no likelier than the one seen
@pytest.mark.parametrize(("k1", "n1", "k2", "n2"), PAIRS)
def test_fisher_against_the_distribution(k1: int, n1: int, k2: int, n2: int) -> None:
    """Fisher's p is the sum over all tables with the same margins that are no likelier."""
    tables = stats.hypergeom(n1 + n2, k1 + k2, n1)
    seen = tables.pmf(k1)
    total = sum(p for k in range(n1 + 1) if (p := tables.pmf(k)) <= seen * (1 + 1e-7))
    assert fisher_p(k1, n1, k2, n2) == pytest.approx(total, abs=1e-9)


# Newcombe, R. G. (1998), Statistics in Medicine 17, 873-890, table II, method 10: 56/70 less 48/80 gives
# 0.0524 to 0.3339 (value from memory)
def test_newcombes_own_example() -> None:
    """The published interval of the difference of 56/70 and 48/80."""
    low, high = newcombe(48, 80, 56, 70)
    assert (round(low, 4), round(high, 4)) == (0.0524, 0.3339)


# statsmodels, confint_proportions_2indep(method="newcomb")
@pytest.mark.parametrize(("k1", "n1", "k2", "n2"), PAIRS)
def test_newcombe_against_statsmodels(k1: int, n1: int, k2: int, n2: int) -> None:
    """The interval agrees with the reference library to 1e-9."""
    assert newcombe(k1, n1, k2, n2) == pytest.approx(
        confint_proportions_2indep(k2, n2, k1, n1, method="newcomb", compare="diff"), abs=1e-9
    )


# the double integral over both posteriors, done numerically
@pytest.mark.parametrize(("k1", "n1", "k2", "n2"), PAIRS)
def test_the_chance_of_higher_against_integration(k1: int, n1: int, k2: int, n2: int) -> None:
    """The chance that the second rate is higher is the integral of its density times the first's
    distribution.
    """
    first, second = stats.beta(1 + k1, 1 + n1 - k1), stats.beta(1 + k2, 1 + n2 - k2)
    area, _ = quad(lambda x: second.pdf(x) * first.cdf(x), 0, 1, epsabs=1e-12)
    assert probability_greater(k1, n1, k2, n2) == pytest.approx(area, abs=1e-9)


# scipy.stats.permutation_test, exact over all arrangements
@pytest.mark.parametrize(
    ("a", "b"),
    [
        ([1.0, 2.0, 3.0], [4.0, 5.0, 6.0]),
        ([2.2, 2.2, 9.1, 4.0], [3.1, 8.0, 8.0]),
        ([5.0, 5.5], [6.0, 7.0]),
        ([10, 10, 10], [10, 10, 9.5]),
    ],
)
def test_permutation_against_scipy(a: list[float], b: list[float]) -> None:
    """The exact permutation p of a difference of means agrees with the reference library."""
    found = stats.permutation_test(
        (a, b),
        lambda x, y, axis: np.abs(np.mean(x, axis) - np.mean(y, axis)),
        vectorized=True,
        n_resamples=math.inf,
        alternative="greater",
    )
    assert permutation_p(a, b) == pytest.approx(found.pvalue, abs=1e-9)


# scipy.stats.bootstrap, percentile method; both resample, so they agree within the scatter of 9999 draws
def test_bootstrap_against_scipy() -> None:
    """The percentile interval agrees with the reference library's within 2 % of its width."""
    a, b = (
        [3.1, 4.0, 2.2, 6.5, 5.0, 4.4, 3.8, 2.9, 5.5, 4.1],
        [6.1, 7.0, 4.2, 9.5, 8.0, 5.4, 6.8, 7.9, 6.5, 7.1],
    )
    low, high = bootstrap_difference(a, b)
    found = stats.bootstrap(
        (b, a),
        lambda x, y, axis: np.mean(x, axis) - np.mean(y, axis),
        vectorized=True,
        method="percentile",
        n_resamples=9999,
        rng=1,
    )
    width = found.confidence_interval.high - found.confidence_interval.low
    assert low == pytest.approx(found.confidence_interval.low, abs=0.04 * width)
    assert high == pytest.approx(found.confidence_interval.high, abs=0.04 * width)
