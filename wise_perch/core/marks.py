"""Evidence boiled down to what never depends on today's date: for each reading of a drill its best, its passes, its records."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import pairwise

from wise_perch.core.content import Rules
from wise_perch.core.evidence import Evidence, Form
from wise_perch.core.gates import FALLING, Dial, Gate
from wise_perch.core.syllabus import Syllabus


@dataclass(frozen=True, slots=True, kw_only=True)
class Best:
    """A piece of evidence for a gate: `value` in the gate's unit (k for a rate, with its n), its form and day."""

    value: float
    n: int | None
    form: Form
    day: date
    dial: Mapping[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Record:
    """A new best on its day: the share of the gate it fills, and the value."""

    day: date
    fill: float
    value: float
    n: int | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Marks:
    """What the evidence says about one reading of a drill, whatever the day.

    `best` is over clean evidence the gate accepts, `best_any` over all that compares, `hardest` the clean, sufficient one
    at the hardest dial setting where the gate asks for a setting. `passes` holds the best pass of the two newest days of
    passing. `proven_on` is the day of the second confident pass within the present run of passes, a run ending where they
    lapse. `shy` is the newest pass day that does not prove, for want of confidence. `records` rise.
    """

    best: Best | None = None
    best_any: Best | None = None
    hardest: Best | None = None
    passes: tuple[Best, ...] = ()
    proven_on: date | None = None
    shy: date | None = None
    last_day: date | None = None
    confidence: int | None = None
    records: tuple[Record, ...] = field(default=())

    @property
    def last_pass(self) -> date | None:
        """The newest day of passing."""
        return self.passes[-1].day if self.passes else None


TraineeMarks = Mapping[str, Mapping[str, Marks]]
"""By drill, then by the key of the reading."""


def compares(piece: Evidence, gate: Gate) -> bool:
    """Say whether a piece of evidence speaks about a gate at all: same measure, same mode, same window."""
    return piece.measure is gate.measure and piece.mode == gate.mode and piece.window_s == gate.window_s


def at_setting(piece: Evidence, gate: Gate) -> bool:
    """Say whether a piece was done at the gate's dial setting; an unrecorded setting does not count."""
    return gate.at is None or gate.at.holds(piece.dial.get(gate.at.dial))


def enough(value: float, n: int | None, gate: Gate) -> bool:
    """Say whether a figure reaches the gate, whatever its form and setting.

    A rate needs at least as many tries as the gate names, and at least its share of them.
    """
    if gate.of is not None:
        return n is not None and n >= gate.of and value * gate.of >= gate.value * n
    return value <= gate.value if gate.fewer else value >= gate.value


def passes(piece: Evidence, gate: Gate) -> bool:
    """Say whether one piece of evidence meets the gate: clean, at the setting, and enough."""
    return compares(piece, gate) and piece.form is Form.CLEAN and at_setting(piece, gate) and enough(piece.value, piece.n, gate)


def fill(value: float, n: int | None, gate: Gate) -> float:
    """The share of the gate that a value fills, from 0 up; over 1 where it is exceeded.

    For a rate over fewer tries than asked, the missing tries count as misses. A gate of fewer is empty at its start.
    """
    if gate.of is not None:
        return value / max(n or 0, gate.of) / (gate.value / gate.of)
    if gate.fewer:
        start = gate.start if gate.start is not None else 2 * gate.value + 1
        return max(0.0, (start - value) / (start - gate.value))
    return max(0.0, value / gate.value)


def marks(evidence: Iterable[Evidence], syllabus: Syllabus) -> dict[str, dict[str, Marks]]:
    """Boil evidence down to marks. The order of evidence does not matter; drills not in the syllabus are passed over."""
    grouped: dict[str, list[Evidence]] = defaultdict(list)
    for piece in evidence:
        grouped[piece.drill].append(piece)
    found: dict[str, dict[str, Marks]] = {}
    for name, pieces in grouped.items():
        d = syllabus.drills.get(name)
        if d is None:
            continue
        # the newest day first decides confidence; on one day the least of it speaks
        pieces.sort(key=lambda p: p.day)
        of_drill: dict[str, Marks] = {}
        for reading in syllabus.readings[name]:
            gate, side = reading.gate, reading.side
            own = [p for p in pieces if p.measure is gate.measure and compares(p, gate) and (side is None or p.side == side)]
            if own:
                of_drill[reading.key] = _marks_of(own, gate, d.dial, syllabus.rules)
        if of_drill:
            found[name] = of_drill
    return found


def _marks_of(pieces: Sequence[Evidence], gate: Gate, dial: Dial | None, rules: Rules) -> Marks:
    """`pieces` in order of their days."""
    passed: dict[date, list[tuple[float, Evidence]]] = {}
    clean: list[tuple[float, Evidence]] = []
    every: list[tuple[float, Evidence]] = []
    sufficient: list[Evidence] = []
    records: list[Record] = []
    for p in pieces:
        filled = fill(p.value, p.n, gate)
        every.append((filled, p))
        if p.form is not Form.CLEAN:
            continue
        suffices = enough(p.value, p.n, gate)
        if suffices and gate.at:
            sufficient.append(p)
        if not at_setting(p, gate):
            continue
        clean.append((filled, p))
        if not records or filled > records[-1].fill:
            record = Record(day=p.day, fill=filled, value=p.value, n=p.n)
            if records and records[-1].day == p.day:
                records[-1] = record
            else:
                records.append(record)
        if suffices:
            passed.setdefault(p.day, []).append((filled, p))
    days = list(passed)
    sure = {day for day in days if any(_confident(p, rules) for _, p in passed[day])}
    last = pieces[-1].day
    told = [p.confidence for p in pieces if p.confidence is not None and p.day == last]
    return Marks(
        best=_best(clean),
        best_any=_best(every),
        hardest=_hardest(sufficient, gate, dial),
        passes=tuple(b for day in days[-2:] if (b := _best(passed[day]))),
        proven_on=_proven_on(days, sure, rules),
        shy=next((day for day in reversed(days) if day not in sure), None),
        last_day=last,
        confidence=min(told, default=None),
        records=tuple(records),
    )


def _confident(piece: Evidence, rules: Rules) -> bool:
    """A pass without a word about confidence counts in full."""
    return piece.confidence is None or piece.confidence >= rules.proving_confidence.value


def _proven_on(days: Sequence[date], sure: set[date], rules: Rules) -> date | None:
    """The second of two confident days close enough to one another, within the newest run of passes."""
    begin = 0
    for n, (before, day) in enumerate(pairwise(days), start=1):
        if (day - before).days > rules.stale_after_days.value:
            begin = n
    present = [day for day in days[begin:] if day in sure]
    return next((day for before, day in pairwise(present) if (day - before).days <= rules.proven_within_days.value), None)


def _best(pieces: Sequence[tuple[float, Evidence]]) -> Best | None:
    if not pieces:
        return None
    _, top = max(pieces, key=lambda pair: (pair[0], pair[1].day))
    return _as_best(top)


def _as_best(piece: Evidence) -> Best:
    return Best(value=piece.value, n=piece.n, form=piece.form, day=piece.day, dial=dict(piece.dial))


def _hardest(pieces: Sequence[Evidence], gate: Gate, dial: Dial | None) -> Best | None:
    """The sufficient piece at the hardest setting, the newest of equals."""
    set_at = [p for p in pieces if gate.at and gate.at.dial in p.dial]
    if not set_at or dial is None or gate.at is None:
        return None
    name, sign = gate.at.dial, -1 if dial.harder in FALLING else 1
    return _as_best(max(set_at, key=lambda p: (sign * p.dial[name], p.day)))
