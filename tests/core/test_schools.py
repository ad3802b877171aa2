"""Schools change order, gates, cues or doses through data, and nothing else; edits make a coach's own
copy.
"""

from dataclasses import replace

import pytest

from tests.core.test_standing import TODAY, passing, stands
from wise_perch.core.trade.checks import find_problems
from wise_perch.core.trade.content import Amendment, Place
from wise_perch.core.trade.edits import Edit, EditRefused, with_edits
from wise_perch.core.trade.gaps import find_gaps
from wise_perch.core.trade.schools import UnknownChoice, compare_contents, with_schools
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.changes import find_effects
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.standing import standing
from wise_perch.syllabus.shipped import built_in, in_use, read_text
from wise_perch.syllabus.writing import write

OURS = built_in()
OTHERS = [(q.question, s.school) for q in OURS.content.schools for s in q.schools[1:]]
MAY_CHANGE = {"place", "gate", "needs", "follows", "cues", "doses"}


def rung_of(s: Syllabus, drill: str) -> int:
    return next(height for _, height, d in s.placed() if d.drill == drill)


def test_every_question_of_the_trade_is_there() -> None:
    """The questions on which practitioners disagree, each with at least two schools."""
    assert len(OURS.content.schools) == 27
    assert all(len(q.schools) >= 2 for q in OURS.content.schools)


@pytest.mark.parametrize(("question", "school"), OTHERS)
def test_a_school_changes_something_visible_and_nothing_else(question: str, school: str) -> None:
    """Order, gates, what a drill waits for, cues or doses; drills, titles, goals and the rest stay."""
    usual, other = in_use(), in_use(schools={question: school})
    changed = {d.part for d in compare_contents(usual.content, other.content)}
    assert changed
    assert changed <= MAY_CHANGE
    assert usual.drills.keys() == other.drills.keys()
    assert usual.content.goals == other.content.goals
    assert usual.version != other.version
    assert find_problems(other) == []


def test_all_other_schools_together_are_sound() -> None:
    """Every question answered the other way still has no cycle and no open floor without an exit."""
    assert find_problems(with_schools(OURS, dict(OTHERS))) == []


def test_back_to_the_wall_first_turns_the_order() -> None:
    """The two wall holds change places, and each waits for the other as its school says."""
    chest, back = in_use(), in_use(schools={"wall-first": "back-first"})
    assert rung_of(chest, "back-to-wall-hold") > rung_of(chest, "chest-to-wall-hold")
    assert rung_of(back, "back-to-wall-hold") < rung_of(back, "chest-to-wall-hold")
    climbed = [
        p
        for n in ("low-surface-hold", "shoulder-rocks", "pike-hold", "low-wall-climb")
        for p in passing(chest.drills[n])
    ]
    opened = [
        standing(mark_evidence(climbed, s), s, on=TODAY).drill("back-to-wall-hold").open
        for s in (chest, back)
    ]
    assert opened == [False, True]


def test_an_unknown_school_is_refused_by_name() -> None:
    """A question or school that is not there is said, not passed over."""
    with pytest.raises(UnknownChoice, match="no question"):
        with_schools(OURS, {"diet": "any"})
    with pytest.raises(UnknownChoice, match="no school named upside"):
        with_schools(OURS, {"kip": "upside"})


# --- a coach's own copy -------------------------------------------------------------------------------------


def own(*edits: Edit) -> Syllabus:
    """Our syllabus with edits, through the text a coach would export."""
    read = read_text(write(with_edits(OURS.content, edits)))
    assert read.syllabus, read.problems
    return read.syllabus


def test_our_syllabus_reads_back_as_it_was_written() -> None:
    """Export and import are the same content, with no problem and no default lost."""
    read = read_text(write(OURS.content))
    assert (read.content, read.problems) == (OURS.content, ())


def test_a_gate_set_again_changes_where_a_trainee_stands() -> None:
    """A harder gate takes a met one back, closes what stood on it, and the preview says so."""
    d = OURS.drills["low-surface-hold"]
    harder = own(
        Edit(drill=d.drill, change=Amendment(drill=d.drill, gate=replace(d.gate, value=40, origin="ours")))
    )
    pieces = passing(d)
    before, after = (standing(mark_evidence(pieces, s), s, on=TODAY) for s in (OURS, harder))
    said = [c.sentence for c in find_effects(before, after)]
    assert "Low-surface hold: met becomes not yet (30 s, best on 31 May. Needs 40 s)." in said
    assert "Shoulder rocks closes, until Low-surface hold (40 s), met." in said
    assert "The inversion clip goes to the floor." in said
    assert find_effects(before, before) == []


