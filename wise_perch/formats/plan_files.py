"""A planned week as CSV, and as a calendar after RFC 5545 (Desruisseaux, 2009, iCalendar)."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event

from wise_perch.core.week.week_plan import DayPlan, WeekPlan
from wise_perch.formats.tables import write_table

COLUMNS = (
    "day",
    "place",
    "time",
    "start_min",
    "minutes",
    "kind",
    "drill",
    "title",
    "dose",
    "setting",
    "stack",
    "rest_s",
    "because",
)


FIGURES = ("start_min", "minutes", "rest_s")


def write_plan(planned: WeekPlan, *, semicolons: bool = False) -> str:
    """Write a week as CSV text, a line for each block."""
    rows = (row for day in planned.days for row in _rows_of(day))
    return write_table(COLUMNS, rows, semicolons=semicolons, figures=FIGURES)


def _rows_of(day: DayPlan) -> Iterable[list[str]]:
    for b in day.blocks:
        dial = b.dose.dial if b.dose else None
        yield [
            day.day.isoformat(),
            day.place,
            day.time,
            f"{b.start_s / 60:.1f}",
            f"{b.length_s / 60:.1f}",
            b.kind,
            b.drill or b.test,
            b.title,
            b.dose.amount if b.dose else "",
            dial.words if dial else b.dose.place if b.dose else "",
            dial.steps[dial.at].stack if dial else "",
            f"{b.dose.rest_s:g}" if b.dose else "",
            " ".join(x.text for x in b.because),
        ]


@dataclass(frozen=True, slots=True, kw_only=True)
class CalendarWeek:
    """A week for a calendar. `changes`: how often it was planned anew before this; `at`: when this version
    was kept.
    """

    planned: WeekPlan
    changes: int
    at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class SessionsOf:
    """A trainee with planned weeks, as a calendar has them."""

    trainee: UUID
    name: str
    weeks: Sequence[CalendarWeek]


def calendar(whose: Sequence[SessionsOf], *, time_zone: str, name: str = "") -> bytes:
    """Write planned weeks of somebody, or of everybody under a `name`, as a calendar. A
    session is an event whose UID is its trainee and day, the same in
    every version of its week; SEQUENCE and LAST-MODIFIED tell a calendar which version is the newer.

    A day without a time is an event of the whole day.
    """
    made = Calendar()
    made.add("prodid", "-//Wise Perch//Plan//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", f"{name or ', '.join(w.name for w in whose)}: sessions")
    for one in whose:
        for week in one.weeks:
            for day in week.planned.days:
                if day.blocks:
                    made.add_component(_write_event(one, week, day, ZoneInfo(time_zone)))
    return bytes(made.to_ical())


def _write_event(whose: SessionsOf, week: CalendarWeek, day: DayPlan, zone: ZoneInfo) -> Event:
    event = Event()
    event.add("uid", f"{whose.trainee}-{day.day.isoformat()}@wise-perch")
    event.add("sequence", week.changes)
    event.add("last-modified", week.at.astimezone(UTC))
    event.add("dtstamp", week.at.astimezone(UTC))
    event.add("summary", f"{whose.name}: hand-balancing, {day.place}, {-(-day.length_s // 60):.0f} min")
    event.add("location", day.place)
    event.add(
        "description",
        "\n".join(_title_and_amount(b.title, b.dose.amount if b.dose else "") for b in day.blocks),
    )
    if day.time:
        begin = datetime.combine(day.day, time.fromisoformat(day.time), zone).astimezone(UTC)
        event.add("dtstart", begin)
        event.add("dtend", begin + timedelta(minutes=-(-day.length_s // 60)))
    else:
        event.add("dtstart", day.day)
        event.add("dtend", day.day + timedelta(days=1))
    return event


def _title_and_amount(title: str, amount: str) -> str:
    return f"{title}: {amount}" if amount else title
