"""What a goal still takes: the path, the pillar that holds it back, what to work on today, and when to stay the course."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from wise_perch.core.content import Goal, Need, Pillar
from wise_perch.core.gates import spoken
from wise_perch.core.marks import Marks, Record
from wise_perch.core.standing import DrillStanding, Standing, State, Wall
from wise_perch.core.wording import amount, capital, need_text, spell

PILLAR_WORDS: Mapping[Pillar, str] = {
    "shape": "Shape",
    "exits": "Exits",
    "entry": "Getting up",
    "confidence": "Confidence upside down",
    "balance": "Balance",
    "strength": "Strength",
    "mobility": "Mobility",
}

StepKind = Literal["work on", "prove", "closed"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PathStep:
    """One drill on the way to a goal: to pass, to prove on another day, or closed, and the sentence that says what is missing."""

    drill: str
    title: str
    line: str
    pillar: Pillar
    kind: StepKind
    fill: float
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PillarShortfall:
    """How much of a pillar is missing for a goal, from 0 to 1: `missing` rungs' worth of the `rungs` the goal leads through."""

    pillar: Pillar
    title: str
    share: float
    missing: float
    rungs: int
    because: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class GoalStanding:
    """Where a trainee stands toward one goal.

    `path` is all that is unmet below it, in an order it can be done; `lines` are the bays it runs through; `pillars` from the
    largest shortfall; `holding` the one to work on now; `work_on` what is open today, `closed` what is not and until when.
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


def goal_standings(wall: Wall, stands: Standing, goals: Iterable[str] | None = None) -> tuple[GoalStanding, ...]:
    """Say of each goal named (or of every goal of the syllabus) where the trainee stands toward it."""
    wanted = None if goals is None else set(goals)
    every = stands.every()
    return tuple(_goal_standing(g, wall, every) for g in wall.syllabus.content.goals if wanted is None or g.goal in wanted)


class Pathfinder:
    """Finds what is unmet below a goal on one wall; between alternatives it takes the nearer."""

    def __init__(self, wall: Wall) -> None:
        """Read from `wall`."""
        self.wall = wall
        self._costs: dict[tuple[str, str, str], float] = {}

    def lacking(self, name: str, need: Need) -> float:
        """How much one drill lacks for a need, in rungs: nothing, half a rung for a second day, or what is not filled."""
        reading = self.wall.of_need(need, name)
        if reading.proven if need.state == "proven" else reading.met:
            return 0.0
        # a whole rung as good as filled is not passed yet; a met gate lacks only its second day
        return 0.5 if reading.met else max(0.05, 1.0 - reading.fill) + (0.5 if need.state == "proven" else 0.0)

    def cost(self, name: str, need: Need) -> float:
        """What a drill takes with all that is unmet below it, in rungs. What two branches share counts twice."""
        key = (name, need.state, str(need.value))
        if key not in self._costs:
            own = self.lacking(name, need)
            self._costs[key] = own  # stands in while the drills below are looked at
            if own and not self.wall.of_need(need, name).met:
                own += sum(min(self.cost(w, n) for w in self.choices(n)) for n in self.unmet(name))
                self._costs[key] = own
        return self._costs[key]

    def unmet(self, name: str) -> list[Need]:
        """The needs of a drill that are not met."""
        return [n for n in self.wall.syllabus.needs[name] if not self.wall.satisfied(n)]

    def choices(self, need: Need) -> tuple[str, ...]:
        """The drills that could meet a need; for "enough of these", those with something left to give."""
        return need.any_of

    def chosen(self, need: Need) -> list[str]:
        """The drills to work on for an unmet need: the nearest of the alternatives, or as many as enough takes."""
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
        """Every unmet drill below a goal with what is asked of it, lowest first."""
        found: dict[str, Need] = {}

        def walk(name: str, asked: Need) -> None:
            if self.lacking(name, asked) == 0 and asked.enough is None:
                return
            if name in found:
                if asked.state == "proven" and found[name].state != "proven":
                    found[name] = asked
                return
            if not self.wall.of_need(asked, name).met or asked.enough is not None:
                for need in self.unmet(name):
                    for w in self.chosen(need):
                        walk(w, need)
            found[name] = asked

        for name in goal.drills:
            walk(name, Need(any_of=(name,)))
        return found


def _goal_standing(goal: Goal, wall: Wall, every: Mapping[str, DrillStanding]) -> GoalStanding:
    finder = Pathfinder(wall)
    asked = finder.path(goal)
    path = tuple(_step(every[name], need, wall) for name, need in asked.items())
    reached = not path
    pillars = _pillars(goal, finder, asked, every, wall) if path else ()
    open_steps = tuple(s for s in path if s.kind != "closed")
    workable = {s.pillar for s in open_steps} | {every[n].pillar for n in _known_supports(goal, every) if every[n].open}
    if any(p.pillar == "confidence" for p in pillars):
        workable.add("confidence")
    holding = next((p for p in pillars if p.pillar in workable), None)
    first = holding.pillar if holding else None
    ahead = sorted(open_steps, key=lambda s: (s.pillar != first, s.kind != "prove", -s.fill, s.drill))
    support = _support_steps(goal, every, first, set(asked)) if path else ()
    lines = dict.fromkeys([*(s.line for s in path), *(s.line for s in support), *(every[n].line for n in goal.drills if n in every)])
    order = [line.line for line in wall.syllabus.lines]
    return GoalStanding(
        goal=goal.goal,
        title=goal.title,
        reached=reached,
        reached_sentence=_reached(goal, every, wall.on) if reached else "",
        path=path,
        lines=tuple(sorted(lines, key=order.index)),
        pillars=pillars,
        holding=first,
        headline=_headline(goal, holding, reached=reached),
        because=(*holding.because, *_headline_figures(goal, every, holding)) if holding else (),
        work_on=(*ahead, *support),
        closed=tuple(s for s in path if s.kind == "closed"),
        stay_the_course=None if reached else _stay(goal, wall, every),
        expect=goal.expect,
    )


def _headline(goal: Goal, holding: PillarShortfall | None, *, reached: bool) -> str:
    if reached:
        return f"{goal.title}: reached."
    if holding is None:
        return f"Nothing toward {goal.title[:1].lower() + goal.title[1:]} is open today."
    return f"{holding.title} {'hold' if holding.pillar == 'exits' else 'holds'} it back."


def _reached(goal: Goal, every: Mapping[str, DrillStanding], on: date) -> str:
    last = max((d.last_pass for n in goal.drills if (d := every.get(n)) and d.last_pass), default=None)
    return f"{goal.title}, last shown on {spell(last, on)}." if last else f"{goal.title}, by the coach's waiver."


def _step(d: DrillStanding, need: Need, wall: Wall) -> PathStep:
    met = wall.of_need(need, d.drill).met
    if met and need.state == "proven":
        by = f" by {spell(d.prove_by, wall.on)}" if d.prove_by and d.prove_by >= wall.on else ""
        held = d.state is State.MET and d.prove_by and d.prove_by >= wall.on
        sentence = f"One more clean day{by} makes it proven" if held else f"To be proven anew on two days; {d.shortfall}"
        kind: StepKind = "prove"
    elif d.open:
        extra = f"; {spoken(need.value.value, d.measure)} is enough here" if need.value else ""
        kind, sentence = "work on", capital(d.shortfall) + extra
    else:
        kind, sentence = "closed", "Closed until: " + "; ".join(w.sentence for w in d.waits)
    return PathStep(drill=d.drill, title=d.title, line=d.line, pillar=d.pillar, kind=kind, fill=d.fill, sentence=sentence)


def _headline_figures(goal: Goal, every: Mapping[str, DrillStanding], holding: PillarShortfall) -> list[str]:
    """How the goal's own drills stand, unless that has been said."""
    own = [every[n] for n in goal.drills if n in every and every[n].best is not None]
    return [sentence for d in own if (sentence := f"{d.title}: {d.shortfall}.") not in holding.because]


