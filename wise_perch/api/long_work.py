"""What long work does: weeks planned for many, and the next weeks of a trainee rehearsed."""

from collections.abc import Mapping
from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID, uuid5

from pydantic import TypeAdapter

from wise_perch.api.cases import load_case, load_house
from wise_perch.api.class_work import bring, rotate_watched, with_people
from wise_perch.api.errors import Refused
from wise_perch.api.long_view import make_report
from wise_perch.api.queue import Steps, Work
from wise_perch.api.routes.plans import plan_for
from wise_perch.core.progress.report import MonthReport
from wise_perch.core.rehearsal.outlook import Outlook, look_ahead
from wise_perch.core.trainee.case import judge_case
from wise_perch.core.trainee.hall import Member
from wise_perch.core.week.week_plan import Wish, monday_of
from wise_perch.store import class_nights, plans, progress, trainees
from wise_perch.store.errors import NotFound, StoreError
from wise_perch.store.jobs import Job, JobKind
from wise_perch.store.pool import Pool, transaction

WISH, OUTLOOK, REPORT = TypeAdapter(Wish), TypeAdapter(Outlook), TypeAdapter(MonthReport)


def plan_weeks(pool: Pool, member: Member, job: Job, steps: Steps) -> None:
    """Plan a week for each of several trainees, each in a transaction of its own: what is planned stays."""
    week = date.fromisoformat(job.what["week"])
    model = WISH.validate_python(job.what["model"], strict=False) if job.what["model"] else None
    for n, trainee in enumerate(UUID(t) for t in job.what["trainees"]):
        steps.come_to(n)
        wrong = ""
        try:
            with transaction(pool, member=member) as db:
                # the same id when it is taken up again: nobody is planned twice
                plan_for(
                    db,
                    trainee,
                    load_house(db),
                    week=week,
                    model=model,
                    id=uuid5(job.id, str(trainee)),
                    at=datetime.now(UTC),
                )
        except (Refused, StoreError) as error:
            wrong = f"{_name_of(pool, member, trainee)}: {error}"
        steps.come_to(n + 1, wrong)


def _name_of(pool: Pool, member: Member, trainee: UUID) -> str:
    """A trainee's name, who may have left meanwhile."""
    try:
        with transaction(pool, member=member) as db:
            return trainees.anybody(db, trainee).name
    except NotFound:
        return "Somebody who was erased"


def write_reports(pool: Pool, member: Member, job: Job, steps: Steps) -> None:
    """Write a month's report for each of several trainees, each in a transaction of its own: what is written
    stays, and what a coach has worded is left as it is.
    """
    month = date.fromisoformat(job.what["month"])
    for n, trainee in enumerate(UUID(t) for t in job.what["trainees"]):
        steps.come_to(n)
        wrong = ""
        try:
            with transaction(pool, member=member) as db:
                trainees.hold(db, trainee)
                kept = progress.newest_report(db, trainee, month=month)
                if kept is None or not kept.words:
                    made = make_report(db, trainee, load_house(db), month=month)
                    progress.add_report(
                        db,
                        # the same id when it is taken up again: nothing is written twice
                        id=uuid5(job.id, str(trainee)),
                        trainee=trainee,
                        month=month,
                        at=datetime.now(UTC),
                        made=REPORT.dump_python(made, mode="json"),
                        words={},
                    )
        except (Refused, StoreError) as error:
            wrong = f"{_name_of(pool, member, trainee)}: {error}"
        steps.come_to(n + 1, wrong)


def rehearse_weeks(pool: Pool, member: Member, job: Job, steps: Steps) -> Mapping[str, Any]:
    """Rehearse the next weeks of a trainee, on the days of their last plan."""
    assert job.trainee is not None
    with transaction(pool, member=member) as db:
        loaded = load_case(db, job.trainee, load_house(db))
        last = plans.last(db, job.trainee)
    judged = judge_case(loaded.case)
    days = (
        sorted({(d.day - monday_of(d.day)).days for d in last.wish.days})
        if last
        else list(judged.syllabus.sessions.usual_days)
    )
    found = look_ahead(
        loaded.case,
        judged,
        days=days,
        weeks=job.what["weeks"],
        lives=job.what["lives"],
        each_week=steps.come_to,
    )
    return {"outlook": OUTLOOK.dump_python(found, mode="json") if found else None}


def lay_out_class(pool: Pool, member: Member, job: Job, steps: Steps) -> None:
    """Lay a class night out: each one's session made ready, then who is where when. What has begun stays."""
    id = UUID(job.what["class"])
    with transaction(pool, member=member) as db:
        kept = class_nights.one(db, id)
    people, sheets = [], {}
    for n, person in enumerate(kept.evening.people):
        steps.come_to(n)
        try:
            with transaction(pool, member=member) as db:
                brought, sheet = bring(db, person, load_house(db), evening=kept.evening)
        except (Refused, StoreError) as error:
            steps.come_to(n, f"{person.name}: {error}")
            continue
        people.append(brought)
        if sheet:
            sheets[person.trainee] = sheet
    evening = rotate_watched(with_people(kept.evening, people), steps.come_to, first=len(kept.evening.people))
    with transaction(pool, member=member) as db:
        # what happened meanwhile, as that it has begun, is newer than what was laid out here
        unchanged = class_nights.one(db, id, to_change=True).evening == kept.evening
        if unchanged:
            class_nights.lay_out(db, id=id, evening=evening, sheets=sheets, moment=datetime.now(UTC))
    if not unchanged:
        steps.come_to(job.total, "The evening was changed meanwhile. Lay it out once more.")


WORK: Mapping[JobKind, Work] = {
    "plan-weeks": plan_weeks,
    "rehearsal": rehearse_weeks,
    "reports": write_reports,
    "class-night": lay_out_class,
}
