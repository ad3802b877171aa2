"""What a goal still takes: the path, the pillar that holds it back, what to work on today, and when to stay
the course.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

from wise_perch.core.scoring.verdict import Verdict
from wise_perch.core.trade.content import Goal, Need, Pillar
from wise_perch.core.trade.gates import say_amount
from wise_perch.core.trade.words import capitalise, say_day, say_list
from wise_perch.core.trainee.course import stay_the_course
from wise_perch.core.trainee.pillars import PillarShortfall, weigh_pillars
from wise_perch.core.trainee.standing import DrillStanding, WallBars
from wise_perch.core.trainee.wall import State, Wall
from wise_perch.core.trainee.wording import need_text

StepKind = Literal["work on", "prove", "show again", "closed"]


FEW_FALLS = 6
"""With fewer even falls all to one side could be chance: two-sided p of 5 of 5 is above 0.05."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PathStep:
    """One drill on the way to a goal: to pass, to prove on another day, to show again after it went stale, or
    closed, and the sentence that says what is missing.
    """

    drill: str
    title: str
    line: str
    pillar: Pillar
    kind: StepKind
    fill: float
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class GoalStanding:
    """Where a trainee stands toward one goal.

    `path` is all that is unmet below it, in an order it can be done; `lines` are the bays it runs through;
    `pillars` the heaviest first; `holding` the one to work on now; `work_on` what is open today, `closed`
    what is not and until when.
    """

    goal: str
    title: str
    reached: bool
    reached_sentence: str
    path: tuple[PathStep, ...]
    lines: tuple[str, ...]
    pillars: tuple[PillarShortfall, ...]
    holding: Pillar | None
    headline: str
    because: tuple[str, ...]
    work_on: tuple[PathStep, ...]
    closed: tuple[PathStep, ...]
    stay_the_course: str | None
    expect: str


def goal_standings(
    wall: Wall, stands: WallBars, goals: Iterable[str] | None = None
) -> tuple[GoalStanding, ...]:
    """Say of each goal named (or of every goal of the syllabus) where the trainee stands toward it."""
    wanted = None if goals is None else set(goals)
    every, finder = stands.every(), Pathfinder(wall)
    return tuple(
        _goal_standing(g, finder, every)
        for g in wall.syllabus.content.goals
        if wanted is None or g.goal in wanted
    )


