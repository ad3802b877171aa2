"""The store on a real PostgreSQL: coaches apart, results once, imports whole, briefs true."""

import shutil
import tempfile
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from time import monotonic, sleep
from uuid import UUID

import psycopg
import pytest
from uuid_utils.compat import uuid7

from tests.conftest import add_coach, add_trainee
from tests.store.conftest import NO_WEEK, a_sheet, a_wish
from wise_perch.api.cases import load_house
from wise_perch.api.today import ready_briefs, refresh_briefs
from wise_perch.core.class_night.evening import Evening as ClassEvening
from wise_perch.core.class_night.events import NightEvent
from wise_perch.core.class_night.rooms import TrainingRoom
from wise_perch.core.floor.walk import FloorEvent, Pain
from wise_perch.core.line.kept import KeptLine, LineHeading
from wise_perch.core.trade.evidence import Fell, Outcome
from wise_perch.core.trade.file_lines import TriesFile
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.groups import Evening
from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.stored import KeptTry, Turn
from wise_perch.formats.tries_csv import read_tries, write_tries
from wise_perch.machine.postgres import ADMIN, QUICK, Cluster, create_database, make_cluster
from wise_perch.store import (
    arrangements,
    chosen_settings,
    class_nights,
    coaches,
    evidence,
    floor,
    groups,
    habits,
    halls,
    jobs,
    kept_lines,
    kit,
    lines_seen,
    plans,
    progress,
    syllabi,
    test_days,
    trainees,
)
from wise_perch.store.errors import Conflict, NotFound, Unavailable
from wise_perch.store.imports import ImportPlan, import_tries
from wise_perch.store.migrate import migrate
from wise_perch.store.pool import WAIT_S, Pool, make_pool, transaction
from wise_perch.syllabus.shipped import built_in

NOW = datetime(2026, 5, 31, 18, tzinfo=UTC)
TEST = built_in().free_tries
ADDED_ONLY = ("erasure", "course_change", "report", "hall_event")
"""What nobody may write over, the coach's own neither."""
A_LINE = KeptLine(
    id=UUID("01990000-0000-7000-8000-000000000017"),
    drill="pike-hold",
    view="side",
    at=NOW,
    day=date(2026, 5, 31),
    points={"left_wrist": (100.0, 500.0, 2.0), "left_ankle": (104.5, 80.0, 1.0)},
    width=480,
    height=640,
    said=LineHeading(heading="No fault is certain.", faults=(), camera=()),
    note="after the third set",
)
A_REPORT = {
    "name": "Tilda Moor",
    "month": "2026-05-01",
    "on": "2026-05-31",
    "heading": "Tilda Moor, May 2026",
    "sections": [{"section": "practice", "title": "Practice", "words": "You trained on 3 days."}],
    "figures": [],
    "caution": "Never train through pain.",
    "edited": False,
}
AN_EVENING = ClassEvening(
    day=date(2026, 5, 31),
    time="18:00",
    minutes=60.0,
    room="Long track",
    stations={"wall": 2},
    heights={},
    coaches=("Hedda Kvam",),
    people=(),
)
OF_COACH = ("coach", "sign_in_session", "known_device", "api_token")
"""What is a coach's own, whichever hall they work in."""
PROTECTED = (
    "coach",
    "hall",
    "membership",
    "one_time_link",
    "hall_event",
    "training_group",
    "group_member",
    "trainee_contact",
    "room",
    "class_night",
    "class_event",
    "sign_in_session",
    "trainee",
    "test_run",
    "evidence",
    "worked_cue",
    "habit_day",
    "line_seen",
    "kept_line",
    "course_change",
    "turn_silenced",
    "report",
    "job",
    "trainee_brief",
    "trainee_known",
    "trainee_goal",
    "waiver",
    "intake",
    "syllabus_version",
    "kit_item",
    "test_day",
    "dial_setting",
    "plan",
    "floor_session",
    "session_event",
    "ache",
    "share_link",
    "known_device",
    "api_token",
    "erasure",
)


