"""Between store and core: what a plan is made from, the week's page, and a session as its sheet and its story."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from uuid import UUID

from psycopg import Connection

from wise_perch.api.errors import Refused
from wise_perch.api.knowing import House, KnownTrainee, evidence_of, know, today_of
from wise_perch.api.levering import likely_body, refresh_loads
from wise_perch.core.body.body_units import rulers_of
from wise_perch.core.dose.choose_dose import choose_dose
from wise_perch.core.dose.setting import Trained
from wise_perch.core.floor.kept_session import FloorSession
from wise_perch.core.floor.story import SlotDone, tell_blocks
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trainee.changes import WallChange, find_changes
from wise_perch.core.trainee.to_decide import LastTest, tests_due
from wise_perch.core.week.gather import HALL, by_drill, due_tests, heavy_days, is_shy, sum_loading, usual_kit
from wise_perch.core.week.kept_plan import KeptPlan
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import Ache, WeekQuestion
from wise_perch.core.week.week_plan import DayWish, Refusal, WeekPlan, Wish, list_differences, monday_of
from wise_perch.store import evidence, floor, kit, levers, plans
from wise_perch.store.plans import PLAN


@dataclass(frozen=True)
class Planned:
    """One trainee as a plan sees them: all it is made from, and where they stand."""

    asked: WeekQuestion
    known: KnownTrainee
    pieces: Sequence[Evidence]
    aches: tuple[Ache, ...]


def asked_for(db: Connection, trainee: UUID, house: House, *, week: date) -> Planned:
    """Gather what a plan of a week is made from, as things stand today."""
    on, zone = today_of(house.coach), house.coach.time_zone
    pieces = evidence_of(db, [trainee], house)[trainee]
    known = know(db, trainee, house, on=on, pieces=pieces)
    syllabus, profile = known.syllabus, known.frame.profile
    rules = syllabus.sessions
    refresh_loads(db, trainee, syllabus, profile)
    weeks = int(rules.ramp_weeks.value)
    loads = floor.daily_loads(db, trainee, since=week - timedelta(weeks=weeks), time_zone=zone)
    since = datetime.combine(on, time(), UTC) - timedelta(days=int(syllabus.rules.pain_asked_for_days.value))
    aches = tuple(a for a in floor.aches(db, trainee, since=since, time_zone=zone) if a.level > 0 or a.sharp)
    runs = evidence.ended_runs(db, [trainee], time_zone=zone).get(trainee, [])
    last = {r.test: LastTest(day=r.day) for r in runs}
    due = tests_due(known.standing, syllabus, last, known.goals, rest_s=house.coach.rest_s)
    chosen = {d: (c.settings, today_of(house.coach, c.at)) for d, c in levers.settings(db, trainee).items()}
    who = Trained(
        syllabus=syllabus,
        on=on,
        pieces=by_drill(pieces, on=on),
        body=likely_body(profile),
        kit=tuple(kit.every(db)),
        chosen=chosen,
        shy=is_shy(profile, syllabus),
        own=rulers_of(syllabus.intake, profile),
    )
    asked = WeekQuestion(
        who=who,
        standing=known.standing,
        goals=known.goals,
        tests=due_tests(due, syllabus, rest_s=house.coach.rest_s),
        aches=aches,
        loading=sum_loading(loads, week=week, weeks=weeks),
        heavy=heavy_days(pieces, syllabus, since=week - timedelta(days=1)),
    )
    return Planned(asked, known, pieces, aches)


def usual_wish(db: Connection, trainee: UUID, planned: Planned, *, week: date) -> Wish:
    """The days of the latest week that was planned, on this week's dates; where none was, the usual ones."""
    before = plans.last(db, trainee)
    if before is None:
        rules = planned.known.syllabus.sessions
        minutes = int(rules.usual_minutes.value)
        days = tuple(DayWish(day=week + timedelta(days=n), place=HALL, minutes=minutes) for n in rules.usual_days)
        return Wish(week=week, days=days, kit=usual_kit(planned.known.frame.profile, planned.known.syllabus))
    shift = week - before.week
    return Wish(week=week, days=tuple(replace(d, day=d.day + shift) for d in before.wish.days), kit=before.wish.kit)


def still_ahead(wish: Wish, *, on: date) -> Wish:
    """The wish without days that are over: what was done then is done."""
    return replace(wish, days=tuple(d for d in wish.days if d.day >= on), pins=tuple(p for p in wish.pins if p.day >= on))


def fingerprint(planned: WeekPlan) -> str:
    """A plan's name by its content: the same for the same plan."""
    return hashlib.sha256(PLAN.dump_json(planned)).hexdigest()[:16]


