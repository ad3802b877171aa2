"""Measures: a trainee's stature, mass and lengths, estimated until they are taken."""

from dataclasses import asdict, replace
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId, Size
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.body.levers import own_body
from wise_perch.core.body.segments import UnlikelyBody
from wise_perch.core.trade.intake import Intake, Length, Profile, distance_problem, lengths_of, size_problem
from wise_perch.core.trainee.stored import Trainee
from wise_perch.store import arrangements, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["levers"])


class NewMeasures(Size):
    """Measures as taken: cm and kg; a length left out is estimated. `sure`: what was asked about is so.
    Without `distances_cm` those kept stay.
    """

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    sure: bool = False
    distances_cm: dict[str, Annotated[float, Field(ge=0, le=200, allow_inf_nan=False)]] | None = None


@dataclass(frozen=True, kw_only=True)
class DistanceAsked:
    """A distance that is set by hand: how it is taken, and what was kept of it, cm."""

    distance: str
    title: str
    how: str
    cm: float | None


@dataclass(frozen=True, kw_only=True)
class MeasureAsked:
    """A length to take: how, and its usual share of stature."""

    length: str
    title: str
    how: str
    share: float
    source: str


@dataclass(frozen=True, kw_only=True)
class MeasuresPage:
    """What is known of a trainee's size. `lengths`: measured or estimated, once stature is known."""

    trainee: Trainee
    stature_cm: float | None
    mass_kg: float | None
    asked: tuple[MeasureAsked, ...]
    lengths: tuple[Length, ...]
    measured_cm: dict[str, float]
    distances: tuple[DistanceAsked, ...]


@dataclass(frozen=True, kw_only=True)
class MeasuresAnswer:
    """Whether the measures were kept; if not, what is asked about first."""

    kept: bool
    doubts: tuple[str, ...]


@router.get("/trainees/{id}/measures")
def measures_page(id: UUID, app: TheApp, member: SignedIn) -> MeasuresPage:
    """What is known of a trainee's size."""
    with transaction(app.pool, member=member) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
    asked, profile = syllabus.intake, known.arrangement.profile
    stature, own = (profile.stature_cm, dict(profile.lengths_cm)) if profile else (None, {})
    return MeasuresPage(
        trainee=known.trainee,
        stature_cm=stature,
        mass_kg=profile.mass_kg if profile else None,
        asked=tuple(
            MeasureAsked(length=x.length, title=x.title, how=x.how, share=x.share, source=x.source)
            for x in asked.lengths
        ),
        lengths=lengths_of(asked, stature_cm=stature, measured_cm=own) if stature else (),
        measured_cm=own,
        distances=tuple(
            DistanceAsked(
                distance=d.distance,
                title=d.title,
                how=d.how,
                cm=profile.distances_cm.get(d.distance) if profile else None,
            )
            for d in asked.distances
        ),
    )


@router.post("/trainees/{id}/measures")
def keep_measures(id: UUID, new: NewMeasures, app: TheApp, member: Coaching) -> MeasuresAnswer:
    """Keep measures; unlikely ones are asked about first."""
    with transaction(app.pool, member=member) as db:
        # cautions and distances are carried over from what is kept by now
        trainees.hold(db, id)
        known, syllabus = load_arranged(db, id, load_house(db))
        before = known.arrangement.profile or Profile(lengths_cm={}, cautions={})
        distances = before.distances_cm if new.distances_cm is None else new.distances_cm
        if problem := distance_problem(syllabus.intake, distances):
            raise Refused(422, problem)
        profile = replace(
            before,
            stature_cm=new.stature_cm,
            mass_kg=new.mass_kg,
            lengths_cm=new.lengths_cm,
            distances_cm=dict(distances),
        )
        if doubts := _find_doubts(new, profile, syllabus.intake):
            return MeasuresAnswer(kept=False, doubts=doubts)
        values = {**asdict(profile), "experience": list(profile.experience), "kit": list(profile.kit)}
        arrangements.add_intake(db, id=new.id, trainee=id, at=new.at, profile=values)
    return MeasuresAnswer(kept=True, doubts=())


def _find_doubts(new: NewMeasures, profile: Profile, asked: Intake) -> tuple[str, ...]:
    """What is unlikely and was not said to be so. Raises Refused (422) for what cannot be."""
    if problem := size_problem(
        asked, stature_cm=new.stature_cm, mass_kg=new.mass_kg, lengths_cm=new.lengths_cm
    ):
        raise Refused(422, problem)
    try:
        own_body(profile)
    except UnlikelyBody as error:
        raise Refused(422, f"{error} Put the measures right first.") from error
    if new.sure:
        return ()
    return tuple(
        x.doubt for x in lengths_of(asked, stature_cm=new.stature_cm, measured_cm=new.lengths_cm) if x.doubt
    )
