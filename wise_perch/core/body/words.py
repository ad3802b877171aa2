"""Figures of levers as they are said, and the sentences that set a test up for one trainee."""

import re
from collections.abc import Mapping
from dataclasses import dataclass

from wise_perch.core.body.answers import Infeasible
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.mechanics import FigureNote, Lever, Mechanics

WAYS: Mapping[str, tuple[float, int, str]] = {
    "share": (100, 0, " %"),
    "cm": (1, 0, " cm"),
    "deg": (1, 1, "°"),
    "n": (1, 0, " N"),
    "nm": (1, 0, " N m"),
    "j": (1, 0, " J"),
    "kgm2": (1, 1, " kg m²"),
    "per_s": (1, 2, " a second"),
}
"""How a figure of each unit is said: its factor, decimals and unit."""
SMALL = 10
"""Below so many cm a millimetre is worth saying."""
BRACES = re.compile(r"\{([a-z_0-9]+)\}")


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureShown:
    """A figure by its name, its value, and how it is said."""

    figure: str
    title: str
    value: float
    words: str


def say_figure(note: FigureNote, value: float) -> str:
    """A figure as it is said: "83 %", "4.1 cm", "20 N m"."""
    factor, decimals, unit = WAYS[note.unit]
    if note.unit == "cm" and abs(value) < SMALL:
        decimals = 1
    # never a minus sign before nothing
    return f"{round(value * factor, decimals) + 0.0:.{decimals}f}{unit}"


def show_figures(
    mechanics: Mechanics, lever: Lever, figures: Mapping[str, float], *, mass_known: bool
) -> tuple[FigureShown, ...]:
    """A model's figures, the lever's currency first and then in the order of the data, without those that
    would need a mass nobody entered.
    """
    first = lever.currency.figure if lever.currency else ""
    found = [
        FigureShown(figure=name, title=note.title, value=figures[name], words=say_figure(note, figures[name]))
        for name, note in mechanics.figures.items()
        if name in figures and (mass_known or not note.needs_mass)
    ]
    return tuple(sorted(found, key=lambda f: f.figure != first))


def value_said(note: FigureNote, value: float, *, mass_known: bool) -> str:
    """A step's value; where the mass is not known, what it is for each kg of it."""
    if note.needs_mass and not mass_known:
        return f"{value:.2f}{WAYS[note.unit][2]} a kg"
    return say_figure(note, value)


def setup_lines(
    mechanics: Mechanics, lever: Lever, body: Body, settings: Mapping[str, float]
) -> tuple[str, ...]:
    """What a coach sets up for this body, at these settings where some are given; or why the setting cannot
    be.
    """
    stands = settings_for(lever, body, settings)
    found = solve_one(lever.views[0].model, body, stands)
    if isinstance(found, Infeasible):
        return (
            (
                f"This setting is {found.because}."
                if found.because.startswith("out")
                else f"Not at this setting: {found.because}."
            ),
        )

    def value(name: str) -> str:
        knob = lever.knob(name)
        if knob:
            return f"{stands[name]:g}{'°' if knob.unit == 'deg' else ' cm'}"
        return say_figure(mechanics.figures[name], found.figures[name])

    lines = (*lever.setup, *(lever.setup_at if settings else ()))
    return tuple(BRACES.sub(lambda m: value(m[1]), line) for line in lines)
