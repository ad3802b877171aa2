"""Kept lines: joints, view, drill and what was said; no picture ever comes here."""

import json
from datetime import UTC, date, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field, field_validator
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import App, TheApp
from wise_perch.api.cases import load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId, Note
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.routes.files import as_csv
from wise_perch.core.line.judge import judge_line
from wise_perch.core.line.keeping import NotWhole, Taken, judge_to_keep
from wise_perch.core.line.kept import KeptLine, Triple
from wise_perch.core.line.points import COCO, EXTRA, View
from wise_perch.core.line.shape import Outline, outline_of
from wise_perch.core.line.words import LineSaid, say_line
from wise_perch.core.trade.line_rules import LineTarget
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import within
from wise_perch.core.trainee.case import stature_in
from wise_perch.core.trainee.hall import Member
from wise_perch.formats.key_points import lines_as_coco, lines_as_csv
from wise_perch.store import evidence, kept_lines, trainees
from wise_perch.store.cases import Arranged
from wise_perch.store.pool import transaction

router = APIRouter(tags=["line"])
LINES_SHOWN, MOST_LINES = 200, 10_000
Pixel = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
Sure = Annotated[float, Field(ge=0, le=2)]
Points = Annotated[dict[str, tuple[Pixel, Pixel, Sure]], Field(max_length=len(COCO) + len(EXTRA))]
Side = Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]
DrillName = Annotated[str, Field(max_length=120)]


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


def target_of(syllabus: Syllabus, drill: str) -> LineTarget:
    """The line of a drill. Raises Refused."""
    if drill not in syllabus.drills:
        raise Refused(404, "There is no such drill.")
    target = syllabus.line_target(drill)
    if target is None:
        raise Refused(422, f"No line is looked at in {within(syllabus.drills[drill].title)}.")
    return target


def show_line(line: KeptLine, syllabus: Syllabus, stature_cm: float | None) -> LineShown | None:
    """A kept line as it is shown; None where its drill is no longer looked at."""
    target = syllabus.line_target(line.drill)
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


@router.post("/trainees/{id}/lines", status_code=201)
def keep_line(id: UUID, new: NewLine, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Keep a line: its joints and what was said of it, and no picture. The same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        trainees.hold(db, id)
        house = load_house(db)
        known, syllabus = load_arranged(db, id, house)
        if new.day > house.today:
            raise Refused(422, "That day has not come yet.")
        target = target_of(syllabus, new.drill)
        if new.run is not None and evidence.run(db, new.run).trainee != id:
            raise Refused(404, "There is no such run.")
        try:
            kept = judge_to_keep(
                Taken(**new.model_dump()),
                target,
                syllabus,
                stature_cm=stature_in(known.arrangement),
            )
        except NotWhole as error:
            raise Refused(422, error.says) from error
        kept_lines.add(db, trainee=id, line=kept)
    return {"id": new.id}


@router.get("/trainees/{id}/lines")
def kept(id: UUID, app: TheApp, member: SignedIn) -> tuple[LineShown, ...]:
    """A trainee's kept lines, the newest first."""
    known, syllabus, lines = _lines_of(app, member, id)
    stature = stature_in(known.arrangement)
    return tuple(shown for line in lines[:LINES_SHOWN] if (shown := show_line(line, syllabus, stature)))


@router.get("/trainees/{id}/lines.json", response_class=Response)
def lines_json(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """A trainee's kept lines in the COCO key point format."""
    _, _, lines = _lines_of(app, member, id)
    headers = {"Content-Disposition": 'attachment; filename="lines.json"'}
    return Response(json.dumps(lines_as_coco(lines)), media_type="application/json", headers=headers)


@router.get(
    "/trainees/{id}/lines.csv",
    response_class=Response,
    responses={200: {"content": {"text/csv": {}}}},
)
def lines_csv(id: UUID, app: TheApp, member: SignedIn) -> Response:
    """A trainee's kept lines as CSV, a row a point."""
    _, _, lines = _lines_of(app, member, id)
    return as_csv(lines_as_csv(lines), "lines.csv")


def _lines_of(app: App, member: Member, id: UUID) -> tuple[Arranged, Syllabus, tuple[KeptLine, ...]]:
    with transaction(app.pool, member=member) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
        return known, syllabus, kept_lines.of_trainee(db, id, most=MOST_LINES)


@router.post("/lines/{line}/strike", status_code=204)
def strike_line(line: UUID, app: TheApp, member: Coaching) -> None:
    """Strike out a kept line; it can be brought back."""
    with transaction(app.pool, member=member) as db:
        kept_lines.strike(db, id=line, moment=datetime.now(UTC))


@router.post("/lines/{line}/restore", status_code=204)
def restore_line(line: UUID, app: TheApp, member: Coaching) -> None:
    """Bring back a line that was struck out."""
    with transaction(app.pool, member=member) as db:
        kept_lines.strike(db, id=line, moment=None)
