"""What happens in an evening, and how the rest of it follows."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from math import ceil, floor
from typing import Literal
from uuid import UUID

from wise_perch.core.class_night.evening import Evening, NightPerson, begun_by, laid_out_anew, minute_of
from wise_perch.core.class_night.question import ANYWHERE, Hold, Slot
from wise_perch.core.trade.session_lookup import joint_kind

EventKind = Literal[
    "begin",
    "hold",
    "go",
    "longer",
    "arrive",
    "leave",
    "ready",
    "over",
    "pain",
    "put",
    "loose",
    "swap",
    "coaches",
    "join",
    "end",
]


class NotPossible(Exception):
    """What cannot be had as the evening stands; the message says why."""


@dataclass(frozen=True, slots=True, kw_only=True)
class NightEvent:
    """One thing that happened: to whom and which block (from 0), with its minutes, its station, the other
    one of a swap, the joint and level of a pain (`sharp`: sharp, lasting or tingling), or the coaches who
    are there from now on.
    """

    kind: EventKind
    trainee: UUID | None = None
    block: int | None = None
    minutes: float | None = None
    station: str = ""
    number: int | None = None
    other: UUID | None = None
    other_block: int | None = None
    joint: str = ""
    level: int = 0
    sharp: bool = False
    coaches: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class _Moment:
    """What happened at a minute, told when the clock was `settled`; `past` is what had begun by then."""

    evening: Evening
    event: NightEvent
    minute: float
    settled: float
    past: tuple[Slot, ...]
    stops_at: float


def follow(
    evening: Evening, event: NightEvent, *, at: datetime, stops_at: float, now: datetime | None = None
) -> Evening:
    """The evening after something has happened: what has begun stays, the rest is laid out anew within a
    second.

    `at`: when it happened; `now`: when it is told, where that is later: what has begun until then stays too.
    `stops_at`: the level of pain from which what loads the joint is left out. Raises NotPossible.
    """
    if evening.closed_at is not None:
        raise NotPossible("This evening is closed.")
    minute = minute_of(evening, at)
    if event.kind in ("begin", "hold", "go", "end"):
        return _clock(evening, event, at)
    settled = max(minute, minute_of(evening, now) if now else 0.0)
    moment = _Moment(
        evening=evening,
        event=event,
        minute=minute,
        settled=settled,
        past=begun_by(evening, settled),
        stops_at=stops_at,
    )
    changed, past = WAYS[event.kind](moment)
    return laid_out_anew(changed, now_min=ceil(round(settled * 10, 6)) / 10, past=past)


def join_in(evening: Evening, person: NightPerson, *, at: datetime, now: datetime) -> Evening:
    """The evening with one more who comes on the way, told `now`. Raises NotPossible."""
    if evening.closed_at is not None:
        raise NotPossible("This evening is closed.")
    minute = max(minute_of(evening, at), minute_of(evening, now))
    wider = replace(evening, people=(*evening.people, person))
    return laid_out_anew(wider, now_min=ceil(round(minute * 10, 6)) / 10, past=begun_by(evening, minute))


def _clock(evening: Evening, event: NightEvent, at: datetime) -> Evening:
    if event.kind == "begin":
        return evening if evening.begun_at else replace(evening, begun_at=at)
    if evening.begun_at is None:
        raise NotPossible("The evening has not begun.")
    if event.kind == "hold":
        return evening if evening.held_since else replace(evening, held_since=max(at, evening.begun_at))
    held = evening.held_s
    if evening.held_since:
        held += max(0.0, (at - evening.held_since).total_seconds())
    going = replace(evening, held_since=None, held_s=held)
    return going if event.kind == "go" else replace(going, closed_at=at)


Changed = tuple[Evening, tuple[Slot, ...]]


def _who(m: _Moment, trainee: UUID | None) -> int:
    found = next((n for n, p in enumerate(m.evening.people) if p.trainee == trainee), None)
    if found is None:
        raise NotPossible("Nobody of that name is in this class.")
    return found


def _with_person(evening: Evening, n: int, person: NightPerson) -> Evening:
    return replace(evening, people=(*evening.people[:n], person, *evening.people[n + 1 :]))


def _without_holds(evening: Evening, n: int, past: tuple[Slot, ...]) -> Evening:
    """Somebody's blocks have changed: what was set by hand of those to come is taken off."""
    begun = sum(s.trainee == n for s in past)
    return replace(evening, holds=tuple(h for h in evening.holds if h.trainee != n or h.block < begun))


