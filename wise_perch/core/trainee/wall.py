"""Every gate of a trainee on one day: met, proven, stale or waived, and whether what drills ask of one
another is there.

What standing and goals reason over. It says nothing in sentences but what is said alike of everybody.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from functools import cached_property, lru_cache

from wise_perch.core.trade.content import Need, Rules
from wise_perch.core.trade.gates import stage_gate
from wise_perch.core.trade.syllabus import Reading, Syllabus
from wise_perch.core.trainee.marks import Marks, TraineeMarks, fill_of_gate
from wise_perch.core.trainee.stored import Waiver
from wise_perch.core.trainee.wording import wait_sentence


class State(StrEnum):
    """The states of a gate. A good day is not a level: met is one clean pass, proven is two days, stale is
    long ago.

    Waived is the coach's word in place of evidence: downstream it counts as met, and never as proven.
    """

    NOT_YET = "not yet"
    MET = "met"
    PROVEN = "proven"
    STALE = "stale"
    WAIVED = "waived"


RANK = {State.NOT_YET: 0, State.STALE: 1, State.WAIVED: 2, State.MET: 2, State.PROVEN: 3}
"""How much a state is worth, for comparing."""


@dataclass(frozen=True, slots=True)
class GateReading:
    """How one gate, or what a need asks of it, reads on a day. `waived` raises what evidence left below
    met. `unlined`: evidence meets it, but the line that it asks for was not shown.
    """

    state: State
    fill: float
    found: Marks
    reading: Reading
    waived: bool = False
    unlined: bool = False

    @property
    def met(self) -> bool:
        """A stale gate was met, and still holds up what stands on it."""
        return self.state is not State.NOT_YET

    @property
    def proven(self) -> bool:
        """Whether it is proven and not stale."""
        return self.state is State.PROVEN


NOTHING = Marks()


def _state_of(found: Marks, rules: Rules, on: date) -> State:
    last = found.last_pass
    if last is None:
        return State.NOT_YET
    if (on - last).days > rules.stale_after_days.value:
        return State.STALE
    return State.PROVEN if found.proven_on else State.MET


def _weakest_part(
    of_drill: Mapping[str, Marks], readings: tuple[Reading, ...], rules: Rules, on: date
) -> GateReading:
    """A gate of several parts (two sides, two conditions) is as good as its weakest part."""
    parts = []
    for reading in readings:
        found = of_drill.get(reading.key, NOTHING)
        best = found.best
        filled = fill_of_gate(best.value, best.n, reading.gate) if best else 0.0
        parts.append(GateReading(_state_of(found, rules, on), filled, found, reading))
    return min(parts, key=lambda r: (RANK[r.state], r.fill)) if len(parts) > 1 else parts[0]


@dataclass(frozen=True, slots=True)
class Texts:
    """What is said alike of every trainee: each drill's gate, its stages, and what its needs wait for."""

    gates: Mapping[str, str]
    stages: Mapping[str, tuple[str, ...]]
    needs: Mapping[str, tuple[str, ...]]


@lru_cache(maxsize=64)
def texts_of(syllabus: Syllabus) -> Texts:
    """Say once what does not depend on anybody's evidence. A syllabus is known by its identity and never
    changes.
    """
    drills = syllabus.drills
    return Texts(
        gates={name: d.gate.text for name, d in drills.items()},
        stages={
            name: tuple(stage_gate(stage, d.gate).text for stage in d.stages) for name, d in drills.items()
        },
        needs={
            name: tuple("" if n.enough else wait_sentence(n, drills) for n in syllabus.needs[name])
            for name in drills
        },
    )


