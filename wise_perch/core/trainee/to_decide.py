"""What a coach has to decide about a trainee today, the most pressing first."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal, get_args

from wise_perch.core.trade.content import Rules
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase, LastTest
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.pain import say_ache
from wise_perch.core.trainee.standing import WallBars
from wise_perch.core.trainee.standing_still import Standstill, find_standstills
from wise_perch.core.trainee.wall import State
from wise_perch.core.trainee.work_on import leading_goal, what_to_work_on

MatterKind = Literal[
    "pain", "cleared", "unfinished", "recheck", "test", "one-pass", "still", "stay", "next", "nothing"
]
NOT_TO_DECIDE: frozenset[MatterKind] = frozenset({"stay", "next", "nothing"})
"""The kinds that only say how things go."""
URGENCY: Mapping[MatterKind, int] = {kind: n for n, kind in enumerate(get_args(MatterKind))}
"""The kinds of matter, the most pressing first."""


def pain_advice(level: int, rules: Rules) -> str:
    """What pain of a level (0 to 10) means for the rest of the day."""
    return rules.pain_much if level >= rules.pain_stops_at.value else rules.pain_some


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenRun:
    """A run that was begun and neither finished nor stopped; `run` is its id."""

    run: str
    test: str
    day: date
    tries: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Matter:
    """One thing to decide: `sentence` says it with its figures, `action` names the tap, `drill`, `test` or
    `run` its target.
    """

    kind: MatterKind
    sentence: str
    action: str
    drill: str | None = None
    run: str | None = None
    test: str | None = None


READ_OFF = (Measure.ANGLE, Measure.HEIGHT)
"""Measures that are read off, as a distance is of which less is better."""


def find_matters(
    case: JudgedCase,
    *,
    open_run: OpenRun | None = None,
    standstills: Sequence[Standstill] | None = None,
) -> list[Matter]:
    """List what there is to decide on the case's day, most pressing first; never empty. `standstills`: those
    of the case, where they are known already.

    With goals, only what is on the way to one of them asks for a second day.
    """
    on, standing, syllabus = case.on, case.standing, case.syllabus
    found: list[Matter] = []
    if case.uncleared:
        asked = ", ".join(q.question.rstrip("?").lower() for q in case.uncleared)
        sentence = (
            f"The intake named {asked}. Nothing upside down until what that asks for is done and you confirm."
        )
        found.append(Matter(kind="cleared", sentence=sentence, action="Ask first"))
    if ache := max(case.aches, key=lambda a: (a.day, a.sharp, a.level), default=None):
        found.append(
            Matter(
                kind="pain", sentence=f"{say_ache(ache, on=on)}. Ask before loading it.", action="Ask first"
            )
        )
    if open_run:
        found.append(_open_run(open_run, syllabus, on))
    exits = standing.drill(syllabus.free_tries.exits_drill)
    if exits.state is State.STALE and exits.last_pass:
        sentence = (
            f"{exits.title} was last shown {(on - exits.last_pass).days} days ago. Show it before open floor."
        )
        found.append(Matter(kind="recheck", sentence=sentence, action="Recheck", drill=exits.drill))
    found += _one_pass(standing, case.goals)
    found += find_due_tests(case)
    found += _course(case, find_standstills(case) if standstills is None else standstills)
    return sorted(found, key=lambda m: URGENCY[m.kind]) or [_next_step(case)]


def _course(case: JudgedCase, standstills: Sequence[Standstill]) -> Iterator[Matter]:
    """What stands still, with what practice would try first; or that the course is to be kept. Without a
    history at hand nothing is known of the first.
    """
    for still in standstills[:1]:
        tried = f" {still.options[0].text}" if still.options else ""
        yield Matter(kind="still", sentence=f"{still.sentence}.{tried}", action="Progress", drill=still.drill)
    leading = leading_goal(case.goals)
    if leading and leading.stay_the_course:
        yield Matter(kind="stay", sentence=leading.stay_the_course, action="Progress")


def _open_run(run: OpenRun, syllabus: Syllabus, on: date) -> Matter:
    done = "no try yet" if not run.tries else f"{run.tries} tries kept" if run.tries > 1 else "one try kept"
    title = syllabus.tests[run.test].title if run.test in syllabus.tests else "A test"
    return Matter(
        kind="unfinished",
        sentence=f"{title} of {say_day(run.day, on)} not ended yet, {done}.",
        action="Go on",
        run=run.run,
    )


def _one_pass(stands: WallBars, goals: Sequence[GoalStanding]) -> list[Matter]:
    """Gates met on one day only, while a second day can still prove them.

    Those come first that a drill away from the wall waits for, then the soonest to run out.
    """
    on, gates = stands.on, stands.wall.gates
    syllabus, awaited = stands.wall.syllabus, stands.wall.syllabus.awaited
    wanted = (
        {s.drill for g in goals for s in g.path}
        | {n for g in goals for n in syllabus.below[g.goal] & awaited}
        if goals
        else None
    )
    near = [
        (d.prove_by or on, d)
        for name, gate in gates.items()
        if gate.state is State.MET and (wanted is None or name in wanted)
        if (d := stands.drill(name)).prove_by and d.last_pass and on <= d.prove_by
    ]
    return [
        Matter(
            kind="one-pass",
            sentence=(
                f"{d.title} was passed once, on {say_day(d.last_pass, on)}. Show it clean once more"
                f" by {say_day(by, on)} and it is proven."
                if d.last_pass and d.last_pass < stands.on
                else f"{d.title} was passed today. Show it clean once more by {say_day(by, on)}"
                " and it is proven."
            ),
            action="Decide" if d.last_pass and d.last_pass < stands.on else "Look",
            drill=d.drill,
        )
        for by, d in sorted(near, key=lambda pair: (pair[1].drill not in awaited, pair[0], pair[1].drill))
    ]


def find_due_tests(case: JudgedCase) -> list[Matter]:
    """The tests that are asked for again and again, once what they wait for is proven; none where nobody
    knows when they were run.

    Whoever trains for something that a test says nothing about is not sent to it.
    """
    found: list[Matter] = []
    if case.past.last is None:
        return found
    for test in case.syllabus.tests_offered:
        wanted = not case.goals or any(test.due_for in case.syllabus.below[g.goal] for g in case.goals)
        ready = not test.exits_drill or case.drills[test.exits_drill].state is State.PROVEN
        if test.due_after_days and wanted and ready:
            within = int(test.due_after_days.value)
            found += _due_test(
                test, case.past.last.get(test.test), within_days=within, rest_s=case.rest_s, on=case.on
            )
    return found + _retest(case)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Again:
    """A test that is due again: the drill it is run for, if for one; when it was run last, and why again."""

    test: Test
    subject: str
    last: date | None
    outdone: bool
    because: str

    @property
    def place(self) -> tuple[bool, date, str, str]:
        """What sets have outdone comes first, then the oldest."""
        return not self.outdone, self.last or date.min, self.test.test, self.subject


def _retest(case: JudgedCase) -> list[Matter]:
    """Of the tests that a dose on the way leans on, the one that is oldest, or that sets have outdone: one at
    a time.
    """
    due = min((*_outdone_or_old(case), *_readings_due(case)), key=lambda x: x.place, default=None)
    if due is None:
        return []
    title = due.test.title
    if due.subject:
        title += f", {case.drills[due.subject].title.lower()},"
    return [
        Matter(
            kind="test",
            sentence=f"{title} again: {due.because}." if due.last else f"{title} is due: {due.because}.",
            action=f"Test, {due.test.minutes(rest_s=case.rest_s)} min",
            test=due.test.test,
            drill=due.subject or None,
        )
    ]


def _outdone_or_old(case: JudgedCase) -> Iterator[_Again]:
    """Tests that were run before: floats, push heights, press starts."""
    worked = {s.drill for g in case.goals if not g.reached for s in g.path if s.kind != "closed"}
    after = timedelta(days=int(case.syllabus.sessions.retest_after_days.value))
    for test in case.syllabus.tests_offered:
        last = (case.past.last or {}).get(test.test)
        if test.due_after_days or last is None or not worked & set(test.drills.values()):
            continue
        if last.outdone or case.on >= last.day + after:
            result = f", {last.summary}" if last.summary else ""
            why = (
                f"sets went beyond it on {say_day(last.outdone, case.on)}"
                if last.outdone
                else "the doses lean on it, and it is old"
            )
            yield _Again(
                test=test,
                subject="",
                last=last.day,
                outdone=bool(last.outdone),
                because=f"last on {say_day(last.day, case.on)}{result}; {why}",
            )


def _readings_due(case: JudgedCase) -> Iterator[_Again]:
    """Range that is stretched for and never read by its sets: only a test says where it stands."""
    leading = leading_goal(case.goals)
    after = timedelta(days=int(case.syllabus.sessions.retest_after_days.value))
    for step in leading.work_on if leading else ():
        gate = case.syllabus.drills[step.drill].gate
        test = next((t for t in case.syllabus.tests_offered if step.drill in t.subjects), None)
        if test is None or not (gate.fewer or gate.measure in READ_OFF):
            continue
        read = case.wall.marks.get(step.drill, {}).get("gate")
        last = read.last_day if read else None
        if last is None or case.on >= last + after:
            told = "nothing measured yet" if last is None else f"last measured on {say_day(last, case.on)}"
            why = f"{told}, and stretching alone does not measure it"
            yield _Again(test=test, subject=step.drill, last=last, outdone=False, because=why)


def _due_test(
    test: Test, last: LastTest | None, *, within_days: int, rest_s: float, on: date
) -> list[Matter]:
    action = f"Test, {test.minutes(rest_s=rest_s)} min"
    named = test.title[:1].lower() + test.title[1:]
    if last is None:
        proven = ", and the exit is proven" if test.exits_drill else ""
        return [
            Matter(
                kind="test",
                sentence=f"Time for {named}: never run yet{proven}.",
                action=action,
                test=test.test,
            )
        ]
    if on < last.day + timedelta(days=within_days):
        return []
    result = f", {last.summary}" if last.summary else ""
    return [
        Matter(
            kind="test",
            sentence=f"Time for {named}: last on {say_day(last.day, on)}{result}.",
            action=action,
            test=test.test,
        )
    ]


def _next_step(case: JudgedCase) -> Matter:
    """What to work on now, as every other place says it too."""
    step = next(iter(what_to_work_on(case)), None)
    if step is None:
        return Matter(kind="nothing", sentence="Every open gate here is met.", action="Look")
    leading = leading_goal(case.goals)
    before = f"{leading.headline} Next:" if leading else f"{step.label}:"
    return Matter(
        kind="next",
        sentence=f"{before} {step.title[:1].lower() + step.title[1:]}. {step.sentence}.",
        action="Look",
        drill=step.drill,
    )
