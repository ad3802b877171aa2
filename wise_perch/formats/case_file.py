"""A case made from files: evidence, tries and a profile in, the same case out as the store would give."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Literal
from uuid import NAMESPACE_URL, uuid5
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from wise_perch.core.body.kit import KitItem
from wise_perch.core.trade.file_lines import EvidenceLine, TryLine
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.schools import UnknownChoice
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import Case
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import Arrangement, ChosenSetting, EndedRun, KeptWaiver
from wise_perch.formats.evidence_csv import read_evidence
from wise_perch.formats.junk import Junk
from wise_perch.formats.tables import Unreadable
from wise_perch.formats.tries_csv import read_tries

InUse = Callable[[Mapping[str, str]], Syllabus]
"""Lays schools over the syllabus. Raises UnknownChoice."""


class WaiverOfProfile(BaseModel):
    """A gate the coach let pass."""

    model_config = ConfigDict(extra="forbid")
    drill: str
    reason: str = Field(min_length=1)
    day: date


class DayOfProfile(BaseModel):
    """A day to plan for."""

    model_config = ConfigDict(extra="forbid")
    day: date
    place: str = "hall"
    minutes: int | None = Field(default=None, ge=5, le=240)
    time: str = Field(default="", pattern=r"^(([01][0-9]|2[0-3]):[0-5][0-9])?$")


class PieceOfProfile(BaseModel):
    """Pieces of kit to stack."""

    model_config = ConfigDict(extra="forbid")
    kind: Literal["pad", "plate", "block", "box"]
    thickness_cm: float = Field(gt=0, le=150, allow_inf_nan=False)
    count: int = Field(ge=1, le=99)


class AcheOfProfile(BaseModel):
    """Pain told of a joint."""

    model_config = ConfigDict(extra="forbid")
    joint: str = Field(min_length=1, max_length=60)
    level: int = Field(ge=0, le=10)
    day: date
    sharp: bool = False


class PinOfProfile(BaseModel):
    """A drill put on a day by hand."""

    model_config = ConfigDict(extra="forbid")
    day: date
    drill: str
    sets: int | None = Field(default=None, ge=1, le=30)


class DropOfProfile(BaseModel):
    """A drill taken off a day, or off the week."""

    model_config = ConfigDict(extra="forbid")
    drill: str
    day: date | None = None


class SettingOfProfile(BaseModel):
    """Settings chosen for a drill from a day on, by knob, in cm and degrees."""

    model_config = ConfigDict(extra="forbid")
    drill: str
    settings: dict[str, float]
    day: date


class ProfileFile(BaseModel):
    """What PROFILE.json may hold; all of it is optional. Lengths in cm, mass in kg."""

    model_config = ConfigDict(extra="forbid")
    trainee: str | None = None
    stature_cm: float | None = Field(default=None, gt=0, allow_inf_nan=False)
    mass_kg: float | None = Field(default=None, gt=0, allow_inf_nan=False)
    lengths_cm: dict[str, float] = {}
    goals: list[str] | None = None
    schools: dict[str, str] = {}
    waivers: list[WaiverOfProfile] = []
    cautions: dict[str, bool] = {}
    cleared: bool = False
    experience: list[str] = []
    history: str = ""
    confidence: int | None = Field(default=None, ge=1, le=5)
    kit: list[str] = []
    days: list[DayOfProfile] = Field(default=[], max_length=7)
    places: dict[str, list[str]] = {}
    stacks: list[PieceOfProfile] = []
    aches: list[AcheOfProfile] = []
    pins: list[PinOfProfile] = []
    drops: list[DropOfProfile] = []
    tested: dict[str, date] | None = None
    settings: list[SettingOfProfile] = []
    cues: dict[str, str] = {}
    time_zone: str | None = None
    rest_s: float | None = Field(default=None, ge=20, le=60)
    float_switch_s: float = Field(default=5, ge=3, le=5)

    def profile(self) -> Profile:
        """The intake's part of it."""
        return Profile(
            stature_cm=self.stature_cm,
            mass_kg=self.mass_kg,
            lengths_cm=self.lengths_cm,
            cautions=self.cautions,
            cleared=self.cleared,
            confidence=self.confidence,
            kit=tuple(self.kit),
        )


