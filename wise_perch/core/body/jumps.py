"""Jumps in share: neighbours on a line whose hand shares lie far apart for this body, and the settings in
between.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from wise_perch.core.body.ladders import SETTINGS, sweep_dial
from wise_perch.core.body.levers import settings_for
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.mechanics import Lever, Mechanics
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_share

MOST_BETWEEN = 4
"""More settings in between than this are not proposed at once. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Between:
    """A setting in between, as knob settings, with its share and how it is said."""

    settings: dict[str, float]
    share: float
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Jump:
    """Two neighbours, the share each puts on the hands, and what could stand between."""

    lower: str
    upper: str
    lower_share: float
    upper_share: float
    sentence: str
    between: tuple[Between, ...]


def find_jumps(
    syllabus: Syllabus, body: Body, *, set_to: Callable[[Drill], Mapping[str, float]]
) -> tuple[Jump, ...]:
    """Find neighbours of a group of levers that lie further apart in share than the data allows.

    Args: `set_to` the dial settings a drill is done at now (its tested limit, else where it starts).
    """
    mechanics, found = syllabus.mechanics, []
    for line in syllabus.lines:
        for upper in (d for rung in line.rungs for d in rung):
            asked = dict.fromkeys(
                w for need in syllabus.needs[upper.drill] if need.enough is None for w in need.any_of
            )
            for lower in (syllabus.drills[w] for w in asked if syllabus.line_of.get(w) == line.line):
                if jump := _find_jump(mechanics, body, lower, upper, set_to):
                    found.append(jump)
    return tuple(found)


def _find_jump(
    mechanics: Mechanics,
    body: Body,
    lower: Drill,
    upper: Drill,
    set_to: Callable[[Drill], Mapping[str, float]],
) -> Jump | None:
    lever = mechanics.of_drill(lower.drill, lower.family)
    if lever is None or not lever.group or lever.currency is None:
        return None
    above = _share_above(mechanics, body, upper, set_to)
    here = settings_for(lever, body, set_to(lower))
    _, low = sweep_dial(
        lever, body, dial=lever.knobs[0].knob, settings=here, at=np.array([here[lever.knobs[0].knob]])
    )
    if above is None or not low.size or above - float(low[0]) <= mechanics.jump.value:
        return None
    between = _settings_between(lever, body, here, float(low[0]), above, step=lever.currency.step.value)
    return Jump(
        lower=lower.drill,
        upper=upper.drill,
        lower_share=float(low[0]),
        upper_share=above,
        between=between,
        sentence=(
            f"From {lower.title} ({_say_settings(lever, here)}: {say_share(float(low[0]))}) to {upper.title}"
            f" ({say_share(above)}) is {(above - float(low[0])) * 100:.0f} points of body weight at once."
        ),
    )


def _share_above(
    mechanics: Mechanics, body: Body, upper: Drill, set_to: Callable[[Drill], Mapping[str, float]]
) -> float | None:
    if fixed := next((x for x in mechanics.fixed_loads if upper.drill in x.drills), None):
        return fixed.share.value
    lever = mechanics.of_drill(upper.drill, upper.family)
    if lever is None or not lever.group:
        return None
    here = settings_for(lever, body, set_to(upper))
    _, share = sweep_dial(
        lever, body, dial=lever.knobs[0].knob, settings=here, at=np.array([here[lever.knobs[0].knob]])
    )
    return float(share[0]) if share.size else None


def _settings_between(
    lever: Lever, body: Body, here: Mapping[str, float], low: float, high: float, *, step: float
) -> tuple[Between, ...]:
    """Settings of the lever's first knob, the others as they stand, in even steps of share from `low` to
    `high`.
    """
    knob = lever.knobs[0]
    at, share = sweep_dial(
        lever, body, dial=knob.knob, settings=here, at=np.linspace(knob.least, knob.most, SETTINGS)
    )
    # nearer feet: the share grows as the setting falls, so that it is read from the far end
    rising, order = np.maximum.accumulate(share[::-1]), at[::-1]
    count = min(MOST_BETWEEN, max(1, round((high - low) / step) - 1))
    found = []
    for wanted in np.linspace(low, high, count + 2)[1:-1]:
        if not rising.size or not rising[0] <= wanted <= rising[-1]:
            continue
        setting = knob.on_notch(float(order[int(np.searchsorted(rising, wanted))]))
        _, true = sweep_dial(lever, body, dial=knob.knob, settings=here, at=np.array([setting]))
        if true.size and low < true[0] < high:
            settings = {**here, knob.knob: setting}
            found.append(
                Between(settings=settings, share=float(true[0]), words=_say_settings(lever, settings))
            )
    return tuple(found)


def _say_settings(lever: Lever, settings: Mapping[str, float]) -> str:
    return ", ".join(
        f"{k.title.lower()} {settings[k.knob]:g} {'°' if k.unit == 'deg' else 'cm'}" for k in lever.knobs
    )
