"""What is wrong with a syllabus, ours or a coach's own: every fault with the place in the file it
stands at.
"""

import re
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from wise_perch.core.trade.content import Amendment, Content, DoseRule, Drill, Line
from wise_perch.core.trade.evidence import MEASURE_UNITS, Measure
from wise_perch.core.trade.file_lines import Path
from wise_perch.core.trade.gates import FALLING, DialLimit, Gate, is_whole
from wise_perch.core.trade.own_tests import OWN, own_test_problems
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.schools import with_schools
from wise_perch.core.trade.syllabus import Syllabus


@dataclass(frozen=True, slots=True)
class Problem:
    """One fault: where in the content it stands (keys and places in lists, from the outside in), and the
    sentence.
    """

    path: Path
    what: str


def find_problems(syllabus: Syllabus) -> list[Problem]:
    """List what is wrong; empty if the syllabus is sound."""
    content = syllabus.content
    placed = list(_drills_with_places(content))
    found = list(_named_twice(placed))
    found += _unknown_postures(syllabus, placed)
    found += _own_tests(syllabus, {d.drill: d for _, _, d in placed if not d.retired})
    active = {d.drill for _, _, d in placed if not d.retired}
    retired = {d.drill for _, _, d in placed if d.retired} - active
    for path, _, d in placed:
        found += _drill_problems(path, d, content)
    found += _unknown_names(syllabus, placed, active, retired)
    found += _session_names(content, active | retired)
    found += [
        Problem(("schools", n), f"{q.title}: a question needs a school.")
        for n, q in enumerate(content.schools)
        if not q.schools
    ]
    if found:
        return found
    found += _check_order(syllabus, placed)
    if not found:
        found += _check_schools(syllabus)
    return found


def _own_tests(syllabus: Syllabus, active: Mapping[str, Drill]) -> Iterator[Problem]:
    """A coach's own tests, each of a name of its own and for a drill in use; what is set aside must be
    there.
    """
    content = syllabus.content
    taken = {name for name in syllabus.tests if not name.startswith(OWN)}
    for n, own in enumerate(content.own_tests):
        yield from (Problem(("own_tests", n), what) for what in own_test_problems(own, active, taken))
        taken.add(own.test)
    for n, name in enumerate(content.tests_aside):
        if name not in taken:
            yield Problem(("tests_aside", n), f"There is no test named {name[:60]} to set aside.")


def _unknown_postures(syllabus: Syllabus, placed: Sequence[tuple[Path, Line, Drill]]) -> Iterator[Problem]:
    """A drawing of a drill's own may only be like postures that there are."""
    named = {p.name for p in syllabus.poses.postures}
    for path, _, d in placed:
        ends = (d.drawing.start, d.drawing.end) if d.drawing else ()
        for end in ends:
            if end and end.like and end.like not in named:
                yield Problem((*path, "drawing"), f"{d.drill}: there is no posture named {end.like[:60]}.")


def _session_names(content: Content, drills: set[str]) -> Iterator[Problem]:
    """What a coach's own rules of sessions name must be there; a phase without anything in it is no fault."""
    rules = content.sessions
    if rules is None:
        return
    lines = {line.line for line in content.lines}
    named: dict[str, Sequence[str]] = {
        "phases": [name for p in rules.phases for name in (*p.drills, *p.always)],
        "heavy": (*rules.heavy.push, *rules.heavy.press),
        "joints": tuple(rules.joints.drills),
        "rehearsal": rules.rehearsal.drills,
        "kick_up": (rules.kick_up.until, *rules.kick_up.drills),
        "floats": rules.floats,
    }
    for part, names in named.items():
        yield from (
            Problem(("sessions", part), f"There is no drill named {name}.")
            for name in names
            if name not in drills
        )
    told = {
        "phases": [x for p in rules.phases for x in p.lines],
        "joints": [*rules.joints.lines],
        "lighter_lines": [*rules.lighter_lines],
    }
    for part, names in told.items():
        yield from (
            Problem(("sessions", part), f"There is no line named {name}.")
            for name in names
            if name not in lines
        )


