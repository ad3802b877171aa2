"""Line: a handstand judged from a picture or a film. Pictures never come here: joints do."""

import json
from datetime import UTC, date, datetime
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Depends, Response
from pydantic import BaseModel, ConfigDict, Field, field_validator
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import App, SignedIn, TheApp, coach_of
from wise_perch.api.cases import judge_trainee, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId, Note
from wise_perch.api.routes.files import as_csv
from wise_perch.core.line.film import LeanSeen, lean_of
from wise_perch.core.line.holds import Hold, find_holds
from wise_perch.core.line.judge import judge_line
from wise_perch.core.line.keeping import NotWhole, Taken, judge_to_keep
from wise_perch.core.line.kept import KeptLine, Triple, body_of
from wise_perch.core.line.points import COCO, View
from wise_perch.core.line.shape import Handle, Outline, handles_of, outline_of, usual_shape
from wise_perch.core.line.words import LineSaid, say_line
from wise_perch.core.trade.line_rules import LineTarget
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import within
from wise_perch.core.trainee.ranges import RangeKnown, known_ranges
from wise_perch.core.trainee.stored import Trainee
from wise_perch.formats.junk import Junk
from wise_perch.formats.line_files import EXTRA, Filed, lines_as_coco, lines_as_csv, parse_bodies
from wise_perch.store import evidence, kept_lines, trainees
from wise_perch.store.cases import Arranged
from wise_perch.store.pool import transaction

router = APIRouter(tags=["line"])
LINES_SHOWN, MOST_FRAMES, MOST_LINES = 200, 3000, 10_000
Pixel = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
Sure = Annotated[float, Field(ge=0, le=2)]
Points = Annotated[dict[str, tuple[Pixel, Pixel, Sure]], Field(max_length=len(COCO) + len(EXTRA))]
Side = Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]
DrillName = Annotated[str, Field(max_length=120)]
TRIED_ON = (
    "Never tried on a photograph of a real handstand: none was at hand. It was tried on drawn bodies. Drag"
    " the joints where they are wrong: your hand is the last word."
)


class Picture(BaseModel):
    """The joints of one picture: by their COCO names (and toes, heels, fingers) as x, y, v in image axes;
    `width` and `height` of the picture, px.
    """

    model_config = ConfigDict(extra="forbid")
    view: View
    points: Points
    width: Side
    height: Side

    @field_validator("points")
    @classmethod
    def _known(cls, points: dict[str, Triple]) -> dict[str, Triple]:
        if strange := set(points) - {*COCO, *EXTRA}:
            raise ValueError(f"there is no point named {sorted(strange)[0][:40]}")
        return points


class PictureOfDrill(Picture):
    """The joints of a picture of a drill."""

    drill: DrillName


class NewLine(PictureOfDrill):
    """A line to keep. `day`: when the picture was taken; `run`: the run whose film it is from."""

    id: NewId
    at: Moment
    day: date
    run: UUID | None = None
    note: Note = ""


class FilmFrame(BaseModel):
    """One moment of a film, s: its joints, None where nobody was found; or what an earlier answer said of
    it.
    """

    model_config = ConfigDict(extra="forbid")
    t_s: Annotated[float, Field(ge=0, le=36_000, allow_inf_nan=False)]
    points: Points | None = None
    lean_deg: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] | None = None
    inverted: bool | None = None


class Film(BaseModel):
    """The frames of a film seen from the side. `fingers`: where they point, told by all frames together."""

    model_config = ConfigDict(extra="forbid")
    frames: Annotated[list[FilmFrame], Field(max_length=MOST_FRAMES)]
    fingers: Literal[-1, 1] | None = None


@dataclass(frozen=True, kw_only=True)
class LookedAt:
    """A drill whose line is looked at, and the line it is meant to have."""

    drill: str
    title: str
    target: str


@dataclass(frozen=True, kw_only=True)
class LineShown:
    """A kept line: what is said of it by today's rules, and the outline that stands for its picture."""

    id: UUID
    drill: str
    title: str
    view: View
    day: date
    note: str
    run: UUID | None
    said: LineSaid
    outline: Outline


