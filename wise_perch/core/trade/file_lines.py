"""What a file of tries says, whatever its format: good lines, and what is wrong with the others."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, datetime

from wise_perch.core.trade.evidence import Evidence, Try

Path = tuple[str | int, ...]
"""A place in what a file holds: keys, and places in lists."""


@dataclass(frozen=True, slots=True)
class LineProblem:
    """What is wrong with one line; `line` counts from 1 as an editor counts, the header being line 1."""

    line: int
    what: str


@dataclass(frozen=True, slots=True)
class TryLine:
    """One try as a line of the file says it. `started_text` is the moment as written.

    `drill`: what the test was run for, or empty; `dial` and `confidence` belong to the whole run.
    """

    line: int
    trainee: str
    test: str
    drill: str
    started_at: datetime
    started_text: str
    tried: Try
    note: str
    dial: dict[str, float]
    confidence: int | None


RunName = tuple[str, str, str, datetime]
"""What a run in a file is known by: trainee, test, drill, start."""


@dataclass(frozen=True, slots=True)
class TriesFile:
    """What a file holds: its good lines and its problems, both in file order."""

    lines: list[TryLine]
    problems: list[LineProblem]
    note: str | None

    def runs(self) -> dict[RunName, list[TryLine]]:
        """Group the lines by trainee, test, drill and start, in file order."""
        grouped: dict[RunName, list[TryLine]] = defaultdict(list)
        for line in self.lines:
            grouped[line.trainee, line.test, line.drill, line.started_at].append(line)
        return dict(grouped)


@dataclass(frozen=True, slots=True)
class EvidenceLine:
    """One piece of evidence as a line of the file says it."""

    line: int
    trainee: str
    piece: Evidence
    source: str
    note: str


@dataclass(frozen=True, slots=True)
class EvidenceFile:
    """What a file of evidence holds: its good lines and its problems, both in file order."""

    lines: list[EvidenceLine]
    problems: list[LineProblem]
    note: str | None


EARLIEST_DAY = date(2000, 1, 1)
