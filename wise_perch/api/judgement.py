"""Between store and core: runs of a test and what they lead to, and what Today shows of every trainee."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from psycopg import Connection
from pydantic import TypeAdapter

from wise_perch.api.knowing import NO_FRAME, House, all_evidence, judge, know, today_of
from wise_perch.core.benchmarks.free_tries import FreeTriesContext, FreeTriesScore, score
from wise_perch.core.changes import Change, changes
from wise_perch.core.evidence import Evidence
from wise_perch.core.goals import GoalStanding
from wise_perch.core.marks import Marks, marks
from wise_perch.core.matters import URGENCY, LastTest, Matter, OpenRun, PainReport, last_test_of, matters, pain_advice
from wise_perch.core.records import Coach, Frame, Run
from wise_perch.core.standing import DrillStanding, Standing
from wise_perch.core.syllabus import Syllabus
from wise_perch.core.wall import RANK, State
from wise_perch.store import briefs, evidence, frames

MARKS = TypeAdapter(dict[str, dict[str, Marks]])


def free_tries_context(pieces: Sequence[Evidence], stands: Standing, syllabus: Syllabus) -> FreeTriesContext:
    """What the wall bars know beside the tries: whether the exit is proven, and the newest wall landings."""
    test = syllabus.free_tries
    landings = [p for p in pieces if p.drill == test.landings_drill and p.n]
    newest = max(landings, key=lambda p: p.day, default=None)
    return FreeTriesContext(
        exits_proven=stands.drill(test.exits_drill).state is State.PROVEN,
        soft_landings=(int(newest.value), newest.n) if newest and newest.n else None,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ScoredRun:
    """A run with the figures the core finds in it."""

    run: Run
    day: date
    score: FreeTriesScore


@dataclass(frozen=True, slots=True, kw_only=True)
class RunOutcome:
    """What an ended run leads to: headline, advice, the drills to work on as they stand now, and what it moved."""

    title: str
    advice: str
    work_on: tuple[DrillStanding, ...]
    changes: tuple[Change, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedRun:
    """A run as the Bench shows it. `outcome` stands once the run has ended; `pain_advice` where pain ended it."""

    scored: ScoredRun
    pain_advice: str
    exits: DrillStanding
    outcome: RunOutcome | None


def scored(run: Run, coach: Coach, syllabus: Syllabus, context: FreeTriesContext | None = None) -> ScoredRun:
    """Score a run; a run still going is scored on what it has."""
    figures = score(run.standing_tries, syllabus.free_tries.rules, context)
    return ScoredRun(run=run, day=today_of(coach, run.started_at), score=figures)


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
    # the run itself must not prove the exits it is judged by
    result = scored(run, coach, syllabus, free_tries_context(without, before.standing, syllabus))
    return JudgedRun(
        scored=result,
        pain_advice="" if run.pain_level is None else pain_advice(run.pain_level, syllabus.rules),
        exits=before.standing.drill(syllabus.free_tries.exits_drill),
        outcome=_outcome(result, before.standing, after.standing, syllabus) if run.ended_at else None,
    )


def _outcome(result: ScoredRun, before: Standing, after: Standing, syllabus: Syllabus) -> RunOutcome:
    if not result.score.n:
        return RunOutcome(title="No try was made.", advice="There is nothing to decide from this run.", work_on=(), changes=())
    text = syllabus.free_tries.decisions[result.score.decision]
    return RunOutcome(
        title=text.title,
        advice=text.advice,
        work_on=tuple(after.drill(name) for name in text.work_on),
        changes=tuple(changes(before, after)),
    )


# --- Today -------------------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallBay:
    """A line of the wall bars in miniature: each rung's weakest required state, and the perch."""

    title: str
    rungs: tuple[State, ...]
    perch_rung: int


@dataclass(frozen=True, slots=True, kw_only=True)
class TodayBrief:
    """What Today shows of one trainee: everything there is to decide, most pressing first, and the bars in miniature."""

    to_decide: bool
    matters: tuple[Matter, ...]
    bays: tuple[SmallBay, ...]


FIRST_LINES = ("inversion", "entry", "exit", "balance")
"""Without a goal the lines that begin every way stand in front."""
SMALL_BAYS = 4