@dataclass(frozen=True)
class CaseFile:
    """One trainee's case as the files put it: whose it is, the case, and the profile with what a plan is
    asked for.
    """

    trainee: str | None
    case: Case
    profile: ProfileFile


def read_case(
    evidence: Path, profile: Path, *, on: date, in_use: InUse, tries: Path | None = None
) -> CaseFile:
    """Read a case from files.

    Args: `evidence` and `tries` CSV files and `profile` a JSON object, as docs/formats.md says. With `tries`
    given, what a file of evidence says of tests is passed over, since the tries say it themselves.
    Raises: Junk if a file cannot be read or names what is not there, naming its lines.
    """
    who = _read_profile(profile)
    try:
        syllabus = in_use(who.schools)
    except UnknownChoice as error:
        raise Junk([f"{profile.name}: {error}"]) from error
    _check_names(profile, who, syllabus)
    zone = _zone_of(who, profile)
    lines = _read_evidence(evidence, syllabus)
    tried = _read_tries(tries, syllabus) if tries else None
    name = _trainee_of(who, [*lines, *(tried or [])], evidence, profile)
    mine = [x for x in lines if name is None or x.trainee.lower() == name.lower()]
    sets = [x.piece for x in mine if tried is None or x.source != "test"]
    case = Case(
        on=on,
        syllabus=syllabus,
        arrangement=Arrangement(
            schools=dict(who.schools),
            # a profile without goals asks about every goal there is
            goals=(
                tuple(g.goal for g in syllabus.content.goals)
                if who.goals is None
                else tuple(dict.fromkeys(who.goals))
            ),
            waivers=tuple(
                KeptWaiver(id=uuid5(NAMESPACE_URL, w.drill), drill=w.drill, reason=w.reason, day=w.day)
                for w in who.waivers
            ),
            profile=who.profile(),
        ),
        sets=sets,
        runs=(
            None
            if tried is None
            else _runs_of([x for x in tried if name is None or x.trainee.lower() == name.lower()], zone)
        ),
        chosen=_newest_settings(who.settings),
        kit=tuple(KitItem(**k.model_dump()) for k in who.stacks),
        told_aches=[Ache(**a.model_dump()) for a in who.aches],
        tested=who.tested,
        rest_s=who.rest_s or syllabus.free_tries.rest_usual_s.value,
        float_switch_s=who.float_switch_s,
        cues=dict(who.cues),
    )
    return CaseFile(name, case, who)


def _zone_of(who: ProfileFile, path: Path) -> ZoneInfo | None:
    try:
        return ZoneInfo(who.time_zone) if who.time_zone else None
    except (ZoneInfoNotFoundError, ValueError) as error:
        raise Junk([f"{path.name}: time_zone: there is no {who.time_zone}"]) from error


def _newest_settings(settings: Sequence[SettingOfProfile]) -> dict[str, ChosenSetting]:
    ordered = sorted(settings, key=lambda c: c.day)
    return {c.drill: ChosenSetting(settings=c.settings, day=c.day) for c in ordered}


def _read_evidence(path: Path, syllabus: Syllabus) -> list[EvidenceLine]:
    try:
        read = read_evidence(path.read_bytes(), drills={name: d.title for name, d in syllabus.drills.items()})
    except OSError as error:
        raise Junk([f"{path}: {error.strerror}"]) from error
    except Unreadable as error:
        raise Junk([f"{path.name}: {error}"]) from error
    if read.problems:
        raise Junk([f"{path.name}: line {p.line}: {p.what}" for p in read.problems])
    return read.lines


