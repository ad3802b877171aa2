"""Reading what spreadsheets really write, and writing what no spreadsheet runs.

Text follows RFC 4180 (Shafranovich, 2005, Common format and MIME type for comma-separated values files).
"""

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Protocol

from wise_perch.core.trade.file_lines import LineProblem

FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r", "'")
"""A cell that starts so could be run as a formula by a spreadsheet (or is the guard itself): it is written
behind a guard.
"""
GUARD = "'"
MOST_COLUMNS, NAMED, NAME_SHOWN = 60, 20, 40
"""No table here has half as many columns; of what is wrong with them so many are named, each by so many of
its first characters.
"""


class Unreadable(Exception):
    """The file as a whole cannot be read: wrong encoding, no header, wrong columns. The text is a sentence
    with the line.
    """


@dataclass(frozen=True, slots=True)
class Row:
    """One record: the line it starts on and its cells by column name, trimmed."""

    line: int
    cells: dict[str, str]


@dataclass(frozen=True, slots=True)
class Table:
    """A table as read: its rows, whether its decimals may be written with commas, and lines that are no
    records.
    """

    rows: list[Row]
    comma_decimals: bool
    problems: list[LineProblem]
    note: str | None


def decode(data: bytes) -> tuple[str, str | None]:
    """Decode UTF-8 (with or without mark) or marked UTF-16; older spreadsheets' Windows-1252 is read with a
    note.

    Raises: Unreadable for bytes that are none of these.
    """
    marked = data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE))
    encodings = ["utf-16"] if marked else ["utf-8-sig", "cp1252"]
    for encoding in encodings:
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\0" in text:
            break
        note = (
            "The file is not UTF-8; it was read as Windows-1252. Look whether accented names came out right."
            if encoding == "cp1252"
            else None
        )
        return text, note
    raise Unreadable("line 1: this is no text file. Save the sheet as CSV (UTF-8) and try again.")


def read_table(data: bytes, columns: Sequence[str], *, optional: Sequence[str] = ()) -> Table:
    """Read a table whose header names all `columns`, any of `optional` and no other, in any order, separated
    by commas or semicolons.

    Raises: Unreadable if the file has no such header.
    """
    text, note = decode(data)
    first = text.split("\n", 1)[0]
    semicolons = ";" in first
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=";" if semicolons else ",", strict=True)
    records = _read_records(reader)
    header_line, header = next(records, (1, []))
    if isinstance(header, str):
        raise Unreadable(f"line {header_line}: {header}")
    names = [cell.strip().lower() for cell in header]
    _check_header(names, columns, optional, header_line)
    rows: list[Row] = []
    problems: list[LineProblem] = []
    for line, record in records:
        if isinstance(record, str):
            problems.append(LineProblem(line, record))
        elif len(record) != len(names):
            problems.append(
                LineProblem(line, f"{len(record)} cells, but the header names {len(names)} columns")
            )
        else:
            rows.append(
                Row(line, {name: unguard(cell.strip()) for name, cell in zip(names, record, strict=True)})
            )
    return Table(rows, semicolons, problems, note)


class _Reader(Protocol):
    """What is used of csv.reader, whose own type has no public name."""

    line_num: int

    def __next__(self) -> list[str]: ...


def _check_header(names: list[str], columns: Sequence[str], optional: Sequence[str], line: int) -> None:
    if len(names) > MOST_COLUMNS:
        raise Unreadable(
            f"line {line}: {len(names)} columns are more than the {MOST_COLUMNS} that any table here has. The"
            f" columns are {', '.join(columns)}."
        )
    missing = [c for c in columns if c not in names]
    unknown = [n[:NAME_SHOWN] or "(empty)" for n in names if n not in (*columns, *optional)]
    twice = sorted(n[:NAME_SHOWN] for n, times in Counter(names).items() if times > 1)
    faults = [
        f"{word}: {', '.join(found[:NAMED])}{', …' if len(found) > NAMED else ''}"
        for word, found in (
            ("missing column", missing),
            ("unknown column", unknown),
            ("column named twice", twice),
        )
        if found
    ]
    if faults:
        raise Unreadable(
            f"line {line}: {'; '.join(faults)}. The columns are"
            f" {', '.join(columns)}{', and if need be ' + ', '.join(optional) if optional else ''}."
        )


def _read_records(reader: _Reader) -> Iterator[tuple[int, list[str] | str]]:
    """Give each record with the line it starts on, skipping blank lines; a malformed one comes as the
    sentence that says so.
    """
    while True:
        line = reader.line_num + 1
        try:
            record = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            yield line, f"not readable as CSV ({error})"
            continue
        if any(cell.strip() for cell in record):
            yield line, record


FIGURE = re.compile(r"-?\d+([.,]\d+)?")
"""A number and nothing else, which no spreadsheet runs: it stays a number, below zero too."""


def guard(cell: str) -> str:
    """Put the guard before a cell that a spreadsheet could run as a formula."""
    return GUARD + cell if cell.startswith(FORMULA_STARTS) and not FIGURE.fullmatch(cell) else cell


def unguard(cell: str) -> str:
    """Take the guard off again."""
    return cell[1:] if cell.startswith(GUARD) and cell[1:].startswith(FORMULA_STARTS) else cell


def write_table(
    columns: Sequence[str],
    rows: Iterable[Sequence[str]],
    *,
    semicolons: bool = False,
    figures: Collection[str] = (),
) -> str:
    """Write a table: commas, CRLF, quotes where needed, formulas guarded.

    With `semicolons` it is written as spreadsheets want it where decimals have a comma: semicolons between
    cells, and a comma in the columns of `figures`.
    """
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=";" if semicolons else ",", lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        cells = [
            cell.replace(".", ",", 1) if semicolons and name in figures else cell
            for name, cell in zip(columns, row, strict=True)
        ]
        writer.writerow([guard(cell) for cell in cells])
    return out.getvalue()
