"""A week of sessions for one trainee: solved around what the coach set by hand, and explained block by
block.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from wise_perch.core.dose.open_sets import without_open_set
from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.session_lookup import joint_kind
from wise_perch.core.trade.words import say_share
from wise_perch.core.trainee.case import without_aches
from wise_perch.core.trainee.pillars import PILLAR_WORDS
from wise_perch.core.trainee.work_on import what_to_work_on
from wise_perch.core.week.candidates import Candidate, find_candidates
from wise_perch.core.week.question import WeekQuestion
from wise_perch.core.week.session import Prepared, blocks_of, exits_shown_first, frame_s, prepare_session
from wise_perch.core.week.solve import UNIT_S, Chosen, Puzzle, Slot, cost_in_units, solve_week
from wise_perch.core.week.week_plan import (
    DayPlan,
    DayWish,
    LeftOut,
    PillarShare,
    Refusal,
    UnmetWish,
    WeekPlan,
    Wish,
)


@dataclass(frozen=True, kw_only=True)
class _Laid:
    """A week before it is solved: what it may be made of, and each day's time beside preparation."""

    question: WeekQuestion
    wish: Wish
    found: Sequence[Candidate]
    prepared: Sequence[Prepared]
    slots: Sequence[Slot]
    puzzle: Puzzle


def load_most(question: WeekQuestion) -> float:
    """The most hand-load this week may still carry, body-weight seconds: so much above the mean of the weeks
    before that nothing more is added, less what is done. From the ramp on it is warned of.
    """
    rules = question.case.syllabus.sessions
    return max(
        0.0,
        max(rules.least_week_load_s.value, (1 + rules.load_stops_at.value) * question.loading.mean_s)
        - question.loading.done_s,
    )


def least_load(found: Sequence[Candidate], days: int) -> float:
    """The hand-load that is in whatever the week has carried, body-weight seconds: the smallest dose of what
    leads, on every day.
    """
    leads = max((c for c in found if c.main and c.dose), key=lambda c: (c.counts, c.name), default=None)
    return leads.dose.load_s * leads.dose.least * days if leads and leads.dose else 0.0


def plan_week(question: WeekQuestion, wish: Wish) -> WeekPlan | Refusal:
    """Plan a week. What cannot be had is named, never silently cut; the same question gives the same week."""
    found, left = find_candidates(question, also=[p.drill for p in wish.pins])
    if refused := _pins_refused(wish, found, left, question):
        return Refusal(questions=tuple(refused))
    prepared, gone = prepare_session(question)
    laid = _laid_out(question, wish, found, prepared)
    if refused := _too_much_pinned(laid):
        return Refusal(questions=tuple(refused))
    chosen = solve_week(laid.puzzle)
    if chosen is None:
        text = (
            "What is pinned cannot all be had: heavy push and heavy press need 48 hours between them, and"
            " kit, places and minutes have their limits. Take one pin back."
        )
        return Refusal(questions=(UnmetWish(text=text, options=tuple(p.drill for p in wish.pins)),))
    days = tuple(_explain_day(d, laid, chosen) for d in wish.days)
    rest = [
        LeftOut(drill=c.name, title=c.title, because=_why_not(c, laid, chosen))
        for c in found
        if not any(name == c.name for _, name in chosen.sets)
    ]
    load = sum(d.load_s for d in days)
    return WeekPlan(
        week=wish.week,
        days=days,
        left_out=(
            *rest,
            *(
                LeftOut(drill="", title=title, because=f"{question.case.syllabus.rules.pain_much}")
                for title in gone
            ),
            *left,
        ),
        questions=tuple(_ask_what_was_not_had(laid, chosen, days)),
        shares=_share_pillars(days, laid),
        load_s=round(load, 1),
        load_most_s=round(load_most(question), 1),
        load_words=_load_words(load, question),
        solved=chosen.best,
        work_on=next(iter(what_to_work_on(question.case)), None),
    )


# --- before solving -----------------------------------------------------------------------------------------


