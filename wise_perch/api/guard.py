"""What stands around every request: the names it may come by, bounds on its size and its time, security
headers.
"""

import asyncio
from collections.abc import Awaitable, Collection
from contextlib import suppress
from time import monotonic

from fastapi.responses import Response
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wise_perch.api import errors

HEADERS = {
    b"content-security-policy": (
        b"default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline';"
        b" img-src 'self' data:; media-src 'self' blob:; font-src 'self'; connect-src 'self';"
        b" manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'self';"
        b" frame-ancestors 'none'"
    ),
    b"x-content-type-options": b"nosniff",
    b"referrer-policy": b"no-referrer",
    b"cross-origin-opener-policy": b"same-origin",
    b"permissions-policy": b"camera=(self), microphone=(), geolocation=()",
}
LONG = ("/api/archive", "/api/changes")
"""A whole hall goes through here, or stays to be told what changes: it may take longer, by so much:"""
LONG_TIMES = 32


def host_of(scope: Scope) -> str:
    """The name a request calls this server by, in small letters and without a port; empty where it gives
    none.
    """
    named: str = dict(scope["headers"]).get(b"host", b"").decode("latin-1").lower()
    return named.partition("]")[0] + "]" if named.startswith("[") else named.partition(":")[0]


class _Passing:
    """One request on its way in, counted and timed."""

    def __init__(self, receive: Receive, *, most_bytes: float, until: float) -> None:
        self.receive, self.most_bytes, self.until = receive, most_bytes, until
        self.taken, self.whole = 0, False
        self.over: Response | None = None

    async def __call__(self) -> Message:
        if self.whole:
            return await self.receive()
        try:
            async with asyncio.timeout(max(self.until - monotonic(), 0)):
                message = await self.receive()
        except TimeoutError:
            self.over = errors.problem(408, "The rest of this request did not arrive. Nothing was kept.")
            return {"type": "http.disconnect"}
        self.taken += len(message.get("body", b""))
        self.whole = not message.get("more_body", False)
        if self.taken > self.most_bytes:
            self.over = too_large(self.most_bytes)
            return {"type": "http.disconnect"}
        return message


def too_large(most_bytes: float) -> Response:
    """The answer to a body that is larger than what is taken."""
    return errors.problem(
        413,
        f"That is larger than {most_bytes / (1024 * 1024):.0f} MiB, the most taken at once. Split the file"
        " and send the parts.",
    )


def too_long(seconds: float) -> Response:
    """The answer to what takes longer than it may."""
    return errors.problem(
        503,
        f"This took longer than {seconds:.0f} s and was broken off. Look whether it was kept; sending it"
        " again is safe.",
        headers={"Retry-After": "5"},
    )


def with_headers(start: Message, *, private: bool) -> Message:
    """Give an answer's start with the headers of every answer; what is `private` stays in nobody's cache
    unless it says otherwise.
    """
    told = {name.lower() for name, _ in start.get("headers", [])}
    kept = [(b"cache-control", b"no-store")] if private and b"cache-control" not in told else []
    return {**start, "headers": [*start.get("headers", []), *HEADERS.items(), *kept]}


class _Answering:
    """One answer on its way out, with the headers of every answer."""

    def __init__(self, send: Send, *, headless: bool, private: bool) -> None:
        self.send, self.headless, self.private = send, headless, private
        self.begun = False

    async def __call__(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.begun = True
            message = with_headers(message, private=self.private)
        elif self.headless:
            message = {**message, "body": b""}
        await self.send(message)


class Guard:
    """Around every request: the names it may come by, headers on the answer, bounds on body and time."""

    def __init__(self, app: ASGIApp, *, most_bytes: int, hosts: Collection[str], answer_s: float) -> None:
        """Wrap `app`, taking bodies of at most `most_bytes` and requests that call it by one of `hosts`, each
        answered within `answer_s` seconds.
        """
        self.app, self.most_bytes, self.hosts, self.answer_s = app, most_bytes, hosts, answer_s

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        times = LONG_TIMES if scope["path"] in LONG else 1
        # the head of a page is its page without the body
        headless = scope["method"] == "HEAD"
        if headless:
            scope = {**scope, "method": "GET"}
        answer = _Answering(send, headless=headless, private=scope["path"].startswith("/api/"))
        if (refused := self._refused(scope, self.most_bytes * times)) is not None:
            await refused(scope, receive, answer)
            return
        # a body has half of the time: the rest is for what is done with it
        until = monotonic() + self.answer_s * times / 2
        passing = _Passing(receive, most_bytes=self.most_bytes * times, until=until)

        async def send_unless_over(message: Message) -> None:
            # whatever the application makes of a body cut short, the answer is that it was
            if passing.over is None:
                await answer(message)

        if not await self._in_time(self.app(scope, passing, send_unless_over), self.answer_s * times):
            passing.over = passing.over or too_long(self.answer_s * times)
        if passing.over is not None and not answer.begun:
            await passing.over(scope, receive, answer)

    async def _in_time(self, answering: Awaitable[None], seconds: float) -> bool:
        """Wait for an answer so long, and say whether it came."""
        try:
            async with asyncio.timeout(seconds):
                with suppress(ClientDisconnect):
                    await answering
        except TimeoutError:
            return False
        return True

    def _refused(self, scope: Scope, most_bytes: int) -> Response | None:
        """What a request is answered with before anything of it is looked at; None where it may pass."""
        host = host_of(scope)
        # a page elsewhere whose name was pointed at this machine calls it by its own name
        if "*" not in self.hosts and host not in self.hosts:
            return errors.problem(
                421,
                f"This server does not go by the name {host[:80]}. Whoever runs it adds it to PERCH_HOSTS.",
            )
        declared = dict(scope["headers"]).get(b"content-length", b"0")
        return too_large(most_bytes) if declared.isdigit() and int(declared) > most_bytes else None