def a_try(number: int, seconds: float | None = 3.1, id: UUID | None = None) -> KeptTry:
    outcome = Outcome.HELD if seconds is not None else Outcome.OVERSHOT
    fell = Fell.OVER if seconds is not None else None
    return KeptTry(
        id=id or uuid7(),
        number=number,
        at=NOW,
        outcome=outcome,
        value=seconds,
        fell=fell,
        form=None,
        note="",
        early=False,
        struck_at=None,
    )


def start(pool: Pool, coach: Member, trainee: UUID, *, at: datetime = NOW) -> UUID:
    with transaction(pool, member=coach) as db:
        return evidence.start_run(
            db,
            id=uuid7(),
            trainee=trainee,
            test="free-tries",
            started_at=at,
            rest_s=45,
            room="",
            source="live",
        ).id


def keep(pool: Pool, coach: Member, run: UUID, *tries: KeptTry) -> None:
    with transaction(pool, member=coach) as db:
        for t in tries:
            evidence.add_try(db, run_id=run, kept=t, test=TEST.test, mode=TEST.modes[0])


@pytest.fixture
def filled(pool: Pool, syllabus: Syllabus) -> tuple[Member, UUID, UUID]:
    """Coach A with a trainee, a session, a run with two tries, and a brief."""
    coach = add_coach(pool)
    trainee = add_trainee(pool, coach)
    run = start(pool, coach, trainee)
    keep(pool, coach, run, a_try(1), a_try(2, None))
    with transaction(pool, member=coach) as db:
        coaches.open_session(db, token_hash=b"x" * 32, expires_at=NOW + timedelta(days=999))
        arrangements.choose_goals(db, trainee=trainee, goals=["freestanding-hold"], moment=NOW)
        arrangements.waive(
            db, id=uuid7(), trainee=trainee, drill="cartwheel", reason="did them as a child", at=NOW
        )
        arrangements.add_intake(
            db,
            id=uuid7(),
            trainee=trainee,
            at=NOW,
            profile={"stature_cm": 170.0, "lengths_cm": {}, "cautions": {}},
        )
        syllabi.add(db, id=uuid7(), at=NOW, text="", note="ours")
        kit.add(db, id=uuid7(), kind="pad", thickness_cm=3, count=2, note="")
        test_days.add(db, id=uuid7(), at=NOW, plan=(Turn(trainee=trainee, test=TEST.test),))
        chosen_settings.keep_setting(
            db, id=uuid7(), trainee=trainee, drill="pike-push-up", settings={"hands-to-feet": 90.0}, at=NOW
        )
        plans.keep(db, id=uuid7(), trainee=trainee, at=NOW, wish=a_wish(), planned=NO_WEEK, note="")
        plans.add_link(db, id=uuid7(), trainee=trainee, kind="page", token_hash=b"y" * 32)
        session = floor.start(
            db, id=uuid7(), trainee=trainee, started_at=NOW, sheet=a_sheet(), source="live"
        ).id
        floor.add_event(db, id=uuid7(), session=session, at=NOW, what=FloorEvent(kind="next", slot=0))
        floor.add_aches(
            db, [(uuid7(), Pain(joint="left wrist", level=2))], trainee=trainee, at=NOW, event=None
        )
        floor.add_cue(db, id=uuid7(), trainee=trainee, at=NOW, drill="pike-push-up", cue="Look at the feet.")
        habits.put(db, trainee=trainee, day=date(2026, 5, 31), habit="hang", minutes=3, at=NOW)
        lines_seen.put(
            db, trainee=trainee, day=date(2026, 5, 31), drill="pike-hold", view="side", seen=True, at=NOW
        )
        kept_lines.add(db, trainee=trainee, line=A_LINE)
        progress.silence(db, trainee=trainee, turn="load 2026-05-25", silenced=True, at=NOW)
        progress.add_report(
            db,
            id=uuid7(),
            trainee=trainee,
            month=date(2026, 5, 1),
            at=NOW,
            made=A_REPORT,
            words={"practice": "Well done."},
        )
        coaches.know_device(db, token_hash=b"d" * 32)
        coaches.add_token(db, id=uuid7(), name="nightly export", token_hash=b"t" * 32)
        halls.tell(db, kind="named", what="Hall")
        tuesdays = [Evening(weekday=1, time="18:30", minutes=90)]
        groups.add(db, id=uuid7(), name="Tuesday", evenings=tuesdays, members=[trainee])
        groups.put_contact(
            db, trainee=trainee, contact="0700", guardian="A. Moor", consent_day=date(2026, 5, 1)
        )
        a_room = TrainingRoom(id=uuid7(), name="Long track", stations={"wall": 2}, heights={}, day_out=False)
        class_nights.add_room(db, a_room)
        night = uuid7()
        class_nights.add(db, id=night, evening=AN_EVENING)
        begun = replace(AN_EVENING, begun_at=NOW)
        class_nights.add_event(
            db, id=uuid7(), of=night, at=NOW, what=NightEvent(kind="begin"), evening=begun, changed=()
        )
        halls.add_link(
            db, id=uuid7(), kind="invitation", token_hash=b"l" * 32, expires_at=NOW, role="assistant"
        )
        jobs.add(db, id=uuid7(), kind="rehearsal", trainee=trainee, what={}, at=NOW, total=1)
        left = trainees.add(db, id=uuid7(), name="Left Long Ago", stepping_side=None, note="").id
        trainees.put_away(db, id=left, moment=NOW)
        trainees.erase(db, id=left, receipt=uuid7())
        house = load_house(db)
    refresh_briefs(pool, house, on=date(2026, 5, 31))
    return coach, trainee, run


