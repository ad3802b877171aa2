"""Builds the application: routers, errors, security headers, and the browser side's files."""

import gc
from collections.abc import AsyncIterator, Collection
from contextlib import asynccontextmanager, suppress
from pathlib import Path

from fastapi import APIRouter, Depends, FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wise_perch import __version__
from wise_perch.api import errors
from wise_perch.api.auth import App, check_origin
from wise_perch.api.long_work import WORK
from wise_perch.api.queue import Queue
from wise_perch.api.routes import (
    arrangements,
    bench,
    drills,
    files,
    floor,
    jobs,
    kit,
    ladders,
    levers,
    measures,
    plan_files,
    plans,
    runs,
    session,
    sharing,
    syllabus,
    test_days,
    trainees,
)
from wise_perch.api.settings import Settings
from wise_perch.store.pool import make_pool
from wise_perch.syllabus import built_in

HEADERS = {
    b"content-security-policy": (
        b"default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:;"
        b" font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none';"
        b" form-action 'self'; frame-ancestors 'none'"
    ),
    b"x-content-type-options": b"nosniff",
    b"referrer-policy": b"no-referrer",
    b"cross-origin-opener-policy": b"same-origin",
    b"permissions-policy": b"camera=(), microphone=(), geolocation=()",
}


def host_of(scope: Scope) -> str:
    """The name a request calls this server by, in small letters and without a port; empty where it gives
    none.
    """
    named: str = dict(scope["headers"]).get(b"host", b"").decode("latin-1").lower()
    return named.partition("]")[0] + "]" if named.startswith("[") else named.partition(":")[0]


class Guard:
    """Around every request: the names it may come by, security headers on the answer, a bound on the body."""

    def __init__(self, app: ASGIApp, *, most_bytes: int, hosts: Collection[str]) -> None:
        """Wrap `app`, taking bodies of at most `most_bytes`, and requests that call it by one of `hosts`."""
        self.app, self.most_bytes, self.hosts = app, most_bytes, hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        private = scope["path"].startswith("/api/")

        over = False

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                extra = [*HEADERS.items(), *([(b"cache-control", b"no-store")] if private else [])]
                message = {**message, "headers": [*message.get("headers", []), *extra]}
            await send(message)

        if (refused := self._refused(scope)) is not None:
            await refused(scope, receive, send_with_headers)
            return
        taken = 0

        async def counted() -> Message:
            nonlocal taken, over
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > self.most_bytes:
                over = True
                return {"type": "http.disconnect"}
            return message

        async def send_unless_over(message: Message) -> None:
            # whatever the application makes of a body cut short, the answer is that it was too large
            if not over:
                await send_with_headers(message)

        with suppress(ClientDisconnect):
            await self.app(scope, counted, send_unless_over)
        if over:
            await self._too_large()(scope, receive, send_with_headers)

    def _refused(self, scope: Scope) -> Response | None:
        """What a request is answered with before anything of it is looked at; None where it may pass."""
        host = host_of(scope)
        # a page elsewhere whose name was pointed at this machine calls it by its own name
        if "*" not in self.hosts and host not in self.hosts:
            return errors.problem(
                421,
                f"This server does not go by the name {host[:80]}. Whoever runs it adds it to PERCH_HOSTS.",
            )
        declared = dict(scope["headers"]).get(b"content-length", b"0")
        return self._too_large() if declared.isdigit() and int(declared) > self.most_bytes else None

    def _too_large(self) -> Response:
        return errors.problem(
            413,
            f"That is larger than {self.most_bytes // (1024 * 1024)} MiB, the most taken at once. Split the"
            " file and send the parts.",
        )


def build_app(settings: Settings) -> FastAPI:
    """Build the application. It opens its database pool when served, and checks the syllabus before anything
    else.
    """
    built_in()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        pool = make_pool(settings.database, most=settings.connections)
        # not waiting: with the database down the app still answers, and says so
        pool.open(wait=False)
        queue = Queue(settings.database, pool, WORK)
        app.state.perch = App(pool=pool, settings=settings, queue=queue)
        if settings.long_work:
            queue.start()
        yield
        await queue.stop()
        pool.close()

    app = FastAPI(
        title="Wise Perch",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
    )
    app.add_middleware(Guard, most_bytes=settings.upload_bytes, hosts=settings.hosts.lower().split())
    errors.install(app)
    api = APIRouter(prefix="/api", dependencies=[Depends(check_origin)])
    for room in (
        session,
        trainees,
        drills,
        arrangements,
        bench,
        runs,
        kit,
        test_days,
        ladders,
        levers,
        measures,
        syllabus,
        files,
        plans,
        plan_files,
        jobs,
        floor,
        sharing,
    ):
        api.include_router(room.router)
    app.include_router(api)
    if settings.web:
        _serve_web(app, settings.web)
    return app


def _serve_web(app: FastAPI, folder: Path) -> None:
    """Serve the built browser side; every path that is no file is a screen, which the page finds itself."""
    app.mount("/assets", StaticFiles(directory=folder / "assets"), name="assets")

    @app.get("/api/{rest:path}", include_in_schema=False)
    def no_such_api(rest: str) -> Response:
        return errors.problem(404, f"There is nothing at /api/{rest}.")

    @app.get("/{path:path}", include_in_schema=False)
    def screen(path: str) -> Response:
        if path in ("icon.svg", "worker.js", "manifest.webmanifest"):
            return FileResponse(folder / path, headers={"Cache-Control": "no-cache"})
        return FileResponse(folder / "index.html", headers={"Cache-Control": "no-cache"})


def from_environment() -> FastAPI:
    """Build the application from PERCH_ variables; what the server process calls."""
    made = build_app(Settings())
    # what stands at the start never goes: looking through it again with every collection would be for nothing
    gc.collect()
    gc.freeze()
    return made