@dataclass(frozen=True)
class Wall:
    """Every gate's reading on a day, and what needs ask beyond gates. What `standing` and `goals` reason
    over.
    """

    gates: Mapping[str, GateReading]
    marks: TraineeMarks
    syllabus: Syllabus
    on: date
    texts: Texts
    _of_value: dict[tuple[str, float], GateReading] = field(default_factory=dict)
    _told: dict[int, tuple[Need, bool]] = field(default_factory=dict)

    def needs_of(self, name: str) -> tuple[Need, ...]:
        """What a drill asks for. One that was passed itself has shown what lies below it: of that only exits
        are asked for. Away from the wall or near the floor with the head it has so while it is not stale.
        """
        own = self.syllabus
        return own.exit_needs[name] if self._shows_below(name) else own.needs[name]

    def _shows_below(self, name: str) -> bool:
        gate = self.gates[name]
        if self.syllabus.drills[name].guarded:
            return gate.state in (State.MET, State.PROVEN)
        return gate.found.last_pass is not None

    @cached_property
    def shown_above(self) -> frozenset[str]:
        """What something stands on that is passed and not stale: it was shown with that. Exits are not, they
        are shown themselves.
        """
        return self._under(n for n, g in self.gates.items() if g.state in (State.MET, State.PROVEN))

    @cached_property
    def shown_with(self) -> frozenset[str]:
        """What is shown with something that was passed, at the wall however long ago: once that is shown
        again.
        """
        return self._under(n for n in self.gates if self._shows_below(n))

    def unshown(self, name: str) -> bool:
        """Whether a drill is not passed, or stale and shown with nothing that stands on it."""
        state = self.gates[name].state
        return state is State.NOT_YET or (state is State.STALE and name not in self.shown_with)

    def _under(self, names: Iterable[str]) -> frozenset[str]:
        under = frozenset[str]().union(*(self.syllabus.needed_for[n] for n in names))
        return frozenset(n for n in under if self.syllabus.pillar_of[n] != "exits")

    def of_need(self, need: Need, name: str) -> GateReading:
        """How a drill reads for a need that may ask for another value than its gate."""
        gate = self.gates[name]
        if need.value is None or gate.waived:
            return gate
        asked = (name, need.value.value)
        if asked not in self._of_value:
            readings = self.syllabus.need_readings[asked]
            self._of_value[asked] = _weakest_part(
                self.marks.get(name, {}), readings, self.syllabus.rules, self.on
            )
        return self._of_value[asked]

    def share(self, name: str) -> float:
        """How much of its gate a drill fills toward "enough of these": over one where it exceeds it, but not
        without end.
        """
        gate = self.gates[name]
        return min(max(gate.fill, 1.0 if gate.met else 0.0), self.syllabus.rules.most_overfill.value)

    def gathered(self, need: Need) -> float:
        """What the drills of an "enough of these" need fill together."""
        return sum(self.share(w) for w in need.any_of)

    def satisfied(self, need: Need) -> bool:
        """Say whether a need is met on this day."""
        # by identity, which takes no time; the need is kept, so that nothing else can take its place
        told = self._told.get(id(need))
        if told is None:
            told = self._told[id(need)] = (need, self._is_satisfied(need))
        return told[1]

    def _is_satisfied(self, need: Need) -> bool:
        if need.enough is not None:
            return self.gathered(need) >= need.enough.value - 1e-9
        proven = need.state == "proven"
        for w in need.any_of:
            reading = self.of_need(need, w)
            if reading.proven if proven else reading.met:
                return True
        return False

    def only_stale(self, need: Need) -> bool:
        """Say whether a need is met by nothing but what is stale: it holds, and is to be shown again."""
        if need.enough is not None or not self.satisfied(need):
            return False
        readings = [r for w in need.any_of if (r := self.of_need(need, w)).met]
        return all(r.state is State.STALE for r in readings)


def _line_shown(name: str, syllabus: Syllabus, lines: Mapping[str, float]) -> bool:
    """Whether the line that a gate asks for was shown, in the drill or one that differs only in its gate."""
    drill = syllabus.drills[name]
    if drill.gate.line_within is None:
        return True
    shown = [lines[kin] for kin in syllabus.kin_of(drill) if kin in lines]
    return bool(shown) and min(shown) <= drill.gate.line_within.value


def read_wall(
    trainee_marks: TraineeMarks,
    syllabus: Syllabus,
    *,
    on: date,
    waivers: Mapping[str, Waiver] | None = None,
    lines: Mapping[str, float] | None = None,
) -> Wall:
    """Read every gate on day `on`. `lines`: how far off the best kept line of each drill is, degrees."""
    gates: dict[str, GateReading] = {}
    waived = waivers or {}
    for name in syllabus.drills:
        gate = _weakest_part(trainee_marks.get(name, {}), syllabus.gate_readings[name], syllabus.rules, on)
        if gate.met and not _line_shown(name, syllabus, lines or {}):
            gate = GateReading(State.NOT_YET, gate.fill, gate.found, gate.reading, unlined=True)
        if name in waived:
            state = State.WAIVED if gate.state in (State.NOT_YET, State.STALE) else gate.state
            gate = GateReading(state, gate.fill, gate.found, gate.reading, waived=True)
        gates[name] = gate
    return Wall(gates, trainee_marks, syllabus, on, texts_of(syllabus))
