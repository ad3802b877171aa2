"""The ladder of settings: a drill's dial for one body, in steps of like difficulty."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from wise_perch.core.body.kit import MOST_PIECES, KitItem, find_stack, pair_stacks
from wise_perch.core.body.levers import solve_model
from wise_perch.core.body.poses import Numbers
from wise_perch.core.body.segments import CM, Body
from wise_perch.core.trade.evidence import REMEMBERED, Evidence, Form
from wise_perch.core.trade.gates import FALLING, Dial, say_amount
from wise_perch.core.trade.mechanics import Knob, Lever

SETTINGS = 200
"""So many settings of a dial are worked out for a ladder."""
NEAR_CM, NEAR_NOTCHES = 1.0, 2
"""A stack of the coach's kit no farther from a wanted height than this and so many notches is taken instead
of it. Ours.
"""
HARDLY = 0.25
"""Settings within this share of a step of each other are hardly two. Ours."""
MOST_STEPS = 14
"""A ladder of more steps than this is walked with wider ones. Ours."""
FIRM_CM = 10.0
"""For a surface that few pieces make: so far from an even step something firm is still worth more than the
step. Ours.
"""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tested:
    """The hardest setting that went clean. `words`: what was done there; `old`: it wants a re-test."""

    setting: float
    words: str
    day: date
    old: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderStep:
    """One step: the dial's `setting`, the currency's `value` there, and what makes it out of the
    coach's kit.
    """

    setting: float
    value: float
    stack: str = ""
    tested: bool = False
    next: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingsLadder:
    """A dial's settings from easy to hard. `because`: why there are none."""

    dial: str
    steps: tuple[LadderStep, ...]
    tested: Tested | None
    because: str = ""


def sweep_dial(
    lever: Lever, body: Body, *, dial: str, settings: Mapping[str, float], at: Numbers
) -> tuple[Numbers, Numbers]:
    """Work the currency out for many settings of one dial, the other knobs standing.

    Returns: the settings that can be, and the currency there, both of one length.
    """
    if lever.currency is None:
        return np.array([]), np.array([])
    found = solve_model(lever.views[0].model, body, {**settings, dial: at})
    value = np.broadcast_to(found.figures[lever.currency.figure], at.shape)
    fits = (
        found.feasible
        if lever.currency.most is None
        else found.feasible & (value <= lever.currency.most.value)
    )
    return at[fits], value[fits]


def lay_out_ladder(
    lever: Lever,
    body: Body,
    *,
    dial: Dial,
    settings: Mapping[str, float],
    kit: Sequence[KitItem] = (),
    tested: Tested | None = None,
    stands: float | None = None,
) -> SettingsLadder:
    """Lay out a dial's settings in steps of like difficulty.

    Args: `settings` of the other knobs, in their units; `stands`: where the dial stands now, which is a step
    of the ladder and marked as the next to work at; without it that is the one after the tested one. Each
    step is rounded to the knob's notch and worked out again there, so that its value is the true one.
    """
    knob, currency = lever.knob(dial.name), lever.currency
    if knob is None or currency is None:
        return SettingsLadder(dial=dial.name, steps=(), tested=tested, because="This dial has no model.")
    at, value = sweep_dial(
        lever, body, dial=dial.name, settings=settings, at=np.linspace(knob.least, knob.most, SETTINGS)
    )
    if not at.size:
        reason = solve_model(
            lever.views[0].model, body, {**settings, dial.name: np.array([knob.start_at(body.stature * CM)])}
        ).at(0)
        return SettingsLadder(dial=dial.name, steps=(), tested=tested, because=getattr(reason, "because", ""))
    up = _harder_up(dial)
    wanted = _even_steps(
        at[:: 1 if up else -1],
        value[:: 1 if up else -1],
        step=currency.step.value * (body.mass_kg if currency.per_kg else 1.0),
    )
    rounded = list(dict.fromkeys(_made_by_kit(float(x), knob, kit) for x in wanted))
    chosen = np.array(
        _with_setting(_with_setting(rounded, tested.setting if tested else None, knob), stands, knob)
    )
    settings_kept, values = sweep_dial(lever, body, dial=dial.name, settings=settings, at=chosen)
    following = (
        _nearest_step(settings_kept, stands)
        if stands is not None
        else _next_step(settings_kept, tested, up=up)
    )
    near = _nearest_step(settings_kept, tested.setting) if tested else None
    return SettingsLadder(
        dial=dial.name,
        tested=tested,
        steps=tuple(
            LadderStep(
                setting=float(s),
                value=float(v),
                stack=stack_for(float(s), knob, kit),
                tested=n == near and abs(float(s) - (tested.setting if tested else 0)) <= knob.notch,
                next=n == following,
            )
            for n, (s, v) in enumerate(zip(settings_kept, values, strict=True))
        ),
    )


