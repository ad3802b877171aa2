"""A test made ready for one trainee: its sheet by the coach's kit and settings, and by what is known of the trainee."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from psycopg import Connection

from wise_perch.api.errors import Refused
from wise_perch.api.knowing import House, KnownTrainee, evidence_of, know, today_of
from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.remembered_limits import RememberedLimit, begin_at, remember_limits
from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.body.kit import KitItem, rungs_of_kit
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Side
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.store import kit, trainees


@dataclass(frozen=True)
class Bench:
    """One test for one trainee. `pieces`: all their evidence."""

    known: KnownTrainee
    test: Test
    subject: Drill | None
    sheet: Sheet
    limits: tuple[RememberedLimit, ...]
    pieces: Sequence[Evidence]

    @property
    def subject_name(self) -> str:
        """The drill's name, or empty."""
        return self.subject.drill if self.subject else ""


def bench_of(db: Connection, trainee: UUID, house: House, *, test: str, subject: str = "", begin: float | None = None) -> Bench:
    """Make a test ready. `begin`: the setting to begin at. Raises Refused (422) for a test or drill that is not there."""
    on = today_of(house.coach)
    pieces = evidence_of(db, [trainee], house)[trainee]
    known = know(db, trainee, house, on=on, pieces=pieces)
    the_test, drill = chosen(known.syllabus, test, subject)
    kept = remember_limits(pieces, known.syllabus, on=on)
    side = trainees.one(db, trainee).stepping_side
    sheet = sheet_for(the_test, drill, known, house, kit=kit.every(db), remembered=kept, begin=begin, first_side=side)
    return Bench(known, the_test, drill, sheet, kept, pieces)


def chosen(syllabus: Syllabus, test: str, subject: str) -> tuple[Test, Drill | None]:
    """Find a test and the drill it is run for; without a name the first there is. Raises Refused (422)."""
    found = syllabus.tests.get(test)
    if found is None:
        raise Refused(422, f'There is no test "{test[:60]}".')
    drills = syllabus.subjects(found)
    if not (found.subjects or found.every):
        if subject:
            raise Refused(422, f"{found.title} is not run for one drill.")
        return found, None
    drill = next((d for d in drills if d.drill == subject), None) if subject else next(iter(drills), None)
    if drill is None:
        raise Refused(422, f'{found.title} is not run for "{subject[:60]}".')
    return found, drill


def sheet_for(
    test: Test,
    drill: Drill | None,
    known: KnownTrainee,
    house: House,
    *,
    kit: Sequence[KitItem],
    remembered: Sequence[RememberedLimit],
    begin: float | None,
    first_side: Side | None,
) -> Sheet:
    """Lay a test out: settings that the kit makes, beginning where the trainee's own limits and nerve say, or at `begin`."""
    profile, rules = known.frame.profile, known.syllabus.rules
    starts = begin_at(
        test,
        remembered,
        drill=drill.drill if drill else "",
        confidence=profile.confidence if profile else None,
        shy_up_to=rules.low_confidence.value,
    )
    if begin is not None:
        starts[test.modes[0].mode] = begin
    return lay_out(
        test,
        subject=drill,
        rungs={m.mode: rungs_of_kit(m.ladder, kit) for m in test.modes if m.ladder},
        starts=starts,
        early_below=house.coach.float_switch_s,
        first_side=Side(first_side) if first_side else Side.RIGHT,
    )
