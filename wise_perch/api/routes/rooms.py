"""Rooms for class nights: their stations, kept by name."""

from datetime import UTC, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Name, NewId
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.class_night.rooms import TrainingRoom
from wise_perch.store import class_nights
from wise_perch.store.pool import transaction
from wise_perch.syllabus.files import our_class_rules

router = APIRouter(tags=["class night"])
Kind = Annotated[str, Field(min_length=1, max_length=40, pattern="^[a-z][a-z -]*$")]
Height = Annotated[str, Field(max_length=80, pattern=r"^[^\x00-\x1f]*$")]


@dataclass(frozen=True, kw_only=True)
class StationKind:
    """A kind of station, how many a hall usually has, and whether it has heights of its own."""

    kind: str
    title: str
    usual: int
    high: bool


@dataclass(frozen=True, kw_only=True)
class RoomsPage:
    """The rooms that are kept, and the kinds of station there can be."""

    rooms: tuple[TrainingRoom, ...]
    kinds: tuple[StationKind, ...]
    usual_min: int


class RoomDetails(BaseModel):
    """A room as entered: how many stations of each kind, heights in words, whether it is for a day out."""

    model_config = ConfigDict(extra="forbid")
    name: Name
    stations: dict[Kind, Annotated[int, Field(ge=0, le=60)]]
    heights: dict[Kind, Height] = {}
    day_out: bool = False

    def room(self, id: UUID) -> TrainingRoom:
        """The room as the core has it. Raises Refused for a kind of station that there is not."""
        known = {sort.kind for sort in our_class_rules().stations}
        if strange := sorted((set(self.stations) | set(self.heights)) - known):
            raise Refused(422, f"There is no kind of station called {strange[0]}.")
        return TrainingRoom(
            id=id,
            name=self.name,
            stations={s.kind: self.stations.get(s.kind, 0) for s in our_class_rules().stations},
            heights={kind: words.strip() for kind, words in self.heights.items() if words.strip()},
            day_out=self.day_out,
        )


class NewRoom(RoomDetails):
    """A room to add."""

    id: NewId


@router.get("/rooms")
def list_rooms(app: TheApp, member: SignedIn) -> RoomsPage:
    """Every room, and the kinds of station there can be."""
    rules = our_class_rules()
    with transaction(app.pool, member=member) as db:
        return RoomsPage(
            rooms=class_nights.rooms(db),
            kinds=tuple(
                StationKind(kind=s.kind, title=s.title, usual=s.usual, high=s.high) for s in rules.stations
            ),
            usual_min=int(rules.usual_min.value),
        )


@router.post("/rooms", status_code=201)
def add_room(new: NewRoom, app: TheApp, member: Coaching) -> TrainingRoom:
    """Add a room; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        return class_nights.add_room(db, new.room(new.id))


@router.put("/rooms/{id}")
def change_room(id: UUID, details: RoomDetails, app: TheApp, member: Coaching) -> TrainingRoom:
    """Change a room; evenings that were laid out in it stay as they are."""
    with transaction(app.pool, member=member) as db:
        return class_nights.change_room(db, details.room(id))


@router.post("/rooms/{id}/strike", status_code=204)
def strike_room(id: UUID, app: TheApp, member: Coaching) -> None:
    """Strike a room out; evenings that were held in it stay."""
    with transaction(app.pool, member=member) as db:
        class_nights.strike_room(db, id=id, moment=datetime.now(UTC))


@router.post("/rooms/{id}/restore")
def restore_room(id: UUID, app: TheApp, member: Coaching) -> TrainingRoom:
    """Bring a room back that was struck out."""
    with transaction(app.pool, member=member) as db:
        return class_nights.restore_room(db, id=id)
