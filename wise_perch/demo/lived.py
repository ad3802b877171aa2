"""The last weeks of the made-up people, drawn through the product itself: each week is planned, each session
is run on the floor by its sheet, and what comes of it is what the next week is planned from.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from math import log2
from random import Random
from uuid import UUID

from uuid_utils.compat import uuid7

from wise_perch.core.dose.dose import asked_of
from wise_perch.core.floor.kept_session import FloorSession, KeptEvent, SessionPiece
from wise_perch.core.floor.ready import closed_by_now
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.to_evidence import evidence_of_block
from wise_perch.core.floor.told import told_set, worked_dose
from wise_perch.core.floor.walk import FloorEvent, FloorSheet, Pain
from wise_perch.core.rehearsal.learner import RUNGS_TO_DOUBLE, Learner, World, learner_like
from wise_perch.core.rehearsal.live import as_evidence, live_session
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import EndedRun, Run, Source
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.kept_plan import KeptPlan
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import HALL, HOME, ask_for_week, due_tests, usual_kit
from wise_perch.core.week.week_plan import DayPlan, DayWish, Refusal, WeekPlan, Wish, monday_of
from wise_perch.core.week.wishes import only_ahead, set_day_of, with_past_days
from wise_perch.demo.bench import draw_run
from wise_perch.demo.people import Person
from wise_perch.demo.simulator import draw_free_tries

LIVED_WEEKS = 2
"""So many weeks before the present one were planned and run."""
OPENS, PLANNED_AT = time(17), time(19)
NOISE, FADING, FEAR = 0.08, 1.0, 0.5
"""How much days vary, how quickly things fade, and how much the shy fear: ours, so that each stays who they
are.
"""
GROWTH = 2.5
"""How quickly somebody of growth 1 learns here; the invented people lie between a quarter and three
quarters.
"""
STANDS_AT, STANDS_AT_TRIES = 0.7, 0.05
"""Whoever stands still gets no farther than this part of a gate: of what is held, and of what is tried."""
AVERAGES, OF_AN_EVEN_TRY = ("average of three",), 0.7
"""What is measured as an average of single tries was measured so before, too: a single try comes to so much
of what goes.
"""
SURE_ENOUGH = 3
ACHES_FOR_DAYS = 6
"""Pain is told at the start of every session of the last days."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LivedSession:
    """A session with what it came to."""

    session: FloorSession
    pieces: Sequence[SessionPiece]


@dataclass
class LivedWeeks:
    """What the last weeks left behind."""

    plans: list[KeptPlan] = field(default_factory=list)
    sessions: list[LivedSession] = field(default_factory=list)
    runs: list[Run] = field(default_factory=list)


@dataclass
class _Weeks:
    """Somebody's weeks while they pass."""

    person: Person
    trainee: UUID
    begin: Case
    skill: dict[str, float]
    dice: Random
    until: date
    learner: Learner
    left: LivedWeeks = field(default_factory=LivedWeeks)
    pieces: list[Evidence] = field(default_factory=list)
    tried: list[EndedRun] = field(default_factory=list)
    aches: list[Ache] = field(default_factory=list)
    last_day: date | None = None

    def judge(self, on: date) -> JudgedCase:
        """The case as it stands on a day."""
        begin = self.begin
        return judge_case(
            replace(
                begin,
                on=on,
                sets=(*begin.sets, *self.pieces),
                runs=(*(begin.runs or ()), *self.tried),
                told_aches=(*begin.told_aches, *self.aches),
            )
        )


def first_lived_day(until: date) -> date:
    """The Monday from which weeks are lived."""
    return monday_of(until) - timedelta(weeks=LIVED_WEEKS)


