"""The door to the mechanics without server or database: a kind of lever, a body and settings in,
figures out.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from wise_perch.core.body.answers import Answer, Infeasible
from wise_perch.core.body.levers import MASSLESS_KG, solve_one
from wise_perch.core.body.segments import Body, UnlikelyBody, make_body
from wise_perch.core.body.upright import handstand
from wise_perch.core.trade.intake import Intake
from wise_perch.formats.junk import Junk

Given = Mapping[str, float]
LEAST_CM, MOST_CM, MOST_DEG = 0.0, 500.0, 180.0
LENGTH_LEAST_CM, LENGTH_MOST_CM = 1.0, 200.0
DIGITS = 6
"""Figures are printed to so many places: far below what anybody can set."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """One kind of lever: the options it must have, those it may have with their value, and how it is worked
    out.
    """

    needs: tuple[str, ...]
    work: Callable[[Body, Given], "dict[str, Any] | Infeasible"]
    may: Mapping[str, float]
    mass: bool = False


def lever_figures(
    kind: str,
    *,
    stature_cm: float | None,
    mass_kg: float | None,
    own_cm: Given,
    options: Given,
    words: Mapping[str, str],
    intake: Intake,
) -> dict[str, Any]:
    """Work one lever out.

    Args: `own_cm` measured lengths by the intake's names; `options` numbers by name ("hands-cm"), `words`
    such as facing.
    Returns: `feasible` with the figures of docs/formats.md, or with `because`. Raises Junk for what cannot be
    asked.
    """
    known = KINDS.get(kind)
    if known is None:
        raise Junk([f'There is no lever "{kind[:40]}"; there are {", ".join(KINDS)}.'])
    wrong = [
        *_wrong_body(stature_cm, mass_kg, own_cm, intake, mass=known.mass),
        *_wrong_options(kind, known, options, words),
    ]
    if wrong or stature_cm is None:
        raise Junk(wrong)
    try:
        made = make_body(stature_cm=stature_cm, mass_kg=mass_kg or MASSLESS_KG, own_cm=own_cm)
    except UnlikelyBody as error:
        raise Junk([str(error)]) from error
    given = {**known.may, **options, "facing": FACINGS.get(words.get("facing", ""), 0)}
    found = known.work(made, given)
    return (
        {"feasible": False, "because": found.because}
        if isinstance(found, Infeasible)
        else {"feasible": True, **found}
    )


FACINGS = {"back": 0.0, "chest": 1.0}


def _wrong_body(
    stature_cm: float | None, mass_kg: float | None, own_cm: Given, intake: Intake, *, mass: bool
) -> list[str]:
    found = []
    least, most = intake.stature_least_cm.value, intake.stature_most_cm.value
    if stature_cm is None:
        found.append("--stature-cm is missing.")
    elif not least <= stature_cm <= most:
        found.append(f"--stature-cm is {stature_cm:g}; it lies between {least:g} and {most:g}.")
    lightest, heaviest = intake.mass_least_kg.value, intake.mass_most_kg.value
    if mass_kg is None and mass:
        found.append("--mass-kg is missing.")
    elif mass_kg is not None and not lightest <= mass_kg <= heaviest:
        found.append(f"--mass-kg is {mass_kg:g}; it lies between {lightest:g} and {heaviest:g}.")
    for name, cm in own_cm.items():
        if not LENGTH_LEAST_CM <= cm <= LENGTH_MOST_CM:
            found.append(
                f"--{name}-cm is {cm:g}; it lies between {LENGTH_LEAST_CM:g} and {LENGTH_MOST_CM:g}."
            )
    return found


def _wrong_options(kind: str, known: Kind, options: Given, words: Mapping[str, str]) -> list[str]:
    found = [f"--{name} is missing." for name in known.needs if name not in options and name not in words]
    found += [
        f"{kind} takes no --{name}."
        for name in (*options, *words)
        if name not in known.needs and name not in known.may
    ]
    if "facing" in words and words["facing"] not in FACINGS:
        found.append(f'--facing is "{words["facing"][:40]}"; it is back or chest.')
    for name, value in options.items():
        least = -MOST_CM if name == "pad-cm" else LEAST_CM
        most = MOST_DEG if name.endswith("deg") else MOST_CM
        if not (math.isfinite(value) and least <= value <= most):
            found.append(f"--{name} is {value:g}; it lies between {least:g} and {most:g}.")
    return found


def _named_figures(found: Answer | Infeasible, names: Mapping[str, str]) -> "dict[str, Any] | Infeasible":
    """The figures of an answer under the door's names."""
    if isinstance(found, Infeasible):
        return found
    return {name: round(found.figures[figure], DIGITS) for name, figure in names.items()}


