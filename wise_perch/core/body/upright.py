"""The straight handstand: its height, its inertia, how far it can be saved, and how it leans on a wall."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.answers import Answer, Answers, Fault
from wise_perch.core.body.constants import MASS_SHARES, G
from wise_perch.core.body.poses import SPANS, Numbers, Pose, make_points
from wise_perch.core.body.segments import CM, Body, Segment

Facing = Literal["back", "chest"]
"""Which side of the body the wall is on."""


def straight_pose(body: Body, lean: npt.ArrayLike, *, heel: float = 0.0) -> Pose:
    """A straight handstand with pointed feet, leaning by `lean` rad toward the fingers (+x) about the wrist.

    `heel`: how far behind the leg's line the foot touches a wall, m; it only adds the point "contact".
    """
    angle = np.asarray(lean, float)
    up = {
        "wrist": 0.0,
        "elbow": body.forearm,
        "shoulder": body.arm,
        "ear": body.arm - body.part("ear"),
        "crown": body.arm - body.head,
        "hip": body.arm + body.trunk,
        "knee": body.arm + body.trunk + body.thigh,
        "ankle": body.arm + body.trunk + body.leg,
        "ball": body.arm + body.trunk + body.leg + body.part("ankle-to-ball"),
        "toes": body.arm + body.trunk + body.leg + body.part("ankle-to-toes"),
    }
    joints = {name: make_points(at * np.sin(angle), at * np.cos(angle)) for name, at in up.items()}
    # the hand lies on the floor however the body leans
    joints["fingertips"] = make_points(np.full_like(angle, body.hand), 0.0)
    joints["heel"] = make_points(
        joints["ankle"].x + heel * np.cos(angle),
        joints["ankle"].z - heel * np.sin(angle),
    )
    return Pose(body, joints)


def straight_answer(body: Body, *, lean: float) -> Answer:
    """A straight handstand at a lean toward the fingers, rad, as one pose."""
    found = Answers(
        pose=straight_pose(body, np.array([lean])), figures={"lean_deg": np.degrees(np.array([lean]))}
    ).at(0)
    assert isinstance(found, Answer), "a straight handstand has no faults"
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Handstand:
    """What a straight handstand is as a body that tips about the wrist.

    `com_height` of the whole body over the wrist, m; `inertia` about the wrist without the hands, kg m²;
    `rate` its natural rate √(m g c / I), 1/s; `over` and `under` the lean at which the weight stands over the
    finger pads and over the heel of the hand, rad.
    """

    com_height: float
    inertia: float
    rate: float
    over: float
    under: float


def handstand(body: Body) -> Handstand:
    """Work out the handstand of a body."""
    pose = straight_pose(body, np.zeros(1))
    c = float(pose.centre().z[0])
    inertia = sum(_inertia_of(pose, segment) for segment in pose.segments if segment != "hand")
    return Handstand(
        com_height=c,
        inertia=inertia,
        rate=float(np.sqrt(body.mass_kg * G * c / inertia)),
        over=float(np.arcsin(body.part("finger-pads") / c)),
        under=float(np.arcsin(body.part("hand-heel") / c)),
    )


def _inertia_of(pose: Pose, segment: Segment) -> float:
    """A segment's moment of inertia about the wrist, kg m²: m (r² + (ρ L)²)."""
    body, centre = pose.body, pose.centre_of(segment)
    if segment == "head":
        # the table's head and neck reaches from the shoulder to the ear canal
        length = body.part("ear")
    else:
        start, end = (pose.joints[name] for name in SPANS[segment])
        length = float(np.hypot(end.x - start.x, end.z - start.z)[0])
    gyration = MASS_SHARES[segment].gyration * length
    return float(body.mass(segment) * (centre.x[0] ** 2 + centre.z[0] ** 2 + gyration**2))


@dataclass(frozen=True, slots=True, kw_only=True)
class Save:
    """Whether a lean with its speed can still be caught by the hands, and how.

    `at`: where the weight is heading, m ahead of the wrist (the extrapolated centre of mass); `least` and
    `most`: the hand's base. `side`: over, under, or saveable.
    """

    at: float
    least: float
    most: float
    side: Literal["saveable", "over", "under"]
    advice: str

    @property
    def saveable(self) -> bool:
        """It lies over the hand."""
        return self.side == "saveable"


