"""What a week could be made of: the drills that are open and on the way, with their doses, what they count and why."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import cast

from wise_perch.core.body.loads import share_of
from wise_perch.core.content import Drill, Pillar
from wise_perch.core.decision import Origin
from wise_perch.core.goals import GoalStanding, PathStep
from wise_perch.core.planning.data import Because
from wise_perch.core.planning.dose import dose
from wise_perch.core.planning.dosed import Dosed
from wise_perch.core.planning.rules import heavy_of, joint_kind, joints_of, phase_of
from wise_perch.core.planning.settings import Trained
from wise_perch.core.planning.week import LeftOut, Loading
from wise_perch.core.standing import DrillStanding, LineStanding, Standing
from wise_perch.core.wall import State
from wise_perch.core.wording import percent, spell

FILLER = 20.0
"""What a drill counts that is open beside the way to a goal, where the first of the way counts 100. Ours."""
FIRST, NEXT_COUNTS, PROVE_COUNTS, DUE_COUNTS = 100.0, 0.92, 1.15, 250.0
"""What the first drill on the way to a goal counts, each one after it beside the one before, one that lacks its second day, and a test
that is due. Ours."""
HELP = 15.0
"""What a drill counts that only helps toward a goal. Ours."""
KEEP, SECOND_DAY = 10.0, 30.0
"""What a drill counts that is passed and only prepares, and one beside the way that lacks its second day. Ours."""
KEPT_RUNGS = 2
"""So many rungs of a line are kept up. Ours."""
LIGHTER = 0.9
"""A drill is lighter if at most so much of the share stays on the hands. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ache:
    """Pain told of a joint: 0 to 10 on a day. `sharp`: sharp, lasting or tingling."""

    joint: str
    level: int
    day: date
    sharp: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class DueTest:
    """A test that is due: how long it takes, the drill it speaks for, what it takes to run it, and why now."""

    test: str
    title: str
    minutes: float
    drill: str
    because: str
    singles: int = 0