def _handstand_of(made: Body, _: Given) -> dict[str, Any]:
    stands = handstand(made)
    return {
        "com_height_cm": round(stands.com_height * 100, DIGITS),
        "inertia_kg_m2": round(stands.inertia, DIGITS),
        "natural_rate_per_s": round(stands.rate, DIGITS),
        "over_limit_deg": round(float(np.degrees(stands.over)), DIGITS),
        "under_limit_deg": round(-float(np.degrees(stands.under)), DIGITS),
    }


def _pike_of(made: Body, given: Given) -> "dict[str, Any] | Infeasible":
    settings = {"hands-to-feet": given["hands-to-feet-cm"], "surface-height": given["surface-cm"]}
    top, bottom = solve_one("pike-top", made, settings), solve_one("pike-bottom", made, settings)
    if isinstance(top, Infeasible) and isinstance(bottom, Infeasible):
        return top
    found: dict[str, Any] = {"top_share": None, "bottom_share": None, "hip_angle_deg": None}
    if isinstance(top, Answer):
        found |= {
            "top_share": round(top.figures["share"], DIGITS),
            "hip_angle_deg": round(top.figures["hip_angle_deg"], DIGITS),
        }
    else:
        found["top_because"] = top.because
    if isinstance(bottom, Answer):
        found["bottom_share"] = round(bottom.figures["share"], DIGITS)
    else:
        found["bottom_because"] = bottom.because
    return found


def _one_answer(
    model: str, settings: Mapping[str, str], names: Mapping[str, str]
) -> Callable[[Body, Given], "dict[str, Any] | Infeasible"]:
    """A lever that is one model: `settings` from knob to option, `names` from the door's figure to the
    model's.
    """
    return lambda made, given: _named_figures(
        solve_one(model, made, {knob: given[option] for knob, option in settings.items()}), names
    )


def _push_up(made: Body, given: Given) -> "dict[str, Any] | Infeasible":
    model = "push-up-knees" if given["knees"] else "push-up"
    return _named_figures(
        solve_one(model, made, {"hands-height": given["hands-cm"], "feet-height": given["feet-cm"]}),
        {"hand_share": "share"},
    )


def _wall_of(made: Body, given: Given) -> "dict[str, Any] | Infeasible":
    model = "wall-chest" if given["facing"] else "wall-back"
    names = {"lean_deg": "lean_deg", "wall_force_n": "wall_force_n", "float_limit_cm": "float_limit_cm"}
    return _named_figures(solve_one(model, made, {"hands-to-wall": given["hands-to-wall-cm"]}), names)


KINDS: Mapping[str, Kind] = {
    "handstand": Kind(needs=(), may={}, work=_handstand_of, mass=True),
    "push-up": Kind(needs=(), may={"hands-cm": 0, "feet-cm": 0, "knees": 0}, work=_push_up),
    "pike": Kind(needs=("hands-to-feet-cm",), may={"surface-cm": 0}, work=_pike_of),
    "knees-on-bench": Kind(
        needs=("hands-to-feet-cm",),
        may={"surface-cm": 0},
        work=_one_answer(
            "knees-on-bench",
            {"hands-to-knees": "hands-to-feet-cm", "surface-height": "surface-cm"},
            {"hand_share": "share"},
        ),
    ),
    "right-angle": Kind(
        needs=(),
        may={},
        work=_one_answer(
            "right-angle",
            {},
            {"box_cm": "box_cm", "hands_to_feet_cm": "hands_to_feet_cm", "hand_share": "share"},
        ),
    ),
    "wall": Kind(needs=("facing", "hands-to-wall-cm"), may={}, work=_wall_of, mass=True),
    "push-travel": Kind(
        needs=("pad-cm",),
        may={},
        work=_one_answer(
            "push-travel",
            {"pad-height": "pad-cm"},
            {"travel_cm": "travel_cm", "share_of_full": "share_of_full", "work_j": "work_j"},
        ),
        mass=True,
    ),
    "press": Kind(
        needs=("fold-deg",),
        may={"straddle-deg": 0, "surface-cm": 0},
        work=_one_answer(
            "press",
            {"fold": "fold-deg", "straddle": "straddle-deg", "surface-height": "surface-cm"},
            {
                "lean_deg": "lean_deg",
                "shoulder_ahead_cm": "shoulder_ahead_cm",
                "shoulder_moment_nm": "shoulder_moment_nm",
            },
        ),
        mass=True,
    ),
}
"""Every kind the door knows. Lengths in cm, kg, degrees; shares as fractions of body weight."""


def summary(found: Mapping[str, Any]) -> str:
    """Say the figures in lines for a reader."""
    if not found["feasible"]:
        return f"Not possible: {found['because']}"
    return "\n".join(
        f"{name}: {value if value is not None else '-'}"
        for name, value in found.items()
        if name != "feasible"
    )
