"""What a planned week says of itself: why something is left out, how load and pillars compare, and what could
not be had.
"""

from collections.abc import Sequence
from datetime import date

from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.words import say_share
from wise_perch.core.trainee.pillars import PILLAR_WORDS
from wise_perch.core.week.candidates import Candidate
from wise_perch.core.week.laid_out import LaidWeek, say_kit, seconds_of, worth_beside
from wise_perch.core.week.question import WeekQuestion
from wise_perch.core.week.session import frame_s
from wise_perch.core.week.solve import UNIT_S, Chosen, Slot
from wise_perch.core.week.stand_ins import missing_kit
from wise_perch.core.week.week_plan import (
    DayPlan,
    PillarShare,
    UnmetWish,
)


def say_why_not(candidate: Candidate, laid: LaidWeek, chosen: Chosen) -> str:
    """Why an open candidate is not in the week: dropped, no kit, hand-load, heavy days, or the time."""
    wish, rules = laid.wish, laid.question.case.syllabus.sessions
    if any(d.drill == candidate.name and d.day is None for d in wish.drops):
        return "You took it out of this week."
    open_days = [s for s in laid.slots if candidate.name not in s.barred]
    if not open_days:
        missing = (
            frozenset().union(
                *(
                    missing_kit(candidate, place=d.place, kit=wish.kit, syllabus=laid.question.case.syllabus)
                    for d in wish.days
                )
            )
            if wish.days
            else frozenset()
        )
        return (
            f"Needs {say_kit(missing, laid.question)}. None of these days has that."
            if missing
            else "You took it off every day."
        )
    least = candidate.dose.least if candidate.dose else 1
    known = {c.name: c for c in laid.found}
    if candidate.heavy and not any(_heavy_fits(candidate, s.day, laid, chosen) for s in open_days):
        return "Push and press need a day between them. Other drills matter more this week."
    planned = sum(
        (c.dose.load_s if (c := known[name]).dose else 0) * sets for (_, name), sets in chosen.sets.items()
    )
    if candidate.dose and planned + candidate.dose.load_s * least > laid.puzzle.load_most_s:
        return (
            f"The hands have enough this week: {laid.question.loading.done_s:.0f} s of body weight done,"
            f" {planned:.0f} s planned. Nothing is added beyond {say_share(rules.load_stops_at.value)} above"
            f" the last {rules.ramp_weeks.value:g} weeks."
        )
    needed = -(-seconds_of(candidate, least, laid) // 60)
    spare = max(
        s.free_s - sum(seconds_of(known[n], k, laid) for (d, n), k in chosen.sets.items() if d == s.day)
        for s in open_days
    )
    if spare >= needed * 60:
        return _say_no_room(candidate, laid, chosen, open_days)
    return f"No time left. It takes {needed:.0f} min, and other drills matter more."


def _say_no_room(candidate: Candidate, laid: LaidWeek, chosen: Chosen, open_days: Sequence[Slot]) -> str:
    """Why something is left out though there would be time: full sessions, or enough beside what leads."""
    rules = laid.question.case.syllabus.sessions
    most = int(rules.blocks_most.value)
    if all(sum(d == s.day for d, _ in chosen.sets) >= most for s in open_days):
        return f"Session full at {most} drills. Other drills matter more."
    if candidate.beside:
        return (
            f"What only helps has {rules.beside_least_s.value / 60:.0f} min a session,"
            f" or {say_share(rules.beside_share.value)} of the work. Other drills matter more."
        )
    return "Other drills matter more this week."


def _heavy_fits(candidate: Candidate, day: date, laid: LaidWeek, chosen: Chosen) -> bool:
    known = {c.name: c for c in laid.found}
    there = [(d, known[name].heavy) for d, name in chosen.sets] + list(laid.puzzle.heavy)
    return not any(
        kind and (abs((d - day).days) == 1 or (d == day and kind != candidate.heavy)) for d, kind in there
    )


def share_pillars(days: Sequence[DayPlan], laid: LaidWeek) -> tuple[PillarShare, ...]:
    """The time of each pillar, the largest first."""
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


def say_load(load: float, question: WeekQuestion) -> str:
    """How a week's hand-load compares with the weeks before."""
    rules, mean = question.case.syllabus.sessions, question.loading.mean_s
    total = load + question.loading.done_s
    thin = total <= rules.least_week_load_s.value and mean < rules.least_week_load_s.value / 2
    if mean > 0 and thin:
        return (
            f"Hand-load {total:.0f} s of body weight, {mean:.0f} s a week before. A week may carry"
            f" {rules.least_week_load_s.value:.0f} s to begin with."
        )
    if mean <= 0:
        return (
            f"Hand-load {total:.0f} s of body weight. Nothing to compare with in the last"
            f" {rules.ramp_weeks.value:g} weeks."
        )
    change = total / mean - 1
    way = "above" if change >= 0 else "below"
    weeks = f"the last {rules.ramp_weeks.value:g} weeks"
    if change > 1:
        # a share of almost nothing says nothing
        return (
            f"{total:.0f} s on the hands this week, {mean:.0f} s a week in {weeks}."
            f" {max(rules.least_week_load_s.value, mean * (1 + rules.ramp.value)):.0f} s is a safe start."
        )
    words = (
        f"Hand-load {say_share(abs(change))} {way} {weeks}"
        if abs(change) >= 0.005
        else f"Hand-load as in {weeks}"
    )
    return (
        f"{words}. It should grow by at most {say_share(rules.ramp.value)}."
        if change > rules.ramp.value + 0.005 and total > rules.least_week_load_s.value
        else f"{words}."
    )


def _leading_goal_short(laid: LaidWeek, chosen: Chosen) -> list[UnmetWish]:
    """Where another goal has more time than the one that leads: what is open toward it takes no more."""
    goals = [g for g in laid.question.case.goals if not g.reached]
    known = {c.name: c for c in laid.found}
    spent = dict.fromkeys(range(len(goals)), 0.0)
    for (_, name), sets in chosen.sets.items():
        goal = 0 if known[name].main else known[name].goal
        if goal is not None:
            spent[goal] = spent.get(goal, 0.0) + seconds_of(known[name], sets, laid)
    return [
        UnmetWish(
            text=(
                f"{goals[0].title} leads and gets {spent[0] / 60:.0f} min this week: no more is open toward"
                f" it. {goals[n].title} gets {s / 60:.0f}."
            )
        )
        for n, s in spent.items()
        if 0 < n < len(goals) and s > spent[0] + UNIT_S
    ]


def ask_what_was_not_had(laid: LaidWeek, chosen: Chosen, days: Sequence[DayPlan]) -> list[UnmetWish]:
    """What of the wishes and rules could not be had, as sentences with their options."""
    found = [
        q for day, slot in zip(days, laid.slots, strict=True) if (q := _short_day(day, slot, laid, chosen))
    ]
    kinds = {c.heavy for c in laid.found if c.heavy and c.counts > worth_beside(laid)}
    planned = {c.heavy for c in laid.found if c.heavy and any(name == c.name for _, name in chosen.sets)}
    if kinds == {"push", "press"} and len(planned) == 1:
        only, other = planned.copy().pop(), (kinds - planned).pop()
        options = tuple(c.name for c in laid.found if c.heavy == other)
        days_said = "This one day can" if len(days) == 1 else f"These {len(days)} days"
        found.append(
            UnmetWish(
                text=(
                    f"Push and press need a day between them. {days_said} only fit {only}."
                    f" Add a day, or swap in {other}?"
                ),
                options=options,
            )
        )
    if laid.puzzle.load_most_s <= 0 and any(c.dose and c.dose.load_s for c in laid.found):
        rules, loading = laid.question.case.syllabus.sessions, laid.question.loading
        text = (
            f"The hands carried {loading.done_s:.0f} s of body weight this week already, against"
            f" {loading.mean_s:.0f} s a week in the last {rules.ramp_weeks.value:g}. Nothing more is planned"
            " on the hands. What you pin is."
        )
        found.append(UnmetWish(text=text))
    found += _leading_goal_short(laid, chosen)
    holding = next((s for s in share_pillars(days, laid) if s.holding), None)
    most = max((s.seconds for s in share_pillars(days, laid)), default=0.0)
    if laid.puzzle.holding and holding and holding.seconds < most:
        text = (
            f"{holding.title} limits the goal and gets {holding.seconds / 60:.0f} min: its doses, kit and"
            f" days allow no more. Another pillar has {most / 60:.0f}."
        )
        found.append(UnmetWish(text=text))
    return found


def _short_day(day: DayPlan, slot: Slot, laid: LaidWeek, chosen: Chosen) -> UnmetWish | None:
    """A day too short for what is wished: nothing but preparation, or one block where several pillars want
    one.
    """
    wanted = [c for c in laid.found if c.name not in slot.barred and c.counts > worth_beside(laid)]
    smallest = min((seconds_of(c, c.dose.least if c.dose else 1, laid) for c in wanted), default=0.0)
    if wanted and slot.free_s < smallest:
        frame = (
            day.minutes * 60 - slot.free_s
            if slot.free_s
            else frame_s(laid.prepared, laid.question.case.syllabus.sessions.change_over_s.value)
        )
        text = (
            f"{day.minutes} minutes on {day.day:%a} are too short: the warm-up takes"
            f" {-(-frame // 60):.0f}, the shortest drill {-(-smallest // 60):.0f}."
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
        f"{day.minutes} minutes on {day.day:%a} fit the warm-up and one drill. {a.capitalize()} or {b}?"
        f" {there.title} is in."
    )
    return UnmetWish(text=text, options=(others[0].name,), day=day.day)
