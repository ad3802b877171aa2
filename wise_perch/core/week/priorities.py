"""What a drill is worth in a week: by the goals, the leading one first, then what is open beside the way,
helps, or is kept up.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import cast

from wise_perch.core.trade.decision import Origin
from wise_perch.core.trade.session_lookup import always_done
from wise_perch.core.trade.session_rules import Because, SessionRules
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.goals import GoalStanding, PathStep
from wise_perch.core.trainee.standing import DrillStanding, LineStanding
from wise_perch.core.trainee.standing_still import WEEK_DAYS, find_standstills
from wise_perch.core.trainee.wall import State
from wise_perch.core.trainee.work_on import what_to_work_on
from wise_perch.core.week.question import WeekQuestion


@dataclass(frozen=True, slots=True)
class Priority:
    """What a drill counts the first time in a week, why it is worth having, and whether it only keeps what is
    there.

    `goal`: the goal it is on the way to, 0 the leading one, None for what only helps, is kept up or stands
    beside the way; `main`: what leads the leading goal; `once`: one day a week is enough; `though_passed`: it
    is worked on however well it goes.
    """

    counts: float
    why: tuple[Because, ...]
    keeps: bool = False
    goal: int | None = None
    main: bool = False
    once: bool = False
    though_passed: bool = False


def weigh_drills(question: WeekQuestion) -> dict[str, Priority]:
    """Every drill worth having, what it counts and why: by the goals, the leading one first, then what is
    open beside them.

    What is to be worked on now, as every other place says it, counts more than any other drill.
    """
    case, weights = question.case, question.case.syllabus.sessions.weights
    every = case.drills
    open_goals = [g for g in case.goals if not g.reached]
    found = _steps_of_goals(question, open_goals)
    for name, priority in _below_what_never_goes(question, open_goals, found):
        found[name] = priority
    for name, priority in _block_of_its_own(question, open_goals):
        found.setdefault(name, priority)
    lines = {line for g in open_goals for line in g.lines}
    if not lines or case.aches:
        # where a joint is spared there is time for what does not load it
        lines = {line.line for line in case.standing.lines}
    beside, helping = _drills_beside(question, lines), _drills_that_help(question, open_goals)
    kept = _drills_kept_up(question, lines | _supporting_lines(question, open_goals))
    for name, priority in (*_drills_to_keep(question), *beside, *helping, *kept):
        if every[name].open:
            found.setdefault(name, priority)
    for name, priority in _drills_for_failures(question, open_goals, found):
        found[name] = priority
    for name, priority in _drills_for_standstills(question, found):
        found[name] = priority
    if first := next(iter(what_to_work_on(case)), None):
        most = max((p.counts for p in found.values()), default=weights.way.value)
        why = (
            found[first.drill].why
            if first.drill in found
            else (Because(text=f"{first.label}. {first.sentence}."),)
        )
        before = found.get(first.drill, Priority(0.0, why))
        found[first.drill] = replace(
            before, counts=max(most + 1.0, weights.way.value), why=why, keeps=False, main=True
        )
    return {name: priority for name, priority in found.items() if name not in always_done(case.syllabus)}


def _steps_of_goals(question: WeekQuestion, goals: Sequence[GoalStanding]) -> dict[str, Priority]:
    """What is on the way to the goals or helps there, each by the place of its goal and its own in it."""
    rules, main = question.case.syllabus.sessions, _main_drills(question, goals)
    found: dict[str, Priority] = {}
    for n, goal in enumerate(goals):
        share = rules.goal_counts[min(n, len(rules.goal_counts) - 1)]
        for rank, step in enumerate(goal.work_on):
            counts, why = _on_the_way(goal, step, rank, share, rules)
            before = found.get(step.drill)
            if before:
                why = (
                    *before.why,
                    Because(text=f"Also on the way to {goal.title[:1].lower() + goal.title[1:]}."),
                )
            # what helps with the pillar that holds the goal back leads there as what is asked for does
            leads = step.pillar == goal.holding or any(s.drill == step.drill for s in goal.path)
            found[step.drill] = Priority(
                counts + (before.counts if before else 0.0),
                why,
                goal=before.goal if before and before.goal is not None else n if leads else None,
                main=(before is not None and before.main) or (n == 0 and step.drill in main),
            )
    # whatever holds back, nothing that only helps goes before the steps themselves
    helps = max((p.counts for p in found.values() if not p.main), default=0.0)
    return {name: replace(p, counts=max(p.counts, helps)) if p.main else p for name, p in found.items()}


def _main_drills(question: WeekQuestion, goals: Sequence[GoalStanding]) -> set[str]:
    """The main work: the first drills of the leading goal's path that can be worked on now."""
    case = question.case
    leading = goals[0] if goals else None
    if leading is None:
        return set()
    on_path = {s.drill for s in leading.path}
    able = [
        s.drill
        for s in leading.work_on
        if s.drill in on_path
        and case.drills[s.drill].open
        and not case.must_wait(case.syllabus.drills[s.drill])
    ]
    return set(able[: int(case.syllabus.sessions.main_drills.value)])


