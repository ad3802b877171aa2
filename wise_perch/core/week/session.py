"""A session put together: preparation, blocks in the order of the phases, exits before open floor, each with
its reasons.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.dose import DayDose, with_sets
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.session_lookup import phase_of
from wise_perch.core.trade.session_rules import Because, Phase
from wise_perch.core.trainee.pain import worst_ache
from wise_perch.core.week.candidates import Candidate
from wise_perch.core.week.question import WeekQuestion
from wise_perch.core.week.stand_ins import say_stand_ins, stand_ins_for
from wise_perch.core.week.week_plan import Block, DayWish


@dataclass(frozen=True, slots=True, kw_only=True)
class Prepared:
    """A block that stands in every session: its phase, its length in s, and the drill with its dose where it
    has one.
    """

    phase: Phase
    length_s: float
    drill: Drill | None = None
    dose: DayDose | None = None


def prepare_session(question: WeekQuestion) -> tuple[list[Prepared], list[str]]:
    """What every session begins and ends with, and what of it a hurting joint leaves out."""
    syllabus = question.case.syllabus
    stops_at = syllabus.rules.pain_stops_at.value
    found: list[Prepared] = []
    gone: list[str] = []
    for phase in syllabus.sessions.phases:
        if phase.fixed_s and worst_ache(question.case.aches, phase.joints, stops_at=stops_at)[1]:
            gone.append(phase.title)
        elif phase.fixed_s:
            found.append(Prepared(phase=phase, length_s=phase.fixed_s.value))
        for name in _always_open(phase, question):
            drill = syllabus.drills[name]
            if question.case.ache_in(drill)[1]:
                gone.append(drill.title)
                continue
            dose = choose_dose(drill, question.case)
            dose = replace(dose, sets=dose.least, first=None)
            found.append(
                Prepared(
                    phase=phase,
                    length_s=max(phase.least_s.value if phase.least_s else 0.0, dose.length_s),
                    drill=drill,
                    dose=dose,
                )
            )
    return found, gone


def _always_open(phase: Phase, question: WeekQuestion) -> list[str]:
    """What of a phase is done every time, as far as it is open; where something is closed, what takes its
    place.
    """
    every = question.case.drills
    able = [n for n in phase.always if n in every and every[n].open]
    closed = len(able) < len(phase.always)
    return able + [n for n in phase.instead if closed and n in every and every[n].open]


def exits_shown_first(question: WeekQuestion) -> Prepared | None:
    """The exit shown before any open-floor work: the first that is proven."""
    syllabus, every = question.case.syllabus, question.case.drills
    rule = syllabus.sessions.rehearsal
    name = next((n for n in rule.drills if n in every and every[n].state == "proven"), None)
    phase = phase_of(syllabus, name) if name else None
    if name is None or phase is None:
        return None
    drill = syllabus.drills[name]
    dose = choose_dose(drill, question.case)
    sets = int(rule.sets.value)
    dose = replace(
        dose,
        sets=sets,
        least=sets,
        most=sets,
        first=None,
        because=(Because(text=rule.because, origin=rule.sets.origin),),
    )
    return Prepared(phase=phase, length_s=dose.length_s, drill=drill, dose=dose)


def frame_s(prepared: Sequence[Prepared], change_over_s: float) -> float:
    """How long preparation takes in all, with the change-overs between its blocks, s."""
    return sum(p.length_s for p in prepared) + change_over_s * max(0, len(prepared) - 1)


def blocks_of(
    wish: DayWish,
    chosen: Sequence[tuple[Candidate, int, bool]],
    prepared: Sequence[Prepared],
    question: WeekQuestion,
    siblings: Mapping[str, tuple[str, ...]],
    *,
    kit: Sequence[str],
) -> tuple[Block, ...]:
    """Put a day in order: each phase's preparation, then its blocks, what counts most first. `chosen`:
    candidate, sets, pinned; `kit`: what is there.
    """
    found: list[Block] = []
    open_floor = any(c.away for c, _, _ in chosen)
    shown = exits_shown_first(question) if open_floor else None
    for phase in question.case.syllabus.sessions.phases:
        found += [_preparing_block(p, wish) for p in prepared if p.phase is phase]
        if (
            shown
            and shown.phase is phase
            and not any(c.name == (shown.drill and shown.drill.drill) for c, _, _ in chosen)
        ):
            found.append(_preparing_block(shown, wish))
        mine = [x for x in chosen if x[0].phase == phase.phase]
        found += [
            _working_block(c, sets, wish, question, siblings, pinned=pinned, lacking=c.kit - set(kit))
            for c, sets, pinned in sorted(mine, key=_order_key)
        ]
    return _set_times(found, question.case.syllabus.sessions.change_over_s.value)


def _order_key(chosen: tuple[Candidate, int, bool]) -> tuple[bool, bool, float, str]:
    """Tests while fresh, then exits and entries, then what counts most."""
    candidate = chosen[0]
    return not candidate.is_test, candidate.pillar != "exits", -candidate.counts, candidate.name


def _set_times(blocks: Sequence[Block], change_over_s: float) -> tuple[Block, ...]:
    found, at = [], 0.0
    for block in blocks:
        found.append(replace(block, start_s=at))
        at += block.length_s + change_over_s
    return tuple(found)


def _preparing_block(prepared: Prepared, wish: DayWish) -> Block:
    drill, phase = prepared.drill, prepared.phase
    if drill is None:
        return Block(
            key=f"{wish.day} {phase.phase}",
            kind="prepare",
            phase=phase.phase,
            title=phase.title,
            start_s=0.0,
            length_s=prepared.length_s,
            about=phase.about,
            joints=phase.joints,
            because=(Because(text="Part of every session.", origin="practice"),),
        )
    return Block(
        key=f"{wish.day} {drill.drill} prepare",
        kind="prepare",
        phase=phase.phase,
        title=drill.title,
        start_s=0.0,
        length_s=prepared.length_s,
        drill=drill.drill,
        dose=prepared.dose,
        about=drill.about,
        because=prepared.dose.because[:1] if prepared.dose else (),
        cues=drill.cues,
        cautions=drill.cautions,
    )


def _working_block(
    candidate: Candidate,
    sets: int,
    wish: DayWish,
    question: WeekQuestion,
    siblings: Mapping[str, tuple[str, ...]],
    *,
    pinned: bool,
    lacking: frozenset[str],
) -> Block:
    syllabus = question.case.syllabus
    instead = stand_ins_for(candidate, lacking, syllabus)
    drill = syllabus.drills.get(candidate.name)
    dose = with_sets(candidate.dose, sets) if candidate.dose else None
    return Block(
        key=f"{wish.day} {candidate.name}",
        kind="test" if dose is None else "work",
        phase=candidate.phase,
        title=candidate.title,
        start_s=0.0,
        length_s=dose.length_s if dose else candidate.test_s,
        drill=candidate.name if dose else "",
        test="" if dose else candidate.name,
        line=syllabus.line_of.get(candidate.name, ""),
        pillar=candidate.pillar,
        dose=dose,
        about=" ".join(filter(None, (drill.about if drill else "", say_stand_ins(instead, syllabus)))),
        because=(*candidate.why, *(dose.because if dose else ())),
        cues=question.case.cues_of(drill) if drill else (),
        cautions=(
            drill.cautions
            if drill
            else syllabus.tests[candidate.name].cautions
            if candidate.name in syllabus.tests
            else ()
        ),
        joints=candidate.joints,
        siblings=siblings.get(candidate.name, ()),
        pinned=pinned,
        stands_out=any(p.stands_out for p in syllabus.sessions.phases if p.phase == candidate.phase),
    )
