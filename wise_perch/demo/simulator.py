"""A seeded simulator of training: skill grows, days vary, tries are drawn. It writes history; it decides
nothing about it.
"""

import math
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from random import Random
from typing import Any
from uuid import UUID

from uuid_utils.compat import uuid7

from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import Drill, Need
from wise_perch.core.trade.evidence import Fell, Form, Measure, Outcome, Side
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.marks import is_enough
from wise_perch.core.trainee.stored import KeptSet, KeptTry, Run, RunEnd
from wise_perch.demo.bench import bench_runs
from wise_perch.demo.people import Person

MEASURED_ONLY = ("wrist-bend",)
"""Nobody trains these: they are only measured on the Bench."""
TEST_EVERY_DAYS, BASICS_EVERY_DAYS = 24, 42
SETS = 2
DRILLS_A_DAY = 8
FLOATS_FROM, AT_GATE_FROM = 0.45, 0.85
"""Below the first share of a float only touches are counted; from the second on the dial stands at the gate's
setting.
"""
KEEPS_UP_DAYS, KEPT_UP, KEPT_SHARE = 35, 4, 0.65
"""Of late also what is proven is written down: so many drills a day, at this share of their gates."""
LESSON = 1.5
"""Rungs learnt in a week by somebody of growth 1."""


CHOICES = frozenset(
    (
        *("first-kick-ups", "wall-kick-up-standing", "lever-entry", "pike-lever-entry", "tuck-jump-entry"),
        *("pike-lift-entry", "head-taps", "reverse-wrist-bent", "reverse-wrist-straight", "wrist-lean"),
        *("doorway-stretch", "hang-and-reach", "stick-pass", "hover-wall", "bent-arm-press"),
        "stalder-lower-and-hold",
    )
)
"""What nobody of the made-up hall has taken up: other ways in, more for the wrists, side roads."""


@dataclass
class History:
    """One person's invented history; `skill`: the rungs they reached, by line."""

    trainee: UUID
    sets: list[KeptSet] = field(default_factory=list)
    runs: list[Run] = field(default_factory=list)
    skill: dict[str, float] = field(default_factory=lambda: defaultdict(float))


@dataclass
class _Life:
    """What the simulator knows of a person while their weeks pass."""

    person: Person
    syllabus: Syllabus
    dice: Random
    history: History
    passes: dict[str, list[date]] = field(default_factory=lambda: defaultdict(list))
    best: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    half_passed: dict[tuple[str, date], set[Side | None]] = field(default_factory=lambda: defaultdict(set))
    last_test: date | None = None
    last_basics: date | None = None

    @property
    def skill(self) -> dict[str, float]:
        """The rungs reached, by line."""
        return self.history.skill

    def met(self, drill: str) -> bool:
        return bool(self.passes[drill])

    def proven(self, drill: str) -> bool:
        days = sorted(set(self.passes[drill]))
        return any((b - a).days <= self.syllabus.rules.proven_within_days.value for a, b in pairwise(days))

    def satisfied(self, need: Need) -> bool:
        if need.enough:
            return sum(self.met(d) for d in need.any_of) >= need.enough.value
        if need.value:
            return any(self.best[d] >= need.value.value for d in need.any_of)
        return any(self.proven(d) if need.state == "proven" else self.met(d) for d in need.any_of)

    def is_open(self, drill: str) -> bool:
        return all(self.satisfied(need) for need in self.syllabus.needs[drill])


def simulate(person: Person, syllabus: Syllabus, *, trainee: UUID, until: date, seed: int) -> History:
    """Draw one person's history up to the day before `until`. The same seed draws the same history, ids
    aside.
    """
    life = _Life(person, syllabus, Random(f"{seed} {person.name}"), History(trainee))
    for day in _training_days(person, until, life.dice):
        _grow_ability(life, day, until)
        _train_day(life, day)
        if (until - day).days <= KEEPS_UP_DAYS:
            _keep_up(life, day, Random(f"{seed} {person.name} {(until - day).days} days ago"))
    if person.tested:
        # what is measured one way in training and another on the Bench is drawn from the gate
        able = {
            name: min(best, 2 * syllabus.drills[name].gate.value) for name, best in life.best.items() if best
        }
        life.history.runs.extend(
            bench_runs(person.name, able, syllabus, trainee=trainee, until=until, seed=seed)
        )
    return life.history


