"""The files of the syllabus that ships with the product, one by one."""

from functools import cache
from pathlib import Path
from typing import TypeVar

from wise_perch.core.class_night.rules import ClassRules
from wise_perch.core.trade.intake import Intake
from wise_perch.syllabus.reading import Document, Unreadable, parse, read

HERE = Path(__file__).parent
INTAKE = "intake"
T = TypeVar("T")


class SyllabusError(Exception):
    """The syllabus data is unsound; the message lists every problem found."""


def parse_file(path: Path) -> Document:
    """Read a file of ours. Raises SyllabusError."""
    try:
        return parse(path.read_text("utf-8"))
    except Unreadable as error:
        raise SyllabusError(f"{path.name}: {error}") from error


def read_kind(kind: type[T], path: Path) -> T:
    """Read a file of ours as a type. Raises SyllabusError, naming its lines."""
    value, found = read(kind, parse_file(path))
    if value is None:
        raise SyllabusError("\n".join(f"{path.name}: line {p.line}: {p.what}" for p in found))
    return value


def our_intake(folder: Path = HERE) -> Intake:
    """What an intake asks and which sizes are likely, without reading anything else."""
    return read_kind(Intake, folder / f"{INTAKE}.yaml")


@cache
def our_class_rules() -> ClassRules:
    """What an evening with many goes by."""
    return read_kind(ClassRules, HERE / "class_night.yaml")
