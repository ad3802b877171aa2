"""Weeks on trial: a simulated trainee does what a coach sets, and each coach sees only what would be
recorded.
"""

import itertools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from wise_perch.core.dose.dose import DayDose, asked_of
from wise_perch.core.floor.kept_session import KeptEvent, SessionPiece
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.walk import FloorEvent, FloorSheet, walk_session
from wise_perch.core.rehearsal.learner import Learner, step_of
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.hand_load import loads_by_day
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import ask_for_week, due_tests, usual_kit
from wise_perch.core.week.week_plan import DayPlan, DayWish, Refusal, Wish
from wise_perch.core.week.wishes import set_day_of

NOON = time(12, tzinfo=UTC)
SIDES = (Side.LEFT, Side.RIGHT)


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Lived:
    """A session as it was lived: what happened, what it came to as evidence, the tests it held, and its
    blocks in words.
    """

    events: tuple[KeptEvent, ...]
    pieces: tuple[SessionPiece, ...]
    tests: tuple[str, ...]
    said: tuple[str, ...]


def live_session(
    learner: Learner,
    sheet: FloorSheet,
    ready: FloorEvent,
    *,
    session: UUID,
    begun: datetime,
    syllabus: Syllabus,
) -> Lived:
    """Walk a session's sheet as a simulated trainee, set by set, and learn from it. `ready`: how the day is
    said to begin. A test stands in the sheet and is run elsewhere.
    """
    at = begun
    events = [_event(session, 0, at, ready)]
    pieces: list[SessionPiece] = []
    tests, said = [], []
    for n, slot in enumerate(sheet.slots):
        shares: list[float] = []
        while True:
            now = walk_session(sheet, [e.what for e in events]).slots[n]
            variant = sheet.variants[now.key]
            if now.status != "waiting" or variant.dose is None:
                break
            drill, dose = syllabus.drills[variant.drill], variant.dose
            what, share = _one_set(learner, drill, dose, slot=n, key=now.key, done=now.done, at=now.at)
            at += timedelta(seconds=dose.set_s / dose.sides)
            events.append(_event(session, len(events), at, what))
            shares.append(share)
        if variant.dose is None:
            at += timedelta(seconds=variant.length_s)
            events.append(_event(session, len(events), at, FloorEvent(kind="next", slot=n)))
        if variant.test:
            tests.append(variant.test)
            said.append(variant.title)
        if not shares:
            continue
        drill = syllabus.drills[variant.drill]
        learner.learn(drill, shares, sheet.day)
        pieces += evidence_of_block(sheet, events, n, session=session, syllabus=syllabus).pieces
        if slot.kind == "work" and variant.dose:
            said.append(f"{variant.title} {variant.dose.amount} {variant.dose.place}".strip())
    return Lived(events=tuple(events), pieces=tuple(pieces), tests=tuple(tests), said=tuple(said))


def _event(session: UUID, number: int, at: datetime, what: FloorEvent) -> KeptEvent:
    return KeptEvent(id=uuid5(session, str(number)), at=at, what=what, struck_at=None)


def _one_set(
    learner: Learner, drill: Drill, dose: DayDose, *, slot: int, key: str, done: int, at: int | None
) -> tuple[FloorEvent, float]:
    asked = asked_of(dose, done=done)
    setting = dose.dial.steps[at].setting if dose.dial and at is not None else None
    number = done // max(1, dose.sides)
    value, form = learner.do(drill, dose, asked=asked, setting=setting, set_number=number)
    side = None if dose.sides == 1 else SIDES[done % 2]
    what = FloorEvent(
        kind="set",
        slot=slot,
        key=key,
        # a stretch is done and not read
        value=None if dose.way == "stretch" else value,
        asked=asked,
        then_value=_held_after(learner, dose) if value > 0 else None,
        form=form,
        side=side,
        setting=setting,
    )
    able = learner.capacity(drill, setting=setting, step=step_of(dose), set_number=number)
    return what, share_of_able(value, drill, dose, able)


def _held_after(learner: Learner, dose: DayDose) -> float | None:
    """What follows a set, as long as it goes."""
    if dose.then is None:
        return None
    other = learner.syllabus.drills[dose.then.drill]
    gate = next(g for g in (other.gate, *other.gate.also) if g.measure is dose.then.measure)
    able = learner.capacity(other, setting=None, step=1.0, set_number=1) * gate.value
    return float(int(min(dose.then.each, able)))


def share_of_able(value: float, drill: Drill, dose: DayDose, able: float) -> float:
    """What a set took of what went: single tries, windows and stretches are as hard as they are."""
    if dose.measure is Measure.RATE or dose.way in ("touches", "stretch", "singles"):
        return 0.7
    return value / max(1e-9, able * drill.gate.value)


def as_evidence(piece: SessionPiece, day: date) -> Evidence:
    """What a block came to, as evidence of that day."""
    return Evidence(
        drill=piece.drill,
        day=day,
        measure=piece.measure,
        value=piece.value,
        asked=piece.asked,
        n=piece.n,
        form=piece.form,
        side=piece.side,
        mode=piece.mode,
        window_s=piece.window_s,
        confidence=piece.confidence,
        dial=piece.dial,
    )


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
