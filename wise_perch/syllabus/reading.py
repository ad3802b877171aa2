"""Reading a file of the syllabus so that every complaint names its line."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any, TypeVar

import yaml
from pydantic import TypeAdapter, ValidationError

from wise_perch.core.trade.file_lines import LineProblem, Path

T = TypeVar("T")
LOADER: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
MOST_NODES, DEEPEST = 200_000, 40
"""No syllabus holds more, or is nested deeper: ours has 7,353 nodes, ten deep."""
LARGEST = 1_000_000
"""No figure of the trade comes near; arithmetic on anything up to it stays finite."""


@cache
def reader(kind: type[T]) -> TypeAdapter[T]:
    """How values of a type are read: made when first asked for, since making it takes longer than reading."""
    return TypeAdapter(kind)


class Unreadable(Exception):
    """The text is no YAML that is taken here; `line` counts from 1."""

    def __init__(self, line: int, what: str) -> None:
        """Keep the place and the sentence."""
        super().__init__(f"line {line}: {what}")
        self.line, self.what = line, what


@dataclass(frozen=True)
class Document:
    """Raw values as YAML gave them, and the line of every key and place in them."""

    raw: Any
    lines: dict[Path, int]

    def line(self, path: Path) -> int:
        """The line a path stands on, or that of what holds it."""
        for length in range(len(path), -1, -1):
            if path[:length] in self.lines:
                return self.lines[path[:length]]
        return 1


def parse(text: str) -> Document:
    """Read YAML into plain values with their lines.

    Raises: Unreadable for what is no YAML, for aliases (which could swell without end), keys given twice and
    too much of it.
    """
    loader = None
    try:
        _bound_events(text)
        loader = LOADER(text)
        node = loader.get_single_node()
        if node is None:
            raise Unreadable(1, "the file is empty.")
        lines: dict[Path, int] = {}
        raw = _read_value(loader, node, (), lines, set())
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        raise Unreadable(
            mark.line + 1 if mark else 1, f"this is no YAML: {error.problem or error.context}."
        ) from error
    except (yaml.YAMLError, RecursionError, ValueError) as error:
        raise Unreadable(1, f"this is no YAML that can be read here: {str(error)[:200]}.") from error
    finally:
        if loader:
            loader.dispose()
    return Document(raw, lines)


def _bound_events(text: str) -> None:
    """Walk a text without building anything of it: the composer works by recursion in C, and a few thousand
    brackets would take the whole process with it.

    Raises: Unreadable where it is nested too deep or there is too much of it.
    """
    nodes = depth = 0
    for event in yaml.parse(text, Loader=LOADER):
        if isinstance(event, yaml.NodeEvent):
            nodes += 1
        if isinstance(event, yaml.CollectionStartEvent):
            depth += 1
        elif isinstance(event, yaml.CollectionEndEvent):
            depth -= 1
        line = event.start_mark.line + 1 if event.start_mark else 1
        if depth > DEEPEST:
            raise Unreadable(
                line, f"this is nested deeper than the {DEEPEST} levels that any syllabus needs."
            )
        if nodes > MOST_NODES:
            raise Unreadable(line, "there is more here than any syllabus holds.")


def _read_value(loader: Any, node: Any, path: Path, lines: dict[Path, int], seen: set[int]) -> Any:
    line = node.start_mark.line + 1
    if id(node) in seen:
        raise Unreadable(line, "aliases are not taken here; write the value out.")
    seen.add(id(node))
    lines[path] = line
    if len(seen) > MOST_NODES:
        raise Unreadable(line, "there is more here than any syllabus holds.")
    if isinstance(node, yaml.MappingNode):
        found: dict[str, Any] = {}
        for key, value in node.value:
            name = str(key.value)
            if name in found:
                raise Unreadable(key.start_mark.line + 1, f"{name} is given twice.")
            found[name] = _read_value(loader, value, (*path, name), lines, seen)
            lines[(*path, name)] = key.start_mark.line + 1
        return found
    if isinstance(node, yaml.SequenceNode):
        return [_read_value(loader, child, (*path, n), lines, seen) for n, child in enumerate(node.value)]
    value = loader.construct_object(node)
    if (
        isinstance(value, int | float) and not abs(value) <= LARGEST
    ):  # written so that what is no number at all fails too
        raise Unreadable(line, f"{str(node.value)[:40]} is no number to reckon with.")
    return value


def read(kind: type[T], document: Document, at: Path = ()) -> tuple[T | None, list[LineProblem]]:
    """Read raw values as a type: the value, or every problem with its line. A misspelt key is a problem, not
    a default.
    """
    made: TypeAdapter[T] = reader(kind)  # type: ignore[arg-type]  # mypy takes no type for hashable
    try:
        value = made.validate_python(document.raw)
    except ValidationError as error:
        found = [
            LineProblem(document.line((*at, *e["loc"])), f"{_say_place(e['loc'])}{_say_error(e)}")
            for e in error.errors()
        ]
        return None, sorted(found, key=lambda p: p.line)
    lost = [
        LineProblem(document.line(path), f"unknown key {path[-1]}")
        for path in _unknown_keys(document.raw, made.dump_python(value, mode="json"), at)
    ]
    return (None if lost else value), lost


def _say_place(loc: Path) -> str:
    names = [str(part) for part in loc if isinstance(part, str)]
    return f"{'.'.join(names[-2:])}: " if names else ""


def _say_error(error: Any) -> str:
    if error["type"] == "missing":
        return f"{error['loc'][-1]} is missing"
    return str(error["msg"])


def _unknown_keys(raw: Any, read_back: Any, path: Path) -> Iterator[Path]:
    if isinstance(raw, dict) and isinstance(read_back, dict):
        for key, value in raw.items():
            if key in read_back:
                yield from _unknown_keys(value, read_back[key], (*path, key))
            else:
                yield (*path, key)
    elif isinstance(raw, list) and isinstance(read_back, list | tuple):
        for n, (mine, theirs) in enumerate(zip(raw, read_back, strict=False)):
            yield from _unknown_keys(mine, theirs, (*path, n))
