"""The doors to the line without server: key points judged, and holds found in a series of leans. Documented
in docs/formats.md.
"""

import csv
from collections.abc import Mapping
from dataclasses import replace
from math import isfinite
from pathlib import Path
from typing import Any

from wise_perch.core.line.front import FrontLine
from wise_perch.core.line.holds import Frame, find_holds
from wise_perch.core.line.judge import Judged, judge_line
from wise_perch.core.line.side import PATH_OF_STATURE, Figure, SideLine
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.formats.junk import Junk
from wise_perch.formats.key_points import MOST_FRAMES, read_bodies

DIGITS = 4


def line_file(
    path: Path, *, drill: str, syllabus: Syllabus, stature_cm: float | None = None
) -> list[dict[str, Any]]:
    """Judge every body of a file against the line of a drill. Raises Junk."""
    found = syllabus.drills.get(drill)
    if found is None:
        raise Junk([f"--drill: there is no drill named {drill[:60]} in the syllabus"])
    target = syllabus.line_target(drill)
    if target is None:
        raise Junk([f"--drill: no line is looked at in {found.title.lower()}"])
    if stature_cm is not None and not (isfinite(stature_cm) and 50 <= stature_cm <= 250):
        raise Junk([f"--stature-cm is {stature_cm:g}; it is 50 to 250 cm"])
    return [
        line_as_json(judge_line(body, target, syllabus.line_rules), stature_cm=stature_cm)
        for body in read_bodies(path)
    ]


def line_as_json(judged: Judged, *, stature_cm: float | None) -> dict[str, Any]:
    """A judged body under the door's names."""
    figures: dict[str, Any] = {}
    because: dict[str, str] = {}

    def put(name: str, f: Figure) -> None:
        figures[name] = _round(f.value)
        figures[f"{name}_se"] = _round(f.se)
        if f.value is None:
            because[name] = f.because

    if judged.side:
        figures["view"] = "side"
        _put_side(judged.side, put)
        figures["offsets"] = _offsets(judged.side, stature_cm)
    if judged.front:
        figures["view"] = "front"
        _put_front(judged.front, put)
    return {
        **figures,
        "because": because,
        "camera": [c.says for c in judged.camera],
        "faults": [
            {
                "fault": v.fault.fault,
                "title": v.fault.title,
                "says": v.says,
                "beyond": _round(v.value),
                "beyond_se": _round(v.se),
                **({"because": v.because} if v.because else {}),
            }
            for v in judged.faults
        ],
    }


def _put_side(side: SideLine, put: Any) -> None:
    put("lean_deg", side.lean)
    put("shoulder_deg", side.shoulder)
    put("hip_deg", side.hip)
    put("knee_deg", side.knee)
    put("arch_index", side.arch_index)


def _put_front(front: FrontLine, put: Any) -> None:
    put("hand_width_ratio", front.hand_width_ratio)
    put("arms_drift_deg", front.arms_drift)
    put("hip_tilt_deg", front.hip_tilt)
    put("shoulder_tilt_deg", front.shoulder_tilt)
    put("side_lean_deg", front.side_lean)


def _offsets(side: SideLine, stature_cm: float | None) -> dict[str, float | None]:
    found: dict[str, float | None] = {}
    for part, f in side.offsets.items():
        found[part], found[f"{part}_se"] = _round(f.value), _round(f.se)
        if stature_cm is not None:
            scale = PATH_OF_STATURE * stature_cm
            in_cm = replace(f, value=f.value * scale) if f.value is not None else f
            found[f"{part}_cm"] = _round(in_cm.value)
            found[f"{part}_cm_se"] = _round(f.se * scale) if f.se is not None else None
    return found


def _round(value: float | None) -> float | None:
    return None if value is None else round(value, DIGITS)


def hold_file(path: Path) -> dict[str, Any]:
    """Find the holds of a series of leans. Raises Junk, naming its lines."""
    try:
        rows = list(csv.DictReader(path.read_text("utf-8-sig").splitlines()))
    except (OSError, UnicodeDecodeError, csv.Error) as error:
        raise Junk([f"{path.name}: {error}"]) from error
    wanted = ("t_s", "lean_deg", "inverted")
    if rows and (missing := [name for name in wanted if name not in rows[0]]):
        raise Junk([f"line 1: there is no column {', '.join(missing)}"])
    if not rows:
        raise Junk([f"{path.name} has no frames"])
    if len(rows) > MOST_FRAMES:
        raise Junk([f"{path.name} has more than {MOST_FRAMES} frames"])
    wrong: list[str] = []
    frames = [f for n, row in enumerate(rows, start=2) if (f := _frame(row, n, wrong))]
    if wrong:
        raise Junk(wrong[:20])
    found = find_holds(frames)
    return {
        "holds": [{"start_s": h.start_s, "seconds": h.seconds, "end": h.end} for h in found.holds],
        "quality": round(found.quality, DIGITS),
        **({"because": found.because} if found.because else {}),
    }


INVERTED = {"1": True, "true": True, "yes": True, "0": False, "false": False, "no": False, "": None}


def _frame(row: Mapping[str, str | None], line: int, wrong: list[str]) -> Frame | None:
    """One frame of a series; what is wrong with it is added to `wrong`."""
    time, lean = (row.get(name) or "" for name in ("t_s", "lean_deg"))
    said = (row.get("inverted") or "").strip().lower()
    try:
        t_s, lean_deg = float(time), float(lean) if lean.strip() else None
    except ValueError:
        wrong.append(f"line {line}: t_s and lean_deg are numbers")
        return None
    if not isfinite(t_s) or (lean_deg is not None and not isfinite(lean_deg)):
        wrong.append(f"line {line}: t_s and lean_deg are numbers")
        return None
    if said not in INVERTED:
        wrong.append(f'line {line}: inverted is "{said[:20]}"; it is 1 or 0, or empty')
        return None
    return Frame(t_s=t_s, lean_deg=lean_deg, inverted=INVERTED[said])


def line_summary(found: list[dict[str, Any]]) -> str:
    """Say judged bodies in lines for a reader."""
    lines = []
    for n, one in enumerate(found, start=1):
        loud = [f["title"].lower() for f in one["faults"] if f["says"] == "yes"]
        unsure = [f["title"].lower() for f in one["faults"] if f["says"] == "cannot tell"]
        lines.append(f"{n}, {one['view']}: {', '.join(loud) or 'nothing is seen'}")
        lines += [f"  {words}" for words in one["camera"]]
        if unsure:
            lines.append(f"  cannot tell: {', '.join(unsure)}")
    return "\n".join(lines) or "no body in the file"


def hold_summary(found: Mapping[str, Any]) -> str:
    """Say holds in lines for a reader."""
    lines = [f"{h['seconds']:g} s from {h['start_s']:g} s on, {h['end']}" for h in found["holds"]]
    return "\n".join([*lines, found.get("because") or f"{100 * found['quality']:.0f} % of the frames read"])
