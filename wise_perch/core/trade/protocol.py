"""Tests as data: what is done, measured and marked in each try. `layout` lays a test out as the `sheet` of
one run.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.decision import Figure
from wise_perch.core.trade.evidence import COUNTED, MEASURE_UNITS, PLAUSIBLE, Fell, Measure, Try
from wise_perch.core.trade.gates import FALLING, Harder

Takes = Literal["timer", "window", "count", "mark", "number"]
"""How a try is taken: a clock started and stopped; a countdown in which touches are counted; a count of reps;
one key; a figure that is read off and typed.
"""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One key of a try: the outcome it writes. `key` as keyboards name it.

    `figure`: it keeps the figure that was timed, counted or typed; without, it stands by itself. `passed`: at
    this setting the try was good (True), a miss (False), or settings do not matter (None). `fell`: how the
    try ended.
    """

    outcome: str
    title: str
    key: str
    figure: bool = False
    passed: bool | None = None
    fell: Fell | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Ladder:
    """Settings of a dial, tried one after the other from easy to hard until a miss.

    In the dial's unit: from `easiest` to `hardest` in notches of `notch`, `step` at most at once, beginning
    at `start` (`shy` with low confidence). `harder`: which way. `strict`: never more than a step at once,
    even if nothing nearer can be made. `stacks`: the kinds of kit that make a height, `hand_stacks` those
    that raise both hands for what lies below the floor.
    """

    dial: str
    harder: Harder
    easiest: float
    hardest: float
    start: Figure
    step: Figure
    notch: Figure
    shy: Figure | None = None
    unit: str = "cm"
    strict: bool = False
    stacks: tuple[str, ...] = ()
    hand_stacks: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Early:
    """A try whose figure stays below `below` shows that another way of measuring fits better: the test goes
    on in `to`.
    """

    below: Figure
    to: str
    say: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ModeChange:
    """A key with which the coach goes on in another way of measuring."""

    key: str
    title: str
    to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """One way of measuring within a test; modes never compare with one another.

    `tries` is the most there are; `takes_s` what one takes, s, for the minutes; `ceiling` the most that is
    credited; `line` the figure tries are held against; `window_s` how long touches are counted; `then` the
    mode that follows of itself. `best`: the best of the tries counts, or their average. `fewer` is better for
    touches. `figure`: what the figure is called.
    """

    mode: str
    title: str
    takes: Takes
    measure: Measure
    say: str
    tries: Figure
    takes_s: Figure
    marks: tuple[Mark, ...]
    figure: str = ""
    ceiling: Figure | None = None
    line: Figure | None = None
    window_s: Figure | None = None
    ladder: Ladder | None = None
    early: Early | None = None
    change: ModeChange | None = None
    then: str = ""
    fewer: bool = False

    @property
    def unit(self) -> str:
        """The unit of its figures."""
        return MEASURE_UNITS[self.measure]


