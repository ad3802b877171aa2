"""The kinds of value that requests carry, each checked at the door."""

import unicodedata
from datetime import UTC, date, datetime, timedelta
from typing import Annotated
from uuid import UUID
from zoneinfo import available_timezones

from pydantic import AfterValidator, AwareDatetime, BaseModel, Field, WithJsonSchema

from wise_perch.formats.cells import has_unseen

EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
EARLIEST_WEEK, LATEST_WEEK = date(2000, 1, 3), date(2100, 1, 4)
CLOCK_SLACK = timedelta(days=1)


def printable(text: str) -> str:
    """Trim and normalise text to NFC. Raises ValueError for control characters, which no keyboard types."""
    text = unicodedata.normalize("NFC", text.strip())
    if any(unicodedata.category(c) in ("Cc", "Cs") and c not in "\n\t" for c in text):
        raise ValueError("holds characters that cannot be printed")
    return text


def _one_line(text: str) -> str:
    text = " ".join(printable(text).split())
    if not text:
        raise ValueError("must not be empty")
    if has_unseen(text):
        raise ValueError("holds characters that cannot be seen")
    return text


def encodable(text: str) -> str:
    """Give text as it is. Raises ValueError for half a character, which no bytes can carry."""
    try:
        text.encode()
    except UnicodeEncodeError:
        raise ValueError("holds half a character") from None
    return text


def _check_moment(value: datetime) -> datetime:
    if not EARLIEST <= value <= datetime.now(UTC) + CLOCK_SLACK:
        raise ValueError("lies before the year 2000 or in the future; check the device's clock")
    return value.astimezone(UTC)


def _version_7(value: UUID) -> UUID:
    if value.version != 7:
        raise ValueError("must be a UUID of version 7")
    return value


def _check_zone(name: str) -> str:
    if name not in available_timezones():
        raise ValueError("is no time zone this server knows")
    return name


def _in_reach(day: date) -> date:
    if not EARLIEST_WEEK <= day <= LATEST_WEEK:
        raise ValueError("lies outside the years that are planned here")
    return day


Name = Annotated[str, Field(max_length=120), AfterValidator(_one_line)]
Note = Annotated[str, Field(max_length=2000), AfterValidator(printable)]
Moment = Annotated[AwareDatetime, AfterValidator(_check_moment)]
NewId = Annotated[
    UUID,
    AfterValidator(_version_7),
    WithJsonSchema(
        {
            "type": "string",
            "format": "uuid",
            "pattern": "^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$",
            "description": "an id that the caller makes: a UUID of version 7 (RFC 9562, 2024)",
        }
    ),
]
Day = Annotated[date, AfterValidator(_in_reach)]
PerhapsName = Annotated[str, Field(max_length=120), AfterValidator(printable)]
"""A name that may be left out."""
TimeZone = Annotated[str, Field(max_length=64), AfterValidator(_check_zone)]
Email = Annotated[
    str,
    Field(max_length=254, pattern=r"^[^@\s]+@[^@\s]+$"),
    AfterValidator(_one_line),
    AfterValidator(str.lower),
]
Password = Annotated[str, Field(min_length=10, max_length=200), AfterValidator(encodable)]
Typed = Annotated[str, Field(max_length=254), AfterValidator(printable)]
TypedPassword = Annotated[str, Field(max_length=200), AfterValidator(encodable)]


class Size(BaseModel):
    """A body's size as entered: cm and kg; `lengths_cm` by name, only measured ones."""

    stature_cm: float = Field(allow_inf_nan=False)
    mass_kg: Annotated[float, Field(allow_inf_nan=False)] | None = None
    lengths_cm: dict[str, Annotated[float, Field(gt=0, le=200, allow_inf_nan=False)]] = {}
