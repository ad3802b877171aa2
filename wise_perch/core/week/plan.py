"""A week of sessions for one trainee: solved around what the coach set by hand, and explained block by
block.
"""

from collections.abc import Sequence
from dataclasses import replace

from wise_perch.core.dose.open_sets import without_open_set
from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.session_lookup import joint_kind
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import without_aches
from wise_perch.core.trainee.work_on import what_to_work_on
from wise_perch.core.week.candidates import Candidate, find_candidates
from wise_perch.core.week.laid_out import LaidWeek, least_load, load_most, say_kit, seconds_of
from wise_perch.core.week.question import WeekQuestion
from wise_perch.core.week.reasons import ask_what_was_not_had, say_load, say_why_not, share_pillars
from wise_perch.core.week.session import Prepared, blocks_of, exits_shown_first, frame_s, prepare_session
from wise_perch.core.week.solve import Chosen, Puzzle, Slot, solve_week
from wise_perch.core.week.stand_ins import missing_kit
from wise_perch.core.week.week_plan import (
    DayPlan,
    DayWish,
    LeftOut,
    Refusal,
    UnmetWish,
    WeekPlan,
    Wish,
)


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
        LeftOut(drill=c.name, title=c.title, because=say_why_not(c, laid, chosen))
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
        questions=tuple(ask_what_was_not_had(laid, chosen, days)),
        shares=share_pillars(days, laid),
        load_s=round(load, 1),
        load_most_s=round(load_most(question), 1),
        load_words=say_load(load, question),
        solved=chosen.best,
        work_on=next(iter(what_to_work_on(question.case)), None),
    )


def _laid_out(
    question: WeekQuestion, wish: Wish, found: Sequence[Candidate], prepared: Sequence[Prepared]
) -> LaidWeek:
    rules = question.case.syllabus.sessions
    base = frame_s(prepared, rules.change_over_s.value)
    slots = [_make_slot(d, wish, found, base, question.case.syllabus) for d in wish.days]
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
    return LaidWeek(question=question, wish=wish, found=found, prepared=prepared, slots=slots, puzzle=puzzle)


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


def _make_slot(
    day: DayWish, wish: Wish, found: Sequence[Candidate], frame: float, syllabus: Syllabus
) -> Slot:
    dropped = {d.drill for d in wish.drops if d.day in (None, day.day)}
    pinned = {p.drill: p.sets for p in wish.pins if p.day == day.day}
    barred = {
        c.name
        for c in found
        if missing_kit(c, place=day.place, kit=wish.kit, syllabus=syllabus) or c.name in dropped
    }
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
        elif missing := missing_kit(
            candidate, place=places[pin.day], kit=wish.kit, syllabus=question.case.syllabus
        ):
            refused.append(
                UnmetWish(
                    text=(
                        f"{title} cannot be pinned at {places[pin.day]}:"
                        f" it takes {say_kit(missing, question)}."
                    ),
                    day=pin.day,
                )
            )
    return refused


def _too_much_pinned(laid: LaidWeek) -> list[UnmetWish]:
    known = {c.name: c for c in laid.found}
    rules = laid.question.case.syllabus.sessions
    refused = []
    for day, slot in zip(laid.wish.days, laid.slots, strict=True):
        mine = [(known[name], sets) for name, sets in slot.pinned.items()]
        took = sum(seconds_of(c, sets or (c.dose.least if c.dose else 1), laid) for c, sets in mine)
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


def _explain_day(day: DayWish, laid: LaidWeek, chosen: Chosen) -> DayPlan:
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
        empty = f"{day.minutes} minutes is too short: the warm-up takes {-(-frame // 60):.0f}."
    elif not mine:
        empty = "Nothing that is open fits here. The reasons stand below."
    there = laid.wish.kit.get(day.place, ())
    blocks = (
        blocks_of(day, mine, laid.prepared, laid.question, _find_siblings(laid), kit=there)
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


def _find_siblings(laid: LaidWeek) -> dict[str, tuple[str, ...]]:
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
