"""Tries of a test as CSV: the columns of docs/formats.md, in and out."""

import unicodedata
from collections.abc import Iterable
from datetime import datetime
from typing import TypeVar

from wise_perch.core.evidence import LONGEST_HOLD_S, Fell, Form, Outcome, Try, try_problem
from wise_perch.core.files import TEST, LineProblem, TriesFile, TryLine
from wise_perch.core.records import ExportedTry
from wise_perch.formats.tables import Row, Table, read_table, write_table

COLUMNS = ("trainee", "test", "started_at", "try", "outcome", "seconds", "fell", "form", "note")
LONGEST_NAME, LONGEST_NOTE, MOST_TRIES = 120, 2000, 1_000_000


Word = TypeVar("Word", Outcome, Fell, Form)


class _Bad(Exception):
    """One cell is wrong; the text says how."""


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
        except _Bad as bad:
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
        raise _Bad(f'test is "{cells["test"]}"; this reads {TEST}')
    outcome = _one_of(Outcome, cells["outcome"], "outcome")
    if outcome is None:
        raise _Bad("outcome is empty; it is held, overshot or undershot")
    seconds = _seconds(cells["seconds"], comma=table.comma_decimals)
    if problem := try_problem(outcome=outcome, seconds=seconds):
        raise _Bad(problem)
    tried = Try(
        number=_number(cells["try"]),
        outcome=outcome,
        seconds=seconds,
        fell=_one_of(Fell, cells["fell"], "fell"),
        form=_one_of(Form, cells["form"], "form"),
    )
    return TryLine(
        line=row.line,
        trainee=_text(cells["trainee"], "trainee", most=LONGEST_NAME, needed=True),
        started_at=_moment(cells["started_at"]),
        started_text=cells["started_at"],
        tried=tried,
        note=_text(cells["note"], "note", most=LONGEST_NOTE),
    )


def _text(text: str, column: str, *, most: int, needed: bool = False) -> str:
    text = unicodedata.normalize("NFC", text)
    if needed:
        text = " ".join(text.split())
    if needed and not text:
        raise _Bad(f"{column} is empty")
    if len(text) > most:
        raise _Bad(f"{column} has {len(text)} characters; at most {most} are taken")
    if any(unicodedata.category(c) in ("Cc", "Cs") and c not in "\n\r\t" for c in text):
        raise _Bad(f"{column} holds characters that can not be printed")
    return text


def _moment(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        raise _Bad(f'started_at "{text}" is not ISO 8601, as 2026-05-03T18:00:00+02:00') from None


def _number(text: str) -> int:
    if not (text.isascii() and text.isdigit() and 1 <= int(text[:8]) <= MOST_TRIES):
        raise _Bad(f'try "{text}" is not a whole number from 1')
    return int(text)


def _seconds(text: str, *, comma: bool) -> float | None:
    if not text:
        return None
    plain = text.replace(",", ".", 1) if comma else text
    try:
        value = float(plain) if plain.isascii() and "_" not in plain else None
    except ValueError:
        value = None
    if value is None:
        raise _Bad(f'seconds "{text}" is not a number')
    if not 0 <= value <= LONGEST_HOLD_S:
        raise _Bad(f"seconds is {text}; a hold lasts from 0 to {LONGEST_HOLD_S:g} s")
    return value


def _one_of(kind: type[Word], text: str, column: str) -> Word | None:
    try:
        return kind(text) if text else None
    except ValueError:
        words = ", ".join(kind)
        raise _Bad(f'{column} is "{text}"; it is one of {words}') from None


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
