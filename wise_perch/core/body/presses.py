"""The press at toe-off: straight arms lean until the weight stands over the middle of the hand and the toes
go light.
"""

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.answers import Answers, Fault, Flags
from wise_perch.core.body.constants import MASS_SHARES
from wise_perch.core.body.poses import Numbers, Points, Pose, make_points, with_ear
from wise_perch.core.body.segments import CM, Body, Segment

STEPS = 52
"""Halvings of the lean's interval: enough for the last bit."""
HALVINGS = 20
"""Halvings of a surface's height: well under a millimetre."""
STEEPEST = np.radians(80)
"""No lean beyond this is looked for. Ours."""
FOLDS = np.radians(np.linspace(2, 150, 1185))
"""The folds among which a target's own is looked for."""
CARRIED: tuple[Segment, ...] = ("trunk", "head", "thigh", "shank", "foot")
"""What hangs on the shoulders."""


def press(body: Body, *, fold: npt.ArrayLike, straddle: npt.ArrayLike, surface: npt.ArrayLike) -> Answers:
    """The press at toe-off.

    Args: `fold` the sagittal angle between trunk and thighs, rad (0 folded flat); `straddle` half the angle
    between the legs, rad; `surface` what the toes leave, m above the floor.
    Returns: `lean_deg` of the arms, `shoulder_ahead_cm` of the wrist, `shoulder_moment_nm` = g Σ mᵢ
    (x_shoulder - xᵢ) over trunk, head and legs, `true_fold_deg` (its cosine is cos fold · cos straddle),
    `share` 1: all on the hands.
    """
    p, b, h = np.broadcast_arrays(
        np.asarray(fold, float), np.asarray(straddle, float), np.asarray(surface, float)
    )
    low, shut = _least_lean(body, p, b, h)
    lean, light, heavy = _find_balance(body, p, b, h, low)
    pose, trunk, no_root = _press_pose(body, p, b, h, lean)
    shoulder = pose.joints["shoulder"]
    figures = {
        "lean_deg": np.degrees(lean),
        "shoulder_ahead_cm": shoulder.x * CM,
        "shoulder_moment_nm": pose.weight_moment(shoulder, CARRIED),
        "true_fold_deg": np.degrees(np.arccos(np.clip(np.cos(p) * np.cos(b), -1, 1))),
        "share": np.ones_like(lean),
    }
    opened = np.asarray(lean + trunk < 0)
    free = no_root | light | opened
    faults = (
        Fault(
            where=np.asarray(shut),
            because=lambda _: (
                "out of reach: folded so far, the toes do not come down to it with straight arms"
            ),
        ),
        Fault(
            where=np.asarray(free & (h > 0)),
            because=lambda i: (
                "the surface is too high for this fold: the feet hang free of it."
                f" {_say_highest_surface(body, p, b, i)}"
            ),
        ),
        Fault(
            where=np.asarray(free),
            because=lambda _: (
                "folded so far, the feet are off the floor before the weight comes over the hands"
            ),
        ),
        Fault(
            where=heavy,
            because=lambda _: "no balance: the weight does not come over the hands before the arms give way",
        ),
    )
    return Answers(pose=pose, figures=figures, faults=faults)


def press_to_target(body: Body, *, target: npt.ArrayLike, straddle: npt.ArrayLike) -> Answers:
    """The stalder's way to a target: the toes `target` m ahead of the wrists on the floor, where the feet
    pass to, the weight over the middle of the hand. Farther ahead takes a deeper fold, the hips lower.

    The fold that puts them there is found and given as `fold_deg`; the other figures as for `press`.
    """
    wanted, b = np.broadcast_arrays(np.asarray(target, float), np.asarray(straddle, float))
    wide = float(np.atleast_1d(b)[0])
    grid = press(body, fold=FOLDS, straddle=wide, surface=0.0)
    usable = grid.feasible
    ahead = grid.pose.joints["toes"].x
    if not usable.any():
        found = press(body, fold=np.full_like(wanted, FOLDS[0]), straddle=wide, surface=0.0)
        return Answers(
            pose=found.pose,
            figures={**found.figures, "fold_deg": np.full_like(wanted, np.degrees(FOLDS[0]))},
            faults=found.faults,
        )
    reach, folds = ahead[usable], FOLDS[usable]
    order = np.argsort(reach)
    fold = np.interp(wanted, reach[order], folds[order])
    found = press(body, fold=fold, straddle=wide, surface=0.0)
    nearest, farthest = float(reach.min()), float(reach.max())
    faults = (
        Fault(
            where=np.asarray(wanted < nearest - 1e-9),
            because=lambda _: f"too near: a target at least {nearest * CM:.0f} cm ahead of the hands",
        ),
        Fault(
            where=np.asarray(wanted > farthest + 1e-9),
            because=lambda _: f"out of reach: a target at most {farthest * CM:.0f} cm ahead of the hands",
        ),
        *found.faults,
    )
    return Answers(pose=found.pose, figures={**found.figures, "fold_deg": np.degrees(fold)}, faults=faults)


def _leg_length(body: Body, b: Numbers) -> Numbers:
    """Hip to pointed toe tip as seen from the side, m."""
    return (body.leg + body.part("ankle-to-toes")) * np.cos(b)


def _least_lean(body: Body, p: Numbers, b: Numbers, h: Numbers) -> tuple[Numbers, Flags]:
    """The least lean that lets the toes reach down to the surface, rad, and where none does."""
    k = _leg_length(body, b)
    reach = np.hypot(body.trunk - k * np.cos(p), k * np.sin(p))
    cosine = (reach + h) / body.arm
    return np.arccos(np.clip(cosine, -1, 1)), cosine < np.cos(STEEPEST)


