"""What gates, doses and drills of the syllabus are called: composed here, so that every screen and file says
them alike.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from wise_perch.core.trade.content import Content, DoseRule, Drill
from wise_perch.core.trade.evidence import COUNTED, MEASURE_UNITS, Measure
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trade.sets import PLAUSIBLE_SETS
from wise_perch.core.trade.words import capitalise

ORIGIN_WORDS: Mapping[str, str] = {
    "practice": "common practice",
    "ours": "our own choice",
    "published": "published",
}
LABELS: Mapping[Measure, str] = {
    Measure.HOLD: "Seconds",
    Measure.REPS: "Reps",
    Measure.RATE: "How many",
    Measure.TOUCHES: "Touches",
    Measure.LOWERING: "Seconds on the way down",
    Measure.HEIGHT: "Height, cm",
    Measure.DISTANCE: "Distance, cm",
    Measure.ANGLE: "Degrees",
}
"""What a measure is asked for as."""
UNITS: Mapping[Measure, str] = {
    m: "" if m in COUNTED else "°" if m is Measure.ANGLE else f" {MEASURE_UNITS[m]}" for m in Measure
}


@dataclass(frozen=True, slots=True, kw_only=True)
class DoseWords:
    """A dose rule as it is said, and where its figures come from."""

    words: str
    origin: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WayWords:
    """One way a drill may be measured: what is asked for, and what may be entered. `label` names it among
    others; `may_ask`: a set of it can be asked to come to a figure.
    """

    label: str
    ask: str
    least: float
    most: float
    step: float
    may_ask: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillWords:
    """A drill as it is said: what it is, its gate with where that comes from, its doses, what its gate and
    dial ask for.
    """

    about: str
    gate: str
    gate_origin: str
    doses: tuple[DoseWords, ...]
    measured: str
    dial: str


def say_drill(drill: Drill, content: Content) -> DrillWords:
    """Say a drill of this content; without doses of its own it has the usual one of its measure."""
    usual = content.usual_doses.get(drill.gate.measure.value)
    rules = drill.doses or ((usual,) if usual else ())
    at = drill.gate.at
    return DrillWords(
        about=f"{drill.about} ({ORIGIN_WORDS[drill.said]})" if drill.said else drill.about,
        gate=drill.gate.text,
        gate_origin=ORIGIN_WORDS[drill.gate.origin],
        doses=tuple(
            DoseWords(words=say_dose_rule(r, drill.gate.measure), origin=say_dose_origin(r)) for r in rules
        ),
        measured=f"{LABELS[drill.gate.measure]}, {'at most' if drill.gate.fewer else 'at least'}",
        dial=(
            f"{capitalise(at.dial.replace('-', ' '))}, {'at most' if at.at_most is not None else 'at least'}"
            if at
            else ""
        ),
    )


def say_content(content: Content) -> dict[str, DrillWords]:
    """Say every drill of a syllabus, retired ones too."""
    return {d.drill: say_drill(d, content) for line in content.lines for rung in line.rungs for d in rung}


def say_way(gate: Gate) -> WayWords:
    """Say one way of measuring, and what may be entered."""
    label = (
        LABELS[gate.measure]
        + (f", {gate.mode}" if gate.mode else "")
        + (f" in {gate.window_s:g} s" if gate.window_s else "")
    )
    least, most = PLAUSIBLE_SETS[gate.measure]
    return WayWords(
        label=label,
        ask=LABELS[gate.measure],
        least=least,
        most=most,
        step=1 if gate.measure in COUNTED else 0.1,
        # k of n is counted over sets, and what is read off is no work that is asked for
        may_ask=gate.of is None and (gate.measure is Measure.TOUCHES or not gate.fewer),
    )


def say_dose_rule(rule: DoseRule, measure: Measure) -> str:
    """A dose rule in words: "2–4 sets of 15–30 s, rest 30 s or more. Slowly." """
    sets = f"{rule.sets.text} {'tries' if measure is Measure.RATE else 'sets'}" if rule.sets else ""
    each = f"{'of ' if sets else ''}{rule.each.text}{UNITS[measure]}" if rule.each else ""
    share = f"at {rule.of_best.text} % of the best recent clean one" if rule.of_best else ""
    rest = f"rest {rule.rest_s.value:g} s or more" if rule.rest_s else ""
    days = f"{rule.days.text} days a week" if rule.days else ""
    body = ", ".join(filter(None, (" ".join(filter(None, (sets, each, share))), rest, days)))
    return " ".join(filter(None, (f"{body}." if body else "", rule.words)))


def say_dose_origin(rule: DoseRule) -> str:
    """Where the figures of a dose rule come from, said once where all come from one place."""
    amount = rule.each or rule.of_best
    parts = {"sets": rule.sets, "amount": amount, "rest": rule.rest_s, "days": rule.days}
    origins: dict[str, list[str]] = {}
    for part, figure in parts.items():
        if figure:
            origins.setdefault(ORIGIN_WORDS[figure.origin], []).append(part)
    if rule.said:
        origins.setdefault(ORIGIN_WORDS[rule.said], []).append("words")
    if len(origins) < 2:
        return next(iter(origins), "")
    return "; ".join(f"{' and '.join(named)}: {origin}" for origin, named in origins.items())
