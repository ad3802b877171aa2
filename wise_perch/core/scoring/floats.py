"""Floats at the wall: seconds off it up to a ceiling, or touches in a window, or a light foot. Three scales,
never mixed.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import floor
from statistics import mean, median_high
from typing import Any

from wise_perch.core.scoring.verdict import (
    Row,
    RunFacts,
    Values,
    Verdict,
    evidence_of_run,
    verdict_without_tries,
    worst_form,
)
from wise_perch.core.trade.evidence import Evidence, Measure, Try
from wise_perch.core.trade.protocol import Mode, Test

DECISIONS = frozenset(
    {"reached", "longer-floats", "fewer-touches", "float-next", "leave-the-wall", "cleaner"}
)
RULES = frozenset({"gate_s", "touches_few"})
DRILLS = frozenset({"float"})
AVERAGE = "average of three"
LIGHT_FOOT = "light foot"
SECONDS, TOUCHES, LIGHT = "seconds", "touches", "light-foot"


@dataclass(frozen=True, slots=True)
class _Sorted:
    """The tries by the way they were measured; seconds as credited, no more than the ceiling."""

    seconds: tuple[float, ...]
    touches: tuple[int, ...]
    light: tuple[float, ...]
    last: str


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Score a float. The way of measuring that the run ended in is the one that counts.

    Seconds: each try is credited up to the ceiling, and the average of all three is the result. Touches: the
    middle one of the windows (of two the worse), so that one lucky window is not a level. Light foot: the
    longest.
    """
    ceiling = test.mode(SECONDS).ceiling
    found = _sort_tries(tries, ceiling.value if ceiling else None)
    figures = _figures_of(found, test)
    if not tries:
        return verdict_without_tries(figures)
    mode = test.mode(found.last)
    mine = [t for t in tries if (t.mode or SECONDS) == found.last]
    by_mode = {SECONDS: _by_seconds, TOUCHES: _by_touches, LIGHT: _by_light_foot}
    return by_mode[found.last](test, mode, found, mine, known, figures)


def _sort_tries(tries: Sequence[Try], ceiling: float | None) -> _Sorted:
    def of(mode: str) -> list[float]:
        return [t.value or 0.0 for t in tries if (t.mode or SECONDS) == mode]

    credited = tuple(min(v, ceiling) if ceiling else v for v in of(SECONDS))
    last = (tries[-1].mode or SECONDS) if tries else SECONDS
    return _Sorted(credited, tuple(int(v) for v in of(TOUCHES)), tuple(of(LIGHT)), last)


def _average_hold(seconds: Sequence[float]) -> float:
    """The mean in whole hundredths, rounded down: no average claims more than was held, and a file carries it
    exactly.
    """
    return floor(mean(seconds) * 100 + 1e-9) / 100


def _figures_of(found: _Sorted, test: Test) -> dict[str, Any]:
    window = test.mode(TOUCHES).window_s
    return {
        "n": len(found.seconds) + len(found.touches) + len(found.light),
        "mode": found.last,
        "mean_s": _average_hold(found.seconds) if found.seconds else None,
        "best_s": max(found.seconds, default=None),
        "touches": median_high(found.touches) if found.touches else None,
        "window_s": window.value if found.touches and window else None,
        "light_foot_s": max(found.light, default=None),
    }


def _judge_floats(
    mode: Mode,
    mine: Sequence[Try],
    figures: dict[str, Any],
    *,
    summary: str,
    rows: Sequence[Row],
    decision: str,
    reasons: Sequence[str],
    values: Values,
    pieces: Sequence[Evidence],
) -> Verdict:
    before = figures["n"] - len(mine)
    apart = (
        "try was measured otherwise and stands" if before == 1 else "tries were measured otherwise and stand"
    )
    said = [f"{before} earlier {apart} apart."] if before else []
    return Verdict(
        n=figures["n"],
        mode=mode.mode,
        summary=summary,
        rows=tuple(rows),
        figures=figures,
        decision=decision,
        reasons=(*reasons, *said),
        compared=(values,),
        pieces=tuple(pieces),
        note=(
            "Seconds, touches and light-foot seconds are three scales and are never compared with one"
            " another."
        ),
    )


