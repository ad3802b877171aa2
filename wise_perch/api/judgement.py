"""Between store and core: runs of a test and what they lead to."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from psycopg import Connection

from wise_perch.api.knowing import House, KnownTrainee, all_evidence, know, today_of
from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.run_sheet import Now, Sheet, level_name, walk_run
from wise_perch.core.body.body_units import in_rulers, rulers_of
from wise_perch.core.scoring import judge_tries as judge_tries
from wise_perch.core.scoring.verdict import RunFacts as Facts
from wise_perch.core.scoring.verdict import Verdict
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.protocol import DecisionText, Mode, Test, line_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.changes import WallChange, find_changes
from wise_perch.core.trainee.standing import DrillStanding, Standing
from wise_perch.core.trainee.stored import Coach, Run
from wise_perch.core.trainee.to_decide import pain_advice
from wise_perch.core.trainee.wall import State
from wise_perch.store import evidence
from wise_perch.store.errors import NotFound

Rates = dict[str, tuple[int, int]]


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
    """What an ended run leads to: headline, advice, the drills to work on as they stand now, and what it moved."""

    title: str
    advice: str
    work_on: tuple[DrillStanding, ...]
    changes: tuple[WallChange, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedRun:
    """A run as the Bench shows it. `outcome` stands once the run has ended; `pain_advice` where pain ended it.

    `now`: what comes next by its sheet. `in_body`: settings in the trainee's own body units. `before`: the newest earlier run
    that compares (same test, drill and way of measuring). `lines`: what the tries of each mode are held against.
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


def scored(run: Run, coach: Coach, syllabus: Syllabus, *, proven: Mapping[str, bool] | None = None, rates: Rates | None = None) -> ScoredRun:
    """Score a run; a run still going is scored on what it has. Raises NotFound if its test or drill is no longer there."""
    test, subject = test_of(run, syllabus)
    day = today_of(coach, run.started_at)
    known = Facts(
        day=day,
        subject=subject,
        dial=run.dial,
        confidence=run.confidence,
        drills=syllabus.drills,
        proven=proven or {},
        rates=rates or {},
    )
    verdict = judge_tries(test, run.standing_tries, known)
    mode = test.mode(verdict.mode)
    line = lines_of(test, subject, syllabus).get(mode.mode)
    return ScoredRun(run=run, day=day, title=title_of(test, subject), mode=mode, line=line, verdict=verdict)


def test_of(run: Run, syllabus: Syllabus) -> tuple[Test, Drill | None]:
    """The test of a run and the drill it was run for. Raises NotFound if either is no longer in use."""
    test, subject = syllabus.tests.get(run.test), syllabus.drills.get(run.subject)
    if test is None or (run.subject and subject is None):
        raise NotFound("The test or the drill of this run is no longer in use; its tries are kept, and an export has them.")
    return test, subject


def scored_all(runs: Sequence[Run], coach: Coach, syllabus: Syllabus) -> tuple[ScoredRun, ...]:
    """Score those runs whose test and drill are in use."""
    fit = [r for r in runs if r.test in syllabus.tests and (not r.subject or r.subject in syllabus.drills)]
    return tuple(scored(r, coach, syllabus) for r in fit)


def newest_rates(pieces: Sequence[Evidence], drills: Sequence[str]) -> Rates:
    """The newest k of n of each of these drills."""
    found: dict[str, tuple[int, int]] = {}
    for drill in drills:
        newest = max((p for p in pieces if p.drill == drill and p.n), key=lambda p: p.day, default=None)
        if newest and newest.n:
            found[drill] = (int(newest.value), newest.n)
    return found


EARLIER = 12
"""So many earlier runs of a test are offered for comparing."""


