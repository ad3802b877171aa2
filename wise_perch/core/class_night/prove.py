"""The least waiting, proven: a small class as a question to the constraint solver."""

from ortools.sat.python import cp_model

from wise_perch.core.class_night.floor_plan import FloorPlan, Laid, Placed
from wise_perch.core.class_night.question import LEFT_OUT_MIN

MOST_WORK = 1.5
"""How much the solver may do, in its own deterministic seconds."""


def prove_least(plan: FloorPlan, known: Laid, *, most_work: float = MOST_WORK) -> tuple[Laid, bool]:
    """Ask the solver for the least price, beginning from a rotation that is known. Gives a rotation that is not worse
    and whether nothing is better. Only for a class without past and without anything set by hand.

    Starts are kept in whole ticks. Stations of a kind are alike, so a kind is one resource with a
    count; who stands at which is told apart afterwards.
    """
    model, horizon = cp_model.CpModel(), max([0, *plan.leaves])
    starts: dict[tuple[int, int], cp_model.IntVar] = {}
    there: dict[tuple[int, int], cp_model.IntVar] = {}
    at: dict[tuple[int, int, str], cp_model.IntVar] = {}
    on: dict[str, list[cp_model.IntervalVar]] = {kind: [] for kind in plan.units_of}
    hands: list[cp_model.IntervalVar] = []
    placed = {(p.trainee, p.block): p for p in known.placed}
    waits = []
    for t, tasks in enumerate(plan.tasks):
        since: cp_model.LinearExprT = plan.base.ready[t]
        for b, task in enumerate(tasks):
            if task.shown:
                # showings that are joined are the search's own
                return known, False
            begin = model.new_int_var(0, horizon + plan.per_min * 1000, f"start {t} {b}")
            is_in = model.new_bool_var(f"in {t} {b}")
            starts[t, b], there[t, b] = begin, is_in
            if b:
                model.add_implication(is_in, there[t, b - 1])
            model.add(begin >= since)
            model.add(begin + task.length <= plan.leaves[t]).only_enforce_if(is_in)
            # what is left out stands where it would begin, and waits for nothing
            model.add(begin == since).only_enforce_if(~is_in)
            waits.append(begin - since)
            since = begin + task.length + task.rest
            kinds = sorted({plan.names[u][0] for u in task.units} | set(task.ample[:1]))
            chosen = []
            for kind in kinds:
                here = model.new_bool_var(f"{kind} {t} {b}")
                at[t, b, kind] = here
                chosen.append(here)
                if kind in on:
                    on[kind].append(
                        model.new_optional_fixed_size_interval_var(begin, task.length, here, f"on {t} {b} {kind}")
                    )
            model.add(sum(chosen) == is_in)
            if task.hands:
                hands.append(model.new_optional_fixed_size_interval_var(begin, task.hands, is_in, f"hands {t} {b}"))
            before = placed.get((t, b))
            model.add_hint(is_in, before is not None)
            if before is not None:
                model.add_hint(begin, before.start)
                for kind in kinds:
                    model.add_hint(at[t, b, kind], before.kind == kind)
    for kind, intervals in on.items():
        model.add_cumulative(intervals, [1] * len(intervals), len(plan.units_of[kind]))
    model.add_cumulative(hands, [1] * len(hands), plan.question.coaches)
    left_out = sum(1 - is_in for is_in in there.values())
    model.minimize(sum(waits) + int(LEFT_OUT_MIN * plan.per_min) * left_out)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = most_work
    status = solver.solve(model)
    if status != cp_model.OPTIMAL:
        return known, False
    if round(solver.objective_value) >= plan.cost(known)[0]:
        return known, True
    return _as_laid(plan, solver, starts, there, at), True


def _as_laid(
    plan: FloorPlan,
    solver: cp_model.CpSolver,
    starts: dict[tuple[int, int], cp_model.IntVar],
    there: dict[tuple[int, int], cp_model.IntVar],
    at: dict[tuple[int, int, str], cp_model.IntVar],
) -> Laid:
    """What the solver found, with each block at a station of its own."""
    laid = plan.fresh()
    turns = sorted((solver.value(starts[key]), key) for key, is_in in there.items() if solver.value(is_in))
    free = {u: 0 for units in plan.units_of.values() for u in units}
    for start, (t, b) in turns:
        task = plan.tasks[t][b]
        kind = next(k for (tt, bb, k), here in at.items() if (tt, bb) == (t, b) and solver.value(here))
        unit = next((u for u in plan.units_of.get(kind, ()) if free[u] <= start), -1)
        if unit >= 0:
            free[unit] = start + task.length
        laid.placed.append(Placed(t, b, unit, kind, start, start + task.length, task.hands))
        laid.waited[t] += start - laid.ready[t]
        laid.ready[t] = start + task.length + task.rest
        laid.next[t] = b + 1
    return laid
