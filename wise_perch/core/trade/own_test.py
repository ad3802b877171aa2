"""A test of a coach's own, as the coach describes it."""

from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.evidence import Measure

OwnWay = Literal["best", "share", "ladder"]
"""The best of some tries; how many of some tries were good; settings of a dial until a miss."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Climb:
    """The settings of a ladder in the drill's dial, from `easiest` to `hardest`, beginning at `start`, `step`
    at once.
    """

    easiest: float
    hardest: float
    start: float
    step: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnTest:
    """A test as a coach describes it; its name begins with `own-`. `drill`: whose gate it feeds. `rest_s`
    between tries; `window_s` in which touches are counted; `climb` where it goes through settings;
    `due_after_days`: when it is asked for again.
    """

    test: str
    title: str
    drill: str
    way: OwnWay
    measure: Measure
    tries: int
    rest_s: int
    about: str = ""
    window_s: int | None = None
    climb: Climb | None = None
    each_side: bool = False
    due_after_days: int | None = None
