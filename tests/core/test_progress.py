"""Series and forecasts: what a set says, and what must hold whatever was done."""

from dataclasses import replace
from datetime import date, timedelta
from random import Random

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.planning import SYLLABUS
from tests.core.test_standing import done
from wise_perch.core.progress.forecast import Forecast, find_forecast, say_forecast, to_scale
from wise_perch.core.progress.series import Series, make_series
from wise_perch.core.progress.trend import Observation, day_noise, follow
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side

ON = date(2026, 5, 31)
HOLD = SYLLABUS.drills["free-hold-30"]


def history(
    seed: int, *, weeks: int = 16, start: float = 8.0, growth: float = 0.05, noise: float = 0.15
) -> list[Evidence]:
    """Open sets on two days a week, growing by a share a week, with noisy days; the last three days ago."""
    luck = Random(seed)
    found = []
    for n in range(2 * weeks):
        ago = 3 + 7 * (n // 2) + (3 if n % 2 else 0)
        week = weeks - ago / 7
        value = start * (1 + growth) ** week * 2.718 ** luck.gauss(0, noise)
        found.append(done(HOLD, round(value, 1), ago=ago))
    return found


def forecast_of(pieces: list[Evidence], *, on: date = ON) -> Forecast:
    return find_forecast(make_series(HOLD, pieces), on=on)


def test_what_a_day_says() -> None:
    """The best measured value; a set done as asked is a bound, and only beyond what was measured."""
    series = make_series(
        HOLD,
        [
            done(HOLD, 12, ago=9),
            done(HOLD, 9, ago=9),
            done(HOLD, 10, ago=9, asked=10),
            done(HOLD, 15, ago=5, asked=15),
            done(HOLD, 11, ago=5, asked=15),
            done(HOLD, 40, ago=4, form=Form.LOST),
            done(HOLD, 7, ago=3, measure=Measure.TOUCHES, window_s=15),
            done("free-hold-5", 30, ago=2),
        ],
    )
    assert [(r.day, r.value, r.bound) for r in series.readings] == [
        (ON - timedelta(days=9), 12, False),
        (ON - timedelta(days=5), 11, False),
        (ON - timedelta(days=5), 15, True),
    ]
    assert [r.value for r in series.values] == [12, 11]


def test_sides_and_settings_never_mix() -> None:
    lunge = SYLLABUS.drills["lunge-to-t"]
    left, right = done(lunge, 5, side=Side.LEFT), done(lunge, 3, side=Side.RIGHT)
    assert [r.value for r in make_series(lunge, [left, right], side=Side.RIGHT).readings] == [3]
    wall = SYLLABUS.drills["chest-to-wall-hold"]
    near, far = done(wall, 20, cm=15), done(wall, 50, cm=40)
    assert [r.value for r in make_series(wall, [near, far]).readings] == [20]


@pytest.mark.parametrize(
    ("pieces", "because"),
    [
        ([], "no set measured the best"),
        ([done(HOLD, 10, ago=a, asked=10) for a in range(2, 60, 7)], "no set measured the best"),
        ([done(HOLD, 10, ago=a) for a in (2, 9, 16)], "It takes 3 more days"),
        ([done(HOLD, 10, ago=a) for a in (2, 3, 4, 5, 6, 7)], "6 days within 5 days"),
        ([done(HOLD, 10, ago=a) for a in range(40, 90, 5)], "Not known any more: last measured on 21 Apr"),
    ],
)
def test_nothing_is_said_before_enough_is_known(pieces: list[Evidence], because: str) -> None:
    found = forecast_of(pieces)
    assert (found.known, found.level, found.chances) == (False, None, None)
    assert because in found.because


def test_a_steady_riser_is_seen_rising_and_the_gate_coming() -> None:
    found = forecast_of(history(1))
    assert found.known
    assert found.level
    assert found.chances
    assert found.values
    assert found.weekly
    assert found.weekly > 0
    assert found.level.low < found.level.middle < found.level.high
    assert found.values[26].high - found.values[26].low > found.values[4].high - found.values[4].low
    assert "30 s once:" in say_forecast(found, HOLD.gate)
    still = forecast_of(history(1, growth=0.0))
    assert still.chances
    assert still.chances[26] < found.chances[26]


seeds = st.integers(0, 400)


@given(seeds)
def test_the_chance_never_falls_as_the_horizon_grows(seed: int) -> None:
    found = forecast_of(history(seed, growth=Random(seed).choice([0.0, 0.02, 0.06])))
    assert found.chances
    chances = list(found.chances.values())
    assert chances == sorted(chances)
    assert all(0 <= c <= 1 for c in chances)


@given(seeds, st.integers(1, 900))
def test_shifted_dates_shift_the_forecast(seed: int, days: int) -> None:
    pieces = history(seed)
    later = [replace(p, day=p.day + timedelta(days=days)) for p in pieces]
    assert forecast_of(later, on=ON + timedelta(days=days)) == forecast_of(pieces)


@given(seeds, st.floats(1, 60))
def test_a_set_done_as_asked_never_lowers_a_level(seed: int, asked: float) -> None:
    pieces = history(seed)
    before, after = forecast_of(pieces), forecast_of([*pieces, done(HOLD, asked, ago=1, asked=asked)])
    assert before.level
    assert after.level
    assert after.level.middle >= before.level.middle - 1e-6


@given(seeds)
def test_one_outlier_turns_nothing(seed: int) -> None:
    """One day of three times, or of a third, moves the level by less than a quarter of its log."""
    pieces = history(seed, noise=0.1)
    plain = forecast_of(pieces)
    for factor in (3.0, 1 / 3):
        odd = [replace(p, value=p.value * factor) if n == 3 else p for n, p in enumerate(pieces)]
        moved = forecast_of(odd)
        assert plain.level
        assert moved.level
        assert abs(to_scale(moved.level.middle, HOLD.gate) - to_scale(plain.level.middle, HOLD.gate)) < 0.25


@given(seeds)
def test_more_days_narrow_the_range(seed: int) -> None:
    """The same noisy days seen twice as often leave the level surer."""
    pieces = history(seed, growth=0.0)
    few = [p for n, p in enumerate(pieces) if n % 4 == 0]
    noise = day_noise([to_scale(p.value, HOLD.gate) for p in pieces])

    def spread(some: list[Evidence]) -> float:
        ordered = sorted(some, key=lambda p: p.day)
        seen = [
            Observation(week=(p.day - ordered[0].day).days / 7, z=to_scale(p.value, HOLD.gate))
            for p in ordered
        ]
        trend = follow(seen, noise=noise, until=(ON - ordered[0].day).days / 7)
        return float(trend.weight @ trend.covariance[:, 0, 0])

    assert spread(pieces) < spread(few)


@given(seeds, st.sampled_from([2.0, 10.0]))
def test_units_do_not_matter_to_the_chances_of_a_rate(seed: int, factor: float) -> None:
    """k of n says the same as its multiple says more surely: the middle of it stays within a tenth."""
    rate = SYLLABUS.drills["free-kick-up"]
    luck = Random(seed)
    days = [(3 + 4 * n, luck.randint(2, 8)) for n in range(12)]
    assume(len({k for _, k in days}) > 1)

    def level(times: float) -> float:
        pieces = [done(rate, k * times, ago=ago, n=int(10 * times)) for ago, k in days]
        found = find_forecast(make_series(rate, pieces), on=ON)
        assert found.level
        return found.level.middle

    assert abs(level(factor) - level(1)) < 1.2


def test_an_empty_series_of_another_drill() -> None:
    empty = Series(drill="hang", gate=SYLLABUS.drills["hang"].gate, side=None, readings=())
    assert not find_forecast(empty, on=ON).known
