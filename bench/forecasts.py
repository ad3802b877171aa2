"""Forecasts against what came: histories that go on past the gate, cut off, and looked ahead from.

Invented ones of five kinds (steady, saturating, plateau, pause, noisy), and lives of the rehearsal's world
(ten kinds of trainee, each seed a world of its own, trained on as they were); four lengths. Beside ours: no
change, the last slope, and Theil and Sen's slope with resampled residuals. Dates by the pinball loss of their
quantiles and by CRPS, in weeks; dates, and values 2 to 12 weeks ahead, by the share that fell into the 80 %
range. Dates come in whole weeks, and whatever never comes is one of them: where the range's end falls into
such a week the rank is drawn within it, so that a range that says "26 weeks or never" is not always right.

    PYTHONPATH=. python -m bench.forecasts [HISTORIES] [FIRST SEED]
"""

import sys
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import exp, log1p
from time import perf_counter

import numpy as np
import numpy.typing as npt
from scipy.stats import theilslopes

from bench.rehearsal import KINDS as TRAINEES
from bench.rehearsal import begin
from wise_perch.core.progress.forecast import PATHS, SEED, days_a_week, find_forecast, to_scale
from wise_perch.core.progress.series import Reading, Series
from wise_perch.core.progress.trend import Observation, day_noise, draw_days, draw_levels, follow
from wise_perch.core.rehearsal.learner import Learner
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Measure
from wise_perch.syllabus.shipped import built_in

Numbers = npt.NDArray[np.float64]
KINDS = ("steady", "saturating", "plateau", "pause", "noisy")
LENGTHS = (5, 10, 18, 30)
AHEAD = 26
QUANTILES = (0.1, 0.3, 0.5, 0.7, 0.9)
START = date(2025, 1, 6)
DRILL = built_in().drills["free-hold-30"]


@dataclass(frozen=True)
class History:
    """Readings in weeks from the start, the length they are cut at, and the week the gate fell after it."""

    kind: str
    weeks: Numbers
    z: Numbers
    cut: int
    gate: float
    fell: float


def invent(kind: str, cut: int, seed: int) -> History:
    """One history: two or three days a week, half a year beyond the cut; a gate that lies ahead then."""
    dice = np.random.default_rng(seed)
    growth = dice.uniform(0.01, 0.06)
    noise = dice.uniform(0.25, 0.35) if kind == "noisy" else dice.uniform(0.08, 0.2)
    begin = log1p(dice.uniform(4, 15))
    days = np.sort(dice.choice(7 * (cut + AHEAD), size=int(2.4 * (cut + AHEAD)), replace=False)) / 7
    if kind == "pause":
        gap = dice.uniform(0.3, 0.8) * cut
        days = days[(days < gap) | (days > gap + 3)]
    if kind == "saturating":
        level = begin + growth * 15 * (1 - np.exp(-days / 15))
    elif kind == "plateau":
        level = begin + growth * np.minimum(days, dice.uniform(0.5, 1.2) * cut)
    else:
        level = begin + growth * days
    z = level + noise * dice.standard_normal(len(days))
    return cut_off(kind, days, z, cut, ahead=dice.uniform(0.1, 0.5))


def cut_off(kind: str, days: Numbers, z: Numbers, cut: int, *, ahead: float) -> History:
    """A history cut off after some weeks, with a gate so far `ahead` of its last days, and when it fell."""
    gate = float(np.median(z[days <= cut][-6:]) + ahead)
    after = np.flatnonzero((days > cut) & (z >= gate))
    fell = float(days[after[0]] - cut) if len(after) and days[after[0]] <= cut + AHEAD else float(AHEAD)
    return History(kind, days, z, cut, gate, fell)


def live(name: str, cut: int, seed: int) -> History | None:
    """A life of the rehearsal's world: one drill of holding, worked on every training day, measured open. A
    third of them stay away for three weeks. None where this kind has no such drill.
    """
    kind = TRAINEES[name]
    learner, _ = begin(kind, name, seed)
    dice = np.random.default_rng(seed)
    drills = [
        d for _, _, d in learner.syllabus.placed() if d.gate.measure is Measure.HOLD and is_ahead(learner, d)
    ]
    if not drills:
        return None
    drill = drills[int(dice.integers(len(drills)))]
    away = range(w := int(dice.integers(1, cut)), w + 3) if dice.random() < 1 / 3 else range(0)
    days: list[float] = []
    z: list[float] = []
    last: date | None = None
    for n in range(7 * (cut + AHEAD)):
        if n % 7 not in kind.days or n // 7 in away:
            continue
        today = START + timedelta(days=n)
        learner.wake(today, since=last)
        last = today
        value, _ = learner.measure(drill)
        learner.learn(drill, [1.0, 0.7, 0.7], today)
        days.append(n / 7)
        z.append(to_scale(value, drill.gate))
    return cut_off("rehearsed", np.array(days), np.array(z), cut, ahead=dice.uniform(0.1, 0.5))


