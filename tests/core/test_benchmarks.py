"""What each kind of test makes of its tries: result, decision, reasons, and evidence for the wall bars."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_standing import TODAY
from wise_perch.core.scoring import find_scoring, judge_tries, read_evidence_of_tries
from wise_perch.core.scoring.verdict import RunFacts, Verdict
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side, Try
from wise_perch.core.trade.protocol import try_problem
from wise_perch.syllabus.shipped import built_in

SYLLABUS = built_in()


def run(test: str, *tries: Try, subject: str = "", **known: Any) -> Verdict:
    facts = RunFacts(day=TODAY, subject=SYLLABUS.drills.get(subject), drills=SYLLABUS.drills, **known)
    numbered = [replace(t, number=n) for n, t in enumerate(tries, 1)]
    for t in numbered:
        assert try_problem(SYLLABUS.tests[test], t) is None
    return judge_tries(SYLLABUS.tests[test], numbered, facts)


def made(outcome: str, value: float | None = None, **more: Any) -> Try:
    return Try(number=1, outcome=outcome, value=value, **more)


def of(verdict: Verdict, drill: str) -> list[Evidence]:
    return [p for p in verdict.pieces if p.drill == drill]


@pytest.mark.parametrize("test", list(SYLLABUS.tests))
def test_a_run_without_a_try_decides_nothing(test: str) -> None:
    """No try, no decision, no evidence."""
    subject = next((d.drill for d in SYLLABUS.subjects(SYLLABUS.tests[test])), "")
    v = run(test, subject=subject)
    assert (v.n, v.decision, v.pieces) == (0, "no-try", ())
    assert v.reasons


def test_two_tries_with_one_number_are_refused() -> None:
    """The same try counted twice is an error in every test."""
    with pytest.raises(ValueError, match="same number"):
        judge_tries(SYLLABUS.tests["wall-landings"], [made("soft"), made("soft")], RunFacts(day=TODAY))


def test_a_way_of_scoring_is_found_by_its_file() -> None:
    """A name that is no file scores nothing, and neither does a file that is none."""
    assert find_scoring("floats") is not None
    assert find_scoring("no_such") is None
    assert find_scoring("../free_tries") is None
    assert find_scoring("verdict") is None


# --- landings -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("soft", "hard", "missed", "decision"),
    [(7, 3, 0, "reached"), (6, 4, 0, "not-yet"), (7, 0, 3, "reached"), (0, 10, 0, "not-yet")],
)
def test_seven_soft_landings_of_ten_end_the_block(soft: int, hard: int, missed: int, decision: str) -> None:
    """Seven of ten without a thud and the kick-up block may go; landing hard or not at all does not count."""
    v = run("wall-landings", *[made("soft")] * soft, *[made("hard")] * hard, *[made("missed")] * missed)
    assert v.decision == decision
    assert (v.figures["landed"], v.figures["soft"]) == (soft + hard, soft)
    (soft_piece,), (landed_piece,) = of(v, "soft-wall-landing"), of(v, "wall-kick-up")
    assert (soft_piece.value, soft_piece.n, landed_piece.value) == (soft, 10, soft + hard)


def test_seven_of_seven_landings_are_not_seven_of_ten() -> None:
    """Fewer than ten landings end no block, however soft they were."""
    v = run("wall-landings", *[made("soft")] * 7)
    assert v.decision == "not-yet"
    assert "7 tries are fewer than the 10 the gate asks for." in v.reasons


# --- floats -------------------------------------------------------------------------------------------------


def seconds(*values: float, form: Form | None = None) -> list[Try]:
    return [made("held", v, mode="seconds", form=form) for v in values]


def touches(*values: int) -> list[Try]:
    return [made("counted", float(v), mode="touches") for v in values]


def test_ten_seconds_are_the_most_that_counts() -> None:
    """A longer float is credited up to the ceiling: 10, 14 and 7 average 9, not 10.3."""
    v = run("heel-float", *seconds(10, 14, 7))
    assert (v.figures["mean_s"], v.decision) == (9, "longer-floats")
    (p,) = of(v, "heel-float")
    assert (p.measure, p.value, p.mode, p.window_s) == (Measure.HOLD, 9, "average of three", None)


def test_three_full_floats_reach_the_gate() -> None:
    """Ten seconds three times is the gate; with a loose one it is long enough and not clean."""
    assert run("toe-float", *seconds(10, 10, 10)).decision == "reached"
    v = run("toe-float", *seconds(10, 10), *seconds(10, form=Form.LOOSE))
    assert (v.decision, v.pieces[0].form) == ("cleaner", Form.LOOSE)


def test_an_average_needs_all_three() -> None:
    """Two floats have no average of three, and say so; no evidence comes of them."""
    v = run("heel-float", *seconds(10, 10))
    assert (v.decision, v.pieces) == ("longer-floats", ())
    assert any("needs all of them" in r for r in v.reasons)


def test_touches_are_a_scale_of_their_own() -> None:
    """After an early end the windows count, by the middle one, and the seconds before stand apart."""
    v = run("heel-float", *seconds(3.2), *touches(5, 2, 4))
    assert (v.mode, v.figures["touches"], v.figures["window_s"], v.decision) == (
        "touches",
        4,
        15,
        "fewer-touches",
    )
    (p,) = of(v, "heel-float")
    assert (p.measure, p.value, p.window_s, p.mode) == (Measure.TOUCHES, 4, 15, None)
    assert v.reasons[-1] == "1 earlier try was measured otherwise and stands apart."


@pytest.mark.parametrize(("windows", "middle"), [((4,), 4), ((2, 5), 5), ((3, 3, 9), 3)])
def test_of_two_windows_the_worse_counts(windows: tuple[int, ...], middle: int) -> None:
    """The middle one of three, the worse of two: one lucky window is not a level."""
    assert run("heel-float", *touches(*windows)).figures["touches"] == middle


def test_a_light_foot_is_the_third_scale() -> None:
    """Who cannot leave the wall is measured by the longest hold with a light foot, which meets no gate."""
    v = run("toe-float", made("held", 12.0, mode="light-foot"), made("held", 15.0, mode="light-foot"))
    assert (v.mode, v.figures["light_foot_s"], v.decision) == ("light-foot", 15, "leave-the-wall")
    assert (v.pieces[0].mode, v.pieces[0].measure) == ("light foot", Measure.HOLD)


# --- best of a few ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("test", "subject", "tries", "dial", "decision"),
    [
        ("simple-hold", "hollow-hold", [made("held", 31.0)], {}, "reached"),
        ("simple-hold", "hollow-hold", [made("held", 29.9)], {}, "on-the-way"),
        ("simple-hold", "hollow-hold", [made("held", 31.0, form=Form.LOOSE)], {}, "cleaner"),
        ("rep-maximum", "push-up", [made("done", 15)], {}, "reached"),
        ("rep-maximum", "push-up", [made("done", 20)], {}, "easy"),
        ("wall-hold", "chest-to-wall-hold", [made("held", 40.0)], {"hands-to-wall": 15}, "reached"),
        ("wall-hold", "chest-to-wall-hold", [made("held", 40.0)], {"hands-to-wall": 30}, "on-the-way"),
        ("wall-hold", "chest-to-wall-hold", [made("held", 40.0)], {}, "on-the-way"),
        ("timed-lowering", "lowering-to-floor", [made("held", 5.0)], {"pad-height": 0}, "reached"),
        ("timed-lowering", "lowering-to-floor", [made("held", 9.0)], {"pad-height": 5}, "on-the-way"),
        ("overhead-reach", "overhead-reach", [made("measured", 10)], {}, "reached"),
        ("overhead-reach", "overhead-reach", [made("measured", 12), made("measured", 11)], {}, "on-the-way"),
        ("fold", "pancake", [made("measured", 10), made("measured", 14)], {}, "reached"),
    ],
)
def test_the_best_clean_try_is_held_against_the_gate(
    test: str, subject: str, tries: list[Try], dial: dict[str, float], decision: str
) -> None:
    """The gate is the drill's own, at its own setting; fewer is better where the drill says so."""
    v = run(test, *tries, subject=subject, dial=dial)
    assert v.decision == decision
    assert len(of(v, subject)) == len(tries)
    assert all(p.dial == dial for p in v.pieces)


