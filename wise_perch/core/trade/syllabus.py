"""The syllabus in use: the content with our tests, and what follows from it: needs, openings, readings, what
a goal leads through.

The checks that keep content sound stand in `checks`, the finder of gaps in `gaps`, the overlays of schools in
`schools`.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

from wise_perch.core.trade.content import Content, DoseRule, Drill, Line, Need, Pillar, Rules
from wise_perch.core.trade.easing import Easing
from wise_perch.core.trade.gates import Gate, stage_gate
from wise_perch.core.trade.intake import Intake
from wise_perch.core.trade.line_rules import LineRules, LineTarget
from wise_perch.core.trade.mechanics import Mechanics
from wise_perch.core.trade.own_tests import TestingWays, make_own_test
from wise_perch.core.trade.poses import Drawing, Poses
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.session_rules import SessionRules


class Reading(NamedTuple):
    """One way a drill's evidence is read: its gate or a part of it, a stage, or what another drill asks of
    it.

    `key` names it within the drill; `side` restricts it to one side.
    """

    key: str
    gate: Gate
    side: str | None = None


def need_key(need: Need) -> str:
    """The key under which a need's own value is read."""
    return f"value {need.value.value:g}" if need.value else ""


@dataclass(frozen=True, kw_only=True, eq=False)
class Syllabus:
    """All content in use with our tests. `version` changes whenever any of the data does. Retired drills are
    left out.
    """

    version: str
    content: Content
    tests: Mapping[str, Test]
    intake: Intake
    mechanics: Mechanics
    usual_sessions: SessionRules
    easing: Easing
    poses: Poses
    line_rules: LineRules
    testing: TestingWays

    def drawing_of(self, drill: Drill) -> Drawing | None:
        """How a drill is drawn: as it says itself, else by its name, else as the one it differs from only in
        its gate.
        """
        return drill.drawing or self.poses.of_drill(drill.drill) or self.poses.of_drill(drill.family)

    @property
    def sessions(self) -> SessionRules:
        """How sessions and weeks are built: by the coach's own rules, or ours."""
        return self.content.sessions or self.usual_sessions

    @property
    def rules(self) -> Rules:
        """The figures of judgement."""
        return self.content.rules

    @property
    def tests_offered(self) -> tuple[Test, ...]:
        """The tests to run: without those set aside. What was tested with them before still counts."""
        aside = set(self.content.tests_aside)
        return tuple(t for t in self.tests.values() if t.test not in aside)

    @property
    def free_tries(self) -> Test:
        """The test of the open floor: its decision says what a free hold lacks."""
        return self.tests["free-tries"]

    def with_own_tests(self) -> "Syllabus":
        """The same with the tests of the content beside ours, what is done upside down before mobility; those
        for a drill that is not there are left out.
        """
        made = {
            own.test: make_own_test(
                own,
                self.drills[own.drill],
                self.testing,
                inverted=own.drill in self.inverted,
                mechanics=self.mechanics,
            )
            for own in self.content.own_tests
            if own.drill in self.drills
        }
        ordered = sorted((*self.tests.values(), *made.values()), key=lambda t: t.upright)
        return replace(self, tests={t.test: t for t in ordered}) if made else self

    def subjects(self, test: Test) -> tuple[Drill, ...]:
        """The drills a test can be run for, in the order of the lines; none where it is run as it is."""
        if test.every is None:
            return tuple(self.drills[name] for name in test.subjects if name in self.drills)
        own = {own.test for own in self.content.own_tests}
        taken = {name for t in self.tests.values() if t.test not in own for name in t.subjects}
        return tuple(
            d
            for d in self.drills.values()
            if d.drill in test.subjects
            or (d.gate.measure is test.every and not d.away and not d.gate.mode and d.drill not in taken)
        )

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """The lines as they are used: without retired drills, rungs left empty or lines left empty."""
        return tuple(in_use for line in self.content.lines if (in_use := _in_use(line)).rungs)

    @cached_property
    def drills(self) -> Mapping[str, Drill]:
        """Every drill by its name."""
        return {d.drill: d for _, _, d in self.placed()}

    @cached_property
    def line_of(self) -> Mapping[str, str]:
        """The line of every drill."""
        return {d.drill: line.line for line, _, d in self.placed()}

    @cached_property
    def pillar_of(self) -> Mapping[str, Pillar]:
        """What every drill builds."""
        return {d.drill: d.pillar or line.pillar for line, _, d in self.placed()}

    @cached_property
    def inverted(self) -> frozenset[str]:
        """The drills done upside down."""
        return frozenset(
            d.drill for line, _, d in self.placed() if (line.inverted if d.inverted is None else d.inverted)
        )

    def line_target(self, drill: str) -> LineTarget | None:
        """The line that a drill is meant to have; None where none is looked at, or there is no such drill."""
        if drill not in self.drills:
            return None
        return self.line_rules.of_drill(drill, inverted=drill in self.inverted)

    @cached_property
    def needs(self) -> Mapping[str, tuple[Need, ...]]:
        """Every drill's full list of needs: its own, then the rung below it; guarded drills ask for proven
        ones.
        """
        found: dict[str, tuple[Need, ...]] = {}
        for line in self.lines:
            below: tuple[Drill, ...] = ()
            for rung in line.rungs:
                for d in rung:
                    own = d.needs
                    if line.chained and d.follows:
                        asked = {w for n in own for w in n.any_of}
                        own += tuple(Need(any_of=(b.drill,)) for b in below if b.drill not in asked)
                    found[d.drill] = tuple(_need_proven(n) for n in own) if d.guarded else own
                required = tuple(d for d in rung if not d.optional)
                below = required or below
        return found

    @cached_property
    def opens(self) -> Mapping[str, tuple[str, ...]]:
        """For every drill, the drills that wait for it."""
        found: dict[str, list[str]] = {name: [] for name in self.drills}
        for name, needs in self.needs.items():
            for wanted in dict.fromkeys(w for need in needs for w in need.any_of if w in found):
                found[wanted].append(name)
        return {name: tuple(waiting) for name, waiting in found.items()}

    @cached_property
    def readings(self) -> Mapping[str, tuple[Reading, ...]]:
        """For every drill, each way its evidence is read. Those whose key begins with "gate" make its
        gate.
        """
        asked: dict[str, dict[str, float]] = {name: {} for name in self.drills}
        for needs in self.needs.values():
            for need in needs:
                if need.value:
                    for wanted in need.any_of:
                        asked[wanted][need_key(need)] = need.value.value
        return {name: tuple(_read_gates(d, asked[name])) for name, d in self.drills.items()}

    @cached_property
    def gate_readings(self) -> Mapping[str, tuple[Reading, ...]]:
        """For every drill, the readings that make its gate."""
        return {
            name: tuple(r for r in readings if r.key.startswith("gate"))
            for name, readings in self.readings.items()
        }

    @cached_property
    def need_readings(self) -> Mapping[tuple[str, float], tuple[Reading, ...]]:
        """For every drill and value that another drill asks of it, the readings that tell."""
        found: dict[tuple[str, float], tuple[Reading, ...]] = {}
        for needs in self.needs.values():
            for need in needs:
                if need.value is None:
                    continue
                key = need_key(need)
                for w in need.any_of:
                    found[w, need.value.value] = tuple(
                        r for r in self.readings[w] if r.key == key or r.key.startswith(f"{key} ")
                    )
        return found

    @cached_property
    def needed_for(self) -> Mapping[str, frozenset[str]]:
        """For every drill, all it needs by any way, itself left out."""
        return {name: self.all_needed((name,)) - {name} for name in self.drills}

    @cached_property
    def below(self) -> Mapping[str, frozenset[str]]:
        """For every goal, all that it may lead through: its drills, what leads to them, all they need by any
        way, and what supports it.
        """
        goals = self.content.goals
        return {g.goal: self.all_needed((*g.drills, *g.through, *g.supports)) for g in goals}

    @cached_property
    def leads_to(self) -> Mapping[str, frozenset[str]]:
        """For every goal, what leads to it: as `below`, without what only supports it."""
        return {g.goal: self.all_needed((*g.drills, *g.through)) for g in self.content.goals}

    def all_needed(self, names: Iterable[str]) -> frozenset[str]:
        """These drills and all they need by any way."""
        seen: set[str] = set()
        todo = list(names)
        while todo:
            name = todo.pop()
            if name not in seen and name in self.drills:
                seen.add(name)
                todo += [w for need in self.needs[name] for w in need.any_of]
        return frozenset(seen)

    def kin_of(self, drill: Drill) -> tuple[str, ...]:
        """A drill and those that differ from it only in their gate, by name."""
        return self._kin.get(drill.drill, (drill.drill,))

    @cached_property
    def _kin(self) -> Mapping[str, tuple[str, ...]]:
        families: dict[str, list[str]] = {}
        for d in self.drills.values():
            if d.family:
                families.setdefault(d.family, []).append(d.drill)
        return {name: tuple(sorted(kin)) for kin in families.values() for name in kin}

    @cached_property
    def place_of(self) -> Mapping[str, tuple[Line, int]]:
        """The line of every drill and the height of its rung."""
        return {d.drill: (line, height) for line, height, d in self.placed()}

    @cached_property
    def exit_needs(self) -> Mapping[str, tuple[Need, ...]]:
        """Of every drill's needs those that an exit can meet."""
        pillar_of = self.pillar_of
        return {
            name: tuple(n for n in needs if any(pillar_of[w] == "exits" for w in n.any_of))
            for name, needs in self.needs.items()
        }

    @cached_property
    def awaited(self) -> frozenset[str]:
        """The drills that some drill asks to be proven."""
        every = (n for needs in self.needs.values() for n in needs if n.state == "proven")
        return frozenset(w for n in every for w in n.any_of)

    def placed(self) -> Iterator[tuple[Line, int, Drill]]:
        """Give every drill in use with its line and the height of its rung, from the lowest up."""
        for line in self.lines:
            for height, rung in enumerate(line.rungs):
                for d in rung:
                    yield line, height, d

    def ways(self, name: str) -> tuple[Gate, ...]:
        """The different ways a drill's evidence may be measured: its gate's first, then what its parts and
        stages ask.
        """
        found: dict[tuple[object, ...], Gate] = {}
        for reading in self.readings[name]:
            gate = reading.gate
            found.setdefault((gate.measure, gate.mode, gate.window_s), gate)
        return tuple(found.values())

    def doses(self, d: Drill) -> tuple[DoseRule, ...]:
        """A drill's own doses, or the usual one of its measure."""
        usual = self.content.usual_doses.get(d.gate.measure.value)
        return d.doses or ((usual,) if usual else ())


def _in_use(line: Line) -> Line:
    rungs = tuple(kept for rung in line.rungs if (kept := tuple(d for d in rung if not d.retired)))
    if rungs == line.rungs:
        return line
    return replace(line, rungs=rungs)


def _need_proven(need: Need) -> Need:
    return need if need.enough else Need(any_of=need.any_of, state="proven", value=need.value, why=need.why)


def _read_gates(d: Drill, asked: Mapping[str, float]) -> Iterator[Reading]:
    sides = ("left", "right") if d.gate.each_side else (None,)
    for n, gate in enumerate((d.gate, *d.gate.also)):
        for side in sides:
            yield Reading(" ".join(filter(None, ("gate", str(n) if n else "", side))), gate, side)
    for n, stage in enumerate(d.stages):
        gate = stage_gate(stage, d.gate)
        # a stage measured as the gate is reached when the gate's own best reaches it
        if (gate.measure, gate.mode, gate.window_s) != (d.gate.measure, d.gate.mode, d.gate.window_s):
            yield Reading(f"stage {n}", gate)
    for key, value in asked.items():
        for side in sides:
            # a counted rate keeps its n: k is what is asked
            yield Reading(" ".join(filter(None, (key, side))), replace(d.gate, value=value, also=()), side)
