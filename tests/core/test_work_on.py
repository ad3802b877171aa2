"""What to work on now: Today, the trainee's page, a test's decision and the plan name the same drill first,
for the same reason.
"""

from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from random import Random
from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.planning import SYLLABUS, TODAY, WEEK, a_case, advanced, done, passing, somebody, wished
from wise_perch.core.bench.runs import judge_run
from wise_perch.core.trade.evidence import Evidence, Fell, Outcome
from wise_perch.core.trade.session_lookup import always_done
from wise_perch.core.trainee.brief import make_brief
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import EndedRun, KeptTry, Run
from wise_perch.core.trainee.work_on import what_to_work_on
from wise_perch.core.week.candidates import find_candidates
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import ask_for_week
from wise_perch.core.week.week_plan import WeekPlan

GOALS = [g.goal for g in SYLLABUS.content.goals]


def free_tries(dice: Random, *, ago: int = 1) -> Run:
    """Ten tries on the open floor, however they went."""
    at = datetime.combine(TODAY - timedelta(days=ago), time(18), UTC)
    reach, skill, over = dice.random(), dice.choice([1.5, 4, 9, 14]), dice.random()
    tries = []
    for number in range(1, 11):
        held = dice.random() < reach
        seconds = round(dice.uniform(0.5, 2) * skill, 1) if held else None
        fell = (Fell.OVER if dice.random() < over else Fell.UNDER) if held else None
        outcome = Outcome.HELD if held else dice.choice([Outcome.OVERSHOT, Outcome.UNDERSHOT])
        tries.append(
            KeptTry(
                id=uuid4(),
                number=number,
                at=at,
                outcome=outcome,
                value=seconds,
                fell=fell,
                form=None,
                note="",
                early=False,
                struck_at=None,
            )
        )
    return Run(
        id=uuid4(),
        trainee=uuid4(),
        test="free-tries",
        started_at=at,
        ended_at=at,
        ended_as="finished",
        rest_s=45,
        room="",
        source="live",
        pain_joint=None,
        pain_level=None,
        tries=tuple(tries),
    )


def as_ended(run: Run) -> EndedRun:
    day = run.started_at.date()
    return EndedRun(
        run=run.id,
        test=run.test,
        subject="",
        dial={},
        confidence=None,
        day=day,
        tries=tuple(run.standing_tries),
    )


def history(dice: Random) -> list[Evidence]:
    return somebody(dice) + (advanced() if dice.random() < 0.5 else [])


def unjudged(case: JudgedCase) -> Case:
    """The case behind a judged one, to be judged again with a test's own run."""
    return Case(
        on=case.on,
        syllabus=case.syllabus,
        arrangement=case.arrangement,
        sets=case.sets,
        runs=case.runs,
        told_aches=case.aches,
        kit=case.kit,
        rest_s=45,
        float_switch_s=5,
    )


def named_by_the_plan(case: JudgedCase) -> tuple[set[str], WeekPlan]:
    """The drills that count most in a week, or for which something lighter stands in, and the week itself."""
    question = ask_for_week(case, week=WEEK)
    found = [c for c in find_candidates(question)[0] if not c.is_test]
    most = max((c.counts for c in found), default=0.0)
    week = plan_week(question, wished(55, 55, 55))
    assert isinstance(week, WeekPlan)
    return {c.stands_for or c.name for c in found if c.counts == most}, week


@given(
    seed=st.integers(0, 100_000),
    goals=st.lists(st.sampled_from(GOALS), max_size=3, unique=True),
    hurts=st.sampled_from([None, 2, 6]),
)
def test_four_places_give_one_answer(seed: int, goals: list[str], hurts: int | None) -> None:
    """Over drawn histories, goals, free tries and aches the four places name the same drill first, with the
    same reason.
    """
    dice = Random(seed)
    run = free_tries(dice)
    aches = [Ache(joint=dice.choice(SYLLABUS.rules.joints), level=hurts, day=TODAY)] if hurts else []
    case = a_case(*history(dice), goals=goals, aches=aches, runs=[as_ended(run)])
    steps = what_to_work_on(case)
    if not steps:
        return
    first = steps[0]
    # Today, where nothing presses more
    matters = make_brief(case, open_run=None).matters
    for m in matters:
        assert m.kind != "next" or (m.drill == first.drill and first.sentence in m.sentence)
    # the test's decision, on the day after it
    outcome = judge_run(
        run, unjudged(case), sheet=None, others=(), day_of=lambda moment: moment.date()
    ).outcome
    assert outcome
    assert outcome.now == first
    # the plan: named as such, and what counts most in it
    named, week = named_by_the_plan(case)
    assert week.work_on == first
    always = always_done(SYLLABUS)
    worked = {first.drill} if case.drills[first.drill].open and first.drill not in always else set()
    stopped = case.must_wait(SYLLABUS.drills[first.drill])
    easy = case.drills[first.drill].easy or case.drills[first.drill].state == "proven"
    if worked and not stopped and not easy:
        assert named == worked, first


def test_what_every_session_has_anyway_leads_nothing() -> None:
    """Wrist preparation is part of every session: something else is named first while there is anything."""
    case = a_case(goals=["freestanding-hold"])
    assert "wrist-preparation" not in {what_to_work_on(case)[0].drill}
    for goal in GOALS:
        steps = what_to_work_on(a_case(goals=[goal]))
        assert steps[0].drill not in {"wrist-preparation", "shoulder-openers"} or len(steps) == 1


def test_what_a_joint_cannot_take_waits() -> None:
    """A sharp wrist moves what loads it behind what does not."""
    well = a_case(goals=["freestanding-hold"])
    sore = a_case(goals=["freestanding-hold"], aches=[Ache(joint="left wrist", level=7, day=TODAY)])
    stopped = [sore.must_wait(SYLLABUS.drills[s.drill]) for s in what_to_work_on(sore)]
    assert stopped == sorted(stopped), "what can be worked on stands in front"
    assert {s.drill for s in what_to_work_on(well)} == {s.drill for s in what_to_work_on(sore)}


@pytest.mark.parametrize(
    "order", [("freestanding-hold", "straddle-press"), ("straddle-press", "freestanding-hold")]
)
def test_the_goal_chosen_first_leads(order: tuple[str, str]) -> None:
    """Goals lead in the order they were chosen, whatever order the syllabus has them in."""
    case = a_case(*passing(SYLLABUS.drills["hollow-hold"]), goals=order)
    assert [g.goal for g in case.goals] == list(order)
    assert {s.drill for s in what_to_work_on(case)} == {s.drill for s in case.goals[0].work_on}


def test_the_newest_free_tries_lead_only_while_they_are_the_newest() -> None:
    """A run of another day is judged by what is known today; the one after it takes its place."""
    dice = Random(3)
    old, new = free_tries(dice, ago=20), free_tries(dice, ago=1)
    one = a_case(*advanced(), goals=["freestanding-hold"], runs=[as_ended(new), as_ended(old)])
    other = a_case(*advanced(), goals=["freestanding-hold"], runs=[as_ended(old), as_ended(new)])
    assert one.free_tries == other.free_tries
    assert one.free_tries is not None
    assert judge_case(replace(unjudged(one), on=TODAY - timedelta(days=5))).free_tries != one.free_tries
    assert done("free-hold-5", 3) in a_case(done("free-hold-5", 3)).history.every()
