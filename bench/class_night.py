"""How long is waited, by eye and by the search, and the least there can be: 4 to 24 trainees, two halls."""

import statistics
import time

from bench.evenings import LARGE, SMALL, draw_evening
from wise_perch.core.class_night.floor_plan import FloorPlan
from wise_perch.core.class_night.question import Rotation
from wise_perch.core.class_night.rotate import QUICK, rotate

SEEDS = range(101, 111)
"""Ten evenings of each size, none of those that the search was tuned on."""
SIZES = ((4, "small", SMALL), (8, "small", SMALL), (12, "small", SMALL))
LARGE_SIZES = ((8, "large", LARGE), (12, "large", LARGE), (16, "large", LARGE), (24, "large", LARGE))


def _saved(found: Rotation) -> float:
    """How much less than by eye, as a share; nothing where nobody waits by eye either."""
    eye = found.by_eye.comes_to[0]
    return 1 - found.price.comes_to[0] / eye if eye else 0.0


def class_nights() -> list[str]:
    """One line a size: medians over ten evenings, in min; left out; seconds beside laying it out once by
    eye.
    """
    lines = []
    for people, name, stations in (*SIZES, *LARGE_SIZES):
        found, eye_s, took_s, quick_s = [], [], [], []
        for seed in SEEDS:
            question = draw_evening(people, seed, stations=stations, minutes=75, coaches=1 + people // 16)
            begun = time.perf_counter()
            plan = FloorPlan(question)
            plan.by_moment(lambda laid, t: (laid.ready[t],))
            eye_s.append(time.perf_counter() - begun)
            begun = time.perf_counter()
            found.append(rotate(question))
            took_s.append(time.perf_counter() - begun)
            begun = time.perf_counter()
            rotate(question, tries=QUICK)
            quick_s.append(time.perf_counter() - begun)
        middle = statistics.median
        bounds = [f.bound_min for f in found if f.bound_min is not None]
        least = f", not below {middle(bounds):.0f} ({len(bounds)} evenings)" if bounds else ""
        eye, out = middle(f.by_eye.waited_min for f in found), sum(f.by_eye.left_out for f in found)
        ours, ours_out = middle(f.price.waited_min for f in found), sum(f.price.left_out for f in found)
        worse = sum(f.price.comes_to[0] > f.by_eye.comes_to[0] for f in found)
        saved = middle(_saved(f) for f in found)
        lines.append(
            f"class of {people}, {name} hall: waited by eye {eye:.0f} min ({out} left out in ten evenings),"
            f" by the search {ours:.0f} ({ours_out}){least}; price {saved:.0%} less, worse in {worse};"
            f" proven {sum(f.proven for f in found)}; {middle(took_s):.2f} s, anew {middle(quick_s):.2f} s,"
            f" {middle(took_s) / middle(eye_s):.0f} x by eye, the slowest {max(took_s):.2f} s"
        )
    return lines


if __name__ == "__main__":
    print("\n".join(class_nights()))
