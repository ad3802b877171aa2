"""Holds timed from film: when a body was up, for how long, and how it came down."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

UP_DEG, LOST_DEG, FASTEST_DEG_S = 18.0, 22.0, 300.0
"""Up within the first lean, lost beyond the second; what leans faster than the third was read wrong. Ours."""
GAP_S, LEAST_S, AROUND = 1.0, 1.0, 2
"""Gaps so long are bridged, shorter holds are none, and a lean is the middle one of so many to either side.
"""
QUALITY_TO_CLAIM = 0.6
"""Below this share of good frames nothing is claimed. Ours."""
End = Literal["over", "under", "still-up", "not-seen"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """One moment, s: lean from the vertical in degrees, + over, None where it was not seen."""

    t_s: float
    lean_deg: float | None
    inverted: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """One hold: when it began, how long it lasted, s, and how it ended."""

    start_s: float
    seconds: float
    end: End


@dataclass(frozen=True, kw_only=True)
class Holds:
    """The holds of a film. `quality`: the share of frames that could be used, those left out in which nobody
    is seen for long; below what it takes nothing is claimed, and `because` says so.
    """

    holds: tuple[Hold, ...]
    quality: float
    because: str = ""


@dataclass(frozen=True, slots=True)
class _Seen:
    t: float
    lean: float
    up: bool


def find_holds(frames: Sequence[Frame]) -> Holds:
    """Find the holds of a series of frames, in the order of their times."""
    ordered = sorted(frames, key=lambda f: f.t_s)
    seen = _usable(ordered)
    quality = len(seen) / max(1, len(ordered) - _empty(ordered))
    if quality < QUALITY_TO_CLAIM:
        said = f"only {100 * quality:.0f} % of the frames could be read" if ordered else "no frames"
        return Holds(holds=(), quality=quality, because=f"{said}: nothing is claimed")
    return Holds(holds=tuple(_holds_of(_smooth(seen), ordered[-1].t_s)), quality=quality)


def _usable(frames: Sequence[Frame]) -> list[_Seen]:
    """The frames that can be used: seen, and no jump that no body makes."""
    kept: list[_Seen] = []
    for f in frames:
        if f.lean_deg is None or f.inverted is None:
            continue
        if kept and f.inverted and kept[-1].up:
            passed = f.t_s - kept[-1].t
            if passed > 0 and abs(f.lean_deg - kept[-1].lean) / passed > FASTEST_DEG_S and passed < GAP_S / 2:
                continue
        kept.append(_Seen(f.t_s, f.lean_deg, f.inverted))
    return kept


def _empty(frames: Sequence[Frame]) -> int:
    """How many frames stand in stretches, longer than what is bridged, in which nobody was seen at all: a
    picture without anybody in it is not badly read.
    """
    found, since = 0, None
    for n, f in enumerate([*frames, None]):
        unseen = f is not None and f.inverted is None
        if unseen and since is None:
            since = n
        elif not unseen and since is not None:
            if frames[n - 1].t_s - frames[since].t_s > GAP_S:
                found += n - since
            since = None
    return found


def _smooth(seen: Sequence[_Seen]) -> list[_Seen]:
    """Each lean as the middle one of its neighbours, which leaves edges where they are."""
    found = []
    for n, s in enumerate(seen):
        near = [x.lean for x in seen[max(0, n - AROUND) : n + AROUND + 1] if x.up == s.up]
        found.append(_Seen(s.t, float(median(near)), s.up))
    return found


def _holds_of(seen: Sequence[_Seen], last_s: float) -> list[Hold]:
    found: list[Hold] = []
    begun: _Seen | None = None
    last_up: _Seen | None = None
    for s in seen:
        if begun is None or last_up is None:
            if s.up and abs(s.lean) <= UP_DEG:
                begun = last_up = s
            continue
        if s.t - last_up.t > GAP_S:
            found.append(_end(begun, last_up, "not-seen"))
            begun = last_up = s if s.up and abs(s.lean) <= UP_DEG else None
        elif s.up and abs(s.lean) <= LOST_DEG:
            last_up = s
        else:
            side = s.lean if s.up else last_up.lean
            found.append(_end(begun, last_up, "over" if side > 0 else "under"))
            begun = last_up = None
    if begun is not None and last_up is not None:
        gone = last_s - last_up.t > GAP_S
        found.append(_end(begun, last_up, "not-seen" if gone else "still-up"))
    return [h for h in found if h.seconds >= LEAST_S]


def _end(begun: _Seen, last: _Seen, how: End) -> Hold:
    return Hold(start_s=round(begun.t, 3), seconds=round(last.t - begun.t, 3), end=how)
