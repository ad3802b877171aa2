"""A syllabus that is unsound is refused with the line of every fault; graphs are checked against a graph
library.
"""

from collections.abc import Callable
from itertools import pairwise

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wise_perch.core.trade.checks import graph_of
from wise_perch.syllabus.shipped import built_in, our_text, read_text

OURS = built_in()
TEXT = our_text()


def block(drill: str) -> tuple[int, int]:
    """Where a drill's own lines stand in the text."""
    begin = TEXT.index(f"drill: {drill}\n")
    end = TEXT.find("drill: ", begin + 8)
    return begin, end if end > 0 else len(TEXT)


def with_line(drill: str, change: Callable[[str], str]) -> str:
    begin, end = block(drill)
    changed = change(TEXT[begin:end])
    assert changed != TEXT[begin:end], "the test changes something"
    return TEXT[:begin] + changed + TEXT[end:]


@pytest.mark.parametrize(
    ("drill", "old", "new", "said"),
    [
        ("shoulder-rocks", "measure: reps", "value: 15", "given twice"),
        ("shoulder-rocks", "gate: {measure: reps, ", "gate: {", "gate.measure: measure is missing"),
        ("shoulder-rocks", "value: 15", "value: many", "gate.value"),
        ("shoulder-rocks", "value: 15.0", "value: 15.5", "come in whole numbers"),
        ("shoulder-rocks", "value: 15.0", "value: .inf", "no number to reckon with"),
        ("shoulder-rocks", "value: 15.0", "value: 1.0e+308", "no number to reckon with"),
        ("shoulder-rocks", "value: 15.0", f"value: 1{'0' * 400}", "no number to reckon with"),
        ("shoulder-rocks", "value: 15", "unit: s, value: 15", "measured in reps, not in s"),
        ("shoulder-rocks", "unit: reps", "unit: s", "its dose is in s"),
        ("shoulder-rocks", "about:", "abuot:", "unknown key abuot"),
        (
            "shoulder-rocks",
            "kit:",
            "faults: [sleepiness]\n      kit:",
            "sleepiness stands nowhere under faults",
        ),
        (
            "shoulder-rocks",
            "drill: shoulder-rocks",
            "drill: Shoulder Rocks",
            "small letters, digits and hyphens",
        ),
        ("overhead-reach", "start: 50.0", "start: 5", "needs a start above it"),
        ("free-kick-up", "of: 10", "of: 6", "cannot be reached"),
        (
            "bent-knee-hollow",
            "any_of: [tuck-hollow-hold]",
            "any_of: [tuck-hollow]",
            "needs tuck-hollow, which is no drill here",
        ),
        ("chest-to-wall-hold", "dial: hands-to-wall", "dial: pad-height", "is not its dial"),
        ("chest-to-wall-hold", "at_most: 15.0", "at_least: 15.0", "shuts out the hard side"),
        (
            "wall-braced-lean",
            "value: 30.0",
            "value: 30.0, at: {dial: body-to-floor-angle, origin: ours, at_most: 45}",
            "set in deg",
        ),
        ("low-surface-hold", "gate:", "needs: [{any_of: [wall-walk]}]\n      gate:", "wait for one another"),
        ("chest-to-wall-90", "value: 90.0", "value: 50.0", "asks less at the same setting: 50 s after 60 s"),
        ("chest-to-wall-60", "at_most: 15.0", "at_most: 40.0", "its setting is easier"),
        ("pike-hold", "drill: pike-hold", "drill: raised-pike-hold", "stands twice"),
    ],
)
def test_a_fault_is_named_with_its_line(drill: str, old: str, new: str, said: str) -> None:
    """Each fault is said in words, on the line of the drill it stands in."""
    text = with_line(drill, lambda own: own.replace(old, new, 1))
    found = read_text(text).problems
    hits = [p for p in found if said in p.what]
    assert hits, [f"{p.line}: {p.what}" for p in found]
    begin, end = block(drill)
    first, last = TEXT[:begin].count("\n") + 1, TEXT[:end].count("\n") + 2
    if "stands twice" not in said and "wait for one another" not in said:
        assert all(first <= p.line <= last for p in hits), (hits, first, last)


