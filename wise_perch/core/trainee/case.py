"""A case: one trainee on one day, and the one judgement of it that every room and door shares."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property

from wise_perch.core.body.body_units import rulers_of
from wise_perch.core.body.kit import KitItem
from wise_perch.core.body.levers import likely_body
from wise_perch.core.body.segments import Body
from wise_perch.core.scoring import judge_tries, read_evidence_of_tries
from wise_perch.core.scoring.verdict import RunFacts, Verdict
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Side
from wise_perch.core.trade.intake import CautionQuestion, Profile, awaits_clearance
from wise_perch.core.trade.session_lookup import always_done, joints_of
from wise_perch.core.trade.session_rules import FailedFor
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.goals import GoalStanding, goal_standings, let_tries_lead
from wise_perch.core.trainee.history import BY_DAY, History
from wise_perch.core.trainee.marks import TraineeMarks, mark_evidence
from wise_perch.core.trainee.pain import Ache, lighter_drill, present_aches, worst_ache
from wise_perch.core.trainee.standing import DrillStanding, WallBars, shut_by_cautions, standing_of
from wise_perch.core.trainee.stored import Arrangement, ChosenSetting, EndedRun, Waiver
from wise_perch.core.trainee.wall import State, Wall, read_wall

NOTHING_ARRANGED = Arrangement(schools={}, goals=(), waivers=(), profile=None)


@dataclass(frozen=True, kw_only=True)
class Case:
    """One trainee on one day, as the store or files have them.

    `syllabus`: with the schools they are taught by. `sets` and `runs` in any order, later ones than `on` too;
    `runs` is None where nobody knows of any test. `chosen`: the settings picked for drills. `told_aches`:
    every word on a joint that may still count. `tested`: days of tests known beside `runs`. `rest_s`: rest
    between free tries; `float_switch_s`: a float that ends before this goes over to counting touches.
    `cues`: of each drill the cue that worked last.
    """

    on: date
    syllabus: Syllabus
    arrangement: Arrangement = NOTHING_ARRANGED
    sets: Sequence[Evidence] = ()
    runs: Sequence[EndedRun] | None = None
    chosen: Mapping[str, ChosenSetting] = field(default_factory=dict)
    kit: tuple[KitItem, ...] = ()
    told_aches: Sequence[Ache] = ()
    tested: Mapping[str, date] | None = None
    rest_s: float
    float_switch_s: float
    stepping_side: Side | None = None
    cues: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class LastTest:
    """The newest ended run of a test: its day, and its result in a few words, where it is known. `outdone`:
    the day on which a set done as asked went beyond it.
    """

    day: date
    summary: str = ""
    outdone: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Past:
    """What the past says on any day: the newest run of each test by name (None where nobody knows), the
    newest free tries, landings as (soft, n). `not_once`: the last day of each drill that was tried on the
    last days of it and not done once.
    """

    last: Mapping[str, LastTest] | None = None
    free_tries: EndedRun | None = None
    landings: tuple[int, int] | None = None
    not_once: Mapping[str, date] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class FailedOn:
    """Why a drill failed, by its rule, and the day."""

    rule: FailedFor
    day: date


@dataclass(frozen=True, kw_only=True)
class JudgedCase:
    """A case with all that follows from it: evidence of sets and runs up to the day, the wall bars, standing,
    goals, aches.

    `sets` and `runs` are those of the days that the `history` has at hand. `goals` as chosen, each with its
    open drills in the order they are worked on. `shy`: the intake told of low confidence, `low_today`: so it
    was told this day. `free_tries`: what the newest free tries say by what is known today.
    """

    on: date
    syllabus: Syllabus
    arrangement: Arrangement
    history: History
    sets: Sequence[Evidence]
    runs: Sequence[EndedRun]
    wall: Wall
    standing: WallBars
    goals: tuple[GoalStanding, ...]
    uncleared: tuple[CautionQuestion, ...]
    past: Past
    free_tries: Verdict | None
    body: Body | None
    rulers: Mapping[str, float]
    kit: tuple[KitItem, ...]
    chosen: Mapping[str, ChosenSetting]
    aches: tuple[Ache, ...]
    shy: bool
    rest_s: float
    float_switch_s: float
    stepping_side: Side | None
    cues: Mapping[str, str]
    low_today: bool = False

    @property
    def profile(self) -> Profile | None:
        """The newest intake."""
        return self.arrangement.profile

    @property
    def stature_cm(self) -> float | None:
        """The stature, cm, where the intake knows it."""
        return self.profile.stature_cm if self.profile else None

    @cached_property
    def drills(self) -> Mapping[str, DrillStanding]:
        """How every drill stands, by its name."""
        return self.standing.every()

    def recent(self, drill: Drill) -> list[Evidence]:
        """What was done of a drill, or of those that differ only in their gate, and still tells something;
        oldest first.
        """
        since = self.on - timedelta(days=int(self.syllabus.sessions.recent_days.value))
        kin = self.syllabus.kin_of(drill)
        found = [p for name in kin for p in self.history.of_since(name, since)]
        return sorted(found, key=BY_DAY) if len(kin) > 1 else found

    def is_shy_of(self, drill: Drill) -> bool:
        """Whether confidence is low: as it was told with this drill the last time, until it is told higher on
        a later day upside down; before that by the intake, and today by what is said today, for what is
        upside down or away from the wall.
        """
        failed = self.failed_for(drill)
        if failed and failed.rule.shy:
            return True
        own, low = self.drills[drill.drill], self.syllabus.rules.low_confidence.value
        fearsome = drill.drill in self.syllabus.inverted or drill.away
        if self.low_today and fearsome:
            return True
        if own.confidence is None or own.last_day is None:
            return self.shy and fearsome
        if own.confidence > low:
            return False
        later = self._told_upside_down
        return not later or later[0] <= own.last_day or later[1] <= low

    @cached_property
    def _told_upside_down(self) -> tuple[date, int] | None:
        """The newest day on which confidence was told upside down, and the least of that day."""
        told = [
            (d.last_day, -d.confidence)
            for d in self.drills.values()
            if d.inverted and d.last_day and d.confidence is not None
        ]
        day, least = max(told, default=(None, 0))
        return (day, -least) if day else None

    def failed_for(self, drill: Drill) -> FailedOn | None:
        """Why a drill failed the last time that somebody said so, until it has gone since."""
        rules = self.syllabus.sessions.failed
        pieces = self.history.of_since(drill.drill, self.on - timedelta(days=int(rules.days.value)))
        last = next((p for p in reversed(pieces) if p.reason), None)
        if last is None:
            return None
        wanted = last.asked if last.asked is not None else last.value / (last.n or 1)
        for p in pieces:
            went = p.form is Form.CLEAN and p.measure is last.measure and not p.fell_short
            if p.day > last.day and went and p.value / (p.n or 1) >= wanted:
                return None
        rule = next((r for r in rules.reasons if r.reason == last.reason), None)
        return FailedOn(rule, last.day) if rule else None

    def cues_of(self, drill: Drill) -> tuple[str, ...]:
        """The cues of a drill, the one that worked last in front."""
        worked = self.cues.get(drill.drill)
        return (worked, *(c for c in drill.cues if c != worked)) if worked else drill.cues

    def ache_in(self, drill: Drill) -> tuple[Ache | None, bool]:
        """The worst ache of a joint that a drill loads, and whether it stops all loading of it."""
        return worst_ache(
            self.aches, joints_of(self.syllabus, drill), stops_at=self.syllabus.rules.pain_stops_at.value
        )

    def lighter_than(self, drill: Drill) -> tuple[Drill, str] | None:
        """The nearest open drill that puts less on the hands, and how much less in words."""
        return lighter_drill(drill, syllabus=self.syllabus, standing=self.standing, body=self.body)

    def not_done_once(self, drill: Drill) -> date | None:
        """The last day of a drill that was tried on days running and not done once, while it is left to what
        it stands on; else None.
        """
        last = self.past.not_once.get(drill.drill)
        left_for = self.syllabus.sessions.growth.left_for_days.value
        return last if last and (self.on - last).days <= left_for else None

    def must_wait(self, drill: Drill) -> bool:
        """Whether a drill cannot be worked on today: for a joint, with nothing lighter in its place, or since
        it went not once on days running.
        """
        if self.not_done_once(drill):
            return True
        ache, stops = self.ache_in(drill)
        if ache is None or stops:
            return stops
        lighter = self.lighter_than(drill)
        return lighter is None or self.ache_in(lighter[0])[1]


def evidence_of_ended_run(run: EndedRun, syllabus: Syllabus) -> Sequence[Evidence]:
    """What one ended run says about drills; nothing where its test or its drill is no longer there."""
    test, subject = syllabus.tests.get(run.test), syllabus.drills.get(run.subject)
    if test is None or (run.subject and subject is None):
        return ()
    facts = RunFacts(
        day=run.day, subject=subject, dial=run.dial, confidence=run.confidence, drills=syllabus.drills
    )
    return [replace(p, by="test") for p in read_evidence_of_tries(test, run.tries, facts)]


def gather_evidence(case: Case) -> list[Evidence]:
    """All evidence of a case up to its day: its sets, and what its runs say about drills."""
    every = [
        *case.sets,
        *(piece for run in case.runs or () for piece in evidence_of_ended_run(run, case.syllabus)),
    ]
    return [piece for piece in every if piece.day <= case.on]


def know_the_past(case: Case, evidence: Sequence[Evidence]) -> Past:
    """Boil past runs and sets down to what the days to come ask of them."""
    runs = [r for r in case.runs or () if r.day <= case.on]
    tested = {name: day for name, day in (case.tested or {}).items() if day <= case.on}
    past = recall_past(newest_runs(runs, case.syllabus), evidence, case.syllabus, tested=tested)
    return replace(past, last=None) if case.runs is None and case.tested is None else past


def newest_runs(runs: Iterable[EndedRun], syllabus: Syllabus) -> dict[str, EndedRun]:
    """The newest of ended runs by their test, of equals the later in order; of tests that are still there."""
    return {r.test: r for r in sorted(runs, key=lambda r: r.day) if r.test in syllabus.tests}


def recall_past(
    newest: Mapping[str, EndedRun],
    evidence: Sequence[Evidence],
    syllabus: Syllabus,
    *,
    tested: Mapping[str, date] | None = None,
) -> Past:
    """What the days to come ask of the past, by the newest run of each test and by evidence. `tested`: days
    of tests known beside runs.
    """
    last = {name: LastTest(day=day) for name, day in (tested or {}).items()}
    for name, run in newest.items():
        test = syllabus.tests[name]
        if (run.subject and run.subject not in syllabus.drills) or not (test.due_after_days or test.drills):
            continue
        if name not in last or last[name].day <= run.day:
            subject = syllabus.drills.get(run.subject)
            facts = RunFacts(day=run.day, subject=subject, dial=run.dial, drills=syllabus.drills)
            summary = judge_tries(test, run.tries, facts).summary
            last[name] = LastTest(day=run.day, summary=summary, outdone=_outdone(run, evidence, syllabus))
    drill = syllabus.free_tries.landings_drill
    landed = max((p for p in evidence if p.drill == drill and p.n), key=lambda p: p.day, default=None)
    return Past(
        last=last,
        free_tries=newest.get(syllabus.free_tries.test),
        landings=(int(landed.value), landed.n) if landed and landed.n else None,
        not_once=_not_once(evidence, syllabus),
    )


def _not_once(evidence: Sequence[Evidence], syllabus: Syllabus) -> dict[str, date]:
    """The last day of each drill whose last days, as many as the rules name, came to nothing at all."""
    done: dict[str, dict[date, float]] = defaultdict(dict)
    for p in evidence:
        drill = syllabus.drills.get(p.drill)
        if drill and p.measure is drill.gate.measure and not drill.gate.fewer:
            day = done[p.drill]
            day[p.day] = max(day.get(p.day, 0.0), p.value)
    many = int(syllabus.sessions.growth.not_once_days.value)
    found = {}
    for name, days in done.items():
        last = sorted(days)[-many:]
        if len(last) == many and not any(days[day] > 0 for day in last):
            found[name] = last[-1]
    return found


def _outdone(run: EndedRun, evidence: Sequence[Evidence], syllabus: Syllabus) -> date | None:
    """The first day after a run on which a set done as asked went beyond what the run measured."""
    days = []
    for told in evidence_of_ended_run(run, syllabus):
        drill = syllabus.drills.get(told.drill)
        sign = -1 if drill and drill.gate.fewer else 1
        days += [
            p.day
            for p in evidence
            if p.drill == told.drill
            and p.day > run.day
            and p.as_asked
            and (p.measure, p.mode, p.window_s) == (told.measure, told.mode, told.window_s)
            and sign * p.value > sign * told.value
        ]
    return min(days, default=None)


def stature_of(case: Case) -> float | None:
    """The stature of a case's trainee, cm, where the intake knows it."""
    return stature_in(case.arrangement)