def _known_supports(goal: Goal, every: Mapping[str, DrillStanding]) -> list[str]:
    """The supports seen to fall short. One that was never looked at may be well: it holds nothing back until it is."""
    return [n for n in goal.supports if (d := every.get(n)) and d.last_day is not None and d.state in (State.NOT_YET, State.STALE)]


def _support_steps(goal: Goal, every: Mapping[str, DrillStanding], holding: Pillar | None, asked: set[str]) -> tuple[PathStep, ...]:
    """What helps without being needed: only of the pillar that holds the goal back, the emptiest first."""
    helping = [every[n] for n in _known_supports(goal, every) if n not in asked and every[n].pillar == holding and every[n].open]
    return tuple(
        PathStep(
            drill=d.drill, title=d.title, line=d.line, pillar=d.pillar, kind="work on", fill=d.fill, sentence=f"{capital(d.shortfall)}; it helps"
        )
        for d in sorted(helping, key=lambda d: (d.fill, d.drill))
    )


def _pillars(
    goal: Goal, finder: Pathfinder, asked: Mapping[str, Need], every: Mapping[str, DrillStanding], wall: Wall
) -> tuple[PillarShortfall, ...]:
    """Every pillar with something missing, the largest share first.

    Of shares equal to a tenth the one that holds up the most of the path comes first, then the one first in the rules.
    """
    own = set(goal.drills)
    counted = [n for n in asked if n not in own] or list(asked)
    missing: dict[Pillar, dict[str, float]] = {}
    for name in counted:
        missing.setdefault(every[name].pillar, {})[name] = min(1.0, finder.lacking(name, asked[name]) or 1.0 - min(1.0, every[name].fill))
    for name in _known_supports(goal, every):
        if name not in asked:
            missing.setdefault(every[name].pillar, {})[name] = 1.0 - min(1.0, every[name].exceeds)
    rungs: dict[Pillar, int] = {}
    unseen = {n for n in goal.supports if n not in asked and n in every and every[n].last_day is None}
    for name in wall.syllabus.below[goal.goal] - unseen:
        if (name not in own or name in counted) and (name in counted or not every[name].optional):
            rungs[every[name].pillar] = rungs.get(every[name].pillar, 0) + 1
    found = [_shortfall(pillar, lacks, max(rungs.get(pillar, 0), len(lacks)), every, set(asked)) for pillar, lacks in missing.items()]
    shy = _shy(asked, every, wall)
    found = [p for p in found if not (shy and p.pillar == "confidence")] + ([shy] if shy else [])
    order, holds_up = wall.syllabus.rules.pillars, _holds_up(asked, every, wall)
    return tuple(sorted(found, key=lambda p: (-round(p.share, 1), -holds_up.get(p.pillar, 0), order.index(p.pillar))))


