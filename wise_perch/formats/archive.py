"""A coach's whole data as one archive: a JSON array with each record on a line of its own, so that it is
written and read a record at a time however large a hall is. Documented in docs/formats.md and
docs/archive.schema.json.
"""

import json
from collections.abc import Callable, Iterable, Iterator
from datetime import date
from typing import IO, Annotated, Any, Literal
from uuid import UUID

from pydantic import (
    AfterValidator,
    AwareDatetime,
    BaseModel,
    ConfigDict,
    Field,
    TypeAdapter,
    ValidationError,
    WithJsonSchema,
)

from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.class_night.evening import Evening
from wise_perch.core.floor.walk import FloorEvent, FloorSheet
from wise_perch.core.line.kept import LineHeading
from wise_perch.core.progress.report import MonthReport
from wise_perch.core.trade.evidence import Fell, Form, Measure, Reason, Side
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.stored import RunEnd, Source, Turn
from wise_perch.core.week.week_plan import WeekPlan, Wish

FORMAT, VERSION = "wise-perch archive", 1
LONGEST_LINE = 64 * 1024 * 1024
"""Bytes of one record: a trainee with everything of many years is a few million."""


class BadArchive(Exception):
    """An archive that cannot be read; the text says where and why."""


def _printable(text: str) -> str:
    if "\0" in text:
        raise ValueError("holds characters that cannot be kept")
    return text


Text = Annotated[str, Field(max_length=200_000), AfterValidator(_printable)]
Word = Annotated[str, Field(max_length=200), AfterValidator(_printable)]
Number = Annotated[float, Field(allow_inf_nan=False)]


def _readable(kind: Any, *, keys: frozenset[str] = frozenset()) -> Callable[[Any], Any]:
    """Check that a document can be read as `kind` later, and keep it as it was written."""
    adapter: TypeAdapter[Any] = TypeAdapter(kind)

    def check(value: Any) -> Any:
        adapter.validate_python(value, strict=False)
        if keys and not set(value) <= keys:
            raise ValueError(f"has fields that are not known: {', '.join(sorted(set(value) - keys))}")
        return value

    return check


def _said(what: str) -> WithJsonSchema:
    return WithJsonSchema({"description": f"{what}, as this version of the application writes it"})


PROFILE_KEYS = frozenset(Profile.__dataclass_fields__)
AProfile = Annotated[Any, AfterValidator(_readable(Profile, keys=PROFILE_KEYS)), _said("what an intake says")]
AWish = Annotated[Any, AfterValidator(_readable(Wish)), _said("what a week was asked for")]
APlan = Annotated[Any, AfterValidator(_readable(WeekPlan)), _said("a planned week")]
ASheet = Annotated[Any, AfterValidator(_readable(Sheet | None)), _said("how a test was laid out")]
AFloorSheet = Annotated[Any, AfterValidator(_readable(FloorSheet)), _said("how a day was laid out")]
AnEvent = Annotated[Any, AfterValidator(_readable(FloorEvent)), _said("what happened")]
AReport = Annotated[Any, AfterValidator(_readable(MonthReport)), _said("a report as it was made")]
AHeading = Annotated[Any, AfterValidator(_readable(LineHeading)), _said("what was said of a line")]
Coordinate = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
PictureSide = Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]
Turns = Annotated[Any, AfterValidator(_readable(tuple[Turn, ...])), _said("which tests for whom")]


class Record(BaseModel):
    """Anything in an archive: fields it does not know are an error and not lost in silence."""

    model_config = ConfigDict(extra="forbid")


class Head(Record):
    """The first record: what this is."""

    record: Literal["archive"]
    format: Literal["wise-perch archive"]
    version: Literal[1]


class CoachSettings(Record):
    """The coach's settings and the hall's; no email, no password."""

    record: Literal["coach"]
    name: Word
    # archives from before 0.17.0 have none: a hall went by its coach's name
    hall: Annotated[str, Field(max_length=200), AfterValidator(_printable)] = ""
    time_zone: Word
    rest_s: int = Field(ge=20, le=60)
    schools: dict[Word, Word]
    float_switch_s: float = Field(ge=3, le=5)
    sounds: bool


class SyllabusVersion(Record):
    """One version of the syllabus; an empty text is the one that ships."""

    record: Literal["syllabus-version"]
    id: UUID
    at: AwareDatetime
    text: Annotated[str, Field(max_length=8_000_000), AfterValidator(_printable)]
    note: Text


class KitItem(Record):
    """A piece of kit."""

    record: Literal["kit"]
    id: UUID
    kind: Word
    thickness_cm: Number
    count: int
    note: Text
    created_at: AwareDatetime
    struck_at: AwareDatetime | None


class TestDay(Record):
    """A test day."""

    __test__ = False
    record: Literal["test-day"]
    id: UUID
    at: AwareDatetime
    plan: Turns
    struck_at: AwareDatetime | None


class Goal(Record):
    """A chosen goal; rank 1 leads."""

    goal: Word
    rank: int
    since: AwareDatetime
    struck_at: AwareDatetime | None


