"""A session made ready for a day, and what may happen in one."""

from dataclasses import dataclass
from datetime import date

from wise_perch.core.floor.kept_session import FloorSession
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.floor.walk import FloorEvent, FloorSheet
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.sets import set_problem
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import HALL, ask_for_week, usual_kit
from wise_perch.core.week.week_plan import DayPlan, DayWish, Refusal, WeekPlan, Wish, monday_of
from wise_perch.core.week.wishes import set_day_of

MOST_SETS = 60
"""No block of a session has more sets. A limit on input, ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadySession:
    """A session's sheet, or why there is none. `from_plan`: it follows the kept plan."""

    sheet: FloorSheet | None
    because: str
    from_plan: bool


def make_session_ready(
    case: JudgedCase, kept: WeekPlan | None, *, day: date, minutes: int | None = None
) -> ReadySession:
    """The sheet of a day: by the kept plan where there is one, with its dials where they stand now; else
    planned for that day alone, for so many minutes (None: as many as usual).
    """
    plan = next((d for d in kept.days if d.day == day and d.blocks), None) if kept else None
    if plan is None:
        found = _plan_day_alone(case, day, minutes)
        if isinstance(found, str):
            return ReadySession(sheet=None, because=found, from_plan=False)
        return ReadySession(sheet=lay_out_session(found, case), because="", from_plan=False)
    if closed := closed_by_now(plan, case):
        return ReadySession(sheet=None, because=f"{closed} Plan the week again.", from_plan=True)
    return ReadySession(sheet=lay_out_session(set_day_of(plan, case), case), because="", from_plan=True)


def _plan_day_alone(case: JudgedCase, day: date, minutes: int | None) -> DayPlan | str:
    usual = int(case.syllabus.sessions.usual_minutes.value)
    days = (DayWish(day=day, place=HALL, minutes=usual if minutes is None else minutes),)
    wish = Wish(week=monday_of(day), days=days, kit=usual_kit(case.profile, case.syllabus))
    found = plan_week(ask_for_week(case, week=wish.week), wish)
    if isinstance(found, Refusal):
        return " ".join(q.text for q in found.questions)
    return found.days[0] if found.days[0].blocks else found.days[0].why_empty


def closed_by_now(day: DayPlan, case: JudgedCase) -> str:
    """What stands in a kept plan but is closed by now, as after an exit has gone stale or a caution was
    answered with yes.
    """
    for block in day.blocks:
        stands = case.drills.get(block.drill)
        if block.drill and (stands is None or not stands.open):
            waits = ", and ".join(w.sentence for w in stands.waits) if stands else ""
            reason = waits or "it is no longer in the syllabus"
            return f"{block.title} is in the plan of this day and is closed now: {reason}."
    return ""


def sheet_problem(sheet: FloorSheet, syllabus: Syllabus) -> str | None:
    """Why a sheet cannot be walked or kept: it names what is not there; None for a sound one."""
    for key, variant in sheet.variants.items():
        if variant.key != key or (variant.drill and variant.drill not in syllabus.drills):
            return f"The sheet names {variant.drill[:80] or key[:80]}, which is not in the syllabus."
        dose = variant.dose
        if dose and not (1 <= dose.least <= MOST_SETS and 1 <= dose.sets <= MOST_SETS):
            return f"{key[:80]} has an impossible number of sets."
        if dose and dose.dial and not 0 <= dose.dial.at < len(dose.dial.steps):
            return f"{key[:80]} has a dial that stands nowhere."
    named = {n for s in sheet.slots for n in (s.planned, s.back, s.ahead, *s.swaps) if n} | {
        n for v in sheet.variants.values() for n in (v.lighter, v.shy) if n
    }
    if strange := named - set(sheet.variants):
        return f"The sheet names {sorted(strange)[0][:80]}, which it does not have."
    if any(not s.planned for s in sheet.slots):
        return "A block of the sheet has nothing planned."
    return None


def event_problem(session: FloorSession, what: FloorEvent) -> str | None:
    """Why something cannot have happened in a session; None where it can."""
    sheet = session.sheet
    if what.kind in ("set", "choose", "skip", "next", "why", "cue") and (
        what.slot is None or what.slot >= len(sheet.slots)
    ):
        return "Which block of the session is this about?"
    if what.kind in ("set", "choose") and what.key not in sheet.variants:
        return "The sheet of this session has no such drill."
    if what.kind == "pain" and not what.pains:
        return "Which joint hurts?"
    if what.kind == "ready":
        return _before_problem(session, what)
    if what.kind == "why":
        return _reason_problem(session, what)
    if what.kind == "cue":
        variant = sheet.variants.get(what.key)
        known = variant is not None and variant.drill and what.how in variant.cues
        return None if known else "Which cue of which drill worked?"
    if what.kind != "set":
        return None
    dose = sheet.variants[what.key].dose
    if dose is None:
        return "This block has no sets. It is done or left out."
    if what.value is None or dose.way == "stretch":
        return None
    return set_problem(
        dose.measure,
        value=what.value,
        asked=None if dose.measure is Measure.RATE else what.asked,
        n=1 if dose.measure is Measure.RATE else None,
        setting=what.setting,
    )


def _before_problem(session: FloorSession, what: FloorEvent) -> str | None:
    before = session.sheet.before
    strange = (
        {*what.room} - {*before.room}
        or {*what.checks} - {c.check for c in before.checks}
        or {what.warm_up} - {"", *(w.warm_up for w in before.warm_ups)}
    )
    return f"The sheet of this session asks for no {sorted(strange)[0][:80]}." if strange else None


def _reason_problem(session: FloorSession, what: FloorEvent) -> str | None:
    if what.reason is None:
        return "Why did it fail?"
    if not any(e.kind == "set" and e.slot == what.slot for e in session.standing_events):
        return "No set of this block has been done yet."
    return None