def draw_broken_off(
    person: Person, skill: dict[str, float], syllabus: Syllabus, *, trainee: UUID, until: date, seed: int
) -> list[Run]:
    """Free tries of the last days that did not come to their end: left open, or stopped for pain."""
    dice = Random(f"{seed} {person.name} broken off")
    found = []
    if person.leaves_run_open:
        at = _moment_of(until - timedelta(days=1), 150)
        found.append(
            draw_free_tries(
                person, skill, syllabus, trainee=trainee, at=at, dice=dice, tries=4, ended_as=None
            )
        )
    if person.pain:
        at = _moment_of(until - timedelta(days=2), 150)
        found.append(
            draw_free_tries(
                person, skill, syllabus, trainee=trainee, at=at, dice=dice, tries=3, ended_as="pain"
            )
        )
    return found


def _training_days(person: Person, until: date, dice: Random) -> Iterator[date]:
    for week in range(person.weeks, person.away_weeks, -1):
        for weekday in sorted(dice.sample(range(7), person.per_week)):
            day = until - timedelta(days=7 * week - weekday)
            # a lesson is missed now and then
            if day < until and dice.random() > 0.08:
                yield day


def _grow_ability(life: _Life, day: date, until: date) -> None:
    person = life.person
    weeks_done = person.weeks - (until - day).days / 7
    for line in (x for x in life.syllabus.lines if x.line in person.lines):
        if line.line == "balance" and person.levels_off is not None and weeks_done > person.levels_off:
            continue
        # skill comes quickly at first and slowly later, slowest where there is nothing open to learn
        learning = any(life.is_open(d.drill) for rung in line.rungs for d in rung if not life.met(d.drill))
        pace = (1.0 if life.skill[line.line] < 6 else 0.7) if learning else 0.25
        if learning or life.skill[line.line] > 0:
            life.skill[line.line] += (
                pace
                * LESSON
                * person.growth
                * person.talent.get(line.line, 1.0)
                / person.per_week
                * life.dice.uniform(0.5, 1.5)
            )


def _train_day(life: _Life, day: date) -> None:
    minute = 0
    learning = [
        (d, height)
        for line, height, d in life.syllabus.placed()
        if line.line in life.person.lines
        and life.is_open(d.drill)
        and not life.proven(d.drill)
        and d.drill not in (*_drills_tested(life.syllabus), *MEASURED_ONLY)
        and d.drill not in CHOICES
    ]
    for d, height in life.dice.sample(learning, min(DRILLS_A_DAY, len(learning))):
        minute += 4
        _practise_drill(life, d, day, height, minute)
    if life.person.basics and (
        life.last_basics is None or (day - life.last_basics).days >= BASICS_EVERY_DAYS
    ):
        _show_basics(life, day, minute)
    test_due = life.last_test is None or (day - life.last_test).days >= TEST_EVERY_DAYS
    if "balance" in life.person.lines and life.proven(life.syllabus.free_tries.exits_drill) and test_due:
        _test_day(life, day)


def _keep_up(life: _Life, day: date, dice: Random) -> None:
    """Some sets of what is proven, well below its gate, as a session's preparation has them: work done that
    passes nothing.
    """
    known = [
        d
        for d in life.syllabus.drills.values()
        if d.drill in life.syllabus.inverted
        and life.proven(d.drill)
        and d.gate.measure is Measure.HOLD
        and not (d.gate.mode or d.away or d.head)
    ]
    for n, d in enumerate(dice.sample(known, min(KEPT_UP, len(known)))):
        for k in range(SETS + 1):
            value = round(KEPT_SHARE * d.gate.value * dice.uniform(0.9, 1.1), 1)
            common: dict[str, Any] = {
                "id": uuid7(),
                "drill": d.drill,
                "at": _moment_of(day, -20 + 4 * n + k),
                "form": Form.CLEAN,
                "confidence": None,
            }
            common |= {"source": "demo", "note": "", "struck_at": None}
            dial = _setting_at(d, 0.5)
            life.history.sets.append(
                KeptSet(
                    **common,
                    measure=d.gate.measure,
                    value=value,
                    n=None,
                    mode=None,
                    window_s=None,
                    side=None,
                    dial=dial,
                )
            )