class Pathfinder:
    """Finds what is unmet below a goal on one wall; between alternatives it takes the nearer."""

    def __init__(self, wall: Wall) -> None:
        """Read from `wall`."""
        self.wall = wall
        self._costs: dict[tuple[str, str, str], float] = {}
        self._wanting: dict[str, list[Need]] = {}

    def lacking(self, name: str, need: Need) -> float:
        """How much one drill lacks for a need, in rungs: nothing, a second day, or what is not filled."""
        reading = self.wall.of_need(need, name)
        # a whole rung as good as filled is not passed yet; a met gate lacks only its second day, a stale one
        # that it is shown again
        second = self.wall.syllabus.rules.second_day_counts.value
        if reading.state is State.STALE:
            return second
        if reading.proven if need.state == "proven" else reading.met:
            return 0.0
        return (
            second
            if reading.met
            else max(0.05, 1.0 - reading.fill) + (second if need.state == "proven" else 0.0)
        )

    def cost(self, name: str, need: Need) -> float:
        """What a drill takes with all that is unmet below it, in rungs. What two branches share counts
        twice.
        """
        key = (name, need.state, str(need.value))
        if key not in self._costs:
            own = self.lacking(name, need)
            self._costs[key] = own  # stands in while the drills below are looked at
            if own and self.leads_on(name, need):
                own += sum(min(self.cost(w, n) for w in n.any_of) for n in self.wanting(name))
                self._costs[key] = own
        return self._costs[key]

    def leads_on(self, name: str, need: Need) -> bool:
        """Whether what stands below a drill belongs to the path with it: until it is met, and again once it
        is stale.
        """
        reading = self.wall.of_need(need, name)
        return not reading.met or reading.state is State.STALE

    def wanting(self, name: str) -> list[Need]:
        """The needs of a drill that are not met, or only by what is stale; where a drill at the wall is stale
        itself, showing it again shows what lies below.
        """
        if name in self._wanting:
            return self._wanting[name]
        drill = self.wall.syllabus.drills[name]
        shows = self.wall.gates[name].state is State.STALE and not drill.guarded
        self._wanting[name] = [
            n
            for n in self.wall.needs_of(name)
            if not self.wall.satisfied(n) or (self.wall.only_stale(n) and not shows)
        ]
        return self._wanting[name]

    def closing_again(self, name: str) -> list[Need]:
        """Where a drill away from the wall is passed and closed all the same: the needs, as an exit, that
        were shown once and have gone stale since.
        """
        if not self.wall.syllabus.drills[name].guarded:
            return []
        return [
            n
            for n in self.wall.needs_of(name)
            if (not self.wall.satisfied(n) or self.wall.only_stale(n))
            and any(self.wall.of_need(n, w).state is State.STALE for w in n.any_of)
        ]

    def chosen(self, need: Need) -> list[str]:
        """The drills to work on for an unmet need: the nearest of the alternatives, or as many as enough
        takes.
        """
        if need.enough is None:
            return [min(need.any_of, key=lambda w: (self.cost(w, need), w))]
        missing = need.enough.value - self.wall.gathered(need)
        most, picked = self.wall.syllabus.rules.most_overfill.value, []
        # the emptiest has the most to give
        for w in sorted(need.any_of, key=lambda w: (self.wall.share(w), w)):
            if missing <= 1e-9:
                break
            picked.append(w)
            missing -= max(0.0, (1.0 if self.wall.share(w) < 1 else most) - self.wall.share(w))
        return picked

    def path(self, goal: Goal) -> dict[str, Need]:
        """Every unmet drill below a goal with what is asked of it, lowest first. What leads through without
        being asked for is on the way while there is one.
        """
        found = self._walk(goal.drills)
        return self._walk((*goal.through, *goal.drills)) if found and goal.through else found

    def _walk(self, names: Iterable[str]) -> dict[str, Need]:
        found: dict[str, Need] = {}

        def walk(name: str, asked: Need) -> None:
            whole = self.lacking(name, asked) == 0 and asked.enough is None
            if not whole and name in found:
                if asked.state == "proven" and found[name].state != "proven":
                    found[name] = asked
                return
            for need in self.below(name, asked, whole=whole):
                for w in self.chosen(need):
                    walk(w, need)
            if not whole:
                found[name] = asked

        for name in names:
            walk(name, Need(any_of=(name,)))
        return found

    def below(self, name: str, asked: Need, *, whole: bool) -> list[Need]:
        """The needs of a drill that stand on the path with it; of one that lacks nothing only those that
        close it again.
        """
        if whole:
            return self.closing_again(name)
        if self.leads_on(name, asked) or asked.enough is not None:
            return self.wanting(name)
        # it is met and has its second day to come: for that it must be open
        guarded = self.wall.syllabus.drills[name].guarded
        return [
            n
            for n in self.wall.needs_of(name)
            if not self.wall.satisfied(n) or (guarded and self.wall.only_stale(n))
        ]


def _goal_standing(goal: Goal, finder: Pathfinder, every: Mapping[str, DrillStanding]) -> GoalStanding:
    wall = finder.wall
    asked = finder.path(goal)
    path = tuple(_make_step(every[name], need, wall) for name, need in asked.items())
    reached = not path
    helping = [] if reached else _helping_drills(goal, wall, set(asked))
    weighed = _weigh_goal(goal, finder, asked, helping, every, wall) if path else ()
    open_steps = tuple(s for s in path if s.kind != "closed")
    workable = {s.drill for s in open_steps} | {n for n in helping if every[n].open}
    holding = next((p for p in weighed if _has_open(p.pillar, workable, every, wall)), None)
    first = holding.pillar if holding else None
    ahead = sorted(open_steps, key=lambda s: (s.pillar != first, s.kind != "prove", -s.fill, s.drill))
    support = _help_steps([n for n in helping if every[n].open], every, first)
    lines = dict.fromkeys(
        [
            *(s.line for s in path),
            *(s.line for s in support),
            *(every[n].line for n in goal.drills if n in every),
        ]
    )
    order = [line.line for line in wall.syllabus.lines]
    return GoalStanding(
        goal=goal.goal,
        title=goal.title,
        reached=reached,
        reached_sentence=_say_reached(goal, every, wall.on) if reached else "",
        path=path,
        lines=tuple(sorted(lines, key=order.index)),
        pillars=weighed,
        holding=first,
        headline=_say_headline(goal, holding, reached=reached),
        because=(*holding.because, *_headline_figures(goal, every, holding)) if holding else (),
        work_on=_in_order((*ahead, *support), holding),
        closed=tuple(s for s in path if s.kind == "closed"),
        stay_the_course=None if reached else stay_the_course(goal, wall),
        expect=goal.expect,
    )


