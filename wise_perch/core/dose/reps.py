"""Doses of reps and lowerings: first more reps, then the harder setting; by the minute, linked, in rounds, or
up and down a staircase.
"""

from collections.abc import Sequence

from wise_perch.core.dose.best_known import drill_may_be_open, find_best_known, pieces_of
from wise_perch.core.dose.dose import DayDose, Then, Way, because_sets, gate_try, sets_of, sides_of
from wise_perch.core.dose.growth import asked_days, grow
from wise_perch.core.dose.recent import best_piece, clean_pieces
from wise_perch.core.dose.setting import SAME, DialSetting, set_dial, usual_reps
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.evidence import REMEMBERED, Evidence, Form, Measure
from wise_perch.core.trade.gates import Range
from wise_perch.core.trade.session_lookup import heavy_of
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.case import JudgedCase


def reps_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """First more reps, then the harder setting; or by the minute, in rounds, linked, or up and down a
    staircase.
    """
    rules, gate = case.syllabus.sessions, drill.gate
    own = usual_reps(drill, rule, case)
    set_to = set_dial(drill, case)
    recent = case.recent(drill)
    each, why = _rep_count(drill, rule, own, set_to, case)
    first, gate_why = (
        (None, ())
        if rule.way in ("minute", "staircase")
        else gate_try(drill, best_piece(recent, gate), set_to, case)
    )
    way: Way = (
        "minute"
        if rule.way == "minute"
        else (
            "staircase"
            if rule.way == "staircase"
            else "links"
            if rule.way == "links"
            else "rounds"
            if rule.then
            else "reps"
        )
    )
    sets = sets_of(rule, case, reps=True)
    if way == "minute":
        return _by_the_minute(drill, rule, each, set_to, recent, case, why)
    then = _then_dose(rule, case) or _last_one_held(drill, case)
    work = each * case.syllabus.mechanics.rep_s.value * sides_of(drill) + (then.each if then else 0.0)
    rest = max(rule.rest_s.value if rule.rest_s else 0.0, rules.least_rest_s.value)
    return DayDose(
        drill=drill.drill,
        way=way,
        measure=Measure.REPS,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=each,
        first=first if first is None or first > each else None,
        sides=sides_of(drill),
        work_s=work,
        rest_s=rest,
        dial=set_to,
        then=then,
        because=(*why, *gate_why, *(set_to.because if set_to else ()), because_sets(sets, rest, rule)),
    )


def _then_dose(rule: DoseRule, case: JudgedCase) -> Then | None:
    second = case.syllabus.drills.get(rule.then)
    if second is None or rule.then_each is None:
        return None
    return Then(
        drill=second.drill, title=second.title, each=rule.then_each.value, measure=second.gate.measure
    )


def _last_one_held(drill: Drill, case: JudgedCase) -> Then | None:
    """Where a gate also asks that the last rep is held: that hold, after each set."""
    also = next((g for g in drill.gate.also if g.measure is Measure.HOLD), None)
    if also is None:
        return None
    held = [
        p.value
        for p in case.recent(drill)
        if p.measure is Measure.HOLD and p.form is Form.CLEAN and not p.fell_short
    ]
    growth = case.syllabus.sessions.growth
    wanted = growth.last_held_begins.value * also.value
    if held:
        wanted = max(wanted, max(held) + growth.last_held_step.value * also.value)
    each = float(min(also.value, int(wanted + 1e-9)))
    return Then(drill=drill.drill, title="hold at the end", each=each, measure=Measure.HOLD)


def _rep_count(
    drill: Drill, rule: DoseRule, own: Range, set_to: DialSetting | None, case: JudgedCase
) -> tuple[float, tuple[Because, ...]]:
    """Reps a set, first more of them and then the harder setting: one more than was done as asked at this
    setting, under the best known at this setting or a harder one, inside the range.
    """
    if rule.way == "links":
        return _link_reps(own, case.recent(drill), drill)
    text = f"This drill's range is {own.text} {'rep' if own.most == 1 else 'reps'}"
    if rule.way in ("staircase", "minute"):
        return own.least, (Because(text=f"{text}.", origin=own.origin),)
    every = pieces_of(drill, case)
    if not any(p.value > 0 for p in every) and _is_risky(drill, case):
        return 1.0, (Because(text="Never done yet: the first day is singles.", origin="ours"),)
    here = [p for p in every if set_to is None or _at_setting(p, set_to)]
    best = find_best_known(drill, case, at=set_to.setting if set_to else None)
    if best is None:
        return own.least, (
            Because(
                text=f"{text}. Nothing at this setting yet, so begin with {own.least:g}.", origin=own.origin
            ),
        )
    found = grow(
        here,
        best,
        case,
        gate=drill.gate,
        begin=own.least,
        step=1.0,
        most=own.most,
        measured=drill_may_be_open(drill, case),
    )
    return found.each, (Because(text=f"{text}.", origin=own.origin), found.because)


def _is_risky(drill: Drill, case: JudgedCase) -> bool:
    """Whether a first time is tried one at a time: what is heavy, away from the wall, or near the head."""
    return bool(heavy_of(case.syllabus, drill.drill)) or drill.guarded


def _at_setting(piece: Evidence, set_to: DialSetting) -> bool:
    return abs(piece.dial.get(set_to.dial, set_to.setting) - set_to.setting) < SAME


