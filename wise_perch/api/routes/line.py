"""Line: a handstand judged from a picture or a film. Joints come here, pictures never do; nothing is kept."""

from collections.abc import Iterator
from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Depends
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.members import SignedIn, assistant_of
from wise_perch.api.routes.kept_lines import (
    LINES_SHOWN,
    LineShown,
    PictureOfDrill,
    Points,
    show_line,
    target_of,
)
from wise_perch.core.line.film import LeanSeen, lean_of
from wise_perch.core.line.holds import Hold, find_holds
from wise_perch.core.line.judge import judge_line
from wise_perch.core.line.kept import body_of
from wise_perch.core.line.shape import Handle, Outline, handles_of, outline_of, usual_shape
from wise_perch.core.line.words import TRIED_ON, LineSaid, say_line
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day, within
from wise_perch.core.trainee.case import JudgedCase, stature_in
from wise_perch.core.trainee.ranges import RangeKnown, known_ranges
from wise_perch.core.trainee.stored import Trainee
from wise_perch.formats.junk import Junk
from wise_perch.formats.key_points import Filed, parse_bodies
from wise_perch.store import kept_lines
from wise_perch.store.pool import transaction

router = APIRouter(tags=["line"])
MOST_FRAMES, RUNS_NAMED = 3000, 12


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
class RunNamed:
    """A run that a line can back: its test and day."""

    run: UUID
    words: str


@dataclass(frozen=True, kw_only=True)
class LinePage:
    """Where lines are judged. `runs`: the newest ones, of which a picture may be. `shape`: a straight body to
    place by hand; `advice` for the camera; `ranges`: what is known of the trainee's range, by drill;
    `tried_on`: what it was never tried on.
    """

    trainee: Trainee
    on: date
    drills: tuple[LookedAt, ...]
    drill: str
    lines: tuple[LineShown, ...]
    runs: tuple[RunNamed, ...]
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
def line_page(id: UUID, app: TheApp, member: SignedIn) -> LinePage:
    """Where a trainee's lines are judged, and those that are kept."""
    with transaction(app.pool, member=member) as db:
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
        drills=drills,
        drill=(kept[0].drill if kept else "") or worked or drills[0].drill,
        lines=tuple(shown for line in kept if (shown := show_line(line, syllabus, case.stature_cm))),
        runs=tuple(_runs_of(case)),
        shape=usual_shape(),
        advice=syllabus.line_rules.advice,
        ranges=ranges,
        tried_on=TRIED_ON,
    )


def _runs_of(case: JudgedCase) -> Iterator[RunNamed]:
    """The newest runs of tests, the last first."""
    tests = case.syllabus.tests
    known = [r for r in sorted(case.runs, key=lambda r: r.day, reverse=True) if r.test in tests]
    for r in known[:RUNS_NAMED]:
        yield RunNamed(run=r.run, words=f"{tests[r.test].title}, {say_day(r.day, case.on)}")


def _looked_at(syllabus: Syllabus) -> list[LookedAt]:
    found = []
    for d in syllabus.drills.values():
        target = syllabus.line_target(d.drill)
        if target:
            found.append(LookedAt(drill=d.drill, title=d.title, target=within(target.title)))
    return found


@router.post("/trainees/{id}/line/judge")
def judge_picture(id: UUID, asked: PictureOfDrill, app: TheApp, member: SignedIn) -> LineJudged:
    """Judge the joints of one picture. Nothing is kept."""
    with transaction(app.pool, member=member) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
    target = target_of(syllabus, asked.drill)
    body = body_of(asked.points, asked.view, width=asked.width, height=asked.height)
    judged = judge_line(body, target, syllabus.line_rules)
    stature = stature_in(known.arrangement)
    return LineJudged(
        said=say_line(judged, target, syllabus, stature_cm=stature),
        handles=handles_of(body),
        outline=outline_of(body),
    )


@router.post("/line/film", dependencies=[Depends(assistant_of)])
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


class KeyPointText(BaseModel):
    """A file of key points as text; `name` tells by its ending whether it is JSON or CSV."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(max_length=200)]
    text: Annotated[str, Field(max_length=2_000_000)]


@router.post("/line/read", dependencies=[Depends(assistant_of)])
def read_key_points(file: KeyPointText) -> list[Filed]:
    """Read a file of key points. Nothing is kept."""
    try:
        return parse_bodies(file.text, name=file.name)
    except Junk as junk:
        raise Refused(422, junk.lines[0]) from junk
