"""When a drill stands still: days of practice whose trend lies within noise, and what practice would try."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import groupby

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import SAME_FIGURE, Form
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trade.session_rules import Because, StandingStill
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.goals import GoalStanding
from wise_perch.core.trainee.marks import compares_with
from wise_perch.core.trainee.practice import causes_of, practice_of
from wise_perch.core.trainee.wall import State
from wise_perch.core.trainee.wording import say_value

WEEK_DAYS = 7
HARDLY_A_TREND = 0.005
"""A change a week below this share is not worth a figure. Ours."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Standstill:
    """A drill on the way to a goal that stands still. `firm`: for long enough to say so plainly; before that
    it looks so. `low` and `high`: the rank interval of its trend, as a share of its level a week. `causes`:
    what its practice says of why; `options`: what practice would try, the likeliest first; `beside`: the
    drills among them.
    """

    drill: str
    title: str
    since: date
    days: int
    weeks: int
    firm: bool
    low: float
    high: float
    sentence: str
    causes: tuple[Because, ...]
    options: tuple[Because, ...]
    beside: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class _DayValue:
    day: date
    value: float
    n: int | None


def find_standstills(case: JudgedCase) -> tuple[Standstill, ...]:
    """What stands still on the way to the goals that are not reached, the leading goal's first. While
    something that leads there still moves, nothing is to be changed, and nothing is said.
    """
    found: dict[str, Standstill] = {}
    # what was left for a gap is no standstill: only what is practised is looked at over months
    gap = timedelta(days=int(case.syllabus.sessions.growth.gap_after_days.value))
    practised = {p.drill for p in case.history.all_since(case.on - gap)}
    case.history.fetch({s.drill for g in case.goals for s in g.path} & practised)
    for goal in case.goals:
        if goal.reached or goal.stay_the_course:
            continue
        for step in goal.path:
            if step.drill in found or step.kind == "closed" or step.drill not in practised:
                continue
            if still := _find_standstill(case, goal, case.syllabus.drills[step.drill]):
                found[step.drill] = still
    return tuple(found.values())


def _find_standstill(case: JudgedCase, goal: GoalStanding, drill: Drill) -> Standstill | None:
    rules = case.syllabus.sessions.standing_still
    found = _still_window(_days_of_practice(drill, case, rules), drill.gate, case.on, rules)
    if found is None or found.still is None:
        return None
    values, trend = found.values, found.still
    first, weeks = values[0], _weeks_of(values)
    firm = weeks >= rules.firm_weeks.value
    best = max(values, key=lambda v: -v.value if drill.gate.fewer else _level(v))
    return Standstill(
        drill=drill.drill,
        title=drill.title,
        since=first.day,
        days=len(values),
        weeks=weeks,
        firm=firm,
        low=trend[0],
        high=trend[1],
        sentence=(
            f"{drill.title} {'stands' if firm else 'looks'} still: at best"
            f" {say_value(best.value, best.n, drill.gate)} since {say_day(first.day, case.on)}, on"
            f" {len(values)} days of practice{_say_trend(trend)}"
        ),
        causes=causes_of(practice_of(drill, case, since=first.day), case.syllabus.sessions.practice),
        options=tuple(_options(case, goal, drill, values, weeks)),
        beside=tuple(d.drill for d in (_open_sibling(case, drill),) if d),
    )


def say_course(case: JudgedCase) -> tuple[str, ...]:
    """Whether to go on as it is, in sentences: that the course of a goal is to be kept, and what stands
    still.
    """
    stay = [g.stay_the_course for g in case.goals if not g.reached and g.stay_the_course]
    still = [
        " ".join([f"{s.sentence}.", *(c.text for c in s.causes), *(o.text for o in s.options[:1])])
        for s in find_standstills(case)
    ]
    return (*stay, *still)


def stands_still(drill: Drill, case: JudgedCase) -> bool | None:
    """Whether a drill stands still, goal or none; None where too few days of practice say so."""
    rules = case.syllabus.sessions.standing_still
    found = _still_window(_days_of_practice(drill, case, rules), drill.gate, case.on, rules)
    return None if found is None else found.still is not None


@dataclass(frozen=True, slots=True)
class _Window:
    """Days of practice that say something of a trend; `still` is its interval where it lies within noise."""

    values: Sequence[_DayValue]
    still: tuple[float, float] | None


def _still_window(values: Sequence[_DayValue], gate: Gate, on: date, rules: StandingStill) -> _Window | None:
    """What the days of practice say: all of them first, which tell the most, then the late ones, in which
    what rose before may have come to rest. None where there are too few.
    """
    late = on - timedelta(days=int(rules.late_weeks.value) * WEEK_DAYS)
    found = None
    for some in (values, [v for v in values if v.day >= late]):
        trend = _trend_of(some, gate, rules)
        if trend is not None and _within_noise(trend, rules):
            return _Window(some, trend)
        found = found or (None if trend is None else _Window(some, None))
    return found


def _weeks_of(values: Sequence[_DayValue]) -> int:
    return (values[-1].day - values[0].day).days // WEEK_DAYS


