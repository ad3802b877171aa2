"""Where a drill's dial stands next time: by the coach's choice, the newest sets, a tested limit, or where beginners begin."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import lru_cache

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.body_units import in_rulers
from wise_perch.core.body.kit import KitItem
from wise_perch.core.body.ladders import SettingsLadder, lay_out_ladder, stack_for
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.segments import Body
from wise_perch.core.dose.staircase import DialEstimate, StaircaseSet, estimate_limit, find_direction
from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.decision import Origin
from wise_perch.core.trade.evidence import REMEMBERED, Evidence, Form, Measure
from wise_perch.core.trade.gates import FALLING, Dial
from wise_perch.core.trade.mechanics import Lever
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day

AROUND = 3
"""So many settings stand by on either side of the present one."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingStep:
    """One setting of a dial, and what makes it out of the coach's kit."""

    setting: float
    stack: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class DialSetting:
    """A dial set for one day: `steps` from easy to hard with the present one at `at`; `because` says why there.

    `in_body`: the setting in the trainee's own body units. `limit`: where the limit is by now, where sets tell.
    """

    dial: str
    unit: str
    steps: tuple[SettingStep, ...]
    at: int
    because: tuple[Because, ...]
    in_body: str = ""
    limit: DialEstimate | None = None

    @property
    def setting(self) -> float:
        """The present setting, in the dial's unit."""
        return self.steps[self.at].setting

    @property
    def words(self) -> str:
        """The setting as it is said: "hands to wall 40 cm"."""
        return say_setting(self.dial, self.setting, self.unit)


@dataclass(frozen=True, kw_only=True)
class Trained:
    """What a dose is worked out from: one trainee on one day.

    `pieces` by drill, up to the day; `chosen`: settings the coach picked on the Levers screen, by drill, with the day;
    `shy`: confidence is low; `own`: the trainee's rulers, cm.
    """

    syllabus: Syllabus
    on: date
    pieces: Mapping[str, Sequence[Evidence]]
    body: Body | None = None
    kit: tuple[KitItem, ...] = ()
    chosen: Mapping[str, tuple[Mapping[str, float], date]] = field(default_factory=dict)
    shy: bool = False
    own: Mapping[str, float] = field(default_factory=dict)

    def recent(self, drill: Drill) -> list[Evidence]:
        """What was done of a drill, or of those that differ only in their gate, and still tells something; oldest first."""
        most = self.syllabus.sessions.recent_days.value
        kin = {drill.drill} | ({d.drill for d in self.syllabus.drills.values() if d.family == drill.family} if drill.family else set())
        found = [p for name in sorted(kin) for p in self.pieces.get(name, ()) if 0 <= (self.on - p.day).days <= most]
        return sorted(found, key=lambda p: p.day)


def say_setting(dial: str, setting: float, unit: str) -> str:
    """A setting as it is said: "hands to wall 40 cm", "pad height: the flat floor"."""
    if setting == 0 and dial.endswith("height"):
        return "on the flat floor"
    return f"{dial.replace('-', ' ')} {setting:g}{'°' if unit == 'deg' else f' {unit}'}"


def set_dial(drill: Drill, who: Trained, *, enough: float, least: float) -> DialSetting | None:
    """Set a drill's dial for the day; None for a drill without one, or whose settings nobody knows.

    Args: `enough` of the drill's measure, clean, moves the dial a step harder; less than `least`, or lost form, a step easier.
    """
    dial = drill.dial
    if dial is None:
        return None
    trials = _trials(drill, dial, who, enough=enough, least=least)
    wanted, because = _wanted(drill, dial, who, trials)
    if wanted is None:
        return None
    steps = _steps(drill, dial, who, wanted)
    at = min(range(len(steps)), key=lambda n: abs(steps[n].setting - wanted))
    newest = [t for t in trials if t.day == trials[-1].day and t.setting == trials[-1].setting] if trials else []
    chosen = who.chosen.get(drill.drill)
    if newest and not (chosen and chosen[1] >= newest[0].day) and not _held_back(dial, who):
        at, reason = _after(newest, at, steps, drill, dial, who)
        because = (reason,)
    low, high = max(0, at - AROUND), at + AROUND + 1
    return DialSetting(
        dial=dial.name,
        unit=dial.unit,
        steps=tuple(steps[low:high]),
        at=at - low,
        because=because,
        in_body=in_rulers(steps[at].setting, who.own) if dial.unit != "deg" else "",
        limit=_limit(dial, steps, trials),
    )


def _limit(dial: Dial, steps: Sequence[SettingStep], trials: Sequence[StaircaseSet]) -> DialEstimate | None:
    ends = [s.setting for s in steps]
    gap = (max(ends) - min(ends)) / (len(ends) - 1) if len(ends) > 1 else 0.0
    return estimate_limit(trials, step=gap, least=min(ends), most=max(ends), harder_up=dial.harder not in FALLING) if gap > 0 else None


def _trials(drill: Drill, dial: Dial, who: Trained, *, enough: float, least: float) -> list[StaircaseSet]:
    """What recent sets at known settings tell, oldest first, within a day the easiest setting first."""
    sign = -1 if dial.harder in FALLING else 1
    found = []
    for p in who.recent(drill):
        setting = p.value if p.mode == REMEMBERED else p.dial.get(dial.name)
        if setting is None or (p.mode != REMEMBERED and (p.measure is not drill.gate.measure or p.measure is Measure.RATE)):
            continue
        # a tested limit is a setting that went, and says nothing about the next one
        miss = p.mode != REMEMBERED and (p.form is Form.LOST or p.value < least)
        passed = False if miss else None if p.mode == REMEMBERED or p.form is not Form.CLEAN or p.value < enough else True
        found.append(StaircaseSet(setting=setting, passed=passed, day=p.day))
    return sorted(found, key=lambda t: (t.day, sign * t.setting))


