"""Print one line a figure: what was measured, its ratio to a bare reference of the same run, and the aim. Run
by ./perch figures.
"""

import gzip
import re
import statistics
import tempfile
import threading
import time
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from random import Random
from uuid import UUID

import numpy as np
import psycopg
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from bench.first_paint import first_paint
from bench.planning import PEOPLE, planning
from wise_perch.api.app import build_app
from wise_perch.api.cases import load_house
from wise_perch.api.settings import Settings
from wise_perch.api.today import refresh_briefs
from wise_perch.core.body.ladders import SETTINGS, lay_out_ladder
from wise_perch.core.body.levers import settings_for
from wise_perch.core.body.segments import make_body
from wise_perch.core.trade.evidence import Evidence, Fell, Form, Outcome, Side
from wise_perch.core.trainee.case import Case, judge_case
from wise_perch.core.trainee.stored import Arrangement, KeptTry
from wise_perch.core.trainee.to_decide import find_matters
from wise_perch.machine.places import DIST
from wise_perch.machine.postgres import OWNER, Cluster, create_database, make_cluster
from wise_perch.store import briefs, coaches, evidence, trainees
from wise_perch.store.migrate import migrate
from wise_perch.store.pool import Pool, make_pool, transaction
from wise_perch.syllabus import built_in, in_use

NOW = datetime.now(UTC)
TRAINEES, ROWS_EACH = 200, 2_500


TEST = built_in().free_tries


def milliseconds(work: Callable[[], object], times: int) -> list[float]:
    """Time `work`, each call in ms."""
    found = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        found.append((time.perf_counter() - begun) * 1000)
    return found


def line(name: str, figure: str, aim: str, *, good: bool) -> None:
    """Print one figure."""
    print(f"{name:<44} {figure:<52} aim: {aim:<22} {'ok' if good else 'MISSED'}", flush=True)


def add_coach(pool: Pool, number: int) -> UUID:
    """Add a coach."""
    id = uuid7()
    with transaction(pool, coach=id) as db:
        coaches.add_coach(
            db, id=id, email=f"{number}@figures.example", name="Figures", password_hash="-", time_zone="UTC"
        )
    return id


def start_run(pool: Pool, coach: UUID, name: str) -> UUID:
    """Add a trainee with an open run."""
    with transaction(pool, coach=coach) as db:
        trainee = trainees.add(db, id=uuid7(), name=name, stepping_side=None, note="")
        return evidence.start_run(
            db,
            id=uuid7(),
            trainee=trainee.id,
            test="free-tries",
            started_at=NOW,
            rest_s=45,
            room="",
            source="live",
        ).id


def keep_one(pool: Pool, coach: UUID, run: UUID, number: int) -> None:
    """Keep one result, as the api's route does."""
    made = KeptTry(
        id=uuid7(),
        number=number,
        at=NOW,
        outcome=Outcome.HELD,
        value=3.1,
        fell=Fell.OVER,
        form=None,
        note="",
        early=False,
        struck_at=None,
    )
    with transaction(pool, coach=coach) as db:
        evidence.add_try(db, run_id=run, kept=made, test=TEST.test, mode=TEST.modes[0])


