"""A goal of one's own, broken down: what is proposed, what the coach's choice makes, and that anybody can
get there.
"""

from dataclasses import replace

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_standing import SYLLABUS, TODAY, passing
from wise_perch.core.trade.bay_draft import draft_line
from wise_perch.core.trade.bay_steps import BayPlace, find_big_steps, highest_met, say_places
from wise_perch.core.trade.breakdown import (
    BASE,
    GOAL,
    MEASURE,
    SHARE,
    BayRung,
    Breakdown,
    Wanted,
    break_down,
    read_title,
)
from wise_perch.core.trade.checks import find_problems, graph_of
from wise_perch.core.trade.easing import fits
from wise_perch.core.trade.edits import Edit, EditRefused, with_edits
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.goals import goal_standings
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.standing import standing_of
from wise_perch.core.trainee.wall import read_wall
from wise_perch.syllabus.shipped import read_text
from wise_perch.syllabus.writing import write

EASING = SYLLABUS.easing
TITLES = [
    "Tuck balance on two canes",
    "Straddle planche push to handstand",
    "One-arm handstand",
    "Straddle press on parallettes",
    "Handstand push-up on canes",
    "Full planche",
    "Stalder press on low blocks",
]


def broken_down(title: str) -> Breakdown:
    return break_down(read_title(title, EASING), EASING, SYLLABUS)


def drafted(b: Breakdown, *rungs: BayRung, dropped: tuple[str, ...] = ()) -> Edit:
    return draft_line(b.wanted, rungs or b.rungs, dropped_sides=dropped, easing=EASING, syllabus=SYLLABUS)


def with_line(edit: Edit) -> Syllabus:
    return replace(SYLLABUS, version="drafted", content=with_edits(SYLLABUS.content, [edit]))


@st.composite
def skills(draw: st.DrawFn) -> Wanted:
    form = draw(st.sampled_from(EASING.forms))
    at = {}
    for way in EASING.ways:
        if way.way in form.asks or any(e.way == way.way for e in form.eases):
            sound = [s.step for s in way.steps if s.only is None and not s.not_with]
            at[way.way] = draw(st.sampled_from(sound))
    measure = draw(st.sampled_from([Measure.HOLD, Measure.REPS, Measure.RATE, Measure.DISTANCE]))
    value = float(draw(st.integers(1, 10)))
    gate = Gate(measure=measure, value=value, origin="ours", of=10 if measure is Measure.RATE else None)
    title = draw(st.text("abc é-,", min_size=1, max_size=20)).strip() or "x"
    return Wanted(title=title, form=form.form, at=at, gate=gate)


@settings(max_examples=60)
@given(skills(), st.data())
def test_whatever_is_broken_down_passes_the_checks(wanted: Wanted, data: st.DataObject) -> None:
    """Any skill, with any of its rungs and sides left out, makes a line that passes every check, goes
    round in no circle, and lets nobody leave the wall without an exit.
    """
    b = break_down(wanted, EASING, SYLLABUS)
    kept = [b.rungs[0], *(replace(r, kept=data.draw(st.booleans())) for r in b.rungs[1:])]
    others = [s.side for s in b.sides if s.side != "exits"]
    dropped = data.draw(st.lists(st.sampled_from(others or [""]), max_size=3))
    edit = draft_line(b.wanted, kept, dropped_sides=dropped, easing=EASING, syllabus=SYLLABUS)
    made = with_line(edit)
    assert find_problems(made) == []
    graph = nx.DiGraph([(name, w) for name, waits in graph_of(made).items() for w in waits])
    assert nx.is_directed_acyclic_graph(graph)
    assert edit.new_line is not None
    for rung in edit.new_line.rungs:
        name = rung[0].drill
        below = nx.descendants(graph, name)
        assert below, name
        assert not rung[0].away or below & set(SYLLABUS.rules.exits), name


