"""The coach's kit, and the stacks it makes."""

from datetime import UTC, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.fields import NewId, Note
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.body.kit import PLURALS, USUAL_KIT, KitItem, KitKind, Stack, find_stack, pair_stacks
from wise_perch.core.trainee.stored import KeptKit
from wise_perch.store import kit
from wise_perch.store.pool import transaction

router = APIRouter(prefix="/kit", tags=["kit"])


class KitDetails(BaseModel):
    """Pieces of one kind and thickness. A plate counts by its thickness; its mass may stand in the note."""

    model_config = ConfigDict(extra="forbid")
    kind: KitKind
    thickness_cm: Annotated[float, Field(ge=0.1, le=150, allow_inf_nan=False, multiple_of=0.1)]
    count: int = Field(ge=1, le=99)
    note: Note = ""


class NewKit(KitDetails):
    """Pieces to add, with the id that makes sending again harmless."""

    id: NewId


@dataclass(frozen=True, kw_only=True)
class StackSaid:
    """A stack with its words."""

    height_cm: float
    text: str


@dataclass(frozen=True, kw_only=True)
class FoundStack:
    """What the kit makes of a height: exactly, or the nearest below and above. `hands`: the same under both
    hands alike.
    """

    exact: StackSaid | None
    lower: StackSaid | None
    higher: StackSaid | None
    hands: StackSaid | None


@dataclass(frozen=True, kw_only=True)
class UsualPiece(KitItem):
    """Pieces that often lie in a hall, and how they are said."""

    words: str


@router.get("/usual")
def list_usual_kit(member: SignedIn) -> tuple[UsualPiece, ...]:
    """What often lies in a hall, to tick where nothing is entered yet."""
    assert member.hall
    return tuple(
        UsualPiece(
            kind=item.kind,
            thickness_cm=item.thickness_cm,
            count=item.count,
            words=f"{item.thickness_cm:g} cm {item.kind if item.count == 1 else PLURALS[item.kind]}",
        )
        for item in USUAL_KIT
    )


@router.get("")
def list_kit(app: TheApp, member: SignedIn) -> tuple[KeptKit, ...]:
    """All kit."""
    with transaction(app.pool, member=member) as db:
        return kit.every(db)


@router.post("", status_code=201)
def add_kit(new: NewKit, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Add pieces; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        kit.add(db, **new.model_dump())
    return {"id": new.id}


@router.put("/{id}")
def change_kit(id: UUID, details: KitDetails, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Change pieces."""
    with transaction(app.pool, member=member) as db:
        kit.change(db, id=id, **details.model_dump())
    return {"id": id}


@router.post("/{id}/strike")
def strike_kit(id: UUID, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Strike pieces out of the kit; struck out before stays as it was."""
    with transaction(app.pool, member=member) as db:
        kit.strike(db, id=id, moment=datetime.now(UTC))
    return {"id": id}


@router.post("/{id}/restore")
def restore_kit(id: UUID, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Bring pieces back."""
    with transaction(app.pool, member=member) as db:
        kit.strike(db, id=id, moment=None)
    return {"id": id}


@router.get("/stack")
def make_stack(
    height_cm: Annotated[float, Query(gt=0, le=300, allow_inf_nan=False)], app: TheApp, member: SignedIn
) -> FoundStack:
    """Find the stack of pads and plates that makes a height, or the nearest there are."""
    with transaction(app.pool, member=member) as db:
        owned = kit.every(db)
    flat: list[KitItem] = [k for k in owned if k.kind != "box"]
    found, hands = find_stack(flat, height_cm=height_cm), find_stack(pair_stacks(flat), height_cm=height_cm)
    return FoundStack(
        exact=_say_stack(found.exact),
        lower=_say_stack(found.lower),
        higher=_say_stack(found.higher),
        hands=_say_stack(hands.exact),
    )


def _say_stack(stack: Stack | None) -> StackSaid | None:
    return StackSaid(height_cm=stack.height_cm, text=stack.text) if stack else None
