"""What a week could be made of: the drills that are open and on the way, with their doses, what they count
and why.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta

from wise_perch.core.dose.choose_dose import choose_dose, lighten
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.dose.open_sets import with_open_set
from wise_perch.core.trade.content import Drill, Pillar
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.session_lookup import heavy_of, joint_kind, joints_of, phase_of
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.pain import say_ache
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.priorities import Priority, weigh_drills
from wise_perch.core.week.question import DueTest, WeekQuestion
from wise_perch.core.week.week_plan import LeftOut


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A drill, or a test, that a week may have. `counts`: what it is worth the first time; `why`: the reason
    it is here; `stands_for`: the drill it stands in for; `goal` and `main` as of a Priority; `beside`: it
    only helps, or is kept up.
    """

    name: str
    title: str
    pillar: Pillar | None
    phase: str
    dose: DayDose | None
    test_s: float = 0.0
    counts: float
    why: tuple[Because, ...]
    kit: frozenset[str]
    joints: tuple[str, ...]
    heavy: str = ""
    away: bool = False
    days: int
    singles: int = 0
    short_tries: bool = False
    stands_for: str = ""
    goal: int | None = None
    main: bool = False
    beside: bool = False

    @property
    def is_test(self) -> bool:
        """Whether it is a test and no drill."""
        return self.dose is None


def find_candidates(
    question: WeekQuestion, *, also: Sequence[str] = ()
) -> tuple[list[Candidate], list[LeftOut]]:
    """Gather what a week may be made of, and what is left out whatever the time. `also`: drills the coach
    wants in.
    """
    every, worths = question.case.drills, weigh_drills(question)
    # however easy: a step that is asked for is not over before its second day, or before it is shown again
    asked = {s.drill for g in question.case.goals if not g.reached for s in g.path}
    for name in also:
        if name in every and (name not in worths or worths[name].keeps):
            worths[name] = Priority(
                question.case.syllabus.sessions.weights.beside.value, (Because(text="You put it in."),)
            )
    found: dict[str, Candidate] = {}
    left: list[LeftOut] = []
    for name, worth in worths.items():
        d = every[name]
        if not d.open:
            left.append(
                LeftOut(
                    drill=name,
                    title=d.title,
                    because="Closed until: " + "; ".join(w.sentence for w in d.waits) + ".",
                )
            )
        elif _is_done(d) and not (worth.keeps or worth.though_passed or name in also or name in asked):
            left.append(
                LeftOut(
                    drill=name,
                    title=d.title,
                    because=f"Easy by now: {d.shortfall}." if d.easy else f"Proven: {d.shortfall}.",
                )
            )
        elif (made := _make_candidate(name, worth, question, left)) and (
            # what stands in for another may be there for itself: it counts as the greater of the two
            made.name not in found or found[made.name].counts < made.counts
        ):
            found[made.name] = made
    left += [
        LeftOut(drill=s.drill, title=s.title, because=f"{s.sentence}.")
        for g in question.case.goals
        for s in g.closed
        if s.drill not in worths
    ]
    tests = [t for t in question.tests if not _test_hurts(t, question, left)]
    return [*found.values(), *(_of_test(t, question) for t in tests)], _name_once(left, found)


def _is_done(d: DrillStanding) -> bool:
    """Whether a drill is no longer worth its time: proven, or easy and not stale."""
    return d.state is State.PROVEN or (d.easy and d.state is not State.STALE)


def _name_once(left: Sequence[LeftOut], found: Mapping[str, Candidate]) -> list[LeftOut]:
    seen: dict[str, LeftOut] = {}
    for x in left:
        if x.drill not in found:
            seen.setdefault(x.drill, x)
    return list(seen.values())


def _make_candidate(
    name: str, priority: Priority, question: WeekQuestion, left: list[LeftOut]
) -> Candidate | None:
    """A drill as it can be trained today: itself, something lighter where a joint aches, or nothing."""
    case = question.case
    drill = case.syllabus.drills[name]
    if name in case.syllabus.sessions.not_for_shy and case.is_shy_of(drill):
        left.append(LeftOut(drill=name, title=drill.title, because="It waits while confidence is low."))
        return None
    if last := case.not_done_once(drill):
        growth = case.syllabus.sessions.growth
        again = say_day(last + timedelta(days=int(growth.left_for_days.value) + 1), case.on)
        text = (
            f"Not once on {growth.not_once_days.value:g} days running, last on {say_day(last, case.on)}: what"
            f" it stands on first, and it again from {again}."
        )
        left.append(LeftOut(drill=name, title=drill.title, because=text))
        return None
    ache, stops = case.ache_in(drill)
    if ache is None:
        return _candidate_of(drill, priority, question)
    told = say_ache(ache, on=case.on)
    lighter = None if stops else case.lighter_than(drill)
    if lighter is None:
        reason = case.syllabus.rules.pain_much if stops else f"{case.syllabus.sessions.words.none_lighter}."
        left.append(LeftOut(drill=name, title=drill.title, because=f"{told}: {reason}"))
        return None
    other, text = lighter
    if case.ache_in(other)[1]:
        left.append(
            LeftOut(drill=name, title=drill.title, because=f"{told}: {case.syllabus.rules.pain_much}")
        )
        return None
    made = _candidate_of(other, replace(priority, why=(), keeps=True), question)
    if made.dose:
        own = choose_dose(drill, case)
        made = replace(made, dose=lighten(made.dose, than=own, rules=case.syllabus.sessions))
    left.append(LeftOut(drill=name, title=drill.title, because=f"{told}: {text}."))
    why = Because(
        text=f"{told}. In place of {drill.title.lower()}: {text}.",
        origin=case.syllabus.rules.pain_stops_at.origin,
    )
    return replace(made, why=(why,), stands_for=name)


