"""What a line says: faults against a drill's target, each yes, no or cannot tell, and what the camera did
wrong.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from math import asin, atan2, degrees, hypot
from typing import Literal

from wise_perch.core.line.front import FrontLine, front_line
from wise_perch.core.line.points import CHAIN, SPREAD, Body
from wise_perch.core.line.side import PATH_OF_STATURE, Figure, SideLine, side_line
from wise_perch.core.trade.line_rules import LineFault, LineRules, LineTarget

Says = Literal["yes", "no", "cannot tell"]
ONE_SIDED = 1.645
"""Standard errors of a one-sided 95 % verdict."""
SHOULDERS_OF_STATURE, HIPS_OF_STATURE = 0.259, 0.191
"""The breadths of shoulders and hips as shares of stature (Drillis and Contini, Body segment parameters,
1966, value from memory); joints lie a little within them, so that a camera stands somewhat farther off than
is said.
"""
TOO_NEAR = "too near to where it begins"
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


@dataclass(frozen=True, slots=True, kw_only=True)
class CameraFault:
    """What the camera did wrong, as a sentence. `refuses`: nothing can be told from the picture; `hides`:
    what is bent may look straight in it.
    """

    says: str
    refuses: bool = False
    hides: bool = False


@dataclass(frozen=True, kw_only=True)
class Judged:
    """One body judged: what its view shows, faults in their order, and first what the camera did wrong."""

    camera: tuple[CameraFault, ...]
    side: SideLine | None
    front: FrontLine | None
    faults: tuple[Verdict, ...]


def judge_line(body: Body, target: LineTarget, rules: LineRules) -> Judged:
    """Judge a body in one picture against the line that its drill is meant to have."""
    side = side_line(body) if body.view == "side" else None
    front = front_line(body) if body.view == "front" else None
    camera = tuple(camera_faults(body, rules))
    excess = dict(_of_the_side(side, target, rules) if side else _of_the_front(front, rules) if front else ())
    return Judged(
        camera=camera,
        side=side,
        front=front,
        faults=tuple(_verdict(f, excess[f.fault], camera) for f in rules.faults if f.fault in excess),
    )


def farthest_off(judged: Judged, target: LineTarget) -> float | None:
    """How far off its target a line may at least be called: of all angles that the drill asks for the largest
    distance, degrees, less what could be chance. None where the picture does not tell, or hides it.
    """
    side = judged.side
    if side is None or any(c.refuses or c.hides for c in judged.camera):
        return None
    asked = (
        (side.lean, target.lean),
        (side.shoulder, target.shoulder),
        (side.hip, target.hip),
        (side.knee, target.knee),
    )
    found = []
    for seen, meant in asked:
        if meant is None:
            continue
        if seen.value is None or seen.se is None:
            return None
        found.append(max(0.0, abs(seen.value - meant.value) - ONE_SIDED * seen.se))
    return max(found, default=None)


def _of_the_side(side: SideLine, target: LineTarget, rules: LineRules) -> Iterator[tuple[str, Figure]]:
    """How far each fault goes beyond where it begins."""
    bend, lean = rules.bend.value, rules.lean.value
    if target.shoulder:
        yield "closed-shoulder", _beyond(side.shoulder, target.shoulder.value + bend)
    if target.lean:
        yield "shoulders-ahead", _beyond(side.offsets["shoulder"], rules.ahead.value)
        yield "leans-over", _beyond(side.lean, target.lean.value + lean)
        yield "leans-under", _beyond(side.lean.turned, -target.lean.value + lean)
    if target.hip:
        yield "pike", _beyond(side.hip, target.hip.value + bend)
        yield "arch", _beyond(side.hip.turned, -target.hip.value + bend)
    if target.curve:
        yield "banana", _beyond(side.arch_index, rules.banana.value)
    if target.knee:
        yield "bent-knees", _beyond(side.knee, target.knee.value + bend)


def _of_the_front(front: FrontLine, rules: LineRules) -> Iterator[tuple[str, Figure]]:
    yield "hands-wide", _beyond(front.hand_width_ratio, rules.hands_wide.value)
    yield "arms-drift", _beyond(front.arms_drift, rules.arms_drift.value)
    yield "hips-not-level", _beyond(front.hip_tilt.size, rules.tilt.value)
    yield "shoulders-not-level", _beyond(front.shoulder_tilt.size, rules.tilt.value)
    yield "leans-aside", _beyond(front.side_lean.size, rules.lean.value)


def _beyond(f: Figure, at: float) -> Figure:
    return Figure(value=f.value - at, se=f.se) if f.value is not None else f


def _verdict(fault: LineFault, beyond: Figure, camera: tuple[CameraFault, ...]) -> Verdict:
    if beyond.value is None or beyond.se is None:
        return Verdict(fault=fault, says="cannot tell", value=None, se=None, because=beyond.because)
    room = ONE_SIDED * beyond.se
    says: Says = "yes" if beyond.value > room else "no" if beyond.value < -room else "cannot tell"
    because = TOO_NEAR if says == "cannot tell" else ""
    if any(c.refuses for c in camera) or (says == "no" and any(c.hides for c in camera)):
        says, because = "cannot tell", "the camera does not show it"
    return Verdict(fault=fault, says=says, value=beyond.value, se=beyond.se, because=because)


def camera_faults(body: Body, rules: LineRules) -> Iterator[CameraFault]:
    """What the camera did wrong, as far as the points show it."""
    hands, feet = body.middle("wrist"), body.middle("ankle")
    if hands and feet and feet.y <= hands.y:
        yield CameraFault(
            says="The feet are not above the hands: this is no handstand, or the picture is turned.",
            refuses=True,
        )
    path = body.path()
    if body.height and path and path / body.height < rules.least_height.value:
        yield CameraFault(
            says="The body is too small in the picture. Come nearer, or cut the picture to it.", refuses=True
        )
    if _cut_off(body):
        yield CameraFault(
            says="Something is cut off at the edge. Step back until hands and feet are in the picture.",
            refuses=True,
        )
    if body.view == "side":
        yield from _off_square(body, rules)
        yield from _too_near(body, rules)
    else:
        yield from _rolled(body, rules)


def _cut_off(body: Body) -> bool:
    """Whether hands or feet stand at the edge, or beyond it."""
    if not body.height or not body.width:
        return False
    wide, high = EDGE * body.width, EDGE * body.height
    return any(
        not (wide <= p.x <= body.width - wide and high <= p.y <= body.height - high)
        for part in ("wrist", "ankle", "shoulder", "hip")
        for p in body.sides(part)
    )


def _off_square(body: Body, rules: LineRules) -> Iterator[CameraFault]:
    """From the side both shoulders cover one another, and both hips: how far they stand apart tells how far
    off it is. The pair that stands farther apart is believed: of one a side may be hidden and guessed.
    """
    path = body.path()
    if path is None:
        return
    stature = path / PATH_OF_STATURE
    apart = [0.0]
    for part, share in (("shoulder", SHOULDERS_OF_STATURE), ("hip", HIPS_OF_STATURE)):
        pair = body.sides(part)
        if len(pair) == 2 and all(p.sure for p in pair):
            apart.append(abs(pair[0].x - pair[1].x) / (stature * share))
    off = degrees(asin(min(1.0, max(apart))))
    if off > rules.square.value:
        yield CameraFault(
            says=f"The camera stands about {off:.0f}° off square. Put it straight to the side, hip high.",
            hides=True,
        )


def _too_near(body: Body, rules: LineRules) -> Iterator[CameraFault]:
    """The side of the body that is nearer looks longer: by how much tells how near the camera stands."""
    lengths = []
    for side in ("left", "right"):
        chain = [body.points.get(f"{side}_{part}") for part in CHAIN]
        if any(p is None or not p.sure for p in chain):
            return
        lengths.append(sum(hypot(a.x - b.x, a.y - b.y) for a, b in pairwise(chain) if a and b))
    short, long = sorted(lengths)
    if not short:
        return
    # two ends of each path are off by their spread; it is told only where chance would not do it
    ratio = long / short - ONE_SIDED * 2 * SPREAD
    if ratio > 1 and SHOULDERS_OF_STATURE / (ratio - 1) < rules.near.value:
        yield CameraFault(
            says="The camera stands too near, and bends the picture. Step back to four metres.", hides=True
        )


def _rolled(body: Body, rules: LineRules) -> Iterator[CameraFault]:
    """Both hands stand on one floor: from the front they are level, unless the camera is not."""
    hands, path = sorted(body.sides("wrist"), key=lambda p: p.x), body.path()
    if len(hands) < 2 or path is None or hands[1].x == hands[0].x:
        return
    a, b = hands
    roll = degrees(atan2(b.y - a.y, b.x - a.x))
    if abs(roll) - ONE_SIDED * degrees(hypot(SPREAD, SPREAD) * path / (b.x - a.x)) > rules.level.value:
        yield CameraFault(
            says=f"The hands stand {abs(roll):.0f}° off level: the camera is tilted, or the floor. Level it.",
            hides=True,
        )
