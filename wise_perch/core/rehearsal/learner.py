"""A simulated trainee: capacities that grow with work near them, saturate, and fade when left. A model to try
rules on, and no promise to a person; every figure of it is ours.
"""

import math
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import lru_cache
from random import Random

from wise_perch.core.dose.best_known import find_best_known
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import Drill, Pillar
from wise_perch.core.trade.evidence import COUNTED, Form, Measure
from wise_perch.core.trade.gates import FALLING, Gate
from wise_perch.core.trade.session_lookup import heavy_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.marks import fill_of_gate

RUNGS_TO_DOUBLE = 1.5
"""So many rungs of ability double what a drill gives."""
STEP_HARDER = 0.85
"""One dial step harder leaves this share of a capacity."""
NEAR, ENOUGH = 0.4, 0.8
"""Below the first share of what goes today a set teaches nothing, from the second on all it can."""
SETS_TO_TEACH, OWN_GAIN, CARRIED_GAIN, SHARED_GAIN = 2.5, 0.11, 0.04, 0.04
"""A session teaches ever less with each set; what is learnt goes to the drill itself, to what stands on it,
and to its pillar.
"""
LEFT_DAYS, OWN_FADE, SHARED_FADE = 14, 0.012, 0.004
"""What is left for longer fades, in rungs a day."""
HEAVY_AGAIN = 0.4
"""Heavy work within two days of other heavy work teaches only this share."""
TIRING = 0.97
"""Each set leaves this share for the next."""
CALM_AFTER = 6
"""So many days upside down take the fear of a drill."""


@dataclass(frozen=True, slots=True, kw_only=True)
class World:
    """What differs from one simulated life to the next: how quickly things grow and fade, how much days vary,
    how much fear there is.
    """

    growth: float
    fading: float
    noise: float
    fear: float


def draw_world(dice: Random) -> World:
    """Draw a world; rules that lean on one do not stand in the next."""
    return World(
        growth=dice.uniform(0.6, 1.5),
        fading=dice.uniform(0.5, 1.5),
        noise=dice.uniform(0.05, 0.15),
        fear=dice.uniform(0.0, 0.6),
    )


@lru_cache(maxsize=16)
def depths_of(syllabus: Syllabus) -> Mapping[str, int]:
    """How many drills stand one on another below each drill, by the shortest of its ways."""
    found: dict[str, int] = {}

    def depth(name: str) -> int:
        if name not in found:
            found[name] = 0
            found[name] = max(
                (1 + min(depth(w) for w in need.any_of) for need in syllabus.needs[name]), default=0
            )
        return found[name]

    for name in syllabus.drills:
        depth(name)
    return found


@dataclass
class Learner:
    """Somebody who trains. `ability`: rungs reached, by pillar; what a drill has beyond that is its own;
    `most`: the share of its gate that a drill never gives more of, whatever is done for it.
    """

    syllabus: Syllabus
    world: World
    dice: Random
    ability: dict[Pillar, float]
    own: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    worked: dict[str, date] = field(default_factory=dict)
    heavy: date | None = None
    calm: dict[str, int] = field(default_factory=lambda: defaultdict(int))
    today: float = 1.0
    most: Mapping[str, float] = field(default_factory=dict)

    def wake(self, day: date, *, since: date | None) -> None:
        """A day begins: better or worse than another, and what was left for long has faded."""
        self.today = math.exp(self.dice.gauss(0, self.world.noise))
        gone = (day - since).days if since else 0
        for name, own in list(self.own.items()):
            last = self.worked.get(name)
            # what was never gained cannot fade
            if own > 0 and (last is None or (day - last).days > LEFT_DAYS):
                self.own[name] = max(0.0, own - OWN_FADE * self.world.fading * gone)
        for pillar in self.ability:
            left = [d for name, d in self.worked.items() if self.syllabus.pillar_of.get(name) == pillar]
            if left and (day - max(left)).days > LEFT_DAYS:
                self.ability[pillar] = max(0.0, self.ability[pillar] - SHARED_FADE * self.world.fading * gone)

    def fill(self, drill: Drill) -> float:
        """The share of its gate that a drill gives on an even day, at the gate's own setting."""
        rungs = self.ability.get(self.syllabus.pillar_of[drill.drill], 0.0) + self.own[drill.drill]
        share = math.exp2((rungs - depths_of(self.syllabus)[drill.drill]) / RUNGS_TO_DOUBLE)
        return min(share, self.most.get(drill.drill, math.inf))

    def capacity(self, drill: Drill, *, setting: float | None, step: float, set_number: int) -> float:
        """The share of its gate that goes today at a setting, after so many sets."""
        return (
            self.fill(drill)
            * self.today
            * TIRING**set_number
            * math.pow(STEP_HARDER, steps_beyond(drill, setting, step))
        )

    def do(
        self, drill: Drill, dose: DayDose, *, asked: float | None, setting: float | None, set_number: int
    ) -> tuple[float, Form]:
        """Do one set as well as it goes: what is measured, and its form."""
        gate, step = drill.gate, step_of(dose)
        able = self.capacity(drill, setting=setting, step=step, set_number=set_number)
        if dose.measure is Measure.RATE:
            good = self.dice.random() < chance(able, gate)
            return float(good), Form.CLEAN if good else Form.LOST
        if dose.way == "touches":
            return float(max(0, round(5 - 4 * min(1.0, able) + self.dice.uniform(-0.5, 0.5)))), Form.CLEAN
        if dose.way == "stretch":
            return read_off(gate, able), Form.CLEAN
        value = able * gate.value * self.dice.uniform(0.92, 1.0)
        if dose.way == "singles":
            value *= self.dice.uniform(0.3, 1.1)
        most = asked if asked is not None else dose.ceiling or 1.5 * gate.value
        done = min(value, most)
        done = float(int(done + 1e-9)) if dose.measure in COUNTED else math.floor(done * 10 + 1e-9) / 10
        if asked is not None and done < asked and self.dice.random() < 0.3:
            return done, Form.LOOSE
        return done, Form.CLEAN if done > 0 else Form.LOST

    def measure(self, drill: Drill) -> tuple[float, int | None]:
        """What a test reads: the best of the day, or k of n."""
        gate, able = drill.gate, self.capacity(drill, setting=None, step=1.0, set_number=0)
        if gate.of is not None:
            n = max(int(gate.of), 10)
            return float(sum(self.dice.random() < chance(able, gate) for _ in range(n))), n
        if gate.fewer or gate.measure in (Measure.ANGLE, Measure.HEIGHT):
            return read_off(gate, able), None
        value = min(able, 2.0) * gate.value
        return (float(int(value)) if gate.measure in COUNTED else math.floor(value * 10) / 10), None

    def learn(self, drill: Drill, shares: list[float], day: date) -> None:
        """Learn from a block. `shares`: what each set took of what went that day."""
        name, pillar = drill.drill, self.syllabus.pillar_of[drill.drill]
        near = sum(min(1.0, max(0.0, (s - NEAR) / (ENOUGH - NEAR))) for s in shares)
        gain = self.world.growth * (1 - math.exp(-near / SETS_TO_TEACH))
        if heavy_of(self.syllabus, name):
            if self.heavy is not None and 0 < (day - self.heavy).days < 2:
                gain *= HEAVY_AGAIN
            self.heavy = day
        self._gain(name, OWN_GAIN * gain)
        for above in self.syllabus.opens[name]:
            self._gain(above, CARRIED_GAIN * gain)
        self.ability[pillar] = self.ability.get(pillar, 0.0) + SHARED_GAIN * gain / (
            1 + 0.1 * self.ability.get(pillar, 0.0)
        )
        self.worked[name] = day
        if name in self.syllabus.inverted:
            self.calm[name] += 1

    def _gain(self, name: str, gain: float) -> None:
        self.own[name] += gain / (1 + max(0.0, self.own[name]) ** 2)

    def confidence(self, names: list[str]) -> int | None:
        """What is told of confidence at the start of a session with these drills."""
        upside_down = [n for n in names if n in self.syllabus.inverted]
        new = [n for n in upside_down if self.calm[n] < CALM_AFTER]
        if new and self.dice.random() < self.world.fear * len(new) / len(upside_down):
            return 2
        return 4 if upside_down else None


