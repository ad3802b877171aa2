"""A dial as a staircase: a few clean reps go one step harder, a miss one step easier; and where the limit is
by now.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

GRID = 401
"""So many places are tried for the limit."""
BAND = (0.1, 0.9)
"""The band given beside a limit holds it with 80 %. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StaircaseSet:
    """What was done at one setting on one day: enough clean reps (True), a miss (False), or neither
    (None).
    """

    setting: float
    passed: bool | None
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class DialEstimate:
    """The present limit of a dial, in its unit: the median and the ends of the 80 % band, from `n` sets."""

    setting: float
    easy_end: float
    hard_end: float
    n: int


def estimate_limit(
    trials: Iterable[StaircaseSet], *, step: float, least: float, most: float, harder_up: bool
) -> DialEstimate | None:
    """Estimate the hardest setting that goes well half of the time.

    A logistic curve over the setting, half a step wide, with every place of the dial as likely before the
    first set (a flat prior); the posterior is summed on a grid. None without a pass or miss.

    Args: `step`, `least`, `most` of the dial, in its unit; `harder_up`: a greater setting is harder.
    """
    told = [t for t in trials if t.passed is not None]
    if not told:
        return None
    sign = 1.0 if harder_up else -1.0
    at = np.linspace(least - step, most + step, GRID)
    log = np.zeros(GRID)
    for t in told:
        # how far the setting is beyond the limit, in widths
        beyond = sign * (t.setting - at) / (step / 2)
        log -= np.logaddexp(0, beyond if t.passed else -beyond)
    weight = np.exp(log - log.max())
    below = np.cumsum(weight) / weight.sum()
    low, middle, high = (float(np.interp(p, below, at)) for p in (BAND[0], 0.5, BAND[1]))
    ends = (low, high) if harder_up else (high, low)
    return DialEstimate(setting=middle, easy_end=ends[0], hard_end=ends[1], n=len(told))


def find_direction(trials: Sequence[StaircaseSet]) -> int:
    """Say which way the dial goes after the newest day's trials at its hardest setting: 1 harder, -1 easier,
    0 stays.

    A miss weighs more than a pass: nobody goes harder on a day with both.
    """
    passed = [t.passed for t in trials]
    return -1 if False in passed else 1 if True in passed else 0
