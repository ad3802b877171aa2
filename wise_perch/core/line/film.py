"""The lean of every frame of a film, from its joints."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, degrees
from typing import Literal

from wise_perch.core.line.holds import Frame
from wise_perch.core.line.points import Body

Fingers = Literal[-1, 1]
Lost = Literal["body", "feet"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LeanSeen:
    """What was seen in one frame, s: the lean in degrees, + over, and whether the body is upside down; None
    where nobody was found. `lost`: what the picture loses.
    """

    t_s: float
    lean_deg: float | None
    inverted: bool | None
    lost: Lost | None = None

    def as_frame(self) -> Frame:
        """The frame as holds are found in it."""
        return Frame(t_s=self.t_s, lean_deg=self.lean_deg, inverted=self.inverted)


def lean_of(
    frames: Sequence[LeanSeen | tuple[float, Body]], *, fingers: Fingers | None = None
) -> tuple[tuple[LeanSeen, ...], Fingers | None]:
    """The leans of a film's frames, and where the fingers point: as told, or as most frames that show a body
    upside down say. A frame that was judged before stays as it is. A film without that is not read.
    """
    bodies = [f[1] for f in frames if not isinstance(f, LeanSeen)]
    side = fingers or _most(bodies)
    return tuple(f if isinstance(f, LeanSeen) else _seen(*f, side) for f in frames), side


def _most(bodies: Sequence[Body]) -> Fingers | None:
    votes = sum(b.over or 0 for b in bodies if _upside_down(b))
    return 1 if votes > 0 else -1 if votes < 0 else None


def _upside_down(body: Body) -> bool | None:
    """Whether the hands carry the body: the hips stand above the hands, and the head below the hips. None
    where that is not seen.
    """
    hands, hips, feet = (body.middle(part) for part in ("wrist", "hip", "ankle"))
    shoulders = body.middle("shoulder")
    if hands is None or hips is None or feet is None or shoulders is None:
        return None
    return hips.y > shoulders.y > hands.y


def _seen(t_s: float, body: Body, side: Fingers | None) -> LeanSeen:
    inverted = _upside_down(body)
    hands, feet = body.middle("wrist"), body.middle("ankle")
    lost: Lost | None = "body" if not body.points else "feet" if feet is None or not feet.sure else None
    if inverted is None or hands is None or feet is None or side is None:
        return LeanSeen(t_s=t_s, lean_deg=None, inverted=inverted, lost=lost)
    lean = degrees(atan2(side * (feet.x - hands.x), feet.y - hands.y))
    return LeanSeen(t_s=t_s, lean_deg=round(lean, 2), inverted=inverted, lost=lost)
