"""The push: the push-up that checks the model, the travel of a handstand push-up, and a lean with the feet on
a ball.
"""

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.answers import Answers, Fault, unit_root
from wise_perch.core.body.constants import G
from wise_perch.core.body.poses import Numbers, Points, Pose, make_points, with_ear
from wise_perch.core.body.segments import CM, Body


def push_up(body: Body, *, hands: npt.ArrayLike, feet: npt.ArrayLike, knees: bool = False) -> Answers:
    """The top of a push-up: straight from shoulder to ankle, arms square to the body, the hands' force along
    the arm.

    Args: `hands` and `feet` heights above the floor, m; with `knees` the body is straight to the knee, which
    stands at the height of `feet`, and the lower legs lie on the floor and carry themselves.
    Returns: `share` on the hands = (x_pivot - x_com) / (x_pivot + (z_hand - z_pivot) tan s), `slope_deg`.
    """
    hand, foot = np.broadcast_arrays(np.asarray(hands, float), np.asarray(feet, float))
    end = body.part("knee-centre") if knees else body.part("ankle-to-ball")
    length = body.trunk + (body.thigh if knees else body.leg)
    # arm cos s - length sin s = foot + end - hand
    long = float(np.hypot(body.arm, length))
    wanted = (foot + end - hand) / long
    slope = np.arccos(np.clip(wanted, -1, 1)) - float(np.arctan2(length, body.arm))
    joints = _push_joints(body, hand=hand, slope=slope, length=length, knees=knees)
    pose = Pose(body, joints, carried=("shank", "foot") if knees else ())
    # it turns about where it touches: under the ball of the foot, or under the knee
    touches = joints["knee"].x if knees else joints["ball"].x
    lever = touches + (hand - foot) * np.tan(slope)
    share = pose.mass() / body.mass_kg * (touches - pose.centre().x) / np.where(lever == 0, 1.0, lever)
    # beyond upright there is no push-up any more; below -45° the hands stand deeper than anybody puts them
    steep = np.asarray((np.abs(wanted) > 1) | (np.abs(slope) > np.radians(75)))
    faults = (
        Fault(
            where=steep,
            because=lambda _: "out of reach: hands and feet are too far apart in height for a straight body",
        ),
    )
    return Answers(pose=pose, figures={"share": share, "slope_deg": np.degrees(slope)}, faults=faults)


def _push_joints(
    body: Body, *, hand: Numbers, slope: Numbers, length: float, knees: bool
) -> dict[str, Points]:
    wrist = make_points(np.zeros_like(hand), hand)
    shoulder = make_points(body.arm * np.sin(slope), hand + body.arm * np.cos(slope))

    def below(along: float) -> Points:
        """A point so far down the body's line from the shoulder."""
        return make_points(shoulder.x + along * np.cos(slope), shoulder.z - along * np.sin(slope))

    joints = {
        "wrist": wrist,
        "fingertips": make_points(wrist.x - body.hand, wrist.z),
        "elbow": wrist.toward(shoulder, body.forearm / body.arm),
        "shoulder": shoulder,
        "hip": below(body.trunk),
        "knee": below(body.trunk + body.thigh),
    }
    if knees:
        joints["ankle"] = make_points(joints["knee"].x + body.shank, joints["knee"].z)
        joints["ball"] = make_points(joints["ankle"].x + body.part("ankle-to-ball"), joints["ankle"].z)
    else:
        joints["ankle"] = below(length)
        joints["ball"] = make_points(joints["ankle"].x, joints["ankle"].z - body.part("ankle-to-ball"))
    return with_ear(body, joints)