def live_write(cluster: Cluster, pool: Pool) -> None:
    """One result kept against a bare insert and commit over the same pool, then twenty coaches at once."""
    with psycopg.connect(cluster.dsn("figures", role=OWNER)) as db:
        db.execute("create table bare (id uuid primary key, value double precision)")
        db.execute("grant insert on bare to perch_app")

    def bare() -> None:
        with pool.connection() as db:
            db.execute("insert into bare values (%s, %s)", [uuid7(), 3.1])

    coach = add_coach(pool, 0)
    run = start_run(pool, coach, "One")
    numbers = iter(range(1, 10_000))
    milliseconds(bare, 50), milliseconds(lambda: keep_one(pool, coach, run, next(numbers)), 50)
    # alternating, so that a slow moment of the disk falls on both
    bares, keeps = [], []
    for _ in range(10):
        bares += milliseconds(bare, 40)
        keeps += milliseconds(lambda: keep_one(pool, coach, run, next(numbers)), 40)
    ratio = statistics.median(keeps) / statistics.median(bares)
    line(
        "live write, median",
        f"{ratio:.2f} x bare insert ({statistics.median(keeps):.2f} / {statistics.median(bares):.2f} ms)",
        "3 x",
        good=ratio <= 3,
    )

    runs = [(c, start_run(pool, c, "One")) for c in (add_coach(pool, n) for n in range(1, 21))]
    times: list[float] = []

    def one_coach(coach: UUID, run: UUID) -> None:
        numbers = iter(range(1, 1000))
        for _ in range(25):
            times.extend(milliseconds(lambda: keep_one(pool, coach, run, next(numbers)), 1))

    threads = [threading.Thread(target=one_coach, args=pair) for pair in runs]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    p95 = statistics.quantiles(times, n=20)[-1]
    line(
        "live write, p95 of 20 coaches at once",
        f"{p95:.1f} ms ({p95 / statistics.median(bares):.1f} x bare)",
        "50 ms",
        good=p95 < 50,
    )


def fill_roster(cluster: Cluster, coach: UUID) -> None:
    """Two years of evidence for 200 trainees, written by the owner with COPY."""
    dice, syllabus = Random(7), in_use()
    drills = [d for d in syllabus.drills.values() if not d.gate.each_side]
    with psycopg.connect(cluster.dsn("figures", role=OWNER)) as db, db.cursor() as cursor:
        ids = [uuid7() for _ in range(TRAINEES)]
        cursor.executemany(
            "insert into trainee (coach_id, id, name) values (%s, %s, %s)",
            [(coach, id, f"Trainee {n:03}") for n, id in enumerate(ids)],
        )
        columns = "coach_id, id, trainee_id, drill, at, measure, value, n, unit, mode, form, source"
        with cursor.copy(f"copy evidence ({columns}) from stdin") as copy:
            for id in ids:
                for _ in range(ROWS_EACH):
                    d = dice.choice(drills)
                    value = (
                        float(round(dice.uniform(0, d.gate.value)))
                        if d.gate.of
                        else dice.uniform(0, 1.2) * d.gate.value
                    )
                    at = NOW - timedelta(days=dice.uniform(0, 730))
                    copy.write_row(
                        (
                            coach,
                            uuid7(),
                            id,
                            d.drill,
                            at,
                            d.gate.measure,
                            value,
                            d.gate.of,
                            "s",
                            d.gate.mode,
                            "clean",
                            "demo",
                        )
                    )
        db.commit()
        cursor.execute("analyze")


def roster(cluster: Cluster, pool: Pool) -> None:
    """Today for 200 trainees and 500,000 rows against the bare SQL that reads what it shows."""
    coach = add_coach(pool, 99)
    fill_roster(cluster, coach)

    def today() -> None:
        with transaction(pool, coach=coach) as db:
            refresh_briefs(db, load_house(db), on=NOW.date())
            briefs.today(db)

    def bare() -> None:
        with transaction(pool, coach=coach) as db:
            db.execute(
                "select trainee.id, name, brief.today from trainee join trainee_brief as brief on"
                " brief.coach_id = trainee.coach_id and brief.trainee_id = trainee.id where trainee.struck_at"
                " is null order by urgency, lower(name)"
            ).fetchall()

    first = milliseconds(today, 1)[0]
    milliseconds(bare, 5), milliseconds(today, 5)
    full, reference = statistics.median(milliseconds(today, 30)), statistics.median(milliseconds(bare, 30))
    line(
        "Today, 200 trainees, 500,000 rows",
        f"{full / reference:.2f} x bare SQL ({full:.1f} / {reference:.1f} ms)",
        "3 x",
        good=full <= 3 * reference,
    )

    with transaction(pool, coach=coach) as db:
        db.execute("update trainee_brief set day = day - 1")
    morning = milliseconds(today, 1)[0]
    line(
        "Today, first look of a new day",
        f"{morning / reference:.0f} x bare SQL ({morning:.0f} ms; from nothing {first:.0f} ms)",
        "reads no history",
        good=morning < first / 5,
    )


