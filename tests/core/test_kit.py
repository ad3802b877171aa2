"""Stacks out of the coach's kit: against brute force over every choice of pieces, and against an integer
solver.
"""

from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from wise_perch.core.body.kit import (
    MM,
    MOST_PIECES,
    KitItem,
    find_stack,
    find_stacks,
    pair_stacks,
    rungs_of_kit,
)
from wise_perch.core.trade.protocol import Ladder
from wise_perch.syllabus.shipped import built_in

PUSH = built_in().tests["push-floor"]


def pieces(*sorts: tuple[str, float, int]) -> list[KitItem]:
    return [KitItem(kind=kind, thickness_cm=thick, count=count) for kind, thick, count in sorts]  # type: ignore[arg-type]


DEPOT = pieces(("pad", 5, 3), ("pad", 3, 2), ("plate", 1.5, 2), ("plate", 2.5, 4))

some_kit = st.lists(
    st.builds(
        KitItem,
        kind=st.sampled_from(["pad", "plate", "block", "box"]),
        thickness_cm=st.integers(3, 60).map(lambda mm: mm / 10),
        count=st.integers(1, 3),
    ),
    max_size=4,
)


def by_brute_force(kit: list[KitItem], *, most_cm: float) -> dict[int, int]:
    """Every height in mm with its fewest pieces, by going through every choice of pieces."""
    best: dict[int, int] = {}
    for counts in product(*(range(i.count + 1) for i in kit)):
        height = sum(n * round(i.thickness_cm * MM) for n, i in zip(counts, kit, strict=True))
        if 0 < height <= round(most_cm * MM) and sum(counts) <= MOST_PIECES:
            best[height] = min(best.get(height, 99), sum(counts))
    return best


@given(some_kit)
def test_every_height_is_found_with_the_fewest_pieces(kit: list[KitItem]) -> None:
    """The finder reaches exactly the heights that some choice of pieces makes, each with as few pieces as can
    be.
    """
    made = find_stacks(kit, most_cm=20)
    assert {h: sum(n for _, n in s.pieces) for h, s in made.items()} == by_brute_force(kit, most_cm=20)


@given(some_kit)
def test_a_stack_is_made_of_what_there_is(kit: list[KitItem]) -> None:
    """No stack takes more pieces of a sort than there are, and its pieces add up to its height."""
    for height, stack in find_stacks(kit, most_cm=20).items():
        assert (
            sum(round(i.thickness_cm * MM) * n for i, n in stack.pieces)
            == height
            == round(stack.height_cm * MM)
        )
        for item, n in stack.pieces:
            assert n <= sum(
                i.count for i in kit if (i.kind, i.thickness_cm) == (item.kind, item.thickness_cm)
            )


@pytest.mark.parametrize("wanted_mm", range(5, 300, 5))
def test_an_integer_solver_agrees(wanted_mm: int) -> None:
    """The fewest pieces for a height agree with scipy's mixed-integer solver (HiGHS), and so does what cannot
    be made.
    """
    thick = np.array([round(i.thickness_cm * MM) for i in DEPOT])
    solved = milp(
        np.ones(len(DEPOT)),
        constraints=[
            LinearConstraint(thick[np.newaxis, :], wanted_mm, wanted_mm),
            LinearConstraint(np.ones((1, len(DEPOT))), 1, MOST_PIECES),
        ],
        bounds=Bounds(0, [i.count for i in DEPOT]),
        integrality=np.ones(len(DEPOT)),
    )
    stack = find_stacks(DEPOT, most_cm=30).get(wanted_mm)
    assert (stack is not None) == solved.success
    if stack:
        assert sum(n for _, n in stack.pieces) == round(solved.fun)


def test_a_stack_is_said_as_a_coach_says_it() -> None:
    """Numbers in words, kinds in the plural, the thickest first, the height at the end."""
    kit = pieces(("pad", 3, 2), ("plate", 1.5, 3))
    assert find_stacks(kit, most_cm=8)[75].text == "two 3 cm pads + one 1.5 cm plate = 7.5 cm"


@pytest.mark.parametrize(
    ("wanted", "exact", "lower", "higher"),
    [
        (7.5, "one 5 cm pad + one 2.5 cm plate = 7.5 cm", None, None),
        (7.2, None, 7.0, 7.5),
        (0.5, None, None, 1.5),
        (100, None, 31.0, None),
    ],
)
def test_the_nearest_are_named_where_exact_is_impossible(
    wanted: float, exact: str | None, lower: float | None, higher: float | None
) -> None:
    """A height that cannot be made names the reachable ones beside it; beyond the kit there is only the
    highest below.
    """
    found = find_stack(DEPOT, height_cm=wanted)
    assert (found.exact.text if found.exact else None) == exact
    heights = by_brute_force(DEPOT, most_cm=120)
    if exact is None:
        below, above = [h for h in heights if h < wanted * MM], [h for h in heights if h > wanted * MM]
        assert (found.lower.height_cm if found.lower else None) == (max(below) / MM if below else None)
        assert (found.higher.height_cm if found.higher else None) == (min(above) / MM if above else None)
        if lower is not None and wanted < 100:
            assert (found.lower and found.lower.height_cm, found.higher and found.higher.height_cm) == (
                lower,
                higher,
            )


def test_both_hands_stand_alike() -> None:
    """What raises both hands is halved: an odd piece is left over."""
    assert [(i.thickness_cm, i.count) for i in pair_stacks(pieces(("plate", 2.5, 5), ("block", 10, 1)))] == [
        (2.5, 2)
    ]


def ladder(mode: str = "pressing") -> Ladder:
    found = PUSH.mode(mode).ladder
    assert found
    return found


@given(some_kit)
def test_a_ladder_offers_only_what_can_be_made(kit: list[KitItem]) -> None:
    """Each rung is a real stack (or the floor), from easy to hard, near the notch it stands for; with no kit
    every notch stands.
    """
    the = ladder()
    found = rungs_of_kit(the, kit)
    levels = [r.level for r in found]
    assert levels == sorted(levels, reverse=True)
    assert len(set(levels)) == len(levels)
    under = find_stacks([i for i in kit if i.kind in the.stacks], most_cm=50)
    hands = find_stacks(pair_stacks([i for i in kit if i.kind in the.hand_stacks]), most_cm=50)
    if under or hands:
        for rung in found:
            assert rung.level == 0 or round(abs(rung.level) * MM) in (under if rung.level > 0 else hands)
            assert abs(rung.level / the.notch.value - round(rung.level / the.notch.value)) <= 0.5
    else:
        assert levels == [40 - 2.5 * n for n in range(23)]


def test_the_depot_halls_ladder() -> None:
    """Pads and plates make every notch from 25 cm to the floor, plates under the hands the deficit
    below it.
    """
    found = {r.level: r.stack for r in rungs_of_kit(ladder(), DEPOT)}
    assert found[7.5] == "one 5 cm pad + one 2.5 cm plate = 7.5 cm"
    assert found[0.0] == "the flat floor"
    assert found[-5.0] == "under each hand two 2.5 cm plates = 5 cm"
    assert 20.0 in found
