"""Test runs with their tries, and recorded sets of drills."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.trade.evidence import MEASURE_UNITS, Evidence, Fell, Form, Measure, Side, Try
from wise_perch.core.trade.protocol import Mode
from wise_perch.core.trainee.stored import ExportedEvidence, ExportedTry, KeptSet, KeptTry, Run, RunEnd, Source
from wise_perch.core.trainee.to_decide import OpenRun, PainReport
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("evidence")


SHEET = TypeAdapter(Sheet)


def _typed_try(row: dict[str, Any]) -> dict[str, Any]:
    fell, form, side = row["fell"], row["form"], row["side"]
    return {"fell": Fell(fell) if fell else None, "form": Form(form) if form else None, "side": Side(side) if side else None}


def try_of(row: dict[str, Any]) -> KeptTry:
    """Read a row of the statement `tries`."""
    typed = _typed_try(row)
    return KeptTry(**{key: value for key, value in row.items() if key not in ("run", *typed)}, **typed)


def _set(row: dict[str, Any]) -> KeptSet:
    typed: dict[str, Any] = {"measure": Measure(row["measure"]), "form": Form(row["form"]), "side": Side(row["side"]) if row["side"] else None}
    return KeptSet(**{key: value for key, value in row.items() if key not in ("trainee", *typed)}, **typed)


def start_run(
    db: Connection,
    *,
    id: UUID,
    trainee: UUID,
    test: str,
    started_at: datetime,
    rest_s: int,
    room: str,
    source: Source,
    subject: str = "",
    dial: Mapping[str, float] | None = None,
    sheet: Sheet | None = None,
    test_day: UUID | None = None,
) -> Run:
    """Start a run; sending the same again changes nothing. Raises Conflict if the id stands for another run."""
    db.execute(
        SQL["start_run"],
        {
            **{"id": id, "trainee": trainee, "test": test, "subject": subject, "started_at": started_at, "rest_s": rest_s, "room": room},
            **{"source": source, "dial": Jsonb(dict(dial or {})), "test_day": test_day},
            "sheet": None if sheet is None else Jsonb(SHEET.dump_python(sheet, mode="json", exclude_defaults=True)),
        },
    )
    kept = run(db, id)
    if (kept.trainee, kept.test, kept.subject, kept.started_at) != (trainee, test, subject, started_at):
        raise Conflict("This id already stands for another run.")
    return kept


def sheet(db: Connection, run_id: UUID) -> Sheet | None:
    """Give the sheet a run follows; None for one that came from a file or from before there were sheets."""
    row = db.execute(SQL["sheet"], {"run": run_id}).fetchone()
    return SHEET.validate_python(row[0], strict=False) if row and row[0] else None


def last_rest(db: Connection, test: str) -> int | None:
    """Give the rest that was chosen for a test the last time, s."""
    row = db.execute(SQL["last_rest"], {"test": test}).fetchone()
    return row[0] if row else None


def runs_of_test(db: Connection, trainee: UUID, *, test: str, subject: str, most: int) -> list[Run]:
    """Give the newest runs of one test of a trainee, newest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        values = {"trainee": trainee, "test": test, "subject": subject, "most": most}
        return _with_tries(db, cursor.execute(SQL["runs_of_test"], values).fetchall())


def runs_of_day(db: Connection, test_day: UUID) -> list[Run]:
    """Give every run of a test day, oldest first."""
    with db.cursor(row_factory=dict_row) as cursor:
        return _with_tries(db, cursor.execute(SQL["day_runs"], {"test_day": test_day}).fetchall())


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


def end_run(
    db: Connection,
    *,
    run_id: UUID,
    ended_at: datetime,
    ended_as: RunEnd,
    pain_joint: str | None,
    pain_level: int | None,
    confidence: int | None = None,
) -> Run:
    """End a run; ending it the same way again changes nothing. Raises Conflict if it ended another way."""
    values = {"run": run_id, "ended_at": ended_at, "ended_as": ended_as, "pain_joint": pain_joint, "pain_level": pain_level, "confidence": confidence}
    db.execute(SQL["end_run"], values)
    kept = run(db, run_id)
    if (kept.ended_as, kept.pain_joint, kept.pain_level) != (ended_as, pain_joint, pain_level):
        raise Conflict(f"This run is closed already: it was {kept.ended_as}.")
    return kept


def try_values(run_id: UUID, kept: KeptTry, *, test: str, mode: Mode) -> dict[str, Any]:
    """Give the values of the statements `add_try` and `correct_try`; `mode` says what the try's figure measures."""
    names = ("id", "number", "at", "outcome", "fell", "value", "level", "side", "form", "early", "note", "replaces")
    return {
        **{name: getattr(kept, name) for name in names},
        **{"run": run_id, "test": test, "mode": kept.mode or None, "measure": mode.measure, "unit": mode.unit},
        "window_s": mode.window_s.value if mode.window_s else None,
    }


