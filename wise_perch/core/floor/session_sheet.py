"""The sheet of a session: every block with the rung back, the rung ahead, what it could be swapped for, and
something lighter.
"""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from wise_perch.core.dose.choose_dose import choose_dose, lighten
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.dose.open_sets import without_open_set
from wise_perch.core.floor.walk import Changes, FailReason, FloorSheet, FloorSlot, Variant
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.poses import ViewAsked
from wise_perch.core.trade.session_lookup import joints_of
from wise_perch.core.trade.session_rules import Because, Before, SessionRules
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.goals import why_not
from wise_perch.core.trainee.lines_seen import TITLES, views_of
from wise_perch.core.week.week_plan import Block, DayPlan


class _Maker:
    """Gathers the variants that a sheet needs, each once."""

    def __init__(self, case: JudgedCase, *, exits_shown: bool) -> None:
        self.case, self.wall, self.syllabus = case, case.wall, case.syllabus
        self.every = case.drills
        self.found: dict[str, Variant] = {}
        self.exits_shown = exits_shown

    def drill(self, name: str) -> str:
        """The variant of a drill as it is dose today; its key."""
        if name not in self.found:
            drill = self.syllabus.drills[name]
            # nobody is sent at a gate with what only stands in for something else
            self._keep(name, drill, replace(choose_dose(drill, self.case), first=None))
        return name

    def block(self, block: Block) -> str:
        """The variant a block was planned with; its key."""
        if block.dose is None:
            self.found[block.key] = Variant(
                key=block.key,
                title=block.title,
                test=block.test,
                pillar=block.pillar,
                length_s=block.length_s,
                joints=block.joints,
                about=block.about,
                cues=block.cues,
                cautions=block.cautions,
                because=block.because,
            )
            return block.key
        self._keep(
            block.key,
            self.syllabus.drills[block.drill],
            block.dose,
            because=block.because,
            joints=block.joints or None,
        )
        return block.key

    def easier(self, key: str) -> str:
        """The same drill one setting easier, or with the fewest sets where its dial has nothing easier; empty
        where neither helps.
        """
        was = self.found[key]
        dialled = was.dose.dial if was.dose else None
        if was.dose is None or dialled is None or dialled.at == 0:
            return ""
        made = f"{was.drill} easier"
        easier = replace(without_open_set(was.dose), dial=replace(dialled, at=dialled.at - 1), first=None)
        self._keep(made, self.syllabus.drills[was.drill], easier)
        return made

    def _keep(
        self,
        key: str,
        drill: Drill,
        dose: DayDose,
        *,
        because: tuple[Because, ...] | None = None,
        joints: tuple[str, ...] | None = None,
        stands_in: bool = False,
    ) -> None:
        variant = Variant(
            key=key,
            title=drill.title,
            drill=drill.drill,
            pillar=self.syllabus.pillar_of[drill.drill],
            dose=dose,
            length_s=dose.length_s,
            inverted=drill.drill in self.syllabus.inverted,
            joints=joints_of(self.syllabus, drill) if joints is None else joints,
            views=tuple(ViewAsked(view=v, title=TITLES[v]) for v in views_of(drill, self.syllabus)),
            about=drill.about,
            cues=self.case.cues_of(drill),
            worked_cue=self.case.cues.get(drill.drill, ""),
            cautions=drill.cautions,
            because=dose.because if because is None else because,
        )
        self.found[key] = variant
        if stands_in:
            # what spares a joint already has nothing in its own place
            return
        lighter, words = self._lighter(drill)
        self.found[key] = replace(variant, lighter=lighter, lighter_words=words, shy=self._shy(drill))

    def _lighter(self, drill: Drill) -> tuple[str, str]:
        found = self.case.lighter_than(drill)
        if found is None:
            return "", ""
        other, words = found
        key = f"{other.drill} for {drill.drill}"
        if key not in self.found:
            own = choose_dose(drill, self.case)
            dose = lighten(choose_dose(other, self.case), than=own, rules=self.syllabus.sessions)
            self._keep(key, other, dose, stands_in=True)
        return key, f"{other.title.lower()} in its place, {words}"

    def _shy(self, drill: Drill) -> str:
        """The drill at the setting for low confidence."""
        if drill.dial is None or drill.dial.shy is None:
            return ""
        key = f"{drill.drill} shy"
        if key not in self.found:
            dose = choose_dose(drill, replace(self.case, low_today=True, chosen={}))
            self.found[key] = Variant(
                key=key,
                title=drill.title,
                drill=drill.drill,
                pillar=self.syllabus.pillar_of[drill.drill],
                dose=dose,
                length_s=dose.length_s,
                inverted=drill.drill in self.syllabus.inverted,
                joints=joints_of(self.syllabus, drill),
                about=drill.about,
                cues=self.case.cues_of(drill),
                worked_cue=self.case.cues.get(drill.drill, ""),
                cautions=drill.cautions,
                because=dose.because,
            )
        return key

    def back(self, key: str, drill: str) -> str:
        """The nearest open drill on a lower rung of the line, or the drill itself one setting easier."""
        for name in _drills_toward(self.syllabus, drill, up=False):
            if self.may(name):
                return self.drill(name)
        return self.easier(key)

    def may(self, name: str) -> bool:
        """Whether a drill may be gone over to: it is open, and nothing leaves the wall in a session that
        showed no exit.
        """
        return self.every[name].open and (self.exits_shown or not self.syllabus.drills[name].away)

    def ahead(self, drill: str) -> tuple[str, str]:
        """The open drill on the next rung of the line; else what keeps it closed."""
        names = list(_drills_toward(self.syllabus, drill, up=True))
        for name in names:
            if self.may(name):
                return self.drill(name), ""
        if any(self.every[name].open for name in names):
            return "", self.syllabus.sessions.rehearsal.because
        return "", why_not(self.every[names[0]], self.wall) if names else ""


