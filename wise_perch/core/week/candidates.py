"""What a week could be made of: the drills that are open and on the way, with their doses, what they count and why."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wise_perch.core.body.loads import share_of
from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.trade.content import Drill, Pillar
from wise_perch.core.trade.session_lookup import heavy_of, joint_kind, joints_of, phase_of
from wise_perch.core.trade.session_rules import Because
from wise_perch.core.trade.words import say_day, say_share
from wise_perch.core.trainee.wall import State
from wise_perch.core.week.priorities import DUE_COUNTS, FILLER, Priority, weigh_drills
from wise_perch.core.week.question import Ache, DueTest, WeekQuestion
from wise_perch.core.week.week_plan import LeftOut

LIGHTER = 0.9
"""A drill is lighter if at most so much of the share stays on the hands. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A drill, or a test, that a week may have. `counts`: what it is worth the first time; `why`: the reason it is here."""

    name: str
    title: str
    pillar: Pillar | None
    phase: str
    dosed: DayDose | None
    test_s: float = 0.0
    counts: float
    why: tuple[Because, ...]
    kit: frozenset[str]
    joints: tuple[str, ...]
    heavy: str = ""
    away: bool = False
    days: int
    singles: int = 0

    @property
    def is_test(self) -> bool:
        """Whether it is a test and no drill."""
        return self.dosed is None


def hurts(aches: Sequence[Ache], joints: Sequence[str], stops_at: float) -> tuple[Ache | None, bool]:
    """The worst ache among joints, and whether it stops all loading of them."""
    mine = [a for a in aches if a.level > 0 and joint_kind(a.joint) in joints]
    worst = max(mine, key=lambda a: (a.sharp, a.level), default=None)
    return worst, bool(worst and (worst.sharp or worst.level >= stops_at))


def find_candidates(asked: WeekQuestion, *, also: Sequence[str] = ()) -> tuple[list[Candidate], list[LeftOut]]:
    """Gather what a week may be made of, and what is left out whatever the time. `also`: drills the coach wants in."""
    every, worths = asked.standing.every(), weigh_drills(asked)
    for name in also:
        if name in every and (name not in worths or worths[name].keeps):
            worths[name] = Priority(FILLER, (Because(text="You put it in."),))
    found: dict[str, Candidate] = {}
    left: list[LeftOut] = []
    for name, worth in worths.items():
        d = every[name]
        if not d.open:
            left.append(LeftOut(drill=name, title=d.title, because="Closed until: " + "; ".join(w.sentence for w in d.waits) + "."))
        elif (d.easy or d.state is State.PROVEN) and not worth.keeps and name not in also:
            left.append(LeftOut(drill=name, title=d.title, because=f"Easy by now: {d.shortfall}." if d.easy else f"Proven: {d.shortfall}."))
        elif made := _candidate(name, worth, asked, left):
            found.setdefault(made.name, made)
    left += [LeftOut(drill=s.drill, title=s.title, because=f"{s.sentence}.") for g in asked.goals for s in g.closed if s.drill not in worths]
    tests = [t for t in asked.tests if not _test_hurts(t, asked, left)]
    return [*found.values(), *(_of_test(t, asked) for t in tests)], _once(left, found)


def _once(left: Sequence[LeftOut], found: Mapping[str, Candidate]) -> list[LeftOut]:
    seen: dict[str, LeftOut] = {}
    for x in left:
        if x.drill not in found:
            seen.setdefault(x.drill, x)
    return list(seen.values())


def _candidate(name: str, worth: Priority, asked: WeekQuestion, left: list[LeftOut]) -> Candidate | None:
    """A drill as it can be trained today: itself, something lighter where a joint aches, or nothing."""
    syllabus = asked.who.syllabus
    drill, stops_at = syllabus.drills[name], syllabus.rules.pain_stops_at.value
    joints = joints_of(syllabus, drill)
    ache, stop = hurts(asked.aches, joints, stops_at)
    if ache is None:
        return _made(drill, worth, asked)
    told = f"{ache.joint.capitalize()} {ache.level} of 10 on {say_day(ache.day, asked.who.on)}"
    lighter = None if stop else lighter_drill(drill, asked)
    if lighter is None:
        reason = syllabus.rules.pain_much if stop else f"{syllabus.sessions.words.none_lighter}."
        left.append(LeftOut(drill=name, title=drill.title, because=f"{told}: {reason}"))
        return None
    other, text = lighter
    if hurts(asked.aches, joints_of(syllabus, other), stops_at)[1]:
        left.append(LeftOut(drill=name, title=drill.title, because=f"{told}: {syllabus.rules.pain_much}"))
        return None
    left.append(LeftOut(drill=name, title=drill.title, because=f"{told}: {text}."))
    why = Because(text=f"{told}: in place of {drill.title.lower()}, {text}.", origin=syllabus.rules.pain_stops_at.origin)
    return _made(other, Priority(worth.counts, (why,), keeps=True), asked)


def lighter_drill(drill: Drill, asked: WeekQuestion) -> tuple[Drill, str] | None:
    """The nearest open drill, lower on the same line or on the one that is lighter, that puts less on the hands, and how much less in words."""
    syllabus, every = asked.who.syllabus, asked.standing.every()
    own = _share(drill, asked)
    if own is None:
        return None
    line_of, rung = syllabus.line_of, next(n for _, n, d in syllabus.placed() if d.drill == drill.drill)
    other = syllabus.sessions.lighter_lines.get(line_of[drill.drill], "")
    below = [
        d
        for line, n, d in syllabus.placed()
        if every[d.drill].open and ((line.line == line_of[drill.drill] and n < rung) or line.line == other) and d.drill != drill.drill
    ]
    told = [(share, d) for d in below if (share := _share(d, asked)) is not None and share <= LIGHTER * own]
    if not told:
        return None
    share, nearest = max(told, key=lambda pair: (pair[0], pair[1].drill))
    return nearest, f"{say_share(share)} of body weight on the hands instead of {say_share(own)}"


def _share(drill: Drill, asked: WeekQuestion) -> float | None:
    found = share_of(asked.who.syllabus.mechanics, drill, asked.who.body, {})
    if found:
        return found[0]
    return 1.0 if drill.drill in asked.who.syllabus.inverted else None


def _made(drill: Drill, worth: Priority, asked: WeekQuestion) -> Candidate:
    syllabus, stands = asked.who.syllabus, asked.standing.every()[drill.drill]
    dosed, phase = choose_dose(drill, stands, asked.who), phase_of(syllabus, drill.drill)
    if worth.keeps:
        dosed = replace(dosed, most=dosed.least, first=None)
    own = [r.days.most for r in syllabus.doses(drill) if r.days]
    return Candidate(
        name=drill.drill,
        title=drill.title,
        pillar=syllabus.pillar_of[drill.drill],
        phase=phase.phase if phase else "strength",
        dosed=dosed,
        counts=worth.counts,
        why=worth.why,
        kit=frozenset(drill.kit),
        joints=joints_of(syllabus, drill),
        heavy=heavy_of(syllabus, drill.drill),
        away=drill.away,
        days=int(max(own, default=syllabus.sessions.most_days_a_week.value)),
        singles=1 if dosed.way == "singles" else 0,
    )


def _test_hurts(test: DueTest, asked: WeekQuestion, left: list[LeftOut]) -> bool:
    drill = asked.who.syllabus.drills.get(test.drill)
    ache, _ = hurts(asked.aches, joints_of(asked.who.syllabus, drill) if drill else (), asked.who.syllabus.rules.pain_stops_at.value)
    if ache:
        left.append(LeftOut(drill=test.test, title=test.title, because=f"Waits until the {joint_kind(ache.joint)} is well."))
    return ache is not None


def _of_test(test: DueTest, asked: WeekQuestion) -> Candidate:
    syllabus = asked.who.syllabus
    drill = syllabus.drills.get(test.drill)
    phase = phase_of(syllabus, test.drill)
    return Candidate(
        name=test.test,
        title=test.title,
        pillar=syllabus.pillar_of.get(test.drill),
        phase=phase.phase if phase else "balance",
        dosed=None,
        test_s=test.minutes * 60,
        counts=DUE_COUNTS,
        why=(Because(text=test.because),),
        kit=frozenset(drill.kit if drill else ()),
        joints=joints_of(syllabus, drill) if drill else (),
        away=bool(drill and drill.away),
        days=1,
        singles=test.singles,
    )