@pytest.mark.parametrize("table", PROTECTED)
def test_coach_b_sees_and_changes_nothing_of_coach_a(
    pool: Pool, owner: psycopg.Connection, filled: tuple[Member, UUID, UUID], table: str
) -> None:
    """Under B's setting even a hand-written query reads no row of A, updates none, and may not delete."""
    b = add_coach(pool, "b@hall.example")
    a = filled[0]
    column, whose = ("id" if table in ("coach", "hall") else "hall_id"), a.hall
    if table in OF_COACH:
        column, whose = ("id" if table == "coach" else "coach_id"), a.coach
    before = owner.execute(f"select * from {table} where {column} = %s", [whose]).fetchall()  # noqa: S608
    assert before, "there is something to protect"
    with transaction(pool, member=b) as db:
        assert db.execute(f"select * from {table} where {column} = %s", [whose]).fetchall() == []  # noqa: S608
        if table not in ADDED_ONLY:
            touched = db.execute(f"update {table} set {column} = {column}").rowcount  # noqa: S608
            assert touched == (1 if table in ("coach", "hall", "membership") else 0), "but B's own"
    with pytest.raises(psycopg.errors.InsufficientPrivilege), transaction(pool, member=b) as db:
        db.execute(f"delete from {table}")  # noqa: S608
    assert owner.execute(f"select * from {table} where {column} = %s", [whose]).fetchall() == before  # noqa: S608


def test_coach_b_cannot_write_into_coach_a(pool: Pool, filled: tuple[Member, UUID, UUID]) -> None:
    """A hand-written insert in A's name, or onto A's trainee, is refused by the database itself."""
    a, trainee, _ = filled
    b = add_coach(pool, "b@hall.example")
    with pytest.raises(psycopg.errors.InsufficientPrivilege), transaction(pool, member=b) as db:
        db.execute("insert into trainee (hall_id, id, name) values (%s, %s, 'Spy')", [a.hall, uuid7()])
    with pytest.raises(NotFound), transaction(pool, member=b) as db:
        evidence.start_run(
            db,
            id=uuid7(),
            trainee=trainee,
            test="free-tries",
            started_at=NOW,
            rest_s=45,
            room="",
            source="live",
        )


def test_without_a_coach_nothing_is_seen(pool: Pool, filled: tuple[Member, UUID, UUID]) -> None:
    """A transaction that acts as nobody sees no row of any coach."""
    assert filled
    with transaction(pool) as db:
        for table in PROTECTED:
            assert db.execute(f"select * from {table}").fetchall() == []  # noqa: S608