def _below_what_never_goes(
    question: WeekQuestion, goals: Sequence[GoalStanding], found: Mapping[str, Priority]
) -> Iterator[tuple[str, Priority]]:
    """What a step stands on that was tried for days and not done once, and what helps with its pillar: in its
    place until it is tried again, and with its weight.
    """
    case = question.case
    for n, goal in enumerate(goals):
        for step in goal.work_on:
            drill = case.syllabus.drills[step.drill]
            if step.drill not in found or not case.not_done_once(drill):
                continue
            below = {w for need in case.syllabus.needs[step.drill] for w in need.any_of}
            helping = _helpers_of(step.drill, question, goals, (step.pillar,))
            for name in dict.fromkeys([*sorted(below), *helping]):
                if case.drills[name].open and not case.must_wait(case.syllabus.drills[name]):
                    before = found.get(name, Priority(0.0, (), goal=n))
                    counts = max(before.counts, found[step.drill].counts)
                    place = "what it stands on, in its place" if name in below else "this helps with it"
                    text = f"{step.title} did not go once of late: {place}."
                    why = (*before.why, Because(text=text, origin="ours"))
                    yield (
                        name,
                        replace(
                            before, counts=counts, why=why, main=before.main or n == 0, though_passed=True
                        ),
                    )


def _block_of_its_own(
    question: WeekQuestion, goals: Sequence[GoalStanding]
) -> Iterator[tuple[str, Priority]]:
    """The kick-up's block while landings are not soft, for whoever trains toward something that it
    leads to.
    """
    rule, every = question.case.syllabus.sessions.kick_up, question.case.drills
    gate = every.get(rule.until)
    wanted = not goals or any(rule.until in question.case.syllabus.below[g.goal] for g in goals)
    if gate is None or not wanted or gate.state not in (State.NOT_YET, State.STALE):
        return
    for name in rule.drills:
        if name in every and every[name].open and every[name].state in (State.NOT_YET, State.STALE):
            yield (
                name,
                Priority(
                    rule.counts.value,
                    (
                        Because(
                            text=(
                                f"{rule.because}"
                                f" {every[name].shortfall[:1].upper()}{every[name].shortfall[1:]}."
                            ),
                            origin=gate_origin(gate),
                        ),
                    ),
                ),
            )


def gate_origin(d: DrillStanding) -> Origin:
    """Where the figure of a drill's gate comes from."""
    return cast(Origin, d.origin)


def _on_the_way(
    goal: GoalStanding, step: PathStep, rank: int, share: float, rules: SessionRules
) -> tuple[float, tuple[Because, ...]]:
    weights = rules.weights
    counts = (
        weights.way.value
        * weights.next_on_way.value**rank
        * share
        * (weights.to_prove.value if step.kind == "prove" else 1.0)
    )
    title = goal.title[:1].lower() + goal.title[1:]
    if step.pillar == goal.holding:
        return counts * rules.holding_counts.value, (Because(text=f"{goal.headline} {step.sentence}."),)
    return counts, (Because(text=f"On the way to {title}. {step.sentence}."),)


def _drills_beside(question: WeekQuestion, lines: set[str]) -> Iterator[tuple[str, Priority]]:
    """What is open and not met beside the way: the rungs ahead, on the goals' lines or, without a goal, on
    every line.
    """
    every, wall = question.case.drills, question.case.wall
    for line in question.case.standing.lines:
        for name in line.ahead if line.line in lines else ():
            if wall.unshown(name) and not every[name].optional:
                yield (
                    name,
                    Priority(
                        question.case.syllabus.sessions.weights.beside.value,
                        (Because(text=f"Open beside the way: {every[name].shortfall}."),),
                    ),
                )


