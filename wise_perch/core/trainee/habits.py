"""Habits: small range work done by the day and not by the session. Minutes, and nothing to keep up."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from wise_perch.core.trade.session_rules import Habit
from wise_perch.core.trade.words import say_list

WEEK_DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class HabitDay:
    """The minutes of a habit on one day."""

    day: date
    habit: str
    minutes: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HabitSaid:
    """A habit with what was done of it, min: today, and in the seven days that end today."""

    habit: str
    title: str
    about: str
    usual: float
    today: float
    week: float


def say_habits(habits: Sequence[Habit], done: Sequence[HabitDay], *, on: date) -> tuple[HabitSaid, ...]:
    """Every habit with its minutes; what is no habit any more is left out."""
    first = first_day(on)

    def minutes(habit: str, since: date) -> float:
        return round(sum(d.minutes for d in done if d.habit == habit and since <= d.day <= on), 1)

    return tuple(
        HabitSaid(
            habit=h.habit,
            title=h.title,
            about=h.about,
            usual=h.minutes.value,
            today=minutes(h.habit, on),
            week=minutes(h.habit, first),
        )
        for h in habits
    )


def first_day(on: date) -> date:
    """The first of the seven days that end on a day."""
    return on - timedelta(days=WEEK_DAYS - 1)


def sum_up(habits: Sequence[HabitSaid]) -> str:
    """The week in a sentence for the coach; empty where nothing was told."""
    told = [f"{h.title.lower()} {h.week:g} min" for h in habits if h.week]
    return f"At home this week: {say_list(told)}." if told else ""
