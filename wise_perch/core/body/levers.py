"""A lever: a drill or position set up by its dials, as data, and the model that works it out for one body."""

from collections.abc import Callable, Mapping
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from wise_perch.core.body.answers import Answer, Answers, Infeasible
from wise_perch.core.body.pikes import hips_over_hands, knees_on_bench, pike_bottom, pike_top, right_angle
from wise_perch.core.body.poses import Numbers
from wise_perch.core.body.presses import press, press_to_target
from wise_perch.core.body.pushing import ball_lean, push_travel, push_up
from wise_perch.core.body.segments import CM, Body, UnlikelyBody
from wise_perch.core.body.segments import make_body as made_body
from wise_perch.core.body.upright import handstand, straight_pose, wall_hold
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.mechanics import Lever

Settings = Mapping[str, npt.ArrayLike]
"""Knob settings by name, in the knob's own unit."""
MASSLESS_KG = 1.0
"""Stands in for an unknown mass; figures that need it are then left out."""


def in_metres(settings: Settings, knob: str) -> Numbers:
    """A knob's setting in metres."""
    return np.asarray(np.atleast_1d(np.asarray(settings[knob], float)) / CM)


def _angle_of(settings: Settings, knob: str) -> Numbers:
    return np.asarray(np.radians(np.atleast_1d(np.asarray(settings[knob], float))))


def _solve_braced(body: Body, settings: Settings) -> Answers:
    lean = np.pi / 2 - _angle_of(settings, "body-to-floor-angle")
    long = body.arm + body.trunk + body.leg + body.part("ankle-to-toes")
    found = wall_hold(body, facing="chest", hands_to_wall=long * np.sin(lean))
    return Answers(
        pose=found.pose,
        figures={**found.figures, "hands_to_wall_cm": long * np.sin(lean) * CM},
        faults=found.faults,
    )


def _solve_standing(body: Body, _: Settings) -> Answers:
    stands = handstand(body)
    figures = {
        "com_height_cm": stands.com_height * CM,
        "inertia_kg_m2": stands.inertia,
        "natural_rate_per_s": stands.rate,
        "over_limit_deg": float(np.degrees(stands.over)),
        "under_limit_deg": -float(np.degrees(stands.under)),
        "share": 1.0,
    }
    return Answers(
        pose=straight_pose(body, np.zeros(1)), figures={name: np.array([v]) for name, v in figures.items()}
    )


MODELS: Mapping[str, Callable[[Body, Settings], Answers]] = {
    "handstand": _solve_standing,
    "pike-bottom": lambda b, s: pike_bottom(
        b, hands_to_feet=in_metres(s, "hands-to-feet"), surface=in_metres(s, "surface-height")
    ),
    "pike-top": lambda b, s: pike_top(
        b, hands_to_feet=in_metres(s, "hands-to-feet"), surface=in_metres(s, "surface-height")
    ),
    "knees-on-bench": lambda b, s: knees_on_bench(
        b, hands_to_knees=in_metres(s, "hands-to-knees"), surface=in_metres(s, "surface-height")
    ),
    "hips-over-hands": lambda b, s: hips_over_hands(b, surface=in_metres(s, "surface-height")),
    "right-angle": lambda b, _: right_angle(b),
    "push-up": lambda b, s: push_up(b, hands=in_metres(s, "hands-height"), feet=in_metres(s, "feet-height")),
    "push-up-knees": lambda b, s: push_up(
        b, hands=in_metres(s, "hands-height"), feet=in_metres(s, "feet-height"), knees=True
    ),
    "push-travel": lambda b, s: push_travel(b, pad=in_metres(s, "pad-height")),
    "wall-back": lambda b, s: wall_hold(b, facing="back", hands_to_wall=in_metres(s, "hands-to-wall")),
    "wall-chest": lambda b, s: wall_hold(b, facing="chest", hands_to_wall=in_metres(s, "hands-to-wall")),
    "braced-lean": _solve_braced,
    "press": lambda b, s: press(
        b,
        fold=_angle_of(s, "fold"),
        straddle=_angle_of(s, "straddle"),
        surface=in_metres(s, "surface-height"),
    ),
    "press-to-target": lambda b, s: press_to_target(
        b, target=in_metres(s, "target-distance"), straddle=_angle_of(s, "straddle")[:1]
    ),
    "ball-lean": lambda b, s: ball_lean(b, ball_to_toes=in_metres(s, "ball-to-toes")),
}
"""Every model by its name: knob settings in cm and degrees, scalars or arrays that broadcast."""


def solve_model(model: str, body: Body, settings: Settings) -> Answers:
    """Work a model out for every setting."""
    return MODELS[model](body, settings)


def solve_one(model: str, body: Body, settings: Mapping[str, float]) -> Answer | Infeasible:
    """Work a model out for one setting. What was worked out before is given again: nobody changes it."""
    return _solved(model, body, tuple(sorted(settings.items())))


@lru_cache(maxsize=4096)
def _solved(model: str, body: Body, settings: tuple[tuple[str, float], ...]) -> Answer | Infeasible:
    return solve_model(model, body, dict(settings)).at(0)


def settings_for(lever: Lever, body: Body, given: Mapping[str, float]) -> dict[str, float]:
    """Every knob's setting: as given, else where it begins."""
    return {k.knob: given.get(k.knob, k.start_at(body.stature * CM)) for k in lever.knobs}


def likely_body(profile: Profile | None) -> Body | None:
    """The body an intake describes, or None while it is not known or cannot be."""
    try:
        return own_body(profile)
    except UnlikelyBody:
        return None


def own_body(profile: Profile | None) -> Body | None:
    """The body an intake describes; None while stature is unknown. Raises UnlikelyBody."""
    if profile is None or profile.stature_cm is None:
        return None
    return made_body(
        stature_cm=profile.stature_cm, mass_kg=profile.mass_kg or MASSLESS_KG, own_cm=profile.lengths_cm
    )
