"""A report for the trainee: a month in plain words and figures, made from what was recorded and nothing
else.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from wise_perch.core.progress.events import Event
from wise_perch.core.progress.firsts import every_first
from wise_perch.core.progress.forecast import find_forecast, say_forecast
from wise_perch.core.progress.load import SUPPORTS, LoadWeek
from wise_perch.core.progress.road import Road
from wise_perch.core.progress.series import Series, gate_series
from wise_perch.core.trade.words import say_day, say_list, within
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.course_brief import first_pass
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.standing_still import say_course
from wise_perch.core.trainee.wording import say_value
from wise_perch.core.trainee.work_on import leading_goal

TITLES: Mapping[str, str] = {
    "practice": "Practice",
    "new": "New this month",
    "goal": "Your goal",
    "moves": "Is it working?",
    "ahead": "What lies ahead",
    "next": "What to work on",
    "pain": "Pain",
}
"""The sections of a report, in their order."""
CAUTION = (
    "A coach's arithmetic, not medical advice. Never train through pain. Sharp, lasting or tingling pain"
    " belongs to a licensed clinician. The venue's rules come first."
)
FIGURES_SHOWN, AHEAD_SHOWN, NEXT_SHOWN = 8, 2, 3
LONGEST_WORDS = 2000
"""So many characters a section may hold."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """One part of a report: its name, title and words."""

    section: str
    title: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportFigure:
    """One measure: the best of before the month, the best of the month (empty where there is none), and its
    gate.
    """

    title: str
    before: str
    now: str
    gate: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthReport:
    """A month of one trainee. `on`: the last day it knows of; `edited`: a coach changed its words."""

    name: str
    month: date
    on: date
    heading: str
    sections: tuple[Section, ...]
    figures: tuple[ReportFigure, ...]
    caution: str
    edited: bool = False


def last_day_of(month: date) -> date:
    """The last day of the month that begins on a day."""
    return (month.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)


def write_report(
    name: str,
    case: JudgedCase,
    *,
    month: date,
    road: Road | None,
    events: Sequence[Event],
    weeks: Sequence[LoadWeek],
) -> MonthReport:
    """Write the report of a month, of a case as it stood on the month's last day, or today within it."""
    goal = leading_goal(case.goals)
    said = {
        "practice": _practice(case, month, weeks),
        "new": _new(case, month),
        "goal": _goal(goal, road, case),
        "moves": _moves(case),
        "ahead": _ahead(goal, case),
        "next": _next(goal),
        "pain": _pain(events, month, case.on),
    }
    return MonthReport(
        name=name,
        month=month,
        on=case.on,
        heading=f"{name}, {month:%B %Y}",
        sections=tuple(
            Section(section=s, title=TITLES[s], words=words) for s, words in said.items() if words
        ),
        figures=tuple(_figures(goal, case, month)),
        caution=CAUTION,
    )


def with_words(report: MonthReport, words: Mapping[str, str]) -> MonthReport:
    """A report in the words a coach gave it: what they emptied is left out."""
    found = {s.section: s.words for s in report.sections} | dict(words)
    sections = tuple(Section(section=s, title=TITLES[s], words=found[s]) for s in TITLES if found.get(s))
    return replace(report, sections=sections, edited=True)


def _practice(case: JudgedCase, month: date, weeks: Sequence[LoadWeek]) -> str:
    pieces = [p for p in case.history.all_since(month) if p.day <= case.on]
    days = sorted({p.day for p in pieces})
    if not days:
        return "Nothing was recorded this month."
    alone = len({p.day for p in pieces if p.by == "self"})
    words = f"You trained on {len(days)} day{'s' if len(days) > 1 else ''}"
    words += f", {alone} of them on your own." if alone else "."
    mine = [w for w in weeks if w.week >= month - timedelta(days=6)]
    hands = {s: sum(w.on_hands_s.get(s, 0.0) for w in mine) for s in SUPPORTS}
    said = {
        "surface": "with the feet on the floor or a box",
        "wall": "at the wall",
        "free": "with nothing but the hands",
    }
    told = [f"{hands[s] / 60:.0f} min {said[s]}" for s in SUPPORTS if hands[s] >= 60]
    return f"{words} Time on the hands in the weeks of this month: {say_list(told)}." if told else words


