"""Where practitioners disagree: a school is a set of changes to the data, laid over the content."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from wise_perch.core.trade.content import Amendment, Content, DoseRule, Drill, Line, Need, Place, School
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trade.syllabus import Syllabus

Rungs = list[list[Drill]]


class UnknownChoice(ValueError):
    """A question or school that the syllabus does not have; the text is a sentence."""


def chosen_schools(content: Content, choices: Mapping[str, str]) -> tuple[School, ...]:
    """Give the school for every question: the chosen one, or the usual one. Raises UnknownChoice."""
    known = {q.question: q for q in content.schools}
    found = []
    for question in choices:
        if question not in known:
            raise UnknownChoice(f"There is no question of schools named {question}.")
    for name, question_ in known.items():
        wanted = choices.get(name, question_.schools[0].school)
        school = next((s for s in question_.schools if s.school == wanted), None)
        if school is None:
            raise UnknownChoice(f"{question_.title}: there is no school named {wanted}.")
        found.append(school)
    return tuple(found)


def with_schools(syllabus: Syllabus, choices: Mapping[str, str]) -> Syllabus:
    """Lay the chosen schools over a syllabus; where nothing is chosen, the usual ones. Raises
    UnknownChoice.
    """
    schools = chosen_schools(syllabus.content, choices)
    changes = [change for school in schools for change in school.changes]
    version = "+".join([syllabus.version, *(f"{q}:{s}" for q, s in sorted(choices.items()))])
    return replace(
        syllabus,
        version=version,
        content=with_changes(syllabus.content, changes),
        line_rules=syllabus.line_rules.taught_by({school.school for school in schools}),
    )


def with_changes(content: Content, changes: Iterable[Amendment]) -> Content:
    """Lay changes over content, one after the other. A change of a drill that is not there is passed over."""
    lines = {line.line: [list(rung) for rung in line.rungs] for line in content.lines}
    for change in changes:
        for rungs in lines.values():
            _apply_change(rungs, change)
    return replace(content, lines=tuple(_as_line(line, lines[line.line]) for line in content.lines))


def _as_line(line: Line, rungs: Rungs) -> Line:
    return replace(line, rungs=tuple(tuple(rung) for rung in rungs if rung))


def _apply_change(rungs: Rungs, change: Amendment) -> None:
    for rung in rungs:
        for n, d in enumerate(rung):
            if d.drill == change.drill:
                rung[n] = changed_drill(d, change)
                if change.place:
                    move_drill(rungs, rung.pop(n), change.place)
                return


def changed_drill(d: Drill, change: Amendment) -> Drill:
    """One drill with a change laid over it."""
    parts = {
        name: value
        for name in ("gate", "needs", "follows", "doses", "cues")
        if (value := getattr(change, name)) is not None
    }
    made = replace(d, **parts)
    return replace(made, cues=change.add_cues + made.cues) if change.add_cues else made


def move_drill(rungs: Rungs, d: Drill, place: Place) -> None:
    """Put a drill, already taken out, in its place; at the top where the place names nobody here."""
    target = place.below or place.above or place.beside
    at = next((i for i, rung in enumerate(rungs) if any(other.drill == target for other in rung)), None)
    if at is None:
        rungs.append([d])
    elif place.beside:
        rungs[at].append(d)
    else:
        rungs.insert(at if place.below else at + 1, [d])


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One thing in which two syllabuses differ: the drill, which part of it, and how it is said in each."""

    drill: str
    title: str
    part: str
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class _Placed:
    """A drill where it stands: its line with the drills below it by name, and the same in words."""

    drill: Drill
    place: tuple[str, ...]
    words: str


def compare_contents(before: Content, after: Content) -> tuple[Difference, ...]:
    """List drill by drill what differs between two contents: place, gate, needs, cues, doses and the rest."""
    old, new = _drills_with_places(before), _drills_with_places(after)
    return tuple(
        d
        for name in dict.fromkeys([*old, *new])
        for d in _find_differences(name, old.get(name), new.get(name))
    )


def _find_differences(name: str, was: _Placed | None, now: _Placed | None) -> Iterator[Difference]:
    if was is None or now is None:
        title = now.drill.title if now else was.drill.title if was else name
        yield Difference(
            drill=name, title=title, part="drill", before="there" if was else "", after="there" if now else ""
        )
        return
    title = now.drill.title
    if was.place != now.place:
        yield Difference(drill=name, title=title, part="place", before=was.words, after=now.words)
    for part in Drill.__slots__:
        mine, theirs = getattr(was.drill, part), getattr(now.drill, part)
        if mine != theirs:
            yield Difference(
                drill=name, title=title, part=part, before=_say_part(mine), after=_say_part(theirs)
            )


def _drills_with_places(content: Content) -> dict[str, _Placed]:
    found = {}
    for line in content.lines:
        below: tuple[Drill, ...] = ()
        for rung in line.rungs:
            words = f"{line.title}, above {' and '.join(d.title for d in below) or 'the floor'}"
            for d in rung:
                found[d.drill] = _Placed(d, (line.line, *(b.drill for b in below)), words)
            below = rung
    return found


def _say_part(part: object) -> str:
    """A part of a drill in words short enough for a list."""
    if isinstance(part, Gate):
        return part.text
    if isinstance(part, Need):
        asked = (
            f" {part.value.value:g}"
            if part.value
            else f", {part.enough.value:g} together"
            if part.enough
            else ""
        )
        return f"{' or '.join(part.any_of)}{asked} {part.state}"
    if isinstance(part, DoseRule):
        bounds = [
            f"{part.sets.text} sets" if part.sets else "",
            f"of {part.each.text} {part.unit}" if part.each else "",
            f"at {part.of_best.text} % of the best" if part.of_best else "",
            part.words,
        ]
        return " ".join(filter(None, bounds))
    if isinstance(part, tuple):
        return "; ".join(_say_part(p) for p in part)
    return "" if part is None else str(part)
