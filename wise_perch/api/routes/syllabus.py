"""The syllabus: to browse, to make one's own with checks and a preview, its versions, and YAML in and out."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from uuid import UUID

from fastapi import APIRouter, Response, UploadFile
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, load_cases, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import NewId, Note
from wise_perch.api.members import Owning, SignedIn
from wise_perch.core.trade.content import Content
from wise_perch.core.trade.drill_words import LABELS, DrillWords, say_content
from wise_perch.core.trade.edits import Edit, EditRefused, with_edits
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.file_lines import LineProblem
from wise_perch.core.trade.gaps import Gap, find_gaps
from wise_perch.core.trade.own_tests import TestingWays
from wise_perch.core.trade.schools import Difference, compare_contents
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import judge_case
from wise_perch.core.trainee.changes import WallChange, find_effects
from wise_perch.core.trainee.pillars import PILLAR_WORDS
from wise_perch.core.trainee.stored import SyllabusVersion
from wise_perch.store import syllabi, trainees
from wise_perch.store.pool import transaction
from wise_perch.syllabus.shipped import ReadContent, built_in, read_text, whole_text
from wise_perch.syllabus.writing import write

router = APIRouter(prefix="/syllabus", tags=["syllabus"])
MOST_EDITS, PROBLEMS_NAMED = 200, 100
YAML = "application/yaml"


@dataclass(frozen=True, kw_only=True)
class OurTest:
    """One of the tests that ship, as a list names it."""

    test: str
    title: str
    about: str


@dataclass(frozen=True, kw_only=True)
class SyllabusPage:
    """The coach's syllabus as written, before any school: content, gaps between rungs, versions, what each
    pillar is called. `tests`: ours; `testing`: the ways of a test of one's own, `measures` what one may
    measure.
    """

    own: bool
    version: UUID | None
    content: Content
    words: dict[str, DrillWords]
    gaps: tuple[Gap, ...]
    pillars: dict[str, str]
    versions: tuple[SyllabusVersion, ...]
    schools: dict[str, str]
    tests: tuple[OurTest, ...]
    testing: TestingWays
    measures: dict[str, str]


class Edits(BaseModel):
    """Edits on the syllabus in use, made one after the other."""

    model_config = ConfigDict(extra="forbid")
    edits: list[Edit] = Field(max_length=MOST_EDITS)


class NewVersion(Edits):
    """Edits to keep as a version. `base`: the version they were made on, None for ours."""

    id: NewId
    base: UUID | None
    note: Note = ""


class GoBack(BaseModel):
    """Use an earlier version again, or ours (None). It becomes a new version, so that nothing is lost.
    `base`: the version in use as it was looked at, None for ours.
    """

    model_config = ConfigDict(extra="forbid")
    id: NewId
    base: UUID | None
    to: UUID | None


@dataclass(frozen=True, kw_only=True)
class TraineeEffects:
    """What a changed syllabus makes of one trainee's evidence."""

    trainee: UUID
    name: str
    changes: tuple[WallChange, ...]


@dataclass(frozen=True, kw_only=True)
class SyllabusTrial:
    """A syllabus tried out and not kept: every problem with its line, gaps, and what changes for which
    trainees.

    `content` and `effects` stand only where there is no problem, `effects` only where they were asked for;
    `excerpts` repeats the lines that problems name.
    """

    problems: tuple[LineProblem, ...]
    excerpts: dict[int, str]
    content: Content | None
    words: dict[str, DrillWords]
    gaps: tuple[Gap, ...]
    effects: tuple[TraineeEffects, ...]
    kept: bool


def write_edits(house: House, edits: Sequence[Edit]) -> str:
    """The syllabus as written with edits made, as a text. Raises Refused (422) for an edit that cannot be."""
    try:
        text = write(with_edits(house.syllabus_as_written.content, edits))
        text.encode()
    except EditRefused as error:
        raise Refused(422, str(error)) from error
    except UnicodeEncodeError as error:
        raise Refused(422, "A text holds half a character.") from error
    return text


def _try_text(
    db: Connection, house: House, text: str, read: ReadContent, *, effects: bool, kept: bool = False
) -> SyllabusTrial:
    rows = text.splitlines()
    problems = read.problems[:PROBLEMS_NAMED]
    return SyllabusTrial(
        problems=problems,
        excerpts={p.line: rows[p.line - 1].strip()[:200] for p in problems if 0 < p.line <= len(rows)},
        content=read.content,
        words=say_content(read.content) if read.content else {},
        gaps=find_gaps(read.syllabus) if read.syllabus else (),
        effects=_find_effects(db, house, House(house.coach, house.hall, text, house.kit))
        if effects and read.syllabus
        else (),
        kept=kept,
    )


def _find_effects(db: Connection, before: House, after: House) -> tuple[TraineeEffects, ...]:
    """Judge every trainee by both syllabuses; those for whom nothing changes are left out."""
    loaded, found = load_cases(db, [t.id for t in trainees.every(db)], before, on=before.today), []
    for id, one in loaded.items():
        schools = one.case.arrangement.schools
        was, now = (
            judge_case(replace(one.case, syllabus=house.by(schools))).standing for house in (before, after)
        )
        if changes := find_effects(was, now):
            found.append(TraineeEffects(trainee=id, name=one.trainee.name, changes=tuple(changes)))
    return tuple(sorted(found, key=lambda t: t.name.lower()))


