"""What happened beside training: pain, cautions and their clearing, changes of goal, school and syllabus, and
pauses.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise
from typing import Literal

from wise_perch.core.progress.series import Series
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import capitalise, say_list, within
from wise_perch.core.trainee.pain import Ache

EventKind = Literal["pause", "pain", "caution", "cleared", "goal", "school", "syllabus", "gate"]
CHANGES: tuple[EventKind, ...] = ("goal", "school")
"""The changes of a programme. A syllabus may change in what this trainee never meets."""
SAME_SPELL_DAYS = 7
"""Pain told again within so many days is the same pain."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """One thing that happened on a day, or from it `until` another; `level` of pain, 0 to 10."""

    day: date
    until: date | None = None
    kind: EventKind
    words: str
    level: int | None = None


ChangeKind = Literal["goal-chosen", "goal-dropped", "goal-first", "school", "syllabus"]


@dataclass(frozen=True, slots=True, kw_only=True)
class CourseChange:
    """A change of what is trained for or how: a goal by its name, a question with the school before and the
    one since (empty for the coach's own), or the note of a new syllabus.
    """

    day: date
    kind: ChangeKind
    what: str
    was: str = ""
    now: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class IntakeOn:
    """An intake as it was written on a day."""

    day: date
    profile: Profile


@dataclass(frozen=True, kw_only=True)
class Told:
    """All that was told of a trainee beside what was done, each in the order of its days."""

    aches: Sequence[Ache] = ()
    intakes: Sequence[IntakeOn] = ()
    changes: Sequence[CourseChange] = ()


def gather_events(told: Told, syllabus: Syllabus, *, on: date) -> tuple[Event, ...]:
    """Everything that was told, as events up to a day, oldest first."""
    found = [*_pains(told.aches), *_cautions(told.intakes, syllabus), *_changes(told.changes, syllabus)]
    return tuple(sorted((e for e in found if e.day <= on), key=lambda e: (e.day, e.kind, e.words)))


def _pains(aches: Iterable[Ache]) -> Iterable[Event]:
    """Pain joint by joint: what is told again within days is one event, with its worst word. What hurts no
    more is none.
    """
    told: dict[str, list[Ache]] = {}
    for a in sorted((a for a in aches if a.level > 0), key=lambda a: a.day):
        told.setdefault(a.joint, []).append(a)
    for joint, of_joint in told.items():
        spells = [of_joint[:1]]
        for before, a in pairwise(of_joint):
            if (a.day - before.day).days > SAME_SPELL_DAYS:
                spells.append([])
            spells[-1].append(a)
        for spell in spells:
            worst = max(spell, key=lambda a: (a.level, a.sharp))
            sharp = ", sharp or tingling" if worst.sharp else ""
            first, last = spell[0].day, spell[-1].day
            yield Event(
                day=first,
                until=last if last > first else None,
                kind="pain",
                level=worst.level,
                words=f"{joint} {worst.level} of 10{sharp}",
            )


def _cautions(intakes: Sequence[IntakeOn], syllabus: Syllabus) -> Iterable[Event]:
    """What each intake named anew, and when it was cleared."""
    titles = {q.caution: q.question.rstrip("?").lower() for q in syllabus.intake.cautions}
    named: set[str] = set()
    cleared = False
    for written in intakes:
        yes = {c for c, answer in written.profile.cautions.items() if answer and c in titles}
        if new := sorted(yes - named):
            words = f"intake named {say_list([titles[c] for c in new])}"
            yield Event(day=written.day, kind="caution", words=words)
            cleared = False
        if yes and written.profile.cleared and not cleared:
            yield Event(day=written.day, kind="cleared", words="cautions cleared")
        named, cleared = yes, written.profile.cleared


def _changes(changes: Sequence[CourseChange], syllabus: Syllabus) -> Iterable[Event]:
    """Changes of goal, school and syllabus. The first goals are a beginning and no change."""
    chosen = [c.day for c in changes if c.kind == "goal-chosen"]
    first = min(chosen, default=None)
    goals = {g.goal: g.title for g in syllabus.content.goals}
    for c in changes:
        goal = goals.get(c.what, c.what)
        lower = within(goal)
        match c.kind:
            case "goal-chosen" if c.day != first:
                yield Event(day=c.day, kind="goal", words=f"goal added: {lower}")
            case "goal-dropped" if c.day != first:
                yield Event(day=c.day, kind="goal", words=f"goal dropped: {lower}")
            case "goal-first" if c.day != first:
                yield Event(day=c.day, kind="goal", words=f"goal put first: {lower}")
            case "school":
                yield Event(day=c.day, kind="school", words=_say_school(c, syllabus))
            case "syllabus":
                yield Event(day=c.day, kind="syllabus", words="syllabus changed")


def _say_school(c: CourseChange, syllabus: Syllabus) -> str:
    asked = next((q for q in syllabus.content.schools if q.question == c.what), None)
    if asked is None:
        return f"another school: {c.what}"
    titles: Mapping[str, str] = {s.school: s.title for s in asked.schools}
    usual = asked.schools[0].title
    was, now = (titles.get(name, name) if name else usual for name in (c.was, c.now))
    return f"{capitalise(asked.title.rstrip('?'))}: {now.lower()} (was {was.lower()})"


def pauses_in(days: Sequence[date], *, gap_days: float) -> tuple[Event, ...]:
    """Where nothing was done for longer than a gap, by days in order."""
    return tuple(
        Event(day=a, until=b, kind="pause", words=f"away for {(b - a).days // 7} weeks")
        for a, b in pairwise(days)
        if (b - a).days > gap_days
    )


def first_fall(series: Series, *, on: date) -> Event | None:
    """The first day on which a series met its gate."""
    met = [r.day for r in series.readings if r.day <= on and series.reaches(r)]
    if not met:
        return None
    return Event(day=min(met), kind="gate", words=f"{series.gate.amount} for the first time")
