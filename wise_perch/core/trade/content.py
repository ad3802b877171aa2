"""The trade content as a model: what a line, drill, dose, fault, goal and school is. All of it comes from
data.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.decision import Figure, Origin
from wise_perch.core.trade.gates import Dial, Gate, Range, Stage
from wise_perch.core.trade.own_test import OwnTest
from wise_perch.core.trade.poses import Drawing
from wise_perch.core.trade.session_rules import SessionRules

Requirement = Literal["met", "proven"]
DoseWay = Literal["sets", "singles", "links", "minute", "staircase", "rounds"]
"""How a dose is worked: sets, single tries, linked reps, one set each minute, up and down the settings,
rounds of two drills.
"""
Pillar = Literal["shape", "exits", "entry", "confidence", "balance", "strength", "mobility"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Need:
    """One prerequisite: any one of `any_of`, at least `state`.

    `value` asks for that much of the drill's own measure instead of its gate, weaker or stronger. With
    `enough` the drills make up for each other: the shares of their gates that are filled must add up to it.
    """

    any_of: tuple[str, ...]
    state: Requirement = "met"
    value: Figure | None = None
    enough: Figure | None = None
    why: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class DoseRule:
    """How much of a drill at a time: `sets` of `each` (in the drill's own measure), `rest_s` at least, `days`
    a week.

    `of_best`: the share of the best recent clean evidence, in per cent. `said`: where what the `words` say
    comes from. `way`: how it is worked; rounds go on with `then_each` of the drill `then`.
    """

    words: str = ""
    said: Origin | None = None
    of_best: Range | None = None
    sets: Range | None = None
    each: Range | None = None
    unit: str = ""
    rest_s: Figure | None = None
    days: Range | None = None
    way: DoseWay = "sets"
    then: str = ""
    then_each: Figure | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Drill:
    """One exercise with its gate and what it waits for, beyond the rung below it.

    `away`: away from the wall; `head`: the head carries or nears the floor; such a drill opens only on proven
    needs. `optional`: a rung above does not wait for it. `follows`: it waits for the rung below. `retired`:
    kept in the file, used nowhere. `said`: where the figures in `about` come from. `family` names drills that
    differ only in their gate. `pillar` and `inverted` replace the line's own. `drawing`: how it looks, where
    the syllabus has no drawing by its name.
    """

    drill: str
    title: str
    gate: Gate
    about: str = ""
    said: Origin | None = None
    dial: Dial | None = None
    needs: tuple[Need, ...] = ()
    away: bool = False
    head: bool = False
    optional: bool = False
    follows: bool = True
    retired: bool = False
    family: str = ""
    pillar: Pillar | None = None
    inverted: bool | None = None
    stages: tuple[Stage, ...] = ()
    doses: tuple[DoseRule, ...] = ()
    kit: tuple[str, ...] = ()
    cues: tuple[str, ...] = ()
    faults: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    drawing: Drawing | None = None

    @property
    def guarded(self) -> bool:
        """Whether the drill opens only on proven needs."""
        return self.away or self.head


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A named progression: rungs from easy to hard; drills on one rung are siblings, in no order.

    `chained`: a rung waits for the one below. `pillar`: what its drills build. `inverted`: they are done
    upside down.
    """

    line: str
    title: str
    about: str
    pillar: Pillar
    rungs: tuple[tuple[Drill, ...], ...]
    chained: bool = True
    inverted: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """Something the coach sees, the words that help, and the drills that mend it."""

    fault: str
    title: str
    cue: str
    drills: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Goal:
    """An ability to train for: reached when each of `drills` is met. `through`: drills that are on the way
    to it without being asked for, as getting up is on the way to a free hold. `supports`: drills that help
    without being needed.
    """

    goal: str
    title: str
    drills: tuple[str, ...]
    through: tuple[str, ...] = ()
    supports: tuple[str, ...] = ()
    expect: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where a drill stands: on a rung of its own just `below` or `above` another, or `beside` it on the same
    rung.
    """

    below: str | None = None
    above: str | None = None
    beside: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Amendment:
    """What a school or a coach changes about one drill; what is None stays. `add_cues` come before the
    drill's own.
    """

    drill: str
    gate: Gate | None = None
    needs: tuple[Need, ...] | None = None
    follows: bool | None = None
    doses: tuple[DoseRule, ...] | None = None
    cues: tuple[str, ...] | None = None
    add_cues: tuple[str, ...] = ()
    place: Place | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class School:
    """One way of doing things where practitioners disagree, and what it changes."""

    school: str
    title: str
    changes: tuple[Amendment, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolQuestion:
    """A question on which practitioners disagree; the first school is the usual one."""

    question: str
    title: str
    schools: tuple[School, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rules:
    """The figures of judgement, each with its origin. Days in days, shares from 0 to 1.

    `proving_confidence`: a pass with less confidence meets a gate but does not help to prove it.
    `standstill_days`: a headline without a new best for so long stands still; `moved_days`: a sub-measure
    with a new best since then moves. `gap_ratio`: a gate this many times the one below it leaves a gap.
    `most_overfill`: how far over its gate a drill may count toward "enough of these". `help_counts`: what
    only helps toward a goal, beside what is needed; `second_day_counts`: a gate that lacks only its second
    day, in rungs. `exits`: one of these stands before every drill away from the wall. `first_lines`: those
    that begin every way stand in front where no goal is chosen.
    """

    proven_within_days: Figure
    stale_after_days: Figure
    pain_asked_for_days: Figure
    pain_stops_at: Figure
    proving_confidence: Figure
    low_confidence: Figure
    standstill_days: Figure
    moved_days: Figure
    gap_ratio: Figure
    most_overfill: Figure
    help_counts: Figure
    second_day_counts: Figure
    exits: tuple[str, ...]
    pillars: tuple[Pillar, ...]
    joints: tuple[str, ...]
    pain_some: str
    pain_much: str
    first_lines: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Content:
    """What a coach may make their own: lines, goals, schools, faults, kit, rules, usual doses (by measure)
    how a session is built, and tests of their own.

    Without `sessions` it is built as ours is. `tests_aside`: the tests, ours or theirs, that are not offered.
    """

    format: Literal["syllabus/1"]
    rules: Rules
    kit: Mapping[str, str]
    usual_doses: Mapping[str, DoseRule]
    lines: tuple[Line, ...]
    faults: tuple[Fault, ...]
    goals: tuple[Goal, ...]
    schools: tuple[SchoolQuestion, ...]
    sessions: SessionRules | None = None
    own_tests: tuple[OwnTest, ...] = ()
    tests_aside: tuple[str, ...] = ()
