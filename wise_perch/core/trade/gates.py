"""Gates, stages and dials: the rule that says a drill is passed, and what makes a drill harder without
changing its name.
"""

from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.decision import Figure, Origin
from wise_perch.core.trade.evidence import COUNTED, MEASURE_UNITS, Measure

Harder = Literal["nearer", "farther", "lower", "higher", "slower", "faster"]
FALLING: frozenset[Harder] = frozenset({"nearer", "lower", "faster"})
"""The ways of getting harder in which a setting's number goes down."""


USUAL_STATURE_CM = 170.0
"""Whom a setting is meant for that grows with the body."""


def say_amount(value: float, measure: Measure, of: float | None = None) -> str:
    """A figure of a measure as a coach says it: "30 s", "7 of 10", "5", "3 touches", "10°", "5 m"."""
    number = f"{value:g}"
    match measure:
        case Measure.RATE:
            return f"{number} of {of:g}" if of is not None else number
        case Measure.REPS:
            return number
        case Measure.ANGLE:
            return f"{number}°"
        case Measure.TOUCHES:
            return f"{number} touch" if value == 1 else f"{number} touches"
        case Measure.DISTANCE if abs(value) >= 200:
            return f"{round(value / 100, 1):g} m"
        case _:
            return f"{number} {MEASURE_UNITS[measure]}"


def say_at(setting: float, unit: str) -> str:
    """A setting of a dial as it is said: "40 cm", "30°"."""
    return f"{setting:g}°" if unit == "deg" else f"{setting:g} {unit}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Range:
    """From `least` to `most`, both of one origin."""

    least: float
    most: float
    origin: Origin

    @property
    def text(self) -> str:
        """The range as it is said: "2–4", or one number where both are the same."""
        return f"{self.least:g}" if self.least == self.most else f"{self.least:g}–{self.most:g}"


@dataclass(frozen=True, slots=True, kw_only=True)
class DialLimit:
    """The dial setting a gate is measured at: `dial` at most or at least so much, in the dial's unit (`unit`
    may repeat it).

    `by_stature`: it is meant for somebody of USUAL_STATURE_CM and grows with the body. `unsaid`: a set whose
    setting nobody wrote down counts.
    """

    dial: str
    origin: Origin
    at_most: float | None = None
    at_least: float | None = None
    unit: str = ""
    by_stature: bool = False
    unsaid: bool = False

    def holds(self, setting: float | None, *, stature_cm: float | None = None) -> bool:
        """Say whether a setting is within the limit for somebody of a stature; an unrecorded one is not,
        unless the limit says so.
        """
        if setting is None:
            return self.unsaid
        scale = stature_cm / USUAL_STATURE_CM if self.by_stature and stature_cm else 1.0
        return (self.at_most is None or setting <= self.at_most * scale) and (
            self.at_least is None or setting >= self.at_least * scale
        )

    @property
    def where(self) -> str:
        """The limit with its preposition: "at 15 cm or less", "on the flat floor"."""
        return f"{'on' if self.text.startswith('the') else 'at'} {self.text}"

    @property
    def text(self) -> str:
        """The limit as it is said: "15 cm or less", "the flat floor"."""
        if self.at_most == 0 and self.dial.endswith("height"):
            return "the flat floor"
        unit = "°" if self.unit == "deg" else f" {self.unit or 'cm'}"
        by = f" at {USUAL_STATURE_CM:g} cm of height" if self.by_stature else ""
        return (
            f"{self.at_most:g}{unit} or less{by}"
            if self.at_most is not None
            else f"{self.at_least or 0:g}{unit} or more{by}"
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Gate:
    """The rule that says a drill is passed, by clean evidence of at least (or, with `fewer`, at most)
    `value`.

    `value` is in the unit of `measure` (`unit` may repeat it); for a rate it is k and `of` is n. `each_side`:
    left and right must both pass. `mode` and `window_s` restrict the way of measuring; `at` the dial setting
    it is measured at, `counts_at` the easiest at which it counts, while the dial goes on beyond.
    A gate of `fewer` is empty at `start`. From `easy_from` on the drill is easy and no longer worth its time.
    `also`: further gates of the same drill. `line_within`: a kept line must back it of which no angle is told
    to be farther off, degrees.
    """

    measure: Measure
    value: float
    origin: Origin
    unit: str = ""
    of: int | None = None
    each_side: bool = False
    fewer: bool = False
    start: float | None = None
    mode: str | None = None
    window_s: float | None = None
    at: DialLimit | None = None
    counts_at: DialLimit | None = None
    easy_from: Figure | None = None
    also: "tuple[Gate, ...]" = ()
    line_within: Figure | None = None

    @property
    def amount(self) -> str:
        """How much it takes: "30 s", "7 of 10", "5", "10° or less"."""
        return say_amount(self.value, self.measure, self.of) + (" or less" if self.fewer else "")

    @property
    def text(self) -> str:
        """The whole gate in the trade's words: "30 s", "5 a side", "30 s at 15 cm or less", "3, and a 20 s
        hold".
        """
        body = self.amount
        if self.mode:
            body += f", {self.mode}"
        if self.window_s:
            body += f" in {self.window_s:g} s"
        if self.each_side:
            body += " a side"
        if self.at:
            body += f" {self.at.where}"
        if self.counts_at:
            body += f", {self.counts_at.dial.replace('-', ' ')} {self.counts_at.text}"
        if self.line_within:
            body += f", its line shown within {self.line_within.value:g}°"
        return body + "".join(f", and a {g.amount} {g.measure.value}" for g in self.also)


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """A working stage on the way to a gate. Where `measure` differs from the gate's, the two are never
    compared.
    """

    value: float
    origin: Origin
    measure: Measure | None = None
    of: int | None = None
    mode: str | None = None
    window_s: float | None = None


def stage_gate(stage: Stage, gate: Gate) -> Gate:
    """A stage as a gate of its own, so that it is read by the same rules. Fewer touches are better."""
    measure = stage.measure or gate.measure
    same = measure is gate.measure
    touches = measure is Measure.TOUCHES
    return Gate(
        measure=measure,
        value=stage.value,
        origin=stage.origin,
        of=stage.of or (gate.of if same else None),
        fewer=touches or (same and gate.fewer),
        start=gate.start if same else (2 * stage.value + 2 if touches else None),
        mode=stage.mode or (gate.mode if same else None),
        window_s=stage.window_s or (gate.window_s if same else None),
        at=gate.at if same else None,
        counts_at=gate.counts_at if same else None,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Dial:
    """What makes a drill easier or harder without changing its name. `harder` says which way; settings in
    `unit`.

    `start`: the setting to begin at, `shy`: the one for low confidence, `step`: the largest step between
    neighbours.
    """

    name: str
    harder: Harder
    origin: Origin
    unit: str = "cm"
    start: Figure | None = None
    shy: Figure | None = None
    step: Figure | None = None


def is_whole(measure: Measure) -> bool:
    """Say whether a measure comes in whole numbers."""
    return measure in COUNTED
