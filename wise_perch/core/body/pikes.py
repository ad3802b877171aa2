"""Pikes: hips up, hands and feet on the floor or the feet raised. Vertical reactions, centre of pressure at
the wrist.
"""

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.answers import Answers, Fault, Flags, unit_root
from wise_perch.core.body.constants import G
from wise_perch.core.body.poses import Numbers, Points, Pose, make_points, with_ear
from wise_perch.core.body.segments import CM, Body

Settings = npt.ArrayLike
NEAREST = 0.01
"""Nobody sets the feet nearer to the line of the hands than this, m; straight above them there is no lever at
all. Ours.
"""


def pike_top(body: Body, *, hands_to_feet: Settings, surface: Settings) -> Answers:
    """Pike with straight arms: arms and trunk one line, legs another, the foot upright on its ball.

    Args: `hands_to_feet` wrist to the ball of the foot along the floor, m; `surface` what the feet stand on
    above the floor, m.
    Returns: `share` of body weight on the hands, `hip_angle_deg` between trunk and legs, moments in N m.
    """
    distance, height = np.broadcast_arrays(np.asarray(hands_to_feet, float), np.asarray(surface, float))
    ankle = make_points(distance, height + body.part("ankle-to-ball"))
    wrist = make_points(np.zeros_like(distance), 0.0)
    upper = body.arm + body.trunk
    hip, far, near = _hips_up(wrist, ankle, upper, body.leg)
    joints = with_ear(
        body,
        _arms_in_line(body, wrist, hip)
        | _place_legs(body, hip, ankle)
        | {"ball": make_points(distance, height)},
    )
    pose = Pose(body, joints)
    figures = {
        **_figures_of(pose, distance),
        "reach_cm": _farthest_feet(body, height, upper=upper, ahead=0.0) * CM,
    }
    faults = (
        *_check_reach(body, height, far=far, near=near, upper=upper, ahead=0.0),
        *_hold_faults(figures["share"], distance),
    )
    return Answers(pose=pose, figures=figures, faults=faults)


def pike_bottom(body: Body, *, hands_to_feet: Settings, surface: Settings) -> Answers:
    """Pike push-up at its lowest: the crown just above the floor, a forearm ahead of the hands, arms folded
    between.

    The head carries nothing. Arguments and figures as for `pike_top`; `share` is the common currency of the
    push line. The arms fold out of the plane here: the chain that keeps their weight lies flat behind the
    hands, the eye sees the elbow beside the body. There is no moment at the elbow, since the plane does not
    hold it.
    """
    distance, height = np.broadcast_arrays(np.asarray(hands_to_feet, float), np.asarray(surface, float))
    ankle = make_points(distance, height + body.part("ankle-to-ball"))
    wrist, crown = (
        make_points(np.zeros_like(distance), 0.0),
        make_points(np.full_like(distance, -body.forearm), 0.0),
    )
    upper = body.head + body.trunk
    hip, far, near = _hips_up(crown, ankle, upper, body.leg)
    shoulder = crown.toward(hip, body.head / upper)
    arms, cramped = _folded_arm(body, wrist, shoulder)
    joints = with_ear(body, arms | _place_legs(body, hip, ankle) | {"ball": make_points(distance, height)})
    pose = Pose(body, joints, seen={"elbow": _elbow_seen(body, wrist, shoulder)})
    figures = {
        **{name: value for name, value in _figures_of(pose, distance).items() if name != "elbow_moment_nm"},
        "reach_cm": _farthest_feet(body, height, upper=upper, ahead=body.forearm) * CM,
    }
    faults = (
        *_check_reach(body, height, far=far, near=near, upper=upper, ahead=body.forearm),
        Fault(
            where=cramped,
            because=lambda _: (
                "out of reach: with the head this far ahead the arms do not come down to the hands"
            ),
        ),
        *_hold_faults(figures["share"], distance),
    )
    return Answers(pose=pose, figures=figures, faults=faults)


