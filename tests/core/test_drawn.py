"""Every drill and fault drawn: limbs as long as they are, on the floor, before the wall, without a jump."""

from dataclasses import replace
from itertools import pairwise
from math import hypot

import pytest

from wise_perch.core.body.drawn import FaultDrawn, draw_drill, draw_fault, draw_in_use, usual_body
from wise_perch.core.body.figures import Joints
from wise_perch.core.body.segments import Body, make_body
from wise_perch.core.trade.checks import find_problems
from wise_perch.core.trade.poses import Drawing, Posture
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.syllabus.shipped import built_in

SYLLABUS = built_in()
POSES = SYLLABUS.poses
BODIES = [
    make_body(stature_cm=150, mass_kg=45),
    usual_body(),
    make_body(stature_cm=198, mass_kg=95),
    make_body(stature_cm=170, mass_kg=60, own_cm={"arm": 78, "trunk": 45, "leg": 94}),
]
MM = 0.0021
BELOW, BEYOND = 0.13, 0.1
"""How far a joint may lie under the floor or in the wall, m: half a foot of one leg that walks."""
LIMBS = (("shoulder", "elbow"), ("elbow", "wrist"), ("hip", "knee"), ("knee", "ankle"))


def apart(joints: Joints, a: str, b: str) -> float:
    return hypot(joints[a][0] - joints[b][0], joints[a][1] - joints[b][1])


def test_every_drill_and_fault_is_drawn() -> None:
    drawn = {d.drill: draw_in_use(SYLLABUS, d, None) for d in SYLLABUS.drills.values()}
    assert [name for name, found in drawn.items() if found is None] == []
    assert [f.fault for f in SYLLABUS.content.faults if POSES.of_fault(f.fault) is None] == []
    named = [name for d in POSES.drawings for name in d.drills]
    assert len(named) == len(set(named))
    assert set(named) <= set(SYLLABUS.drills)
    assert {f.fault for f in POSES.faults} <= {f.fault for f in SYLLABUS.content.faults}


@pytest.mark.parametrize("body", BODIES, ids=lambda b: f"{b.stature:g} m, arm {b.arm:.2f}")
def test_limbs_are_as_long_as_they_are(body: Body) -> None:
    """None is drawn longer than it is; a straight leg without a straddle, seen from the side, just so."""
    most = {
        ("shoulder", "elbow"): body.upper_arm + 0.04 * body.stature,
        ("elbow", "wrist"): body.forearm,
        ("hip", "knee"): body.thigh,
        ("knee", "ankle"): body.shank,
    }
    for drawing in POSES.drawings:
        pictures = draw_drill(POSES, drawing, body, drill="", title="").pictures
        for picture in pictures if drawing.view == "side" else ():
            for limb, longest in most.items():
                assert apart(picture, *limb) <= longest + MM, (drawing.drills, limb)
        if drawing.view == "side" and not POSES.whole(drawing.start).straddle:
            assert apart(pictures[0], "hip", "knee") == pytest.approx(body.thigh, abs=MM)
            assert apart(pictures[0], "knee", "ankle") == pytest.approx(body.shank, abs=MM)


@pytest.mark.parametrize("body", BODIES, ids=lambda b: f"{b.stature:g} m, arm {b.arm:.2f}")
def test_nobody_stands_in_the_floor_or_in_the_wall(body: Body) -> None:
    """Start and end; hands or feet that the posture rests on lie on the floor itself."""
    for drawing in POSES.drawings:
        drawn = draw_drill(POSES, drawing, body, drill="", title="")
        start = POSES.whole(drawing.start)
        for picture in (drawn.pictures[0], drawn.pictures[-1]):
            lowest = min(z for _, z in picture.values())
            assert lowest >= drawn.room.floor - BELOW, (drawing.drills, lowest)
            if drawn.room.wall is not None:
                xs = [x for x, _ in picture.values()]
                away = 1 if drawn.room.wall > sum(xs) / len(xs) else -1
                assert max((x - drawn.room.wall) * away for x in xs) <= BEYOND, drawing.drills
        if start.rests and start.rests[0] in ("wrist", "toes") and not start.hangs:
            assert drawn.pictures[0][start.rests[0]][1] == pytest.approx(0, abs=MM)


