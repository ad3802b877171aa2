"""Load week by week: body weight on the hands, push and press apart, time on the hands by what else carries,
the line it should not grow beyond, and pain.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.session_lookup import heavy_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.hand_load import LoadReckoner, work_of
from wise_perch.core.trainee.pain import Ache

WEEK_DAYS = 7
Support = Literal["surface", "wall", "free"]
SUPPORTS: tuple[Support, ...] = ("surface", "wall", "free")
"""What helps the hands to carry: a floor, box or bench under the feet; a wall; nothing."""
Kind = Literal["push", "press", "other"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadWeek:
    """One week from its Monday. `load_s`: body-weight seconds, of them `push_s` and `press_s`; `on_hands_s`:
    plain seconds by support; `most_s`: the ramp, None while there are no weeks before; `beyond`: whether it
    was passed; `pain`: the worst told, 0 to 10, with its joint; `running`: the week is not over.
    """

    week: date
    load_s: float
    push_s: float
    press_s: float
    on_hands_s: Mapping[Support, float]
    most_s: float | None
    beyond: bool
    pain: int | None
    joint: str
    running: bool


def support_of(drill: Drill, syllabus: Syllabus) -> Support:
    """What helps the hands to carry in a drill: as it is drawn, and by whether the hands carry everything."""
    drawing = syllabus.drawing_of(drill)
    if not drill.away and drawing and any(p.kind == "wall" for p in drawing.props):
        return "wall"
    whole = any(
        drill.drill in x.drills or (drill.family and drill.family in x.drills)
        for x in syllabus.mechanics.fixed_loads
    )
    return "free" if drill.away or whole else "surface"


def kind_of(drill: Drill, syllabus: Syllabus) -> Kind:
    """Whether a drill counts as push or as press: by its line, or where it is one of the heavy ones."""
    line = syllabus.line_of[drill.drill]
    heavy = heavy_of(syllabus, drill.drill)
    if line == "push" or heavy == "push":
        return "push"
    return "press" if line == "press" or heavy == "press" else "other"


def load_weeks(case: JudgedCase, aches: Sequence[Ache], *, weeks: int) -> tuple[LoadWeek, ...]:
    """The last weeks, the present one last. The case must have all sets and runs of them, and of the weeks
    that the first is held against.
    """
    rules = case.syllabus.sessions
    monday = case.on - timedelta(days=case.on.weekday())
    before = int(rules.ramp_weeks.value)
    mondays = [monday - timedelta(weeks=n) for n in range(weeks + before - 1, -1, -1)]
    reckoner = LoadReckoner(case.syllabus, case.body)
    load: dict[tuple[date, Kind], float] = defaultdict(float)
    hands: dict[tuple[date, Support], float] = defaultdict(float)
    for drill, piece in work_of(case, since=mondays[0]):
        found = reckoner.load(
            drill,
            measure=piece.measure,
            value=piece.value,
            n=piece.n,
            window_s=piece.window_s,
            dial=piece.dial,
        )
        if found is None or found.share <= 0:
            continue
        week = piece.day - timedelta(days=piece.day.weekday())
        load[week, kind_of(drill, case.syllabus)] += found.seconds
        hands[week, support_of(drill, case.syllabus)] += found.seconds / found.share
    totals = {w: sum(load[w, kind] for kind in ("push", "press", "other")) for w in mondays}
    made = []
    for n, week in enumerate(mondays[before:], start=before):
        earlier = [totals[w] for w in mondays[n - before : n]]
        mean = sum(earlier) / before
        most = max(rules.least_week_load_s.value, (1 + rules.ramp.value) * mean) if any(earlier) else None
        told = [a for a in aches if week <= a.day < week + timedelta(days=WEEK_DAYS) and a.level > 0]
        worst = max(told, key=lambda a: (a.level, a.day), default=None)
        made.append(
            LoadWeek(
                week=week,
                load_s=round(totals[week], 1),
                push_s=round(load[week, "push"], 1),
                press_s=round(load[week, "press"], 1),
                on_hands_s={s: round(hands[week, s], 1) for s in SUPPORTS},
                most_s=None if most is None else round(most, 1),
                beyond=most is not None and totals[week] > most + 1e-9,
                pain=worst.level if worst else None,
                joint=worst.joint if worst else "",
                running=week == monday,
            )
        )
    return tuple(made)


def say_load_of(weeks: Sequence[LoadWeek], *, ramp: float) -> str:
    """The newest weeks in a sentence: what the hands carried, and whether pain came with more of it."""
    if not weeks or not any(w.load_s for w in weeks):
        return "Nothing was carried on the hands in these weeks, as far as it was recorded."
    now = weeks[-1]
    so_far = " so far" if now.running else ""
    words = f"{now.load_s:.0f} s of body weight this week{so_far}"
    if now.most_s is not None:
        words += f". {now.most_s:.0f} s is the ramp: {100 * ramp:.0f} % above the last weeks"
    hurt = [w for w in weeks if w.pain]
    if hurt:
        beyond = sum(w.beyond for w in hurt)
        many = f"{len(hurt)} week{'s' if len(hurt) > 1 else ''}"
        words += f". Pain was told in {many}, {beyond or 'none'} of them beyond the ramp"
    return f"{words}."
