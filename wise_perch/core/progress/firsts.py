"""Since we began: the firsts of a trainee with their days."""

from dataclasses import dataclass
from datetime import date

from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.course_brief import first_pass

MOST = 12
"""So many firsts fit on a card."""


@dataclass(frozen=True, slots=True, kw_only=True)
class First:
    """A gate that fell for the first time, on its day."""

    drill: str
    title: str
    line: str
    amount: str
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class SinceWeBegan:
    """What a card says: the first day anything was recorded, how many weeks and days of practice, and the
    firsts, oldest first: of each line the highest that fell, and what fell last.
    """

    since: date | None
    weeks: int
    days: int
    firsts: tuple[First, ...]
    many: int


def every_first(case: JudgedCase) -> tuple[First, ...]:
    """Every gate that ever fell, by its first day."""
    syllabus, marks = case.syllabus, case.wall.marks
    found = [
        First(
            drill=d.drill,
            title=d.title,
            line=line.line,
            amount="" if d.gate.fewer or d.gate.amount in d.title else d.gate.amount,
            day=day,
        )
        for line, _, d in syllabus.placed()
        if (day := first_pass(d.drill, marks, syllabus)) is not None
    ]
    return tuple(sorted(found, key=lambda f: (f.day, f.title)))


def since_we_began(case: JudgedCase) -> SinceWeBegan:
    """Make the card of a case with all of its evidence at hand."""
    every = every_first(case)
    place = {d.drill: (line.line, height) for line, height, d in case.syllabus.placed()}
    highest: dict[str, First] = {}
    for f in every:
        line, height = place[f.drill]
        if line not in highest or height > place[highest[line].drill][1]:
            highest[line] = f
    wanted = {f.drill: f for f in (*highest.values(), *every[:1])}
    for f in reversed(every):
        if len(wanted) < MOST:
            wanted.setdefault(f.drill, f)
    days = sorted({p.day for p in case.history.every()})
    return SinceWeBegan(
        since=days[0] if days else None,
        weeks=(case.on - days[0]).days // 7 if days else 0,
        days=len(days),
        firsts=tuple(f for f in every if f.drill in wanted),
        many=len(every),
    )
