"""The connection pool, and transactions that act as one coach and no other."""

import math
from collections.abc import Iterator
from contextlib import contextmanager
from time import monotonic
from uuid import UUID

import psycopg
from psycopg.errors import CheckViolation, ForeignKeyViolation, UniqueViolation
from psycopg_pool import ConnectionPool, PoolTimeout

from wise_perch.store.errors import CONSTRAINTS, Conflict, NotFound, StoreError, Unavailable

Pool = ConnectionPool[psycopg.Connection]
UNREACHABLE = (
    "The database cannot be reached. Nothing was kept by this request; sending it again later is safe."
)

DRAINED_ENOUGH_S = 1.0
"""Several who find their connections dead at the same moment make them again once."""


def make_pool(dsn: str, *, most: int = 10) -> Pool:
    """Make a pool (not yet open) of `most` connections that are tried before each use.

    All are opened ahead: a connection opened while coaches wait for it costs more than the result it is for.
    """
    drained_at = -math.inf

    def check(connection: psycopg.Connection) -> None:
        """Try a connection; where one is dead the others are too, and all are made again at once instead of
        one a growing pause.
        """
        nonlocal drained_at
        try:
            ConnectionPool.check_connection(connection)
        except psycopg.Error:
            if monotonic() - drained_at > DRAINED_ENOUGH_S:
                drained_at = monotonic()
                pool.drain()
            raise

    pool: Pool = ConnectionPool(dsn, min_size=most, max_size=most, open=False, timeout=5, check=check)
    return pool


def translate(error: psycopg.Error) -> StoreError | None:
    """Turn a database error into one of ours, by the constraint's name; None if it is a fault of the
    program.
    """
    if isinstance(error, UniqueViolation | CheckViolation):
        sentence = CONSTRAINTS.get(error.diag.constraint_name or "")
        return Conflict(sentence) if sentence else None
    if isinstance(error, ForeignKeyViolation):
        return NotFound("There is no such record.")
    if isinstance(error, psycopg.OperationalError | psycopg.InterfaceError):
        return Unavailable(UNREACHABLE)
    return None


@contextmanager
def transaction(pool: Pool, *, coach: UUID | None = None) -> Iterator[psycopg.Connection]:
    """Open a transaction, as `coach` where one is given: row-level security then shows and takes this coach's
    rows only.

    Raises: Unavailable, Conflict or NotFound for what the database refuses.
    """
    try:
        with pool.connection() as connection:
            if coach is not None:
                connection.execute("select set_config('perch.coach_id', %s, true)", [str(coach)])
            yield connection
    except PoolTimeout as error:
        raise Unavailable(UNREACHABLE) from error
    except psycopg.Error as error:
        ours = translate(error)
        if ours is None:
            raise
        raise ours from error
