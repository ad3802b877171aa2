"""Doses of reps and lowerings: first more reps, then the harder setting; by the minute, linked, in rounds, or up and down a staircase."""

from collections.abc import Sequence
from dataclasses import replace

from wise_perch.core.dose.dose import DayDose, Then, Way, because_sets, best_piece, clean_ones, gate_try, sets_of, sides_of
from wise_perch.core.dose.setting import DialSetting, Trained, set_dial
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.gates import Range
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.standing import DrillStanding

LEAST_REPS = 0.6
"""Where a drill has no range of its own, reps begin at this share of its gate. Ours."""


def reps_dose(drill: Drill, rule: DoseRule, stands: DrillStanding, who: Trained) -> DayDose:
    """First more reps, then the harder setting; or by the minute, in rounds, linked, or up and down a staircase."""
    rules, gate = who.syllabus.sessions, drill.gate
    own = rule.each or Range(
        least=max(1.0, round(LEAST_REPS * gate.value)), most=gate.easy_from.value if gate.easy_from else gate.value, origin="ours"
    )
    stepping = rule.way in ("staircase", "minute") or (drill.dial is not None and gate.at is not None)
    set_to = set_dial(drill, who, enough=rules.clean_to_step.value if stepping else own.most, least=1.0 if stepping else own.least)
    recent = who.recent(drill)
    each, why = _rep_count(drill, rule, own, recent, set_to, who)
    first, gate_why = (None, ()) if rule.way in ("minute", "staircase") else gate_try(drill, stands, best_piece(recent, gate), set_to, who)
    way: Way = (
        "minute"
        if rule.way == "minute"
        else "staircase"
        if rule.way == "staircase"
        else "links"
        if rule.way == "links"
        else "rounds"
        if rule.then
        else "reps"
    )
    sets = sets_of(rule, Range(least=3, most=5, origin="practice"))
    if way == "minute":
        return _by_the_minute(drill, rule, each, set_to, recent, who, why)
    then = _then(rule, who)
    work = each * who.syllabus.mechanics.rep_s.value * sides_of(drill) + (then.each if then else 0.0)
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
        dialled=set_to,
        then=then,
        because=(*why, *gate_why, *(set_to.because if set_to else ()), because_sets(sets, rest, rule)),
    )


def _then(rule: DoseRule, who: Trained) -> Then | None:
    second = who.syllabus.drills.get(rule.then)
    if second is None or rule.then_each is None:
        return None
    return Then(drill=second.drill, title=second.title, each=rule.then_each.value, measure=second.gate.measure)


def _rep_count(
    drill: Drill, rule: DoseRule, own: Range, recent: Sequence[Evidence], set_to: DialSetting | None, who: Trained
) -> tuple[float, tuple[Because, ...]]:
    """Reps a set: one more than the poorest clean set of the newest day at this setting, inside the range."""
    if rule.way == "links":
        return _links(own, recent, drill)
    here = [
        p for p in recent if p.measure is Measure.REPS and (set_to is None or abs(p.dial.get(set_to.dial, set_to.setting) - set_to.setting) < 1e-6)
    ]
    text = f"{own.text} reps is this drill's range"
    if rule.way in ("staircase", "minute"):
        return own.least, (Because(text=f"{text}.", origin=own.origin),)
    if not here:
        return own.least, (Because(text=f"{text}; nothing at this setting yet, so begin with {own.least:g}.", origin=own.origin),)
    newest = [p for p in here if p.day == here[-1].day]
    day = say_day(here[-1].day, who.on)
    good = [p for p in newest if p.form is Form.CLEAN]
    least = min((p.value for p in newest), default=0.0)
    if len(good) == len(newest):
        each = float(min(own.most, max(own.least, least + 1)))
        more = (
            f"one more than on {day}"
            if each == least + 1
            else f"as the range begins, after {least:g} on {day}"
            if each > least + 1
            else f"the top of the range, after {least:g} on {day}"
        )
        return each, (Because(text=f"{text}; {more}: first more reps, then the harder setting.", origin=own.origin),)
    each = float(min(own.most, max(own.least, max((p.value for p in good), default=own.least))))
    return each, (Because(text=f"{text}; not every set was clean on {day}, so it stays at {each:g}.", origin=own.origin),)


