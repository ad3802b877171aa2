"""The open set: once a week the first set of a drill measures the best, as long as it stays clean."""

from dataclasses import replace
from math import ceil

from wise_perch.core.dose.best_known import drill_may_be_open, find_best_known, pieces_of
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trainee.case import JudgedCase

OPEN_WAYS = ("hold", "reps", "rounds", "distance")
"""The ways of working that a first set can be left open in: neither tries that are counted one by one, nor
what is worked by the minute or up and down a staircase.
"""
HOLD_STEP_S, DISTANCE_STEP_CM = 5, 100
"""What a ceiling is rounded up to."""


def with_open_set(
    dose: DayDose, drill: Drill, case: JudgedCase, *, every_days: float | None = None
) -> DayDose:
    """The same dose with its first set open, if that is due and nothing speaks against it: every so many
    days, as often as what is worked on where None.
    """
    rules = case.syllabus.sessions.open_sets
    days = rules.every_days.value if every_days is None else every_days
    if not may_be_open(dose, drill, case) or not _is_due(drill, case, days):
        return dose
    because = (*dose.because, Because(text=rules.words, origin=rules.every_days.origin))
    return replace(dose, open_set=True, ceiling=_find_ceiling(dose, drill, case), first=None, because=because)


def without_open_set(dose: DayDose) -> DayDose:
    """The same dose with every set as asked."""
    return replace(dose, open_set=False, ceiling=None) if dose.open_set else dose


def may_be_open(dose: DayDose, drill: Drill, case: JudgedCase) -> bool:
    """Whether a set may be left open: not with pain in a joint of the drill, with little confidence, in an
    exit, nor where the first day is singles.
    """
    return (
        dose.way in OPEN_WAYS
        and dose.mode is None
        and drill_may_be_open(drill, case)
        and not (dose.measure is Measure.REPS and dose.each <= 1 and not pieces_of(drill, case))
    )


def _is_due(drill: Drill, case: JudgedCase, days: float) -> bool:
    return not any(_measures_best(p) and (case.on - p.day).days < days for p in pieces_of(drill, case))


def _measures_best(piece: Evidence) -> bool:
    return piece.open_set and piece.form is Form.CLEAN


def _find_ceiling(dose: DayDose, drill: Drill, case: JudgedCase) -> float:
    rules, best = case.syllabus.sessions.open_sets, find_best_known(drill, case)
    most = max(
        rules.ceiling_of_gate.value * drill.gate.value,
        rules.ceiling_of_best.value * (best.value if best else 0),
    )
    step = (
        1
        if dose.measure is Measure.REPS
        else DISTANCE_STEP_CM
        if dose.measure is Measure.DISTANCE
        else HOLD_STEP_S
    )
    return float(ceil(most / step - 1e-9) * step)