@router.get("")
def syllabus_page(app: TheApp, member: SignedIn) -> SyllabusPage:
    """The syllabus in use, as it is written."""
    with transaction(app.pool, member=member) as db:
        house, versions = load_house(db), tuple(syllabi.every(db))
    written = house.syllabus_as_written
    return SyllabusPage(
        own=bool(house.text),
        version=versions[0].id if versions else None,
        content=written.content,
        words=say_content(written.content),
        gaps=find_gaps(written),
        pillars={str(pillar): words for pillar, words in PILLAR_WORDS.items()},
        versions=versions,
        schools=house.coach.schools,
        tests=tuple(OurTest(test=t.test, title=t.title, about=t.about) for t in built_in().tests.values()),
        testing=written.testing,
        measures={m.value: LABELS[m] for m in Measure},
    )


@router.post("/try")
def try_syllabus(wanted: Edits, app: TheApp, member: SignedIn, effects: bool = True) -> SyllabusTrial:
    """Try edits without keeping them: checks with lines, gaps, and (unless not asked for) what changes for
    which trainees.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        text = write_edits(house, wanted.edits)
        return _try_text(db, house, text, read_text(text), effects=effects)


@router.post("/versions", status_code=201)
def keep_syllabus(new: NewVersion, app: TheApp, member: Owning) -> dict[str, UUID]:
    """Keep edits as a version, which is in use from now on; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        if _already_kept(db, new.id, base=new.base):
            return {"id": new.id}
        text = write_edits(load_house(db), new.edits)
        _refuse_unsound(text)
        syllabi.add(db, id=new.id, at=datetime.now(UTC), text=text, note=new.note)
    return {"id": new.id}


def _already_kept(db: Connection, id: UUID, *, base: UUID | None) -> bool:
    """Whether a version was kept already. Nobody else changes the syllabus until this transaction ends.
    Raises Refused (409), with what differs, where another version than `base` is in use.
    """
    syllabi.hold(db)
    versions = syllabi.every(db)
    if any(v.id == id for v in versions):
        return True
    used = versions[0].id if versions else None
    if used == base:
        return False
    before = _read_kept(syllabi.one(db, base).text) if base else built_in()
    now = _read_kept(syllabi.one(db, used).text) if used else built_in()
    named = [
        {"where": f"{d.title}, {d.part}", "what": f"{d.before or 'nothing'} became {d.after or 'nothing'}"}
        for d in compare_contents(before.content, now.content)[:PROBLEMS_NAMED]
    ]
    raise Refused(
        409,
        "The syllabus was changed elsewhere meanwhile, as it says here. Nothing of yours is lost: look at it,"
        " then do it again.",
        problems=named,
    )


def _refuse_unsound(text: str) -> None:
    problems = read_text(text).problems
    if problems:
        named = [{"where": f"line {p.line}", "what": p.what} for p in problems[:PROBLEMS_NAMED]]
        raise Refused(422, f"Nothing was kept: {problems[0].what}", problems=named)


@router.post("/go-back", status_code=201)
def go_back_in_syllabus(wanted: GoBack, app: TheApp, member: Owning) -> dict[str, UUID]:
    """Use an earlier version, or ours, again."""
    with transaction(app.pool, member=member) as db:
        if _already_kept(db, wanted.id, base=wanted.base):
            return {"id": wanted.id}
        earlier = syllabi.one(db, wanted.to) if wanted.to else None
        if earlier and earlier.text:
            _refuse_unsound(earlier.text)
        note = f"Back to the version of {earlier.at:%d %b %Y, %H:%M} UTC" if earlier else "Back to ours"
        syllabi.add(db, id=wanted.id, at=datetime.now(UTC), text=earlier.text if earlier else "", note=note)
    return {"id": wanted.id}


@router.get("/compare")
def compare_syllabus(app: TheApp, member: SignedIn, version: UUID | None = None) -> list[Difference]:
    """In what the syllabus in use differs from ours, or from an earlier version."""
    with transaction(app.pool, member=member) as db:
        now, text = load_house(db).syllabus_as_written, syllabi.one(db, version).text if version else ""
    return list(compare_contents(_read_kept(text).content, now.content))


def _read_kept(text: str) -> Syllabus:
    if not text:
        return built_in()
    read = read_text(text)
    if read.syllabus is None:
        raise Refused(409, "That version can no longer be read by this product.")
    return read.syllabus


@router.get(".yaml", response_class=Response, responses={200: {"content": {YAML: {}}}})
def export_syllabus(app: TheApp, member: SignedIn) -> Response:
    """The syllabus in use as YAML."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        name = f"syllabus-{house.today}.yaml"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(
        whole_text(house.syllabus_as_written).encode(), media_type=f"{YAML}; charset=utf-8", headers=headers
    )


@router.post(".yaml")
def import_syllabus(
    file: UploadFile, app: TheApp, member: Owning, keep: UUID | None = None, base: UUID | None = None
) -> SyllabusTrial:
    """Read a syllabus from YAML: without `keep` only say what would happen; `keep` is the id of the new
    version, `base` the version in use as it was looked at, none for ours.
    """
    try:
        text = file.file.read().decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Refused(422, "This is no UTF-8 text.") from error
    read = read_text(text)
    if keep is not None and keep.version != 7:
        raise Refused(422, "The id of a version is a UUID of version 7.")
    with transaction(app.pool, member=member) as db:
        kept = keep is not None and read.syllabus is not None
        if kept and keep:
            _already_kept(db, keep, base=base)
        house = load_house(db)
        found = _try_text(db, house, text, read, effects=True, kept=kept)
        if kept and keep:
            # what was read is written in our own order, so that lines and comments of any editor do no harm
            syllabi.add(
                db,
                id=keep,
                at=datetime.now(UTC),
                text=write(read.content) if read.content else "",
                note=f"From {file.filename or 'a file'}"[:200],
            )
    return found
