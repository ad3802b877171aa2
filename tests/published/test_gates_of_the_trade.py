"""Gate numbers of the trade, reached by evidence and not read back from the data. Common practice, no single source."""

import pytest

from tests.core.test_standing import done, stand
from wise_perch.core.benchmarks.free_tries import FreeTriesContext, score
from wise_perch.core.evidence import Outcome, Try
from wise_perch.core.standing import State
from wise_perch.syllabus import built_in


# common practice, no single source
@pytest.mark.parametrize(
    ("drill", "enough", "short"),
    [
        ("low-surface-hold", 30, 29),
        ("shoulder-rocks", 15, 14),
        ("right-angle-hold", 30, 29),
        ("chest-to-wall-hold", 30, 29),
        ("back-to-wall-hold", 30, 29),
        ("soft-wall-landing", 7, 6),
        ("slack-to-tall", 10, 9),
        ("foot-switches", 20, 19),
        ("finger-press", 15, 14),
        ("heel-float", 10, 9.9),
        ("toe-float", 10, 9.9),
        ("near-wall-float", 20, 19),
        ("free-hold-5", 5, 4.9),
        ("free-hold-10", 7, 6),
    ],
)
def test_gates(drill: str, enough: float, short: float) -> None:
    """Each gate is met by the trade's number and missed just below it."""
    assert stand(drill, done(drill, enough, cm=15)).state is State.MET
    assert stand(drill, done(drill, short, cm=15)).state is State.NOT_YET


# common practice, no single source
def test_the_line_between_beginner_and_intermediate() -> None:
    """Ten seconds in seven of ten tries is intermediate; six of ten is not."""
    rules = built_in().free_tries.rules

    def level(long: int) -> str:
        tries = [Try(number=i, outcome=Outcome.HELD, seconds=10.0 if i <= long else 9.9) for i in range(1, 11)]
        return score(tries, rules, FreeTriesContext()).level

    assert (level(7), level(6)) == ("intermediate", "beginner")


# common practice, no single source
def test_rests_between_single_tries() -> None:
    """Between tries treated as personal bests a coach rests twenty to sixty seconds."""
    test = built_in().free_tries
    assert (test.rest_least_s.value, test.rest_most_s.value, test.tries.value) == (20, 60, 10)
