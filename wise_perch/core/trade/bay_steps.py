"""A bay looked at: steps of it that are too big, and who would stand where."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from wise_perch.core.trade.breakdown import (
    MEASURE,
    BayRung,
    Wanted,
    as_known,
    bare_name,
    eased,
    easier_steps,
    known_drills,
    makes_sense,
    say_rung,
    say_standard,
)
from wise_perch.core.trade.easing import At, Easing, SkillForm
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_list


@dataclass(frozen=True, slots=True, kw_only=True)
class TooBig:
    """A step of the bay that is too big: the rungs it lies between (by their place from the goal down), the
    sentence, and what would lie between.
    """

    upper: int
    lower: int
    sentence: str
    between: BayRung | None


def find_big_steps(
    wanted: Wanted, rungs: Sequence[BayRung], easing: Easing, syllabus: Syllabus
) -> tuple[TooBig, ...]:
    """Find the neighbours of a bay between which more than one thing gets harder, or one thing by more than
    one step, or by more than the syllabus allows one gate to grow. What is left out is passed over.
    """
    kept = [(n, r) for n, r in enumerate(rungs) if r.kept]
    return tuple(
        found
        for (n, upper), (m, lower) in pairwise(kept)
        if (found := _between((n, upper), (m, lower), wanted, easing, syllabus))
    )


def _between(
    above: tuple[int, BayRung], under: tuple[int, BayRung], wanted: Wanted, easing: Easing, syllabus: Syllabus
) -> TooBig | None:
    (n, upper), (m, lower) = above, under
    if upper.at is None or lower.at is None:
        return None
    form = easing.form(wanted.form)
    harder = {
        way: steps for way in upper.at if (steps := _steps_up(way, lower.at, upper.at, form, easing)) > 0
    }
    if sum(harder.values()) <= 1:
        return _grown(above, under, syllabus) if not harder else None
    way = max(harder, key=lambda w: harder[w])
    middle = next(easier_steps(way, upper.at, form, easing), None)
    proposal = eased(wanted, middle, way, easing) if middle and middle != lower.at else None
    named = say_list([easing.way(w).title.lower() for w in harder])
    both = len(harder) > 1
    sentence = (
        f"From {_low(lower.title)} to {_low(upper.title)},"
        f" {named} {'get harder at once' if both else 'gets harder by more than one step'}."
    )
    if proposal:
        proposal = as_known(proposal, form, easing, known_drills(easing, syllabus))
        proposal = None if proposal.drill and proposal.drill == lower.drill else proposal
    proposal = say_rung(proposal, easing, syllabus) if proposal else None
    return TooBig(upper=n, lower=m, sentence=sentence, between=proposal)


def _steps_up(way: str, lower: At, upper: At, form: SkillForm, easing: Easing) -> int:
    """How many steps harder one skill is than another in one way, of those that make sense for it."""
    if way not in lower:
        return 0
    steps = easing.way(way).steps
    between = steps[easing.way(way).place(lower[way]) : easing.way(way).place(upper[way])]
    return sum(s.step == lower[way] or makes_sense(s, way, upper, form) for s in between)


def _grown(above: tuple[int, BayRung], under: tuple[int, BayRung], syllabus: Syllabus) -> TooBig | None:
    """The same skill, of which too much more is asked."""
    (n, upper), (m, lower) = above, under
    a, b = upper.gate, lower.gate
    if (a.measure, a.of) != (b.measure, b.of) or a.fewer or b.value <= 0:
        return None
    times = a.value / b.value
    if times <= syllabus.rules.gap_ratio.value:
        return None
    value = float(round((a.value * b.value) ** 0.5))
    gate = replace(a, value=value, easy_from=None)
    sentence = f"{_low(upper.title)} asks for {times:.1f} times as much as {_low(lower.title)}."
    title = f"{bare_name(upper.title)}, {say_standard(gate)}"
    less = BayRung(title=title, gate=gate, way=MEASURE, at=upper.at, said="less of it")
    between = less if b.value < value < a.value else None
    return TooBig(upper=n, lower=m, sentence=sentence[:1].upper() + sentence[1:], between=between)


def _low(title: str) -> str:
    return title[:1].lower() + title[1:]


@dataclass(frozen=True, slots=True, kw_only=True)
class BayPlace:
    """Where somebody would stand: the rung (its place from the goal down), None below all of them."""

    name: str
    rung: int | None


NAMED_AT_MOST = 4


def highest_met(rungs: Sequence[BayRung], met: Collection[str]) -> int | None:
    """The highest rung that somebody has met, of what is there already: of the others nobody has evidence."""
    return next((n for n, r in enumerate(rungs) if r.kept and r.drill in met), None)


def say_places(places: Sequence[BayPlace], rungs: Sequence[BayRung]) -> str:
    """Who would stand where, the highest first: "Jorun and Kaia on tuck handstand. Ten others below it." """
    if not places:
        return "Nobody is here yet."
    found = []
    for n, rung in enumerate(rungs):
        names = sorted(p.name for p in places if p.rung == n)
        if names:
            more = len(names) - NAMED_AT_MOST
            told = names if more <= 1 else [*names[:NAMED_AT_MOST], f"{more} more"]
            found.append(f"{say_list(told)} on {_low(rung.title)}")
    below = sum(p.rung is None for p in places)
    if below:
        found.append(f"{below} below all of it" if found else "everybody below all of it")
    return " ".join(f"{x[:1].upper()}{x[1:]}." for x in found)
