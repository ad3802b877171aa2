"""Who may do what in a hall: the least role that a route asks for, before anything else is looked at."""

from dataclasses import dataclass, replace
from typing import Annotated
from uuid import UUID

from fastapi import Depends, Header

from wise_perch.api.auth import InPerson, Known
from wise_perch.api.errors import Refused
from wise_perch.core.trainee.hall import NAMES, Member, Role


@dataclass(frozen=True, slots=True)
class Asking:
    """What a page says of itself: the hall it has open, since another tab may have gone to another one, and
    which page it is.
    """

    hall: str | None
    page: UUID | None


async def asking(
    hall: Annotated[str | None, Header(alias="Perch-Hall", include_in_schema=False)] = None,
    page: Annotated[str | None, Header(alias="Perch-Page", include_in_schema=False)] = None,
) -> Asking:
    """What the page that asks says of itself; what is no id is taken for none."""
    try:
        return Asking(hall, UUID(page) if page else None)
    except ValueError:
        return Asking(hall, None)


def _in_hall(member: Member, least: Role, asks: Asking) -> Member:
    """A member who may do what is for `least`. Raises Refused 403 where they may not, 412 where the request
    was made for another hall than the one they are in now.
    """
    meant = asks.hall
    if member.hall is None:
        raise Refused(403, "You are in no hall. Choose one, or ask its owner for an invitation.")
    if meant and meant != str(member.hall):
        raise Refused(
            412, "This was meant for another hall than the one you are in now. Nothing was changed."
        )
    if not member.may(least):
        who = "an owner" if least == "owner" else "a coach"
        raise Refused(403, f"This is for {who} of the hall. You are here as {NAMES[member.role or least]}.")
    return replace(member, page=asks.page)


MeantFor = Annotated[Asking, Depends(asking)]


def assistant_of(member: Known, asks: MeantFor) -> Member:
    """Anybody in the hall. Raises Refused 401, 403, 412."""
    return _in_hall(member, "assistant", asks)


def trainer_of(member: Known, asks: MeantFor) -> Member:
    """A coach of the hall, or an owner. Raises Refused 401, 403, 412."""
    return _in_hall(member, "coach", asks)


def owner_of(member: Known, asks: MeantFor) -> Member:
    """An owner of the hall. Raises Refused 401, 403, 412."""
    return _in_hall(member, "owner", asks)


def owner_in_person(member: InPerson, asks: MeantFor) -> Member:
    """An owner of the hall who is signed in. Raises Refused 401, 403, 412."""
    return _in_hall(member, "owner", asks)


def assistant_in_person(member: InPerson, asks: MeantFor) -> Member:
    """Anybody in the hall who is signed in. Raises Refused 401, 403, 412."""
    return _in_hall(member, "assistant", asks)


SignedIn = Annotated[Member, Depends(assistant_of)]
"""Anybody in the hall: sees, and runs Bench and Floor."""
Coaching = Annotated[Member, Depends(trainer_of)]
"""All training work: a coach or an owner."""
Owning = Annotated[Member, Depends(owner_of)]
"""The hall's people, its syllabus, erasing: an owner."""
OwningInPerson = Annotated[Member, Depends(owner_in_person)]
HereInPerson = Annotated[Member, Depends(assistant_in_person)]
