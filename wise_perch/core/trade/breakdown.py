"""Breaking down a goal: from a skill that nobody has written down yet, back to what is there already.

A skill is a form with its place on the ways of easing. Each proposal takes something off it; what is there
already stands in where it is the same. What the coach keeps becomes a line and a goal.
"""

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from wise_perch.core.trade.content import Content, Drill, Goal, Line, Need, Pillar
from wise_perch.core.trade.easing import At, EaseStep, Easing, SideRule, SkillForm, fits
from wise_perch.core.trade.edits import Edit
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Gate, is_whole, say_amount
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_list

GOAL, MEASURE, SHARE, BASE, OWN = "goal", "measure", "share", "base", "own"
"""What a rung is, beside being eased in a way: the goal, less of it, less weight on the hands, what it stands
on, the coach's own.
"""
CLEAR = "Clear space all round and to the side of the exit."
GUARDED = "Only with the exit proven."
HEIGHT = "Something soft all round: the height adds to every fall."
HEAD = "Pad under the head."
LONGEST_TITLE, LONGEST_NAME = 120, 60
USUAL = {
    "support": "free",
    "direction": "full",
    "range": "full",
    "momentum": "dead",
    "legs": "long",
    "surface": "floor",
    "hands": "two",
}
"""Where a skill stands on a way of which nothing is said."""
FIRST_SAID = ("lowered", "jumped", "one-arm", "one-leg", "straddle", "tuck")
"""The order in which words before a name are spoken."""


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


@dataclass(frozen=True, slots=True, kw_only=True)
class TooBig:
    """A step of the bay that is too big: the rungs it lies between (by their place from the goal down), the
    sentence, and what would lie between.
    """

    upper: int
    lower: int
    sentence: str
    between: BayRung | None


# --- reading a title ----------------------------------------------------------------------------------------


def read_title(title: str, easing: Easing) -> Wanted:
    """Guess form, places and standard from what a coach calls it; each can be said otherwise."""
    said = f" {title.lower()} "
    form = _form_of(said, easing)
    at = {}
    for way in (w for w in easing.ways if w.steps):
        hardest = USUAL[way.way]
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
    known = {d: syllabus.drills[d] for d in _all_known(easing) if d in syllabus.drills}
    itself = _as_known(rungs[0], form, easing, known)
    rungs = [rungs[0], *(_as_known(r, form, easing, known) for r in rungs[1:])]
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


def _all_known(easing: Easing) -> set[str]:
    return {k.drill for k in easing.known}


def _proposed(wanted: Wanted, form: SkillForm, easing: Easing) -> Iterator[BayRung]:
    yield BayRung(title=wanted.title, gate=wanted.gate, way=GOAL, at=wanted.at)
    if less := _less(wanted.gate, easing):
        title = f"{_bare(wanted.title)}, {_amount(less)}"
        yield BayRung(title=title, gate=less, way=MEASURE, at=wanted.at)
    at = dict(wanted.at)
    for ease in form.eases:
        for easier in _easier(ease.way, at, form, easing):
            yield _eased(wanted, easier, ease.way, easing)
            if ease.stays:
                at = easier


def _easier(way: str, at: At, form: SkillForm, easing: Easing) -> Iterator[dict[str, str]]:
    """The easier steps of one way that make sense for a skill, the nearest first."""
    if way not in at or fits(at, (form.unless or {}).get(way, {"": ()})):
        return
    steps = easing.way(way).steps
    for step in reversed(steps[: easing.way(way).place(at[way])]):
        if _makes_sense(step, way, at, form):
            yield {**at, way: step.step}


def _makes_sense(step: EaseStep, way: str, at: At, form: SkillForm) -> bool:
    return (
        (step.only is None or fits(at, step.only))
        and not (step.not_with and fits(at, step.not_with))
        and step.step not in (form.without or {}).get(way, ())
    )


def _eased(wanted: Wanted, at: At, way: str, easing: Easing) -> BayRung:
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


def _as_known(rung: BayRung, form: SkillForm, easing: Easing, known: Mapping[str, Drill]) -> BayRung:
    """The drill that is there already, where a proposal is that very drill."""
    if rung.way == MEASURE or rung.at is None:
        return rung
    at = rung.at
    for k in easing.known:
        if k.form == form.form and k.drill in known and _same_place(k.at, at):
            d = known[k.drill]
            return BayRung(title=d.title, gate=d.gate, way=rung.way, at=at, drill=d.drill)
    return rung


def _same_place(known: At, at: At) -> bool:
    return all(known.get(way, USUAL[way]) == at.get(way, USUAL[way]) for way in {*known, *at})


