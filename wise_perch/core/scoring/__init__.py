"""The ways tests are scored: one file a way, found by its name. Adding a way is adding a file."""

from collections.abc import Sequence
from functools import cache
from importlib import import_module
from importlib.util import find_spec
from typing import cast

from wise_perch.core.scoring.verdict import Known, Scoring, Verdict
from wise_perch.core.trade.evidence import Evidence, Try
from wise_perch.core.trade.protocol import Test


@cache
def scoring(name: str) -> Scoring | None:
    """The file that scores this way, or None if there is none."""
    path = f"{__name__}.{name}"
    if not name.isidentifier() or find_spec(path) is None:
        return None
    module = import_module(path)
    return cast(Scoring, module) if hasattr(module, "judge") else None


def judge(test: Test, tries: Sequence[Try], known: Known) -> Verdict:
    """Judge the tries of one run of a test, whichever it is.

    Raises: ValueError if two tries carry the same number.
    """
    found = scoring(test.scoring)
    if found is None:
        raise ValueError(f"there is no way of scoring called {test.scoring}")
    if len({t.number for t in tries}) != len(tries):
        raise ValueError("two tries carry the same number")
    return found.judge(test, sorted(tries, key=lambda t: t.number), known)


def pieces(test: Test, tries: Sequence[Try], known: Known) -> Sequence[Evidence]:
    """What the tries of one run say about drills, without its figures: many runs are read so at once."""
    found = scoring(test.scoring)
    quick = getattr(found, "gate_evidence", None)
    return list(quick(tries, test, known)) if quick else judge(test, tries, known).pieces
