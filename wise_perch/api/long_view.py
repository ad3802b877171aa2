"""Between store and core: one trainee with everything that progress and reports are told from."""

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from psycopg import Connection

from wise_perch.api.cases import House, judge_trainee
from wise_perch.core.progress.events import Event, Told, gather_events
from wise_perch.core.progress.load import LoadWeek, load_weeks
from wise_perch.core.progress.report import MonthReport, last_day_of, write_report
from wise_perch.core.progress.road import find_road
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.stored import Trainee
from wise_perch.core.trainee.work_on import leading_goal
from wise_perch.store import progress

WEEKS_SHOWN = 16
"""So many weeks of load are shown."""


@dataclass(frozen=True)
class LongView:
    """A trainee with all evidence at hand, what was told of them, and their load by week."""

    trainee: Trainee
    case: JudgedCase
    told: Told
    events: tuple[Event, ...]
    weeks: tuple[LoadWeek, ...]


def load_long_view(db: Connection, trainee: UUID, house: House, *, on: date | None = None) -> LongView:
    """Load one trainee as they stood on a day (today without one), with all of their history. Raises
    NotFound.
    """
    who, case = judge_trainee(db, trainee, house, on=on or house.today)
    told = progress.told(db, trainee, time_zone=house.hall.time_zone)
    return LongView(
        trainee=who,
        case=case,
        told=told,
        events=gather_events(told, case.syllabus, on=case.on),
        weeks=load_weeks(case, told.aches, weeks=WEEKS_SHOWN),
    )


def make_report(db: Connection, trainee: UUID, house: House, *, month: date) -> MonthReport:
    """Write the report of a month from the data: as it stood on the month's last day, or today within it.
    Raises NotFound.
    """
    view = load_long_view(db, trainee, house, on=min(last_day_of(month), house.today))
    goal = leading_goal(view.case.goals)
    return write_report(
        view.trainee.name,
        view.case,
        month=month,
        road=find_road(goal, view.case) if goal else None,
        events=view.events,
        weeks=view.weeks,
    )
