"""The first evening: clearance, body lengths, and which tests to run first."""

import pytest

from wise_perch.core.trade.intake import FirstTest, Profile, awaits_clearance, first_tests, lengths_of
from wise_perch.syllabus.shipped import built_in

OURS = built_in()
INTAKE = OURS.intake
NO = {q.caution: False for q in INTAKE.cautions}
EVERYTHING = tuple(e.experience for e in INTAKE.experiences)


def profile(*, yes: tuple[str, ...] = (), cleared: bool = False, experience: tuple[str, ...] = ()) -> Profile:
    return Profile(
        stature_cm=170,
        lengths_cm={},
        cautions={**NO, **dict.fromkeys(yes, True)},
        cleared=cleared,
        experience=experience,
    )


def names(tests: tuple[FirstTest, ...]) -> list[str]:
    return [t.test for t in tests]


@pytest.mark.parametrize("caution", [q.caution for q in INTAKE.cautions if q.clinician])
def test_a_caution_waits_for_the_coachs_word(caution: str) -> None:
    """A yes to any of these keeps everybody the right way up until the coach confirms."""
    assert [q.caution for q in awaits_clearance(INTAKE, profile(yes=(caution,)))] == [caution]
    assert awaits_clearance(INTAKE, profile(yes=(caution,), cleared=True)) == ()


def test_the_cautions_of_the_trade_are_asked() -> None:
    """Pressure, eyes, head, neck, shoulder, wrist, pregnancy, reflux, ears, hypermobile shoulders, age."""
    asked = {q.caution for q in INTAKE.cautions}
    assert asked >= {
        "blood-pressure",
        "eyes",
        "concussion",
        "neck",
        "shoulder",
        "wrist",
        "pregnancy",
        "reflux",
        "ears",
        "hypermobile",
        "minor",
    }
    assert awaits_clearance(INTAKE, profile(yes=("hypermobile",))) == (), (
        "it limits stretching, not standing on the hands"
    )
    assert awaits_clearance(INTAKE, None) == ()


def test_lengths_are_estimated_and_marked_until_measured() -> None:
    """From stature alone each length is an estimate with its source; a measured one is given back as it
    is.
    """
    found = {x.length: x for x in lengths_of(INTAKE, stature_cm=170, measured_cm={"arm": 76.5})}
    assert (found["arm"].cm, found["arm"].estimated, found["arm"].source) == (76.5, False, "measured")
    assert (found["trunk"].cm, found["trunk"].estimated) == (49.0, True)
    assert "Drillis and Contini" in found["trunk"].source
    assert found["arm"].doubt == ""


@pytest.mark.parametrize("cm", [0.72, 40, 140])
def test_an_unlikely_length_is_questioned_and_kept(cm: float) -> None:
    """An arm in metres, or far too short or long, is asked about; it is still what was measured."""
    arm, *_ = lengths_of(INTAKE, stature_cm=170, measured_cm={"arm": cm})
    assert (arm.cm, bool(arm.doubt)) == (cm, True)


def test_a_whole_first_assessment_takes_25_to_40_minutes_or_is_split() -> None:
    """With every experience and no goal everything is tested: more than one day's minutes, so two days are
    advised.
    """
    plan = first_tests(INTAKE, profile=profile(experience=EVERYTHING), wanted=())
    assert names(plan.one_day.tests) == [t.test for t in INTAKE.tests]
    assert plan.one_day.minutes > 40
    assert plan.advice.endswith("split it over two days.")
    assert len(plan.two_days) == 2
    assert all(day.minutes <= 40 for day in plan.two_days)
    assert [t for day in plan.two_days for t in names(day.tests)] == names(plan.one_day.tests)
    beginner = first_tests(INTAKE, profile=profile(), wanted=OURS.below["freestanding-hold"])
    assert beginner.one_day.minutes <= 40


def test_a_newcomer_is_not_sent_to_the_open_floor() -> None:
    """Without an exit there are no free tries, without a wall hold no wall test; each is named as left for
    later.
    """
    plan = first_tests(INTAKE, profile=profile(), wanted=())
    assert "free-tries" not in names(plan.one_day.tests)
    later = {x.title: x.because for x in plan.later}
    assert later["Ten free tries"] == "for somebody who steps out of a handstand safely"


def test_nothing_inverted_is_tested_before_clearance() -> None:
    """With an unconfirmed caution only what is the right way up is tested."""
    plan = first_tests(INTAKE, profile=profile(yes=("eyes",), experience=EVERYTHING), wanted=())
    assert plan.one_day.tests
    assert not any(t.inverted for t in plan.one_day.tests)


def test_goals_choose_the_tests() -> None:
    """For a press the press is tested and the floats are not; mobility comes last."""
    plan = first_tests(INTAKE, profile=profile(experience=EVERYTHING), wanted=OURS.below["straddle-press"])
    found = names(plan.one_day.tests)
    assert {"press-start", "fold"} <= set(found)
    assert "heel-float" not in found
    assert found[-1] == "fold"


def test_every_test_informs_a_drill_there_is() -> None:
    """The intake's data names only drills of the syllabus, and kit that is listed."""
    for test in INTAKE.tests:
        assert set(test.informs) <= set(OURS.drills), test.test
        assert set(test.kit) <= set(OURS.content.kit), test.test
        assert set(test.after) <= {e.experience for e in INTAKE.experiences}


def test_every_first_test_can_be_run_on_the_bench() -> None:
    """Each is a test of the Bench, for a drill that test is run for."""
    for test in INTAKE.tests:
        able = [d.drill for d in OURS.subjects(OURS.tests[test.bench])]
        assert test.subject in (able or [""]), test.test
