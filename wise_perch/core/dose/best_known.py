"""The best known of a drill: what its next dose leans on, with its day and whether it was measured or only
shown to be within reach.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import SAME_FIGURE, Evidence, Form, Side
from wise_perch.core.trade.gates import FALLING, Gate, say_amount
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.history import BY_DAY
from wise_perch.core.trainee.marks import compares_with

BestKind = Literal["open", "as asked"]
"""An open set or a test measures the best; a set done as asked only shows that at least so much goes."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BestKnown:
    """The best known: `value` in the unit of the gate, from `day`. `gap_days`: how long the drill has been
    left, where that is a gap and the best therefore an old one; else None. `words` says it.
    """

    value: float
    day: date
    kind: BestKind
    gap_days: int | None
    words: str


def pieces_of(drill: Drill, case: JudgedCase) -> list[Evidence]:
    """Everything that was ever done of a drill, or of those that differ only in their gate, measured as its
    gate is; oldest first.
    """
    kin = case.syllabus.kin_of(drill)
    case.history.fetch(kin)
    return _comparable((case.history.of(name) for name in kin), drill)


def _comparable(kin: Iterable[Sequence[Evidence]], drill: Drill) -> list[Evidence]:
    found = [p for pieces in kin for p in pieces if compares_with(p, drill.gate)]
    return sorted(found, key=BY_DAY)


def find_best_known(drill: Drill, case: JudgedCase, *, at: float | None = None) -> BestKnown | None:
    """The largest clean figure of open sets, tests and sets done as asked; None where there is none. Of a
    drill with two sides it is that of the weaker one.

    `at`: only at this setting of its dial, or a harder one, in the dial's unit.

    Of the days that still tell something (`recent_days`); where the drill was left for longer than a gap, of
    as many days before it was left.
    """
    rules = case.syllabus.sessions
    gap_days = rules.growth.gap_after_days.value
    since = case.on - timedelta(days=int(rules.recent_days.value))
    pieces = _comparable((case.history.of_since(n, since) for n in case.syllabus.kin_of(drill)), drill)
    clean = _went(pieces, drill, at)
    # what is recent tells it all, unless the drill was left or nothing of it went of late
    if not clean or (case.on - pieces[-1].day).days > gap_days:
        pieces = pieces_of(drill, case)
        clean = _went(pieces, drill, at)
    if not clean:
        return None
    left = (case.on - pieces[-1].day).days
    gap = left if left > gap_days else None
    end = clean[-1].day if gap is not None else case.on
    fresh = [p for p in clean if p.day >= end - timedelta(days=int(rules.recent_days.value))]
    best = _best_of_sides(fresh or clean[-1:], drill.gate)
    kind: BestKind = "open" if best.open_set else "as asked"
    return BestKnown(
        value=best.value, day=best.day, kind=kind, gap_days=gap, words=_say_best(best, kind, drill.gate, case)
    )


def _went(pieces: Sequence[Evidence], drill: Drill, at: float | None) -> list[Evidence]:
    return [
        p
        for p in pieces
        if p.form is Form.CLEAN
        and not p.fell_short
        and p.value > 0
        and (at is None or _as_hard(p, drill, at))
    ]


def _as_hard(piece: Evidence, drill: Drill, at: float) -> bool:
    dial = drill.dial
    if dial is None or dial.name not in piece.dial:
        return True
    sign = -1 if dial.harder in FALLING else 1
    return sign * piece.dial[dial.name] >= sign * at - SAME_FIGURE


def best_of(pieces: Sequence[Evidence], gate: Gate) -> Evidence:
    """The best piece measured as a gate is, the newest of equals. At least one is needed."""
    return max(pieces, key=lambda p: (-p.value if gate.fewer else p.value, p.day, p.open_set))


def _best_of_sides(pieces: Sequence[Evidence], gate: Gate) -> Evidence:
    """The best piece; where both sides are known, the best of the weaker side."""
    sides = [[p for p in pieces if p.side is side] for side in (Side.LEFT, Side.RIGHT)]
    if not gate.each_side or not all(sides):
        return best_of(pieces, gate)
    weaker = [best_of(own, gate) for own in sides]
    return max(weaker, key=lambda p: p.value) if gate.fewer else min(weaker, key=lambda p: p.value)


def _say_best(best: Evidence, kind: BestKind, gate: Gate, case: JudgedCase) -> str:
    figure, day = say_amount(best.value, gate.measure), say_day(best.day, case.on)
    return f"best known {figure} on {day}" if kind == "open" else f"at least {figure}, done as asked on {day}"


def drill_may_be_open(drill: Drill, case: JudgedCase) -> bool:
    """Whether a set of this drill may be left open: not with pain in a joint of it, with little confidence,
    nor in an exit.
    """
    rules = case.syllabus.sessions.open_sets
    return (
        not drill.gate.fewer
        and case.syllabus.pillar_of[drill.drill] not in rules.barred_pillars
        and case.ache_in(drill)[0] is None
        and not case.is_shy_of(drill)
    )
