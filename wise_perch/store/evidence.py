"""Test runs with their tries, and recorded sets of drills."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb

from wise_perch.core.evidence import MEASURE_UNITS, Evidence, Fell, Form, Measure, Outcome, Side, Try
from wise_perch.core.matters import OpenRun, PainReport
from wise_perch.core.records import ExportedEvidence, ExportedTry, KeptSet, KeptTry, Run, RunEnd, Source
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("evidence")


def try_of(row: dict[str, Any]) -> KeptTry:
    """Read a row of the statement `tries`."""
    fell, form = row["fell"], row["form"]
    typed: dict[str, Any] = {"outcome": Outcome(row["outcome"]), "fell": Fell(fell) if fell else None, "form": Form(form) if form else None}
    return KeptTry(**{key: value for key, value in row.items() if key not in ("run", *typed)}, **typed)


def _set(row: dict[str, Any]) -> KeptSet:
    typed: dict[str, Any] = {"measure": Measure(row["measure"]), "form": Form(row["form"]), "side": Side(row["side"]) if row["side"] else None}
    return KeptSet(**{key: value for key, value in row.items() if key not in ("trainee", *typed)}, **typed)


def start_run(db: Connection, *, id: UUID, trainee: UUID, test: str, started_at: datetime, rest_s: int, room: str, source: Source) -> Run:
    """Start a run; sending the same again changes nothing. Raises Conflict if the id stands for another run."""
    db.execute(
        SQL["start_run"],
        {"id": id, "trainee": trainee, "test": test, "started_at": started_at, "rest_s": rest_s, "room": room, "source": source},
    )
    kept = run(db, id)
    if (kept.trainee, kept.test, kept.started_at) != (trainee, test, started_at):
        raise Conflict("This id already stands for another run.")
    return kept


def run(db: Connection, id: UUID) -> Run:
    """Give one run with its tries. Raises NotFound for an unknown id or another coach's."""
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["run"], {"run": id}).fetchone()
    if row is None:
        raise NotFound("There is no such test run.")
    return _with_tries(db, [row])[0]


def runs(db: Connection, trainee: UUID, *, most: int) -> list[Run]:
    """Give the newest runs of a trainee, at most `most`, newest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        return _with_tries(db, cursor.execute(SQL["runs"], {"trainee": trainee, "most": most}).fetchall())


def _with_tries(db: Connection, rows: list[dict[str, Any]]) -> list[Run]:
    tries: dict[UUID, list[KeptTry]] = defaultdict(list)
    with db.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(SQL["tries"], {"runs": [r["id"] for r in rows]}):
            tries[row["run"]].append(try_of(row))
    return [Run(**row, tries=tuple(tries[row["id"]])) for row in rows]


def end_run(db: Connection, *, run_id: UUID, ended_at: datetime, ended_as: RunEnd, pain_joint: str | None, pain_level: int | None) -> Run:
    """End a run; ending it the same way again changes nothing. Raises Conflict if it ended another way."""
    values = {"run": run_id, "ended_at": ended_at, "ended_as": ended_as, "pain_joint": pain_joint, "pain_level": pain_level}
    db.execute(SQL["end_run"], values)
    kept = run(db, run_id)
    if (kept.ended_as, kept.pain_joint, kept.pain_level) != (ended_as, pain_joint, pain_level):
        raise Conflict(f"This run is closed already: it was {kept.ended_as}.")
    return kept


def try_values(run_id: UUID, kept: KeptTry) -> dict[str, Any]:
    """Give the values of the statement `add_try`."""
    return {
        "id": kept.id,
        "run": run_id,
        "number": kept.number,
        "at": kept.at,
        "outcome": kept.outcome,
        "fell": kept.fell,
        "seconds": kept.seconds,
        "form": kept.form,
        "early": kept.early,
        "note": kept.note,
    }


def add_try(db: Connection, *, run_id: UUID, kept: KeptTry) -> None:
    """Keep one try of an open run; sending the same again changes nothing.

    Raises: NotFound for an unknown run; Conflict for a closed run, a taken number or an id that stands for another try.
    """
    values = try_values(run_id, kept)
    if db.execute(SQL["add_try"], values).rowcount == 1:
        return
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["try_by_id"], {"id": kept.id}).fetchone()
    if row is None:
        run(db, run_id)  # says NotFound if that is the reason
        raise Conflict("This run is closed; it takes no more tries.")
    there = {key: row[key] for key in values}
    if there != values:
        raise Conflict("This id already stands for another try.")


def strike(db: Connection, *, id: UUID, moment: datetime | None) -> None:
    """Strike out a try or set at `moment`, or bring it back (None). Raises NotFound."""
    done = db.execute(SQL["strike"], {"id": id, "moment": moment}) if moment else db.execute(SQL["restore"], {"id": id})
    if done.rowcount == 0:
        raise NotFound("There is no such try or set.")


def add_set(db: Connection, *, trainee: UUID, kept: KeptSet) -> None:
    """Keep one set of a drill; sending the same again changes nothing. Raises Conflict if the id stands for another set."""
    values = {
        **{
            name: getattr(kept, name)
            for name in ("id", "drill", "at", "measure", "value", "n", "mode", "window_s", "form", "side", "confidence", "source", "note")
        },
        "dial": Jsonb(kept.dial),
        "trainee": trainee,
        "unit": MEASURE_UNITS[kept.measure],
    }
    if db.execute(SQL["add_set"], values).rowcount == 1:
        return
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["set_by_id"], {"id": kept.id}).fetchone()
    if row is None or row["trainee"] != trainee or (row["drill"], row["value"], row["at"]) != (kept.drill, kept.value, kept.at):
        raise Conflict("This id already stands for another set.")


def sets(db: Connection, trainee: UUID, drill: str, *, most: int) -> list[KeptSet]:
    """Give the newest sets of one drill, struck-out ones too."""
    with db.cursor(row_factory=dict_row) as cursor:
        return [_set(row) for row in cursor.execute(SQL["sets"], {"trainee": trainee, "drill": drill, "most": most})]


def for_standing(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, list[Evidence]]:
    """Give every set that counts, of each of these trainees."""
    found: dict[UUID, list[Evidence]] = defaultdict(list)
    for trainee, drill, day, measure, value, n, form, side, mode, window_s, confidence, dial in db.execute(
        SQL["for_standing"], {"trainees": list(trainees), "time_zone": time_zone}
    ):
        found[trainee].append(
            Evidence(
                drill=drill,
                day=day,
                measure=Measure(measure),
                value=value,
                n=n,
                form=Form(form),
                side=Side(side) if side else None,
                mode=mode,
                window_s=window_s,
                confidence=confidence,
                dial=dial,
            )
        )
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class EndedRun:
    """The tries that count in one ended run, and the coach's calendar day it was started on."""

    run: UUID
    test: str
    day: date
    tries: tuple[Try, ...]


