"""What is booked on a floor, and what has been laid on it so far; times in ticks, whole parts of a minute."""

from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass, field

from wise_perch.core.class_night.question import ClassQuestion, Hold

TENTHS, HUNDREDTHS = 10, 100
"""Time is reckoned in whole tenths of a minute, so that sums are exact; in hundredths where somebody asks
for them.
"""
NEVER = 10**9

Booking = tuple[int, int]


def ticks_for(question: ClassQuestion) -> int:
    """How many ticks a minute has for this question."""
    asked = [question.minutes, question.now_min]
    for person in question.trainees:
        asked += [person.from_min, person.to_min or 0.0]
        asked += [x for b in person.blocks for x in (b.minutes, b.rest_after_min, b.hands_min)]
    asked += [x for slot in question.past for x in (slot.start_min, slot.end_min)]
    asked += [hold.start_min or 0.0 for hold in question.holds]
    return TENTHS if all(abs(x * TENTHS - round(x * TENTHS)) < 1e-6 for x in asked) else HUNDREDTHS


def next_free(booked: list[Booking], since: int, length: int) -> int:
    """The first moment from `since` on that `length` fits between bookings."""
    n = bisect_right(booked, (since, NEVER))
    at = since
    if n and booked[n - 1][1] > at:
        at = booked[n - 1][1]
    while n < len(booked) and booked[n][0] < at + length:
        at = max(at, booked[n][1])
        n += 1
    return at


@dataclass(frozen=True, slots=True)
class Task:
    """A block in ticks, with its stations as units and what was set by hand."""

    length: int
    rest: int
    hands: int
    shown: str
    units: tuple[int, ...]
    ample: tuple[str, ...]
    """Kinds that can never run out: nothing is booked on them while it is searched."""
    hold: Hold | None


@dataclass(frozen=True, slots=True)
class Placed:
    """A task with its time in ticks; `unit` is -1 on an ample kind."""

    trainee: int
    block: int
    unit: int
    kind: str
    start: int
    end: int
    hands: int


@dataclass(slots=True)
class Laid:
    """What was laid so far."""

    units: list[list[Booking]]
    coaches: list[list[Booking]]
    ready: list[int]
    next: list[int]
    shows: dict[str, list[Booking]] = field(default_factory=dict)
    """What is shown when, and for how long: whoever begins it then, and needs no more, is shown it too."""
    placed: list[Placed] = field(default_factory=list)
    waited: list[int] = field(default_factory=list)
    gone: list[bool] = field(default_factory=list)
    kept_free: dict[tuple[int, int], list[tuple[list[Booking], Booking]]] = field(default_factory=dict)
    """What is booked for a block that was set by hand, until its turn comes."""
    only: Mapping[tuple[int, int], str] = field(default_factory=dict)
    """At which kind of station a block is to be, where that is tried out."""
