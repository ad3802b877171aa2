"""What is wrong with the tests as data: every fault in a sentence."""

from collections import Counter
from collections.abc import Iterator

from wise_perch.core.scoring import find_scoring
from wise_perch.core.scoring.verdict import NO_TRY
from wise_perch.core.trade.protocol import Mode, Test

LIVE_KEYS = frozenset({" ", "PageDown", "PageUp", "z", "p", "c", "l", "x", "t", "f", "n", "r", "Tab"})
"""Keys that mean the same in every test, so that no outcome may take them. Ours, but for the plain ones."""


def find_test_faults(test: Test) -> list[str]:
    """List what is wrong with a test; empty if it is sound."""
    return [
        f"{test.test}: {what}" for what in (*_scoring_faults(test), *_mode_faults(test), *_rest_faults(test))
    ]


def _scoring_faults(test: Test) -> Iterator[str]:
    way = find_scoring(test.scoring)
    if way is None:
        yield f"there is no way of scoring called {test.scoring}."
        return
    if missing := way.RULES - set(test.rules):
        yield f"its scoring asks for the rules {', '.join(sorted(missing))}."
    if extra := set(test.rules) - way.RULES:
        yield f"its scoring knows no rule {', '.join(sorted(extra))}."
    if missing := way.DRILLS - set(test.drills):
        yield f"its scoring asks for the drills {', '.join(sorted(missing))}."
    if (have := set(test.decisions)) != (want := way.DECISIONS):
        yield f"its decisions are {', '.join(sorted(want))}, and it words {', '.join(sorted(have))}."
    if NO_TRY in test.decisions:
        yield f"{NO_TRY} is worded by the product."


def _mode_faults(test: Test) -> Iterator[str]:
    names = [m.mode for m in test.modes]
    if not names or len(set(names)) != len(names):
        yield "it needs modes, each with a name of its own."
        return
    for n, mode in enumerate(test.modes):
        for to in filter(None, (mode.then, mode.early and mode.early.to, mode.change and mode.change.to)):
            if to not in names[n + 1 :]:
                yield f"{mode.mode} leads to {to}, which is no mode after it."
        yield from _mark_faults(mode)


def _mark_faults(mode: Mode) -> Iterator[str]:
    keys = Counter(m.key for m in mode.marks)
    if twice := [k for k, n in keys.items() if n > 1 or k in LIVE_KEYS]:
        yield f"in {mode.mode} the key {twice[0]} is taken."
    if not mode.marks:
        yield f"{mode.mode} has no outcome."
    if mode.takes != "mark" and not any(m.figure for m in mode.marks):
        yield f"{mode.mode} takes a figure, and no outcome keeps it."
    if mode.ladder and (
        not all(m.passed is not None for m in mode.marks) or not any(m.passed for m in mode.marks)
    ):
        yield f"{mode.mode} goes by passes and misses, so each outcome is one of them."
    if mode.takes == "window" and mode.window_s is None:
        yield f"{mode.mode} counts in a window and says none."


def _rest_faults(test: Test) -> Iterator[str]:
    if not 0 < test.rest_least_s.value <= test.rest_usual_s.value <= test.rest_most_s.value <= 600:
        yield "its rest goes from the least over the usual to the most, in seconds up to 600."
