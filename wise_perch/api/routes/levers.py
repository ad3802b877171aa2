"""Levers: a trainee's own body against wall, box, floor and pads."""

from collections.abc import Mapping
from datetime import date
from math import degrees, radians
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.members import SignedIn
from wise_perch.core.body.answers import Answer
from wise_perch.core.body.body_units import in_rulers, rulers_of
from wise_perch.core.body.jumps import Jump
from wise_perch.core.body.levers import own_body, settings_for, solve_one
from wise_perch.core.body.outlook import FirstRep
from wise_perch.core.body.room import (
    SHARE_ON_HANDS,
    JointLabel,
    Room,
    fingers_point,
    furnish_room,
    label_joints,
)
from wise_perch.core.body.segments import Body, UnlikelyBody
from wise_perch.core.body.upright import Save, handstand, judge_save, straight_answer
from wise_perch.core.body.words import FigureShown, show_figures
from wise_perch.core.dose.levers import (
    SetUpDrill,
    first_reps,
    jumps_in_share,
    set_up_drills,
    settings_problem,
)
from wise_perch.core.line.own_lean import OwnLean, own_lean
from wise_perch.core.trade.intake import Length, Profile, lengths_of
from wise_perch.core.trade.mechanics import FigureNote, Lever
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.stored import Trainee
from wise_perch.store import kept_lines
from wise_perch.store.pool import transaction

router = APIRouter(tags=["levers"])
LINES_READ = 20
"""So many of the newest lines say how a trainee's own handstands lean."""
Setting = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]
Knobs = Annotated[dict[Annotated[str, Field(max_length=60)], Setting], Field(max_length=10)]


class AskedSettings(BaseModel):
    """Knob settings in cm and degrees, by name; knobs left out stand where they begin."""

    model_config = ConfigDict(extra="forbid")
    settings: Knobs = {}


class AskedAlong(AskedSettings):
    """Settings, and the knob that is about to be turned."""

    knob: Annotated[str, Field(max_length=120)]


class AskedSave(BaseModel):
    """A lean in degrees from vertical toward the fingers, and how fast it grows, degrees a second."""

    model_config = ConfigDict(extra="forbid")
    lean_deg: Annotated[float, Field(ge=-45, le=45, allow_inf_nan=False)]
    lean_rate_deg_s: Annotated[float, Field(ge=-200, le=200, allow_inf_nan=False)] = 0


@dataclass(frozen=True, kw_only=True)
class Size:
    """A trainee's size as levers use it. `problem`: why it cannot be used."""

    stature_cm: float | None
    mass_kg: float | None
    lengths: tuple[Length, ...]
    problem: str


@dataclass(frozen=True, kw_only=True)
class LeversPage:
    """All levers for one trainee, the drills they set up, what figures mean, how near first reps are, and
    jumps in share; `own_lean`: how their own handstands lean, by the lines kept.
    """

    trainee: Trainee
    on: date
    size: Size
    levers: tuple[Lever, ...]
    first_drill: str
    drills: tuple[SetUpDrill, ...]
    figures: dict[str, FigureNote]
    outlooks: tuple[FirstRep, ...]
    jumps: tuple[Jump, ...]
    own_lean: OwnLean | None


@dataclass(frozen=True, kw_only=True)
class Seen:
    """One view of a position, drawn: joints and centres as (x, z) in m, the figures as they are said; or why
    it cannot be.

    `room`: what stands around it; `labels`: figures at joints; `on_hands`: what the hands carry; `fingers`
    point to +x (1) or -x (-1).
    """

    view: str
    title: str
    because: str
    joints: dict[str, tuple[float, float]]
    centre: tuple[float, float] | None
    figures: tuple[FigureShown, ...]
    room: Room
    labels: tuple[JointLabel, ...]
    on_hands: str
    fingers: int


@dataclass(frozen=True, kw_only=True)
class HandBase:
    """The hand on the floor, m ahead of the wrist: heel, middle, finger pads, tips."""

    heel: float
    middle: float
    pads: float
    tips: float


@dataclass(frozen=True, kw_only=True)
class Position:
    """A lever at these settings, for this trainee. `in_body`: each setting in the trainee's own lengths,
    where one fits.
    """

    lever: str
    settings: dict[str, float]
    in_body: dict[str, str]
    hand: HandBase
    stature: float
    views: tuple[Seen, ...]


@dataclass(frozen=True, kw_only=True)
class SaveShown:
    """Whether a lean can be saved: where the weight is heading over the hand, and what the fingers do. Limits
    in degrees.
    """

    lean_deg: float
    lean_rate_deg_s: float
    save: Save
    saveable: bool
    words: str
    com_height: float
    joints: dict[str, tuple[float, float]]
    centre: tuple[float, float]
    hand: HandBase
    over_limit_deg: float
    under_limit_deg: float


@router.get("/trainees/{id}/levers")
def levers_page(id: UUID, app: TheApp, member: SignedIn) -> LeversPage:
    """Every lever for one trainee."""
    with transaction(app.pool, member=member) as db:
        who, case = judge_trainee(db, id, load_house(db))
        syllabus, profile = case.syllabus, case.profile
        stature = profile.stature_cm if profile else None
        return LeversPage(
            trainee=who,
            on=case.on,
            size=Size(
                stature_cm=stature,
                mass_kg=profile.mass_kg if profile else None,
                lengths=(
                    lengths_of(syllabus.intake, stature_cm=stature, measured_cm=profile.lengths_cm)
                    if profile and stature
                    else ()
                ),
                problem=_size_problem(profile),
            ),
            levers=syllabus.mechanics.levers,
            first_drill=syllabus.mechanics.first_drill,
            drills=set_up_drills(case),
            figures=dict(syllabus.mechanics.figures),
            outlooks=first_reps(case),
            jumps=jumps_in_share(case),
            own_lean=own_lean(kept_lines.of_trainee(db, id, most=LINES_READ), syllabus),
        )


