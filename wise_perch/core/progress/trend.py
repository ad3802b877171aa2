"""Where a measure is, where it is going, and how surely: a damped local linear trend.

After Gardner and McKenzie, Forecasting trends in time series, Management Science 31, 1985 (value from
memory), as a state space model with its settings averaged by their likelihood; large surprises count less
(Huber).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from itertools import product
from math import erfc, sqrt

import numpy as np
import numpy.typing as npt

Numbers = npt.NDArray[np.float64]
LEVELS, SLOPES, DAMPINGS = (0.01, 0.03, 0.06), (0.001, 0.004, 0.012), (0.85, 0.97)
"""The settings that are averaged: how far level and slope wander a week, and how much of a slope stays."""
PRIOR_LEVEL_SD, PRIOR_SLOPE_SD = 1.0, 0.06
"""Before anything is known: the level within a unit of the first value, no slope, a week."""
SURPRISE = 2.5
"""Beyond so many standard deviations a value pulls no harder."""
USUAL_NOISE, NOISE_WEIGHT = 0.15, 4
"""How much days differ as a rule, and how many differences that is worth."""
MEDIAN_DIFFERENCE = 0.9539
"""The median absolute difference of two draws of a normal distribution, in its standard deviations."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Observation:
    """A value on the working scale at a time in weeks. `sd`: its own, beside that of days; `bound`: it is at
    least so much.
    """

    week: float
    z: float
    sd: float = 0.0
    bound: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Trend:
    """What is known at a time, by every setting: `weight`, mean and covariance of level and slope; `noise` of
    a day.
    """

    weight: Numbers
    mean: Numbers
    covariance: Numbers
    noise: float

    @property
    def level(self) -> float:
        """The level, on the working scale."""
        return float(self.weight @ self.mean[:, 0])

    @property
    def slope(self) -> float:
        """The change in the coming week, on the working scale."""
        return float(self.weight @ self.mean[:, 1])

    @property
    def rising(self) -> float:
        """The chance that it rises, by the slope as every setting knows it."""
        spread = np.sqrt(np.maximum(self.covariance[:, 1, 1], 1e-18))
        chances = [erfc(-m / (s * sqrt(2))) / 2 for m, s in zip(self.mean[:, 1], spread, strict=True)]
        return float(self.weight @ np.array(chances))


@cache
def settings() -> Numbers:
    """All settings, one a row: level, slope, damping."""
    return np.array(list(product(LEVELS, SLOPES, DAMPINGS)))


def day_noise(values: Sequence[float], *, own: Sequence[float] = ()) -> float:
    """How much days differ, from the median absolute difference of neighbours, drawn toward the usual.
    `own`: what values vary by themselves, as a count of tries does, which is no difference of days.
    """
    steps = np.abs(np.diff(np.asarray(values, float)))
    found = float(np.median(steps)) / MEDIAN_DIFFERENCE if len(steps) else USUAL_NOISE
    of_days = max(0.0, found**2 - (float(np.mean(np.square(own))) if len(own) else 0.0))
    n = len(steps)
    return float(np.sqrt((n * of_days + NOISE_WEIGHT * USUAL_NOISE**2) / (n + NOISE_WEIGHT)))


def step(mean: Numbers, covariance: Numbers, weeks: float) -> tuple[Numbers, Numbers]:
    """Go on by some weeks, for every setting at once."""
    ql, qs, phi = settings().T
    kept = phi**weeks
    carried = (1 - kept) / (1 - phi)
    go = np.zeros_like(covariance)
    go[:, 0, 0], go[:, 0, 1], go[:, 1, 1] = 1, carried, kept
    wander = np.zeros_like(covariance)
    wander[:, 0, 0], wander[:, 1, 1] = ql**2 * weeks, qs**2 * weeks
    return np.einsum("kij,kj->ki", go, mean), go @ covariance @ go.transpose(0, 2, 1) + wander


def follow(observations: Sequence[Observation], *, noise: float, until: float) -> Trend:
    """Follow a measure through its observations to a time, all settings side by side.

    A bound pulls up what lies below it and never down; what a setting foretold well counts more.
    """
    many = len(settings())
    first = next((o for o in observations if not o.bound), observations[0])
    mean = np.tile([first.z, 0.0], (many, 1))
    covariance = np.tile(np.diag([PRIOR_LEVEL_SD**2, PRIOR_SLOPE_SD**2]), (many, 1, 1))
    likelihood, now = np.zeros(many), observations[0].week
    for o in observations:
        if o.week > now:
            mean, covariance = step(mean, covariance, o.week - now)
            now = o.week
        own = noise**2 + o.sd**2
        spread = covariance[:, 0, 0] + own
        surprise = o.z - mean[:, 0]
        if o.bound:
            surprise = np.maximum(surprise, 0.0)
        else:
            likelihood -= 0.5 * (np.log(spread) + np.minimum(surprise**2 / spread, SURPRISE**2))
        pull = np.minimum(1.0, SURPRISE * np.sqrt(spread) / np.maximum(np.abs(surprise), 1e-12))
        gain = covariance[:, :, 0] / spread[:, None]
        mean = mean + gain * (pull * surprise)[:, None]
        if not o.bound:
            covariance = covariance - gain[:, :, None] * covariance[:, None, 0, :]
    if until > now:
        mean, covariance = step(mean, covariance, until - now)
    weight = np.exp(likelihood - likelihood.max())
    return Trend(weight=weight / weight.sum(), mean=mean, covariance=covariance, noise=noise)


def draw_levels(trend: Trend, *, weeks: int, paths: int, seed: int) -> Numbers:
    """The level of the coming weeks along paths drawn from all settings by their weight, the same for the
    same seed: paths x weeks, on the working scale.
    """
    dice = np.random.default_rng(seed)
    chosen = dice.choice(len(trend.weight), size=paths, p=trend.weight)
    ql, qs, phi = settings()[chosen].T
    root = np.linalg.cholesky(trend.covariance + 1e-12 * np.eye(2))[chosen]
    state = trend.mean[chosen] + np.einsum("kij,kj->ki", root, dice.standard_normal((paths, 2)))
    level, slope = state.T
    levels = np.empty((paths, weeks))
    for w in range(weeks):
        level = level + slope + ql * dice.standard_normal(paths)
        slope = phi * slope + qs * dice.standard_normal(paths)
        levels[:, w] = level
    return levels


def draw_days(trend: Trend, levels: Numbers, *, days: int, seed: int) -> Numbers:
    """So many days of every week along each path: days x paths x weeks of a day's figure."""
    noise = np.random.default_rng(seed + 1).standard_normal((days, *levels.shape))
    found: Numbers = levels + trend.noise * noise
    return found
