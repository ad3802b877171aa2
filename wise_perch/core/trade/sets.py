"""What one recorded set of a drill may be: the same for the drill's form, a file, the floor and a trainee's
own page.
"""

from collections.abc import Mapping

from wise_perch.core.trade.evidence import COUNTED, MEASURE_UNITS, PLAUSIBLE, Measure, Side

PLAUSIBLE_SETS: Mapping[Measure, tuple[float, float]] = {
    **PLAUSIBLE,
    Measure.DISTANCE: (-100, 10_000),
    Measure.ANGLE: (-90, 180),
}
"""Beyond these a set's figure is taken for a slip of the finger, in the measure's unit. A travelled distance
goes to 100 m; a chest can pass the thighs and an arm the vertical; a deficit lies below the floor. Ours.
"""
PLAUSIBLE_SETTINGS = (-100.0, 500.0)
"""The settings that a dial may be recorded at, in cm or degrees. Ours."""
MOST_TRIES = 1000
"""No set counts more tries. Ours."""


def set_problem(
    measure: Measure,
    *,
    value: float,
    asked: float | None = None,
    n: int | None = None,
    setting: float | None = None,
    has_dial: bool = True,
    each_side: bool = False,
    side: Side | None = None,
) -> str | None:
    """Why a set cannot be as it was entered, in a sentence; None for a sound one.

    Args: `value` and what was `asked` in the unit of `measure`, for a rate k of `n`; `setting` of its dial,
    where `has_dial`; where `each_side` is done for itself, `side` says which.
    """
    least, most = PLAUSIBLE_SETS[measure]
    unit = "" if measure is Measure.RATE else f" {MEASURE_UNITS[measure]}"
    if not least <= value <= most:
        return f"{value:g}{unit} is not plausible: {measure.value} goes from {least:g} to {most:g}{unit}."
    if measure is Measure.RATE and (n is None or not 1 <= n <= MOST_TRIES or value != int(value)):
        return "This drill is counted as k of n: whole successes of a number of tries."
    if measure is Measure.RATE and n is not None and value > n:
        return f"{value:g} of {n} is more than all."
    if measure is not Measure.RATE and n is not None:
        return "Only a drill counted as k of n has a number of tries."
    if measure in COUNTED and value != int(value):
        return f"{measure.value} come in whole numbers."
    if asked is not None and (problem := _asked_problem(measure, asked)):
        return problem
    if each_side and side is None:
        return "This drill is done on one side: left or right?"
    if setting is not None and not has_dial:
        return "This drill has no setting."
    if setting is not None and not PLAUSIBLE_SETTINGS[0] <= setting <= PLAUSIBLE_SETTINGS[1]:
        return (
            f"A setting of {setting:g} is not plausible: dials go from {PLAUSIBLE_SETTINGS[0]:g} to"
            f" {PLAUSIBLE_SETTINGS[1]:g}."
        )
    return None


def _asked_problem(measure: Measure, asked: float) -> str | None:
    least, most = PLAUSIBLE_SETS[measure]
    if measure is Measure.RATE:
        return "k of n is itself the measure; nothing else is asked of it."
    if not least <= asked <= most:
        unit = MEASURE_UNITS[measure]
        return (
            f"{asked:g} {unit} cannot have been asked for: {measure.value} goes from {least:g} to {most:g}."
        )
    return None
