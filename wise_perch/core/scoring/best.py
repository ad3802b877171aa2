"""The best of a few tries against the gate of the drill that was tested: seconds, reps, degrees or
centimetres.
"""

from collections.abc import Sequence

from wise_perch.core.scoring.verdict import (
    Row,
    RunFacts,
    Values,
    Verdict,
    evidence_of_run,
    verdict_without_tries,
)
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Form, Measure, Side, Try
from wise_perch.core.trade.gates import Gate, say_amount
from wise_perch.core.trade.protocol import Test

DECISIONS = frozenset({"reached", "easy", "on-the-way", "cleaner"})
RULES = frozenset[str]()
DRILLS = frozenset[str]()


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Score a best-of test: the best clean try counts; on a drill with sides, the weaker side.

    The gate is the drill's own, at its own setting; every try is a piece of evidence for it.
    """
    drill, mode = known.subject, test.modes[0]
    if drill is None:
        raise ValueError(f"{test.test} is run for one drill at a time")
    gate = drill.gate
    fewer = gate.fewer
    taken = [t for t in tries if t.value is not None]
    clean = [t for t in taken if t.clean]
    sides: tuple[Side | None, ...] = (Side.LEFT, Side.RIGHT) if test.sides or gate.each_side else (None,)
    best = {side: _best_value([t for t in clean if t.side in (side, None)], fewer=fewer) for side in sides}
    known_sides = [v for v in best.values() if v is not None]
    result = (max if fewer else min)(known_sides) if len(known_sides) == len(sides) else None
    figures = {
        "n": len(tries),
        "drill": drill.drill,
        "measure": mode.measure.value,
        "unit": mode.unit,
        "best": result,
        "best_any_form": _best_value(taken, fewer=fewer),
        "gate": gate.value if gate.measure is mode.measure else None,
        **({f"best_{side}": best[side] for side in sides if side} if len(sides) > 1 else {}),
    }
    if not tries:
        return verdict_without_tries(figures, mode.mode)
    decision, reasons = _decide_best(gate, mode.measure, result, taken, clean, known, sides=len(sides) > 1)
    rows = [
        Row(
            title=f"best, {side}" if side else "best",
            figure="none clean" if v is None else say_amount(v, mode.measure),
        )
        for side, v in best.items()
    ]
    if gate.measure is mode.measure:
        rows.append(Row(title="gate", figure=gate.text, beside=drill.title))
    rows += [
        Row(title=name.replace("-", " "), figure=f"{setting:g}{_unit_of(drill)}", beside="as set up")
        for name, setting in known.dial.items()
    ]
    return Verdict(
        n=len(tries),
        mode=mode.mode,
        summary=(
            f"{drill.title}: {say_amount(result, mode.measure)}"
            if result is not None
            else f"{drill.title}: none clean"
        ),
        rows=tuple(rows),
        figures=figures,
        decision=decision,
        reasons=tuple(reasons),
        compared=(
            Values(
                title=drill.title,
                unit=mode.unit,
                values=tuple(t.value for t in clean if t.value is not None),
                fewer=fewer,
                gate=gate.value if gate.measure is mode.measure else None,
            ),
        ),
        pieces=tuple(
            evidence_of_run(
                known,
                drill.drill,
                measure=mode.measure,
                value=t.value,
                form=t.form or Form.CLEAN,
                side=t.side,
                window_s=mode.window_s.value if mode.window_s else None,
            )
            for t in taken
            if t.value is not None
        ),
    )


def _unit_of(drill: Drill) -> str:
    return "°" if drill.dial and drill.dial.unit == "deg" else " cm"


def _best_value(tries: Sequence[Try], *, fewer: bool) -> float | None:
    values = [t.value for t in tries if t.value is not None]
    return (min if fewer else max)(values) if values else None


def _decide_best(
    gate: Gate,
    measure: Measure,
    result: float | None,
    taken: Sequence[Try],
    clean: Sequence[Try],
    known: RunFacts,
    *,
    sides: bool,
) -> tuple[str, list[str]]:
    title = known.subject.title if known.subject else ""
    if result is None:
        if taken and len(clean) < len(taken):
            return "cleaner", [
                "No try was clean. Loose and lost ones count as work done and not for the gate."
            ]
        return "on-the-way", [
            "There is no clean figure for each side yet." if sides else "No figure was taken."
        ]
    said = (
        f"{title}: {say_amount(result, measure)} clean{' on the weaker side' if sides else ''}. The gate is"
        f" {gate.text}."
    )
    if gate.measure is not measure:
        return "on-the-way", [
            f"{title}: {say_amount(result, measure)}. Its gate is measured otherwise: {gate.text}."
        ]
    met = result <= gate.value if gate.fewer else result >= gate.value
    if met and gate.at and not gate.at.holds(known.dial.get(gate.at.dial)):
        setting = known.dial.get(gate.at.dial)
        where = "with no setting written down" if setting is None else f"at {setting:g} cm"
        return "on-the-way", [said, f"It was done {where}, and the gate is measured {gate.at.where}."]
    if met and gate.easy_from and result >= gate.easy_from.value:
        return "easy", [said, f"From {gate.easy_from.value:g} on it is easy and no longer worth its time."]
    if met:
        return "reached", [said]
    behind = [
        t
        for t in taken
        if not t.clean
        and t.value is not None
        and (t.value <= gate.value if gate.fewer else t.value >= gate.value)
    ]
    if behind:
        return "cleaner", [said, "The figure was reached, but not clean."]
    return "on-the-way", [said]
