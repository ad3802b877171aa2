"""A planned week as CSV, and as a calendar after RFC 5545 (Desruisseaux, 2009, iCalendar)."""

from collections.abc import Iterable
from datetime import UTC, datetime, time, timedelta
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


def write_plan(planned: WeekPlan) -> str:
    """Write a week as CSV text, a line for each block."""
    return write_table(COLUMNS, (row for day in planned.days for row in _rows_of(day)))


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


def calendar(name: str, weeks: Iterable[tuple[str, WeekPlan]], *, time_zone: str, stamp: datetime) -> bytes:
    """Write planned weeks as a calendar. Each session is an event whose UID is its plan's id and day.

    Args: `weeks`: each with its plan's id; `stamp`: when it was made. A day without a time is an event of the
    whole day.
    """
    made = Calendar()
    made.add("prodid", "-//Wise Perch//Plan//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", f"{name}: sessions")
    for plan, week in weeks:
        for day in week.days:
            if day.blocks:
                made.add_component(_write_event(plan, day, ZoneInfo(time_zone), stamp))
    return bytes(made.to_ical())


def _write_event(plan: str, day: DayPlan, zone: ZoneInfo, stamp: datetime) -> Event:
    event = Event()
    event.add("uid", f"{plan}-{day.day.isoformat()}@wise-perch")
    event.add("dtstamp", stamp.astimezone(UTC))
    event.add("summary", f"Hand-balancing, {day.place}, {-(-day.length_s // 60):.0f} min")
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
