"""Doses of holds and floats: grown from the last one under the best known, or windows in which touches are
counted.
"""

from collections.abc import Sequence

from wise_perch.core.dose.best_known import drill_may_be_open, find_best_known, pieces_of
from wise_perch.core.dose.dose import DayDose, because_sets, gate_try, sets_of, sides_of
from wise_perch.core.dose.growth import NextAmount, grow
from wise_perch.core.dose.recent import best_piece
from wise_perch.core.dose.setting import DialSetting, float_distance, set_dial
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.decision import Origin
from wise_perch.core.trade.evidence import Evidence, Measure
from wise_perch.core.trade.gates import Range
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase


def hold_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """A hold: grown from the last one, or windows of touches for a float that is not held yet."""
    rules, gate = case.syllabus.sessions, drill.gate
    recent = case.recent(drill)
    best = best_piece(recent, gate)
    if gate.mode and (touched := _touches_dose(drill, rule, recent, case)):
        return touched
    set_to = set_dial(drill, case)
    each, why = _hold_seconds(drill, rule, case)
    first, gate_why = gate_try(drill, best, set_to, case)
    place, place_why = _float_place(drill, case)
    if each < rules.short_hold_s.value and case.syllabus.pillar_of[drill.drill] == "balance":
        return _counted_tries(drill, each, set_to, place, (*why, *place_why), case)
    sets = sets_of(rule, case)
    work = each * sides_of(drill)
    rest = max(
        rules.least_rest_s.value,
        rule.rest_s.value if rule.rest_s else 0.0,
        rules.rest_work_ratio.value * work,
    )
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


def _counted_tries(
    drill: Drill,
    each: float,
    set_to: DialSetting | None,
    place: str,
    why: tuple[Because, ...],
    case: JudgedCase,
) -> DayDose:
    """A short balance hold is worked as counted tries with full rests: what counts is good time on the
    hands.
    """
    rules = case.syllabus.sessions
    tries, rest = rules.short_tries, max(rules.least_rest_s.value, float(case.rest_s))
    text = (
        f"Holds under {rules.short_hold_s.value:g} s are worked as counted tries, {tries.text} a session,"
        f" each one fresh: rest {rest:g} s."
    )
    return DayDose(
        drill=drill.drill,
        way="singles",
        measure=Measure.HOLD,
        sets=int(tries.least),
        least=int(tries.least),
        most=int(tries.most),
        each=each,
        sides=sides_of(drill),
        mode=drill.gate.mode,
        work_s=rules.single_s.value * sides_of(drill),
        rest_s=rest,
        dial=set_to,
        place=place,
        because=(*why, Because(text=text, origin=tries.origin), *(set_to.because if set_to else ())),
    )


def _hold_seconds(drill: Drill, rule: DoseRule, case: JudgedCase) -> tuple[float, tuple[Because, ...]]:
    """How long each hold is: grown from the last one, under the best known, inside the drill's own range;
    without a best where the drill begins.
    """
    own = rule.each if rule.each and rule.unit in ("", "s") else None
    best, begin = find_best_known(drill, case), _first_hold(drill, own, case)
    if best is None:
        return begin.each, (begin.because,)
    found = grow(
        pieces_of(drill, case),
        best,
        case,
        gate=drill.gate,
        begin=begin.each,
        most=own.most if own else drill.gate.value,
        measured=drill_may_be_open(drill, case),
    )
    return found.each, (found.because,)


def _first_hold(drill: Drill, own: Range | None, case: JudgedCase) -> NextAmount:
    """Where a hold begins that was never done: its own range, its first stage, or a share of its gate."""
    rules, gate = case.syllabus.sessions, drill.gate
    origin: Origin
    if own:
        each, origin = own.least, own.origin
    elif _stage_in_seconds(drill):
        each, origin = drill.stages[0].value, drill.stages[0].origin
    else:
        each = min(gate.value, max(rules.first_hold_s.value, round(rules.first_share.value * gate.value)))
        origin = rules.first_share.origin
    text = f"Not tried yet. Start with {each:g} s, and find the best on the first set."
    return NextAmount(each=float(each), because=Because(text=text, origin=origin))


def _stage_in_seconds(drill: Drill) -> bool:
    return bool(drill.stages) and drill.stages[0].measure in (None, drill.gate.measure)


def _touches_dose(
    drill: Drill, rule: DoseRule, recent: Sequence[Evidence], case: JudgedCase
) -> DayDose | None:
    """A float that is not held for long enough yet is worked in windows, counting the touches, as its test
    does; from two touches on, or as soon as it is held for long enough, in seconds.
    """
    stage = next((s for s in drill.stages if s.measure is Measure.TOUCHES and s.window_s), None)
    if stage is None or stage.window_s is None or _floats_long_enough(drill, recent, case):
        return None
    rules = case.syllabus.sessions
    newest = max((p for p in recent if p.measure is Measure.TOUCHES), key=lambda p: p.day, default=None)
    held = best_piece(recent, drill.gate)
    told = (
        f"{newest.value:g} touches on {say_day(newest.day, case.on)}: "
        if newest
        else f"Held {held.value:g} s, under {case.float_switch_s:g} s: "
        if held
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


def _floats_long_enough(drill: Drill, recent: Sequence[Evidence], case: JudgedCase) -> bool:
    """Whether the newest reading of a float is in seconds and long enough, or so few touches that seconds are
    worth counting.
    """
    held = best_piece(recent, drill.gate)
    counted = [p for p in recent if p.measure is Measure.TOUCHES]
    few = case.syllabus.sessions.touches_to_seconds.value
    if counted and counted[-1].value <= few:
        return True
    return held is not None and held.value >= case.float_switch_s


def _float_place(drill: Drill, case: JudgedCase) -> tuple[str, tuple[Because, ...]]:
    found = float_distance(drill, case)
    if found is None:
        return "", ()
    at, furthest = found
    where = f"hands {at:g} cm from the wall"
    text = (
        f"The hands alone lift off up to {furthest:.0f} cm from the wall. {at:g} cm leaves a margin (model)."
    )
    return where, (Because(text=text, origin=case.syllabus.sessions.float_margin.origin),)
