"""What a coach has to decide about a trainee today, the most pressing first."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal, get_args

from wise_perch.core.trade.content import Rules
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.standing import DrillStanding, Standing
from wise_perch.core.trainee.wall import State

MatterKind = Literal["pain", "cleared", "unfinished", "recheck", "test", "one-pass", "next", "nothing"]
URGENCY: Mapping[MatterKind, int] = {kind: n for n, kind in enumerate(get_args(MatterKind))}
"""The kinds of matter, the most pressing first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PainReport:
    """Pain that ended a test: the joint in the coach's words, 0 to 10, and the day."""

    day: date
    joint: str
    level: int


def pain_advice(level: int, rules: Rules) -> str:
    """What pain of a level (0 to 10) means for the rest of the day."""
    return rules.pain_much if level >= rules.pain_stops_at.value else rules.pain_some


@dataclass(frozen=True, slots=True, kw_only=True)
class LastTest:
    """The newest ended run of a test: its day, and its result in a few words, where it is known."""

    day: date
    summary: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenRun:
    """A run that was begun and neither finished nor stopped; `run` is its id."""

    run: str
    test: str
    day: date
    tries: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Matter:
    """One thing to decide: `sentence` says it with its figures, `action` names the tap, `drill`, `test` or `run` its target."""

    kind: MatterKind
    sentence: str
    action: str
    drill: str | None = None
    run: str | None = None
    test: str | None = None


def find_matters(
    stands: Standing,
    syllabus: Syllabus,
    *,
    rest_s: float,
    last_tests: Mapping[str, LastTest] | None = None,
    open_run: OpenRun | None = None,
    pain: PainReport | None = None,
    goals: Sequence[GoalStanding] = (),
    uncleared: Sequence[str] = (),
) -> list[Matter]:
    """List what there is to decide on the standing's day, most pressing first; never empty.

    `rest_s` is the coach's rest between free tries, for the test's minutes. With `goals`, only what is on the way to one of
    them asks for a second day. `uncleared` names what the intake still waits for.
    """
    on = stands.on
    found: list[Matter] = []
    if uncleared:
        asked = ", ".join(question.rstrip("?").lower() for question in uncleared)
        sentence = f"The intake named {asked}. Nothing upside down until what that asks for is done and you confirm."
        found.append(Matter(kind="cleared", sentence=sentence, action="Ask first"))
    if pain and (on - pain.day).days <= syllabus.rules.pain_asked_for_days.value:
        sentence = f"{capitalise(pain.joint)} {pain.level} of 10 on {say_day(pain.day, on)}. Ask before loading it."
        found.append(Matter(kind="pain", sentence=sentence, action="Ask first"))
    if open_run:
        done = "no try yet" if not open_run.tries else f"{open_run.tries} tries kept" if open_run.tries > 1 else "one try kept"
        found.append(
            Matter(
                kind="unfinished",
                sentence=f"{_title(open_run.test, syllabus)} of {say_day(open_run.day, on)} not ended yet, {done}.",
                action="Go on",
                run=open_run.run,
            )
        )
    exits = stands.drill(syllabus.free_tries.exits_drill)
    if exits.state is State.STALE and exits.last_pass:
        days = (on - exits.last_pass).days
        found.append(
            Matter(
                kind="recheck",
                sentence=f"{exits.title} was last shown {days} days ago. Show it before open floor.",
                action="Recheck",
                drill=exits.drill,
            )
        )
    found += _one_pass(stands, syllabus, goals)
    found += tests_due(stands, syllabus, last_tests or {}, goals, rest_s=rest_s)
    return sorted(found, key=lambda m: URGENCY[m.kind]) or [_next_rung(stands, goals)]


def _one_pass(stands: Standing, syllabus: Syllabus, goals: Sequence[GoalStanding]) -> list[Matter]:
    """Gates met on one day only, while a second day can still prove them.

    Those come first that a drill away from the wall waits for, then the soonest to run out.
    """
    on = stands.on
    awaited = {w for needs in syllabus.needs.values() for n in needs if n.state == "proven" for w in n.any_of}
    wanted = {s.drill for g in goals for s in g.path} | {n for g in goals for n in syllabus.below[g.goal] & awaited} if goals else None
    near = [
        (d.prove_by, d)
        for d in stands.every().values()
        if d.prove_by and d.last_pass and stands.on <= d.prove_by and (wanted is None or d.drill in wanted)
    ]
    return [
        Matter(
            kind="one-pass",
            sentence=f"{d.title} was passed once, on {say_day(d.last_pass, on)}. One more clean day by {say_day(by, on)} makes it proven."
            if d.last_pass and d.last_pass < stands.on
            else f"{d.title} was passed today. Another clean day by {say_day(by, on)} makes it proven.",
            action="Decide" if d.last_pass and d.last_pass < stands.on else "Look",
            drill=d.drill,
        )
        for by, d in sorted(near, key=lambda pair: (pair[1].drill not in awaited, pair[0], pair[1].drill))
    ]