def _say_headline(goal: Goal, holding: PillarShortfall | None, *, reached: bool) -> str:
    if reached:
        return f"{goal.title}: reached."
    if holding is None:
        return f"Nothing toward {goal.title[:1].lower() + goal.title[1:]} is open today."
    limits = "are what limit" if holding.pillar == "exits" else "is what limits"
    return f"{holding.title} {limits} {_short(goal.title)}."


def _say_reached(goal: Goal, every: Mapping[str, DrillStanding], on: date) -> str:
    last = max((d.last_pass for n in goal.drills if (d := every.get(n)) and d.last_pass), default=None)
    return (
        f"{goal.title}, last shown on {say_day(last, on)}."
        if last
        else f"{goal.title}, by the coach's waiver."
    )


def _make_step(d: DrillStanding, need: Need, wall: Wall) -> PathStep:
    met = wall.of_need(need, d.drill).met and d.state is not State.STALE
    if met and need.state == "proven" and d.open:
        by = f" by {say_day(d.prove_by, wall.on)}" if d.prove_by and d.prove_by >= wall.on else ""
        held = d.state is State.MET and d.prove_by and d.prove_by >= wall.on
        shy = d.state is State.MET and d.prove_by is None
        again = f"Show it clean on two days{' with confidence' if shy else ''}: {d.shortfall}"
        sentence = f"Show it clean once more{by} and it is proven" if held else again
        kind: StepKind = "prove"
    elif d.open and d.state is State.STALE:
        kind, sentence = "show again", capitalise(d.shortfall)
    elif d.open:
        extra = f". Here {say_amount(need.value.value, d.measure)} is enough" if need.value else ""
        kind, sentence = "work on", capitalise(d.shortfall) + extra
    else:
        kind, sentence = "closed", "Closed until: " + "; ".join(w.sentence for w in d.waits)
    return PathStep(
        drill=d.drill, title=d.title, line=d.line, pillar=d.pillar, kind=kind, fill=d.fill, sentence=sentence
    )


def _in_order(steps: Sequence[PathStep], holding: PillarShortfall | None) -> tuple[PathStep, ...]:
    """What holds the goal back comes first, whether it is needed or only helps, and of that what carries
    most.
    """
    first = holding.drills if holding else ()
    return tuple(sorted(steps, key=lambda s: first.index(s.drill) if s.drill in first else len(first)))


def _has_open(pillar: Pillar, workable: set[str], every: Mapping[str, DrillStanding], wall: Wall) -> bool:
    """Say whether anything of a pillar can be worked on today; confidence is found in whatever is done with
    little of it.
    """
    low = wall.syllabus.rules.low_confidence.value
    return any(
        d.pillar == pillar or (pillar == "confidence" and d.confidence is not None and d.confidence <= low)
        for d in (every[n] for n in workable)
    )


def let_tries_lead(goal: GoalStanding, tries: Verdict, work_on: Sequence[str]) -> GoalStanding:
    """Let the newest free tries speak where balance holds a goal back: the side of the falls, and what they
    point to first.

    `work_on`: the drills that the decision of those tries names.
    """
    if goal.holding != "balance":
        return goal
    steps = tuple(
        sorted(goal.work_on, key=lambda s: work_on.index(s.drill) if s.drill in work_on else len(work_on))
    )
    over, under, side = (tries.figures[name] for name in ("falls_over", "falls_under", "fall_pattern"))
    if not over + under:
        return replace(goal, work_on=steps)
    said = _say_falls(over, under, side)
    headline = f"Balance on the {side} side is what limits {_short(goal.title)}." if side else goal.headline
    return replace(goal, headline=headline, because=(*goal.because, said), work_on=steps)


def _say_falls(over: int, under: int, side: str | None) -> str:
    """Which way the falls of a run went, in words; interval and p stand with the test."""
    both = f"{over} over, {under} under"
    if side:
        return f"{max(over, under)} of the last {over + under} falls went {side}."
    if over + under < FEW_FALLS:
        return f"Too few falls to name a side: {both}."
    return f"Falls split evenly: {both}." if abs(over - under) <= 1 else f"No clear side yet: {both}."