SUREST = 0.97
"""Nobody is surer of a try than this where a gate asks for all of them."""


def chance(able: float, gate: Gate) -> float:
    """The chance of one single try: the gate's own share where it is just filled."""
    share = min(SUREST, gate.value / gate.of) if gate.of else 0.7
    return able / (able + (1 - share) / share)


def read_off(gate: Gate, able: float) -> float:
    """A reading (a distance, an angle) where so much of the gate is filled."""
    if gate.fewer:
        start = gate.start if gate.start is not None else 2 * gate.value + 1
        return float(round(start - min(1.2, able) * (start - gate.value), 1))
    return float(round(min(1.5, able) * gate.value, 1))


def step_of(dose: DayDose) -> float:
    """One step of a dose's dial, in the dial's unit."""
    steps = [s.setting for s in dose.dial.steps] if dose.dial else []
    return (max(steps) - min(steps)) / (len(steps) - 1) if len(steps) > 1 else 5.0


def steps_beyond(drill: Drill, setting: float | None, step: float) -> float:
    """How many dial steps a setting is harder than the gate's own, or than where the dial begins, for the shy
    where it begins nowhere else.
    """
    dial = drill.dial
    own = gate_setting(drill.gate)
    if own is None and dial and (begin := dial.start or dial.shy):
        own = begin.value
    if dial is None or setting is None or own is None or step <= 0:
        return 0.0
    sign = -1 if dial.harder in FALLING else 1
    return max(-6.0, min(6.0, sign * (setting - own) / step))


def learner_like(case: JudgedCase, dice: Random) -> Learner:
    """A simulated trainee who can do what a case shows: each pillar's ability from what is highest in it, and
    what a drill has beyond that as its own.
    """
    depths, rungs = depths_of(case.syllabus), dict[str, float]()
    for name, drill in case.syllabus.drills.items():
        best = find_best_known(drill, case)
        if best is None:
            continue
        fill = max(0.05, fill_of_gate(best.value, drill.gate.of, drill.gate))
        rungs[name] = depths[name] + RUNGS_TO_DOUBLE * math.log2(fill)
    ability: dict[Pillar, float] = {}
    for pillar in case.syllabus.rules.pillars:
        own = sorted(r for name, r in rungs.items() if case.syllabus.pillar_of[name] == pillar)
        if own:
            ability[pillar] = max(0.0, sum(own[-3:]) / len(own[-3:]))
    # where nothing of a pillar was ever recorded, as much is assumed as of the others
    known = sum(ability.values()) / len(ability) if ability else 0.0
    ability = {pillar: ability.get(pillar, known) for pillar in case.syllabus.rules.pillars}
    made = Learner(case.syllabus, draw_world(dice), dice, ability)
    for name, reached in rungs.items():
        made.own[name] = max(-2.0, min(2.0, reached - ability[case.syllabus.pillar_of[name]]))
    return made
