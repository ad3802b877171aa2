"""Between store and core: what Today shows of every trainee, kept ready."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date, timedelta
from time import monotonic
from uuid import UUID

from psycopg import Connection
from pydantic import TypeAdapter

from wise_perch.api.cases import House, known_of, make_case
from wise_perch.core.trainee.brief import TodayBrief, make_brief
from wise_perch.core.trainee.case import JudgedCase, judge_marks
from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.history import History
from wise_perch.core.trainee.known import Known
from wise_perch.core.trainee.to_decide import URGENCY
from wise_perch.store import briefs, cases
from wise_perch.store.pool import Pool, transaction

BRIEF = TypeAdapter(TodayBrief)
AT_ONCE = 10
"""So many briefs are made in one transaction: what is made stays made."""
MONTHS_DAYS = 200
"""Within so many days somebody who was away is still said to be back."""
MAKE_S, MAKE_AGAIN_S = 0.3, 2.0
"""So long a request makes briefs before it answers with those that are ready; the page asks again, and then
has something to show meanwhile.
"""


def ready_briefs(db: Connection, house: House, *, on: date) -> str:
    """Today as it is ready, as JSON; who has no brief yet stands last."""
    version, rest_s = house.manner, house.coach.rest_s
    return briefs.today(db, syllabus=version, day=on, rest_s=rest_s)


def is_ready(db: Connection, house: House, *, on: date) -> bool:
    """Whether everybody's brief is true as it is kept."""
    version, rest_s = house.manner, house.coach.rest_s
    return not briefs.old(db, syllabus=version, day=on, rest_s=rest_s, most=1)


def refresh_briefs(pool: Pool, house: House, *, on: date, within_s: float | None = None) -> int:
    """Make the briefs again that are no longer true, those shown first before the others, and say how many.
    Only one maker works for a coach at a time; others wait for it, and none makes one twice.

    `within_s`: after so many seconds what is left is left, for the next request.
    """
    member, begun, made = Member(coach=house.coach.id, hall=house.hall.id), monotonic(), 0
    while True:
        with transaction(pool, member=member) as db:
            left = None if within_s is None else max(0.05, within_s - (monotonic() - begun))
            if not briefs.hold(db, within_s=left):
                return made
            some = _make_some(db, house, on)
        made += some
        if some < AT_ONCE or (within_s is not None and monotonic() - begun > within_s):
            return made


def _make_some(db: Connection, house: House, on: date) -> int:
    """Make the next briefs: those that whoever was waited for has not made."""
    rest_s, version, zone = house.coach.rest_s, house.manner, house.hall.time_zone
    found = briefs.old(db, syllabus=version, day=on, rest_s=rest_s, most=AT_ONCE)
    old = {b.trainee: b for b in found}
    if not old:
        return 0
    arranged = cases.arrangements(db, list(old), time_zone=zone)
    known = known_of(db, arranged, house)
    open_runs = cases.open_runs(db, list(old), time_zone=zone)
    judged = {
        id: judge_marks(make_case(a, house, on=on, sets=(), runs=()), known[id].marks, known[id].past)
        for id, a in arranged.items()
    }
    histories = _of_the_way(db, judged, known, house, on)
    days = cases.days_done(db, list(judged), time_zone=zone, since=on - timedelta(days=MONTHS_DAYS))
    made = []
    for id, case in judged.items():
        today = make_brief(
            replace(case, history=histories[id]), open_run=open_runs.get(id), days=days.get(id, ())
        )
        made.append(
            briefs.Brief(
                trainee=id,
                evidence_version=old[id].evidence_version,
                syllabus=version,
                day=on,
                rest_s=rest_s,
                urgency=URGENCY[today.matters[0].kind],
                today=BRIEF.dump_json(today).decode(),
            )
        )
    briefs.keep(db, made)
    return len(old)


def _of_the_way(
    db: Connection, judged: Mapping[UUID, JudgedCase], known: Mapping[UUID, Known], house: House, on: date
) -> dict[UUID, History]:
    """What was done of late of the drills on the way to anybody's goals, in one question: whether one of them
    stands still is seen over months.
    """
    drills = {s.drill for case in judged.values() for g in case.goals if not g.reached for s in g.path}
    weeks = max(
        (int(c.syllabus.sessions.standing_still.window_weeks.value) for c in judged.values()), default=0
    )
    since = on - timedelta(weeks=weeks)
    sets = cases.sets(db, list(judged), time_zone=house.hall.time_zone, since=since, drills=drills)
    return {
        id: History(
            (
                p
                for p in (*sets.get(id, ()), *(t for t in known[id].told if t.drill in drills))
                if since <= p.day <= on
            ),
            since=since,
        )
        for id in judged
    }
