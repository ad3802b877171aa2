"""Loads cases: the only reader of the store for judgement. What follows is the core's."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from psycopg import Connection

from wise_perch.api.errors import Refused
from wise_perch.core.body.kit import KitItem
from wise_perch.core.trade.schools import UnknownChoice, chosen_schools
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case
from wise_perch.core.trainee.stored import Coach, Trainee
from wise_perch.store import cases
from wise_perch.store.cases import Arranged
from wise_perch.store.errors import NotFound
from wise_perch.syllabus import as_written, in_use


@dataclass(frozen=True)
class House:
    """How one coach works: who they are, the text of their syllabus (empty for ours), and their kit."""

    coach: Coach
    text: str
    kit: tuple[KitItem, ...] = ()

    @property
    def syllabus(self) -> Syllabus:
        """The syllabus by the coach's own schools."""
        return self.by({})

    @property
    def syllabus_as_written(self) -> Syllabus:
        """The syllabus before any school is laid over it."""
        return as_written(self.text)

    def by(self, exceptions: Mapping[str, str]) -> Syllabus:
        """The syllabus of a trainee who is taught otherwise in some question."""
        return in_use(text=self.text, schools={**self.coach.schools, **exceptions})

    def day_of(self, moment: datetime) -> date:
        """The coach's own calendar day of a moment."""
        return moment.astimezone(ZoneInfo(self.coach.time_zone)).date()

    @property
    def today(self) -> date:
        """The coach's own calendar day now."""
        return self.day_of(datetime.now(UTC))


def load_house(db: Connection) -> House:
    """The house of the coach this transaction acts as."""
    row = cases.house(db)
    return House(row.coach, row.text, row.kit)


@dataclass(frozen=True)
class LoadedCase:
    """A case with the trainee it is of."""

    trainee: Trainee
    case: Case


def load_arranged(db: Connection, trainee: UUID, house: House) -> tuple[Arranged, Syllabus]:
    """What is known of a trainee beside evidence, and the syllabus they are taught by. Raises NotFound."""
    found = cases.arrangements(db, [trainee], time_zone=house.coach.time_zone).get(trainee)
    if found is None:
        raise NotFound("There is no such trainee.")
    return found, house.by(found.arrangement.schools)


def load_case(db: Connection, trainee: UUID, house: House, *, on: date | None = None) -> LoadedCase:
    """Load one trainee's case as it stands on a day (today without one). Raises NotFound."""
    found = load_cases(db, [trainee], house, on=on or house.today).get(trainee)
    if found is None:
        raise NotFound("There is no such trainee.")
    return found


def load_cases(db: Connection, trainees: Sequence[UUID], house: House, *, on: date) -> dict[UUID, LoadedCase]:
    """Load the cases of several trainees; those that are not there are left out."""
    zone = house.coach.time_zone
    arranged = cases.arrangements(db, trainees, time_zone=zone)
    sets, runs = cases.sets(db, trainees, time_zone=zone), cases.ended_runs(db, trainees, time_zone=zone)
    return {
        id: LoadedCase(
            a.trainee,
            Case(
                on=on,
                syllabus=house.by(a.arrangement.schools),
                arrangement=a.arrangement,
                sets=sets.get(id, []),
                runs=runs.get(id, []),
                chosen=a.chosen,
                kit=house.kit,
                told_aches=a.aches,
                rest_s=house.coach.rest_s,
                float_switch_s=house.coach.float_switch_s,
                stepping_side=a.trainee.stepping_side,
                cues=a.cues,
            ),
        )
        for id, a in arranged.items()
    }


def judge_trainee(
    db: Connection, trainee: UUID, house: House, *, on: date | None = None
) -> tuple[Trainee, JudgedCase]:
    """Load and judge one trainee as things stand on a day (today without one). Raises NotFound."""
    loaded = load_case(db, trainee, house, on=on)
    return loaded.trainee, judge_case(loaded.case)


def check_schools(syllabus: Syllabus, schools: Mapping[str, str]) -> None:
    """Raise Refused (422) for a question or school that the syllabus does not have."""
    try:
        chosen_schools(syllabus.content, schools)
    except UnknownChoice as error:
        raise Refused(422, str(error)) from error