def _by_seconds(
    test: Test, mode: Mode, found: _Sorted, mine: Sequence[Try], known: RunFacts, figures: dict[str, Any]
) -> Verdict:
    gate, average = test.rules["gate_s"].value, _average_hold(found.seconds)
    full = len(found.seconds) >= mode.tries.value
    form = worst_form(mine)
    said = (
        f"{average:.1f} s on average over {len(found.seconds)}"
        f" {'try' if len(found.seconds) == 1 else 'tries'}. The gate is {gate:g} s, average of three."
    )
    enough = full and average >= gate - 1e-9
    reasons = [said]
    if not full:
        reasons.append(
            f"Only {len(found.seconds)} of {mode.tries.value:g} tries: an average of three needs all of them."
        )
    if enough and form != "clean":
        reasons.append(f"At least one was {form.value}: it counts as work done and not for the gate.")
    pieces = (
        [
            evidence_of_run(
                known, test.drills["float"], measure=Measure.HOLD, value=average, form=form, mode=AVERAGE
            )
        ]
        if full
        else []
    )
    return _judge_floats(
        mode,
        mine,
        figures,
        summary=f"{average:.1f} s on average",
        rows=[
            Row(title="average", figure=f"{average:.1f} s", beside=f"gate {gate:g} s"),
            Row(
                title="best",
                figure=f"{max(found.seconds):.1f} s",
                beside=f"{gate:g} s is the most that counts",
            ),
        ],
        decision=("reached" if form == "clean" else "cleaner") if enough else "longer-floats",
        reasons=reasons,
        values=Values(title="seconds off the wall", unit="s", values=found.seconds, gate=gate),
        pieces=pieces,
    )


def _by_touches(
    test: Test, mode: Mode, found: _Sorted, mine: Sequence[Try], known: RunFacts, figures: dict[str, Any]
) -> Verdict:
    few, middle = test.rules["touches_few"].value, median_high(found.touches)
    window = mode.window_s.value if mode.window_s else 0.0
    said = (
        f"{_say_touches(middle)} in {window:g} s is the middle one of {len(found.touches)}"
        f" {'window' if len(found.touches) == 1 else 'windows'}."
    )
    so = middle <= few
    then = (
        f"At {few:g} or fewer the next stage is measured in seconds again."
        if so
        else f"From {few:g} or fewer on, seconds off the wall are the measure."
    )
    return _judge_floats(
        mode,
        mine,
        figures,
        summary=f"{_say_touches(middle)} in {window:g} s",
        rows=[
            Row(title="touches", figure=f"{middle}", beside=f"in {window:g} s, fewer is better"),
            Row(title="all windows", figure=", ".join(str(t) for t in found.touches)),
        ],
        decision="float-next" if so else "fewer-touches",
        reasons=[said, then],
        values=Values(
            title=f"touches in {window:g} s",
            unit="touches",
            values=tuple(float(t) for t in found.touches),
            fewer=True,
            gate=few,
        ),
        pieces=[
            evidence_of_run(
                known,
                test.drills["float"],
                measure=Measure.TOUCHES,
                value=float(middle),
                form=worst_form(mine),
                window_s=window,
            )
        ],
    )


def _by_light_foot(
    test: Test, mode: Mode, found: _Sorted, mine: Sequence[Try], known: RunFacts, figures: dict[str, Any]
) -> Verdict:
    best = max(found.light)
    held = max(mine, key=lambda t: t.value or 0.0)
    return _judge_floats(
        mode,
        mine,
        figures,
        summary=f"{best:.1f} s with a light foot",
        rows=[
            Row(title="light foot", figure=f"{best:.1f} s", beside="the longest, a foot stayed at the wall")
        ],
        decision="leave-the-wall",
        reasons=[f"The wall could not be left yet. The longest hold with a light foot was {best:.1f} s."],
        values=Values(title="light-foot seconds", unit="s", values=found.light),
        pieces=[
            evidence_of_run(
                known,
                test.drills["float"],
                measure=Measure.HOLD,
                value=best,
                form=worst_form([held]),
                mode=LIGHT_FOOT,
            )
        ],
    )


def _say_touches(n: int) -> str:
    return f"{n} touch" if n == 1 else f"{n} touches"
