"""The door to rehearsals: evidence and a profile in, the weeks of simulated trainees who begin there out."""

from datetime import date, timedelta
from pathlib import Path
from random import Random
from statistics import median
from typing import Any

from wise_perch.core.rehearsal.learner import learner_like
from wise_perch.core.rehearsal.outlook import MODEL, begin_from
from wise_perch.core.rehearsal.rehearse import Rehearsed, WeekDone, rehearse, train_by_plan
from wise_perch.core.trainee.case import judge_case
from wise_perch.core.week.week_plan import monday_of
from wise_perch.formats.case_file import InUse, read_case


def rehearse_file(
    evidence: Path,
    profile: Path,
    *,
    on: date,
    in_use: InUse,
    weeks: int,
    seeds: int,
    tries: Path | None = None,
) -> dict[str, Any]:
    """Rehearse so many weeks from the Monday after `on`, once for each seed from 1 on.

    Args: the files as `read_case` takes them; the days of the profile's week, or the usual ones.
    Returns: the object that docs/formats.md describes.
    Raises: Junk if a file cannot be read or names what is not there.
    """
    read = read_case(evidence, profile, on=on, in_use=in_use, tries=tries)
    case = judge_case(read.case)
    own = sorted({(d.day - monday_of(d.day)).days for d in read.profile.days})
    days = own or list(case.syllabus.sessions.usual_days)
    begin = begin_from(read.case, case.history.every())
    found = [
        rehearse(
            learner_like(case, Random(f"rehearsal {seed}")), train_by_plan, begin, days=days, weeks=weeks
        )
        for seed in range(1, seeds + 1)
    ]
    return {
        "trainee": read.trainee,
        "on": on.isoformat(),
        "begins": (on + timedelta(days=7 - on.weekday())).isoformat(),
        "syllabus": case.syllabus.version,
        "goal": next((g.goal for g in case.goals if not g.reached), None),
        "model": MODEL,
        "median_path": [median(r.weeks[n].path for r in found) for n in range(weeks)],
        "seeds": [_as_json(n, r) for n, r in enumerate(found, start=1)],
    }


def _as_json(seed: int, found: Rehearsed) -> dict[str, Any]:
    return {
        "seed": seed,
        "steps": found.steps,
        "of_path": found.path,
        "behind": found.behind,
        "gates": found.gates,
        "weeks_to_goal": found.weeks_to_goal,
        "share_as_asked": None if found.share_as_asked is None else round(found.share_as_asked, 3),
        "weeks_without_change": found.weeks_without_change,
        "weeks": [_week_as_json(w) for w in found.weeks],
    }


def _week_as_json(week: WeekDone) -> dict[str, Any]:
    return {
        "week": week.week.isoformat(),
        "path": week.path,
        "gates_met": week.met,
        "reached": week.reached,
        "hand_load_s": week.load_s,
        "perches": dict(week.perches),
        "blocks": list(week.sets),
    }


def summary(found: dict[str, Any]) -> str:
    """The object in lines a coach reads."""
    lines = [found["model"], f"Toward {found['goal'] or 'no goal'}, from {found['begins']}:"]
    for seed in found["seeds"]:
        asked, weeks = seed["share_as_asked"], seed["weeks_to_goal"]
        said = [
            f"{seed['steps']} of {seed['of_path']} steps of the path",
            f"{seed['gates']} gates newly met",
            f"goal in week {weeks}" if weeks else "goal not yet",
            *([] if asked is None else [f"{asked * 100:.0f} % of sets done as asked"]),
        ]
        lines.append(f"  seed {seed['seed']}: {', '.join(said)}")
    lines.append("  path left, week by week (median): " + ", ".join(f"{n:g}" for n in found["median_path"]))
    return "\n".join(lines)
