"""What changes in a hall, told as it happens: server-sent events, as the HTML standard has them."""

import asyncio
from collections.abc import AsyncIterator, Callable
from typing import Annotated

from fastapi import APIRouter, Depends, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse
from fastapi.security import HTTPAuthorizationCredentials

from wise_perch.api.auth import BY_COOKIE, BY_TOKEN, App, TheApp, known_coach
from wise_perch.api.errors import Refused
from wise_perch.api.members import SignedIn

router = APIRouter(tags=["changes"])
STAYS_S = 15.0
"""So often a line is sent where nothing changes, so that nobody between takes the connection for dead, and it
is asked whether who listens may still.
"""
ASK_AGAIN_MS = 2000
"""How long a browser waits before it asks again once the connection is gone."""
PEOPLE_CHANGED = "hall membership"
EVENTS = {200: {"content": {"text/event-stream": {"schema": {"type": "string"}}}}}


@router.get("/changes", response_class=StreamingResponse, responses=EVENTS)  # type: ignore[arg-type]
async def tell_changes(
    request: Request,
    app: TheApp,
    member: SignedIn,
    cookie: Annotated[str | None, Depends(BY_COOKIE)],
    bearer: Annotated[HTTPAuthorizationCredentials | None, Depends(BY_TOKEN)],
) -> StreamingResponse:
    """Tell each change of this hall as an event, `kind id page`: whose data to ask for again, and which page
    did it. No data is in it. It ends when who listens signs out or leaves.
    """

    def may_still() -> bool:
        try:
            return known_coach(app, cookie, bearer).hall == member.hall
        except Refused:
            return False

    return StreamingResponse(
        _tell(request, app, str(member.hall), may_still),
        media_type="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )


async def _tell(request: Request, app: App, hall: str, may_still: Callable[[], bool]) -> AsyncIterator[str]:
    with app.listener.hears(hall) as told:
        yield f"retry: {ASK_AGAIN_MS}\n\n"
        while not await request.is_disconnected():
            try:
                said = await asyncio.wait_for(told.get(), STAYS_S)
            except TimeoutError:
                said = ""
            if said is None:
                return
            if (not said or said.startswith(PEOPLE_CHANGED)) and not await run_in_threadpool(may_still):
                return
            yield f"data: {said}\n\n" if said else ": still here\n\n"