def _link_reps(own: Range, recent: Sequence[Evidence], drill: Drill) -> tuple[float, tuple[Because, ...]]:
    clean = clean_pieces(recent, drill.gate)
    linked = max((p.value for p in clean), default=0.0)
    each = float(min(own.most, own.least + (1 if linked >= own.least else 0)))
    told = f"{linked:g} in a row were clean: {each:g} now" if linked else f"begin with {each:g} in a row"
    return each, (Because(text=f"{capitalise(told)}. Quality before fatigue.", origin=own.origin),)


def _by_the_minute(
    drill: Drill,
    rule: DoseRule,
    each: float,
    set_to: DialSetting | None,
    recent: Sequence[Evidence],
    case: JudgedCase,
    why: tuple[Because, ...],
) -> DayDose:
    """One set each minute: the block grows by a minute, or the height goes lower and the block begins again;
    never both.
    """
    rules = case.syllabus.sessions
    minutes, reason = _count_minutes(set_to, recent, case)
    return DayDose(
        drill=drill.drill,
        way="minute",
        measure=drill.gate.measure,
        sets=minutes,
        least=min(minutes, int(rules.minutes_first.value)),
        most=minutes,
        each=each,
        work_s=each * case.syllabus.mechanics.rep_s.value if drill.gate.measure is Measure.REPS else each,
        rest_s=max(0.0, 60.0 - each),
        every_minute=True,
        dial=set_to,
        because=(
            *why,
            reason,
            *(set_to.because if set_to else ()),
            Because(text=rule.words, origin=rule.said or ""),
        ),
    )


def _count_minutes(
    set_to: DialSetting | None, recent: Sequence[Evidence], case: JudgedCase
) -> tuple[int, Because]:
    """How many minutes: one more than the newest clean block at the present setting, else as a new height
    begins.
    """
    rules = case.syllabus.sessions
    first, most = int(rules.minutes_first.value), int(rules.minutes_most.value)
    begin = Because(text=f"{first} minutes at a new height.", origin=rules.minutes_first.origin)
    there = [p for p in recent if set_to is not None and p.mode != REMEMBERED and set_to.dial in p.dial]
    if set_to is None or not there:
        return first, begin
    newest = [p for p in there if p.day == there[-1].day]
    setting, day = newest[-1].dial[set_to.dial], say_day(newest[-1].day, case.on)
    done = [p for p in newest if p.dial[set_to.dial] == setting]
    if any(p.form is not Form.CLEAN for p in done):
        return first, begin
    if abs(setting - set_to.setting) > SAME:
        lower = len(done) >= most
        text = f"{len(done)} clean minutes on {day}: a lower height, and {first} minutes again."
        return first, Because(text=text, origin=rules.minutes_most.origin) if lower else begin
    minutes = min(most, max(first, len(done) + 1))
    said = f"{len(done)} clean {'minute' if len(done) == 1 else 'minutes'} on {day}: {minutes} now."
    return minutes, Because(text=said, origin=rules.minutes_first.origin)


def lowering_dose(drill: Drill, rule: DoseRule, case: JudgedCase) -> DayDose:
    """A lowering, as single sets a second slower than the slowest known, up to its gate; or by the minute for
    as long as its gate asks.
    """
    rules, gate = case.syllabus.sessions, drill.gate
    set_to = set_dial(drill, case)
    recent = case.recent(drill)
    why = (
        Because(
            text=f"{gate.value:g} s down in control is the gate. Each one slow to the end.",
            origin=gate.origin,
        ),
    )
    if rule.way == "minute":
        return _by_the_minute(drill, rule, gate.value, set_to, recent, case, why)
    sets = sets_of(rule, case, reps=True)
    rest = max(rule.rest_s.value if rule.rest_s else 0.0, rules.least_rest_s.value)
    each, how = _seconds_down(drill, case)
    return DayDose(
        drill=drill.drill,
        way="lowering",
        measure=Measure.LOWERING,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=each,
        work_s=each + rules.single_s.value,
        rest_s=rest,
        dial=set_to,
        because=(*why, how, *(set_to.because if set_to else ()), because_sets(sets, rest, rule)),
    )


def _seconds_down(drill: Drill, case: JudgedCase) -> tuple[float, Because]:
    """How slow a lowering is asked for: only itself measures it, so each goes a step beyond what went; after
    two days that fell short, as slow as it went.
    """
    rules, gate = case.syllabus.sessions, drill.gate
    growth, best = rules.growth, find_best_known(drill, case)
    days = asked_days(pieces_of(drill, case))
    if best is None:
        most, origin = max(1.0, float(int(rules.first_share.value * gate.value))), rules.first_share.origin
        text = f"Not tried yet. Start with {most:g} s."
    else:
        most = min(gate.value, float(int(best.value)) + growth.short_step_s.value)
        text, origin = f"{most:g} s now. {capitalise(best.words)}.", growth.short_step_s.origin
    last = days[-1] if days else None
    if last is None or not last.short:
        return most, Because(text=text, origin=origin)
    day = say_day(last.day, case.on)
    if len(days) > 1 and days[-2].short:
        # as slow as it went, in whole seconds
        each = max(1.0, min(last.asked - 1.0, float(int(max(best.value if best else 0.0, last.done)))))
        text = f"{last.asked:g} s fell short twice in a row, last on {day}: less."
        return each, Because(text=text, origin=growth.after_two_short.origin)
    return min(last.asked, most), Because(
        text=f"{last.asked:g} s fell short on {day}: the same again.", origin="ours"
    )