def _short(title: str) -> str:
    """A goal's name within a sentence: "the freestanding hold"."""
    name = title.split(",")[0]
    return f"the {name[:1].lower()}{name[1:]}"


def _headline_figures(goal: Goal, every: Mapping[str, DrillStanding], holding: PillarShortfall) -> list[str]:
    """How the goal's own drills stand, unless that has been said."""
    own = [every[n] for n in goal.drills if n in every and every[n].best is not None]
    return [sentence for d in own if (sentence := f"{d.title}: {d.shortfall}.") not in holding.because]


def _helping_drills(goal: Goal, wall: Wall, asked: set[str]) -> list[str]:
    """What helps without being needed and is seen to fall short: supports, and rungs below that were passed
    over.

    One that was never looked at may be well: it holds nothing back until it is. Nor does one that is stale
    and shown with what stands on it.
    """
    drills, gates = wall.syllabus.drills, wall.gates
    passed_over = [n for n in wall.syllabus.below[goal.goal] if not drills[n].optional]
    named = dict.fromkeys([*goal.supports, *sorted(passed_over)])
    return [
        n
        for n in named
        if n not in asked and (g := gates.get(n)) and g.found.last_day is not None and wall.unshown(n)
    ]


def _help_steps(
    names: Sequence[str], every: Mapping[str, DrillStanding], holding: Pillar | None
) -> tuple[PathStep, ...]:
    """What helps, only of the pillar that holds the goal back, the emptiest first and what only wants showing
    again last.
    """
    helping = [every[n] for n in names if every[n].pillar == holding]
    return tuple(
        PathStep(
            drill=d.drill,
            title=d.title,
            line=d.line,
            pillar=d.pillar,
            kind="work on",
            fill=d.fill,
            sentence=f"{capitalise(d.shortfall)}; it helps",
        )
        for d in sorted(helping, key=lambda d: (d.state is State.STALE, d.exceeds, d.drill))
    )


def _weigh_goal(
    goal: Goal,
    finder: Pathfinder,
    asked: Mapping[str, Need],
    helping: Sequence[str],
    every: Mapping[str, DrillStanding],
    wall: Wall,
) -> tuple[PillarShortfall, ...]:
    """Weigh the pillars of what is asked for and of what helps."""
    lacking = {
        n: min(1.0, finder.lacking(n, need) or 1.0 - min(1.0, every[n].fill)) for n, need in asked.items()
    }
    helps = {
        n: (
            1.0 - min(1.0, every[n].exceeds)
            if every[n].state is State.NOT_YET
            else wall.syllabus.rules.second_day_counts.value
        )
        for n in helping
    }
    syllabus, gates = wall.syllabus, wall.gates
    unseen = {n for n in goal.supports if n not in asked and n in gates and gates[n].found.last_day is None}
    rungs: dict[Pillar, int] = {}
    for name in syllabus.below[goal.goal] - unseen:
        if name in asked or not syllabus.drills[name].optional:
            pillar = syllabus.pillar_of[name]
            rungs[pillar] = rungs.get(pillar, 0) + 1
    return weigh_pillars(lacking=lacking, helping=helps, rungs=rungs, every=every, wall=wall)


def why_not(d: DrillStanding, wall: Wall) -> str:
    """Say what opens a closed drill; empty for an open one."""
    if d.open:
        return ""
    needs = [n for n in wall.needs_of(d.drill) if not wall.satisfied(n)]
    said = [
        need_text(n, wall.syllabus.drills) + f", {n.state}" if n.enough is None else _enough_text(n, wall)
        for n in needs
    ]
    cleared = [w.sentence[:1].lower() + w.sentence[1:] for w in d.waits if w.state == "cleared"]
    for w in d.waits:
        if w.state == "caution":
            return f"{w.sentence}."
    first, *others = [*cleared, *said]
    return " ".join([f"{d.title} opens with {first}.", *(f"It also needs {x}." for x in others)])


def _enough_text(need: Need, wall: Wall) -> str:
    names = say_list([wall.syllabus.drills[w].title.lower() for w in need.any_of])
    asked = need.enough.value if need.enough else 0
    return f"enough of {names} ({wall.gathered(need):.1f} of {asked:g} gates)"
