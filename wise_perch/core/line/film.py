"""The lean of every frame of a film, from its joints."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.line.frames import FramesJudged, judge_frames, pack
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
    told = judge_frames(pack(bodies))
    side = fingers or _most(bodies, told)
    leans = iter(zip(bodies, told.lean, told.inverted, told.seen, strict=True))
    return tuple(f if isinstance(f, LeanSeen) else _seen(f[0], *next(leans), side=side) for f in frames), side


def _most(bodies: Sequence[Body], told: FramesJudged) -> Fingers | None:
    votes = sum(b.over or 0 for b, up in zip(bodies, told.inverted, strict=True) if up)
    return 1 if votes > 0 else -1 if votes < 0 else None


def _seen(
    t_s: float, body: Body, lean: float, inverted: bool, seen: bool, *, side: Fingers | None
) -> LeanSeen:
    feet = body.middle("ankle")
    lost: Lost | None = "body" if not body.points else "feet" if feet is None or not feet.sure else None
    if not seen or side is None:
        return LeanSeen(t_s=t_s, lean_deg=None, inverted=bool(inverted) if seen else None, lost=lost)
    return LeanSeen(t_s=t_s, lean_deg=round(side * float(lean), 2), inverted=bool(inverted), lost=lost)