def live_weeks(
    person: Person, begin: Case, *, trainee: UUID, skill: dict[str, float], until: date, seed: int
) -> LivedWeeks:
    """Plan and run the last weeks up to the day before `until`, and plan the present one. `begin`: the case
    as the earlier history left it; `skill`: rungs reached by line, for what is tried on the Bench. The same
    seed lives the same weeks, ids aside.
    """
    dice = Random(f"{seed} {person.name} lived")
    start = first_lived_day(until)
    growth = 0.0 if person.levels_off is not None else GROWTH * person.growth
    judged = judge_case(replace(begin, on=start))
    learner = learner_like(judged, dice)
    learner.world = World(
        growth=growth, fading=FADING, noise=NOISE, fear=FEAR if max(person.confidence) < 3 else 0.0
    )
    learner.most = most = {**_where_it_stands(person, judged), **person.limits}
    for drill in judged.syllabus.drills.values():
        if drill.gate.mode in AVERAGES:
            learner.own[drill.drill] += RUNGS_TO_DOUBLE * log2(1 / OF_AN_EVEN_TRY)
            if drill.drill in most:
                most[drill.drill] /= OF_AN_EVEN_TRY
    weeks = _Weeks(person, trainee, begin, skill, dice, until, learner)
    first = start if not person.away_weeks else monday_of(until)
    for week in (first + timedelta(weeks=n) for n in range((monday_of(until) - first).days // 7 + 1)):
        kept = _plan(weeks, week, on=week, at=datetime.combine(week - timedelta(days=1), PLANNED_AT, UTC))
        if kept is None:
            continue
        for day in [d.day for d in kept.planned.days if d.day < until and d.blocks]:
            kept = _train(weeks, kept, day)
    return weeks.left


def _where_it_stands(person: Person, case: JudgedCase) -> dict[str, float]:
    """What somebody who stands still never gets beyond: a part of every gate of balance they have not met."""
    if person.levels_off is None:
        return {}
    return {
        name: STANDS_AT_TRIES if case.syllabus.drills[name].gate.of else STANDS_AT
        for name, d in case.drills.items()
        if d.pillar == "balance" and d.state is State.NOT_YET
    }


def _plan(
    weeks: _Weeks, week: date, *, on: date, at: datetime, before: KeptPlan | None = None, note: str = ""
) -> KeptPlan | None:
    """Plan a week as it stands on a day and keep it; days of `before` that are over stay."""
    case = weeks.judge(on)
    minutes = int(case.syllabus.sessions.usual_minutes.value)
    wish = Wish(
        week=week,
        days=tuple(
            DayWish(
                day=week + timedelta(days=n),
                place=HOME if n in weeks.person.own_days else HALL,
                minutes=minutes,
            )
            for n in weeks.person.days
        ),
        kit=usual_kit(case.profile, case.syllabus),
    )
    found = plan_week(ask_for_week(case, week=week), only_ahead(wish, on=on))
    if isinstance(found, Refusal):
        return None
    planned: WeekPlan = with_past_days(found, before.planned if before else None, on=on)
    kept = KeptPlan(
        id=uuid7(), trainee=weeks.trainee, week=week, at=at, wish=wish, planned=planned, note=note
    )
    weeks.left.plans.append(kept)
    return kept


def _train(weeks: _Weeks, kept: KeptPlan, day: date) -> KeptPlan:
    """Do the session of a day by its plan; what has closed meanwhile is planned anew first. Gives the plan
    that holds now.
    """
    case = weeks.judge(day)
    if closed := closed_by_now(_day_of(kept, day), case):
        at = datetime.combine(day, time(12), UTC)
        kept = _plan(weeks, kept.week, on=day, at=at, before=kept, note=closed[:200]) or kept
    plan = set_day_of(_day_of(kept, day), case)
    if not plan.blocks or closed_by_now(plan, case):
        return kept
    weeks.learner.wake(day, since=weeks.last_day)
    weeks.last_day = day
    if day.weekday() in weeks.person.own_days:
        _tell(weeks, case, plan)
    else:
        _run(weeks, case, plan)
    return kept


def _day_of(kept: KeptPlan, day: date) -> DayPlan:
    return next(d for d in kept.planned.days if d.day == day)


def _run(weeks: _Weeks, case: JudgedCase, plan: DayPlan) -> None:
    """The session as the coach runs it."""
    person, day, session = weeks.person, plan.day, uuid7()
    begun = datetime.combine(day, OPENS, UTC)
    hurts = person.pain if person.pain and (weeks.until - day).days <= ACHES_FOR_DAYS else None
    if hurts:
        weeks.aches.append(Ache(joint=hurts[0], level=hurts[1], day=day))
    ready = FloorEvent(
        kind="ready",
        energy=weeks.dice.choice((2, 3, 3, 3, 4)),
        confidence=weeks.dice.choice(person.confidence),
        pains=(Pain(joint=hurts[0], level=hurts[1]),) if hurts else (),
    )
    # what could stand in is laid out where the day may need it
    sheet = lay_out_session(plan, case, stand_by=bool(hurts) or min(person.confidence) < SURE_ENOUGH)
    lived = live_session(weeks.learner, sheet, ready, session=session, begun=begun, syllabus=case.syllabus)
    for test in lived.tests:
        _test(weeks, case, test, lived.events[-1].at)
    _keep(weeks, sheet, session, lived.events, lived.pieces, source="demo", note="")


def _tell(weeks: _Weeks, case: JudgedCase, plan: DayPlan) -> None:
    """The session as the trainee did it alone and told it on their own page: work that nobody saw."""
    at = datetime.combine(plan.day, OPENS, UTC) + timedelta(hours=1)
    sheet, session = lay_out_session(plan, case), uuid7()
    events: list[KeptEvent] = []
    pieces: list[SessionPiece] = []
    for n, block in enumerate(plan.blocks):
        dose = worked_dose(block)
        if dose is None:
            continue
        drill, mine = case.syllabus.drills[block.drill], list[KeptEvent]()
        setting = dose.dial.setting if dose.dial else None
        for k in range(dose.sets):
            asked = asked_of(dose, done=k)
            value, _ = weeks.learner.do(drill, dose, asked=asked, setting=setting, set_number=k)
            if dose.way == "stretch":
                continue
            what = told_set(block, dose, slot=n, number=k, value=value)
            moment = at + timedelta(milliseconds=len(events) + k)
            mine.append(KeptEvent(id=uuid7(), at=moment, what=what, struck_at=None))
        made = evidence_of_block(sheet, mine, n, session=session, syllabus=case.syllabus, seen=False)
        events += mine
        pieces += made.pieces
    if events:
        _keep(weeks, sheet, session, events, pieces, source="self", note="self-reported")


def _keep(
    weeks: _Weeks,
    sheet: FloorSheet,
    session: UUID,
    events: Sequence[KeptEvent],
    pieces: Sequence[SessionPiece],
    *,
    source: Source,
    note: str,
) -> None:
    done = FloorSession(
        id=session,
        trainee=weeks.trainee,
        day=sheet.day,
        started_at=events[0].at,
        ended_at=events[-1].at,
        ended_as="finished",
        source=source,
        sheet=sheet,
        note=note,
        events=tuple(events),
    )
    weeks.left.sessions.append(LivedSession(session=done, pieces=pieces))
    weeks.pieces += [as_evidence(p, sheet.day) for p in pieces]


def _test(weeks: _Weeks, case: JudgedCase, name: str, at: datetime) -> None:
    """Run a test that the plan asked for, on the Bench."""
    test = case.syllabus.tests.get(name)
    if test is None:
        return
    if name == case.syllabus.free_tries.test:
        run = draw_free_tries(
            weeks.person, weeks.skill, case.syllabus, trainee=weeks.trainee, at=at, dice=weeks.dice
        )
    else:
        asked = next(t.drill for t in due_tests(case) if t.test == name)
        spoken_for = case.syllabus.drills[next(iter(test.drills.values()), asked)]
        able, _ = weeks.learner.measure(spoken_for)
        subject = "" if test.drills else spoken_for.drill
        run = draw_run(test, subject, case.syllabus, weeks.trainee, at, able, later=True, dice=weeks.dice)
    weeks.left.runs.append(run)
    weeks.tried.append(ended_run(run))


def ended_run(run: Run) -> EndedRun:
    """A run as judgement takes it."""
    return EndedRun(
        run=run.id,
        test=run.test,
        subject=run.subject,
        dial=run.dial,
        confidence=run.confidence,
        day=run.started_at.date(),
        tries=tuple(run.standing_tries),
    )
