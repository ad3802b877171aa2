"""How little can be waited at all: one resource at a time, whoever has least left on it first."""

from collections.abc import Callable, Iterable
from heapq import heappop, heappush
from math import ceil

from wise_perch.core.class_night.floor_plan import FloorPlan
from wise_perch.core.class_night.laid import Laid, Task


def least_waiting_min(plan: FloorPlan) -> float:
    """No rotation in which nothing is left out waits less than this, min.

    Each kind of station, each set of kinds that some block may choose among, and the coaches are taken
    alone. A resource of `c` alike parts is let be one that is `c` times as fast and may break work off: on
    it the shortest remaining work first ends everybody soonest in sum. Source: L. Schrage, "A proof of the
    optimality of the shortest remaining processing time discipline", Operations Research 16 (1968), 687-690
    (from memory).
    """
    base = plan.base
    sets = {frozenset(t.units) for tasks in plan.tasks for t in tasks if t.units and not t.ample}
    found = [_on_units(plan, base, units) for units in sets]
    found.append(_on_coaches(plan, base))
    return (sum(base.waited) + max([0, *found])) / plan.per_min


def _on_units(plan: FloorPlan, base: Laid, units: frozenset[int]) -> int:
    """Waiting for these stations alone, in ticks."""

    def asks(task: Task) -> int:
        return task.length if task.units and not task.ample and units.issuperset(task.units) else 0

    # what is still booked is waited for by nobody here: it could only make the bound higher
    return _waited(plan, base, asks, len(units))


def _on_coaches(plan: FloorPlan, base: Laid) -> int:
    # what is shown to several at once may cost the coach nothing more
    return _waited(plan, base, lambda t: 0 if t.shown else t.hands, plan.question.coaches)


def _waited(plan: FloorPlan, base: Laid, asks: Callable[[Task], int], parts: int) -> int:
    jobs: list[tuple[int, int, int]] = []
    alone = 0
    for t, tasks in enumerate(plan.tasks):
        left = tasks[base.next[t] :]
        own = [asks(task) for task in left]
        if not any(own):
            continue
        first = next(n for n, work in enumerate(own) if work)
        final = len(own) - 1 - next(n for n, work in enumerate(reversed(own)) if work)
        head = base.ready[t] + sum(task.length + task.rest for task in left[:first])
        # what lies between the first and the last work here, and after the work in its own last block
        spread = sum(task.length + task.rest for task in left[first:final]) + own[final] - sum(own)
        jobs.append((head, sum(own), spread))
        alone += head + sum(own) + spread
    if not jobs or not parts:
        return 0
    ended = sum(shortest_first(((head, work) for head, work, _ in jobs), parts))
    return max(0, ceil(ended - 0.001) - alone)


def shortest_first(jobs: Iterable[tuple[int, int]], parts: int) -> list[float]:
    """When each job ends, shortest remaining first, on one part that is `parts` times as fast."""
    coming = sorted(jobs)
    waiting: list[float] = []
    ended: list[float] = []
    at, n = 0.0, 0
    while n < len(coming) or waiting:
        if not waiting:
            at = max(at, coming[n][0])
        while n < len(coming) and coming[n][0] <= at:
            heappush(waiting, coming[n][1] / parts)
            n += 1
        work = heappop(waiting)
        until = coming[n][0] if n < len(coming) else float("inf")
        if at + work <= until:
            at += work
            ended.append(at)
        else:
            heappush(waiting, work - (until - at))
            at = until
    return ended
