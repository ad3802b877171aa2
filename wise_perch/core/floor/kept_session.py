"""Sessions as they are kept: plain values, the same in the store, the api and the browser."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from wise_perch.core.dose.dose import DayDose
from wise_perch.core.floor.walk import FloorEvent, FloorSheet
from wise_perch.core.trade.evidence import Form, Measure, Reason, Side
from wise_perch.core.trainee.stored import RunEnd, Source


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptEvent:
    """One thing that happened in a session, as it is kept; struck out where it was taken back."""

    id: UUID
    at: datetime
    what: FloorEvent
    struck_at: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorSession:
    """A session with its sheet and all that happened, in its order."""

    id: UUID
    trainee: UUID
    day: date
    started_at: datetime
    ended_at: datetime | None
    ended_as: RunEnd | None
    source: Source
    sheet: FloorSheet
    note: str
    events: tuple[KeptEvent, ...]

    @property
    def standing_events(self) -> list[FloorEvent]:
        """What happened and was not taken back."""
        return [e.what for e in self.events if e.struck_at is None]


@dataclass(frozen=True, slots=True, kw_only=True)
class SessionPiece:
    """What a block of a session comes to as evidence."""

    id: UUID
    drill: str
    at: datetime
    measure: Measure
    value: float
    asked: float | None = None
    n: int | None
    mode: str | None
    window_s: float | None
    form: Form
    side: Side | None
    confidence: int | None
    dial: dict[str, float]
    reason: Reason | None = None
    note: str


def doses_that_stood(sessions: Iterable[FloorSession]) -> dict[date, dict[str, DayDose]]:
    """What the sheets of sessions asked for, by their day and the keys of their blocks; of two sessions of a
    day the later one counts. `sessions` oldest first.
    """
    return {
        s.day: {key: v.dose for key, v in s.sheet.variants.items() if v.dose is not None} for s in sessions
    }