def test_a_rung_is_inserted_moved_retired_and_brought_back() -> None:
    """Each edit does what it says; a retired drill leaves the wall and stays in the file."""
    like = OURS.drills["chest-to-wall-60"]
    new = replace(
        like,
        drill="chest-to-wall-45",
        title="Chest-to-wall hold, 45 s",
        gate=replace(like.gate, value=45, origin="ours"),
        needs=(),
    )
    insert = Edit(
        drill=new.drill,
        insert=new,
        line="inversion",
        place=Place(below="chest-to-wall-60"),
        add_to_goals=("strict-push",),
    )
    s = own(insert)
    assert rung_of(s, "chest-to-wall-45") == rung_of(s, "chest-to-wall-60") - 1
    retired = own(insert, Edit(drill="chest-to-wall-45", retired=True))
    assert "chest-to-wall-45" not in retired.drills
    assert "chest-to-wall-45" in {d.drill for line in retired.content.lines for r in line.rungs for d in r}
    assert (
        "chest-to-wall-45"
        in own(
            insert,
            Edit(drill="chest-to-wall-45", retired=True),
            Edit(drill="chest-to-wall-45", retired=False),
        ).drills
    )
    moved = own(Edit(drill="thigh-taps", place=Place(beside="finger-press")))
    assert rung_of(moved, "thigh-taps") == rung_of(moved, "finger-press")


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (Edit(drill="no-such-drill", retired=True), "no drill named"),
        (Edit(drill="pancake", insert=OURS.drills["pancake"], line="mobility"), "already"),
        (
            Edit(drill="new", insert=replace(OURS.drills["pancake"], drill="new"), line="stairs"),
            "no line named",
        ),
    ],
)
def test_an_edit_that_names_nothing_is_refused(edit: Edit, said: str) -> None:
    """What is not there, or there already, is said in a sentence."""
    with pytest.raises(EditRefused, match=said):
        with_edits(OURS.content, [edit])


def test_compare_says_what_differs_in_words() -> None:
    """Against ours, each difference names drill and part, before and after."""
    gate = replace(OURS.drills["pancake"].gate, value=20, origin="ours")
    changed = own(
        Edit(drill="pancake", change=Amendment(drill="pancake", gate=gate, cues=("Breathe.",))),
        Edit(drill="hang", place=Place(above="pancake")),
    )
    found = {(d.drill, d.part): (d.before, d.after) for d in compare_contents(OURS.content, changed.content)}
    assert found["pancake", "gate"] == ("10 cm or less", "20 cm or less")
    assert found["pancake", "cues"] == ("Tip the hips first. Knees to the ceiling.", "Breathe.")
    assert found["hang", "place"][0] == "Mobility, above the floor"
    assert compare_contents(OURS.content, OURS.content) == ()


def test_an_inserted_rung_that_asks_less_than_the_one_below_is_refused() -> None:
    """Put above the drill it was made from, a rung of its family must not ask less at the same setting."""
    like = OURS.drills["pike-hold"]
    easier = replace(
        like,
        drill="pike-hold-20",
        title="Pike hold, 20 s",
        gate=replace(like.gate, value=20),
        family="pike-hold",
    )
    edits = [Edit(drill=easier.drill, insert=easier, line="inversion", place=Place(above="pike-hold"))]
    read = read_text(write(with_edits(OURS.content, edits)))
    assert [p.what for p in read.problems] == [
        "pike-hold-20 stands above pike-hold, but asks less at the same setting: 20 s after 30 s."
    ]


# --- gaps ---------------------------------------------------------------------------------------------------


def test_ours_has_no_gap() -> None:
    """What ships passes its own finder."""
    assert find_gaps(OURS) == ()


def test_a_gap_in_the_gates_own_measure_gets_a_rung_that_closes_it() -> None:
    """Bent-knee 30 s below hollow 120 s is four times as much; 60 s would stand between, and closes the
    gap.
    """
    d = OURS.drills["hollow-hold"]
    wide = own(
        Edit(
            drill=d.drill,
            change=Amendment(drill=d.drill, gate=replace(d.gate, value=120, origin="ours", easy_from=None)),
        )
    )
    (gap,) = [g for g in find_gaps(wide) if g.upper == "hollow-hold"]
    assert (gap.lower, gap.proposal.gate.value, gap.proposal.gate.origin) == ("bent-knee-hollow", 60, "ours")
    assert gap.sentence.endswith("is 4.0 times as much. 60 s would stand between.")


def test_a_gap_in_the_setting_of_a_dial_gets_a_setting_between() -> None:
    """Chest to the wall at 60 cm, then at 15 cm: the proposal is the middle, with our mark on it."""
    d = OURS.drills["chest-to-wall-hold"]
    assert d.gate.at
    far = replace(
        d,
        drill="chest-to-wall-far",
        title="Chest to wall, far",
        gate=replace(d.gate, at=replace(d.gate.at, at_most=60)),
        stages=(),
    )
    wide = own(Edit(drill=far.drill, insert=far, line="inversion", place=Place(below=d.drill)))
    (gap,) = [g for g in find_gaps(wide) if g.upper == d.drill and g.lower == far.drill]
    assert gap.proposal.gate.at
    assert (gap.proposal.gate.at.at_most, gap.proposal.gate.at.origin) == (37.5, "ours")
    closed = own(
        Edit(drill=far.drill, insert=far, line="inversion", place=Place(below=d.drill)),
        Edit(drill=gap.proposal.drill, insert=gap.proposal, line=gap.line, place=gap.place),
    )
    # the middle is still more than one step of 15 cm from both sides, so the finder goes on
    assert {(g.lower, g.upper) for g in find_gaps(closed)} >= {
        (far.drill, gap.proposal.drill),
        (gap.proposal.drill, d.drill),
    }


def test_standing_knows_only_drills_in_use() -> None:
    """Evidence for a retired drill stays, and is passed over."""
    s = own(Edit(drill="roll-out", retired=True))
    assert "roll-out" not in standing(mark_evidence(passing(OURS.drills["roll-out"]), s), s, on=TODAY).every()
    assert "roll-out" in stands().every()
