"""Between store and core: what Today shows of every trainee, kept ready."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from uuid import UUID

from psycopg import Connection
from pydantic import TypeAdapter

from wise_perch.api.knowing import NO_FRAME, House, all_evidence, judge
from wise_perch.core.scoring import judge_tries as judge_tries
from wise_perch.core.scoring.verdict import RunFacts as Facts
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.marks import Marks, mark_evidence
from wise_perch.core.trainee.standing import Standing
from wise_perch.core.trainee.stored import Arrangement
from wise_perch.core.trainee.to_decide import URGENCY, LastTest, Matter, OpenRun, PainReport, find_matters
from wise_perch.core.trainee.wall import RANK, State
from wise_perch.store import arrangements, briefs, evidence
from wise_perch.store.evidence import EndedRun

MARKS = TypeAdapter(dict[str, dict[str, Marks]])


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
    """What never depends on the day: the coach's frame, the newest ended run of each test, the newest pain, the open run."""

    frame: Arrangement = NO_FRAME
    last_tests: dict[str, LastTest] = field(default_factory=dict)
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
    zone = house.coach.time_zone
    sets = evidence.for_standing(db, trainees, time_zone=zone)
    runs = evidence.ended_runs(db, trainees, time_zone=zone)
    pains = evidence.pains(db, trainees, time_zone=zone)
    open_runs = evidence.open_runs(db, trainees, time_zone=zone)
    framed = arrangements.of(db, trainees, time_zone=zone)
    found = {}
    for trainee in trainees:
        own, frame = runs.get(trainee, []), framed[trainee]
        syllabus = house.by(frame.schools)
        tests = KnownTests(frame=frame, last_tests=_last_tests(own, syllabus), pain=pains.get(trainee), open_run=open_runs.get(trainee))
        found[trainee] = (mark_evidence(all_evidence(sets.get(trainee, []), own, syllabus), syllabus), tests)
    return found


def _last_tests(runs: Sequence[EndedRun], syllabus: Syllabus) -> dict[str, LastTest]:
    """The newest ended run of each test that is asked for again and again."""
    newest = {r.test: r for r in runs if r.test in syllabus.tests and syllabus.tests[r.test].due_after_days}
    return {
        name: LastTest(day=r.day, summary=judge_tries(syllabus.tests[name], r.tries, Facts(day=r.day, drills=syllabus.drills)).summary)
        for name, r in newest.items()
    }


def _brief(found: dict[str, dict[str, Marks]], tests: KnownTests, house: House, on: date) -> TodayBrief:
    known = judge(found, tests.frame, house.by(tests.frame.schools), on=on)
    todo = find_matters(
        known.standing,
        known.syllabus,
        rest_s=house.coach.rest_s,
        last_tests=tests.last_tests,
        open_run=tests.open_run,
        pain=tests.pain,
        goals=known.goals,
        uncleared=[q.question for q in known.uncleared],
    )
    return TodayBrief(to_decide=todo[0].kind not in ("next", "nothing"), matters=tuple(todo), bays=small_bays(known.standing, known.goals))
