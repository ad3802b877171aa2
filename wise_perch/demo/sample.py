"""A made-up trainee to look round with: added to any hall, and taken away again."""

from datetime import date
from uuid import UUID

import psycopg
from uuid_utils.compat import uuid7

from wise_perch.core.trade.evidence import Side
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.demo.people import PUSHES, Person
from wise_perch.demo.simulator import simulate
from wise_perch.demo.writing import decide_person, write_history
from wise_perch.store import groups, trainees

SEED = 2207
SAMPLE = Person(
    name="Sample: Frida Lund",
    weeks=16,
    growth=0.5,
    talent={"balance": 0.9, "push": 0.6},
    stepping_side=Side.RIGHT,
    lines=PUSHES,
    goals=("freestanding-hold", "strict-push"),
    stature_cm=169,
    mass_kg=63,
    tested=True,
    note="Made up, to look round with. Taken away again under The hall.",
)


def add_sample(db: psycopg.Connection, syllabus: Syllabus, *, until: date) -> UUID:
    """Add the sample trainee with four months of drawn history to the hall this transaction acts in. Raises
    Conflict (at the transaction's edge) where the name is taken.
    """
    trainee = trainees.add(
        db, id=uuid7(), name=SAMPLE.name, stepping_side=SAMPLE.stepping_side, note=SAMPLE.note
    )
    groups.mark_sample(db, trainee.id)
    write_history(db, simulate(SAMPLE, syllabus, trainee=trainee.id, until=until, seed=SEED))
    decide_person(db, SAMPLE, trainee.id, syllabus, until=until)
    return trainee.id
