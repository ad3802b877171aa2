"""What recent evidence says for a dose: the best clean piece, and which of a drill's dose rules holds for a
trainee.
"""

from collections.abc import Sequence

from wise_perch.core.dose.best_known import best_of
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.evidence import Evidence, Form
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.marks import compares_with, is_enough


def clean_pieces(pieces: Sequence[Evidence], gate: Gate) -> list[Evidence]:
    """The clean pieces that are measured as a gate is."""
    return [p for p in pieces if compares_with(p, gate) and p.form is Form.CLEAN]


def best_piece(pieces: Sequence[Evidence], gate: Gate) -> Evidence | None:
    """The best clean piece measured as the gate is, the newest of equals, whatever the setting."""
    own = clean_pieces(pieces, gate)
    return best_of(own, gate) if own else None


def best_value(pieces: Sequence[Evidence], gate: Gate) -> float:
    """The best clean value measured as a gate is, whatever the setting; 0 without one."""
    best = best_piece(pieces, gate)
    return best.value if best else 0.0


def dose_rule(drill: Drill, case: JudgedCase) -> DoseRule:
    """The syllabus's rule for this drill: of several the last whose second drill is met, else the first."""
    rules = case.syllabus.doses(drill)
    if not rules:
        return DoseRule()
    for rule in reversed(rules):
        if rule.then and rule.each and rule.then in case.syllabus.drills:
            ready = best_value(case.recent(drill), drill.gate) >= rule.each.least
            gate = case.syllabus.drills[rule.then].gate
            held = ready and any(
                is_enough(p.value, p.n, gate) for p in clean_pieces(case.history.of(rule.then), gate)
            )
            if held:
                return rule
    return next((r for r in rules if not r.then), rules[0])
