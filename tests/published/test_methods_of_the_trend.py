"""Rank trends, scores and ranges against general-purpose reference libraries, a closed form, and an open
series.
"""

from datetime import date, timedelta
from math import erf, exp, pi, sqrt

import numpy as np
import pytest
import statsmodels.api as sm
from scipy.stats import kendalltau, theilslopes
from statsmodels.datasets import nile
from statsmodels.tsa.statespace.structural import UnobservedComponents

from bench.forecasts import crps
from wise_perch.core.progress.forecast import PATHS, SEED, find_forecast, to_scale
from wise_perch.core.progress.series import Reading, Series
from wise_perch.core.progress.trend import Observation, day_noise, draw_days, draw_levels, follow
from wise_perch.core.trainee.standing_still import trend_a_week
from wise_perch.syllabus.shipped import built_in

DRILLS = built_in().drills
BEGIN = date(2026, 1, 5)


@pytest.mark.parametrize("seed", range(8))
def test_the_trend_of_a_standstill_is_theil_and_sens(seed: int) -> None:
    """The interval is that of scipy.stats.theilslopes, as shares of the middle level a week (Sen, Estimates
    of the regression coefficient based on Kendall's tau, Journal of the American Statistical Association 63,
    1968).
    """
    dice = np.random.default_rng(seed)
    days = sorted(int(d) for d in dice.choice(90, size=20, replace=False))
    level = 10 + 0.05 * np.array(days) + dice.standard_normal(20)
    found = trend_a_week([BEGIN + timedelta(days=d) for d in days], list(level), interval=0.8)
    weeks = [(d - days[0]) / 7 for d in days]
    theirs = theilslopes(level, weeks, alpha=0.8)
    middle = sorted(level)[10]
    assert found == pytest.approx((theirs.low_slope / middle, theirs.high_slope / middle))


def test_an_interval_without_zero_is_what_kendalls_tau_calls_a_trend() -> None:
    """Where the 80 % interval leaves zero out, Kendall's tau (scipy.stats.kendalltau) gives p below 0.2, and
    the other way round: the two may differ only where p lies at that edge.
    """
    differ = 0
    for seed in range(200):
        dice = np.random.default_rng(seed)
        level = list(12 + dice.uniform(-0.05, 0.05) * np.arange(20) + 0.6 * dice.standard_normal(20))
        found = trend_a_week([BEGIN + timedelta(days=7 * n) for n in range(20)], level, interval=0.8)
        assert found is not None
        p = float(kendalltau(np.arange(20), level).pvalue)
        trend = found[0] > 0 or found[1] < 0
        if trend != (p < 0.2):
            differ += 1
            assert abs(p - 0.2) < 0.06, (seed, p, found)
    assert differ <= 10


def test_the_score_is_the_closed_form_of_a_normal() -> None:
    """The CRPS of draws comes to that of their distribution (Gneiting and Raftery, Strictly proper scoring
    rules, prediction, and estimation, Journal of the American Statistical Association 102, 2007): for a
    normal distribution s * (z * (2 * Phi(z) - 1) + 2 * phi(z) - 1 / sqrt(pi)).
    """
    draws = 3 + 2 * np.random.default_rng(7).standard_normal(40_000)
    for came in (-2.0, 1.0, 3.0, 6.5):
        z = (came - 3) / 2
        closed = 2 * (z * erf(z / sqrt(2)) + 2 * exp(-z * z / 2) / sqrt(2 * pi) - 1 / sqrt(pi))
        assert crps(draws, came) == pytest.approx(closed, abs=0.02)


@pytest.mark.parametrize(("k", "n"), [(0, 10), (3, 10), (7, 10), (10, 10), (2, 15)])
def test_the_scale_of_single_tries_is_that_of_a_logistic_fit(k: int, n: int) -> None:
    """k of n with half a success and half a failure more, as statsmodels' binomial model fits it: the same
    logit and the same standard error.
    """
    weights = np.array([k + 0.5, n - k + 0.5])
    model = sm.GLM(np.array([1.0, 0.0]), np.ones((2, 1)), family=sm.families.Binomial(), freq_weights=weights)
    fit = model.fit()
    gate = DRILLS["free-hold-10"].gate
    assert to_scale(k, gate, n=n) == pytest.approx(float(fit.params[0]), abs=1e-6)
    assert sqrt(1 / (k + 0.5) + 1 / (n - k + 0.5)) == pytest.approx(float(fit.bse[0]), rel=1e-6)


