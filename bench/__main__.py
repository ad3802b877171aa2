"""Print one line a figure: what was measured, its ratio to a bare reference of the same run, and the aim. Run
by ./perch bench.
"""

import gzip
import re
import statistics
import tempfile
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from random import Random
from uuid import UUID

import numpy as np
import psycopg
from fastapi.testclient import TestClient
from uuid_utils.compat import uuid7

from bench.class_night import class_nights
from bench.doors import doors
from bench.first_view import browser, busy_in_a_hold, dial_behind, sign_in_heading, today_stands
from bench.hall import Hall, build_hall
from bench.judging import history, judging
from bench.line_figures import frames_in_the_core, line_live
from bench.line_figures import in_the_browser as line_in_the_browser
from bench.planning import PEOPLE, planning
from bench.requests import rates
from bench.routes import after_one_try, first_look, measure, print_table, served
from wise_perch.api.app import build_app
from wise_perch.api.settings import Settings
from wise_perch.core.body.ladders import SETTINGS, lay_out_ladder
from wise_perch.core.body.levers import settings_for
from wise_perch.core.body.segments import make_body
from wise_perch.core.trade.evidence import Fell, Outcome
from wise_perch.core.trainee.hall import Member
from wise_perch.core.trainee.stored import KeptTry
from wise_perch.machine.places import DIST
from wise_perch.machine.postgres import OWNER, Cluster, create_database, make_cluster
from wise_perch.store import coaches, evidence, halls, trainees
from wise_perch.store.migrate import migrate
from wise_perch.store.pool import Pool, make_pool, transaction
from wise_perch.syllabus.shipped import built_in

NOW = datetime.now(UTC)
SIZES = (20, 200, 1000)
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


def add_coach(pool: Pool, number: int) -> Member:
    """Add a coach with a hall of their own."""
    member = Member(coach=uuid7(), hall=uuid7(), role="owner")
    with transaction(pool, member=member) as db:
        coaches.add_coach(
            db, id=member.coach, email=f"{number}@figures.example", name="Figures", password_hash="-"
        )
        halls.add(db, name="Figures", time_zone="UTC")
        halls.join(db, coach=member.coach, role="owner")
    return member


def start_run(pool: Pool, coach: Member, name: str) -> UUID:
    """Add a trainee with an open run."""
    with transaction(pool, member=coach) as db:
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


def keep_one(pool: Pool, coach: Member, run: UUID, number: int) -> None:
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
    with transaction(pool, member=coach) as db:
        evidence.add_try(db, run_id=run, kept=made, test=TEST.test, mode=TEST.modes[0])


def live_write(cluster: Cluster, pool: Pool) -> None:
    """One result kept against a bare insert and commit over the same pool, then twenty coaches at once."""
    with psycopg.connect(cluster.dsn("figures", role=OWNER)) as db:
        db.execute("create table bare (id uuid primary key, value double precision)")
        db.execute("grant insert on bare to perch_app")

    def bare() -> None:
        with transaction(pool) as db:
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

    def one_coach(coach: Member, run: UUID) -> None:
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


def initial_script() -> None:
    """The built page's initial JavaScript, compressed: what the page itself names, without what screens fetch
    when first opened.
    """
    named = set(
        re.findall(r"(?:src|href)=\"/assets/([^\" ]+\.js)\"", (DIST / "index.html").read_text("utf-8"))
    )
    total = sum(len(gzip.compress((DIST / "assets" / name).read_bytes())) for name in named)
    line("initial JavaScript", f"{total / 1000:.0f} kB gzip", "200 kB", good=total <= 200_000)


