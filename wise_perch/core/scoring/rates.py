"""k of n with its uncertainty: how thin is the evidence behind a share of tries?"""

from statistics import NormalDist

from scipy.special import bdtr, betaincc

Z_95 = NormalDist().inv_cdf(0.975)
"""The 97.5 % point of the standard normal, 1.959964: both tails of a 95 % interval."""


def _check(k: int, n: int) -> None:
    if not 0 <= k <= n:
        raise ValueError(f"k of n needs 0 <= k <= n, not {k} of {n}")


def wilson_interval(k: int, n: int, *, z: float = Z_95) -> tuple[float, float]:
    """Give the Wilson score interval of a share, without continuity correction.

    Args: `k` successes of `n` tries (n of at least 1); `z` the normal quantile (1.96 for 95 %).
    Returns: (low, high), shares within 0 to 1.
    Raises: ValueError for k outside 0 to n, or n = 0.
    Source: Wilson, E. B. (1927), Probable inference, the law of succession, and statistical inference,
    Journal of the American Statistical Association 22, 209-212 (value from memory).
    """
    _check(k, n)
    if n == 0:
        raise ValueError("no tries, no interval")
    share, z2 = k / n, z * z
    middle = (share + z2 / (2 * n)) / (1 + z2 / n)
    half = z / (1 + z2 / n) * ((share * (1 - share) + z2 / (4 * n)) / n) ** 0.5
    # exact ends, so that 0 of n never reads as "at least 0.0000000001"
    return (0.0 if k == 0 else max(0.0, middle - half), 1.0 if k == n else min(1.0, middle + half))


def probability_at_least(k: int, n: int, *, rate: float) -> float:
    """Give the posterior probability that the true rate is at least `rate`, from a uniform Beta(1, 1) prior.

    After k of n the posterior is Beta(1 + k, 1 + n - k). `rate` is a share from 0 to 1. Raises ValueError for k outside 0 to n.
    """
    _check(k, n)
    return float(betaincc(1 + k, 1 + n - k, rate))


def two_sided_half(k: int, n: int) -> float:
    """Give the exact two-sided binomial p of k of n against one half.

    At one half the distribution is symmetric, so both tails are twice the smaller one (at most 1).
    Raises ValueError for k outside 0 to n, or n = 0.
    """
    _check(k, n)
    if n == 0:
        raise ValueError("no falls, no p")
    return min(1.0, 2 * float(bdtr(min(k, n - k), n, 0.5)))