def stature_in(arrangement: Arrangement) -> float | None:
    """The stature, cm, where the newest intake knows it."""
    return arrangement.profile.stature_cm if arrangement.profile else None


def judge_case(case: Case) -> JudgedCase:
    """Judge one trainee on a day, by all evidence up to it."""
    evidence = gather_evidence(case)
    return judge_marks(
        case,
        mark_evidence(evidence, case.syllabus, stature_cm=stature_of(case)),
        know_the_past(case, evidence),
        evidence,
    )


def without_aches(case: JudgedCase) -> JudgedCase:
    """The same case as if nothing hurt."""
    well = replace(case, aches=())
    return replace(well, goals=_judge_goals(well))


def judge_marks(
    case: Case, marks: TraineeMarks, past: Past, history: History | Sequence[Evidence] = ()
) -> JudgedCase:
    """Judge a trainee by marks made before; without a `history` no dose can be worked out."""
    syllabus, arrangement, on = case.syllabus, case.arrangement, case.on
    profile = arrangement.profile
    waivers: dict[str, Waiver] = {w.drill: w for w in arrangement.waivers if w.day <= on}
    uncleared = awaits_clearance(syllabus.intake, profile)
    wall = read_wall(marks, syllabus, on=on, waivers=waivers, lines=arrangement.lines)
    standing = standing_of(wall, waivers=waivers, shut=shut_by_cautions(syllabus, profile))
    low = syllabus.rules.low_confidence.value
    judged = JudgedCase(
        on=on,
        syllabus=syllabus,
        arrangement=arrangement,
        history=history if isinstance(history, History) else History(history),
        sets=[p for p in case.sets if p.day <= on],
        runs=[r for r in case.runs or () if r.day <= on],
        wall=wall,
        standing=standing,
        goals=(),
        uncleared=uncleared,
        past=past,
        free_tries=_judge_free_tries(past, syllabus, standing),
        body=likely_body(profile),
        rulers=rulers_of(syllabus.intake, profile),
        kit=case.kit,
        chosen={d: c for d, c in case.chosen.items() if c.day <= on},
        aches=present_aches(case.told_aches, syllabus.rules, on=on),
        shy=bool(profile and profile.confidence is not None and profile.confidence <= low),
        rest_s=case.rest_s,
        float_switch_s=case.float_switch_s,
        stepping_side=case.stepping_side,
        cues=case.cues,
    )
    return replace(judged, goals=_judge_goals(judged))


