"""Gates, stages and dials: how they are said, how they fill, and how evidence is compared with them."""

import re
from datetime import date

import pytest

from tests.core.test_standing import SYLLABUS, TODAY, done
from wise_perch.core.trade.content import Drill, Range
from wise_perch.core.trade.evidence import MEASURE_UNITS, Evidence, Form, Measure
from wise_perch.core.trade.gates import DialLimit, Gate, Stage, say_amount, stage_gate
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.marks import (
    at_setting,
    compares_with,
    fill_of_gate,
    is_enough,
    mark_evidence,
    passes_gate,
)
from wise_perch.core.trainee.standing import standing
from wise_perch.core.trainee.wall import State
from wise_perch.core.trainee.wording import say_value

DAY = date(2026, 5, 3)


def gate(measure: Measure = Measure.HOLD, value: float = 30, **more: object) -> Gate:
    return Gate(measure=measure, value=value, origin="ours", **more)  # type: ignore[arg-type]


def piece(value: float, **more: object) -> Evidence:
    return Evidence(
        **{"drill": "x", "day": DAY, "measure": Measure.HOLD, "form": Form.CLEAN, "value": value, **more}
    )  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("made", "said"),
    [
        (gate(), "30 s"),
        (gate(Measure.REPS, 15), "15"),
        (gate(Measure.RATE, 7, of=10), "7 of 10"),
        (gate(Measure.REPS, 5, each_side=True), "5 a side"),
        (gate(Measure.ANGLE, 10, fewer=True, start=50), "10° or less"),
        (gate(Measure.DISTANCE, 500), "5 m"),
        (gate(Measure.DISTANCE, 10, fewer=True, start=60), "10 cm or less"),
        (gate(Measure.TOUCHES, 3, fewer=True, start=8, window_s=15), "3 touches or less in 15 s"),
        (
            gate(Measure.LOWERING, 5, at=DialLimit(dial="pad-height", origin="ours", at_most=0)),
            "5 s on the flat floor",
        ),
        (gate(at=DialLimit(dial="hands-to-wall", origin="ours", at_most=15)), "30 s at 15 cm or less"),
        (
            gate(Measure.REPS, 2, at=DialLimit(dial="target-distance", origin="ours", at_least=30)),
            "2 at 30 cm or more",
        ),
        (gate(at=DialLimit(dial="body-angle", origin="ours", at_most=45, unit="deg")), "30 s at 45° or less"),
        (gate(mode="average of three", value=10), "10 s, average of three"),
        (gate(Measure.REPS, 3, also=(gate(value=20),)), "3, and a 20 s hold"),
    ],
)
def test_a_gate_is_said_in_the_trades_words(made: Gate, said: str) -> None:
    """Amount, side, mode, window, setting and further conditions, in that order."""
    assert made.text == said


@pytest.mark.parametrize("measure", list(Measure))
def test_every_measure_has_a_unit_and_can_be_said(measure: Measure) -> None:
    """No measure is left without its unit or its words."""
    assert MEASURE_UNITS[measure]
    assert say_amount(4, measure, 10).startswith("4")


@pytest.mark.parametrize(
    ("made", "value", "n", "filled", "reached"),
    [
        (gate(), 15, None, 0.5, False),
        (gate(), 30, None, 1.0, True),
        (gate(Measure.RATE, 7, of=10), 7, 10, 1.0, True),
        (gate(Measure.RATE, 7, of=10), 14, 20, 1.0, True),
        (gate(Measure.RATE, 7, of=10), 13, 20, 13 / 14, False),
        (gate(Measure.RATE, 7, of=10), 7, 7, 1.0, False),
        (gate(Measure.ANGLE, 10, fewer=True, start=50), 30, None, 0.5, False),
        (gate(Measure.ANGLE, 10, fewer=True, start=50), 70, None, 0.0, False),
        (gate(Measure.ANGLE, 10, fewer=True, start=50), 5, None, 1.125, True),
    ],
)
def test_filling_and_reaching_a_gate(
    made: Gate, value: float, n: int | None, filled: float, reached: bool
) -> None:
    """A share of the gate, and whether it is reached; a rate over too few tries never reaches it."""
    assert fill_of_gate(value, n, made) == pytest.approx(filled)
    assert is_enough(value, n, made) is reached


@pytest.mark.parametrize(
    ("seen", "counts"),
    [
        (piece(31), True),
        (piece(31, form=Form.LOOSE), False),
        (piece(31, mode="light foot"), False),
        (piece(31, window_s=15.0), False),
        (piece(31, measure=Measure.LOWERING), False),
        (piece(29), False),
    ],
)
def test_only_like_is_compared_with_like(seen: Evidence, counts: bool) -> None:
    """Another measure, mode or window never passes, nor does a form that is not clean."""
    assert passes_gate(seen, gate()) is counts
    assert compares_with(piece(1), gate())


