"""Tries from a file into the store: all or nothing, and twice is once."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from psycopg import Connection
from psycopg.rows import dict_row
from uuid_utils.compat import uuid7

from wise_perch.core.trade.file_lines import LineProblem, TriesFile, TryLine
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trainee.stored import KeptTry
from wise_perch.store import trainees
from wise_perch.store.evidence import SQL, try_of

EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)

RunKey = tuple[str, str, str, datetime]
"""Trainee (in lower case), test, drill, start."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ImportPlan:
    """What importing a file does, or did: new trainees by name, counts, and every problem by line."""

    new_trainees: tuple[str, ...]
    runs: int
    tries: int
    already_kept: int
    problems: tuple[LineProblem, ...]
    note: str | None
    kept: bool


def hold_imports(db: Connection) -> None:
    """Let nobody else import for this coach until this transaction ends: what is known is read after it."""
    db.execute(SQL["hold_imports"])


@dataclass(frozen=True, slots=True)
class _KeptRun:
    id: UUID
    ended: bool
    tries: tuple[KeptTry, ...]


def import_tries(
    db: Connection, file: TriesFile, *, tests: Mapping[str, Test], time_zone: str, now: datetime, keep: bool
) -> ImportPlan:
    """Check a file against what is kept and, if `keep` and there is no problem, keep all of it.

    A moment without an offset is read in `time_zone`. A try that is kept already with the same figures counts
    as `already_kept`.
    """
    zone = ZoneInfo(time_zone)
    problems = list(file.problems)
    groups: dict[RunKey, list[TryLine]] = {}
    for line in file.lines:
        at = (line.started_at if line.started_at.tzinfo else line.started_at.replace(tzinfo=zone)).astimezone(
            UTC
        )
        if not EARLIEST <= at <= now:
            problems.append(
                LineProblem(
                    line.line, f"started_at {line.started_text} lies before the year 2000 or in the future"
                )
            )
            continue
        groups.setdefault((line.trainee.lower(), line.test, line.drill, at), []).append(line)
    known = trainees.by_names(db, sorted({key[0] for key in groups}))
    kept_runs = _kept_runs(db, {key: known[key[0]].id for key in groups if key[0] in known})
    fresh: dict[RunKey, list[TryLine]] = {}
    already = 0
    for key, lines in groups.items():
        if key in kept_runs:
            for line in lines:
                problem = _contradiction(kept_runs[key], line, tests)
                already += problem is None
                problems += [LineProblem(line.line, problem)] if problem else []
        else:
            problems += _named_twice(lines)
            fresh[key] = lines
    names = {key[0]: lines[0].trainee for key, lines in reversed(fresh.items()) if key[0] not in known}
    if keep and not problems:
        ids = {lower: t.id for lower, t in known.items()}
        for lower, name in names.items():
            ids[lower] = trainees.add(db, id=uuid7(), name=name, stepping_side=None, note="").id
        _keep_runs(db, fresh, ids, tests)
    return ImportPlan(
        new_trainees=tuple(sorted(names.values())),
        runs=len(fresh),
        tries=sum(len(lines) for lines in fresh.values()),
        already_kept=already,
        problems=tuple(sorted(problems, key=lambda p: p.line)),
        note=file.note,
        kept=keep and not problems,
    )


def _named_twice(lines: Sequence[TryLine]) -> list[LineProblem]:
    """Find numbers that two lines of one run share, though they write its name or moment differently."""
    seen: set[int] = set()
    found = []
    for line in lines:
        if line.tried.number in seen:
            found.append(LineProblem(line.line, f"try {line.tried.number} of this run stands twice"))
        seen.add(line.tried.number)
    return found


def _kept_runs(db: Connection, wanted: dict[RunKey, UUID]) -> dict[RunKey, _KeptRun]:
    if not wanted:
        return {}
    keys = {(trainee, *key[1:]): key for key, trainee in wanted.items()}
    columns = list(zip(*keys, strict=True))
    values = dict(zip(("trainees", "tests", "subjects", "moments"), map(list, columns), strict=True))
    with db.cursor(row_factory=dict_row) as cursor:
        runs = cursor.execute(SQL["runs_at"], values).fetchall()
        tries: dict[UUID, list[KeptTry]] = {run["id"]: [] for run in runs}
        for row in cursor.execute(SQL["tries"], {"runs": list(tries)}):
            tries[row["run"]].append(try_of(row))
    named = {run["id"]: keys[run["trainee"], run["test"], run["subject"], run["started_at"]] for run in runs}
    return {named[run["id"]]: _KeptRun(run["id"], run["ended"], tuple(tries[run["id"]])) for run in runs}


def _contradiction(run: _KeptRun, line: TryLine, tests: Mapping[str, Test]) -> str | None:
    """Say what keeps a line out of a run that is there already; None if the very same try is kept."""
    if not run.ended:
        return "this run is still going on the Bench; end it there first"
    same = [t for t in run.tries if t.number == line.tried.number]
    if any(t.as_try() == line.tried and t.note == line.note for t in same):
        return None
    if same:
        kept = same[-1]
        figure = f" {kept.value:g} {tests[line.test].mode(kept.mode).unit}" if kept.value is not None else ""
        return f"try {kept.number} of this run is kept already, as {kept.outcome}{figure}"
    return f"this run is kept already, with {len(run.tries)} tries, and closed"


def _keep_runs(
    db: Connection, fresh: dict[RunKey, list[TryLine]], ids: dict[str, UUID], tests: Mapping[str, Test]
) -> None:
    runs = {key: uuid7() for key in fresh}
    if not runs:
        return
    db.execute(
        SQL["import_runs"],
        {
            "ids": list(runs.values()),
            "trainees": [ids[key[0]] for key in runs],
            "tests": [key[1] for key in runs],
            "subjects": [key[2] for key in runs],
            "moments": [key[3] for key in runs],
            "rests": [round(tests[key[1]].rest_usual_s.value) for key in runs],
            "dials": [json.dumps(lines[0].dial) for lines in fresh.values()],
            "confidences": [lines[0].confidence for lines in fresh.values()],
        },
    )
    rows = [
        (key, line, tests[line.test].mode(line.tried.mode)) for key, lines in fresh.items() for line in lines
    ]
    db.execute(
        SQL["import_tries"],
        {
            "ids": [uuid7() for _ in rows],
            "trainees": [ids[key[0]] for key, _, _ in rows],
            "runs": [runs[key] for key, _, _ in rows],
            "numbers": [line.tried.number for _, line, _ in rows],
            "moments": [key[3] for key, _, _ in rows],
            "outcomes": [line.tried.outcome for _, line, _ in rows],
            "fells": [line.tried.fell for _, line, _ in rows],
            "measures": [mode.measure for _, _, mode in rows],
            "values": [line.tried.value for _, line, _ in rows],
            "units": [mode.unit for _, _, mode in rows],
            "modes": [line.tried.mode or None for _, line, _ in rows],
            "windows": [mode.window_s.value if mode.window_s else None for _, _, mode in rows],
            "levels": [line.tried.level for _, line, _ in rows],
            "sides": [line.tried.side for _, line, _ in rows],
            "forms": [line.tried.form for _, line, _ in rows],
            "notes": [line.note for _, line, _ in rows],
        },
    )
