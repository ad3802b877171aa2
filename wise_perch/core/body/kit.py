"""Kit: the coach's pads, plates, blocks and boxes, and the stacks that make a height out of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.protocol import Ladder, Rung, exact_rungs

KitKind = Literal["pad", "plate", "block", "box"]
PLURALS: Mapping[str, str] = {"pad": "pads", "plate": "plates", "block": "blocks", "box": "boxes"}
MM = 10
"""Stacks are reckoned in whole millimetres, so that 0.1 cm is exact."""
MOST_PIECES = 8
"""A stack of more pieces wobbles. Ours."""
NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


@dataclass(frozen=True, slots=True, kw_only=True)
class KitItem:
    """Pieces of one kind and thickness. Plates are known by their mass and used by their thickness.
    `thickness_cm` each.
    """

    kind: KitKind
    thickness_cm: float
    count: int


USUAL_KIT: Sequence[KitItem] = (
    KitItem(kind="pad", thickness_cm=1, count=4),
    KitItem(kind="pad", thickness_cm=2, count=4),
    KitItem(kind="pad", thickness_cm=3, count=2),
    KitItem(kind="pad", thickness_cm=5, count=2),
    KitItem(kind="block", thickness_cm=8, count=4),
    KitItem(kind="block", thickness_cm=10, count=2),
    KitItem(kind="box", thickness_cm=30, count=1),
    KitItem(kind="box", thickness_cm=45, count=1),
    KitItem(kind="box", thickness_cm=60, count=1),
)
"""What often lies in a hall, to tick on a first evening; what was measured there takes its place. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Stack:
    """Pieces that make a height, the thickest first."""

    height_cm: float
    pieces: tuple[tuple[KitItem, int], ...]

    @property
    def text(self) -> str:
        """The stack as it is said: "two 3 cm pads + one 1.5 cm plate = 7.5 cm"."""
        return f"{self.made_of} = {self.height_cm:g} cm"

    @property
    def made_of(self) -> str:
        """Its pieces alone: "two 3 cm pads + one 1.5 cm plate"."""
        return " + ".join(
            f"{NUMBERS[n] if n < len(NUMBERS) else n} {item.thickness_cm:g} cm"
            f" {item.kind if n == 1 else PLURALS[item.kind]}"
            for item, n in self.pieces
        )


def find_stacks(
    kit: Sequence[KitItem], *, most_cm: float, most_pieces: int = MOST_PIECES
) -> Mapping[int, Stack]:
    """Every height up to `most_cm` that pieces of the kit make, by whole millimetres; each by the fewest
    pieces.

    A bounded subset sum: item by item, each height keeps its best stack. Of two stacks with as many pieces
    the one with fewer different sorts is kept, then the one with the thicker pieces first in the kit's order.
    """
    limit = round(most_cm * MM)
    sorts = sorted(
        (i for i in kit if i.count > 0 and i.thickness_cm > 0), key=lambda i: (-i.thickness_cm, i.kind)
    )
    # height in mm -> (pieces, sorts, how many of each sort)
    best: dict[int, tuple[int, int, tuple[int, ...]]] = {0: (0, 0, ())}
    for item in sorts:
        thick = round(item.thickness_cm * MM)
        grown: dict[int, tuple[int, int, tuple[int, ...]]] = {}
        for height, (pieces, kinds, counts) in best.items():
            for n in range(min(item.count, most_pieces - pieces) + 1):
                at = height + n * thick
                if at > limit:
                    break
                made = (pieces + n, kinds + (n > 0), (*counts, n))
                there = grown.get(at)
                if there is None or _is_better(made, there):
                    grown[at] = made
        best = grown
    return {
        height: Stack(height_cm=height / MM, pieces=tuple((sorts[k], n) for k, n in enumerate(counts) if n))
        for height, (_, _, counts) in sorted(best.items())
        if height
    }


def _is_better(a: tuple[int, int, tuple[int, ...]], b: tuple[int, int, tuple[int, ...]]) -> bool:
    return (a[0], a[1], tuple(-n for n in a[2])) < (b[0], b[1], tuple(-n for n in b[2]))


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """What the kit makes of a wanted height: exactly, or the nearest lower and higher stacks (None where
    there is none).
    """

    exact: Stack | None
    lower: Stack | None
    higher: Stack | None


def find_stack(kit: Sequence[KitItem], *, height_cm: float, most_pieces: int = MOST_PIECES) -> Found:
    """Find the stack that makes a height, or the reachable heights next to it."""
    thickest = max((i.thickness_cm for i in kit if i.count > 0), default=0)
    made = find_stacks(kit, most_cm=height_cm + thickest, most_pieces=most_pieces)
    wanted = round(height_cm * MM)
    if wanted in made:
        return Found(exact=made[wanted], lower=None, higher=None)
    below, above = [h for h in made if h < wanted], [h for h in made if h > wanted]
    return Found(
        exact=None, lower=made[max(below)] if below else None, higher=made[min(above)] if above else None
    )


def pair_stacks(kit: Sequence[KitItem]) -> tuple[KitItem, ...]:
    """The kit for one hand when both hands stand raised alike: half of every sort."""
    return tuple(
        KitItem(kind=i.kind, thickness_cm=i.thickness_cm, count=i.count // 2) for i in kit if i.count >= 2
    )


def rungs_of_kit(ladder: Ladder, kit: Sequence[KitItem]) -> tuple[Rung, ...]:
    """The settings of a ladder that this kit really makes, from easy to hard.

    Each notch is taken at the nearest reachable height, if one lies within half a notch; the floor needs
    nothing. Below the floor both hands stand raised by equal stacks. Without kit of the right kinds every
    notch stands, to be made by eye.
    """
    under = [i for i in kit if i.kind in ladder.stacks]
    hands = pair_stacks([i for i in kit if i.kind in ladder.hand_stacks])
    if not under and not hands:
        return exact_rungs(ladder)
    most = max(abs(ladder.easiest), abs(ladder.hardest)) + ladder.notch.value
    up, down = find_stacks(under, most_cm=most), find_stacks(hands, most_cm=most)
    found: dict[float, Rung] = {}
    for wanted in exact_rungs(ladder):
        if wanted.level == 0:
            found[0.0] = Rung(level=0.0, stack="the flat floor")
            continue
        made = _nearest_stack(
            up if wanted.level > 0 else down, abs(wanted.level), within=ladder.notch.value / 2
        )
        if made is None:
            continue
        level = made.height_cm if wanted.level > 0 else -made.height_cm
        words = made.text if wanted.level > 0 else f"under each hand {made.text}"
        found[level] = Rung(level=level, stack=words)
    return tuple(found.values()) or exact_rungs(ladder)


def _nearest_stack(made: Mapping[int, Stack], height_cm: float, *, within: float) -> Stack | None:
    near = min(made, key=lambda h: (abs(h - round(height_cm * MM)), h), default=None)
    return made[near] if near is not None and abs(near / MM - height_cm) <= within + 1e-9 else None
