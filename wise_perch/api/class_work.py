"""Class nights laid out: each one's session of the day made ready, then who is where when."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from psycopg import Connection

from wise_perch.api.cases import House, judge_trainee
from wise_perch.api.queue import StoppedEarly
from wise_perch.core.class_night.blocks import blocks_of_sheet, fitted
from wise_perch.core.class_night.evening import Evening, NightPerson, laid_out
from wise_perch.core.class_night.rotate import Cancelled
from wise_perch.core.floor.ready import make_session_ready
from wise_perch.core.floor.walk import FloorSheet
from wise_perch.core.week.week_plan import monday_of
from wise_perch.store import plans
from wise_perch.syllabus.files import our_class_rules

STEPS_OF_ROTATION = 10
"""How many steps of the whole work the rotation is, for whoever watches it."""


def bring(
    db: Connection, person: NightPerson, house: House, *, evening: Evening
) -> tuple[NightPerson, FloorSheet | None]:
    """Somebody with what they do this evening: the session planned for its day, else one made for its
    minutes. Without any where nothing can be run.
    """
    who, case = judge_trainee(db, person.trainee, house, week=monday_of(evening.day))
    kept = plans.newest(db, person.trainee, monday_of(evening.day))
    there = evening.minutes if person.to_min is None else min(person.to_min, evening.minutes)
    minutes = there - person.from_min
    made = make_session_ready(case, kept.planned if kept else None, day=evening.day, minutes=int(minutes))
    if made.sheet is None:
        return replace(person, name=who.name, gone=((made.because, "not today"),)), None
    blocks = blocks_of_sheet(made.sheet, case, our_class_rules())
    stay = fitted(blocks, minutes)
    return (
        replace(
            person,
            name=who.name,
            planned=made.from_plan,
            blocks=stay,
            gone=tuple((b.title, "longer than the class") for b in blocks[len(stay) :]),
        ),
        made.sheet,
    )


def rotate_watched(evening: Evening, come_to: Callable[[int], None], *, first: int) -> Evening:
    """Lay an evening out while somebody watches. Raises StoppedEarly."""

    def heard(share: float) -> bool:
        try:
            come_to(first + round(share * STEPS_OF_ROTATION))
        except StoppedEarly:
            return False
        return True

    try:
        return laid_out(evening, on_progress=heard)
    except Cancelled:
        raise StoppedEarly from None


def with_people(evening: Evening, people: Sequence[NightPerson]) -> Evening:
    """An evening with these people, not laid out yet."""
    return replace(evening, people=tuple(people), slots=(), left_out=(), holds=())
