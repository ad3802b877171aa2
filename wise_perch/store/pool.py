"""The connection pool, which knows when its database is gone, and transactions that act as one coach in one
hall and as nobody else.
"""

import select
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from threading import Event, Thread
from time import monotonic
from uuid import UUID
from weakref import WeakKeyDictionary

import psycopg
from psycopg.errors import CheckViolation, ForeignKeyViolation, QueryCanceled, UniqueViolation
from psycopg_pool import ConnectionPool, PoolClosed, PoolTimeout

from wise_perch.core.trainee.hall import Member
from wise_perch.store.errors import CONSTRAINTS, Conflict, NotFound, StoreError, Unavailable

UNREACHABLE = (
    "The database cannot be reached. Nothing was kept by this request; sending it again later is safe."
)
TOO_LONG = (
    "This took too long and was broken off. Nothing was kept by this request; sending it again later is safe."
)
WAIT_S, LOOK_S = 5.0, 0.25
"""How long a request waits for a connection while all are busy, and how often it looks whether the database
is gone.
"""
PROBE_S, PROBE_TIMEOUT_S = 0.25, 2
"""How often a database that is gone is asked for again, and how long an answer may take."""
LOOK_AGAIN_MS = 1000
"""How often the watch looks whether the pool was closed meanwhile."""


class Pool:
    """Connections to one database, and a watch over it: where it is gone every request is told so at once,
    and when it is back, new connections are made at once.
    """

    def __init__(self, dsn: str, *, most: int, statement_s: float) -> None:
        """Make a pool (not yet open) of `most` connections, whose statements may take `statement_s`."""
        self.dsn, self.most, self.statement_s = dsn, most, statement_s
        self.down = Event()
        self._closed = Event()
        self._pool = self._make()
        self._watch = Thread(target=self._keep_watch, name="database-watch", daemon=True)

    def _make(self) -> ConnectionPool[psycopg.Connection]:
        # all are opened ahead: one opened while coaches wait for it costs more than the result it is for
        options = f"-c statement_timeout={int(self.statement_s * 1000)}"
        return ConnectionPool(
            self.dsn,
            min_size=self.most,
            max_size=self.most,
            open=False,
            timeout=WAIT_S,
            check=_look_alive,
            # transactions are begun by a statement of ours, which says for whom they are in the same breath
            kwargs={"options": options, "autocommit": True},
        )

    def open(self, *, wait: bool = True) -> None:
        """Open the connections; without waiting for them the application answers with the database down,
        and says so.
        """
        self._pool.open(wait=False)
        if wait:
            self._pool.wait(timeout=30)
        self._watch.start()

    def close(self) -> None:
        """Close every connection."""
        self._closed.set()
        self._pool.close()

    def wait(self) -> None:
        """Wait until the connections are there. Raises PoolTimeout where they do not come."""
        self._pool.wait(timeout=30)

    @contextmanager
    def connection(self) -> Iterator[psycopg.Connection]:
        """Give a connection; a transaction that is begun in it ends with the block. Raises PoolTimeout."""
        pool, begun = self._pool, monotonic()
        while True:
            if self.down.is_set():
                raise PoolTimeout("the database is gone")
            try:
                taken = pool.getconn(timeout=LOOK_S)
                break
            except (PoolTimeout, PoolClosed):
                if self._closed.is_set() or monotonic() - begun > WAIT_S:
                    raise
                pool = self._pool
        try:
            with taken:
                yield taken
        finally:
            pool.putconn(taken)

    def _keep_watch(self) -> None:
        while not self._closed.is_set():
            try:
                with psycopg.connect(self.dsn, autocommit=True, connect_timeout=PROBE_TIMEOUT_S) as db:
                    self._is_back()
                    self._look_until_gone(db)
            except (psycopg.Error, OSError, ValueError):
                pass
            if not self._closed.is_set():
                self.down.set()
                self._closed.wait(PROBE_S)

    def _look_until_gone(self, db: psycopg.Connection) -> None:
        """Return or raise when the connection ends; until then nothing is asked of the database."""
        # poll and not select, which knows no file above the 1,024th
        ends = select.poll()
        ends.register(db.fileno(), select.POLLIN)
        while not self._closed.is_set():
            if ends.poll(LOOK_AGAIN_MS):
                db.execute("select 1")

    def _is_back(self) -> None:
        if not self.down.is_set():
            return
        # the old pool asks again at growing pauses: a new one has its connections now
        old, self._pool = self._pool, self._make()
        self._pool.open(wait=False)
        with suppress(PoolTimeout):
            self._pool.wait(timeout=WAIT_S)
        self.down.clear()
        Thread(target=old.close, name="old-connections", daemon=True).start()


