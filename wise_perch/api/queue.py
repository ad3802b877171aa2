"""The queue of long work: kept in PostgreSQL, taken up by this process, and again after it was killed.

Nobody waits for it: a page asks how far it has come, and a closed tab stops nothing.
"""

import asyncio
from collections.abc import Callable, Mapping
from contextlib import suppress
from datetime import UTC, datetime
from threading import Event
from typing import TYPE_CHECKING, Any
from uuid import UUID

import structlog
from psycopg import Connection

from wise_perch.core.trainee.hall import Member
from wise_perch.store import jobs
from wise_perch.store.errors import NotFound, StoreError, Unavailable
from wise_perch.store.jobs import Job, JobKind
from wise_perch.store.pool import Pool, transaction

if TYPE_CHECKING:
    import procrastinate

TASK, AT_ONCE = "run-job", 2
"""Two pieces of work go on beside each other."""
TRY_AGAIN_S, POLL_S, TRIES = 1.0, 2.0, 1000
"""Where the database is gone it is asked for again, and the work begun again, after so many seconds."""
log = structlog.get_logger()


class StoppedEarly(Exception):
    """The work was asked to stop, or the process ends."""


class Steps:
    """How a piece of work says how far it has come."""

    def __init__(self, pool: Pool, member: Member, job: UUID, ends: Event) -> None:
        """Speak for one job of whoever asked for it; `ends` is set when the process stops."""
        self.pool, self.member, self.job, self.ends = pool, member, job, ends
        self.wrong: list[str] = []
        self.done = 0

    def come_to(self, done: int, wrong: str = "") -> None:
        """Say that so many steps are done, and what could not be. Raises StoppedEarly where it is to stop."""
        self.done = done
        if wrong:
            self.wrong.append(wrong)
        if self.ends.is_set():
            raise StoppedEarly
        with transaction(self.pool, member=self.member) as db:
            if not jobs.come_to(db, self.job, done=done, wrong=self.wrong):
                raise StoppedEarly


Work = Callable[[Pool, Member, Job, Steps], Mapping[str, Any] | None]
"""What does one kind of work: for a coach, a job, telling its steps; returns what it came to."""


class Queue:
    """The queue of one server process."""

    def __init__(self, dsn: str, pool: Pool, work: Mapping[JobKind, Work]) -> None:
        """Work on the database of `dsn`; `pool` serves what the work itself reads and writes."""
        self.dsn, self.pool, self.work = dsn, pool, work
        self.ends = Event()
        self._task: asyncio.Task[None] | None = None

    def start(self) -> None:
        """Take up work from now on."""
        self._task = asyncio.create_task(self._keep_working())

    async def stop(self) -> None:
        """Let work end at its next step; it is taken up again by whoever starts next."""
        self.ends.set()
        if self._task:
            self._task.cancel()
            with suppress(asyncio.CancelledError):
                await self._task

    def defer(self, db: Connection, member: Member, job: UUID) -> None:
        """Put a job into the queue, in the transaction that keeps it."""
        # loaded when first needed: it takes half a second
        import procrastinate

        # deferring goes by the connection it is given, and this connector never opens one of its own
        asks = procrastinate.App(connector=procrastinate.SyncPsycopgConnector())
        task = asks.configure_task(TASK, allow_unknown=True, queue="perch", lock=str(job), connection=db)
        task.defer(coach=str(member.coach), hall=str(member.hall), job=str(job))

    def _make(self) -> "procrastinate.App":
        import procrastinate

        connector = procrastinate.PsycopgConnector(conninfo=self.dsn, min_size=1, max_size=AT_ONCE + 1)
        made = procrastinate.App(connector=connector)
        again = procrastinate.RetryStrategy(
            max_attempts=TRIES, wait=int(POLL_S), retry_exceptions=[Unavailable]
        )
        made.task(name=TASK, queue="perch", retry=again)(self.run)
        return made

    async def _keep_working(self) -> None:
        queue = await asyncio.to_thread(self._make)
        while True:
            try:
                async with queue.open_async():
                    await self._take_up_again(queue)
                    await queue.run_worker_async(
                        concurrency=AT_ONCE,
                        install_signal_handlers=False,
                        delete_jobs="always",
                        fetch_job_polling_interval=POLL_S,
                    )
            except asyncio.CancelledError:
                raise
            except Exception as error:
                log.warning("the queue of long work was interrupted", error=str(error))
            await asyncio.sleep(TRY_AGAIN_S)

    async def _take_up_again(self, queue: "procrastinate.App") -> None:
        """What a process that ended was at goes back into the queue: there is one server for a database."""
        now = datetime.now(UTC)
        queued = set[str]()
        for job in await queue.job_manager.list_jobs_async(task=TASK):
            queued.add(str(job.task_kwargs["job"]))
            if job.status == "doing" and job.id is not None:
                await queue.job_manager.retry_job_by_id_async(job_id=job.id, retry_at=now)
        for left in await asyncio.to_thread(self._left):
            if str(left.job) not in queued:
                await queue.configure_task(TASK, queue="perch", lock=str(left.job)).defer_async(
                    coach=str(left.coach), hall=str(left.hall), job=str(left.job)
                )

    def _left(self) -> list[jobs.LeftJob]:
        with transaction(self.pool) as db:
            return jobs.left(db)

    def run(self, coach: str, job: str, hall: str | None = None) -> None:
        """Do one piece of work, and say how it ended. Work that was put in the queue before there were halls
        names none: a coach's data became the hall's of the same id.
        """
        acts_as, id = Member(coach=UUID(coach), hall=UUID(hall or coach)), UUID(job)
        try:
            with transaction(self.pool, member=acts_as) as db:
                asked = jobs.one(db, id)
        except NotFound as error:
            log.warning("work of the queue is not there", error=str(error))
            return
        if asked.ended_at:
            return
        steps = Steps(self.pool, acts_as, id, self.ends)
        try:
            steps.come_to(0)
            result = self.work[asked.kind](self.pool, acts_as, asked, steps)
        except StoppedEarly:
            if self.ends.is_set():
                # it stays open, and whoever starts next takes it up
                return
            self._end(acts_as, id, "stopped", steps)
        except Unavailable:
            raise
        except Exception as error:
            log.exception("long work failed", kind=asked.kind)
            words = str(error) if isinstance(error, StoreError) else "It could not be done: a fault of ours."
            steps.wrong.append(words)
            self._end(acts_as, id, "failed", steps)
        else:
            self._end(acts_as, id, "finished", steps, result)

    def _end(
        self,
        member: Member,
        job: UUID,
        state: jobs.JobState,
        steps: Steps,
        result: Mapping[str, Any] | None = None,
    ) -> None:
        with transaction(self.pool, member=member) as db:
            jobs.end(
                db,
                job,
                state=state,
                wrong=steps.wrong,
                done=steps.done,
                result=result,
                moment=datetime.now(UTC),
            )