def hips_over_hands(body: Body, *, surface: Settings) -> Answers:
    """Hips straight above the wrists, legs straight to a surface behind, m: the low-surface hold."""
    height = np.asarray(surface, float)
    rise = body.arm + body.trunk - (height + body.part("ankle-to-ball"))
    too_low, too_high = rise > body.leg, rise < -body.leg
    distance = unit_root(body.leg**2 - rise**2)
    wrist, hip = (
        make_points(np.zeros_like(distance), 0.0),
        make_points(np.zeros_like(distance), body.arm + body.trunk),
    )
    ankle = make_points(distance, height + body.part("ankle-to-ball"))
    joints = with_ear(
        body,
        _arms_in_line(body, wrist, hip)
        | _place_legs(body, hip, ankle)
        | {"ball": make_points(distance, height)},
    )
    pose = Pose(body, joints)
    least = body.arm + body.trunk - body.leg - body.part("ankle-to-ball")
    away = np.maximum(distance, 1e-9)
    faults = (
        Fault(
            where=too_low,
            because=lambda _: (
                "too low for straight legs with the hips over the hands: the surface is at least"
                f" {least * CM:.0f} cm"
            ),
        ),
        Fault(
            where=too_high | (distance <= 1e-9),
            because=lambda _: f"too high: the feet come at most {(least + 2 * body.leg) * CM:.0f} cm up",
        ),
    )
    return Answers(
        pose=pose,
        figures={**_figures_of(pose, away), "hands_to_feet_cm": distance * CM, "surface_cm": height * CM},
        faults=faults,
    )


def right_angle(body: Body) -> Answers:
    """The right-angle hold: hips above the wrists and legs level, which fixes the box and the distance.

    Returns: `box_cm`, `hands_to_feet_cm`, `share`.
    """
    box = body.arm + body.trunk - body.part("ankle-to-ball")
    found = hips_over_hands(body, surface=np.array([box]))
    return Answers(
        pose=found.pose, figures={**found.figures, "box_cm": np.array([box * CM])}, faults=found.faults
    )


def knees_on_bench(body: Body, *, hands_to_knees: Settings, surface: Settings) -> Answers:
    """Pike with the knees on a bench: the thigh is the second link and the lower legs lie on the bench and
    carry themselves.

    Args: `hands_to_knees` along the floor and `surface` the bench's height, m.
    """
    distance, height = np.broadcast_arrays(np.asarray(hands_to_knees, float), np.asarray(surface, float))
    knee = make_points(distance, height + body.part("knee-centre"))
    wrist = make_points(np.zeros_like(distance), 0.0)
    upper = body.arm + body.trunk
    hip, far, near = _hips_up(wrist, knee, upper, body.thigh)
    ankle = make_points(distance + body.shank, knee.z)
    ball = make_points(ankle.x + body.part("ankle-to-ball"), knee.z)
    joints = with_ear(
        body, _arms_in_line(body, wrist, hip) | {"hip": hip, "knee": knee, "ankle": ankle, "ball": ball}
    )
    pose = Pose(body, joints, carried=("shank", "foot"))
    most = unit_root((upper + body.thigh) ** 2 - knee.z**2)
    least = unit_root((upper - body.thigh) ** 2 - knee.z**2)
    figures = _figures_of(pose, distance)
    faults = (
        Fault(
            where=far,
            because=lambda i: (
                f"out of reach: knees at most {np.atleast_1d(most)[i] * CM:.0f} cm from the hands"
            ),
        ),
        Fault(
            where=near,
            because=lambda i: (
                f"too near to fold: knees at least {np.atleast_1d(least)[i] * CM:.0f} cm from the hands"
            ),
        ),
        *_hold_faults(figures["share"], distance),
    )
    return Answers(pose=pose, figures=figures, faults=faults)


def _figures_of(pose: Pose, distance: Numbers) -> dict[str, Numbers]:
    """The share on the hands, and what it makes of the joints: share x weight x horizontal distance from the
    wrist.
    """
    body, joints = pose.body, pose.joints
    share = pose.mass() / body.mass_kg * (distance - pose.centre().x) / np.maximum(distance, NEAREST)
    trunk = np.arctan2(joints["shoulder"].z - joints["hip"].z, joints["shoulder"].x - joints["hip"].x)
    knee = np.arctan2(joints["knee"].z - joints["hip"].z, joints["knee"].x - joints["hip"].x)
    turned = np.abs(np.angle(np.exp(1j * (trunk - knee))))
    force = share * body.mass_kg * G
    return {
        "share": share,
        "hip_angle_deg": np.degrees(turned),
        "elbow_moment_nm": force * np.abs(joints["elbow"].x),
        "shoulder_moment_nm": force * np.abs(joints["shoulder"].x),
    }


