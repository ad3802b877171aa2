"""How many requests a second a server answers, over eight connections that never wait, beside a bare route of
the same framework in the same run. The caller is one process of few instructions a request; it takes its
share of the two cores, from the bare route too.
"""

import asyncio
import json
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from itertools import count

from fastapi import FastAPI
from uuid_utils.compat import uuid7

from bench.hall import Hall
from bench.routes import Caller, served
from wise_perch.api.auth import COOKIE
from wise_perch.machine.places import ROOT
from wise_perch.machine.postgres import free_port
from wise_perch.syllabus.shipped import in_use

CONNECTIONS = 8
bare = FastAPI()


@bare.get("/bare")
async def bare_route() -> dict[str, bool]:
    """Answer, and nothing else."""
    return {"ok": True}


def request(method: str, path: str, *, cookie: str = "", body: object = None) -> bytes:
    """A request as it goes over the line."""
    sent = b"" if body is None else json.dumps(body).encode()
    head = f"{method} {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nAccept-Encoding: gzip\r\n"
    head += f"Content-Length: {len(sent)}\r\n"
    if cookie:
        head += f"Cookie: {COOKIE}={cookie}\r\n"
    if sent:
        head += "Content-Type: application/json\r\n"
    return head.encode() + b"\r\n" + sent


async def _call(port: int, requests: Iterator[bytes], until: float, times: list[float]) -> None:
    reader, writer = await asyncio.open_connection("127.0.0.1", port)
    for sent in requests:
        begun = time.perf_counter()
        writer.write(sent)
        head = await reader.readuntil(b"\r\n\r\n")
        assert head[9:10] == b"2", head
        length = next(int(x[16:]) for x in head.lower().split(b"\r\n") if x.startswith(b"content-length: "))
        await reader.readexactly(length)
        now = time.perf_counter()
        times.append(now - begun)
        if now > until:
            break
    writer.close()


def rate(port: int, make: Callable[[], Iterator[bytes]], *, seconds: float = 3.0) -> tuple[float, float]:
    """Requests a second, and the median answer, ms."""
    times: list[float] = []

    async def all_at_once() -> float:
        begun = time.perf_counter()
        await asyncio.gather(*(_call(port, make(), begun + seconds, times) for _ in range(CONNECTIONS)))
        return time.perf_counter() - begun

    took = asyncio.run(all_at_once())
    return len(times) / took, sorted(times)[len(times) // 2] * 1000


@contextmanager
def bare_server() -> Iterator[int]:
    """The bare route, served as ours is."""
    port = free_port()
    words = [sys.executable, "-m", "uvicorn", "bench.requests:bare", "--port", str(port), "--no-access-log"]
    process = subprocess.Popen(words, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        Waiting(port).until_it_answers()
        yield port
    finally:
        process.terminate()
        process.wait()


class Waiting:
    """Waits for the bare server."""

    def __init__(self, port: int) -> None:
        """Wait for what listens on `port`."""
        self.port = port

    def until_it_answers(self) -> None:
        """Ask until there is an answer."""
        for _ in range(400):
            try:
                rate(self.port, lambda: iter([request("GET", "/bare")]), seconds=0)
                return
            except OSError:
                time.sleep(0.05)


def forever(one: bytes) -> Callable[[], Iterator[bytes]]:
    """The same request again and again."""

    def make() -> Iterator[bytes]:
        while True:
            yield one

    return make


def tries(caller: Caller, hall: Hall) -> Callable[[], Iterator[bytes]]:
    """New tries, each connection into runs of its own, begun before the time is taken."""
    now, most = datetime.now(UTC), in_use().free_tries.most_tries
    turns = count()

    def make() -> Iterator[bytes]:
        runs = []
        for _ in range(60 // CONNECTIONS + 1):
            n = next(turns)
            run = str(uuid7())
            at = (now + timedelta(seconds=n)).isoformat()
            body = {"id": run, "test": "free-tries", "started_at": at, "rest_s": 45}
            caller.ask("POST", f"/api/trainees/{hall.trainees[n % len(hall.trainees)]}/runs", body)
            runs.append(run)
        sent = [
            request(
                "POST",
                f"/api/runs/{run}/tries",
                cookie=hall.signed_in,
                body={"id": str(uuid7()), "number": n, "at": now.isoformat(), "outcome": "overshot"},
            )
            for run in runs
            for n in range(1, most + 1)
        ]
        return iter(sent)

    return make


def rates(dsn: str, hall: Hall) -> dict[str, tuple[float, float]]:
    """Requests a second and the median answer of the bare route, of tries, of Today and of a page."""
    found = {}
    with bare_server() as port:
        rate(port, forever(request("GET", "/bare")), seconds=1)
        found["bare route"] = rate(port, forever(request("GET", "/bare")))
    with served(dsn) as port:
        caller = Caller(port, hall)
        while any(row["brief"] is None for row in caller.today()):
            pass
        made = tries(caller, hall)
        ready = [made() for _ in range(CONNECTIONS)]
        found["tries"] = rate(port, lambda: ready.pop())
        caller.renew()
        today = request("GET", "/api/today", cookie=hall.signed_in)
        found["Today"] = rate(port, forever(today))
        me = request("GET", "/api/me", cookie=hall.signed_in)
        found["me"] = rate(port, forever(me))
        page = request("GET", f"/api/trainees/{hall.trainees[1]}", cookie=hall.signed_in)
        found["trainee page"] = rate(port, forever(page))
    return found
