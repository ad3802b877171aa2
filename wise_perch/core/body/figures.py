"""A posture laid out in one body's own lengths, from the side or the front, before it stands on anything."""

from math import cos, radians, sin

from wise_perch.core.body.segments import Body
from wise_perch.core.trade.poses import Bend, Posture

Spot = tuple[float, float]
Joints = dict[str, Spot]
HALF_SHOULDERS, HALF_HIPS = 0.11, 0.05
"""Seen from the front, half the breadth of shoulders and hips, a share of stature. Ours."""


def limb_of(posture: Posture, name: str) -> Bend:
    """A limb's angles; a far one is as the near one where nothing is said of it."""
    return getattr(posture, name) or getattr(posture, name.removesuffix("_2")) or (0.0, 0.0)


def _go(spot: Spot, direction_deg: float, length: float) -> Spot:
    """A point so far away; 0 degrees is up, 90 to the right."""
    turned = radians(direction_deg)
    return spot[0] + length * sin(turned), spot[1] + length * cos(turned)


def lay_out(posture: Posture, body: Body) -> Joints:
    """The joints of a side view, the hip at the origin, m."""
    trunk, bow = posture.trunk or 0.0, posture.bow or 0.0
    hip: Spot = (0.0, 0.0)
    waist = _go(hip, trunk - bow / 2, body.trunk / 2)
    upper = trunk + bow / 2
    shoulder = _go(waist, upper, body.trunk / 2)
    head = upper - (posture.neck or 0.0)
    joints: Joints = {
        "hip": hip,
        "waist": waist,
        "shoulder": shoulder,
        "ear": _go(shoulder, head, body.part("ear")),
        "crown": _go(shoulder, head, body.head),
    }
    shrug = (posture.shrug or 0.0) * body.stature
    for end in ("", "_2"):
        if not end or posture.arms_2:
            bend = limb_of(posture, f"arms{end}")
            joints |= _arm(shoulder, upper + 180, bend, body, shrug=shrug, seen=posture.seen or 1.0, end=end)
        if not end or posture.legs_2:
            lower, bend = trunk - bow / 2 + 180, limb_of(posture, f"legs{end}")
            seen = cos(radians(posture.straddle or 0.0))
            joints |= _leg(hip, lower, bend, body, toes=posture.toes or 0.0, seen=seen, end=end)
    return joints


def _arm(
    shoulder: Spot, down: float, bend: Bend, body: Body, *, shrug: float, seen: float, end: str
) -> Joints:
    at = down - bend[0]
    elbow = _go(shoulder, at, seen * body.upper_arm + shrug)
    wrist = _go(elbow, at - bend[1], seen * body.forearm)
    return {
        f"elbow{end}": elbow,
        f"wrist{end}": wrist,
        f"fingertips{end}": _go(wrist, at - bend[1], body.hand),
    }


def _leg(hip: Spot, down: float, bend: Bend, body: Body, *, toes: float, seen: float, end: str) -> Joints:
    at = down - bend[0]
    knee = _go(hip, at, seen * body.thigh)
    shank = at + bend[1]
    ankle = _go(knee, shank, seen * body.shank)
    foot = shank - 90 + toes
    return {
        f"knee{end}": knee,
        f"ankle{end}": ankle,
        f"ball{end}": _go(ankle, foot, seen * body.part("ankle-to-ball")),
        f"toes{end}": _go(ankle, foot, seen * body.part("ankle-to-toes")),
        f"heel{end}": _go(ankle, shank + 90, body.part("heel-back")),
    }


def lay_out_front(posture: Posture, body: Body) -> Joints:
    """The joints seen from the front, between the hips the origin, m. The far limbs are those on the left."""
    trunk = posture.trunk or 0.0
    middle: Spot = (0.0, 0.0)
    neck = _go(middle, trunk, body.trunk)
    joints: Joints = {
        "hip": middle,
        "shoulder": neck,
        "ear": _go(neck, trunk, body.part("ear")),
        "crown": _go(neck, trunk, body.head),
    }
    shrug = (posture.shrug or 0.0) * body.stature
    for end, side in (("", 1.0), ("_2", -1.0)):
        shoulder = _go(neck, trunk + 90 * side, HALF_SHOULDERS * body.stature)
        hip = _go(middle, trunk + 90 * side, HALF_HIPS * body.stature)
        arm, leg = limb_of(posture, f"arms{end}"), limb_of(posture, f"legs{end}")
        at = trunk + 180 - side * arm[0]
        elbow = _go(shoulder, at, body.upper_arm + shrug)
        wrist = _go(elbow, at - side * arm[1], body.forearm)
        down = trunk + 180 - side * leg[0]
        knee = _go(hip, down, body.thigh)
        shank = down + side * leg[1]
        ankle = _go(knee, shank, body.shank)
        joints |= {
            f"shoulder_side{end}": shoulder,
            f"hip_side{end}": hip,
            f"elbow{end}": elbow,
            f"wrist{end}": wrist,
            f"knee{end}": knee,
            f"ankle{end}": ankle,
            f"ball{end}": _go(ankle, shank, body.part("ankle-to-toes") * (posture.toes or 0.0) / 90),
        }
    return joints
