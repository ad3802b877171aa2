"""A hall of any size with two years behind it, written at once: twenty histories drawn, and copied to as many
trainees as are asked for.
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random
from secrets import token_urlsafe
from typing import Any, LiteralString
from uuid import UUID

import psycopg
from psycopg import sql
from psycopg.types.json import Jsonb
from uuid_utils.compat import uuid7

from wise_perch.api.auth import token_hash
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Side
from wise_perch.machine.postgres import ADMIN, OWNER, Cluster, create_database
from wise_perch.store.migrate import migrate
from wise_perch.syllabus.shipped import in_use

DRAWN = 20
"""So many different histories; a larger hall has them again."""
SESSIONS, SETS_EACH, RUNS, TRIES = 208, 8, 34, 10
"""Two years of two sessions a week of eight sets, and a test of ten free tries about every third week: 2,004
pieces.
"""
YEARS_S = 2 * 365 * 86_400

INDEXES = ("evidence_by_trainee", "evidence_by_run", "evidence_by_session", "evidence_try_once")
COPIED: tuple[LiteralString, ...] = (
    """insert into test_run (hall_id, id, trainee_id, test, started_at, ended_at, ended_as, rest_s, source)
    select t.hall_id, md5(t.id::text || r.id)::uuid, t.id, r.test, r.started_at, r.started_at, 'finished',
        45, 'demo'
    from trainee t join drawn_run r on r.history = t.rank""",
    """insert into evidence (hall_id, id, trainee_id, test_run_id, try_number, drill, at, outcome, fell,
        measure, value, n, unit, mode, window_s, dial, form, side, confidence, source)
    select t.hall_id, gen_random_uuid(), t.id,
        case when e.run is null then null else md5(t.id::text || e.run)::uuid end,
        e.number, e.drill, e.at, e.outcome, e.fell, e.measure, e.value, e.n, e.unit, e.mode, e.window_s,
        e.dial, e.form, e.side, e.confidence, 'demo'
    from trainee t join drawn e on e.history = t.rank""",
    """insert into trainee_goal (hall_id, trainee_id, goal, rank)
    select t.hall_id, t.id, g.goal, g.rank from trainee t join drawn_goal g on g.history = t.rank""",
    """insert into intake (hall_id, id, trainee_id, at, profile)
    select t.hall_id, gen_random_uuid(), t.id, now(), p.profile
    from trainee t join drawn_profile p on p.history = t.rank""",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hall:
    """A hall in a database of its own. `signed_in`: the token of a session, what a browser's cookie holds."""

    database: str
    coach: UUID
    trainees: tuple[UUID, ...]
    signed_in: str
    drill: str


def build_hall(cluster: Cluster, *, trainees: int) -> Hall:
    """Build a hall of so many trainees in a database of its own."""
    name, coach, secret = f"hall_{trainees}", uuid7(), token_urlsafe(32)
    create_database(cluster, name)
    migrate(cluster.dsn(name, role=OWNER))
    ids = tuple(uuid7() for _ in range(trainees))
    with psycopg.connect(cluster.dsn(name, role=ADMIN)) as db:
        # what is written whole needs no looking after row by row
        db.execute("set session_replication_role = replica")
        db.execute("set synchronous_commit = off")
        db.execute(
            "insert into coach (id, email, name, password_hash) values (%s, %s, 'Figures', '-')",
            [coach, f"{trainees}@figures.example"],
        )
        # the hall goes by the same id as its only coach
        db.execute("insert into hall (id, name) values (%s, 'Figures')", [coach])
        db.execute(
            "insert into membership (hall_id, coach_id, role) values (%s, %s, 'owner')", [coach, coach]
        )
        db.execute(
            "insert into sign_in_session (token_hash, coach_id, hall_id, expires_at)"
            " values (%s, %s, %s, now() + interval '9 days')",
            [token_hash(secret), coach, coach],
        )
        _write_drawn(db)
        with db.cursor().copy("copy who (hall_id, id, name, rank) from stdin") as copy:
            for n, id in enumerate(ids):
                copy.write_row((coach, id, f"Trainee {n:04}", n % DRAWN))
        db.execute("insert into trainee (hall_id, id, name) select hall_id, id, name from who")
        made = {
            row[0]: row[1]
            for row in db.execute(
                "select indexname, indexdef from pg_indexes where indexname = any(%s)", [list(INDEXES)]
            )
        }
        for index in made:
            db.execute(sql.SQL("drop index {}").format(sql.Identifier(index)))
        for statement in COPIED:
            db.execute(sql.SQL(statement.replace("trainee t", "who t")))  # type: ignore[arg-type]
        for definition in made.values():
            db.execute(definition)
    with psycopg.connect(cluster.dsn(name, role=ADMIN), autocommit=True) as db:
        db.execute("vacuum analyze")
        drill = db.execute(
            "select drill from evidence where trainee_id = %s and drill is not null"
            " group by drill order by count(*) desc, drill limit 1",
            [ids[0]],
        ).fetchone()
    assert drill is not None
    return Hall(database=name, coach=coach, trainees=ids, signed_in=secret, drill=drill[0])


