"""A test day: the order of the tests, the minutes at honest rests, two days; and the limits and rulers beside
it.
"""

from datetime import timedelta
from uuid import UUID, uuid4

import pytest

from tests.core.test_standing import TODAY
from wise_perch.core.bench.remembered_limits import begin_at, remember_limits
from wise_perch.core.bench.test_day import in_order, minutes_of_days, over_two_days
from wise_perch.core.body.body_units import in_rulers, rulers_of
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.history import History
from wise_perch.core.trainee.stored import Turn
from wise_perch.syllabus.shipped import built_in

SYLLABUS = built_in()
TESTS = SYLLABUS.tests
A, B = uuid4(), uuid4()


def turns(*names: str, who: tuple[UUID, ...] = (A,)) -> list[Turn]:
    return [Turn(trainee=t, test=n) for t in who for n in names]


def test_the_open_floor_comes_first_and_mobility_last() -> None:
    """Whatever the order of picking, the tests run fresh first; trainees at one test stand side by side."""
    ordered = in_order(turns("fold", "heel-float", "free-tries", "rep-maximum", who=(A, B)), TESTS)
    assert [t.test for t in ordered] == [
        n for n in ("free-tries", "heel-float", "rep-maximum", "fold") for _ in "ab"
    ]
    assert [t.trainee for t in ordered[:2]] == [A, B]


def test_what_is_named_twice_or_not_there_is_left_out() -> None:
    """A turn named twice stands once, and a test nobody has is passed over."""
    assert len(in_order([*turns("fold", "fold"), Turn(trainee=A, test="no-such")], TESTS)) == 1


def test_the_minutes_are_tries_and_rests_and_the_warm_up() -> None:
    """Ten free tries of 15 s with nine rests of 45 s and six minutes before it are 15.25 minutes, said
    as 16.
    """
    (day,) = minutes_of_days(turns("free-tries"), TESTS, warm_up_min=6)
    assert (day.alone[A], day.together) == (16, 16)


def test_two_on_one_bench_take_hardly_longer_than_one() -> None:
    """The rest of one is the try of the other: together they take as long as the one who takes longest, while
    the tries fit.
    """
    (day,) = minutes_of_days(turns("free-tries", who=(A, B)), TESTS, warm_up_min=6)
    assert day.together == day.alone[A] == 16
    many = tuple(uuid4() for _ in range(12))
    (day,) = minutes_of_days(turns("free-tries", who=many), TESTS, warm_up_min=6)
    assert day.together == 36


def test_a_full_first_assessment_takes_what_practice_says() -> None:
    """The tests of a whole first assessment come to 25 to 40 minutes at usual rests (common practice),
    warm-up apart.
    """
    full = turns(
        "free-tries",
        "wall-landings",
        "heel-float",
        "toe-float",
        "wall-hold",
        "rep-maximum",
        "simple-hold",
        "overhead-reach",
        "fold",
    )
    (day,) = minutes_of_days(full, TESTS, warm_up_min=0)
    assert 25 <= day.together <= 40


def test_two_days_are_as_even_as_the_order_allows() -> None:
    """The fresh part comes on the first day, the rest on the second, and no test is lost or doubled."""
    wanted = turns(
        "free-tries",
        "wall-landings",
        "heel-float",
        "toe-float",
        "push-floor",
        "rep-maximum",
        "fold",
        who=(A, B),
    )
    split = over_two_days(wanted, TESTS)
    assert {(t.trainee, t.test) for t in split} == {(t.trainee, t.test) for t in wanted}
    assert [t.day for t in split] == sorted(t.day for t in split)
    one, two = minutes_of_days(split, TESTS, warm_up_min=0)
    assert abs(one.alone[A] - two.alone[A]) <= 10
    assert {t.day for t in over_two_days(turns("fold"), TESTS)} == {1}


def limit(drill: str, value: float, ago: int, dial: str = "pad-height") -> Evidence:
    day = TODAY - timedelta(days=ago)
    return Evidence(
        drill=drill,
        day=day,
        measure=Measure.HEIGHT,
        value=value,
        mode="limit",
        form=Form.CLEAN,
        dial={dial: value},
    )


def test_the_newest_limit_is_remembered_with_its_day() -> None:
    """Of several readings the newest counts; one beyond the syllabus's staleness is called old."""
    found = remember_limits(
        History(
            [
                limit("partial-wall-hspu", 20, 90),
                limit("partial-wall-hspu", 12.5, 10),
                limit("lowering-to-floor", 0, 60),
            ]
        ),
        SYLLABUS,
        on=TODAY,
    )
    assert [(r.mode, r.level, r.words, r.old) for r in found] == [
        ("pressing", 12.5, "12.5 cm", False),
        ("lowering", 0, "the flat floor", True),
    ]
    assert found[0].day == TODAY - timedelta(days=10)


@pytest.mark.parametrize(
    ("confidence", "begin"), [(None, {}), (4, {}), (2, {"pressing": 25, "lowering": 25})]
)
def test_the_shy_begin_higher(confidence: int | None, begin: dict[str, float]) -> None:
    """Without a limit yet, low confidence begins at the setting for the shy."""
    assert begin_at(TESTS["push-floor"], [], drill="", confidence=confidence, shy_up_to=2) == begin


def test_a_remembered_limit_is_begun_a_step_easier() -> None:
    """The next test begins a step above the height pressed from, and a step farther out than the feet came
    in.
    """
    found = remember_limits(
        History([limit("partial-wall-hspu", 10, 5), limit("pike-push-up", 90, 5, "hands-to-feet")]),
        SYLLABUS,
        on=TODAY,
    )
    assert begin_at(TESTS["push-floor"], found, drill="", confidence=1, shy_up_to=2)["pressing"] == 15
    assert begin_at(TESTS["feet-in-pike"], found, drill="", confidence=None, shy_up_to=2) == {"feet-in": 100}


@pytest.mark.parametrize(
    ("cm", "said"),
    [(110, "about 6 hands"), (18, "about 1 hand"), (0, ""), (38.7, "about 1 and a half feet"), (400, "")],
)
def test_a_distance_in_the_trainees_own_body(cm: float, said: str) -> None:
    """170 cm of stature has a hand of 18.4, a foot of 25.8 and a forearm of 24.8 cm; whole and half counts
    that fit are said.
    """
    own = rulers_of(SYLLABUS.intake, Profile(stature_cm=170, lengths_cm={}, cautions={}))
    assert in_rulers(cm, own) == said


def test_without_a_stature_there_is_no_ruler() -> None:
    """Nothing is said in hands of nobody knows what length; a measured hand is used as measured."""
    assert rulers_of(SYLLABUS.intake, None) == {}
    assert (
        rulers_of(SYLLABUS.intake, Profile(stature_cm=170, lengths_cm={"hand": 20}, cautions={}))["hand"]
        == 20
    )
