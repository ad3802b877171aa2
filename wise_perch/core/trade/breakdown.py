"""Breaking down a goal: from a skill that nobody has written down yet, back to what is there already.

A skill is a form with its place on the ways of easing. Each proposal takes something off it; what is there
already stands in where it is the same. What the coach keeps becomes a line and a goal.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from wise_perch.core.trade.content import Drill, Need, Pillar
from wise_perch.core.trade.easing import At, EaseStep, Easing, SideRule, SkillForm, fits
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Gate, is_whole, say_amount
from wise_perch.core.trade.syllabus import Syllabus

GOAL, MEASURE, SHARE, BASE, OWN = "goal", "measure", "share", "base", "own"
"""What a rung is, beside being eased in a way: the goal, less of it, less weight on the hands, what it stands
on, the coach's own.
"""
LONGEST_TITLE = 120


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """The skill as a coach names it: a title, its form, where it stands on the ways, and its standard.

    `pillar`: what its line builds, where that is not what its form does.
    """

    title: str
    form: str
    at: At
    gate: Gate
    pillar: Pillar | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class BayRung:
    """One rung of the bay, as proposed or as the coach has it. `drill`: it is there already, by this name.

    `way`: what was taken off, or one of GOAL, MEASURE, BASE and OWN; `at` is None where nobody can say.
    `kept`: whether it is in the line; below what is there already, proposals begin left out. `said`: what it
    is, in a few words.
    """

    title: str
    gate: Gate
    way: str
    at: At | None = None
    drill: str | None = None
    kept: bool = True
    said: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SideNeed:
    """What the skill needs beside its own line, in words."""

    side: str
    title: str
    drills: tuple[str, ...]
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class UsedWay:
    """A way of easing, and whether any rung of the bay uses it."""

    way: str
    title: str
    about: str
    used: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Breakdown:
    """What is proposed for a skill: the bay from the goal down, the ways, what else it needs. `there`: the
    title of a drill that is this very skill.
    """

    wanted: Wanted
    rungs: tuple[BayRung, ...]
    ways: tuple[UsedWay, ...]
    sides: tuple[SideNeed, ...]
    there: str | None


# --- reading a title ----------------------------------------------------------------------------------------


def read_title(title: str, easing: Easing) -> Wanted:
    """Guess form, places and standard from what a coach calls it; each can be said otherwise."""
    said = f" {title.lower()} "
    form = _form_of(said, easing)
    at = {}
    for way in (w for w in easing.ways if w.steps):
        hardest = way.usual
        named = [(len(word), step.step) for step in way.steps for word in step.words if _says(said, word)]
        at[way.way] = max(named)[1] if named and _is_asked(way.way, form) else hardest
    return Wanted(title=title.strip(), form=form.form, at=_standing(at, form), gate=form.gate)


def _says(said: str, word: str) -> bool:
    return re.search(rf"(?<![a-z]){re.escape(word)}(?![a-z])", said) is not None


def _form_of(said: str, easing: Easing) -> SkillForm:
    named = [
        (len(word), -n) for n, form in enumerate(easing.forms) for word in form.words if _says(said, word)
    ]
    return easing.forms[-max(named)[1]] if named else easing.forms[0]


def _is_asked(way: str, form: SkillForm) -> bool:
    return way in form.asks or any(e.way == way for e in form.eases)


def _standing(at: Mapping[str, str], form: SkillForm) -> At:
    """The ways that a form has, and no others."""
    return {way: step for way, step in at.items() if _is_asked(way, form)}


# --- proposing ----------------------------------------------------------------------------------------------


def break_down(wanted: Wanted, easing: Easing, syllabus: Syllabus) -> Breakdown:
    """Propose easier versions of a skill, from the goal down to what is there already."""
    form = easing.form(wanted.form)
    wanted = replace(wanted, at=_standing(wanted.at, form))
    rungs = list(_proposed(wanted, form, easing))
    known = known_drills(easing, syllabus)
    itself = as_known(rungs[0], form, easing, known)
    rungs = [rungs[0], *(as_known(r, form, easing, known) for r in rungs[1:])]
    rungs += [_there(syllabus.drills[n], SHARE) for n in form.lighter if n in syllabus.drills]
    rungs += _bases(rungs, form, syllabus)
    used = {r.way for r in rungs}
    asked = [e.way for e in form.eases]
    return Breakdown(
        wanted=wanted,
        rungs=tuple(say_rung(r, easing, syllabus) for r in _kept_at_first(tuple(_each_once(rungs)))),
        ways=tuple(
            UsedWay(way=w.way, title=w.title, about=w.about, used=w.way in used)
            for w in easing.ways
            if w.way in asked or w.way in used
        ),
        sides=sides_of(wanted, easing, syllabus),
        there=itself.title if itself.drill else None,
    )


def known_drills(easing: Easing, syllabus: Syllabus) -> Mapping[str, Drill]:
    """What is there already and in use, of all that easing knows."""
    return {k.drill: syllabus.drills[k.drill] for k in easing.known if k.drill in syllabus.drills}


def _proposed(wanted: Wanted, form: SkillForm, easing: Easing) -> Iterator[BayRung]:
    yield BayRung(title=wanted.title, gate=wanted.gate, way=GOAL, at=wanted.at)
    if less := _less(wanted.gate, easing):
        title = f"{bare_name(wanted.title)}, {say_standard(less)}"
        yield BayRung(title=title, gate=less, way=MEASURE, at=wanted.at)
    at = dict(wanted.at)
    for ease in form.eases:
        for easier in easier_steps(ease.way, at, form, easing):
            yield eased(wanted, easier, ease.way, easing)
            if ease.stays:
                at = easier


def easier_steps(way: str, at: At, form: SkillForm, easing: Easing) -> Iterator[dict[str, str]]:
    """The easier steps of one way that make sense for a skill, the nearest first."""
    if way not in at or fits(at, (form.unless or {}).get(way, {"": ()})):
        return
    steps = easing.way(way).steps
    for step in reversed(steps[: easing.way(way).place(at[way])]):
        if makes_sense(step, way, at, form):
            yield {**at, way: step.step}


def makes_sense(step: EaseStep, way: str, at: At, form: SkillForm) -> bool:
    """Whether a step of a way makes sense for a skill."""
    return (
        (step.only is None or fits(at, step.only))
        and not (step.not_with and fits(at, step.not_with))
        and step.step not in (form.without or {}).get(way, ())
    )


def eased(wanted: Wanted, at: At, way: str, easing: Easing) -> BayRung:
    """The skill eased in a way, with what it is called and how it is measured then."""
    step = easing.step(way, at[way])
    gate = step.gate or wanted.gate
    return BayRung(title=say_title(wanted, at, easing), gate=gate, way=way, at=at)


def _less(gate: Gate, easing: Easing) -> Gate | None:
    """The same with less of it, where less makes sense."""
    value = gate.value * easing.less.value
    if gate.measure is Measure.HOLD:
        value = max(easing.least_hold_s.value, round(value))
    elif is_whole(gate.measure) or gate.measure is Measure.RATE:
        value = max(1, round(value))
    else:
        value = round(value)
    return replace(gate, value=float(value), easy_from=None) if 0 < value < gate.value else None


def as_known(rung: BayRung, form: SkillForm, easing: Easing, known: Mapping[str, Drill]) -> BayRung:
    """The drill that is there already, where a proposal is that very drill."""
    if rung.way == MEASURE or rung.at is None:
        return rung
    at = rung.at
    for k in easing.known:
        if k.form == form.form and k.drill in known and _same_place(k.at, at, easing):
            d = known[k.drill]
            return BayRung(title=d.title, gate=d.gate, way=rung.way, at=at, drill=d.drill)
    return rung


def _same_place(known: At, at: At, easing: Easing) -> bool:
    usual = {way.way: way.usual for way in easing.ways}
    return all(known.get(way, usual[way]) == at.get(way, usual[way]) for way in {*known, *at})


def _bases(rungs: Sequence[BayRung], form: SkillForm, syllabus: Syllabus) -> list[BayRung]:
    """What the lowest proposals stand on, unless it stands in the bay already."""
    there = {r.drill for r in rungs}
    found = []
    for need in in_use_of((*form.base, *form.base_held), syllabus):
        if not there & set(need.any_of):
            d = syllabus.drills[need.any_of[0]]
            there.add(d.drill)
            found.append(_there(d, BASE))
    return found


def _there(d: Drill, way: str) -> BayRung:
    return BayRung(title=d.title, gate=d.gate, way=way, drill=d.drill)


def _each_once(rungs: Sequence[BayRung]) -> Iterator[BayRung]:
    seen: set[str] = set()
    for rung in rungs:
        key = rung.drill or rung.title.lower()
        if key not in seen:
            seen.add(key)
            yield rung


def _kept_at_first(rungs: tuple[BayRung, ...]) -> tuple[BayRung, ...]:
    """What leads to a drill that is there already is broken down there; more of it is the coach's choice."""
    there = next((n for n, r in enumerate(rungs) if r.drill and r.way != BASE), len(rungs))
    return tuple(replace(r, kept=n <= there or r.way == BASE) for n, r in enumerate(rungs))


