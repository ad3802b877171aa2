"""Tries of a test as CSV: the columns of docs/formats.md, in and out."""

from collections.abc import Iterable, Mapping
from datetime import datetime

from wise_perch.core.trade.evidence import Fell, Form, Side, Try
from wise_perch.core.trade.file_lines import LineProblem, TriesFile, TryLine
from wise_perch.core.trade.protocol import Test, try_problem
from wise_perch.core.trainee.stored import ExportedTry
from wise_perch.formats.cells import LONGEST_NAME, LONGEST_NOTE, Bad, number, one_of, text, whole_number
from wise_perch.formats.tables import Row, Table, read_table, write_table

COLUMNS = ("trainee", "test", "started_at", "try", "outcome", "seconds", "fell", "form", "note")
MORE = ("drill", "mode", "value", "setting", "side", "dial", "dial_value", "confidence")
"""Columns that only some tests fill; a file may leave them out."""
MOST_TRIES = 1_000_000


def read_tries(data: bytes, *, tests: Mapping[str, Test], may_be_empty: bool = False) -> TriesFile:
    """Read tries from a CSV file's bytes, of any of these tests.

    Returns: good lines and, by line number, every problem.
    Raises: Unreadable if the file as a whole is no such table.
    """
    table = read_table(data, COLUMNS, optional=MORE)
    lines: list[TryLine] = []
    problems = list(table.problems)
    seen: dict[tuple[str, str, str, datetime, int], int] = {}
    for row in table.rows:
        try:
            line = _read_line(row, table, tests)
        except Bad as bad:
            problems.append(LineProblem(row.line, str(bad)))
            continue
        key = (line.trainee, line.test, line.drill, line.started_at, line.tried.number)
        if key in seen:
            problems.append(
                LineProblem(
                    row.line, f"try {line.tried.number} of this run stands on line {seen[key]} already"
                )
            )
            continue
        seen[key] = row.line
        lines.append(line)
    if not table.rows and not problems and not may_be_empty:
        problems.append(LineProblem(1, "there are no tries below the header"))
    return TriesFile(lines, sorted(problems, key=lambda p: p.line), table.note)


def _read_line(row: Row, table: Table, tests: Mapping[str, Test]) -> TryLine:
    cells = row.cells
    test = tests.get(cells["test"])
    if test is None:
        raise Bad(f'test is "{cells["test"]}"; this reads {", ".join(tests)}')
    tried = _read_try(cells, test, comma=table.comma_decimals)
    if problem := try_problem(test, tried):
        raise Bad(problem)
    return TryLine(
        line=row.line,
        trainee=text(cells["trainee"], "trainee", most=LONGEST_NAME, needed=True),
        test=test.test,
        drill=_read_drill(cells.get("drill", ""), test),
        started_at=_read_moment(cells["started_at"]),
        started_text=cells["started_at"],
        tried=tried,
        note=text(cells["note"], "note", most=LONGEST_NOTE),
        dial=_read_dial(cells, comma=table.comma_decimals),
        confidence=whole_number(cells.get("confidence", ""), "confidence", least=1, most=5),
    )


def _read_drill(cell: str, test: Test) -> str:
    several = bool(test.subjects or test.every)
    if several and not cell:
        raise Bad(f"drill is empty; {test.test} is run for one drill at a time")
    if cell and not several:
        raise Bad(f'drill is "{cell}"; {test.test} is not run for a drill')
    return cell


def _read_try(cells: dict[str, str], test: Test, *, comma: bool) -> Try:
    outcome = cells["outcome"]
    marks = list(dict.fromkeys(m.outcome for mode in test.modes for m in mode.marks))
    if not outcome:
        raise Bad(f"outcome is empty; it is {' or '.join(marks)}")
    if outcome not in marks:
        raise Bad(f'outcome is "{outcome}"; it is one of {", ".join(marks)}')
    seconds = number(cells["seconds"], "seconds", comma=comma)
    value = number(cells.get("value", ""), "value", comma=comma)
    if seconds is not None and value is not None:
        raise Bad("seconds and value are both filled; a try has one figure")
    mode = text(cells.get("mode", ""), "mode", most=LONGEST_NAME)
    if (
        seconds is not None
        and test.mode(mode).unit != "s"
        and any(m.mode == mode or not mode for m in test.modes)
    ):
        raise Bad(
            f"seconds is {cells['seconds']}; {test.mode(mode).title.lower()} is not measured in seconds, so"
            " it goes under value"
        )
    return Try(
        number=_read_number(cells["try"]),
        outcome=outcome,
        value=value if seconds is None else seconds,
        mode=mode,
        level=number(cells.get("setting", ""), "setting", comma=comma),
        side=one_of(Side, cells.get("side", ""), "side"),
        fell=one_of(Fell, cells["fell"], "fell"),
        form=one_of(Form, cells["form"], "form"),
    )


def _read_dial(cells: dict[str, str], *, comma: bool) -> dict[str, float]:
    name = text(cells.get("dial", ""), "dial", most=LONGEST_NAME)
    setting = number(cells.get("dial_value", ""), "dial_value", comma=comma)
    if bool(name) != (setting is not None):
        raise Bad("dial and dial_value go together")
    return {} if setting is None else {name: setting}


def _read_moment(cell: str) -> datetime:
    try:
        return datetime.fromisoformat(cell)
    except ValueError:
        raise Bad(f'started_at "{cell}" is not ISO 8601, as 2026-05-03T18:00:00+02:00') from None


def _read_number(cell: str) -> int:
    value = whole_number(cell, "try", least=1, most=MOST_TRIES)
    if value is None:
        raise Bad("try is empty; it is a whole number from 1")
    return value


FIGURES = ("seconds", "value", "setting", "dial_value")
"""The columns that hold decimals."""


def write_tries(tries: Iterable[ExportedTry], *, tests: Mapping[str, Test], semicolons: bool = False) -> str:
    """Write tries as CSV text. What is measured in seconds stands under seconds, any other figure under
    value.

    The columns that only some tests fill are left out where no try fills one.
    """
    rows = [_write_try(t, tests) for t in tries]
    filled = any(any(row[len(COLUMNS) :]) for row in rows)
    columns = (*COLUMNS, *MORE) if filled else COLUMNS
    cut = (row[: len(columns)] for row in rows)
    return write_table(columns, cut, semicolons=semicolons, figures=FIGURES)


def _write_try(t: ExportedTry, tests: Mapping[str, Test]) -> tuple[str, ...]:
    test = tests.get(t.test)
    # of a test that is no longer there nobody knows what its figures are: they stand as plain values
    timed = test is not None and test.mode(t.mode).unit == "s"
    dial = next(iter(t.dial.items()), ("", None))
    return (
        t.trainee,
        t.test,
        t.started_at.isoformat(),
        str(t.number),
        t.outcome,
        _write_figure(t.value if timed else None),
        t.fell or "",
        t.form or "",
        t.note,
        t.drill,
        t.mode,
        _write_figure(None if timed else t.value),
        _write_figure(t.level),
        t.side or "",
        dial[0],
        _write_figure(dial[1]),
        "" if t.confidence is None else str(t.confidence),
    )


def _write_figure(value: float | None) -> str:
    return "" if value is None else f"{value:.15g}"