def _drills_tested(syllabus: Syllabus) -> tuple[str, ...]:
    return tuple(syllabus.free_tries.drills.values())


def _show_basics(life: _Life, day: date, minute: int) -> None:
    life.last_basics = day
    for _, height, d in life.syllabus.placed():
        if life.proven(d.drill) and d.drill not in _drills_tested(life.syllabus):
            minute += 2
            _practise_drill(life, d, day, height, minute)


def _practise_drill(life: _Life, d: Drill, day: date, height: int, minute: int) -> None:
    """Do some sets of a drill. How much of its gate is filled follows from skill above or below the drill's
    height.
    """
    margin = life.skill[life.syllabus.line_of[d.drill]] - height
    for side in (Side.LEFT, Side.RIGHT) if d.gate.each_side else (None,):
        for _ in range(SETS):
            minute += 1
            share = min(
                math.exp(0.55 * min(margin, 1.2) - 0.25 + life.dice.gauss(0, 0.13)),
                life.person.limits.get(d.drill, math.inf),
            )
            form = (
                Form.CLEAN
                if life.dice.random() < 0.75 + 0.1 * margin
                else life.dice.choice([Form.LOOSE, Form.LOOSE, Form.LOST])
            )
            touches = next((x for x in d.stages if x.measure is Measure.TOUCHES), None)
            if touches and share < FLOATS_FROM:
                _keep_touches(
                    life,
                    d,
                    day,
                    minute,
                    max(1.0, round(touches.value + 3 - 6 * share)),
                    touches.window_s,
                    form,
                )
                continue
            value, n = _draw_value(d.gate, share, life.dice)
            _keep_set(life, d, d.gate, day, minute, value, n, form, side, share)
            for other in d.gate.also:
                _keep_set(
                    life, d, other, day, minute, *_draw_value(other, share, life.dice), form, side, share
                )


def _draw_value(gate: Gate, share: float, dice: Random) -> tuple[float, int | None]:
    if gate.measure is Measure.RATE and gate.of:
        chance = min(0.97, gate.value / gate.of * share)
        return float(sum(dice.random() < chance for _ in range(gate.of))), gate.of
    if gate.fewer and gate.start is not None:
        return round(gate.start - (gate.start - gate.value) * min(share, 1.1), 0), None
    if gate.measure is Measure.REPS:
        return float(max(0, min(round(gate.value * share), int(gate.value * 1.4)))), None
    ceiling = gate.value if gate.mode else gate.value * 2
    return round(min(gate.value * share, ceiling), 1), None


def _setting_at(d: Drill, share: float) -> dict[str, float]:
    """The dial where it would stand: at the gate's own setting once the drill is nearly there, before that
    where it begins.
    """
    if d.dial is None:
        return {}
    at, start = gate_setting(d.gate), d.dial.start
    if at is not None and (share >= AT_GATE_FROM or start is None):
        return {d.dial.name: at}
    return {d.dial.name: start.value} if start else {}


def _make_set(life: _Life, d: Drill, day: date, minute: int, form: Form) -> dict[str, Any]:
    """What every kept set carries, however it was measured."""
    confidence = life.dice.choice(life.person.confidence)
    return {
        **{
            "id": uuid7(),
            "drill": d.drill,
            "at": _moment_of(day, minute),
            "form": form,
            "confidence": confidence,
        },
        **{"source": "demo", "note": "", "struck_at": None},
    }


def _keep_touches(
    life: _Life, d: Drill, day: date, minute: int, value: float, window_s: float | None, form: Form
) -> None:
    common = _make_set(life, d, day, minute, form)
    life.history.sets.append(
        KeptSet(
            **common,
            measure=Measure.TOUCHES,
            value=value,
            n=None,
            mode=None,
            window_s=window_s,
            side=None,
            dial={},
        )
    )


