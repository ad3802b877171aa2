"""The gap finder: neighbours on a line that lie too far apart, and the rung that could stand between them."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import Drill, Line, Place, Rules
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Gate, is_whole
from wise_perch.core.trade.syllabus import Syllabus


@dataclass(frozen=True, slots=True, kw_only=True)
class Gap:
    """Two neighbours too far apart, the sentence that says how far, and a proposed rung with its place."""

    line: str
    lower: str
    upper: str
    sentence: str
    proposal: Drill
    place: Place


def find_gaps(syllabus: Syllabus) -> tuple[Gap, ...]:
    """Find neighbours that share a measure or a dial and lie further apart than the rules allow.

    Where both gates name a setting of the same dial, the dial's own largest step decides; else the ratio of
    the gates.
    """
    return tuple(g for line in syllabus.lines for g in _gaps_of(line, syllabus))


def _gaps_of(line: Line, syllabus: Syllabus) -> Iterator[Gap]:
    """Neighbours are a drill and those below it on its line that it waits for."""
    placed = {d.drill: d for rung in line.rungs for d in rung}
    for upper in placed.values():
        asked = dict.fromkeys(
            w for need in syllabus.needs[upper.drill] if need.enough is None for w in need.any_of
        )
        for lower in (placed[w] for w in asked if w in placed):
            if found := _find_between(line, lower, upper, syllabus.rules):
                yield found


def _find_between(line: Line, lower: Drill, upper: Drill, rules: Rules) -> Gap | None:
    low, high = gate_setting(lower.gate), gate_setting(upper.gate)
    if (
        upper.dial
        and low is not None
        and high is not None
        and lower.dial
        and lower.dial.name == upper.dial.name
    ):
        return _setting_gap(line, lower, upper, low, high)
    if not _same_measure(lower.gate, upper.gate):
        return None
    if lower.gate.fewer or upper.gate.value <= lower.gate.value * rules.gap_ratio.value:
        return None
    value = math.sqrt(lower.gate.value * upper.gate.value)
    value = float(round(value)) if is_whole(upper.gate.measure) or value >= 10 else round(value, 1)
    if not lower.gate.value < value < upper.gate.value:
        return None
    gate = replace(upper.gate, value=value, origin="ours", easy_from=None)
    times = upper.gate.value / lower.gate.value
    sentence = (
        f"From {lower.title} ({lower.gate.text}) to {upper.title} ({upper.gate.text}) is {times:.1f} times as"
        f" much. {gate.amount} would stand between."
    )
    return _make_gap(line, lower, upper, gate, gate.amount, sentence)


def _same_measure(a: Gate, b: Gate) -> bool:
    return (a.measure, a.mode, a.of, a.fewer, a.each_side) == (
        b.measure,
        b.mode,
        b.of,
        b.fewer,
        b.each_side,
    ) and a.measure is not Measure.RATE


def _setting_gap(line: Line, lower: Drill, upper: Drill, low: float, high: float) -> Gap | None:
    dial = upper.dial
    if dial is None or upper.gate.at is None:
        return None
    if dial.step is None or abs(high - low) <= dial.step.value:
        return None
    middle = round((low + high) / 2 * 2) / 2
    falling = upper.gate.at.at_most is not None
    limit = replace(
        upper.gate.at,
        origin="ours",
        at_most=middle if falling else None,
        at_least=None if falling else middle,
    )
    gate = replace(upper.gate, at=limit, origin="ours")
    unit = "°" if dial.unit == "deg" else f" {dial.unit}"
    where = dial.name.replace("-", " ")
    sentence = (
        f"From {lower.title} to {upper.title} the {where} goes from {low:g} to {high:g}{unit}."
        f" {middle:g}{unit} would stand between."
    )
    return _make_gap(line, lower, upper, gate, f"{middle:g}{unit}", sentence)


def _make_gap(line: Line, lower: Drill, upper: Drill, gate: Gate, amount: str, sentence: str) -> Gap:
    base = upper.title.split(",")[0]
    slug = "".join(c if c.isalnum() else "-" for c in amount.lower()).strip("-")
    made = replace(
        upper,
        drill=f"{upper.drill}-at-{slug}",
        title=f"{base}, {amount}",
        gate=gate,
        needs=(),
        stages=(),
        family=upper.family or upper.drill,
    )
    return Gap(
        line=line.line,
        lower=lower.drill,
        upper=upper.drill,
        sentence=sentence,
        proposal=made,
        place=Place(below=upper.drill),
    )
