"""The plan on trial beside a notebook and a fixed programme: ten kinds of simulated trainee in worlds of
several seeds. Run by `python -m bench.rehearsal [WEEKS] [SEEDS]`, seeds as 6,7,8.

Rules were tuned on odd seeds; what docs/figures.md reports comes from even ones.
"""

import sys
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from random import Random
from statistics import mean

from wise_perch.core.body.kit import KitItem
from wise_perch.core.rehearsal.learner import Learner, draw_world
from wise_perch.core.rehearsal.notebook import FixedProgramme, train_by_notebook
from wise_perch.core.rehearsal.rehearse import Rehearsed, Train, open_piece, rehearse, train_by_plan
from wise_perch.core.trade.checks import gate_setting
from wise_perch.core.trade.content import Drill, Pillar
from wise_perch.core.trade.evidence import Evidence, Form, Side
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.case import Case
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import Arrangement
from wise_perch.syllabus.shipped import in_use

ON = date(2026, 6, 7)
KIT = (
    KitItem(kind="pad", thickness_cm=5, count=4),
    KitItem(kind="plate", thickness_cm=2.5, count=4),
    KitItem(kind="box", thickness_cm=30, count=1),
)


@dataclass(frozen=True, kw_only=True)
class Kind:
    """A kind of trainee: what each pillar can do, in rungs, what they train for, and on which days."""

    ability: Mapping[Pillar, float]
    goals: tuple[str, ...]
    days: tuple[int, ...] = (0, 2, 5)
    confidence: int | None = None
    away_days: int = 0
    aches: tuple[tuple[str, int], ...] = ()
    stature_cm: float = 172
    own: Mapping[str, float] = field(default_factory=dict)


def _rungs(
    shape: float,
    exits: float,
    confidence: float,
    entry: float,
    balance: float,
    strength: float,
    range_: float,
) -> dict[Pillar, float]:
    return {
        **{"shape": shape, "exits": exits, "confidence": confidence, "entry": entry},
        **{"balance": balance, "strength": strength, "mobility": range_},
    }


HOLD = "freestanding-hold"
KINDS: Mapping[str, Kind] = {
    "beginner": Kind(ability=_rungs(0.3, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3), goals=(HOLD,)),
    "frightened": Kind(
        ability=_rungs(0.5, 0.2, 0.2, 0.2, 0.2, 0.5, 0.5), goals=(HOLD,), days=(1, 4), confidence=1
    ),
    "at the wall": Kind(ability=_rungs(3, 4, 4, 3, 5, 2, 1), goals=(HOLD,), days=(0, 2, 4, 5)),
    "near the hold": Kind(ability=_rungs(4, 9, 6, 9, 10, 4, 2), goals=(HOLD,)),
    "pusher": Kind(ability=_rungs(3, 4, 5, 3, 5, 5, 2), goals=("strict-push", HOLD), days=(0, 1, 3, 5)),
    "presser": Kind(ability=_rungs(4, 9, 7, 8, 9, 6, 2), goals=("straddle-press",), days=(0, 2, 4)),
    "stiff and strong": Kind(ability=_rungs(4, 9, 7, 8, 9, 8, 0.2), goals=("straddle-press",)),
    "comes back": Kind(ability=_rungs(3, 7, 6, 7, 8, 3, 1), goals=(HOLD,), away_days=100),
    "sore wrist": Kind(ability=_rungs(3, 4, 4, 3, 5, 3, 1), goals=(HOLD,), aches=(("left wrist", 2),)),
    "two goals": Kind(
        ability=_rungs(4, 9, 6, 9, 9, 6, 3), goals=(HOLD, "straddle-press"), days=(0, 1, 3, 5), stature_cm=186
    ),
}


def begin(kind: Kind, name: str, seed: int) -> tuple[Learner, Case]:
    """Somebody of a kind in the world of a seed, with two days of what they can do on record."""
    dice, syllabus = Random(f"{name} {seed}"), in_use()
    world = draw_world(dice)
    learner = Learner(syllabus, world, dice, dict(kind.ability))
    learner.own.update(kind.own)
    pieces = [
        piece
        for ago in (kind.away_days + 12, kind.away_days + 5)
        for _, _, drill in syllabus.placed()
        if learner.fill(drill) >= 1
        for piece in _shown(learner, drill, ON - timedelta(days=ago))
    ]
    profile = Profile(
        stature_cm=kind.stature_cm, mass_kg=68, lengths_cm={}, cautions={}, confidence=kind.confidence
    )
    case = Case(
        on=ON,
        syllabus=syllabus,
        arrangement=Arrangement(schools={}, goals=kind.goals, waivers=(), profile=profile),
        sets=tuple(pieces),
        runs=(),
        tested={},
        kit=KIT,
        told_aches=tuple(Ache(joint=joint, level=level, day=ON) for joint, level in kind.aches),
        rest_s=45,
        float_switch_s=5,
    )
    return learner, case


