"""Doses of holds and floats: a share of the best recent clean one, or windows in which touches are
counted.
"""

from collections.abc import Sequence

from wise_perch.core.dose.dose import DayDose, because_sets, gate_try, sets_of, sides_of
from wise_perch.core.dose.recent import best_piece
from wise_perch.core.dose.setting import float_distance, set_dial
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.evidence import Evidence, Measure
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase


def hold_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """A hold: a share of the best recent clean one, or windows of touches for a float that is not held
    yet.
    """
    rules, gate = case.syllabus.sessions, drill.gate
    recent = case.recent(drill)
    best = best_piece(recent, gate)
    if best is None and gate.mode and (touched := _touches_dose(drill, rule, recent, case)):
        return touched
    set_to = set_dial(drill, case)
    each, why = _hold_seconds(drill, rule, best, case)
    first, gate_why = gate_try(drill, best, set_to, case)
    sets = sets_of(rule, case)
    work = each * sides_of(drill)
    rest = max(
        rules.least_rest_s.value,
        rule.rest_s.value if rule.rest_s else 0.0,
        rules.rest_work_ratio.value * work,
    )
    place, place_why = _float_place(drill, case)
    return DayDose(
        drill=drill.drill,
        way="hold",
        measure=Measure.HOLD,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=each,
        first=first,
        sides=sides_of(drill),
        mode=gate.mode,
        work_s=work,
        rest_s=float(round(rest)),
        dial=set_to,
        place=place,
        because=(
            *why,
            *gate_why,
            *(set_to.because if set_to else ()),
            *place_why,
            because_sets(sets, round(rest), rule),
        ),
    )


def _hold_seconds(
    drill: Drill, rule: DoseRule, best: Evidence | None, case: JudgedCase
) -> tuple[float, tuple[Because, ...]]:
    """A share of the best recent clean hold, inside the drill's own range; without one a share of its
    gate.
    """
    rules, gate = case.syllabus.sessions, drill.gate
    own = rule.each if rule.each and rule.unit in ("", "s") else None
    if best is None:
        asked = (
            own.least
            if own
            else max(
                3.0,
                round(
                    rules.first_share.value
                    * (drill.stages[0].value if _stage_in_seconds(drill) else gate.value)
                ),
            )
        )
        text = f"No clean hold in {rules.recent_days.value:g} days: begin with {asked:g} s."
        return asked, (Because(text=text, origin=own.origin if own else rules.first_share.origin),)
    share = rules.hold_share.value
    asked = float(max(1, round(share * best.value)))
    text = f"{share * 100:.0f} % of the best clean hold, {best.value:g} s on {say_day(best.day, case.on)}"
    if asked > gate.value and not own:
        return gate.value, (Because(text=f"{text}, and no more than its gate.", origin=gate.origin),)
    origin = rules.hold_share.origin
    if own and not own.least <= asked <= own.most:
        asked = min(max(asked, own.least), own.most)
        return asked, (Because(text=f"{text}, kept within {own.text} s.", origin=own.origin),)
    return asked, (Because(text=f"{text}.", origin=origin),)


def _stage_in_seconds(drill: Drill) -> bool:
    return bool(drill.stages) and drill.stages[0].measure in (None, drill.gate.measure)


def _touches_dose(
    drill: Drill, rule: DoseRule, recent: Sequence[Evidence], case: JudgedCase
) -> DayDose | None:
    """A float that is not held yet is worked in windows, counting the touches."""
    stage = next((s for s in drill.stages if s.measure is Measure.TOUCHES and s.window_s), None)
    if stage is None or stage.window_s is None:
        return None
    rules = case.syllabus.sessions
    newest = max((p for p in recent if p.measure is Measure.TOUCHES), key=lambda p: p.day, default=None)
    told = (
        f"{newest.value:g} touches on {say_day(newest.day, case.on)}: "
        if newest
        else "Not held off the wall yet: "
    )
    sets = sets_of(rule, case)
    rest = max(rules.least_rest_s.value, stage.window_s)
    place, why = _float_place(drill, case)
    return DayDose(
        drill=drill.drill,
        way="touches",
        measure=Measure.TOUCHES,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=max(0.0, newest.value - 1) if newest else stage.value,
        window_s=stage.window_s,
        work_s=stage.window_s,
        rest_s=rest,
        place=place,
        because=(
            Because(
                text=f"{told}windows of {stage.window_s:g} s, fewer touches each time.", origin=stage.origin
            ),
            *why,
            because_sets(sets, rest, rule),
        ),
    )


def _float_place(drill: Drill, case: JudgedCase) -> tuple[str, tuple[Because, ...]]:
    found = float_distance(drill, case)
    if found is None:
        return "", ()
    at, furthest = found
    where = f"hands {at:g} cm from the wall"
    text = f"The hands alone lift off up to {furthest:.0f} cm from the wall; {at:g} leaves a margin (model)."
    return where, (Because(text=text, origin=case.syllabus.sessions.float_margin.origin),)
