"""Drills drawn in a trainee's own lengths, for the coach and on the trainee's own page."""

from collections.abc import Sequence
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_arranged, load_house
from wise_perch.api.members import SignedIn
from wise_perch.api.routes.sharing import Token, find_sharing
from wise_perch.core.body.drawn import Drawn, draw_in_use
from wise_perch.core.body.levers import likely_body
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.store.pool import transaction

router = APIRouter(tags=["trainees"])
MOST_DRAWN = 60
Drills = Annotated[list[Annotated[str, Query(max_length=120)]], Query(max_length=MOST_DRAWN)]


@router.get("/trainees/{id}/drawings")
def trainee_drawings(
    id: UUID, drill: Drills, app: TheApp, member: SignedIn, faults: bool = False
) -> tuple[Drawn, ...]:
    """Drills drawn in a trainee's own lengths, or the usual ones while they are not known; what has no
    drawing is left out. With `faults` what to look for stands beside each.
    """
    with transaction(app.pool, member=member) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
    return _draw(syllabus, known.arrangement.profile, drill, faults=faults)


@router.get("/shared/{token}/drawings", tags=["sharing"])
def shared_drawings(token: Token, drill: Drills, app: TheApp) -> tuple[Drawn, ...]:
    """The same for whoever has a trainee's own address."""
    link = find_sharing(app, token, "page")
    with transaction(app.pool, member=link.member) as db:
        known, syllabus = load_arranged(db, link.trainee, load_house(db))
    return _draw(syllabus, known.arrangement.profile, drill, faults=False)


def _draw(
    syllabus: Syllabus, profile: Profile | None, drills: Sequence[str], *, faults: bool
) -> tuple[Drawn, ...]:
    asked = (syllabus.drills.get(name) for name in dict.fromkeys(drills))
    body = likely_body(profile)
    found = (draw_in_use(syllabus, d, body, faults=faults) for d in asked if d)
    return tuple(d for d in found if d)