def _laid_out(
    question: WeekQuestion, wish: Wish, found: Sequence[Candidate], prepared: Sequence[Prepared]
) -> _Laid:
    rules = question.case.syllabus.sessions
    base = frame_s(prepared, rules.change_over_s.value)
    slots = [_make_slot(d, wish, found, base) for d in wish.days]
    shown = exits_shown_first(question)
    puzzle = Puzzle(
        slots=slots,
        candidates=found,
        rules=rules,
        holding=_holding_pillar(question),
        load_most_s=max(load_most(question), least_load(found, len(slots))),
        rehearsal_s=shown.length_s + rules.change_over_s.value if shown else 0.0,
        rehearsal_load_s=shown.dose.load_s * shown.dose.sets if shown and shown.dose else 0.0,
        heavy=question.heavy,
        joints_most=_load_of_joints_if_well(question, wish),
    )
    return _Laid(question=question, wish=wish, found=found, prepared=prepared, slots=slots, puzzle=puzzle)


def _load_of_joints_if_well(question: WeekQuestion, wish: Wish) -> dict[str, float]:
    """What the same week would put on each joint that hurts, if nothing did: pain never raises a load."""
    joints = {joint_kind(a.joint) for a in question.case.aches}
    if not joints:
        return {}
    well = plan_week(replace(question, case=without_aches(question.case)), wish)
    if isinstance(well, Refusal):
        return {}
    blocks = [b for day in well.days for b in day.blocks if b.kind == "work" and b.dose]
    return {
        joint: sum(b.dose.load_s * b.dose.sets for b in blocks if b.dose and joint in b.joints)
        for joint in joints
    }


def _make_slot(day: DayWish, wish: Wish, found: Sequence[Candidate], frame: float) -> Slot:
    there = set(wish.kit.get(day.place, ()))
    dropped = {d.drill for d in wish.drops if d.day in (None, day.day)}
    pinned = {p.drill: p.sets for p in wish.pins if p.day == day.day}
    barred = {c.name for c in found if c.kit - there or c.name in dropped}
    return Slot(
        day=day.day,
        free_s=max(0.0, day.minutes * 60 - frame),
        barred=frozenset(barred - set(pinned)),
        pinned=pinned,
    )


def _holding_pillar(question: WeekQuestion) -> Pillar | None:
    first = next((g for g in question.case.goals if not g.reached), None)
    return first.holding if first else None


def _pins_refused(
    wish: Wish, found: Sequence[Candidate], left: Sequence[LeftOut], question: WeekQuestion
) -> list[UnmetWish]:
    """A pin of what is closed, hurting or not there is refused with its reason, as is one without its kit."""
    known, why = {c.name: c for c in found}, {x.drill: x.because for x in left}
    places = {d.day: d.place for d in wish.days}
    refused = []
    for pin in wish.pins:
        candidate = known.get(pin.drill)
        drill = question.case.syllabus.drills.get(pin.drill)
        title = drill.title if drill else pin.drill
        if candidate is None:
            refused.append(
                UnmetWish(
                    text=(
                        f"{title} cannot be pinned."
                        f" {why.get(pin.drill, 'It stands nowhere in the syllabus.')}"
                    ),
                    day=pin.day,
                )
            )
        elif pin.day not in places:
            refused.append(UnmetWish(text=f"{title} is pinned to a day that is not trained on.", day=pin.day))
        elif missing := candidate.kit - set(wish.kit.get(places[pin.day], ())):
            refused.append(
                UnmetWish(
                    text=(
                        f"{title} cannot be pinned at {places[pin.day]}:"
                        f" it takes {_say_kit(missing, question)}."
                    ),
                    day=pin.day,
                )
            )
    return refused


def _say_kit(items: frozenset[str], question: WeekQuestion) -> str:
    words = question.case.syllabus.content.kit
    return " and ".join(words[i][:1].lower() + words[i][1:] for i in sorted(items))


