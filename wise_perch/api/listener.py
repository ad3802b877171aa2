"""Hears from PostgreSQL what changed in which hall, and passes it on to whoever listens in this process.

Every process hears of every change, whoever made it: any number of them over one database behave as one.
"""

import asyncio
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from threading import Event, Thread
from typing import TypeAlias

import psycopg
import structlog

CHANNEL = "perch"
LOOK_S, AGAIN_S = 1.0, 1.0
"""How often the thread looks whether it is to end, and when it asks for the database again."""
MOST_WAITING = 1000
"""A page that is so far behind is told to ask for everything again."""
EVERYTHING = "everything"
log = structlog.get_logger()
Told: TypeAlias = "asyncio.Queue[str | None]"


class Listener:
    """One connection that listens, for all pages of this process."""

    def __init__(self, dsn: str) -> None:
        """Listen to the database of `dsn` once started."""
        self.dsn = dsn
        self._ends = Event()
        self._loop: asyncio.AbstractEventLoop | None = None
        self._pages: dict[str, set[Told]] = defaultdict(set)
        self._thread = Thread(target=self._listen, name="changes", daemon=True)

    def start(self) -> None:
        """Listen from now on, in a thread; what is heard is passed on in the running event loop."""
        self._loop = asyncio.get_running_loop()
        self._thread.start()

    def stop(self) -> None:
        """Stop listening, and end what pages hear."""
        self._ends.set()
        for pages in self._pages.values():
            for page in pages:
                page.put_nowait(None)

    @contextmanager
    def hears(self, hall: str) -> Iterator[Told]:
        """What a page of this hall hears, until the block ends; None says that the server ends."""
        told: Told = asyncio.Queue()
        self._pages[hall].add(told)
        try:
            yield told
        finally:
            self._pages[hall].discard(told)
            if not self._pages[hall]:
                del self._pages[hall]

    def _listen(self) -> None:
        first = True
        while not self._ends.is_set():
            try:
                with psycopg.connect(self.dsn, autocommit=True, connect_timeout=5) as db:
                    db.execute(f"listen {CHANNEL}")
                    if not first:
                        # what happened while nobody listened is not known: everything is asked for again
                        self._pass_on(None, EVERYTHING)
                    first = False
                    while not self._ends.is_set():
                        for heard in db.notifies(timeout=LOOK_S):
                            hall, _, said = heard.payload.partition(" ")
                            self._pass_on(hall, said)
            except (psycopg.Error, OSError) as error:
                log.warning("changes are not heard for now", error=str(error).splitlines()[0][:200])
            self._ends.wait(AGAIN_S)

    def _pass_on(self, hall: str | None, said: str) -> None:
        if self._loop is not None:
            # the loop may have ended meanwhile
            with suppress(RuntimeError):
                self._loop.call_soon_threadsafe(self._tell, hall, said)

    def _tell(self, hall: str | None, said: str) -> None:
        groups = list(self._pages.values()) if hall is None else [self._pages.get(hall, set())]
        for pages in groups:
            for page in pages:
                if page.qsize() < MOST_WAITING:
                    page.put_nowait(said)
                elif page.qsize() == MOST_WAITING:
                    page.put_nowait(EVERYTHING)