def _same_try(db: Connection, run_id: UUID, kept: KeptTry) -> bool | None:
    """Say whether this very try is kept already; None if its id is not known."""
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["try_by_id"], {"id": kept.id}).fetchone()
    if row is None:
        return None
    there = try_of(row)
    return bool(row["run"] == run_id and there.as_try() == kept.as_try() and (there.at, there.note, there.early) == (kept.at, kept.note, kept.early))


def add_try(db: Connection, *, run_id: UUID, kept: KeptTry, test: str, mode: Mode) -> None:
    """Keep one try of an open run of a test; sending the same again changes nothing.

    Raises: NotFound for an unknown run; Conflict for a closed run, a taken number or an id that stands for another try.
    """
    if db.execute(SQL["add_try"], try_values(run_id, kept, test=test, mode=mode)).rowcount == 1:
        return
    same = _same_try(db, run_id, kept)
    if same is None:
        there = run(db, run_id)  # says NotFound if that is the reason
        raise Conflict("This run is closed; it takes no more tries." if there.test == test else f"This run is one of {there.test}.")
    if not same:
        raise Conflict("This id already stands for another try.")


def correct_try(db: Connection, *, run_id: UUID, kept: KeptTry, test: str, mode: Mode, moment: datetime) -> None:
    """Keep a try in place of the one it `replaces`, which is struck out and stays; sending the same again changes nothing.

    Raises: NotFound for an unknown try; Conflict for one that was taken back or corrected already, or a known id.
    """
    known = _same_try(db, run_id, kept)
    if known is not None:
        if not known:
            raise Conflict("This id already stands for another try.")
        return
    old = {"id": kept.replaces, "run": run_id, "moment": moment}
    if db.execute(SQL["strike_try"], old).rowcount == 0:
        if not any(t.id == kept.replaces for t in run(db, run_id).tries):
            raise NotFound("There is no such try.")
        raise Conflict("This try was taken back or corrected already. Look at the run again.")
    db.execute(SQL["correct_try"], try_values(run_id, kept, test=test, mode=mode))


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
    for trainee, *columns in db.execute(SQL["for_standing"], {"trainees": list(trainees), "time_zone": time_zone}):
        found[trainee].append(_evidence(*columns))
    return found


def _evidence(
    drill: str,
    day: date,
    measure: str,
    value: float,
    n: int | None,
    form: str,
    side: str | None,
    mode: str | None,
    window_s: float | None,
    confidence: int | None,
    dial: dict[str, float],
) -> Evidence:
    return Evidence(
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


def of_session(db: Connection, session: UUID, *, time_zone: str) -> list[Evidence]:
    """Give what a session came to as sets."""
    return [_evidence(*columns) for columns in db.execute(SQL["of_session"], {"session": session, "time_zone": time_zone})]


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


def ended_runs(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, list[EndedRun]]:
    """Give every ended run with at least one try, oldest first, of each of these trainees."""
    tries: dict[UUID, list[Try]] = defaultdict(list)
    first: dict[UUID, dict[str, Any]] = {}
    with db.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(SQL["ended_tries"], {"trainees": list(trainees), "time_zone": time_zone}):
            first.setdefault(row["run"], row)
            figures = {name: row[name] for name in ("number", "outcome", "value", "mode", "level")}
            tries[row["run"]].append(Try(**figures, **_typed_try(row)))
    found: dict[UUID, list[EndedRun]] = defaultdict(list)
    for id, row in first.items():
        about = {name: row[name] for name in ("run", "test", "subject", "dial", "confidence", "day")}
        found[row["trainee"]].append(EndedRun(**about, tries=tuple(tries[id])))
    return found


def open_runs(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, OpenRun]:
    """Give the newest open run of each of these trainees that has one."""
    rows = db.execute(SQL["open_runs"], {"trainees": list(trainees), "time_zone": time_zone})
    return {trainee: OpenRun(run=str(id), test=test, day=day, tries=tries) for trainee, id, test, day, tries in rows}


def pains(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, PainReport]:
    """Give the newest report of pain of each of these trainees that has one."""
    rows = db.execute(SQL["pains"], {"trainees": list(trainees), "time_zone": time_zone})
    return {trainee: PainReport(day=day, joint=joint, level=level) for trainee, day, joint, level in rows}


def every_try(db: Connection, *, trainee: UUID | None, test: str | None = None) -> Iterable[ExportedTry]:
    """Give every try that counts, of all trainees or of one, of all tests or of one."""
    with db.cursor(row_factory=class_row(ExportedTry)) as cursor:
        return cursor.execute(SQL["every_try"], {"trainee": trainee, "test": test}).fetchall()


def every_set(db: Connection, *, trainee: UUID | None, time_zone: str) -> list[ExportedEvidence]:
    """Give every set that counts, of all trainees or of one, in the order they were made."""
    with db.cursor(row_factory=class_row(ExportedEvidence)) as cursor:
        return cursor.execute(SQL["every_set"], {"trainee": trainee, "time_zone": time_zone}).fetchall()
