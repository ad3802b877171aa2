"""Reading one cell of a table: text, words of a list, numbers, each refused with a reason."""

import re
import unicodedata
from datetime import date
from enum import StrEnum
from typing import TypeVar

LONGEST_NAME, LONGEST_NOTE = 120, 2000

Word = TypeVar("Word", bound=StrEnum)


class Bad(Exception):
    """One cell is wrong; the text says how."""


def text(cell: str, column: str, *, most: int, needed: bool = False) -> str:
    """Text in NFC, on one line where it is needed. Raises Bad if empty though needed, too long or not
    printable.
    """
    cell = unicodedata.normalize("NFC", cell)
    if needed:
        cell = " ".join(cell.split())
    if needed and not cell:
        raise Bad(f"{column} is empty")
    if len(cell) > most:
        raise Bad(f"{column} has {len(cell)} characters; at most {most} are taken")
    if any(unicodedata.category(c) in ("Cc", "Cs") and c not in "\n\r\t" for c in cell):
        raise Bad(f"{column} holds characters that cannot be printed")
    if needed and has_unseen(cell):
        raise Bad(f"{column} holds characters that cannot be seen")
    return cell


JOINERS = "\u200c\u200d"
"""Part of how some scripts are written: between letters of such a script they are seen."""


def has_unseen(name: str) -> bool:
    """Say whether a name holds what nobody sees: marks of direction, and spaces without width. Two names
    could look the same and be two.
    """
    for at, c in enumerate(name):
        if unicodedata.category(c) != "Cf":
            continue
        before, after = name[at - 1 : at], name[at + 1 : at + 2]
        joined = all(x and unicodedata.category(x)[0] in "LM" and ord(x) > 0x590 for x in (before, after))
        if c not in JOINERS or not joined:
            return True
    return False


MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


def a_day(cell: str, column: str) -> date:
    """A day as people write it: 2026-05-03, 2026/5/3, 3.5.2026, 3 May 2026; a day before or after its month
    with strokes only where it can be but one day. Raises Bad.
    """
    if found := re.fullmatch(r"(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})", cell):
        year, month, day = map(int, found.groups())
    elif found := re.fullmatch(r"(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})", cell):
        day, month, year = map(int, found.groups())
    elif found := re.fullmatch(r"(\d{1,2})\.?\s([A-Za-z]{3,9})\.?,?\s(\d{4})", cell):
        day, year = int(found[1]), int(found[3])
        month = MONTHS.index(found[2][:3].lower()) + 1 if found[2][:3].lower() in MONTHS else 0
    elif found := re.fullmatch(r"(\d{1,2})/(\d{1,2})/(\d{4})", cell):
        first, second, year = map(int, found.groups())
        if first <= 12 and second <= 12 and first != second:
            raise Bad(f'{column} "{cell}" can be read as two days; write it as 2026-05-03')
        day, month = (first, second) if second <= 12 else (second, first)
    else:
        raise Bad(f'{column} "{cell}" is not a day, as 2026-05-03')
    try:
        return date(year, month, day)
    except ValueError:
        raise Bad(f'{column} "{cell}" is not a day, as 2026-05-03') from None


def number(cell: str, column: str, *, comma: bool) -> float | None:
    """A plain decimal number, or None for an empty cell. `comma`: it may be written with a decimal comma.
    Raises Bad.
    """
    if not cell:
        return None
    plain = cell.replace(",", ".", 1) if comma else cell
    try:
        value = float(plain) if plain.isascii() and "_" not in plain else None
    except ValueError:
        value = None
    if value is None or value != value or value in (float("inf"), float("-inf")):
        raise Bad(f'{column} "{cell}" is not a number')
    return value


def whole_number(cell: str, column: str, *, least: int, most: int) -> int | None:
    """A whole number within bounds, or None for an empty cell. Raises Bad."""
    if not cell:
        return None
    if not (cell.isascii() and cell.isdigit() and least <= int(cell[:9]) <= most):
        raise Bad(
            f'{column} "{cell}" is not a whole number from {least}'
            + (f" to {most}" if most < 1_000_000 else "")
        )
    return int(cell)


def one_of(kind: type[Word], cell: str, column: str) -> Word | None:
    """A word of a list, or None for an empty cell. Raises Bad."""
    try:
        return kind(cell) if cell else None
    except ValueError:
        words = ", ".join(kind)
        raise Bad(f'{column} is "{cell}"; it is one of {words}') from None