def test_every_table_with_a_coach_is_protected(owner: psycopg.Connection) -> None:
    """A new table of a hall's or a coach's data without row-level security fails here."""
    rows = owner.execute(
        "select relname, relrowsecurity from pg_class join pg_attribute on attrelid = pg_class.oid where"
        " attname in ('coach_id', 'hall_id') and relkind = 'r'"
    ).fetchall()
    assert {name for name, _ in rows} == set(PROTECTED) - {"coach", "hall"}
    assert all(protected for _, protected in rows)


def test_the_applications_role_bypasses_nothing(owner: psycopg.Connection) -> None:
    """The role the app connects as is no superuser, owns no table and may not bypass row-level security."""
    assert owner.execute(
        "select rolsuper, rolbypassrls from pg_roles where rolname = 'perch_app'"
    ).fetchone() == (False, False)
    assert owner.execute("select count(*) from pg_tables where tableowner = 'perch_app'").fetchone() == (0,)


def test_sent_twice_is_kept_once(
    pool: Pool, owner: psycopg.Connection, filled: tuple[Member, UUID, UUID]
) -> None:
    """The same try sent again changes nothing; the same id with other figures, or a taken number, is a
    conflict.
    """
    coach, _, run = filled
    again = a_try(3)
    keep(pool, coach, run, again)
    keep(pool, coach, run, again)
    assert owner.execute("select count(*) from evidence").fetchone() == (3,)
    with pytest.raises(Conflict, match="another try"):
        keep(pool, coach, run, a_try(4, 9.9, id=again.id))
    with pytest.raises(Conflict, match="already a try with this number"):
        keep(pool, coach, run, a_try(3))


def test_a_closed_run_takes_no_tries(pool: Pool, filled: tuple[Member, UUID, UUID]) -> None:
    """After its end a run refuses tries, takes the same end again, and refuses another one."""
    coach, _, run = filled
    late = a_try(2, None)
    for _ in range(2):
        with transaction(pool, member=coach) as db:
            evidence.end_run(
                db, run_id=run, ended_at=NOW, ended_as="stopped", pain_joint=None, pain_level=None
            )
    with pytest.raises(Conflict, match="closed"):
        keep(pool, coach, run, late)
    with pytest.raises(Conflict, match="closed already"), transaction(pool, member=coach) as db:
        evidence.end_run(db, run_id=run, ended_at=NOW, ended_as="finished", pain_joint=None, pain_level=None)


def test_struck_out_is_not_gone(pool: Pool, filled: tuple[Member, UUID, UUID]) -> None:
    """A try taken back leaves its number free, stays in the record, and can come back once the number is free
    again.
    """
    coach, _, run = filled
    with transaction(pool, member=coach) as db:
        second = evidence.run(db, run).tries[1].id
        evidence.strike(db, id=second, moment=NOW)
    replacement = a_try(2)
    keep(pool, coach, run, replacement)
    with pytest.raises(Conflict), transaction(pool, member=coach) as db:
        evidence.strike(db, id=second, moment=None)
    with transaction(pool, member=coach) as db:
        evidence.strike(db, id=replacement.id, moment=NOW)
        evidence.strike(db, id=second, moment=None)
        kept = evidence.run(db, run)
    assert [t.number for t in kept.standing_tries] == [1, 2]
    assert len(kept.tries) == 3


# --- import -------------------------------------------------------------------------------------------------

HEAD = "trainee,test,started_at,try,outcome,seconds,fell,form,note\n"


def tries_file(*lines: str) -> TriesFile:
    return read_tries((HEAD + "\n".join(lines)).encode(), tests=built_in().tests)


def bring(pool: Pool, coach: Member, file: TriesFile, *, keep: bool = True) -> ImportPlan:
    with transaction(pool, member=coach) as db:
        return import_tries(db, file, tests=built_in().tests, time_zone="UTC", now=NOW, keep=keep)


ONE = "Orin Vale,free-tries,2026-05-03T18:00:00+02:00,1,held,3.1,over,,"
TWO = "Orin Vale,free-tries,2026-05-03T18:00:00+02:00,2,overshot,,,,first time"