def test_the_weaker_side_counts() -> None:
    """On a measure with sides the worse of the two best is the result; one side alone has none."""
    tries = [
        made("measured", v, side=s)
        for v, s in ((92, Side.RIGHT), (78, Side.LEFT), (90, Side.RIGHT), (81, Side.LEFT))
    ]
    v = run("wrist-bend", *tries, subject="wrist-bend")
    assert (v.figures["best"], v.figures["best_right"], v.figures["best_left"], v.decision) == (
        81,
        92,
        81,
        "reached",
    )
    alone = run("wrist-bend", tries[0], subject="wrist-bend")
    assert (alone.figures["best"], alone.decision) == (None, "on-the-way")


def test_confidence_goes_with_the_evidence() -> None:
    """How sure the trainee was is part of every piece that a run gives."""
    v = run("simple-hold", made("held", 31.0), subject="hollow-hold", confidence=2)
    assert [p.confidence for p in v.pieces] == [2]


# --- ladders ------------------------------------------------------------------------------------------------


def at(level: float, outcome: str = "clean", mode: str = "pressing", form: Form | None = None) -> Try:
    return made(outcome, mode=mode, level=level, form=form)


def test_both_limits_of_the_push_are_found_and_remembered() -> None:
    """The lowest pressed from and the lowest lowered to, each kept as a limit with its setting."""
    v = run(
        "push-floor",
        at(20),
        at(15),
        at(10, "missed"),
        at(12.5),
        at(12.5, mode="lowering"),
        at(7.5, mode="lowering"),
        at(2.5, "missed", "lowering"),
    )
    assert (
        v.figures["pressing_limit"],
        v.figures["pressing_missed"],
        v.figures["lowering_limit"],
        v.figures["lowering_missed"],
    ) == (
        12.5,
        10,
        7.5,
        2.5,
    )
    assert (v.decision, v.summary) == ("train-here", "pressed from 12.5 cm, lowered to 7.5 cm")
    kept = {(p.drill, p.value, tuple(p.dial.items())) for p in v.pieces if p.mode == "limit"}
    assert kept == {
        ("partial-wall-hspu", 12.5, (("pad-height", 12.5),)),
        ("lowering-to-floor", 7.5, (("pad-height", 7.5),)),
    }