def is_ahead(learner: Learner, drill: Drill) -> bool:
    """Whether a drill goes somewhat and has far to go yet."""
    return drill.dial is None and 0.1 <= learner.fill(drill) <= 0.5


def known(h: History) -> tuple[Numbers, Numbers]:
    """What was seen when it was cut off."""
    past = h.weeks <= h.cut
    return h.weeks[past], h.z[past]


Drawn = tuple[Numbers, Numbers]
"""Draws of one day's figure, and of the week's best: paths x weeks."""


def ours(h: History) -> Drawn:
    weeks, z = known(h)
    trend = follow(
        [Observation(week=float(w), z=float(v)) for w, v in zip(weeks, z, strict=True)],
        noise=day_noise(list(z)),
        until=float(h.cut),
    )
    days = max(1, round(sum(weeks > h.cut - 8) / min(8, h.cut)))
    drawn = draw_days(trend, draw_levels(trend, weeks=AHEAD, paths=PATHS, seed=SEED), days=days, seed=SEED)
    return drawn[0], drawn.max(axis=0)


def line_with_noise(h: History, level: float, slopes: Numbers, noise: float) -> Drawn:
    """A straight line on from a level with slopes drawn, and the noise of days around it."""
    _, z = known(h)
    dice = np.random.default_rng(SEED)
    many = max(1, round(len(z) / max(1, h.cut)))
    levels = level + np.outer(slopes, np.arange(1, AHEAD + 1))
    own = noise * dice.standard_normal((many, len(slopes), AHEAD))
    return levels + own[0], levels + own.max(axis=0)


def no_change(h: History) -> Drawn:
    _, z = known(h)
    return line_with_noise(h, float(np.mean(z[-6:])), np.zeros(PATHS), day_noise(list(z)))


def last_slope(h: History) -> Drawn:
    weeks, z = known(h)
    recent = weeks > h.cut - 4
    slope = float(np.polyfit(weeks[recent], z[recent], 1)[0]) if recent.sum() > 2 else 0.0
    return line_with_noise(h, float(np.mean(z[-3:])), np.full(PATHS, slope), day_noise(list(z)))


def theil_sen(h: History) -> Drawn:
    weeks, z = known(h)
    dice = np.random.default_rng(SEED)
    slope, base, *_ = theilslopes(z, weeks)
    rest = z - (base + slope * weeks)
    slopes = np.array(
        [theilslopes(base + slope * weeks + dice.choice(rest, len(rest)), weeks)[0] for _ in range(40)]
    )
    return line_with_noise(h, float(base + slope * h.cut), dice.choice(slopes, PATHS), float(np.std(rest)))


METHODS: dict[str, Callable[[History], Drawn]] = {
    "ours": ours,
    "no change": no_change,
    "last slope": last_slope,
    "Theil-Sen": theil_sen,
}


def dates(best: Numbers, gate: float) -> Numbers:
    """The week each path reaches the gate, or the end."""
    reached = best >= gate
    return np.where(reached.any(axis=1), reached.argmax(axis=1) + 1.0, float(AHEAD))


def crps(draws: Numbers, came: float) -> float:
    """The continuous ranked probability score of draws: mean |x - came| less half the mean difference."""
    ordered = np.sort(draws)
    n = len(ordered)
    spread = float(np.sum((2 * np.arange(1, n + 1) - n - 1) * ordered)) / (n * n)
    return float(np.mean(np.abs(ordered - came))) - spread


def pinball(draws: Numbers, came: float) -> float:
    losses = []
    for q in QUANTILES:
        off = came - float(np.quantile(draws, q))
        losses.append(max(q * off, (q - 1) * off))
    return float(np.mean(losses))


def within(draws: Numbers, came: float, dice: np.random.Generator) -> bool:
    """Whether what came lies in the middle 80 % of draws; among equals its place is drawn."""
    rank = float((draws < came).mean()) + dice.random() * float((draws == came).mean())
    return 0.1 <= rank <= 0.9


