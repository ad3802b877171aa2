"""Route by route: what an answer takes over HTTP from a real server process, beside the very statements it
sends to the database, sent bare; in halls of 20, 200 and 1,000 trainees with two years behind each.
"""

import gzip
import http.client
import json
import statistics
import subprocess
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import count
from math import log
from pathlib import Path
from typing import Any, LiteralString
from unittest.mock import patch

import psycopg
from fastapi.testclient import TestClient
from psycopg import sql
from uuid_utils.compat import uuid7

from bench.hall import Hall
from wise_perch.api.app import build_app
from wise_perch.api.auth import COOKIE
from wise_perch.api.settings import Settings
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.week.week_plan import monday_of
from wise_perch.machine import server
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.postgres import ADMIN, Cluster, free_port
from wise_perch.syllabus.shipped import in_use

TIMES = 25


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A request: `make` gives method, path and body anew each time. `keeps`: the table into which it
    writes a row of the body's id.
    """

    name: str
    make: Callable[[], tuple[str, str, Any]]
    keeps: LiteralString = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Took:
    """What a route took, ms: over HTTP, and its statements bare; how many those are, and bytes as sent."""

    ours: float
    bare: float
    statements: int
    bytes: int


def routes_of(hall: Hall, client: TestClient) -> list[Asked]:
    """The requests that are timed in a hall; what they need is there before."""
    who, now = hall.trainees[7], datetime.now(UTC)
    week = monday_of(now.date() + timedelta(days=7))
    syllabus = in_use()
    hold = next(
        d.drill for d in syllabus.drills.values() if d.gate.measure is Measure.HOLD and not d.gate.each_side
    )
    places = _places_for_tries(client, hall, now)
    days = [{"day": str(week + timedelta(days=n)), "place": "hall", "minutes": 55} for n in (0, 2, 4)]

    def a_try() -> tuple[str, str, Any]:
        run, number = next(places)
        made = {"id": str(uuid7()), "number": number, "at": now.isoformat(), "outcome": "overshot"}
        return "POST", f"/api/runs/{run}/tries", made

    def a_set() -> tuple[str, str, Any]:
        made = {"id": str(uuid7()), "at": now.isoformat(), "value": 3, "form": "clean"}
        return "POST", f"/api/trainees/{who}/drills/{hold}/sets", made

    def a_plan() -> tuple[str, str, Any]:
        made = {
            "id": str(uuid7()),
            "at": now.isoformat(),
            "week": str(week),
            "days": days,
            "kit": {"hall": ["wall"]},
        }
        return "POST", f"/api/trainees/{who}/plans", made

    def get(path: str) -> Callable[[], tuple[str, str, Any]]:
        return lambda: ("GET", path, None)

    page = f"/api/trainees/{who}"
    return [
        Asked(name="me", make=get("/api/me")),
        Asked(name="trainee page", make=get(page)),
        Asked(name="drill sheet", make=get(f"{page}/drills/{hall.drill}")),
        Asked(name="levers", make=get(f"{page}/levers")),
        Asked(
            name="a dial moved",
            make=lambda: ("POST", f"{page}/levers/pike-push-up/at", {"settings": {"hands-to-feet": 95}}),
        ),
        Asked(name="bench", make=get(f"{page}/tests")),
        Asked(name="a test before it starts", make=get(f"{page}/bench/free-tries")),
        Asked(name="floor of a trainee", make=get(f"{page}/floor")),
        Asked(name="measures", make=get(f"{page}/measures")),
        Asked(name="try kept", make=a_try, keeps="evidence"),
        Asked(name="set kept", make=a_set, keeps="evidence"),
        Asked(name="plan kept", make=a_plan, keeps="plan"),
        Asked(name="plan as kept", make=get(f"{page}/plan?week={week}")),
        Asked(name="plan not kept yet", make=get(f"{page}/plan?week={week + timedelta(days=7)}")),
        Asked(name="progress", make=get(f"{page}/progress")),
        Asked(name="one measure", make=get(f"{page}/progress/measures/{hall.drill}")),
        Asked(name="the group", make=get("/api/group")),
        Asked(name="Today", make=get("/api/today")),
        Asked(name="trainees", make=get("/api/trainees")),
        Asked(name="everybody's week", make=get(f"/api/plan-week?week={week}")),
        Asked(name="floor", make=get("/api/floor")),
    ]


def _places_for_tries(client: TestClient, hall: Hall, now: datetime) -> Iterator[tuple[str, int]]:
    """A run and a number for each try, run after run."""
    for n in count():
        run, who = str(uuid7()), hall.trainees[n % len(hall.trainees)]
        body = {
            "id": run,
            "test": "free-tries",
            "started_at": (now + timedelta(seconds=n)).isoformat(),
            "rest_s": 45,
        }
        assert client.post(f"/api/trainees/{who}/runs", json=body).status_code == 201
        for number in range(1, in_use().free_tries.most_tries + 1):
            yield run, number


@contextmanager
def recorded() -> Iterator[list[tuple[Any, Any]]]:
    """Every statement of this process with its values, but for those that begin, end or try a connection."""
    found: list[tuple[Any, Any]] = []
    sent = psycopg.Cursor.execute

    def keeping(self: Any, query: Any, params: Any = None, **more: Any) -> Any:
        if str(query).strip():
            found.append((query, params))
        return sent(self, query, params, **more)

    with patch.object(psycopg.Cursor, "execute", keeping):
        yield found


class Caller:
    """One connection to a server that stays open, as a browser has it."""

    def __init__(self, port: int, hall: Hall) -> None:
        """Sign in by the hall's open session."""
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
        self.headers = {
            "Cookie": f"{COOKIE}={hall.signed_in}",
            "Accept-Encoding": "gzip",
            "Content-Type": "application/json",
            "Origin": f"http://127.0.0.1:{port}",
        }

    def fetch(self, method: str, path: str, body: Any = None) -> bytes:
        """Ask, and give the answer as it was sent."""
        sent = json.dumps(body) if body is not None else None
        self.connection.request(method, path, sent, self.headers)
        answer = self.connection.getresponse()
        got = answer.read()
        assert answer.status < 300, (answer.status, path, got[:300])
        return got

    def ask(self, method: str, path: str, body: Any = None) -> int:
        """Ask, and say how many bytes the answer had."""
        return len(self.fetch(method, path, body))

    def today(self, *, again: bool = False) -> list[dict[str, Any]]:
        """Today as it is ready."""
        got = self.fetch("GET", "/api/today?again=true" if again else "/api/today")
        found: list[dict[str, Any]] = json.loads(gzip.decompress(got) if got[:2] == b"\x1f\x8b" else got)
        return found

    def renew(self) -> None:
        """Begin a new connection: the server closes one that nothing was asked over for a while."""
        self.connection.close()


