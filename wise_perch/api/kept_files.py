"""What is sent only once: built files that never change, and answers a reader has already."""

import hashlib
import os
from mimetypes import guess_type
from pathlib import Path

from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

IMMUTABLE = "public, max-age=31536000, immutable"
"""A built file carries its content's hash in its name."""


class KeptFiles(StaticFiles):
    """Built files: never asked for twice, and compressed when they were built."""

    def file_response(
        self,
        full_path: "os.PathLike[str] | str",
        stat_result: os.stat_result,
        scope: Scope,
        status_code: int = 200,
    ) -> Response:
        """Give a file, compressed where a compressed one lies beside it and the reader takes it."""
        compressed = Path(f"{full_path}.gz")
        takes = "gzip" in Headers(scope=scope).get("accept-encoding", "")
        if takes and compressed.exists():
            answer = super().file_response(compressed, compressed.stat(), scope, status_code)
            if answer.status_code == 200:
                answer.headers["Content-Type"] = guess_type(full_path)[0] or "application/octet-stream"
            answer.headers["Content-Encoding"] = "gzip"
        else:
            answer = super().file_response(full_path, stat_result, scope, status_code)
        answer.headers["Cache-Control"] = IMMUTABLE
        answer.headers["Vary"] = "Accept-Encoding"
        return answer


class Tagged:
    """Gives what is read from the api a tag, and answers 304 to a reader that names it."""

    def __init__(self, app: ASGIApp) -> None:
        """Wrap `app`."""
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on; an answer of one piece gets the tag of its body."""
        if scope["type"] != "http" or scope["method"] != "GET" or not scope["path"].startswith("/api/"):
            await self.app(scope, receive, send)
            return
        asked = Headers(scope=scope).get("if-none-match", "")
        start: Message | None = None

        async def tagged(message: Message) -> None:
            nonlocal start
            if message["type"] == "http.response.start" and message["status"] == 200:
                start = message
                return
            if start is None:
                await send(message)
                return
            first, start = start, None
            if message.get("more_body", False):
                await send(first)
                await send(message)
                return
            tag = f'W/"{hashlib.blake2b(message.get("body", b""), digest_size=16).hexdigest()}"'
            headers = [*first["headers"], (b"etag", tag.encode())]
            if tag in (one.strip() for one in asked.split(",")):
                kept = [(n, v) for n, v in headers if n.lower() not in (b"content-length", b"content-type")]
                await send({**first, "status": 304, "headers": kept})
                await send({"type": "http.response.body", "body": b""})
                return
            await send({**first, "headers": headers})
            await send(message)

        await self.app(scope, receive, tagged)
