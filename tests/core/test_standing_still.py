"""When a drill stands still, what is said of it, and what the plan makes of it; why sets fail; the cue that
worked.
"""

from dataclasses import replace
from datetime import timedelta
from random import Random

import pytest

from tests.core.planning import SYLLABUS, TODAY, a_case, advanced, asked_for, done, planned, wished
from tests.core.test_standing import proven_below
from wise_perch.core.dose.setting import set_dial
from wise_perch.core.trade.evidence import Evidence, Form, Reason
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.standing_still import find_standstills, trend_a_week
from wise_perch.core.week.priorities import weigh_drills

HOLD = "chest-to-wall-hold"
GOAL = "freestanding-hold"


def held(
    weeks: int, *, start: float, gain: float = 0.0, noise: float = 0.04, seed: int = 1
) -> list[Evidence]:
    """Two open sets a week of a wall hold, around a level that gains so much a week."""
    dice = Random(seed)
    below = [p for own in proven_below(HOLD) for p in own]
    ago = [7 * w + d for w in range(weeks) for d in (0, 3)]
    return below + [
        done(HOLD, round((start + gain * (weeks - a / 7)) * dice.gauss(1, noise), 1), ago=a) for a in ago
    ]


def still_drills(case: JudgedCase) -> list[str]:
    return [s.drill for s in find_standstills(case)]


def test_eight_weeks_at_eighteen_seconds_look_still_and_thirteen_stand() -> None:
    """From six weeks on it looks still, from twelve it stands; the sentence has its figures and the options
    their reasons.
    """
    (looks,) = [s for s in find_standstills(a_case(*held(8, start=18), goals=(GOAL,))) if s.drill == HOLD]
    assert not looks.firm
    assert "looks still: at best " in looks.sentence
    assert "16 days of practice" in looks.sentence
    assert all(o.text and o.origin for o in looks.options)
    assert any("more days" in o.text for o in looks.options)
    (stands,) = [s for s in find_standstills(a_case(*held(13, start=18), goals=(GOAL,))) if s.drill == HOLD]
    assert stands.firm
    assert "stands still" in stands.sentence


@pytest.mark.parametrize(
    "pieces",
    [
        held(4, start=18),
        held(10, start=18, gain=1.5),
        held(10, start=18, noise=0.5),
        [p for p in held(12, start=18) if (TODAY - p.day).days > 20],
        [],
    ],
    ids=["too soon", "it grows", "too noisy to say", "left three weeks ago", "nothing"],
)
def test_where_nothing_is_said(pieces: list[Evidence]) -> None:
    """Neither too soon, nor where it moves, nor where noise hides it, nor of what is left."""
    assert HOLD not in still_drills(a_case(*pieces, goals=(GOAL,)))


def test_only_what_is_on_the_way_stands_still() -> None:
    """Without a goal that it leads to nothing is said of it."""
    assert still_drills(a_case(*held(12, start=18))) == []


def test_the_trend_is_that_of_scipy_whatever_the_order_of_noise() -> None:
    """A clean line has its own slope at both ends."""
    days = [
        p.day for p in reversed(held(10, start=10)) if p.drill == HOLD and p.day > TODAY - timedelta(days=70)
    ]
    days = sorted(set(days))
    level = [10 + 0.5 * (d - days[0]).days / 7 for d in days]
    found = trend_a_week(days, level, interval=0.9)
    assert found is not None
    low, high = found
    assert low == pytest.approx(high)
    assert low * sorted(level)[len(level) // 2] == pytest.approx(0.5)


def test_the_plan_says_that_it_stands_still() -> None:
    """The block says so, with what practice would try first."""
    week = planned(asked_for(*held(13, start=18)), wished(55, 55, 55))
    said = [b.text for d in week.days for x in d.blocks if x.drill == HOLD for b in x.because]
    assert any("stands still" in s for s in said), said


def _failed(reason: Reason | None, *, drill: str = "free-hold-10") -> Evidence:
    return replace(done(drill, 2, ago=1, n=10), reason=reason)


@pytest.mark.parametrize("reason", list(Reason))
def test_a_reason_chooses_what_comes_beside(reason: Reason) -> None:
    """Drills of the reason's own pillars count more than without it, and say why."""
    rule = next(r for r in SYLLABUS.sessions.failed.reasons if r.reason is reason)
    with_it = weigh_drills(asked_for(*advanced(), _failed(reason)))
    without = weigh_drills(asked_for(*advanced(), _failed(None)))
    more = [n for n, p in with_it.items() if p.counts > (without[n].counts if n in without else 0) + 1]
    told = [n for n, p in with_it.items() if any("failed for" in b.text for b in p.why)]
    assert 1 <= len(told) <= SYLLABUS.sessions.failed.most.value
    assert set(told) <= set(more)
    assert {SYLLABUS.pillar_of[n] for n in told} <= set(rule.pillars)
    if rule.at_the_wall:
        assert not any(SYLLABUS.drills[n].away for n in told)


def test_a_reason_is_over_once_it_has_gone() -> None:
    """What came to as much as was wanted since needs no help any more; too long ago it says nothing."""
    hold = SYLLABUS.drills[HOLD]
    missed = Evidence(
        drill=HOLD,
        day=TODAY,
        measure=hold.gate.measure,
        value=5,
        asked=12,
        form=Form.CLEAN,
        reason=Reason.FEAR,
    )
    case = a_case(missed)
    assert case.failed_for(hold)
    assert case.is_shy_of(hold), "fear is low confidence, whatever was told at the start"
    for later, over in ((done(HOLD, 13), True), (done(HOLD, 6), False)):
        earlier = replace(missed, day=TODAY - timedelta(days=2))
        assert (a_case(earlier, later).failed_for(hold) is None) is over
    assert a_case(replace(missed, day=TODAY - timedelta(days=40))).failed_for(hold) is None


def test_a_dial_goes_easier_for_strength_and_stays_for_balance() -> None:
    """A miss for want of strength eases the dial; for want of balance its weight was not the matter."""
    pike = SYLLABUS.drills["raised-pike-push-up"]
    assert pike.dial

    def at(reason: Reason | None) -> float:
        miss = done("raised-pike-push-up", 0, ago=1, cm=30, form=Form.LOST)
        found = set_dial(pike, a_case(replace(miss, reason=reason)))
        assert found
        return found.setting

    assert at(Reason.STRENGTH) == at(None)
    assert at(Reason.STRENGTH) < at(Reason.BALANCE) == 30


def test_the_cue_that_worked_stands_in_front() -> None:
    """On the sheet, in the plan and for the drill itself; one that is gone from the syllabus still counts."""
    drill = next(d for d in SYLLABUS.drills.values() if len(d.cues) > 1)
    case = a_case(cues={drill.drill: drill.cues[-1]})
    assert case.cues_of(drill) == (drill.cues[-1], *drill.cues[:-1])
    assert a_case().cues_of(drill) == drill.cues
