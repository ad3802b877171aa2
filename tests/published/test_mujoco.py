"""The body's chain against MuJoCo: the same segments built as a multibody, its own kinematics and inverse
dynamics asked.

Todorov, Erez and Tassa, 2012, MuJoCo: A physics engine for model-based control, IROS. Masses and centres are
typed here again from Winter, Biomechanics and Motor Control of Human Movement, table 4.1 (values from
memory), both limbs of a pair together.
"""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import mujoco
import numpy as np
import pytest

from wise_perch.core.body.answers import Answer
from wise_perch.core.body.levers import solve_one
from wise_perch.core.body.segments import Body, make_body
from wise_perch.core.body.upright import handstand, straight_answer

G = 9.81
WITHIN = 1e-6
# share of body mass, centre from the proximal end as a share of the length
TABLE = {
    "forearm": (0.032, 0.430),
    "upper-arm": (0.056, 0.436),
    "trunk": (0.497, 0.5),
    "thigh": (0.200, 0.433),
    "shank": (0.093, 0.433),
    "foot": (0.029, 0.5),
}
HAND, HEAD = (0.012, 0.506), 0.081
SPANS = {
    "forearm": ("elbow", "wrist"),
    "upper-arm": ("shoulder", "elbow"),
    "trunk": ("shoulder", "hip"),
    "thigh": ("hip", "knee"),
    "shank": ("knee", "ankle"),
    "foot": ("ankle", "ball"),
}
UP = ("wrist", "elbow", "shoulder", "hip", "knee", "ankle", "ball")
BODIES = [
    make_body(stature_cm=152, mass_kg=49),
    make_body(stature_cm=170, mass_kg=65),
    make_body(stature_cm=193, mass_kg=92),
    make_body(
        stature_cm=168,
        mass_kg=71,
        own_cm={"arm": 78, "trunk": 45, "leg": 92, "hand": 19, "shoulder-to-crown": 29, "foot": 27},
    ),
]
PIKES = [("pike-top", d, h) for d in (0.5, 0.6, 0.75) for h in (0.0, 0.2)] + [
    ("pike-bottom", d, h) for d in (0.4, 0.5, 0.6) for h in (0.0, 0.15)
]
PRESSES = [(p, b, h) for p, b in ((30, 0), (45, 0), (60, 0), (45, 25), (70, 35)) for h in (0.0, 0.1)]
LEANS = (-0.1, 0.0, 0.05, 0.2)


@dataclass
class Chain:
    """A MuJoCo model of the chain from one end, straight along z at rest, and the pose it is turned into."""

    model: mujoco.MjModel
    data: mujoco.MjData
    names: Sequence[str]

    def site(self, name: str) -> tuple[float, float]:
        """Where a joint came to lie by MuJoCo's own kinematics."""
        x, _, z = self.data.site(name).xpos
        return float(x), float(z)

    @property
    def centre(self) -> tuple[float, float]:
        """MuJoCo's own centre of mass of the whole."""
        x, _, z = self.data.subtree_com[1]
        return float(x), float(z)

    def static_moments(self) -> Mapping[str, float]:
        """What each hinge must do to hold the pose still: inverse dynamics at rest."""
        self.data.qvel[:], self.data.qacc[:] = 0, 0
        mujoco.mj_inverse(self.model, self.data)
        return {
            name: float(self.data.qfrc_inverse[self.model.joint(name).dofadr[0]])
            for name in ("x", "z", *self.names)
        }

    def moment_of_force(self, site: str, joint: str, upward: float) -> float:
        """The moment an upward force at a site makes about a hinge on its way to the root."""
        jacobian = np.zeros((3, self.model.nv))
        mujoco.mj_jacSite(self.model, self.data, jacobian, None, self.model.site(site).id)
        return float((jacobian.T @ np.array([0, 0, upward]))[self.model.joint(joint).dofadr[0]])


