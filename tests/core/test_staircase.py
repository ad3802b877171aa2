"""The staircase of a dial and the limit it tells of."""

from datetime import date
from random import Random

import numpy as np
import pytest
from scipy.integrate import quad

from wise_perch.core.dose.staircase import StaircaseSet, estimate_limit, find_direction

DAY = date(2026, 5, 1)


def trial(setting: float, passed: bool | None) -> StaircaseSet:
    return StaircaseSet(setting=setting, passed=passed, day=DAY)


@pytest.mark.parametrize(
    ("tries", "way"),
    [([True], 1), ([False], -1), ([None], 0), ([True, False], -1), ([True, None], 1), ([], 0)],
)
def test_which_way_the_dial_goes(tries: list[bool | None], way: int) -> None:
    """Clean goes harder, a miss easier, and a day with both easier."""
    assert find_direction([trial(20, t) for t in tries]) == way


def test_nothing_told_is_no_limit() -> None:
    """Neither pass nor miss leaves the limit open."""
    assert estimate_limit([trial(20, None)], step=5, least=0, most=40, harder_up=False) is None


@pytest.mark.parametrize("harder_up", [False, True])
def test_the_limit_agrees_with_integrating_the_posterior(harder_up: bool) -> None:
    """Median and band are those of the posterior integrated by scipy, within half a per cent of the dial."""
    tries = [trial(30, True), trial(20, True), trial(10, False), trial(15, True), trial(12, None)]
    if harder_up:
        tries = [StaircaseSet(setting=40 - t.setting, passed=t.passed, day=DAY) for t in tries]
    found = estimate_limit(tries, step=5, least=0, most=40, harder_up=harder_up)
    assert found is not None

    def weight(at: float) -> float:
        sign = 1 if harder_up else -1
        return float(
            np.prod(
                [
                    1 / (1 + np.exp((1 if t.passed else -1) * sign * (t.setting - at) / 2.5))
                    for t in tries
                    if t.passed is not None
                ]
            )
        )

    whole = quad(weight, -5, 45, limit=200)[0]
    for place, share in (
        (found.setting, 0.5),
        (min(found.easy_end, found.hard_end), 0.1),
        (max(found.easy_end, found.hard_end), 0.9),
    ):
        assert quad(weight, -5, place, limit=200)[0] / whole == pytest.approx(share, abs=0.012)
    assert found.n == 4


def test_more_sets_narrow_the_band_around_the_truth() -> None:
    """Drawn from a true limit of 12 cm, forty sets find it within a step and with a narrower band than
    four.
    """
    dice = Random(5)

    def draw(n: int) -> list[StaircaseSet]:
        settings = [dice.choice([5, 10, 15, 20, 25]) for _ in range(n)]
        return [trial(s, dice.random() < 1 / (1 + np.exp(-(s - 12) / 2.5))) for s in settings]

    few, many = (estimate_limit(draw(n), step=5, least=0, most=40, harder_up=False) for n in (4, 40))
    assert few is not None
    assert many is not None
    assert abs(many.setting - 12) < 5
    assert many.easy_end - many.hard_end < few.easy_end - few.hard_end
