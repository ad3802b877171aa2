"""What a run of any test says: figures, decision, reasons, and evidence about drills."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, Protocol

from wise_perch.core.scoring.rates import wilson_interval
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.decision import Decision
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Side, Try
from wise_perch.core.trade.protocol import Test


@dataclass(frozen=True, slots=True, kw_only=True)
class RunFacts:
    """What is known beside the tries. `subject`: the drill that was tested. `dial`: the setting the whole run
    was made at.

    `drills`: all that are in use. `proven` and `rates` (k, n of the newest) by drill; a drill that is missing
    there is not known here, so what would need it is passed over and named.
    """

    day: date
    subject: Drill | None = None
    dial: Mapping[str, float] = field(default_factory=dict)
    confidence: int | None = None
    drills: Mapping[str, Drill] = field(default_factory=dict)
    proven: Mapping[str, bool] = field(default_factory=dict)
    rates: Mapping[str, tuple[int, int]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One figure as a screen shows it, with what stands beside it."""

    title: str
    figure: str
    beside: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Share:
    """k of n of one kind, for comparing two runs. `gate`: the share asked for, if any."""

    title: str
    k: int
    n: int
    gate: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Values:
    """Figures of one kind, one a try, for comparing two runs. `fewer` is better; `gate`: the figure asked
    for, if any.
    """

    title: str
    unit: str
    values: tuple[float, ...]
    fewer: bool = False
    gate: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class LimitReading:
    """One reading of a limit, for comparing two runs. `step`: what is taken at once; `fewer` is better."""

    title: str
    unit: str
    value: float
    step: float
    fewer: bool = False
    gate: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """All that a run says. `figures` by their names of docs/formats.md; `mode`: what was measured in the end.

    `summary` says the result in a few words. `compared`: what two runs of the same mode are compared by.
    """

    n: int
    mode: str
    summary: str
    rows: tuple[Row, ...]
    figures: Mapping[str, Any]
    decision: str
    reasons: tuple[str, ...]
    note: str = ""
    unchecked: tuple[str, ...] = ()
    compared: tuple[Share | Values | LimitReading, ...] = ()
    pieces: tuple[Evidence, ...] = ()


class Scoring(Protocol):
    """What a file in `benchmarks` offers: the decisions it can take, and the judgement of a run."""

    DECISIONS: frozenset[str]
    RULES: frozenset[str]
    DRILLS: frozenset[str]

    def judge_tries(self, test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
        """Judge the tries of one run, in their order."""
        ...


NO_TRY = "no-try"
"""The decision where nothing was done. Every test may come to it."""


def verdict_without_tries(figures: Mapping[str, Any], mode: str = "") -> Verdict:
    """The verdict of a run without a try."""
    decision = Decision(NO_TRY, ("No try was made, so there is nothing to decide from this run.",))
    return Verdict(
        n=0,
        mode=mode,
        summary="no try",
        rows=(),
        figures=figures,
        decision=decision.what,
        reasons=decision.because,
    )


def share_row(title: str, k: int, n: int) -> Row:
    """k of n with its Wilson 95 % interval."""
    low, high = wilson_interval(k, n)
    return Row(title=title, figure=f"{k} of {n}", beside=say_interval(low, high))


def say_interval(low: float, high: float) -> str:
    """A range of shares as a coach reads it: "40–89 %"."""
    return f"{low * 100:.0f}–{high * 100:.0f} %"


def worst_form(tries: Sequence[Try]) -> Form:
    """The form of several tries taken as one: the worst that was marked."""
    marked = [t.form for t in tries if t.form]
    return Form.LOST if Form.LOST in marked else Form.LOOSE if Form.LOOSE in marked else Form.CLEAN


def evidence_of_run(
    known: RunFacts,
    drill: str,
    *,
    measure: Measure,
    value: float,
    form: Form = Form.CLEAN,
    n: int | None = None,
    mode: str | None = None,
    window_s: float | None = None,
    side: Side | None = None,
    dial: Mapping[str, float] | None = None,
) -> Evidence:
    """One piece of evidence of this run's day and confidence."""
    made = Evidence(
        drill=drill,
        day=known.day,
        measure=measure,
        value=value,
        form=form,
        n=n,
        mode=mode,
        window_s=window_s,
        side=side,
    )
    return replace(made, confidence=known.confidence, dial=dict(known.dial if dial is None else dial))
