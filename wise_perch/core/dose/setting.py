"""Where a drill's dial stands: the one rule, by the coach's choice, the newest sets, a tested limit, or where
beginners begin.

Drill sheet, Levers, Bench, Plan, Floor, print and own page all show its answer and its reason.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.body_units import in_rulers
from wise_perch.core.body.kit import KitItem
from wise_perch.core.body.ladders import SettingsLadder, lay_out_ladder, stack_for
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.loads import share_of
from wise_perch.core.body.segments import CM, Body
from wise_perch.core.dose.recent import dose_rule
from wise_perch.core.dose.staircase import DialEstimate, StaircaseSet, estimate_limit, find_direction
from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import DoseRule, Drill
from wise_perch.core.trade.decision import Origin
from wise_perch.core.trade.evidence import REMEMBERED, Form, Measure
from wise_perch.core.trade.gates import FALLING, Dial, Range
from wise_perch.core.trade.mechanics import Lever
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.pain import say_ache
from wise_perch.core.trainee.stored import ChosenSetting

AROUND = 3
"""So many settings stand by on either side of the present one."""
SAME = 1e-6
"""Settings nearer than this are one, in the dial's unit."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingStep:
    """One setting of a dial, what makes it out of the coach's kit, and how it is said: "hands to wall
    40 cm".
    """

    setting: float
    stack: str = ""
    words: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class DialSetting:
    """A dial set for one day: `steps` from easy to hard with the present one at `at`; `because` says why
    there.

    `in_body`: the setting in the trainee's own body units. `limit`: where the limit is by now, where sets
    tell. `setting` is the present one in the dial's unit, `words` how it is said.
    """

    dial: str
    unit: str
    steps: tuple[SettingStep, ...]
    at: int
    because: tuple[Because, ...]
    in_body: str = ""
    limit: DialEstimate | None = None
    setting: float = 0.0
    words: str = ""

    def __post_init__(self) -> None:
        """Say the present step. One from a file may stand nowhere; whoever takes it checks that."""
        steps = [
            (
                s
                if s.words
                else SettingStep(
                    setting=s.setting, stack=s.stack, words=say_setting(self.dial, s.setting, self.unit)
                )
            )
            for s in self.steps
        ]
        object.__setattr__(self, "steps", tuple(steps))
        if 0 <= self.at < len(steps):
            object.__setattr__(self, "setting", steps[self.at].setting)
            object.__setattr__(self, "words", steps[self.at].words)


def say_setting(dial: str, setting: float, unit: str) -> str:
    """A setting as it is said: "hands to wall 40 cm", "on the flat floor"."""
    if setting == 0 and dial.endswith("height"):
        return "on the flat floor"
    return f"{dial.replace('-', ' ')} {setting:g}{'°' if unit == 'deg' else f' {unit}'}"


def set_dial(drill: Drill, case: JudgedCase) -> DialSetting | None:
    """Set a drill's dial for the day; None for a drill without one, or whose settings nobody knows.

    A coach's choice stands until newer sets, or a test at another setting; then the staircase goes on from
    there. Low confidence and pain move it for the day.
    """
    dial = drill.dial
    if dial is None:
        return None
    rule = dose_rule(drill, case)
    trials = _staircase_sets(drill, dial, rule, case)
    chosen = _standing_choice(drill, dial, trials, case)
    wanted, because = _setting_to_begin(drill, dial, chosen, trials, case)
    if wanted is None:
        return None
    steps = _steps_of_dial(drill, dial, case, wanted)
    at = min(range(len(steps)), key=lambda n: abs(steps[n].setting - wanted))
    if trials and chosen is None:
        at, because = _go_on_from(trials, at, steps, drill, dial, rule, case)
    if chosen is None:
        at, because = _for_the_shy(at, because, steps, drill, dial, case, been_there=bool(trials))
    at, because = _for_pain(at, because, steps, drill, dial, case)
    low, high = max(0, at - AROUND), at + AROUND + 1
    return DialSetting(
        dial=dial.name,
        unit=dial.unit,
        steps=tuple(steps[low:high]),
        at=at - low,
        because=because,
        in_body=in_rulers(steps[at].setting, case.rulers) if dial.unit != "deg" else "",
        limit=_estimate_dial(dial, steps, trials),
    )


def settings_in_use(drill: Drill, case: JudgedCase) -> dict[str, float]:
    """Every setting a drill is done at now, by knob: its dial's by the one rule, its other knobs as they were
    last chosen.
    """
    chosen = case.chosen.get(drill.drill)
    others = dict(chosen.settings) if chosen else {}
    dialled = set_dial(drill, case)
    return {**others, **({dialled.dial: dialled.setting} if dialled else {})}