@dataclass(frozen=True, kw_only=True)
class Asked:
    """All that a plan is made from. `aches` newest of each joint; `heavy` days already done, with "push" or "press"."""

    who: Trained
    standing: Standing
    goals: tuple[GoalStanding, ...]
    tests: tuple[DueTest, ...] = ()
    aches: tuple[Ache, ...] = ()
    loading: Loading = field(default_factory=Loading)
    heavy: tuple[tuple[date, str], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A drill, or a test, that a week may have. `counts`: what it is worth the first time; `why`: the reason it is here."""

    name: str
    title: str
    pillar: Pillar | None
    phase: str
    dosed: Dosed | None
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


def candidates(asked: Asked, *, also: Sequence[str] = ()) -> tuple[list[Candidate], list[LeftOut]]:
    """Gather what a week may be made of, and what is left out whatever the time. `also`: drills the coach wants in."""
    every, counted = asked.standing.every(), _counted(asked)
    for name in also:
        if name in every and (name not in counted or counted[name].keeps):
            counted[name] = Worth(FILLER, (Because(text="You put it in."),))
    found: dict[str, Candidate] = {}
    left: list[LeftOut] = []
    for name, worth in counted.items():
        d = every[name]
        if not d.open:
            left.append(LeftOut(drill=name, title=d.title, because="Closed until: " + "; ".join(w.sentence for w in d.waits) + "."))
        elif (d.easy or d.state is State.PROVEN) and not worth.keeps and name not in also:
            left.append(LeftOut(drill=name, title=d.title, because=f"Easy by now: {d.shortfall}." if d.easy else f"Proven: {d.shortfall}."))
        elif made := _candidate(name, worth, asked, left):
            found.setdefault(made.name, made)
    left += [LeftOut(drill=s.drill, title=s.title, because=f"{s.sentence}.") for g in asked.goals for s in g.closed if s.drill not in counted]
    tests = [t for t in asked.tests if not _test_hurts(t, asked, left)]
    return [*found.values(), *(_of_test(t, asked) for t in tests)], _once(left, found)


def _once(left: Sequence[LeftOut], found: Mapping[str, Candidate]) -> list[LeftOut]:
    seen: dict[str, LeftOut] = {}
    for x in left:
        if x.drill not in found:
            seen.setdefault(x.drill, x)
    return list(seen.values())


@dataclass(frozen=True, slots=True)
class Worth:
    """What a drill counts the first time in a week, why it is worth having, and whether it only keeps what is there."""

    counts: float
    why: tuple[Because, ...]
    keeps: bool = False


def _always(asked: Asked) -> set[str]:
    """What every session has anyway."""
    return {name for phase in asked.who.syllabus.sessions.phases for name in (*phase.always, *(phase.drills if phase.fixed_s else ()))}


def _counted(asked: Asked) -> dict[str, Worth]:
    """Every drill worth having, what it counts and why: by the goals, the leading one first, then what is open beside them."""
    rules, every, always = asked.who.syllabus.sessions, asked.standing.every(), _always(asked)
    found: dict[str, Worth] = {}
    open_goals = [g for g in asked.goals if not g.reached]
    for n, goal in enumerate(open_goals):
        share = rules.goal_counts[min(n, len(rules.goal_counts) - 1)]
        for rank, step in enumerate(goal.work_on):
            counts, why = _on_the_way(goal, step, rank, share, rules.holding_counts.value)
            before = found.get(step.drill)
            if before:
                why = (*before.why, Because(text=f"Also on the way to {goal.title[:1].lower() + goal.title[1:]}."))
            found[step.drill] = Worth(counts + (before.counts if before else 0.0), why)
    for name, worth in _block_of_its_own(asked, open_goals):
        found.setdefault(name, worth)
    lines = {line for g in open_goals for line in g.lines}
    if not lines or asked.aches:
        # where a joint is spared there is time for what does not load it
        lines = {line.line for line in asked.standing.lines}
    for name, worth in (*_beside(asked, lines), *_helping(asked, open_goals), *_kept(asked, lines | _supporting(asked, open_goals))):
        if every[name].open:
            found.setdefault(name, worth)
    return {name: worth for name, worth in found.items() if name not in always}


def _block_of_its_own(asked: Asked, goals: Sequence[GoalStanding]) -> Iterator[tuple[str, Worth]]:
    """The kick-up's block while landings are not soft, for whoever trains toward something that it leads to."""
    rule, every = asked.who.syllabus.sessions.kick_up, asked.standing.every()
    gate = every.get(rule.until)
    wanted = not goals or any(rule.until in asked.who.syllabus.below[g.goal] for g in goals)
    if gate is None or not wanted or gate.state not in (State.NOT_YET, State.STALE):
        return
    for name in rule.drills:
        if name in every and every[name].open and every[name].state in (State.NOT_YET, State.STALE):
            yield (
                name,
                Worth(
                    rule.counts.value,
                    (Because(text=f"{rule.because} {every[name].shortfall[:1].upper()}{every[name].shortfall[1:]}.", origin=gate_origin(gate)),),
                ),
            )


def gate_origin(d: DrillStanding) -> Origin:
    """Where the figure of a drill's gate comes from."""
    return cast(Origin, d.origin)


def _on_the_way(goal: GoalStanding, step: PathStep, rank: int, share: float, holding: float) -> tuple[float, tuple[Because, ...]]:
    counts = FIRST * NEXT_COUNTS**rank * share * (PROVE_COUNTS if step.kind == "prove" else 1.0)
    title = goal.title[:1].lower() + goal.title[1:]
    if step.pillar == goal.holding:
        return counts * holding, (Because(text=f"{goal.headline.rstrip('.')} on the way to {title}. {step.sentence}."),)
    return counts, (Because(text=f"On the way to {title}. {step.sentence}."),)


def _beside(asked: Asked, lines: set[str]) -> Iterator[tuple[str, Worth]]:
    """What is open and not met beside the way: the rungs ahead, on the goals' lines or, without a goal, on every line."""
    every = asked.standing.every()
    for line in asked.standing.lines:
        for name in line.ahead if line.line in lines else ():
            if every[name].state in (State.NOT_YET, State.STALE) and not every[name].optional:
                yield name, Worth(FILLER, (Because(text=f"Open beside the way: {every[name].shortfall}."),))


def _helping(asked: Asked, goals: Sequence[GoalStanding]) -> Iterator[tuple[str, Worth]]:
    """What helps toward the goals without being needed, and is open and not met."""
    every, wanted = asked.standing.every(), {g.goal: g for g in goals}
    for goal in asked.who.syllabus.content.goals:
        for name in goal.supports if goal.goal in wanted else ():
            if name in every and every[name].state in (State.NOT_YET, State.STALE):
                title = goal.title[:1].lower() + goal.title[1:]
                yield name, Worth(HELP, (Because(text=f"It helps toward {title}: {every[name].shortfall}."),))


def _supporting(asked: Asked, goals: Sequence[GoalStanding]) -> set[str]:
    """The lines of what helps toward the goals."""
    wanted, line_of = {g.goal for g in goals}, asked.who.syllabus.line_of
    return {line_of[name] for g in asked.who.syllabus.content.goals if g.goal in wanted for name in g.supports if name in line_of}


def _kept(asked: Asked, lines: set[str]) -> Iterator[tuple[str, Worth]]:
    """What is passed and stands highest: to prove it, or as preparation for what comes above."""
    for line in asked.standing.lines:
        for d in _highest_open(line) if line.line in lines else ():
            if d.drill in asked.who.syllabus.sessions.kick_up.drills:
                continue
            if d.state is State.MET and d.prove_by and d.prove_by >= asked.who.on:
                text = f"Passed once; a second clean day by {spell(d.prove_by, asked.who.on)} makes it proven."
                yield d.drill, Worth(SECOND_DAY, (Because(text=text, origin=asked.who.syllabus.rules.proven_within_days.origin),))
            elif d.state is not State.NOT_YET:
                stale = f" It goes stale on {spell(d.stale_on, asked.who.on)}." if d.stale_on and d.state is not State.STALE else ""
                yield d.drill, Worth(KEEP, (Because(text=f"Passed; here as preparation, in the fewest sets.{stale}", origin="ours"),), keeps=True)


def _highest_open(line: LineStanding) -> tuple[DrillStanding, ...]:
    """The passed drills of the highest rungs, up to the clip's, of which any is open."""
    rungs = (tuple(d for d in rung if d.open and d.state is not State.NOT_YET) for rung in reversed(line.rungs[: line.perch_rung + 1]))
    return tuple(d for rung in list(filter(None, rungs))[:KEPT_RUNGS] for d in rung)


def _candidate(name: str, worth: Worth, asked: Asked, left: list[LeftOut]) -> Candidate | None:
    """A drill as it can be trained today: itself, something lighter where a joint aches, or nothing."""
    syllabus = asked.who.syllabus
    drill, stops_at = syllabus.drills[name], syllabus.rules.pain_stops_at.value
    joints = joints_of(syllabus, drill)
    ache, stop = hurts(asked.aches, joints, stops_at)
    if ache is None:
        return _made(drill, worth, asked)
    told = f"{ache.joint.capitalize()} {ache.level} of 10 on {spell(ache.day, asked.who.on)}"
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
    return _made(other, Worth(worth.counts, (why,), keeps=True), asked)


def lighter_drill(drill: Drill, asked: Asked) -> tuple[Drill, str] | None:
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
    return nearest, f"{percent(share)} of body weight on the hands instead of {percent(own)}"


def _share(drill: Drill, asked: Asked) -> float | None:
    found = share_of(asked.who.syllabus.mechanics, drill, asked.who.body, {})
    if found:
        return found[0]
    return 1.0 if drill.drill in asked.who.syllabus.inverted else None


def _made(drill: Drill, worth: Worth, asked: Asked) -> Candidate:
    syllabus, stands = asked.who.syllabus, asked.standing.every()[drill.drill]
    dosed, phase = dose(drill, stands, asked.who), phase_of(syllabus, drill.drill)
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


def _test_hurts(test: DueTest, asked: Asked, left: list[LeftOut]) -> bool:
    drill = asked.who.syllabus.drills.get(test.drill)
    ache, _ = hurts(asked.aches, joints_of(asked.who.syllabus, drill) if drill else (), asked.who.syllabus.rules.pain_stops_at.value)
    if ache:
        left.append(LeftOut(drill=test.test, title=test.title, because=f"Waits until the {joint_kind(ache.joint)} is well."))
    return ache is not None


def _of_test(test: DueTest, asked: Asked) -> Candidate:
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
