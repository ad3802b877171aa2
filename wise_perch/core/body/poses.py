"""A pose: where the joints are, where each segment's centre lies, and what its weight does about a point."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.constants import MASS_SHARES, G
from wise_perch.core.body.segments import Body, Segment

Numbers = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Points:
    """Points in the sagittal plane, m: `x` along the floor and `z` upward, one entry a dial setting."""

    x: Numbers
    z: Numbers

    def toward(self, other: "Points", share: float) -> "Points":
        """The points at a share of the way to another."""
        return Points(self.x + share * (other.x - self.x), self.z + share * (other.z - self.z))


def make_points(x: npt.ArrayLike, z: npt.ArrayLike) -> Points:
    """Points of equal shape from anything that broadcasts."""
    wide, high = np.asarray(x, float), np.asarray(z, float)
    if wide.shape != high.shape:
        wide, high = np.broadcast_arrays(wide, high)
    return Points(wide, high)


SPANS: Mapping[Segment, tuple[str, str]] = {
    "hand": ("wrist", "fingertips"),
    "forearm": ("elbow", "wrist"),
    "upper-arm": ("shoulder", "elbow"),
    "trunk": ("shoulder", "hip"),
    "thigh": ("hip", "knee"),
    "shank": ("knee", "ankle"),
    "foot": ("ankle", "ball"),
}
"""The joints a segment's centre lies between, the proximal one first."""


@dataclass(frozen=True, slots=True)
class Pose:
    """A body in a pose, or in one pose for each setting of a dial. Joints by name; `carried` segments lie on
    something; `seen` says where the eye finds a joint that the plane chain has to put elsewhere, since it
    turns out of the plane.
    """

    body: Body
    joints: Mapping[str, Points]
    carried: tuple[Segment, ...] = ()
    seen: Mapping[str, Points] = field(default_factory=dict[str, Points])

    def centre_of(self, segment: Segment) -> Points:
        """Where a segment's mass lies, m."""
        if segment == "head":
            return self.joints["ear"]
        start, end = SPANS[segment]
        return self.joints[start].toward(self.joints[end], MASS_SHARES[segment].centre)

    @property
    def segments(self) -> tuple[Segment, ...]:
        """The segments that somebody holds up: all that nothing else carries."""
        return tuple(s for s in (*SPANS, "head") if s not in self.carried)

    def mass(self) -> float:
        """The mass held up, kg."""
        return sum(self.body.mass(s) for s in self.segments)

    def centre(self, segments: Sequence[Segment] | None = None) -> Points:
        """The centre of mass of all that is held up, or of some segments, m."""
        chosen = self.segments if segments is None else segments
        masses = [self.body.mass(s) for s in chosen]
        centres = [self.centre_of(s) for s in chosen]
        total = sum(masses)
        return make_points(
            sum(m * c.x for m, c in zip(masses, centres, strict=True)) / total,
            sum(m * c.z for m, c in zip(masses, centres, strict=True)) / total,
        )

    def weight_moment(self, about: Points, segments: Sequence[Segment]) -> Numbers:
        """The moment of some segments' weight about a point, N m; positive turns them toward -x of it.

        g Σ mᵢ (x_point - xᵢ).
        """
        return np.asarray(
            sum(G * self.body.mass(s) * (about.x - self.centre_of(s).x) for s in segments), float
        )


def with_ear(body: Body, joints: dict[str, Points]) -> dict[str, Points]:
    """Add the head's centre and the crown, both on the trunk's line beyond the shoulder."""
    shoulder, hip = joints["shoulder"], joints["hip"]
    joints["ear"] = shoulder.toward(hip, -body.part("ear") / body.trunk)
    joints["crown"] = shoulder.toward(hip, -body.head / body.trunk)
    return joints
