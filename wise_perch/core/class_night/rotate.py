"""The rotation: by eye, by a seeded search, by the solver where it proves; what does not fit and what would
help.
"""

import random
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp

from wise_perch.core.class_night.bound import least_waiting_min
from wise_perch.core.class_night.floor_plan import FloorPlan
from wise_perch.core.class_night.helps import ways_to_fit
from wise_perch.core.class_night.laid import Laid
from wise_perch.core.class_night.prove import prove_least
from wise_perch.core.class_night.question import ClassQuestion, Help, Price, Rotation

TRIES = 8000
"""A fixed number of tries and never a time: the same question gives the same answer on any machine."""
WORK = 150_000
"""The tries of a large class are fewer, so that tries times blocks stay below this."""
QUICK = 3000
"""Tries where the evening has changed and everybody waits."""
ROUNDS, HEAT_MIN, OTHER_KIND = 3, 4.0, 0.15
"""The search begins anew so often; how much dearer something may be at first, min; how often another kind of
station is tried. Chosen on evenings other than those that are reported.
"""
FEW_ENOUGH = 6
"""Up to so many trainees the solver may prove the least."""
SOON_TRIED = 10
"""With so many at most what would help is tried at each change too: it stays within a second."""
OnProgress = Callable[[float], bool]


class Cancelled(Exception):
    """Nobody waits for the rotation any more."""


def rotate(question: ClassQuestion, *, tries: int = TRIES, on_progress: OnProgress | None = None) -> Rotation:
    """Find who is where when: nothing over capacity, order and rests kept, hands only where a coach is free.

    The same question gives the same answer. It is never worse than going by eye, and is called the best only
    where the solver proved it. `tries` bounds the work; `on_progress` hears of the share that is done, and
    says False to stop. Raises Cancelled.
    """
    plan = FloorPlan(question)
    best, eye = search(plan, tries=tries, on_progress=on_progress)
    bound = least_waiting_min(plan)
    proven = False
    if not question.holds and not question.past and len(question.trainees) <= FEW_ENOUGH:
        best, proven = prove_least(plan, best)
    price = plan.price(best)
    whole = price.left_out == 0
    helps: tuple[Help, ...] = ()
    if not whole and (tries == TRIES or len(question.trainees) <= SOON_TRIED):
        helps = ways_to_fit(question, price.left_out, _quick)
    if on_progress and not on_progress(1.0):
        raise Cancelled
    return Rotation(
        slots=plan.slots(best),
        left_out=tuple((t, b) for t, tasks in enumerate(plan.tasks) for b in range(best.next[t], len(tasks))),
        price=price,
        by_eye=plan.price(eye),
        bound_min=round(bound, 2) if whole else None,
        proven=proven or (whole and price.waited_min <= bound + 1e-9),
        waited_min=tuple(w / plan.per_min for w in best.waited),
        would_help=helps,
    )


def _longest_waited(laid: Laid, trainee: int) -> tuple[float, ...]:
    """By eye: whoever has stood about longest goes next."""
    return (laid.ready[trainee],)


def _seeds(plan: FloorPlan) -> list[tuple[Laid, list[int]]]:
    """Two rules to begin from: who has most before them, and who needs what is scarcest."""
    wanted: dict[int, float] = {}
    for tasks in plan.tasks:
        for task in tasks:
            for unit in task.units:
                wanted[unit] = wanted.get(unit, 0.0) + task.length / len(task.units)

    def most_left(laid: Laid, t: int) -> tuple[float, ...]:
        return (-sum(task.length + task.rest for task in plan.tasks[t][laid.next[t] :]),)

    def scarcest(laid: Laid, t: int) -> tuple[float, ...]:
        task = plan.tasks[t][laid.next[t]]
        return (-min((wanted[u] for u in task.units), default=0.0) - task.hands,)

    return [plan.by_moment(rule) for rule in (most_left, scarcest)]