def in_use_of(needs: Sequence[Need], syllabus: Syllabus) -> Iterator[Need]:
    """Needs without what a coach has taken out of use."""
    for need in needs:
        if names := tuple(n for n in need.any_of if n in syllabus.drills):
            yield replace(need, any_of=names)


# --- words --------------------------------------------------------------------------------------------------


def say_title(wanted: Wanted, at: At, easing: Easing) -> str:
    """What an easier version is called: the skill's own name, with what is said of each step around it."""
    if at == wanted.at:
        return wanted.title
    before, after = [], []
    for way in easing.ways:
        if way.way in at:
            step = easing.step(way.way, at[way.way])
            before.append(step.before)
            after.append(step.after)
    order = sorted(filter(None, before), key=easing.first_said.index)
    # what begins with a comma comes last
    behind = sorted(filter(None, after), key=lambda text: text.startswith(","))
    name = " ".join([*order, _own_name(wanted, easing)]) + "".join(behind)
    return (name[:1].upper() + name[1:])[:LONGEST_TITLE]


def bare_name(title: str) -> str:
    """A title without what follows a comma."""
    return title.split(",")[0]


def _own_name(wanted: Wanted, easing: Easing) -> str:
    """The name without the words for the steps it stands on."""
    name = f" {bare_name(wanted.title)} "
    for way, step in wanted.at.items():
        for word in sorted(easing.step(way, step).words, key=len, reverse=True):
            name = re.sub(rf"(?i)(?<![a-z]){re.escape(word)}(?![a-z])", "", name)
    name = re.sub(r"(?i)\s+(on|at|with|the)\s*$", "", " ".join(name.split()))
    return name[:1].lower() + name[1:] if name else "skill"