def history(dice: Random, pieces: int) -> list[Evidence]:
    """Evidence over all drills and two years, somewhat below and above the gates."""
    syllabus, on = in_use(), date(2026, 5, 31)
    drills = list(syllabus.drills.values())
    found = []
    for _ in range(pieces):
        d = dice.choice(drills)
        gate = d.gate
        share = dice.uniform(0, 1.2)
        value = (
            gate.start - (gate.start - gate.value) * share
            if gate.fewer and gate.start is not None
            else round(share * gate.value)
        )
        day = on - timedelta(days=dice.randrange(700))
        side = dice.choice(list(Side)) if gate.each_side else None
        found.append(
            Evidence(
                drill=d.drill,
                day=day,
                measure=gate.measure,
                value=value,
                n=gate.of,
                form=Form.CLEAN,
                mode=gate.mode,
                side=side,
            )
        )
    return found


def whole_standing(pieces: list[Evidence]) -> None:
    """Every gate state, perch and goal path, and what to decide, of one trainee."""
    syllabus = in_use()
    arranged = Arrangement(
        schools={}, goals=tuple(g.goal for g in syllabus.content.goals), waivers=(), profile=None
    )
    find_matters(
        judge_case(
            Case(
                on=date(2026, 5, 31),
                syllabus=syllabus,
                arrangement=arranged,
                sets=pieces,
                rest_s=45,
                float_switch_s=5,
            )
        )
    )


def standing_cpu() -> None:
    """The whole standing of one trainee with 2,000 pieces of evidence, then of 1,000 trainees, in CPU
    time.
    """
    pieces = history(Random(3), 2000)

    def cpu_ms(work: Callable[[], object], times: int) -> float:
        work()
        begun = time.process_time()
        for _ in range(times):
            work()
        return (time.process_time() - begun) / times * 1000

    reference = cpu_ms(lambda: sorted(pieces, key=lambda p: (p.drill, p.day)), 50)
    took = cpu_ms(lambda: whole_standing(pieces), 50)
    line(
        "standing and goals, 2,000 pieces of evidence",
        f"{took:.1f} ms CPU ({took / reference:.1f} x sorting them)",
        "10 ms",
        good=took < 10,
    )
    few = [history(Random(n), 500) for n in range(20)]
    thousand = cpu_ms(lambda: [whole_standing(few[n % 20]) for n in range(1000)], 1) / 1000
    line(
        "standing and goals, 1,000 trainees of 500 pieces",
        f"{thousand:.1f} s CPU ({thousand / reference * 1000:.0f} x)",
        "5 s",
        good=thousand < 5,
    )


def bare_arithmetic() -> None:
    """The bare reference of a ladder: a hundred plain operations over as many numbers as a ladder has
    settings.
    """
    at = np.linspace(0.1, 1, SETTINGS)
    for _ in range(50):
        at = np.sqrt(at * at + 0.1)


def every_ladder(stature_cm: float, mass_kg: float) -> float:
    """Lay out the ladder of every dialled drill of one body; the slowest one's CPU time, ms."""
    syllabus, slowest = built_in(), 0.0
    made = make_body(stature_cm=stature_cm, mass_kg=mass_kg)
    for drill in syllabus.drills.values():
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family)
        if drill.dial and lever:
            begun = time.process_time()
            lay_out_ladder(lever, made, dial=drill.dial, settings=settings_for(lever, made, {}))
            slowest = max(slowest, (time.process_time() - begun) * 1000)
    return slowest