def _too_much_pinned(laid: _Laid) -> list[UnmetWish]:
    known = {c.name: c for c in laid.found}
    rules = laid.question.case.syllabus.sessions
    refused = []
    for day, slot in zip(laid.wish.days, laid.slots, strict=True):
        mine = [(known[name], sets) for name, sets in slot.pinned.items()]
        took = sum(_seconds_of(c, sets or (c.dose.least if c.dose else 1), laid) for c, sets in mine)
        took += laid.puzzle.rehearsal_s if any(c.away for c, _ in mine) else 0
        if mine and took > slot.free_s:
            minutes = -(-(day.minutes * 60 - slot.free_s + took) // 60)
            text = (
                f"What is pinned on {day.day:%a} takes {minutes:.0f} of {day.minutes} minutes, preparation"
                " included. Lengthen the day, or take a pin or some sets back."
            )
            refused.append(UnmetWish(text=text, options=tuple(slot.pinned), day=day.day))
        singles = sum(sets or 0 for c, sets in mine if c.singles)
        if singles > rules.singles_most.value:
            text = (
                f"{singles} single tries on {day.day:%a} are more than {rules.singles_most.value:g}, the most"
                " of a session."
            )
            refused.append(
                UnmetWish(text=text, options=tuple(c.name for c, _ in mine if c.singles), day=day.day)
            )
    return refused


def _worth_beside(laid: _Laid) -> float:
    """What counts no more than this is only open beside the way."""
    return laid.question.case.syllabus.sessions.weights.beside.value


def _seconds_of(candidate: Candidate, sets: int, laid: _Laid) -> float:
    once, each = cost_in_units(candidate, laid.question.case.syllabus.sessions)
    return float(UNIT_S * (once + each * sets))


# --- after solving ------------------------------------------------------------------------------------------


def _explain_day(day: DayWish, laid: _Laid, chosen: Chosen) -> DayPlan:
    known = {c.name: c for c in laid.found}
    pinned = {p.drill for p in laid.wish.pins if p.day == day.day}
    first_day = {name: min(at for at, other in chosen.sets if other == name) for _, name in chosen.sets}
    mine = [
        (known[name] if first_day[name] == day.day else _as_asked_only(known[name]), sets, name in pinned)
        for (at, name), sets in chosen.sets.items()
        if at == day.day
    ]
    frame = frame_s(laid.prepared, laid.question.case.syllabus.sessions.change_over_s.value)
    empty = ""
    if day.minutes * 60 < frame:
        empty = f"{day.minutes} minutes do not hold the preparation, which takes {-(-frame // 60):.0f}."
    elif not mine:
        empty = "Nothing that is open fits here; the reasons stand below."
    blocks = (
        blocks_of(day, mine, laid.prepared, laid.question, _find_siblings(laid))
        if day.minutes * 60 >= frame
        else ()
    )
    length = max((b.start_s + b.length_s for b in blocks), default=0.0)
    # of what prepares only the exits shown before open floor put weight on the hands that counts
    load = sum(
        b.dose.load_s * b.dose.sets
        for b in blocks
        if b.dose and (b.kind != "prepare" or b.dose.way == "singles")
    )
    return DayPlan(
        day=day.day,
        place=day.place,
        minutes=day.minutes,
        time=day.time,
        blocks=blocks,
        length_s=length,
        load_s=round(load, 1),
        why_empty=empty,
    )


def _as_asked_only(candidate: Candidate) -> Candidate:
    """The same for the days after the first, whose sets are all as asked: an open set comes once a week."""
    dose = without_open_set(candidate.dose) if candidate.dose else None
    return replace(candidate, dose=dose)


def _find_siblings(laid: _Laid) -> dict[str, tuple[str, ...]]:
    """What each drill could be swapped for: its own rung's others first, then what is in the same part of a
    session.
    """
    syllabus, every = laid.question.case.syllabus, laid.question.case.drills
    rungs = {
        d.drill: tuple(o.drill for o in rung if o.drill != d.drill)
        for line in syllabus.lines
        for rung in line.rungs
        for d in rung
    }
    found = {}
    for c in laid.found:
        same = [n for n in rungs.get(c.name, ()) if every[n].open and not every[n].easy]
        others = [o.name for o in laid.found if o.phase == c.phase and not o.is_test and o.name != c.name]
        found[c.name] = tuple(dict.fromkeys([*same, *others])) if not c.is_test else ()
    return found


def _why_not(candidate: Candidate, laid: _Laid, chosen: Chosen) -> str:
    """Why an open candidate is not in the week: dropped, no kit, hand-load, heavy days, or the time."""
    wish, rules = laid.wish, laid.question.case.syllabus.sessions
    if any(d.drill == candidate.name and d.day is None for d in wish.drops):
        return "You took it out of this week."
    open_days = [s for s in laid.slots if candidate.name not in s.barred]
    if not open_days:
        missing = (
            frozenset().union(*(candidate.kit - set(wish.kit.get(d.place, ())) for d in wish.days))
            if wish.days
            else frozenset()
        )
        return (
            f"It takes {_say_kit(missing, laid.question)}, and no day is where that is."
            if missing
            else "You took it off every day."
        )
    least = candidate.dose.least if candidate.dose else 1
    known = {c.name: c for c in laid.found}
    if candidate.heavy and not any(_heavy_fits(candidate, s.day, laid, chosen) for s in open_days):
        return "Heavy push and heavy press keep 48 hours between two sessions, and what is in counted more."
    planned = sum(
        (c.dose.load_s if (c := known[name]).dose else 0) * sets for (_, name), sets in chosen.sets.items()
    )
    if candidate.dose and planned + candidate.dose.load_s * least > laid.puzzle.load_most_s:
        return (
            f"The week's hand-load is full: {laid.question.loading.done_s:.0f} s of body weight carried,"
            f" {planned:.0f} s planned, and {say_share(rules.load_stops_at.value)} above the mean of the last"
            f" {rules.ramp_weeks.value:g} weeks is where nothing more is added."
        )
    needed = -(-_seconds_of(candidate, least, laid) // 60)
    spare = max(
        s.free_s - sum(_seconds_of(known[n], k, laid) for (d, n), k in chosen.sets.items() if d == s.day)
        for s in open_days
    )
    if spare >= needed * 60:
        return _say_no_room(candidate, laid, chosen, open_days)
    return f"No time left: it takes {needed:.0f} min, and what is in counts more toward the goal."


def _say_no_room(candidate: Candidate, laid: _Laid, chosen: Chosen, open_days: Sequence[Slot]) -> str:
    """Why something is left out though there would be time: full sessions, or enough beside what leads."""
    rules = laid.question.case.syllabus.sessions
    most = int(rules.blocks_most.value)
    if all(sum(d == s.day for d, _ in chosen.sets) >= most for s in open_days):
        return f"What is in counts more, and a session has at most {most} blocks."
    if candidate.beside:
        return (
            "Beside what leads the goal there are at most"
            f" {rules.beside_least_s.value / 60:.0f} min a session,"
            f" or {say_share(rules.beside_share.value)} of the work, and what is in counts more."
        )
    return "What is in counts more."


def _heavy_fits(candidate: Candidate, day: date, laid: _Laid, chosen: Chosen) -> bool:
    known = {c.name: c for c in laid.found}
    there = [(d, known[name].heavy) for d, name in chosen.sets] + list(laid.puzzle.heavy)
    return not any(
        kind and (abs((d - day).days) == 1 or (d == day and kind != candidate.heavy)) for d, kind in there
    )


def _share_pillars(days: Sequence[DayPlan], laid: _Laid) -> tuple[PillarShare, ...]:
    spent: dict[Pillar, float] = {}
    for day in days:
        for block in day.blocks:
            if block.kind != "prepare" and block.pillar:
                spent[block.pillar] = spent.get(block.pillar, 0.0) + block.length_s
    order = laid.question.case.syllabus.rules.pillars
    return tuple(
        PillarShare(pillar=p, title=PILLAR_WORDS[p], seconds=s, holding=p == laid.puzzle.holding)
        for p, s in sorted(spent.items(), key=lambda pair: (-pair[1], order.index(pair[0])))
    )


def _load_words(load: float, question: WeekQuestion) -> str:
    rules, mean = question.case.syllabus.sessions, question.loading.mean_s
    total = load + question.loading.done_s
    thin = total <= rules.least_week_load_s.value and mean < rules.least_week_load_s.value / 2
    if mean > 0 and thin:
        return (
            f"Hand-load {total:.0f} s of body weight; {mean:.0f} s a week before. A week may carry"
            f" {rules.least_week_load_s.value:.0f} s to begin with."
        )
    if mean <= 0:
        return (
            f"Hand-load {total:.0f} s of body weight; nothing to compare with in the last"
            f" {rules.ramp_weeks.value:g} weeks."
        )
    change = total / mean - 1
    way = "above" if change >= 0 else "below"
    mean_of = f"the mean of the last {rules.ramp_weeks.value:g} weeks"
    words = (
        f"Hand-load {say_share(abs(change))} {way} {mean_of}"
        if abs(change) >= 0.005
        else f"Hand-load as {mean_of}"
    )
    return (
        f"{words}: more than the {say_share(rules.ramp.value)} it should grow by at most."
        if change > rules.ramp.value + 0.005 and total > rules.least_week_load_s.value
        else f"{words}."
    )


# --- wishes that cannot be had ------------------------------------------------------------------------------


def _leading_goal_short(laid: _Laid, chosen: Chosen) -> list[UnmetWish]:
    """Where another goal has more time than the one that leads: what is open toward it takes no more."""
    goals = [g for g in laid.question.case.goals if not g.reached]
    known = {c.name: c for c in laid.found}
    spent = dict.fromkeys(range(len(goals)), 0.0)
    for (_, name), sets in chosen.sets.items():
        goal = 0 if known[name].main else known[name].goal
        if goal is not None:
            spent[goal] = spent.get(goal, 0.0) + _seconds_of(known[name], sets, laid)
    return [
        UnmetWish(
            text=(
                f"{goals[0].title} leads and gets {spent[0] / 60:.0f} min this week, all that what is open"
                f" toward it takes; {goals[n].title[:1].lower()}{goals[n].title[1:]} gets {s / 60:.0f}."
            )
        )
        for n, s in spent.items()
        if 0 < n < len(goals) and s > spent[0] + UNIT_S
    ]


def _ask_what_was_not_had(laid: _Laid, chosen: Chosen, days: Sequence[DayPlan]) -> list[UnmetWish]:
    found = [
        q for day, slot in zip(days, laid.slots, strict=True) if (q := _short_day(day, slot, laid, chosen))
    ]
    kinds = {c.heavy for c in laid.found if c.heavy and c.counts > _worth_beside(laid)}
    planned = {c.heavy for c in laid.found if c.heavy and any(name == c.name for _, name in chosen.sets)}
    if kinds == {"push", "press"} and len(planned) == 1:
        only, other = planned.copy().pop(), (kinds - planned).pop()
        options = tuple(c.name for c in laid.found if c.heavy == other)
        days_said = f"{len(days)} {'day' if len(days) == 1 else 'days'}"
        found.append(
            UnmetWish(
                text=(
                    f"Heavy push and heavy press keep a day between them: {days_said} hold {only} alone."
                    f" Another day, or {other} in its place?"
                ),
                options=options,
            )
        )
    if laid.puzzle.load_most_s <= 0 and any(c.dose and c.dose.load_s for c in laid.found):
        rules, loading = laid.question.case.syllabus.sessions, laid.question.loading
        text = (
            f"This week has carried {loading.done_s:.0f} s of body weight on the hands already, more than"
            f" {say_share(rules.ramp.value)} above the mean of the last {rules.ramp_weeks.value:g} weeks"
            f" ({loading.mean_s:.0f} s). Nothing that loads the hands is planned; what you pin is."
        )
        found.append(UnmetWish(text=text))
    found += _leading_goal_short(laid, chosen)
    holding = next((s for s in _share_pillars(days, laid) if s.holding), None)
    most = max((s.seconds for s in _share_pillars(days, laid)), default=0.0)
    if laid.puzzle.holding and holding and holding.seconds < most:
        text = (
            f"{holding.title} holds the goal back and gets {holding.seconds / 60:.0f} min, all that its own"
            f" doses, kit and days allow; another pillar has {most / 60:.0f}."
        )
        found.append(UnmetWish(text=text))
    return found


def _short_day(day: DayPlan, slot: Slot, laid: _Laid, chosen: Chosen) -> UnmetWish | None:
    """A day too short for what is wished: nothing but preparation, or one block where several pillars want
    one.
    """
    wanted = [c for c in laid.found if c.name not in slot.barred and c.counts > _worth_beside(laid)]
    smallest = min((_seconds_of(c, c.dose.least if c.dose else 1, laid) for c in wanted), default=0.0)
    if wanted and slot.free_s < smallest:
        frame = (
            day.minutes * 60 - slot.free_s
            if slot.free_s
            else frame_s(laid.prepared, laid.question.case.syllabus.sessions.change_over_s.value)
        )
        text = (
            f"{day.minutes} minutes on {day.day:%a} hold preparation ({-(-frame // 60):.0f} min) and no"
            f" block; the shortest takes {-(-smallest // 60):.0f} min."
        )
        return UnmetWish(text=text, day=day.day)
    mine = [name for d, name in chosen.sets if d == day.day]
    if len(mine) != 1:
        return None
    there = next(c for c in laid.found if c.name == mine[0])
    others = sorted((c for c in wanted if c.pillar not in (None, there.pillar)), key=lambda c: -c.counts)
    if not others or not there.pillar or not others[0].pillar:
        return None
    a, b = PILLAR_WORDS[there.pillar].lower(), PILLAR_WORDS[others[0].pillar].lower()
    text = (
        f"{day.minutes} minutes on {day.day:%a} hold preparation and one block; {a} or {b}? {there.title}"
        " is in."
    )
    return UnmetWish(text=text, options=(others[0].name,), day=day.day)