def _estimate_dial(
    dial: Dial, steps: Sequence[SettingStep], trials: Sequence[StaircaseSet]
) -> DialEstimate | None:
    ends = [s.setting for s in steps]
    gap = (max(ends) - min(ends)) / (len(ends) - 1) if len(ends) > 1 else 0.0
    return (
        estimate_limit(
            trials, step=gap, least=min(ends), most=max(ends), harder_up=dial.harder not in FALLING
        )
        if gap > 0
        else None
    )


def usual_reps(drill: Drill, rule: DoseRule, case: JudgedCase) -> Range:
    """The range of reps a drill is worked in: its rule's own, else from a share of its gate up to where it is
    easy.
    """
    gate = drill.gate
    least = max(1.0, round(case.syllabus.sessions.least_reps_share.value * gate.value))
    return rule.each or Range(
        least=least, most=gate.easy_from.value if gate.easy_from else gate.value, origin="ours"
    )


def _step_bounds(drill: Drill, rule: DoseRule, case: JudgedCase) -> tuple[float, float]:
    """What of a drill's measure, done clean, moves its dial a step harder, and below what a set counts as a
    miss.
    """
    gate, rules = drill.gate, case.syllabus.sessions
    if gate.measure is Measure.RATE or rule.way == "singles":
        return gate.value, 0.0
    if gate.measure is Measure.REPS:
        own = usual_reps(drill, rule, case)
        stepping = rule.way in ("staircase", "minute") or gate.at is not None
        return (rules.clean_to_step.value, 1.0) if stepping else (own.most, own.least)
    if gate.measure is Measure.LOWERING:
        return gate.value, gate.value * rules.first_share.value
    first = rule.each.least if rule.each else gate.value * rules.first_share.value
    return gate.value, min(gate.value, first) / 2


def _staircase_sets(drill: Drill, dial: Dial, rule: DoseRule, case: JudgedCase) -> list[StaircaseSet]:
    """What recent sets at known settings tell, oldest first, within a day the easiest setting first."""
    sign = -1 if dial.harder in FALLING else 1
    enough, least = _step_bounds(drill, rule, case)
    found = []
    for p in case.recent(drill):
        setting = p.value if p.mode == REMEMBERED else p.dial.get(dial.name)
        if setting is None or (
            p.mode != REMEMBERED and (p.measure is not drill.gate.measure or p.measure is Measure.RATE)
        ):
            continue
        # a tested limit is a setting that went, and says nothing about the next one; what was done as asked
        # is no miss, however little was asked
        miss = p.mode != REMEMBERED and (p.form is Form.LOST or (p.value < least and not p.as_asked))
        passed = (
            False
            if miss
            else None
            if p.mode == REMEMBERED or p.form is not Form.CLEAN or p.value < enough
            else True
        )
        found.append(StaircaseSet(setting=setting, passed=passed, day=p.day))
    return sorted(found, key=lambda t: (t.day, sign * t.setting))


def _standing_choice(
    drill: Drill, dial: Dial, trials: Sequence[StaircaseSet], case: JudgedCase
) -> ChosenSetting | None:
    """The coach's choice, while no newer set stands; of sets of the same day those at its own setting came
    after it.
    """
    chosen = case.chosen.get(drill.drill)
    if chosen is None or dial.name not in chosen.settings:
        return None
    at = chosen.settings[dial.name]
    newer = [t for t in trials if t.day > chosen.day or (t.day == chosen.day and abs(t.setting - at) < SAME)]
    return None if newer else chosen


def _setting_to_begin(
    drill: Drill, dial: Dial, chosen: ChosenSetting | None, trials: Sequence[StaircaseSet], case: JudgedCase
) -> tuple[float | None, tuple[Because, ...]]:
    """The setting to begin from, before the newest sets have their say."""
    if chosen:
        return chosen.settings[dial.name], (
            Because(text=f"As you set it on {say_day(chosen.day, case.on)}."),
        )
    if trials:
        return trials[-1].setting, (Because(text=f"Where it stood on {say_day(trials[-1].day, case.on)}."),)
    if dial.start:
        text = (
            f"Nothing recorded at a setting yet: {say_setting(dial.name, dial.start.value, dial.unit)} is"
            " where one begins."
        )
        return dial.start.value, (Because(text=text, origin=dial.start.origin),)
    if (end := gate_setting(drill.gate)) is not None:
        return end, (Because(text="Nothing recorded at a setting yet: this is the one its gate asks for."),)
    lever, body = _lever_of(drill, case), case.body
    knob = lever.knob(dial.name) if lever else None
    if knob is None or body is None:
        return None, ()
    return knob.start_at(body.stature * CM), (
        Because(text="Nothing recorded at a setting yet: this is where it is usually set up.", origin="ours"),
    )


