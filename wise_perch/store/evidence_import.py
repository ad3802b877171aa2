"""Evidence from a file into the store: all or nothing, and twice is once."""

import json
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from uuid import UUID
from zoneinfo import ZoneInfo

from psycopg import Connection
from uuid_utils.compat import uuid7

from wise_perch.core.trade.evidence import MEASURE_UNITS, Evidence
from wise_perch.core.trade.file_lines import EvidenceFile, EvidenceLine, LineProblem
from wise_perch.store import trainees
from wise_perch.store.evidence import SQL

NOON = time(12)


@dataclass(frozen=True, slots=True, kw_only=True)
class EvidencePlan:
    """What importing a file of evidence does, or did: new trainees by name, counts, and every problem by line."""

    new_trainees: tuple[str, ...]
    pieces: int
    already_kept: int
    problems: tuple[LineProblem, ...]
    note: str | None
    kept: bool


def _key(p: Evidence) -> tuple[object, ...]:
    """What makes two pieces the same: all that was seen, and not how it was written down."""
    return (p.drill, p.day, p.measure, p.value, p.n, p.mode, p.window_s, tuple(sorted(p.dial.items())), p.form, p.side, p.confidence)


def import_evidence(
    db: Connection, file: EvidenceFile, *, known: Mapping[str, Iterable[Evidence]], today: date, time_zone: str, keep: bool
) -> EvidencePlan:
    """Check a file against what is known and, if `keep` and there is no problem, keep what is new.

    Args: `known` by lower-cased name, each trainee's evidence, recorded or worked out of test runs; `today` the coach's.
    A line that is known as often as the file says it counts as `already_kept`.
    """
    problems = list(file.problems)
    problems += [LineProblem(line.line, f"day {line.piece.day} lies in the future") for line in file.lines if line.piece.day > today]
    there = {name: Counter(_key(p) for p in pieces) for name, pieces in known.items()}
    fresh: list[EvidenceLine] = []
    for line in file.lines:
        counted = there.get(line.trainee.lower(), Counter())
        key = _key(line.piece)
        if counted[key] > 0:
            counted[key] -= 1
        else:
            fresh.append(line)
    names = {line.trainee.lower(): line.trainee for line in reversed(fresh) if line.trainee.lower() not in known}
    if keep and not problems:
        ids = {lower: t.id for lower, t in trainees.by_names(db, sorted({line.trainee for line in fresh})).items()}
        for lower, name in names.items():
            ids[lower] = trainees.add(db, id=uuid7(), name=name, stepping_side=None, note="").id
        _keep(db, fresh, ids, ZoneInfo(time_zone))
    return EvidencePlan(
        new_trainees=tuple(sorted(names.values())),
        pieces=len(fresh),
        already_kept=len(file.lines) - len(fresh),
        problems=tuple(sorted(problems, key=lambda p: p.line)),
        note=file.note,
        kept=keep and not problems,
    )


def _keep(db: Connection, fresh: list[EvidenceLine], ids: Mapping[str, UUID], zone: ZoneInfo) -> None:
    if not fresh:
        return
    pieces = [line.piece for line in fresh]
    db.execute(
        SQL["import_sets"],
        {
            "ids": [uuid7() for _ in fresh],
            "trainees": [ids[line.trainee.lower()] for line in fresh],
            # a day without a time of day is kept at noon, which is the same day in the coach's own zone
            "moments": [datetime.combine(p.day, NOON, zone).astimezone(UTC) for p in pieces],
            "drills": [p.drill for p in pieces],
            "measures": [p.measure for p in pieces],
            "values": [p.value for p in pieces],
            "ns": [p.n for p in pieces],
            "units": [MEASURE_UNITS[p.measure] for p in pieces],
            "modes": [p.mode for p in pieces],
            "windows": [p.window_s for p in pieces],
            "forms": [p.form for p in pieces],
            "sides": [p.side for p in pieces],
            "confidences": [p.confidence for p in pieces],
            "dials": [json.dumps(dict(p.dial)) for p in pieces],
            "sources": [line.source for line in fresh],
            "notes": [line.note for line in fresh],
        },
    )
