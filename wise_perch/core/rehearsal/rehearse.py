"""Weeks on trial: a simulated trainee does what a coach sets, and each coach sees only what would be
recorded.
"""

import itertools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from uuid import NAMESPACE_URL, uuid5

from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.walk import FloorEvent
from wise_perch.core.rehearsal.learner import Learner
from wise_perch.core.rehearsal.live import as_evidence, live_session
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.hand_load import loads_by_day
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import ask_for_week, due_tests, usual_kit
from wise_perch.core.week.week_plan import DayPlan, DayWish, Refusal, Wish
from wise_perch.core.week.wishes import set_day_of

NOON = time(12, tzinfo=UTC)


@dataclass
class Record:
    """What is known of a simulated trainee: evidence, tests that were run, and what each week came to."""

    pieces: list[Evidence] = field(default_factory=list)
    tested: dict[str, date] = field(default_factory=dict)
    asked: int = 0
    as_asked: int = 0
    weeks: list["WeekDone"] = field(default_factory=list)
    last_day: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekDone:
    """One week: how long the path to the leading goal still is, gates met in all, the perch of each line,
    what hands carried (body-weight seconds), the drills newly met since the start, and the blocks in words.
    """

    week: date
    path: int
    met: int
    load_s: float
    perches: Mapping[str, str]
    newly: tuple[str, ...]
    reached: bool
    sets: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rehearsed:
    """What the weeks came to. `steps`: drills of the path as it was at the start that are met at the end,
    `behind`: those that were passed and are no longer on it, whether fresh or stale by then; `gates`: drills
    passed in these weeks that were not met before; `share_as_asked` of the sets that asked for something,
    None without any.
    """

    steps: int
    behind: int
    path: int
    gates: int
    weeks_to_goal: int | None
    share_as_asked: float | None
    weeks_without_change: int
    weeks: tuple[WeekDone, ...]


Train = Callable[[Learner, Record, Case, date, Sequence[int]], list[str]]
"""How a coach trains somebody for the week that begins on a Monday, on these days of it (0 is Monday)."""


def rehearse(
    learner: Learner,
    train: Train,
    begin: Case,
    *,
    days: Sequence[int],
    weeks: int,
    each_week: Callable[[int], None] | None = None,
) -> Rehearsed:
    """Rehearse so many weeks from the Monday after `begin.on`. `each_week` is told of every week that is
    over; what it raises ends the rehearsal.
    """
    record = Record(pieces=list(begin.sets), tested=dict(begin.tested or {}))
    monday = begin.on + timedelta(days=7 - begin.on.weekday())
    first = judge_record(begin, record, monday)
    on_path = {s.drill for g in first.goals[:1] for s in g.path}
    leading = first.goals[0].goal if first.goals else ""
    met_before = _met(first)
    for n in range(weeks):
        week = monday + timedelta(weeks=n)
        said = train(learner, record, begin, week, days)
        after = judge_record(begin, record, week + timedelta(days=6))
        goal = next(iter(after.goals), None)
        record.weeks.append(
            WeekDone(
                week=week,
                path=len(goal.path) if goal else 0,
                met=len(_met(after)),
                load_s=round(sum(loads_by_day(after, since=week).values()), 1),
                perches={line.line: line.perch for line in after.standing.lines if line.perch},
                newly=tuple(sorted(_met(after) - met_before)),
                reached=bool(goal and goal.reached),
                sets=tuple(said),
            )
        )
        if each_week:
            each_week(n + 1)
    last = judge_record(begin, record, monday + timedelta(weeks=weeks))
    passed = {n for n, d in last.drills.items() if d.last_pass and d.last_pass > begin.on}
    still_ahead = {s.drill for g in last.goals if g.goal == leading for s in g.path}
    behind = {n for n in on_path - still_ahead if last.drills[n].state is not State.NOT_YET}
    return Rehearsed(
        steps=len(on_path & _met(last)),
        behind=len(behind),
        path=len(on_path),
        gates=len(passed - met_before),
        weeks_to_goal=next((n + 1 for n, w in enumerate(record.weeks) if w.reached), None),
        share_as_asked=record.as_asked / record.asked if record.asked else None,
        weeks_without_change=_longest_still([w.met for w in record.weeks]),
        weeks=tuple(record.weeks),
    )


