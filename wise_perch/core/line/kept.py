"""Lines that are kept: the joints of a picture and from where it was taken. No picture is ever kept."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from wise_perch.core.line.points import Body, Point, View

SEEN, GUESSED = 2, 1
"""How sure a point is in the COCO key point format: seen, or labelled but not seen."""
Triple = tuple[float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class LineHeading:
    """What was said of a line when it was kept: the heading, faults by name, and of the camera."""

    heading: str
    faults: tuple[str, ...]
    camera: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptLine:
    """One line as it is kept. `points` by their COCO names as x, y, v, image axes, px; `said`: what was said
    of it then; `off_deg`: no angle is told to be farther from what the drill is meant to have, None where the
    picture does not tell; `run`: the run whose film it is from.
    """

    id: UUID
    drill: str
    view: View
    at: datetime
    day: date
    points: dict[str, Triple]
    width: float
    height: float
    said: LineHeading
    off_deg: float | None = None
    run: UUID | None = None
    note: str = ""
    struck_at: datetime | None = None

    @property
    def body(self) -> Body:
        """The body of the picture."""
        return body_of(self.points, self.view, width=self.width, height=self.height)


def body_of(points: Mapping[str, Triple], view: View, *, width: float | None, height: float | None) -> Body:
    """A body from its points, x, y, v in image axes, with y turned up; what was not labelled is left out."""
    high = height or 0.0
    return Body(
        view=view,
        points={
            name: Point(x=x, y=high - y, sure=v >= SEEN) for name, (x, y, v) in points.items() if v >= GUESSED
        },
        width=width,
        height=height,
    )
