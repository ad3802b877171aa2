"""The front view: hands against shoulders, drifting arms, level hips and shoulders, a lean to the side."""

from dataclasses import dataclass
from math import atan2, degrees, hypot

from wise_perch.core.line.points import SPREAD, UNSURE, Body, Point
from wise_perch.core.line.side import Figure

PARTS = ("wrist", "shoulder", "hip", "ankle")


@dataclass(frozen=True, kw_only=True)
class FrontLine:
    """What the front view shows. `hand_width_ratio`: hands' distance over shoulders' distance; angles in
    degrees: `arms_drift` the mean of both arms from the vertical, + with the hands wider than the shoulders;
    `hip_tilt`, `shoulder_tilt` from level and `side_lean` from upright, + down, or over, to the right of the
    picture.
    """

    hand_width_ratio: Figure
    arms_drift: Figure
    hip_tilt: Figure
    shoulder_tilt: Figure
    side_lean: Figure


def front_line(body: Body) -> FrontLine:
    """Judge a front view. Left and right of the picture count, not of the body: from the front a model swaps
    them.
    """
    path = body.path()
    pairs = {part: sorted(body.sides(part), key=lambda p: p.x) for part in PARTS}
    missing = [part for part in PARTS if len(pairs[part]) < 2]
    if path is None or missing:
        why = Figure(because=f"both sides must be seen: {', '.join(missing) or 'a joint is missing'}")
        return FrontLine(hand_width_ratio=why, arms_drift=why, hip_tilt=why, shoulder_tilt=why, side_lean=why)
    spread = SPREAD * path
    (lw, rw), (ls, rs), (lh, rh) = (pairs[part] for part in ("wrist", "shoulder", "hip"))
    hands, shoulders = rw.x - lw.x, rs.x - ls.x
    feet, palms = body.middle("ankle"), body.middle("wrist")
    assert feet is not None
    assert palms is not None
    return FrontLine(
        hand_width_ratio=_ratio(hands, shoulders, _sd((lw, rw), spread), _sd((ls, rs), spread)),
        arms_drift=_drift((lw, ls), (rw, rs), spread),
        hip_tilt=_tilt(lh, rh, spread),
        shoulder_tilt=_tilt(ls, rs, spread),
        side_lean=Figure(
            value=degrees(atan2(feet.x - palms.x, feet.y - palms.y)),
            se=degrees(hypot(spread, spread) / hypot(feet.x - palms.x, feet.y - palms.y)),
        ),
    )


def _sd(points: tuple[Point, Point], spread: float) -> float:
    a, b = (spread if p.sure else UNSURE * spread for p in points)
    return hypot(a, b)


def _ratio(a: float, b: float, sd_a: float, sd_b: float) -> Figure:
    if b <= 0:
        return Figure(because="the shoulders stand behind one another: not seen from the front")
    return Figure(value=a / b, se=hypot(sd_a / b, a * sd_b / b**2))


def _drift(left: tuple[Point, Point], right: tuple[Point, Point], spread: float) -> Figure:
    angles, spreads = [], []
    for (wrist, shoulder), inward in ((left, 1), (right, -1)):
        dx, dy = inward * (shoulder.x - wrist.x), shoulder.y - wrist.y
        if not (dx or dy):
            return Figure(because="two joints on one point")
        angles.append(degrees(atan2(dx, dy)))
        spreads.append(degrees(_sd((wrist, shoulder), spread) / hypot(dx, dy)))
    return Figure(value=sum(angles) / 2, se=hypot(*spreads) / 2)


def _tilt(left: Point, right: Point, spread: float) -> Figure:
    wide = hypot(right.x - left.x, right.y - left.y)
    if not wide:
        return Figure(because="two joints on one point")
    return Figure(
        value=degrees(atan2(left.y - right.y, right.x - left.x)),
        se=degrees(_sd((left, right), spread) / wide),
    )