def _drills_toward(syllabus: Syllabus, drill: str, *, up: bool) -> Iterator[str]:
    """The drills of the rungs next to a drill's own: upward of the next one only, downward of all, the
    nearest first.
    """
    line = next(line for line in syllabus.lines if line.line == syllabus.line_of[drill])
    own = next(n for n, rung in enumerate(line.rungs) if any(d.drill == drill for d in rung))
    rungs = line.rungs[own + 1 : own + 2] if up else tuple(reversed(line.rungs[:own]))
    for rung in rungs:
        yield from (d.drill for d in sorted(rung, key=lambda d: d.optional))


def lay_out_session(day: DayPlan, case: JudgedCase, *, stand_by: bool = True) -> FloorSheet:
    """Lay a planned session out as the sheet that is followed on the floor. Without `stand_by` it has nothing
    to go over to: no rung back or ahead, and no swaps.
    """
    exits = case.syllabus.sessions.rehearsal.drills
    maker = _Maker(case, exits_shown=any(b.drill in exits for b in day.blocks))
    slots = [_make_slot(block, maker, stand_by=stand_by) for block in day.blocks]
    rules, judged = case.syllabus.sessions, case.syllabus.rules
    words = rules.words
    return FloorSheet(
        day=day.day,
        place=day.place,
        minutes=day.minutes,
        slots=tuple(slots),
        variants=maker.found,
        changes=Changes(
            poor_energy=rules.poor_energy.value,
            good_energy=rules.good_energy.value,
            low_confidence=judged.low_confidence.value,
            stops_at=judged.pain_stops_at.value,
            clean_to_step=rules.clean_to_step.value,
            poor=words.poor,
            good=words.good,
            shy=words.shy,
            some=judged.pain_some,
            much=judged.pain_much,
            none_lighter=words.none_lighter,
            fewer=words.fewer,
            reasons=fail_reasons(rules),
        ),
        joints=judged.joints,
        before=_before(case),
    )


def _before(case: JudgedCase) -> Before:
    """What is looked at first: of the cold checks those for which the trainee has an open drill."""
    before, every = case.syllabus.sessions.before, case.drills
    asked = tuple(c for c in before.checks if any(n in every and every[n].open for n in c.drills))
    return replace(before, checks=asked)


def _make_slot(block: Block, maker: _Maker, *, stand_by: bool) -> FloorSlot:
    key = maker.block(block)
    where: dict[str, Any] = {
        "phase": block.phase,
        "planned": key,
        "start_s": block.start_s,
        "length_s": block.length_s,
        "stands_out": block.stands_out,
    }
    if block.kind != "work":
        return FloorSlot(kind="test" if block.kind == "test" else "prepare", **where)
    if not stand_by:
        return FloorSlot(kind="work", **where)
    ahead, closed = maker.ahead(block.drill)
    swaps = tuple(
        maker.drill(n)
        for n in [n for n in block.siblings if maker.may(n)][
            : int(maker.syllabus.sessions.weights.swaps.value)
        ]
    )
    return FloorSlot(
        kind="work",
        **where,
        back=maker.back(key, block.drill),
        ahead=ahead,
        ahead_closed=closed,
        swaps=swaps,
    )


def fail_reasons(rules: SessionRules) -> tuple[FailReason, ...]:
    """Why a set may have failed, as it is asked after a miss."""
    return tuple(FailReason(reason=r.reason, title=r.title, words=r.words) for r in rules.failed.reasons)