def _check_order(syllabus: Syllabus, placed: Sequence[tuple[Path, Line, Drill]]) -> list[Problem]:
    """Faults that only show once all names are known: cycles, exits, reach, rungs that get easier."""
    paths = {d.drill: path for path, _, d in placed}
    if cycle := _find_cycle(syllabus):
        return [Problem(paths[cycle[0]], "These drills wait for one another: " + " -> ".join(cycle) + ".")]
    found = [
        Problem(paths[name], f"{name} is away from the wall and has no exit before it.")
        for name in _without_exit(syllabus)
    ]
    found += [
        Problem(paths[name], f"No goal leads to {name}: name it in a goal's drills or supports.")
        for name in _unreached_drills(syllabus)
    ]
    return found + list(_easier_rungs(syllabus, paths))


def _drills_with_places(content: Content) -> Iterator[tuple[Path, Line, Drill]]:
    for i, line in enumerate(content.lines):
        for j, rung in enumerate(line.rungs):
            for k, d in enumerate(rung):
                yield ("lines", i, "rungs", j, k), line, d


def _named_twice(placed: Sequence[tuple[Path, Line, Drill]]) -> Iterator[Problem]:
    seen: set[str] = set()
    for path, _, d in placed:
        if d.drill in seen:
            yield Problem((*path, "drill"), f"The drill {d.drill} stands twice.")
        seen.add(d.drill)


# --- one drill ----------------------------------------------------------------------------------------------


NAME = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
LONGEST_NAME, LONGEST_TITLE = 80, 120


def _name_problems(path: Path, d: Drill) -> Iterator[Problem]:
    if not NAME.fullmatch(d.drill) or len(d.drill) > LONGEST_NAME:
        yield Problem(
            (*path, "drill"),
            f"{d.drill[:LONGEST_NAME]!r}: a drill is named in small letters, digits and hyphens.",
        )
    if not d.title.strip() or len(d.title) > LONGEST_TITLE:
        yield Problem((*path, "title"), f"{d.drill}: a title has 1 to {LONGEST_TITLE} characters.")


def _drill_problems(path: Path, d: Drill, content: Content) -> Iterator[Problem]:
    yield from _name_problems(path, d)
    for n, gate in enumerate((d.gate, *d.gate.also)):
        at = (*path, "gate") if n == 0 else (*path, "gate", "also", n - 1)
        for what in _gate_problems(gate, d):
            yield Problem(at, f"{d.drill}: {what}")
    for n, dose in enumerate(d.doses):
        for part, what in _dose_problems(dose, d):
            yield Problem((*path, "doses", n, part), f"{d.drill}: {what}")
    for n, stage in enumerate(d.stages):
        measure = stage.measure or d.gate.measure
        if (measure is Measure.RATE) and not (stage.of or d.gate.of):
            yield Problem((*path, "stages", n), f"{d.drill}: a stage counted as k of n needs its n.")
    faults = {f.fault for f in content.faults}
    for part, known in (("kit", set(content.kit)), ("faults", faults)):
        for n, item in enumerate(getattr(d, part)):
            if item not in known:
                yield Problem((*path, part, n), f"{d.drill}: {item} stands nowhere under {part}.")


def _dose_problems(dose: DoseRule, d: Drill) -> Iterator[tuple[str, str]]:
    if dose.unit and dose.unit != MEASURE_UNITS[d.gate.measure]:
        yield (
            "unit",
            f"its dose is in {dose.unit}, but its {d.gate.measure.value} is measured in {_unit_of(d)}.",
        )
    for name in ("sets", "each", "days", "of_best"):
        bounds = getattr(dose, name)
        if bounds and not 0 < bounds.least <= bounds.most:
            yield name, "a dose goes from the lesser to the greater, both above 0."


def _unit_of(d: Drill) -> str:
    return MEASURE_UNITS[d.gate.measure]


def _gate_problems(gate: Gate, d: Drill) -> Iterator[str]:
    if gate.unit and gate.unit != MEASURE_UNITS[gate.measure]:
        yield f"{gate.measure.value} is measured in {MEASURE_UNITS[gate.measure]}, not in {gate.unit}."
    if not gate.fewer and gate.value <= 0:
        yield f"a gate of {gate.value:g} is met by doing nothing."
    if gate.fewer and (gate.start is None or gate.start <= gate.value):
        yield f"a gate of at most {gate.value:g} needs a start above it, from which it fills."
    if is_whole(gate.measure) and gate.value != int(gate.value):
        yield f"{gate.measure.value} come in whole numbers, and {gate.value:g} is none."
    if (gate.measure is Measure.RATE) != (gate.of is not None):
        yield "a rate is k of n, and only a rate has an n."
    elif gate.of is not None and gate.value > gate.of:
        yield f"{gate.value:g} of {gate.of} cannot be reached."
    if gate.easy_from and gate.easy_from.value < gate.value:
        yield f"it would be easy from {gate.easy_from.value:g} on, before its gate of {gate.value:g} is met."
    for limit in filter(None, (gate.at, gate.counts_at)):
        yield from _limit_problems(limit, d)