def build(
    of: Body,
    joints: Mapping[str, tuple[float, float]],
    *,
    order: Sequence[str],
    seen: float = 1.0,
    fingers: float = 1.0,
) -> Chain:
    """The chain along `order`, its root where the first joint lies; `seen` shortens the legs as they are seen
    from the side in a straddle.
    """
    lengths = {
        "forearm": of.forearm,
        "upper-arm": of.upper_arm,
        "trunk": of.trunk,
        "thigh": of.thigh * seen,
        "shank": of.shank * seen,
        "foot": of.part("ankle-to-ball") * seen,
    }
    spans = {frozenset(ends): name for name, ends in SPANS.items()}
    inner = ""
    for n in range(len(order) - 1, 0, -1):
        start, end = order[n - 1], order[n]
        segment = spans[frozenset((start, end))]
        share, centre = TABLE[segment]
        length = lengths[segment]
        at = length * (centre if SPANS[segment][0] == start else 1 - centre)
        parts = f'<geom type="sphere" size="0.001" pos="0 0 {at}" mass="{share * of.mass_kg}"/>'
        if segment == "trunk":
            from_start = -of.part("ear") if start == "shoulder" else length + of.part("ear")
            parts += f'<geom type="sphere" size="0.001" pos="0 0 {from_start}" mass="{HEAD * of.mass_kg}"/>'
        place = "0 0 0" if n == 1 else f"0 0 {lengths[spans[frozenset((order[n - 2], start))]]}"
        roots = (
            '<joint name="x" type="slide" axis="1 0 0"/><joint name="z" type="slide" axis="0 0 1"/>'
            if n == 1
            else ""
        )
        inner = (
            f'<body pos="{place}">{roots}<joint name="{start}" type="hinge" axis="0 1 0"/>{parts}'
            f'<site name="{start}"/><site name="{end}_end" pos="0 0 {length}"/>{inner}</body>'
        )
    wrist = joints["wrist"]
    hand = (
        f'<geom type="sphere" size="0.001" pos="{wrist[0] + fingers * HAND[1] * of.hand} 0 {wrist[1]}"'
        f' mass="{HAND[0] * of.mass_kg}"/>'
    )
    # hands lie still: a body of their own, welded to the world beside the chain
    model = mujoco.MjModel.from_xml_string(
        f'<mujoco><option gravity="0 0 -{G}"><flag contact="disable"/></option><worldbody><body'
        f' name="all">{hand}{inner}</body></worldbody></mujoco>'
    )
    data = mujoco.MjData(model)
    turned = 0.0
    root = joints[order[0]]
    data.qpos[model.joint("x").qposadr[0]], data.qpos[model.joint("z").qposadr[0]] = root
    for start, end in itertools.pairwise(order):
        dx, dz = joints[end][0] - joints[start][0], joints[end][1] - joints[start][1]
        absolute = float(np.arctan2(dx, dz))
        data.qpos[model.joint(start).qposadr[0]] = absolute - turned
        turned = absolute
    mujoco.mj_forward(model, data)
    return Chain(model, data, order[:-1])


def same_joints(chain: Chain, answer: Answer, order: Sequence[str]) -> None:
    """MuJoCo's kinematics put every joint where the pose says."""
    for name in order[:-1]:
        assert chain.site(name) == pytest.approx(answer.joints[name], abs=WITHIN)
    assert chain.site(f"{order[-1]}_end") == pytest.approx(answer.joints[order[-1]], abs=WITHIN)