def _look_alive(connection: psycopg.Connection) -> None:
    """Say whether a connection is good before it is used: the server says nothing unasked but that it ends,
    so only one that has something to say is asked. Raises psycopg.OperationalError where it has ended.
    """
    waits = select.poll()
    waits.register(connection.fileno(), select.POLLIN)
    if waits.poll(0):
        ConnectionPool.check_connection(connection)


def make_pool(dsn: str, *, most: int = 10, statement_s: float = 55.0) -> Pool:
    """Make a pool (not yet open) of `most` connections that are tried before each use.

    A statement is broken off after `statement_s` seconds.
    """
    return Pool(dsn, most=most, statement_s=statement_s)


def translate(error: psycopg.Error) -> StoreError | None:
    """Turn a database error into one of ours, by the constraint's name; None if it is a fault of the
    program.
    """
    if isinstance(error, UniqueViolation | CheckViolation):
        sentence = CONSTRAINTS.get(error.diag.constraint_name or "")
        return Conflict(sentence) if sentence else None
    if isinstance(error, ForeignKeyViolation):
        return NotFound("There is no such record.")
    if isinstance(error, QueryCanceled):
        return Unavailable(TOO_LONG)
    if isinstance(error, psycopg.OperationalError | psycopg.InterfaceError):
        return Unavailable(UNREACHABLE)
    return None


_uses: WeakKeyDictionary[psycopg.Connection, int] = WeakKeyDictionary()


def use_of(db: psycopg.Connection) -> int:
    """A number for the present use of a connection: another one once it has gone on to somebody else."""
    return _uses.get(db, 0)


@contextmanager
def transaction(
    pool: Pool, *, member: Member | None = None, one_moment: bool = False
) -> Iterator[psycopg.Connection]:
    """Open a transaction, as `member` where one is given: row-level security then shows and takes the rows of
    this coach's hall only. `one_moment`: all its statements see the data as it is at the first.

    Raises: Unavailable, Conflict or NotFound for what the database refuses.
    """
    with _translated(), pool.connection() as connection:
        begin = "begin isolation level repeatable read" if one_moment else "begin"
        connection.execute(begin + _whose(member), prepare=False)
        try:
            yield connection
        finally:
            _uses[connection] = use_of(connection) + 1


def _whose(member: Member | None) -> str:
    """The statement that says for whom a transaction is. Made of numbers it is nothing but digits, and may
    stand beside the one that begins it.
    """
    if member is None:
        return ""
    hall = f"{UUID(int=member.hall.int)}" if member.hall else ""
    coach = f"{UUID(int=member.coach.int)}"
    page = f"{UUID(int=member.page.int)}" if member.page else ""
    return (
        f"; select set_config('perch.coach_id', '{coach}', true),"
        f" set_config('perch.hall_id', '{hall}', true), set_config('perch.page', '{page}', true)"
    )


def act_as(db: psycopg.Connection, member: Member) -> None:
    """Let a transaction that is begun already act as somebody from here on."""
    db.execute("select set_config('perch.coach_id', %s, true)", [str(member.coach)])
    db.execute("select set_config('perch.hall_id', %s, true)", [str(member.hall or "")])


@contextmanager
def one_statement(pool: Pool) -> Iterator[psycopg.Connection]:
    """A connection for a single statement as nobody, which is a transaction of its own. Raises as
    `transaction` does.
    """
    with _translated(), pool.connection() as connection:
        yield connection


@contextmanager
def _translated() -> Iterator[None]:
    try:
        yield
    except (PoolTimeout, PoolClosed) as error:
        raise Unavailable(UNREACHABLE) from error
    except psycopg.Error as error:
        ours = translate(error)
        if ours is None:
            raise
        raise ours from error