def checked_wish(wish: Wish, planned: Planned) -> Wish:
    """A wish whose week, days, places and kit make sense. Raises Refused (422)."""
    if wish.week != monday_of(wish.week):
        raise Refused(422, f"A week begins on a Monday; {wish.week} is none.")
    days = [d.day for d in wish.days]
    if len(set(days)) != len(days):
        raise Refused(422, "A day stands twice. Put both parts into one.")
    if any(not wish.week <= d < wish.week + timedelta(days=7) for d in days):
        raise Refused(422, "A day lies outside the week.")
    if missing := {d.place for d in wish.days} - set(wish.kit):
        raise Refused(422, f"There is no place named {', '.join(sorted(missing))}: say what kit is there.")
    if strange := {k for items in wish.kit.values() for k in items} - set(planned.known.syllabus.content.kit):
        raise Refused(422, f"The syllabus knows no kit named {', '.join(sorted(strange))}.")
    return wish


def solved(planned: Planned, wish: Wish) -> WeekPlan | Refusal:
    """Plan the days of a wish."""
    return plan_week(planned.asked, checked_wish(wish, planned))


def with_past(fresh: WeekPlan, kept: KeptPlan | None, *, on: date) -> WeekPlan:
    """A week whose days that are over stay as they were planned."""
    past = tuple(d for d in kept.planned.days if d.day < on) if kept else ()
    return replace(fresh, days=tuple(sorted((*past, *fresh.days), key=lambda d: d.day)))


def what_changed(before: WeekPlan | None, after: WeekPlan) -> tuple[str, ...]:
    """What is otherwise than in the plan before."""
    return list_differences(before, after) if before else ()


# --- sessions ----------------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTime:
    """How a drill's dose changes by what was done: now and next time, and why."""

    title: str
    now: str
    next: str
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Story:
    """A session told: each block as planned and done, what it moved on the wall bars, and what changes next time.

    `poor`: it was a poor day, which is recorded as such and is no failure.
    """

    blocks: tuple[SlotDone, ...]
    changes: tuple[WallChange, ...]
    next_time: tuple[NextTime, ...]
    poor: bool
    load_s: float


def story_of(db: Connection, session: FloorSession, house: House) -> Story:
    """Tell a session by what was known before it and after it."""
    zone, trainee = house.coach.time_zone, session.trainee
    own = evidence.of_session(db, session.id, time_zone=zone)
    after = [p for p in evidence_of(db, [trainee], house)[trainee] if p.day <= session.day]
    before = _without(after, own)
    was, now = (know(db, trainee, house, on=session.day, pieces=pieces) for pieces in (before, after))
    events = session.standing_events
    ready = next((e for e in events if e.kind == "ready"), None)
    poor = bool(ready and ready.energy is not None and ready.energy <= session.sheet.changes.poor_energy)
    loads = floor.daily_loads(db, trainee, since=session.day, time_zone=zone)
    return Story(
        blocks=tell_blocks(session.sheet, events),
        changes=tuple(find_changes(was.standing, now.standing)),
        next_time=tuple(_next_time(db, session, now, after, house)),
        poor=poor,
        load_s=round(loads.get(session.day, 0.0), 1),
    )


def _without(pieces: Sequence[Evidence], own: Sequence[Evidence]) -> list[Evidence]:
    """All evidence but a session's own: each of its pieces is taken out once."""
    left, found = list(own), []
    for piece in pieces:
        if piece in left:
            left.remove(piece)
        else:
            found.append(piece)
    return found


def _next_time(db: Connection, session: FloorSession, now: KnownTrainee, pieces: Sequence[Evidence], house: House) -> list[NextTime]:
    profile = now.frame.profile
    who = Trained(
        syllabus=now.syllabus,
        on=session.day + timedelta(days=1),
        pieces=by_drill(pieces, on=session.day),
        body=likely_body(profile),
        kit=tuple(kit.every(db)),
        chosen={d: (c.settings, today_of(house.coach, c.at)) for d, c in levers.settings(db, session.trainee).items()},
        shy=is_shy(profile, now.syllabus),
        own=rulers_of(now.syllabus.intake, profile),
    )
    every, found = now.standing.every(), []
    for slot in session.sheet.slots:
        variant = session.sheet.variants[slot.planned]
        was = variant.dosed
        if slot.kind != "work" or was is None or variant.drill not in every:
            continue
        following = choose_dose(now.syllabus.drills[variant.drill], every[variant.drill], who)
        following = replace(following, sets=was.sets if was.least == following.least else following.sets)
        said, then = (" ".join(filter(None, (d.amount, d.dialled.words if d.dialled else ""))) for d in (was, following))
        if said != then:
            found.append(NextTime(title=variant.title, now=said, next=then, because=following.because[0].text if following.because else ""))
    return found
