"""How many of some tries were good, against the gate of the drill that was tested."""

from collections.abc import Sequence

from wise_perch.core.scoring.rates import wilson_interval
from wise_perch.core.scoring.verdict import (
    RunFacts,
    Share,
    Verdict,
    evidence_of_run,
    share_row,
    verdict_without_tries,
)
from wise_perch.core.trade.evidence import Measure, Try
from wise_perch.core.trade.protocol import Test

DECISIONS = frozenset({"reached", "not-yet"})
RULES = frozenset[str]()
DRILLS = frozenset[str]()
GOOD = "good"


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Count the good tries. A good one marked loose or lost was done, but not cleanly enough to count.

    The gate counts only where it is a rate and all of its tries were made.
    """
    drill, n = known.subject, len(tries)
    if drill is None:
        raise ValueError(f"{test.test} is run for one drill at a time")
    good = sum(t.outcome == GOOD and t.clean for t in tries)
    figures = {
        "n": n,
        "drill": drill.drill,
        "good": good,
        "good_share": good / n if n else None,
        "good_interval": wilson_interval(good, n) if n else None,
    }
    if not n:
        return verdict_without_tries(figures, test.modes[0].mode)
    gate = drill.gate
    full = gate.of if gate.measure is Measure.RATE and gate.of else None
    share = gate.value / full if full else None
    reached = full is not None and share is not None and n >= full and good >= share * n - 1e-9
    reasons = [f"{drill.title}: {good} of {n} good. The gate is {gate.text}."]
    if full is None:
        reasons.append("The gate is measured otherwise, so this count does not meet it.")
    elif n < full:
        reasons.append(f"{n} tries are fewer than the {full} the gate asks for.")
    return Verdict(
        n=n,
        mode=test.modes[0].mode,
        summary=f"{good} of {n} good",
        rows=(share_row("good", good, n),),
        figures=figures,
        decision="reached" if reached else "not-yet",
        reasons=tuple(reasons),
        compared=(Share(title="good tries", k=good, n=n, gate=share),),
        pieces=(evidence_of_run(known, drill.drill, measure=Measure.RATE, value=good, n=n),),
        note="Ranges are Wilson 95 % intervals.",
    )
