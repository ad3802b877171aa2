"""The trade content as data, read into the core's model and checked by it."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

from wise_perch.core.bench.sound_tests import find_test_faults as test_faults
from wise_perch.core.trade.checks import find_problems
from wise_perch.core.trade.content import Content
from wise_perch.core.trade.easing import Easing
from wise_perch.core.trade.file_lines import LineProblem
from wise_perch.core.trade.line_rules import LineRules
from wise_perch.core.trade.mechanics import Mechanics
from wise_perch.core.trade.own_tests import TestingWays
from wise_perch.core.trade.poses import Poses
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.schools import with_schools
from wise_perch.core.trade.session_rules import SessionRules
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.syllabus.files import HERE, INTAKE, SyllabusError, our_intake, parse_file, read_kind
from wise_perch.syllabus.reading import Document, Unreadable, parse, read
from wise_perch.syllabus.writing import write

FORMAT = "syllabus/1"


@dataclass(frozen=True)
class ReadContent:
    """A syllabus text as read: the content and the whole syllabus if it is sound, and every problem with its
    line.
    """

    content: Content | None
    syllabus: Syllabus | None
    problems: tuple[LineProblem, ...]


def read_text(text: str) -> ReadContent:
    """Read and check a syllabus written as one file, with our own tests and intake beside it."""
    try:
        document = parse(text)
    except Unreadable as error:
        return ReadContent(None, None, (LineProblem(error.line, error.what),))
    outcome = read(Content, _with_later_rules(document))
    content = outcome[0]
    if content is None:
        return ReadContent(None, None, tuple(outcome[1]))
    ours = built_in()
    made = replace(ours, version=version_of(text), content=content)
    faults = tuple(LineProblem(document.line(p.path), p.what) for p in find_problems(made))
    made = made if faults else made.with_own_tests()
    return ReadContent(content, None if faults else made, faults)


LATER: Mapping[str, tuple[str, ...]] = {
    "": (
        "growth",
        "open_sets",
        "failed",
        "standing_still",
        "first_hold_s",
        "touches_to_seconds",
        "short_hold_s",
        "short_tries",
        "short_tries_most",
        "keep_ahead_days",
        "retest_after_days",
        "main_drills",
        "main_share",
        "beside_share",
        "beside_least_s",
        "not_for_shy",
        "heavy_most",
        "days_by_pillar",
        "load_stops_at",
        "before",
        "habits",
        "stand_ins",
        "practice",
        "wrong_turns",
    ),
    "weights": ("keeps_due", "kept_again", "kept_days", "leading_absent"),
    "growth": ("last_held_begins", "last_held_step", "not_once_days", "left_for_days"),
    "standing_still": ("counts", "late_weeks"),
}
"""Session rules that came after coaches could keep copies of their own, by the part they stand in: a copy
without them has ours.
"""


def _with_later_rules(document: Document) -> Document:
    """The same document with the rules that were not there yet when it was written."""
    mine = document.raw.get("sessions") if isinstance(document.raw, dict) else None
    if not isinstance(mine, dict):
        return document
    ours = _our_sessions()
    filled = {**{key: ours[key] for key in LATER[""]}, **mine}
    for part in filter(None, LATER):
        if isinstance(filled.get(part), dict):
            filled[part] = {**{key: ours[part][key] for key in LATER[part]}, **filled[part]}
    return Document({**document.raw, "sessions": filled}, document.lines)


@cache
def _our_sessions() -> Mapping[str, Any]:
    return dict(parse_file(HERE / "session.yaml").raw)


def version_of(text: str) -> str:
    """The version of a text: the same for the same text."""
    return hashlib.sha256(text.encode()).hexdigest()[:12]


def load(folder: Path = HERE) -> Syllabus:
    """Read a syllabus folder: one YAML file a subject, and `lines/*.yaml` in name order.

    Raises: SyllabusError, naming every unknown key, wrong value, unknown drill, cycle or other fault.
    """
    paths = sorted((folder / "lines").glob("*.yaml"))
    parts = {
        "rules": "rules",
        "kit": "kit",
        "usual_doses": "doses",
        "faults": "faults",
        "goals": "goals",
        "schools": "schools",
    }
    files = {key: folder / f"{name}.yaml" for key, name in parts.items()}
    intake, levers, session, easing, poses, testing, line = (
        folder / f"{name}.yaml"
        for name in (INTAKE, "levers", "session", "easing", "poses", "own_tests", "line")
    )
    test_paths = sorted((folder / "tests").glob("*.yaml"))
    documents = {key: parse_file(path) for key, path in files.items()}
    line_documents = [parse_file(path) for path in paths]
    raw: dict[str, Any] = {
        "format": FORMAT,
        **{key: d.raw for key, d in documents.items()},
        "lines": [d.raw for d in line_documents],
    }

    def place(path: tuple[str | int, ...]) -> str:
        if path[:1] == ("lines",) and len(path) > 1:
            n = int(path[1])
            return f"{paths[n].name}: line {line_documents[n].line(path[2:])}"
        if path and path[0] in files:
            return f"{files[str(path[0])].name}: line {documents[str(path[0])].line(path[1:])}"
        return folder.name

    whole = Document(raw, {})
    content, found = _read_whole(whole, place)
    if content is None:
        raise SyllabusError("\n".join(found))
    alone = (intake, levers, session, easing, poses, testing, line)
    everything = b"".join(p.read_bytes() for p in [*paths, *files.values(), *test_paths, *alone])
    made = Syllabus(
        version=hashlib.sha256(everything).hexdigest()[:12],
        content=content,
        tests=_read_tests(test_paths),
        intake=our_intake(folder),
        mechanics=read_kind(Mechanics, levers),
        usual_sessions=read_kind(SessionRules, session),
        easing=read_kind(Easing, easing),
        poses=read_kind(Poses, poses),
        line_rules=read_kind(LineRules, line),
        testing=read_kind(TestingWays, testing),
    )
    if faults := find_problems(made):
        raise SyllabusError("\n".join(f"{place(p.path)}: {p.what}" for p in faults))
    return made


def _read_tests(paths: Sequence[Path]) -> Mapping[str, Test]:
    """Read the tests in the order a test day runs them, which is the order of their files."""
    tests = [read_kind(Test, path) for path in paths]
    if found := [what for test in tests for what in test_faults(test)]:
        raise SyllabusError("\n".join(found))
    return {test.test: test for test in tests}


def _read_whole(document: Document, place: Any) -> tuple[Content | None, list[str]]:
    """Read content gathered from several files; `place` names file and line of a path."""
    paths: dict[int, tuple[str | int, ...]] = {}
    spread = _Spread(document.raw, paths)
    outcome = read(Content, spread)
    return outcome[0], [f"{place(paths[p.line])}: {p.what}" for p in outcome[1]]


class _Spread(Document):
    """A document in several files: it gives every path a number of its own instead of a line."""

    def __init__(self, raw: Any, paths: dict[int, tuple[str | int, ...]]) -> None:
        super().__init__(raw, {})
        object.__setattr__(self, "paths", paths)

    def line(self, path: tuple[str | int, ...]) -> int:
        paths: dict[int, tuple[str | int, ...]] = self.paths  # type: ignore[attr-defined]
        paths[len(paths)] = path
        return len(paths) - 1


@cache
def built_in() -> Syllabus:
    """The syllabus that ships with the product, before any school is chosen: data of the installed version,
    alike for every worker.
    """
    return load()


@cache
def our_text() -> str:
    """Our content as one file."""
    return whole_text(built_in())


def whole_text(syllabus: Syllabus) -> str:
    """A syllabus as one file, with how sessions are built, whether that is the coach's own or ours."""
    return write(replace(syllabus.content, sessions=syllabus.sessions))


