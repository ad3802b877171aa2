"""Evidence: what was done and how well. One piece is one recorded set, or what one test run says about a drill."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum


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
"""Heights are signed: above the floor +, a deficit below it -. Touches are returns to the wall or a spotter in a window."""

COUNTED = frozenset({Measure.REPS, Measure.RATE, Measure.TOUCHES})
"""Measures that come in whole numbers."""

LONGEST_HOLD_S = 3600.0
"""A hold above one hour is taken for a slip of the finger. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Try:
    """One try of a test, as written down.

    `number` counts from 1; `seconds` stands only with a held try; `fell` and `form` may be unknown (None).
    How a try fell counts only where it was held.
    """

    number: int
    outcome: Outcome
    seconds: float | None = None
    fell: Fell | None = None
    form: Form | None = None

    def __post_init__(self) -> None:
        if problem := try_problem(outcome=self.outcome, seconds=self.seconds):
            raise ValueError(problem)


def try_problem(*, outcome: Outcome, seconds: float | None) -> str | None:
    """Say in a sentence what is wrong with a try's figures, or None. `seconds` in s."""
    if outcome is Outcome.HELD:
        if seconds is None:
            return "A held try needs its seconds."
        if not 0 <= seconds <= LONGEST_HOLD_S:
            return f"A hold lasts from 0 to {LONGEST_HOLD_S:g} s; this says {seconds:g}."
    elif seconds is not None:
        return f"Seconds belong to a held try; this one is {outcome.value}."
    return None


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """One piece of evidence about a drill, on the coach's own calendar day.

    `value` is in the unit of `measure` (see MEASURE_UNITS; k of `n` for a rate); `dial` maps a dial's name to its setting.
    `mode` names the way of measuring where a drill has several, `window_s` the window touches were counted in, s;
    only equal modes and windows compare. `confidence` is the trainee's own, 1 to 5.
    """

    drill: str
    day: date
    measure: Measure
    value: float
    n: int | None = None
    form: Form
    side: Side | None = None
    mode: str | None = None
    window_s: float | None = None
    confidence: int | None = None
    dial: Mapping[str, float] = field(default_factory=dict)
