"""Kill the server and PostgreSQL again and again while three devices a session send results, and count what
became of every one. Run by `python -m bench.chaos [KILLS] [KILLS_OF_POSTGRESQL]`; 100 and 20 without a word.

What is acknowledged must be there once, and what a block comes to must be what its tries say: lost 0, doubled
0, miscounted 0. Nothing is waited for by the clock: a kill comes after so many more acknowledged writes.
"""

import contextlib
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random
from time import monotonic, sleep
from typing import Any

import httpx
import psycopg
from uuid_utils.compat import uuid7

from wise_perch.core.week.week_plan import monday_of
from wise_perch.machine import server
from wise_perch.machine.postgres import ADMIN, OWNER, Cluster, create_database, free_port, make_cluster
from wise_perch.machine.progress import Trouble
from wise_perch.store.migrate import migrate

DEVICES, EACH, SESSIONS = 3, 3, 4
"""Devices a session, single tries each of them sends into one block, and sessions that go on at once."""
BETWEEN_KILLS = 25
"""Acknowledged writes from one kill to the next."""
DRILL, BELOW = "step-down-30", ("wall-side-step", "wall-side-step-down")
PASSWORD = "a long enough password"


def now() -> str:
    return datetime.now(UTC).isoformat()


@dataclass
class Tally:
    """What was acknowledged: events by session, and tries by run."""

    events: dict[str, set[str]] = field(default_factory=dict)
    tries: dict[str, set[str]] = field(default_factory=dict)
    again: int = 0
    lock: threading.Lock = field(default_factory=threading.Lock)

    @property
    def acknowledged(self) -> int:
        return sum(map(len, self.events.values())) + sum(map(len, self.tries.values()))


class Hall:
    """A server and a database that can both be killed and started again."""

    def __init__(self, parent: Path) -> None:
        self.parent, self.port = parent, free_port()
        self.cluster: Cluster = make_cluster(parent / "pg")
        create_database(self.cluster, "perch_own")
        migrate(self.cluster.dsn("perch_own", role=OWNER))
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        env = server.environment(database=self.cluster.dsn("perch_own"), web=self.parent / "none", demo="")
        env.pop("PERCH_WEB")
        with (self.parent / "server.log").open("ab") as log:
            self.process = subprocess.Popen(server.command(self.port), env=env, stdout=log, stderr=log)
        server.wait_until_it_answers(self.port, self.process)

    def kill_server(self) -> None:
        assert self.process is not None
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.start()

    def kill_database(self) -> None:
        pid = int((self.cluster.folder / "postmaster.pid").read_text("ascii").split("\n")[0])
        os.kill(pid, signal.SIGKILL)
        until = monotonic() + 120
        while True:
            try:
                self.cluster.start()
                return
            except Trouble:
                # its children let go of the memory they share one after the other
                if monotonic() > until:
                    raise
                sleep(0.1)

    def stop(self) -> None:
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()
        self.cluster.stop(how="immediate")


class Device:
    """Sends as a browser's outbox does: the same thing again until it is acknowledged."""

    def __init__(self, hall: Hall, token: str, tally: Tally) -> None:
        self.client = httpx.Client(
            base_url=hall.url, headers={"authorization": f"Bearer {token}"}, timeout=30
        )
        self.tally = tally

    def send(self, path: str, body: dict[str, Any]) -> dict[str, Any]:
        until = monotonic() + 300
        while True:
            with contextlib.suppress(httpx.HTTPError):
                answer = self.client.post(path, json=body)
                if answer.status_code < 300:
                    return answer.json()  # type: ignore[no-any-return]
                if answer.status_code < 500:
                    raise RuntimeError(f"{path}: {answer.status_code} {answer.text}")
            if monotonic() > until:
                raise RuntimeError(f"{path} was never acknowledged")
            with self.tally.lock:
                self.tally.again += 1
            sleep(0.02)

    def get(self, path: str) -> Any:
        until = monotonic() + 300
        while True:
            with contextlib.suppress(httpx.HTTPError):
                answer = self.client.get(path)
                if answer.status_code == 200:
                    return answer.json()
            if monotonic() > until:
                raise RuntimeError(f"{path} was never answered")
            sleep(0.02)


def prepare(device: Device, trainee: str) -> None:
    """A trainee with today's session planned, a block of single tries in it."""
    today = datetime.now(UTC).date()
    device.send("/api/trainees", {"id": trainee, "name": f"Trainee {trainee[-6:]}"})
    for drill in BELOW:
        waiver = {"id": str(uuid7()), "at": now(), "drill": drill, "reason": "did it for years"}
        device.send(f"/api/trainees/{trainee}/waivers", waiver)
    kit = ["wall", "mat", "box", "bench", "pads", "plates", "parallettes", "bar", "ball", "spotter"]
    plan = {
        "id": str(uuid7()),
        "at": now(),
        "week": monday_of(today).isoformat(),
        "days": [{"day": today.isoformat(), "place": "hall", "minutes": 55, "time": "18:00"}],
        "kit": {"hall": kit, "home": ["mat"]},
        "pins": [{"day": today.isoformat(), "drill": DRILL, "sets": 10}],
    }
    device.send(f"/api/trainees/{trainee}/plans", plan)