def _bases(rungs: Sequence[BayRung], form: SkillForm, syllabus: Syllabus) -> list[BayRung]:
    """What the lowest proposals stand on, unless it stands in the bay already."""
    there = {r.drill for r in rungs}
    found = []
    for need in _here((*form.base, *form.base_held), syllabus):
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


def _here(needs: Sequence[Need], syllabus: Syllabus) -> Iterator[Need]:
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
    order = sorted(filter(None, before), key=FIRST_SAID.index)
    # what begins with a comma comes last
    behind = sorted(filter(None, after), key=lambda text: text.startswith(","))
    name = " ".join([*order, _own_name(wanted, easing)]) + "".join(behind)
    return (name[:1].upper() + name[1:])[:LONGEST_TITLE]


def _bare(title: str) -> str:
    return title.split(",")[0]


def _own_name(wanted: Wanted, easing: Easing) -> str:
    """The name without the words for the steps it stands on."""
    name = f" {_bare(wanted.title)} "
    for way, step in wanted.at.items():
        for word in sorted(easing.step(way, step).words, key=len, reverse=True):
            name = re.sub(rf"(?i)(?<![a-z]){re.escape(word)}(?![a-z])", "", name)
    name = re.sub(r"(?i)\s+(on|at|with|the)\s*$", "", " ".join(name.split()))
    return name[:1].lower() + name[1:] if name else "skill"


def _amount(gate: Gate) -> str:
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
        for side, need in _sides_at(wanted.at, wanted, form, easing, syllabus)
    )


def _sides_at(
    at: At, wanted: Wanted, form: SkillForm, easing: Easing, syllabus: Syllabus
) -> Iterator[tuple[SideRule, Need]]:
    for side in easing.sides:
        if side.forms and form.form not in side.forms:
            continue
        if (
            (side.away and not _is_away(at, form, easing))
            or (side.whole and not _is_whole_skill(at, wanted))
            or (side.only is not None and not fits(at, side.only))
        ):
            continue
        yield from ((side, need) for need in _here((side.need,), syllabus))


def _is_away(at: At, form: SkillForm, easing: Easing) -> bool:
    return form.inverted and not any(s.held for s in _steps(at, easing))


def _is_whole_skill(at: At, wanted: Wanted) -> bool:
    """Whether nothing is taken off but surface and lever."""
    return all(at.get(way) == step for way, step in wanted.at.items() if way not in ("surface", "legs"))


def _steps(at: At, easing: Easing) -> list[EaseStep]:
    return [easing.step(way, step) for way, step in at.items()]


# --- what the coach keeps -----------------------------------------------------------------------------------


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
        title=_bare(wanted.title),
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
    steps = _steps(at, easing)
    away = _is_away(at, form, easing)
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
        away = _is_away(at, form, easing)
        yield from _here(form.base if away or not form.inverted else form.base_held, syllabus)
    for side, need in _sides_at(at, wanted, form, easing, syllabus):
        if side.side not in dropped:
            yield replace(need, why=side.why)


# --- steps that are too big ---------------------------------------------------------------------------------


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
    middle = next(_easier(way, upper.at, form, easing), None)
    proposal = _eased(wanted, middle, way, easing) if middle and middle != lower.at else None
    named = say_list([easing.way(w).title.lower() for w in harder])
    both = len(harder) > 1
    sentence = (
        f"From {_low(lower.title)} to {_low(upper.title)},"
        f" {named} {'get harder at once' if both else 'gets harder by more than one step'}."
    )
    if proposal:
        known = {d: syllabus.drills[d] for d in _all_known(easing) if d in syllabus.drills}
        proposal = _as_known(proposal, form, easing, known)
        proposal = None if proposal.drill and proposal.drill == lower.drill else proposal
    proposal = say_rung(proposal, easing, syllabus) if proposal else None
    return TooBig(upper=n, lower=m, sentence=sentence, between=proposal)


def _steps_up(way: str, lower: At, upper: At, form: SkillForm, easing: Easing) -> int:
    """How many steps harder one skill is than another in one way, of those that make sense for it."""
    if way not in lower:
        return 0
    steps = easing.way(way).steps
    between = steps[easing.way(way).place(lower[way]) : easing.way(way).place(upper[way])]
    return sum(s.step == lower[way] or _makes_sense(s, way, upper, form) for s in between)


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
    title = f"{_bare(upper.title)}, {_amount(gate)}"
    less = BayRung(title=title, gate=gate, way=MEASURE, at=upper.at, said="less of it")
    between = less if b.value < value < a.value else None
    return TooBig(upper=n, lower=m, sentence=sentence[:1].upper() + sentence[1:], between=between)


def _low(title: str) -> str:
    return title[:1].lower() + title[1:]


# --- who stands where ---------------------------------------------------------------------------------------


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
