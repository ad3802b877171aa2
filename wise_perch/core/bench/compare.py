"""Two runs of a test side by side: what changed, and whether that is more than noise."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wise_perch.core.scoring.rates import wilson_interval
from wise_perch.core.scoring.verdict import LimitReading, Share, Values, Verdict, say_interval
from wise_perch.core.trade.words import say_share

Call = Literal["real", "noise", "too few"]
"""Is a change more than noise? `too few`: there are not enough tries to tell by any means."""

REAL_BELOW = 0.05
"""From this chance on a change is taken for noise. Common practice, no single source."""
RESAMPLES = 9999
EXACT_UP_TO = 20_000
"""So many arrangements are gone through one by one; beyond, as many as RESAMPLES are drawn, always the same
ones.
"""
SEED = 20_260_503


@dataclass(frozen=True, slots=True, kw_only=True)
class RunDifference:
    """One figure of two runs. `interval` holds the difference, second less first; `p` is two-sided.

    `chance_better`: the probability that the second true rate is higher, from uniform priors. `gate`: what is
    asked for, in words.
    """

    title: str
    gate: str = ""
    first: str
    second: str
    first_beside: str = ""
    second_beside: str = ""
    interval: tuple[float, float] | None = None
    p: float | None = None
    chance_better: float | None = None
    call: Call
    sentence: str
    method: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """Two runs compared, or why they are not (`refused`): modes and drills never mix."""

    refused: str
    changes: tuple[RunDifference, ...]


def compare_runs(first: Verdict, second: Verdict) -> Comparison:
    """Compare two verdicts of one test, the earlier first."""
    if not first.n or not second.n:
        return Comparison(refused="One of the two has no try.", changes=())
    if first.mode != second.mode:
        sentence = (
            f"One was measured as {first.mode.replace('-', ' ')}, the other as"
            f" {second.mode.replace('-', ' ')}: two scales never compare."
        )
        return Comparison(refused=sentence, changes=())
    later = {c.title: c for c in second.compared}
    changes = [made for c in first.compared if (made := _compare_figures(c, later.get(c.title)))]
    return Comparison(refused="" if changes else "The two have no figure in common.", changes=tuple(changes))


def _compare_figures(
    a: Share | Values | LimitReading, b: Share | Values | LimitReading | None
) -> RunDifference | None:
    match a, b:
        case Share(), Share():
            return _compare_shares(a, b)
        case Values(), Values() if a.values and b.values:
            return _compare_values(a, b)
        case LimitReading(), LimitReading():
            return _compare_limits(a, b)
    return None


def _compare_shares(a: Share, b: Share) -> RunDifference:
    p = fisher_p(a.k, a.n, b.k, b.n)
    low, high = newcombe(a.k, a.n, b.k, b.n)
    better = probability_greater(a.k, a.n, b.k, b.n)
    call: Call = "real" if p < REAL_BELOW else "noise"
    same = a.k * b.n == b.k * a.n
    said = "The same share" if same else f"From {say_share(a.k / a.n)} to {say_share(b.k / b.n)}"
    why = f"Fisher's exact p = {p:.2f}" if p >= 0.005 else "Fisher's exact p below 0.01"
    tail = (
        "more than chance would give."
        if call == "real"
        else "within what chance alone gives with so few tries."
    )
    return RunDifference(
        title=a.title,
        gate="" if a.gate is None else f"gate {a.gate * 10:g} of 10",
        first=f"{a.k} of {a.n}",
        second=f"{b.k} of {b.n}",
        first_beside=_say_range(wilson_interval(a.k, a.n)),
        second_beside=_say_range(wilson_interval(b.k, b.n)),
        interval=(low, high),
        p=p,
        chance_better=better,
        call=call,
        sentence=f"{said} ({why}): {tail} The chance that the later true rate is higher is {better:.2f}.",
        method="Fisher's exact test, two-sided. Newcombe 95 % interval of the difference. Uniform priors.",
    )


def _say_range(interval: tuple[float, float]) -> str:
    return say_interval(*interval)


def _compare_values(a: Values, b: Values) -> RunDifference:
    mean_a, mean_b = sum(a.values) / len(a.values), sum(b.values) / len(b.values)
    low, high = bootstrap_difference(a.values, b.values)
    p = permutation_p(a.values, b.values)
    # with very few tries even the most extreme arrangement is common
    least = 2 / math.comb(len(a.values) + len(b.values), len(a.values))
    call: Call = "too few" if least > REAL_BELOW else "real" if p < REAL_BELOW else "noise"
    difference = mean_b - mean_a
    better = (
        "better" if (difference < 0) == a.fewer and difference else "the same" if not difference else "worse"
    )
    said = (
        f"On average {abs(difference):.1f} {a.unit} {better}, bootstrap 95 % interval {low:+.1f} to"
        f" {high:+.1f}"
    )
    tails = {
        "real": "more than chance would give.",
        "noise": "within what chance alone gives.",
        "too few": "too few tries to tell it from chance.",
    }
    return RunDifference(
        title=a.title,
        gate="" if a.gate is None else f"gate {a.gate:g} {a.unit}{' or less' if a.fewer else ''}",
        first=f"{mean_a:.1f} {a.unit}",
        second=f"{mean_b:.1f} {b.unit}",
        first_beside=f"{len(a.values)} tries",
        second_beside=f"{len(b.values)} tries",
        interval=(low, high),
        p=p,
        call=call,
        sentence=f"{said} (permutation p = {p:.2f}): {tails[call]}",
        method=(
            "Permutation test of the difference of means, two-sided. Percentile bootstrap interval, seeded."
        ),
    )


def _compare_limits(a: LimitReading, b: LimitReading) -> RunDifference:
    difference = b.value - a.value
    better = "harder" if difference and (difference < 0) == a.fewer else "easier"
    apart = abs(difference)
    said = "The same setting" if not difference else f"{apart:g} {a.unit} {better} than before"
    within = apart < a.step + 1e-9
    tail = (
        f"within one step of {a.step:g} {a.unit}, which a day may give or take."
        if within
        else f"more than one step of {a.step:g} {a.unit}."
    )
    return RunDifference(
        title=a.title,
        gate="" if a.gate is None else f"gate at {a.gate:g} {a.unit}",
        first=f"{a.value:g} {a.unit}",
        second=f"{b.value:g} {b.unit}",
        call="noise" if within else "real",
        sentence=f"{said}: {tail}",
        method="One reading each: a step stands for a day's give and take.",
    )


# --- the statistics -----------------------------------------------------------------------------------------


def fisher_p(k1: int, n1: int, k2: int, n2: int) -> float:
    """Fisher's exact test, two-sided: the chance of so uneven a split if both had one rate.

    Source: Fisher, R. A. (1935), The logic of inductive inference, Journal of the Royal Statistical Society
    98, 39-82 (value from memory).
    """
    # here and not above: it takes half a second to load, and most who start the product compare nothing
    from scipy.stats import fisher_exact

    return float(fisher_exact(np.array([[k1, n1 - k1], [k2, n2 - k2]])).pvalue)


def newcombe(k1: int, n1: int, k2: int, n2: int) -> tuple[float, float]:
    """The 95 % interval of the second share less the first, from both Wilson intervals.

    Source: Newcombe, R. G. (1998), Interval estimation for the difference between independent proportions:
    comparison of eleven methods, Statistics in Medicine 17, 873-890, method 10 (value from memory).
    """
    p1, p2 = k1 / n1, k2 / n2
    (l1, u1), (l2, u2) = wilson_interval(k1, n1), wilson_interval(k2, n2)
    low = p2 - p1 - math.hypot(p2 - l2, u1 - p1)
    high = p2 - p1 + math.hypot(u2 - p2, p1 - l1)
    return low, high


def probability_greater(k1: int, n1: int, k2: int, n2: int) -> float:
    """The probability that the second true rate is higher, both from uniform Beta(1, 1) priors.

    The exact sum for whole-number parameters: over i below the second's a, B(a1 + i, b1 + b2) / ((b2 + i) B(1
    + i, b2) B(a1, b1)).
    """
    # loaded where it is used: doors and pages that compare nothing do not wait for it
    from scipy.special import betaln

    a1, b1, a2, b2 = 1 + k1, 1 + n1 - k1, 1 + k2, 1 + n2 - k2
    return float(
        sum(
            math.exp(betaln(a1 + i, b1 + b2) - math.log(b2 + i) - betaln(1 + i, b2) - betaln(a1, b1))
            for i in range(a2)
        )
    )


def permutation_p(a: Sequence[float], b: Sequence[float]) -> float:
    """The two-sided permutation p of a difference of means.

    Every arrangement is gone through where there are few enough; else as many as RESAMPLES are drawn, the
    observed one counted in.
    """
    joined, n = np.array([*a, *b], dtype=float), len(a)
    total, seen = joined.sum(), abs(np.mean(b) - np.mean(a))
    if math.comb(len(joined), n) <= EXACT_UP_TO:
        sums = np.array([joined[list(chosen)].sum() for chosen in combinations(range(len(joined)), n)])
        extra = 0
    else:
        dice = np.random.default_rng(SEED)
        sums = np.array([dice.permutation(joined)[:n].sum() for _ in range(RESAMPLES)])
        extra = 1
    apart = np.abs((total - sums) / len(b) - sums / n)
    # a hair of slack, so that equal splits count as equal whatever the order of adding
    return float((np.count_nonzero(apart >= seen - 1e-9) + extra) / (len(sums) + extra))


def bootstrap_difference(a: Sequence[float], b: Sequence[float]) -> tuple[float, float]:
    """The percentile bootstrap 95 % interval of the second mean less the first, from always the same
    draws.
    """
    dice = np.random.default_rng(SEED)

    def means(values: Sequence[float]) -> NDArray[np.float64]:
        drawn: NDArray[np.float64] = dice.choice(
            np.array(values, dtype=float), size=(RESAMPLES, len(values))
        ).mean(axis=1)
        return drawn

    low, high = np.percentile(means(b) - means(a), [2.5, 97.5])
    return float(low), float(high)
