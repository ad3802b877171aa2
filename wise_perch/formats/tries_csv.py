"""Tries of a test as CSV: the columns of docs/formats.md, in and out."""

from collections.abc import Iterable
from datetime import datetime

from wise_perch.core.evidence import LONGEST_HOLD_S, Fell, Form, Outcome, Try, try_problem
from wise_perch.core.files import TEST, LineProblem, TriesFile, TryLine
from wise_perch.core.records import ExportedTry
from wise_perch.formats.cells import LONGEST_NAME, LONGEST_NOTE, Bad, number, one_of, text, whole_number
from wise_perch.formats.tables import Row, Table, read_table, write_table

COLUMNS = ("trainee", "test", "started_at", "try", "outcome", "seconds", "fell", "form", "note")
MOST_TRIES = 1_000_000


def read_tries(data: bytes) -> TriesFile:
    """Read tries from a CSV file's bytes.

    Returns: good lines and, by line number, every problem.
    Raises: Unreadable if the file as a whole is no such table.
    """
    table = read_table(data, COLUMNS)
    lines: list[TryLine] = []
    problems = list(table.problems)
    seen: dict[tuple[str, datetime, int], int] = {}
    for row in table.rows:
        try:
            line = _line(row, table)
        except Bad as bad:
            problems.append(LineProblem(row.line, str(bad)))
            continue
        key = (line.trainee, line.started_at, line.tried.number)
        if key in seen:
            problems.append(LineProblem(row.line, f"try {line.tried.number} of this run stands on line {seen[key]} already"))
            continue
        seen[key] = row.line
        lines.append(line)
    if not table.rows and not problems:
        problems.append(LineProblem(1, "there are no tries below the header"))
    return TriesFile(lines, sorted(problems, key=lambda p: p.line), table.note)


def _line(row: Row, table: Table) -> TryLine:
    cells = row.cells
    if cells["test"] != TEST:
        raise Bad(f'test is "{cells["test"]}"; this reads {TEST}')
    outcome = one_of(Outcome, cells["outcome"], "outcome")
    if outcome is None:
        raise Bad("outcome is empty; it is held, overshot or undershot")
    seconds = _seconds(cells["seconds"], comma=table.comma_decimals)
    if problem := try_problem(outcome=outcome, seconds=seconds):
        raise Bad(problem)
    tried = Try(
        number=_number(cells["try"]),
        outcome=outcome,
        seconds=seconds,
        fell=one_of(Fell, cells["fell"], "fell"),
        form=one_of(Form, cells["form"], "form"),
    )
    return TryLine(
        line=row.line,
        trainee=text(cells["trainee"], "trainee", most=LONGEST_NAME, needed=True),
        started_at=_moment(cells["started_at"]),
        started_text=cells["started_at"],
        tried=tried,
        note=text(cells["note"], "note", most=LONGEST_NOTE),
    )


def _moment(cell: str) -> datetime:
    try:
        return datetime.fromisoformat(cell)
    except ValueError:
        raise Bad(f'started_at "{cell}" is not ISO 8601, as 2026-05-03T18:00:00+02:00') from None


def _number(cell: str) -> int:
    value = whole_number(cell, "try", least=1, most=MOST_TRIES)
    if value is None:
        raise Bad("try is empty; it is a whole number from 1")
    return value


def _seconds(cell: str, *, comma: bool) -> float | None:
    value = number(cell, "seconds", comma=comma)
    if value is not None and not 0 <= value <= LONGEST_HOLD_S:
        raise Bad(f"seconds is {cell}; a hold lasts from 0 to {LONGEST_HOLD_S:g} s")
    return value


def write_tries(tries: Iterable[ExportedTry]) -> str:
    """Write tries as CSV text."""
    return write_table(
        COLUMNS,
        (
            (
                t.trainee,
                t.test,
                t.started_at.isoformat(),
                str(t.number),
                t.outcome,
                "" if t.seconds is None else f"{t.seconds:.15g}",
                t.fell or "",
                t.form or "",
                t.note,
            )
            for t in tries
        ),
    )
