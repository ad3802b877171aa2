"""Reports: a month of one trainee in words a coach can change, and of a whole group in one go."""

from datetime import UTC, date, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from psycopg import Connection
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, TypeAdapter
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId, printable
from wise_perch.api.long_view import make_report
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.routes.jobs import MOST_AT_ONCE, JobPage, page_of
from wise_perch.core.progress.report import LONGEST_WORDS, TITLES, MonthReport, with_words
from wise_perch.core.trainee.stored import Trainee
from wise_perch.store import jobs, progress, trainees
from wise_perch.store.pool import transaction
from wise_perch.store.progress import KeptReport

router = APIRouter(tags=["progress"])
REPORT = TypeAdapter(MonthReport)
EARLIEST_YEAR = 2000


def _a_month(day: date) -> date:
    if day.year < EARLIEST_YEAR:
        raise ValueError("lies before the year 2000")
    return day.replace(day=1)


Month = Annotated[date, AfterValidator(_a_month)]
Words = Annotated[str, Field(max_length=LONGEST_WORDS), AfterValidator(printable)]


@dataclass(frozen=True, kw_only=True)
class ReportPage:
    """A report to read, change and print. `base`: the kept wording it shows, to be named when it is changed;
    None where it was just written from the data. `kept_at`: when that wording was kept.
    """

    trainee: Trainee
    report: MonthReport
    base: UUID | None
    kept_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class ReportsPage:
    """The reports of a month that are kept, by name, and the work that writes them, if any."""

    month: date
    reports: tuple[MonthReport, ...]
    trainees: int
    under_way: JobPage | None


class NewWords(BaseModel):
    """A report in a coach's words: by section, what is changed; empty leaves the section out. `base`: the
    wording that was changed.
    """

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    month: Month
    base: UUID | None = None
    words: dict[str, Words]


class NewReports(BaseModel):
    """Reports of a month to write for several trainees."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    month: Month
    trainees: Annotated[list[UUID], Field(min_length=1, max_length=MOST_AT_ONCE)]


def check_month(month: date, house: House) -> date:
    """The first day of a month. Raises Refused (422) for one that has not begun."""
    if month > house.today:
        raise Refused(422, "That month has not begun.")
    return month


def read_kept(kept: KeptReport) -> MonthReport:
    """A report as it was made, in the words a coach gave it."""
    made: MonthReport = REPORT.validate_python(kept.made, strict=False)
    return with_words(made, kept.words) if kept.words else made


@router.get("/trainees/{id}/reports/{month}")
def report_page(id: UUID, month: Month, app: TheApp, member: SignedIn) -> ReportPage:
    """The report of a month: in the coach's words where they changed it, else written from the data now."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        check_month(month, house)
        who = trainees.one(db, id)
        return _page(db, who, house, month)


def _page(db: Connection, who: Trainee, house: House, month: date) -> ReportPage:
    kept = progress.newest_report(db, who.id, month=month)
    if kept and kept.words:
        return ReportPage(trainee=who, report=read_kept(kept), base=kept.id, kept_at=kept.at)
    made = make_report(db, who.id, house, month=month)
    return ReportPage(trainee=who, report=made, base=kept.id if kept else None, kept_at=None)


@router.post("/trainees/{id}/reports", status_code=201)
def keep_words(id: UUID, new: NewWords, app: TheApp, member: Coaching) -> ReportPage:
    """Keep a report in the coach's words. No words at all write it from the data again. Changed by somebody
    else meanwhile it is refused (409), and nothing is lost.
    """
    if strange := set(new.words) - set(TITLES):
        raise Refused(422, f"A report has no section named {sorted(strange)[0][:40]}.")
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        check_month(new.month, house)
        who = trainees.one(db, id)
        trainees.hold(db, id)
        kept = progress.newest_report(db, id, month=new.month)
        if kept is None or kept.id != new.id:
            if new.base != (kept.id if kept else None):
                raise Refused(
                    409,
                    "This report was changed on another device meanwhile. Your words are still here. Copy"
                    " what you need, then load it again.",
                )
            made = REPORT.dump_python(make_report(db, id, house, month=new.month), mode="json")
            if kept and kept.words and new.words:
                # figures and words stay those of one moment
                made = kept.made
            progress.add_report(
                db, id=new.id, trainee=id, month=new.month, at=new.at, made=made, words=new.words
            )
        return _page(db, who, house, new.month)


@router.post("/reports/jobs", status_code=202)
def write_reports(new: NewReports, app: TheApp, member: Coaching) -> JobPage:
    """Write the reports of a month for several trainees, as work of the server; sending the same again
    changes nothing. What a coach has worded stays.
    """
    who = list(dict.fromkeys(str(t) for t in new.trainees))
    with transaction(app.pool, member=member) as db:
        check_month(new.month, load_house(db))
        known = {str(t.id) for t in trainees.every(db)}
        if strange := set(who) - known:
            raise Refused(404, f"There is no such trainee: {sorted(strange)[0]}.")
        what = {"month": new.month.isoformat(), "trainees": who}
        now = datetime.now(UTC)
        if jobs.add(db, id=new.id, kind="reports", trainee=None, what=what, at=now, total=len(who)):
            app.queue.defer(db, member, new.id)
        return page_of(jobs.one(db, new.id))


@router.get("/reports/{month}")
def reports_page(month: Month, app: TheApp, member: SignedIn) -> ReportsPage:
    """The reports of a month that are kept, to be printed in one go."""
    with transaction(app.pool, member=member) as db:
        last = jobs.newest(db, "reports", trainee=None)
        return ReportsPage(
            month=month,
            reports=tuple(read_kept(k) for k in progress.reports_of(db, month=month)),
            trainees=len(trainees.every(db)),
            under_way=page_of(last) if last and last.what["month"] == month.isoformat() else None,
        )