class Waiver(Record):
    """A gate let pass with a reason."""

    id: UUID
    drill: Word
    reason: Text
    at: AwareDatetime
    struck_at: AwareDatetime | None


class Intake(Record):
    """An intake; the last one counts."""

    id: UUID
    at: AwareDatetime
    profile: AProfile


class Setting(Record):
    """Dial settings chosen for a drill; the last ones count."""

    id: UUID
    drill: Word
    settings: dict[Word, Number]
    at: AwareDatetime


class Plan(Record):
    """A version of a week's plan; the last one of a week counts."""

    id: UUID
    week: date
    at: AwareDatetime
    wish: AWish
    planned: APlan
    note: Text


class Run(Record):
    """A test run; its tries are among the evidence."""

    id: UUID
    test: Word
    subject: Word
    started_at: AwareDatetime
    ended_at: AwareDatetime | None
    ended_as: RunEnd | None
    rest_s: int
    room: Text
    source: Source
    pain_joint: Word | None
    pain_level: int | None
    created_at: AwareDatetime
    dial: dict[Word, Number]
    sheet: ASheet
    confidence: int | None
    test_day_id: UUID | None


class Event(Record):
    """One thing that happened in a session."""

    id: UUID
    at: AwareDatetime
    what: AnEvent
    struck_at: AwareDatetime | None


class Session(Record):
    """A session on the floor with all that happened in it."""

    id: UUID
    day: date
    started_at: AwareDatetime
    ended_at: AwareDatetime | None
    ended_as: RunEnd | None
    source: Source
    sheet: AFloorSheet
    note: Text
    events: list[Event]


class Piece(Record):
    """A try of a run, or a set of a drill. `value` in `unit`, `dial` in cm."""

    id: UUID
    test_run_id: UUID | None
    session_id: UUID | None
    try_number: int | None
    drill: Word | None
    at: AwareDatetime
    outcome: Word | None
    fell: Fell | None
    measure: Measure
    value: Number | None
    asked: Number | None
    n: int | None
    unit: Word
    mode: Word | None
    window_s: Number | None
    dial: dict[Word, Number]
    form: Form | None
    side: Side | None
    confidence: int | None
    room: Text
    source: Source
    early: bool
    note: Text
    level: Number | None
    replaces: UUID | None
    reason: Reason | None
    gone: bool
    created_at: AwareDatetime
    struck_at: AwareDatetime | None


class Pain(Record):
    """What hurt, from 0 to 10."""

    id: UUID
    at: AwareDatetime
    joint: Word
    level: int
    sharp: bool
    event_id: UUID | None
    struck_at: AwareDatetime | None


class WorkedCue(Record):
    """A cue that worked."""

    id: UUID
    at: AwareDatetime
    drill: Word
    cue: Text
    struck_at: AwareDatetime | None


class HabitDay(Record):
    """The minutes of a habit on a day."""

    day: date
    habit: Word
    minutes: Annotated[float, Field(ge=0, le=240)]
    at: AwareDatetime


class LineSeen(Record):
    """Whether a drill was looked at from a view on a day."""

    day: date
    drill: Word
    view: Literal["side", "front"]
    seen: bool
    at: AwareDatetime


class CourseChange(Record):
    """A goal chosen, dropped or put first, or a question of which another school holds since."""

    at: AwareDatetime
    kind: Literal["goal-chosen", "goal-dropped", "goal-first", "school"]
    what: Word
    was: Word
    now: Word


class SilencedTurn(Record):
    """What was told early, and whether the coach has silenced it."""

    turn: Word
    silenced: bool
    at: AwareDatetime


class Report(Record):
    """One report of a month: as it was made, and what a coach changed of its words, by section."""

    id: UUID
    month: date
    at: AwareDatetime
    made: AReport
    words: dict[Word, Text]


class Line(Record):
    """A judged line: its joints as x, y, v in image axes, px, and what was said of it."""

    id: UUID
    at: AwareDatetime
    day: date
    drill: Word
    view: Literal["side", "front"]
    points: dict[Word, tuple[Coordinate, Coordinate, Coordinate]]
    width: PictureSide
    height: PictureSide
    said: AHeading
    off_deg: Annotated[float, Field(ge=0, le=360)] | None
    run_id: UUID | None
    note: Text
    struck_at: AwareDatetime | None


class GroupEvening(Record):
    """An evening of every week: weekday (0 is Monday), time of day, minutes."""

    weekday: int = Field(ge=0, le=6)
    time: Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]
    minutes: int = Field(ge=10, le=480)


class Group(Record):
    """A group with its evenings and who is in it."""

    record: Literal["group"]
    id: UUID
    name: Word
    evenings: list[GroupEvening]
    members: list[UUID]
    created_at: AwareDatetime
    struck_at: AwareDatetime | None