def test_a_movement_has_no_jump() -> None:
    """From one picture to the next no joint leaps, and what stays stays."""
    for drawing in (d for d in POSES.drawings if d.end):
        drawn = draw_drill(POSES, drawing, usual_body(), drill="", title="")
        rests = {(POSES.whole(p).rests or ("toes",))[0] for p in (drawing.start, drawing.end) if p}
        held = drawing.keeps or (rests.pop() if len(rests) == 1 else "")
        for a, b in pairwise(drawn.pictures):
            assert max(hypot(a[j][0] - b[j][0], a[j][1] - b[j][1]) for j in a) < 1.0, drawing.drills
            if held:
                assert a[held][0] == pytest.approx(b[held][0], abs=MM), drawing.drills


def test_a_longer_trunk_is_drawn_longer() -> None:
    """Everybody with proportions of their own."""
    drill = SYLLABUS.drills["chest-to-wall-hold"]
    short, long = (
        draw_in_use(SYLLABUS, drill, make_body(stature_cm=170, mass_kg=60, own_cm={"trunk": trunk}))
        for trunk in (44, 54)
    )
    assert short is not None
    assert long is not None
    trunks = [apart(d.pictures[0], "shoulder", "hip") for d in (short, long)]
    assert trunks == pytest.approx([0.44, 0.54], abs=MM)


def test_faults_differ_from_what_is_wanted() -> None:
    """A banana's hips lie off the line from hands to feet, a straight handstand's on it."""

    def off_line(joints: Joints) -> float:
        (x0, z0), (x1, z1), (x, z) = joints["wrist"], joints["ankle"], joints["hip"]
        return abs((x1 - x0) * (z0 - z) - (x0 - x) * (z1 - z0)) / apart(joints, "wrist", "ankle")

    straight = draw_in_use(SYLLABUS, SYLLABUS.drills["free-hold-10"], None, faults=True)
    assert straight is not None
    faults: dict[str, FaultDrawn] = {f.fault: f for f in straight.faults}
    assert set(faults) == set(SYLLABUS.drills["free-hold-10"].faults)
    assert off_line(straight.pictures[0]) < 0.01
    assert off_line(faults["banana"].picture) > 0.1
    banana = POSES.of_fault("banana")
    assert banana is not None
    tall = draw_fault(POSES, banana, make_body(stature_cm=195, mass_kg=80), title="", cue="")
    assert off_line(tall.picture) > off_line(faults["banana"].picture)


def test_a_skill_of_ones_own_is_drawn_by_what_eases_it() -> None:
    """A wall stands behind what is done at one; a lowering runs the other way; tucked legs are bent."""
    free = {"legs": "long", "surface": "floor", "support": "free", "direction": "full"}
    whole = POSES.of_skill("planche-press", free)
    down = POSES.of_skill("planche-press", {**free, "direction": "down"})
    wall = POSES.of_skill("planche-press", {**free, "support": "wall"})
    tuck = POSES.of_skill("planche-press", {**free, "legs": "tuck"})
    assert whole
    assert down
    assert wall
    assert tuck
    assert (down.start, down.end) == (whole.end, whole.start)
    assert [p.kind for p in wall.props] == ["wall"]
    assert tuck.start.legs != whole.start.legs
    assert POSES.of_skill("nothing of the kind", free) is None


def with_drawing(drawing: Drawing) -> Syllabus:
    line = SYLLABUS.content.lines[0]
    (first, *others), *rungs = line.rungs
    mine = replace(line, rungs=((replace(first, drawing=drawing), *others), *rungs))
    return replace(SYLLABUS, content=replace(SYLLABUS.content, lines=(mine, *SYLLABUS.content.lines[1:])))


def test_a_drill_may_bring_its_own_drawing() -> None:
    """It counts before the one by its name; a posture that there is not is a fault of the file."""
    mine = Drawing(start=Posture(like="handstand", legs=(30, 0)))
    with_mine = with_drawing(mine)
    drill = next(iter(with_mine.drills.values()))
    assert find_problems(with_mine) == []
    assert with_mine.drawing_of(drill) == mine
    wrong = with_drawing(Drawing(start=Posture(like="upside-up")))
    assert [p.what for p in find_problems(wrong)] == [f"{drill.drill}: there is no posture named upside-up."]
