"""Hand-load: the share of body weight on the hands times the seconds it is carried, in body-weight
seconds.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import MEASURE_UNITS, Measure
from wise_perch.core.trade.mechanics import Mechanics
from wise_perch.core.trade.words import say_share


@dataclass(frozen=True, slots=True, kw_only=True)
class HandLoad:
    """What one piece of work put on the hands. `seconds` of body weight = `share` x the time; `because`: how
    it was worked out.
    """

    share: float
    seconds: float
    because: str


def share_of(
    mechanics: Mechanics, drill: Drill, body: Body | None, dial: Mapping[str, float]
) -> tuple[float, str] | None:
    """The share of body weight on the hands in a drill at its dial settings, and where it comes from.

    None where no model knows the drill, its setting cannot be, or the trainee's size is not known.
    """
    fixed = next(
        (
            x
            for x in mechanics.fixed_loads
            if drill.drill in x.drills or (drill.family and drill.family in x.drills)
        ),
        None,
    )
    if fixed:
        return fixed.share.value, "all of the weight"
    lever = mechanics.of_drill(drill.drill, drill.family)
    if lever is None or body is None:
        return None
    set_to = {name: value for name, value in dial.items() if lever.knob(name)}
    if drill.dial and drill.dial.start and drill.dial.name not in set_to and lever.knob(drill.dial.name):
        set_to[drill.dial.name] = drill.dial.start.value
    found = solve_one(lever.views[0].model, body, settings_for(lever, body, set_to))
    if not isinstance(found, Answer):
        return None
    guessed = [k.title.lower() for k in lever.knobs if k.knob not in dial]
    return found.figures["share"], f"{lever.title.lower()}, model" + (
        f"; {' and '.join(guessed)} as usual" if guessed else ""
    )


def seconds_of(
    mechanics: Mechanics, *, measure: Measure, value: float, window_s: float | None
) -> float | None:
    """How long the hands carried, s: a hold's seconds, reps at the usual pace, a whole window of touches;
    None for what is no work.
    """
    if measure is Measure.TOUCHES:
        return window_s
    if MEASURE_UNITS[measure] == "s":
        return value
    return value * mechanics.rep_s.value if measure is Measure.REPS else None


def hand_load(
    mechanics: Mechanics,
    share: tuple[float, str] | None,
    *,
    measure: Measure,
    value: float,
    window_s: float | None,
) -> HandLoad | None:
    """The hand-load of one set or try, or None where it is not known. `share`: as `share_of` gives it for the
    drill and its dial.
    """
    seconds = seconds_of(mechanics, measure=measure, value=value, window_s=window_s)
    if not seconds or share is None:
        return None
    return HandLoad(
        share=share[0],
        seconds=share[0] * seconds,
        because=f"{say_share(share[0])} x {seconds:g} s ({share[1]})",
    )
