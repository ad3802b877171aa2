"""k of n with its uncertainty: how thin is the evidence behind a share of tries?"""

from functools import lru_cache


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
    Journal of the American Statistical Association 22, 209-212 (value from memory), as scipy works it out.
    """
    _check_counts(k, n)
    if n == 0:
        raise ValueError("no tries, no interval")
    # the package takes most of a second to load, and a door that asks for no interval need not wait for it
    from scipy.stats import binomtest

    found = binomtest(k, n).proportion_ci(confidence_level=confidence, method="wilson")
    return float(found.low), float(found.high)


def probability_at_least(k: int, n: int, *, rate: float) -> float:
    """Give the posterior probability that the true rate is at least `rate`, from a uniform Beta(1, 1) prior.

    After k of n the posterior is Beta(1 + k, 1 + n - k). `rate` is a share from 0 to 1. Raises ValueError for
    k outside 0 to n.
    """
    _check_counts(k, n)
    from scipy.special import betaincc

    return float(betaincc(1 + k, 1 + n - k, rate))


@lru_cache(maxsize=4096)
def two_sided_half(k: int, n: int) -> float:
    """Give the exact two-sided binomial p of k of n against one half.

    Raises ValueError for k outside 0 to n, or n = 0.
    """
    _check_counts(k, n)
    if n == 0:
        raise ValueError("no falls, no p")
    from scipy.stats import binomtest

    return float(binomtest(k, n, 0.5).pvalue)
