"""What a model answers: a pose with its figures, or a named reason why there is none. Never a number that is
not one.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

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
            if np.broadcast_to(fault.where, self.feasible.shape)[index]:
                return Infeasible(because=fault.because(index))
        joints = {
            name: (float(p.x[index]), float(p.z[index]))
            for name, p in _spread_points(self.pose.joints, self.feasible.shape).items()
        }
        centres = {str(s): self.pose.centre_of(s) for s in self.pose.segments}
        whole = self.pose.centre()
        spread = _spread_points({**centres, "whole": whole}, self.feasible.shape)
        return Answer(
            joints=joints,
            centres={
                name: (float(p.x[index]), float(p.z[index])) for name, p in spread.items() if name != "whole"
            },
            centre=(float(spread["whole"].x[index]), float(spread["whole"].z[index])),
            figures={
                name: float(np.broadcast_to(v, self.feasible.shape)[index])
                for name, v in self.figures.items()
            },
        )


def _spread_points(named: Mapping[str, Points], shape: tuple[int, ...]) -> Mapping[str, Points]:
    return {
        name: Points(np.broadcast_to(p.x, shape), np.broadcast_to(p.z, shape)) for name, p in named.items()
    }


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """One setting worked out: joints and segment centres as (x, z) in m, the centre of mass held up, and the
    figures.
    """

    joints: Mapping[str, tuple[float, float]]
    centres: Mapping[str, tuple[float, float]]
    centre: tuple[float, float]
    figures: Mapping[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Infeasible:
    """A setting that cannot be, and why, as a sentence with its figures."""

    because: str


def unit_root(inside: Numbers) -> Numbers:
    """The square root where there is one, 0 where a fault says there is none."""
    return np.sqrt(np.maximum(inside, 0.0))
