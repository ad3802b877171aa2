"""The syllabus as a model: lines, drills, gates and what each drill waits for, with the checks that keep it sound."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import Literal

from wise_perch.core.benchmarks.free_tries import FreeTriesDrills, FreeTriesRules
from wise_perch.core.decision import Figure, Origin
from wise_perch.core.evidence import MEASURE_UNITS, Measure

Requirement = Literal["met", "proven"]


@dataclass(frozen=True, slots=True, kw_only=True)
class DialLimit:
    """The dial setting a gate is measured at: `dial` at `at_most` cm."""

    dial: str
    at_most: float
    origin: Origin


@dataclass(frozen=True, slots=True, kw_only=True)
class Gate:
    """The rule that says a drill is passed, by clean evidence of at least `value`.

    `value` is in the unit of `measure`; for a rate it is k and `of` is n. `each_side`: left and right must both pass.
    `mode` restricts the way of measuring; `at` the dial setting.
    """

    measure: Measure
    value: float
    origin: Origin
    of: int | None = None
    each_side: bool = False
    mode: str | None = None
    at: DialLimit | None = None

    @property
    def amount(self) -> str:
        """How much it takes: "30 s", "7 of 10", "5"."""
        number = f"{self.value:g}"
        return {Measure.RATE: f"{number} of {self.of}", Measure.REPS: number}.get(self.measure, f"{number} {MEASURE_UNITS[self.measure]}")

    @property
    def text(self) -> str:
        """The whole gate in the trade's words: "30 s", "5 a side", "30 s at 15 cm or less"."""
        body = self.amount
        if self.mode:
            body += f", {self.mode}"
        if self.each_side:
            body += " a side"
        return body + (f" at {self.at.at_most:g} cm or less" if self.at else "")


@dataclass(frozen=True, slots=True, kw_only=True)
class Dial:
    """What makes a drill easier or harder without changing its name. Settings in cm; `harder` says which way."""

    name: str
    harder: Literal["nearer", "farther", "lower", "higher"]
    origin: Origin


@dataclass(frozen=True, slots=True, kw_only=True)
class Need:
    """One prerequisite: any one of `any_of` drills, at least `state`."""

    any_of: tuple[str, ...]
    state: Requirement = "met"