def _judge_free_tries(past: Past, syllabus: Syllabus, standing: WallBars) -> Verdict | None:
    """The newest free tries by what is known today: whether exits are proven by now, and how the landings
    are.
    """
    run, test = past.free_tries, syllabus.free_tries
    if run is None:
        return None
    facts = RunFacts(
        day=run.day,
        confidence=run.confidence,
        drills=syllabus.drills,
        proven={test.exits_drill: standing.drill(test.exits_drill).state is State.PROVEN},
        rates={test.landings_drill: past.landings} if past.landings else {},
    )
    found = judge_tries(test, run.tries, facts)
    return found if found.n else None


def _judge_goals(judged: JudgedCase) -> tuple[GoalStanding, ...]:
    """The goals as chosen: the first one that is not reached leads. Their open drills stand in the order they
    are worked on.
    """
    order = {goal: n for n, goal in enumerate(judged.arrangement.goals)}
    goals = sorted(
        goal_standings(judged.wall, judged.standing, judged.arrangement.goals), key=lambda g: order[g.goal]
    )
    if judged.free_tries:
        named = judged.syllabus.free_tries.decisions[judged.free_tries.decision].work_on
        goals = [let_tries_lead(g, judged.free_tries, named) for g in goals]
    waiting = {s.drill for g in goals for s in g.work_on if judged.must_wait(judged.syllabus.drills[s.drill])}
    # what every session has anyway leads nothing, nor does what a joint cannot take today
    always = always_done(judged.syllabus)
    return tuple(
        replace(g, work_on=tuple(sorted(g.work_on, key=lambda s: (s.drill in waiting, s.drill in always))))
        for g in goals
    )
