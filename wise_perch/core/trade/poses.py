"""How drills and faults look, as data: joint angles of a figure, what it stands on or against, from where it
goes to where.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Literal

View = Literal["side", "front"]
Bend = tuple[float, float]
"""Of a limb: the angle at the trunk and the bend in the middle, degrees."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ViewAsked:
    """A view that a line is looked at from, as it is said."""

    view: View
    title: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Posture:
    """A figure's joint angles, degrees; what is left out stands as in the posture that it is `like`.

    Side view, facing right: `trunk` is its turn from upright, head leading, clockwise (90 face down, 180
    upside down, -90 on the back). `arms` are raised forward from the trunk (180 overhead) and bent at the
    elbow, `legs` folded forward at the hip and bent at the knee; `arms_2` and `legs_2` are the far ones where
    they differ. `toes` 0 flexed, 90 pointed. `shrug` pushes the shoulder away from the hand, a share of
    stature; `neck` lifts the head toward the back. `bow` rounds the trunk (below 0 arches it). `seen` is the
    share of a bent arm that is seen, since elbows go out of the picture; `straddle` half the angle between
    the legs, which shortens them as they are seen.

    Front view: arms and legs are opened to the side, `trunk` leans to the right, and the far ones mirror
    the near.

    `rests`: the joints that stand on the floor; the first stays where it is, a second turns the whole figure
    until both are down. `hangs`: it hangs from the first one instead.
    """

    like: str = ""
    trunk: float | None = None
    arms: Bend | None = None
    arms_2: Bend | None = None
    legs: Bend | None = None
    legs_2: Bend | None = None
    toes: float | None = None
    shrug: float | None = None
    neck: float | None = None
    bow: float | None = None
    seen: float | None = None
    straddle: float | None = None
    rests: tuple[str, ...] | None = None
    hangs: bool | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedPosture:
    """A posture that others refer to."""

    name: str
    posture: Posture


@dataclass(frozen=True, slots=True, kw_only=True)
class Prop:
    """What stands by the figure, placed where a joint comes to lie, in its first posture or its last.

    `aside_cm` moves it along the floor away from that joint, for what is near and not touched.
    """

    kind: Literal["wall", "box", "pads", "block", "bar", "ball", "plate", "mat", "stick"]
    at: str
    of: Literal["start", "end"] = "end"
    aside_cm: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawing:
    """The drawing of one drill or several alike; without an `end` it is a position that is held.

    `keeps`: the joint that does not move along the floor; the first it rests on unless said otherwise.
    """

    drills: tuple[str, ...] = ()
    start: Posture
    end: Posture | None = None
    view: View = "side"
    keeps: str = ""
    props: tuple[Prop, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultDrawing:
    """What a fault looks like, to stand beside what is wanted."""

    fault: str
    posture: Posture
    view: View = "side"
    props: tuple[Prop, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class EasedPosture:
    """What a step of easing changes in the drawing of a skill: angles of both its ends (`posture`), what
    stands by, or that it runs the other way round.
    """

    way: str
    step: str
    posture: Posture = field(default_factory=Posture)
    props: tuple[Prop, ...] = ()
    reversed: bool = False


@dataclass(frozen=True, kw_only=True)
class Poses:
    """All drawings: of drills, of faults, and of the forms that a skill of one's own can have (`skills`, by
    the form's name) with what easing changes in them.
    """

    postures: tuple[NamedPosture, ...]
    drawings: tuple[Drawing, ...]
    faults: tuple[FaultDrawing, ...]
    skills: Mapping[str, Drawing]
    eased: tuple[EasedPosture, ...]

    def of_drill(self, drill: str) -> Drawing | None:
        """How a drill is drawn, if it is."""
        return next((d for d in self.drawings if drill in d.drills), None)

    def of_fault(self, fault: str) -> FaultDrawing | None:
        """How a fault is drawn, if it is."""
        return next((f for f in self.faults if f.fault == fault), None)

    def of_skill(self, form: str, at: Mapping[str, str]) -> Drawing | None:
        """How a skill is drawn by its form and where it stands on the ways of easing, if its form is."""
        drawn = self.skills.get(form)
        if drawn is None:
            return None
        start, end, props = self.whole(drawn.start), drawn.end and self.whole(drawn.end), drawn.props
        for eased in (e for e in self.eased if at.get(e.way) == e.step):
            start, end = _over(eased.posture, start), end and _over(eased.posture, end)
            if eased.reversed and end:
                start, end = end, start
            props = (*props, *eased.props)
        return replace(drawn, start=start, end=end, props=props)

    def whole(self, posture: Posture) -> Posture:
        """A posture with all that it takes from those it is like.

        Raises: ValueError for one that is not there; a posture is only like one that stands before it.
        """
        return fill(posture, {p.name: p.posture for p in self.postures})


def fill(posture: Posture, named: Mapping[str, Posture]) -> Posture:
    """A posture with what it leaves out taken from the one it is like."""
    if not posture.like:
        return posture
    earlier = dict(list(named.items())[: list(named).index(posture.like)])
    base = fill(named[posture.like], earlier)
    return _over(posture, base)


def _over(posture: Posture, base: Posture) -> Posture:
    """A posture laid over another: what it says counts, all else stays."""
    said = {f.name: getattr(posture, f.name) for f in fields(Posture) if f.name != "like"}
    return replace(base, **{name: value for name, value in said.items() if value is not None})