def _size_problem(profile: Profile | None) -> str:
    try:
        own_body(profile)
    except UnlikelyBody as error:
        return f"{error} Put the measures right first."
    return ""


def load_body(db: Connection, trainee: UUID) -> tuple[Syllabus, Profile, Body]:
    """The body alone, for a move of the dial: no evidence is read. Raises Refused (409) while stature is not
    known, 422 for lengths no body has.
    """
    known, syllabus = load_arranged(db, trainee, load_house(db))
    profile = known.arrangement.profile
    if problem := _size_problem(profile):
        raise Refused(422, problem)
    made = own_body(profile)
    if profile is None or made is None:
        raise Refused(409, "Enter stature first: everything here is worked out from it.")
    return syllabus, profile, made


def lever_or_refuse(syllabus: Syllabus, name: str, settings: Mapping[str, float]) -> Lever:
    """The lever of this name, whose knobs can be set so. Raises Refused (404, 422)."""
    found = syllabus.mechanics.lever(name)
    if found is None:
        raise Refused(404, "There is no such lever.")
    if problem := settings_problem(found, settings):
        raise Refused(422, problem)
    return found


@router.post("/trainees/{id}/levers/{lever}/at")
def position(id: UUID, lever: str, asked: AskedSettings, app: TheApp, member: SignedIn) -> Position:
    """Work one lever out at these settings. Nothing is kept."""
    with transaction(app.pool, member=member) as db:
        syllabus, profile, body = load_body(db, id)
    found = lever_or_refuse(syllabus, lever, asked.settings)
    return _position(found, settings_for(found, body, asked.settings), syllabus, profile, body)


@router.post("/trainees/{id}/levers/{lever}/along")
def positions_along(
    id: UUID, lever: str, asked: AskedAlong, app: TheApp, member: SignedIn
) -> tuple[Position, ...]:
    """Work one lever out at every notch of a knob, the others as asked: what a dial shows while it is turned.
    Nothing is kept.
    """
    with transaction(app.pool, member=member) as db:
        syllabus, profile, body = load_body(db, id)
    found = lever_or_refuse(syllabus, lever, asked.settings)
    knob = found.knob(asked.knob)
    if knob is None:
        raise Refused(422, f"{found.title} has no setting named {asked.knob[:60]}.")
    settings = settings_for(found, body, asked.settings)
    return tuple(
        _position(found, {**settings, knob.knob: at}, syllabus, profile, body) for at in knob.notches()
    )


def _position(
    found: Lever, settings: dict[str, float], syllabus: Syllabus, profile: Profile, body: Body
) -> Position:
    own = rulers_of(syllabus.intake, profile)
    in_body = {k.knob: in_rulers(settings[k.knob], own) for k in found.knobs if k.unit == "cm"}
    return Position(
        lever=found.lever,
        settings=settings,
        in_body=in_body,
        hand=_hand_base(body),
        stature=body.stature,
        views=tuple(
            _seen_views(found, n, body, settings, syllabus, in_body, mass_known=bool(profile.mass_kg))
            for n in range(len(found.views))
        ),
    )


def _hand_base(body: Body) -> HandBase:
    return HandBase(
        heel=-body.part("hand-heel"),
        middle=body.part("mid-hand"),
        pads=body.part("finger-pads"),
        tips=body.hand,
    )


def _seen_views(
    lever: Lever,
    n: int,
    body: Body,
    settings: dict[str, float],
    syllabus: Syllabus,
    in_body: dict[str, str],
    *,
    mass_known: bool,
) -> Seen:
    view = lever.views[n]
    found = solve_one(view.model, body, settings)
    if not isinstance(found, Answer):
        return Seen(
            view=view.view,
            title=view.title,
            because=found.because,
            joints={},
            centre=None,
            figures=(),
            room=Room(),
            labels=(),
            on_hands="",
            fingers=1,
        )
    figures = show_figures(syllabus.mechanics, lever, found.figures, mass_known=mass_known)
    return Seen(
        view=view.view,
        title=view.title,
        because="",
        joints=found.drawn,
        centre=found.centre,
        figures=figures,
        room=furnish_room(lever, found, settings, in_body),
        labels=label_joints(syllabus.mechanics, lever, figures),
        on_hands=next((f"{f.words} on the hands" for f in figures if f.figure == SHARE_ON_HANDS), ""),
        fingers=fingers_point(found),
    )


@router.post("/trainees/{id}/levers/over-under")
def over_under(id: UUID, asked: AskedSave, app: TheApp, member: SignedIn) -> SaveShown:
    """Whether a handstand that leans so, and so fast, can still be saved by the hands. Nothing is kept."""
    with transaction(app.pool, member=member) as db:
        _, _, body = load_body(db, id)
    stands, lean = handstand(body), radians(asked.lean_deg)
    found = judge_save(body, lean=lean, lean_rate=radians(asked.lean_rate_deg_s))
    drawn = straight_answer(body, lean=lean)
    words = {"saveable": "Saveable", "over": "Lost over", "under": "Lost under"}[found.side]
    return SaveShown(
        lean_deg=asked.lean_deg,
        lean_rate_deg_s=asked.lean_rate_deg_s,
        save=found,
        saveable=found.saveable,
        words=words,
        com_height=stands.com_height,
        joints=drawn.drawn,
        centre=drawn.centre,
        hand=_hand_base(body),
        over_limit_deg=degrees(stands.over),
        under_limit_deg=-degrees(stands.under),
    )