def say_standard(gate: Gate) -> str:
    """How much a gate asks for: "4 s"."""
    return say_amount(gate.value, gate.measure, gate.of)


def say_rung(rung: BayRung, easing: Easing, syllabus: Syllabus) -> BayRung:
    """The same rung with what it is: "the goal", "surface: low blocks", "have it: balance"."""
    if rung.drill:
        line, _ = syllabus.place_of[rung.drill]
        return replace(rung, said=f"have it: {line.title.lower()}")
    if rung.at is not None and rung.way in rung.at:
        way, step = easing.way(rung.way), easing.step(rung.way, rung.at[rung.way])
        return replace(rung, said=f"{way.title.lower()}: {step.title.lower()}")
    return replace(rung, said={GOAL: "the goal", MEASURE: "less of it"}.get(rung.way, "your own"))


# --- what else it needs -------------------------------------------------------------------------------------


def sides_of(wanted: Wanted, easing: Easing, syllabus: Syllabus) -> tuple[SideNeed, ...]:
    """What the skill itself needs beside its own line."""
    form = easing.form(wanted.form)
    return tuple(
        SideNeed(
            side=side.side,
            title=side.title,
            drills=need.any_of,
            words=" or ".join(syllabus.drills[n].title for n in need.any_of) + f". {side.why}",
        )
        for side, need in sides_at(wanted.at, wanted, form, easing, syllabus)
    )


def sides_at(
    at: At, wanted: Wanted, form: SkillForm, easing: Easing, syllabus: Syllabus
) -> Iterator[tuple[SideRule, Need]]:
    """What a skill at a place needs beside its own line, with the rule that says so."""
    for side in easing.sides:
        if side.forms and form.form not in side.forms:
            continue
        if (
            (side.away and not is_away(at, form, easing))
            or (side.whole and not _is_whole_skill(at, wanted))
            or (side.only is not None and not fits(at, side.only))
        ):
            continue
        yield from ((side, need) for need in in_use_of((side.need,), syllabus))


def is_away(at: At, form: SkillForm, easing: Easing) -> bool:
    """Whether it is done upside down with nothing to hold it."""
    return form.inverted and not any(s.held for s in steps_of(at, easing))


def _is_whole_skill(at: At, wanted: Wanted) -> bool:
    """Whether nothing is taken off but surface and lever."""
    return all(at.get(way) == step for way, step in wanted.at.items() if way not in ("surface", "legs"))


def steps_of(at: At, easing: Easing) -> list[EaseStep]:
    """The steps a skill stands on."""
    return [easing.step(way, step) for way, step in at.items()]
