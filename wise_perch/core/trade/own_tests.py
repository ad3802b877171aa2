"""A coach's own tests: what is measured, how often and of which drill, made into tests like ours."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.decision import Figure
from wise_perch.core.trade.evidence import COUNTED, MEASURE_UNITS, Measure
from wise_perch.core.trade.gates import FALLING
from wise_perch.core.trade.mechanics import Mechanics
from wise_perch.core.trade.own_test import OwnTest, OwnWay
from wise_perch.core.trade.protocol import DecisionText, Ladder, Mark, Mode, Takes, Test

OWN = "own-"
"""How the names of a coach's own tests begin, so that none is ever taken for one of ours."""
MOST_OWN_TRIES = 20
LEAST_REST_S, LONGEST_REST_S = 5, 600
"""Rests that a run can be begun with, s."""
MOST_SETTINGS = 60
"""A ladder of more settings is none that anybody climbs. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class WayOfTesting:
    """How one way is run: its marks, what is said before and what its decisions mean. `scoring` names the
    file that scores it.
    """

    way: OwnWay
    title: str
    about: str
    scoring: str
    say: str
    takes_s: Figure
    marks: tuple[Mark, ...]
    decisions: Mapping[str, DecisionText]


@dataclass(frozen=True, kw_only=True)
class TestingWays:
    """All ways, and what is said of every test of a coach's own."""

    ways: tuple[WayOfTesting, ...]
    setup: tuple[str, ...]
    cautions: tuple[str, ...]
    instead: str
    tries: Figure
    rest_s: Figure
    window_s: Figure

    def way(self, name: str) -> WayOfTesting:
        """A way by its name. Raises StopIteration."""
        return next(w for w in self.ways if w.way == name)


TAKES: Mapping[Measure, Takes] = {
    Measure.HOLD: "timer",
    Measure.LOWERING: "timer",
    Measure.REPS: "count",
    Measure.TOUCHES: "window",
}
"""How a figure of a measure is taken; all others are read off and typed."""


def own_test_problems(own: OwnTest, drills: Mapping[str, Drill], taken: set[str]) -> Iterator[str]:
    """What is wrong with a test of a coach's own, each in a sentence."""
    said = own.title or own.test
    if not own.test.startswith(OWN):
        yield f"{said}: the name of a test of one's own begins with {OWN}."
    if own.test in taken:
        yield f"{said}: there is a test of this name already."
    if not own.title.strip():
        yield f"{own.test}: a test needs a title."
    drill = drills.get(own.drill)
    if drill is None:
        yield f"{said}: it is for {own.drill}, which is no drill in use."
        return
    if not 1 <= own.tries <= MOST_OWN_TRIES:
        yield f"{said}: from 1 to {MOST_OWN_TRIES} tries."
    if not LEAST_REST_S <= own.rest_s <= LONGEST_REST_S:
        yield f"{said}: a rest of {LEAST_REST_S} to {LONGEST_REST_S} s between tries."
    if own.due_after_days is not None and not 1 <= own.due_after_days <= 366:
        yield f"{said}: asked for again after 1 to 366 days."
    yield from _measure_problems(own, said)
    yield from _climb_problems(own, drill, said)


def _measure_problems(own: OwnTest, said: str) -> Iterator[str]:
    if own.way == "share" and own.measure is not Measure.RATE:
        yield f"{said}: good ones of some tries are counted as a rate."
    if own.way == "best" and own.measure is Measure.RATE:
        yield f"{said}: a rate has no best try."
    if (own.window_s is not None) != (own.measure is Measure.TOUCHES):
        yield f"{said}: a window belongs to touches, and touches need one."
    if own.window_s is not None and not 1 <= own.window_s <= LONGEST_REST_S:
        yield f"{said}: a window of 1 to {LONGEST_REST_S} s."


def _climb_problems(own: OwnTest, drill: Drill, said: str) -> Iterator[str]:
    if (own.climb is not None) != (own.way == "ladder"):
        yield f"{said}: settings belong to a ladder, and a ladder needs them."
        return
    if own.climb is None:
        return
    if drill.dial is None:
        yield f"{said}: {drill.title.lower()} has no dial to go through."
        return
    c = own.climb
    if own.measure is not Measure.REPS:
        yield f"{said}: each setting of a ladder is one good rep."
    if c.step <= 0 or abs(c.hardest - c.easiest) / max(c.step, 1e-9) > MOST_SETTINGS:
        yield f"{said}: a step that takes it from one end to the other in {MOST_SETTINGS} settings at most."
    if (c.hardest < c.easiest) != (drill.dial.harder in FALLING):
        yield f"{said}: {drill.dial.name.replace('-', ' ')} gets harder {drill.dial.harder}."
    if not min(c.easiest, c.hardest) <= c.start <= max(c.easiest, c.hardest):
        yield f"{said}: it begins between its easiest and its hardest setting."


def make_own_test(
    own: OwnTest, drill: Drill, ways: TestingWays, *, inverted: bool, mechanics: Mechanics
) -> Test:
    """Make a test of a coach's own into one like ours: it speaks for its drill, and its gate."""
    way = ways.way(own.way)
    ladder = _ladder_of(own, drill, mechanics) if own.climb else None
    takes: Takes = "mark" if own.way != "best" else TAKES.get(own.measure, "number")
    unit = MEASURE_UNITS[own.measure]
    mode = Mode(
        mode="own",
        title=own.title,
        takes=takes,
        measure=own.measure,
        say=way.say,
        tries=_ours(own.tries),
        takes_s=_ours(own.window_s) if own.window_s else way.takes_s,
        marks=way.marks,
        figure={"s": "seconds", "deg": "degrees"}.get(unit, unit) if own.way == "best" else "",
        window_s=_ours(own.window_s) if own.window_s else None,
        ladder=ladder,
        fewer=own.measure is Measure.TOUCHES or (own.measure not in COUNTED and drill.gate.fewer),
    )
    return Test(
        test=own.test,
        title=own.title,
        about=own.about or way.about,
        setup=ways.setup,
        cautions=(*dict.fromkeys((*drill.cautions, *ways.cautions)),),
        instead=ways.instead,
        scoring=way.scoring,
        modes=(mode,),
        rest_least_s=_ours(LEAST_REST_S),
        rest_usual_s=_ours(own.rest_s),
        rest_most_s=_ours(LONGEST_REST_S),
        usual_tries=_ours(own.tries),
        subjects=(own.drill,),
        upright=not inverted,
        sides=own.each_side,
        due_after_days=_ours(own.due_after_days) if own.due_after_days else None,
        due_for=own.drill if own.due_after_days else "",
        decisions=way.decisions,
    )


def _ours(value: float) -> Figure:
    return Figure(value=value, origin="ours")


def _ladder_of(own: OwnTest, drill: Drill, mechanics: Mechanics) -> Ladder | None:
    dial, climb = drill.dial, own.climb
    if dial is None or climb is None:
        return None
    lever = mechanics.of_drill(drill.drill, drill.family)
    knob = lever.knob(dial.name) if lever else None
    return Ladder(
        dial=dial.name,
        harder=dial.harder,
        easiest=climb.easiest,
        hardest=climb.hardest,
        start=_ours(climb.start),
        step=_ours(climb.step),
        notch=_ours(climb.step),
        unit="°" if dial.unit == "deg" else dial.unit,
        stacks=knob.stacks if knob else (),
        hand_stacks=knob.hand_stacks if knob else (),
    )
