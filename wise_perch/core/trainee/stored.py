"""What is kept about trainees and their tests: plain values, the same in the store, the api and the
browser.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal
from uuid import UUID

from wise_perch.core.body.kit import KitItem
from wise_perch.core.trade.evidence import Fell, Form, Measure, Reason, Side, Try
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.hall import Member

RunEnd = Literal["finished", "stopped", "pain"]
"""How a run ended: all tries done, stopped early, or stopped for pain."""

Source = Literal["live", "after", "import", "demo", "test", "self", "film"]
"""How a record came in: at the moment, after the fact, from a file, from the demo's simulator, worked out of
a test run, or told by the trainee.
"""

Units = Literal["cm", "in"]
"""Centimetres and kilograms, or inches and pounds."""
Dates = Literal["day-month", "month-day", "year-month-day"]
"""Which comes first in a date."""
Decimal = Literal["point", "comma"]
"""What stands before the parts of one."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Coach:
    """A coach and their settings. `rest_s`: rest between free tries, s. `schools`: the school chosen for a
    question of the syllabus, where it is not the usual one.

    `sounds`: tones on Bench and Floor, as loud as `volume` (percent); `vibration` beside them, and a `voice`
    that counts. `units`, `dates` and `decimal`: how lengths and weights, days and figures are written.
    `told`: the screens whose purpose was said; "*" stands for all.
    """

    id: UUID
    name: str
    email: str
    rest_s: int
    schools: dict[str, str]
    sounds: bool
    volume: int
    vibration: bool
    voice: bool
    units: Units
    dates: Dates
    decimal: Decimal
    told: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Trainee:
    """A trainee. `stepping_side`: the preferred side of the exit, if known."""

    id: UUID
    name: str
    stepping_side: Side | None
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Waiver:
    """A gate the coach let pass, why, and when."""

    drill: str
    reason: str
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptWaiver(Waiver):
    """A waiver as it is kept."""

    id: UUID


@dataclass(frozen=True, slots=True, kw_only=True)
class Arrangement:
    """What the coach decided about a trainee beside evidence. `schools`: exceptions from the coach's own.

    `goals` in the order they were chosen; `profile` the newest intake. `lines`: of each drill how far off its
    best kept line is, degrees.
    """

    schools: dict[str, str]
    goals: tuple[str, ...]
    waivers: tuple[KeptWaiver, ...]
    profile: Profile | None
    lines: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class SyllabusVersion:
    """A version of a coach's syllabus. `ours`: it is the one that ships with the product."""

    id: UUID
    at: datetime
    note: str
    ours: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SyllabusText:
    """A version with its text; empty for ours."""

    id: UUID
    at: datetime
    text: str
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptTry:
    """One try as it is kept. `early`: begun before the rest was over. A struck-out try has `struck_at`.

    `replaces`: the try that this one corrects, which stays kept and struck out.
    """

    id: UUID
    number: int
    at: datetime
    outcome: str
    value: float | None
    mode: str = ""
    level: float | None = None
    side: Side | None = None
    fell: Fell | None
    form: Form | None
    note: str
    early: bool
    replaces: UUID | None = None
    struck_at: datetime | None

    def as_try(self) -> Try:
        """The try as the benchmark counts it."""
        return Try(
            number=self.number,
            outcome=self.outcome,
            value=self.value,
            mode=self.mode,
            fell=self.fell,
            form=self.form,
            side=self.side,
            level=self.level,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """One run of a test. `tries` holds struck-out ones too; `standing_tries` leaves them out.

    `subject`: the drill it was run for, or empty. `dial`: the setting all of it was made at. `confidence`:
    the trainee's own.
    """

    id: UUID
    trainee: UUID
    test: str
    subject: str = ""
    started_at: datetime
    ended_at: datetime | None
    ended_as: RunEnd | None
    rest_s: int
    room: str
    source: Source
    dial: dict[str, float] = field(default_factory=dict)
    confidence: int | None = None
    test_day: UUID | None = None
    pain_joint: str | None
    pain_level: int | None
    tries: tuple[KeptTry, ...]

    @property
    def standing_tries(self) -> list[Try]:
        """The tries that count, by number."""
        return [t.as_try() for t in sorted(self.tries, key=lambda t: t.number) if t.struck_at is None]


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptKit(KitItem):
    """Pieces of kit as they are kept."""

    id: UUID
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Turn:
    """One test of one trainee; `subject`: the drill it is run for, or empty. `day` 1 or 2 where it is
    split.
    """

    trainee: UUID
    test: str
    subject: str = ""
    day: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptTestDay:
    """A test day as it is kept."""

    id: UUID
    at: datetime
    plan: tuple[Turn, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptSet:
    """One recorded set of a drill as it is kept. `value` and `asked` in the unit of `measure`; `dial` in
    cm.
    """

    id: UUID
    drill: str
    at: datetime
    measure: Measure
    value: float
    asked: float | None = None
    n: int | None
    mode: str | None
    window_s: float | None
    form: Form
    side: Side | None
    confidence: int | None
    dial: dict[str, float]
    reason: Reason | None = None
    source: Source
    note: str
    struck_at: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ExportedEvidence:
    """One piece of evidence as an export writes it; `day` on the coach's calendar."""

    trainee: str
    day: date
    drill: str
    measure: str
    value: float
    asked: float | None = None
    n: int | None
    mode: str | None
    window_s: float | None
    dial: dict[str, float]
    form: str
    side: str | None
    confidence: int | None
    reason: str | None = None
    source: str
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ExportedTry:
    """One try as an export writes it."""

    trainee: str
    test: str
    drill: str
    dial: dict[str, float]
    confidence: int | None
    started_at: datetime
    number: int
    outcome: str
    value: float | None
    mode: str
    level: float | None
    side: str | None
    fell: str | None
    form: str | None
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShareLink:
    """A secret address that still works: a calendar, or a trainee's own page."""

    id: UUID
    kind: str
    created_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Sharing:
    """Whom a secret address opens what of, and who made it: whoever reads by it, reads as them, by their
    schools.
    """

    member: Member
    trainee: UUID
    kind: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HallSharing:
    """A secret address that opens the whole hall's calendar, and who made it."""

    member: Member


@dataclass(frozen=True, slots=True, kw_only=True)
class EndedRun:
    """The tries that count in one ended run, and the coach's calendar day it was started on."""

    run: UUID
    test: str
    subject: str
    dial: Mapping[str, float]
    confidence: int | None
    day: date
    tries: tuple[Try, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChosenSetting:
    """The settings a coach last chose for a drill, by knob, and the coach's own day they did."""

    settings: Mapping[str, float]
    day: date
