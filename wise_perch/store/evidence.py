"""Test runs with their tries, and recorded sets of drills."""

import json
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any, Protocol
from uuid import UUID

from psycopg import Connection
from psycopg.rows import class_row, dict_row
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.trade.evidence import MEASURE_UNITS, Fell, Form, Measure, Reason, Side
from wise_perch.core.trade.protocol import Mode
from wise_perch.core.trainee.stored import (
    ExportedEvidence,
    ExportedTry,
    KeptSet,
    KeptTry,
    Run,
    RunEnd,
    Source,
)
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.queries import queries

SQL = queries("evidence")


SHEET = TypeAdapter(Sheet)


def type_try(row: dict[str, Any]) -> dict[str, Any]:
    """The words of a try's row as the core's types."""
    fell, form, side = row["fell"], row["form"], row["side"]
    return {
        "fell": Fell(fell) if fell else None,
        "form": Form(form) if form else None,
        "side": Side(side) if side else None,
    }


def try_of(row: dict[str, Any]) -> KeptTry:
    """Read a row of the statement `tries`."""
    typed = type_try(row)
    return KeptTry(**{key: value for key, value in row.items() if key not in ("run", *typed)}, **typed)


def _set_of(row: dict[str, Any]) -> KeptSet:
    typed: dict[str, Any] = {
        "measure": Measure(row["measure"]),
        "form": Form(row["form"]),
        "side": Side(row["side"]) if row["side"] else None,
        "reason": Reason(row["reason"]) if row["reason"] else None,
    }
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
    """Start a run; sending the same again changes nothing. Raises Conflict if the id stands for another
    run.
    """
    db.execute(
        SQL["start_run"],
        {
            **{
                "id": id,
                "trainee": trainee,
                "test": test,
                "subject": subject,
                "started_at": started_at,
                "rest_s": rest_s,
                "room": room,
            },
            **{"source": source, "dial": Jsonb(dict(dial or {})), "test_day": test_day},
            "sheet": (
                None if sheet is None else Jsonb(SHEET.dump_python(sheet, mode="json", exclude_defaults=True))
            ),
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
    values = {
        "run": run_id,
        "ended_at": ended_at,
        "ended_as": ended_as,
        "pain_joint": pain_joint,
        "pain_level": pain_level,
        "confidence": confidence,
    }
    db.execute(SQL["end_run"], values)
    kept = run(db, run_id)
    if (kept.ended_as, kept.pain_joint, kept.pain_level) != (ended_as, pain_joint, pain_level):
        raise Conflict(f"This run is closed already: it was {kept.ended_as}.")
    return kept


def try_values(run_id: UUID, kept: KeptTry, *, test: str, mode: Mode) -> dict[str, Any]:
    """Give the values of the statements `add_try` and `correct_try`; `mode` says what the try's figure
    measures.
    """
    names = (
        "id",
        "number",
        "at",
        "outcome",
        "fell",
        "value",
        "level",
        "side",
        "form",
        "early",
        "note",
        "replaces",
    )
    return {
        **{name: getattr(kept, name) for name in names},
        **{
            "run": run_id,
            "test": test,
            "mode": kept.mode or None,
            "measure": mode.measure,
            "unit": mode.unit,
        },
        "window_s": mode.window_s.value if mode.window_s else None,
    }


def _same_try(db: Connection, run_id: UUID, kept: KeptTry) -> bool | None:
    """Say whether this very try is kept already; None if its id is not known."""
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["try_by_id"], {"id": kept.id}).fetchone()
    if row is None:
        return None
    there = try_of(row)
    return bool(
        row["run"] == run_id
        and there.as_try() == kept.as_try()
        and (there.at, there.note, there.early) == (kept.at, kept.note, kept.early)
    )


def add_try(db: Connection, *, run_id: UUID, kept: KeptTry, test: str, mode: Mode) -> None:
    """Keep one try of an open run of a test; sending the same again changes nothing.

    Raises: NotFound for an unknown run; Conflict for a closed run, a taken number or an id that stands for
    another try.
    """
    if db.execute(SQL["add_try"], try_values(run_id, kept, test=test, mode=mode)).rowcount == 1:
        return
    same = _same_try(db, run_id, kept)
    if same is None:
        there = run(db, run_id)  # says NotFound if that is the reason
        raise Conflict(
            "This run is closed; it takes no more tries."
            if there.test == test
            else f"This run is one of {there.test}."
        )
    if not same:
        raise Conflict("This id already stands for another try.")


def correct_try(
    db: Connection, *, run_id: UUID, kept: KeptTry, test: str, mode: Mode, moment: datetime
) -> None:
    """Keep a try in place of the one it `replaces`, which is struck out and stays; sending the same again
    changes nothing.

    Raises: NotFound for an unknown try; Conflict for one that was taken back or corrected already, or a known
    id.
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


def author(db: Connection, id: UUID) -> UUID | None:
    """Say who recorded a try or a set; None where that is not known. Raises NotFound."""
    row = db.execute(SQL["author"], {"id": id}).fetchone()
    if row is None:
        raise NotFound("There is no such try or set.")
    return row[0]  # type: ignore[no-any-return]


def strike(db: Connection, *, id: UUID, moment: datetime | None) -> None:
    """Strike out a try or set at `moment`, or bring it back (None). Raises NotFound."""
    done = (
        db.execute(SQL["strike"], {"id": id, "moment": moment})
        if moment
        else db.execute(SQL["restore"], {"id": id})
    )
    if done.rowcount == 0:
        raise NotFound("There is no such try or set.")


class _Piece(Protocol):
    """What is written of a piece of evidence, whichever way it came."""

    @property
    def id(self) -> UUID: ...
    @property
    def drill(self) -> str: ...
    @property
    def at(self) -> datetime: ...
    @property
    def measure(self) -> Measure: ...
    @property
    def dial(self) -> dict[str, float]: ...


COLUMNS = {
    "id": "ids",
    "trainee": "trainees",
    "drill": "drills",
    "at": "moments",
    "measure": "measures",
    "value": "values",
    "asked": "askeds",
    "n": "ns",
    "unit": "units",
    "mode": "modes",
    "window_s": "windows",
    "form": "forms",
    "side": "sides",
    "confidence": "confidences",
    "dial": "dials",
    "reason": "reasons",
    "source": "sources",
    "note": "notes",
}
"""The columns of a piece of evidence, each with the name of its array in the statements that keep several at
once.
"""


def evidence_row(piece: _Piece, *, trainee: UUID, source: str) -> dict[str, Any]:
    """A piece of evidence as it is written: the one place that says what a row holds."""
    given = {
        "trainee": trainee,
        "source": source,
        "unit": MEASURE_UNITS[piece.measure],
        "dial": json.dumps(dict(piece.dial)),
    }
    row: dict[str, Any] = {name: given[name] if name in given else getattr(piece, name) for name in COLUMNS}
    # one array has one type: a whole number beside decimals would make it another
    return {
        **row,
        "value": float(row["value"]),
        "asked": None if row["asked"] is None else float(row["asked"]),
        "window_s": None if row["window_s"] is None else float(row["window_s"]),
    }


def evidence_columns(rows: Sequence[Mapping[str, Any]]) -> dict[str, list[Any]]:
    """Rows of evidence as the arrays that a statement takes."""
    return {array: [row[name] for row in rows] for name, array in COLUMNS.items()}


def keep_sets(db: Connection, rows: Sequence[Mapping[str, Any]]) -> int:
    """Keep sets, all in one statement, and say how many are new; those of a known id change nothing."""
    return db.execute(SQL["keep_sets"], evidence_columns(rows)).rowcount if rows else 0


def add_set(db: Connection, *, trainee: UUID, kept: KeptSet) -> None:
    """Keep one set of a drill; sending the same again changes nothing. Raises Conflict if the id stands for
    another set.
    """
    if keep_sets(db, [evidence_row(kept, trainee=trainee, source=kept.source)]) == 1:
        return
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["set_by_id"], {"id": kept.id}).fetchone()
    if (
        row is None
        or row["trainee"] != trainee
        or (row["drill"], row["value"], row["at"]) != (kept.drill, kept.value, kept.at)
    ):
        raise Conflict("This id already stands for another set.")


def sets(db: Connection, trainee: UUID, drill: str, *, most: int) -> list[KeptSet]:
    """Give the newest sets of one drill, struck-out ones too."""
    with db.cursor(row_factory=dict_row) as cursor:
        return [
            _set_of(row)
            for row in cursor.execute(SQL["sets"], {"trainee": trainee, "drill": drill, "most": most})
        ]


def every_try(db: Connection, *, trainee: UUID | None, test: str | None = None) -> Iterable[ExportedTry]:
    """Give every try that counts, of all trainees or of one, of all tests or of one."""
    with db.cursor(row_factory=class_row(ExportedTry)) as cursor:
        return cursor.execute(SQL["every_try"], {"trainee": trainee, "test": test}).fetchall()


def every_set(db: Connection, *, trainee: UUID | None, time_zone: str) -> list[ExportedEvidence]:
    """Give every set that counts, of all trainees or of one, in the order they were made."""
    with db.cursor(row_factory=class_row(ExportedEvidence)) as cursor:
        return cursor.execute(SQL["every_set"], {"trainee": trainee, "time_zone": time_zone}).fetchall()