def _trunk_angle(body: Body, p: Numbers, b: Numbers, h: Numbers, lean: Numbers) -> tuple[Numbers, Flags]:
    """The trunk's angle back from vertical, the toes behind the shoulder, rad; and where the surface lies
    above all reach.

    (trunk - K cos p) cos t - K sin p sin t = h - arm cos a.
    """
    k = _leg_length(body, b)
    along, across = body.trunk - k * np.cos(p), k * np.sin(p)
    reach = np.maximum(np.hypot(along, across), 1e-12)
    wanted = (h - body.arm * np.cos(lean)) / reach
    turn = np.arctan2(across, along)
    opened = np.arccos(np.clip(wanted, -1, 1))
    return opened - turn, wanted > 1


def _press_pose(body: Body, p: Numbers, b: Numbers, h: Numbers, lean: Numbers) -> tuple[Pose, Numbers, Flags]:
    trunk, beyond = _trunk_angle(body, p, b, h, lean)
    shoulder = make_points(body.arm * np.sin(lean), body.arm * np.cos(lean))
    hip = make_points(shoulder.x - body.trunk * np.sin(trunk), shoulder.z + body.trunk * np.cos(trunk))
    way = trunk - p

    def down(length: float) -> Points:
        """A point so far down the leg, as seen from the side."""
        seen = length * np.cos(b)
        return make_points(hip.x + seen * np.sin(way), hip.z - seen * np.cos(way))

    wrist = make_points(np.zeros_like(lean), 0.0)
    joints = {
        "wrist": wrist,
        "fingertips": make_points(np.full_like(lean, body.hand), 0.0),
        "elbow": wrist.toward(shoulder, body.forearm / body.arm),
        "shoulder": shoulder,
        "hip": hip,
        "knee": down(body.thigh),
        "ankle": down(body.leg),
        "ball": down(body.leg + body.part("ankle-to-ball")),
        "toes": down(body.leg + body.part("ankle-to-toes")),
    }
    return Pose(body, with_ear(body, joints)), trunk, beyond


def _find_balance(
    body: Body, p: Numbers, b: Numbers, h: Numbers, low: Numbers
) -> tuple[Numbers, Flags, Flags]:
    """The lean at which the weight stands over the middle of the hand, by halving; where it is past it at
    once, where never.
    """
    middle = body.part("mid-hand")

    def short(lean: Numbers) -> Numbers:
        return np.asarray(_weight_at(body, p, b, h, lean) - middle)

    least, most = low.astype(float), np.full_like(low, STEEPEST)
    light, heavy = np.asarray(short(least) > 0), np.asarray(short(most) < 0)
    for _ in range(STEPS):
        half = (least + most) / 2
        behind = short(half) < 0
        least, most = np.where(behind, half, least), np.where(behind, most, half)
    return (least + most) / 2, light, heavy


def _weight_at(body: Body, p: Numbers, b: Numbers, h: Numbers, lean: Numbers) -> Numbers:
    """Where the centre of mass lies ahead of the wrist, m: the x of the pose alone, since this is asked
    most.
    """
    trunk, _ = _trunk_angle(body, p, b, h, lean)
    arm, back, leg = _segment_weights(body)
    seen = np.sin(trunk - p) * np.cos(b)
    return arm[0] + arm[1] * np.sin(lean) - back * np.sin(trunk) + leg * seen


def _segment_weights(body: Body) -> tuple[tuple[float, float], float, float]:
    """The centre of mass as a sum: hands + lean's factor, trunk's factor and legs' factor, m each."""

    def share(segment: Segment) -> float:
        return body.mass(segment) / body.mass_kg

    hand = share("hand") * MASS_SHARES["hand"].centre * body.hand
    forearm = share("forearm") * body.forearm * (1 - MASS_SHARES["forearm"].centre)
    upper = share("upper-arm") * (body.arm - MASS_SHARES["upper-arm"].centre * body.upper_arm)
    beyond = 1 - share("hand") - share("forearm") - share("upper-arm")
    thigh, shank, foot = share("thigh"), share("shank"), share("foot")
    back = (
        share("trunk") * MASS_SHARES["trunk"].centre * body.trunk
        - share("head") * body.part("ear")
        + (thigh + shank + foot) * body.trunk
    )
    leg = (
        thigh * MASS_SHARES["thigh"].centre * body.thigh
        + shank * (body.thigh + MASS_SHARES["shank"].centre * body.shank)
        + foot * (body.leg + MASS_SHARES["foot"].centre * body.part("ankle-to-ball"))
    )
    return (hand, forearm + upper + beyond * body.arm), back, leg


def _say_highest_surface(body: Body, p: Numbers, b: Numbers, index: int) -> str:
    """How high the surface may be for a fold, as a sentence."""
    fold, wide = float(np.atleast_1d(p)[index]), float(np.atleast_1d(b)[index])
    least, most = 0.0, body.arm + body.trunk
    for _ in range(HALVINGS):
        half = (least + most) / 2
        if _is_usable(body, fold, wide, half):
            least = half
        else:
            most = half
    return f"At most {int(least * CM)} cm." if least * CM >= 1 else "Nothing above the floor is needed."


def _is_usable(body: Body, fold: float, wide: float, surface: float) -> bool:
    p, b, h = (np.array([v]) for v in (fold, wide, surface))
    low, _ = _least_lean(body, p, b, h)
    lean, light, _ = _find_balance(body, p, b, h, low)
    trunk, beyond = _trunk_angle(body, p, b, h, lean)
    return bool(not light[0] and not beyond[0] and lean[0] + trunk[0] >= 0)