def _limit_problems(limit: DialLimit, d: Drill) -> Iterator[str]:
    if d.dial is None or d.dial.name != limit.dial:
        yield f"its gate is set at {limit.dial}, which is not its dial."
        return
    if (limit.at_most is None) == (limit.at_least is None):
        yield f"its gate is set at {limit.dial}: say either at_most or at_least."
    elif (limit.at_most is not None) != (d.dial.harder in FALLING):
        yield (
            f"its gate asks for {limit.dial} {limit.text}, but {d.dial.harder} is harder: the limit shuts out"
            " the hard side."
        )
    if (limit.unit or "cm") != d.dial.unit:
        yield f"its gate gives {limit.dial} in {limit.unit or 'cm'}, but the dial is set in {d.dial.unit}."


# --- names that must be known -------------------------------------------------------------------------------


def _unknown_names(
    syllabus: Syllabus, placed: Sequence[tuple[Path, Line, Drill]], active: set[str], retired: set[str]
) -> Iterator[Problem]:
    """Every name that stands for no drill in use, wherever it is spoken."""
    content = syllabus.content
    for path, who, name in [
        *_spoken_in_lines(placed),
        *_spoken_elsewhere(content),
        *(t for test in syllabus.tests.values() for t in _spoken_in_tests(test)),
    ]:
        # what only helps or mends may be out of use for a while; what is waited for may not
        forgiving = name in retired and (
            "supports" in path or "through" in path or path[0] in ("faults", "tests")
        )
        if name not in active and not forgiving:
            yield Problem(
                path, f"{who} {name}, which is {'retired' if name in retired else 'no drill here'}."
            )
    for path, _, d in placed:
        for n, need in enumerate(d.needs):
            if not need.any_of:
                yield Problem((*path, "needs", n), f"{d.drill}: a need names at least one drill.")


Spoken = tuple[Path, str, str]
"""Where a drill is named, what names it (with its verb), and the name."""


def _spoken_in_lines(placed: Sequence[tuple[Path, Line, Drill]]) -> Iterator[Spoken]:
    for path, _, d in placed:
        if not d.retired:
            for n, need in enumerate(d.needs):
                yield from (
                    ((*path, "needs", n, "any_of", m), f"{d.drill} needs", w)
                    for m, w in enumerate(need.any_of)
                )


def _spoken_elsewhere(content: Content) -> Iterator[Spoken]:
    for n, fault in enumerate(content.faults):
        yield from (
            (("faults", n, "drills", m), f"The fault {fault.fault} points to", w)
            for m, w in enumerate(fault.drills)
        )
    for n, goal in enumerate(content.goals):
        for part in ("drills", "through", "supports"):
            yield from (
                (("goals", n, part, m), f"The goal {goal.goal} names", w)
                for m, w in enumerate(getattr(goal, part))
            )
    yield from ((("rules", "exits", n), "The exits name", w) for n, w in enumerate(content.rules.exits))
    for n, question in enumerate(content.schools):
        for m, school in enumerate(question.schools):
            for k, change in enumerate(school.changes):
                at = ("schools", n, "schools", m, "changes", k)
                yield from ((at, f"The school {school.school} changes", w) for w in _names_in(change))


def _spoken_in_tests(test: Test) -> Iterator[Spoken]:
    """An exit that a test asks for must stay; other drills a test names may be retired, which only takes them
    off its list.
    """
    if test.exits_drill:
        yield ("lines",), f"The test {test.test} asks for", test.exits_drill
    spoken = [
        test.landings_drill,
        test.due_for,
        *test.subjects,
        *test.drills.values(),
        *(w for text in test.decisions.values() for w in text.work_on),
    ]
    yield from (
        (("tests",), f"The test {test.test} names", w)
        for w in dict.fromkeys(spoken)
        if w and w not in STANDING_FOR
    )


STANDING_FOR = frozenset({"subject", "ahead"})
"""What a decision may say instead of a drill: the one that was tested, and those that wait for it."""