def live(hall: Hall, token: str, tally: Tally, over: threading.Event, trainee: str) -> None:
    """Session after session of one trainee, each with three devices, and a test run beside it."""
    own = Device(hall, token, tally)
    sheet = own.get(f"/api/trainees/{trainee}/floor")["sheet"]
    slot = next(
        n
        for n, s in enumerate(sheet["slots"])
        if s["planned"] and sheet["variants"][s["planned"]]["drill"] == DRILL
    )
    key, turn = sheet["slots"][slot]["planned"], 0
    while not over.is_set():
        turn += 1
        session, run = str(uuid7()), str(uuid7())
        started = (datetime.now(UTC) - timedelta(seconds=turn)).isoformat()
        own.send(f"/api/trainees/{trainee}/sessions", {"id": session, "started_at": started, "sheet": sheet})
        own.send(f"/api/trainees/{trainee}/runs", {"id": run, "started_at": started, "rest_s": 30})
        with tally.lock:
            tally.events[session], tally.tries[run] = set(), set()

        def device(first: int, session: str = session, run: str = run) -> None:
            sender = Device(hall, token, tally)
            for n in range(EACH):
                event = {"id": str(uuid7()), "at": now(), "kind": "set", "slot": slot, "key": key}
                sender.send(f"/api/sessions/{session}/events", {**event, "value": 1, "form": "clean"})
                tried = {"id": str(uuid7()), "at": now(), "number": first * EACH + n + 1}
                sender.send(f"/api/runs/{run}/tries", {**tried, "outcome": "overshot"})
                with tally.lock:
                    tally.events[session].add(event["id"])
                    tally.tries[run].add(tried["id"])

        devices = [threading.Thread(target=device, args=(n,)) for n in range(DEVICES)]
        for one in devices:
            one.start()
        for one in devices:
            one.join()


def kill(hall: Hall, tally: Tally, *, kills: int, of_database: int) -> None:
    """Kill after so many more acknowledged writes, the database every so often instead of the server."""
    every = max((kills + of_database) // max(of_database, 1), 1)
    random = Random(13)
    for n in range(1, kills + of_database + 1):
        wanted = tally.acknowledged + random.randint(BETWEEN_KILLS // 2, BETWEEN_KILLS)
        until = monotonic() + 300
        while tally.acknowledged < wanted:
            if monotonic() > until:
                raise RuntimeError("nothing is acknowledged any more")
            sleep(0.01)
        database = of_database > 0 and n % every == 0 and n // every <= of_database
        (hall.kill_database if database else hall.kill_server)()
        if n % 20 == 0:
            print(f"  {n} kills, {tally.acknowledged} acknowledged", file=sys.stderr, flush=True)


def count(hall: Hall, tally: Tally) -> tuple[int, int, int]:
    """How many acknowledged writes are not there, how many are there more than once or were never sent, and
    how many blocks do not come to what their tries say.
    """
    with psycopg.connect(hall.cluster.dsn("perch_own", role=ADMIN)) as db:
        events = db.execute("select session_id::text, id::text from session_event").fetchall()
        tries = db.execute(
            "select test_run_id::text, id::text, try_number from evidence where test_run_id is not null"
        ).fetchall()
        pieces = db.execute(
            "select session_id::text, value, n from evidence"
            " where session_id is not null and struck_at is null"
        ).fetchall()
    sent = {(where, id) for kept in (tally.events, tally.tries) for where, ids in kept.items() for id in ids}
    there = [(where, id) for where, id, *_ in (*events, *tries)]
    numbers = [(run, number) for run, _, number in tries]
    lost = len(sent - set(there))
    doubled = len(there) - len(set(there)) + len(set(there) - sent) + len(numbers) - len(set(numbers))
    come_to: dict[str, list[tuple[float, int]]] = {}
    for session, value, n in pieces:
        come_to.setdefault(session, []).append((value, n))
    wrong = sum(come_to.get(session) != [(len(ids), len(ids))] for session, ids in tally.events.items())
    return lost, doubled, wrong


def main() -> int:
    """Run, print, and end with 1 where anything was lost, doubled or miscounted."""
    kills, of_database = (int(word) for word in (*sys.argv[1:], "100", "20")[:2])
    if len(sys.argv) == 2:
        of_database = 20
    parent = Path(tempfile.mkdtemp(prefix="perch-chaos-"))
    parent.chmod(0o755)
    hall, tally, over = Hall(parent), Tally(), threading.Event()
    try:
        hall.start()
        with httpx.Client(base_url=hall.url, timeout=30) as client:
            who = {"email": "a@hall.example", "name": "Coach A", "password": PASSWORD}
            client.post("/api/first-coach", json=who).raise_for_status()
            made = client.post("/api/me/tokens", json={"id": str(uuid7()), "name": "chaos"})
            token = made.raise_for_status().json()["token"]
        people = [str(uuid7()) for _ in range(SESSIONS)]
        for one in people:
            prepare(Device(hall, token, tally), one)
        failed: list[BaseException] = []

        def lives(one: str) -> None:
            try:
                live(hall, token, tally, over, one)
            except BaseException as error:
                failed.append(error)
                raise

        threads = [threading.Thread(target=lives, args=(one,)) for one in people]
        for thread in threads:
            thread.start()
        try:
            kill(hall, tally, kills=kills, of_database=of_database)
        finally:
            over.set()
            for thread in threads:
                thread.join()
        lost, doubled, wrong = count(hall, tally)
    finally:
        hall.stop()
        shutil.rmtree(parent, ignore_errors=True)
    print(f"kills of the server {kills}, of PostgreSQL {of_database}")
    print(f"sessions {len(tally.events)}, three devices each; acknowledged {tally.acknowledged}")
    print(f"sent again {tally.again} times")
    print(f"lost {lost}, doubled {doubled}, miscounted {wrong}")
    return int(bool(lost or doubled or wrong or failed))


if __name__ == "__main__":
    sys.exit(main())
