"""Evidence boiled down to what never depends on today's date: for each reading of a drill its best, its
passes, its records.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import pairwise
from operator import attrgetter
from typing import NamedTuple

from wise_perch.core.trade.content import Rules
from wise_perch.core.trade.evidence import Evidence, Form
from wise_perch.core.trade.gates import FALLING, Dial, Gate
from wise_perch.core.trade.syllabus import Syllabus


@dataclass(frozen=True, slots=True, kw_only=True)
class Best:
    """A piece of evidence for a gate: `value` in the gate's unit (k for a rate, with its n), its form and
    day.
    """

    value: float
    n: int | None
    form: Form
    day: date
    dial: Mapping[str, float]


class Record(NamedTuple):
    """A new best on its day: the share of the gate it fills, and the value."""

    day: date
    fill: float
    value: float
    n: int | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Marks:
    """What the evidence says about one reading of a drill, whatever the day.

    `best` is over clean evidence the gate accepts, `best_any` over all that compares, `hardest` the clean,
    sufficient one at the hardest dial setting where the gate asks for a setting. `passes` holds the best pass
    of the two newest days of passing. `proven_on` is the day of the second confident pass within the present
    run of passes, a run ending where they lapse. `sure_on` is the newest pass day that helps to prove, `shy`
    the newest that does not, for want of confidence. `records` rise.
    """

    best: Best | None = None
    best_any: Best | None = None
    hardest: Best | None = None
    passes: tuple[Best, ...] = ()
    proven_on: date | None = None
    sure_on: date | None = None
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


def compares_with(piece: Evidence, gate: Gate) -> bool:
    """Say whether a piece of evidence speaks about a gate at all: same measure, same mode, same window."""
    return piece.measure is gate.measure and piece.mode == gate.mode and piece.window_s == gate.window_s


def at_setting(piece: Evidence, gate: Gate, *, stature_cm: float | None = None) -> bool:
    """Say whether a piece was done at a dial setting that counts, for somebody of a stature."""
    limits = [limit for limit in (gate.at, gate.counts_at) if limit]
    return all(limit.holds(piece.dial.get(limit.dial), stature_cm=stature_cm) for limit in limits)


def is_enough(value: float, n: int | None, gate: Gate) -> bool:
    """Say whether a figure reaches the gate, whatever its form and setting.

    A rate needs at least as many tries as the gate names, and at least its share of them.
    """
    if gate.of is not None:
        return n is not None and n >= gate.of and value * gate.of >= gate.value * n
    return value <= gate.value if gate.fewer else value >= gate.value


def passes_gate(piece: Evidence, gate: Gate) -> bool:
    """Say whether one piece of evidence meets the gate: clean, at the setting, and enough."""
    return (
        compares_with(piece, gate)
        and piece.form is Form.CLEAN
        and at_setting(piece, gate)
        and is_enough(piece.value, piece.n, gate)
    )


def fill_of_gate(value: float, n: int | None, gate: Gate) -> float:
    """The share of the gate that a value fills, from 0 up; over 1 where it is exceeded.

    For a rate over fewer tries than asked, the missing tries count as misses. A gate of fewer is empty at its
    start.
    """
    if gate.of is not None:
        return value / max(n or 0, gate.of) / (gate.value / gate.of)
    if gate.fewer:
        start = gate.start if gate.start is not None else 2 * gate.value + 1
        return max(0.0, (start - value) / (start - gate.value))
    return max(0.0, value / gate.value)


def mark_evidence(
    evidence: Iterable[Evidence], syllabus: Syllabus, *, stature_cm: float | None = None
) -> dict[str, dict[str, Marks]]:
    """Boil evidence down to marks, of somebody of a stature where it is known. The order of evidence does not
    matter; drills not in the syllabus are passed over.
    """
    grouped: dict[str, list[Evidence]] = defaultdict(list)
    for piece in evidence:
        grouped[piece.drill].append(piece)
    found: dict[str, dict[str, Marks]] = {}
    for name, pieces in grouped.items():
        d = syllabus.drills.get(name)
        if d is None:
            continue
        _sort(pieces)
        of_drill: dict[str, Marks] = {}
        # most drills are measured in one way only, and their pieces need no sorting out
        kinds = {(p.measure, p.mode, p.window_s) for p in pieces}
        for key, gate, side in syllabus.readings[name]:
            kind = (gate.measure, gate.mode, gate.window_s)
            if kind not in kinds:
                continue
            own = (
                pieces if len(kinds) == 1 else [p for p in pieces if (p.measure, p.mode, p.window_s) == kind]
            )
            if side is not None:
                own = [p for p in own if p.side == side]
            if own:
                of_drill[key] = _marks_of(own, gate, d.dial, syllabus.rules, stature_cm)
        if of_drill:
            found[name] = of_drill
    return found


def _sort(pieces: list[Evidence]) -> None:
    """Sort by day, and within a day by figures, so that not even what is shown depends on the order of
    reading.
    """
    pieces.sort(key=BY_DAY_AND_VALUE)
    # few are alike in both, and only they need the rest to be told apart
    if any(a.day == b.day and a.value == b.value for a, b in pairwise(pieces)):
        pieces.sort(
            key=lambda p: (p.day, p.value, p.n or 0, p.form, tuple(p.dial.values()) if p.dial else ())
        )


BY_DAY_AND_VALUE = attrgetter("day", "value")


def _marks_of(
    pieces: Sequence[Evidence], gate: Gate, dial: Dial | None, rules: Rules, stature_cm: float | None
) -> Marks:
    """Boil down the pieces of one reading, in order of their days: few walks, since every trainee's whole
    history passes here.
    """
    every = _fill_gate(pieces, gate)
    clean = [pair for pair in every if pair[1].form is Form.CLEAN]
    sufficient = [p for _, p in clean if is_enough(p.value, p.n, gate)] if gate.at else []
    if gate.at or gate.counts_at:
        clean = [pair for pair in clean if at_setting(pair[1], gate, stature_cm=stature_cm)]
    passed: dict[date, tuple[float, Evidence]] = {}
    sure: set[date] = set()
    records: list[Record] = []
    top, least = -1.0, rules.proving_confidence.value
    for f, p in clean:
        if f > top:
            top = f
            _add_record(records, p, f)
        # a full share is a pass, but for a rate over too few tries
        if f >= FULL and (gate.of is None or (p.n or 0) >= gate.of):
            day = p.day
            if day not in passed or f >= passed[day][0]:
                passed[day] = (f, p)
            # a pass without a word about confidence counts in full
            if p.confidence is None or p.confidence >= least:
                sure.add(day)
    best = _newest_best(clean, top)
    days = list(passed)
    last = pieces[-1].day
    return Marks(
        best=best,
        best_any=best if len(clean) == len(every) else _newest_best(every, max(f for f, _ in every)),
        hardest=_hardest_setting(sufficient, gate, dial) if sufficient else None,
        passes=tuple(_as_best(passed[day][1]) for day in days[-2:]),
        proven_on=_proven_on(days, sure, rules) if len(sure) > 1 else None,
        sure_on=max(sure, default=None),
        shy=next((day for day in reversed(days) if day not in sure), None) if len(sure) < len(days) else None,
        last_day=last,
        confidence=_least_confidence(pieces, last),
        records=tuple(records),
    )


FULL = 1.0 - 1e-12
"""A gate is full from here on: its own value divided by itself must never fall short by a rounding."""


def _fill_gate(pieces: Sequence[Evidence], gate: Gate) -> list[tuple[float, Evidence]]:
    """Every piece with the share of the gate it fills; the plain gates, which most are, without their
    branches.
    """
    if gate.of is None and not gate.fewer:
        value = gate.value
        return [(p.value / value, p) for p in pieces]
    return [(fill_of_gate(p.value, p.n, gate), p) for p in pieces]


def _newest_best(pieces: Sequence[tuple[float, Evidence]], top: float) -> Best | None:
    """The piece that fills `top`, the newest of equals."""
    for f, p in reversed(pieces):
        if f == top:
            return _as_best(p)
    return None


def _add_record(records: list[Record], piece: Evidence, filled: float) -> None:
    record = Record(day=piece.day, fill=filled, value=piece.value, n=piece.n)
    if records and records[-1].day == piece.day:
        records[-1] = record
    else:
        records.append(record)


def _least_confidence(pieces: Sequence[Evidence], day: date) -> int | None:
    """The least confidence told on a day; the pieces are in order of their days."""
    told = None
    for p in reversed(pieces):
        if p.day != day:
            break
        if p.confidence is not None and (told is None or p.confidence < told):
            told = p.confidence
    return told


def _proven_on(days: Sequence[date], sure: set[date], rules: Rules) -> date | None:
    """The second of two confident days close enough to one another, within the newest run of passes."""
    begin = 0
    for n, (before, day) in enumerate(pairwise(days), start=1):
        if (day - before).days > rules.stale_after_days.value:
            begin = n
    present = [day for day in days[begin:] if day in sure]
    return next(
        (day for before, day in pairwise(present) if (day - before).days <= rules.proven_within_days.value),
        None,
    )


def _as_best(piece: Evidence) -> Best:
    return Best(value=piece.value, n=piece.n, form=piece.form, day=piece.day, dial=piece.dial)


def _hardest_setting(pieces: Sequence[Evidence], gate: Gate, dial: Dial | None) -> Best | None:
    """The sufficient piece at the hardest setting, the newest of equals."""
    set_at = [p for p in pieces if gate.at and gate.at.dial in p.dial]
    if not set_at or dial is None or gate.at is None:
        return None
    name, sign = gate.at.dial, -1 if dial.harder in FALLING else 1
    return _as_best(max(set_at, key=lambda p: (sign * p.dial[name], p.day)))
