"""Words that every room uses: shares, days, and the first letter of a sentence."""

from collections.abc import Sequence
from datetime import date
from functools import lru_cache


def say_share(share: float) -> str:
    """A share as it is said: "83 %"."""
    return f"{share * 100:.0f} %"


@lru_cache(maxsize=8192)
def say_day(day: date, on: date) -> str:
    """A day as a coach says it on day `on`: "3 May", with the year where it is another one."""
    return f"{day.day} {day:%b}" if day.year == on.year else f"{day.day} {day:%b %Y}"


def say_list(parts: Sequence[str]) -> str:
    """Several in a row: "a", "a and b", "a, b and c"."""
    return " and ".join(filter(None, (", ".join(parts[:-1]), *parts[-1:])))


def capitalise(text: str) -> str:
    """A sentence from its words."""
    return text[:1].upper() + text[1:]


def within(text: str) -> str:
    """A name as it stands within a sentence: "heel float"."""
    return text[:1].lower() + text[1:]
