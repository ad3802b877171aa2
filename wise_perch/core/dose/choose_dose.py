"""How much of a drill on one day: the rules of the trade on what a trainee has done, each figure with its
reason.
"""

from dataclasses import replace

from wise_perch.core.body.loads import seconds_of, share_of
from wise_perch.core.dose.best_known import find_best_known, pieces_of
from wise_perch.core.dose.dose import DayDose, sets_of, sides_of
from wise_perch.core.dose.growth import grow
from wise_perch.core.dose.holds import hold_dose
from wise_perch.core.dose.recent import dose_rule
from wise_perch.core.dose.reps import lowering_dose, reps_dose
from wise_perch.core.dose.setting import set_dial, settings_in_use
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Range, say_amount
from wise_perch.core.trade.session_rules import Because, SessionRules
from wise_perch.core.trainee.case import JudgedCase

STEP_CM = 50
"""Distances are asked for in steps of half a metre. Ours."""


def choose_dose(drill: Drill, case: JudgedCase) -> DayDose:
    """Work out a drill's dose for the day."""
    found = _by_measure(drill, dose_rule(drill, case), case)
    set_to = {**settings_in_use(drill, case), **({found.dial.dial: found.dial.setting} if found.dial else {})}
    share = share_of(case.syllabus.mechanics, drill, case.body, set_to)
    return replace(
        found,
        share=share[0] if share else None,
        load_s=_load_of_set(found, share[0] if share else None, case),
    )


def lighten(dose: DayDose, *, than: DayDose, rules: SessionRules) -> DayDose:
    """A dose in its fewest sets that puts less on the hands than another, as a joint with a little pain asks:
    without what follows each set, and shorter where that is not enough. Share of body weight times seconds.
    """
    found = replace(dose, sets=dose.least, most=dose.least, first=None)
    most = rules.lighter_share.value * than.load_s * than.least
    if than.load_s <= 0 or found.load_s * found.least <= most:
        return found
    if found.then is not None:
        own = found.load_s - found.then.each
        found = replace(found, then=None, way="reps", load_s=own, work_s=found.work_s - found.then.each)
    load = found.load_s * found.least
    if load > most and found.each > 1:
        share = most / load
        each = max(1.0, float(int(found.each * share + 1e-9)))
        found = replace(
            found, each=each, work_s=found.work_s * each / found.each, load_s=found.load_s * each / found.each
        )
    text = "Shortened, so that the joint carries less than it would."
    return replace(found, because=(*found.because, Because(text=text, origin="ours")))


def _by_measure(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    measure = drill.gate.measure
    if measure is Measure.RATE or rule.way == "singles":
        return singles_dose(drill, rule, case)
    if drill.gate.fewer:
        return stretch_dose(drill, rule, case)
    match measure:
        case Measure.REPS:
            return reps_dose(drill, rule, case)
        case Measure.LOWERING:
            return lowering_dose(drill, rule, case)
        case Measure.HOLD:
            return hold_dose(drill, rule, case)
        case Measure.ANGLE | Measure.HEIGHT:
            return stretch_dose(drill, rule, case)
        case _:
            return distance_dose(drill, rule, case)


def singles_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """Single tries with a rest between them, at most so many a session."""
    rules, gate = case.syllabus.sessions, drill.gate
    asked = (
        (rule.each if gate.measure is Measure.RATE else None)
        or rule.sets
        or Range(least=10, most=rules.singles_most.value, origin=rules.singles_most.origin)
    )
    most = min(asked.most, rules.singles_most.value)
    least = (
        min(asked.least, max(rules.singles_least.value, gate.of or 0))
        if gate.measure is Measure.RATE
        else min(asked.least, rules.singles_least.value)
    )
    between = rule.rest_s or case.syllabus.content.usual_doses.get(Measure.RATE.value, DoseRule()).rest_s
    if gate.of and gate.value == gate.of:
        # five of five are five: more of them would only make the gate harder
        least = most = gate.of
    # the drill's own rest is the floor; between is the coach's own, as in the test of free tries
    rest = max(between.value if between else rules.least_rest_s.value, float(case.rest_s))
    hold = rule.each.most if rule.each and gate.measure is Measure.HOLD else None
    set_to = set_dial(drill, case)
    each = 1.0 if gate.measure in (Measure.RATE, Measure.REPS) else (hold or gate.value)
    return DayDose(
        drill=drill.drill,
        way="singles",
        measure=gate.measure,
        sets=int(least),
        least=int(least),
        most=int(most),
        each=each,
        sides=sides_of(drill),
        work_s=rules.single_s.value * sides_of(drill),
        rest_s=rest,
        dial=set_to,
        because=(
            Because(
                text=(
                    f"{most:g} of {most:g} is the gate: as many singles, each as if it were the only one."
                    if gate.of and gate.value == gate.of
                    else f"{asked.text} singles. At most {rules.singles_most.value:g} a session."
                ),
                origin=gate.origin if gate.of and gate.value == gate.of else asked.origin,
            ),
            Because(
                text=f"Rest {rest:g} s between them, as you set it for free tries. {rule.words}".strip(),
                origin="ours",
            ),
            *(set_to.because if set_to else ()),
        ),
    )


def stretch_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """A stretch: so long at a time, little and often."""
    rules = case.syllabus.sessions
    sets, set_to = sets_of(rule, case), set_dial(drill, case)
    return DayDose(
        drill=drill.drill,
        way="stretch",
        dial=set_to,
        measure=drill.gate.measure,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=rules.stretch_s.value,
        sides=sides_of(drill),
        work_s=rules.stretch_s.value * sides_of(drill),
        rest_s=rules.least_rest_s.value / 2,
        because=(
            Because(
                text=f"{rules.stretch_s.value:g} s at a time. {rule.words}".rstrip(),
                origin=rule.said or rules.stretch_s.origin,
            ),
        ),
    )


def distance_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """A distance, grown from the last one under the best known, in steps of half a metre."""
    rules, gate = case.syllabus.sessions, drill.gate
    best = find_best_known(drill, case)
    if best:
        found = grow(
            pieces_of(drill, case),
            best,
            case,
            gate=gate,
            begin=gate.value / 2,
            step=STEP_CM,
            most=gate.value,
        )
        each, why = float(max(STEP_CM, found.each // STEP_CM * STEP_CM)), found.because
    else:
        each = float(max(STEP_CM, round(gate.value / 2 / STEP_CM) * STEP_CM))
        why = Because(
            text=f"{say_amount(each, gate.measure)}: half of its gate to begin with.", origin="ours"
        )
    sets = sets_of(rule, case)
    return DayDose(
        drill=drill.drill,
        way="distance",
        measure=gate.measure,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=each,
        work_s=each / 100 * rules.metre_s.value,
        rest_s=max(rules.least_rest_s.value, rule.rest_s.value if rule.rest_s else 0.0),
        because=(why,),
    )


def _load_of_set(found: DayDose, share: float | None, case: JudgedCase) -> float:
    """What one set puts on the hands, body-weight seconds; nothing where no share is known or nothing is
    carried.
    """
    if share is None or found.way == "stretch":
        return 0.0
    if found.measure in (Measure.RATE, Measure.DISTANCE):
        seconds: float | None = found.work_s
    else:
        seconds = seconds_of(
            case.syllabus.mechanics, measure=found.measure, value=found.each, window_s=found.window_s
        )
    then = found.then.each if found.then else 0.0
    return share * (seconds or 0.0) * found.sides + then
