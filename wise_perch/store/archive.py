"""A coach's whole data out of the store and into it, a record at a time."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, LiteralString
from uuid import UUID

from psycopg import Connection
from psycopg.errors import UniqueViolation
from psycopg.types.json import Jsonb

from wise_perch.store.errors import Conflict
from wise_perch.store.queries import queries

SQL = queries("archive")
OF_HALL = {
    "kit": ("pieces of kit", SQL["add_kit"]),
    "test-day": ("test days", SQL["add_test_day"]),
    "room": ("rooms", SQL["add_room"]),
    "class-night": ("class nights", SQL["add_class_night"]),
}
"""What is taken in as it is: its words, and the statement that does it."""
OF_TRAINEE: dict[str, tuple[LiteralString, ...]] = {
    "goals": (SQL["add_goals"],),
    "waivers": (SQL["add_waivers"],),
    "intakes": (SQL["add_intakes"],),
    "settings": (SQL["add_settings"],),
    "plans": (SQL["add_plans"],),
    "runs": (SQL["add_runs"],),
    "sessions": (SQL["add_sessions"], SQL["add_events"]),
    "evidence": (SQL["add_evidence"],),
    "aches": (SQL["add_aches"],),
    "worked_cues": (SQL["add_worked_cues"],),
    "habits": (SQL["add_habits"],),
    "lines_seen": (SQL["add_lines_seen"],),
    "course_changes": (SQL["add_course_changes"],),
    "silenced": (SQL["add_silenced"],),
    "reports": (SQL["add_reports"],),
    "lines": (SQL["add_lines"],),
    "contacts": (SQL["add_contacts"],),
}
"""What keeps each list of a trainee, in this order: evidence names runs and sessions."""
COUNTED = {
    "evidence": "pieces of evidence",
    "runs": "test runs",
    "sessions": "sessions",
    "plans": "plans",
    "intakes": "intakes",
}


@dataclass(slots=True, kw_only=True)
class ArchivePlan:
    """What taking an archive in does, or did. `new`: trainees by name; `here`: those that are here already
    and stay as they are; `said`: what else is not taken, and why.
    """

    new: list[str] = field(default_factory=list)
    here: list[str] = field(default_factory=list)
    counted: dict[str, int] = field(default_factory=dict)
    said: list[str] = field(default_factory=list)
    kept: bool = False

    def count(self, what: str, n: int) -> None:
        """Count so many more of something."""
        self.counted[what] = self.counted.get(what, 0) + n


def records(db: Connection, *, trainee: UUID | None = None) -> Iterator[dict[str, Any]]:
    """Give every record of the coach this transaction acts as, or of one trainee alone.

    The transaction must look at one moment, so that what comes in meanwhile is whole or not there.
    """
    db.execute(SQL["utc"])
    if trainee is not None:
        yield _of_trainee(db, trainee)
        return
    row = db.execute(SQL["coach"]).fetchone()
    assert row is not None
    yield {"record": "coach", **row[0]}
    for kind, statement in (("syllabus-version", SQL["syllabus_versions"]), ("kit", SQL["kit"])):
        yield from ({"record": kind, **one[0]} for one in db.execute(statement).fetchall())
    for (id,) in db.execute(SQL["trainees"]).fetchall():
        yield _of_trainee(db, id)
    yield from ({"record": "test-day", **one[0]} for one in db.execute(SQL["test_days"]).fetchall())
    yield from ({"record": "group", **one[0]} for one in db.execute(SQL["groups"]).fetchall())
    yield from ({"record": "room", **one[0]} for one in db.execute(SQL["rooms"]).fetchall())
    yield from ({"record": "class-night", **one[0]} for one in db.execute(SQL["class_nights"]).fetchall())


def _of_trainee(db: Connection, trainee: UUID) -> dict[str, Any]:
    row = db.execute(SQL["trainee"], {"trainee": trainee}).fetchone()
    assert row is not None
    return {"record": "trainee", **row[0]}


def is_new(db: Connection) -> bool:
    """Say whether this coach has nothing of their own yet, so that settings and syllabus are taken too."""
    row = db.execute(SQL["is_new"]).fetchone()
    return bool(row and row[0])


def take(db: Connection, kind: str, record: dict[str, Any], plan: ArchivePlan, *, new: bool) -> None:
    """Take one record in and say so in `plan`. `new`: the coach had nothing when it began.

    Raises Conflict where a trainee's name is another one's here.
    """
    if kind == "trainee":
        _take_trainee(db, record, plan)
    elif kind == "group":
        plan.count("groups", db.execute(SQL["add_group"], {"row": Jsonb(record)}).rowcount)
        db.execute(SQL["add_group_members"], {"row": Jsonb(record)})
    elif kind in OF_HALL:
        words, statement = OF_HALL[kind]
        plan.count(words, db.execute(statement, {"row": Jsonb(record)}).rowcount)
    elif not new:
        said = {
            "coach": "Your own settings stay.",
            "syllabus-version": "Your own syllabus stays; another comes in under Syllabus, as a file.",
        }[kind]
        if said not in plan.said:
            plan.said.append(said)
    elif kind == "coach":
        db.execute(SQL["set_coach"], {"row": Jsonb(record)})
    else:
        db.execute(SQL["add_syllabus_version"], {"row": Jsonb(record)})
        plan.count("versions of the syllabus", 1)


def _take_trainee(db: Connection, record: dict[str, Any], plan: ArchivePlan) -> None:
    here = db.execute(SQL["who_is_here"], {"id": record["id"]}).fetchone()
    if here is not None:
        plan.here.append(str(here[0]))
        return
    try:
        with db.transaction():
            db.execute(SQL["add_trainee"], {"row": Jsonb(record)})
    except UniqueViolation as error:
        if error.diag.constraint_name != "trainee_name_taken":
            raise
        raise Conflict(
            f"You have another trainee with the name {record['name']}. Give one of them another name first."
        ) from error
    for name, statements in OF_TRAINEE.items():
        for statement in statements:
            db.execute(statement, {"trainee": record["id"], "rows": Jsonb(record.get(name, []))})
        if name in COUNTED:
            plan.count(COUNTED[name], len(record[name]))
    plan.new.append(record["name"])
