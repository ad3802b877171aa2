"""Groups of trainees with their evenings, and whom to call."""

from dataclasses import dataclass
from datetime import date
from uuid import UUID


@dataclass(frozen=True, slots=True, kw_only=True)
class Evening:
    """An evening of every week: `weekday` (0 is Monday), `time` of day as 18:30, how long it lasts, min."""

    weekday: int
    time: str
    minutes: int


@dataclass(frozen=True, slots=True, kw_only=True)
class TrainingGroup:
    """Trainees who come together, and when."""

    id: UUID
    name: str
    evenings: tuple[Evening, ...]
    members: tuple[UUID, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Contact:
    """Whom to call for a trainee; for a minor their guardian, and the day the guardian agreed."""

    contact: str
    guardian: str
    consent_day: date | None
