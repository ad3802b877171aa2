"""A measure in words: the way it is measured, where it goes, by when, and what that stands on."""

from datetime import date, timedelta
from typing import Literal

from wise_perch.core.progress.forecast import Forecast, say_forecast, told_value
from wise_perch.core.progress.series import Series
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Dial, Gate, say_amount
from wise_perch.core.trade.words import capitalise, say_day
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.wall import State

Moves = Literal["there", "moves", "still", "falls", "unclear", "not known"]
WEEK_DAYS = 7
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


ANY_MORE = "Not known any more"
HEADS: dict[Moves, str] = {
    "moves": "It moves.",
    "still": "It stands still.",
    "falls": "It goes back.",
    "unclear": "No clear direction yet.",
    "not known": "Not known yet.",
}


def say_headline(moves: Moves, found: Forecast, stands: DrillStanding, on: date) -> str:
    """Where a measure goes, in a line, and by when its gate has more likely fallen than not."""
    if moves == "there":
        return "Proven." if stands.state is State.PROVEN else "Passed. Show it clean once more."
    said = f"{found.because.partition(':')[0]}." if moves == "not known" else HEADS[moves]
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


def say_sentence(moves: Moves, found: Forecast, gate: Gate, stands: DrillStanding) -> str:
    """Where it is and the chances, or why nothing is known."""
    if moves == "there":
        return f"{capitalise(stands.shortfall)}."
    said = say_forecast(found, gate)
    return said if found.known else capitalise(said.partition(": ")[2] or said)


def say_model(series: Series, found: Forecast, on: date) -> str:
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


def say_dial(dial: Dial) -> str:
    """What a dial's limits are, in words: "Hands to wall: the hardest passed of a day, nearer is harder"."""
    name = capitalise(dial.name.replace("-", " "))
    return f"{name}: the hardest passed of a day, {dial.harder} is harder"


def say_level(found: Forecast, gate: Gate) -> str:
    """Where it is now with its range, rounded as a coach speaks."""
    if found.level is None:
        return ""
    at, low, high = (
        say_amount(told_value(v, gate), gate.measure, gate.of)
        for v in (found.level.middle, found.level.low, found.level.high)
    )
    return f"now {at}" if low == high else f"now {at}, from {low.split(' ')[0]} to {high}"
