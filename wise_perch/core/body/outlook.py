"""How near a first rep is: an estimate with its doubt, and the cheapest gain. Never a gate."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.constants import BRZYCKI, EPLEY
from wise_perch.core.body.levers import solve_one
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.mechanics import Mechanics
from wise_perch.core.trade.words import say_share

POINT = 100
"""Points of body weight in a share of 1."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Reps:
    """Clean reps in one set, with the share they were done at and that setting in words."""

    reps: int
    share: float
    words: str
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstRep:
    """How near a first rep is. `low` and `high`: the band of the estimate in `unit`, `needed` what the rep
    asks.

    `reached`: the whole band (True), some of it (None) or none (False) is enough. `gains`: the ways to close
    what is left, the cheapest first.
    """

    goal: str
    title: str
    unit: str
    low: float
    high: float
    needed: float
    reached: bool | None
    sentence: str
    gains: tuple[str, ...]
    model: str
    sources: tuple[str, ...]


def epley(share: float, reps: int) -> float:
    """The share for one rep by Epley: share x (1 + reps / 30); one rep is itself."""
    return share if reps == 1 else share * (1 + reps / 30)


def brzycki(share: float, reps: int) -> float:
    """The share for one rep by Brzycki: share x 36 / (37 - reps)."""
    return share * 36 / (37 - reps)


def wall_push_up(done: Sequence[Reps], mechanics: Mechanics) -> FirstRep | None:
    """The strict wall handstand push-up from reps at a share; the best set counts. None without a set of at
    most so many reps.
    """
    figures = mechanics.outlook
    usable = [r for r in done if 1 <= r.reps <= figures.most_reps.value]
    if not usable:
        return None
    best = max(usable, key=lambda r: (min(epley(r.share, r.reps), brzycki(r.share, r.reps)), r.day))
    estimates = sorted((epley(best.share, best.reps), brzycki(best.share, best.reps)))
    error = figures.share_error.value
    low, high = estimates[0] - error, estimates[1] + error
    return FirstRep(
        goal="strict-wall-hspu",
        title="Strict wall handstand push-up",
        unit="share",
        low=low,
        high=high,
        needed=1.0,
        reached=_is_reached(low, high, 1.0),
        sentence=(
            f"{best.reps} clean at {say_share(best.share)} ({best.words}) make {say_share(estimates[0])} to"
            f" {say_share(estimates[1])} for one rep; with the model's doubt {say_share(low)} to"
            f" {say_share(high)}, and the rep asks 100 %."
        ),
        gains=tuple(_push_gains(best, estimates[0])),
        model=f"model, ± {error * POINT:.0f} points",
        sources=(EPLEY, BRZYCKI),
    )


def _is_reached(low: float, high: float, needed: float) -> bool | None:
    if low >= needed:
        return True
    return None if high >= needed else False


def _push_gains(best: Reps, estimate: float) -> list[str]:
    if estimate >= 1:
        return [
            "By the lower of the two formulas it is there: try it onto a stack of pads first, under the head."
        ]
    more = next(
        (r for r in range(best.reps + 1, 37) if min(epley(best.share, r), brzycki(best.share, r)) >= 1), None
    )
    needed = max(1 / (1 + best.reps / 30), (37 - best.reps) / 36) if best.reps > 1 else 1.0
    found = [
        f"The same {best.reps} reps at {say_share(needed)} instead of {say_share(best.share)}: "
        f"{(needed - best.share) * POINT:.0f} points, a setting nearer or higher."
    ]
    if more is not None:
        found.append(f"Or {more} clean reps at this setting instead of {best.reps}.")
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class PressTested:
    """The lowest surface a clean partial press was done from, cm, and the day."""

    surface_cm: float
    day: date


def straddle_press(
    body: Body, tested: PressTested | None, mechanics: Mechanics, *, fold_deg: float, straddle_deg: float
) -> FirstRep | None:
    """The straddle press from the floor: the moment shown at the tested surface against the one the floor
    asks.

    Args: `fold_deg` the trainee's fold, whose doubt makes the band. None without a tested surface or where
    the model has no answer.
    """
    if tested is None:
        return None
    doubt = mechanics.outlook.fold_error_deg.value
    shown = _moment_band(body, fold_deg, straddle_deg, tested.surface_cm, doubt)
    floor = _moment_band(body, fold_deg, straddle_deg, 0.0, doubt)
    if shown is None or floor is None:
        return None
    needed = floor[1]
    return FirstRep(
        goal="straddle-press",
        title="Straddle press",
        unit="nm",
        low=shown[0],
        high=shown[2],
        needed=needed,
        reached=True if tested.surface_cm <= 0 else _is_reached(shown[0], shown[2], needed),
        sentence=(
            f"A clean press from {tested.surface_cm:g} cm takes about {shown[1]:.0f} N m at the shoulders"
            f" ({shown[0]:.0f} to {shown[2]:.0f} for a fold of {fold_deg:g}° ± {doubt:g}°); from the floor it"
            f" takes {needed:.0f}."
        ),
        gains=tuple(_press_gains(body, fold_deg, straddle_deg, tested.surface_cm, shown[1], needed)),
        model=f"model, fold ± {doubt:g}°",
        sources=("Statics of the press at toe-off, mid-hand balance; our own conventions",),
    )


def _moment_at(body: Body, fold: float, straddle: float, surface: float) -> float | None:
    found = solve_one("press", body, {"fold": fold, "straddle": straddle, "surface-height": surface})
    return found.figures["shoulder_moment_nm"] if isinstance(found, Answer) else None


def _moment_band(
    body: Body, fold: float, straddle: float, surface: float, doubt: float
) -> tuple[float, float, float] | None:
    """The least, middle and most moment for a fold in doubt; where one end cannot be, the middle stands for
    it.
    """
    middle = _moment_at(body, fold, straddle, surface)
    if middle is None:
        return None
    ends = [
        m if m is not None else middle
        for m in (
            _moment_at(body, fold - doubt, straddle, surface),
            _moment_at(body, fold + doubt, straddle, surface),
        )
    ]
    return min(ends), middle, max(ends)


def _press_gains(
    body: Body, fold: float, straddle: float, surface: float, shown: float, needed: float
) -> list[str]:
    short = needed - shown
    if short <= 0:
        return ["The floor asks no more than what was shown: try it, with a spotter."]
    degree = _moment_at(body, fold - 1, straddle, 0.0)
    found = []
    if degree is not None and degree < needed:
        enough = _fold_for(body, fold, straddle, shown)
        saved = f"A degree of fold saves {needed - degree:.1f} N m on the floor"
        found.append(
            f"{saved}: {fold - enough:.0f}° deeper would do it with the strength there is."
            if enough is not None
            else f"{saved}."
        )
    lower = _moment_at(body, fold, straddle, max(0.0, surface - 1))
    if lower is not None and surface > 0:
        found.append(
            f"A centimetre lower asks {lower - shown:.1f} N m more: surface by surface from {surface:g} cm."
        )
    found.append(
        f"By strength alone {short:.0f} N m more at the shoulders ({say_share(short / needed)} of what the"
        " floor takes)."
    )
    return found


def _fold_for(body: Body, fold: float, straddle: float, moment: float) -> float | None:
    """The fold, degrees, at which the floor asks no more than a moment."""
    for wanted in np.arange(fold - 1, 0, -1):
        found = _moment_at(body, float(wanted), straddle, 0.0)
        if found is None:
            return None
        if found <= moment:
            return float(wanted)
    return None
