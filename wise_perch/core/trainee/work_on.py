"""What to work on now: the one answer that Today, the trainee's page, a test's decision and the plan all
give.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.session_lookup import always_done
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.wall import State


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """A drill to work on as things stand: the next rung itself, or a gate below that keeps a rung closed."""

    drill: str
    title: str
    label: Literal["Work on now", "Next step", "Opens a step"]
    sentence: str


def leading_goal(goals: Sequence[GoalStanding]) -> GoalStanding | None:
    """The goal that leads: as chosen, the first one that is not reached and has something open."""
    return next((g for g in goals if not g.reached and g.work_on), None)


def what_to_work_on(case: JudgedCase) -> tuple[NextStep, ...]:
    """List what to work on, the first before all: what the leading goal asks for, or without one the open
    rungs ahead.

    Without a goal open rungs come the fullest first, then what the closed ones wait for; what is
    optional, what every session has anyway, and what a joint cannot take today, comes after them.
    """
    if leading := leading_goal(case.goals):
        return tuple(
            NextStep(drill=s.drill, title=s.title, label="Work on now", sentence=s.sentence)
            for s in leading.work_on
        )
    return (*_rungs_ahead(case), *_rungs_to_open(case))


def _drills_ahead(case: JudgedCase) -> list[DrillStanding]:
    bars = case.standing
    return [case.drills[name] for line in case.syllabus.lines for name in bars.ahead(line)]


def _rungs_ahead(case: JudgedCase) -> list[NextStep]:
    always = always_done(case.syllabus)
    ahead = [d for d in _drills_ahead(case) if d.open]

    def place(d: DrillStanding) -> tuple[bool, bool, bool, float, str]:
        drill = case.syllabus.drills[d.drill]
        return case.must_wait(drill), d.drill in always, drill.optional, -d.fill, d.drill

    return [
        NextStep(drill=d.drill, title=d.title, label="Next step", sentence=capitalise(d.shortfall))
        for d in sorted(ahead, key=place)
    ]


def _rungs_to_open(case: JudgedCase) -> list[NextStep]:
    """What closed rungs wait for, where it is within reach."""
    ahead = _drills_ahead(case)
    named, steps = {d.drill for d in ahead}, []
    for closed in sorted((d for d in ahead if not d.open), key=lambda d: d.optional):
        for wait in (w for w in closed.waits if w.any_of):
            d = case.drills[wait.any_of[0]]
            if (d.open or d.state is not State.NOT_YET) and d.drill not in named:
                named.add(d.drill)
                sentence = f"{_say_to_do(d, case)} opens {closed.title.lower()}"
                steps.append(NextStep(drill=d.drill, title=d.title, label="Opens a step", sentence=sentence))
    return steps


def _say_to_do(d: DrillStanding, case: JudgedCase) -> str:
    if d.prove_by and d.prove_by >= case.on:
        return f"One more clean day by {say_day(d.prove_by, case.on)}"
    return "Two clean days" if d.state is State.STALE or d.prove_by else f"A clean {d.gate}"
