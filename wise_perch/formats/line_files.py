"""The doors to the line without server: key points judged, and holds found in a series. Documented in
docs/formats.md.
"""

import csv
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from io import StringIO
from math import isfinite
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from wise_perch.core.line.front import FrontLine
from wise_perch.core.line.holds import Frame, find_holds
from wise_perch.core.line.judge import Judged, judge_line
from wise_perch.core.line.kept import KeptLine, Triple, body_of
from wise_perch.core.line.points import COCO, Body, View
from wise_perch.core.line.side import PATH_OF_STATURE, Figure, SideLine
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.formats.junk import Junk

DIGITS, MOST_ANNOTATIONS, MOST_FRAMES, MOST_PIXELS = 4, 10_000, 1_000_000, 1e6
MOST_BYTES = 64 * 1024 * 1024
EXTRA = tuple(f"{side}_{part}" for part in ("toe", "heel", "finger") for side in ("left", "right"))
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]
Three = Annotated[list[Number], Field(min_length=3, max_length=3)]


class Image(BaseModel):
    """A picture of the file: its size in pixels, where it is known."""

    model_config = ConfigDict(extra="ignore")
    id: int
    width: float | None = Field(default=None, gt=0, allow_inf_nan=False)
    height: float | None = Field(default=None, gt=0, allow_inf_nan=False)


class Annotation(BaseModel):
    """One body of a picture: seventeen points as x, y, v, and more of them by name."""

    model_config = ConfigDict(extra="ignore")
    image_id: int
    keypoints: Annotated[list[Number], Field(min_length=3 * len(COCO), max_length=3 * len(COCO))]
    view: View
    extra: dict[str, Three] = {}


class KeyPoints(BaseModel):
    """A file of key points in the COCO format."""

    model_config = ConfigDict(extra="ignore")
    images: list[Image] = []
    annotations: Annotated[list[Annotation], Field(max_length=MOST_ANNOTATIONS)]


