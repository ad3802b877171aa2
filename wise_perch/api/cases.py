"""Loads cases: the only reader of the store for judgement. What follows is the core's."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from psycopg import Connection

from wise_perch.api.errors import Refused
from wise_perch.core.body.kit import KitItem
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.schools import UnknownChoice, chosen_schools
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import Case, JudgedCase, judge_case, stature_in
from wise_perch.core.trainee.hall import Hall
from wise_perch.core.trainee.history import Older, recent_since
from wise_perch.core.trainee.known import Known, basis_of, drills_to_read, judge_known, know, know_again
from wise_perch.core.trainee.stored import Coach, EndedRun, Trainee
from wise_perch.core.week.question import weeks_before
from wise_perch.store import cases, known
from wise_perch.store.cases import Arranged
from wise_perch.store.errors import NotFound
from wise_perch.store.pool import use_of
from wise_perch.syllabus.shipped import as_written, in_use


@dataclass(frozen=True)
class House:
    """How one coach works in a hall: who they are, the text of the hall's syllabus (empty for ours), and its
    kit.
    """

    coach: Coach
    hall: Hall
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

    @property
    def manner(self) -> str:
        """What everybody's judgement is made by: the hall's syllabus, and this coach's schools."""
        schools = " ".join(f"{question}={school}" for question, school in sorted(self.coach.schools.items()))
        return f"{self.syllabus.version} {schools}".strip()

    def by(self, exceptions: Mapping[str, str]) -> Syllabus:
        """The syllabus of a trainee who is taught otherwise in some question."""
        return in_use(text=self.text, schools={**self.coach.schools, **exceptions})

    def day_of(self, moment: datetime) -> date:
        """The hall's calendar day of a moment."""
        return moment.astimezone(ZoneInfo(self.hall.time_zone)).date()

    @property
    def today(self) -> date:
        """The hall's calendar day now."""
        return self.day_of(datetime.now(UTC))


def load_house(db: Connection) -> House:
    """The house this transaction acts in, as its coach keeps it."""
    row = cases.house(db)
    return House(row.coach, row.hall, row.text, row.kit)


@dataclass(frozen=True)
class LoadedCase:
    """A case with the trainee it is of."""

    trainee: Trainee
    case: Case


def load_arranged(db: Connection, trainee: UUID, house: House) -> tuple[Arranged, Syllabus]:
    """What is known of a trainee beside evidence, and the syllabus they are taught by. Raises NotFound."""
    found = cases.arrangements(db, [trainee], time_zone=house.hall.time_zone).get(trainee)
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
    zone = house.hall.time_zone
    arranged = cases.arrangements(db, trainees, time_zone=zone)
    sets, runs = cases.sets(db, trainees, time_zone=zone), cases.ended_runs(db, trainees, time_zone=zone)
    return {
        id: LoadedCase(a.trainee, make_case(a, house, on=on, sets=sets.get(id, []), runs=runs.get(id, [])))
        for id, a in arranged.items()
    }


def make_case(
    a: Arranged, house: House, *, on: date, sets: Sequence[Evidence], runs: Sequence[EndedRun]
) -> Case:
    """A trainee's case from what the store has of them."""
    return Case(
        on=on,
        syllabus=house.by(a.arrangement.schools),
        arrangement=a.arrangement,
        sets=sets,
        runs=runs,
        chosen=a.chosen,
        kit=house.kit,
        told_aches=a.aches,
        rest_s=house.coach.rest_s,
        float_switch_s=house.hall.float_switch_s,
        stepping_side=a.trainee.stepping_side,
        cues=a.cues,
    )


