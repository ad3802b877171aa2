"""Runs of a test as they are judged: figures, decision, and what a run moved and leads to."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.run_sheet import Now, Sheet, level_name, walk_run
from wise_perch.core.body.body_units import in_rulers
from wise_perch.core.scoring import judge_tries
from wise_perch.core.scoring.verdict import RunFacts, Verdict
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.protocol import DecisionText, Mode, Test, line_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.changes import WallChange, find_changes
from wise_perch.core.trainee.standing import DrillStanding, WallBars
from wise_perch.core.trainee.stored import Run
from wise_perch.core.trainee.to_decide import pain_advice
from wise_perch.core.trainee.wall import State
from wise_perch.core.trainee.work_on import NextStep, what_to_work_on

AHEAD_SHOWN = 3
"""So many drills ahead of the tested one are named at most."""
Rates = Mapping[str, tuple[int, int]]
DayOf = Callable[[datetime], date]
"""The coach's own calendar day of a moment."""


class OutOfUse(Exception):
    """The test or the drill of a run is no longer in use. Its tries are kept."""

    def __init__(self) -> None:
        """Say so in the words that everybody gets."""
        super().__init__(
            "The test or the drill of this run is no longer in use. Its tries are kept, and an export has"
            " them."
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class ScoredRun:
    """A run with the figures the core finds in it. `title` names test and drill.

    `mode`: the way of measuring that counted; `line`: what its tries are held against.
    """

    run: Run
    day: date
    title: str
    mode: Mode
    line: float | None
    verdict: Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class RunOutcome:
    """What an ended run leads to: headline, advice, and what it moved.

    `now`: what to work on now, as every other place says it; `work_on`: the drills that the test itself
    points to.
    """

    title: str
    advice: str
    now: NextStep | None
    work_on: tuple[DrillStanding, ...]
    changes: tuple[WallChange, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedRun:
    """A run as the Bench shows it. `outcome` stands once the run has ended; `pain_advice` where pain ended
    it.

    `now`: what comes next by its sheet. `in_body`: settings in the trainee's own body units. `before`: the
    newest earlier run that compares (same test, drill and way of measuring). `lines`: what the tries of each
    mode are held against.
    """

    scored: ScoredRun
    test: Test
    sheet: Sheet
    now: Now
    in_body: dict[str, str]
    lines: dict[str, float]
    pain_advice: str
    exits: DrillStanding | None
    outcome: RunOutcome | None
    before: ScoredRun | None
    earlier: tuple[ScoredRun, ...]


def title_of(test: Test, subject: Drill | None) -> str:
    """Test and drill as they are named together; a test of one drill alone is named as it is."""
    if test.every is None and len(test.subjects) < 2:
        return test.title
    return f"{test.title}: {subject.title[:1].lower() + subject.title[1:]}" if subject else test.title


def test_of(run: Run, syllabus: Syllabus) -> tuple[Test, Drill | None]:
    """The test of a run and the drill it was run for. Raises OutOfUse."""
    test, subject = syllabus.tests.get(run.test), syllabus.drills.get(run.subject)
    if test is None or (run.subject and subject is None):
        raise OutOfUse
    return test, subject


def score_run(
    run: Run,
    syllabus: Syllabus,
    *,
    day: date,
    proven: Mapping[str, bool] | None = None,
    rates: Rates | None = None,
) -> ScoredRun:
    """Score a run; a run still going is scored on what it has. Raises OutOfUse."""
    test, subject = test_of(run, syllabus)
    facts = RunFacts(
        day=day,
        subject=subject,
        dial=run.dial,
        confidence=run.confidence,
        drills=syllabus.drills,
        proven=proven or {},
        rates=rates or {},
    )
    verdict = judge_tries(test, run.standing_tries, facts)
    mode = test.mode(verdict.mode)
    line = lines_of(test, subject, syllabus).get(mode.mode)
    return ScoredRun(run=run, day=day, title=title_of(test, subject), mode=mode, line=line, verdict=verdict)


def score_runs(runs: Sequence[Run], syllabus: Syllabus, *, day_of: DayOf) -> tuple[ScoredRun, ...]:
    """Score those runs whose test and drill are in use."""
    fit = [r for r in runs if r.test in syllabus.tests and (not r.subject or r.subject in syllabus.drills)]
    return tuple(score_run(r, syllabus, day=day_of(r.started_at)) for r in fit)


def judge_run(
    run: Run, case: Case, *, sheet: Sheet | None, others: Sequence[Run], day_of: DayOf
) -> JudgedRun:
    """Judge a run with what was known about its trainee on its day, and say what it moved on the wall bars.

    Args: `case` on the run's day; `sheet` that the run follows; `others` the newest runs of the same test.
    Raises OutOfUse.
    """
    before = judge_case(replace(case, runs=[r for r in case.runs or () if r.run != run.id]))
    after = judge_case(case)
    syllabus = before.syllabus
    test, subject = test_of(run, syllabus)
    exits = before.standing.drill(test.exits_drill) if test.exits_drill else None
    # the run itself must not prove the exits it is judged by
    proven = {test.exits_drill: exits.state is State.PROVEN} if exits else {}
    landings = before.past.landings
    rates = {test.landings_drill: landings} if landings and test.landings_drill else {}
    result = score_run(run, syllabus, day=case.on, proven=proven, rates=rates)
    followed = sheet or lay_out(test, subject=subject)
    fit = [r for r in others if r.id != run.id and r.ended_at and r.started_at <= run.started_at]
    earlier = score_runs(fit, syllabus, day_of=day_of)
    return JudgedRun(
        scored=result,
        test=test,
        sheet=followed,
        now=walk_run(followed, run.standing_tries),
        in_body=say_levels_in_body(followed, run.dial, before.rulers),
        lines=lines_of(test, subject, syllabus),
        pain_advice="" if run.pain_level is None else pain_advice(run.pain_level, syllabus.rules),
        exits=exits,
        outcome=_outcome_of(result, test, subject, before.standing, after) if run.ended_at else None,
        before=newest_comparable(earlier, result.verdict.mode),
        earlier=earlier,
    )


def lines_of(test: Test, subject: Drill | None, syllabus: Syllabus) -> dict[str, float]:
    """What the tries of each mode are held against: its own line, or the gate of the drill it speaks for."""
    found = {
        m.mode: line_of(m, syllabus.drills.get(test.drills.get(m.mode, "")) or subject) for m in test.modes
    }
    return {name: line for name, line in found.items() if line is not None}


def newest_comparable(earlier: Sequence[ScoredRun], mode: str) -> ScoredRun | None:
    """The newest earlier run that was measured the same way."""
    return next((r for r in earlier if r.verdict.n and (not mode or r.verdict.mode == mode)), None)


def say_levels_in_body(sheet: Sheet, dial: Mapping[str, float], own: Mapping[str, float]) -> dict[str, str]:
    """Every setting of a run in the trainee's own body units, by the setting as `level_name` writes it."""
    levels = {level for step in sheet.steps.values() for level in step.levels} | set(dial.values())
    return {level_name(level): said for level in sorted(levels) if (said := in_rulers(level, own))}


def _outcome_of(
    result: ScoredRun, test: Test, subject: Drill | None, before: WallBars, after: JudgedCase
) -> RunOutcome:
    if not result.verdict.n:
        return RunOutcome(
            title="No try was made.",
            advice="There is nothing to decide from this run.",
            now=None,
            work_on=(),
            changes=(),
        )
    text = test.decisions[result.verdict.decision]
    return RunOutcome(
        title=text.title,
        advice=text.advice,
        now=next(iter(what_to_work_on(after)), None),
        work_on=tuple(after.drills[name] for name in drills_to_work_on(text, subject, after)),
        changes=tuple(find_changes(before, after.standing)),
    )


def drills_to_work_on(text: DecisionText, subject: Drill | None, case: JudgedCase) -> list[str]:
    """The drills a decision names, with the tested drill and those ahead of it put in; retired ones
    left out.
    """
    found: list[str] = []
    for name in text.work_on:
        if name == "subject":
            found += [subject.drill] if subject else []
        elif name == "ahead":
            waiting = case.syllabus.opens.get(subject.drill, ()) if subject else ()
            ahead = [w for w in waiting if case.drills[w].state is State.NOT_YET]
            shown = sorted(ahead, key=lambda w: not case.drills[w].open)[:AHEAD_SHOWN]
            found += shown or ([subject.drill] if subject else [])
        else:
            found.append(name)
    return [name for name in dict.fromkeys(found) if name in case.syllabus.drills]