def _drills_that_help(
    question: WeekQuestion, goals: Sequence[GoalStanding]
) -> Iterator[tuple[str, Priority]]:
    """What helps toward the goals without being needed, and is open and not met."""
    every, wanted = question.case.drills, {g.goal: g for g in goals}
    for goal in question.case.syllabus.content.goals:
        for name in goal.supports if goal.goal in wanted else ():
            if name in every and question.case.wall.unshown(name):
                title = goal.title[:1].lower() + goal.title[1:]
                yield (
                    name,
                    Priority(
                        question.case.syllabus.sessions.weights.helps.value,
                        (Because(text=f"It helps toward {title}: {every[name].shortfall}."),),
                    ),
                )


def _drills_for_failures(
    question: WeekQuestion, goals: Sequence[GoalStanding], found: Mapping[str, Priority]
) -> Iterator[tuple[str, Priority]]:
    """What comes beside a drill on the way that failed for a reason somebody gave: what lies below it or
    helps the goal, by that reason's pillars, what is not passed first.
    """
    case, rules = question.case, question.case.syllabus.sessions.failed
    for name in [n for n, p in found.items() if p.goal is not None]:
        failed = case.failed_for(case.syllabus.drills[name])
        if failed is None:
            continue
        rule, title = failed.rule, case.drills[name].title
        why = Because(
            text=f"{title} failed for {rule.title.lower()} on {say_day(failed.day, case.on)}: {rule.words}.",
            origin=rules.counts.origin,
        )
        for helper in _helpers_of(name, question, goals, rule.pillars, at_the_wall=rule.at_the_wall):
            before = found.get(helper, Priority(0.0, ()))
            yield (
                helper,
                replace(
                    before,
                    counts=before.counts + rules.counts.value,
                    why=(*before.why, why),
                    keeps=False,
                    though_passed=True,
                ),
            )


def _helpers_of(
    name: str,
    question: WeekQuestion,
    goals: Sequence[GoalStanding],
    pillars: Sequence[str],
    *,
    at_the_wall: bool = False,
) -> list[str]:
    """What of some pillars lies below a drill or helps the goals and can be worked on, what is not passed
    first and of that the fullest: it is the nearest. `at_the_wall`: only what stays there.
    """
    case = question.case
    wanted = {g.goal for g in goals}
    helping = {n for g in case.syllabus.content.goals if g.goal in wanted for n in g.supports}
    able = [
        d
        for n in case.syllabus.all_needed((name,)) | helping
        if n != name
        and (d := case.drills[n]).open
        and d.pillar in pillars
        and not (at_the_wall and case.syllabus.drills[n].away)
        and not case.must_wait(case.syllabus.drills[n])
    ]
    able.sort(key=lambda d: (d.state is not State.NOT_YET, -min(d.fill, 1.0), d.drill))
    return [d.drill for d in able[: int(case.syllabus.sessions.failed.most.value)]]


def _drills_for_standstills(
    question: WeekQuestion, found: Mapping[str, Priority]
) -> Iterator[tuple[str, Priority]]:
    """What stands still says so, and what practice would try beside it counts more."""
    rules = question.case.syllabus.sessions.standing_still
    for still in find_standstills(question.case):
        before = found.get(still.drill)
        if before is None:
            continue
        tried = f" {still.options[0].text}" if still.options else ""
        why = Because(text=f"{still.sentence}.{tried}", origin=rules.within.origin)
        yield still.drill, replace(before, why=(*before.why, why))
        for name in still.beside:
            other = found.get(name, Priority(0.0, ()))
            text = f"{still.title} stands still: this from another side."
            more = Because(text=text, origin=rules.counts.origin)
            counts = other.counts + rules.counts.value
            yield name, replace(other, counts=counts, why=(*other.why, more), keeps=False)


def _supporting_lines(question: WeekQuestion, goals: Sequence[GoalStanding]) -> set[str]:
    """The lines of what helps toward the goals."""
    wanted, line_of = {g.goal for g in goals}, question.case.syllabus.line_of
    return {
        line_of[name]
        for g in question.case.syllabus.content.goals
        if g.goal in wanted
        for name in g.supports
        if name in line_of
    }