def known_of(db: Connection, arranged: Mapping[UUID, Arranged], house: House) -> dict[UUID, Known]:
    """What is known of trainees whatever the day: as it is kept; made again, and kept, where it is no longer
    true, of the drills that changed where that is all.
    """
    zone, kept = house.hall.time_zone, known.kept(db, list(arranged))
    found: dict[UUID, Known] = {}
    anew: list[UUID] = []
    bases = {}
    for id, a in arranged.items():
        syllabus, stature_cm = house.by(a.arrangement.schools), stature_in(a.arrangement)
        bases[id] = f"{basis_of(syllabus, stature_cm=stature_cm)} {zone}"
        row = kept[id]
        if (there := row.read(basis=bases[id])) is None:
            anew.append(id)
        elif row.changed:
            found[id] = _know_again(db, id, there, row.changed, syllabus, stature_cm, zone)
        else:
            found[id] = there
    made = [id for id in found if kept[id].changed]
    if anew:
        sets, runs = cases.sets(db, anew, time_zone=zone), cases.ended_runs(db, anew, time_zone=zone)
        for id in anew:
            arrangement = arranged[id].arrangement
            found[id] = know(
                sets=sets.get(id, []),
                runs=runs.get(id, []),
                syllabus=house.by(arrangement.schools),
                stature_cm=stature_in(arrangement),
            )
    known.keep(
        db,
        [
            known.MadeKnown(trainee=id, version=kept[id].version, basis=bases[id], known=found[id])
            for id in (*made, *anew)
        ],
    )
    return found


def _know_again(
    db: Connection,
    trainee: UUID,
    there: Known,
    changed: Sequence[str],
    syllabus: Syllabus,
    stature_cm: float | None,
    time_zone: str,
) -> Known:
    runs = None
    if known.RUNS in changed:
        runs = cases.ended_runs(db, [trainee], time_zone=time_zone).get(trainee, [])
    names = [drill for drill in changed if drill != known.RUNS]
    drills = drills_to_read(there, changed=names, runs=runs, syllabus=syllabus)
    sets = cases.sets(db, [trainee], time_zone=time_zone, drills=drills) if drills else {}
    return know_again(
        there,
        drills=drills,
        sets=sets.get(trainee, []),
        runs=runs,
        syllabus=syllabus,
        stature_cm=stature_cm,
    )


def judge_trainee(
    db: Connection, trainee: UUID, house: House, *, on: date | None = None, week: date | None = None
) -> tuple[Trainee, JudgedCase]:
    """Load and judge one trainee as things stand on a day (today without one). Raises NotFound.

    Of today what is kept is read in place of a history; what is older is fetched where a room asks for it, as
    long as the transaction lasts. `week`: the Monday of a week that is asked about, where it is another one.
    """
    if on is not None:
        loaded = load_case(db, trainee, house, on=on)
        return loaded.trainee, judge_case(loaded.case)
    arranged, _ = load_arranged(db, trainee, house)
    return judge_arranged(db, {trainee: arranged}, house, on=house.today, week=week)[trainee]


def judge_arranged(
    db: Connection,
    arranged: Mapping[UUID, Arranged],
    house: House,
    *,
    on: date,
    week: date | None = None,
) -> dict[UUID, tuple[Trainee, JudgedCase]]:
    """Judge trainees as things stand on a day, by what is kept of them and what they did of late."""
    zone, made = house.hall.time_zone, known_of(db, arranged, house)
    taught = [house.by(a.arrangement.schools) for a in arranged.values()]
    since = min((recent_since(syllabus, on=on) for syllabus in taught), default=on)
    if week:
        since = min([since, *(weeks_before(week, syllabus) for syllabus in taught)])
    ids = list(arranged)
    sets, runs = (
        cases.sets(db, ids, time_zone=zone, since=since),
        cases.ended_runs(db, ids, time_zone=zone, since=since),
    )
    found = {}
    for id, a in arranged.items():
        if made[id].last_day > on:
            # by a clock that is ahead: what is kept knows more than the day does
            found[id] = (a.trainee, judge_case(load_case(db, id, house, on=on).case))
            continue
        case = make_case(a, house, on=on, sets=sets.get(id, []), runs=runs.get(id, []))
        found[id] = (a.trainee, judge_known(case, made[id], since=since, older=_older(db, id, since, zone)))
    return found


def _older(db: Connection, trainee: UUID, since: date, time_zone: str) -> Older:
    use = use_of(db)

    def fetch(drills: Collection[str] | None) -> Iterable[Evidence]:
        if use_of(db) != use:
            raise RuntimeError("A history was asked for after its transaction ended.")
        found = cases.sets(db, [trainee], time_zone=time_zone, before=since, drills=drills)
        return found.get(trainee, [])

    return fetch


def check_schools(syllabus: Syllabus, schools: Mapping[str, str]) -> None:
    """Raise Refused (422) for a question or school that the syllabus does not have."""
    try:
        chosen_schools(syllabus.content, schools)
    except UnknownChoice as error:
        raise Refused(422, str(error)) from error