def test_a_drill_away_from_the_wall_needs_an_exit() -> None:
    """Taking the exit out of what the free kick-up waits for is refused, on its own line."""
    text = with_line("free-kick-up", lambda own: own.replace("any_of: [free-exit]", "any_of: [wall-walk]"))
    (problem,) = [p for p in read_text(text).problems if "free-kick-up" in p.what]
    assert "no exit before it" in problem.what
    assert "free-kick-up" in text.splitlines()[problem.line - 1]


def test_a_drill_that_no_goal_leads_to_is_named() -> None:
    """A drill nobody names in a goal is an orphan."""
    begin, _ = block("hang")
    orphan = TEXT[:begin] + TEXT[begin:].replace("optional: true", "optional: false", 1)
    text = orphan.replace("opposite-hops, ", "").replace(", opposite-hops", "")
    assert any("No goal leads to opposite-hops" in p.what for p in read_text(text).problems)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "empty"),
        ("a: [1, 2", "no YAML"),
        ("a: &x [1]\nb: *x\n", "aliases"),
        ("- 1\n- 2\n", "should be a dictionary"),
        ("format: syllabus/9\n", "format"),
        ("a: \x00", "no YAML"),
        ("[" * 5000, "nested deeper"),
        ("[" * 32_000, "nested deeper"),
        ("{a: " * 32_000, "nested deeper"),
        ("- " * 32_000 + "a", "nested deeper"),
        ("[" + "1," * 210_000 + "]", "more here than any syllabus"),
    ],
)
def test_junk_is_refused_with_a_reason(text: str, said: str) -> None:
    """What is no syllabus at all gets a line and a sentence, never an exception."""
    read = read_text(text)
    assert read.syllabus is None
    assert any(said in p.what.lower() or said in p.what for p in read.problems), read.problems


@settings(max_examples=60)
@given(
    st.integers(0, len(TEXT) - 1), st.sampled_from(["\n", ":", "x", "[", "}", "-", "9", "'", "#", "\t", "é"])
)
def test_a_slip_anywhere_is_answered(at: int, slip: str) -> None:
    """Any one character put anywhere leaves either a sound syllabus or problems with lines inside the
    text.
    """
    text = TEXT[:at] + slip + TEXT[at:]
    read = read_text(text)
    assert (read.syllabus is None) == bool(read.problems)
    assert all(1 <= p.line <= text.count("\n") + 2 for p in read.problems)


# --- against a general-purpose graph library ----------------------------------------------------------------


def as_digraph() -> "nx.DiGraph[str]":
    made: nx.DiGraph[str] = nx.DiGraph()
    made.add_nodes_from(OURS.drills)
    made.add_edges_from((waits, wanted) for waits, named in graph_of(OURS).items() for wanted in named)
    return made


def test_what_a_goal_leads_through_is_what_networkx_reaches() -> None:
    """The drills below a goal are its own, what leads to them and its supports with all their descendants."""
    made = as_digraph()
    assert nx.is_directed_acyclic_graph(made)
    for goal in OURS.content.goals:
        roots = {*goal.drills, *goal.through, *goal.supports}
        assert OURS.below[goal.goal] == roots.union(*(nx.descendants(made, r) for r in roots))


@settings(max_examples=40)
@given(st.sampled_from(sorted(OURS.drills)), st.sampled_from(sorted(OURS.drills)))
def test_a_cycle_is_found_exactly_where_networkx_finds_one(waits: str, wanted: str) -> None:
    """One more wait between any two drills makes a cycle for the checks if and only if it does for the
    library.
    """
    made = as_digraph()
    if (waits, wanted) in made.edges:
        return
    made.add_edge(waits, wanted)

    def one_more(own: str) -> str:
        if "\n      needs:" in own:
            return own.replace("\n      needs:", f"\n      needs:\n      - any_of: [{wanted}]", 1)
        return own.replace("\n      gate:", f"\n      needs:\n      - any_of: [{wanted}]\n      gate:", 1)

    # cycles that only a school makes are found too, and are not in this graph
    said = [
        p.what for p in read_text(with_line(waits, one_more)).problems if "wait for one another" in p.what
    ]
    found = [what for what in said if not what.startswith("With the school")]
    assert bool(found) is not nx.is_directed_acyclic_graph(made)
    if found:
        named = found[0].split(": ")[1].rstrip(".").split(" -> ")
        # graphlib names a cycle so that each drill is waited for by the one before it, or the other way round
        steps = list(pairwise(named))
        assert all(made.has_edge(a, b) for a, b in steps) or all(made.has_edge(b, a) for a, b in steps)