def _trend_of(values: Sequence[_DayValue], gate: Gate, rules: StandingStill) -> tuple[float, float] | None:
    """The interval of the trend, where there are days and weeks enough to speak of one."""
    if len(values) < rules.least_days.value or _weeks_of(values) < rules.least_weeks.value:
        return None
    return trend_a_week(
        [v.day for v in values],
        [_level(v) for v in values],
        interval=rules.interval.value,
        # of single tries a share of few is mostly chance: they are held against what the gate asks for
        against=gate.value / gate.of if gate.of else None,
    )


def _within_noise(trend: tuple[float, float], rules: StandingStill) -> bool:
    return -rules.within.value < trend[0] <= trend[1] < rules.within.value


def _days_of_practice(drill: Drill, case: JudgedCase, rules: StandingStill) -> list[_DayValue]:
    """The best clean figure of each day within the window, from the last break on; none where its dial
    moved, which is a change of its own.
    """
    begin = case.on - timedelta(days=int(rules.window_weeks.value) * WEEK_DAYS)
    mine = [
        p
        for p in case.history.of_since(drill.drill, begin)
        if compares_with(p, drill.gate) and p.form is not Form.LOST and (p.value > 0 or p.n)
    ]
    if drill.dial:
        settings = [s for p in mine if (s := p.dial.get(drill.dial.name)) is not None]
        if settings and max(settings) - min(settings) > SAME_FIGURE:
            return []
    found: list[_DayValue] = []
    gap = case.syllabus.sessions.growth.gap_after_days.value
    # what is only tested comes no more often than its test is due: that is no break
    longest = gap + case.syllabus.sessions.retest_after_days.value
    for day, same in groupby(sorted(mine, key=lambda p: p.day), key=lambda p: p.day):
        best = max(same, key=lambda p: -p.value if drill.gate.fewer else p.value / (p.n or 1))
        if found and (day - found[-1].day).days > longest:
            found = []
        found.append(_DayValue(day, best.value, best.n))
    # what was left is no standstill
    return found if found and (case.on - found[-1].day).days <= gap else []


def _level(value: _DayValue) -> float:
    return value.value / value.n if value.n else value.value


def trend_a_week(
    days: Sequence[date], levels: Sequence[float], *, interval: float, against: float | None = None
) -> tuple[float, float] | None:
    """The interval of a trend a week, as a share of the middle level, or of `against` where it is given; None
    where there is no level.

    Theil and Sen's slope with the interval of its rank statistic (Sen, Estimates of the regression
    coefficient based on Kendall's tau, 1968), from scipy.
    """
    # loaded when first needed: it takes a second
    from scipy.stats import theilslopes

    middle = against or sorted(levels)[len(levels) // 2]
    if middle <= 0 or len(set(days)) < 2:
        return None
    weeks = [(d - days[0]).days / WEEK_DAYS for d in days]
    found = theilslopes(levels, weeks, alpha=interval)
    return float(found.low_slope) / middle, float(found.high_slope) / middle


def _say_trend(trend: tuple[float, float]) -> str:
    """The trend as it goes on from the days of practice: in whole percents, since no more of it is known."""
    if all(abs(t) < HARDLY_A_TREND for t in trend):
        return ", no trend"
    low, high = (f"{100 * t:+.0f}".replace("-", "−") if abs(t) >= HARDLY_A_TREND else "0" for t in trend)
    return f". The trend is {low} to {high} % a week"


def _options(
    case: JudgedCase, goal: GoalStanding, drill: Drill, values: Sequence[_DayValue], weeks: int
) -> list[Because]:
    rules = case.syllabus.sessions.standing_still
    often = len(values) / max(1, weeks)
    found: list[Because] = []
    if often < rules.often_days.value:
        figure = f"{often:.1f} days a week now."
        found.append(Because(text=f"{rules.words.often} {figure}", origin=rules.often_days.origin))
    if _last_open_set(case, drill) > rules.open_set_days.value:
        found.append(Because(text=rules.words.open_set, origin=rules.open_set_days.origin))
    if other := _open_sibling(case, drill):
        title = other.title[:1].lower() + other.title[1:]
        found.append(Because(text=f"{rules.words.sibling} {title}.", origin="practice"))
    if goal.holding and goal.holding != case.syllabus.pillar_of[drill.drill]:
        below = next((s.title for s in goal.work_on if s.pillar == goal.holding), goal.holding)
        text = f"{rules.words.below} {below[:1].lower() + below[1:]}."
        found.append(Because(text=text, origin="practice"))
    if drill.drill in case.syllabus.inverted:
        found.append(Because(text=rules.words.line, origin="practice"))
    if often >= rules.often_days.value:
        found.append(Because(text=rules.words.lighter, origin="practice"))
    return found


def _last_open_set(case: JudgedCase, drill: Drill) -> float:
    """For how many days no set of it was left open."""
    days = [p.day for p in case.history.of(drill.drill) if p.open_set]
    return (case.on - max(days)).days if days else float("inf")


def _open_sibling(case: JudgedCase, drill: Drill) -> Drill | None:
    """Another drill of the same rung that is open and not passed."""
    rungs = (rung for line in case.syllabus.lines for rung in line.rungs)
    own = next(rung for rung in rungs if any(d.drill == drill.drill for d in rung))
    for d in own:
        other = case.drills[d.drill]
        if d.drill != drill.drill and other.open and other.state is State.NOT_YET:
            return d
    return None
