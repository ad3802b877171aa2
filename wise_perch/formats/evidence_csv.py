"""Evidence as CSV: the columns of docs/formats.md, in and out. What the whole product reads and writes."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date

from wise_perch.core.trade.evidence import (
    LONGEST_HOLD_S,
    Evidence,
    Form,
    Measure,
    Reason,
    Side,
    teller_of,
)
from wise_perch.core.trade.file_lines import EARLIEST_DAY, EvidenceFile, EvidenceLine, LineProblem
from wise_perch.core.trade.sets import MOST_TRIES, set_problem
from wise_perch.core.trainee.stored import ExportedEvidence
from wise_perch.formats.cells import (
    LONGEST_NAME,
    LONGEST_NOTE,
    Bad,
    a_day,
    number,
    one_of,
    text,
    whole_number,
)
from wise_perch.formats.tables import Row, read_table, write_table

NEEDED = ("trainee", "day", "drill", "measure", "value")
OPTIONAL = (
    "n",
    "mode",
    "window_s",
    "dial",
    "dial_value",
    "form",
    "side",
    "confidence",
    "source",
    "note",
    "asked",
    "reason",
)
"""Columns that a file may leave out; a column that is missing reads as empty cells."""
COLUMNS = (*NEEDED, *OPTIONAL)
SOURCES = ("live", "after", "import", "demo", "test", "self", "film")


def read_evidence(data: bytes, *, drills: Mapping[str, str] | None = None) -> EvidenceFile:
    """Read evidence from a CSV file's bytes; `drills` are those known with their titles, None where that is
    asked later.

    Returns: good lines and, by line number, every problem. A header without lines is an empty file of
    evidence.
    Raises: Unreadable if the file as a whole is no such table.
    """
    table = read_table(data, NEEDED, optional=OPTIONAL)
    lines: list[EvidenceLine] = []
    problems = list(table.problems)
    for row in table.rows:
        try:
            lines.append(_read_line(row, comma=table.comma_decimals))
        except Bad as bad:
            problems.append(LineProblem(row.line, str(bad)))
    read = EvidenceFile(lines, sorted(problems, key=lambda p: p.line), table.note)
    return read if drills is None else of_known_drills(read, drills)


def of_known_drills(read: EvidenceFile, drills: Mapping[str, str]) -> EvidenceFile:
    """The same file with every line of a drill that is not known as a problem. `drills`: each name with its
    title, by which it may be written too, however cased.
    """
    named = {title.casefold(): name for name, title in drills.items()} | {name: name for name in drills}
    lines, strange = [], []
    for line in read.lines:
        written = line.piece.drill
        drill = named.get(written) or named.get(written.casefold())
        if drill is None:
            strange.append(LineProblem(line.line, f'drill "{written}" is not in the syllabus'))
        else:
            lines.append(line if drill == written else replace(line, piece=replace(line.piece, drill=drill)))
    return EvidenceFile(lines, sorted([*read.problems, *strange], key=lambda p: p.line), read.note)


def _read_line(row: Row, *, comma: bool) -> EvidenceLine:
    cells = dict.fromkeys(OPTIONAL, "") | row.cells
    measure = one_of(Measure, cells["measure"], "measure")
    if measure is None:
        raise Bad(f"measure is empty; it is one of {', '.join(Measure)}")
    value, n = _read_figures(cells, comma=comma)
    dial = _read_dial(cells, comma=comma)
    asked = number(cells["asked"], "asked", comma=comma)
    problem = set_problem(measure, value=value, asked=asked, n=n, setting=next(iter(dial.values()), None))
    if problem is not None:
        raise Bad(problem.removesuffix("."))
    source = cells["source"] or "import"
    if source not in SOURCES:
        raise Bad(f'source is "{source}"; it is one of {", ".join(SOURCES)}')
    window = number(cells["window_s"], "window_s", comma=comma)
    if window is not None and not 0 < window <= LONGEST_HOLD_S:
        raise Bad(f"window_s is {cells['window_s']}; a window lasts up to {LONGEST_HOLD_S:g} s")
    piece = Evidence(
        drill=cells["drill"],
        day=_read_day(cells["day"]),
        measure=measure,
        value=value,
        asked=asked,
        n=n,
        # an unmarked set counts as clean, as an unmarked try does
        form=one_of(Form, cells["form"], "form") or Form.CLEAN,
        side=one_of(Side, cells["side"], "side"),
        mode=text(cells["mode"], "mode", most=LONGEST_NAME) or None,
        window_s=window,
        confidence=whole_number(cells["confidence"], "confidence", least=1, most=5),
        dial=dial,
        reason=one_of(Reason, cells["reason"], "reason"),
        by=teller_of(source),
    )
    name = text(cells["trainee"], "trainee", most=LONGEST_NAME, needed=True)
    return EvidenceLine(row.line, name, piece, source, text(cells["note"], "note", most=LONGEST_NOTE))


def _read_figures(cells: dict[str, str], *, comma: bool) -> tuple[float, int | None]:
    value = number(cells["value"], "value", comma=comma)
    if value is None:
        raise Bad("value is empty")
    return value, whole_number(cells["n"], "n", least=1, most=MOST_TRIES)


def _read_dial(cells: dict[str, str], *, comma: bool) -> dict[str, float]:
    name, setting = cells["dial"], number(cells["dial_value"], "dial_value", comma=comma)
    if bool(name) != (setting is not None):
        raise Bad("dial and dial_value belong together")
    return {name: setting} if setting is not None else {}


def _read_day(cell: str) -> date:
    day = a_day(cell, "day")
    if day < EARLIEST_DAY:
        raise Bad(f"day {cell} lies before the year 2000")
    return day


FIGURES = ("value", "window_s", "dial_value", "asked")
"""The columns that hold decimals."""


def write_evidence(pieces: Iterable[ExportedEvidence], *, semicolons: bool = False) -> str:
    """Write evidence as CSV text. A piece with several dials keeps the first; no drill has more than one."""
    return write_table(COLUMNS, (_write_cells(p) for p in pieces), semicolons=semicolons, figures=FIGURES)


def _write_cells(p: ExportedEvidence) -> list[str]:
    dial, setting = next(iter(p.dial.items()), ("", None))
    figures = [p.value, p.n, p.mode, p.window_s, dial, setting, p.form, p.side, p.confidence]
    return [
        p.trainee,
        p.day.isoformat(),
        p.drill,
        p.measure,
        *(_write_figure(f) for f in figures),
        p.source,
        p.note,
        _write_figure(p.asked),
        _write_figure(p.reason),
    ]


def _write_figure(value: object) -> str:
    return "" if value is None else f"{value:.15g}" if isinstance(value, float) else str(value)
