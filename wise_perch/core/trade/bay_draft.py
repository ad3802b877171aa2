"""What a coach keeps of a goal broken down: a line of drills and the goal it leads to."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace

from wise_perch.core.trade.breakdown import (
    BASE,
    GOAL,
    BayRung,
    Wanted,
    bare_name,
    in_use_of,
    is_away,
    sides_at,
    sides_of,
    steps_of,
)
from wise_perch.core.trade.content import Content, Drill, Goal, Line, Need
from wise_perch.core.trade.easing import Easing, SkillForm
from wise_perch.core.trade.edits import Edit
from wise_perch.core.trade.syllabus import Syllabus

CLEAR = "Clear space all round and to the side of the exit."
GUARDED = "Only with the exit proven."
HEIGHT = "Something soft all round: the height adds to every fall."
HEAD = "Pad under the head."
LONGEST_NAME = 60


def draft_line(
    wanted: Wanted,
    rungs: Sequence[BayRung],
    *,
    dropped_sides: Sequence[str],
    easing: Easing,
    syllabus: Syllabus,
) -> Edit:
    """Make a line and a goal of a bay, from the goal down; what is there already is waited for and stays on
    its own line.
    """
    form = easing.form(wanted.form)
    taken = _names(syllabus.content)
    made: list[Drill] = []
    below: list[BayRung] = []
    for rung in reversed([r for r in rungs if r.kept]):
        if rung.drill:
            below.append(rung)
            continue
        drill = _draft(rung, wanted, form, easing, syllabus, name=_free_name(rung.title, taken))
        lowest = not made and not any(r.way != BASE for r in below)
        own = list(_needs_of(rung, wanted, form, easing, syllabus, lowest=lowest, dropped=dropped_sides))
        # of what stands right below, the nearest is waited for: further down is below that already
        own += [Need(any_of=(r.drill,)) for r in below[-1:] if r.drill and r.drill in syllabus.drills]
        made.append(replace(drill, needs=tuple({n.any_of: n for n in reversed(own)}.values())[::-1]))
        taken.add(drill.drill)
        below = []
    top = made[-1].drill
    line = Line(
        line=_free_name(wanted.title, {x.line for x in syllabus.content.lines}),
        title=bare_name(wanted.title),
        about="Broken down from the goal.",
        pillar=wanted.pillar or form.pillar,
        inverted=form.inverted,
        rungs=tuple((d,) for d in made),
    )
    helps = dict.fromkeys(
        n for s in sides_of(wanted, easing, syllabus) if s.side not in dropped_sides for n in s.drills
    )
    goal = Goal(
        goal=_free_name(wanted.title, {g.goal for g in syllabus.content.goals}),
        title=wanted.title,
        drills=(top,),
        supports=tuple(helps),
        expect="No figure of weeks is known for a goal of your own.",
    )
    return Edit(drill=top, new_line=line, new_goal=goal)


def _names(content: Content) -> set[str]:
    return {d.drill for line in content.lines for rung in line.rungs for d in rung}


def _free_name(title: str, taken: set[str]) -> str:
    plain = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:LONGEST_NAME].strip("-") or "skill"
    name, n = plain, 2
    while name in taken:
        name, n = f"{plain}-{n}", n + 1
    return name


def _draft(
    rung: BayRung, wanted: Wanted, form: SkillForm, easing: Easing, syllabus: Syllabus, *, name: str
) -> Drill:
    at = rung.at if rung.at is not None else wanted.at
    steps = steps_of(at, easing)
    away = is_away(at, form, easing)
    dial = next((s.dial for s in steps if s.dial and rung.gate.at and rung.gate.at.dial == s.dial.name), None)
    cautions = [GUARDED, CLEAR] if away else []
    cautions += [HEIGHT] if any(s.raised for s in steps) else []
    cautions += [HEAD] if form.head else []
    kit = dict.fromkeys(k for s in steps for k in s.kit if k in syllabus.content.kit)
    return Drill(
        drill=name,
        title=rung.title,
        gate=rung.gate if dial else replace(rung.gate, at=None),
        about=" ".join(s.about for s in steps if s.about and rung.way != GOAL),
        dial=dial,
        away=away,
        head=form.head,
        kit=tuple(kit),
        cautions=tuple(cautions),
        drawing=syllabus.poses.of_skill(form.form, at),
    )


def _needs_of(
    rung: BayRung,
    wanted: Wanted,
    form: SkillForm,
    easing: Easing,
    syllabus: Syllabus,
    *,
    lowest: bool,
    dropped: Sequence[str],
) -> Iterator[Need]:
    at = rung.at if rung.at is not None else wanted.at
    if lowest:
        away = is_away(at, form, easing)
        yield from in_use_of(form.base if away or not form.inverted else form.base_held, syllabus)
    for side, need in sides_at(at, wanted, form, easing, syllabus):
        if side.side not in dropped:
            yield replace(need, why=side.why)
