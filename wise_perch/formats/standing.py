"""The door to standing and goals without server or database: evidence and a profile in, perches, gates and
paths out.
"""

from collections.abc import Mapping
from datetime import date
from pathlib import Path
from typing import Any

from wise_perch.core.trainee.case import JudgedCase, judge_case
from wise_perch.core.trainee.goals import GoalStanding, why_not
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.standing_still import Standstill, find_standstills
from wise_perch.core.trainee.wall import Wall
from wise_perch.core.trainee.work_on import what_to_work_on
from wise_perch.formats.case_file import InUse, read_case


def standing_file(
    evidence: Path, profile: Path, *, on: date, in_use: InUse, tries: Path | None = None
) -> dict[str, Any]:
    """Say where a trainee stands on day `on`, from files alone.

    Args: as `read_case` takes them.
    Returns: perches, gates, ahead and behind, and for each goal path and holding pillar, as docs/formats.md
    says.
    Raises: Junk if a file cannot be read, naming its lines.
    """
    read = read_case(evidence, profile, on=on, in_use=in_use, tries=tries)
    return standing_as_json(judge_case(read.case), read.trainee)


def standing_as_json(case: JudgedCase, trainee: str | None) -> dict[str, Any]:
    """A standing as docs/formats.md says it, whether the case came from files or from the store."""
    stands = case.standing
    return {
        "trainee": trainee,
        "on": stands.on.isoformat(),
        "syllabus": case.syllabus.version,
        "perches": {line.line: line.perch for line in stands.lines},
        "ahead": {line.line: list(line.ahead) for line in stands.lines},
        "behind": {line.line: list(line.behind) for line in stands.lines},
        "work_on": [{"drill": s.drill, "why": s.sentence} for s in what_to_work_on(case)],
        "gates": {name: _gate_as_json(d, case.wall) for name, d in stands.every().items()},
        "goals": {g.goal: _goal_as_json(g) for g in case.goals},
        "standing_still": [_still_as_json(s) for s in find_standstills(case)],
    }


def _still_as_json(s: Standstill) -> dict[str, Any]:
    return {
        "drill": s.drill,
        "since": s.since.isoformat(),
        "days": s.days,
        "firm": s.firm,
        "trend_a_week": [round(s.low, 4), round(s.high, 4)],
        "because": s.sentence,
        "causes": [c.text for c in s.causes],
        "options": [o.text for o in s.options],
    }


def _gate_as_json(d: DrillStanding, wall: Wall) -> dict[str, Any]:
    return {
        "title": d.title,
        "line": d.line,
        "gate": d.gate,
        "origin": d.origin,
        "state": d.state.value,
        "fill": round(d.fill, 4),
        "open": d.open,
        "opens_with": why_not(d, wall),
        "waits": [w.sentence for w in d.waits],
        "missing": d.shortfall,
        "evidence": [
            {"day": b.day.isoformat(), "value": b.value, "n": b.n, "dial": dict(b.dial)} for b in d.evidence
        ],
        "out_of_order": d.out_of_order,
        "waived": d.waiver.reason if d.waiver else None,
    }


def _goal_as_json(g: GoalStanding) -> dict[str, Any]:
    return {
        "title": g.title,
        "reached": g.reached,
        "path": [s.drill for s in g.path],
        "holding_pillar": g.holding,
        "because": list(g.because),
        "pillars": {p.pillar: {"share": round(p.share, 4), "weight": round(p.weight, 4)} for p in g.pillars},
        "work_on": [{"drill": s.drill, "why": s.sentence} for s in g.work_on],
        "closed": [{"drill": s.drill, "until": s.sentence} for s in g.closed],
        "stay_the_course": g.stay_the_course,
    }


def summary(found: Mapping[str, Any]) -> str:
    """Say the standing in a few lines for a reader."""
    lines = [f"{found['trainee'] or 'Trainee'} on {found['on']}"]
    for line, perch in found["perches"].items():
        lines.append(
            f"  {line}: {perch or 'the floor'}; ahead: {', '.join(found['ahead'][line]) or 'nothing'}"
        )
    for goal in found["goals"].values():
        if goal["reached"]:
            lines.append(f"{goal['title']}: reached")
        else:
            lines.append(
                f"{goal['title']}: {goal['holding_pillar'] or 'nothing open'} is what limits it,"
                f" {len(goal['path'])} steps before it"
            )
            lines += [f"  {step['drill']}: {step['why']}" for step in goal["work_on"][:3]]
    return "\n".join(lines)
