"""What a model answers: a pose with its figures, or a named reason why there is none. Never a number that is
not one.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.poses import Numbers, Points, Pose

Flags = npt.NDArray[np.bool_]


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """Settings that cannot be, and the sentence for the setting at an index."""

    where: Flags
    because: Callable[[int], str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Answers:
    """A model's answer for every setting of a dial, arrays of one shape.

    `figures` by name, with the unit at the name's end; they hold only where `feasible`. `faults` in the order
    they are asked.
    """

    pose: Pose
    figures: Mapping[str, Numbers]
    faults: tuple[Fault, ...] = ()

    @property
    def feasible(self) -> Flags:
        """Where the setting can be."""
        size = next(iter(self.figures.values())).shape
        found = np.ones(size, bool)
        for fault in self.faults:
            found &= ~fault.where
        return found

    def at(self, index: int = 0) -> "Answer | Infeasible":
        """The answer for one setting."""
        for fault in self.faults:
            if _pick(fault.where, index):
                return Infeasible(because=fault.because(index))

        def place(p: Points) -> tuple[float, float]:
            return float(_pick(p.x, index)), float(_pick(p.z, index))

        return Answer(
            joints={name: place(p) for name, p in self.pose.joints.items()},
            seen={name: place(p) for name, p in self.pose.seen.items()},
            centres={str(s): place(self.pose.centre_of(s)) for s in self.pose.segments},
            centre=place(self.pose.centre()),
            figures={name: float(_pick(v, index)) for name, v in self.figures.items()},
        )


def _pick(values: Numbers | Flags, index: int) -> Any:
    """One of an array's values; what is the same for every setting has one value only."""
    return values[index] if np.ndim(values) and len(values) > 1 else np.ravel(values)[0]


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """One setting worked out: joints and segment centres as (x, z) in m, the centre of mass held up, and the
    figures. `seen` holds joints as the eye finds them where the plane chain has them elsewhere.
    """

    joints: Mapping[str, tuple[float, float]]
    seen: Mapping[str, tuple[float, float]]
    centres: Mapping[str, tuple[float, float]]
    centre: tuple[float, float]
    figures: Mapping[str, float]

    @property
    def drawn(self) -> dict[str, tuple[float, float]]:
        """Where the joints are drawn, m."""
        return {**self.joints, **self.seen}


@dataclass(frozen=True, slots=True, kw_only=True)
class Infeasible:
    """A setting that cannot be, and why, as a sentence with its figures."""

    because: str


def unit_root(inside: Numbers) -> Numbers:
    """The square root where there is one, 0 where a fault says there is none."""
    return np.sqrt(np.maximum(inside, 0.0))