def read_bodies(path: Path) -> list[Body]:
    """Read the bodies of a file of key points, in its order: COCO JSON, or CSV with time. Raises Junk, naming
    what is wrong.
    """
    try:
        if path.stat().st_size > MOST_BYTES:
            raise Junk([f"{path.name} is larger than {MOST_BYTES // 1024 // 1024} MB"])
        text = path.read_text("utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise Junk([f"{path.name}: {error}"]) from error
    return [
        body_of(f.points, f.view, width=f.width, height=f.height) for f in parse_bodies(text, name=path.name)
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Filed:
    """One body of a file: its points as x, y, v in image axes, px; the moment, s, where the file has one."""

    view: View
    points: dict[str, Triple]
    width: float | None
    height: float | None
    t_s: float | None = None


def parse_bodies(text: str, *, name: str) -> list[Filed]:
    """Read the bodies of a text of key points; `name` tells by its ending what it is. Raises Junk."""
    return _from_csv(text) if name.lower().endswith(".csv") else _from_coco(text, name)


def _from_coco(text: str, name: str) -> list[Filed]:
    try:
        read = KeyPoints.model_validate(json.loads(text))
    except (json.JSONDecodeError, RecursionError) as error:
        raise Junk([f"{name}: {error}"]) from error
    except ValidationError as error:
        raise Junk(
            [f"{name}: {'.'.join(map(str, e['loc']))}: {e['msg']}" for e in error.errors()[:20]]
        ) from error
    pictures = {i.id: i for i in read.images}
    found = []
    for n, a in enumerate(read.annotations):
        if strange := set(a.extra) - set(EXTRA):
            raise Junk([f"{name}: annotations.{n}.extra: there is no point named {sorted(strange)[0][:40]}"])
        picture = pictures.get(a.image_id)
        if picture is None and read.images:
            raise Junk([f"{name}: annotations.{n}: there is no picture {a.image_id}"])
        triples = dict(zip(COCO, (a.keypoints[3 * k : 3 * k + 3] for k in range(len(COCO))), strict=True))
        found.append(
            Filed(
                view=a.view,
                points={k: (x, y, v) for k, (x, y, v) in {**triples, **a.extra}.items()},
                width=picture.width if picture else None,
                height=picture.height if picture else None,
            )
        )
    return found


CSV_COLUMNS = ("t_s", "view", "point", "x", "y", "v")
OUT_COLUMNS = ("line", "day", "drill", *CSV_COLUMNS, "width", "height")


def _from_csv(text: str) -> list[Filed]:
    """Rows of one body stand together: those that share `line` where there is one, and `t_s`."""
    rows = list(csv.DictReader(text.splitlines()))
    if not rows:
        raise Junk(["the file has no points"])
    if missing := [name for name in CSV_COLUMNS if name not in rows[0]]:
        raise Junk([f"line 1: there is no column {', '.join(missing)}"])
    if len(rows) > MOST_FRAMES:
        raise Junk([f"the file has more than {MOST_FRAMES} points"])
    wrong: list[str] = []
    found: list[Filed] = []
    last: object = None
    for n, row in enumerate(rows, start=2):
        if not (read := _point_of(row, n, wrong)):
            continue
        point, triple, filed = read
        here = (row.get("line"), filed.t_s, filed.view)
        if here != last:
            found.append(filed)
            last = here
        if point in found[-1].points:
            wrong.append(f"line {n}: {point} is there twice")
        found[-1].points[point] = triple
    if wrong:
        raise Junk(wrong[:20])
    if len(found) > MOST_ANNOTATIONS:
        raise Junk([f"the file has more than {MOST_ANNOTATIONS} bodies"])
    return found


def _point_of(row: Mapping[str, str | None], line: int, wrong: list[str]) -> tuple[str, Triple, Filed] | None:
    """One row: the point, where it is, and the body it is of, still without points."""
    view, point = row.get("view") or "", row.get("point") or ""
    if view not in ("side", "front"):
        wrong.append(f'line {line}: view is "{view[:20]}"; it is side or front')
        return None
    if point not in (*COCO, *EXTRA):
        wrong.append(f'line {line}: there is no point named "{point[:40]}"')
        return None
    try:
        x, y, v = (float(row.get(name) or "") for name in ("x", "y", "v"))
        t_s, width, height = (
            float(text) if (text := (row.get(name) or "").strip()) else None
            for name in ("t_s", "width", "height")
        )
    except ValueError:
        wrong.append(f"line {line}: x, y, v, t_s, width and height are numbers")
        return None
    known = [n for n in (x, y, v, t_s, width, height) if n is not None]
    empty = any(n is not None and n <= 0 for n in (width, height))
    if empty or not all(isfinite(n) and abs(n) <= MOST_PIXELS for n in known):
        wrong.append(f"line {line}: a number is out of reason")
        return None
    filed = Filed(view="side" if view == "side" else "front", points={}, width=width, height=height, t_s=t_s)
    return point, (x, y, v), filed


def lines_as_coco(lines: Sequence[KeptLine]) -> dict[str, Any]:
    """Kept lines in the COCO key point format, each a picture of its own."""
    return {
        "images": [
            {"id": n, "width": line.width, "height": line.height} for n, line in enumerate(lines, start=1)
        ],
        "annotations": [
            {
                "id": n,
                "image_id": n,
                "category_id": 1,
                "num_keypoints": sum(line.points.get(name, NOT_THERE)[2] > 0 for name in COCO),
                "keypoints": [c for name in COCO for c in line.points.get(name, NOT_THERE)],
                "extra": {name: list(line.points[name]) for name in EXTRA if name in line.points},
                "view": line.view,
                "drill": line.drill,
                "day": line.day.isoformat(),
            }
            for n, line in enumerate(lines, start=1)
        ],
        "categories": [{"id": 1, "name": "person", "keypoints": list(COCO)}],
    }


NOT_THERE: Triple = (0.0, 0.0, 0.0)


def lines_as_csv(lines: Sequence[KeptLine]) -> str:
    """Kept lines as CSV, a row a point. Stills have no moment: `t_s` is empty."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(OUT_COLUMNS)
    for line in lines:
        for name, (x, y, v) in sorted(line.points.items()):
            writer.writerow(
                [line.id, line.day, line.drill, "", line.view, name, x, y, v, line.width, line.height]
            )
    return out.getvalue()


def line_file(
    path: Path, *, drill: str, syllabus: Syllabus, stature_cm: float | None = None
) -> list[dict[str, Any]]:
    """Judge every body of a file against the line of a drill. Raises Junk."""
    found = syllabus.drills.get(drill)
    if found is None:
        raise Junk([f"--drill: there is no drill named {drill[:60]} in the syllabus"])
    target = syllabus.line_rules.of_drill(drill, inverted=drill in syllabus.inverted)
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