def _names_in(change: Amendment) -> list[str]:
    needs = [w for n in change.needs or () for w in n.any_of]
    place = [change.place.below, change.place.above, change.place.beside] if change.place else []
    return [change.drill, *needs, *(p for p in place if p)]


# --- what hangs together ------------------------------------------------------------------------------------


def graph_of(syllabus: Syllabus) -> Mapping[str, set[str]]:
    """Every drill with all it may wait for."""
    return {name: {w for need in needs for w in need.any_of} for name, needs in syllabus.needs.items()}


def _find_cycle(syllabus: Syllabus) -> list[str] | None:
    try:
        TopologicalSorter(graph_of(syllabus)).prepare()
    except CycleError as error:
        return list(error.args[1])
    return None


def _without_exit(syllabus: Syllabus) -> list[str]:
    """The drills away from the wall that could be opened without a proven exit by some choice of
    alternatives.
    """
    exits = set(syllabus.rules.exits)
    known: dict[str, bool] = {}

    def behind_exit(name: str) -> bool:
        if name not in known:
            known[name] = any(
                need.enough is None
                and all(
                    (w in exits and need.state == "proven") or (w not in exits and behind_exit(w))
                    for w in need.any_of
                )
                for need in syllabus.needs[name]
            )
        return known[name]

    return [
        name for name, d in syllabus.drills.items() if d.away and name not in exits and not behind_exit(name)
    ]


def _unreached_drills(syllabus: Syllabus) -> list[str]:
    """The drills that no goal leads to; an optional one is a choice of its own."""
    reached = set().union(*syllabus.below.values()) if syllabus.below else set()
    return [name for name, d in syllabus.drills.items() if name not in reached and not d.optional]


def are_alike(a: Drill, b: Drill) -> bool:
    """Say whether two drills differ only in their gate or setting: one family, measured alike. A drill begins
    its own family.
    """
    same_measure = (a.gate.measure, a.gate.mode, a.gate.of, a.gate.fewer) == (
        b.gate.measure,
        b.gate.mode,
        b.gate.of,
        b.gate.fewer,
    )
    return same_measure and (a.family or a.drill) == (b.family or b.drill)


def gate_setting(gate: Gate) -> float | None:
    """The setting a gate is measured at."""
    return None if gate.at is None else gate.at.at_most if gate.at.at_most is not None else gate.at.at_least


def _easier_rungs(syllabus: Syllabus, paths: Mapping[str, Path]) -> Iterator[Problem]:
    """Rungs of one family on which the gate, at the same setting, asks less than the rung below."""
    for line in syllabus.lines:
        below: list[Drill] = []
        for rung in line.rungs:
            for d in rung:
                for b in below:
                    if are_alike(b, d) and (what := _easier_than(b, d)):
                        yield Problem((*paths[d.drill], "gate"), what)
            below += rung


def _easier_than(b: Drill, d: Drill) -> str | None:
    low, high = gate_setting(b.gate), gate_setting(d.gate)
    if low is not None and high is not None and low != high and d.dial:
        if (high > low) == (d.dial.harder in FALLING):
            return (
                f"{d.drill} stands above {b.drill}, but its setting is easier: {d.dial.harder} is harder, and"
                f" it goes from {low:g} to {high:g}."
            )
        return None
    less = d.gate.value > b.gate.value if d.gate.fewer else d.gate.value < b.gate.value
    if low == high and less:
        return (
            f"{d.drill} stands above {b.drill}, but asks less at the same setting: {d.gate.amount} after"
            f" {b.gate.amount}."
        )
    return None


def _check_schools(syllabus: Syllabus) -> Iterator[Problem]:
    """Each school alone must leave the syllabus sound; what it breaks is named at its place."""
    for n, question in enumerate(syllabus.content.schools):
        for m, school in enumerate(question.schools):
            over = with_schools(syllabus, {question.question: school.school})
            cycle = _find_cycle(over)
            for what in (
                [f"these drills wait for one another: {' -> '.join(cycle)}."]
                if cycle
                else [f"{d} loses its exit." for d in _without_exit(over)]
            ):
                yield Problem(("schools", n, "schools", m), f"With the school {school.school} {what}")
    counts = Counter(q.question for q in syllabus.content.schools)
    for n, question in enumerate(syllabus.content.schools):
        if counts[question.question] > 1:
            yield Problem(("schools", n), f"The question {question.question} stands twice.")