def _go_on_from(
    trials: Sequence[StaircaseSet],
    at: int,
    steps: Sequence[SettingStep],
    drill: Drill,
    dial: Dial,
    rule: DoseRule,
    case: JudgedCase,
) -> tuple[int, tuple[Because, ...]]:
    """Where the staircase goes after the newest day, never past the setting the gate is measured at."""
    last = trials[-1]
    newest = [t for t in trials if t.day == last.day and t.setting == last.setting]
    way, day, there = (
        find_direction(newest),
        say_day(last.day, case.on),
        f"{last.setting:g}{'°' if dial.unit == 'deg' else ' cm'}",
    )
    origin: Origin = case.syllabus.sessions.clean_to_step.origin

    def said(text: str) -> tuple[Because, ...]:
        return (Because(text=text, origin=origin),)

    if way > 0:
        end, sign = gate_setting(drill.gate), -1 if dial.harder in FALLING else 1
        past = end is not None and sign * last.setting >= sign * end
        if past or at + 1 >= len(steps):
            return at, said(f"Clean at {there} on {day}, the test setting. Stay here.")
        if (
            rule.way == "minute"
            and _clean_minutes(drill, dial, last, case) < case.syllabus.sessions.minutes_most.value
        ):
            return at, said(f"The same height as on {day}. A minute more or a lower height, not both.")
        if end is not None and sign * steps[at + 1].setting > sign * end:
            return at, said(f"Clean at {there} on {day}. On to the test setting.")
        return at + 1, said(f"Clean at {there} on {day}. One step {dial.harder}.")
    if way < 0:
        failed = case.failed_for(drill)
        if failed and not failed.rule.eases_dial:
            told = failed.rule.title.lower()
            return at, said(f"Missed at {there} on {day} for {told}, not for its weight. Stay here.")
        easier = max(0, at - 1)
        sign = -1 if dial.harder in FALLING else 1
        # easier than for the shy it would be another drill
        if dial.shy is not None and sign * steps[easier].setting < sign * dial.shy.value - SAME:
            easier = at
        told = "One step easier" if easier < at else "There is nothing easier"
        return easier, said(f"Missed at {there} on {day}. {told}.")
    return at, said(f"No miss at {there} on {day}, but not enough yet. Stay here.")


def _clean_minutes(drill: Drill, dial: Dial, last: StaircaseSet, case: JudgedCase) -> int:
    """How many minutes of the newest block, one set each, were done at its setting."""
    done = [p for p in case.recent(drill) if p.day == last.day and p.mode != REMEMBERED]
    return sum(abs(p.dial.get(dial.name, last.setting + 1) - last.setting) < SAME for p in done)


def _for_the_shy(
    at: int,
    because: tuple[Because, ...],
    steps: list[SettingStep],
    drill: Drill,
    dial: Dial,
    case: JudgedCase,
    *,
    been_there: bool,
) -> tuple[int, tuple[Because, ...]]:
    """Low confidence goes lower or farther out for the day, where it does not stand there already: to where
    the shy begin, or one step, where the drill has `been_there` before.
    """
    if dial.shy is None or not case.is_shy_of(drill):
        return at, because
    sign = -1 if dial.harder in FALLING else 1
    if sign * steps[at].setting <= sign * dial.shy.value:
        return at, because
    if been_there and at > 0 and sign * steps[at - 1].setting > sign * dial.shy.value:
        easier = say_setting(dial.name, steps[at - 1].setting, dial.unit)
        text = f"Confidence is low: one step easier, {easier}."
        return at - 1, (Because(text=text, origin=dial.shy.origin),)
    there = next((n for n, s in enumerate(steps) if abs(s.setting - dial.shy.value) < SAME), None)
    if there is None:
        there = next((n for n, s in enumerate(steps) if sign * s.setting > sign * dial.shy.value), len(steps))
        steps.insert(
            there, SettingStep(setting=dial.shy.value, stack=_stack_of(drill, dial, dial.shy.value, case))
        )
    text = f"Confidence is low: {say_setting(dial.name, dial.shy.value, dial.unit)}."
    return there, (Because(text=text, origin=dial.shy.origin),)


