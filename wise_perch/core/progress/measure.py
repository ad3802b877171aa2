"""The story of one measure: its days, where it is, where it goes, what happened, in figures and in words."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from wise_perch.core.progress.events import Event, first_fall, pauses_in
from wise_perch.core.progress.forecast import Chance, Forecast, Ray, find_forecast, said_chances
from wise_perch.core.progress.measure_words import (
    Moves,
    say_dial,
    say_headline,
    say_level,
    say_model,
    say_sentence,
    way_key,
    way_words,
)
from wise_perch.core.progress.series import Series, every_series, gate_series
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Teller
from wise_perch.core.trade.gates import FALLING, Dial, Gate, is_whole, say_amount, say_at
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.limits import Limit, find_limits
from wise_perch.core.trainee.marks import fill_of_gate
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.standing_still import stands_still
from wise_perch.core.trainee.wall import State

SURE = 0.8
"""From this chance on it is said that something rises, or falls. Ours."""
WEEK_DAYS = 7
TICKS, MANY = (0.25, 0.5, 0.75), 20


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasurePoint:
    """One reading: `share` of the gate that it fills, `said` as a coach says it."""

    day: date
    value: float
    n: int | None
    share: float
    bound: bool
    by: Teller
    clean: bool
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Tick:
    """A mark beside the drawing: a share of the gate, and the figure that fills it."""

    share: float
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RayShown:
    """Where a day's best may lie in so many weeks, as shares of the gate: from the lowest tenth to the
    highest.
    """

    week: int
    shares: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class LimitShown:
    """Where a dial had its limit on a day: `height` from 0, the easiest there was, to 1."""

    day: date
    by: Teller
    height: float
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WayShown:
    """One way a drill is measured, and the side, of which there are readings."""

    key: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasureStory:
    """One measure of one drill. `ticks` beside the drawing; `rays` where a day's best may lie; `level_shares`
    the range it is in now, as shares of the gate; `headline` and `sentence` say it; `chances` of the gate
    once, `twice` on two days; `limits` of its dial over time, of which `dial_words` says what is harder;
    `ways` all there are to look at.
    """

    drill: str
    title: str
    way: str
    ways: tuple[WayShown, ...]
    gate_words: str
    points: tuple[MeasurePoint, ...]
    moves: Moves
    headline: str
    sentence: str
    model: str
    ticks: tuple[Tick, ...]
    level_shares: tuple[float, ...]
    level_words: str
    chances: dict[int, Chance]
    twice: dict[int, Chance]
    rays: tuple[RayShown, ...]
    events: tuple[Event, ...]
    limits: tuple[LimitShown, ...]
    dial_words: str


def tell_measure(
    drill: Drill,
    case: JudgedCase,
    *,
    way: str = "",
    events: Sequence[Event] = (),
    on: date | None = None,
    since: date | None = None,
) -> MeasureStory:
    """Tell one measure of a drill: the one of this key, or its gate's. `on`: as it stood on an earlier day;
    `since`: from this day on alone.
    """
    day = on or case.on
    pieces = [p for p in case.history.of(drill.drill) if p.day <= day and (since is None or p.day >= since)]
    every = every_series(drill, case.syllabus.ways(drill.drill), pieces, stature_cm=case.stature_cm)
    series = _wanted(drill, every, way) or gate_series(drill, pieces, stature_cm=case.stature_cm)
    own_gate = series.gate in (drill.gate, *drill.gate.also) and not series.any_setting
    forecast = (
        Forecast(known=False, because=f"Not at the test setting yet: the gate is {series.gate.text}.")
        if series.any_setting
        else find_forecast(series, on=day)
    )
    stands = case.drills[drill.drill]
    still = stands_still(drill, case) if own_gate and day == case.on and since is None else None
    moves = _moves_of(forecast, stands if own_gate and day == case.on else None, still)
    gate = series.gate
    first = series.readings[0].day if series.readings else day
    fell = first_fall(series, on=day)
    happened = [
        *(e for e in events if first - timedelta(days=WEEK_DAYS) <= e.day <= day),
        *(e for e in _away(case) if first <= e.day and e.day <= day),
        *([fell] if fell else []),
    ]
    return MeasureStory(
        drill=drill.drill,
        title=drill.title,
        way=way_key(series),
        ways=tuple(WayShown(key=way_key(s), words=way_words(s)) for s in every),
        gate_words=gate.text,
        points=tuple(
            MeasurePoint(
                day=r.day,
                value=r.value,
                n=r.n,
                share=fill_of_gate(r.value, r.n, gate),
                bound=r.bound,
                by=r.by,
                clean=r.clean,
                said=say_amount(r.value, gate.measure, r.n),
            )
            for r in series.readings
        ),
        moves=moves,
        headline=say_headline(moves, forecast, stands, day),
        sentence=say_sentence(moves, forecast, gate, stands),
        model=say_model(series, forecast, day),
        ticks=_ticks(gate),
        level_shares=_level_shares(forecast, gate),
        level_words=say_level(forecast, gate),
        chances=said_chances(forecast.chances),
        twice=said_chances(forecast.twice),
        rays=tuple(_shown(r, gate) for r in forecast.rays),
        events=tuple(sorted(happened, key=lambda e: (e.day, e.kind, e.words))),
        limits=_limits(drill.dial, find_limits(drill, pieces)) if drill.dial else (),
        dial_words=say_dial(drill.dial) if drill.dial else "",
    )


def _limits(dial: Dial, found: Sequence[Limit]) -> tuple[LimitShown, ...]:
    """Limits as they are drawn: the harder the higher."""
    sign = -1 if dial.harder in FALLING else 1
    heights = [sign * x.setting for x in found]
    least, most = min(heights, default=0.0), max(heights, default=0.0)
    return tuple(
        LimitShown(
            day=x.day,
            by=x.by,
            height=(h - least) / (most - least) if most > least else 0.5,
            said=say_at(x.setting, dial.unit),
        )
        for x, h in zip(found, heights, strict=True)
    )


def _ticks(gate: Gate) -> tuple[Tick, ...]:
    """The marks beside the drawing: figures that can be read off, and what they fill of the gate."""
    values = list[float]()
    for share in TICKS:
        if gate.fewer:
            start = gate.start if gate.start is not None else 2 * gate.value + 1
            values.append(round(start - share * (start - gate.value)))
        elif is_whole(gate.measure) or gate.value >= MANY:
            values.append(round(share * gate.value))
        else:
            values.append(round(2 * share * gate.value) / 2)
    shares = {v: fill_of_gate(v, gate.of, gate) for v in values}
    return tuple(
        Tick(share=share, said=say_amount(v, gate.measure, gate.of))
        for v, share in shares.items()
        if 0 < share < 1
    )


def _level_shares(found: Forecast, gate: Gate) -> tuple[float, ...]:
    if found.level is None:
        return ()
    values = (found.level.low, found.level.middle, found.level.high)
    return tuple(sorted(fill_of_gate(v, gate.of, gate) for v in values))


def _shown(ray: Ray, gate: Gate) -> RayShown:
    return RayShown(week=ray.week, shares=tuple(sorted(fill_of_gate(v, gate.of, gate) for v in ray.lows)))


def _away(case: JudgedCase) -> tuple[Event, ...]:
    """When nothing at all was recorded for longer than a gap."""
    days = sorted({p.day for p in case.history.every() if p.day <= case.on})
    return pauses_in(days, gap_days=case.syllabus.sessions.growth.gap_after_days.value)


def _wanted(drill: Drill, every: Sequence[Series], way: str) -> Series | None:
    """The series of a key; without one the gate's own, of sides the one that is less far, or what was done at
    other settings while there is none at the gate's.
    """
    if named := next((s for s in every if way_key(s) == way), None):
        return named
    if any(s.gate == drill.gate and not s.any_setting for s in every):
        return None
    return next((s for s in every if s.gate == drill.gate), None)


def _moves_of(found: Forecast, stands: DrillStanding | None, still: bool | None) -> Moves:
    if stands and stands.state in (State.MET, State.PROVEN):
        return "there"
    if still:
        return "still"
    if not found.known or found.rising is None:
        return "not known"
    return "moves" if found.rising >= SURE else "falls" if found.rising <= 1 - SURE else "unclear"
