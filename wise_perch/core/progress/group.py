"""A whole group in a glance: who stands still, who has not been seen, who moves, what fell; sorted by what
wants a word.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from uuid import UUID

from wise_perch.core.trainee.course_brief import WANTS, CourseBrief, CourseKind
from wise_perch.core.trainee.early import WrongTurn


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupRow:
    """One trainee of a group. `course` is None while it is being worked out; `turns`: what is told early."""

    id: UUID
    name: str
    course: CourseBrief | None
    turns: tuple[WrongTurn, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """A group, sorted by what wants a word, and how many there are of each kind."""

    rows: tuple[GroupRow, ...]
    counts: dict[CourseKind, int]
    fell: int


def sort_group(rows: Iterable[GroupRow]) -> Group:
    """Put those first of whom something is told early, then by their course; who is not known yet last."""

    def place(row: GroupRow) -> tuple[bool, int, str]:
        rank = WANTS.index(row.course.kind) if row.course else len(WANTS)
        told = bool(row.turns) and row.course is not None
        return (
            not told and rank > WANTS.index("unmoved"),
            rank if not told else min(rank, 1),
            row.name.lower(),
        )

    ordered = tuple(sorted(rows, key=place))
    counts = {kind: sum(r.course is not None and r.course.kind == kind for r in ordered) for kind in WANTS}
    return Group(rows=ordered, counts=counts, fell=sum(len(r.course.fell) for r in ordered if r.course))
