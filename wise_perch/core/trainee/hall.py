"""A hall and its people: who may do what."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from uuid import UUID

Role = Literal["owner", "coach", "assistant"]
"""What somebody is in a hall. An owner sees to its people, its syllabus and erasing; a coach does all
training work; an assistant sees everything of the training, and runs Bench and Floor.
"""
RANK: dict[Role, int] = {"assistant": 0, "coach": 1, "owner": 2}
NAMES: dict[Role, str] = {"assistant": "an assistant", "coach": "a coach", "owner": "an owner"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Member:
    """Who acts: a coach, in a hall, as what. Without a hall a coach has not chosen one, or is in none.

    `page`: which of their pages it is, so that it is not told of what it did itself.
    """

    coach: UUID
    hall: UUID | None = None
    role: Role | None = None
    page: UUID | None = None

    def may(self, least: Role) -> bool:
        """Whether this member may do what is for `least` and those above."""
        return self.role is not None and RANK[self.role] >= RANK[least]


@dataclass(frozen=True, slots=True, kw_only=True)
class Hall:
    """A hall. `time_zone` (IANA) decides what a day is; `float_switch_s`: a float that ends before this goes
    over to counting touches, s.
    """

    id: UUID
    name: str
    time_zone: str
    float_switch_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnHall:
    """A hall that a coach is in, and as what."""

    id: UUID
    name: str
    role: Role


@dataclass(frozen=True, slots=True, kw_only=True)
class HallMember:
    """Somebody who is in a hall, or was until `left_at`."""

    id: UUID
    name: str
    email: str
    role: Role
    since: datetime
    left_at: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Invitation:
    """An invitation into a hall that still works: as what, for whom by name, until when, and by whom."""

    id: UUID
    role: Role
    name: str
    by: str
    created_at: datetime
    expires_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class HallDeed:
    """One thing that somebody did in a hall. `what` in words; `trainee`: whom it was about, where it was
    about one.
    """

    at: datetime
    by: str
    what: str
    trainee: UUID | None
    name: str
