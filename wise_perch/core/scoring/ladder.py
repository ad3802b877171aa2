"""Ladders: the hardest setting at which one try still went well, for each way it was tried."""

from collections.abc import Mapping, Sequence
from typing import Any

from wise_perch.core.scoring.verdict import (
    LimitReading,
    Row,
    RunFacts,
    Verdict,
    evidence_of_run,
    verdict_without_tries,
    worst_form,
)
from wise_perch.core.trade.evidence import REMEMBERED, Evidence, Measure, Try
from wise_perch.core.trade.protocol import Ladder, Mode, Test, harder_first

DECISIONS = frozenset({"at-the-end", "train-here", "none-passed"})
RULES = frozenset[str]()
DRILLS = frozenset[str]()


def judge_tries(test: Test, tries: Sequence[Try], known: RunFacts) -> Verdict:
    """Score a ladder, or several in a row: each limit is the hardest setting passed clean; loose passes are
    work done.

    `test.drills` names the drill of each mode (or the subject does), and the drills that speak from a setting
    on: a role `<mode>-flat` from 0 on, `<mode>-below` below it.
    """
    modes = {m.mode: m for m in test.modes}
    limits = {name: _find_limit(mode, tries, test) for name, mode in modes.items()}
    names = {name: name.replace("-", "_") for name in modes}
    several = len(modes) > 1
    figures: dict[str, Any] = {"n": len(tries)}
    for name, limit in limits.items():
        figures[f"{names[name]}_limit" if several else "limit"] = limit
        missed = _first_miss(modes[name], tries, test)
        figures[f"{names[name]}_missed" if several else "missed"] = missed
    if not tries:
        return verdict_without_tries(figures)
    tried = [name for name in modes if any((t.mode or test.modes[0].mode) == name for t in tries)]
    rows = [_limit_row(modes[name], limits[name], tries, test) for name in tried]
    reasons = [_say_reason(modes[name], limits[name], tries, test, known) for name in tried]
    first = test.modes[0].mode
    lead = limits[first]
    decision = (
        "none-passed"
        if lead is None
        else "at-the-end"
        if _past_gate(test, first, lead, known)
        else "train-here"
    )
    said = [f"{modes[name].title.lower()} {_say_level(modes[name], limits[name])}" for name in tried]
    return Verdict(
        n=len(tries),
        mode=first,
        summary=", ".join(said),
        rows=tuple(rows),
        figures=figures,
        decision=decision,
        reasons=tuple(reasons),
        compared=tuple(
            LimitReading(
                title=modes[name].title,
                unit=_unit_of(modes[name]),
                value=limit,
                step=ladder.step.value,
                fewer=_gets_harder_downward(modes[name]),
                gate=_gate_setting(test, name, known),
            )
            for name in tried
            if (limit := limits[name]) is not None and (ladder := modes[name].ladder)
        ),
        pieces=tuple(
            p for name in tried for p in _pieces_of_mode(test, modes[name], limits[name], tries, known)
        ),
        note="A limit is that day's reading: it is kept with its date and wants a re-test.",
    )


def _tries_of_mode(mode: Mode, tries: Sequence[Try], test: Test) -> list[Try]:
    return [t for t in tries if (t.mode or test.modes[0].mode) == mode.mode and t.level is not None]


def _passing_outcomes(mode: Mode) -> frozenset[str]:
    return frozenset(m.outcome for m in mode.marks if m.passed)


def _passing_tries(mode: Mode, tries: Sequence[Try], test: Test) -> list[Try]:
    return [t for t in _tries_of_mode(mode, tries, test) if t.outcome in _passing_outcomes(mode) and t.clean]


def _gets_harder_downward(mode: Mode) -> bool:
    return mode.ladder is not None and harder_first(mode.ladder)


def _find_limit(mode: Mode, tries: Sequence[Try], test: Test) -> float | None:
    levels = [t.level for t in _passing_tries(mode, tries, test) if t.level is not None]
    return (min if _gets_harder_downward(mode) else max)(levels) if levels else None


