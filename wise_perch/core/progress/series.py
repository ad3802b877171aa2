"""A measure of one drill over time: the best of each day as a value, sets done as asked as bounds."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import SAME_FIGURE, Evidence, Form, Side
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trainee.marks import compares_with


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What a day said: `value` in the gate's unit (k of `n` for a rate). A `bound` says at least so much,
    since the set was done as asked and may have gone on.
    """

    day: date
    value: float
    n: int | None = None
    bound: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """The readings of one drill as its gate measures it, on one side and at the settings at which the gate
    counts; one or two a day, in order.
    """

    drill: str
    gate: Gate
    side: Side | None
    readings: tuple[Reading, ...]

    @property
    def values(self) -> tuple[Reading, ...]:
        """The readings that measured the best."""
        return tuple(r for r in self.readings if not r.bound)


def make_series(drill: Drill, pieces: Iterable[Evidence], *, side: Side | None = None) -> Series:
    """The series of a drill's gate, from evidence of any kind.

    Only what compares with the gate counts: its own measure, mode and window, and where the gate is measured
    at a setting, settings at which it holds. Lost sets are left out, as is what was done on the other side.
    """
    gate = drill.gate
    mine = [
        p
        for p in pieces
        if p.drill == drill.drill
        and compares_with(p, gate)
        and p.form is not Form.LOST
        and (side is None or p.side in (side, None))
        and (gate.at is None or gate.at.holds(p.dial.get(gate.at.dial)))
    ]
    readings: list[Reading] = []
    for day, same in groupby(sorted(mine, key=lambda p: p.day), key=lambda p: p.day):
        readings += _readings_of(day, list(same), gate)
    return Series(drill=drill.drill, gate=gate, side=side, readings=tuple(readings))


def _readings_of(day: date, pieces: Sequence[Evidence], gate: Gate) -> list[Reading]:
    """The best measured value of a day, and the highest bound where it lies beyond that."""
    sign = -1 if gate.fewer else 1

    def height(p: Evidence) -> float:
        return sign * (p.value / p.n if p.n else p.value)

    measured = max((p for p in pieces if not p.as_asked), key=height, default=None)
    bound = max((p for p in pieces if p.as_asked), key=height, default=None)
    found = [Reading(day=day, value=measured.value, n=measured.n)] if measured else []
    if bound and (measured is None or height(bound) > height(measured) + SAME_FIGURE):
        found.append(Reading(day=day, value=bound.value, n=bound.n, bound=True))
    return found
