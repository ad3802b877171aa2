"""Evidence: what was done and how well. One piece is one recorded set, or what one test run says about a
drill.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from typing import Literal


class Form(StrEnum):
    """How a set looked. Only clean evidence meets a gate; loose still counts as work done."""

    CLEAN = "clean"
    LOOSE = "loose"
    LOST = "lost"


class Fell(StrEnum):
    """How a held try ended: past the hands, back to the start side, or down on purpose."""

    OVER = "over"
    UNDER = "under"
    DOWN = "down"


class Outcome(StrEnum):
    """What became of a free try: held, past vertical without a catch, or short of vertical."""

    HELD = "held"
    OVERSHOT = "overshot"
    UNDERSHOT = "undershot"


class Side(StrEnum):
    """The side a one-sided drill was done on."""

    LEFT = "left"
    RIGHT = "right"


class Reason(StrEnum):
    """Why a set failed, as the coach saw it."""

    STRENGTH = "strength"
    RANGE = "range"
    BALANCE = "balance"
    FEAR = "fear"


class Measure(StrEnum):
    """What a gate counts. Modes and measures are never compared with one another."""

    HOLD = "hold"
    REPS = "reps"
    RATE = "rate"
    TOUCHES = "touches"
    LOWERING = "lowering"
    HEIGHT = "height"
    DISTANCE = "distance"
    ANGLE = "angle"


MEASURE_UNITS: Mapping[Measure, str] = {
    Measure.HOLD: "s",
    Measure.REPS: "reps",
    Measure.RATE: "of",
    Measure.TOUCHES: "touches",
    Measure.LOWERING: "s",
    Measure.HEIGHT: "cm",
    Measure.DISTANCE: "cm",
    Measure.ANGLE: "deg",
}
"""Heights are signed: above the floor +, a deficit below it -. Touches are returns to the wall or a spotter
in a window.
"""

COUNTED = frozenset({Measure.REPS, Measure.RATE, Measure.TOUCHES})
"""Measures that come in whole numbers."""

LONGEST_HOLD_S = 3600.0
"""A hold above one hour is taken for a slip of the finger. Ours."""

PLAUSIBLE: Mapping[Measure, tuple[float, float]] = {
    Measure.HOLD: (0, LONGEST_HOLD_S),
    Measure.LOWERING: (0, LONGEST_HOLD_S),
    Measure.REPS: (0, 1000),
    Measure.RATE: (0, 1000),
    Measure.TOUCHES: (0, 200),
    Measure.HEIGHT: (-100, 500),
    Measure.DISTANCE: (-100, 1000),
    Measure.ANGLE: (-60, 180),
}
"""Beyond these a try's figure is taken for a slip of the finger, in the measure's unit. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Try:
    """One try of a test, as written down.

    `number` counts from 1; `outcome` is one the test knows; `value` is the figure of the try (seconds,
    touches, reps, cm or degrees, by its mode's measure), or None where the outcome says it all. `mode`: the
    way it was measured, where the test has several. `level`: the dial setting it was made at. `fell`, `form`
    and `side` may be unknown (None).
    """

    number: int
    outcome: str
    value: float | None = None
    mode: str = ""
    fell: Fell | None = None
    form: Form | None = None
    side: Side | None = None
    level: float | None = None

    @property
    def clean(self) -> bool:
        """An unmarked try counts as clean: a coach who counts tries marks the exceptions."""
        return self.form in (None, Form.CLEAN)


Teller = Literal["set", "test", "self"]
"""Who told of a piece of evidence: a coach of a set, a test run, or the trainee alone."""


def teller_of(source: str) -> Teller:
    """Who told, by the source that a record came from."""
    return "self" if source == "self" else "test" if source == "test" else "set"


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """One piece of evidence about a drill, on the coach's own calendar day.

    `value` is in the unit of `measure` (see MEASURE_UNITS; k of `n` for a rate); `dial` maps a dial's name to
    its setting. `mode` names the way of measuring where a drill has several, `window_s` the window touches
    were counted in, s; only equal modes and windows compare. `confidence` is the trainee's own, 1 to 5.
    `asked`: what the set asked for, in the same unit; None for an open one, which goes on as long, or as
    often, as it stays clean. `reason`: why it failed, where somebody said so. `by`: who told of it.
    """

    drill: str
    day: date
    measure: Measure
    value: float
    asked: float | None = None
    n: int | None = None
    form: Form
    side: Side | None = None
    mode: str | None = None
    window_s: float | None = None
    confidence: int | None = None
    dial: Mapping[str, float] = field(default_factory=dict)
    reason: Reason | None = None
    by: Teller = "set"

    @property
    def at_least(self) -> bool:
        """Whether it says "at least this much": done as asked, or told so by the trainee, whose form nobody
        saw.
        """
        told_so = self.by == "self" and self.asked is not None and self._came_to(self.asked)
        return self.as_asked or told_so

    @property
    def as_asked(self) -> bool:
        """Whether it was done clean and as asked: it says "at least this much", and is no measurement of the
        best.
        """
        return self.asked is not None and self.form is Form.CLEAN and self._came_to(self.asked)

    @property
    def open_set(self) -> bool:
        """Whether nothing was asked of it, so that it measures the best of its day."""
        return self.asked is None

    @property
    def fell_short(self) -> bool:
        """Whether it was asked for something and did not come to it. One that came to it loose, or that
        nobody saw, neither fell short nor shows that it goes.
        """
        return self.asked is not None and (self.form is Form.LOST or not self._came_to(self.asked))

    def _came_to(self, asked: float) -> bool:
        # of touches less is better
        sign = -1 if self.measure is Measure.TOUCHES else 1
        return sign * self.value >= sign * asked - SAME_FIGURE


SAME_FIGURE = 1e-6
"""Figures nearer than this are one."""

REMEMBERED = "limit"
"""The mode of evidence that remembers a limit: the hardest setting passed on a day."""
