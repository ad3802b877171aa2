"""A coach's own tests: made, checked, run, scored into the gate of their drill; ours set aside."""

from dataclasses import replace
from datetime import date
from typing import Any

import pytest

from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.ready import find_test
from wise_perch.core.bench.run_sheet import walk_run
from wise_perch.core.bench.sound_tests import find_test_faults
from wise_perch.core.scoring import judge_tries
from wise_perch.core.scoring.verdict import RunFacts, Verdict
from wise_perch.core.trade.content import Content
from wise_perch.core.trade.edits import Edit, with_edits
from wise_perch.core.trade.evidence import Form, Measure, Try
from wise_perch.core.trade.own_test import Climb, OwnTest
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.syllabus.shipped import built_in, read_text
from wise_perch.syllabus.writing import write

OURS = built_in()
DAY = date(2026, 3, 2)
HOLD = OwnTest(
    test="own-tuck",
    title="Tuck hold, three goes",
    drill="tuck-handstand",
    way="best",
    measure=Measure.HOLD,
    tries=3,
    rest_s=90,
)
SHARE = replace(
    HOLD,
    test="own-exits",
    title="Exits of ten",
    drill="free-exit",
    way="share",
    measure=Measure.RATE,
    tries=10,
)
CLIMB = replace(
    HOLD,
    test="own-climb",
    title="Climb",
    drill="low-surface-hold",
    way="ladder",
    measure=Measure.REPS,
    tries=8,
)
FLAT = Climb(easiest=1, hardest=2, start=1, step=1)


def kept(*tests: OwnTest, aside: tuple[str, ...] = ()) -> Syllabus:
    """A syllabus with own tests, written as a file and read again, as it is kept."""
    content = with_edits(OURS.content, [Edit(drill=t.drill, own_test=t) for t in tests])
    content = with_edits(content, [Edit(drill="", test=name, aside=True) for name in aside])
    read = read_text(write(content))
    assert read.problems == ()
    assert read.syllabus
    return read.syllabus


def problems(own: OwnTest) -> list[str]:
    return [p.what for p in read_text(write(with_own(OURS.content, own))).problems]


def with_own(content: Content, own: OwnTest) -> Content:
    return replace(content, own_tests=(own,))


def run(syllabus: Syllabus, name: str, *tries: Try) -> Verdict:
    test = syllabus.tests[name]
    facts = RunFacts(day=DAY, subject=syllabus.drills[test.subjects[0]], drills=syllabus.drills)
    return judge_tries(test, tries, facts)


def climb_of(drill: str) -> Climb:
    """Five settings around where a drill's dial begins, from easy to hard."""
    dial = OURS.drills[drill].dial
    assert dial
    assert dial.start
    way = 1 if dial.harder in ("higher", "wider", "farther") else -1
    begin = dial.start.value
    return Climb(easiest=begin - way * 10, hardest=begin + way * 10, start=begin, step=5)


def test_the_best_of_some_tries_meets_the_gate() -> None:
    """Seconds of the best clean try, as evidence of the drill; it counts like a test of ours."""
    syllabus = kept(HOLD)
    gate = syllabus.drills["tuck-handstand"].gate
    assert gate.measure is Measure.HOLD
    said = run(
        syllabus,
        "own-tuck",
        Try(number=1, outcome="held", value=gate.value - 2),
        Try(number=2, outcome="held", value=gate.value),
        Try(number=3, outcome="held", value=gate.value + 9, form=Form.LOOSE),
    )
    assert said.decision == "reached"
    assert said.figures["best"] == gate.value
    assert {(p.drill, p.measure) for p in said.pieces} == {("tuck-handstand", Measure.HOLD)}
    # what is run for one drill by one's own test is still run by the general one too
    assert (
        "tuck-handstand"
        in {d.drill for d in OURS.subjects(OURS.tests["simple-hold"])}
        & {d.drill for d in syllabus.subjects(syllabus.tests["simple-hold"])}
        or OURS.drills["tuck-handstand"].away
    )


def test_good_ones_of_some_tries_meet_a_rate_only_when_all_were_made() -> None:
    rated = next(d for d in OURS.drills.values() if d.gate.measure is Measure.RATE and d.gate.of)
    gate = rated.gate
    assert gate.of
    syllabus = kept(replace(SHARE, drill=rated.drill, tries=gate.of))

    def tries(n: int, good: int) -> list[Try]:
        return [Try(number=k + 1, outcome="good" if k < good else "missed") for k in range(n)]

    assert run(syllabus, "own-exits", *tries(gate.of, int(gate.value))).decision == "reached"
    assert run(syllabus, "own-exits", *tries(gate.of, int(gate.value) - 1)).decision == "not-yet"
    early = run(syllabus, "own-exits", *tries(gate.of - 1, gate.of - 1))
    assert early.decision == "not-yet"
    assert "fewer than" in early.reasons[1]
    (piece,) = early.pieces
    assert (piece.value, piece.n) == (gate.of - 1, gate.of - 1)
    loose = [*tries(gate.of - 1, gate.of), Try(number=gate.of, outcome="good", form=Form.LOOSE)]
    assert run(syllabus, "own-exits", *loose).figures["good"] == gate.of - 1