@settings(max_examples=80)
@given(skills())
def test_each_proposal_takes_something_off(wanted: Wanted) -> None:
    """A proposal is the skill with one thing easier than what was proposed before it in that way, or less of
    it; none is harder in anything, and none stands twice.
    """
    b = break_down(wanted, EASING, SYLLABUS)
    assert (b.rungs[0].way, b.rungs[0].title) == (GOAL, wanted.title)
    for r in b.rungs[1:]:
        if r.way in (BASE, SHARE):
            assert r.drill in SYLLABUS.drills
            continue
        assert r.at is not None
        easier = {w for w, step in r.at.items() if step != b.wanted.at[w]}
        assert all(EASING.way(w).place(r.at[w]) < EASING.way(w).place(b.wanted.at[w]) for w in easier), (
            r.title
        )
        assert r.way == MEASURE or r.way in easier
    named = [r.drill or r.title.lower() for r in b.rungs]
    assert len(named) == len(set(named))


@pytest.mark.parametrize("title", TITLES)
def test_as_proposed_no_step_is_too_big(title: str) -> None:
    """What is kept at first leaves no step too big."""
    b = broken_down(title)
    assert find_big_steps(b.wanted, b.rungs, EASING, SYLLABUS) == ()


def test_it_is_written_and_reads_back_the_same() -> None:
    """A line of one's own is a part of the file like any other."""
    made = with_line(drafted(broken_down("Straddle planche push to handstand")))
    assert read_text(write(made.content)).content == made.content


@pytest.mark.parametrize("title", TITLES)
def test_from_nothing_it_can_be_reached(title: str) -> None:
    """Somebody who has shown nothing is led to the goal by the path alone: each step that is open is passed
    on two days, and none is passed closed.
    """
    edit = drafted(broken_down(title))
    made = with_line(edit)
    assert edit.new_goal is not None
    goal, pieces = edit.new_goal.goal, []
    for _ in range(200):
        wall = read_wall(mark_evidence(pieces, made), made, on=TODAY, waivers={})
        g = goal_standings(wall, standing_of(wall), [goal])[0]
        if g.reached:
            break
        step = next(s for s in g.path if s.kind != "closed")
        pieces += [p for ago in (3, 0) for p in passing(made.drills[step.drill], ago=ago, times=1.5)]
    assert g.reached
    assert {r[0].drill for r in edit.new_line.rungs} <= {p.drill for p in pieces}  # type: ignore[union-attr]


def test_a_rung_left_out_is_a_step_too_big_and_what_lies_between_is_named() -> None:
    """From the floor to low blocks in one step: parallettes lie between."""
    b = broken_down("Tuck balance on two canes")
    kept = [replace(r, kept=r.kept and "parallettes" not in r.title) for r in b.rungs]
    (found,) = find_big_steps(b.wanted, kept, EASING, SYLLABUS)
    assert found.between is not None
    assert found.between.title == "Tuck balance on parallettes"
    assert [kept[n].title for n in (found.upper, found.lower)] == [
        "Tuck balance on low blocks",
        "Tuck handstand",
    ]
    assert "surface" in found.sentence


def test_four_seconds_to_a_minute_is_too_big() -> None:
    """The same skill, asked for longer: no more than the syllabus allows a gate to grow."""
    b = broken_down("Tuck balance on two canes")
    long = replace(b.rungs[0], gate=replace(b.rungs[0].gate, value=60.0))
    (found,) = find_big_steps(b.wanted, [long, b.rungs[1]], EASING, SYLLABUS)
    assert found.between is not None
    assert found.between.gate.value == 15


@pytest.mark.parametrize(
    ("title", "form", "said"),
    [
        ("Tuck balance on two canes", "handstand-hold", {"legs": "tuck", "surface": "canes"}),
        ("Straddle planche push to handstand", "planche-press", {"legs": "straddle"}),
        ("One-arm handstand", "handstand-hold", {"hands": "one"}),
        ("Stalder press on low blocks", "seat-press", {"surface": "blocks"}),
        ("Free-standing push-up, one hand", "handstand-push", {"hands": "one"}),
        ("Handstand at the wall", "handstand-hold", {"support": "wall"}),
        ("Something nobody knows", "handstand-hold", {"legs": "long", "surface": "floor"}),
    ],
)
def test_a_title_says_what_it_can(title: str, form: str, said: dict[str, str]) -> None:
    """Form and places are read from what a coach calls the skill."""
    read = read_title(title, EASING)
    assert read.form == form
    assert fits(read.at, {way: (step,) for way, step in said.items()})