def _shown(learner: Learner, drill: Drill, day: date) -> list[Evidence]:
    value, n = learner.measure(drill)
    at, gate = gate_setting(drill.gate), drill.gate
    sides: tuple[Side | None, ...] = (Side.LEFT, Side.RIGHT) if gate.each_side else (None,)
    dial = {drill.dial.name: at} if drill.dial and at is not None else {}
    own = [replace(open_piece(drill, value, n, day), side=side, dial=dial) for side in sides]
    also = [
        Evidence(
            drill=drill.drill, day=day, measure=g.measure, value=g.value, n=g.of, form=Form.CLEAN, mode=g.mode
        )
        for g in gate.also
    ]
    return own + also


@dataclass
class Sums:
    """What all lives of a kind came to with one coach. `behind`: steps passed, whether still fresh or not;
    `goals`: weeks to the goal, of those who reached it;
    `halfway`: weeks until half of the path was behind them, of those who came so far.
    """

    steps: int = 0
    behind: int = 0
    gates: int = 0
    still: int = 0
    goals: list[int] = field(default_factory=list)
    halfway: list[int] = field(default_factory=list)
    asked: list[float] = field(default_factory=list)

    def add(self, found: Rehearsed) -> None:
        """Add one life."""
        self.steps += found.steps
        self.behind += found.behind
        self.gates += found.gates
        self.still = max(self.still, found.weeks_without_change)
        self.goals += [found.weeks_to_goal] if found.weeks_to_goal else []
        half = next((n for n, w in enumerate(found.weeks, start=1) if w.path <= found.path / 2), None)
        self.halfway += [half] if half else []
        self.asked += [found.share_as_asked] if found.share_as_asked is not None else []

    def text(self, lives: int) -> str:
        """One line of it."""
        asked = f"{100 * sum(self.asked) / len(self.asked):.0f} % as asked" if self.asked else "nothing asked"
        goal = f"goal {len(self.goals)}/{lives}" + (f" in {mean(self.goals):.0f} weeks" if self.goals else "")
        half = f"half way {len(self.halfway)}/{lives}" + (
            f" in {mean(self.halfway):.0f}" if self.halfway else ""
        )
        steps = f"{self.steps} steps ({self.behind} passed)"
        return f"{steps}, {self.gates} gates, {goal}, {half}, {asked}, still {self.still}"


COACHES: Mapping[str, Callable[[], Train]] = {
    "plan": lambda: train_by_plan,
    "notebook": lambda: train_by_notebook,
    "programme": FixedProgramme,
}


def main(weeks: int, seeds: list[int]) -> None:
    """Print each kind with each coach, and the ratios over all."""
    whole = {coach: Sums() for coach in COACHES}
    behind = []
    for name, kind in KINDS.items():
        sums = {coach: Sums() for coach in COACHES}
        for coach, make in COACHES.items():
            for seed in seeds:
                learner, case = begin(kind, name, seed)
                found = rehearse(learner, make(), case, days=kind.days, weeks=weeks)
                sums[coach].add(found)
                whole[coach].add(found)
            print(f"{name}, {coach}: {sums[coach].text(len(seeds))}", flush=True)
        if sums["plan"].steps < max(s.steps for s in sums.values()):
            behind.append(name)
    plan = whole["plan"]
    for coach in ("notebook", "programme"):
        other = whole[coach]
        print(
            f"against the {coach}: steps {plan.steps}:{other.steps} = {plan.steps / max(1, other.steps):.2f},"
            f" passed {plan.behind}:{other.behind} = {plan.behind / max(1, other.behind):.2f},"
            f" gates {plan.gates}:{other.gates} = {plan.gates / max(1, other.gates):.2f},"
            f" half way {len(plan.halfway)} of them against {len(other.halfway)}"
        )
    print(f"behind in: {', '.join(behind) or 'no kind'}")


if __name__ == "__main__":
    main(
        int(sys.argv[1]) if len(sys.argv) > 1 else 26,
        [int(x) for x in sys.argv[2].split(",")] if len(sys.argv) > 2 else [2, 4, 6, 8, 10],
    )
