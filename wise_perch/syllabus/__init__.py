"""The trade content as data, read into the core's model and checked by it."""

import hashlib
from functools import cache
from pathlib import Path
from typing import TypeVar

import yaml
from pydantic import TypeAdapter, ValidationError

from wise_perch.core.syllabus import FreeTriesTest, Line, StateRules, Syllabus, problems

HERE = Path(__file__).parent
T = TypeVar("T")


class SyllabusError(Exception):
    """The syllabus data is unsound; the message lists every problem found."""


def _unknown_keys(raw: object, read: object, where: str) -> list[str]:
    """List keys the model dropped: a misspelt key must not pass silently for a default."""
    if isinstance(raw, dict) and isinstance(read, dict):
        lost = [f"{where}: unknown key {key}" for key in raw if key not in read]
        return lost + [p for key in raw if key in read for p in _unknown_keys(raw[key], read[key], f"{where}.{key}")]
    if isinstance(raw, list) and isinstance(read, list | tuple):
        return [p for i, pair in enumerate(zip(raw, read, strict=True)) for p in _unknown_keys(*pair, f"{where}[{i}]")]
    return []


def _read(kind: type[T], path: Path) -> T:
    adapter = TypeAdapter(kind)
    raw = yaml.safe_load(path.read_text("utf-8"))
    try:
        value = adapter.validate_python(raw)
    except ValidationError as error:
        lines = [f"{path.name}: {'.'.join(map(str, e['loc']))}: {e['msg']}" for e in error.errors()]
        raise SyllabusError("\n".join(lines)) from error
    if lost := _unknown_keys(raw, adapter.dump_python(value, mode="json"), path.name):
        raise SyllabusError("\n".join(lost))
    return value


def load(folder: Path = HERE) -> Syllabus:
    """Read a syllabus folder: `rules.yaml`, `tests.yaml` and `lines/*.yaml` in name order.

    Raises: SyllabusError, naming every unknown key, wrong value, unknown drill or cycle.
    """
    paths = sorted((folder / "lines").glob("*.yaml"))
    everything = b"".join(p.read_bytes() for p in [*paths, folder / "rules.yaml", folder / "tests.yaml"])
    syllabus = Syllabus(
        version=hashlib.sha256(everything).hexdigest()[:12],
        lines=tuple(_read(Line, p) for p in paths),
        rules=_read(StateRules, folder / "rules.yaml"),
        free_tries=_read(FreeTriesTest, folder / "tests.yaml"),
    )
    if found := problems(syllabus):
        raise SyllabusError("\n".join(found))
    return syllabus


@cache
def built_in() -> Syllabus:
    """The syllabus that ships with the product. It is data of the installed version, the same for every worker."""
    return load()
