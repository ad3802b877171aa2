"""Lines kept of the made-up people: bodies drawn from turns of their joints, as a picture would show them."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from math import cos, radians, sin
from random import Random
from uuid import UUID

from uuid_utils.compat import uuid7

from wise_perch.core.line.keeping import Taken, judge_to_keep
from wise_perch.core.line.kept import KeptLine, Triple
from wise_perch.core.line.points import View
from wise_perch.core.line.shape import usual_shape
from wise_perch.core.trade.syllabus import Syllabus

WIDTH, HEIGHT, PATH = 480.0, 640.0, 460.0
HANDS = (240.0, 570.0)
SHAKE = 1.5
"""How far a joint is off in the demo's pictures, px, as a standard deviation."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    """How somebody stood on a day, so many weeks ago: lean and turns in degrees as the line names them;
    `hands` apart in shoulder breadths, from the front.
    """

    weeks_ago: int
    drill: str
    view: View = "side"
    lean: float = 0
    closed: float = 0
    pike: float = 0
    hands: float = 1.0
    note: str = ""


SHAPES: Mapping[str, tuple[Shape, ...]] = {
    "Runa Aske": (
        Shape(weeks_ago=8, drill="free-hold-10", pike=-26, lean=1, note="First film from the side."),
        Shape(weeks_ago=4, drill="free-hold-10", pike=-17, lean=2),
        Shape(weeks_ago=1, drill="free-hold-10", pike=-9, lean=1.5),
        Shape(weeks_ago=1, drill="free-hold-10", view="front", hands=1.1),
    ),
    "Tove Brenna": (
        Shape(weeks_ago=6, drill="chest-to-wall-hold", closed=26, lean=-6),
        Shape(weeks_ago=1, drill="chest-to-wall-hold", closed=16, lean=-5),
    ),
    "Ragna Voll": (
        Shape(weeks_ago=3, drill="free-hold-30", closed=2, pike=-3, lean=0.5),
        Shape(weeks_ago=3, drill="free-hold-30", view="front", hands=1.05),
    ),
    "Jorun Eik": (Shape(weeks_ago=2, drill="back-to-wall-hold", view="front", hands=1.7),),
}


def drawn_lines(
    name: str, *, syllabus: Syllabus, stature_cm: float | None, until: date, seed: int
) -> list[KeptLine]:
    """The lines kept of one of the made-up people up to a day."""
    luck = Random(f"{seed} lines {name}")
    found = []
    for shape in SHAPES.get(name, ()):
        target = syllabus.line_target(shape.drill)
        if target is None:
            continue
        day = until - timedelta(weeks=shape.weeks_ago)
        found.append(
            judge_to_keep(
                Taken(
                    id=UUID(str(uuid7())),
                    at=datetime.combine(day, time(18, 30), UTC),
                    day=day,
                    drill=shape.drill,
                    view=shape.view,
                    points=_joints(shape, luck),
                    width=WIDTH,
                    height=HEIGHT,
                    note=shape.note,
                ),
                target,
                syllabus,
                stature_cm=stature_cm,
            )
        )
    return found


def _joints(shape: Shape, luck: Random) -> dict[str, Triple]:
    heights = {part: at[1] for part, at in usual_shape().items()}
    parts = list(heights)
    leans = (0.0, -shape.closed, -shape.closed - shape.pike, -shape.closed - shape.pike)
    x, y = [0.0], [0.0]
    for (a, b), lean in zip(pairwise(parts), leans, strict=True):
        long = PATH * (heights[b] - heights[a])
        x.append(x[-1] + long * sin(radians(lean)))
        y.append(y[-1] + long * cos(radians(lean)))
    # the whole body is turned over its hands until it leans as it should
    lean = radians(shape.lean) if shape.view == "side" else 0.0
    top = (x[-1] ** 2 + y[-1] ** 2) ** 0.5
    s, c = x[-1] / top, y[-1] / top
    points: dict[str, Triple] = {}
    for part, px, py in zip(parts, x, y, strict=True):
        ux, uy = c * px - s * py, s * px + c * py
        vx, vy = cos(lean) * ux + sin(lean) * uy, cos(lean) * uy - sin(lean) * ux
        half = 0.0
        if shape.view == "front":
            breadth = PATH * 0.24
            half = breadth / 2 * {"wrist": shape.hands, "shoulder": 1.0}.get(part, 0.7)
        for side, sign in (("left", -1), ("right", 1)):
            points[f"{side}_{part}"] = (
                round(HANDS[0] + vx + sign * half + luck.gauss(0, SHAKE), 1),
                round(HANDS[1] - vy + luck.gauss(0, SHAKE), 1),
                2.0,
            )
    if shape.view == "side":
        points["left_finger"] = (HANDS[0] + 30, HANDS[1], 2.0)
    return points