def test_what_is_there_already_stands_in() -> None:
    """A tuck on the floor is a drill of ours: it is not drafted again, and what is above waits for it."""
    edit = drafted(broken_down("Tuck balance on two canes"))
    assert edit.new_line is not None
    assert [r[0].title for r in edit.new_line.rungs] == [
        "Tuck balance on parallettes",
        "Tuck balance on low blocks",
        "Tuck balance on two canes, 4 s",
        "Tuck balance on two canes",
    ]
    waits = {n for need in edit.new_line.rungs[0][0].needs for n in need.any_of}
    assert {"tuck-handstand", "free-exit", "l-sit"} <= waits


def test_what_a_coach_has_retired_is_not_built_on() -> None:
    """Without tuck handstands in use, one is drafted."""
    retired = [Edit(drill="tuck-handstand", retired=True)]
    without = replace(SYLLABUS, content=with_edits(SYLLABUS.content, retired))
    b = break_down(read_title("Tuck balance on two canes", EASING), EASING, without)
    assert "tuck-handstand" not in {r.drill for r in b.rungs}
    edit = draft_line(b.wanted, b.rungs, dropped_sides=(), easing=EASING, syllabus=without)
    assert find_problems(replace(without, content=with_edits(without.content, [edit]))) == []


def test_a_skill_that_is_there_already_is_named() -> None:
    """Nobody breaks down what is there without being told."""
    assert broken_down("Tuck handstand").there == "Tuck handstand"
    assert broken_down("Tuck balance on two canes").there is None


def test_a_second_of_the_same_name_gets_a_name_of_its_own() -> None:
    """Two goals called alike are two; the very same edit again is refused."""
    b = broken_down("One-arm handstand")
    made = with_line(drafted(b))
    again = draft_line(b.wanted, b.rungs, dropped_sides=(), easing=EASING, syllabus=made)
    assert (again.drill, again.new_goal and again.new_goal.goal) == (
        "one-arm-handstand-2",
        "one-arm-handstand-2",
    )
    with pytest.raises(EditRefused, match="already"):
        with_edits(made.content, [drafted(b)])


def test_no_exit_before_open_floor_is_named() -> None:
    """Whoever takes the exit out, and all that leads to one, is told."""
    b = broken_down("Tuck balance on two canes")
    bare = drafted(b, b.rungs[0], dropped=tuple(s.side for s in b.sides))
    assert bare.new_line is not None
    top = replace(bare.new_line.rungs[0][0], needs=())
    line = replace(bare.new_line, rungs=((top,),))
    found = find_problems(with_line(replace(bare, new_line=line)))
    assert [p.what for p in found] == [f"{top.drill} is away from the wall and has no exit before it."]


def test_a_standard_of_nothing_is_refused() -> None:
    """No measure, no gate: the check names it."""
    b = broken_down("One-arm handstand")
    nothing = replace(b.rungs[0], gate=replace(b.rungs[0].gate, value=0.0))
    found = find_problems(with_line(drafted(b, nothing)))
    assert any("met by doing nothing" in p.what for p in found)


def test_who_would_stand_where_is_said_in_names() -> None:
    """The highest rung first, names in order, the rest counted."""
    rungs = broken_down("Tuck balance on two canes").rungs
    met = {"tuck-handstand", "free-hold-10"}
    place = highest_met(rungs, met)
    assert place is not None
    assert rungs[place].drill == "tuck-handstand"
    free = highest_met(rungs, {"free-hold-10"})
    people = [
        *(BayPlace(name=n, rung=free) for n in ("Kaia", "Berit")),
        BayPlace(name="Jorun", rung=place),
        *(BayPlace(name=f"P{n}", rung=None) for n in range(10)),
    ]
    assert say_places(people, rungs) == (
        "Jorun on tuck handstand. Berit and Kaia on free hold, 10 s × 7. 10 below all of it."
    )
