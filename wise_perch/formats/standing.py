"""The door to standing and goals without server or database: evidence and a profile in, perches, gates and paths out."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.intake import Profile, awaits_clearance
from wise_perch.core.trade.schools import UnknownChoice
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.goals import GoalStanding, goal_standings, why_not
from wise_perch.core.trainee.marks import mark_evidence
from wise_perch.core.trainee.standing import DrillStanding, Standing, standing_of
from wise_perch.core.trainee.stored import Waiver
from wise_perch.core.trainee.wall import Wall, read_wall
from wise_perch.formats.evidence_csv import read_evidence
from wise_perch.formats.score import Junk
from wise_perch.formats.tables import Unreadable


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
class Asked:
    """One trainee's question as the files put it: whose evidence, by which syllabus, on which day."""

    trainee: str | None
    syllabus: Syllabus
    wall: Wall
    standing: Standing
    goals: tuple[GoalStanding, ...]
    pieces: tuple[Evidence, ...]


def standing_file(evidence: Path, profile: Path, *, on: date, in_use: Callable[[Mapping[str, str]], Syllabus]) -> dict[str, Any]:
    """Say where a trainee stands on day `on`, from files alone.

    Args: `evidence` a CSV as docs/formats.md says; `profile` a JSON object; `in_use` lays schools over the syllabus.
    Returns: perches, gates, ahead and behind, and for each goal path and holding pillar, as docs/formats.md says.
    Raises: Junk if a file can not be read, naming its lines.
    """
    return _answer(read_asked(evidence, profile, on=on, in_use=in_use)[0])


def read_asked(evidence: Path, profile: Path, *, on: date, in_use: Callable[[Mapping[str, str]], Syllabus]) -> tuple[Asked, ProfileFile]:
    """Read the files and judge the trainee on day `on`. Raises Junk."""
    who = _read_profile(profile)
    try:
        syllabus = in_use(who.schools)
    except UnknownChoice as error:
        raise Junk([f"{profile.name}: {error}"]) from error
    _check_names(profile, who, syllabus)
    try:
        read = read_evidence(evidence.read_bytes(), drills=syllabus.drills)
    except OSError as error:
        raise Junk([f"{evidence}: {error.strerror}"]) from error
    except Unreadable as error:
        raise Junk([f"{evidence.name}: {error}"]) from error
    if read.problems:
        raise Junk([f"{evidence.name}: line {p.line}: {p.what}" for p in read.problems])
    names = {line.trainee.lower(): line.trainee for line in read.lines}
    wanted = who.trainee.lower() if who.trainee else None
    if wanted is None and len(names) > 1:
        raise Junk([f"{evidence.name}: holds evidence of {', '.join(sorted(names.values()))}; name one as trainee in {profile.name}"])
    pieces = [line.piece for line in read.lines if line.piece.day <= on and wanted in (None, line.trainee.lower())]
    waivers = {w.drill: Waiver(drill=w.drill, reason=w.reason, day=w.day) for w in who.waivers if w.day <= on}
    wall = read_wall(mark_evidence(pieces, syllabus), syllabus, on=on, waivers=waivers)
    cleared = not awaits_clearance(syllabus.intake, who.profile())
    stands = standing_of(wall, waivers=waivers, cleared=cleared)
    name = who.trainee or next(iter(names.values()), None)
    return Asked(name, syllabus, wall, stands, goal_standings(wall, stands, who.goals), tuple(pieces)), who


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
        raise Junk([f"{path.name}: {'.'.join(map(str, e['loc'])) or 'profile'}: {e['msg']}" for e in error.errors()]) from error


def _check_names(path: Path, who: ProfileFile, syllabus: Syllabus) -> None:
    """Names that stand for nothing would be passed over in silence otherwise."""
    goals = {g.goal for g in syllabus.content.goals}
    faults = [f"there is no goal named {g}" for g in who.goals or () if g not in goals]
    faults += [f"waivers: there is no drill named {w.drill}" for w in who.waivers if w.drill not in syllabus.drills]
    faults += [f"cautions: the intake asks nothing named {c}" for c in who.cautions if c not in {q.caution for q in syllabus.intake.cautions}]
    faults += [f"there is no kit named {k}" for k in who.kit if k not in syllabus.content.kit]
    faults += [f"places: {place} names no kit called {k}" for place, items in who.places.items() for k in items if k not in syllabus.content.kit]
    faults += [f"tested: there is no test named {t}" for t in who.tested or () if t not in syllabus.tests]
    lengths = [x.length for x in syllabus.intake.lengths]
    faults += [f"lengths_cm: {name} is none of {', '.join(lengths)}" for name in who.lengths_cm if name not in lengths]
    if faults:
        raise Junk([f"{path.name}: {fault}" for fault in faults])


def _answer(asked: Asked) -> dict[str, Any]:
    stands = asked.standing
    return {
        "trainee": asked.trainee,
        "on": stands.on.isoformat(),
        "syllabus": asked.syllabus.version,
        "perches": {line.line: line.perch for line in stands.lines},
        "ahead": {line.line: list(line.ahead) for line in stands.lines},
        "behind": {line.line: list(line.behind) for line in stands.lines},
        "gates": {name: _gate(d, asked.wall) for name, d in stands.every().items()},
        "goals": {g.goal: _goal(g) for g in asked.goals},
    }


def _gate(d: DrillStanding, wall: Wall) -> dict[str, Any]:
    return {
        "title": d.title,
        "line": d.line,
        "gate": d.gate,
        "origin": d.origin,
        "state": d.state.value,
        "fill": round(d.fill, 4),
        "open": d.open,
        "opens_with": why_not(d, wall),
        "waits": [w.sentence for w in d.waits],
        "missing": d.shortfall,
        "evidence": [{"day": b.day.isoformat(), "value": b.value, "n": b.n, "dial": dict(b.dial)} for b in d.evidence],
        "out_of_order": d.out_of_order,
        "waived": d.waiver.reason if d.waiver else None,
    }


def _goal(g: GoalStanding) -> dict[str, Any]:
    return {
        "title": g.title,
        "reached": g.reached,
        "path": [s.drill for s in g.path],
        "holding_pillar": g.holding,
        "because": list(g.because),
        "pillars": {p.pillar: {"share": round(p.share, 4), "weight": round(p.weight, 4)} for p in g.pillars},
        "work_on": [{"drill": s.drill, "why": s.sentence} for s in g.work_on],
        "closed": [{"drill": s.drill, "until": s.sentence} for s in g.closed],
        "stay_the_course": g.stay_the_course,
    }


def summary(found: Mapping[str, Any]) -> str:
    """Say the standing in a few lines for a reader."""
    lines = [f"{found['trainee'] or 'Trainee'} on {found['on']}"]
    for line, perch in found["perches"].items():
        lines.append(f"  {line}: {perch or 'the floor'}; ahead: {', '.join(found['ahead'][line]) or 'nothing'}")
    for goal in found["goals"].values():
        if goal["reached"]:
            lines.append(f"{goal['title']}: reached")
        else:
            lines.append(f"{goal['title']}: {goal['holding_pillar'] or 'nothing open'} holds it back; {len(goal['path'])} to go")
            lines += [f"  {step['drill']}: {step['why']}" for step in goal["work_on"][:3]]
    return "\n".join(lines)
