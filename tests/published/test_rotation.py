"""The rotation against what stands outside this project: every order there is, a general constraint solver
(OR-tools' CP-SAT), and the rule that ends everybody soonest on one machine (Schrage, 1968).
"""

from dataclasses import replace
from functools import cache
from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench.evenings import draw_evening
from tests.class_checker import faults_of, tenths
from wise_perch.core.class_night.bound import least_waiting_min, shortest_first
from wise_perch.core.class_night.floor_plan import FloorPlan
from wise_perch.core.class_night.prove import prove_least
from wise_perch.core.class_night.question import ClassQuestion
from wise_perch.core.class_night.rotate import rotate, search


def every_weave(counts: list[int]) -> list[list[int]]:
    """Every order of turns in which person 0 has so many, person 1 so many, and so on."""
    if not any(counts):
        return [[]]
    found = []
    for t, n in enumerate(counts):
        if n:
            found += [[t, *rest] for rest in every_weave([*counts[:t], n - 1, *counts[t + 1 :]])]
    return found


def waited_by(question: ClassQuestion, turns: list[int], kinds: tuple[str, ...]) -> float:
    """The waiting of one order of turns at chosen stations, by arrays of tenths of a minute."""
    people, length = question.trainees, tenths(question.minutes)
    firsts = [sum(len(p.blocks) for p in people[:t]) for t in range(len(people))]
    used = {kind: [0] * length for kind in question.stations}
    coach = [0] * length
    free, done, total = [tenths(p.from_min) for p in people], [0] * len(people), 0
    for t in turns:
        block, kind = people[t].blocks[done[t]], kinds[firsts[t] + done[t]]
        span, hands, at = tenths(block.minutes), tenths(block.hands_min), free[t]
        most, taken = question.stations[kind], used[kind]
        while (
            max(taken[at : at + span]) >= most or max(coach[at : at + hands], default=0) >= question.coaches
        ):
            at += 1
            if at + span > length:
                return float("inf")
        for x in range(at, at + span):
            taken[x] += 1
        for x in range(at, at + hands):
            coach[x] += 1
        total += at - free[t]
        free[t], done[t] = at + span + tenths(block.rest_after_min), done[t] + 1
    return total / 10


def brute_force(question: ClassQuestion) -> float:
    """The least waiting over every order of turns and every choice of station."""
    choices = list(product(*[b.stations for p in question.trainees for b in p.blocks]))
    turns = every_weave([len(p.blocks) for p in question.trainees])
    return min(waited_by(question, order, kinds) for order in turns for kinds in choices)


@pytest.mark.parametrize("seed", range(6))
def test_three_trainees_wait_no_longer_than_brute_force_finds(seed: int) -> None:
    """Every order of turns and every choice of stations is tried; nothing waits less than what was found."""
    whole = draw_evening(3, seed, stations={"wall": 1, "box": 1, "open floor": 1, "parallettes": 1, "mat": 1})
    short = [replace(p, blocks=p.blocks[1:4]) for p in whole.trainees]
    question = replace(whole, trainees=tuple(short), minutes=90)
    assert rotate(question).price.waited_min == pytest.approx(brute_force(question))


@pytest.mark.parametrize(("people", "seed"), [(n, s) for n in (4, 5, 6) for s in range(11, 15)])
def test_the_search_alone_is_within_a_twentieth_of_what_the_solver_proves(people: int, seed: int) -> None:
    """Where the solver proves the least waiting, the search without it comes within 5 % of it."""
    question = draw_evening(people, seed, minutes=90)
    plan = FloorPlan(question)
    alone, eye = search(plan)
    best, proven = prove_least(plan, eye, most_work=8)
    assert proven or people == 6
    if proven:
        least = plan.price(best)
        assert faults_of(question, plan.slots(best)) == []
        assert plan.price(alone).left_out == least.left_out
        assert plan.price(alone).waited_min <= 1.05 * least.waited_min + 1e-9
        assert least_waiting_min(plan) <= least.waited_min + 1e-9


def best_by_trying(jobs: tuple[tuple[int, int], ...]) -> int:
    """The least sum of ends over every way to work minute by minute on one machine, breaking off at will."""

    @cache
    def go_on(at: int, left: tuple[int, ...]) -> int:
        if not any(left):
            return 0
        able = [n for n, work in enumerate(left) if work and jobs[n][0] <= at]
        if not able:
            return go_on(at + 1, left)
        return min(
            (at + 1 if left[n] == 1 else 0) + go_on(at + 1, (*left[:n], left[n] - 1, *left[n + 1 :]))
            for n in able
        )

    return go_on(0, tuple(work for _, work in jobs))


@given(st.lists(st.tuples(st.integers(0, 5), st.integers(1, 4)), min_size=1, max_size=4))
def test_shortest_remaining_first_ends_everybody_soonest(jobs: list[tuple[int, int]]) -> None:
    """L. Schrage, "A proof of the optimality of the shortest remaining processing time discipline",
    Operations Research 16 (1968), 687-690 (title and pages from memory): the sum of ends is the least there
    is.
    """
    assert sum(shortest_first(jobs, 1)) == best_by_trying(tuple(jobs))