def _candidate_of(drill: Drill, worth: Priority, question: WeekQuestion) -> Candidate:
    syllabus = question.case.syllabus
    dose, phase = choose_dose(drill, question.case), phase_of(syllabus, drill.drill)
    if not worth.keeps:
        dose = with_open_set(dose, drill, question.case)
    elif dose.each < drill.gate.value and not worth.once:
        # what has shrunk and is only kept up is measured now and then: else it could never grow back
        after = syllabus.sessions.retest_after_days.value
        dose = _fewest(with_open_set(dose, drill, question.case, every_days=after), drill, shows=False)
    else:
        dose = _fewest(dose, drill, shows=worth.once)
    own = max((r.days.most for r in syllabus.doses(drill) if r.days), default=_usual_days(syllabus, drill))
    # what only prepares takes turns with what else prepares
    days = 1 if worth.once else min(own, syllabus.sessions.weights.kept_days.value) if worth.keeps else own
    # where no goal is left to lead, nothing is main work and nothing stands beside it
    leads = any(not g.reached for g in question.case.goals)
    return Candidate(
        name=drill.drill,
        title=drill.title,
        pillar=syllabus.pillar_of[drill.drill],
        phase=phase.phase if phase else "strength",
        dose=dose,
        counts=worth.counts,
        why=worth.why,
        kit=frozenset(drill.kit),
        joints=joints_of(syllabus, drill),
        heavy=heavy_of(syllabus, drill.drill),
        away=drill.away,
        days=int(days),
        singles=1 if dose.way == "singles" and _leaves_the_floor(syllabus, drill) else 0,
        short_tries=dose.way == "singles" and dose.measure is Measure.HOLD and not drill.away,
        goal=worth.goal,
        main=leads and worth.main,
        beside=leads and worth.goal is None and not worth.main,
    )


def _fewest(dose: DayDose, drill: Drill, *, shows: bool) -> DayDose:
    """A dose that only keeps what is there: the fewest sets, or as many tries as its gate counts. Where it
    `shows` a gate before that goes stale, the first set asks for the gate.
    """
    tries = int(drill.gate.of) if drill.gate.of is not None else dose.least
    least = min(dose.least, max(1, tries))
    counted = dose.way in ("hold", "reps") and dose.measure is drill.gate.measure
    first = drill.gate.value if shows and counted and dose.each < drill.gate.value else None
    return replace(dose, least=least, most=least, sets=least, first=first)


def _leaves_the_floor(syllabus: Syllabus, drill: Drill) -> bool:
    """Whether a single of it is a kick or a free try: exits and floats at the wall are none."""
    pillar = syllabus.pillar_of[drill.drill]
    return pillar == "entry" or (drill.away and pillar != "exits")


def _usual_days(syllabus: Syllabus, drill: Drill) -> float:
    """On how many days a week a drill stands at most: balance often, strength rarely, range daily."""
    rules = syllabus.sessions
    return rules.days_by_pillar.get(syllabus.pillar_of[drill.drill], rules.most_days_a_week).value


def _test_hurts(test: DueTest, question: WeekQuestion, left: list[LeftOut]) -> bool:
    drill = question.case.syllabus.drills.get(test.drill)
    ache = question.case.ache_in(drill)[0] if drill else None
    if ache:
        left.append(
            LeftOut(
                drill=test.test,
                title=test.title,
                because=f"Waits until the {joint_kind(ache.joint)} is well.",
            )
        )
    return ache is not None


def _of_test(test: DueTest, question: WeekQuestion) -> Candidate:
    syllabus = question.case.syllabus
    drill = syllabus.drills.get(test.drill)
    phase = phase_of(syllabus, test.drill)
    return Candidate(
        name=test.test,
        title=test.title,
        pillar=syllabus.pillar_of.get(test.drill),
        phase=phase.phase if phase else "balance",
        dose=None,
        test_s=test.minutes * 60,
        counts=question.case.syllabus.sessions.weights.due_test.value,
        why=(Because(text=test.because),),
        kit=frozenset(drill.kit if drill else ()),
        joints=joints_of(syllabus, drill) if drill else (),
        away=bool(drill and drill.away),
        days=1,
        singles=test.singles,
    )