def test_twice_is_once(pool: Pool, owner: psycopg.Connection) -> None:
    """The same file again adds nothing and says so, whatever way the moment is written."""
    coach = add_coach(pool)
    first = bring(pool, coach, tries_file(ONE, TWO))
    assert (first.kept, first.new_trainees, first.runs, first.tries) == (True, ("Orin Vale",), 1, 2)
    again = bring(
        pool,
        coach,
        tries_file(ONE.replace("18:00:00+02:00", "16:00:00Z").replace("Orin Vale", "ORIN vale"), TWO),
    )
    assert (again.tries, again.already_kept, again.new_trainees) == (0, 2, ())
    assert owner.execute("select count(*) from evidence").fetchone() == (2,)


def test_all_or_nothing(pool: Pool, owner: psycopg.Connection) -> None:
    """One bad line keeps the whole file out; a preview keeps nothing either."""
    coach = add_coach(pool)
    plan = bring(pool, coach, tries_file(ONE, TWO.replace("overshot", "flew")))
    assert (plan.kept, [p.line for p in plan.problems]) == (False, [3])
    assert bring(pool, coach, tries_file(ONE, TWO), keep=False).kept is False
    assert owner.execute("select count(*) from trainee").fetchone() == (0,)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        (ONE.replace("3.1", "3.2"), "kept already, as held 3.1 s"),
        (ONE.replace(",1,", ",3,"), "and closed"),
        (ONE.replace("2026", "2027"), "in the future"),
        (ONE.replace("2026", "1926"), "before the year 2000"),
    ],
)
def test_what_contradicts_is_named(pool: Pool, line: str, said: str) -> None:
    """A line that contradicts what is kept, adds to a closed run, or lies at an impossible time, is a problem
    by number.
    """
    coach = add_coach(pool)
    bring(pool, coach, tries_file(ONE, TWO))
    (problem,) = bring(pool, coach, tries_file(line)).problems
    assert (problem.line, said in problem.what) == (2, True), problem.what


def test_out_and_in_again(pool: Pool, filled: tuple[Member, UUID, UUID]) -> None:
    """What was tested live, exported and imported by another coach, is the same there; imported at home, it
    adds nothing.
    """
    coach, _, run = filled
    with transaction(pool, member=coach) as db:
        evidence.end_run(db, run_id=run, ended_at=NOW, ended_as="finished", pain_joint=None, pain_level=None)
        text = write_tries(evidence.every_try(db, trainee=None), tests=built_in().tests)
    assert bring(pool, coach, read_tries(text.encode(), tests=built_in().tests)).already_kept == 2
    other = add_coach(pool, "b@hall.example")
    assert bring(pool, other, read_tries(text.encode(), tests=built_in().tests)).tries == 2
    with transaction(pool, member=other) as db:
        assert write_tries(evidence.every_try(db, trainee=None), tests=built_in().tests) == text


# --- briefs -------------------------------------------------------------------------------------------------


def test_a_brief_is_made_again_only_when_something_changed(
    pool: Pool, syllabus: Syllabus, filled: tuple[Member, UUID, UUID]
) -> None:
    """Nothing is worked out twice; new evidence, another day or another rest makes a brief old."""
    coach, trainee, run = filled
    day = date(2026, 5, 31)

    def refresh(on: date) -> int:
        with transaction(pool, member=coach) as db:
            house = load_house(db)
        return refresh_briefs(pool, house, on=on)

    def shown(on: date) -> str:
        with transaction(pool, member=coach) as db:
            return ready_briefs(db, load_house(db), on=on)

    assert refresh(day) == 0
    keep(pool, coach, run, a_try(3))
    assert refresh(day) == 1
    assert refresh(day + timedelta(days=1)) == 1
    with transaction(pool, member=coach) as db:
        coaches.change_settings(db, rest_s=60)
    assert refresh(day + timedelta(days=1)) == 1
    assert "3 tries kept" in shown(day + timedelta(days=1))
    with transaction(pool, member=coach) as db:
        trainees.change(db, id=trainee, name="New Name", stepping_side=None, note="")
    assert "New Name" in shown(day + timedelta(days=1))


