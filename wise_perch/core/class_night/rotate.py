"""The rotation: by eye, by a seeded search, by the solver where it proves; what does not fit and what would help."""

import random
from collections.abc import Callable, Sequence
from dataclasses import replace

from wise_perch.core.class_night.bound import least_waiting_min
from wise_perch.core.class_night.floor_plan import FloorPlan, Laid
from wise_perch.core.class_night.helps import ways_to_fit
from wise_perch.core.class_night.prove import prove_least
from wise_perch.core.class_night.question import ClassQuestion, Help, Price, Rotation

TRIES = 2000
"""A fixed number of tries and never a time: the same question gives the same answer on any machine."""
WORK = 150_000
"""The tries of a large class are fewer, so that tries times blocks stay below this."""
FEW_ENOUGH = 6
"""Up to so many trainees the solver may prove the least."""
OnProgress = Callable[[float], bool]


class Cancelled(Exception):
    """Nobody waits for the rotation any more."""


def rotate(question: ClassQuestion, *, tries: int = TRIES, on_progress: OnProgress | None = None) -> Rotation:
    """Find who is where when: nothing over capacity, order and rests kept, hands only where a coach is free.

    The same question gives the same answer. It is never worse than going by eye, and is called the best only where
    the solver proved it. `tries` bounds the work; `on_progress` hears of the share that is done, and says False to
    stop. Raises Cancelled.
    """
    plan = FloorPlan(question)
    eye, turns = plan.by_moment(_longest_waited)
    best = _search(plan, eye, turns, tries, on_progress)
    bound = least_waiting_min(plan)
    proven = False
    if not question.holds and not question.past and len(question.trainees) <= FEW_ENOUGH:
        best, proven = prove_least(plan, best)
    price = plan.price(best)
    whole = price.left_out == 0
    helps: tuple[Help, ...] = ()
    if not whole and tries == TRIES:
        helps = ways_to_fit(question, price.left_out, _quick)
    if on_progress and not on_progress(1.0):
        raise Cancelled
    return Rotation(
        slots=plan.slots(best),
        left_out=tuple(
            (t, b) for t, tasks in enumerate(plan.tasks) for b in range(best.next[t], len(tasks))
        ),
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


def _search(
    plan: FloorPlan, eye: Laid, turns: Sequence[int], tries: int, on_progress: OnProgress | None
) -> Laid:
    """Change the order of turns, and keep what is not worse."""
    starts = [(eye, list(turns)), *_seeds(plan)]
    best, order = min(starts, key=lambda s: plan.cost(s[0]))
    blocks = sum(len(tasks) - n for tasks, n in zip(plan.tasks, plan.base.next, strict=True))
    # turns that were not reached by eye still want to be tried
    order = order + [t for t, tasks in enumerate(plan.tasks) for _ in range(len(tasks) - best.next[t])]
    # laid out turn by turn it may come out otherwise than moment by moment
    at = plan.cost(plan.lay_out(order))
    best_cost, best = min((plan.cost(best), 0, best), (at, 1, plan.lay_out(order)))[0::2]
    rng = random.Random(1)
    count = min(tries, WORK * tries // TRIES // max(1, blocks))
    for n in range(count if len(set(order)) > 1 else 0):
        if best_cost[0] == 0:
            break
        if on_progress and n % 50 == 0 and not on_progress(n / count):
            raise Cancelled
        changed = _changed(order, rng)
        laid = plan.lay_out(changed)
        cost = plan.cost(laid)
        if cost <= at:
            order, at = changed, cost
            if cost < best_cost:
                best, best_cost = laid, cost
    return best


def _changed(order: list[int], rng: random.Random) -> list[int]:
    """Two turns swapped, or one taken to another place."""
    changed = list(order)
    i, j = rng.randrange(len(order)), rng.randrange(len(order))
    while changed[i] == changed[j]:
        j = rng.randrange(len(order))
    if rng.random() < 0.5:
        changed[i], changed[j] = changed[j], changed[i]
    else:
        changed.insert(j, changed.pop(i))
    return changed


def _quick(question: ClassQuestion) -> Price:
    """The price of a question by few tries, to hold one question against another."""
    plan = FloorPlan(replace(question, holds=()))
    eye, turns = plan.by_moment(_longest_waited)
    return plan.price(_search(plan, eye, turns, TRIES // 10, None))
