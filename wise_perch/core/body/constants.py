"""Every figure of the body model with its source, in one place."""

from collections.abc import Mapping
from dataclasses import dataclass

DRILLIS_CONTINI = (
    "Drillis and Contini, 1966, Body Segment Parameters, in Winter, Biomechanics and Motor Control of Human"
    " Movement (value from memory)"
)
WINTER = "Winter, Biomechanics and Motor Control of Human Movement, table 4.1 (value from memory)"
HOF = (
    "after Hof, Gazendam and Sinke, 2005, The condition for dynamic stability, Journal of Biomechanics (from"
    " memory)"
)
EPLEY = "Epley, 1985, Poundage chart (from memory): 1 + reps / 30"
BRZYCKI = (
    "Brzycki, 1993, Strength testing, Journal of Physical Education, Recreation and Dance (from memory): 36 /"
    " (37 - reps)"
)
OWN = "our own convention"

G = 9.81
"""Standard weight of a mass, m/s²."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Share:
    """A length as a share of stature, and where it comes from."""

    value: float
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MassShare:
    """A limb's mass as a share of the body's, its centre from the proximal end and its radius of gyration, as
    shares of its length.

    `count`: how many of it a body has.
    """

    mass: float
    centre: float
    gyration: float
    count: int
    source: str = WINTER


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnLength:
    """A length of ours as a share of stature. `of`: the length it grows with when that is measured."""

    value: float
    of: str
    meaning: str
    source: str = OWN


LENGTH_SHARES: Mapping[str, Share] = {
    name: Share(value=value, source=DRILLIS_CONTINI)
    for name, value in {
        "upper-arm": 0.186,
        "forearm": 0.146,
        "hand": 0.108,
        "trunk": 0.288,
        "thigh": 0.245,
        "shank": 0.246,
        "ankle-height": 0.039,
        "foot": 0.152,
        "head": 0.182,
    }.items()
}

MASS_SHARES: Mapping[str, MassShare] = {
    "hand": MassShare(mass=0.006, centre=0.506, gyration=0.297, count=2),
    "forearm": MassShare(mass=0.016, centre=0.430, gyration=0.303, count=2),
    "upper-arm": MassShare(mass=0.028, centre=0.436, gyration=0.322, count=2),
    "trunk": MassShare(
        mass=0.497,
        centre=0.50,
        gyration=12**-0.5,
        count=1,
        source=f"{WINTER}; gyration of a uniform rod, ours",
    ),
    "head": MassShare(mass=0.081, centre=0.0, gyration=0.495, count=1),
    "thigh": MassShare(mass=0.100, centre=0.433, gyration=0.323, count=2),
    "shank": MassShare(mass=0.0465, centre=0.433, gyration=0.302, count=2),
    "foot": MassShare(mass=0.0145, centre=0.50, gyration=0.475, count=2),
}
"""The head's centre stands in OURS ("ear"), on the trunk's line; a foot's lies on the line from ankle to
ball.
"""

OURS: Mapping[str, OwnLength] = {
    "ear": OwnLength(
        value=0.112, of="head", meaning="shoulder to the head's centre, at the ear canal, on the trunk's line"
    ),
    "ankle-to-ball": OwnLength(value=0.0827, of="foot", meaning="ankle to the ball of the foot"),
    "ankle-to-toes": OwnLength(value=0.114, of="foot", meaning="ankle to the tip of pointed toes"),
    "heel-back": OwnLength(value=0.038, of="foot", meaning="the back of the heel behind the leg's line"),
    "knee-centre": OwnLength(value=0.028, of="stature", meaning="the knee's centre above what it kneels on"),
    "finger-pads": OwnLength(value=0.0972, of="hand", meaning="finger pads ahead of the wrist"),
    "hand-heel": OwnLength(value=0.010, of="hand", meaning="the heel of the hand behind the wrist"),
    "hand-outside-shoulder": OwnLength(
        value=0.04, of="stature", meaning="the hand outside its own shoulder joint, seen from the front"
    ),
    "mid-hand": OwnLength(value=0.054, of="hand", meaning="the middle of the hand ahead of the wrist"),
}