def _held_back(dial: Dial, who: Trained) -> bool:
    return who.shy and dial.shy is not None


def _wanted(drill: Drill, dial: Dial, who: Trained, trials: Sequence[StaircaseSet]) -> tuple[float | None, tuple[Because, ...]]:
    """The setting to begin from, before the newest sets have their say."""
    chosen = who.chosen.get(drill.drill)
    if chosen and dial.name in chosen[0] and not (trials and trials[-1].day > chosen[1]):
        return chosen[0][dial.name], (Because(text=f"As you set it on {say_day(chosen[1], who.on)}."),)
    if who.shy and dial.shy:
        text = f"Confidence is low: {say_setting(dial.name, dial.shy.value, dial.unit)}."
        return dial.shy.value, (Because(text=text, origin=dial.shy.origin),)
    if trials:
        newest = trials[-1]
        return newest.setting, (Because(text=f"Where it stood on {say_day(newest.day, who.on)}."),)
    if dial.start:
        text = f"Nothing recorded at a setting yet: {say_setting(dial.name, dial.start.value, dial.unit)} is where one begins."
        return dial.start.value, (Because(text=text, origin=dial.start.origin),)
    found = gate_setting(drill.gate)
    return found, (Because(text="The setting its gate is measured at."),)


def _after(newest: Sequence[StaircaseSet], at: int, steps: Sequence[SettingStep], drill: Drill, dial: Dial, who: Trained) -> tuple[int, Because]:
    """Where the staircase goes after the newest day, never past the setting the gate is measured at."""
    way = find_direction(newest)
    day, there = say_day(newest[0].day, who.on), f"{newest[0].setting:g}{'°' if dial.unit == 'deg' else ' cm'}"
    origin: Origin = who.syllabus.sessions.clean_to_step.origin
    if way > 0:
        end, sign = gate_setting(drill.gate), -1 if dial.harder in FALLING else 1
        past = end is not None and sign * newest[0].setting >= sign * end
        if past or at + 1 >= len(steps):
            return at, Because(text=f"Enough, clean, at {there} on {day}: the setting its gate asks for stays.", origin=origin)
        beyond = end is not None and sign * steps[at + 1].setting > sign * end
        if not beyond:
            return at + 1, Because(text=f"Enough, clean, at {there} on {day}: one step {dial.harder}.", origin=origin)
        return at, Because(text=f"Enough, clean, at {there} on {day}: on to the gate's own setting.", origin=origin)
    if way < 0:
        easier = max(0, at - 1)
        text = f"Missed at {there} on {day}: one step easier." if easier < at else f"Missed at {there} on {day}: there is nothing easier."
        return easier, Because(text=text, origin=origin)
    return at, Because(text=f"At {there} on {day} not yet enough, and no miss: it stays.", origin=origin)


def _steps(drill: Drill, dial: Dial, who: Trained, wanted: float) -> list[SettingStep]:
    """The settings of a dial from easy to hard: by the model of this body where there is one, else in the dial's own steps."""
    lever = who.syllabus.mechanics.of_drill(drill.drill, drill.family)
    knob = lever.knob(dial.name) if lever else None
    found: list[SettingStep] = []
    if lever and knob and who.body and lever.currency:
        others = {name: value for name, value in who.chosen.get(drill.drill, ({}, who.on))[0].items() if lever.knob(name)}
        laid = laid_out(lever, who.body, dial, tuple(sorted(others.items())), who.kit)
        found = [SettingStep(setting=s.setting, stack=s.stack) for s in laid.steps]
    if not found:
        step = dial.step.value if dial.step else who.syllabus.sessions.fallback_step_cm.value
        sign = -1 if dial.harder in FALLING else 1
        found = [SettingStep(setting=wanted + sign * step * n) for n in range(-AROUND, AROUND + 1)]
        found = [s for s in found if s.setting >= 0 or (drill.gate.at and (drill.gate.at.at_most or 0) < 0)]
    # the setting it stands at, and the one its gate asks for, are there to the millimetre
    for extra in dict.fromkeys((wanted, *([gate] if (gate := gate_setting(drill.gate)) is not None else []))):
        near = knob.notch if knob else 0.5
        found = [s for s in found if abs(s.setting - extra) > near or s.setting == wanted]
        if all(s.setting != extra for s in found):
            found.append(SettingStep(setting=extra, stack=stack_for(extra, knob, who.kit) if knob else ""))
    up = dial.harder not in FALLING
    return sorted(found, key=lambda s: s.setting if up else -s.setting)


@lru_cache(maxsize=512)
def laid_out(lever: Lever, body: Body, dial: Dial, others: tuple[tuple[str, float], ...], kit: tuple[KitItem, ...]) -> SettingsLadder:
    """A dial's ladder for a body, worked out once for the same body, kit and other settings."""
    return lay_out_ladder(lever, body, dial=dial, settings=settings_for(lever, body, dict(others)), kit=kit)


def float_distance(drill: Drill, who: Trained) -> tuple[float, float] | None:
    """For a float: the hands' distance from the wall to begin at, and the greatest at which the hands alone lift off, cm."""
    rules = who.syllabus.sessions
    lever = who.syllabus.mechanics.of_drill(drill.drill, drill.family)
    if drill.drill not in rules.floats or lever is None or who.body is None:
        return None
    found = solve_one(lever.views[0].model, who.body, settings_for(lever, who.body, {}))
    if not isinstance(found, Answer):
        return None
    furthest = found.figures["float_limit_cm"]
    return float(int(furthest * rules.float_margin.value)), furthest