def judge_record(begin: Case, record: Record, on: date) -> JudgedCase:
    """Judge a simulated trainee on a day by what is recorded."""
    return judge_case(replace(begin, on=on, sets=tuple(record.pieces), tested=dict(record.tested), runs=()))


def _met(case: JudgedCase) -> set[str]:
    return {n for n, d in case.drills.items() if d.state in (State.MET, State.PROVEN)}


def _longest_still(met: Sequence[int]) -> int:
    longest = still = 0
    for before, after in itertools.pairwise(met):
        still = 0 if after > before else still + 1
        longest = max(longest, still)
    return longest


# --- by the plan --------------------------------------------------------------------------------------------


def train_by_plan(
    learner: Learner, record: Record, begin: Case, week: date, days: Sequence[int]
) -> list[str]:
    """Plan the week, and do what it says on the floor, set by set."""
    case = judge_record(begin, record, week)
    minutes = int(case.syllabus.sessions.usual_minutes.value)
    wish = Wish(
        week=week,
        days=tuple(DayWish(day=week + timedelta(days=d), place="hall", minutes=minutes) for d in days),
        kit=usual_kit(case.profile, case.syllabus),
    )
    planned = plan_week(ask_for_week(case, week=week), wish)
    if isinstance(planned, Refusal):
        return []
    said: list[str] = []
    for day in planned.days:
        said += _train_day(learner, record, begin, day)
    return said


def _train_day(learner: Learner, record: Record, begin: Case, day: DayPlan) -> list[str]:
    case = judge_record(begin, record, day.day)
    learner.wake(day.day, since=record.last_day)
    record.last_day = day.day
    # what has closed since the week was planned is left out
    blocks = tuple(b for b in day.blocks if not b.drill or case.drills[b.drill].open)
    day = set_day_of(replace(day, blocks=blocks), case)
    told = learner.confidence([b.drill for b in blocks if b.drill])
    lived = live_session(
        learner,
        # an even day takes what was planned
        lay_out_session(day, case, stand_by=False),
        FloorEvent(kind="ready", energy=3, confidence=told),
        session=uuid5(NAMESPACE_URL, str(day.day)),
        begun=datetime.combine(day.day, NOON),
        syllabus=case.syllabus,
    )
    for test in lived.tests:
        _run_test(learner, record, case, test, day.day)
    for piece in lived.pieces:
        keep_piece(record, as_evidence(piece, day.day))
    return [f"{day.day:%a} {words}" for words in lived.said]


def keep_piece(record: Record, piece: Evidence) -> None:
    """Record a piece of evidence, and count whether it was done as asked."""
    record.pieces.append(piece)
    if piece.asked is not None:
        record.asked += 1
        record.as_asked += piece.as_asked


def _run_test(learner: Learner, record: Record, case: JudgedCase, name: str, day: date) -> None:
    """Run a test: its drill's gate is measured, open."""
    test = case.syllabus.tests.get(name)
    record.tested[name] = day
    measured = [test.due_for, *test.drills.values()] if test else []
    measured += [t.drill for t in due_tests(case) if t.test == name]
    for drill in (case.syllabus.drills[d] for d in dict.fromkeys(measured) if d in case.syllabus.drills):
        value, n = learner.measure(drill)
        keep_piece(record, open_piece(drill, value, n, day))


def open_piece(drill: Drill, value: float, n: int | None, day: date) -> Evidence:
    """A piece of evidence that asked for nothing, measured as a drill's gate is."""
    gate = drill.gate
    return Evidence(
        drill=drill.drill,
        day=day,
        measure=gate.measure,
        value=value,
        n=n,
        form=Form.CLEAN,
        mode=gate.mode,
        window_s=gate.window_s,
        confidence=4,
    )
