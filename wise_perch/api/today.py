"""Between store and core: what Today shows of every trainee, kept ready."""

from datetime import date
from time import monotonic

from psycopg import Connection
from pydantic import TypeAdapter

from wise_perch.api.cases import House, known_of, make_case
from wise_perch.core.trainee.brief import TodayBrief, make_brief
from wise_perch.core.trainee.case import judge_marks
from wise_perch.core.trainee.to_decide import URGENCY
from wise_perch.store import briefs, cases
from wise_perch.store.pool import Pool, transaction

BRIEF = TypeAdapter(TodayBrief)
AT_ONCE = 10
"""So many briefs are made in one transaction: what is made stays made."""
MAKE_S, MAKE_AGAIN_S = 0.3, 2.0
"""So long a request makes briefs before it answers with those that are ready; the page asks again, and then
has something to show meanwhile.
"""


def ready_briefs(db: Connection, house: House, *, on: date) -> str:
    """Today as it is ready, as JSON; who has no brief yet stands last."""
    version, rest_s = house.syllabus.version, house.coach.rest_s
    return briefs.today(db, syllabus=version, day=on, rest_s=rest_s)


def is_ready(db: Connection, house: House, *, on: date) -> bool:
    """Whether everybody's brief is true as it is kept."""
    version, rest_s = house.syllabus.version, house.coach.rest_s
    return not briefs.old(db, syllabus=version, day=on, rest_s=rest_s, most=1)


def refresh_briefs(pool: Pool, house: House, *, on: date, within_s: float | None = None) -> int:
    """Make the briefs again that are no longer true, those shown first before the others, and say how many.
    Only one maker works for a coach at a time; others wait for it, and none makes one twice.

    `within_s`: after so many seconds what is left is left, for the next request.
    """
    coach, begun, made = house.coach, monotonic(), 0
    while True:
        with transaction(pool, coach=coach.id) as db:
            left = None if within_s is None else max(0.05, within_s - (monotonic() - begun))
            if not briefs.hold(db, within_s=left):
                return made
            some = _make_some(db, house, on)
        made += some
        if some < AT_ONCE or (within_s is not None and monotonic() - begun > within_s):
            return made


def _make_some(db: Connection, house: House, on: date) -> int:
    """Make the next briefs: those that whoever was waited for has not made."""
    coach, version = house.coach, house.syllabus.version
    found = briefs.old(db, syllabus=version, day=on, rest_s=coach.rest_s, most=AT_ONCE)
    old = {b.trainee: b for b in found}
    if not old:
        return 0
    arranged = cases.arrangements(db, list(old), time_zone=coach.time_zone)
    known = known_of(db, arranged, house)
    open_runs = cases.open_runs(db, list(old), time_zone=coach.time_zone)
    made = []
    for id, a in arranged.items():
        case = make_case(a, house, on=on, sets=(), runs=())
        today = make_brief(judge_marks(case, known[id].marks, known[id].past), open_run=open_runs.get(id))
        made.append(
            briefs.Brief(
                trainee=id,
                evidence_version=old[id].evidence_version,
                syllabus=version,
                day=on,
                rest_s=coach.rest_s,
                urgency=URGENCY[today.matters[0].kind],
                today=BRIEF.dump_json(today).decode(),
            )
        )
    briefs.keep(db, made)
    return len(old)
