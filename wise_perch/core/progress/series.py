"""A measure of one drill over time: the best of each day as a value, sets done as asked as bounds."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import SAME_FIGURE, Evidence, Form, Side, Teller
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trainee.marks import at_setting, compares_with, fill_of_gate, is_enough

SIDES = (Side.LEFT, Side.RIGHT)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What a day said: `value` in the gate's unit (k of `n` for a rate). A `bound` says at least so much,
    since the set was done as asked and may have gone on. `by`: who told of it; `clean`: whether it can meet a
    gate.
    """

    day: date
    value: float
    n: int | None = None
    bound: bool = False
    by: Teller = "set"
    clean: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """The readings of one drill as a gate measures it, on one side and at the settings at which the gate
    counts; one or two a day, in order. `any_setting`: at whatever setting, which tells nothing of the gate.
    """

    drill: str
    gate: Gate
    side: Side | None
    readings: tuple[Reading, ...]
    any_setting: bool = False

    @property
    def values(self) -> tuple[Reading, ...]:
        """The readings that measured the best."""
        return tuple(r for r in self.readings if not r.bound)

    def reaches(self, r: Reading) -> bool:
        """Whether a reading meets the gate."""
        return r.clean and is_enough(r.value, r.n, self.gate)


def make_series(
    drill: Drill,
    pieces: Iterable[Evidence],
    *,
    side: Side | None = None,
    way: Gate | None = None,
    stature_cm: float | None = None,
    any_setting: bool = False,
) -> Series:
    """The series of a drill's gate, or of another `way` it is measured, from evidence of any kind.

    Only what compares counts: the same measure, mode and window, and where the gate asks for a setting,
    settings at which it holds, unless `any_setting` will do. Lost sets are left out, as is what was done on
    the other side. Where both sides must pass and none is named, it is the side that is less far.
    """
    gate = way or drill.gate
    if gate.each_side and side is None:
        return weaker(
            [
                make_series(drill, pieces, side=s, way=gate, stature_cm=stature_cm, any_setting=any_setting)
                for s in SIDES
            ]
        )
    mine = [
        p
        for p in pieces
        if p.drill == drill.drill
        and compares_with(p, gate)
        and p.form is not Form.LOST
        and (side is None or p.side in (side, None))
        and (any_setting or at_setting(p, gate, stature_cm=stature_cm))
    ]
    readings: list[Reading] = []
    for day, same in groupby(sorted(mine, key=lambda p: p.day), key=lambda p: p.day):
        readings += _readings_of(day, list(same), gate)
    return Series(drill=drill.drill, gate=gate, side=side, readings=tuple(readings), any_setting=any_setting)


def gate_series(drill: Drill, pieces: Sequence[Evidence], *, stature_cm: float | None = None) -> Series:
    """The series that tells of a drill's gate: where the gate has further parts, that of the part which is
    least full.
    """
    parts = [
        make_series(drill, pieces, way=part, stature_cm=stature_cm) for part in (drill.gate, *drill.gate.also)
    ]

    def filled(s: Series) -> float:
        return max((fill_of_gate(r.value, r.n, s.gate) for r in s.readings if r.clean), default=0.0)

    return min(parts, key=lambda s: min(1.0, filled(s)))


def weaker(sides: Sequence[Series]) -> Series:
    """Of the series of two sides the one whose newest day says less; one without any says least."""

    def newest(s: Series) -> float:
        last = s.values[-1] if s.values else None
        height = _height_in(s.gate)
        return height(last.value, last.n) if last else float("-inf")

    return min(sides, key=newest)


def every_series(
    drill: Drill, ways: Sequence[Gate], pieces: Sequence[Evidence], *, stature_cm: float | None
) -> tuple[Series, ...]:
    """Every series of a drill that has readings: one for each way it is measured, and each side where both
    must pass; where the gate asks for a setting, one more at whatever setting. Modes are never mixed.
    """
    found = []
    for way in ways:
        sides: tuple[Side | None, ...] = SIDES if way.each_side else (None,)
        settings = (False, True) if way.at or way.counts_at else (False,)
        found += [
            make_series(drill, pieces, side=s, way=way, stature_cm=stature_cm, any_setting=anywhere)
            for anywhere in settings
            for s in sides
        ]
    return tuple(s for s in found if s.readings)


def _height_in(gate: Gate) -> Callable[[float, int | None], float]:
    sign = -1 if gate.fewer else 1
    return lambda value, n: sign * (value / n if n else value)


def _readings_of(day: date, pieces: Sequence[Evidence], gate: Gate) -> list[Reading]:
    """The best measured value of a day, and the highest bound where it lies beyond that."""
    height = _height_in(gate)
    measured = max((p for p in pieces if not p.at_least), key=lambda p: height(p.value, p.n), default=None)
    bound = max((p for p in pieces if p.at_least), key=lambda p: height(p.value, p.n), default=None)
    found = [_reading(day, measured, bound=False)] if measured else []
    if bound and (
        measured is None or height(bound.value, bound.n) > height(measured.value, measured.n) + SAME_FIGURE
    ):
        found.append(_reading(day, bound, bound=True))
    return found


def _reading(day: date, p: Evidence, *, bound: bool) -> Reading:
    return Reading(day=day, value=p.value, n=p.n, bound=bound, by=p.by, clean=p.form is Form.CLEAN)
