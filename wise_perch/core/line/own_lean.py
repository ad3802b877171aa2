"""How a trainee's own handstands lean, from the lines that are kept of them."""

from collections.abc import Iterable
from dataclasses import dataclass
from statistics import median

from wise_perch.core.line.kept import KeptLine
from wise_perch.core.line.side import TWO_SIDED, side_line
from wise_perch.core.trade.syllabus import Syllabus


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnLean:
    """The middle lean of a trainee's own handstands, degrees, + over, of so many `lines`, and how far it is
    off at most in 95 of 100.
    """

    lean_deg: float
    lines: int
    words: str


def own_lean(lines: Iterable[KeptLine], syllabus: Syllabus) -> OwnLean | None:
    """The lean of the lines of drills that are meant to stand upright, seen from the side; None without
    any.
    """
    found = []
    for line in lines:
        target = syllabus.line_target(line.drill)
        if line.view != "side" or target is None or target.lean is None:
            continue
        lean = side_line(line.body).lean
        if lean.value is not None and lean.se is not None:
            found.append((lean.value, lean.se))
    if not found:
        return None
    middle = median(value for value, _ in found)
    doubt = TWO_SIDED * max(se for _, se in found)
    many = "the line kept" if len(found) == 1 else f"{len(found)} lines kept"
    side = "over" if middle > 0 else "under"
    return OwnLean(
        lean_deg=round(middle, 2),
        lines=len(found),
        words=f"Own lean by {many}: {abs(middle):.1f}° {side}, ± {doubt:.1f}°.",
    )