@dataclass(frozen=True, slots=True)
class _Order:
    """What the search changes: whose turn it is when, and which blocks are to be at one kind of station."""

    turns: tuple[int, ...]
    only: Mapping[tuple[int, int], str]


class _Search:
    """Changes one thing at a time. What is dearer is kept too while it is early, and less and less later."""

    def __init__(self, plan: FloorPlan, eye: Laid, turns: Sequence[int]) -> None:
        self.plan = plan
        starts = [(eye, turns), *_seeds(plan)]
        self.best, first = min(starts, key=lambda s: plan.cost(s[0]))
        self.cost = plan.cost(self.best)
        missing = [t for t, tasks in enumerate(plan.tasks) for _ in range(len(tasks) - self.best.next[t])]
        self.order = _Order((*first, *missing), {})
        self.random = random.Random(1)
        begun = plan.base.next
        self.choices = [
            ((t, b), kinds)
            for t, tasks in enumerate(plan.tasks)
            for b in range(begun[t], len(tasks))
            if len(kinds := _kinds_of(plan, t, b)) > 1
        ]

    def run(self, tries: int, on_progress: OnProgress | None) -> Laid:
        """Go on for so many tries, in a few rounds that each begin from the best. Raises Cancelled."""
        count = min(tries, WORK * tries // TRIES // max(1, len(self.order.turns)))
        if len(set(self.order.turns)) < 2:
            count = 0
        each = max(1, count // ROUNDS)
        for round_ in range(ROUNDS if count else 0):
            order, at = self.order, self._try(self.order)
            for n in range(each):
                if self.cost[0] == 0:
                    return self.best
                if on_progress and n % 50 == 0 and not on_progress((round_ + n / each) / ROUNDS):
                    raise Cancelled
                heat = HEAT_MIN * self.plan.per_min * (1 - n / each) ** 2
                changed = self._change(order)
                cost = self._try(changed)
                if cost <= at or self.random.random() < exp((at[0] - cost[0]) / heat):
                    order, at = changed, cost
        return self.best

    def _try(self, order: _Order) -> tuple[int, int]:
        laid = self.plan.lay_out(order.turns, order.only)
        cost = self.plan.cost(laid)
        if cost < self.cost:
            self.best, self.cost, self.order = laid, cost, order
        return cost

    def _change(self, order: _Order) -> _Order:
        if self.choices and self.random.random() < OTHER_KIND:
            key, kinds = self.random.choice(self.choices)
            only = {k: v for k, v in order.only.items() if k != key}
            if key not in order.only:
                only[key] = self.random.choice(kinds)
            return _Order(order.turns, only)
        return _Order(_turned(order.turns, self.random), order.only)


def _kinds_of(plan: FloorPlan, trainee: int, block: int) -> list[str]:
    task = plan.tasks[trainee][block]
    return sorted({plan.names[u][0] for u in task.units} | set(task.ample[:1]))


def _turned(turns: tuple[int, ...], dice: random.Random) -> tuple[int, ...]:
    """Two turns swapped, or one taken to another place."""
    changed = list(turns)
    i, j = dice.randrange(len(changed)), dice.randrange(len(changed))
    while changed[i] == changed[j]:
        j = dice.randrange(len(changed))
    if dice.random() < 0.5:
        changed[i], changed[j] = changed[j], changed[i]
    else:
        changed.insert(j, changed.pop(i))
    return tuple(changed)


def search(
    plan: FloorPlan, *, tries: int = TRIES, on_progress: OnProgress | None = None
) -> tuple[Laid, Laid]:
    """Give the best that was found, and what going by eye gives. Raises Cancelled."""
    eye, turns = plan.by_moment(_longest_waited)
    return _Search(plan, eye, turns).run(tries, on_progress), eye


def _quick(question: ClassQuestion) -> Price:
    """The price of a question by few tries, to hold one question against another."""
    plan = FloorPlan(replace(question, holds=()))
    return plan.price(search(plan, tries=TRIES // 20)[0])
