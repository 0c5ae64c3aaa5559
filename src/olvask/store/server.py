"""The store on a PostgreSQL server: the same tables, the same code, for a shop with several servers of Olvask.

- `open_server`: opens it, made or brought to the newest schema, all or nothing.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import Connection, create_engine, event, inspect, text
from sqlalchemy.exc import ArgumentError, DBAPIError, NoSuchModuleError
from sqlalchemy.orm import Session

from olvask.store.engine import BUSY_S, HEAD, KNOWN, MAKING_S, WRITES, Database, run_migrations, said
from olvask.store.faults import FOREIGN, LOCKED, NEWER, NO_SERVER, StorageFault
from olvask.store.place import SCHEMES

# One writer at a time, whatever process it belongs to, as with a file: what a transaction reads is what it changes.
WRITING, MIGRATING = 0x6F6C7661, 0x6F6C7662
WAITS = "olvask_waits_s"  # how long a writer waits for another, where it is not as long as usual


class ServerDatabase(Database):
    """A database on a server. Reading sees one state throughout; writers take turns by an advisory lock."""

    def __init__(self, address: str) -> None:
        """Take the database at `address`; the tables are those of its search path.

        Raises:
            StorageFault: the address cannot be understood, or what speaks to such a server is not installed.
        """
        try:
            self.engine = create_engine(
                address.replace(SCHEMES[0], SCHEMES[1], 1),
                pool_size=12,
                pool_pre_ping=True,  # a server that was started anew is spoken to anew
                connect_args={"connect_timeout": 5},
            )
        except (ArgumentError, NoSuchModuleError, ImportError) as error:
            raise StorageFault(NO_SERVER, str(error)) from error
        self.path = Path()
        self._inode = None
        self._writing = self.engine.execution_options(**{WRITES: True})
        self._reading = self.engine.execution_options(isolation_level="REPEATABLE READ")
        event.listen(self.engine, "begin", _begin)

    def note_file(self) -> None:
        """There is no file to remember."""

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session to read with.

        Raises:
            StorageFault: the storage failed.
        """
        with said(), Session(self._reading) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A session whose changes are stored at its end, all or none.

        Raises:
            StorageFault: the storage failed, or the other writers do not come to an end.
        """
        with said(), Session(self._writing) as session, session.begin():
            yield session

    @contextmanager
    def patient(self) -> Iterator[Connection]:
        """A connection in one write transaction that waits for another who makes or migrates the store."""
        with said(), self._writing.execution_options(**{WAITS: MAKING_S}).begin() as connection:
            yield connection

    def close(self) -> None:
        """Let go of it."""
        self.engine.dispose()


def _begin(connection: Connection) -> None:
    options = connection.get_execution_options()
    if options.get(WRITES, False):
        connection.exec_driver_sql(f"SET LOCAL lock_timeout = '{int(1000 * options.get(WAITS, BUSY_S))}ms'")
        connection.exec_driver_sql(f"SELECT pg_advisory_xact_lock({WRITING})")


def open_server(address: str) -> Database:
    """Open the database at `address`, made or brought to the newest schema.

    Args:
        address: URL of a PostgreSQL database.

    Raises:
        StorageFault: it cannot be opened; what to do is said.
    """
    database = ServerDatabase(address)
    with said():
        if _revision(database) != HEAD:
            with database.patient() as connection:
                # Two that start at once: the second finds it done.
                connection.execute(text(f"SELECT pg_advisory_xact_lock({MIGRATING})"))
                run_migrations(connection)
    return database


def _revision(database: Database) -> str | None:
    """The schema it is at; `None` where it is empty.

    Raises:
        StorageFault: it cannot be reached, holds something else, or is newer.
    """
    try:
        with database.engine.connect() as connection:
            tables = inspect(connection).get_table_names()
            if not tables:
                return None
            if "alembic_version" not in tables:
                raise StorageFault(FOREIGN)
            row = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    except DBAPIError as error:
        raise StorageFault(LOCKED if "lock" in str(error).lower() else NO_SERVER, str(error)) from error
    if row is not None and row not in KNOWN:
        raise StorageFault(NEWER)
    return row