def judged(db: Connection, run: Run, house: House) -> JudgedRun:
    """Judge a run with what was known about its trainee on its day, and say what it moved on the wall bars."""
    coach = house.coach
    day = today_of(coach, run.started_at)
    sets = evidence.for_standing(db, [run.trainee], time_zone=coach.time_zone).get(run.trainee, [])
    runs = evidence.ended_runs(db, [run.trainee], time_zone=coach.time_zone).get(run.trainee, [])
    with_it = [p for p in all_evidence(sets, runs, house.syllabus) if p.day <= day]
    without = [p for p in all_evidence(sets, (r for r in runs if r.run != run.id), house.syllabus) if p.day <= day]
    before, after = (know(db, run.trainee, house, on=day, pieces=pieces) for pieces in (without, with_it))
    syllabus = before.syllabus
    test, subject = test_of(run, syllabus)
    exits = before.standing.drill(test.exits_drill) if test.exits_drill else None
    # the run itself must not prove the exits it is judged by
    proven = {test.exits_drill: exits.state is State.PROVEN} if exits else {}
    result = scored(run, coach, syllabus, proven=proven, rates=newest_rates(without, [test.landings_drill]))
    sheet = evidence.sheet(db, run.id) or lay_out(test, subject=subject)
    others = evidence.runs_of_test(db, run.trainee, test=run.test, subject=run.subject, most=EARLIER + 1)
    earlier = scored_all([r for r in others if r.id != run.id and r.ended_at and r.started_at <= run.started_at], coach, syllabus)
    return JudgedRun(
        scored=result,
        test=test,
        sheet=sheet,
        now=walk_run(sheet, run.standing_tries),
        in_body=in_body(sheet, run.dial, rulers_of(syllabus.intake, before.frame.profile)),
        lines=lines_of(test, subject, syllabus),
        pain_advice="" if run.pain_level is None else pain_advice(run.pain_level, syllabus.rules),
        exits=exits,
        outcome=_outcome(result, test, subject, before.standing, after) if run.ended_at else None,
        before=comparable(earlier, result.verdict.mode),
        earlier=earlier,
    )


def lines_of(test: Test, subject: Drill | None, syllabus: Syllabus) -> dict[str, float]:
    """What the tries of each mode are held against: its own line, or the gate of the drill it speaks for."""
    found = {m.mode: line_of(m, syllabus.drills.get(test.drills.get(m.mode, "")) or subject) for m in test.modes}
    return {name: line for name, line in found.items() if line is not None}


def comparable(earlier: Sequence[ScoredRun], mode: str) -> ScoredRun | None:
    """The newest earlier run that was measured the same way."""
    return next((r for r in earlier if r.verdict.n and (not mode or r.verdict.mode == mode)), None)


def in_body(sheet: Sheet, dial: Mapping[str, float], own: Mapping[str, float]) -> dict[str, str]:
    """Every setting of a run in the trainee's own body units, by the setting as `level_name` writes it."""
    levels = {level for step in sheet.steps.values() for level in step.levels} | set(dial.values())
    return {level_name(level): said for level in sorted(levels) if (said := in_rulers(level, own))}


def _outcome(result: ScoredRun, test: Test, subject: Drill | None, before: Standing, after: KnownTrainee) -> RunOutcome:
    if not result.verdict.n:
        return RunOutcome(title="No try was made.", advice="There is nothing to decide from this run.", work_on=(), changes=())
    text = test.decisions[result.verdict.decision]
    return RunOutcome(
        title=text.title,
        advice=text.advice,
        work_on=tuple(after.standing.drill(name) for name in to_work_on(text, subject, after)),
        changes=tuple(find_changes(before, after.standing)),
    )


AHEAD_SHOWN = 3


def to_work_on(text: DecisionText, subject: Drill | None, known: KnownTrainee) -> list[str]:
    """The drills a decision names, with the tested drill and those ahead of it put in; retired ones left out."""
    found: list[str] = []
    for name in text.work_on:
        if name == "subject":
            found += [subject.drill] if subject else []
        elif name == "ahead":
            waiting = known.syllabus.opens.get(subject.drill, ()) if subject else ()
            ahead = [w for w in waiting if known.standing.drill(w).state is State.NOT_YET]
            found += sorted(ahead, key=lambda w: not known.standing.drill(w).open)[:AHEAD_SHOWN] or ([subject.drill] if subject else [])
        else:
            found.append(name)
    return [name for name in dict.fromkeys(found) if name in known.syllabus.drills]
