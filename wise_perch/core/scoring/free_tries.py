"""Ten free tries: open floor, nothing behind, each kick-up as if it were the only one."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass, fields
from typing import Literal

from wise_perch.core.scoring.rates import probability_at_least, two_sided_half, wilson_interval
from wise_perch.core.scoring.verdict import (
    Row,
    RunFacts,
    Share,
    Values,
    Verdict,
    evidence_of_run,
    share_row,
    verdict_without_tries,
)
from wise_perch.core.trade.decision import Decision, Figure
from wise_perch.core.trade.evidence import Evidence, Fell, Measure, Outcome, Try
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.words import say_share

Level = Literal["intermediate", "beginner"]
Pattern = Literal["over", "under"]
Interval = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class FreeTriesRules:
    """The figures of the test, each with its origin; the syllabus data carries them.

    Seconds in s; `*_share` from 0 to 1; `pattern_falls` the fewest falls that may name a pattern;
    `pattern_share` the share of falls one way that names it.
    """

    held_from_s: Figure
    long_hold_s: Figure
    long_hold_share: Figure
    full_tries: Figure
    reach_share_floor: Figure
    soft_landing_share: Figure
    held_share_floor: Figure
    mean_hold_floor_s: Figure
    pattern_falls: Figure
    pattern_share: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class FreeTriesContext:
    """What is known beside the tries. None means: not known here, so the step is passed over and named.

    `soft_landings` is (soft, tries) of the last ten wall landings.
    """

    exits_proven: bool | None = None
    soft_landings: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class FreeTriesScore:
    """Every figure of the test. Shares are None without tries, mean and best None without a held try."""

    n: int
    held: int
    overshot: int
    undershot: int
    held_share: float | None
    reach_share: float | None
    overshoot_share: float | None
    ten_second_share: float | None
    mean_hold_s: float | None
    best_hold_s: float | None
    falls_over: int
    falls_under: int
    fall_pattern: Pattern | None
    fall_p: float | None
    held_interval: Interval | None
    ten_second_interval: Interval | None
    p_ten_second_at_least_0_7: float
    level: Level
    decision: str
    unchecked: tuple[str, ...]
    reasons: tuple[str, ...]


def counted_outcome(tried: Try, rules: FreeTriesRules) -> Outcome:
    """Say what a try counts as: a held try shorter than a moment's balance is one that only passed
    through.
    """
    if tried.outcome != Outcome.HELD or (tried.value or 0.0) >= rules.held_from_s.value:
        return Outcome(tried.outcome)
    return Outcome.OVERSHOT if tried.fell is Fell.OVER else Outcome.UNDERSHOT


@dataclass(frozen=True, slots=True)
class _Counts:
    n: int
    held: int
    overshot: int
    long: int
    holds: tuple[float, ...]
    over: int
    under: int

    @property
    def mean(self) -> float | None:
        return sum(self.holds) / len(self.holds) if self.holds else None


def _count_tries(tries: Sequence[Try], rules: FreeTriesRules) -> _Counts:
    kinds = [counted_outcome(t, rules) for t in tries]
    held = [t for t, kind in zip(tries, kinds, strict=True) if kind is Outcome.HELD]
    holds = tuple(t.value or 0.0 for t in held)
    return _Counts(
        n=len(tries),
        held=len(held),
        overshot=sum(kind is Outcome.OVERSHOT for kind in kinds),
        long=sum(s >= rules.long_hold_s.value for s in holds),
        holds=holds,
        over=sum(t.fell is Fell.OVER for t in held),
        under=sum(t.fell is Fell.UNDER for t in held),
    )


def _fall_pattern(c: _Counts, rules: FreeTriesRules) -> Pattern | None:
    falls = c.over + c.under
    if falls < rules.pattern_falls.value:
        return None
    # a hair of slack, so that exactly two thirds written as a decimal still counts
    enough = rules.pattern_share.value * falls - 1e-9
    if c.over >= enough:
        return "over"
    return "under" if c.under >= enough else None


def score_free_tries(
    tries: Sequence[Try], rules: FreeTriesRules, context: FreeTriesContext | None = None
) -> FreeTriesScore:
    """Score a run of free tries and decide what to work on.

    Args: `tries` in any order, their numbers all different; `rules` the test's figures; `context` what else
    is known.
    Returns: every figure, the decision and the sentences behind it.
    Raises: ValueError if two tries carry the same number.
    """
    if len({t.number for t in tries}) != len(tries):
        raise ValueError("two tries carry the same number")
    c = _count_tries(sorted(tries, key=lambda t: t.number), rules)
    pattern = _fall_pattern(c, rules)
    decision, unchecked = _decide_free_tries(c, pattern, rules, context or FreeTriesContext())
    gate = rules.long_hold_share.value

    def share(k: int) -> float | None:
        return k / c.n if c.n else None

    return FreeTriesScore(
        n=c.n,
        held=c.held,
        overshot=c.overshot,
        undershot=c.n - c.held - c.overshot,
        held_share=share(c.held),
        reach_share=share(c.held + c.overshot),
        overshoot_share=share(c.overshot),
        ten_second_share=share(c.long),
        mean_hold_s=c.mean,
        best_hold_s=max(c.holds, default=None),
        falls_over=c.over,
        falls_under=c.under,
        fall_pattern=pattern,
        fall_p=two_sided_half(c.over, c.over + c.under) if c.over + c.under else None,
        held_interval=wilson_interval(c.held, c.n) if c.n else None,
        ten_second_interval=wilson_interval(c.long, c.n) if c.n else None,
        p_ten_second_at_least_0_7=probability_at_least(c.long, c.n, rate=gate),
        level="intermediate" if _is_intermediate(c, rules) else "beginner",
        decision=decision.what,
        unchecked=unchecked,
        reasons=decision.because,
    )


def _is_intermediate(c: _Counts, rules: FreeTriesRules) -> bool:
    return c.n >= rules.full_tries.value and c.long / c.n >= rules.long_hold_share.value


def _decide_free_tries(
    c: _Counts, pattern: Pattern | None, rules: FreeTriesRules, context: FreeTriesContext
) -> tuple[Decision, tuple[str, ...]]:
    """Look for the cause in the order a coach does: level, exits, entry, landings, balance, and then more of
    the same.
    """
    long = f"{c.long} of {c.n} tries lasted {rules.long_hold_s.value:g} s or longer"
    if c.n == 0:
        return (
            Decision(
                "entry", ("No try was made, so nothing can be said beyond the first step: getting up.",)
            ),
            (),
        )
    if _is_intermediate(c, rules):
        p = probability_at_least(c.long, c.n, rate=rules.long_hold_share.value)
        thin = (
            f"The chance that the true rate is at least {say_share(rules.long_hold_share.value)} is {p:.2f}."
            " A second day makes it firmer."
        )
        return (
            Decision(
                "intermediate",
                (
                    (
                        f"{long}. {rules.long_hold_share.value * 10:g} of 10 is the line between beginner and"
                        " intermediate."
                    ),
                    thin,
                ),
            ),
            (),
        )
    first = f"{long}. Intermediate takes {rules.long_hold_share.value * 10:g} of {rules.full_tries.value:g}."

    unchecked: list[str] = []
    if context.exits_proven is None:
        unchecked.append("exits")
    elif not context.exits_proven:
        return (
            Decision(
                "exits",
                (
                    first,
                    (
                        "The free exit is not proven. Nobody practises on open floor before coming down on"
                        " purpose is safe."
                    ),
                ),
            ),
            (),
        )

    reached = c.held + c.overshot
    if reached / c.n < rules.reach_share_floor.value:
        because = (
            f"{reached} of {c.n} tries reached vertical, fewer than"
            f" {say_share(rules.reach_share_floor.value)}"
            ": getting up comes before staying up."
        )
        return Decision("entry", (first, because)), tuple(unchecked)

    if context.soft_landings is None or context.soft_landings[1] == 0:
        unchecked.append("soft landings")
    else:
        soft, landings = context.soft_landings
        if soft / landings < rules.soft_landing_share.value:
            because = (
                f"{soft} of {landings} wall landings were soft. Until"
                f" {say_share(rules.soft_landing_share.value)} are, kick-ups keep a block of their own."
            )
            return Decision("kick-up-block", (first, because)), tuple(unchecked)

    return _decide_balance(c, pattern, rules, first), tuple(unchecked)


def _decide_balance(c: _Counts, pattern: Pattern | None, rules: FreeTriesRules, first: str) -> Decision:
    few = c.held / c.n < rules.held_share_floor.value
    short = c.mean is None or c.mean < rules.mean_hold_floor_s.value
    mean = "no mean hold" if c.mean is None else f"a mean hold of {c.mean:.1f} s"
    if not few and not short:
        because = (
            f"{c.held} of {c.n} tries held, with {mean}: the balance is there and wants longer floats near"
            " the wall and more free tries."
        )
        return Decision("near-wall-float", (first, because))
    lack = (
        f"{c.held} of {c.n} tries held, with {mean}: "
        + " and ".join(
            part
            for part, so in (
                (f"fewer than {say_share(rules.held_share_floor.value)} held", few),
                (f"the mean is below {rules.mean_hold_floor_s.value:g} s", short),
            )
            if so
        )
        + "."
    )
    falls = f"{c.over} of {c.over + c.under} falls went over"
    match pattern:
        case "over":
            return Decision(
                "heel-float",
                (first, lack, f"{falls}: back-to-wall floats train the fingers that save the over side."),
            )
        case "under":
            return Decision(
                "toe-float", (first, lack, f"{falls}: chest-to-wall floats train the under side.")
            )
        case None:
            return Decision(
                "both-floats", (first, lack, f"{falls}, too few or too even to name a side: float on both.")
            )


DECISIONS = frozenset(
    {
        "intermediate",
        "exits",
        "entry",
        "kick-up-block",
        "heel-float",
        "toe-float",
        "both-floats",
        "near-wall-float",
    }
)
RULES = frozenset(f.name for f in fields(FreeTriesRules))
DRILLS = frozenset({"reach", "best_hold", "long_holds"})


def rules_of(test: Test) -> FreeTriesRules:
    """The test's figures by their names."""
    return FreeTriesRules(**test.rules)


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Score the tries and lay the score out for every door."""
    rules = rules_of(test)
    landings = known.rates.get(test.landings_drill)
    s = score_free_tries(
        tries,
        rules,
        FreeTriesContext(exits_proven=known.proven.get(test.exits_drill), soft_landings=landings),
    )
    if not s.n:
        return verdict_without_tries(asdict(s))
    c = _count_tries(tries, rules)
    gate = rules.long_hold_share.value
    seconds = f"{rules.long_hold_s.value:g} s"
    falls = s.falls_over + s.falls_under
    rows = [
        share_row("held", s.held, s.n),
        Row(
            title="reached vertical",
            figure=f"{s.held + s.overshot} of {s.n}",
            beside=f"{s.overshot} passed over" if s.overshot else "",
        ),
        share_row(f"{seconds} or more", c.long, s.n),
        Row(
            title="mean hold",
            figure="none" if s.mean_hold_s is None else f"{s.mean_hold_s:.1f} s",
            beside="" if s.best_hold_s is None else f"best {s.best_hold_s:.1f} s",
        ),
        Row(
            title="falls",
            figure=f"{s.falls_over} over, {s.falls_under} under" if falls else "none",
            beside="" if s.fall_p is None else f"p {s.fall_p:.2f}",
        ),
    ]
    p = s.p_ten_second_at_least_0_7
    return Verdict(
        n=s.n,
        mode=test.modes[0].mode,
        summary=f"{c.long} of {s.n} at {seconds}",
        rows=tuple(rows),
        figures=asdict(s),
        decision=s.decision,
        reasons=s.reasons,
        unchecked=s.unchecked,
        compared=(
            Share(title=f"{seconds} or more", k=c.long, n=s.n, gate=gate),
            Share(title="held", k=s.held, n=s.n),
            Share(title="reached vertical", k=s.held + s.overshot, n=s.n),
            Values(title="seconds of held tries", unit="s", values=c.holds, gate=rules.long_hold_s.value),
        ),
        pieces=tuple(gate_evidence(tries, test, known)),
        note=(
            f"Ranges are Wilson 95 % intervals. Chance that the true rate of {seconds} holds is at least"
            f" {gate * 10:g} of 10: {'below 0.01' if p < 0.005 else f'{p:.2f}'} (uniform prior)."
        ),
    )


def gate_evidence(tries: Sequence[Try], test: Test, known: RunFacts) -> list[Evidence]:
    """Say what a run of free tries tells about the drills it measures: how often vertical was reached, the
    best clean hold, and how many clean holds were long.

    A try marked loose or lost counts as reached but not toward the holds. No tries, no evidence.
    """
    rules = rules_of(test)
    c = _count_tries(tries, rules)
    if not c.n:
        return []
    clean = _count_tries([t for t in tries if t.clean], rules)
    found = [
        evidence_of_run(known, test.drills["reach"], measure=Measure.RATE, value=c.held + c.overshot, n=c.n),
        evidence_of_run(known, test.drills["long_holds"], measure=Measure.RATE, value=clean.long, n=c.n),
    ]
    if clean.holds:
        found.append(
            evidence_of_run(known, test.drills["best_hold"], measure=Measure.HOLD, value=max(clean.holds))
        )
    return found
