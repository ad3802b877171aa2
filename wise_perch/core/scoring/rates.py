"""k of n with its uncertainty: how thin is the evidence behind a share of tries?

Three closed forms, a line or two each with the standard library. The package that has them too takes two
seconds of CPU to load; the tests hold each to it.
"""

from functools import lru_cache
from math import comb, exp, fsum, lgamma, log, sqrt
from statistics import NormalDist


def _check_counts(k: int, n: int) -> None:
    if not 0 <= k <= n:
        raise ValueError(f"k of n needs 0 <= k <= n, not {k} of {n}")


@lru_cache(maxsize=4096)
def wilson_interval(k: int, n: int, *, confidence: float = 0.95) -> tuple[float, float]:
    """Give the Wilson score interval of a share, without continuity correction.

    Args: `k` successes of `n` tries (n of at least 1); `confidence` from 0 to 1.
    Returns: (low, high), shares within 0 to 1.
    Raises: ValueError for k outside 0 to n, or n = 0.
    Source: Wilson, E. B. (1927), Probable inference, the law of succession, and statistical inference,
    Journal of the American Statistical Association 22, 209-212 (value from memory).
    """
    _check_counts(k, n)
    if n == 0:
        raise ValueError("no tries, no interval")
    z = NormalDist().inv_cdf((1 + confidence) / 2)
    middle, half = k + z * z / 2, z * sqrt(k * (n - k) / n + z * z / 4)
    low = 0.0 if k == 0 else (middle - half) / (n + z * z)
    high = 1.0 if k == n else (middle + half) / (n + z * z)
    return low, high


def probability_at_least(k: int, n: int, *, rate: float) -> float:
    """Give the posterior probability that the true rate is at least `rate`, from a uniform Beta(1, 1) prior.

    After k of n the posterior is Beta(1 + k, 1 + n - k), and its upper tail at r is the chance of at most k
    of n + 1 at r. `rate` is a share from 0 to 1. Raises ValueError for k outside 0 to n.
    """
    _check_counts(k, n)
    if not 0 < rate < 1:
        return 1.0 if rate <= 0 else 0.0
    all_ways, yes, no = lgamma(n + 2), log(rate), log(1 - rate)
    logs = (all_ways - lgamma(j + 1) - lgamma(n + 2 - j) + j * yes + (n + 1 - j) * no for j in range(k + 1))
    return min(1.0, fsum(map(exp, logs)))


@lru_cache(maxsize=4096)
def two_sided_half(k: int, n: int) -> float:
    """Give the exact two-sided binomial p of k of n against one half: both tails are alike there.

    Raises ValueError for k outside 0 to n, or n = 0.
    """
    _check_counts(k, n)
    if n == 0:
        raise ValueError("no falls, no p")
    tail = sum(comb(n, j) for j in range(min(k, n - k) + 1))
    return float(min(1.0, 2 * tail / 2**n))
