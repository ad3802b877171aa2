"""The least waiting, proven: a small class as a question to the constraint solver."""

from ortools.sat.python import cp_model

from wise_perch.core.class_night.floor_plan import FloorPlan
from wise_perch.core.class_night.laid import Laid, Placed, Task
from wise_perch.core.class_night.question import LEFT_OUT_MIN

MOST_WORK = 1.5
"""How much the solver may do, in its own deterministic seconds."""
Key = tuple[int, int]


def prove_least(plan: FloorPlan, known: Laid, *, most_work: float = MOST_WORK) -> tuple[Laid, bool]:
    """Ask the solver for the least price, beginning from a rotation that is known. Gives a rotation that is
    not worse and whether nothing is better. Only for a class without past and without anything set by hand.

    Stations of a kind are alike, so a kind is one resource with a count; who stands at which is told apart
    afterwards. Where something is shown to several at once nothing is proven: joining is the search's own.
    """
    if any(task.shown for tasks in plan.tasks for task in tasks):
        return known, False
    return _Question(plan, known).answer(most_work)


class _Question:
    """A class as variables and constraints; starts in whole ticks."""

    def __init__(self, plan: FloorPlan, known: Laid) -> None:
        self.plan, self.known = plan, known
        self.model = cp_model.CpModel()
        self.starts: dict[Key, cp_model.IntVar] = {}
        self.there: dict[Key, cp_model.IntVar] = {}
        self.at: dict[tuple[int, int, str], cp_model.IntVar] = {}
        self.on: dict[str, list[cp_model.IntervalVar]] = {kind: [] for kind in plan.units_of}
        self.hands: list[cp_model.IntervalVar] = []
        placed = {(p.trainee, p.block): p for p in known.placed}
        waits = [wait for t, tasks in enumerate(plan.tasks) for wait in self._put_person(t, tasks, placed)]
        for kind, intervals in self.on.items():
            self.model.add_cumulative(intervals, [1] * len(intervals), len(plan.units_of[kind]))
        self.model.add_cumulative(self.hands, [1] * len(self.hands), plan.question.coaches)
        left_out = len(self.there) - cp_model.LinearExpr.sum(list(self.there.values()))
        price = cp_model.LinearExpr.sum(waits) + int(LEFT_OUT_MIN * plan.per_min) * left_out
        self.model.minimize(price)

    def _put_person(self, t: int, tasks: list[Task], placed: dict[Key, Placed]) -> list[cp_model.LinearExpr]:
        """One session in its order, of which only the end may drop; gives the waiting before each block."""
        model, waits = self.model, []
        horizon = max(self.plan.leaves) + sum(x.length + x.rest for tasks in self.plan.tasks for x in tasks)
        since: cp_model.IntVar | cp_model.LinearExpr = model.new_constant(self.plan.base.ready[t])
        for b, task in enumerate(tasks):
            begin = model.new_int_var(0, horizon, f"start {t} {b}")
            is_in = model.new_bool_var(f"in {t} {b}")
            self.starts[t, b], self.there[t, b] = begin, is_in
            if b:
                model.add_implication(is_in, self.there[t, b - 1])
            model.add(begin >= since)
            model.add(begin + task.length <= self.plan.leaves[t]).only_enforce_if(is_in)
            # what is left out stands where it would begin, and waits for nothing
            model.add(begin == since).only_enforce_if(~is_in)
            waits.append(begin - since)
            since = begin + (task.length + task.rest)
            self._put_block(t, b, task, placed.get((t, b)))
        return waits

    def _put_block(self, t: int, b: int, task: Task, before: Placed | None) -> None:
        """Its station and its coach, hinted at by what is known."""
        model, begin, is_in = self.model, self.starts[t, b], self.there[t, b]
        kinds = sorted({self.plan.names[u][0] for u in task.units} | set(task.ample[:1]))
        for kind in kinds:
            here = self.at[t, b, kind] = model.new_bool_var(f"{kind} {t} {b}")
            if kind in self.on:
                self.on[kind].append(
                    model.new_optional_fixed_size_interval_var(begin, task.length, here, f"{kind} {t} {b} on")
                )
            if before is not None:
                model.add_hint(here, before.kind == kind)
        model.add(sum(self.at[t, b, kind] for kind in kinds) == is_in)
        if task.hands:
            self.hands.append(
                model.new_optional_fixed_size_interval_var(begin, task.hands, is_in, f"hands {t} {b}")
            )
        model.add_hint(is_in, before is not None)
        if before is not None:
            model.add_hint(begin, before.start)

    def answer(self, most_work: float) -> tuple[Laid, bool]:
        """What the solver says within its bounds."""
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 1
        solver.parameters.max_deterministic_time = most_work
        if solver.solve(self.model) != cp_model.OPTIMAL:
            return self.known, False
        if round(solver.objective_value) >= self.plan.cost(self.known)[0]:
            return self.known, True
        return self._as_laid(solver), True

    def _as_laid(self, solver: cp_model.CpSolver) -> Laid:
        """What the solver found, with each block at a station of its own."""
        plan, laid = self.plan, self.plan.fresh()
        free = {u: 0 for units in plan.units_of.values() for u in units}
        turns = sorted(
            (solver.value(self.starts[k]), k) for k, there in self.there.items() if solver.value(there)
        )
        for start, (t, b) in turns:
            task = plan.tasks[t][b]
            kind = next(
                k for (tt, bb, k), here in self.at.items() if (tt, bb) == (t, b) and solver.value(here)
            )
            unit = next((u for u in plan.units_of.get(kind, ()) if free[u] <= start), -1)
            if unit >= 0:
                free[unit] = start + task.length
            laid.placed.append(Placed(t, b, unit, kind, start, start + task.length, task.hands))
            laid.waited[t] += start - laid.ready[t]
            laid.ready[t] = start + task.length + task.rest
            laid.next[t] = b + 1
        return laid
