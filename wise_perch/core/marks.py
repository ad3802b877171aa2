"""Evidence boiled down to what never depends on today's date: for each gate its best, its passes and when it was proven."""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

from wise_perch.core.evidence import Evidence, Form, Side
from wise_perch.core.syllabus import Gate, StateRules, Syllabus


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


def fill(value: float, n: int | None, gate: Gate) -> float:
    """The share of the gate that a value fills; for a rate over fewer tries than asked, the missing tries count as misses."""
    if gate.of is not None:
        return value / max(n or 0, gate.of) / (gate.value / gate.of)
    return value / gate.value


def _best(pieces: list[Evidence], gate: Gate) -> Best | None:
    if not pieces:
        return None
    top = max(pieces, key=lambda p: (fill(p.value, p.n, gate), p.day))
    return Best(value=top.value, n=top.n, form=top.form, day=top.day, dial=dict(top.dial))
