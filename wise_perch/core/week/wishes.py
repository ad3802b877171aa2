"""What a week is wished to be, around what is kept of it: usual days, what makes sense, days that are over,
present settings.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

from wise_perch.core.dose.setting import set_dial
from wise_perch.core.trade.session_rules import Because
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


def with_present_settings(planned: WeekPlan, case: JudgedCase) -> WeekPlan:
    """A kept week with every dial of the days to come where it stands now; amounts stay as planned, days that
    are over too.
    """
    return replace(planned, days=tuple(d if d.day < case.on else set_dials_of(d, case) for d in planned.days))


def set_dials_of(day: DayPlan, case: JudgedCase) -> DayPlan:
    """A day with every dial where it stands now, and the reasons with it."""
    return replace(day, blocks=tuple(_set_dial_of(b, case) for b in day.blocks))


def _set_dial_of(block: Block, case: JudgedCase) -> Block:
    drill = case.syllabus.drills.get(block.drill)
    if drill is None or block.dose is None or block.dose.dial is None:
        return block
    now, before = set_dial(drill, case), block.dose.dial
    if now is None or now.dial != before.dial or now == before:
        return block
    gone = set(before.because)

    def again(reasons: Sequence[Because]) -> tuple[Because, ...]:
        return (*(r for r in reasons if r not in gone), *now.because)

    dose = replace(block.dose, dial=now, because=again(block.dose.because))
    return replace(block, dose=dose, because=again(block.because))