@dataclass(frozen=True, kw_only=True)
class LinePage:
    """Where lines are judged. `shape`: a straight body to place by hand; `advice` for the camera; `ranges`:
    what is known of the trainee's range, by drill; `tried_on`: what it was never tried on.
    """

    trainee: Trainee
    on: date
    stature_cm: float | None
    drills: tuple[LookedAt, ...]
    drill: str
    lines: tuple[LineShown, ...]
    shape: dict[str, tuple[float, float]]
    advice: tuple[str, ...]
    ranges: dict[str, RangeKnown]
    tried_on: str


@dataclass(frozen=True, kw_only=True)
class LineJudged:
    """One picture judged: in words, and the joints that can be taken hold of."""

    said: LineSaid
    handles: tuple[Handle, ...]
    outline: Outline


@dataclass(frozen=True, kw_only=True)
class FilmJudged:
    """A film judged: the lean of every frame, the holds in it, the share of frames that could be used, and
    why nothing is claimed where it is too small. `fingers`: where they point.
    """

    frames: tuple[LeanSeen, ...]
    holds: tuple[Hold, ...]
    quality: float
    because: str
    fingers: Literal[-1, 1] | None


@router.get("/trainees/{id}/line")
def line_page(id: UUID, app: TheApp, coach: SignedIn) -> LinePage:
    """Where a trainee's lines are judged, and those that are kept."""
    with transaction(app.pool, coach=coach) as db:
        trainee, case = judge_trainee(db, id, load_house(db))
        kept = kept_lines.of_trainee(db, id, most=LINES_SHOWN)
        ranges = known_ranges(case)
    syllabus = case.syllabus
    drills = tuple(_looked_at(syllabus))
    looked_at = {d.drill for d in drills}
    worked = next((s.drill for g in case.goals for s in g.work_on if s.drill in looked_at), "")
    return LinePage(
        trainee=trainee,
        on=case.on,
        stature_cm=case.stature_cm,
        drills=drills,
        drill=(kept[0].drill if kept else "") or worked or drills[0].drill,
        lines=tuple(shown for line in kept if (shown := show_line(line, syllabus, case.stature_cm))),
        shape=usual_shape(),
        advice=syllabus.line_rules.advice,
        ranges=ranges,
        tried_on=TRIED_ON,
    )


def _looked_at(syllabus: Syllabus) -> list[LookedAt]:
    found = []
    for d in syllabus.drills.values():
        target = syllabus.line_rules.of_drill(d.drill, inverted=d.drill in syllabus.inverted)
        if target:
            found.append(LookedAt(drill=d.drill, title=d.title, target=within(target.title)))
    return found


def show_line(line: KeptLine, syllabus: Syllabus, stature_cm: float | None) -> LineShown | None:
    """A kept line as it is shown; None where its drill is no longer looked at."""
    if line.drill not in syllabus.drills:
        return None
    target = syllabus.line_rules.of_drill(line.drill, inverted=line.drill in syllabus.inverted)
    if target is None:
        return None
    said = say_line(
        judge_line(line.body, target, syllabus.line_rules), target, syllabus, stature_cm=stature_cm
    )
    return LineShown(
        id=line.id,
        drill=line.drill,
        title=syllabus.drills[line.drill].title,
        view=line.view,
        day=line.day,
        note=line.note,
        run=line.run,
        said=said,
        outline=outline_of(line.body),
    )


def _target(syllabus: Syllabus, drill: str) -> LineTarget:
    """The line of a drill. Raises Refused."""
    if drill not in syllabus.drills:
        raise Refused(404, "There is no such drill.")
    target = syllabus.line_rules.of_drill(drill, inverted=drill in syllabus.inverted)
    if target is None:
        raise Refused(422, f"No line is looked at in {syllabus.drills[drill].title.lower()}.")
    return target


@router.post("/trainees/{id}/line/judge")
def judge_picture(id: UUID, asked: PictureOfDrill, app: TheApp, coach: SignedIn) -> LineJudged:
    """Judge the joints of one picture. Nothing is kept."""
    with transaction(app.pool, coach=coach) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
    profile = known.arrangement.profile
    target = _target(syllabus, asked.drill)
    body = body_of(asked.points, asked.view, width=asked.width, height=asked.height)
    judged = judge_line(body, target, syllabus.line_rules)
    stature = profile.stature_cm if profile else None
    return LineJudged(
        said=say_line(judged, target, syllabus, stature_cm=stature),
        handles=handles_of(body),
        outline=outline_of(body),
    )


