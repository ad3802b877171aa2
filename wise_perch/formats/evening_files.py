"""An evening taken along: as JSON that `./perch class` takes again, as CSV, as a calendar. Documented in
docs/formats.md.
"""

from datetime import UTC, datetime, time, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

import icalendar

from wise_perch.core.class_night.evening import Evening, question_of, rotation_of
from wise_perch.core.class_night.told import place_words
from wise_perch.formats.class_files import question_as_json, rotation_as_csv, rotation_as_json


def evening_as_json(evening: Evening) -> dict[str, Any]:
    """An evening under the door's names with its rotation, so that the door takes it again."""
    question = question_of(evening)
    return {**question_as_json(question), "rotation": rotation_as_json(question, rotation_of(evening))}


def evening_as_csv(evening: Evening) -> str:
    """An evening as CSV, one line a slot."""
    return rotation_as_csv(question_of(evening), rotation_of(evening))


def evening_as_calendar(evening: Evening, *, id: UUID, time_zone: str) -> str:
    """An evening as a calendar (RFC 5545), one event a slot: who, where, what."""
    made = icalendar.Calendar()
    made.add("prodid", "-//Wise Perch//Class night//EN")
    made.add("version", "2.0")
    hour, minute = (int(x) for x in evening.time.split(":"))
    begins = datetime.combine(evening.day, time(hour, minute), ZoneInfo(time_zone))
    for s in sorted(evening.slots, key=lambda s: (s.start_min, s.trainee)):
        person = evening.people[s.trainee]
        event = icalendar.Event()
        event.add("uid", f"{id}-{person.trainee}-{s.block}")
        event.add("dtstamp", begins.astimezone(UTC))
        event.add("dtstart", (begins + timedelta(minutes=s.start_min)).astimezone(UTC))
        event.add("dtend", (begins + timedelta(minutes=s.end_min)).astimezone(UTC))
        event.add("summary", f"{person.name}: {person.blocks[s.block].title}")
        if place := place_words(evening, s):
            event.add("location", f"{evening.room}, {place}")
        made.add_component(event)
    return str(made.to_ical().decode())