def flow() -> np.ndarray:
    """The flow of the Nile at Aswan, 1871 to 1970, 10^8 m^3 a year (Cobb, The problem of the Nile, Biometrika
    65, 1978), as statsmodels carries it.
    """
    found: np.ndarray = nile.load().data["volume"].to_numpy(float)
    return found


def test_on_an_open_series_it_follows_as_a_fitted_model_does() -> None:
    """The Nile falls once and for all about 1899 (Durbin and Koopman, Time series analysis by state space
    methods, 2012, value from memory). Our level, whose settings are averaged and never fitted, ends near that
    of a local level model fitted by maximum likelihood on the same scale, and saw the same fall.
    """
    z = np.log1p(flow())
    fitted = UnobservedComponents(z, "local level").fit(disp=False)
    theirs = fitted.filtered_state[0]
    for year in (27, 45, 99):
        seen = z[: year + 1]
        ours = follow(
            [Observation(week=float(n), z=float(v)) for n, v in enumerate(seen)],
            noise=day_noise(list(seen)),
            until=float(year),
        )
        assert ours.level == pytest.approx(float(theirs[year]), abs=0.08), year
    assert theirs[45] < theirs[27] - 0.1


def test_its_ranges_hold_on_an_open_series() -> None:
    """One to eight years ahead of the Nile, from every year on: the 80 % range of a year's flow holds about
    so often, though nothing was set on it.
    """
    z, held = np.log1p(flow()), []
    for year in range(20, 92):
        seen = z[:year]
        trend = follow(
            [Observation(week=float(n), z=float(v)) for n, v in enumerate(seen)],
            noise=day_noise(list(seen)),
            until=float(year - 1),
        )
        drawn = draw_days(trend, draw_levels(trend, weeks=8, paths=PATHS, seed=SEED), days=1, seed=SEED)[0]
        for ahead in (1, 4, 8):
            low, high = np.quantile(drawn[:, ahead - 1], (0.1, 0.9))
            held.append(bool(low <= z[year + ahead - 1] <= high))
    assert 0.7 <= float(np.mean(held)) <= 0.92


def test_a_worked_example() -> None:
    """Two values at one moment, by hand: the mean of a Kalman filter's step is prior + K * (value - prior)
    with K = P / (P + R) (Kalman, A new approach to linear filtering and prediction problems, Journal of Basic
    Engineering 82, 1960). P = 1 and R = 0.2^2 give K = 0.9615, which leaves P = 0.0385, and so K = 0.4902.
    """
    ours = follow([Observation(week=0.0, z=2.0), Observation(week=0.0, z=3.0)], noise=0.2, until=0.0)
    first_gain = 1.0 / (1.0 + 0.04)
    left = 1.0 - first_gain
    second_gain = left / (left + 0.04)
    # the second value comes as a surprise beyond 2.5 standard deviations, and pulls no harder than that
    surprise = min(3.0 - 2.0, 2.5 * sqrt(left + 0.04))
    assert ours.level == pytest.approx(2.0 + second_gain * surprise, abs=1e-12)


def test_chances_are_those_of_a_share_where_nothing_moves() -> None:
    """Single tries that neither rise nor fall, many of them: the chance that ten come to seven once is that
    of the binomial distribution, day by day, within what the level leaves open.
    """
    drill = DRILLS["free-hold-10"]
    readings = tuple(Reading(day=BEGIN + timedelta(days=3 * n), value=3.0, n=10) for n in range(60))
    found = find_forecast(
        Series(drill=drill.drill, gate=drill.gate, side=None, readings=readings),
        on=readings[-1].day,
    )
    assert found.known
    assert found.level is not None
    assert found.level.low <= 3.0 <= found.level.high
    assert found.chances is not None
    # binomial: P(at least 7 of 10 at p = 0.3) = 0.0106 a day, on two days a week over four weeks
    at_least = 1 - (1 - 0.0106) ** 8
    assert 0.5 * at_least <= found.chances[4] <= 5 * at_least
