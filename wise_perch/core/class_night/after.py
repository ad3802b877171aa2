"""After the evening: done against planned, who had a coach's hands, and what changes next time."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from math import inf
from uuid import UUID

from wise_perch.core.class_night.evening import Evening, minute_of
from wise_perch.core.class_night.rules import ClassRules
from wise_perch.core.class_night.told import short_names
from wise_perch.core.floor.story import SlotDone
from wise_perch.core.trade.words import say_list, within


@dataclass(frozen=True, slots=True, kw_only=True)
class PersonAfter:
    """One trainee's evening: blocks that were begun of those brought, sets done of those planned where a
    session was run, and minutes of hands this evening and over the weeks before it. `nights` without any
    hands in a row, this one counted.
    """

    trainee: str
    name: str
    blocks: tuple[int, int]
    done: tuple[SlotDone, ...]
    ran: bool
    hands_min: float
    hands_weeks_min: float
    nights: int
    words: str
    hands_words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class EveningAfter:
    """What an evening came to, and what next time changes."""

    people: tuple[PersonAfter, ...]
    next_time: tuple[str, ...]


def hands_of(evening: Evening) -> Mapping[UUID, float]:
    """Minutes of a coach's hands each had until the evening ended, 0 for who came and had none."""
    until = _ended_min(evening)
    found = {p.trainee: 0.0 for p in evening.people}
    for s in evening.slots:
        if s.hands:
            found[evening.people[s.trainee].trainee] += max(0.0, min(s.hands[1], until) - s.hands[0])
    return {who: round(minutes, 1) for who, minutes in found.items()}


def _ended_min(evening: Evening) -> float:
    """At which minute an evening ended: what was laid out for later never was."""
    return minute_of(evening, evening.closed_at) if evening.closed_at else inf


def look_back(
    evening: Evening,
    sessions: Mapping[UUID, tuple[SlotDone, ...]],
    earlier: Sequence[tuple[date, Mapping[UUID, float]]],
    rules: ClassRules,
) -> EveningAfter:
    """What an evening came to. `sessions`: the blocks of each one's session of that day; `earlier`: the
    hands of the class nights before it, the newest first.
    """
    now, until = hands_of(evening), _ended_min(evening)
    short = short_names(evening.people)
    people, next_time = [], []
    for n, person in enumerate(evening.people):
        laid = sum(s.trainee == n and s.start_min < until for s in evening.slots)
        brought = len(person.blocks) + len(person.gone)
        weeks = sum(hands.get(person.trainee, 0.0) for _, hands in earlier)
        nights = _without(person.trainee, [now, *(hands for _, hands in earlier)])
        done = sessions.get(person.trainee, ())
        people.append(
            PersonAfter(
                trainee=str(person.trainee),
                name=person.name,
                blocks=(laid, brought),
                done=done,
                ran=person.trainee in sessions,
                hands_min=now[person.trainee],
                hands_weeks_min=round(weeks + now[person.trainee], 1),
                nights=nights,
                words=_words(laid, brought, done, ran=person.trainee in sessions),
                hands_words=_hands_words(now[person.trainee], weeks, nights),
            )
        )
        next_time += _next_time(evening, n, short[n], nights, rules)
    return EveningAfter(people=tuple(people), next_time=tuple(next_time))


def _without(who: UUID, nights: Sequence[Mapping[UUID, float]]) -> int:
    """How many class nights in a row somebody came to and had no hands."""
    count = 0
    for hands in nights:
        if who not in hands:
            continue
        if hands[who] > 0:
            break
        count += 1
    return count


def _words(laid: int, brought: int, done: Sequence[SlotDone], *, ran: bool) -> str:
    words = f"{laid} of {brought} {'block' if brought == 1 else 'blocks'}"
    if not ran:
        return f"{words} by the class's clock. No session was recorded."
    kept = sum(d.status == "done" for d in done)
    return f"{words} by the class's clock, {kept} of {len(done)} done on the Floor."


def _hands_words(now: float, weeks: float, nights: int) -> str:
    if nights > 1:
        return f"No hands for {nights} class nights."
    if now == 0:
        return f"No hands this evening. {weeks:.0f} min in the weeks before."
    return f"{now:.0f} min of hands, {weeks + now:.0f} min with the weeks before."


def _next_time(evening: Evening, n: int, short: str, nights: int, rules: ClassRules) -> list[str]:
    person = evening.people[n]
    found = []
    if nights >= rules.forgotten_nights.value:
        found.append(f"{short}: no coach's hands for {nights} class nights. Be there first next time.")
    out = [within(person.blocks[b].title) for t, b in evening.left_out if t == n]
    if out:
        found.append(f"{short}: {say_list(out)} did not fit. Begin with it next time.")
    over = [b for b in person.blocks if b.stretched_min >= 1]
    for block in over:
        longer = block.minutes + block.stretched_min
        found.append(
            f"{short}: {within(block.title)} took {longer:.0f} min instead of {block.minutes:.0f}."
            " Give it that long."
        )
    hurt = [title for title, why in person.gone if why.startswith("spares")]
    if hurt:
        found.append(f"{short}: ask first about what hurt. {say_list(hurt)} waits for that.")
    return found