def push_travel(body: Body, *, pad: npt.ArrayLike) -> Answers:
    """A handstand push-up onto a pad, its lowest point: the crown on the pad, the arms folded over the hands.

    Args: `pad` height above the floor under the hands, m; negative is a deficit.
    Returns: `travel_cm`, `share_of_full` (of the floor's range, no shrug), `work_j` = m g x rise of the
    centre of mass, `share` 1.
    """
    height = np.asarray(pad, float)
    low = body.head + height
    travel = body.arm - low
    short = abs(body.upper_arm - body.forearm)
    pose = _folded_handstand(body, np.clip(low, short, body.arm))
    top = _folded_handstand(body, np.full_like(height, body.arm))
    work = body.mass_kg * G * (top.centre().z - pose.centre().z)
    least = (short - body.head) * CM
    full = body.full_travel
    none = np.full(height.shape, full <= 0)
    faults = (
        Fault(
            where=none,
            because=lambda _: (
                "with these lengths the crown rests before the arms have bent: measure arm and shoulder to"
                " crown again"
            ),
        ),
        Fault(
            where=np.asarray(travel <= 0),
            because=lambda _: f"no range left: a pad lower than {full * CM:.1f} cm",
        ),
        Fault(
            where=np.asarray(low < short),
            because=lambda _: f"deeper than the arms fold: at least {least:.1f} cm",
        ),
    )
    figures = {
        "travel_cm": travel * CM,
        "share_of_full": travel / (full if full > 0 else 1.0),
        "work_j": work,
        "share": np.ones_like(height),
    }
    return Answers(pose=pose, figures=figures, faults=faults)


def _folded_handstand(body: Body, shoulder: Numbers) -> Pose:
    """A handstand with the shoulders at a height straight over the wrists, m, the elbow between them to the
    side.
    """
    zero = np.zeros_like(shoulder)
    elbow = (body.forearm**2 + shoulder**2 - body.upper_arm**2) / (2 * np.where(shoulder == 0, 1.0, shoulder))
    aside = unit_root(body.forearm**2 - elbow**2)
    up = {"shoulder": 0.0, "hip": body.trunk, "knee": body.trunk + body.thigh, "ankle": body.trunk + body.leg}
    joints = {name: make_points(zero, shoulder + at) for name, at in up.items()}
    joints |= {
        "wrist": make_points(zero, 0.0),
        "fingertips": make_points(zero + body.hand, 0.0),
        "elbow": make_points(-aside, elbow),
        "ball": make_points(zero, joints["ankle"].z + body.part("ankle-to-ball")),
    }
    return Pose(body, with_ear(body, joints))


def ball_lean(body: Body, *, ball_to_toes: npt.ArrayLike) -> Answers:
    """A straight, level body on straight arms with the legs on a ball: the share the hands carry.

    Args: `ball_to_toes` from the tip of the pointed toes up the leg to the ball, m.
    Returns: `share` = (x_ball - x_com) / x_ball, the ball and the wrists pushing straight up.
    """
    up_the_leg = np.asarray(ball_to_toes, float)
    zero = np.zeros_like(up_the_leg)
    far = body.trunk + body.leg + body.part("ankle-to-toes")
    along = {
        "shoulder": 0.0,
        "hip": body.trunk,
        "knee": body.trunk + body.thigh,
        "ankle": body.trunk + body.leg,
    }
    joints = {name: make_points(zero + at, body.arm) for name, at in along.items()}
    joints |= {
        "wrist": make_points(zero, 0.0),
        "fingertips": make_points(zero - body.hand, 0.0),
        "elbow": make_points(zero, body.forearm),
        "ball": make_points(zero + along["ankle"] + body.part("ankle-to-ball"), body.arm),
        "toes": make_points(zero + far, body.arm),
        "support": make_points(far - up_the_leg, body.arm),
    }
    pose = Pose(body, with_ear(body, joints))
    support = far - up_the_leg
    centre = pose.centre().x
    share = (support - centre) / np.where(support == 0, 1.0, support)
    most = (far - float(np.atleast_1d(centre)[0])) * CM
    faults = (
        Fault(
            where=np.asarray(support <= centre),
            because=lambda _: f"the body would tip off its hands: ball at most {most:.0f} cm from the toes",
        ),
    )
    return Answers(pose=pose, figures={"share": share}, faults=faults)