def test_a_ladder_climbs_the_dial_of_its_drill() -> None:
    """Its settings laid out, walked until a miss, the limit kept as that day's."""
    drill = next(
        d.drill
        for d in OURS.drills.values()
        if d.dial and d.dial.start and d.dial.unit == "cm" and d.drill not in ("pike-push-up",)
    )
    syllabus = kept(replace(CLIMB, drill=drill, climb=climb_of(drill)))
    test, subject = find_test(syllabus, "own-climb", "")
    assert subject is not None
    sheet = lay_out(test, subject=subject)
    climb = climb_of(drill)
    first = sheet.steps[sheet.first].levels[0]
    assert first == climb.start
    tries = [Try(number=1, outcome="clean", level=first)]
    harder = walk_run(sheet, tries).step
    assert harder
    tries.append(Try(number=2, outcome="missed", level=harder.levels[0]))
    said = run(syllabus, "own-climb", *tries)
    assert said.figures["limit"] == first
    assert any(dict(p.dial) == {subject.dial.name: first} for p in said.pieces if subject.dial)


def test_touches_are_counted_in_a_window_of_their_own() -> None:
    syllabus = kept(replace(HOLD, measure=Measure.TOUCHES, window_s=45))
    mode = syllabus.tests["own-tuck"].modes[0]
    assert (mode.takes, mode.window_s and mode.window_s.value, mode.fewer) == ("window", 45, True)
    (piece,) = run(syllabus, "own-tuck", Try(number=1, outcome="held", value=2)).pieces
    assert (piece.measure, piece.window_s) == (Measure.TOUCHES, 45)


@pytest.mark.parametrize("own", [HOLD, SHARE, replace(CLIMB, climb=climb_of("low-surface-hold"))])
def test_what_is_made_is_as_sound_as_ours(own: OwnTest) -> None:
    syllabus = kept(own)
    made = syllabus.tests[own.test]
    assert find_test_faults(made) == []
    assert made in syllabus.tests_offered
    assert set(OURS.tests) < set(syllabus.tests)
    assert made.cautions
    assert made.due_after_days is None


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"drill": "no-such-drill"}, "which is no drill in use"),
        ({"test": "tuck"}, "begins with own-"),
        ({"title": " "}, "needs a title"),
        ({"tries": 0}, "from 1 to 20 tries"),
        ({"rest_s": 9999}, "a rest of 5 to 600 s"),
        ({"due_after_days": 0}, "after 1 to 366 days"),
        ({"measure": Measure.RATE}, "a rate has no best try"),
        ({"measure": Measure.TOUCHES}, "touches need one"),
        ({"window_s": 30}, "a window belongs to touches"),
        ({"way": "share"}, "counted as a rate"),
        ({"way": "ladder"}, "a ladder needs them"),
        ({"way": "ladder", "measure": Measure.REPS, "climb": FLAT}, "no dial"),
    ],
)
def test_what_cannot_be_run_is_refused_in_a_sentence(wrong: dict[str, Any], said: str) -> None:
    assert any(said in p for p in problems(replace(HOLD, **wrong))), problems(replace(HOLD, **wrong))


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"easiest": -400.0}, "settings at most"),
        ({"step": 0.0}, "settings at most"),
        ({"start": 900.0}, "between its easiest and its hardest"),
        ({"easiest": 10.0, "hardest": 10_0.0, "start": 50.0}, "gets harder"),
    ],
)
def test_a_ladder_that_nobody_climbs_is_refused(wrong: dict[str, Any], said: str) -> None:
    climb = replace(climb_of("low-surface-hold"), **wrong)
    dial = OURS.drills["low-surface-hold"].dial
    assert dial
    if said == "gets harder" and dial.harder in ("higher", "wider", "farther"):
        climb = replace(climb, easiest=climb.hardest, hardest=climb.easiest)
    assert any(said in p for p in problems(replace(CLIMB, climb=climb)))


def test_two_of_one_name_and_an_unknown_one_set_aside_are_refused() -> None:
    content = replace(OURS.content, own_tests=(HOLD, HOLD), tests_aside=("nothing",))
    said = [p.what for p in read_text(write(content)).problems]
    assert any("of this name already" in p for p in said)
    assert any("There is no test named nothing" in p for p in said)


def test_ours_are_set_aside_and_used_again() -> None:
    """Not offered, not due; what was tested with one still counts, since it stays known."""
    syllabus = kept(HOLD, aside=("free-tries", "own-tuck"))
    offered = {t.test for t in syllabus.tests_offered}
    assert {"free-tries", "own-tuck"} & offered == set()
    assert {"free-tries", "own-tuck"} <= set(syllabus.tests)
    again = with_edits(syllabus.content, [Edit(drill="", test="free-tries", aside=False)])
    assert again.tests_aside == ("own-tuck",)
    changed = with_edits(syllabus.content, [Edit(drill="tuck-handstand", own_test=replace(HOLD, tries=5))])
    assert [t.tries for t in changed.own_tests] == [5]
