"""Key points of one body in one picture, as they are judged: upright axes, joints of both sides joined."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from math import sqrt
from typing import Literal

View = Literal["side", "front"]
COCO = (
    "nose",
    *(f"{side}_{part}" for part in ("eye", "ear", "shoulder") for side in ("left", "right")),
    *(f"{side}_{part}" for part in ("elbow", "wrist", "hip", "knee", "ankle") for side in ("left", "right")),
)
"""The seventeen points of the COCO key point format, in its order (Lin and others, Microsoft COCO: Common
objects in context, 2014, value from memory).
"""
EXTRA = tuple(f"{side}_{part}" for part in ("toe", "heel", "finger") for side in ("left", "right"))
"""What is known beyond them, where a model or a hand says it."""
SPREAD, UNSURE = 0.0085, 2.0
"""How far a point may be off to either axis, as a standard deviation and a share of the path from wrist to
ankle, and how much farther where it was only guessed. Ours: on drawn bodies joints were found within 1.0 to
1.2 % of the path.
"""
CHAIN = ("wrist", "shoulder", "hip", "knee", "ankle")


@dataclass(frozen=True, slots=True, kw_only=True)
class Point:
    """A point of a picture, y turned up; `sure` where it was seen, not guessed. `of`: how many points it is
    the middle of.
    """

    x: float
    y: float
    sure: bool = True
    of: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """A joint as it is judged: where it is, in the unit of the picture, and its standard deviation there."""

    x: float
    y: float
    sd: float


@dataclass(frozen=True, kw_only=True)
class Body:
    """One body in one picture. `points` by their COCO names, and toes, heels and fingers where they are
    known; `width` and `height` of the picture, None where it is not known.
    """

    view: View
    points: Mapping[str, Point]
    width: float | None = None
    height: float | None = None

    def sides(self, part: str) -> list[Point]:
        """The points of a part on both sides, as far as they are known."""
        return [p for side in ("left", "right") if (p := self.points.get(f"{side}_{part}"))]

    def middle(self, part: str) -> Point | None:
        """The middle of a part: of both sides where both are sure or neither is, else of the sure one."""
        known = self.sides(part)
        used = [p for p in known if p.sure] or known
        if not used:
            return None
        many = len(used)
        return Point(
            x=sum(p.x for p in used) / many,
            y=sum(p.y for p in used) / many,
            sure=all(p.sure for p in used),
            of=many,
        )

    def path(self) -> float | None:
        """The length from wrist to ankle along the joints, in the unit of the picture; None where one is
        missing.
        """
        found = [self.middle(part) for part in CHAIN]
        total = 0.0
        for a, b in pairwise(found):
            if a is None or b is None:
                return None
            total += ((a.x - b.x) ** 2 + (a.y - b.y) ** 2) ** 0.5
        return total or None

    def joint(self, part: str, *, spread: float) -> Joint | None:
        """A joint with its standard deviation: `spread` for one point that is sure, less for the middle of
        two.
        """
        p = self.middle(part)
        if p is None:
            return None
        return Joint(x=p.x, y=p.y, sd=(1.0 if p.sure else UNSURE) * spread / sqrt(p.of))

    @property
    def over(self) -> int | None:
        """The side to which the fingers point, +1 to the right of the picture: told by fingers or, since the
        face looks the other way, by the ears against the nose. None where neither is known.
        """
        wrist, fingers = self.middle("wrist"), self.middle("finger")
        if wrist and fingers and fingers.x != wrist.x:
            return 1 if fingers.x > wrist.x else -1
        nose, ears = self.points.get("nose"), self.middle("ear")
        if nose and ears and nose.x != ears.x:
            return 1 if ears.x > nose.x else -1
        return None
