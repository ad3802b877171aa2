"""Where a trainee stands: every gate met, proven or stale, every drill open or closed and why, the perch of each line.

Two steps, so that a day's change costs nothing: `marks` (a module of its own) boils evidence down to what never depends
on today's date, and `standing` reads those marks on a given day.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from wise_perch.core.evidence import MEASURE_UNITS, Form, Measure, Side
from wise_perch.core.marks import Best, Marks, TraineeMarks, fill
from wise_perch.core.syllabus import Drill, Gate, Need, StateRules, Syllabus


class State(StrEnum):
    """The states of a gate. A good day is not a level: met is one clean pass, proven is two days, stale is long ago."""

    NOT_YET = "not yet"
    MET = "met"
    PROVEN = "proven"
    STALE = "stale"


@dataclass(frozen=True, slots=True, kw_only=True)
class Wait:
    """One unmet need of a closed drill: any one of `any_of`, at least `state`, and the sentence that says so."""

    any_of: tuple[str, ...]
    state: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillStanding:
    """One bar of the wall bars. `fill` from 0 to 1 says how much of the gate the clean evidence fills.

    `figure` is the short reading on the bar, `shortfall` the sentence; `prove_by` and `stale_on` are days.
    """

    drill: str
    title: str
    about: str
    gate: str
    origin: str
    measure: Measure
    state: State
    fill: float
    figure: str
    shortfall: str
    best: Best | None
    last_pass: date | None
    prove_by: date | None
    stale_on: date | None
    open: bool
    waits: tuple[Wait, ...]
    opens: tuple[str, ...]
    optional: bool
    out_of_order: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LineStanding:
    """One bay: rungs from the lowest up, the perch, and the drills ahead of and behind it."""

    line: str
    title: str
    about: str
    rungs: tuple[tuple[DrillStanding, ...], ...]
    perch: str | None
    perch_rung: int
    ahead: tuple[str, ...]
    behind: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """The whole of the wall bars on one day."""

    on: date
    lines: tuple[LineStanding, ...]

    def drill(self, name: str) -> DrillStanding:
        """Find one drill. Raises KeyError for a name that is not on any line."""
        for line in self.lines:
            for rung in line.rungs:
                for d in rung:
                    if d.drill == name:
                        return d
        raise KeyError(name)


@dataclass(frozen=True, slots=True)
class _GateReading:
    state: State
    was_proven: bool
    last_pass: date | None
    shown: Marks
    side: str


def _read_marks(found: Marks, rules: StateRules, on: date) -> State:
    if found.last_pass is None:
        return State.NOT_YET
    if (on - found.last_pass).days > rules.stale_after_days.value:
        return State.STALE
    return State.PROVEN if found.proven_on else State.MET


_ORDER = {State.NOT_YET: 0, State.STALE: 1, State.MET: 2, State.PROVEN: 3}


def _read_gate(by_side: Mapping[str, Marks], gate: Gate, rules: StateRules, on: date) -> _GateReading:
    """A one-sided gate is as good as its weaker side."""
    readings = []
    for side in (Side.LEFT.value, Side.RIGHT.value) if gate.each_side else ("",):
        found = by_side.get(side, Marks())
        state = _read_marks(found, rules, on)
        filled = fill(found.best.value, found.best.n, gate) if found.best else 0.0
        readings.append((_ORDER[state], filled, _GateReading(state, found.proven_on is not None, found.last_pass, found, side)))
    return min(readings, key=lambda r: r[:2])[2]


def _met(reading: _GateReading) -> bool:
    """A stale gate was met, and still holds up what stands on it."""
    return reading.state is not State.NOT_YET


def _satisfies(reading: _GateReading, state: str) -> bool:
    return reading.state is State.PROVEN if state == "proven" else _met(reading)


def standing(trainee_marks: TraineeMarks, syllabus: Syllabus, *, on: date) -> Standing:
    """Read the marks on day `on`: states, open and closed with reasons, perches, what is ahead and behind."""
    readings = {name: _read_gate(trainee_marks.get(name, {}), d.gate, syllabus.rules, on) for name, d in syllabus.drills.items()}
    lines = []
    for line in syllabus.lines:
        perch_rung = _perch_rung(line.rungs, readings)
        rungs = tuple(
            tuple(_drill_standing(d, readings, syllabus, on, above_perch=i > perch_rung + 1) for d in rung) for i, rung in enumerate(line.rungs)
        )
        here = [d.drill for d in rungs[perch_rung] if d.state is not State.NOT_YET] if perch_rung >= 0 else []
        lines.append(
            LineStanding(
                line=line.line,
                title=line.title,
                about=line.about,
                rungs=rungs,
                perch=here[0] if here else None,
                perch_rung=perch_rung,
                ahead=_ahead(line.rungs, readings, perch_rung),
                behind=tuple(d.drill for d in line.rungs[perch_rung - 1]) if perch_rung >= 1 else (),
            )
        )
    return Standing(on=on, lines=tuple(lines))


def _ahead(rungs: tuple[tuple[Drill, ...], ...], readings: Mapping[str, _GateReading], perch_rung: int) -> tuple[str, ...]:
    """The unmet drills of the first rung above the perch that has any."""
    for rung in rungs[perch_rung + 1 :]:
        unmet = tuple(d.drill for d in rung if not _met(readings[d.drill]))
        if unmet:
            return unmet
    return ()


def _perch_rung(rungs: tuple[tuple[Drill, ...], ...], readings: Mapping[str, _GateReading]) -> int:
    """The highest rung met with all below it met; -1 if not even the lowest is. An optional drill holds nobody back."""
    perch = -1
    for i, rung in enumerate(rungs):
        required = [d for d in rung if not d.optional]
        if required and not all(_met(readings[d.drill]) for d in required):
            break
        if any(_met(readings[d.drill]) for d in rung):
            perch = i
    return perch


def _drill_standing(d: Drill, readings: Mapping[str, _GateReading], syllabus: Syllabus, on: date, *, above_perch: bool) -> DrillStanding:
    reading = readings[d.drill]
    waits = tuple(_wait(n, syllabus) for n in syllabus.needs[d.drill] if not any(_satisfies(readings[w], n.state) for w in n.any_of))
    best = reading.shown.best
    last, state = reading.last_pass, reading.state
    rules = syllabus.rules
    return DrillStanding(
        drill=d.drill,
        title=d.title,
        about=d.about,
        gate=d.gate.text,
        origin=d.gate.origin,
        measure=d.gate.measure,
        state=state,
        fill=1.0 if _met(reading) else min(1.0, fill(best.value, best.n, d.gate)) if best else 0.0,
        figure=_figure(reading, d.gate),
        shortfall=_shortfall(reading, d.gate, on),
        best=best,
        last_pass=last,
        prove_by=last + timedelta(days=int(rules.proven_within_days.value)) if last and state is State.MET else None,
        stale_on=last + timedelta(days=int(rules.stale_after_days.value) + 1) if last else None,
        open=not waits,
        waits=waits,
        opens=syllabus.opens[d.drill],
        optional=d.optional,
        out_of_order=above_perch and _met(reading),
    )


def _wait(need: Need, syllabus: Syllabus) -> Wait:
    names = " or ".join(f"{syllabus.drills[w].title.lower()} ({syllabus.drills[w].gate.text})" for w in need.any_of)
    return Wait(any_of=need.any_of, state=need.state, sentence=f"{names[0].upper()}{names[1:]}, {need.state}")


def spell(day: date, on: date) -> str:
    """A day as a coach says it on day `on`: "3 May", with the year where it is another one."""
    return f"{day.day} {day:%b}" if day.year == on.year else f"{day.day} {day:%b %Y}"


def amount(value: float, n: int | None, measure: Measure) -> str:
    """A measured value with its unit, rounded down so that it never claims more: "18 s", "6 of 10", "12"."""
    number = f"{int(value * 10 + 1e-9) / 10:g}"
    match measure:
        case Measure.RATE:
            return f"{number} of {n}"
        case Measure.REPS:
            return number
        case _:
            return f"{number} {MEASURE_UNITS[measure]}"


def _figure(reading: _GateReading, gate: Gate) -> str:
    best = reading.shown.best
    if best is None:
        return gate.amount
    if _met(reading) or gate.measure is Measure.RATE:
        return amount(best.value, best.n, gate.measure)
    number = amount(best.value, None, Measure.REPS)
    return f"{number} of {gate.value:g}" + ("" if gate.measure is Measure.REPS else f" {MEASURE_UNITS[gate.measure]}")


def _shortfall(reading: _GateReading, gate: Gate, on: date) -> str:
    best, any_form = reading.shown.best, reading.shown.best_any
    side = f"{reading.side} side: " if reading.side else ""
    if reading.state is State.STALE and reading.last_pass:
        return f"{side}last passed {spell(reading.last_pass, on)}; show it again"
    if _met(reading) and best:
        return f"{side}{amount(best.value, best.n, gate.measure)}, best on {spell(best.day, on)}"
    if best is not None:
        wanted = f" (the gate is {gate.text})" if gate.measure is Measure.RATE else ""
        return f"{side}{_figure(reading, gate)}, best on {spell(best.day, on)}{wanted}"
    if any_form is None:
        return f"{side}nothing recorded yet; the gate is {gate.text}"
    seen = amount(any_form.value, any_form.n, gate.measure)
    if any_form.form is not Form.CLEAN:
        return f"{side}{seen} on {spell(any_form.day, on)}, {any_form.form.value}; only clean counts toward {gate.text}"
    return f"{side}{seen} on {spell(any_form.day, on)}, but not {gate.text[gate.text.find(' at ') + 1 :]}"