def _read_tries(path: Path, syllabus: Syllabus) -> list[TryLine]:
    try:
        read = read_tries(path.read_bytes(), tests=syllabus.tests, may_be_empty=True)
    except OSError as error:
        raise Junk([f"{path}: {error.strerror}"]) from error
    except Unreadable as error:
        raise Junk([f"{path.name}: {error}"]) from error
    if read.problems:
        raise Junk([f"{path.name}: line {p.line}: {p.what}" for p in read.problems])
    return read.lines


def _trainee_of(
    who: ProfileFile, lines: Sequence[EvidenceLine | TryLine], evidence: Path, profile: Path
) -> str | None:
    names = {line.trainee.lower(): line.trainee for line in lines}
    if who.trainee is None and len(names) > 1:
        raise Junk(
            [
                f"{evidence.name}: holds evidence of {', '.join(sorted(names.values()))}; name one as trainee"
                f" in {profile.name}"
            ]
        )
    return who.trainee or next(iter(names.values()), None)


def _runs_of(lines: Sequence[TryLine], zone: ZoneInfo | None) -> list[EndedRun]:
    """The runs that lines of tries make, oldest first; their day is that of the moment in `zone`, else as
    written.
    """
    grouped: dict[tuple[str, str, str], list[TryLine]] = {}
    for line in sorted(lines, key=lambda x: (x.started_at, x.test, x.drill)):
        grouped.setdefault((line.test, line.drill, line.started_text), []).append(line)
    return [
        EndedRun(
            run=uuid5(NAMESPACE_URL, " ".join(key)),
            test=own[0].test,
            subject=own[0].drill,
            dial=own[0].dial,
            confidence=own[0].confidence,
            day=(own[0].started_at.astimezone(zone) if zone else own[0].started_at).date(),
            tries=tuple(x.tried for x in own),
        )
        for key, own in grouped.items()
    ]


def _read_profile(path: Path) -> ProfileFile:
    try:
        raw = json.loads(path.read_text("utf-8-sig"))
    except OSError as error:
        raise Junk([f"{path}: {error.strerror}"]) from error
    except UnicodeDecodeError:
        raise Junk([f"{path.name}: this is no UTF-8 text"]) from None
    except (json.JSONDecodeError, RecursionError) as error:
        line = getattr(error, "lineno", 1)
        raise Junk([f"{path.name}: line {line}: this is no JSON"]) from error
    try:
        return ProfileFile.model_validate(raw)
    except ValidationError as error:
        raise Junk(
            [f"{path.name}: {'.'.join(map(str, e['loc'])) or 'profile'}: {e['msg']}" for e in error.errors()]
        ) from error


def _check_names(path: Path, who: ProfileFile, syllabus: Syllabus) -> None:
    """Names that stand for nothing would be passed over in silence otherwise."""
    goals = {g.goal for g in syllabus.content.goals}
    faults = [f"there is no goal named {g}" for g in who.goals or () if g not in goals]
    faults += [
        f"waivers: there is no drill named {w.drill}" for w in who.waivers if w.drill not in syllabus.drills
    ]
    faults += [
        f"cautions: the intake asks nothing named {c}"
        for c in who.cautions
        if c not in {q.caution for q in syllabus.intake.cautions}
    ]
    faults += [
        f"settings: there is no drill named {c.drill}" for c in who.settings if c.drill not in syllabus.drills
    ]
    faults += [f"there is no kit named {k}" for k in who.kit if k not in syllabus.content.kit]
    faults += [
        f"places: {place} names no kit called {k}"
        for place, items in who.places.items()
        for k in items
        if k not in syllabus.content.kit
    ]
    faults += [f"tested: there is no test named {t}" for t in who.tested or () if t not in syllabus.tests]
    lengths = [x.length for x in syllabus.intake.lengths]
    faults += [
        f"lengths_cm: {name} is none of {', '.join(lengths)}"
        for name in who.lengths_cm
        if name not in lengths
    ]
    if faults:
        raise Junk([f"{path.name}: {fault}" for fault in faults])