def _holds_up(asked: Mapping[str, Need], every: Mapping[str, DrillStanding], wall: Wall) -> dict[Pillar, int]:
    """For each pillar, how many drills of the path wait, directly or not, for what is open in it today."""
    waiting: dict[str, set[str]] = {}
    for name in asked:  # lowest first, so that what a drill waits for has been seen
        direct = {w for need in wall.syllabus.needs[name] for w in need.any_of if w in asked}
        waiting[name] = direct.union(*(waiting.get(w, set()) for w in direct))
    found: dict[Pillar, int] = {}
    for name in asked:
        if every[name].open:
            pillar = every[name].pillar
            found[pillar] = max(found.get(pillar, 0), sum(name in below for below in waiting.values()))
    return found


def _shortfall(pillar: Pillar, lacks: Mapping[str, float], rungs: int, every: Mapping[str, DrillStanding], asked: set[str]) -> PillarShortfall:
    """Say a pillar's shortfall. The open drills of the path say more than what waits behind them or only helps."""
    telling = sorted(lacks, key=lambda n: (not every[n].open, n not in asked, -every[n].fill, n))[:2]
    to_prove = sum(every[n].state in (State.MET, State.WAIVED) for n in lacks)
    to_meet = len(lacks) - to_prove
    counts = [f"{to_meet} of {rungs} rungs {'is' if to_meet == 1 else 'are'} missing"] if to_meet else []
    counts += [f"{to_prove} of {rungs} {'is' if to_prove == 1 else 'are'} still to prove"] if to_prove else []
    because = [f"{', '.join(counts)}.", *(f"{every[n].title}: {every[n].shortfall}." for n in telling)]
    total = sum(lacks.values())
    return PillarShortfall(
        pillar=pillar, title=PILLAR_WORDS[pillar], share=total / rungs, missing=round(total, 3), rungs=rungs, because=tuple(because)
    )