@dataclass(frozen=True, slots=True, kw_only=True)
class DecisionText:
    """What a test's decision means for the coach: a headline, what to do, and the drills to work on.

    Among the drills `subject` stands for the drill that was tested and `ahead` for those that wait for it.
    """

    title: str
    work_on: tuple[str, ...]
    advice: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Test:
    """A test as data. Rests in s. `scoring` names the file in `benchmarks` that scores it.

    `subjects`: the drills it can be run for, one at a time; `every` takes all drills of that measure which no
    other test is run for and which stay at the wall. `exits_drill`: the exit it asks to be proven. `drills`:
    the drills it speaks for, by the part they play in scoring. `upright`: it is done the right way up.
    `due_after_days`: when it is asked for again, of those who train for `due_for`.
    """

    test: str
    title: str
    about: str
    setup: tuple[str, ...]
    cautions: tuple[str, ...]
    instead: str
    scoring: str
    modes: tuple[Mode, ...]
    rest_least_s: Figure
    rest_most_s: Figure
    rest_usual_s: Figure
    usual_tries: Figure
    subjects: tuple[str, ...] = ()
    every: Measure | None = None
    exits_drill: str = ""
    landings_drill: str = ""
    spotter: bool = False
    upright: bool = False
    sides: bool = False
    kit: tuple[str, ...] = ()
    due_after_days: Figure | None = None
    due_for: str = ""
    room: str = ""
    rules: Mapping[str, Figure] = field(default_factory=dict)
    drills: Mapping[str, str] = field(default_factory=dict)
    decisions: Mapping[str, DecisionText]

    def mode(self, name: str) -> Mode:
        """One of its modes; the first for a name it does not have, as before modes had names."""
        return next((m for m in self.modes if m.mode == name), self.modes[0])

    @property
    def most_tries(self) -> int:
        """No run has more tries than all modes together on both sides."""
        return sum(int(m.tries.value) for m in self.modes) * 2

    def minutes(self, *, rest_s: float) -> int:
        """How long the test usually takes at `rest_s` seconds of rest between tries, in whole minutes,
        rounded up.
        """
        return int(-(-sum(self.seconds(rest_s=rest_s)) // 60))

    def seconds(self, *, rest_s: float) -> tuple[float, float]:
        """How long its tries and the rests between them usually take, s."""
        tries = self.usual_tries.value * (2 if self.sides else 1)
        return tries * self.modes[0].takes_s.value, max(0.0, tries - 1) * rest_s


def try_problem(test: Test, tried: Try) -> str | None:
    """Say in a sentence what is wrong with a try of a test, or None."""
    if tried.mode and tried.mode not in (names := [m.mode for m in test.modes]):
        return f"{test.title} are measured as {_say_choice(names)}; this says {tried.mode}."
    mode = test.mode(tried.mode)
    fitting = [m for m in mode.marks if m.outcome == tried.outcome]
    if not fitting:
        return (
            f"A try here is {_say_choice(list(dict.fromkeys(m.outcome for m in mode.marks)))}; this says"
            f" {tried.outcome[:60]}."
        )
    if problem := _figure_problem(mode, fitting, tried):
        return problem
    if tried.number < 1:
        return "Tries are counted from 1."
    return _level_problem(mode, tried)


def _figure_problem(mode: Mode, fitting: Sequence[Mark], tried: Try) -> str | None:
    seconds = mode.unit == "s"
    name = "seconds" if seconds else mode.figure or mode.measure.value
    if tried.value is None:
        return None if any(not m.figure for m in fitting) else f"A {tried.outcome} try needs its {name}."
    if not any(m.figure for m in fitting):
        good = (
            _say_choice(list(dict.fromkeys(m.outcome for m in mode.marks if m.figure)))
            if any(m.figure for m in mode.marks)
            else "no"
        )
        return f"{name.capitalize()} belong to a {good} try; this one is {tried.outcome}."
    low, high = PLAUSIBLE[mode.measure]
    if not low <= tried.value <= high:
        what = "A hold lasts" if seconds else f"{name.capitalize()} go"
        return f"{what} from {low:g} to {high:g} {mode.unit}; this says {tried.value:g}."
    if mode.measure in COUNTED and tried.value != int(tried.value):
        return f"{name.capitalize()} come in whole numbers; this says {tried.value:g}."
    return None


def _level_problem(mode: Mode, tried: Try) -> str | None:
    if mode.ladder is None:
        return (
            None
            if tried.level is None or -100 <= tried.level <= 500
            else f"A setting of {tried.level:g} is a slip of the finger."
        )
    name = mode.ladder.dial.replace("-", " ")
    if tried.level is None:
        return f"A try here needs its {name}."
    low, high = sorted((mode.ladder.easiest, mode.ladder.hardest))
    slack = mode.ladder.step.value
    if not low - slack <= tried.level <= high + slack:
        return f"The {name} goes from {low:g} to {high:g} {mode.ladder.unit}; this says {tried.level:g}."
    return None


def _say_choice(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"


def line_of(mode: Mode, drill: Drill | None) -> float | None:
    """The figure (or, on a ladder, the setting) that the tries of a mode are held against, if there is
    one.
    """
    own = mode.line or mode.ceiling
    if own:
        return own.value
    if drill is None:
        return None
    if mode.ladder:
        at = drill.gate.at
        return None if at is None else at.at_most if at.at_most is not None else at.at_least
    return drill.gate.value if drill.gate.measure is mode.measure and not drill.gate.mode else None


def harder_first(ladder: Ladder) -> bool:
    """Say whether greater figures of this ladder are easier, so that the lowest passed is the best."""
    return ladder.harder in FALLING


@dataclass(frozen=True, slots=True, kw_only=True)
class Rung:
    """One setting of a ladder that can really be made, and how (empty: by eye)."""

    level: float
    stack: str = ""


def exact_rungs(ladder: Ladder) -> tuple[Rung, ...]:
    """The settings of a ladder where no kit is needed: every notch, from the easiest to the hardest."""
    down = ladder.hardest < ladder.easiest
    count = int(abs(ladder.hardest - ladder.easiest) / ladder.notch.value + 1e-9)
    sign = -1 if down else 1
    return tuple(
        Rung(level=round(ladder.easiest + sign * n * ladder.notch.value, 2)) for n in range(count + 1)
    )
