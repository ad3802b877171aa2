"""The demo's class nights: two rooms, an evening a week ago that is over, and one of today."""

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import psycopg
from uuid_utils.compat import uuid7

from wise_perch.api.cases import House, load_house
from wise_perch.api.class_work import bring
from wise_perch.core.class_night.blocks import usual_stations
from wise_perch.core.class_night.evening import Evening, NightPerson, laid_out
from wise_perch.core.class_night.rooms import TrainingRoom
from wise_perch.core.trainee.stored import Trainee
from wise_perch.store import class_nights, trainees
from wise_perch.syllabus.files import our_class_rules

HALL, DAY_OUT = "Long track", "Meadow by the depot"
AT, MINUTES, MOST = "18:00", 75, 9
AGO = timedelta(days=7)


def load_class_nights(db: psycopg.Connection, *, until: date, coaches: tuple[str, ...]) -> None:
    """Keep two rooms and two evenings with up to nine trainees, those first who have a session planned."""
    usual = usual_stations(our_class_rules())
    hall = TrainingRoom(
        id=uuid7(), name=HALL, stations=usual, heights={"box": "30, 45 and 60 cm"}, day_out=False
    )
    out = TrainingRoom(
        id=uuid7(),
        name=DAY_OUT,
        stations={**dict.fromkeys(usual, 0), "open floor": 6, "soft corner": 2},
        heights={},
        day_out=True,
    )
    for room in (hall, out):
        class_nights.add_room(db, room)
    house = load_house(db)
    who = trainees.every(db)[:MOST]
    _lay_out(db, who, hall, house, day=until, coaches=coaches[:1])
    # a week ago with one of them away, and over
    _lay_out(db, who[1:], hall, house, day=until - AGO, coaches=coaches[:1], over=True)


def _lay_out(
    db: psycopg.Connection,
    who: list[Trainee],
    room: TrainingRoom,
    house: House,
    *,
    day: date,
    coaches: tuple[str, ...],
    over: bool = False,
) -> None:
    expected = Evening(
        day=day,
        time=AT,
        minutes=MINUTES,
        room=room.name,
        stations=room.stations,
        heights=room.heights,
        coaches=coaches,
        people=(),
    )
    people, sheets = [], {}
    for trainee in who:
        person = NightPerson(
            trainee=trainee.id, name=trainee.name, from_min=0.0, to_min=None, planned=False, blocks=()
        )
        # the sessions are those of today in both: what was planned a week ago is no longer as it was
        brought, sheet = bring(db, person, house, evening=replace(expected, day=house.today))
        people.append(brought)
        if sheet and not over:
            sheets[trainee.id] = sheet
    evening = laid_out(replace(expected, people=tuple(people)))
    if over:
        begun = datetime.combine(day, time(18), ZoneInfo(house.hall.time_zone)).astimezone(UTC)
        evening = replace(evening, begun_at=begun, closed_at=begun + timedelta(minutes=MINUTES))
    id = uuid7()
    class_nights.add(db, id=id, evening=evening)
    class_nights.lay_out(db, id=id, evening=evening, sheets=sheets, moment=datetime.now(UTC))