def _write_drawn(db: psycopg.Connection) -> None:
    """Draw the histories into tables of this connection alone."""
    db.execute(
        "create temp table who (hall_id uuid, id uuid, name text, rank int);"
        "create temp table drawn_run (history int, id int, test text, started_at timestamptz);"
        "create temp table drawn_goal (history int, goal text, rank int);"
        "create temp table drawn_profile (history int, profile jsonb);"
        "create temp table drawn (history int, run int, number int, drill text, at timestamptz, outcome text,"
        " fell text, measure text, value float8, n int, unit text, mode text, window_s float8, dial jsonb,"
        " form text, side text, confidence int)"
    )
    rows: dict[str, list[tuple[Any, ...]]] = {
        "drawn": [],
        "drawn_run": [],
        "drawn_goal": [],
        "drawn_profile": [],
    }
    for history in range(DRAWN):
        _draw(history, Random(history), rows)
    for table, found in rows.items():
        with db.cursor().copy(sql.SQL("copy {} from stdin").format(sql.Identifier(table))) as copy:
            for row in found:
                copy.write_row(row)


def _draw(history: int, dice: Random, rows: dict[str, list[tuple[Any, ...]]]) -> None:
    syllabus, now = in_use(), datetime.now(UTC)
    drills, goals = list(syllabus.drills.values()), [g.goal for g in syllabus.content.goals]
    for rank, goal in enumerate((goals[history % len(goals)], goals[(history + 3) % len(goals)])):
        rows["drawn_goal"].append((history, goal, rank))
    cautions = {q.caution: False for q in syllabus.intake.cautions}
    rows["drawn_profile"].append(
        (
            history,
            Jsonb(
                {
                    "stature_cm": 150.0 + history * 2,
                    "mass_kg": 50.0 + history,
                    "lengths_cm": {},
                    "cautions": cautions,
                }
            ),
        )
    )
    for n in range(SESSIONS):
        at = now - timedelta(seconds=YEARS_S * (1 - n / SESSIONS) + 3600)
        # the work of a season: a window of the syllabus that moves on
        first = (n * len(drills) // SESSIONS + history * 7) % len(drills)
        for k in range(SETS_EACH):
            d = drills[(first + dice.randrange(30)) % len(drills)]
            rows["drawn"].append(_draw_set(history, d, at + timedelta(minutes=4 * k), n / SESSIONS, dice))
    for run in range(RUNS):
        at = now - timedelta(seconds=YEARS_S * (1 - run / RUNS) + 7200)
        rows["drawn_run"].append((history, run, syllabus.free_tries.test, at))
        for number in range(1, TRIES + 1):
            held = dice.random() < 0.6
            outcome = "held" if held else dice.choice(("overshot", "undershot"))
            value = round(dice.uniform(0.5, 8), 1) if held else None
            fell = dice.choice(("over", "under", "down")) if held else None
            mode = syllabus.free_tries.modes[0]
            rows["drawn"].append(
                (history, run, number, None, at, outcome, fell, mode.measure.value, value, None, "s",
                 mode.mode, None, Jsonb({}), "clean", None, None)
            )  # fmt: skip


def _draw_set(history: int, d: Drill, at: datetime, far: float, dice: Random) -> tuple[Any, ...]:
    gate = d.gate
    share = dice.uniform(0.2, 0.6) + 0.6 * far
    if gate.fewer and gate.start is not None:
        value = gate.start - (gate.start - gate.value) * share
    else:
        value = share * gate.value
    if gate.of is not None:
        value = min(round(value), gate.of)
    elif gate.measure.value in ("reps", "touches"):
        value = max(0, round(value))
    side = dice.choice(list(Side)).value if gate.each_side else None
    dial = {}
    if d.dial:
        dial = {d.dial.name: 30.0}
    confidence = dice.choice((None, 3, 4, 5))
    form = "clean" if dice.random() < 0.9 else "loose"
    return (history, None, None, d.drill, at, None, None, gate.measure.value, round(value, 2), gate.of, "s",
            gate.mode, gate.window_s, Jsonb(dial), form, side, confidence)  # fmt: skip
