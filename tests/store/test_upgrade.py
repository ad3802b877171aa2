"""A database from before goals, waivers and own syllabuses comes up to date with everything in it."""

from datetime import UTC, date, datetime
from uuid import UUID

import psycopg
import pytest
from uuid_utils.compat import uuid7
from yoyo import get_backend, read_migrations

from wise_perch.api.cases import judge_trainee, load_house
from wise_perch.api.today import ready_briefs, refresh_briefs
from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.wall import State
from wise_perch.machine.postgres import OWNER, Cluster, create_database
from wise_perch.store import coaches, trainees
from wise_perch.store.migrate import FOLDER, migrate
from wise_perch.store.pool import make_pool, transaction

NAME = "older"
NOW = datetime(2026, 5, 31, 18, tzinfo=UTC)


@pytest.fixture
def older(cluster: Cluster) -> tuple[UUID, UUID]:
    """A database as the first version left it: a coach, a trainee, a set of low-surface holds, and a brief in
    the old form.
    """
    create_database(cluster, NAME)
    owner = cluster.dsn(NAME, role=OWNER)
    backend = get_backend(owner.replace("postgresql://", "postgresql+psycopg://", 1))
    with backend.lock():
        backend.apply_migrations(read_migrations(str(FOLDER)).filter(lambda m: m.id.startswith("0001")))
    backend.connection.close()
    coach, trainee = uuid7(), uuid7()
    with psycopg.connect(owner, autocommit=True) as db:
        db.execute(
            "insert into coach (id, email, name, password_hash) values (%s, 'old@hall.example', 'Old', '-')",
            [coach],
        )
        db.execute("insert into trainee (coach_id, id, name) values (%s, %s, 'Tilda Moor')", [coach, trainee])
        for day in (10, 20):
            db.execute(
                "insert into evidence (coach_id, id, trainee_id, drill, at, measure, value, unit, form,"
                " source) values (%s, %s, %s, 'low-surface-hold', %s, 'hold', 32, 's', 'clean', 'live')",
                [coach, uuid7(), trainee, datetime(2026, 5, day, 18, tzinfo=UTC)],
            )
        db.execute(
            "insert into trainee_brief (coach_id, trainee_id, evidence_version, syllabus, day, rest_s,"
            " urgency, marks, tests, today) values (%s, %s, 2, 'v1', '2026-05-31', 45, 5,"
            " '{\"low-surface-hold\": {\"\": {\"first_pass\": null}}}', '{}', '{}')",
            [coach, trainee],
        )
    return coach, trainee


def test_nothing_is_lost_on_the_way_up(cluster: Cluster, older: tuple[UUID, UUID]) -> None:
    """The coach, the trainee and the evidence are there, the gate is proven, and the brief of the old form is
    made again.
    """
    id, trainee = older
    # what was a coach's is the hall's of the same id
    coach = Member(coach=id, hall=id, role="owner")
    assert migrate(cluster.dsn(NAME, role=OWNER)) == [p.stem for p in sorted(FOLDER.glob("*.sql"))[1:]]
    pool = make_pool(cluster.dsn(NAME))
    pool.open()
    try:
        with transaction(pool, member=coach) as db:
            assert (coaches.me(db).schools, trainees.one(db, trainee).name) == ({}, "Tilda Moor")
            house = load_house(db)
            _, known = judge_trainee(db, trainee, house, on=date(2026, 5, 31))
            assert known.standing.drill("low-surface-hold").state is State.PROVEN
            assert (known.goals, known.uncleared) == ((), ())
        assert refresh_briefs(pool, house, on=date(2026, 5, 31)) == 1
        with transaction(pool, member=coach) as db:
            assert "Tilda Moor" in ready_briefs(db, house, on=date(2026, 5, 31))
            # a deficit lies below the floor, which the older table did not take
            db.execute(
                "insert into evidence (hall_id, id, trainee_id, drill, at, measure, value, unit, form,"
                " source) values (current_hall(), %s, %s, 'deficit-hspu', %s, 'height', -5, 'cm', 'clean',"
                " 'live')",
                [uuid7(), trainee, NOW],
            )
    finally:
        pool.close()
    assert migrate(cluster.dsn(NAME, role=OWNER)) == []