def judge_save(body: Body, *, lean: float, lean_rate: float) -> Save:
    """Say whether a handstand can be saved. Args: `lean` rad from vertical toward the fingers, `lean_rate`
    rad/s.
    """
    stands = handstand(body)
    at = (
        stands.com_height * float(np.sin(lean))
        + stands.com_height * float(np.cos(lean)) * lean_rate / stands.rate
    )
    least, most, middle = -body.part("hand-heel"), body.part("finger-pads"), body.part("mid-hand")
    if at > most:
        return Save(
            at=at,
            least=least,
            most=most,
            side="over",
            advice="Past the finger pads: no finger press brings it back. Step or turn out.",
        )
    if at < least:
        return Save(
            at=at,
            least=least,
            most=most,
            side="under",
            advice="Behind the heel of the hand: the feet come back down to the start side.",
        )
    return Save(
        at=at,
        least=least,
        most=most,
        side="saveable",
        advice=_say_fingers(at, middle, body.part("finger-pads")),
    )


def _say_fingers(at: float, middle: float, pads: float) -> str:
    if at > (middle + pads) / 2:
        return "Fingertips press hard, shoulders push tall."
    if at > middle:
        return "Fingers press."
    if at > middle / 2:
        return "Over the hand: fingers rest, ready."
    return "Fingers lift, the heel of the hand presses, shoulders close a little."


def wall_hold(body: Body, *, facing: Facing, hands_to_wall: npt.ArrayLike) -> Answers:
    """A straight hold against a wall without friction.

    Args: `facing` back (heels touch) or chest (toe tips touch); `hands_to_wall` wrist to wall, m.
    Returns: `lean_deg` from vertical, `wall_force_n`, `float_limit_cm` (see `float_limit`), `share` on the
    hands: the whole weight.
    """
    distance = np.asarray(hands_to_wall, float)
    length, behind = _contact_ends(body, facing)
    long = float(np.hypot(length, behind))
    lean = np.arcsin(np.clip(distance / long, -1, 1)) - float(np.arctan2(behind, length))
    toward = 1 if facing == "back" else -1
    pose = straight_pose(body, toward * lean, heel=behind)
    ahead = toward * pose.centre().x
    height = length * np.cos(lean) - behind * np.sin(lean)
    force = body.mass_kg * G * ahead / np.where(np.abs(height) < 1e-9, 1.0, height)
    most = long * CM
    faults = (
        Fault(
            where=np.asarray(distance >= long),
            because=lambda _: f"out of reach: hands at most {most:.0f} cm from the wall",
        ),
        Fault(
            where=np.asarray(force < 0),
            because=lambda _: (
                "too near: the weight hangs away from the wall; hands at least"
                f" {_nearest_stance(body, facing) * CM:.1f} cm out"
            ),
        ),
    )
    figures: dict[str, Numbers] = {
        "lean_deg": np.degrees(lean),
        "wall_force_n": force,
        "float_limit_cm": np.full_like(distance, float_limit(body, facing=facing) * CM),
        "share": np.ones_like(distance),
    }
    return Answers(pose=pose, figures=figures, faults=faults)


def float_limit(body: Body, *, facing: Facing) -> float:
    """The farthest from the wall, m, at which the hands alone can take the feet off it.

    Back to the wall the weight must stand over the finger pads at most, chest to the wall over the heel of
    the hand.
    """
    edge = body.part("finger-pads") if facing == "back" else body.part("hand-heel")
    return _distance_at(body, facing, edge)


def hands_to_wall_at(body: Body, *, facing: Facing, lean: npt.ArrayLike) -> Numbers:
    """The distance to the wall, m, that makes a lean, rad."""
    length, behind = _contact_ends(body, facing)
    return np.asarray(np.hypot(length, behind) * np.sin(np.asarray(lean, float) + np.arctan2(behind, length)))


def _nearest_stance(body: Body, facing: Facing) -> float:
    return max(0.0, _distance_at(body, facing, 0.0))


def _distance_at(body: Body, facing: Facing, ahead: float) -> float:
    """The distance at which the centre of mass lies `ahead` of the wrist toward the wall, m."""
    toward = 1 if facing == "back" else -1
    pose = straight_pose(body, np.zeros(1))
    # the hands lie still ahead of the wrist, so only the rest of the body moves with the lean
    moved = ahead - toward * float(pose.centre().x[0])
    lean = float(np.arcsin(moved / float(pose.centre().z[0])))
    return float(hands_to_wall_at(body, facing=facing, lean=lean))


def _contact_ends(body: Body, facing: Facing) -> tuple[float, float]:
    """How far along the body's line from the wrist it touches the wall, and how far behind that line, m."""
    to_ankle = body.arm + body.trunk + body.leg
    if facing == "back":
        return to_ankle, body.part("heel-back")
    return to_ankle + body.part("ankle-to-toes"), 0.0
