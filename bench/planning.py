"""What a week's plan costs: one trainee's, and those of sixty, beside the solver alone on a plain
knapsack.
"""

import statistics
import time
from collections.abc import Callable, Sequence
from random import Random

from ortools.sat.python import cp_model

from tests.core.planning import asked_for, wished
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.week.plan import plan_week
from wise_perch.syllabus.shipped import in_use

PEOPLE = 60
Timed = Callable[[Callable[[], object], int], list[float]]
Said = Callable[..., None]


def bare_knapsack() -> None:
    """The bare reference of a plan: the solver alone on a knapsack of sixty pieces."""
    model, dice = cp_model.CpModel(), Random(2)
    there = [model.new_bool_var(f"x{n}") for n in range(60)]
    model.add(sum(dice.randrange(5, 60) * x for x in there) <= 400)
    model.maximize(sum(dice.randrange(5, 100) * x for x in there))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.solve(model)


def planning(people: Sequence[list[Evidence]], *, milliseconds: Timed, line: Said) -> None:
    """Print the figures of planning for these people."""
    goals = [g.goal for g in in_use().content.goals]
    wish = wished(55, 45, 60, days=(0, 2, 5))
    asked = [
        asked_for(*own, goals=[goals[n % len(goals)], goals[(n + 3) % len(goals)]])
        for n, own in enumerate(people[:20])
    ]
    times = [milliseconds(lambda a=a: plan_week(a, wish), 1)[0] for a in asked]  # type: ignore[misc]
    reference = statistics.median(milliseconds(bare_knapsack, 10))
    median = statistics.median(times)
    figure = f"{median:.0f} ms ({median / reference:.1f} x a bare knapsack; worst {max(times):.0f} ms)"
    line("planning one trainee's week, median", figure, "1 s", good=median <= 1000)
    begun = time.perf_counter()
    for n, own in enumerate(people):
        plan_week(asked_for(*own, goals=[goals[n % len(goals)]]), wish)
    took = time.perf_counter() - begun
    line(
        "planning sixty weeks, standing and all",
        f"{took:.1f} s ({took * 1000 / reference:.0f} x)",
        "60 s",
        good=took <= 60,
    )
