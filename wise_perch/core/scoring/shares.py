"""Shares of tries that ended so or so: k of n for each, and a gate that one of them has to reach."""

from collections.abc import Sequence

from wise_perch.core.scoring.rates import probability_at_least, wilson_interval
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
from wise_perch.core.trade.words import say_share

DECISIONS = frozenset({"reached", "not-yet"})
RULES = frozenset({"full_tries", "gate_share"})
DRILLS = frozenset({"landed", "soft"})


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Score wall landings: how many landed at all, and how many of all without a thud.

    A landing marked loose or lost still landed, but not softly enough to count.
    """
    n = len(tries)
    landed = sum(t.outcome in ("soft", "hard") for t in tries)
    soft = sum(t.outcome == "soft" and t.clean for t in tries)
    figures = {
        "n": n,
        "landed": landed,
        "soft": soft,
        "landed_share": landed / n if n else None,
        "soft_share": soft / n if n else None,
        "landed_interval": wilson_interval(landed, n) if n else None,
        "soft_interval": wilson_interval(soft, n) if n else None,
        "p_soft_at_least_gate": probability_at_least(soft, n, rate=test.rules["gate_share"].value),
    }
    if not n:
        return verdict_without_tries(figures)
    gate, full = test.rules["gate_share"].value, test.rules["full_tries"].value
    reached = n >= full and soft >= gate * n - 1e-9
    asked = f"{gate * full:g} of {full:g}"
    p = probability_at_least(soft, n, rate=gate)
    said = f"{soft} of {n} landings were soft. {asked} end the separate kick-up block."
    chance = f"The chance that the true rate is at least {say_share(gate)} is {p:.2f}" + (
        ". A second day makes it firmer." if reached else f", after {n} tries."
    )
    reasons = [said, chance]
    if n < full:
        reasons.insert(1, f"{n} tries are fewer than the {full:g} the gate asks for.")
    return Verdict(
        n=n,
        mode=test.modes[0].mode,
        summary=f"{soft} of {n} soft",
        rows=(share_row("soft", soft, n), share_row("landed", landed, n)),
        figures=figures,
        decision="reached" if reached else "not-yet",
        reasons=tuple(reasons),
        compared=(Share(title="soft landings", k=soft, n=n, gate=gate), Share(title="landed", k=landed, n=n)),
        pieces=(
            evidence_of_run(known, test.drills["landed"], measure=Measure.RATE, value=landed, n=n),
            evidence_of_run(known, test.drills["soft"], measure=Measure.RATE, value=soft, n=n),
        ),
        note="Ranges are Wilson 95 % intervals. Chances start from a uniform prior.",
    )
