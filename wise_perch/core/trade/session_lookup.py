"""What the session's data says of one drill: its part of a session, the joints it loads, whether it is
heavy.
"""

from functools import lru_cache

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.session_rules import Phase
from wise_perch.core.trade.syllabus import Syllabus


@lru_cache(maxsize=4096)
def phase_of(syllabus: Syllabus, drill: str) -> Phase | None:
    """The part of a session a drill belongs to."""
    phases = syllabus.sessions.phases
    line = syllabus.line_of.get(drill, "")
    return next(
        (p for p in phases if drill in p.drills or drill in p.always),
        next((p for p in phases if line in p.lines), None),
    )


@lru_cache(maxsize=256)
def always_done(syllabus: Syllabus) -> frozenset[str]:
    """The drills that every session has anyway, as part of how it begins and ends."""
    phases = syllabus.sessions.phases
    return frozenset(name for p in phases for name in (*p.always, *(p.drills if p.fixed_s else ())))


def joints_of(syllabus: Syllabus, drill: Drill) -> tuple[str, ...]:
    """The joints a drill loads, whichever side: by the syllabus, what is upside down also the neck, and what
    follows each set at once with it.
    """
    found = dict.fromkeys(_own_joints(syllabus, drill))
    for rule in syllabus.doses(drill):
        if rule.then in syllabus.drills:
            found |= dict.fromkeys(_own_joints(syllabus, syllabus.drills[rule.then]))
    return tuple(found)


def _own_joints(syllabus: Syllabus, drill: Drill) -> tuple[str, ...]:
    joints = syllabus.sessions.joints
    own = joints.drills.get(drill.drill)
    if own is None:
        own = joints.drills.get(drill.family, joints.lines.get(syllabus.line_of.get(drill.drill, ""), ()))
    # upside down even what does not carry the head strains it, which matters once it hurts
    return (*own, *joints.head) if drill.head or drill.drill in syllabus.inverted else own


def joint_kind(joint: str) -> str:
    """A joint without its side: "left wrist" is a wrist."""
    return joint.rsplit(" ", 1)[-1]


def heavy_of(syllabus: Syllabus, drill: str) -> str:
    """Whether a drill is a heavy "push" or "press"; empty for neither."""
    heavy = syllabus.sessions.heavy
    return "push" if drill in heavy.push else "press" if drill in heavy.press else ""