def small_bays(stands: Standing, goals: Sequence[GoalStanding]) -> tuple[SmallBay, ...]:
    """Shrink the wall bars to one state a rung: the lines the leading goal runs through, or those that begin every way."""
    leading = next((g.lines for g in goals if not g.reached), ())
    near = leading if len(leading) >= SMALL_BAYS else dict.fromkeys([*leading, *FIRST_LINES])
    shown = set(list(near)[:SMALL_BAYS])
    return tuple(
        SmallBay(
            title=line.title,
            rungs=tuple(
                min((d.state for d in rung if not d.optional or len(rung) == 1), key=RANK.__getitem__, default=rung[0].state) for rung in line.rungs
            ),
            perch_rung=line.perch_rung,
        )
        for line in stands.lines
        if line.line in shown
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownTests:
    """What never depends on the day: the coach's frame, the newest ended test, the newest pain, the open run."""

    frame: Frame = NO_FRAME
    last_test: LastTest | None = None
    pain: PainReport | None = None
    open_run: OpenRun | None = None


TESTS = TypeAdapter(KnownTests)
BRIEF = TypeAdapter(TodayBrief)


def refresh_briefs(db: Connection, house: House, *, on: date) -> int:
    """Make anew the briefs that are no longer true, and say how many. Only trainees with new evidence have theirs read."""
    coach, version = house.coach, house.syllabus.version
    old = briefs.old(db, syllabus=version, day=on, rest_s=coach.rest_s)
    fresh = _marks_and_tests(db, [b.trainee for b in old if b.marks is None], house)
    made = []
    for b in old:
        anew = b.marks is None or b.tests is None
        if anew:
            found, tests = fresh[b.trainee]
        else:
            found, tests = MARKS.validate_python(b.marks, strict=False), TESTS.validate_python(b.tests, strict=False)
        today = _brief(found, tests, house, on)
        made.append(
            briefs.Brief(
                trainee=b.trainee,
                evidence_version=b.evidence_version,
                syllabus=version,
                day=on,
                rest_s=coach.rest_s,
                urgency=URGENCY[today.matters[0].kind],
                marks=MARKS.dump_python(found, mode="json", exclude_defaults=True) if anew else None,
                tests=TESTS.dump_python(tests, mode="json") if anew else None,
                today=BRIEF.dump_python(today, mode="json"),
            )
        )
    if made:
        briefs.keep(db, made)
    return len(made)


def _marks_and_tests(db: Connection, trainees: list[UUID], house: House) -> Mapping[UUID, tuple[dict[str, dict[str, Marks]], KnownTests]]:
    if not trainees:
        return {}
    zone, rules = house.coach.time_zone, house.syllabus.free_tries.rules
    sets = evidence.for_standing(db, trainees, time_zone=zone)
    runs = evidence.ended_runs(db, trainees, time_zone=zone)
    pains = evidence.pains(db, trainees, time_zone=zone)
    open_runs = evidence.open_runs(db, trainees, time_zone=zone)
    framed = frames.of(db, trainees, time_zone=zone)
    found = {}
    for trainee in trainees:
        own, frame = runs.get(trainee, []), framed[trainee]
        newest = own[-1] if own else None
        last = last_test_of(newest.tries, rules, day=newest.day) if newest else None
        tests = KnownTests(frame=frame, last_test=last, pain=pains.get(trainee), open_run=open_runs.get(trainee))
        syllabus = house.by(frame.schools)
        found[trainee] = (marks(all_evidence(sets.get(trainee, []), own, syllabus), syllabus), tests)
    return found


def _brief(found: dict[str, dict[str, Marks]], tests: KnownTests, house: House, on: date) -> TodayBrief:
    known = judge(found, tests.frame, house.by(tests.frame.schools), on=on)
    todo = matters(
        known.standing,
        known.syllabus,
        rest_s=house.coach.rest_s,
        last_test=tests.last_test,
        open_run=tests.open_run,
        pain=tests.pain,
        goals=known.goals,
        uncleared=[q.question for q in known.uncleared],
    )
    return TodayBrief(to_decide=todo[0].kind not in ("next", "nothing"), matters=tuple(todo), bays=small_bays(known.standing, known.goals))
