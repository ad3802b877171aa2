"""What stands around a body in a drawing of a lever: floor, boxes, pads, wall, ball, and the distance that is
dialled.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.segments import CM
from wise_perch.core.body.words import FigureShown
from wise_perch.core.trade.mechanics import Lever, Mechanics, Surrounding

HARDLY_M = 0.005
"""A box lower than this is none, m."""
BALL_UNDER_M = 0.03
"""The ball's top lies so far below the joint that it carries, m."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """A box, block or stack of pads from the side, m like the joints. `words` on it; `soft`: pads."""

    start: float
    end: float
    top: float
    bottom: float
    words: str
    soft: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Ball:
    """A ball on the floor, m: where, and how high its top is."""

    x: float
    top: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A distance along the floor, drawn as a measure, m."""

    start: float
    end: float
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """What stands around the body. `floor`: its height, m, below the hands where they stand raised; `wall`:
    where it is, m.
    """

    floor: float = 0.0
    boxes: tuple[Box, ...] = ()
    wall: float | None = None
    ball: Ball | None = None
    span: Span | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class JointLabel:
    """A figure at a joint, as it is said."""

    joint: str
    words: str


def furnish_room(
    lever: Lever, answer: Answer, settings: Mapping[str, float], in_body: Mapping[str, str]
) -> Room:
    """Put what the lever's data names around a solved position. `in_body`: settings in the trainee's own
    lengths, by knob.
    """
    boxes: list[Box] = []
    floor, wall, ball, span = 0.0, None, None, None
    for piece in lever.surroundings:
        measure = _measure_of(piece, settings, answer)
        match piece.kind:
            case "box":
                boxes += _box_pieces(piece, answer, measure)
            case "pads":
                boxes += _pad_pieces(piece, measure)
                floor = min(0.0, measure)
            case "wall":
                wall = piece.side * measure
            case "ball":
                x, z = answer.joints[piece.at]
                ball = Ball(x=x, top=z - BALL_UNDER_M)
        if piece.measured:
            own = in_body.get(piece.measure, "")
            words = f"{piece.measured} {settings[piece.measure]:g} cm" + (f" · {own}" if own else "")
            ends = sorted(
                (0.0, wall if piece.kind == "wall" and wall is not None else answer.joints[piece.at][0])
            )
            span = Span(start=ends[0], end=ends[1], words=words)
    return Room(floor=floor, boxes=tuple(boxes), wall=wall, ball=ball, span=span)


SHARE_ON_HANDS = "share"
"""The figure that says what the hands carry."""


def label_joints(
    mechanics: Mechanics, lever: Lever, figures: Sequence[FigureShown]
) -> tuple[JointLabel, ...]:
    """The figures that stand at a joint in a drawing, by the data of what they are."""
    found = []
    for f in figures:
        if joint := mechanics.figures[f.figure].joint:
            found.append(JointLabel(joint=lever.contact if joint == "contact" else joint, words=f.words))
    return tuple(found)


def fingers_point(answer: Answer) -> int:
    """Which way the fingers point in a drawing: 1 or -1, as the model lays the hand."""
    tips, wrist = answer.joints.get("fingertips"), answer.joints.get("wrist")
    return -1 if tips and wrist and tips[0] < wrist[0] else 1


def _measure_of(piece: Surrounding, settings: Mapping[str, float], answer: Answer) -> float:
    """The height or distance a piece stands for, m: a knob's setting, or a figure in cm."""
    return (
        settings[piece.measure] if piece.measure in settings else answer.figures.get(piece.measure, 0.0)
    ) / CM


def _box_pieces(piece: Surrounding, answer: Answer, height: float) -> list[Box]:
    if height <= HARDLY_M:
        return []
    x, _ = answer.joints[piece.at]
    start, end = x - piece.ahead_cm / CM, x + piece.behind_cm / CM
    return [Box(start=start, end=end, top=height, bottom=0.0, words=f"{height * CM:.0f} cm")]


def _pad_pieces(piece: Surrounding, height: float) -> list[Box]:
    """Pads under the head, or, below zero, what raises the hands."""
    words = f"{abs(height) * CM:g} cm"
    if height > 0:
        return [
            Box(
                start=-piece.ahead_cm / CM,
                end=piece.behind_cm / CM,
                top=height,
                bottom=0.0,
                words=words,
                soft=True,
            )
        ]
    start, end = -piece.hands_ahead_cm / CM, piece.hands_behind_cm / CM
    return [Box(start=start, end=end, top=0.0, bottom=height, words=words)] if height < 0 else []
