"""What is known of trainees, gathered from the store and read by the core: by which syllabus, and where they stand."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from psycopg import Connection

from wise_perch.api.errors import Refused
from wise_perch.core.scoring import read_evidence_of_tries
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.evidence import Evidence
from wise_perch.core.trade.intake import CautionQuestion, awaits_clearance
from wise_perch.core.trade.schools import UnknownChoice, chosen_schools
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.goals import GoalStanding, goal_standings
from wise_perch.core.trainee.marks import TraineeMarks, mark_evidence
from wise_perch.core.trainee.standing import Standing, standing_of
from wise_perch.core.trainee.stored import Arrangement, Coach, Waiver
from wise_perch.core.trainee.wall import Wall, read_wall
from wise_perch.store import arrangements, coaches, evidence, syllabi
from wise_perch.store.evidence import EndedRun
from wise_perch.syllabus import as_written, in_use

NO_FRAME = Arrangement(schools={}, goals=(), waivers=(), profile=None)


def today_of(coach: Coach, moment: datetime | None = None) -> date:
    """The coach's own calendar day."""
    return (moment or datetime.now(UTC)).astimezone(ZoneInfo(coach.time_zone)).date()


@dataclass(frozen=True)
class House:
    """How one coach works: who they are, and the text of their syllabus (empty for ours)."""

    coach: Coach
    text: str

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


def house_of(db: Connection) -> House:
    """The house of the coach this transaction acts as."""
    return House(coaches.me(db), syllabi.current(db))


def all_evidence(sets: Sequence[Evidence], runs: Iterable[EndedRun], syllabus: Syllabus) -> list[Evidence]:
    """Join recorded sets with what the ended test runs say about drills."""
    return [*sets, *(piece for run in runs for piece in pieces_of(run, syllabus))]


def pieces_of(run: EndedRun, syllabus: Syllabus) -> Sequence[Evidence]:
    """What one ended run says about drills; nothing where its test or its drill is no longer there."""
    test, subject = syllabus.tests.get(run.test), syllabus.drills.get(run.subject)
    if test is None or (run.subject and subject is None):
        return ()
    known = RunFacts(day=run.day, subject=subject, dial=run.dial, confidence=run.confidence, drills=syllabus.drills)
    return read_evidence_of_tries(test, run.tries, known)


def evidence_of(db: Connection, trainees: Sequence[UUID], house: House) -> dict[UUID, list[Evidence]]:
    """Give all evidence of each of these trainees."""
    zone, ids = house.coach.time_zone, list(trainees)
    sets, runs = evidence.for_standing(db, ids, time_zone=zone), evidence.ended_runs(db, ids, time_zone=zone)
    return {id: all_evidence(sets.get(id, []), runs.get(id, []), house.syllabus) for id in ids}


def check_schools(syllabus: Syllabus, schools: Mapping[str, str]) -> None:
    """Raise Refused (422) for a question or school that the syllabus does not have."""
    try:
        chosen_schools(syllabus.content, schools)
    except UnknownChoice as error:
        raise Refused(422, str(error)) from error


@dataclass(frozen=True)
class KnownTrainee:
    """One trainee as judged on a day: the frame the coach set, the syllabus it makes, and where that leaves them."""

    frame: Arrangement
    syllabus: Syllabus
    wall: Wall
    standing: Standing
    goals: tuple[GoalStanding, ...]
    uncleared: tuple[CautionQuestion, ...]


def judge(found: TraineeMarks, frame: Arrangement, syllabus: Syllabus, *, on: date) -> KnownTrainee:
    """Read marks in a trainee's frame."""
    waivers: dict[str, Waiver] = {w.drill: w for w in frame.waivers}
    uncleared = awaits_clearance(syllabus.intake, frame.profile)
    wall = read_wall(found, syllabus, on=on, waivers=waivers)
    stands = standing_of(wall, waivers=waivers, cleared=not uncleared)
    # as chosen: the first goal is the one that leads
    order = {goal: n for n, goal in enumerate(frame.goals)}
    goals = sorted(goal_standings(wall, stands, frame.goals), key=lambda g: order[g.goal])
    return KnownTrainee(frame, syllabus, wall, stands, tuple(goals), uncleared)


def syllabus_of(db: Connection, trainee: UUID, house: House) -> Syllabus:
    """The syllabus one trainee is taught by."""
    return house.by(arrangements.of(db, [trainee], time_zone=house.coach.time_zone).get(trainee, NO_FRAME).schools)


def know(db: Connection, trainee: UUID, house: House, *, on: date, pieces: Sequence[Evidence] | None = None) -> KnownTrainee:
    """Judge one trainee on a day by all evidence, or by the `pieces` given."""
    frame = arrangements.of(db, [trainee], time_zone=house.coach.time_zone).get(trainee, NO_FRAME)
    syllabus = house.by(frame.schools)
    given = evidence_of(db, [trainee], house)[trainee] if pieces is None else pieces
    return judge(mark_evidence(given, syllabus), frame, syllabus, on=on)