def test_a_loose_pass_is_work_done_and_no_limit() -> None:
    """A height pressed loosely does not count as the limit, yet stays as a loose rep."""
    v = run("push-floor", at(20), at(15, form=Form.LOOSE))
    assert v.figures["pressing_limit"] == 20
    assert [
        (p.dial["pad-height"], p.form) for p in of(v, "partial-wall-hspu") if p.measure is Measure.REPS
    ] == [(20, Form.CLEAN), (15, Form.LOOSE)]


def test_the_floor_speaks_for_the_strict_one_and_a_deficit_for_the_deeper() -> None:
    """One signed scale: above the floor it is partial, on the floor strict, below it a deficit."""
    v = run("push-floor", at(5), at(0), at(-5))
    reps = {p.drill: p.dial["pad-height"] for p in v.pieces if p.measure is Measure.REPS}
    assert reps == {"partial-wall-hspu": 5, "strict-wall-hspu": 0, "deficit-hspu": -5}
    assert v.decision == "at-the-end"


@pytest.mark.parametrize(
    ("test", "subject", "tries", "limit", "decision"),
    [
        (
            "feet-in-pike",
            "",
            [at(110, mode="feet-in"), at(100, mode="feet-in"), at(90, "missed", "feet-in")],
            100,
            "train-here",
        ),
        ("press-start", "partial-press-wall", [at(40, mode="start"), at(10, mode="start")], 10, "at-the-end"),
        ("press-start", "partial-press-wall", [at(40, "missed", "start")], None, "none-passed"),
        ("stalder-target", "", [at(10, mode="target"), at(30, mode="target")], 30, "at-the-end"),
        ("stalder-target", "", [at(10, mode="target"), at(20, "missed", "target")], 10, "train-here"),
    ],
)
def test_harder_has_a_sign(
    test: str, subject: str, tries: list[Try], limit: float | None, decision: str
) -> None:
    """Nearer, lower and farther are each harder in their place, and the gate's own setting ends the
    ladder.
    """
    v = run(test, *tries, subject=subject)
    assert (v.figures["limit"], v.decision) == (limit, decision)


