"""What a line is held against, as data: targets of drills, and from where on something is a fault."""

from collections.abc import Collection
from dataclasses import dataclass, replace

from wise_perch.core.trade.decision import Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class LineTarget:
    """The line some drills are meant to have: shoulder, hip and knee as turns in degrees from one straight
    line, and the lean; what is None is not judged there. Without `drills` it holds for whatever is upside
    down and in no other. With a `school` it holds for who teaches by that one.
    """

    target: str
    title: str
    drills: tuple[str, ...] = ()
    lean: Figure | None = None
    shoulder: Figure | None = None
    hip: Figure | None = None
    knee: Figure | None = None
    curve: bool = True
    school: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFault:
    """A fault that a line shows, its title, what is measured of it, and the fault of the syllabus whose cue
    and drills help. `range`: the drill whose measured range tells want of range from habit.
    """

    fault: str
    title: str
    measured: str
    helped_by: str = ""
    range: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class LineRules:
    """From where on something is a fault: bends and the lean in degrees off the target, the bow of the back
    as a share of the chord, shoulders ahead of the hands as a share of the path; from the front the hands'
    width over the shoulders', arms off the vertical, hips off level and a lean to the side in degrees.
    `square`: so far off the view is not trusted, degrees; `near`: nearer the camera bends the picture,
    statures; `level`: so far off level it is told, degrees; `least_height`: the least share of the picture's
    height that a body fills. `faults` in the order they are named; `advice`: how a camera is set up.
    """

    bend: Figure
    lean: Figure
    banana: Figure
    ahead: Figure
    hands_wide: Figure
    arms_drift: Figure
    tilt: Figure
    square: Figure
    near: Figure
    level: Figure
    least_height: Figure
    advice: tuple[str, ...]
    targets: tuple[LineTarget, ...]
    faults: tuple[LineFault, ...]

    def taught_by(self, schools: Collection[str]) -> "LineRules":
        """The rules as these schools teach: their own targets first, those of other schools left out."""
        kept = [t for t in self.targets if not t.school or t.school in schools]
        return replace(self, targets=tuple(sorted(kept, key=lambda t: not t.school)))

    def of_drill(self, drill: str, *, inverted: bool) -> LineTarget | None:
        """The line of a drill; None where none is looked at in it."""
        named = next((t for t in self.targets if drill in t.drills), None)
        return named or (next((t for t in self.targets if not t.drills), None) if inverted else None)