def _drills_kept_up(question: WeekQuestion, lines: set[str]) -> Iterator[tuple[str, Priority]]:
    """What is passed and stands highest: to prove it, or as preparation for what comes above. What is
    optional and on no way of theirs is a choice of its own.
    """
    wanted = frozenset[str]().union(*(question.case.syllabus.below[g.goal] for g in question.case.goals))
    for line in question.case.standing.lines:
        for d in (
            _highest_open(line, int(question.case.syllabus.sessions.weights.kept_rungs.value))
            if line.line in lines
            else ()
        ):
            if d.drill in question.case.syllabus.sessions.kick_up.drills:
                continue
            if d.optional and d.drill not in wanted:
                continue
            if d.state is State.MET and d.prove_by and d.prove_by >= question.case.on:
                by = say_day(d.prove_by, question.case.on)
                text = f"Passed once. Show it clean once more by {by} and it is proven."
                yield (
                    d.drill,
                    Priority(
                        question.case.syllabus.sessions.weights.second_day.value,
                        (Because(text=text, origin=question.case.syllabus.rules.proven_within_days.origin),),
                    ),
                )
            elif d.state is not State.NOT_YET:
                stale = (
                    f" It goes stale on {say_day(d.stale_on, question.case.on)}."
                    if d.stale_on
                    and d.state is not State.STALE
                    and (d.stale_on - question.case.on).days
                    <= question.case.syllabus.sessions.keep_ahead_days.value
                    else ""
                )
                weights = question.case.syllabus.sessions.weights
                # what was done last week makes room for what was not
                again = d.last_day is not None and (question.case.on - d.last_day).days <= WEEK_DAYS
                counts = weights.keeps.value * (weights.kept_again.value if again else 1.0)
                text = f"Passed. A short set to keep it.{stale}"
                yield d.drill, Priority(counts, (Because(text=text, origin="ours"),), keeps=True)


def _drills_to_keep(question: WeekQuestion) -> Iterator[tuple[str, Priority]]:
    """What is passed, on the way to a goal or what one that is reached stands on, and would go stale within
    weeks: shown once more before that, exits first. What something passed stands on is shown with that,
    unless it is an exit, or carries what is worked on now.
    """
    case = question.case
    sessions, on = case.syllabus.sessions, case.on
    open_goals = [g for g in case.goals if not g.reached]
    below = set[str]().union(
        *(_kept_of_reached(question, g) if g.reached else case.syllabus.below[g.goal] for g in case.goals)
    )
    carries = {
        w
        for g in open_goals
        for step in g.path
        if step.kind != "closed"
        for need in case.syllabus.needs[step.drill]
        for w in need.any_of
    }
    due = [
        d
        for name in below
        if (d := case.drills[name]).state in (State.MET, State.PROVEN)
        and d.stale_on
        and (d.stale_on - on).days <= sessions.keep_ahead_days.value
        and (name in carries or name not in case.wall.shown_above)
    ]
    for d in sorted(due, key=lambda d: (d.pillar != "exits", d.stale_on, d.drill)):
        counts = sessions.weights.keeps_due.value * (2 if d.pillar == "exits" else 1)
        if d.drill in carries:
            # once it is stale, what is worked now closes
            counts = max(counts, sessions.weights.way.value)
        assert d.stale_on is not None
        text = f"Kept up: it goes stale on {say_day(d.stale_on, on)}, and the way leads over it."
        # it belongs to the way and does not stand beside it: what has gone stale makes the way longer again
        goal = next((n for n, g in enumerate(open_goals) if d.drill in case.syllabus.leads_to[g.goal]), None)
        yield d.drill, Priority(counts, (Because(text=text, origin="ours"),), True, goal, once=True)


def _kept_of_reached(question: WeekQuestion, goal: GoalStanding) -> set[str]:
    """What keeps a goal reached: its own drills, what they stand on at once, and every exit below. What lies
    deeper is shown by what stands on it.
    """
    syllabus = question.case.syllabus
    own = next(set(g.drills) for g in syllabus.content.goals if g.goal == goal.goal)
    at_once = {w for name in own for need in syllabus.needs[name] for w in need.any_of}
    exits = {n for n in syllabus.below[goal.goal] if syllabus.pillar_of[n] == "exits"}
    return own | at_once | exits


def _highest_open(line: LineStanding, rungs_kept: int) -> tuple[DrillStanding, ...]:
    """The passed drills of the highest rungs, up to the clip's, of which any is open."""
    rungs = (
        tuple(d for d in rung if d.open and d.state is not State.NOT_YET)
        for rung in reversed(line.rungs[: line.perch_rung + 1])
    )
    return tuple(d for rung in list(filter(None, rungs))[:rungs_kept] for d in rung)
