"""The story of one measure: its days, where it is, where it goes, what happened, in figures and in words."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from wise_perch.core.progress.events import Event, first_fall, pauses_in
from wise_perch.core.progress.forecast import Band, Forecast, Ray, find_forecast, say_forecast, told_value
from wise_perch.core.progress.series import Series, every_series, gate_series
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import MEASURE_UNITS, Measure, Teller
from wise_perch.core.trade.gates import Gate, is_whole, say_amount
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.limits import Limit, find_limits
from wise_perch.core.trainee.marks import fill_of_gate
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.standing_still import stands_still
from wise_perch.core.trainee.wall import State

Moves = Literal["there", "moves", "still", "falls", "unclear", "not known"]
SURE = 0.8
"""From this chance on it is said that something rises, or falls. Ours."""
WEEK_DAYS = 7
TICKS, MANY = (0.25, 0.5, 0.75), 20
EARLY, MIDDLE = 10, 20
"""The days of a month that are still early in it, and still its middle."""
WAYS: dict[Measure, str] = {
    Measure.HOLD: "held",
    Measure.LOWERING: "lowered",
    Measure.REPS: "reps",
    Measure.RATE: "good ones",
    Measure.TOUCHES: "touches",
    Measure.HEIGHT: "height",
    Measure.DISTANCE: "distance",
    Measure.ANGLE: "angle",
}


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
class WayShown:
    """One way a drill is measured, and the side, of which there are readings."""

    key: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasureStory:
    """One measure of one drill. `gate` in the unit of the way; `ticks` beside the drawing; `rays` where a
    day's best may lie; `level` the range it is in now, `level_shares` the same as shares of the gate;
    `headline` and `sentence` say it; `limits` of its dial over time, harder as `harder` says; `ways` all
    there are to look at.
    """

    drill: str
    title: str
    way: str
    ways: tuple[WayShown, ...]
    gate: float
    gate_words: str
    unit: str
    fewer: bool
    of: int | None
    points: tuple[MeasurePoint, ...]
    moves: Moves
    headline: str
    sentence: str
    model: str
    ticks: tuple[Tick, ...]
    level: Band | None
    level_shares: tuple[float, ...]
    level_words: str
    weekly: float | None
    chances: dict[int, float]
    twice: dict[int, float]
    rays: tuple[RayShown, ...]
    events: tuple[Event, ...]
    limits: tuple[Limit, ...]
    dial: str
    dial_unit: str
    harder: str


def way_key(s: Series) -> str:
    """A name for one way and side of a drill."""
    gate = s.gate
    window = f"{gate.window_s:g}" if gate.window_s else ""
    side, anywhere = s.side.value if s.side else "", "any" if s.any_setting else ""
    return "|".join((gate.measure.value, gate.mode or "", window, side, anywhere))


def way_words(s: Series) -> str:
    """A way as it is said: "held", "touches in 15 s, left"."""
    gate = s.gate
    window = f" in {gate.window_s:g} s" if gate.window_s else ""
    side, anywhere = s.side.value if s.side else "", "at any setting" if s.any_setting else ""
    return ", ".join(filter(None, (WAYS[gate.measure] + window, gate.mode or "", side, anywhere)))


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
        gate=gate.value,
        gate_words=gate.text,
        unit="" if gate.measure is Measure.RATE else MEASURE_UNITS[gate.measure],
        fewer=gate.fewer,
        of=gate.of,
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
        headline=_say_headline(moves, forecast, stands, day),
        sentence=_say_sentence(moves, forecast, gate, stands),
        model=_say_model(series, forecast, day),
        ticks=_ticks(gate),
        level=forecast.level,
        level_shares=_level_shares(forecast, gate),
        level_words=_say_level(forecast, gate),
        weekly=forecast.weekly,
        chances=dict(forecast.chances or {}),
        twice=dict(forecast.twice or {}),
        rays=tuple(_shown(r, gate) for r in forecast.rays),
        events=tuple(sorted(happened, key=lambda e: (e.day, e.kind, e.words))),
        limits=find_limits(drill, pieces),
        dial=drill.dial.name.replace("-", " ") if drill.dial else "",
        dial_unit=drill.dial.unit if drill.dial else "",
        harder=drill.dial.harder if drill.dial else "",
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


ANY_MORE = "Not known any more"
HEADS: dict[Moves, str] = {
    "moves": "It moves.",
    "still": "It stands still.",
    "falls": "It goes back.",
    "unclear": "No clear direction yet.",
    "not known": "Not known yet.",
}


def _say_headline(moves: Moves, found: Forecast, stands: DrillStanding, on: date) -> str:
    if moves == "there":
        return "Proven." if stands.state is State.PROVEN else "Passed. Show it clean once more."
    said = HEADS[moves] if found.known else f"{found.because.partition(':')[0]}."
    if moves in ("moves", "unclear") and found.known:
        said += f" {say_even(found, on)}"
    return said


def say_even(found: Forecast, on: date) -> str:
    """By when a gate has more likely fallen than not: "Better than even by mid February."."""
    if found.even_in is None:
        return "Less than even within half a year."
    if found.even_in <= 1:
        return "Better than even this week."
    return f"Better than even by {say_about(on + timedelta(weeks=found.even_in))}."


def say_about(day: date) -> str:
    """A day no more exactly than it can be known: "early March"."""
    part = "early" if day.day <= EARLY else "mid" if day.day <= MIDDLE else "late"
    return f"{part} {day:%B}"


def _say_sentence(moves: Moves, found: Forecast, gate: Gate, stands: DrillStanding) -> str:
    if moves == "there":
        return f"{capitalise(stands.shortfall)}."
    said = say_forecast(found, gate)
    return said if found.known else capitalise(said.partition(": ")[2] or said)


def _say_model(series: Series, found: Forecast, on: date) -> str:
    """What the figures stand on."""
    days = len({r.day for r in series.values})
    if not found.known:
        return ""
    first = series.readings[0].day
    weeks = max(1, (on - first).days // WEEK_DAYS)
    return (
        f"A model of {days} measured days in {weeks} weeks, since {say_day(first, on)}."
        " Sets done as asked count as at least so much. Proven takes two days."
    )


def _say_level(found: Forecast, gate: Gate) -> str:
    """Where it is now with its range, rounded as a coach speaks."""
    if found.level is None:
        return ""
    at, low, high = (
        say_amount(told_value(v, gate), gate.measure, gate.of)
        for v in (found.level.middle, found.level.low, found.level.high)
    )
    return f"now {at}" if low == high else f"now {at}, from {low.split(' ')[0]} to {high}"