# --- what may be written down -------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("test", "tried", "said"),
    [
        ("heel-float", made("held", mode="seconds"), "needs its seconds"),
        ("heel-float", made("counted", 2.5, mode="touches"), "whole numbers"),
        ("heel-float", made("held", 5.0, mode="touches"), "A try here is counted"),
        ("heel-float", made("held", 5.0, mode="hours"), "are measured as"),
        ("wall-landings", made("soft", 3.0), "belong to a no try"),
        ("wall-landings", made("flew"), "A try here is soft, hard or missed"),
        ("push-floor", made("clean", mode="pressing"), "needs its pad height"),
        ("push-floor", at(90), "goes from -15 to 40 cm"),
        ("rep-maximum", made("done", 2000), "go from 0 to 1000"),
        ("overhead-reach", made("measured", 200), "go from -60 to 180"),
        ("simple-hold", made("held", -1), "A hold lasts from 0 to 3600 s"),
        ("simple-hold", made("held", float("nan")), "A hold lasts"),
        ("simple-hold", Try(number=0, outcome="held", value=1), "counted from 1"),
    ],
)
def test_what_cannot_be_is_refused_in_words(test: str, tried: Try, said: str) -> None:
    """A figure that is missing, impossible or in the wrong place is a sentence."""
    assert said in (try_problem(SYLLABUS.tests[test], tried) or "")


some_floats = st.lists(
    st.one_of(
        st.floats(0, 60).map(lambda v: made("held", v, mode="seconds")),
        st.integers(0, 20).map(lambda v: made("counted", float(v), mode="touches")),
        st.floats(0, 60).map(lambda v: made("held", v, mode="light-foot")),
    ),
    max_size=8,
)


@given(some_floats)
def test_modes_never_mix(tries: list[Try]) -> None:
    """Whatever is measured, each figure comes only from tries of its own mode, and evidence is of the last
    mode alone.
    """
    v = run("heel-float", *tries)
    by = {
        m: [t.value for t in tries if t.mode == m and t.value is not None]
        for m in ("seconds", "touches", "light-foot")
    }
    assert (v.figures["mean_s"] is None) == (not by["seconds"])
    assert v.figures["best_s"] is None or v.figures["best_s"] == min(10, max(by["seconds"]))
    assert (v.figures["touches"] is None) == (not by["touches"])
    if tries:
        assert v.mode == tries[-1].mode
        assert {p.measure for p in v.pieces} <= {Measure.TOUCHES if v.mode == "touches" else Measure.HOLD}


def test_reading_many_runs_gives_the_same_evidence() -> None:
    """The quick way to a run's evidence gives what its judgement gives."""
    test = SYLLABUS.free_tries
    tries = [Try(number=n, outcome="held", value=float(n)) for n in range(1, 11)]
    known = RunFacts(day=TODAY, drills=SYLLABUS.drills)
    assert list(read_evidence_of_tries(test, tries, known)) == list(judge_tries(test, tries, known).pieces)
