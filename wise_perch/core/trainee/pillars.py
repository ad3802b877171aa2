"""Which pillar holds a goal back: what is missing, traced down to what is open today and holds up the
rest.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from wise_perch.core.trade.content import Pillar
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.wall import State, Wall

PILLAR_WORDS: Mapping[Pillar, str] = {
    "shape": "Shape",
    "exits": "Exits",
    "entry": "Getting up",
    "confidence": "Confidence upside down",
    "balance": "Balance",
    "strength": "Strength",
    "mobility": "Mobility",
}
RUNGS: Mapping[Pillar, str] = {
    "shape": "shape steps",
    "exits": "exit steps",
    "entry": "entry steps",
    "confidence": "first steps",
    "balance": "balance steps",
    "strength": "strength steps",
    "mobility": "mobility steps",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class PillarShortfall:
    """How much of a pillar is missing for a goal.

    `share` from 0 to 1: `missing` rungs' worth of the `rungs` the goal leads through. `weight` counts, in
    rungs, also what waits above for the drills of this pillar that are open today: the heaviest pillar holds
    the goal back. `drills` are those open today, the one that carries most first.
    """

    pillar: Pillar
    title: str
    share: float
    missing: float
    rungs: int
    weight: float
    because: tuple[str, ...]
    drills: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Lack:
    """One drill that falls short: how much of a rung, how much it carries with all that waits for it, and who
    waits.
    """

    d: DrillStanding
    lack: float
    carries: float
    holds_up: int
    needed: bool


def weigh_pillars(
    *,
    lacking: Mapping[str, float],
    helping: Mapping[str, float],
    rungs: Mapping[Pillar, int],
    every: Mapping[str, DrillStanding],
    wall: Wall,
) -> tuple[PillarShortfall, ...]:
    """Weigh every pillar with something missing, the heaviest first; of equals the one that stands first in
    the rules.

    Args: `lacking` what each drill of the path lacks, in rungs, lowest first; `helping` the same for drills
    that only help; `rungs` how many the goal leads through, by pillar. A drill done with little confidence
    counts toward confidence.
    """
    groups: dict[Pillar, list[_Lack]] = {}
    for lack in _trace_lacks(lacking, helping, every, wall):
        groups.setdefault("confidence" if _lacks_confidence(lack.d, wall) else lack.d.pillar, []).append(lack)
    order = wall.syllabus.rules.pillars
    found = [_pillar_shortfall(pillar, lacks, rungs.get(pillar, 0), wall) for pillar, lacks in groups.items()]
    return tuple(sorted(found, key=lambda p: (-round(p.weight, 6), order.index(p.pillar))))


def _trace_lacks(
    lacking: Mapping[str, float], helping: Mapping[str, float], every: Mapping[str, DrillStanding], wall: Wall
) -> list[_Lack]:
    """Trace what closed drills lack down to the open ones they wait for, in equal parts."""
    below: dict[str, set[str]] = {}
    carries = dict.fromkeys(lacking, 0.0)
    for name, lack in lacking.items():  # lowest first, so that what a drill waits for has been seen
        direct = {
            w
            for need in wall.syllabus.needs[name]
            if not wall.satisfied(need)
            for w in need.any_of
            if w in lacking
        }
        below[name] = direct.union(*(below.get(w, set()) for w in direct))
        roots = [name] if every[name].open else [w for w in below[name] if every[w].open] or [name]
        for root in roots:
            carries[root] += lack / len(roots)
    needed = [
        _Lack(every[n], lack, carries[n], sum(n in b for b in below.values()), True)
        for n, lack in lacking.items()
    ]
    return needed + [
        _Lack(every[n], lack, lack * wall.syllabus.rules.help_counts.value, 0, False)
        for n, lack in helping.items()
    ]


def _lacks_confidence(d: DrillStanding, wall: Wall) -> bool:
    return d.open and d.confidence is not None and d.confidence <= wall.syllabus.rules.low_confidence.value


def _pillar_shortfall(pillar: Pillar, lacks: list[_Lack], rungs: int, wall: Wall) -> PillarShortfall:
    rungs = max(rungs, len(lacks))
    # the open ones say more than what waits behind them, and what carries most says most
    telling = sorted(lacks, key=lambda x: (not x.d.open, -x.carries, x.d.drill))[:2]
    because = [f"{_say_counts(lacks, rungs, pillar)}.", *(_say_lack(x, wall) for x in telling)]
    if telling[0].d.open and telling[0].holds_up > 1:
        title = telling[0].d.title
        because.append(f"{telling[0].holds_up} later drills wait for {title[:1].lower()}{title[1:]}.")
    missing = sum(x.lack for x in lacks)
    return PillarShortfall(
        pillar=pillar,
        title=PILLAR_WORDS[pillar],
        share=missing / rungs,
        missing=round(missing, 3),
        rungs=rungs,
        weight=round(sum(x.carries for x in lacks), 6),
        because=tuple(because),
        drills=tuple(x.d.drill for x in sorted(lacks, key=lambda x: (-x.carries, x.d.drill)) if x.d.open),
    )


def _say_counts(lacks: list[_Lack], rungs: int, pillar: Pillar) -> str:
    to_prove = sum(x.needed and x.d.state in (State.MET, State.WAIVED) for x in lacks)
    passed = rungs - len(lacks) + to_prove
    one = rungs == 1
    steps = RUNGS[pillar][:-1] if one else RUNGS[pillar]
    if not passed:
        return f"The {steps} is not passed yet" if one else f"None of the {rungs} {steps} is passed yet"
    said = f"{passed} of {rungs} {steps} {'is' if passed == 1 else 'are'} passed"
    return f"{said}, {to_prove} still to prove" if to_prove else said


def _say_lack(lack: _Lack, wall: Wall) -> str:
    d = lack.d
    if _lacks_confidence(d, wall):
        return (
            f"{d.title}: confidence {d.confidence} of 5. One step back, lower or farther out, until it is"
            " calm."
        )
    return f"{d.title}: {d.shortfall}."