def _links(own: Range, recent: Sequence[Evidence], drill: Drill) -> tuple[float, tuple[Because, ...]]:
    clean = clean_ones(recent, drill.gate)
    linked = max((p.value for p in clean), default=0.0)
    each = float(min(own.most, own.least + (1 if linked >= own.least else 0)))
    told = f"{linked:g} in a row were clean: {each:g} now" if linked else f"begin with {each:g} in a row"
    return each, (Because(text=f"{told}; quality before fatigue.", origin=own.origin),)


def _by_the_minute(
    drill: Drill, rule: DoseRule, each: float, set_to: DialSetting | None, recent: Sequence[Evidence], who: Trained, why: tuple[Because, ...]
) -> DayDose:
    """One set each minute: the block grows by a minute, or the height goes lower and the block begins anew; never both."""
    rules = who.syllabus.sessions
    minutes, set_to, reason = _minutes(set_to, recent, who)
    return DayDose(
        drill=drill.drill,
        way="minute",
        measure=drill.gate.measure,
        sets=minutes,
        least=min(minutes, int(rules.minutes_first.value)),
        most=minutes,
        each=each,
        work_s=each * who.syllabus.mechanics.rep_s.value if drill.gate.measure is Measure.REPS else each,
        rest_s=max(0.0, 60.0 - each),
        every_minute=True,
        dialled=set_to,
        because=(*why, reason, *(set_to.because if set_to else ()), Because(text=rule.words, origin=rule.said or "")),
    )


def _minutes(set_to: DialSetting | None, recent: Sequence[Evidence], who: Trained) -> tuple[int, DialSetting | None, Because]:
    rules = who.syllabus.sessions
    first, most = int(rules.minutes_first.value), int(rules.minutes_most.value)
    begin = Because(text=f"{first} minutes at a new height.", origin=rules.minutes_first.origin)
    if set_to is None:
        return first, None, begin
    days = [p.day for p in recent if set_to.dial in p.dial]
    if not days:
        return first, set_to, begin
    newest = [p for p in recent if p.day == max(days) and set_to.dial in p.dial]
    there = newest[-1].dial[set_to.dial]
    done = [p for p in newest if p.dial[set_to.dial] == there]
    clean = all(p.form is Form.CLEAN for p in done)
    day = say_day(newest[-1].day, who.on)
    stay = _at(set_to, there)
    if not clean or stay is None:
        return first, set_to, begin
    if len(done) >= most:
        # the height moves, the minutes begin anew
        return (
            first,
            set_to,
            Because(text=f"{len(done)} clean minutes on {day}: a lower height, and {first} minutes again.", origin=rules.minutes_most.origin),
        )
    minutes = min(most, max(first, len(done) + 1))
    kept = replace(stay, because=(Because(text=f"The same height as on {day}: a minute more or a lower height, not both.", origin="practice"),))
    return (
        minutes,
        kept,
        Because(text=f"{len(done)} clean {'minute' if len(done) == 1 else 'minutes'} on {day}: {minutes} now.", origin=rules.minutes_first.origin),
    )


def _at(set_to: DialSetting, setting: float) -> DialSetting | None:
    """The same dial at another of its settings; None where it is not among them."""
    at = next((n for n, s in enumerate(set_to.steps) if abs(s.setting - setting) < 1e-6), None)
    return None if at is None else replace(set_to, at=at)


def lowering_dose(drill: Drill, rule: DoseRule, who: Trained) -> DayDose:
    """A lowering: each one in control for as long as its gate asks, as single sets or by the minute."""
    rules, gate = who.syllabus.sessions, drill.gate
    set_to = set_dial(drill, who, enough=gate.value, least=gate.value * rules.first_share.value)
    recent = who.recent(drill)
    why = (Because(text=f"{gate.value:g} s down in control is the gate; each one slow to the end.", origin=gate.origin),)
    if rule.way == "minute":
        return _by_the_minute(drill, rule, gate.value, set_to, recent, who, why)
    sets = sets_of(rule, Range(least=3, most=5, origin="practice"))
    rest = max(rule.rest_s.value if rule.rest_s else 0.0, rules.least_rest_s.value)
    return DayDose(
        drill=drill.drill,
        way="lowering",
        measure=Measure.LOWERING,
        sets=int(sets.least),
        least=int(sets.least),
        most=int(sets.most),
        each=gate.value,
        work_s=gate.value + rules.single_s.value,
        rest_s=rest,
        dialled=set_to,
        because=(*why, *(set_to.because if set_to else ()), because_sets(sets, rest, rule)),
    )
