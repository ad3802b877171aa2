"""Where a trainee stands: every gate met, proven or stale, every drill open or closed and why, the perch of each line.

Two steps, so that a day's change costs nothing: `marks` boils evidence down to what never depends on today's date,
and `standing` reads those marks on a given day.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from itertools import pairwise

from wise_perch.core.evidence import MEASURE_UNITS, Evidence, Form, Measure, Side
from wise_perch.core.syllabus import Drill, Gate, Need, StateRules, Syllabus


class State(StrEnum):
    """The states of a gate. A good day is not a level: met is one clean pass, proven is two days, stale is long ago."""

    NOT_YET = "not yet"
    MET = "met"
    PROVEN = "proven"
    STALE = "stale"


@dataclass(frozen=True, slots=True, kw_only=True)
class Best:
    """The best piece of evidence for a gate: `value` in the gate's unit (k for a rate, with its n), its form and day."""

    value: float
    n: int | None
    form: Form
    day: date
    dial: Mapping[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Marks:
    """What the evidence says about one gate (or one side of it), whatever the day.

    `best` is over clean evidence the gate accepts, `best_any` over all that compares.
    `proven_on` is the day of the second pass within the present run of passes, a run ending where they lapse.
    """

    best: Best | None = None
    best_any: Best | None = None
    first_pass: date | None = None
    last_pass: date | None = None
    proven_on: date | None = None


TraineeMarks = Mapping[str, Mapping[str, Marks]]
"""By drill, then by side ("left", "right", or "" for drills without sides)."""


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


# --- marks: evidence boiled down ---------------------------------------------------------------------------------


def compares(piece: Evidence, gate: Gate) -> bool:
    """Say whether a piece of evidence speaks about a gate at all: same measure, same mode."""
    return piece.measure is gate.measure and piece.mode == gate.mode


def at_setting(piece: Evidence, gate: Gate) -> bool:
    """Say whether a piece was done at the gate's dial setting; an unrecorded setting does not count."""
    return gate.at is None or piece.dial.get(gate.at.dial, float("inf")) <= gate.at.at_most


def passes(piece: Evidence, gate: Gate) -> bool:
    """Say whether one piece of evidence meets the gate: clean, at the setting, and enough.

    A rate needs at least as many tries as the gate names, and at least its share of them.
    """
    if not compares(piece, gate) or piece.form is not Form.CLEAN or not at_setting(piece, gate):
        return False
    if gate.of is not None:
        n = piece.n or 0
        return n >= gate.of and piece.value * gate.of >= gate.value * n
    return piece.value >= gate.value


def marks(evidence: Iterable[Evidence], syllabus: Syllabus) -> dict[str, dict[str, Marks]]:
    """Boil evidence down to marks. The order of evidence does not matter; drills not in the syllabus are passed over."""
    grouped: dict[tuple[str, str], list[Evidence]] = defaultdict(list)
    for piece in evidence:
        d = syllabus.drills.get(piece.drill)
        if d is not None and compares(piece, d.gate):
            grouped[piece.drill, _side_key(piece.side) if d.gate.each_side else ""].append(piece)
    found: dict[str, dict[str, Marks]] = defaultdict(dict)
    for (name, side), pieces in grouped.items():
        found[name][side] = _marks_of(pieces, syllabus.drills[name].gate, syllabus.rules)
    return dict(found)


def _side_key(side: Side | None) -> str:
    return side.value if side else ""


def _marks_of(pieces: list[Evidence], gate: Gate, rules: StateRules) -> Marks:
    days = sorted({p.day for p in pieces if passes(p, gate)})
    proven_on: date | None = None
    for before, day in pairwise(days):
        gap = (day - before).days
        if gap > rules.stale_after_days.value:
            proven_on = None
        elif gap <= rules.proven_within_days.value:
            proven_on = proven_on or day
    return Marks(
        best=_best([p for p in pieces if p.form is Form.CLEAN and at_setting(p, gate)], gate),
        best_any=_best(pieces, gate),
        first_pass=days[0] if days else None,
        last_pass=days[-1] if days else None,
        proven_on=proven_on,
    )


def _fill(value: float, n: int | None, gate: Gate) -> float:
    """The share of the gate that a value fills; for a rate over fewer tries than asked, the missing tries count as misses."""
    if gate.of is not None:
        return value / max(n or 0, gate.of) / (gate.value / gate.of)
    return value / gate.value


def _best(pieces: list[Evidence], gate: Gate) -> Best | None:
    if not pieces:
        return None
    top = max(pieces, key=lambda p: (_fill(p.value, p.n, gate), p.day))
    return Best(value=top.value, n=top.n, form=top.form, day=top.day, dial=dict(top.dial))


# --- standing: marks read on a day -------------------------------------------------------------------------------


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
        fill = _fill(found.best.value, found.best.n, gate) if found.best else 0.0
        readings.append((_ORDER[state], fill, _GateReading(state, found.proven_on is not None, found.last_pass, found, side)))
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
        fill=1.0 if _met(reading) else min(1.0, _fill(best.value, best.n, d.gate)) if best else 0.0,
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