def test_the_plan_that_came_last_is_the_newest_whatever_its_clock_said(pool: Pool) -> None:
    """A phone two hours ahead keeps a plan; what is kept after it counts, and stands first among the
    versions.
    """
    coach = add_coach(pool)
    trainee = add_trainee(pool, coach)
    ids = [uuid7(), uuid7()]
    with transaction(pool, member=coach) as db:
        for id, hours in zip(ids, (2, 0), strict=True):
            at = NOW + timedelta(hours=hours)
            plans.keep(db, id=id, trainee=trainee, at=at, wish=a_wish(), planned=NO_WEEK, note="")
        week = a_wish().week
        newest, last = plans.newest(db, trainee, week), plans.last(db, trainee)
        assert newest is not None
        assert last is not None
        assert (newest.id, last.id) == (ids[1], ids[1])
        assert [p.id for p in plans.from_week(db, trainee, week)] == [ids[1]]
        assert [p.id for p in plans.days_of_week(db, week).values()] == [ids[1]]
        assert [v.id for v in plans.versions(db, trainee, week)] == ids[::-1]
        assert plans.how_many(db, trainee, week) == {week: 2}


# --- migrations and trouble ---------------------------------------------------------------------------------


def test_migrating_again_changes_nothing(cluster: Cluster, database: str) -> None:
    """Forward migrations run once."""
    assert migrate(cluster.dsn(database, role="perch_owner")) == []


def test_an_unreachable_database_is_said_in_words() -> None:
    """Without a server the store says that nothing was kept and sending again is safe."""
    lost = make_pool("postgresql://perch_app:x@127.0.0.1:9/none")
    lost.open(wait=False)
    with pytest.raises(Unavailable, match="sending it again later is safe"), transaction(lost):
        pass
    lost.close()


def test_a_restarted_database_is_met_by_the_first_who_asks(
    pool: Pool, cluster: Cluster, database: str
) -> None:
    """Every connection of the pool is dead at once; nobody waits for one after the other to be found so."""
    coach = add_coach(pool)
    pool.wait()
    with psycopg.connect(cluster.dsn(database, role=ADMIN), autocommit=True) as admin:
        # those of the pool, and the one that watches over it, which comes by itself
        there = "from pg_stat_activity where datname = current_database() and application_name = ''"
        for _ in range(600):
            if admin.execute(f"select count(*) {there} and pid <> pg_backend_pid()").fetchone() == (
                pool.most + 1,
            ):
                break
            sleep(0.05)
        gone = admin.execute(
            f"select count(pg_terminate_backend(pid)) {there} and pid <> pg_backend_pid()"
        ).fetchone()
    assert gone == (pool.most + 1,)
    for _ in range(200):
        try:
            assert add_trainee(pool, coach)
            return
        except Unavailable:
            sleep(0.05)
    pytest.fail("the database was not met again")


def test_a_database_that_is_gone_is_said_at_once_and_met_at_once_when_it_is_back() -> None:
    """With PostgreSQL stopped no request waits for its five seconds, and after its start none has to wait
    for a growing pause to end.
    """
    parent = Path(tempfile.mkdtemp(prefix="perch-gone-"))
    parent.chmod(0o755)
    own = make_cluster(parent / "pg", settings=QUICK)
    try:
        create_database(own, "hall")
        migrate(own.dsn("hall", role="perch_owner"))
        pool = make_pool(own.dsn("hall"), most=3)
        pool.open()
        add_coach(pool)
        own.stop(how="immediate")
        assert pool.down.wait(timeout=120)
        begun = monotonic()
        for _ in range(20):
            with pytest.raises(Unavailable), transaction(pool):
                pass
        assert monotonic() - begun < WAIT_S, "twenty requests are told so in less than one used to wait"
        own.start()
        for _ in range(2400):
            if not pool.down.is_set():
                break
            sleep(0.05)
        add_coach(pool, "b@hall.example")
        pool.close()
    finally:
        own.stop(how="immediate")
        shutil.rmtree(parent, ignore_errors=True)
