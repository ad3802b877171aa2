"""A picture's joints made ready to be kept, with what is said of them."""

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from wise_perch.core.line.judge import farthest_off, judge_line
from wise_perch.core.line.kept import KeptLine, LineHeading, Triple, body_of
from wise_perch.core.line.points import View
from wise_perch.core.line.words import say_line
from wise_perch.core.trade.line_rules import LineTarget
from wise_perch.core.trade.syllabus import Syllabus


class NotWhole(ValueError):
    """A joint is missing without which no line is kept."""

    says = "Place wrist, shoulder, hip, knee and ankle first."


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """A picture's joints as they were placed: by their COCO names as x, y, v, image axes, px; `day`: when it
    was taken.
    """

    id: UUID
    at: datetime
    day: date
    drill: str
    view: View
    points: dict[str, Triple]
    width: float
    height: float
    run: UUID | None = None
    note: str = ""


def judge_to_keep(
    taken: Taken, target: LineTarget, syllabus: Syllabus, *, stature_cm: float | None
) -> KeptLine:
    """Judge a picture as it is kept. Raises NotWhole."""
    body = body_of(taken.points, taken.view, width=taken.width, height=taken.height)
    if body.path() is None:
        raise NotWhole
    judged = judge_line(body, target, syllabus.line_rules)
    said = say_line(judged, target, syllabus, stature_cm=stature_cm)
    return KeptLine(
        id=taken.id,
        drill=taken.drill,
        view=taken.view,
        at=taken.at,
        day=taken.day,
        points=taken.points,
        width=taken.width,
        height=taken.height,
        said=LineHeading(heading=said.heading, faults=said.faults, camera=said.camera),
        off_deg=farthest_off(judged, target),
        run=taken.run,
        note=taken.note,
    )
