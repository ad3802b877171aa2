"""What must hold of every week, whoever it is for: pain, what was stale, and the goal that leads."""

from dataclasses import replace
from datetime import timedelta
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.planning import SYLLABUS, TODAY, advanced, asked_for, passing, planned, somebody, wished
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.session_lookup import joints_of
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.standing import standing
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.question import WeekQuestion
from wise_perch.core.week.week_plan import WeekPlan

GOALS = ("freestanding-hold", "straddle-press", "strict-push")


def load_on(week: WeekPlan, joint: str) -> float:
    """What a week's working blocks put on a joint, body-weight seconds."""
    return sum(
        block.dose.load_s * block.dose.sets
        for day in week.days
        for block in day.blocks
        if block.kind == "work" and block.dose and joint in joints_of(SYLLABUS, SYLLABUS.drills[block.drill])
    )


@settings(max_examples=25)
@given(
    seed=st.integers(0, 10_000),
    joint=st.sampled_from(["left wrist", "right elbow", "left shoulder", "neck"]),
    level=st.integers(1, 8),
    sharp=st.booleans(),
)
def test_pain_never_raises_a_joints_load(seed: int, joint: str, level: int, sharp: bool) -> None:
    """A week with an ache puts no more on that joint than the same week without; from four on, or where it is
    sharp, nothing.
    """
    pieces = somebody(Random(seed))
    ache = Ache(joint=joint, level=level, day=TODAY, sharp=sharp)
    kind = joint.rsplit(" ", 1)[-1]
    well = planned(asked_for(*pieces, goals=GOALS[:2]), wished(55, 55, 55))
    sore = planned(asked_for(*pieces, goals=GOALS[:2], aches=[ache]), wished(55, 55, 55))
    assert load_on(sore, kind) <= load_on(well, kind) + 1e-6
    if sharp or level >= SYLLABUS.rules.pain_stops_at.value:
        assert load_on(sore, kind) == 0


@settings(max_examples=60)
@given(name=st.sampled_from(sorted(SYLLABUS.drills)), ago=st.integers(60, 400), apart=st.integers(1, 20))
def test_what_was_stale_and_is_shown_twice_is_proven(name: str, ago: int, apart: int) -> None:
    """Proven long ago and stale, shown on two days of late: proven, whatever lay between."""
    drill = SYLLABUS.drills[name]

    def shown(days_ago: int) -> list[Evidence]:
        return [replace(p, day=TODAY - timedelta(days=days_ago)) for p in passing(drill, ago=0)]

    old = [*shown(ago + 3), *shown(ago)]

    def state(pieces: list[Evidence]) -> State:
        return standing(mark_evidence(pieces, SYLLABUS), SYLLABUS, on=TODAY).drill(name).state

    assert state(old) is State.STALE
    assert state([*old, *shown(apart), *shown(0)]) is State.PROVEN


def minutes_of(week: WeekPlan, drills: set[str]) -> float:
    """The time of a week that goes to some drills."""
    blocks = (b for day in week.days for b in day.blocks)
    return sum(b.length_s / 60 for b in blocks if b.kind == "work" and b.drill in drills)


def on_the_way(question: WeekQuestion, goal: int) -> set[str]:
    """What the path to a goal asks for."""
    return {s.drill for s in question.case.goals[goal].path}


@pytest.mark.parametrize("order", [(0, 1), (1, 0), (0, 2), (2, 0)])
def test_the_leading_goal_leads(order: tuple[int, int]) -> None:
    """Whichever of two goals stands first has no fewer minutes than what only the other one asks for, or the
    plan says that no more is open toward it; and it is there on every day.
    """
    goals = [GOALS[k] for k in order]
    # nothing heavy the day before, which would bar the first day
    question = asked_for(*advanced(), goals=goals, heavy=())
    week = planned(question, wished(55, 55, 55))
    first, other = (on_the_way(question, k) for k in (0, 1))
    said = any(f"{question.case.goals[0].title} leads and gets" in q.text for q in week.questions)
    assert minutes_of(week, first) >= minutes_of(week, other - first) or said
    for day in week.days:
        assert any(b.drill in first for b in day.blocks if b.kind == "work"), day.day