@contextmanager
def served(database: str, *, long_work: bool = False, web: Path = DIST) -> Iterator[int]:
    """A real server process for a database; its port."""
    port = free_port()
    process = subprocess.Popen(
        server.command(port),
        cwd=ROOT,
        env=server.environment(database=database, web=web, demo="") | {"PERCH_LONG_WORK": str(long_work)},
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        server.wait_until_it_answers(port, process)
        yield port
    finally:
        process.terminate()
        process.wait()


def median_ms(work: Callable[[], object], times: int = TIMES) -> float:
    """The median of calls one after the other, ms."""
    found = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        found.append((time.perf_counter() - begun) * 1000)
    return statistics.median(found)


def measure(cluster: Cluster, hall: Hall, *, times: int = TIMES) -> dict[str, Took]:
    """Time every route of a hall."""
    dsn, found = cluster.dsn(hall.database), {}
    with ExitStack() as stack:
        app = build_app(Settings(database=dsn, long_work=False))
        client = stack.enter_context(TestClient(app, base_url="http://127.0.0.1"))
        client.cookies.set(COOKIE, hall.signed_in)
        caller = Caller(stack.enter_context(served(dsn)), hall)
        bare = stack.enter_context(psycopg.connect(dsn, autocommit=True))
        while any(row["brief"] is None for row in caller.today()):
            pass
        for asked in routes_of(hall, client):
            caller.renew()
            caller.ask(*asked.make()), caller.ask(*asked.make())
            sent = [_statements_of(client, asked) for _ in range(times + 1 if asked.keeps else 2)]
            ids = [body["id"] for _, body in sent if asked.keeps]
            ready = [asked.make() for _ in range(times)]
            caller.renew()
            size = caller.ask(*asked.make())
            requests = iter(ready)
            ours = median_ms(lambda: caller.ask(*next(requests)), times)  # noqa: B023 - called at once
            if ids:
                # taken out, so that the bare statements have the same to write
                with psycopg.connect(cluster.dsn(hall.database, role=ADMIN)) as admin:
                    table = sql.Identifier(asked.keeps)
                    admin.execute(sql.SQL("delete from {} where id = any(%s)").format(table), [ids])
            statements = [s for s, _ in sent] if ids else [sent[-1][0]] * (times + 1)
            took = bare_ms(bare, statements, end="commit" if ids else "rollback")
            found[asked.name] = Took(ours=ours, bare=took, statements=len(sent[-1][0]), bytes=size)
    return found


def _statements_of(client: TestClient, asked: Asked) -> tuple[list[tuple[Any, Any]], Any]:
    """The statements that one request sends, and its body."""
    method, path, body = asked.make()
    with recorded() as sent:
        answer = client.request(method, path, json=body)
    assert answer.status_code < 300, answer.text
    return list(sent), body


def bare_ms(
    db: psycopg.Connection, requests: Sequence[Sequence[tuple[Any, Any]]], *, end: LiteralString
) -> float:
    """The very statements of requests by themselves, their rows fetched and turned to Python on both sides;
    what is written is written.
    """
    left = iter(requests)

    def again() -> None:
        for query, values in next(left):
            cursor = db.execute(query, values)
            if cursor.description:
                cursor.fetchall()
        db.execute(end)

    again()
    return median_ms(again, len(requests) - 1)


def print_table(found: dict[int, dict[str, Took]]) -> None:
    """Print the routes with what they took in each hall, and the exponent of their growth with trainees."""
    sizes = sorted(found)
    few, many = sizes[0], sizes[-1]
    print(
        f"{'route':<26}"
        + "".join(f"{n:>8} ms" for n in sizes)
        + "    bare   ratio  stmts    bytes  growth  exponent"
    )
    for name, last in found[many].items():
        grown = last.ours / found[few][name].ours
        exponent = log(grown) / log(many / few)
        print(
            f"{name:<26}"
            + "".join(f"{found[n][name].ours:>11.1f}" for n in sizes)
            + f"{last.bare:>8.1f}{last.ours / last.bare:>8.1f}{last.statements:>7}{last.bytes:>9}"
            f"{grown:>8.2f}{exponent:>10.2f}",
            flush=True,
        )


def first_look(cluster: Cluster, hall: Hall, *, without: LiteralString) -> tuple[float, float, int]:
    """Today with nothing of these tables kept: seconds to the first answer, to the whole, and how often it
    was asked for.
    """
    with psycopg.connect(cluster.dsn(hall.database, role=ADMIN), autocommit=True) as db:
        db.execute(sql.SQL("truncate ") + sql.SQL(without))
    with served(cluster.dsn(hall.database)) as port:
        caller, asked, first = Caller(port, hall), 0, 0.0
        begun = time.perf_counter()
        while True:
            rows = caller.today(again=asked > 0)
            asked += 1
            first = first or time.perf_counter() - begun
            if all(row["brief"] for row in rows):
                return first, time.perf_counter() - begun, asked


def after_one_try(cluster: Cluster, hall: Hall) -> float:
    """Today right after a try of one trainee was kept, ms."""
    dsn, times = cluster.dsn(hall.database), []
    with ExitStack() as stack:
        app = build_app(Settings(database=dsn, long_work=False))
        client = stack.enter_context(TestClient(app, base_url="http://127.0.0.1"))
        client.cookies.set(COOKIE, hall.signed_in)
        tries = next(a for a in routes_of(hall, client) if a.name == "try kept")
        ready = [tries.make() for _ in range(TIMES)]
        caller = Caller(stack.enter_context(served(dsn)), hall)
        while any(row["brief"] is None for row in caller.today()):
            pass
        for asked in ready:
            caller.ask(*asked)
            begun = time.perf_counter()
            caller.ask("GET", "/api/today")
            times.append((time.perf_counter() - begun) * 1000)
    return statistics.median(times)
