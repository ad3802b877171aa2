"""Many frames judged at once: lean and bends of every body of a film, as arrays."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wise_perch.core.line.points import CHAIN, Body

Numbers = NDArray[np.float64]
SIDES = ("left", "right")
COLUMNS = tuple(f"{side}_{part}" for part in CHAIN for side in SIDES)
"""What stands in a row of `pack`: both sides of each joint of the chain, from the wrist up."""


@dataclass(frozen=True, slots=True)
class FramesJudged:
    """Of each frame the lean, + to the right of the picture, and the turns at shoulder, hip and knee, degrees
    (signs as for a single picture with fingers to the right); NaN where a joint is missing. `inverted`: the
    hips stand above the shoulders and these above the hands.
    """

    lean: Numbers
    shoulder: Numbers
    hip: Numbers
    knee: Numbers
    inverted: NDArray[np.bool_]
    seen: NDArray[np.bool_]


def pack(bodies: Sequence[Body]) -> Numbers:
    """The points of bodies as (x, y, how sure; column; frame), y up; how sure is 0 where one is missing, 1
    where it was guessed, 2 where it was seen. Frames lie side by side, so that each step takes all at once.
    """
    packed = np.zeros((3, len(COLUMNS), len(bodies)))
    for n, body in enumerate(bodies):
        for k, name in enumerate(COLUMNS):
            if p := body.points.get(name):
                packed[:, k, n] = p.x, p.y, 2.0 if p.sure else 1.0
    return packed


def judge_frames(packed: Numbers) -> FramesJudged:
    """Judge every frame of `pack`. The middle of a joint is that of both sides where both are sure or neither
    is, else the sure one, as for a single picture.
    """
    left, right = packed[:, 0::2], packed[:, 1::2]
    use_left = (left[2] >= right[2]) & (left[2] > 0)
    use_right = (right[2] >= left[2]) & (right[2] > 0)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = use_left / (use_left.astype(np.float64) + use_right)
        x = right[0] + share * (left[0] - right[0])
        y = right[1] + share * (left[1] - right[1])
    away = np.arctan2(np.diff(x, axis=0), np.diff(y, axis=0))
    # segments of a body lie within a half turn of one another: brought there by a whole one
    turn = away[:-1] - away[1:]
    turn -= 2 * np.pi * np.rint(turn / (2 * np.pi))
    turn *= DEGREES
    known = np.isfinite(y)
    return FramesJudged(
        lean=np.arctan2(x[-1] - x[0], y[-1] - y[0]) * DEGREES,
        shoulder=turn[0],
        hip=turn[1],
        knee=-turn[2],
        inverted=(y[2] > y[1]) & (y[1] > y[0]),
        seen=known[0] & known[1] & known[2] & known[4],
    )


DEGREES = 180 / np.pi
