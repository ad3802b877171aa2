"""How likely a gate falls within some weeks, and where its measure will be: a range, never a promise."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import exp, expm1, log, log1p, sqrt

import numpy as np

from wise_perch.core.progress.series import Reading, Series
from wise_perch.core.progress.trend import Numbers, Observation, day_noise, draw_days, draw_levels, follow
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Gate, say_amount
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.wall import State

HORIZONS = (4, 8, 12, 26)
"""Weeks that are looked ahead."""
PATHS, SEED = 400, 20260101
LOW, HIGH, OF_FIVE_FOUR = 0.1, 0.9, 1.2816
"""The range that four of five futures fall in, and its half in standard deviations."""
LEAST_DAYS, LEAST_SPAN_DAYS, STALE_AFTER_DAYS = 6, 21, 28
"""So many days that measured the best, over so many days, the last no older: else nothing is known. Ours."""
WEEK_DAYS, RECENT_WEEKS = 7, 8
RAYS_AT, RAYS_TO = (0.1, 0.3, 0.5, 0.7, 0.9), 12
EVEN, SAME_Z, HARDLY = 0.5, 1e-9, 0.01


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """Low, middle and high of a figure, in the gate's unit: four of five fall between low and high."""

    low: float
    middle: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Ray:
    """Where a day's best may lie in a week from now: one of ten, three, five, seven and nine of ten lie
    below.
    """

    week: int
    lows: tuple[float, float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Forecast:
    """What is known of a measure and where it goes. `because` says why nothing is, and what would make it
    known. `weekly`: the change of the coming week; `rising`: the chance that it rises at all; `chances` of
    the gate falling within so many weeks, `twice` of it falling on two days; `even_in`: the week in which it
    has as likely fallen as not, if any; `values` of a day's best then. All in the gate's unit; for a rate as
    k of its n.
    """

    known: bool
    because: str = ""
    level: Band | None = None
    weekly: float | None = None
    rising: float | None = None
    chances: Mapping[int, float] | None = None
    twice: Mapping[int, float] | None = None
    even_in: int | None = None
    values: Mapping[int, Band] | None = None
    rays: tuple[Ray, ...] = ()


def find_forecast(series: Series, *, on: date) -> Forecast:
    """Forecast a drill's gate from its series as it stands on a day."""
    seen = [r for r in series.readings if r.day <= on]
    if because := why_unknown([r for r in seen if not r.bound], on=on):
        return Forecast(known=False, because=because)
    gate, first = series.gate, seen[0].day
    observed = [_observe(r, gate, first) for r in seen]
    noise = day_noise([o.z for o in observed if not o.bound], own=[o.sd for o in observed if not o.bound])
    trend = follow(observed, noise=noise, until=(on - first).days / WEEK_DAYS)
    spread = sqrt(float(trend.weight @ (trend.covariance[:, 0, 0] + (trend.mean[:, 0] - trend.level) ** 2)))
    levels = draw_levels(trend, weeks=max(HORIZONS), paths=PATHS, seed=SEED)
    drawn = draw_days(trend, levels, days=days_a_week(seen, on), seed=SEED)
    if gate.measure is Measure.RATE and gate.of:
        drawn = _tried(drawn, gate.of)
    reach = OF_FIVE_FOUR * spread
    fell = (drawn >= to_scale(gate.value, gate) - SAME_Z).sum(axis=0).cumsum(axis=1)
    even = np.flatnonzero((fell >= 1).mean(axis=0) >= EVEN)
    return Forecast(
        known=True,
        level=_band(trend.level - reach, trend.level, trend.level + reach, gate),
        weekly=_figure(trend.level + trend.slope, gate) - _figure(trend.level, gate),
        rising=trend.rising,
        chances={w: float((fell[:, w - 1] >= 1).mean()) for w in HORIZONS},
        twice={w: float((fell[:, w - 1] >= 2).mean()) for w in HORIZONS},
        even_in=int(even[0]) + 1 if len(even) else None,
        values={w: _band_of(drawn[0][:, w - 1], gate) for w in HORIZONS},
        rays=_rays(levels, noise, gate),
    )


def _tried(drawn: Numbers, n: int) -> Numbers:
    """Days of single tries: so many of n as come of a rate, which vary by chance too."""
    dice = np.random.default_rng(SEED)
    k = dice.binomial(n, 1 / (1 + np.exp(-drawn)))
    tried: Numbers = np.log((k + 0.5) / (n - k + 0.5))
    return tried


def _rays(levels: Numbers, noise: float, gate: Gate) -> tuple[Ray, ...]:
    """Where a day may lie in each of the coming weeks. The luck of a day is drawn once along each path, so
    that a ray is as smooth as what it says.
    """
    luck = np.random.default_rng(SEED + 2).standard_normal(len(levels))
    found = []
    for week in range(1, RAYS_TO + 1):
        level = levels[:, week - 1]
        spread = np.full(len(level), noise)
        if gate.measure is Measure.RATE and gate.of:
            k = gate.of / (1 + np.exp(-level))
            spread = np.sqrt(noise**2 + 1 / (k + 0.5) + 1 / (gate.of - k + 0.5))
        lows = sorted(_figure(float(z), gate) for z in np.quantile(level + spread * luck, RAYS_AT))
        found.append(Ray(week=week, lows=(lows[0], lows[1], lows[2], lows[3], lows[4])))
    return tuple(found)


def why_unknown(values: Sequence[Reading], *, on: date) -> str:
    """Why nothing can be said yet, with what would make it known; empty where enough is known."""
    days = sorted({r.day for r in values})
    if not days:
        return f"Not known yet: no set measured the best. It takes {LEAST_DAYS} days of open sets or tests."
    if (on - days[-1]).days > STALE_AFTER_DAYS:
        return (
            f"Not known any more: last measured on {say_day(days[-1], on)}. One open set or test makes it"
            " known again."
        )
    missing = LEAST_DAYS - len(days)
    if missing > 0:
        more = f"{missing} more day{'s' if missing > 1 else ''}"
        return f"Not known yet: measured on {len(days)} day{'s' if len(days) > 1 else ''}. It takes {more}."
    span = (days[-1] - days[0]).days
    if span < LEAST_SPAN_DAYS:
        there = days[0] + timedelta(days=LEAST_SPAN_DAYS)
        return (
            f"Not known yet: {len(days)} days within {span} days. One more measured on {say_day(there, on)}"
            " or later makes it known."
        )
    return ""


def _observe(r: Reading, gate: Gate, first: date) -> Observation:
    week = (r.day - first).days / WEEK_DAYS
    z = to_scale(r.value, gate, n=r.n)
    n = r.n or gate.of
    if gate.measure is Measure.RATE and n:
        return Observation(
            week=week, z=z, sd=sqrt(1 / (r.value + 0.5) + 1 / (n - r.value + 0.5)), bound=r.bound
        )
    return Observation(week=week, z=z, bound=r.bound)


def to_scale(value: float, gate: Gate, *, n: int | None = None) -> float:
    """A figure on the working scale, where more is better: log(1 + y), or the logit of k of n."""
    many = n or gate.of
    if gate.measure is Measure.RATE and many:
        return log((value + 0.5) / (many - value + 0.5))
    return _sign(gate) * log1p(max(0.0, value))


def _figure(z: float, gate: Gate) -> float:
    """A figure of the working scale in the gate's unit; k of the gate's own n for a rate."""
    if gate.measure is Measure.RATE and gate.of:
        return max(0.0, min(float(gate.of), (gate.of + 1) / (1 + exp(-z)) - 0.5))
    return max(0.0, expm1(_sign(gate) * z))


def _sign(gate: Gate) -> int:
    return -1 if gate.fewer else 1


def _band(low: float, middle: float, high: float, gate: Gate) -> Band:
    found = sorted(_figure(z, gate) for z in (low, high))
    return Band(low=found[0], middle=_figure(middle, gate), high=found[1])


def _band_of(draws: Numbers, gate: Gate) -> Band:
    low, middle, high = (float(q) for q in np.quantile(draws, (LOW, 0.5, HIGH)))
    return _band(low, middle, high, gate)


def days_a_week(seen: Sequence[Reading], on: date) -> int:
    """On how many days a week it was worked in the last eight weeks, one at least."""
    begin = on - timedelta(weeks=RECENT_WEEKS)
    recent = {r.day for r in seen if r.day > begin}
    if not recent:
        return 1
    weeks = max(1.0, (on - min(recent)).days / WEEK_DAYS)
    return min(WEEK_DAYS, max(1, round(len(recent) / weeks)))


def say_ahead(found: Forecast, gate: Gate, state: State) -> str:
    """A forecast as it stands beside a drill: nothing lies ahead of what is met."""
    return "" if state in (State.MET, State.PROVEN) else say_forecast(found, gate)


def say_forecast(found: Forecast, gate: Gate) -> str:
    """A forecast as it is said: where it is now, and the chances."""
    if not found.known or found.level is None or found.chances is None:
        return found.because
    at = say_amount(told_value(found.level.middle, gate), gate.measure, gate.of)
    last = max(found.chances)
    if found.chances[last] < HARDLY:
        return f"About {at} now. {gate.amount} once: under 1 % within {last} weeks."
    told = ", ".join(f"{say_chance(c)} within {w}" for w, c in found.chances.items())
    return f"About {at} now. {gate.amount} once: {told} weeks."


def say_chance(chance: float) -> str:
    """A chance without decimals; what is hardly so, or nearly sure, is never said to be so."""
    if chance < HARDLY:
        return "under 1 %"
    return "over 99 %" if chance > 1 - HARDLY else f"{round(100 * chance)} %"


@dataclass(frozen=True, slots=True, kw_only=True)
class Chance:
    """A chance from 0 to 1, and as it is said."""

    chance: float
    said: str


def said_chances(chances: Mapping[int, float] | None) -> dict[int, Chance]:
    """Chances by their weeks, each as it is said."""
    return {w: Chance(chance=c, said=say_chance(c)) for w, c in (chances or {}).items()}


def told_value(value: float, gate: Gate) -> float:
    """A figure in steps a coach can use: half seconds, whole reps and centimetres."""
    return round(2 * value) / 2 if gate.measure in (Measure.HOLD, Measure.LOWERING) else float(round(value))