def _first_miss(mode: Mode, tries: Sequence[Try], test: Test) -> float | None:
    levels = [
        t.level
        for t in _tries_of_mode(mode, tries, test)
        if t.outcome not in _passing_outcomes(mode) and t.level is not None
    ]
    return (max if _gets_harder_downward(mode) else min)(levels) if levels else None


def _unit_of(mode: Mode) -> str:
    return mode.ladder.unit if mode.ladder else mode.unit


def _say_level(mode: Mode, level: float | None) -> str:
    if level is None:
        return "none"
    if level == 0 and mode.ladder and mode.ladder.dial.endswith("height"):
        return "to the floor"
    return f"{level:g} {_unit_of(mode)}"


def _limit_row(mode: Mode, limit: float | None, tries: Sequence[Try], test: Test) -> Row:
    missed = _first_miss(mode, tries, test)
    return Row(
        title=mode.title.lower(),
        figure=_say_level(mode, limit),
        beside="no miss" if missed is None else f"missed at {missed:g} {_unit_of(mode)}",
    )


def _say_reason(mode: Mode, limit: float | None, tries: Sequence[Try], test: Test, known: RunFacts) -> str:
    missed = _first_miss(mode, tries, test)
    if limit is None:
        return f"{mode.title}: nothing passed clean" + (
            f", missed at {missed:g} {_unit_of(mode)}." if missed is not None else "."
        )
    gate = _gate_setting(test, mode.mode, known)
    asked = f". The gate is measured at {gate:g} {_unit_of(mode)}" if gate is not None else ""
    return (
        f"{mode.title}: passed at {limit:g} {_unit_of(mode)}"
        + (f", missed at {missed:g}" if missed is not None else ", with no miss")
        + asked
        + "."
    )


def _drill_of_mode(test: Test, mode: str, known: RunFacts) -> str:
    return test.drills.get(mode) or (known.subject.drill if known.subject else "")


def _gate_setting(test: Test, mode: str, known: RunFacts) -> float | None:
    """The setting the drill's gate is measured at, if it has one."""
    drill = known.drills.get(_drill_of_mode(test, mode, known))
    at = drill.gate.at if drill else None
    return None if at is None else at.at_most if at.at_most is not None else at.at_least


def _past_gate(test: Test, mode: str, limit: float, known: RunFacts) -> bool:
    setting = _gate_setting(test, mode, known)
    if setting is None:
        return False
    return limit <= setting if _gets_harder_downward(test.mode(mode)) else limit >= setting


def _pieces_of_mode(
    test: Test, mode: Mode, limit: float | None, tries: Sequence[Try], known: RunFacts
) -> list[Evidence]:
    """A rep at each setting passed, and the limit itself, kept with its day."""
    ladder, drill = mode.ladder, _drill_of_mode(test, mode.mode, known)
    if ladder is None or not drill:
        return []
    good = [t for t in _tries_of_mode(mode, tries, test) if t.outcome in _passing_outcomes(mode)]
    found = []
    if mode.measure is Measure.REPS:
        found = [_rep_piece(test, mode, ladder, drill, t, known) for t in good]
    if limit is not None:
        kind = Measure.HEIGHT if ladder.dial.endswith("height") else Measure.DISTANCE
        found.append(
            evidence_of_run(
                known, drill, measure=kind, value=limit, mode=REMEMBERED, dial=_dial_at(ladder, limit)
            )
        )
    return found


def _dial_at(ladder: Ladder, level: float) -> Mapping[str, float]:
    return {ladder.dial: level}


def _rep_piece(test: Test, mode: Mode, ladder: Ladder, drill: str, t: Try, known: RunFacts) -> Evidence:
    level = t.level or 0.0
    at_zero, below = test.drills.get(f"{mode.mode}-flat"), test.drills.get(f"{mode.mode}-below")
    speaks_for = below if below and level < 0 else at_zero if at_zero and level == 0 else drill
    return evidence_of_run(
        known, speaks_for, measure=Measure.REPS, value=1, form=worst_form([t]), dial=_dial_at(ladder, level)
    )
