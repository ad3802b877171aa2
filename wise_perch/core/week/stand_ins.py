"""What is there at a place: its own kit, and away from the hall what stands in for the rest."""

from collections.abc import Mapping, Sequence

from wise_perch.core.trade.session_rules import StandIn
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.week.candidates import Candidate
from wise_perch.core.week.question import HALL


def missing_kit(
    candidate: Candidate, *, place: str, kit: Mapping[str, Sequence[str]], syllabus: Syllabus
) -> frozenset[str]:
    """What a candidate takes that is not at a place and has no stand-in there. `kit`: by place."""
    lacking = candidate.kit - set(kit.get(place, ()))
    if place == HALL or candidate.is_test:
        return lacking
    return lacking - {s.kit for s in stand_ins_for(candidate, lacking, syllabus)}


def stand_ins_for(candidate: Candidate, lacking: frozenset[str], syllabus: Syllabus) -> tuple[StandIn, ...]:
    """What stands in for kit in a drill: nothing that is not firm under the head or the whole weight."""
    drill = syllabus.drills.get(candidate.name)
    if drill is None:
        return ()
    heavy = drill.head or drill.drill in syllabus.inverted
    return tuple(
        s
        for s in syllabus.sessions.stand_ins
        if s.kit in lacking and (s.firm or not heavy) and (not s.drills or drill.drill in s.drills)
    )


def say_stand_ins(found: Sequence[StandIn], syllabus: Syllabus) -> str:
    """What to take instead, as it is said: "Instead of a box or steps: stairs, or a firm chair." """
    kit = syllabus.content.kit
    return " ".join(f"Instead of {kit[s.kit][:1].lower()}{kit[s.kit][1:]}: {s.instead}." for s in found)