def _hips_up(start: Points, end: Points, first: float, second: float) -> tuple[Points, Flags, Flags]:
    """The higher of the two points `first` from the start and `second` from the end; too far, too near."""
    dx, dz = end.x - start.x, end.z - start.z
    apart = np.maximum(np.hypot(dx, dz), 1e-12)
    along = (apart**2 + first**2 - second**2) / (2 * apart)
    aside = unit_root(first**2 - along**2)
    # of the two sides of the line from hands to feet the left one is the higher while the feet lie behind the
    # hands
    hip = make_points(
        start.x + (along * dx - aside * dz) / apart, start.z + (along * dz + aside * dx) / apart
    )
    return hip, np.asarray(apart > first + second), np.asarray((apart < abs(first - second)) | (dx <= 0))


def _hold_faults(share: Numbers, distance: Numbers) -> tuple[Fault, ...]:
    """Where hands and feet cannot hold the weight between them."""
    return (
        Fault(
            where=np.asarray(distance < NEAREST),
            because=lambda _: "too near: straight above the hands the feet have no lever",
        ),
        Fault(
            where=np.asarray(share < 0),
            because=lambda _: (
                "no balance: the weight hangs behind the feet, so that the hands would have to pull"
            ),
        ),
    )


def _farthest_feet(body: Body, height: Numbers, *, upper: float, ahead: float) -> Numbers:
    """How far from the hands the feet come at most, m."""
    return unit_root((upper + body.leg) ** 2 - (height + body.part("ankle-to-ball")) ** 2) - ahead


def _check_reach(
    body: Body, height: Numbers, *, far: Flags, near: Flags, upper: float, ahead: float
) -> tuple[Fault, ...]:
    up = height + body.part("ankle-to-ball")
    most = _farthest_feet(body, height, upper=upper, ahead=ahead)
    least = np.maximum(unit_root((upper - body.leg) ** 2 - up**2) - ahead, 0.0)

    def too_far(index: int) -> str:
        limit = float(np.atleast_1d(most)[index]) * CM
        return (
            f"out of reach: feet at most {limit:.0f} cm from the hands"
            if limit > 0
            else "out of reach: the feet stand too high"
        )

    return (
        Fault(where=far, because=too_far),
        Fault(
            where=near,
            because=lambda i: (
                f"too near to fold: feet at least {float(np.atleast_1d(least)[i]) * CM:.0f} cm from the hands"
            ),
        ),
    )


def _arms_in_line(body: Body, wrist: Points, hip: Points) -> dict[str, Points]:
    whole = body.arm + body.trunk
    return {
        "wrist": wrist,
        "fingertips": make_points(wrist.x - body.hand, wrist.z),
        "elbow": wrist.toward(hip, body.forearm / whole),
        "shoulder": wrist.toward(hip, body.arm / whole),
    }


def _place_legs(body: Body, hip: Points, ankle: Points) -> dict[str, Points]:
    return {"hip": hip, "knee": hip.toward(ankle, body.thigh / body.leg), "ankle": ankle}


def _folded_arm(body: Body, wrist: Points, shoulder: Points) -> tuple[dict[str, Points], Flags]:
    """Two links from the wrist to a shoulder ahead of it, the elbow behind; and where they do not reach."""
    dx, dz = shoulder.x - wrist.x, shoulder.z - wrist.z
    apart = np.maximum(np.hypot(dx, dz), 1e-12)
    along = (apart**2 + body.forearm**2 - body.upper_arm**2) / (2 * apart)
    aside = unit_root(body.forearm**2 - along**2)
    elbow = make_points(
        wrist.x + (along * dx + aside * dz) / apart, wrist.z + (along * dz - aside * dx) / apart
    )
    cramped = np.asarray((apart > body.arm) | (apart < abs(body.forearm - body.upper_arm)))
    fingertips = make_points(wrist.x - body.hand, wrist.z)
    return {"wrist": wrist, "fingertips": fingertips, "elbow": elbow, "shoulder": shoulder}, cramped


def _elbow_seen(body: Body, wrist: Points, shoulder: Points) -> Points:
    """The elbow beside the body as it is seen from the side: straight above the wrist, the forearm leaning
    outward as far as both lengths ask for, so that both look shorter than they are.

    Seen from the front the elbow lies where a forearm from the hand, which stands a little outside the
    shoulder, and the upper arm's remaining length meet; the outer of the two such points.
    """
    out = body.part("hand-outside-shoulder")
    rise = shoulder.z - wrist.z
    upper = unit_root(body.upper_arm**2 - (shoulder.x - wrist.x) ** 2)
    apart = np.hypot(out, rise)
    along = (apart**2 + body.forearm**2 - upper**2) / (2 * apart)
    aside = unit_root(body.forearm**2 - along**2)
    return make_points(wrist.x, wrist.z + np.maximum((along * rise + aside * out) / apart, 0.0))