@lru_cache(maxsize=64)
def _syllabus_of_text(text: str) -> Syllabus:
    found = read_text(text)
    if found.syllabus is None:
        raise SyllabusError("\n".join(f"line {p.line}: {p.what}" for p in found.problems))
    return found.syllabus


def as_written(text: str) -> Syllabus:
    """A coach's own text, or ours where it is empty, before any school is laid over it."""
    return _syllabus_of_text(text) if text else built_in()


@lru_cache(maxsize=256)
def _syllabus_with_schools(text: str, choices: tuple[tuple[str, str], ...]) -> Syllabus:
    written = as_written(text)
    known = {q.question: {s.school for s in q.schools} for q in written.content.schools}
    # a choice that a later version no longer offers falls back to the usual school
    kept = {q: s for q, s in choices if s in known.get(q, set())}
    return with_schools(written, kept)


def in_use(*, text: str = "", schools: dict[str, str] | None = None) -> Syllabus:
    """The syllabus a trainee is judged by: a coach's own text (or ours), with schools laid over it.

    What is kept in memory is known by its whole content, so that no two workers can disagree on it.
    """
    return _syllabus_with_schools(text, tuple(sorted((schools or {}).items())))


def judged_by(schools: Mapping[str, str]) -> Syllabus:
    """Our syllabus with schools laid over it. Raises UnknownChoice for one that is not there."""
    return with_schools(built_in(), schools)
