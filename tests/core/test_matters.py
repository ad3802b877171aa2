"""What Today asks a coach to decide, most pressing first."""

from datetime import date, timedelta
from typing import Any

import pytest

from tests.core.planning import SYLLABUS, TODAY, a_case, passing
from tests.core.test_standing import proven_below
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.to_decide import Matter, OpenRun, find_matters, pain_advice
from wise_perch.core.trainee.work_on import what_to_work_on


def exits(*ago: int) -> list[Evidence]:
    names = ("wall-side-step", "wall-side-step-down", "step-down-30", "cartwheel", "free-exit")
    return [p for name in names for a in ago for p in passing(SYLLABUS.drills[name], ago=a)]


def asked(
    *pieces: Evidence,
    on: date = TODAY,
    last: date | None = None,
    pain: Ache | None = None,
    run: OpenRun | None = None,
    **more: Any,
) -> list[Matter]:
    tested = {"free-tries": last} if last else {}
    return find_matters(
        a_case(*pieces, on=on, tested=tested, aches=[pain] if pain else [], **more), open_run=run
    )


def test_somebody_new_gets_a_first_rung() -> None:
    """With nothing recorded there is nothing to decide, but there is a next rung."""
    assert [m.kind for m in asked()] == ["next"]


@pytest.mark.parametrize(("ago", "there"), [(0, True), (14, True), (15, False)])
def test_pain_is_asked_about_for_two_weeks(ago: int, there: bool) -> None:
    """Reported pain comes before everything else, until fourteen days have passed."""
    pain = Ache(day=TODAY - timedelta(days=ago), joint="left wrist", level=3)
    found = asked(pain=pain, run=OpenRun(run="1", test="free-tries", day=TODAY, tries=4))
    assert (found[0].kind == "pain") is there
    if there:
        assert found[0].sentence.startswith("Left wrist 3 of 10 on ")


def test_a_run_left_open_is_named_with_its_tries() -> None:
    """An unfinished run leads back to itself."""
    found = asked(run=OpenRun(run="7", test="free-tries", day=TODAY, tries=4))
    assert (found[0].run, found[0].sentence) == ("7", "Ten free tries of 31 May not ended yet, 4 tries kept.")


@pytest.mark.parametrize(("days", "due"), [(27, False), (28, True)])
def test_free_tries_come_due(days: int, due: bool) -> None:
    """With exits proven the test is due after 28 days, and says its minutes at the coach's rest."""
    found = [m for m in asked(*exits(5, 0), last=TODAY - timedelta(days=days)) if m.kind == "test"]
    assert bool(found) is due
    if due:
        assert found[0].action == "Test, 10 min"
        assert found[0].sentence == "Time for ten free tries: last on 3 May."


def test_no_test_is_asked_for_before_exits_are_proven() -> None:
    """Without a proven exit nobody is sent to the open floor."""
    assert not [m for m in asked(*exits(0)) if m.kind == "test"]
    assert [m for m in asked(*exits(5, 0)) if m.kind == "test"]


def test_a_stale_exit_is_rechecked() -> None:
    """An exit last shown long ago is asked for, with the days."""
    found = asked(*exits(3, 0), on=TODAY + timedelta(days=61))
    assert found[0].sentence == "Free exit was last shown 61 days ago. Show it before open floor."


def test_one_pass_from_proven_puts_the_open_floor_first() -> None:
    """Of the gates met once, those the open floor waits for come first, each with its last day."""
    found = [m for m in asked(*exits(0), on=TODAY + timedelta(days=2)) if m.kind == "one-pass"]
    assert found[0].drill in {"step-down-30", "cartwheel", "free-exit"}
    assert "by 28 Jun and it is proven" in found[0].sentence
    assert not [m for m in asked(*exits(0), on=TODAY + timedelta(days=29)) if m.kind == "one-pass"]


def test_next_steps_name_what_a_closed_rung_waits_for() -> None:
    """Where the rung ahead is closed, the gate that keeps it closed is the work, with what it opens."""
    assert {s.label for s in what_to_work_on(a_case())} == {"Next step"}
    entry = [
        p
        for rung in SYLLABUS.lines[2].rungs[:-1]
        for d in rung
        for ago in (3, 0)
        for p in passing(d, ago=ago)
    ]
    found = {s.drill: s for s in what_to_work_on(a_case(*entry, *exits(0)))}
    assert found["free-exit"].sentence == "One more clean day by 28 Jun opens free kick-up"
    assert found["free-exit"].label == "Opens a step"


def aimed(*goals: str, pieces: list[Evidence]) -> list[Matter]:
    return asked(*pieces, goals=goals)


def test_goals_choose_what_asks_for_a_decision() -> None:
    """A gate one pass from proven asks only where it lies on the way to a goal, and the test only where the
    goal is the open floor.
    """
    once = [
        *exits(5, 0),
        *passing(SYLLABUS.drills["push-up"]),
        *passing(SYLLABUS.drills["back-to-wall-hold"]),
    ]
    floor, press = aimed("freestanding-hold", pieces=once), aimed("straddle-press", pieces=once)
    assert "back-to-wall-hold" in [m.drill for m in floor if m.kind == "one-pass"]
    assert "push-up" not in [m.drill for m in floor]
    tests = [{m.test for m in found if m.kind == "test"} for found in (floor, press)]
    assert ["free-tries" in names for names in tests] == [True, False]


def test_the_next_step_is_the_goals() -> None:
    """With a goal the next thing is what the goal asks for, with what holds it back."""
    (matter,) = aimed("freestanding-hold", pieces=[])
    assert (matter.kind, matter.drill) == ("next", "low-surface-hold")
    assert matter.sentence.startswith(
        "Confidence upside down is what limits the freestanding hold. Next: low-surface hold."
    )


def test_an_open_intake_comes_right_after_pain() -> None:
    """What the intake still waits for is said before anything else but pain."""
    found = asked(*exits(5, 0), cleared=False)
    assert found[0].kind == "cleared"
    named = SYLLABUS.intake.cautions[0].question.rstrip("?").lower()
    assert found[0].sentence.startswith(f"The intake named {named}. Nothing upside down until")
    assert [m.kind for m in found][-1] == "test"


@pytest.mark.parametrize(
    ("level", "said"),
    [(0, "same family"), (3, "same family"), (4, "licensed clinician"), (10, "licensed clinician")],
)
def test_pain_from_four_on_loads_nothing(level: int, said: str) -> None:
    """Below four the load is eased; from four on there is none, and a clinician is named."""
    assert said in pain_advice(level, SYLLABUS.rules).lower().replace("the same", "same")


def test_what_a_dose_leans_on_is_tested_again() -> None:
    """A float that is worked on the way is tested again after 28 days, and not before; one that was never
    tested, or is on nobody's way, is not asked for.
    """
    below = [p for own in proven_below("heel-float") for p in own]

    def again(days: int, *, goals: tuple[str, ...] = ("freestanding-hold",)) -> list[Matter]:
        tested = {"heel-float": TODAY - timedelta(days=days), "free-tries": TODAY}
        found = find_matters(a_case(*below, goals=goals, tested=tested))
        return [m for m in found if m.test == "heel-float"]

    assert again(27) == []
    (found,) = again(28)
    assert found.sentence.startswith("Heel float again: last on 3 May; the doses lean on it")
    assert again(28, goals=("straddle-press",)) == []
    assert not [
        m for m in find_matters(a_case(*below, goals=("freestanding-hold",))) if m.test == "heel-float"
    ]