def _title(test: str, syllabus: Syllabus) -> str:
    return syllabus.tests[test].title if test in syllabus.tests else "A test"


def tests_due(stands: Standing, syllabus: Syllabus, last: Mapping[str, LastTest], goals: Sequence[GoalStanding], *, rest_s: float) -> list[Matter]:
    """The tests that are asked for again and again, once what they wait for is proven.

    Whoever trains for something that a test says nothing about is not sent to it.
    """
    found = []
    for test in syllabus.tests.values():
        wanted = not goals or any(test.due_for in syllabus.below[g.goal] for g in goals)
        ready = not test.exits_drill or stands.drill(test.exits_drill).state is State.PROVEN
        if test.due_after_days and wanted and ready:
            found += _due(test, last.get(test.test), within_days=int(test.due_after_days.value), rest_s=rest_s, on=stands.on)
    return found


def _due(test: Test, last: LastTest | None, *, within_days: int, rest_s: float, on: date) -> list[Matter]:
    action = f"Test, {test.minutes(rest_s=rest_s)} min"
    if last is None:
        proven = ", and the exit is proven" if test.exits_drill else ""
        return [Matter(kind="test", sentence=f"{test.title} have never been run{proven}.", action=action, test=test.test)]
    if on < last.day + timedelta(days=within_days):
        return []
    result = f", {last.summary}" if last.summary else ""
    return [Matter(kind="test", sentence=f"{test.title} are due; last on {say_day(last.day, on)}{result}.", action=action, test=test.test)]


def _next_rung(stands: Standing, goals: Sequence[GoalStanding]) -> Matter:
    """What to work on toward the first goal not reached, or the open drill ahead whose gate is fullest."""
    for goal in goals:
        if not goal.reached and goal.work_on:
            step = goal.work_on[0]
            sentence = f"{goal.headline} Next: {step.title[:1].lower() + step.title[1:]}. {step.sentence}."
            return Matter(kind="next", sentence=sentence, action="Look", drill=step.drill)
    ahead = [d for line in stands.lines for name in line.ahead if (d := stands.drill(name)).open]
    if not ahead:
        return Matter(kind="nothing", sentence="Every open gate here is met.", action="Look")
    top = max(ahead, key=lambda d: (d.fill, d.drill))
    return Matter(kind="next", sentence=f"Next rung: {top.title.lower()}. {capitalise(top.shortfall)}.", action="Look", drill=top.drill)


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """A drill to work on as things stand: the next rung itself, or a gate below that keeps a rung closed."""

    drill: str
    title: str
    label: Literal["Work on now", "Next rung", "Opens a rung"]
    sentence: str


def next_steps(stands: Standing, goals: Sequence[GoalStanding] = ()) -> list[NextStep]:
    """List what to work on: what the first goal not reached asks for today, or without one the open rungs ahead.

    Open rungs come the fullest first, then what the closed ones wait for.
    """
    for goal in goals:
        if not goal.reached and goal.work_on:
            return [NextStep(drill=s.drill, title=s.title, label="Work on now", sentence=s.sentence) for s in goal.work_on]
    ahead = [stands.drill(name) for line in stands.lines for name in line.ahead]
    steps = [
        NextStep(drill=d.drill, title=d.title, label="Next rung", sentence=capitalise(d.shortfall))
        for d in sorted((d for d in ahead if d.open), key=lambda d: (-d.fill, d.drill))
    ]
    named = {step.drill for step in steps}
    for closed in sorted((d for d in ahead if not d.open), key=lambda d: d.optional):
        for wait in (w for w in closed.waits if w.any_of):
            d = stands.drill(wait.any_of[0])
            within_reach = d.open or d.state is not State.NOT_YET
            if within_reach and d.drill not in named and d.drill not in {a.drill for a in ahead}:
                named.add(d.drill)
                steps.append(
                    NextStep(drill=d.drill, title=d.title, label="Opens a rung", sentence=f"{_to_do(d, stands.on)} opens {closed.title.lower()}")
                )
    return steps


def _to_do(d: DrillStanding, on: date) -> str:
    if d.prove_by and d.prove_by >= on:
        return f"One more clean day by {say_day(d.prove_by, on)}"
    return "Two clean days" if d.state is State.STALE or d.prove_by else f"A clean {d.gate}"
