"""Pain told of a joint: what of it is still asked about, which ache weighs most, and what would spare the
joint.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

from wise_perch.core.body.loads import share_of
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.content import Drill, Rules
from wise_perch.core.trade.session_lookup import joint_kind
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day, say_share
from wise_perch.core.trainee.standing import WallBars


@dataclass(frozen=True, slots=True, kw_only=True)
class Ache:
    """Pain told of a joint: 0 to 10 on the coach's own day. `sharp`: sharp, lasting or tingling."""

    joint: str
    level: int
    day: date
    sharp: bool = False


def present_aches(told: Iterable[Ache], rules: Rules, *, on: date) -> tuple[Ache, ...]:
    """The newest word on each joint, where it hurts and is still asked about on day `on`; of words of one day
    the last counts.
    """
    newest: dict[str, Ache] = {}
    for ache in sorted(told, key=lambda a: a.day):
        if 0 <= (on - ache.day).days <= rules.pain_asked_for_days.value:
            newest[ache.joint] = ache
    return tuple(a for _, a in sorted(newest.items()) if a.level > 0 or a.sharp)


def worst_ache(aches: Sequence[Ache], joints: Sequence[str], *, stops_at: float) -> tuple[Ache | None, bool]:
    """The worst ache among joints (named without a side), and whether it stops all loading of them."""
    mine = [a for a in aches if joint_kind(a.joint) in joints]
    worst = max(mine, key=lambda a: (a.sharp, a.level), default=None)
    return worst, bool(worst and (worst.sharp or worst.level >= stops_at))


def say_ache(ache: Ache, *, on: date) -> str:
    """An ache as it is said: "Left wrist 3 of 10 on 3 May"."""
    return f"{ache.joint.capitalize()} {ache.level} of 10 on {say_day(ache.day, on)}"


def lighter_drill(
    drill: Drill, *, syllabus: Syllabus, standing: WallBars, body: Body | None
) -> tuple[Drill, str] | None:
    """The nearest open drill, lower on the same line or on the one that is lighter, that puts less on the
    hands.

    Returns: the drill, and how much less in words; None where there is none, or nothing is known of the load.
    """
    every = standing.every()
    own = _share_on_hands(drill, syllabus, body)
    if own is None:
        return None
    line_of, rung = syllabus.line_of, next(n for _, n, d in syllabus.placed() if d.drill == drill.drill)
    other = syllabus.sessions.lighter_lines.get(line_of[drill.drill], "")
    below = [
        d
        for line, n, d in syllabus.placed()
        if every[d.drill].open
        and ((line.line == line_of[drill.drill] and n < rung) or line.line == other)
        and d.drill != drill.drill
    ]
    most = syllabus.sessions.lighter_share.value * own
    told = [
        (share, d)
        for d in below
        if (share := _share_on_hands(d, syllabus, body)) is not None and share <= most
    ]
    if not told:
        return None
    share, nearest = max(told, key=lambda pair: (pair[0], pair[1].drill))
    return nearest, f"{say_share(share)} of body weight on the hands instead of {say_share(own)}"


@lru_cache(maxsize=8192)
def _share_on_hands(drill: Drill, syllabus: Syllabus, body: Body | None) -> float | None:
    # asked of every drill of a line for every block of a session, and the same all day
    found = share_of(syllabus.mechanics, drill, body, {})
    if found:
        return found[0]
    return 1.0 if drill.drill in syllabus.inverted else None