def ladders() -> None:
    """Ladders of 200 settings: the slowest of one trainee, and how the work grows with trainees."""
    bare = statistics.median(milliseconds(bare_arithmetic, 50))
    slowest = statistics.median(every_ladder(170, 65) for _ in range(20))
    line(
        "200-step ladder, slowest dialled drill",
        f"{slowest:.1f} ms of CPU, {slowest / bare:.0f} x 100 bare operations",
        "< 50 ms",
        good=slowest < 50,
    )
    dice, times = Random(5), {}
    for count in (100, 1000):
        begun = time.process_time()
        for _ in range(count):
            every_ladder(dice.uniform(150, 195), dice.uniform(45, 95))
        times[count] = time.process_time() - begun
    growth = times[1000] / times[100]
    line(
        "ladders of 1,000 trainees against 100",
        f"{times[1000]:.1f} s of CPU, {growth:.1f} x the work",
        "linear: 10 x",
        good=growth < 12,
    )


def moves(cluster: Cluster) -> None:
    """A move of a dial through the api, beside the emptiest answer of the same application."""
    name = "moves"
    create_database(cluster, name)
    migrate(cluster.dsn(name, role=OWNER))
    with TestClient(build_app(Settings(database=cluster.dsn(name))), base_url="http://127.0.0.1") as client:
        client.post(
            "/api/first-coach",
            json={"email": "a@figures.example", "name": "Figures", "password": "a long enough password"},
        )
        trainee = str(uuid7())
        client.post("/api/trainees", json={"id": trainee, "name": "Figures"})
        size = {"id": str(uuid7()), "at": NOW.isoformat(), "stature_cm": 170, "mass_kg": 65}
        client.post(f"/api/trainees/{trainee}/measures", json=size)

        def move() -> None:
            answer = client.post(
                f"/api/trainees/{trainee}/levers/pike-push-up/at", json={"settings": {"hands-to-feet": 95}}
            )
            assert answer.status_code == 200, answer.text

        milliseconds(move, 20)
        bare = statistics.median(milliseconds(lambda: client.get("/api/health"), 200))
        found = sorted(milliseconds(move, 200))
    median, late = found[len(found) // 2], found[int(len(found) * 0.95)]
    line(
        "a move of a dial, api and core",
        f"{median:.1f} ms, p95 {late:.1f} ms, {median / bare:.1f} x /api/health",
        "p95 <= 50 ms",
        good=late <= 50,
    )


def first_view() -> None:
    """The built page's initial JavaScript, compressed: what the page itself names, without what screens fetch
    when first opened.
    """
    named = set(re.findall(r"/assets/([^\"]+\.js)", (DIST / "index.html").read_text("utf-8")))
    total = sum(len(gzip.compress((DIST / "assets" / name).read_bytes())) for name in named)
    line("initial JavaScript", f"{total / 1000:.0f} kB gzip", "200 kB", good=total <= 200_000)


def main() -> None:
    """Measure everything on a cluster of its own, with PostgreSQL's usual safety settings."""
    first_view()
    standing_cpu()
    planning([history(Random(n), 400) for n in range(PEOPLE)], milliseconds=milliseconds, line=line)
    ladders()
    with tempfile.TemporaryDirectory(prefix="perch-figures-") as folder:
        Path(folder).chmod(0o755)
        cluster = make_cluster(Path(folder) / "pg")
        try:
            create_database(cluster, "figures")
            migrate(cluster.dsn("figures", role=OWNER))
            pool = make_pool(cluster.dsn("figures"))
            pool.open(wait=True)
            moves(cluster)
            live_write(cluster, pool)
            roster(cluster, pool)
            pool.close()
            ours, twin = first_paint(cluster.dsn("figures"))
            line(
                "first contentful paint, sign-in",
                f"{ours / twin:.2f} x static twin ({ours:.0f} / {twin:.0f} ms)",
                "1.5 x",
                good=ours <= 1.5 * twin,
            )
        finally:
            cluster.stop(how="immediate")


main()
