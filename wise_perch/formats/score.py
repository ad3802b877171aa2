"""The door to the core without server or database: a file of tries in, figures out."""

from dataclasses import asdict
from pathlib import Path
from typing import Any

from wise_perch.core.benchmarks.free_tries import FreeTriesRules, score
from wise_perch.core.files import TEST
from wise_perch.formats.tables import Unreadable
from wise_perch.formats.tries_csv import read_tries


class Junk(Exception):
    """The file can not be scored; `lines` say why, each with its line number."""

    def __init__(self, lines: list[str]) -> None:
        """Keep the sentences."""
        super().__init__("\n".join(lines))
        self.lines = lines


def score_file(path: Path, rules: FreeTriesRules) -> list[dict[str, Any]]:
    """Score every run of a CSV file, in file order.

    Returns: one dictionary a trainee and test start, with the figures of docs/formats.md.
    Raises: Junk if the file or any line of it can not be read.
    """
    try:
        read = read_tries(path.read_bytes())
    except OSError as error:
        raise Junk([f"{path}: {error.strerror}"]) from error
    except Unreadable as error:
        raise Junk([f"{path.name}: {error}"]) from error
    if read.problems:
        raise Junk([f"{path.name}: line {p.line}: {p.what}" for p in read.problems])
    return [
        {"trainee": lines[0].trainee, "test": TEST, "started_at": lines[0].started_text, **asdict(score([line.tried for line in lines], rules))}
        for lines in read.runs().values()
    ]


def summary(found: list[dict[str, Any]]) -> str:
    """Say the scores in a few lines for a reader."""
    return "\n\n".join(
        f"{run['trainee']}, {run['started_at']}: {run['level']}, next: {run['decision']}\n" + "\n".join(f"  {r}" for r in run["reasons"])
        for run in found
    )