def hall_sizes(cluster: Cluster) -> None:
    """Halls of three sizes with two years behind them: the first look of a day, route by route, requests a
    second, and the first views in the browser.
    """
    built, found = {}, {}
    for size in SIZES:
        begun = time.perf_counter()
        built[size] = build_hall(cluster, trainees=size)
        print(f"a hall of {size} x 2 years, built in {time.perf_counter() - begun:.0f} s", flush=True)
    largest = built[SIZES[-1]]
    for what in ("trainee_brief, trainee_known", "trainee_brief"):
        first, whole, asked = first_look(cluster, largest, without=what)
        named = "nothing kept" if "known" in what else "no brief kept"
        line(f"Today of 1,000, {named}: first answer", f"{first:.2f} s", "1 s", good=first <= 1)
        line(f"Today of 1,000, {named}: whole", f"{whole:.1f} s, asked {asked} x", "10 s", good=whole <= 10)
    for size, hall in built.items():
        found[size] = measure(cluster, hall)
    print_table(found)
    after = after_one_try(cluster, largest)
    line("Today of 1,000 after one try", f"{after:.1f} ms", "15 ms", good=after <= 15)
    few, many = found[SIZES[0]], found[SIZES[-1]]
    for name in ("trainee page", "drill sheet", "levers", "plan as kept"):
        grown = many[name].ours / few[name].ours
        line(f"{name}, 1,000 against 20", f"{grown:.2f} x", "1.3 x", good=grown <= 1.3)
    for name, most in (("trainee page", 3.0), ("try kept", 4.0)):
        ratio = many[name].ours / many[name].bare
        line(f"{name} over HTTP", f"{ratio:.1f} x its statements bare", f"{most:g} x", good=ratio <= most)
    answered = rates(cluster.dsn(built[200].database), built[200])
    bare = answered["bare route"][0]
    for name, (rate, ms) in answered.items():
        aim = "400 a second" if name in ("tries", "Today") else ""
        figure = f"{rate:.0f} a second, median {ms:.1f} ms, 1 : {bare / rate:.1f} of a bare route"
        line(f"eight connections: {name}", figure, aim, good=not aim or rate >= 400)
    in_the_browser(cluster.dsn(built[SIZES[0]].database), built[SIZES[0]])


def in_the_browser(dsn: str, hall: Hall) -> None:
    """First and second views, the dial under the thumb, and how busy a hold keeps the page."""
    with browser() as made:
        ours, twin = sign_in_heading(made, dsn)
        figure = f"{ours / twin:.2f} x static twin ({ours:.0f} / {twin:.0f} ms)"
        line("sign-in heading", figure, "1.5 x", good=ours <= 1.5 * twin)
        for name, (first, second) in today_stands(made, dsn, hall).items():
            slow = name == "on a phone"
            figure = f"{first.stood:.0f} ms, {first.bytes / 1000:.0f} kB, {first.requests} requests"
            good = first.bytes <= 300_000 and (not slow or first.stood <= 6000)
            line(f"Today first, {name}", figure, "300 kB" + ", 6 s" * slow, good=good)
            figure = f"{second.stood:.0f} ms, {second.bytes / 1000:.1f} kB, {second.requests} requests"
            line(f"Today again, {name}", figure, "2 s" if slow else "", good=not slow or second.stood <= 2000)
        with served(dsn) as port:
            behind, paints = dial_behind(made, port, hall)
            figure = f"{behind} of {paints} paints behind the thumb"
            line("a dial turned", figure, "one of ten", good=behind <= paints / 10)
            page, bare = busy_in_a_hold(made, port, hall)
            figure = f"{page:.1f} % at 4 x CPU (a bare page with the same figure {bare:.1f} %)"
            line("main thread in a hold on the Floor", figure, "10 %", good=page < 10)
            seen = line_in_the_browser(made, port, hall, str(hall.trainees[0]))
            ratio = seen.still / seen.bare
            figure = f"{seen.still:.0f} ms, {ratio:.1f} x one bare model call ({seen.bare:.0f} ms)"
            line("a still from pick to verdict", figure, "3 x", good=seen.still <= 3 * seen.bare)
    # the camera is a browser of its own, and two would share two cores
    with served(dsn) as port:
        rate, longest = line_live(port, hall, str(hall.trainees[0]))
        line("the camera, lite model", f"{rate:.0f} frames a second", "8", good=rate >= 8)
        longest = max(longest, seen.longest)
        line("longest task of the page meanwhile", f"{longest:.0f} ms", "50 ms", good=longest <= 50)


def main() -> None:
    """Measure everything on a cluster of its own, with PostgreSQL's usual safety settings."""
    initial_script()
    for name, (ours, bare) in doors().items():
        figure = f"{ours:.2f} s of CPU, {ours / bare:.1f} x its packages loaded ({bare:.2f} s)"
        line(f"./perch {name}", figure, "0.7 s", good=ours <= 0.7)
    judging(line)
    planning([history(Random(n), 400) for n in range(PEOPLE)], milliseconds=milliseconds, line=line)
    ladders()
    for words in class_nights():
        print(words)
    ours, bare = frames_in_the_core()
    figure = f"{ours:.0f} us, {ours / bare:.1f} x numpy's sum over them ({bare:.0f} us)"
    line("a thousand frames of a film judged", figure, "20 x", good=ours <= 20 * bare)
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
            pool.close()
            hall_sizes(cluster)
        finally:
            cluster.stop(how="immediate")


if __name__ == "__main__":
    main()
