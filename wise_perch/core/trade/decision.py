"""A judgement as a value: what is decided, and why, so that it can be shown, tested and explained."""

from dataclasses import dataclass
from typing import Literal

Origin = Literal["practice", "ours", "published"]
"""Where a figure of the trade comes from: common practice, our own choice, or a published source."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A number of the trade with the mark of its origin."""

    value: float
    origin: Origin


@dataclass(frozen=True, slots=True)
class Decision:
    """What is decided (a short name, the same in every layer) and the sentences that say why, with their
    figures.
    """

    what: str
    because: tuple[str, ...]