@dataclass(frozen=True, slots=True, kw_only=True)
class Drill:
    """One exercise with its gate and what it waits for, beyond the rung below it.

    `guarded`: away from the wall, or the head carrying or nearing the floor; such a drill opens only on proven needs.
    `optional`: a rung above does not wait for it.
    """

    drill: str
    title: str
    gate: Gate
    about: str = ""
    dial: Dial | None = None
    needs: tuple[Need, ...] = ()
    guarded: bool = False
    optional: bool = False
    cautions: tuple[str, ...] = ()
    stages: tuple[Figure, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A named progression: rungs from easy to hard; drills on one rung are siblings, in no order."""

    line: str
    title: str
    about: str
    rungs: tuple[tuple[Drill, ...], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class StateRules:
    """How long evidence speaks, in days: for the second clean pass that proves, for the last pass to go stale, and
    for a report of pain to be asked about before loading."""

    proven_within_days: Figure
    stale_after_days: Figure
    pain_asked_for_days: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class DecisionText:
    """What a test's decision means for the coach: a headline, what to do, and the drills to work on."""

    title: str
    work_on: tuple[str, ...]
    advice: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FreeTriesTest:
    """The ten free tries as data: set-up, cautions, rests, figures and what each decision leads to. Rests in s."""

    test: Literal["free-tries"]
    title: str
    setup: tuple[str, ...]
    cautions: tuple[str, ...]
    instead: str
    tries: Figure
    rest_least_s: Figure
    rest_most_s: Figure
    rest_usual_s: Figure
    try_takes_s: Figure
    due_after_days: Figure
    exits_drill: str
    landings_drill: str
    rules: FreeTriesRules
    drills: FreeTriesDrills
    decisions: Mapping[str, DecisionText]

    def minutes(self, *, rest_s: float) -> int:
        """How long the whole test takes at `rest_s` seconds of rest between tries, in whole minutes, rounded up."""
        seconds = self.tries.value * self.try_takes_s.value + (self.tries.value - 1) * rest_s
        return int(-(-seconds // 60))


@dataclass(frozen=True, kw_only=True)
class Syllabus:
    """All lines with their rules and tests. `version` changes whenever any of the data does."""

    version: str
    lines: tuple[Line, ...]
    rules: StateRules
    free_tries: FreeTriesTest

    @cached_property
    def drills(self) -> Mapping[str, Drill]:
        """Every drill by its name."""
        return {d.drill: d for d in self._each_drill()}

    @cached_property
    def line_of(self) -> Mapping[str, str]:
        """The line of every drill."""
        return {d.drill: line.line for line in self.lines for rung in line.rungs for d in rung}

    @cached_property
    def needs(self) -> Mapping[str, tuple[Need, ...]]:
        """Every drill's full list of needs: the rung below it, then its own; guarded drills ask for proven ones."""
        found: dict[str, tuple[Need, ...]] = {}
        for line in self.lines:
            below: tuple[Drill, ...] = ()
            for rung in line.rungs:
                for d in rung:
                    own = d.needs + tuple(Need(any_of=(b.drill,)) for b in below)
                    found[d.drill] = tuple(Need(any_of=n.any_of, state="proven") for n in own) if d.guarded else own
                required = tuple(d for d in rung if not d.optional)
                below = required or below
        return found

    @cached_property
    def opens(self) -> Mapping[str, tuple[str, ...]]:
        """For every drill, the drills that wait for it."""
        found: dict[str, list[str]] = {name: [] for name in self.drills}
        for name, needs in self.needs.items():
            for need in needs:
                for wanted in need.any_of:
                    if name not in found[wanted]:
                        found[wanted].append(name)
        return {name: tuple(waiting) for name, waiting in found.items()}

    def _each_drill(self) -> Iterable[Drill]:
        for line in self.lines:
            for rung in line.rungs:
                yield from rung


def problems(syllabus: Syllabus) -> list[str]:
    """List what is wrong with a syllabus, in sentences; empty if it is sound."""
    names = [d.drill for line in syllabus.lines for rung in line.rungs for d in rung]
    found = [f"The drill {name} stands twice." for name in sorted({n for n in names if names.count(n) > 1})]
    known = set(names)
    for d in syllabus._each_drill():
        found += [f"{d.drill} needs {w}, which is no drill here." for need in d.needs for w in need.any_of if w not in known]
        found += _gate_problems(d)
    test = syllabus.free_tries
    spoken = [test.exits_drill, test.landings_drill, test.drills.reach, test.drills.best_hold, test.drills.long_holds]
    spoken += [w for text in test.decisions.values() for w in text.work_on]
    found += [f"The test free-tries names {w}, which is no drill here." for w in spoken if w not in known]
    if not found and (cycle := _cycle(syllabus)):
        found.append("These drills wait for one another: " + " -> ".join(cycle))
    return found


def _gate_problems(d: Drill) -> list[str]:
    gate, found = d.gate, []
    if gate.value <= 0:
        found.append(f"{d.drill}: a gate of {gate.value:g} is met by doing nothing.")
    if (gate.measure is Measure.RATE) != (gate.of is not None):
        found.append(f"{d.drill}: a rate is k of n, and only a rate has an n.")
    elif gate.of is not None and gate.value > gate.of:
        found.append(f"{d.drill}: {gate.value:g} of {gate.of} can not be reached.")
    if gate.at and (d.dial is None or d.dial.name != gate.at.dial):
        found.append(f"{d.drill}: its gate is set at {gate.at.dial}, which is not its dial.")
    return found


def _cycle(syllabus: Syllabus) -> list[str] | None:
    graph = {name: {w for need in needs for w in need.any_of} for name, needs in syllabus.needs.items()}
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as error:
        return list(error.args[1])
    return None