def ended_runs(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, list[EndedRun]]:
    """Give every ended run with at least one try, oldest first, of each of these trainees."""
    grouped: dict[tuple[UUID, UUID, str, date], list[Try]] = defaultdict(list)
    with db.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(SQL["ended_tries"], {"trainees": list(trainees), "time_zone": time_zone}):
            fell, form = row["fell"], row["form"]
            grouped[row["trainee"], row["run"], row["test"], row["day"]].append(
                Try(
                    number=row["number"],
                    outcome=Outcome(row["outcome"]),
                    seconds=row["seconds"],
                    fell=Fell(fell) if fell else None,
                    form=Form(form) if form else None,
                )
            )
    found: dict[UUID, list[EndedRun]] = defaultdict(list)
    for (trainee, id, test, day), tries in grouped.items():
        found[trainee].append(EndedRun(run=id, test=test, day=day, tries=tuple(tries)))
    return found


def open_runs(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, OpenRun]:
    """Give the newest open run of each of these trainees that has one."""
    rows = db.execute(SQL["open_runs"], {"trainees": list(trainees), "time_zone": time_zone})
    return {trainee: OpenRun(run=str(id), day=day, tries=tries) for trainee, id, day, tries in rows}


def pains(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, PainReport]:
    """Give the newest report of pain of each of these trainees that has one."""
    rows = db.execute(SQL["pains"], {"trainees": list(trainees), "time_zone": time_zone})
    return {trainee: PainReport(day=day, joint=joint, level=level) for trainee, day, joint, level in rows}


def every_try(db: Connection, *, trainee: UUID | None) -> Iterable[ExportedTry]:
    """Give every try that counts, of all trainees or of one."""
    with db.cursor(row_factory=class_row(ExportedTry)) as cursor:
        return cursor.execute(SQL["every_try"], {"trainee": trainee}).fetchall()


def every_set(db: Connection, *, trainee: UUID | None, time_zone: str) -> list[ExportedEvidence]:
    """Give every set that counts, of all trainees or of one, in the order they were made."""
    with db.cursor(row_factory=class_row(ExportedEvidence)) as cursor:
        return cursor.execute(SQL["every_set"], {"trainee": trainee, "time_zone": time_zone}).fetchall()