def _keep_set(
    life: _Life,
    d: Drill,
    gate: Gate,
    day: date,
    minute: int,
    value: float,
    n: int | None,
    form: Form,
    side: Side | None,
    share: float,
) -> None:
    common, dial = _make_set(life, d, day, minute, form), _setting_at(d, share)
    kept = KeptSet(
        **common,
        measure=gate.measure,
        value=value,
        n=n,
        mode=gate.mode,
        window_s=gate.window_s,
        side=side,
        dial=dial,
    )
    life.history.sets.append(kept)
    there = gate.at is None or gate.at.holds(dial.get(gate.at.dial))
    if form is not Form.CLEAN or not there or gate is not d.gate:
        return
    life.best[d.drill] = max(life.best[d.drill], value)
    if is_enough(value, n, gate):
        # a one-sided drill is passed on a day when the other side passes too
        life.half_passed[d.drill, day].add(side)
        if side is None or len(life.half_passed[d.drill, day]) == len(Side):
            life.passes[d.drill].append(day)


def _test_day(life: _Life, day: date) -> None:
    """A run of free tries, with what it shows."""
    run = draw_free_tries(
        life.person,
        life.skill,
        life.syllabus,
        trainee=life.history.trainee,
        at=_moment_of(day, 75),
        dice=life.dice,
    )
    life.last_test = day
    life.history.runs.append(run)
    drills, holds = life.syllabus.free_tries.drills, [t.value or 0 for t in run.tries]
    reached = sum(t.outcome != Outcome.UNDERSHOT for t in run.tries)
    shown = {
        "reach": reached >= 7,
        "best_hold": max(holds) >= 5,
        "long_holds": sum(h >= 10 for h in holds) >= 7,
    }
    for name, passed in ((drills[role], passed) for role, passed in shown.items()):
        if passed:
            life.passes[name].append(day)


def draw_free_tries(
    person: Person,
    skill: dict[str, float],
    syllabus: Syllabus,
    *,
    trainee: UUID,
    at: datetime,
    dice: Random,
    tries: int = 10,
    ended_as: RunEnd | None = "finished",
) -> Run:
    """Draw a run of free tries: reaching vertical is entry skill, catching and staying is balance skill."""
    kept = tuple(
        _draw_try(person, skill, dice, number, at + timedelta(seconds=62 * number))
        for number in range(1, tries + 1)
    )
    pain = person.pain if ended_as == "pain" else None
    return Run(
        id=uuid7(),
        trainee=trainee,
        test=syllabus.free_tries.test,
        started_at=at,
        ended_at=kept[-1].at + timedelta(seconds=20) if ended_as else None,
        ended_as=ended_as,
        rest_s=45,
        room="open floor of the depot hall, pits covered",
        source="demo",
        pain_joint=pain[0] if pain else None,
        pain_level=pain[1] if pain else None,
        tries=kept,
    )


def _draw_try(person: Person, skill: dict[str, float], dice: Random, number: int, at: datetime) -> KeptTry:
    reaches = dice.random() < 1 / (1 + math.exp(-1.1 * (skill["entry"] - 3.6)))
    catches = dice.random() < 1 / (1 + math.exp(-0.6 * (skill["balance"] - 3.6)))
    outcome = Outcome.UNDERSHOT if not reaches else Outcome.HELD if catches else Outcome.OVERSHOT
    seconds: float | None = None
    fell: Fell | None = None
    form: Form | None = None
    if outcome is Outcome.HELD:
        mean = 0.75 * math.exp(0.3 * skill["balance"])
        seconds = round(min(0.6 + dice.gammavariate(3, mean / 3), 40), 1)
        fell = (
            Fell.DOWN
            if seconds > 10 and dice.random() < 0.7
            else Fell.OVER
            if dice.random() < person.over
            else Fell.UNDER
        )
        form = Form.LOOSE if dice.random() < 0.12 else Form.CLEAN
    return KeptTry(
        id=uuid7(),
        number=number,
        at=at,
        outcome=outcome,
        value=seconds,
        fell=fell,
        form=form,
        note="",
        early=dice.random() < 0.05,
        struck_at=None,
    )


def _moment_of(day: date, minute: int) -> datetime:
    return datetime.combine(day, time(17), UTC) + timedelta(minutes=minute)
