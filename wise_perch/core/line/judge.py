"""What a line says: faults against a drill's target, each yes, no or cannot tell, and what the camera did
wrong.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import asin, degrees
from typing import Literal

from wise_perch.core.line.front import FrontLine, front_line
from wise_perch.core.line.points import Body
from wise_perch.core.line.side import PATH_OF_STATURE, Figure, SideLine, side_line
from wise_perch.core.trade.line_rules import LineFault, LineRules, LineTarget
from wise_perch.core.trade.words import capitalise

Says = Literal["yes", "no", "cannot tell"]
ONE_SIDED = 1.645
"""Standard errors of a one-sided 95 % verdict."""
SHOULDERS_OF_STATURE = 0.259
"""The breadth of the shoulders as a share of stature (Drillis and Contini, Body segment parameters, 1966,
value from memory); joints lie a little within it, so that the camera stands somewhat farther off than is
said.
"""
EDGE = 0.01
"""A joint within this share of the picture's edge is cut off, or about to be."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """Whether a fault is there, by how much, with its standard error; `because` where it cannot be told."""

    fault: LineFault
    says: Says
    value: float | None
    se: float | None
    because: str = ""


@dataclass(frozen=True, kw_only=True)
class Judged:
    """One body judged: what its view shows, faults in their order, and first what the camera did wrong."""

    camera: tuple[str, ...]
    side: SideLine | None
    front: FrontLine | None
    faults: tuple[Verdict, ...]


def judge_line(body: Body, target: LineTarget, rules: LineRules) -> Judged:
    """Judge a body in one picture against the line that its drill is meant to have."""
    side = side_line(body) if body.view == "side" else None
    front = front_line(body) if body.view == "front" else None
    excess = dict(_of_the_side(side, target, rules) if side else _of_the_front(front, rules) if front else ())
    return Judged(
        camera=tuple(camera_faults(body, rules)),
        side=side,
        front=front,
        faults=tuple(_verdict(f, excess[f.fault]) for f in rules.faults if f.fault in excess),
    )


def _of_the_side(side: SideLine, target: LineTarget, rules: LineRules) -> Iterator[tuple[str, Figure]]:
    """How far each fault goes beyond where it begins."""
    bend, lean = rules.bend.value, rules.lean.value
    if target.shoulder:
        yield "closed-shoulder", _beyond(side.shoulder, target.shoulder.value + bend)
    if target.lean:
        yield "shoulders-ahead", _beyond(side.offsets["shoulder"], rules.ahead.value)
        yield "leans-over", _beyond(side.lean, target.lean.value + lean)
        yield "leans-under", _beyond(_turned(side.lean), -target.lean.value + lean)
    if target.hip:
        yield "pike", _beyond(side.hip, target.hip.value + bend)
        yield "arch", _beyond(_turned(side.hip), -target.hip.value + bend)
    if target.curve:
        yield "banana", _beyond(side.arch_index, rules.banana.value)
    if target.knee:
        yield "bent-knees", _beyond(side.knee, target.knee.value + bend)


def _of_the_front(front: FrontLine, rules: LineRules) -> Iterator[tuple[str, Figure]]:
    yield "hands-wide", _beyond(front.hand_width_ratio, rules.hands_wide.value)
    yield "arms-drift", _beyond(front.arms_drift, rules.arms_drift.value)
    yield "hips-not-level", _beyond(_size(front.hip_tilt), rules.tilt.value)
    yield "shoulders-not-level", _beyond(_size(front.shoulder_tilt), rules.tilt.value)
    yield "leans-aside", _beyond(_size(front.side_lean), rules.lean.value)


def _beyond(f: Figure, at: float) -> Figure:
    return Figure(value=f.value - at, se=f.se) if f.value is not None else f


def _turned(f: Figure) -> Figure:
    return Figure(value=-f.value, se=f.se) if f.value is not None else f


def _size(f: Figure) -> Figure:
    return Figure(value=abs(f.value), se=f.se) if f.value is not None else f


def _verdict(fault: LineFault, beyond: Figure) -> Verdict:
    if beyond.value is None or beyond.se is None:
        return Verdict(fault=fault, says="cannot tell", value=None, se=None, because=beyond.because)
    room = ONE_SIDED * beyond.se
    says: Says = "yes" if beyond.value > room else "no" if beyond.value < -room else "cannot tell"
    because = "too near to where it begins" if says == "cannot tell" else ""
    return Verdict(fault=fault, says=says, value=beyond.value, se=beyond.se, because=because)


def camera_faults(body: Body, rules: LineRules) -> Iterator[str]:
    """What the camera did wrong, as far as the points show it, in sentences."""
    hands, feet = body.middle("wrist"), body.middle("ankle")
    if hands and feet and feet.y <= hands.y:
        yield "The feet are not above the hands: this is no handstand, or the picture is turned."
    ys = [p.y for p in body.points.values()]
    xs = [p.x for p in body.points.values()]
    if body.height and ys and (max(ys) - min(ys)) / body.height < rules.least_height.value:
        yield "The body is too small in the picture. Come nearer, or cut the picture to it."
    if body.height and body.width and ys:
        wide, high = EDGE * body.width, EDGE * body.height
        if min(xs) < wide or max(xs) > body.width - wide or min(ys) < high or max(ys) > body.height - high:
            yield "Something is cut off at the edge. Step back until hands and feet are in the picture."
    yield from _off_square(body, rules)


def _off_square(body: Body, rules: LineRules) -> Iterator[str]:
    """From the side both shoulders cover one another: how far they stand apart tells how far off it is."""
    path, shoulders = body.path(), body.sides("shoulder")
    if body.view != "side" or path is None or len(shoulders) < 2 or not all(p.sure for p in shoulders):
        return
    seen = abs(shoulders[0].x - shoulders[1].x) / (path / PATH_OF_STATURE * SHOULDERS_OF_STATURE)
    off = degrees(asin(min(1.0, seen)))
    if off > rules.square.value:
        yield capitalise(
            f"the camera stands about {off:.0f}° off square. Put it straight to the side, at hip height."
        )
