"""Which drills on which days: a small optimisation, solved exactly and always alike for the same question."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from fractions import Fraction
from math import ceil, floor
from typing import TYPE_CHECKING, cast

from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.session_rules import SessionRules
from wise_perch.core.week.candidates import Candidate

if TYPE_CHECKING:
    # loaded by the first week that is planned and not by every start: it takes most of a second
    from ortools.sat.python import cp_model

UNIT_S = 5
"""Times are reckoned in steps of so many seconds, rounded up."""
SCALE = 100
"""What one point of a candidate's worth is in the objective."""
DETERMINISTIC_TIME = 3.0
"""How long the solver may look, in its own steps and not in seconds, so that a busy machine answers alike."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """One day to fill: the time left beside preparation, s; candidates that may not stand here, and what is
    pinned with its sets.
    """

    day: date
    free_s: float
    barred: frozenset[str]
    pinned: Mapping[str, int | None]


@dataclass(frozen=True, slots=True, kw_only=True)
class Chosen:
    """The sets of each candidate by day; `best`: nothing better exists."""

    sets: Mapping[tuple[date, str], int]
    best: bool


@dataclass(frozen=True, kw_only=True)
class Puzzle:
    """A week to fill. `joints_most`: the most that may be planned on a joint, body-weight seconds.
    `load_most_s`: the most hand-load that may be planned; `rehearsal_s`: what open-floor
    work costs beforehand.
    """

    slots: Sequence[Slot]
    candidates: Sequence[Candidate]
    rules: SessionRules
    holding: Pillar | None
    load_most_s: float
    rehearsal_s: float
    rehearsal_load_s: float
    heavy: Sequence[tuple[date, str]]
    joints_most: Mapping[str, float] = field(default_factory=dict)


def in_units(seconds: float) -> int:
    """Seconds in whole steps, rounded up."""
    return int(-(-seconds // UNIT_S))


def cost_in_units(candidate: Candidate, rules: SessionRules) -> tuple[int, int]:
    """What a candidate takes on a day: steps for being there, and steps a set."""
    change = in_units(rules.change_over_s.value)
    if candidate.dose is None:
        return change + in_units(candidate.test_s), 0
    dose = candidate.dose
    once = change - (0 if dose.every_minute else in_units(dose.rest_s)) + in_units(dose.first_s)
    return once, in_units(dose.set_s)


class _Model:
    """The variables of a week: whether a candidate stands on a day, and with how many sets."""

    def __init__(self, puzzle: Puzzle) -> None:
        from ortools.sat.python import cp_model

        self.puzzle, self.model = puzzle, cp_model.CpModel()
        self.there: dict[tuple[int, int], cp_model.IntVar] = {}
        self.sets: dict[tuple[int, int], cp_model.IntVar] = {}
        for d, slot in enumerate(puzzle.slots):
            for c, candidate in enumerate(puzzle.candidates):
                if candidate.name not in slot.barred or candidate.name in slot.pinned:
                    self._place(d, slot, c, candidate)

    def _place(self, d: int, slot: Slot, c: int, candidate: Candidate) -> None:
        there = self.model.new_bool_var(f"there {d} {c}")
        least, most = (candidate.dose.least, candidate.dose.most) if candidate.dose else (1, 1)
        if candidate.name in slot.pinned:
            self.model.add(there == 1)
            if fixed := slot.pinned[candidate.name]:
                least = most = fixed
        sets = self.model.new_int_var(0, most, f"sets {d} {c}")
        self.model.add(sets >= least * there)
        self.model.add(sets <= most * there)
        self.there[d, c], self.sets[d, c] = there, sets

    def of_day(self, d: int, *, kind: str = "", away: bool = False) -> list[cp_model.IntVar]:
        """What may stand on a day: all of it, the heavy ones of a kind, or what is away from the wall."""
        wanted = self.puzzle.candidates
        return [
            v
            for (day, c), v in self.there.items()
            if day == d and (not kind or wanted[c].heavy == kind) and (not away or wanted[c].away)
        ]

    def any_of(self, found: Sequence[cp_model.IntVar], name: str) -> cp_model.IntVar:
        """A variable that is 1 as soon as one of them is."""
        flag = self.model.new_bool_var(name)
        self.model.add_max_equality(flag, found or [self.model.new_constant(0)])
        return flag


def solve_week(puzzle: Puzzle) -> Chosen | None:
    """Fill the week; None where what is pinned cannot all be had."""
    from ortools.sat.python import cp_model

    made = _Model(puzzle)
    _bound_week(made)
    _bound_days(made)
    for joint, most in puzzle.joints_most.items():
        _bound_joint(made, joint, most)
    _heavy_days(made)
    _set_objective(made)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = DETERMINISTIC_TIME
    status = solver.solve(made.model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    found = {
        (puzzle.slots[d].day, puzzle.candidates[c].name): solver.value(v)
        for (d, c), v in made.sets.items()
        if solver.value(made.there[d, c])
    }
    return Chosen(sets=found, best=status == cp_model.OPTIMAL)


def _bound_week(made: _Model) -> None:
    """Time, blocks and singles of a day; hand-load of the week."""
    puzzle, model, rules = made.puzzle, made.model, made.puzzle.rules
    load: list[cp_model.LinearExprT] = []
    pinned_load, pinned_any = 0.0, any(slot.pinned for slot in puzzle.slots)
    for d, slot in enumerate(puzzle.slots):
        rehearse = made.any_of(made.of_day(d, away=True), f"open floor {d}")
        time: list[cp_model.LinearExprT] = [in_units(puzzle.rehearsal_s) * rehearse]
        load.append(round(puzzle.rehearsal_load_s * 10) * rehearse)
        singles: list[cp_model.LinearExprT] = []
        short: list[cp_model.LinearExprT] = []
        for (day, c), there in made.there.items():
            if day != d:
                continue
            candidate, sets = puzzle.candidates[c], made.sets[d, c]
            once, each = cost_in_units(candidate, rules)
            time.append(once * there + each * sets)
            if candidate.dose:
                load.append(round(candidate.dose.load_s * 10) * sets)
                if candidate.name in slot.pinned:
                    pinned_load += candidate.dose.load_s * (
                        slot.pinned[candidate.name] or candidate.dose.least
                    )
            if candidate.singles:
                singles.append((candidate.singles * there) if candidate.is_test else sets)
            if candidate.short_tries:
                short.append(sets)
        model.add(sum(time) <= int(slot.free_s // UNIT_S))
        # what the coach pinned beyond the usual counts in full, and leaves room for nothing more
        model.add(sum(made.of_day(d)) <= max(int(rules.blocks_most.value), len(slot.pinned)))
        wanted = sum(n or 0 for n in slot.pinned.values())
        for tries, most in ((singles, rules.singles_most), (short, rules.short_tries_most)):
            if tries:
                model.add(sum(tries) <= int(max(most.value, wanted)))
    # rehearsals belong to what is pinned
    pinned_load += puzzle.rehearsal_load_s * len(puzzle.slots)
    model.add(
        sum(load) <= max(int(puzzle.load_most_s * 10), round(pinned_load * 10) + 1 if pinned_any else 0)
    )


def _bound_days(made: _Model) -> None:
    """No drill stands on more days than it should, but for those the coach pinned."""
    puzzle = made.puzzle
    for c, candidate in enumerate(puzzle.candidates):
        mine = [v for (_, n), v in made.there.items() if n == c]
        wanted = sum(candidate.name in slot.pinned for slot in puzzle.slots)
        if mine:
            made.model.add(sum(mine) <= max(candidate.days, wanted))


def _bound_joint(made: _Model, joint: str, most: float) -> None:
    """What is planned on a joint; what the coach pinned counts in full, and leaves room for nothing more."""
    puzzle = made.puzzle
    mine = {c: x.dose for c, x in enumerate(puzzle.candidates) if x.dose and joint in x.joints}
    pinned = sum(
        dose.load_s * (slot.pinned[puzzle.candidates[c].name] or dose.least)
        for slot in puzzle.slots
        for c, dose in mine.items()
        if puzzle.candidates[c].name in slot.pinned
    )
    # rounded so that no week puts more on it by rounding
    load = [ceil(mine[c].load_s * 10) * sets for (_, c), sets in made.sets.items() if c in mine]
    if load:
        made.model.add(_sum_of(load) <= max(floor(most * 10), ceil(pinned * 10) + 10 * bool(pinned)))


def _heavy_days(made: _Model) -> None:
    """Heavy push and heavy press never meet in a session; either keeps 48 hours from itself and the other,
    and a session has only so many heavy drills.
    """
    puzzle = made.puzzle
    heavy_days = {}
    for d, slot in enumerate(puzzle.slots):
        push = made.any_of(made.of_day(d, kind="push"), f"push {d}")
        press = made.any_of(made.of_day(d, kind="press"), f"press {d}")
        made.model.add(push + press <= 1)
        pinned = sum(1 for c in puzzle.candidates if c.heavy and c.name in slot.pinned)
        every = [*made.of_day(d, kind="push"), *made.of_day(d, kind="press")]
        made.model.add(sum(every) <= max(int(puzzle.rules.heavy_most.value), pinned))
        heavy_days[slot.day] = (push, press)
    done = {day for day, _ in puzzle.heavy}
    pinned_days = {
        slot.day for slot in puzzle.slots if any(c.heavy and c.name in slot.pinned for c in puzzle.candidates)
    }
    for day, (push, press) in heavy_days.items():
        following = day + timedelta(days=1)
        if following in heavy_days and not {day, following} <= pinned_days:
            made.model.add(push + press + sum(heavy_days[following]) <= 1)
        if day not in pinned_days and {day - timedelta(days=1), day, following} & done:
            made.model.add(push + press == 0)
    _pinned_neighbours(made, heavy_days, pinned_days)


def _pinned_neighbours(
    made: _Model,
    heavy_days: Mapping[date, tuple[cp_model.IntVar, cp_model.IntVar]],
    pinned_days: set[date],
) -> None:
    """What the coach pinned on neighbouring days may follow its own kind, and never the other one."""
    done = set(made.puzzle.heavy)
    for day in pinned_days:
        push, press = heavy_days[day]
        following = day + timedelta(days=1)
        if following in pinned_days:
            made.model.add(push + heavy_days[following][1] <= 1)
            made.model.add(press + heavy_days[following][0] <= 1)
        for near in (day - timedelta(days=1), day, following):
            if (near, "push") in done:
                made.model.add(press == 0)
            if (near, "press") in done:
                made.model.add(push == 0)


def _set_objective(made: _Model) -> None:
    puzzle, model, rules = made.puzzle, made.model, made.puzzle.rules
    worth: list[cp_model.LinearExprT] = []
    pillars: dict[Pillar, list[cp_model.LinearExprT]] = {}
    for c, candidate in enumerate(puzzle.candidates):
        mine = {d: v for (d, n), v in made.there.items() if n == c}
        # the second time in a week counts less than the first: the largest parts are taken up first by
        # themselves
        times = [model.new_bool_var(f"time {c} {k}") for k in range(len(mine))]
        model.add(sum(times) == sum(mine.values()))
        again = rules.again_counts
        worth += [
            round(SCALE * candidate.counts * again[min(k, len(again) - 1)]) * t for k, t in enumerate(times)
        ]
        once, each = cost_in_units(candidate, rules)
        for d, there in mine.items():
            if candidate.dose:
                room = max(1, candidate.dose.most - candidate.dose.least)
                extra = max(1, round(SCALE * candidate.counts * rules.weights.extra_sets.value / room))
                worth.append(extra * (made.sets[d, c] - candidate.dose.least * there))
            # of equal weeks the one is taken that has things earlier
            worth.append(-(d + 1) * there)
            if candidate.pillar:
                pillars.setdefault(candidate.pillar, []).append(once * there + each * made.sets[d, c])
    if puzzle.holding in pillars:
        behind = model.new_int_var(0, 10_000, "behind")
        for pillar, spent in pillars.items():
            if pillar != puzzle.holding:
                model.add(behind + _sum_of(pillars[puzzle.holding]) >= _sum_of(spent))
        worth.append(-int(rules.weights.share_penalty.value) * behind)
    worth += _lead(made)
    model.maximize(sum(worth))


def _lead(made: _Model) -> list[cp_model.LinearExprT]:
    """What the leading goal asks of a week: a block on every day, no fewer minutes than any other goal, its
    main work the larger part, what only helps the smaller. What rules or time forbid costs and does not fail.
    """
    puzzle, model, rules = made.puzzle, made.model, made.puzzle.rules
    unit = int(rules.weights.share_penalty.value)
    spent: dict[tuple[int, int], cp_model.LinearExprT] = {}
    for (d, c), there in made.there.items():
        once, each = cost_in_units(puzzle.candidates[c], rules)
        spent[d, c] = once * there + each * made.sets[d, c]
    costs: list[cp_model.LinearExprT] = []

    def minutes(wanted: Callable[[Candidate], bool]) -> cp_model.LinearExpr:
        return _sum_of([x for (_, c), x in spent.items() if wanted(puzzle.candidates[c])])

    leading = {c for c, x in enumerate(puzzle.candidates) if x.goal == 0 or x.main}
    for d in range(len(puzzle.slots)):
        mine = [v for (day, c), v in made.there.items() if day == d and c in leading]
        if mine:
            absent = model.new_bool_var(f"leading absent {d}")
            model.add(sum(mine) + absent >= 1)
            costs.append(-unit * int(rules.weights.leading_absent.value) * absent)
    for goal in sorted({c.goal for c in puzzle.candidates if c.goal}):
        less = model.new_int_var(0, 10_000, f"less than goal {goal}")
        of_other = minutes(lambda c, goal=goal: c.goal == goal and not c.main)  # type: ignore[misc]
        model.add(less + minutes(lambda c: c.goal == 0 or c.main) >= of_other)
        costs.append(-unit * less)
    if any(c.main for c in puzzle.candidates):
        costs += _keep_shares(made, spent, unit)
    return costs


def _keep_shares(
    made: _Model, spent: Mapping[tuple[int, int], cp_model.LinearExprT], unit: int
) -> list[cp_model.LinearExprT]:
    """What main work short of its share costs, and what stands beside it beyond its own."""
    puzzle, model, rules = made.puzzle, made.model, made.puzzle.rules

    def minutes(wanted: Callable[[Candidate], bool], day: int | None = None) -> cp_model.LinearExpr:
        return _sum_of(
            [x for (d, c), x in spent.items() if day in (None, d) and wanted(puzzle.candidates[c])]
        )

    def beside(c: Candidate) -> bool:
        return c.beside and not c.is_test

    # in the least whole numbers that say the share, which the solver takes far quicker than hundredths
    main, rest = (Fraction(x.value).limit_denominator(100) for x in (rules.main_share, rules.beside_share))
    whole, least = minutes(lambda c: not c.is_test), least_beside(puzzle)
    short = model.new_int_var(0, 100_000, "main short")
    counted = whole - (least or 0) * len(puzzle.slots)
    model.add(main.denominator * minutes(lambda c: c.main) + short >= main.numerator * counted)
    costs: list[cp_model.LinearExprT] = [-(unit // main.denominator) * short]
    # by the share of the week, or where that would leave nothing, by what each session may have beside
    days: list[int | None] = [None] if least is None else list(range(len(puzzle.slots)))
    for day in days:
        over = model.new_int_var(0, 100_000, f"beside over {day}")
        allowed = rest.numerator * whole if least is None else rest.denominator * least
        model.add(rest.denominator * minutes(beside, day) <= allowed + over)
        costs.append(-(unit // rest.denominator) * over)
    return costs


def least_beside(puzzle: Puzzle) -> int | None:
    """Where all that leads could never take so much that its share left room for the least that a session may
    have beside: that least for a session, in steps of time; else None, and the share alone holds.
    """
    rules = puzzle.rules
    least = in_units(rules.beside_least_s.value)
    able = 0
    for c in puzzle.candidates:
        if c.dose and not c.beside:
            once, each = cost_in_units(c, rules)
            days = min(c.days, sum(c.name not in slot.barred for slot in puzzle.slots))
            able += days * (once + each * c.dose.most)
    share = rules.beside_share.value
    return least if share * able < (1 - share) * least * len(puzzle.slots) else None


def _sum_of(parts: Sequence[cp_model.LinearExprT]) -> cp_model.LinearExpr:
    return cast("cp_model.LinearExpr", sum(parts))