def _harder_up(dial: Dial) -> bool:
    return dial.harder not in FALLING


def _even_steps(at: Numbers, value: Numbers, *, step: float) -> Numbers:
    """Settings from easy to hard, each `step` of the currency from the one before; the ends belong to it.

    Difficulty is what changes from the easy end on; where it stands still or turns back, nothing is gained
    there.
    """
    gone = np.maximum.accumulate(np.abs(value - value[0]))
    steps = min(MOST_STEPS, max(1, round(float(gone[-1]) / step)))
    marks = np.linspace(0, float(gone[-1]), steps + 1)
    rising = np.concatenate([[True], np.diff(gone) > 0])
    return np.asarray(np.interp(marks, gone[rising], at[rising]))


def _nearest_step(settings: Numbers, wanted: float) -> int | None:
    return int(np.argmin(np.abs(settings - wanted))) if settings.size else None


def _next_step(settings: Numbers, tested: Tested | None, *, up: bool) -> int | None:
    """The first step that is harder than the tested one."""
    if tested is None:
        return None
    sign = 1 if up else -1
    return next((n for n, s in enumerate(settings) if sign * (float(s) - tested.setting) > 1e-6), None)


def _with_setting(settings: list[float], setting: float | None, knob: Knob) -> list[float]:
    """A tested setting, or the present one, stands on the ladder as it was: in place of a neighbour that is
    hardly another, else between its neighbours.

    Where it took the place of one half a step away, the next step would be half as wide again as all others.
    """
    if setting is None or not knob.least <= setting <= knob.most or setting in settings:
        return settings
    near = min(range(len(settings)), key=lambda n: abs(settings[n] - setting))
    gap = abs(settings[-1] - settings[0]) / max(1, len(settings) - 1)
    if abs(settings[near] - setting) <= max(knob.notch, HARDLY * gap):
        return [*settings[:near], setting, *settings[near + 1 :]]
    up = settings[-1] >= settings[0]
    return sorted([*settings, setting], reverse=not up)


def _made_by_kit(setting: float, knob: Knob, kit: Sequence[KitItem]) -> float:
    """The setting the coach's kit really makes next to a wanted one; where it makes none near, the one on the
    notch.
    """
    pieces, sign = _usable_pieces(setting, knob, kit)
    reach = FIRM_CM if knob.stack_pieces else NEAR_CM + NEAR_NOTCHES * knob.notch
    found = (
        find_stack(pieces, height_cm=abs(setting), most_pieces=_most_pieces(knob))
        if pieces and abs(setting) >= NEAR_CM
        else None
    )
    heights = [s.height_cm for s in (found.exact, found.lower, found.higher) if s] if found else []
    near = min((h for h in heights), key=lambda h: (abs(h - abs(setting)), h), default=None)
    return sign * near if near is not None and abs(near - abs(setting)) <= reach else knob.on_notch(setting)


def _most_pieces(knob: Knob) -> int:
    return knob.stack_pieces or MOST_PIECES


def _usable_pieces(setting: float, knob: Knob, kit: Sequence[KitItem]) -> tuple[Sequence[KitItem], int]:
    """The kit that makes a setting, and its sign: below zero both hands stand raised."""
    if setting >= 0:
        return [i for i in kit if i.kind in knob.stacks], 1
    return pair_stacks([i for i in kit if i.kind in knob.hand_stacks]), -1


def stack_for(setting: float, knob: Knob, kit: Sequence[KitItem]) -> str:
    """What makes a height out of the coach's kit; empty where nothing makes it to the millimetre."""
    pieces, sign = _usable_pieces(setting, knob, kit)
    found = (
        find_stack(pieces, height_cm=abs(setting), most_pieces=_most_pieces(knob)).exact
        if pieces and setting
        else None
    )
    return "" if found is None else found.text if sign > 0 else f"under each hand {found.text}"


def hardest_clean(
    pieces: Sequence[Evidence], *, drills: Sequence[str], dial: Dial, on: date, stale_after_days: float
) -> Tested | None:
    """The hardest setting of a dial that went clean in some drill: from sets made at a setting, and from
    limits tests left.

    What is not yet stale counts before what is.
    """
    up = 1 if _harder_up(dial) else -1
    found = []
    for piece in pieces:
        if piece.drill not in drills or piece.day > on or piece.form is not Form.CLEAN:
            continue
        remembered = piece.mode == REMEMBERED
        setting = piece.value if remembered else piece.dial.get(dial.name)
        if setting is None or (not remembered and piece.value <= 0):
            continue
        words = (
            "limit of the test" if remembered else f"{say_amount(piece.value, piece.measure, piece.n)} clean"
        )
        found.append(
            Tested(setting=setting, words=words, day=piece.day, old=(on - piece.day).days > stale_after_days)
        )
    return max(found, key=lambda t: (not t.old, up * t.setting, t.day), default=None)
