"""Key points of pictures in files: the COCO format, and CSV with time; read and written. Documented in
docs/formats.md.
"""

import csv
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from io import StringIO
from math import isfinite
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from wise_perch.core.line.kept import KeptLine, Triple, body_of
from wise_perch.core.line.points import COCO, EXTRA, Body, View
from wise_perch.formats.junk import Junk

MOST_ANNOTATIONS, MOST_FRAMES, MOST_PIXELS = 10_000, 1_000_000, 1e6
MOST_BYTES = 64 * 1024 * 1024
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