def _new(case: JudgedCase, month: date) -> str:
    fell = [f for f in every_first(case) if month <= f.day <= case.on]
    if not fell:
        return "No step was passed for the first time this month."
    said = [
        f"{within(f.title)}{f' ({f.amount})' if f.amount else ''} on {say_day(f.day, case.on)}" for f in fell
    ]
    many = f"{len(fell)} passed" if len(fell) > 1 else "Passed"
    return f"{many} for the first time: {', '.join(said)}."


def _goal(goal: GoalStanding | None, road: Road | None, case: JudgedCase) -> str:
    if goal is None:
        reached = [g.reached_sentence for g in case.goals if g.reached]
        return f"Reached: {reached[0]}" if reached else ""
    said = f"{goal.title}. {road.sentence}" if road else f"{goal.title}."
    return f"{said} {goal.headline}"


def _moves(case: JudgedCase) -> str:
    """The same words as everywhere: the course kept, or what stands still and what practice would try."""
    return next(iter(say_course(case)), "")


def _ahead(goal: GoalStanding | None, case: JudgedCase) -> str:
    said = []
    for step in goal.work_on if goal else ():
        drill = case.syllabus.drills[step.drill]
        found = find_forecast(_series(step.drill, case), on=case.on)
        if found.known and step.kind == "work on":
            said.append(f"{drill.title}: {within(say_forecast(found, drill.gate))}")
    if not said:
        return ""
    model = "A model of what was measured, and no promise."
    return " ".join([*said[:AHEAD_SHOWN], model])


def _next(goal: GoalStanding | None) -> str:
    steps = [s for s in goal.work_on if s.kind != "closed"] if goal else []
    return " ".join(
        f"{s.title}: {within(s.sentence.removesuffix('; it helps'))}." for s in steps[:NEXT_SHOWN]
    )


def _pain(events: Sequence[Event], month: date, on: date) -> str:
    told = [e for e in events if e.kind == "pain" and month <= e.day <= on]
    if not told:
        return ""
    said = [f"{e.words} on {say_day(e.day, on)}" for e in told]
    shown = said if len(said) <= NEXT_SHOWN else [said[0], said[-1]]
    if len(told) == 1:
        return f"You told of pain: {said[0]}."
    days = len({e.day for e in told})
    on_days = f" on {days} days" if days > 1 else ""
    return f"You told of pain{on_days}: {say_list(shown)}."


def _series(drill: str, case: JudgedCase) -> Series:
    return gate_series(case.syllabus.drills[drill], case.history.of(drill), stature_cm=case.stature_cm)


def _figures(goal: GoalStanding | None, case: JudgedCase, month: date) -> list[ReportFigure]:
    """What was measured in the month and not passed before it, what leads to the goal first."""
    lately = {p.drill for p in case.history.all_since(month)}
    first = [s.drill for s in (*goal.path, *goal.work_on) if s.drill in lately] if goal else []
    others = [d for d in case.syllabus.drills if d in lately and not _passed_before(d, case, month)]
    rows = []
    for name in dict.fromkeys((*first, *others)):
        series = _series(name, case)
        before, now = (_best(series, month, case.on, late=late) for late in (False, True))
        if now:
            title = case.syllabus.drills[name].title
            rows.append(ReportFigure(title=title, before=before, now=now, gate=series.gate.amount))
        if len(rows) == FIGURES_SHOWN:
            break
    return rows


def _best(series: Series, month: date, on: date, *, late: bool) -> str:
    """The best clean reading of the month, or of all before it; empty without one."""
    sign = -1 if series.gate.fewer else 1
    mine = [r for r in series.readings if r.clean and r.day <= on and (r.day >= month) is late]
    top = max(mine, key=lambda r: sign * (r.value / r.n if r.n else r.value), default=None)
    return say_value(top.value, top.n, series.gate) if top else ""


def _passed_before(drill: str, case: JudgedCase, month: date) -> bool:
    day = first_pass(drill, case.wall.marks, case.syllabus)
    return day is not None and day < month
