"""A test day: which tests for whom, in the order practitioners run them, with the minutes they take, split
over two days.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from wise_perch.core.trade.protocol import Test
from wise_perch.core.trainee.stored import Turn


@dataclass(frozen=True, slots=True, kw_only=True)
class DayMinutes:
    """How long one day takes: each trainee alone, and all of them on one bench, where the rest of one is the
    try of another.
    """

    day: int
    alone: dict[UUID, int]
    together: int


def in_order(turns: Sequence[Turn], tests: Mapping[str, Test]) -> tuple[Turn, ...]:
    """Put turns in the order of the tests: open floor while fresh, then landings, floats, push, mobility
    last.

    Trainees at the same test stand beside one another in the order they were named. A turn named twice stands
    once; tests that are not there are left out.
    """
    place = {name: n for n, name in enumerate(tests)}
    known = [t for t in dict.fromkeys(turns) if t.test in place]
    return tuple(sorted(known, key=lambda t: (t.day, place[t.test], t.subject)))


def minutes_of_days(
    turns: Sequence[Turn], tests: Mapping[str, Test], *, warm_up_min: float
) -> tuple[DayMinutes, ...]:
    """Say how long each day takes at usual rests, warm-up included, in whole minutes rounded up.

    On one bench the tries of all trainees follow one another and fill each other's rests: the time is that of
    all tries, or that of the one who takes longest alone, whichever is more.
    """
    found = []
    for day in sorted({t.day for t in turns}):
        alone: dict[UUID, float] = {}
        work = 0.0
        for turn in turns:
            if turn.day == day and turn.test in tests:
                test = tests[turn.test]
                tried, rested = test.seconds(rest_s=test.rest_usual_s.value)
                alone[turn.trainee] = alone.get(turn.trainee, 0.0) + tried + rested
                work += tried
        together = max([work, *alone.values()]) + warm_up_min * 60
        found.append(
            DayMinutes(
                day=day,
                alone={who: _minutes_of(s + warm_up_min * 60) for who, s in alone.items()},
                together=_minutes_of(together),
            )
        )
    return tuple(found)


def _minutes_of(of_seconds: float) -> int:
    return int(-(-of_seconds // 60))


def over_two_days(turns: Sequence[Turn], tests: Mapping[str, Test]) -> tuple[Turn, ...]:
    """Split the tests over two days as evenly as their order allows: the fresh part first, the rest on the
    other day.
    """
    ordered = in_order([Turn(trainee=t.trainee, test=t.test, subject=t.subject) for t in turns], tests)
    names = list(dict.fromkeys((t.test, t.subject) for t in ordered))
    if len(names) < 2:
        return ordered

    def long(some: Sequence[tuple[str, str]]) -> float:
        return sum(sum(tests[name].seconds(rest_s=tests[name].rest_usual_s.value)) for name, _ in some)

    cut = min(range(1, len(names)), key=lambda n: (abs(long(names[:n]) - long(names[n:])), n))
    second = set(names[cut:])
    return tuple(
        Turn(trainee=t.trainee, test=t.test, subject=t.subject, day=2 if (t.test, t.subject) in second else 1)
        for t in ordered
    )