def judge(histories: Sequence[History]) -> None:
    """Print every method's figures."""
    for name, method in METHODS.items():
        dice = np.random.default_rng(SEED)
        held: dict[str, list[bool]] = defaultdict(list)
        losses: dict[str, list[float]] = defaultdict(list)
        for h in histories:
            days, best = method(h)
            when = dates(best, h.gate)
            held["dates"].append(within(when, np.ceil(h.fell), dice))
            losses["pinball"].append(pinball(when, h.fell))
            losses["CRPS"].append(crps(when, h.fell))
            for w in (2, 4, 8, 12):
                came = h.z[(h.weeks > h.cut + w - 1) & (h.weeks <= h.cut + w)]
                if len(came):
                    a, b = np.quantile(days[:, w - 1], (0.1, 0.9))
                    held[f"values {w} weeks"].append(bool(a <= came[0] <= b))
        said = [f"{k} {np.mean(v):.2f}" for k, v in held.items()]
        said += [f"{k} {np.mean(v):.2f}" for k, v in losses.items()]
        print(f"{name:<11} " + ", ".join(said))


RATE = built_in().drills["free-hold-10"]


def judge_rates(seeds: Sequence[int]) -> None:
    """Single tries, ten a day on two days a week, by the product's own function: how often what came lay in
    the range, and the chances it gave beside what fell.
    """
    held: dict[int, list[bool]] = defaultdict(list)
    said: dict[int, list[float]] = defaultdict(list)
    fell: dict[int, list[bool]] = defaultdict(list)
    for seed in seeds:
        dice = np.random.default_rng(seed)
        cut = LENGTHS[seed % len(LENGTHS)]
        growth, begin = dice.uniform(0.0, 0.12), dice.uniform(-2.5, -0.5)
        days = np.sort(dice.choice(7 * (cut + AHEAD), size=2 * (cut + AHEAD), replace=False))
        p = 1 / (1 + np.exp(-(begin + growth * days / 7 + 0.25 * dice.standard_normal(len(days)))))
        k = dice.binomial(10, p)
        on = START + timedelta(weeks=cut)
        readings = tuple(
            Reading(day=START + timedelta(days=int(d)), value=float(v), n=10)
            for d, v in zip(days, k, strict=True)
            if d <= 7 * cut
        )
        found = find_forecast(Series(drill=RATE.drill, gate=RATE.gate, side=None, readings=readings), on=on)
        if not (found.known and found.values and found.chances):
            continue
        for w in (4, 8, 12, 26):
            came = k[(days > 7 * (cut + w - 1)) & (days <= 7 * (cut + w))]
            if len(came):
                held[w].append(bool(found.values[w].low - 0.5 <= came[0] <= found.values[w].high + 0.5))
            said[w].append(found.chances[w])
            fell[w].append(bool((k[(days > 7 * cut) & (days <= 7 * (cut + w))] >= RATE.gate.value).any()))
    for w in held:
        print(
            f"single tries, {w} weeks ahead: {np.mean(held[w]):.2f} in the 80 % range;"
            f" chance said {np.mean(said[w]):.2f}, fell {np.mean(fell[w]):.2f}"
        )


def cost(h: History) -> float:
    """One forecast by the product's own function, ms."""
    weeks, z = known(h)
    readings = tuple(
        Reading(day=START + timedelta(days=round(7 * w)), value=max(0.0, exp(v) - 1))
        for w, v in zip(weeks, z, strict=True)
    )
    series = Series(drill=DRILL.drill, gate=DRILL.gate, side=None, readings=readings)
    on = START + timedelta(weeks=h.cut)
    assert days_a_week(readings, on) >= 1
    assert to_scale(1.0, DRILL.gate) > 0
    began = perf_counter()
    find_forecast(series, on=on)
    return 1000 * (perf_counter() - began)


def main() -> None:
    """Look ahead from every history with every method."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 1000
    seeds = range(first, first + many)
    invented = [invent(KINDS[n % len(KINDS)], cut, seed) for n, seed in enumerate(seeds) for cut in LENGTHS]
    names = list(TRAINEES)
    lived = [
        found for n, seed in enumerate(seeds) for cut in LENGTHS if (found := live(names[n % 10], cut, seed))
    ]
    for title, histories in (("invented", invented), ("of the rehearsal's world", lived)):
        print(f"{len(histories)} histories {title}, seeds {first} to {first + many - 1}", flush=True)
        judge(histories)
    for kind in KINDS:
        dice = np.random.default_rng(SEED)
        mine = [h for h in invented if h.kind == kind]
        held = [within(dates(ours(h)[1], h.gate), np.ceil(h.fell), dice) for h in mine]
        print(f"ours, {kind}: dates in the 80 % range {np.mean(held):.2f}")
    judge_rates(seeds)
    print(f"one forecast: {np.median([cost(h) for h in invented[:50]]):.1f} ms")


if __name__ == "__main__":
    main()
