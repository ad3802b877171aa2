"""Tests as data: what is done, measured and marked in each try, and the sheet that says after every try what comes now.

A test's data and the coach's choices are laid out once as a `Sheet`: a small table of steps, each with where every outcome
leads. Whoever holds the sheet can go on with a run without asking anybody, in any language, by walking it.
"""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from wise_perch.core.content import Drill
from wise_perch.core.decision import Figure
from wise_perch.core.evidence import COUNTED, MEASURE_UNITS, PLAUSIBLE, Fell, Measure, Side, Try
from wise_perch.core.gates import FALLING, Harder

Takes = Literal["timer", "window", "count", "mark", "number"]
"""How a try is taken: a clock started and stopped; a countdown in which touches are counted; a count of reps; one key; a
figure that is read off and typed."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One key of a try: the outcome it writes. `key` as keyboards name it.

    `figure`: it keeps the figure that was timed, counted or typed; without, it stands by itself. `passed`: at this setting
    the try was good (True), a miss (False), or settings do not matter (None). `fell`: how the try ended.
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

    In the dial's unit: from `easiest` to `hardest` in notches of `notch`, `step` at most at once, beginning at `start` (`shy`
    with low confidence). `harder`: which way. `strict`: never more than a step at once, even if nothing nearer can be made.
    `stacks`: the kinds of kit that make a height, `hand_stacks` those that raise both hands for what lies below the floor.
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
    """A try whose figure stays below `below` shows that another way of measuring fits better: the test goes on in `to`."""

    below: Figure
    to: str
    say: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """A key with which the coach goes on in another way of measuring."""

    key: str
    title: str
    to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """One way of measuring within a test; modes never compare with one another.

    `tries` is the most there are; `takes_s` what one takes, s, for the minutes; `ceiling` the most that is credited; `line` the figure tries are held against;
    `window_s` how long touches are counted; `then` the mode that follows of itself. `best`: the best of the tries counts, or
    their average. `fewer` is better for touches. `figure`: what the figure is called.
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
    change: Change | None = None
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

    `subjects`: the drills it can be run for, one at a time; `every` takes all drills of that measure which no other test
    is run for and which stay at the wall. `exits_drill`: the exit it asks to be proven. `drills`: the drills it speaks for, by the
    part they play in scoring. `upright`: it is done the right way up. `due_after_days`: when it is asked for again, of those who train for `due_for`.
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
        """How long the test usually takes at `rest_s` seconds of rest between tries, in whole minutes, rounded up."""
        tries = self.usual_tries.value * (2 if self.sides else 1)
        seconds = tries * self.modes[0].takes_s.value + (tries - 1) * rest_s
        return int(-(-seconds // 60))


def try_problem(test: Test, tried: Try) -> str | None:
    """Say in a sentence what is wrong with a try of a test, or None."""
    if tried.mode and tried.mode not in (names := [m.mode for m in test.modes]):
        return f"{test.title} are measured as {_or(names)}; this says {tried.mode}."
    mode = test.mode(tried.mode)
    fitting = [m for m in mode.marks if m.outcome == tried.outcome]
    if not fitting:
        return f"A try here is {_or(list(dict.fromkeys(m.outcome for m in mode.marks)))}; this says {tried.outcome[:60]}."
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
        good = _or(list(dict.fromkeys(m.outcome for m in mode.marks if m.figure))) if any(m.figure for m in mode.marks) else "no"
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
        return None if tried.level is None or -100 <= tried.level <= 500 else f"A setting of {tried.level:g} is a slip of the finger."
    name = mode.ladder.dial.replace("-", " ")
    if tried.level is None:
        return f"A try here needs its {name}."
    low, high = sorted((mode.ladder.easiest, mode.ladder.hardest))
    slack = mode.ladder.step.value
    if not low - slack <= tried.level <= high + slack:
        return f"The {name} goes from {low:g} to {high:g} {mode.ladder.unit}; this says {tried.level:g}."
    return None


def _or(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"


# --- the sheet ---------------------------------------------------------------------------------------------------


ENOUGH = "enough"
"""The end of a run whose tries are all made."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """Where a try leads: the first way whose conditions fit. `outcome`, `below` (of the figure) and `level` restrict it."""

    to: str
    outcome: str | None = None
    below: float | None = None
    level: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """What to do now: a try in `mode`, on `side`, at one of `levels` (the first is proposed). `say` tells what led here.

    `change`: where the run goes on when the coach goes over to the next way of measuring by hand. `whole`: what is there
    already is a whole result, so ending here is no stopping.
    """

    mode: str
    ways: tuple[Way, ...]
    side: Side | None = None
    levels: tuple[float, ...] = ()
    say: str = ""
    change: str = ""
    whole: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A test laid out for one run. `steps` by name; `enter` says where each mode begins; `ends` why a run is over.

    `tries`: the most in each mode. `stacks`: what makes each height, by the height as `level_name` writes it.
    """

    first: str
    steps: Mapping[str, Step]
    enter: Mapping[str, str]
    ends: Mapping[str, str]
    tries: Mapping[str, int]
    stacks: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Now:
    """Where a run stands: the step to do, or why it is over. `number` and `of` count within the step's mode.

    `switched`: the try before was measured in another mode.
    """

    step: Step | None
    over: str
    number: int
    of: int
    switched: bool


def walk(sheet: Sheet, tries: Sequence[Try]) -> Now:
    """Say what comes now after these tries, in their order.

    A try made in another mode than the sheet expected (the coach's choice, or a correction made later) moves the run there;
    no try is ever left out of the count.
    """
    at, made = sheet.first, Counter[str]()
    mode_before = ""
    for tried in tries:
        mode = tried.mode or sheet.steps[sheet.first].mode
        if at in sheet.ends or sheet.steps[at].mode != mode:
            by_hand = "" if at in sheet.ends else sheet.steps[at].change
            at = by_hand if by_hand in sheet.steps and sheet.steps[by_hand].mode == mode else sheet.enter.get(mode, at)
        made[mode] += 1
        mode_before = mode
        if at in sheet.ends:
            continue
        at = _next(sheet.steps[at], tried)
        # whatever a coach chooses, each way of measuring has its most tries
        while at not in sheet.ends and made[sheet.steps[at].mode] >= sheet.tries[sheet.steps[at].mode]:
            at = ENOUGH
    if at in sheet.ends:
        return Now(step=None, over=sheet.ends[at], number=len(tries), of=len(tries), switched=False)
    step = sheet.steps[at]
    return Now(step=step, over="", number=made[step.mode] + 1, of=sheet.tries[step.mode], switched=bool(tries) and step.mode != mode_before)


def _next(step: Step, tried: Try) -> str:
    fitting = [
        w for w in step.ways if w.outcome in (None, tried.outcome) and (w.below is None or (tried.value is not None and tried.value < w.below))
    ]
    # a setting that is not on the sheet is read as the nearest that is
    return min(fitting, key=lambda w: 0 if w.level is None or tried.level is None else abs(w.level - tried.level)).to


def level_name(level: float) -> str:
    """A setting as the key of a table."""
    return f"{level:g}"


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
    return tuple(Rung(level=round(ladder.easiest + sign * n * ladder.notch.value, 2)) for n in range(count + 1))


def lay_out(
    test: Test,
    *,
    subject: Drill | None = None,
    rungs: Mapping[str, Sequence[Rung]] | None = None,
    starts: Mapping[str, float] | None = None,
    early_below: float | None = None,
    first_side: Side = Side.RIGHT,
) -> Sheet:
    """Lay a test out as the sheet of one run.

    Args: `subject` the drill it is run for, where the test has several; `rungs` the settings that can be made, by mode, from
    easy to hard (every notch where a mode is left out); `starts` the setting a mode begins at, by mode; `early_below` the
    coach's own figure for going over to counting; `first_side` where both sides are tested.
    """
    both = test.sides or bool(subject and subject.gate.each_side)
    sides: tuple[Side | None, ...] = (first_side, Side.LEFT if first_side is Side.RIGHT else Side.RIGHT) if both else (None,)
    laid = _Laid()
    climbs: dict[str, _Climb] = {}
    # the last mode first, so that a ladder knows where it leads
    for mode in reversed(test.modes):
        if mode.ladder:
            made = tuple((rungs or {}).get(mode.mode) or exact_rungs(mode.ladder))
            laid.stacks |= {level_name(r.level): r.stack for r in made if r.stack}
            climb = _Climb(mode, mode.ladder, made, climbs.get(mode.then), laid)
            climbs[mode.mode] = climb
            laid.enter[mode.mode] = climb.begin((starts or {}).get(mode.mode, mode.ladder.start.value))
        else:
            laid.steps |= dict(_plain(mode, sides, early_below, enough=int(test.usual_tries.value) * len(sides)))
            laid.enter[mode.mode] = f"{mode.mode} 1"
    tries = {m.mode: int(m.tries.value) * len(sides) for m in test.modes}
    return Sheet(first=laid.enter[test.modes[0].mode], steps=laid.steps, enter=laid.enter, ends=laid.ends, tries=tries, stacks=laid.stacks)


@dataclass(slots=True)
class _Laid:
    """What is laid out so far."""

    steps: dict[str, Step] = field(default_factory=dict)
    enter: dict[str, str] = field(default_factory=dict)
    ends: dict[str, str] = field(default_factory=lambda: {ENOUGH: "All tries are made."})
    stacks: dict[str, str] = field(default_factory=dict)


def _plain(mode: Mode, sides: Sequence[Side | None], early_below: float | None, *, enough: int) -> Iterator[tuple[str, Step]]:
    """Tries one like the other; an early end of one may lead to another mode while there are tries left here."""
    count = int(mode.tries.value) * len(sides)
    change = f"{mode.change.to} 1" if mode.change else ""
    for n in range(1, count + 1):
        ways = [Way(to=f"{mode.mode} {n + 1}" if n < count else ENOUGH)]
        if mode.early and n < count:
            below = mode.early.below.value if early_below is None else early_below
            ways.insert(0, Way(to=f"{mode.early.to} 1", below=below))
        yield f"{mode.mode} {n}", Step(mode=mode.mode, ways=tuple(ways), side=sides[(n - 1) % len(sides)], change=change, whole=n > enough)


@dataclass(frozen=True, slots=True)
class _Climb:
    """All places of one ladder: the hardest rung passed and the easiest one missed say what to try next."""

    mode: Mode
    ladder: Ladder
    rungs: tuple[Rung, ...]
    then: "_Climb | None"
    laid: _Laid

    def begin(self, level: float) -> str:
        """Lay out every place that can follow from beginning at the rung nearest to `level` (in doubt the easier one)."""
        start = min(range(len(self.rungs)), key=lambda n: (round(abs(self.rungs[n].level - level), 6), n))
        name = f"{self.mode.mode} from {level_name(self.rungs[start].level)}"
        if name not in self.laid.steps:
            todo: list[tuple[int, int]] = []
            levels = list(dict.fromkeys([start, max(0, start - 1)]))
            self._lay(name, -1, len(self.rungs), levels, todo)
            while todo:
                passed, missed = todo.pop()
                if self._name(passed, missed) not in self.laid.steps:
                    self._lay(self._name(passed, missed), passed, missed, self._choices(passed, missed), todo)
        return name

    def _name(self, passed: int, missed: int) -> str:
        low = level_name(self.rungs[passed].level) if passed >= 0 else "none"
        high = level_name(self.rungs[missed].level) if missed < len(self.rungs) else "none"
        return f"{self.mode.mode} passed {low} missed {high}"

    def _lay(self, name: str, passed: int, missed: int, levels: Sequence[int], todo: list[tuple[int, int]]) -> None:
        ways = []
        for n in levels:
            for mark in self.mode.marks:
                p, m = (max(passed, n), missed) if mark.passed else (passed, min(missed, n))
                ways.append(Way(outcome=mark.outcome, level=self.rungs[n].level, to=self._to(p, m, todo)))
        self.laid.steps[name] = Step(
            mode=self.mode.mode,
            ways=tuple(ways),
            levels=tuple(self.rungs[n].level for n in levels),
            say=self._say(passed, missed),
            change=self._over(passed, missed) if self.then else "",
            whole=missed < len(self.rungs),
        )

    def _to(self, passed: int, missed: int, todo: list[tuple[int, int]]) -> str:
        if missed == 0 or missed - passed <= 1 or not self._choices(passed, missed):
            return self._over(passed, missed)
        todo.append((passed, missed))
        return self._name(passed, missed)

    def _over(self, passed: int, missed: int) -> str:
        """Where a ladder ends: at the next one, which begins where this one got to, or with a reason."""
        if self.then:
            return self.then.begin(self.rungs[max(passed, 0)].level)
        words = self._words
        if passed < 0:
            why = f"Missed at {words(missed)}, and nothing easier is left to try."
        elif missed >= len(self.rungs) and passed < len(self.rungs) - 1:
            why = f"Passed at {words(passed)}; the next that can be made, {words(passed + 1)}, is more than a step of {self.ladder.step.value:g} cm away."
        elif missed >= len(self.rungs):
            why = f"Passed at {words(passed)}, the hardest there is here."
        else:
            why = f"Passed at {words(passed)}, missed at {words(missed)}, and nothing can be made in between."
        key = f"{self._name(passed, missed)} end"
        self.laid.ends[key] = why
        return key

    def _choices(self, passed: int, missed: int) -> list[int]:
        """What is proposed, and beside it an easier notch: going easier is always allowed."""
        last = len(self.rungs) - 1
        if passed < 0:
            # a miss before anything was passed goes back a whole step
            return [max(n for n in range(missed) if n == 0 or self._apart(n, missed) >= self.ladder.step.value - 1e-9)]
        if missed <= last:
            return [(passed + missed) // 2]
        within = [n for n in range(passed + 1, last + 1) if self._apart(passed, n) <= self.ladder.step.value + 1e-9]
        if not within and not self.ladder.strict:
            within = [passed + 1]
        return list(dict.fromkeys([within[-1], within[0]])) if within else []

    def _apart(self, a: int, b: int) -> float:
        return abs(self.rungs[a].level - self.rungs[b].level)

    def _words(self, n: int) -> str:
        return f"{self.rungs[n].level:g} {self.ladder.unit}"

    def _say(self, passed: int, missed: int) -> str:
        last = len(self.rungs) - 1
        if passed < 0 and missed > last:
            return ""
        if passed < 0:
            return f"Missed at {self._words(missed)}: easier first."
        if missed <= last:
            return f"Passed at {self._words(passed)}, missed at {self._words(missed)}: one in between, or end here."
        return f"Passed at {self._words(passed)}."


def line_of(mode: Mode, drill: Drill | None) -> float | None:
    """The figure (or, on a ladder, the setting) that the tries of a mode are held against, if there is one."""
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
