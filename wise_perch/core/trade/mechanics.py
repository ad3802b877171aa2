"""Levers as data: positions, their knobs, what their figures mean, and what the hands carry."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.trade.decision import Figure

Unit = Literal["cm", "deg"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """One thing to set. `start` in its unit, or as a share of stature with `of_stature`; `notch` the step it
    is set in.

    `stacks`: kinds of kit that make it, of at most `stack_pieces` pieces where that is said; `hand_stacks`
    those that raise the hands where it goes below zero.
    """

    knob: str
    title: str
    unit: Unit
    least: float
    most: float
    notch: float
    start: Figure
    of_stature: bool = False
    stacks: tuple[str, ...] = ()
    stack_pieces: int | None = None
    hand_stacks: tuple[str, ...] = ()

    def notches(self) -> tuple[float, ...]:
        """Every setting it clicks into, the least first, in its unit."""
        many = int((self.most - self.least) / self.notch + 1e-9)
        return tuple(round(self.least + n * self.notch, 6) for n in range(many + 1))

    def start_at(self, stature_cm: float) -> float:
        """Where it stands for a body of this stature before anybody has touched it, in its unit, on its
        notch.
        """
        value = self.start.value * stature_cm if self.of_stature else self.start.value
        return self.on_notch(min(self.most, max(self.least, value)))

    def on_notch(self, value: float) -> float:
        """The nearest setting that is set in practice."""
        return round(round(value / self.notch) * self.notch, 4)


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """One moment of a position, worked out by one model."""

    view: str
    title: str
    model: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Currency:
    """The figure in which a lever's settings are compared. `step`: what one step of the ladder is; `per_kg`
    of body mass.

    `falls`: less of it is harder. `full`: the value at which the next drill begins, with its name. `most`:
    beyond it nobody trains.
    """

    figure: str
    title: str
    step: Figure
    per_kg: bool = False
    falls: bool = False
    full: Figure | None = None
    full_title: str = ""
    most: Figure | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Surrounding:
    """One thing that stands around a position: a box, pads, a wall, a ball; or only a distance to be shown.

    `measure`: the knob, or the figure in cm, that says how high or how far; `at`: the joint it stands under
    or reaches to; `ahead_cm` and `behind_cm`: how far it reaches to either side of that; `hands_ahead_cm` and
    `hands_behind_cm`: the same for what raises the hands where pads go below zero; `side`: a wall on the side
    that fingers point away from (-1) or to (1); `measured`: shown as a distance along the floor, under this
    name.
    """

    kind: Literal["box", "pads", "wall", "ball", "distance"]
    measure: str = ""
    at: str = ""
    ahead_cm: float = 6
    behind_cm: float = 40
    hands_ahead_cm: float = 3
    hands_behind_cm: float = 22
    side: int = 1
    measured: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Lever:
    """A position on the Levers screen. The first view's figure is the currency; `drills` are set up by it.

    Levers of one `group` are compared by their share, such as those of the push line. `setup`: sentences for
    the set-up of a test, with figures or knobs in braces; `setup_at`: those that hold at a given setting
    only. `surroundings`: what stands around it; `contact`: the joint that touches the wall; `shows_saves`: it
    is shown as leans that can be saved or not.
    """

    lever: str
    title: str
    about: str
    views: tuple[View, ...]
    knobs: tuple[Knob, ...] = ()
    currency: Currency | None = None
    drills: tuple[str, ...] = ()
    group: str = ""
    cautions: tuple[str, ...] = ()
    setup: tuple[str, ...] = ()
    setup_at: tuple[str, ...] = ()
    surroundings: tuple[Surrounding, ...] = ()
    contact: str = "toes"
    shows_saves: bool = False

    def knob(self, name: str) -> Knob | None:
        """The knob of this name."""
        return next((k for k in self.knobs if k.knob == name), None)


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureNote:
    """What a figure is: title, unit (share, cm, deg, n, nm, j), its formula in words, and the source.

    `joint`: where it stands in a drawing; "contact" is what touches the wall."""

    title: str
    unit: str
    formula: str
    source: str
    needs_mass: bool = False
    joint: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FixedLoad:
    """Drills whose hands carry a fixed share of body weight, whatever the setting."""

    share: Figure
    drills: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """The figures of the first-rep outlook: model error as a share, the usual fold and its doubt, the reps
    formulas' range.

    `press_drills`: those whose lowest surface says how near the press is.
    """

    press_drills: tuple[str, ...]
    share_error: Figure
    fold_deg: Figure
    fold_error_deg: Figure
    straddle_deg: Figure
    most_reps: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Mechanics:
    """All that is data about levers: positions, what figures mean, hand loads, how big a jump in share is too
    big.

    `share_lines`: lines whose rungs show what they put on the hands; `first_drill`: what the levers open
    with.
    """

    share_lines: tuple[str, ...]
    first_drill: str
    levers: tuple[Lever, ...]
    figures: Mapping[str, FigureNote]
    fixed_loads: tuple[FixedLoad, ...]
    test_drills: Mapping[str, str]
    rep_s: Figure
    jump: Figure
    outlook: Outlook

    def lever(self, name: str) -> Lever | None:
        """The lever of this name."""
        return next((x for x in self.levers if x.lever == name), None)

    def of_drill(self, drill: str, family: str = "") -> Lever | None:
        """The lever that sets a drill up: its own, else that of the drill it was made from."""
        for name in (drill, family):
            if found := next((x for x in self.levers if name and name in x.drills), None):
                return found
        return None