@pytest.mark.parametrize("of", BODIES, ids=lambda b: f"{b.stature:g} m")
@pytest.mark.parametrize(("model", "near", "high"), PIKES)
def test_pikes(of: Body, model: str, near: float, high: float) -> None:
    """Kinematics, centre of mass, the load on the hands, and what the hands' force does at elbow and
    shoulder.
    """
    distance = near * of.stature
    answer = solve_one(
        model, of, {"hands-to-feet": distance * 100, "surface-height": high * of.stature * 100}
    )
    assert isinstance(answer, Answer)
    chain = build(of, answer.joints, order=UP, fingers=-1)
    same_joints(chain, answer, UP)
    assert chain.centre == pytest.approx(answer.centre, abs=WITHIN)
    weight = of.mass_kg * G
    # held still about the wrist by the feet's upward force alone: what the feet take, the hands do not
    needed = chain.static_moments()
    on_feet = needed["wrist"] / -distance + HAND[0] * of.mass_kg * G * (-HAND[1] * of.hand) / distance
    assert 1 - on_feet / weight == pytest.approx(answer.figures["share"], abs=WITHIN)
    down = build(of, answer.joints, order=UP[::-1], fingers=-1)
    same_joints(down, answer, UP[::-1])
    # at the lowest point the arms fold out of the plane, and there the elbow has no figure
    assert ("elbow_moment_nm" in answer.figures) == (model == "pike-top")
    for joint in ("elbow", "shoulder") if model == "pike-top" else ("shoulder",):
        moment = down.moment_of_force("wrist_end", joint, answer.figures["share"] * weight)
        assert abs(moment) == pytest.approx(answer.figures[f"{joint}_moment_nm"], abs=WITHIN * weight)


@pytest.mark.parametrize("of", BODIES, ids=lambda b: f"{b.stature:g} m")
@pytest.mark.parametrize(("fold", "straddle", "high"), PRESSES)
def test_presses(of: Body, fold: float, straddle: float, high: float) -> None:
    """The weight over the middle of the hand, and the shoulder moment that inverse dynamics asks for."""
    answer = solve_one(
        "press", of, {"fold": fold, "straddle": straddle, "surface-height": high * of.stature * 100}
    )
    assert isinstance(answer, Answer)
    chain = build(of, answer.joints, order=UP, seen=float(np.cos(np.radians(straddle))))
    same_joints(chain, answer, UP)
    assert chain.centre == pytest.approx(answer.centre, abs=WITHIN)
    assert chain.centre[0] == pytest.approx(of.part("mid-hand"), abs=WITHIN)
    assert abs(chain.static_moments()["shoulder"]) == pytest.approx(
        answer.figures["shoulder_moment_nm"], abs=WITHIN * of.mass_kg * G
    )


@pytest.mark.parametrize("of", BODIES, ids=lambda b: f"{b.stature:g} m")
@pytest.mark.parametrize("lean", LEANS)
def test_handstands(of: Body, lean: float) -> None:
    """A straight handstand's centre of mass, and the moment about the wrist that gravity makes of its
    lean.
    """
    answer = straight_answer(of, lean=lean)
    chain = build(of, answer.joints, order=UP)
    same_joints(chain, answer, UP)
    assert chain.centre == pytest.approx(answer.centre, abs=WITHIN)
    # the wrists alone hold it: m g c sin(lean), the hands lying still
    asked = -chain.static_moments()["wrist"]
    assert asked == pytest.approx(
        of.mass_kg * G * handstand(of).com_height * np.sin(lean), abs=WITHIN * of.mass_kg * G
    )


@pytest.mark.parametrize("of", BODIES, ids=lambda b: f"{b.stature:g} m")
@pytest.mark.parametrize(("model", "toward"), [("wall-back", 1), ("wall-chest", -1)])
def test_walls(of: Body, model: str, toward: int) -> None:
    """The wall's push that keeps the wrist free of moment is the one the model gives."""
    answer = solve_one(model, of, {"hands-to-wall": 30})
    assert isinstance(answer, Answer)
    chain = build(of, answer.joints, order=UP)
    hands = HAND[0] * of.mass_kg * G * HAND[1] * of.hand * toward
    gravity = -chain.static_moments()["wrist"] * toward + hands
    height = answer.joints["heel" if model == "wall-back" else "toes"][1]
    assert gravity / height == pytest.approx(answer.figures["wall_force_n"], abs=WITHIN * of.mass_kg * G)