class RoomRecord(Record):
    """A room for class nights: stations by kind, heights in words."""

    record: Literal["room"]
    id: UUID
    name: Word
    stations: dict[Word, Annotated[int, Field(ge=0, le=60)]]
    heights: dict[Word, Word]
    day_out: bool
    created_at: AwareDatetime
    struck_at: AwareDatetime | None


class ClassNight(Record):
    """A class night as it stands; how it came to that, and a display's address, are not in it."""

    record: Literal["class-night"]
    id: UUID
    day: date
    evening: Annotated[dict[str, Any], AfterValidator(_readable(Evening))]
    created_at: AwareDatetime
    struck_at: AwareDatetime | None


class Contact(Record):
    """Whom to call, and for a minor a guardian's consent with its day."""

    contact: Text
    guardian: Text
    consent_day: date | None


class TraineeRecord(Record):
    """A trainee with everything of theirs, struck out or not. `struck_at`: put away."""

    record: Literal["trainee"]
    id: UUID
    name: Annotated[str, Field(min_length=1, max_length=120), AfterValidator(_printable)]
    stepping_side: Side | None
    note: Text
    schools: dict[Word, Word]
    created_at: AwareDatetime
    struck_at: AwareDatetime | None
    goals: list[Goal]
    waivers: list[Waiver]
    intakes: list[Intake]
    settings: list[Setting]
    plans: list[Plan]
    runs: list[Run]
    sessions: list[Session]
    evidence: list[Piece]
    aches: list[Pain]
    worked_cues: list[WorkedCue]
    # archives from before 0.13.0 have none
    habits: list[HabitDay] = []
    # archives from before 0.14.0 have none
    lines_seen: list[LineSeen] = []
    # archives from before 0.15.0 have none
    course_changes: list[CourseChange] = []
    silenced: list[SilencedTurn] = []
    reports: list[Report] = []
    # archives from before 0.16.0 have none
    lines: list[Line] = []
    # archives from before 0.17.0 have none
    contacts: list[Contact] = []


AnyRecord = Annotated[
    Head
    | CoachSettings
    | SyllabusVersion
    | KitItem
    | TestDay
    | TraineeRecord
    | Group
    | RoomRecord
    | ClassNight,
    Field(discriminator="record"),
]
RECORD: TypeAdapter[Any] = TypeAdapter(AnyRecord)
HEAD = {"record": "archive", "format": FORMAT, "version": VERSION}


def write_archive(records: Iterable[dict[str, Any]]) -> Iterator[bytes]:
    """Write records, the head before them, as pieces of one JSON array with a record a line."""
    yield b"[\n" + _line(HEAD)
    for record in records:
        yield b",\n" + _line(record)
    yield b"\n]\n"


def _line(record: dict[str, Any]) -> bytes:
    return json.dumps(record, ensure_ascii=False, sort_keys=True, allow_nan=False).encode()


def read_archive(file: IO[bytes]) -> Iterator[tuple[str, dict[str, Any]]]:
    """Read an archive record by record: its kind and what it says, checked. The head is checked and not
    given.

    Raises BadArchive with the line.
    """
    number, headed, closed = 0, False, False
    while line := file.readline(LONGEST_LINE + 1):
        number += 1
        if len(line) > LONGEST_LINE:
            raise BadArchive(f"line {number} is longer than a record can be")
        text = line.strip().removesuffix(b",").removeprefix(b"\xef\xbb\xbf")
        if text in (b"[", b""):
            continue
        if text == b"]":
            closed = True
            continue
        record = _checked(text, number)
        if not headed:
            if record["record"] != "archive":
                raise BadArchive(
                    "this is no archive of Wise Perch: its first record does not say that it is one"
                )
            headed = True
            continue
        yield record["record"], record
    if not headed:
        raise BadArchive("this is no archive of Wise Perch: there is nothing in it")
    if not closed:
        raise BadArchive("the archive is cut off: its last line is missing")


def _checked(text: bytes, number: int) -> dict[str, Any]:
    try:
        record = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadArchive(f"line {number} is no record of an archive: {error}") from None
    if isinstance(record, dict) and record.get("record") == "archive" and record.get("version") != VERSION:
        raise BadArchive(
            f"this archive is of version {record.get('version')}, and this application reads {VERSION}"
        )
    try:
        RECORD.validate_python(record, strict=False)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"][1:])
        raise BadArchive(f"line {number}, {where or 'record'}: {first['msg']}") from None
    if r"\u0000" in json.dumps(record) or not _encodable(record):
        raise BadArchive(f"line {number} holds characters that cannot be kept")
    return record  # type: ignore[no-any-return]


def _encodable(record: dict[str, Any]) -> bool:
    try:
        json.dumps(record, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        return False
    return True


def json_schema() -> dict[str, Any]:
    """The JSON Schema of an archive."""
    schema = RECORD.json_schema()
    definitions = schema.pop("$defs")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Wise Perch archive, version 1",
        "description": "A JSON array; each record stands on a line of its own, the head first.",
        "type": "array",
        "prefixItems": [{"$ref": "#/$defs/Head"}],
        "items": schema,
        "$defs": definitions,
    }
