"""The side view: lean, shoulder, hip, knee, the bow of the back, and how far each joint stands from the
vertical through the wrist; each with its standard error.
"""

from dataclasses import dataclass, replace
from math import atan2, cos, degrees, hypot, radians, sqrt

from wise_perch.core.body.constants import LENGTH_SHARES
from wise_perch.core.line.points import CHAIN, SPREAD, Body, Joint

PATH_OF_STATURE = sum(LENGTH_SHARES[s].value for s in ("upper-arm", "forearm", "trunk", "thigh", "shank"))
"""The path from wrist to ankle as a share of stature, by the segments that the levers use."""

TWO_SIDED = 1.96
"""Standard errors to either side of a figure within which the true one lies in 95 of 100."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """A figure with its standard error, or why there is none."""

    value: float | None = None
    se: float | None = None
    because: str = ""

    @property
    def turned(self) -> "Figure":
        """The same the other way round."""
        return replace(self, value=-self.value) if self.value is not None else self

    @property
    def size(self) -> "Figure":
        """The same whichever way it is."""
        return replace(self, value=abs(self.value)) if self.value is not None else self


@dataclass(frozen=True, kw_only=True)
class SideLine:
    """What the side view shows. Angles in degrees: `lean` + over, `shoulder` + closed, `hip` + pike, `knee` +
    bent. `arch_index` + banana. `offsets` of joints as shares of the path, + toward the fingers.
    """

    lean: Figure
    shoulder: Figure
    hip: Figure
    knee: Figure
    arch_index: Figure
    offsets: dict[str, Figure]


def side_line(body: Body) -> SideLine:
    """Judge a side view."""
    over, path = body.over, body.path()
    if path is None:
        missing = [part for part in CHAIN if body.middle(part) is None]
        none = Figure(because=f"not seen: {', '.join(missing)}" if missing else "all joints on one point")
        return _nothing(none)
    if over is None:
        return _nothing(
            Figure(because="which way the fingers point is not known: neither fingers nor face seen")
        )
    spread = SPREAD * path
    at = {part: _turned(body, part, over, spread) for part in CHAIN}
    wrist, shoulder, hip, knee, ankle = (at[part] for part in CHAIN)
    return SideLine(
        lean=_lean(wrist, ankle),
        shoulder=_bend(wrist, shoulder, hip, sign=1),
        hip=_bend(shoulder, hip, knee, sign=1),
        knee=_bend(hip, knee, ankle, sign=-1),
        arch_index=_arch(wrist, hip, ankle),
        offsets={
            part: Figure(value=(at[part].x - wrist.x) / path, se=hypot(at[part].sd, wrist.sd) / path)
            for part in CHAIN[1:]
        },
    )


def _nothing(why: Figure) -> SideLine:
    return SideLine(
        lean=why,
        shoulder=why,
        hip=why,
        knee=why,
        arch_index=why,
        offsets=dict.fromkeys(CHAIN[1:], why),
    )


def _turned(body: Body, part: str, over: int, spread: float) -> Joint:
    joint = body.joint(part, spread=spread)
    assert joint is not None
    return Joint(x=over * joint.x, y=joint.y, sd=joint.sd)


def _away(a: Joint, b: Joint) -> float:
    """How far a segment leans from the vertical toward the fingers, radians."""
    return atan2(b.x - a.x, b.y - a.y)


def _long(a: Joint, b: Joint) -> float:
    return hypot(b.x - a.x, b.y - a.y)


def _lean(wrist: Joint, ankle: Joint) -> Figure:
    return Figure(
        value=degrees(_away(wrist, ankle)), se=degrees(hypot(wrist.sd, ankle.sd) / _long(wrist, ankle))
    )


def _bend(a: Joint, b: Joint, c: Joint, *, sign: int) -> Figure:
    """The turn between two segments: the first leaning farther over than the second is +.

    Its variance is s1^2/l1^2 + s3^2/l2^2 + s2^2 (1/l1^2 + 1/l2^2 + 2 cos(bend)/(l1 l2)), from the points' own
    (propagation of error, first order).
    """
    l1, l2 = _long(a, b), _long(b, c)
    if not l1 or not l2:
        return Figure(because="two joints on one point")
    turn = _within_half(_away(a, b) - _away(b, c))
    spread = (a.sd / l1) ** 2 + (c.sd / l2) ** 2
    spread += b.sd**2 * (1 / l1**2 + 1 / l2**2 + 2 * cos(turn) / (l1 * l2))
    return Figure(value=sign * degrees(turn), se=degrees(sqrt(spread)))


def _within_half(turn: float) -> float:
    """A turn between minus and plus half a circle, radians."""
    full = radians(360)
    return (turn + full / 2) % full - full / 2


def _arch(wrist: Joint, hip: Joint, ankle: Joint) -> Figure:
    """How far the hip stands from the chord of wrist and ankle, toward the belly, as a share of the chord."""
    dx, dy = ankle.x - wrist.x, ankle.y - wrist.y
    chord = hypot(dx, dy)
    if not chord:
        return Figure(because="two joints on one point")
    along = ((hip.x - wrist.x) * dx + (hip.y - wrist.y) * dy) / chord**2
    aside = ((hip.x - wrist.x) * dy - (hip.y - wrist.y) * dx) / chord
    se = sqrt(hip.sd**2 + ((1 - along) * wrist.sd) ** 2 + (along * ankle.sd) ** 2) / chord
    return Figure(value=-aside / chord, se=se)
