"""The ways tests are scored: one file a way, found by its name. Adding a way is adding a file."""

from collections.abc import Sequence
from functools import cache
from importlib import import_module
from importlib.util import find_spec
from typing import cast

from wise_perch.core.scoring.verdict import RunFacts, Scoring, Verdict
from wise_perch.core.trade.evidence import Evidence, Try
from wise_perch.core.trade.protocol import Test


@cache
def find_scoring(name: str) -> Scoring | None:
    """The file that scores this way, or None if there is none."""
    path = f"{__name__}.{name}"
    if not name.isidentifier() or find_spec(path) is None:
        return None
    module = import_module(path)
    return cast(Scoring, module) if hasattr(module, "judge_tries") else None


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Judge the tries of one run of a test, whichever it is.

    Raises: ValueError if two tries carry the same number.
    """
    found = find_scoring(test.scoring)
    if found is None:
        raise ValueError(f"there is no way of scoring called {test.scoring}")
    if len({t.number for t in tries}) != len(tries):
        raise ValueError("two tries carry the same number")
    return found.judge_tries(test, sorted(tries, key=lambda t: t.number), known)


def read_evidence_of_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Sequence[Evidence]:
    """What the tries of one run say about drills, without its figures: many runs are read so at once."""
    found = find_scoring(test.scoring)
    quick = getattr(found, "gate_evidence", None)
    return list(quick(tries, test, known)) if quick else judge_tries(test, tries, known).pieces