@router.post("/line/film", dependencies=[Depends(coach_of)])
def judge_film(film: Film) -> FilmJudged:
    """Find the holds of a film from its joints. Nothing is kept."""
    seen, fingers = lean_of(
        [
            LeanSeen(t_s=f.t_s, lean_deg=f.lean_deg, inverted=f.inverted)
            if f.points is None
            else (f.t_s, body_of(f.points, "side", width=None, height=None))
            for f in film.frames
        ],
        fingers=film.fingers,
    )
    found = find_holds([f.as_frame() for f in seen])
    return FilmJudged(
        frames=seen,
        holds=found.holds,
        quality=round(found.quality, 3),
        because=found.because,
        fingers=fingers,
    )


@router.post("/trainees/{id}/lines", status_code=201)
def keep_line(id: UUID, new: NewLine, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Keep a line: its joints and what was said of it, and no picture. The same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        trainees.hold(db, id)
        house = load_house(db)
        known, syllabus = load_arranged(db, id, house)
        if new.day > house.today:
            raise Refused(422, "That day has not come yet.")
        target = _target(syllabus, new.drill)
        if new.run is not None and evidence.run(db, new.run).trainee != id:
            raise Refused(404, "There is no such run.")
        profile = known.arrangement.profile
        try:
            kept = judge_to_keep(
                Taken(**new.model_dump()),
                target,
                syllabus,
                stature_cm=profile.stature_cm if profile else None,
            )
        except NotWhole as error:
            raise Refused(422, error.says) from error
        kept_lines.add(db, trainee=id, line=kept)
    return {"id": new.id}


class KeyPointText(BaseModel):
    """A file of key points as text; `name` tells by its ending whether it is JSON or CSV."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(max_length=200)]
    text: Annotated[str, Field(max_length=2_000_000)]


@router.post("/line/read", dependencies=[Depends(coach_of)])
def read_key_points(file: KeyPointText) -> list[Filed]:
    """Read a file of key points. Nothing is kept."""
    try:
        return parse_bodies(file.text, name=file.name)
    except Junk as junk:
        raise Refused(422, junk.lines[0]) from junk


@router.get("/trainees/{id}/lines")
def kept(id: UUID, app: TheApp, coach: SignedIn) -> tuple[LineShown, ...]:
    """A trainee's kept lines, the newest first."""
    known, syllabus, lines = _lines_of(app, coach, id)
    profile = known.arrangement.profile
    stature = profile.stature_cm if profile else None
    return tuple(shown for line in lines[:LINES_SHOWN] if (shown := show_line(line, syllabus, stature)))


@router.get("/trainees/{id}/lines.json", response_class=Response)
def lines_json(id: UUID, app: TheApp, coach: SignedIn) -> Response:
    """A trainee's kept lines in the COCO key point format."""
    _, _, lines = _lines_of(app, coach, id)
    headers = {"Content-Disposition": 'attachment; filename="lines.json"'}
    return Response(json.dumps(lines_as_coco(lines)), media_type="application/json", headers=headers)


@router.get(
    "/trainees/{id}/lines.csv",
    response_class=Response,
    responses={200: {"content": {"text/csv": {}}}},
)
def lines_csv(id: UUID, app: TheApp, coach: SignedIn) -> Response:
    """A trainee's kept lines as CSV, a row a point."""
    _, _, lines = _lines_of(app, coach, id)
    return as_csv(lines_as_csv(lines), "lines.csv")


def _lines_of(app: App, coach: UUID, id: UUID) -> tuple[Arranged, Syllabus, tuple[KeptLine, ...]]:
    with transaction(app.pool, coach=coach) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
        return known, syllabus, kept_lines.of_trainee(db, id, most=MOST_LINES)


@router.post("/lines/{line}/strike", status_code=204)
def strike_line(line: UUID, app: TheApp, coach: SignedIn) -> None:
    """Strike out a kept line; it can be brought back."""
    with transaction(app.pool, coach=coach) as db:
        kept_lines.strike(db, id=line, moment=datetime.now(UTC))


@router.post("/lines/{line}/restore", status_code=204)
def restore_line(line: UUID, app: TheApp, coach: SignedIn) -> None:
    """Bring back a line that was struck out."""
    with transaction(app.pool, coach=coach) as db:
        kept_lines.strike(db, id=line, moment=None)
