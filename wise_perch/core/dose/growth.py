"""How a dose grows: from what was asked last and how it went, under the best known, and back after a gap."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby, pairwise

from wise_perch.core.dose.best_known import BestKnown, best_of
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.gates import Gate, say_amount
from wise_perch.core.trade.session_rules import Because, GapShare, Growth, SessionRules
from wise_perch.core.trade.words import capitalise, say_day, say_share
from wise_perch.core.trainee.case import JudgedCase


@dataclass(frozen=True, slots=True, kw_only=True)
class AskedDay:
    """What the sets of one day asked for, whether one of them fell short of it, and whether all were done as
    asked; `done` is the most they came to. A set that asked for more than the others (the gate's own figure)
    is no part of it.
    """

    day: date
    asked: float
    short: bool
    well: bool
    done: float


@dataclass(frozen=True, slots=True, kw_only=True)
class NextAmount:
    """How much the next set asks for, in the gate's unit, and why."""

    each: float
    because: Because


def asked_days(pieces: Sequence[Evidence]) -> list[AskedDay]:
    """The days on which sets asked for something, oldest first. `pieces` in order of their days."""
    found = []
    for day, same in groupby((p for p in pieces if p.asked is not None), key=lambda p: p.day):
        mine = list(same)
        asked = min(p.asked for p in mine if p.asked is not None)
        own = [p for p in mine if p.asked == asked]
        found.append(
            AskedDay(
                day=day,
                asked=asked,
                short=any(p.fell_short for p in own),
                well=all(p.as_asked for p in own),
                done=max(p.value for p in own),
            )
        )
    return found


def step_of(asked: float, growth: Growth) -> float:
    """By how many seconds a hold grows that was done as asked."""
    if asked < growth.short_s.value:
        return growth.short_step_s.value
    return growth.middle_step_s.value if asked < growth.middle_s.value else growth.long_step_s.value


def share_after_gap(days: int, growth: Growth) -> GapShare:
    """The share of the last best that is left after so many days without a drill."""
    return next((g for g in growth.gaps if g.days is None or days <= g.days), growth.gaps[-1])


def since_coming_back(pieces: Sequence[Evidence], gate: Gate, best: BestKnown, growth: Growth) -> date | None:
    """The last day before the newest gap, while what was there by then has not been reached again."""
    days = sorted({p.day for p in pieces})
    gaps = [before for before, after in pairwise(days) if (after - before).days > growth.gap_after_days.value]
    former = [p for p in pieces if gaps and p.day <= gaps[-1] and p.form is Form.CLEAN and not p.fell_short]
    return gaps[-1] if former and best_of(former, gate).value > best.value else None


def grow(
    pieces: Sequence[Evidence],
    best: BestKnown,
    case: JudgedCase,
    *,
    gate: Gate,
    begin: float,
    step: float | None = None,
    most: float,
    measured: bool = True,
) -> NextAmount:
    """How much a set asks for, under a best known: never more than most of it, unless so much was done as
    asked already, or nothing ever measures the best.

    Args: `pieces` of this drill in order of their days; `begin`: where the drill begins, if the best is not
    shorter; `step`: by how much it grows, by the length of the hold where None; `most`: the end of the
    drill's own range, or its gate; `measured`: open sets may be asked of this drill.
    """
    rules, growth = case.syllabus.sessions, case.syllabus.sessions.growth
    if best.gap_days is not None:
        return _after_gap(best, rules, most=most)
    days = asked_days(pieces)
    base = _share_of_best(days, best, rules)
    # a hold leaves a margin to its best; of few reps a share would be none, so they go up to it
    whole = gate.measure is Measure.REPS
    ceiling = best.value if whole else growth.most_of_best.value * best.value
    if begin <= ceiling:
        base = max(base, begin)
    if not days:
        share = say_share(rules.hold_share.value)
        return NextAmount(
            each=_bounded(base, most),
            because=Because(text=f"From {share} of the {best.words}.", origin=rules.hold_share.origin),
        )
    last = days[-1]
    # what was done as asked is never above the best; what fell short may be
    cap = max(ceiling, min(last.asked, best.value))
    figure, day = say_amount(last.asked, gate.measure), say_day(last.day, case.on)
    if last.short and len(days) > 1 and days[-2].short:
        # never so little less that it is still beyond what went
        less = min(growth.after_two_short.value * last.asked, cap, max(last.done, 1.0))
        text = f"{figure} fell short twice in a row, last on {day}: less."
        return NextAmount(
            each=_bounded(less, most), because=Because(text=text, origin=growth.after_two_short.origin)
        )
    if last.short or not last.well:
        told = "fell short" if last.short else "was not clean, or not seen,"
        text = f"{figure} {told} on {day}: the same again."
        return NextAmount(
            each=_bounded(min(last.asked, cap), most), because=Because(text=text, origin="ours")
        )
    by = step if step is not None else step_of(last.asked, growth)
    back = since_coming_back(pieces, gate, best, growth)
    # twice the step until something falls short: then it is known where things stand
    if back and not any(d.short for d in days if d.day > back):
        by *= growth.regrow.value
    wanted = max(last.asked + by, base)
    if not measured:
        # where an open set would be too much, a step beyond what went is what finds the best
        cap = max(cap, last.asked + by)
    each = _bounded(min(wanted, cap), most)
    why = f"{figure} done as asked on {day}"
    if each > last.asked:
        text = f"{why}: {say_amount(each, gate.measure)} now. {capitalise(best.words)}."
    elif each >= most:
        text = f"{why}: as long as it is worked."
    else:
        text = f"{why}: the same until an open set has raised what is known. {capitalise(best.words)}."
    return NextAmount(each=each, because=Because(text=text, origin=growth.most_of_best.origin))


def _share_of_best(days: Sequence[AskedDay], best: BestKnown, rules: SessionRules) -> float:
    """A share of the best known; none, once so much was asked for since and fell short."""
    share = rules.hold_share.value * best.value
    return 0.0 if any(d.short and d.asked <= share for d in days if d.day > best.day) else share


def _after_gap(best: BestKnown, rules: SessionRules, *, most: float) -> NextAmount:
    gap = share_after_gap(best.gap_days or 0, rules.growth)
    weeks = (best.gap_days or 0) // 7
    text = f"{weeks} weeks without it: {say_share(gap.share.value)} of what went before, {best.words}."
    return NextAmount(
        each=_bounded(gap.share.value * best.value, most), because=Because(text=text, origin=gap.share.origin)
    )


def _bounded(value: float, most: float) -> float:
    """Whole figures, at least one, at most `most`; rounded down, so that no bound is passed by rounding."""
    return float(max(1, int(min(value, most) + 1e-9)))