def _for_pain(
    at: int,
    because: tuple[Because, ...],
    steps: Sequence[SettingStep],
    drill: Drill,
    dial: Dial,
    case: JudgedCase,
) -> tuple[int, tuple[Because, ...]]:
    """A little pain of a joint that the drill loads takes it a step easier for the day, if that puts no more
    on the hands.
    """
    ache, stops = case.ache_in(drill)
    if ache is None or stops or at == 0:
        return at, because
    easier, here = (_share_at(drill, dial, steps[n].setting, case) for n in (at - 1, at))
    # only what is known to put less on the hands is easier on a joint
    if easier is None or here is None or easier >= here - SAME:
        return at, because
    text = f"{say_ache(ache, on=case.on)}: one step easier for the day."
    return at - 1, (Because(text=text, origin=case.syllabus.rules.pain_stops_at.origin),)


def _share_at(drill: Drill, dial: Dial, setting: float, case: JudgedCase) -> float | None:
    found = share_of(case.syllabus.mechanics, drill, case.body, {dial.name: setting})
    return found[0] if found else None


def _lever_of(drill: Drill, case: JudgedCase) -> Lever | None:
    return case.syllabus.mechanics.of_drill(drill.drill, drill.family)


def _stack_of(drill: Drill, dial: Dial, setting: float, case: JudgedCase) -> str:
    lever = _lever_of(drill, case)
    knob = lever.knob(dial.name) if lever else None
    return stack_for(setting, knob, case.kit) if knob else ""


def _steps_of_dial(drill: Drill, dial: Dial, case: JudgedCase, wanted: float) -> list[SettingStep]:
    """The settings of a dial from easy to hard: by the model of this body where there is one, else in the
    dial's own steps.
    """
    lever = _lever_of(drill, case)
    knob = lever.knob(dial.name) if lever else None
    found: list[SettingStep] = []
    if lever and knob and case.body and lever.currency:
        chosen = case.chosen.get(drill.drill)
        others = (
            {name: value for name, value in chosen.settings.items() if lever.knob(name) and name != dial.name}
            if chosen
            else {}
        )
        laid = laid_out(lever, case.body, dial, tuple(sorted(others.items())), case.kit)
        found = [SettingStep(setting=s.setting, stack=s.stack) for s in laid.steps]
    if not found:
        step = dial.step.value if dial.step else case.syllabus.sessions.fallback_step_cm.value
        sign = -1 if dial.harder in FALLING else 1
        found = [SettingStep(setting=wanted + sign * step * n) for n in range(-AROUND, AROUND + 1)]
        found = [s for s in found if s.setting >= 0 or (drill.gate.at and (drill.gate.at.at_most or 0) < 0)]
    # the setting it stands at, and the one its gate asks for, are there to the millimetre
    for extra in dict.fromkeys((wanted, *([end] if (end := gate_setting(drill.gate)) is not None else []))):
        near = knob.notch if knob else 0.5
        found = [s for s in found if abs(s.setting - extra) > near or s.setting == wanted]
        if all(s.setting != extra for s in found):
            found.append(SettingStep(setting=extra, stack=stack_for(extra, knob, case.kit) if knob else ""))
    up = dial.harder not in FALLING
    return sorted(found, key=lambda s: s.setting if up else -s.setting)


@lru_cache(maxsize=512)
def laid_out(
    lever: Lever, body: Body, dial: Dial, others: tuple[tuple[str, float], ...], kit: tuple[KitItem, ...]
) -> SettingsLadder:
    """A dial's ladder for a body, worked out once for the same body, kit and other settings."""
    return lay_out_ladder(lever, body, dial=dial, settings=settings_for(lever, body, dict(others)), kit=kit)


def float_distance(drill: Drill, case: JudgedCase) -> tuple[float, float] | None:
    """For a float: the hands' distance from the wall to begin at, and the greatest at which the hands alone
    lift off, cm.
    """
    rules = case.syllabus.sessions
    lever = case.syllabus.mechanics.of_drill(drill.drill, drill.family)
    if drill.drill not in rules.floats or lever is None or case.body is None:
        return None
    found = solve_one(lever.views[0].model, case.body, settings_for(lever, case.body, {}))
    if not isinstance(found, Answer):
        return None
    furthest = found.figures["float_limit_cm"]
    return float(int(furthest * rules.float_margin.value)), furthest