def _longer(m: _Moment) -> Changed:
    minutes = m.event.minutes or 0.0
    return replace(m.evening, minutes=max(m.evening.minutes + minutes, m.minute)), m.past


def _arrive(m: _Moment) -> Changed:
    """Somebody comes now, or in so many minutes: what would have begun without them has not."""
    n = _who(m, m.event.trainee)
    person = m.evening.people[n]
    since = ceil(round((m.minute + (m.event.minutes or 0.0)) * 10, 6)) / 10
    changed = _with_person(m.evening, n, replace(person, from_min=since))
    past = tuple(s for s in m.past if s.trainee != n)
    return _without_holds(changed, n, past), past


def _cut(m: _Moment, n: int, *, ends: bool = True) -> tuple[Slot, ...]:
    """The past with what somebody was at ended then; where it `ends` for them, what began since did not."""
    now = max(floor(round(m.minute * 10, 6)) / 10, 0.0)
    found = []
    for s in m.past:
        if s.trainee == n and s.start_min > m.minute:
            if not ends:
                found.append(s)
            continue
        if s.trainee == n and s.end_min > now:
            end = max(now, s.start_min)
            hands = (s.hands[0], min(s.hands[1], end)) if s.hands and s.hands[0] < end else None
            s = replace(s, end_min=end, hands=hands)
        found.append(s)
    return tuple(found)


def _leave(m: _Moment) -> Changed:
    n = _who(m, m.event.trainee)
    person = m.evening.people[n]
    past = _cut(m, n)
    begun = sum(s.trainee == n for s in past)
    gone = tuple((b.title, "left early") for b in person.blocks[begun:])
    left = replace(
        person,
        to_min=max(m.minute, person.from_min + 0.1),
        blocks=person.blocks[:begun],
        gone=(*person.gone, *gone),
    )
    return _without_holds(_with_person(m.evening, n, left), n, past), past


def _ready(m: _Moment) -> Changed:
    n = _who(m, m.event.trainee)
    if not any(s.trainee == n and s.start_min <= m.minute < s.end_min for s in m.past):
        raise NotPossible(f"{m.evening.people[n].name} is not at a block now.")
    return m.evening, _cut(m, n, ends=False)


def _over(m: _Moment) -> Changed:
    """The block somebody is at, or was at last, takes longer."""
    n = _who(m, m.event.trainee)
    own = [s for s in m.past if s.trainee == n and s.start_min <= m.minute]
    if not own:
        raise NotPossible(f"{m.evening.people[n].name} has not begun yet.")
    last = max(own, key=lambda s: s.start_min)
    end = round(max(last.end_min, ceil(m.minute * 10) / 10) + (m.event.minutes or 0.0), 1)
    since = [s for s in m.past if s != last and last.end_min <= s.start_min < end]
    if any(s.trainee == n for s in since):
        raise NotPossible(f"{m.evening.people[n].name} has gone on to the next block already.")
    here = (last.station, last.number)
    taken = [s for s in since if (s.station, s.number) == here and s.station != ANYWHERE]
    if taken:
        other = m.evening.people[taken[0].trainee].name
        raise NotPossible(f"{other} has begun at that station already.")
    longer = replace(last, end_min=end)
    past = tuple(longer if s == last else s for s in m.past)
    person = m.evening.people[n]
    block = person.blocks[last.block]
    stretched = replace(block, stretched_min=round(block.stretched_min + end - last.end_min, 1))
    blocks = (*person.blocks[: last.block], stretched, *person.blocks[last.block + 1 :])
    return _with_person(m.evening, n, replace(person, blocks=blocks)), past


