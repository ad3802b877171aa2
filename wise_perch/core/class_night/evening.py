"""An evening as it stands: who comes, what is laid out, what was set by hand, and its clock."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from uuid import UUID

from wise_perch.core.class_night.blocks import NightBlock
from wise_perch.core.class_night.question import (
    ANYWHERE,
    ClassQuestion,
    ClassTrainee,
    Help,
    Hold,
    Price,
    Rotation,
    Slot,
)
from wise_perch.core.class_night.rotate import QUICK, TRIES, OnProgress, rotate


@dataclass(frozen=True, slots=True, kw_only=True)
class NightPerson:
    """Who comes, from when to when (min of the evening), with what. `planned`: their blocks are of a kept
    plan. `gone`: blocks that were taken out on the way, with why.
    """

    trainee: UUID
    name: str
    from_min: float
    to_min: float | None
    planned: bool
    blocks: tuple[NightBlock, ...]
    gone: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Evening:
    """A class of one evening. Minutes count from its beginning; `stations` by kind; `coaches` by name.

    The clock runs from `begun_at`, stands still from `held_since` on, and stood still for `held_s` before.
    """

    day: date
    time: str
    minutes: float
    room: str
    stations: Mapping[str, int]
    heights: Mapping[str, str]
    coaches: tuple[str, ...]
    people: tuple[NightPerson, ...]
    slots: tuple[Slot, ...] = ()
    left_out: tuple[tuple[int, int], ...] = ()
    holds: tuple[Hold, ...] = ()
    price: Price | None = None
    by_eye: Price | None = None
    bound_min: float | None = None
    proven: bool = False
    would_help: tuple[Help, ...] = field(default=())
    begun_at: datetime | None = None
    held_since: datetime | None = None
    held_s: float = 0.0
    closed_at: datetime | None = None


def minute_of(evening: Evening, moment: datetime) -> float:
    """What the evening's clock says, min from its beginning; 0 before it has begun."""
    if evening.begun_at is None:
        return 0.0
    until = min(x for x in (moment, evening.held_since, evening.closed_at) if x is not None)
    return max(0.0, ((until - evening.begun_at).total_seconds() - evening.held_s) / 60)


def question_of(evening: Evening, *, now_min: float = 0.0, past: Sequence[Slot] = ()) -> ClassQuestion:
    """The evening as the rotation is asked for it."""
    return ClassQuestion(
        minutes=evening.minutes,
        stations={**evening.stations, ANYWHERE: max(1, len(evening.people))},
        coaches=len(evening.coaches),
        trainees=tuple(
            ClassTrainee(
                name=p.name,
                blocks=tuple(b.asked() for b in p.blocks),
                from_min=p.from_min,
                to_min=p.to_min,
            )
            for p in evening.people
        ),
        now_min=now_min,
        past=tuple(past),
        holds=evening.holds,
    )


def laid_out(evening: Evening, *, on_progress: OnProgress | None = None) -> Evening:
    """Lay an evening out that has not begun. Raises Cancelled."""
    return _with(evening, rotate(question_of(evening), tries=TRIES, on_progress=on_progress))


def laid_out_anew(evening: Evening, *, now_min: float, past: Sequence[Slot]) -> Evening:
    """Lay the rest of an evening out within a second; what is past stays."""
    return _with(evening, rotate(question_of(evening, now_min=now_min, past=past), tries=QUICK))


def _with(evening: Evening, found: Rotation) -> Evening:
    return replace(
        evening,
        slots=found.slots,
        left_out=found.left_out,
        price=found.price,
        by_eye=found.by_eye,
        bound_min=found.bound_min,
        proven=found.proven,
        would_help=found.would_help,
    )


def begun_by(evening: Evening, minute: float) -> tuple[Slot, ...]:
    """What has begun by a minute of an evening that runs."""
    return tuple(s for s in evening.slots if s.start_min <= minute) if evening.begun_at else ()


def rotation_of(evening: Evening) -> Rotation:
    """The evening's rotation as it stands."""
    nothing = Price(left_out=len(evening.left_out), waited_min=0.0, uneven=0.0)
    return Rotation(
        slots=evening.slots,
        left_out=evening.left_out,
        price=evening.price or nothing,
        by_eye=evening.by_eye or nothing,
        bound_min=evening.bound_min,
        proven=evening.proven,
        waited_min=(),
        would_help=evening.would_help,
    )
