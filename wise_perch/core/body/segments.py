"""A trainee's segments: lengths from stature or measured, masses and centres from the handbook's table."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wise_perch.core.body.constants import LENGTH_SHARES, MASS_SHARES, OURS

Segment = Literal["hand", "forearm", "upper-arm", "trunk", "head", "thigh", "shank", "foot"]
CM = 100.0
"""Centimetres in a metre."""
HARDLY = (0.5, 2.0)
"""Beyond these times its usual share no body has a length, and angles of a hand wider than its body would
have none. Ours.
"""


def _total_share(*parts: str) -> float:
    return sum(LENGTH_SHARES[part].value for part in parts)


TOTALS: Mapping[str, float] = {
    "arm": _total_share("upper-arm", "forearm", "hand"),
    "trunk": _total_share("trunk"),
    "leg": _total_share("thigh", "shank", "ankle-height"),
    "hand": _total_share("hand"),
    "shoulder-to-crown": _total_share("head"),
    "forearm": _total_share("forearm"),
    "foot": _total_share("foot"),
}
"""The usual share of stature of every length that may be measured."""


class UnlikelyBody(ValueError):
    """Lengths no body has, such as an arm shorter than its hand; the message says which."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """One body. Lengths in m, `mass_kg` of the whole; `measured` names the lengths that are the trainee's
    own.
    """

    stature: float
    mass_kg: float
    upper_arm: float
    forearm: float
    hand: float
    trunk: float
    thigh: float
    shank: float
    ankle_height: float
    foot: float
    head: float
    measured: tuple[str, ...] = ()

    @property
    def arm(self) -> float:
        """Wrist to shoulder, m."""
        return self.upper_arm + self.forearm

    @property
    def leg(self) -> float:
        """Hip to ankle, m."""
        return self.thigh + self.shank

    @property
    def full_travel(self) -> float:
        """How far the shoulders sink from straight arms until the crown is down, m; no shrug."""
        return self.arm - self.head

    def part(self, name: str) -> float:
        """One of our own small lengths, such as the finger pads' reach, m; it grows with the length it
        belongs to.
        """
        ours = OURS[name]
        base = {"hand": self.hand, "foot": self.foot, "head": self.head, "stature": self.stature}[ours.of]
        usual = 1.0 if ours.of == "stature" else LENGTH_SHARES[ours.of].value
        return ours.value * base / usual

    def mass(self, segment: Segment) -> float:
        """The mass of a segment, both sides together where there are two, kg."""
        share = MASS_SHARES[segment]
        return share.mass * share.count * self.mass_kg


def make_body(*, stature_cm: float, mass_kg: float, own_cm: Mapping[str, float] | None = None) -> Body:
    """Build a body from stature and mass; lengths in `own_cm` (by the intake's names, cm) override the
    estimates.

    An arm is measured from the shoulder to the middle fingertip, a leg from the hip joint to the floor: what
    is known of their parts is kept and the rest divided as the handbook divides it. Raises UnlikelyBody.
    """
    for name, cm in (own_cm or {}).items():
        least, most = (stature_cm * TOTALS[name] * factor for factor in HARDLY)
        if not least <= cm <= most:
            raise UnlikelyBody(
                f"{name.capitalize().replace('-', ' ')} of {cm:g} cm is no length for {stature_cm:g} cm of"
                " stature."
            )
    stature = stature_cm / CM
    own = {name: cm / CM for name, cm in (own_cm or {}).items()}
    usual = {name: share.value * stature for name, share in LENGTH_SHARES.items()}
    hand = own.get("hand", usual["hand"])
    upper_arm, forearm = _arm_lengths(own, usual, hand)
    leg = own.get("leg", usual["thigh"] + usual["shank"] + usual["ankle-height"])
    down = leg / (usual["thigh"] + usual["shank"] + usual["ankle-height"])
    return Body(
        stature=stature,
        mass_kg=mass_kg,
        upper_arm=upper_arm,
        forearm=forearm,
        hand=hand,
        trunk=own.get("trunk", usual["trunk"]),
        thigh=usual["thigh"] * down,
        shank=usual["shank"] * down,
        ankle_height=usual["ankle-height"] * down,
        foot=own.get("foot", usual["foot"]),
        head=own.get("shoulder-to-crown", usual["head"]),
        measured=tuple(own),
    )


def _arm_lengths(own: Mapping[str, float], usual: Mapping[str, float], hand: float) -> tuple[float, float]:
    """Upper arm and forearm, m."""
    if "arm" not in own:
        return usual["upper-arm"], own.get("forearm", usual["forearm"])
    to_wrist = own["arm"] - hand
    forearm = own.get("forearm", to_wrist * usual["forearm"] / (usual["forearm"] + usual["upper-arm"]))
    if to_wrist - forearm <= 0 or forearm <= 0:
        raise UnlikelyBody(
            f"An arm of {own['arm'] * CM:g} cm does not hold a hand of {hand * CM:.1f} cm and a forearm of"
            f" {forearm * CM:.1f} cm."
        )
    return to_wrist - forearm, forearm
