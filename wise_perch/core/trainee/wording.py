"""How figures, days, shortfalls and waits are said: one place, so that every screen and door says them
alike.
"""

import math
from collections.abc import Mapping
from datetime import date

from wise_perch.core.trade.content import Drill, Need
from wise_perch.core.trade.evidence import Form, Measure
from wise_perch.core.trade.gates import Gate, say_amount
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.marks import Best, Marks, is_enough


def say_value(value: float, n: int | None, gate: Gate) -> str:
    """A measured value with its unit, rounded so that it never claims more: "18 s", "6 of 10", "12",
    "14°".
    """
    tenths = math.ceil(value * 10 - 1e-9) if gate.fewer else math.floor(value * 10 + 1e-9)
    return say_amount(tenths / 10, gate.measure, n)


def _say_best(best: Best, gate: Gate) -> str:
    return say_value(best.value, best.n, gate)


def say_reading(found: Marks, gate: Gate, *, met: bool) -> str:
    """The short reading on a bar: what is there, beside what it takes while that is not reached."""
    best = found.best
    if best is None:
        return gate.amount
    if met or gate.measure is Measure.RATE:
        return _say_best(best, gate)
    if gate.fewer:
        return f"{_say_best(best, gate)}, to {say_amount(gate.value, gate.measure)}"
    return (
        f"{say_value(best.value, None, gate).split(' ')[0].rstrip('°')} of"
        f" {say_amount(gate.value, gate.measure)}"
    )


def _say_missing(best: Best, gate: Gate) -> str:
    """What it takes, where it is not there yet."""
    if gate.of is not None:
        lacking = gate.value - best.value
        same = best.n == gate.of and lacking > 0
        return f". Needs {gate.value:g}" if same else f". Needs {gate.text}"
    lacking = round(best.value - gate.value if gate.fewer else gate.value - best.value, 1)
    return f". Needs {gate.text}" if lacking > 0 else ""


def say_shortfall(found: Marks, gate: Gate, *, side: str | None, met: bool, stale: bool, on: date) -> str:
    """How a gate stands in a sentence, without its full stop: best and day, and what is missing in the gate's
    unit.
    """
    head = f"{side} side: " if side else ""
    best, seen, last = found.best, found.best_any, found.last_pass
    if stale and last:
        return f"{head}last passed {say_day(last, on)}. Check it again"
    if met and best:
        return f"{head}{_say_best(best, gate)}, best on {say_day(best.day, on)}"
    if best is not None and gate.fewer:
        return f"{head}{_say_best(best, gate)} on {say_day(best.day, on)}{_say_missing(best, gate)}"
    if best is not None and not (gate.at and found.hardest and not is_enough(best.value, best.n, gate)):
        return f"{head}{_say_best(best, gate)}, best on {say_day(best.day, on)}{_say_missing(best, gate)}"
    if found.hardest is not None and gate.at:
        there = found.hardest.dial[gate.at.dial]
        unit = "°" if gate.at.unit == "deg" else f" {gate.at.unit or 'cm'}"
        done = f"{_say_best(found.hardest, gate)} at {there:g}{unit} on {say_day(found.hardest.day, on)}"
        return f"{head}{done}. Needs {gate.text}"
    if seen is None:
        return f"{head}not tried yet. Needs {gate.text}"
    if seen.form is not Form.CLEAN:
        return (
            f"{head}{_say_best(seen, gate)} on {say_day(seen.day, on)}, {seen.form.value}."
            f" Only clean counts. Needs {gate.text}"
        )
    limit = gate.at or gate.counts_at
    noted = seen.dial.get(limit.dial) if limit else None
    unit = "°" if limit and limit.unit == "deg" else " cm"
    at = f" at {noted:g}{unit}" if noted is not None else ""
    return f"{head}{_say_best(seen, gate)}{at} on {say_day(seen.day, on)}. Needs {gate.text}"


def need_text(need: Need, drills: Mapping[str, Drill]) -> str:
    """What a need asks of its drills, any one of them: "heel float (10 s)"."""
    return " or ".join(f"{_lower_title(drills[w])} ({_say_need(need, drills[w].gate)})" for w in need.any_of)


def _say_need(need: Need, gate: Gate) -> str:
    return say_amount(need.value.value, gate.measure, gate.of) if need.value else gate.text


def _lower_title(d: Drill) -> str:
    return d.title[:1].lower() + d.title[1:]


def wait_sentence(
    need: Need, drills: Mapping[str, Drill], *, shares: Mapping[str, float] | None = None
) -> str:
    """Say what a closed drill waits for, as a sentence without its full stop."""
    if need.enough is not None:
        there = ", ".join(
            f"{title[:1].lower() + title[1:]} {share * 100:.0f} %" for title, share in (shares or {}).items()
        )
        total = sum((shares or {}).values())
        return f"Enough of these together: {total:.1f} of {need.enough.value:g} gates ({there})"
    return f"{capitalise(need_text(need, drills))}, {need.state}"
