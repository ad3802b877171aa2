"""The joints that can be taken hold of, the outline that stands for a picture, and a straight body to begin
with.
"""

from dataclasses import dataclass

from wise_perch.core.body.constants import LENGTH_SHARES
from wise_perch.core.line.points import CHAIN, Body, View
from wise_perch.core.line.side import PATH_OF_STATURE

SEGMENTS = (("upper-arm", "forearm"), ("trunk",), ("thigh",), ("shank",))
"""The segments between the joints of the chain, from the wrist up."""
Place = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Handle:
    """A joint that can be taken hold of: where it stands, image axes, px; the points that move with it; and
    whether it was seen.
    """

    joint: str
    title: str
    x: float
    y: float
    moves: tuple[str, ...]
    sure: bool


@dataclass(frozen=True, kw_only=True)
class Outline:
    """The outline of a body: strokes from joint to joint as shares of the path from wrist to ankle, y up,
    from the middle of the hands; `over`: the side to which the fingers point.
    """

    view: View
    strokes: tuple[tuple[Place, ...], ...]
    over: int | None


def handles_of(body: Body) -> tuple[Handle, ...]:
    """The joints of a body: from the side each once, from the front both sides."""
    high = body.height or 0.0
    found = []
    for part in CHAIN:
        if body.view == "side":
            middle = body.middle(part)
            names = tuple(f"{s}_{part}" for s in ("left", "right") if f"{s}_{part}" in body.points)
            if middle:
                found.append(
                    Handle(
                        joint=part,
                        title=part,
                        x=middle.x,
                        y=high - middle.y,
                        moves=names,
                        sure=middle.sure,
                    )
                )
            continue
        # left and right of the picture: which side of the body it is nobody can be sure of from the front
        named = sorted(
            ((p.x, f"{s}_{part}") for s in ("left", "right") if (p := body.points.get(f"{s}_{part}"))),
        )
        for (_, name), where in zip(named, ("left in the picture", "right in the picture"), strict=False):
            p = body.points[name]
            found.append(
                Handle(
                    joint=f"{part} {where}",
                    title=f"{part}, {where}",
                    x=p.x,
                    y=high - p.y,
                    moves=(name,),
                    sure=p.sure,
                )
            )
    return tuple(found)


def outline_of(body: Body) -> Outline:
    """The outline of a body; no strokes where a joint is missing."""
    path, hands = body.path(), body.middle("wrist")
    if path is None or hands is None:
        return Outline(view=body.view, strokes=(), over=body.over)

    def place(x: float, y: float) -> Place:
        return (round((x - hands.x) / path, 4), round((y - hands.y) / path, 4))

    if body.view == "side":
        middles = [p for part in CHAIN if (p := body.middle(part))]
        return Outline(view="side", strokes=(tuple(place(p.x, p.y) for p in middles),), over=body.over)
    by_part = {part: sorted(body.sides(part), key=lambda p: p.x) for part in CHAIN}
    limbs = tuple(
        tuple(
            place(by_part[part][-1 if right else 0].x, by_part[part][-1 if right else 0].y) for part in CHAIN
        )
        for right in (False, True)
    )
    across = tuple(
        tuple(place(p.x, p.y) for p in by_part[part])
        for part in ("shoulder", "hip")
        if len(by_part[part]) == 2
    )
    return Outline(view="front", strokes=limbs + across, over=None)


def usual_shape() -> dict[str, Place]:
    """A straight body to place by hand: its joints as shares of the path above the hands, by part."""
    heights, total = [0.0], 0.0
    for names in SEGMENTS:
        total += sum(LENGTH_SHARES[n].value for n in names) / PATH_OF_STATURE
        heights.append(total)
    return {part: (0.0, round(h, 4)) for part, h in zip(CHAIN, heights, strict=True)}
