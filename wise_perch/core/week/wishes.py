"""What a week is wished to be, around what is kept of it: usual days, what makes sense, days that are over,
present settings.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta

from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.dose import DayDose
from wise_perch.core.dose.open_sets import with_open_set
from wise_perch.core.dose.setting import set_dial
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.session_lookup import joint_kind
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.week.question import HALL, usual_kit
from wise_perch.core.week.week_plan import Block, DayPlan, DayWish, WeekPlan, Wish, monday_of


def usual_wish(case: JudgedCase, *, week: date, before: Wish | None) -> Wish:
    """The days of the week that was planned before, on this week's dates; where none was, the usual ones."""
    if before is None:
        rules = case.syllabus.sessions
        minutes = int(rules.usual_minutes.value)
        days = tuple(
            DayWish(day=week + timedelta(days=n), place=HALL, minutes=minutes) for n in rules.usual_days
        )
        return Wish(week=week, days=days, kit=usual_kit(case.profile, case.syllabus))
    shift = week - before.week
    return Wish(week=week, days=tuple(replace(d, day=d.day + shift) for d in before.days), kit=before.kit)


def only_ahead(wish: Wish, *, on: date) -> Wish:
    """The wish without days that are over: what was done then is done."""
    return replace(
        wish, days=tuple(d for d in wish.days if d.day >= on), pins=tuple(p for p in wish.pins if p.day >= on)
    )


def wish_problem(wish: Wish, case: JudgedCase) -> str | None:
    """Why a wish makes no sense: its week, days, places or kit; None where it does."""
    if wish.week != monday_of(wish.week):
        return f"A week begins on a Monday; {wish.week} is none."
    days = [d.day for d in wish.days]
    if len(set(days)) != len(days):
        return "A day stands twice. Put both parts into one."
    if any(not wish.week <= d < wish.week + timedelta(days=7) for d in days):
        return "A day lies outside the week."
    if missing := {d.place for d in wish.days} - set(wish.kit):
        return f"There is no place named {', '.join(sorted(missing))}: say what kit is there."
    if strange := {k for items in wish.kit.values() for k in items} - set(case.syllabus.content.kit):
        return f"The syllabus knows no kit named {', '.join(sorted(strange))}."
    return None


def with_past_days(fresh: WeekPlan, kept: WeekPlan | None, *, on: date) -> WeekPlan:
    """A week whose days that are over stay as they were planned."""
    past = tuple(d for d in kept.days if d.day < on) if kept else ()
    return replace(fresh, days=tuple(sorted((*past, *fresh.days), key=lambda d: d.day)))


def with_present_settings(
    planned: WeekPlan, case: JudgedCase, *, stood: Mapping[date, Mapping[str, DayDose]] | None = None
) -> WeekPlan:
    """A kept week with every dial and dose of the days to come as they stand now; days that are over stay as
    planned. `stood`: of days whose session was begun, what its sheet asked for, by the block's key: that
    stays, whatever came of it.
    """
    begun = stood or {}
    return replace(
        planned,
        days=tuple(
            _as_it_stood(d, begun[d.day]) if d.day in begun else set_day_of(d, case) for d in planned.days
        ),
    )


def set_day_of(day: DayPlan, case: JudgedCase) -> DayPlan:
    """A day with every dial and dose as what was done since says, and the reasons with them. Which drills
    stand in it, how many sets they have and which set is open stays as it was planned. So does a day that is
    over: what was asked of it is what stood there.
    """
    return day if day.day < case.on else _with_blocks(day, [_set_block(b, case) for b in day.blocks])


def _as_it_stood(day: DayPlan, doses: Mapping[str, DayDose]) -> DayPlan:
    # planned again since, another drill may stand under the same key
    return _with_blocks(
        day,
        [
            _with_dose(b, asked) if (asked := doses.get(b.key)) and asked.drill == b.drill else b
            for b in day.blocks
        ],
    )


def _with_blocks(day: DayPlan, blocks: Sequence[Block]) -> DayPlan:
    """A day with its blocks as they are now, each at its time."""
    placed: list[Block] = []
    later = load = 0.0
    for before, now in zip(day.blocks, blocks, strict=True):
        placed.append(replace(now, start_s=now.start_s + later) if later else now)
        later += now.length_s - before.length_s
        if now.dose and before.dose:
            load += now.dose.load_s * now.dose.sets - before.dose.load_s * before.dose.sets
    if not later and not load:
        return replace(day, blocks=tuple(placed))
    return replace(
        day, blocks=tuple(placed), length_s=day.length_s + later, load_s=max(0.0, day.load_s + load)
    )


def _set_block(block: Block, case: JudgedCase) -> Block:
    drill, before = case.syllabus.drills.get(block.drill), block.dose
    if drill is None or before is None:
        return block
    return _with_dose(block, _dose_by_now(block, before, drill, case))


def _with_dose(block: Block, now: DayDose) -> Block:
    """A block with another dose, its reasons and its length with it."""
    before = block.dose
    if before is None or now == before:
        return block
    gone = set(before.because)
    because = (*(r for r in block.because if r not in gone), *now.because)
    longer = now.length_s - before.length_s
    return replace(block, dose=now, because=because, length_s=block.length_s + longer)


def _dose_by_now(block: Block, before: DayDose, drill: Drill, case: JudgedCase) -> DayDose:
    """The dose a block has by what is known now, in as many sets as were planned."""
    now = choose_dose(drill, case)
    alike = (now.way, now.measure, now.mode) == (before.way, before.measure, before.mode)
    hurts = any(joint_kind(a.joint) in block.joints for a in case.aches)
    if block.kind != "work" or not alike or hurts:
        return _dial_by_now(before, drill, case)
    opened = with_open_set(now, drill, case) if before.open_set else now
    same_sets = replace(opened, sets=before.sets, least=before.least, most=before.most)
    if same_sets.first is not None and before.first is None and not before.open_set:
        same_sets = replace(same_sets, first=None)
    same = ("each", "first", "open_set", "ceiling", "dial", "then")
    # where nothing moved, the reasons of the plan stand
    return before if all(getattr(same_sets, n) == getattr(before, n) for n in same) else same_sets


def _dial_by_now(before: DayDose, drill: Drill, case: JudgedCase) -> DayDose:
    now = set_dial(drill, case) if before.dial else None
    if now is None or before.dial is None or now.dial != before.dial.dial or now == before.dial:
        return before
    gone = set(before.dial.because)
    because = (*(r for r in before.because if r not in gone), *now.because)
    return replace(before, dial=now, because=because)
