"""The group page: where everybody is on their way."""

from uuid import UUID

from fastapi import APIRouter
from pydantic import TypeAdapter

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_house
from wise_perch.api.members import SignedIn
from wise_perch.api.routes.trainees import TodayTrainee
from wise_perch.api.today import MAKE_AGAIN_S, MAKE_S, is_ready, ready_briefs, refresh_briefs
from wise_perch.core.progress.group import Group, GroupRow, sort_group
from wise_perch.core.trainee.early import kept_since, not_done
from wise_perch.store import progress
from wise_perch.store.pool import transaction

router = APIRouter(tags=["progress"])
ROWS = TypeAdapter(list[TodayTrainee])


@router.get("/group")
def group_page(app: TheApp, member: SignedIn, again: bool = False) -> Group:
    """Everybody, what wants a word first. Where much has to be worked out first, those not ready stand last,
    without a course; asking `again` goes on with them, for longer.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        ready = is_ready(db, house, on=house.today)
    if not ready:
        refresh_briefs(app.pool, house, on=house.today, within_s=MAKE_AGAIN_S if again else MAKE_S)
    rules = house.syllabus.sessions.wrong_turns
    with transaction(app.pool, member=member) as db:
        found = ROWS.validate_json(ready_briefs(db, house, on=house.today))
        kept = progress.kept_days(
            db, first=kept_since(rules, on=house.today), last=house.today, time_zone=house.hall.time_zone
        )
        heard = progress.silenced(db)

    def row(of: TodayTrainee) -> GroupRow:
        id: UUID = of.id
        days, silenced = kept.get(id), heard.get(id, frozenset())
        turns = not_done(rules, days.planned, days.done, on=house.today) if days else ()
        early = (*(of.brief.turns if of.brief else ()), *turns)
        return GroupRow(
            id=id,
            name=of.name,
            course=of.brief.course if of.brief else None,
            turns=tuple(t for t in early if t.turn not in silenced),
        )

    return sort_group(row(of) for of in found)