def _shy(asked: Mapping[str, Need], every: Mapping[str, DrillStanding], wall: Wall) -> PillarShortfall | None:
    """Confidence holds a goal back where the trainee's own word on the drills of its path is low."""
    told = [d for n in asked if (d := every[n]).open and d.confidence is not None]
    low = [d for d in told if (d.confidence or 0) <= wall.syllabus.rules.low_confidence.value]
    if not low:
        return None
    because = [f"{len(low)} of {len(told)} open drills on the path were done with little confidence."]
    because += [f"{d.title}: confidence {d.confidence} of 5; {d.setting or 'one rung back until it is calm'}." for d in low[:2]]
    return PillarShortfall(
        pillar="confidence",
        title=PILLAR_WORDS["confidence"],
        share=len(low) / len(told),
        missing=float(len(low)),
        rungs=len(told),
        because=tuple(because),
    )


# --- stay the course ---------------------------------------------------------------------------------------------


def _stay(goal: Goal, wall: Wall, every: Mapping[str, DrillStanding]) -> str | None:
    """When the headline stands still but something below it moved of late, say so: changing now would be the common loss."""
    rules, on = wall.syllabus.rules, wall.on
    head = goal.drills[0]
    still_since = on - timedelta(days=int(rules.standstill_days.value))
    own = wall.marks.get(head, {}).get("gate")
    if head not in every or own is None or own.last_day is None or not own.records:
        return None
    record = own.records[-1]
    if record.day > still_since or own.last_day <= still_since:
        return None
    moved_since = on - timedelta(days=int(rules.moved_days.value))
    moves = [m for n in sorted(wall.syllabus.below[goal.goal] - {head}) if (m := _move(n, wall, moved_since))]
    if not moves:
        return None
    _, told = max(moves)
    gate = wall.syllabus.drills[head].gate
    stood = f"{every[head].title} has stood at {amount(record.value, record.n, gate)} since {spell(record.day, on)}"
    return f"{stood}, but {told}. Stay the course: changing the programme now is the common loss."


def _move(name: str, wall: Wall, since: date) -> tuple[float, str] | None:
    """The largest rise of a drill's records since a day, over what stood before, said in its unit."""
    found: list[tuple[float, str]] = []
    for reading in wall.syllabus.readings[name]:
        own: Marks | None = wall.marks.get(name, {}).get(reading.key)
        if own is None or reading.key.startswith("value"):
            continue
        before: Record | None = next((r for r in reversed(own.records) if r.day <= since), None)
        newest = own.records[-1] if own.records else None
        if before and newest and newest.day > since and before.fill < 1:
            title = wall.syllabus.drills[name].title
            lower = title[:1].lower() + title[1:]
            was, now = (amount(r.value, r.n, reading.gate) for r in (before, newest))
            found.append((newest.fill - before.fill, f"{lower} moved from {was} to {now} on {spell(newest.day, wall.on)}"))
    return max(found, default=None)


def why_not(d: DrillStanding, wall: Wall) -> str:
    """Say in one sentence what opens a closed drill; empty for an open one."""
    if d.open:
        return ""
    needs = [n for n in wall.syllabus.needs[d.drill] if not wall.satisfied(n)]
    said = [need_text(n, wall.syllabus.drills) + f", {n.state}" if n.enough is None else _enough_text(n, wall) for n in needs]
    cleared = [w.sentence[:1].lower() + w.sentence[1:] for w in d.waits if w.state == "cleared"]
    return f"{d.title} opens with {'; and '.join([*cleared, *said])}."


def _enough_text(need: Need, wall: Wall) -> str:
    names = ", ".join(wall.syllabus.drills[w].title.lower() for w in need.any_of)
    return f"enough of {names} ({wall.gathered(need) * 100:.0f} % of the {need.enough.value * 100 if need.enough else 0:.0f} % asked)"
