"""Any sequence of edits leaves a syllabus that writes and reads back, or says in a sentence why not."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wise_perch.core.trade.content import Amendment, DoseRule, Place, Range
from wise_perch.core.trade.edits import Edit, EditRefused, with_edits
from wise_perch.core.trade.schools import compare_contents
from wise_perch.syllabus.shipped import built_in, read_text
from wise_perch.syllabus.writing import write

OURS = built_in()
NAMES = sorted(OURS.drills)
names = st.sampled_from(NAMES)


def new_drill(name: str, like: str) -> Edit:
    made = replace(OURS.drills[like], drill=name, title=f"Like {like}", needs=(), stages=())
    return Edit(
        drill=name, insert=made, line=OURS.line_of[like], place=Place(above=like), add_to_goals=("hand-walk",)
    )


edits = st.lists(
    st.one_of(
        st.builds(lambda d, on: Edit(drill=d, retired=on), names, st.booleans()),
        st.builds(
            lambda d, value: Edit(
                drill=d, change=Amendment(drill=d, gate=replace(OURS.drills[d].gate, value=value))
            ),
            names,
            st.floats(-5, 200),
        ),
        st.builds(
            lambda d, cue: Edit(drill=d, change=Amendment(drill=d, cues=(cue,))), names, st.text(max_size=30)
        ),
        st.builds(
            lambda d, n: Edit(
                drill=d,
                change=Amendment(drill=d, doses=(DoseRule(sets=Range(least=n, most=n + 1, origin="ours")),)),
            ),
            names,
            st.integers(-1, 6),
        ),
        st.builds(lambda d, to: Edit(drill=d, place=Place(below=to)), names, names),
        st.builds(lambda n, like: new_drill(f"new-{n}", like), st.integers(1, 3), names),
    ),
    max_size=6,
)


@settings(max_examples=50)
@given(edits)
def test_edits_are_made_or_refused_and_never_lost(made: list[Edit]) -> None:
    """Refused edits say why; made ones survive writing and reading, sound or with problems that have
    lines.
    """
    known = set(NAMES)
    for edit in made:
        if edit.insert and edit.drill in known:
            with pytest.raises(EditRefused, match="already"):
                with_edits(OURS.content, made)
            return
        known.add(edit.drill)
    content = with_edits(OURS.content, made)
    text = write(content)
    read = read_text(text)
    assert read.content == content
    assert (read.syllabus is None) == bool(read.problems)
    assert all(1 <= p.line <= text.count("\n") + 1 for p in read.problems)


@settings(max_examples=30)
@given(names, names)
def test_moving_there_and_back_is_no_difference(drill: str, to: str) -> None:
    """A drill moved to another rung of its line and back beside its old neighbour stands as it stood."""
    if OURS.line_of[drill] != OURS.line_of[to] or drill == to:
        return
    rung = next(r for line in OURS.content.lines for r in line.rungs if any(d.drill == drill for d in r))
    if len(rung) < 2:
        return
    neighbour = next(d.drill for d in rung if d.drill != drill)
    moved = with_edits(
        OURS.content,
        [Edit(drill=drill, place=Place(above=to)), Edit(drill=drill, place=Place(beside=neighbour))],
    )
    assert {d.drill for d in compare_contents(OURS.content, moved) if d.part not in ("place",)} == set()
    home = next(r for line in moved.lines for r in line.rungs if any(d.drill == drill for d in r))
    assert {d.drill for d in home} == {d.drill for d in rung}


def test_an_edit_of_words_changes_words_only() -> None:
    """Title and description of a drill can be written again; nothing else moves."""
    content = with_edits(
        OURS.content, [Edit(drill="pancake", title="Pancake of the depot", about="As flat as a rail.")]
    )
    assert {(d.drill, d.part, d.after) for d in compare_contents(OURS.content, content)} == {
        ("pancake", "title", "Pancake of the depot"),
        ("pancake", "about", "As flat as a rail."),
    }


def test_a_goal_is_changed_in_its_place_and_a_new_one_stands_last() -> None:
    """What it asks for must be there; one that asks for nothing is refused in a sentence."""
    first = OURS.content.goals[0]
    asks = replace(first, drills=("free-hold-30",), title="Half a minute")
    new = replace(first, goal="my-own", title="My own", drills=("l-sit",), through=(), supports=())
    content = with_edits(OURS.content, [Edit(drill="free-hold-30", goal=asks), Edit(drill="l-sit", goal=new)])
    assert [g.goal for g in content.goals] == [*(g.goal for g in OURS.content.goals), "my-own"]
    assert content.goals[0].title == "Half a minute"
    read = read_text(write(content))
    assert read.problems == ()
    assert read.syllabus
    with pytest.raises(EditRefused, match="asks for no drill"):
        with_edits(OURS.content, [Edit(drill="", goal=replace(new, drills=()))])
    with pytest.raises(EditRefused, match="needs a title"):
        with_edits(OURS.content, [Edit(drill="", goal=replace(new, title=" "))])
    unknown = with_edits(OURS.content, [Edit(drill="", goal=replace(new, drills=("fly",)))])
    assert any("fly, which is no drill here" in p.what for p in read_text(write(unknown)).problems)
