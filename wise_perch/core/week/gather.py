"""From what is known of a trainee to the question a plan answers: evidence by drill, tests due, aches, hand-load, heavy days."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from wise_perch.core.body.loads import hand_load, share_of
from wise_perch.core.body.segments import Body
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.session_lookup import heavy_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.to_decide import Matter
from wise_perch.core.week.question import DueTest
from wise_perch.core.week.week_plan import Loading


def by_drill(pieces: Sequence[Evidence], *, on: date) -> dict[str, list[Evidence]]:
    """Sort evidence by drill, up to a day."""
    found: dict[str, list[Evidence]] = defaultdict(list)
    for piece in pieces:
        if piece.day <= on:
            found[piece.drill].append(piece)
    return found


def due_tests(matters: Sequence[Matter], syllabus: Syllabus, *, rest_s: float) -> tuple[DueTest, ...]:
    """The tests that Today asks for, with their minutes."""
    return tuple(
        DueTest(
            test=t.test,
            title=t.title,
            minutes=t.minutes(rest_s=rest_s),
            drill=t.due_for,
            because=m.sentence,
            singles=int(t.usual_tries.value) if t.exits_drill else 0,
        )
        for m in matters
        if m.kind == "test" and m.test and (t := syllabus.tests.get(m.test))
    )


def daily_loads(pieces: Sequence[Evidence], syllabus: Syllabus, body: Body | None) -> dict[date, float]:
    """What evidence put on the hands each day, body-weight seconds; each drill at each setting is worked out once."""
    shares: dict[tuple[str, tuple[tuple[str, float], ...]], tuple[float, str] | None] = {}
    found: dict[date, float] = defaultdict(float)
    for p in pieces:
        drill = syllabus.drills.get(p.drill)
        if drill is None:
            continue
        key = (p.drill, tuple(sorted(p.dial.items())))
        if key not in shares:
            shares[key] = share_of(syllabus.mechanics, drill, body, p.dial)
        if load := hand_load(syllabus.mechanics, shares[key], measure=p.measure, value=p.value, window_s=p.window_s):
            found[p.day] += load.seconds
    return found


def sum_loading(daily: Mapping[date, float], *, week: date, weeks: int) -> Loading:
    """The mean hand-load of the weeks before a week, and what the week itself has carried. `week` is its Monday."""
    begun = week - timedelta(weeks=weeks)
    before = sum(s for day, s in daily.items() if begun <= day < week)
    done = sum(s for day, s in daily.items() if week <= day < week + timedelta(weeks=1))
    return Loading(mean_s=before / weeks, done_s=done)


def heavy_days(pieces: Sequence[Evidence], syllabus: Syllabus, *, since: date) -> tuple[tuple[date, str], ...]:
    """The days since one on which something heavy was done, with "push" or "press"."""
    return tuple(sorted({(p.day, kind) for p in pieces if p.day >= since and (kind := heavy_of(syllabus, p.drill))}))


def is_shy(profile: Profile | None, syllabus: Syllabus) -> bool:
    """Whether the intake told of low confidence."""
    return bool(profile and profile.confidence is not None and profile.confidence <= syllabus.rules.low_confidence.value)


HALL, HOME = "hall", "home"
"""The two places there are without any choice: where all kit is, and where only what the intake names is."""


def usual_kit(profile: Profile | None, syllabus: Syllabus) -> dict[str, tuple[str, ...]]:
    """The kit of each place: everything in the hall, at home what the intake names."""
    own = tuple(k for k in (profile.kit if profile else ()) if k in syllabus.content.kit)
    return {HALL: tuple(syllabus.content.kit), HOME: own}
