"""A drill as a figure: postures in one body's own lengths, stood on what they rest on, and blended."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from math import asin, atan2, cos, hypot, pi, sin

from wise_perch.core.body.figures import Joints, lay_out, lay_out_front, limb_of
from wise_perch.core.body.levers import MASSLESS_KG
from wise_perch.core.body.room import Ball, Box, Room
from wise_perch.core.body.segments import Body, make_body
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.gates import USUAL_STATURE_CM
from wise_perch.core.trade.poses import Bend, Drawing, FaultDrawing, Poses, Posture, Prop, View
from wise_perch.core.trade.syllabus import Syllabus

BLENDED = 8
"""Pictures from a start to its end, beside the first one."""
DIGITS = 3
"""Millimetres."""
RESTS_HIGH: Mapping[str, float] = {"hip": 0.05, "shoulder": 0.04, "knee": 0.028, "elbow": 0.02, "ear": 0.045}
"""How high a joint's centre lies over what it rests on, a share of stature. Ours."""
SPARE_M = 0.3
"""Air under hanging feet, m."""
STANDS = ("toes",)
"""What a figure rests on unless said otherwise."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """A drill drawn: the joints of every picture from the start to the end, m, one picture for what is held;
    and what stands around.
    """

    drill: str
    title: str
    view: View
    pictures: tuple[Joints, ...]
    room: Room
    faults: tuple["FaultDrawn", ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultDrawn:
    """A fault drawn, and what to say to it."""

    fault: str
    title: str
    cue: str
    view: View
    picture: Joints
    room: Room


def draw_drill(poses: Poses, drawing: Drawing, body: Body, *, drill: str, title: str) -> Drawn:
    """Draw a drill in a body's own lengths."""
    start = poses.whole(drawing.start)
    last = poses.whole(drawing.end) if drawing.end else None
    pictures = _blend(start, last, body, drawing) if last else [_stand(start, body, drawing.view)]
    return Drawn(
        drill=drill,
        title=title,
        view=drawing.view,
        pictures=tuple(_rounded(p) for p in pictures),
        room=_furnish(drawing.props, pictures),
    )


def draw_in_use(
    syllabus: Syllabus, drill: Drill, body: Body | None, *, faults: bool = False, blended: bool = True
) -> Drawn | None:
    """Draw a drill as a syllabus has it, with its faults beside it where asked for; None where it has no
    drawing. Without a body of one's own it is drawn in the usual lengths.
    """
    drawing, made = syllabus.drawing_of(drill), body or usual_body()
    if drawing is None:
        return None
    drawn = draw_drill(syllabus.poses, drawing, made, drill=drill.drill, title=drill.title)
    beside = syllabus.content.faults if faults else ()
    seen = ((f, syllabus.poses.of_fault(f.fault)) for f in beside if f.fault in drill.faults)
    return replace(
        drawn if blended else ends_of(drawn),
        faults=tuple(
            draw_fault(syllabus.poses, of, made, title=fault.title, cue=fault.cue) for fault, of in seen if of
        ),
    )


def ends_of(drawn: Drawn) -> Drawn:
    """The same with its start and its end alone, for where it is drawn small and does not move."""
    return replace(drawn, pictures=(drawn.pictures[0], *drawn.pictures[1:][-1:]))


@cache
def usual_body() -> Body:
    """Whom a drill is drawn with while nobody's size is known."""
    return make_body(stature_cm=USUAL_STATURE_CM, mass_kg=MASSLESS_KG)


def draw_fault(poses: Poses, drawing: FaultDrawing, body: Body, *, title: str, cue: str) -> FaultDrawn:
    """Draw a fault in a body's own lengths."""
    posture = poses.whole(drawing.posture)
    picture = _stand(posture, body, drawing.view)
    return FaultDrawn(
        fault=drawing.fault,
        title=title,
        cue=cue,
        view=drawing.view,
        picture=_rounded(picture),
        room=_furnish(drawing.props, [picture]),
    )


def _blend(start: Posture, end: Posture, body: Body, drawing: Drawing) -> list[Joints]:
    """From one posture to another, all angles in step. Whatever of both is lowest stands on the floor; where
    they rest on different joints, the one that stays in its place changes over halfway.
    """
    turns = [_turn_of(p, body, drawing.view) for p in (start, end)]
    rests = [p.rests or STANDS for p in (start, end)]
    pictures: list[Joints] = []
    for n in range(BLENDED + 1):
        share = n / BLENDED
        between = _between(start, end, share)
        turned = _turned(_lay(between, body, drawing.view), turns[0] + share * (turns[1] - turns[0]))
        held = drawing.keeps or rests[share >= 0.5][0]
        stands = {0: rests[0], BLENDED: rests[1]}.get(n, rests[0] + rests[1])
        picture = _put_down(turned, between, body, on=stands)
        still = pictures[-1][held][0] if pictures else 0.0
        moved = still - picture[held][0]
        stood = {name: (x + moved, z) for name, (x, z) in picture.items()}
        flat = replace(between, rests=rests[share >= 0.5])
        pictures.append(_hands_flat(stood, flat, body) if drawing.view == "side" else stood)
    return pictures


