"""What a drill is worth in a week: by the goals, the leading one first, then what is open beside the way, helps, or is kept up."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import cast

from wise_perch.core.trade.decision import Origin
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.goals import GoalStanding, PathStep
from wise_perch.core.trainee.standing import DrillStanding, LineStanding
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.question import WeekQuestion

FILLER = 20.0
"""What a drill counts that is open beside the way to a goal, where the first of the way counts 100. Ours."""
FIRST, NEXT_COUNTS, PROVE_COUNTS, DUE_COUNTS = 100.0, 0.92, 1.15, 250.0
"""What the first drill on the way to a goal counts, each one after it beside the one before, one that lacks its second day, and a test
that is due. Ours."""
HELP = 15.0
"""What a drill counts that only helps toward a goal. Ours."""
KEEP, SECOND_DAY = 10.0, 30.0
"""What a drill counts that is passed and only prepares, and one beside the way that lacks its second day. Ours."""
KEPT_RUNGS = 2
"""So many rungs of a line are kept up. Ours."""


@dataclass(frozen=True, slots=True)
class Priority:
    """What a drill counts the first time in a week, why it is worth having, and whether it only keeps what is there."""

    counts: float
    why: tuple[Because, ...]
    keeps: bool = False


def _always(asked: WeekQuestion) -> set[str]:
    """What every session has anyway."""
    return {name for phase in asked.who.syllabus.sessions.phases for name in (*phase.always, *(phase.drills if phase.fixed_s else ()))}


def weigh_drills(asked: WeekQuestion) -> dict[str, Priority]:
    """Every drill worth having, what it counts and why: by the goals, the leading one first, then what is open beside them."""
    rules, every, always = asked.who.syllabus.sessions, asked.standing.every(), _always(asked)
    found: dict[str, Priority] = {}
    open_goals = [g for g in asked.goals if not g.reached]
    for n, goal in enumerate(open_goals):
        share = rules.goal_counts[min(n, len(rules.goal_counts) - 1)]
        for rank, step in enumerate(goal.work_on):
            counts, why = _on_the_way(goal, step, rank, share, rules.holding_counts.value)
            before = found.get(step.drill)
            if before:
                why = (*before.why, Because(text=f"Also on the way to {goal.title[:1].lower() + goal.title[1:]}."))
            found[step.drill] = Priority(counts + (before.counts if before else 0.0), why)
    for name, worth in _block_of_its_own(asked, open_goals):
        found.setdefault(name, worth)
    lines = {line for g in open_goals for line in g.lines}
    if not lines or asked.aches:
        # where a joint is spared there is time for what does not load it
        lines = {line.line for line in asked.standing.lines}
    for name, worth in (*_beside(asked, lines), *_helping(asked, open_goals), *_kept(asked, lines | _supporting(asked, open_goals))):
        if every[name].open:
            found.setdefault(name, worth)
    return {name: worth for name, worth in found.items() if name not in always}


def _block_of_its_own(asked: WeekQuestion, goals: Sequence[GoalStanding]) -> Iterator[tuple[str, Priority]]:
    """The kick-up's block while landings are not soft, for whoever trains toward something that it leads to."""
    rule, every = asked.who.syllabus.sessions.kick_up, asked.standing.every()
    gate = every.get(rule.until)
    wanted = not goals or any(rule.until in asked.who.syllabus.below[g.goal] for g in goals)
    if gate is None or not wanted or gate.state not in (State.NOT_YET, State.STALE):
        return
    for name in rule.drills:
        if name in every and every[name].open and every[name].state in (State.NOT_YET, State.STALE):
            yield (
                name,
                Priority(
                    rule.counts.value,
                    (Because(text=f"{rule.because} {every[name].shortfall[:1].upper()}{every[name].shortfall[1:]}.", origin=gate_origin(gate)),),
                ),
            )


def gate_origin(d: DrillStanding) -> Origin:
    """Where the figure of a drill's gate comes from."""
    return cast(Origin, d.origin)


def _on_the_way(goal: GoalStanding, step: PathStep, rank: int, share: float, holding: float) -> tuple[float, tuple[Because, ...]]:
    counts = FIRST * NEXT_COUNTS**rank * share * (PROVE_COUNTS if step.kind == "prove" else 1.0)
    title = goal.title[:1].lower() + goal.title[1:]
    if step.pillar == goal.holding:
        return counts * holding, (Because(text=f"{goal.headline.rstrip('.')} on the way to {title}. {step.sentence}."),)
    return counts, (Because(text=f"On the way to {title}. {step.sentence}."),)


def _beside(asked: WeekQuestion, lines: set[str]) -> Iterator[tuple[str, Priority]]:
    """What is open and not met beside the way: the rungs ahead, on the goals' lines or, without a goal, on every line."""
    every = asked.standing.every()
    for line in asked.standing.lines:
        for name in line.ahead if line.line in lines else ():
            if every[name].state in (State.NOT_YET, State.STALE) and not every[name].optional:
                yield name, Priority(FILLER, (Because(text=f"Open beside the way: {every[name].shortfall}."),))


def _helping(asked: WeekQuestion, goals: Sequence[GoalStanding]) -> Iterator[tuple[str, Priority]]:
    """What helps toward the goals without being needed, and is open and not met."""
    every, wanted = asked.standing.every(), {g.goal: g for g in goals}
    for goal in asked.who.syllabus.content.goals:
        for name in goal.supports if goal.goal in wanted else ():
            if name in every and every[name].state in (State.NOT_YET, State.STALE):
                title = goal.title[:1].lower() + goal.title[1:]
                yield name, Priority(HELP, (Because(text=f"It helps toward {title}: {every[name].shortfall}."),))


def _supporting(asked: WeekQuestion, goals: Sequence[GoalStanding]) -> set[str]:
    """The lines of what helps toward the goals."""
    wanted, line_of = {g.goal for g in goals}, asked.who.syllabus.line_of
    return {line_of[name] for g in asked.who.syllabus.content.goals if g.goal in wanted for name in g.supports if name in line_of}


def _kept(asked: WeekQuestion, lines: set[str]) -> Iterator[tuple[str, Priority]]:
    """What is passed and stands highest: to prove it, or as preparation for what comes above."""
    for line in asked.standing.lines:
        for d in _highest_open(line) if line.line in lines else ():
            if d.drill in asked.who.syllabus.sessions.kick_up.drills:
                continue
            if d.state is State.MET and d.prove_by and d.prove_by >= asked.who.on:
                text = f"Passed once; a second clean day by {say_day(d.prove_by, asked.who.on)} makes it proven."
                yield d.drill, Priority(SECOND_DAY, (Because(text=text, origin=asked.who.syllabus.rules.proven_within_days.origin),))
            elif d.state is not State.NOT_YET:
                stale = f" It goes stale on {say_day(d.stale_on, asked.who.on)}." if d.stale_on and d.state is not State.STALE else ""
                yield d.drill, Priority(KEEP, (Because(text=f"Passed; here as preparation, in the fewest sets.{stale}", origin="ours"),), keeps=True)


def _highest_open(line: LineStanding) -> tuple[DrillStanding, ...]:
    """The passed drills of the highest rungs, up to the clip's, of which any is open."""
    rungs = (tuple(d for d in rung if d.open and d.state is not State.NOT_YET) for rung in reversed(line.rungs[: line.perch_rung + 1]))
    return tuple(d for rung in list(filter(None, rungs))[:KEPT_RUNGS] for d in rung)