@pytest.mark.parametrize(("setting", "holds"), [(14.0, True), (15.0, True), (15.5, False), (None, False)])
def test_an_unrecorded_setting_does_not_count(setting: float | None, holds: bool) -> None:
    """A gate at a setting takes only evidence that says its setting."""
    limit = DialLimit(dial="hands-to-wall", origin="ours", at_most=15)
    dial = {} if setting is None else {"hands-to-wall": setting}
    assert at_setting(piece(40, dial=dial), gate(at=limit)) is holds
    assert limit.holds(setting) is holds


def test_a_stage_takes_over_how_its_gate_is_measured() -> None:
    """The same measure keeps mode, setting and n; touches fewer are better, and stand for themselves."""
    made = gate(
        mode="average of three", value=10, at=DialLimit(dial="hands-to-wall", origin="ours", at_most=15)
    )
    same = stage_gate(Stage(value=5, origin="practice"), made)
    assert (same.measure, same.mode, same.at, same.value) == (Measure.HOLD, "average of three", made.at, 5)
    touches = stage_gate(Stage(value=4, origin="practice", measure=Measure.TOUCHES, window_s=15), made)
    assert (touches.fewer, touches.mode, touches.at, touches.window_s) == (True, None, None, 15)
    assert is_enough(3, None, touches)
    assert not is_enough(5, None, touches)


@pytest.mark.parametrize(
    ("value", "made", "said"),
    [
        (9.99, gate(), "9.9 s"),
        (10.0, gate(), "10 s"),
        (14.01, gate(Measure.ANGLE, 10, fewer=True, start=50), "14.1°"),
        (6, gate(Measure.REPS), "6"),
    ],
)
def test_a_figure_never_claims_more_than_was_done(value: float, made: Gate, said: str) -> None:
    """Seconds are rounded down; where less is better, up."""
    assert say_value(value, None, made) == said


def test_days_and_ranges_are_said_shortly() -> None:
    """A day names its year only when it is another one; a range of one figure is one figure."""
    assert (say_day(DAY, DAY), say_day(DAY, date(2027, 1, 1))) == ("3 May", "3 May 2026")
    assert (Range(least=2, most=4, origin="ours").text, Range(least=3, most=3, origin="ours").text) == (
        "2–4",
        "3",
    )
    assert capitalise("") == ""


def test_every_drill_has_what_a_coach_asks_for() -> None:
    """A title, a gate with its origin, a description, a cue, and a dose of its own or of its measure."""
    for name, d in SYLLABUS.drills.items():
        assert d.title, name
        assert d.about, name
        assert d.cues, name
        assert SYLLABUS.doses(d), name
        for dose in SYLLABUS.doses(d):
            assert dose.sets or dose.each, name
    faults = {f.fault for f in SYLLABUS.content.faults}
    assert len(faults) >= 13
    assert {f for d in SYLLABUS.drills.values() for f in d.faults} <= faults


def test_every_figure_in_words_says_where_it_comes_from() -> None:
    """A description or the words of a dose that hold a figure carry its origin; cautions and cues hold
    none.
    """
    for name, d in SYLLABUS.drills.items():
        assert not re.search(r"\d", d.about) or d.said, name
        for dose in SYLLABUS.doses(d):
            assert not re.search(r"\d", dose.words) or dose.said, name
        assert not re.search(r"\d", " ".join((*d.cautions, *d.cues))), name


def test_what_is_done_upside_down_away_or_on_the_head_has_its_caution() -> None:
    """Where somebody can be hurt the data carries a caution."""
    for name, d in SYLLABUS.drills.items():
        if d.head or (d.away and name != "free-hspu"):
            assert d.cautions, name


@pytest.mark.parametrize("name", ["wall-walk", "heel-float", "lunge-to-t", "pancake"])
def test_the_ways_of_measuring_begin_with_the_gates(name: str) -> None:
    """What a coach may record of a drill: the gate's own way first, each way once."""
    ways = SYLLABUS.ways(name)
    assert ways[0].measure is SYLLABUS.drills[name].gate.measure
    assert len({(w.measure, w.mode, w.window_s) for w in ways}) == len(ways)


def test_a_pike_that_is_no_pike_counts_for_nothing() -> None:
    """Feet on the floor are not raised, and feet far away make a plank; how far depends on the body; what
    nobody wrote down counts, and the dial still goes on beyond.
    """
    raised, pike = SYLLABUS.drills["raised-pike-push-up"], SYLLABUS.drills["pike-push-up"]

    def state(drill: Drill, cm: float | None, *, stature_cm: float | None = None) -> State:
        pieces = [done(drill.drill, drill.gate.value, ago=ago, cm=cm) for ago in (5, 0)]
        marks = mark_evidence(pieces, SYLLABUS, stature_cm=stature_cm)
        return standing(marks, SYLLABUS, on=TODAY).drill(drill.drill).state

    assert [state(raised, cm) for cm in (0, 10, 30, None)] == [
        State.NOT_YET,
        State.NOT_YET,
        State.PROVEN,
        State.PROVEN,
    ]
    assert [state(pike, cm) for cm in (170, 110)] == [State.NOT_YET, State.PROVEN]
    assert [state(pike, 125, stature_cm=s) for s in (160, 190)] == [State.NOT_YET, State.PROVEN]
    assert "15 cm or more at 170 cm of height" in raised.gate.text
