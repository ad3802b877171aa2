"""What changed of a course is written by the database itself; the newest word on a turn and the newest report
stand; days planned and done are counted on the coach's own calendar.
"""

from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import psycopg
import pytest
from uuid_utils.compat import uuid7

from tests.store.test_store import A_REPORT, NOW, add_coach, add_trainee
from wise_perch.core.trainee.hall import Member
from wise_perch.store import arrangements, progress, syllabi
from wise_perch.store.errors import Conflict
from wise_perch.store.pool import Pool, transaction

MONTH = date(2026, 5, 1)


@pytest.fixture
def two(pool: Pool) -> tuple[UUID, UUID]:
    coach = add_coach(pool)
    return coach, add_trainee(pool, coach)


def changes(pool: Pool, coach: Member, trainee: UUID) -> list[tuple[str, str, str, str]]:
    with transaction(pool, member=coach) as db:
        told = progress.told(db, trainee, time_zone="UTC")
    return [(c.kind, c.what, c.was, c.now) for c in told.changes]


def test_every_change_of_goals_and_schools_is_written(pool: Pool, two: tuple[UUID, UUID]) -> None:
    """Chosen, dropped, chosen again, put first; a trainee's own school, and the coach's where the trainee has
    none; a new syllabus. What stays the same is no change.
    """
    coach, trainee = two
    for goals in (["hold-30"], ["strict-push", "hold-30"], ["hold-30", "strict-push"], ["hold-30"]):
        with transaction(pool, member=coach) as db:
            arrangements.choose_goals(db, trainee=trainee, goals=goals, moment=datetime.now(UTC))
    assert sorted(changes(pool, coach, trainee)) == sorted(
        [
            ("goal-chosen", "hold-30", "", ""),
            ("goal-chosen", "strict-push", "", ""),
            ("goal-first", "hold-30", "", ""),
            ("goal-dropped", "strict-push", "", ""),
        ]
    )
    with transaction(pool, member=coach) as db:
        arrangements.set_schools(db, trainee=trainee, schools={"own": "b"})
    with transaction(pool, member=coach) as db:
        arrangements.set_schools(db, trainee=trainee, schools={"own": "b"})
    with transaction(pool, member=coach) as db:
        db.execute("update coach set schools = %s where id = current_coach()", ['{"own": "c", "hall": "d"}'])
    with transaction(pool, member=coach) as db:
        syllabi.add(db, id=uuid7(), at=datetime.now(UTC), text="", note="ours again")
    schools = [c for c in changes(pool, coach, trainee) if not c[0].startswith("goal")]
    assert schools == [
        ("school", "own", "", "b"),
        ("school", "hall", "", "d"),
        ("syllabus", "ours again", "", ""),
    ]


def test_the_newest_word_on_a_turn_stands(pool: Pool, two: tuple[UUID, UUID]) -> None:
    coach, trainee = two
    later = NOW + timedelta(minutes=1)
    for silenced, at in ((True, later), (False, NOW)):
        with transaction(pool, member=coach) as db:
            progress.silence(db, trainee=trainee, turn="load 2026-05-25", silenced=silenced, at=at)
    with transaction(pool, member=coach) as db:
        assert progress.silenced(db) == {trainee: frozenset({"load 2026-05-25"})}
        progress.silence(
            db, trainee=trainee, turn="load 2026-05-25", silenced=False, at=later + timedelta(minutes=1)
        )
        assert progress.silenced(db, trainee=trainee) == {}


def test_no_wording_of_a_report_is_written_over(
    pool: Pool, owner: psycopg.Connection, two: tuple[UUID, UUID]
) -> None:
    """Each is a row of its own, the newest that came counts; the same again changes nothing, another under
    the same id is refused.
    """
    coach, trainee = two
    first, second = uuid7(), uuid7()

    def keep(id: UUID, words: dict[str, str]) -> None:
        with transaction(pool, member=coach) as db:
            progress.add_report(db, id=id, trainee=trainee, month=MONTH, at=NOW, made=A_REPORT, words=words)

    keep(first, {})
    keep(second, {"practice": "Well done."})
    keep(first, {})
    with pytest.raises(Conflict):
        keep(first, {"practice": "Otherwise."})
    with transaction(pool, member=coach) as db:
        newest = progress.newest_report(db, trainee, month=MONTH)
        assert newest is not None
        assert (newest.id, newest.words) == (second, {"practice": "Well done."})
        assert [r.id for r in progress.reports_of(db, month=MONTH)] == [second]
        assert progress.newest_report(db, trainee, month=date(2026, 4, 1)) is None
    assert owner.execute("select count(*) from report").fetchone() == (2,)


def test_coaches_are_known_apart(pool: Pool, two: tuple[UUID, UUID]) -> None:
    """Another coach's change of schools is no change here."""
    coach, trainee = two
    other = add_coach(pool, "b@hall.example")
    with transaction(pool, member=other) as db:
        db.execute("update coach set schools = %s where id = current_coach()", ['{"hall": "d"}'])
    assert changes(pool, coach, trainee) == []