def _between(start: Posture, end: Posture, share: float) -> Posture:
    def mix(name: str, usual: float = 0.0) -> float:
        a, b = (usual if value is None else value for value in (getattr(start, name), getattr(end, name)))
        return float(a + share * (b - a))

    def mixed(name: str) -> Bend:
        a, b = limb_of(start, name), limb_of(end, name)
        return a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])

    far_arms, far_legs = start.arms_2 or end.arms_2, start.legs_2 or end.legs_2
    return Posture(
        trunk=mix("trunk"),
        toes=mix("toes"),
        shrug=mix("shrug"),
        neck=mix("neck"),
        bow=mix("bow"),
        seen=mix("seen", 1.0),
        straddle=mix("straddle"),
        arms=mixed("arms"),
        legs=mixed("legs"),
        arms_2=mixed("arms_2") if far_arms else None,
        legs_2=mixed("legs_2") if far_legs else None,
        hangs=start.hangs,
    )


def _stand(posture: Posture, body: Body, view: View) -> Joints:
    """The joints of a posture on the floor, the first joint it rests on at x = 0, m."""
    rests = posture.rests or STANDS
    turned = _turned(_lay(posture, body, view), _turn_of(posture, body, view))
    put = _put_down(turned, posture, body, on=rests[:1])
    stood = {name: (x - put[rests[0]][0], z) for name, (x, z) in put.items()}
    return _hands_flat(stood, posture, body) if view == "side" else stood


def _lay(posture: Posture, body: Body, view: View) -> Joints:
    return lay_out(posture, body) if view == "side" else lay_out_front(posture, body)


def _put_down(joints: Joints, posture: Posture, body: Body, *, on: Sequence[str]) -> Joints:
    """Move a figure up or down until the lowest of some joints is where it rests, or until it hangs."""
    if posture.hangs:
        up = SPARE_M + body.arm + body.trunk + body.leg - joints[on[0]][1]
    else:
        up = max(_rest_height(name, body) - joints[name][1] for name in on)
    return {name: (x, z + up) for name, (x, z) in joints.items()}


def _rest_height(joint: str, body: Body) -> float:
    return RESTS_HIGH.get(joint.removesuffix("_2"), 0.0) * body.stature


def _turn_of(posture: Posture, body: Body, view: View) -> float:
    """How far a figure is turned so that both joints it rests on come down, rad; 0 where it rests on one."""
    rests = posture.rests or STANDS
    if len(rests) < 2:
        return 0.0
    joints = _lay(posture, body, view)
    (x0, z0), (x1, z1) = joints[rests[0]], joints[rests[1]]
    rise = _rest_height(rests[1], body) - _rest_height(rests[0], body)
    wanted = asin(max(-1.0, min(1.0, rise / hypot(x1 - x0, z1 - z0))))
    turn = (wanted if x1 >= x0 else pi - wanted) - atan2(z1 - z0, x1 - x0)
    return (turn + pi) % (2 * pi) - pi


def _turned(joints: Joints, turn: float) -> Joints:
    """A figure turned about its hip, rad."""
    c, s = cos(turn), sin(turn)
    return {name: (c * x - s * z, s * x + c * z) for name, (x, z) in joints.items()}


def _hands_flat(joints: Joints, posture: Posture, body: Body) -> Joints:
    """Hands that carry, or reach the floor, lie flat with the fingers pointing ahead."""
    flat = dict(joints)
    for end in ("", "_2"):
        if f"wrist{end}" not in flat or posture.hangs:
            continue
        x, z = flat[f"wrist{end}"]
        carries = f"wrist{end}" in (posture.rests or ()) or (not end and "elbow" in (posture.rests or ()))
        if carries or flat[f"fingertips{end}"][1] < 0:
            flat[f"fingertips{end}"] = (x + body.hand, z)
    return flat


THICK_M, SHORT_M = 0.05, 0.16
"""How thick a plate, bar or mat is drawn, and half the width of a block, m. Ours."""


def _furnish(props: Sequence[Prop], pictures: Sequence[Joints]) -> Room:
    """Put what a drill stands on or against where its joints come to lie."""
    boxes: list[Box] = []
    floor, wall, ball = 0.0, None, None
    for prop in props:
        picture = pictures[0 if prop.of == "start" else -1]
        x, z = picture[prop.at]
        x += prop.aside_cm / 100
        match prop.kind:
            case "wall":
                wall = x
            case "ball":
                ball = Ball(x=x, top=z)
            case "block":
                floor = -SHORT_M
                boxes.append(Box(start=x - 0.09, end=x + 0.12, top=0.0, bottom=floor, words=""))
            case _:
                boxes.append(_box_of(prop.kind, x, z))
    return Room(floor=floor, boxes=tuple(boxes), wall=wall, ball=ball)


def _box_of(kind: str, x: float, z: float) -> Box:
    match kind:
        case "box":
            return Box(start=x - 0.3, end=x + 0.1, top=z, bottom=0.0, words="")
        case "pads":
            return Box(start=x - 0.14, end=x + 0.14, top=z, bottom=0.0, words="", soft=True)
        case "mat":
            return Box(start=x - 0.9, end=x + 0.9, top=0.0, bottom=-THICK_M, words="", soft=True)
        case "plate":
            return Box(start=x - 0.1, end=x + 0.1, top=z + 0.12, bottom=z - 0.02, words="")
        case _:
            return Box(start=x - THICK_M / 2, end=x + THICK_M / 2, top=z + THICK_M, bottom=z, words="")


def _rounded(joints: Joints) -> Joints:
    return {name: (round(x, DIGITS), round(z, DIGITS)) for name, (x, z) in joints.items()}
