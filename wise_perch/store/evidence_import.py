"""Evidence from a file into the store: all or nothing, and twice is once."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from uuid import UUID
from zoneinfo import ZoneInfo

from psycopg import Connection
from uuid_utils.compat import uuid7

from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.file_lines import EvidenceFile, EvidenceLine, LineProblem
from wise_perch.core.trainee.stored import KeptSet
from wise_perch.store import trainees
from wise_perch.store.cases import evidence_of_row
from wise_perch.store.evidence import SQL, evidence_row, keep_sets

NOON = time(12)


@dataclass(frozen=True, slots=True, kw_only=True)
class EvidencePlan:
    """What importing a file of evidence does, or did: new trainees by name, counts, and every problem by
    line.
    """

    new_trainees: tuple[str, ...]
    pieces: int
    already_kept: int
    problems: tuple[LineProblem, ...]
    note: str | None
    kept: bool


def same_key(p: Evidence) -> tuple[object, ...]:
    """What makes two pieces the same: all that was seen, and not how it was written down."""
    return (
        p.drill,
        p.day,
        p.measure,
        p.value,
        p.asked,
        p.n,
        p.mode,
        p.window_s,
        tuple(sorted(p.dial.items())),
        p.form,
        p.side,
        p.confidence,
        p.reason,
    )


def import_evidence(
    db: Connection,
    file: EvidenceFile,
    *,
    known: Mapping[str, Iterable[Evidence]],
    today: date,
    time_zone: str,
    keep: bool,
) -> EvidencePlan:
    """Check a file against what is known and, if `keep` and there is no problem, keep what is new.

    Args: `known` by lower-cased name, each trainee's evidence, recorded or worked out of test runs; `today`
    the coach's. A line that is known as often as the file says it counts as `already_kept`.
    """
    problems = list(file.problems)
    problems += [
        LineProblem(line.line, f"day {line.piece.day} lies in the future")
        for line in file.lines
        if line.piece.day > today
    ]
    there = {name: Counter(same_key(p) for p in pieces) for name, pieces in known.items()}
    fresh: list[EvidenceLine] = []
    for line in file.lines:
        counted = there.get(line.trainee.lower(), Counter())
        key = same_key(line.piece)
        if counted[key] > 0:
            counted[key] -= 1
        else:
            fresh.append(line)
    names = {
        line.trainee.lower(): line.trainee for line in reversed(fresh) if line.trainee.lower() not in known
    }
    if keep and not problems:
        ids = {
            lower: t.id
            for lower, t in trainees.by_names(db, sorted({line.trainee for line in fresh})).items()
        }
        for lower, name in names.items():
            ids[lower] = trainees.add(db, id=uuid7(), name=name, stepping_side=None, note="").id
        _keep_lines(db, fresh, ids, ZoneInfo(time_zone))
    return EvidencePlan(
        new_trainees=tuple(sorted(names.values())),
        pieces=len(fresh),
        already_kept=len(file.lines) - len(fresh),
        problems=tuple(sorted(problems, key=lambda p: p.line)),
        note=file.note,
        kept=keep and not problems,
    )


def _keep_lines(db: Connection, fresh: list[EvidenceLine], ids: Mapping[str, UUID], zone: ZoneInfo) -> None:
    rows = [
        evidence_row(_as_kept(line, zone), trainee=ids[line.trainee.lower()], source=line.source)
        for line in fresh
    ]
    keep_sets(db, rows)


def _as_kept(line: EvidenceLine, zone: ZoneInfo) -> KeptSet:
    p = line.piece
    return KeptSet(
        id=uuid7(),
        drill=p.drill,
        # a day without a time of day is kept at noon, which is the same day in the coach's own zone
        at=datetime.combine(p.day, NOON, zone).astimezone(UTC),
        measure=p.measure,
        value=p.value,
        asked=p.asked,
        n=p.n,
        mode=p.mode,
        window_s=p.window_s,
        form=p.form,
        side=p.side,
        confidence=p.confidence,
        dial=dict(p.dial),
        reason=p.reason,
        source="import",
        note=line.note,
        struck_at=None,
    )


def told_of_tests(
    db: Connection, trainees: Sequence[UUID], *, time_zone: str
) -> list[tuple[UUID, UUID, Evidence]]:
    """Give what files of evidence said of tests and still counts: whose, its id, and the piece."""
    found = db.execute(SQL["told_of_tests"], {"trainees": list(trainees), "time_zone": time_zone})
    return [(trainee, id, evidence_of_row(*columns)) for trainee, id, *columns in found]


def drop_pieces(db: Connection, ids: Sequence[UUID], *, moment: datetime) -> None:
    """Take out pieces that something else says by now."""
    db.execute(SQL["drop"], {"ids": list(ids), "moment": moment})