def _pain(m: _Moment) -> Changed:
    """It hurts: what somebody is at ends, and from the level that stops, what loads the joint is left out."""
    n = _who(m, m.event.trainee)
    person = m.evening.people[n]
    past = _cut(m, n)
    begun = sum(s.trainee == n for s in past)
    stops = m.event.sharp or m.event.level >= m.stops_at
    stay = [b for b in person.blocks[begun:] if not (stops and joint_kind(m.event.joint) in b.joints)]
    gone = [(b.title, f"spares the {m.event.joint}") for b in person.blocks[begun:] if b not in stay]
    hurt = replace(person, blocks=(*person.blocks[:begun], *stay), gone=(*person.gone, *gone))
    return _without_holds(_with_person(m.evening, n, hurt), n, past), past


def _to_come(m: _Moment, trainee: UUID | None, block: int | None) -> tuple[int, int]:
    n = _who(m, trainee)
    if block is None or not 0 <= block < len(m.evening.people[n].blocks):
        raise NotPossible("There is no such block.")
    if any((s.trainee, s.block) == (n, block) for s in m.past):
        raise NotPossible("That block has begun already.")
    return n, block


def _put(m: _Moment) -> Changed:
    n, block = _to_come(m, m.event.trainee, m.event.block)
    asked = m.evening.people[n].blocks[block]
    station, number = m.event.station, m.event.number
    if station and station not in asked.stations:
        raise NotPossible(f"{asked.title} cannot be done at: {station}.")
    if number is not None and not 1 <= number <= m.evening.stations.get(station, 0):
        raise NotPossible(f"There is no {station} {number}.")
    since = m.event.minutes
    hold = Hold(
        trainee=n,
        block=block,
        start_min=None if since is None else round(max(since, m.settled), 1),
        station=station,
        number=number,
    )
    return replace(m.evening, holds=(*_other_holds(m.evening, {(n, block)}), hold)), m.past


def _other_holds(evening: Evening, taken: set[tuple[int, int]]) -> tuple[Hold, ...]:
    return tuple(h for h in evening.holds if (h.trainee, h.block) not in taken)


def _loose(m: _Moment) -> Changed:
    n = _who(m, m.event.trainee)
    return replace(m.evening, holds=_other_holds(m.evening, {(n, m.event.block or 0)})), m.past


def _swap(m: _Moment) -> Changed:
    """Two blocks trade places: station and moment, as far as each can be done there."""
    one = _to_come(m, m.event.trainee, m.event.block)
    two = _to_come(m, m.event.other, m.event.other_block)
    slots = {(s.trainee, s.block): s for s in m.evening.slots}
    if one not in slots or two not in slots or one[0] == two[0]:
        raise NotPossible("Two blocks of two people trade places, and both have to be laid out.")
    held = []
    for mine, theirs in ((one, two), (two, one)):
        asked, place = m.evening.people[mine[0]].blocks[mine[1]], slots[theirs]
        there = place.station in asked.stations
        held.append(
            Hold(
                trainee=mine[0],
                block=mine[1],
                start_min=place.start_min,
                station=place.station if there else "",
                number=place.number if there and place.station in m.evening.stations else None,
            )
        )
    return replace(m.evening, holds=(*_other_holds(m.evening, {one, two}), *held)), m.past


def _coaches(m: _Moment) -> Changed:
    if not m.event.coaches:
        raise NotPossible("At least one coach stays.")
    return replace(m.evening, coaches=m.event.coaches), m.past


WAYS: Mapping[EventKind, Callable[[_Moment], Changed]] = {
    "longer": _longer,
    "arrive": _arrive,
    "leave": _leave,
    "ready": _ready,
    "over": _over,
    "pain": _pain,
    "put": _put,
    "loose": _loose,
    "swap": _swap,
    "coaches": _coaches,
}
