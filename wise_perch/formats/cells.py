"""Reading one cell of a table: text, words of a list, numbers, each refused with a reason."""

import unicodedata
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
    return cell


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
