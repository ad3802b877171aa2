"""The one place that turns errors into answers: RFC 9457 problem details with a sentence a person can
act on.
"""

from http import HTTPStatus
from typing import Any

import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from wise_perch.core.bench.ready import NotRun
from wise_perch.core.bench.runs import OutOfUse
from wise_perch.store.errors import Conflict, NotFound, StoreError, Unavailable

structlog.configure(
    processors=[
        structlog.contextvars.merge_contextvars,
        structlog.processors.add_log_level,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
        # plain: a traceback with every value in it takes half a minute, and says of people what no log should
        structlog.dev.ConsoleRenderer(colors=False, exception_formatter=structlog.dev.plain_traceback),
    ]
)
log = structlog.get_logger()
STATUS: dict[type[StoreError], int] = {NotFound: 404, Conflict: 409, Unavailable: 503}


class Refused(Exception):
    """A request that cannot be done, with the status and the sentence that says why."""

    def __init__(
        self,
        status: int,
        detail: str,
        *,
        problems: list[dict[str, Any]] | None = None,
        headers: dict[str, str] | None = None,
    ) -> None:
        """Refuse with `status`, `detail`, and optionally a list of problems by place."""
        super().__init__(detail)
        self.status, self.detail, self.problems, self.headers = status, detail, problems, headers


def problem(
    status: int,
    detail: str,
    *,
    problems: list[dict[str, Any]] | None = None,
    headers: dict[str, str] | None = None,
) -> JSONResponse:
    """Make a problem details answer."""
    body: dict[str, Any] = {
        "type": "about:blank",
        "title": HTTPStatus(status).phrase,
        "status": status,
        # a sentence may quote what was sent, and half a letter cannot be written
        "detail": detail.encode("utf-8", "replace").decode("utf-8"),
    }
    if problems is not None:
        body["problems"] = problems
    return JSONResponse(body, status_code=status, media_type="application/problem+json", headers=headers)


def _say_place(location: tuple[int | str, ...]) -> str:
    return ".".join(str(part) for part in location if part not in ("body", "query", "path"))


def install(app: FastAPI) -> None:
    """Register a handler for every kind of error the app knows."""

    @app.exception_handler(Refused)
    def refused(_: Request, error: Refused) -> JSONResponse:
        return problem(error.status, error.detail, problems=error.problems, headers=error.headers)

    @app.exception_handler(NotRun)
    @app.exception_handler(OutOfUse)
    def of_bench(_: Request, error: Exception) -> JSONResponse:
        return problem(404 if isinstance(error, OutOfUse) else 422, str(error))

    @app.exception_handler(StoreError)
    def of_store(_: Request, error: StoreError) -> JSONResponse:
        status = next(code for kind, code in STATUS.items() if isinstance(error, kind))
        return problem(status, str(error), headers={"Retry-After": "5"} if status == 503 else None)

    @app.exception_handler(RequestValidationError)
    def invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        found = [
            {"where": _say_place(e["loc"]), "what": e["msg"].removeprefix("Value error, ")}
            for e in error.errors()
        ]
        sentence = "; ".join(f"{p['where']}: {p['what']}" if p["where"] else p["what"] for p in found[:5])
        return problem(422, f"This cannot be kept as it is. {sentence}", problems=found)

    @app.exception_handler(HTTPException)
    def of_http(_: Request, error: HTTPException) -> JSONResponse:
        return problem(
            error.status_code, str(error.detail), headers=dict(error.headers) if error.headers else None
        )

    @app.exception_handler(Exception)
    def unforeseen(request: Request, error: Exception) -> JSONResponse:
        log.error("unforeseen", path=request.url.path, exc_info=error)
        return problem(
            500,
            "Something went wrong on the server. It is in the server's log. What you entered stays in this"
            " browser.",
        )
