"""The database connection, its transactions and its migrations.

- `Database`: one file, read and written through sessions.
- `open_store`: opens it, made or brought to the newest schema, all or nothing.
"""

from __future__ import annotations

import importlib
import os
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path
from typing import Any, Literal

from sqlalchemy import URL, Connection, create_engine, event, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from olvask.store.faults import FOREIGN, GONE, LOCKED, NEWER, READ_ONLY, UNREACHABLE, StorageFault, fault_of
from olvask.turns import Turns

HEAD = "0014"  # newest revision of the schema
KNOWN = ("0001", "0002", "0003", "0004", "0005", "0006", "0007", "0008", "0009", "0010", "0011", "0012", "0013", HEAD)
BUSY_S = 2.0  # a writer waits so long for another
# And who opens a store for another that makes or migrates it: two to four seconds of work on a slow machine, taken many
# times; our own estimate.
MAKING_S = 30.0
WRITES = "olvask_writes"
SEAL = "backup_seal"  # a table that a backup carries, and a store does not
BEYOND = "22003"  # PostgreSQL's state for a number that its column cannot hold; SQLite raises OverflowError by itself


def existing(path: Path, mode: Literal["ro", "rw"]) -> str:
    """A file as SQLite opens it where it is there: an address, for by its name alone one would be made.

    Args:
        path: the file; its name may hold what means something else in an address.
        mode: to read, or to read and write.
    """
    return f"{path.absolute().as_uri()}?mode={mode}"


class Database:
    """One database file.

    Reading sees one state throughout; writing takes the write lock at its beginning, so that what it reads is what it
    changes.
    """

    def __init__(self, path: Path, waits_s: float = BUSY_S) -> None:
        """Take a file.

        Args:
            path: the file.
            waits_s: how long a writer waits for another [s].
        """
        self.path = path
        self.engine = create_engine(URL.create("sqlite", database=str(path)), connect_args={"timeout": waits_s})
        event.listen(self.engine, "do_connect", self._connecting)
        event.listen(self.engine, "connect", _settings)
        event.listen(self.engine, "begin", _begin)
        self._writing = self.engine.execution_options(**{WRITES: True})
        self._inode: int | None = None
        self._turns = Turns(BUSY_S)

    def note_file(self) -> None:
        """Remember which file is open, so that one put away is noticed."""
        self._inode = os.stat(self.path).st_ino

    def _connecting(self, _dialect: object, _record: object, where: list[str], how: dict[str, Any]) -> None:
        """Once its file is known a connection is made to that file alone: by itself SQLite makes an empty one where a file was.

        Raises:
            StorageFault: the file is not the one that was opened.
        """
        if self._inode is not None:
            self._still_there()
            where[0], how["uri"] = existing(self.path, "rw"), True

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session to read with.

        Raises:
            StorageFault: the storage failed.
        """
        with said(), Session(self.engine) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A session whose changes are stored at its end, all or none.

        Raises:
            StorageFault: the storage failed, or the file is not there any more.
        """
        with self._turn():
            with said(), Session(self._writing) as session, session.begin():
                yield session
                self._still_there()
            self._still_there()

    @contextmanager
    def _turn(self) -> Iterator[None]:
        """One writer of this process at a time: the database itself lets waiting writers starve each other.

        Raises:
            StorageFault: the others do not come to an end, or another program writes.
        """
        try:
            with self._turns:
                try:
                    yield
                except StorageFault as fault:
                    if fault.kind is not LOCKED:
                        raise
                    raise TimeoutError from fault  # nor would whoever comes next get further
        except TimeoutError as none:
            raise StorageFault(LOCKED) from none

    def _still_there(self) -> None:
        """What is written to a file that was put away is lost: refuse it.

        Raises:
            StorageFault: the file is not the one that was opened.
        """
        try:
            there = os.stat(self.path).st_ino == self._inode
        except OSError:
            there = False
        if self._inode is not None and not there:
            raise StorageFault(GONE)

    @contextmanager
    def all_or_nothing(self) -> Iterator[Connection]:
        """A connection in one write transaction, schema changes in it too."""
        with said(), self._writing.begin() as connection:
            yield connection

    def close(self) -> None:
        """Put what the log holds into the file, and let go of it."""
        try:
            with self.engine.connect() as connection:
                connection.exec_driver_sql("ROLLBACK")
                connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
        except DBAPIError:
            pass  # the next start takes the log in
        self.engine.dispose()


def _settings(connection: Any, _record: object) -> None:
    connection.isolation_level = None  # transactions are begun by `_begin`, schema changes among them
    cursor = connection.cursor()
    for pragma in ("synchronous=FULL", "foreign_keys=ON"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


def _begin(connection: Connection) -> None:
    writes = connection.get_execution_options().get(WRITES, False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")


@contextmanager
def said() -> Iterator[None]:
    """Turn a database's error into a fault that says what to do."""
    try:
        yield
    except DBAPIError as error:
        if getattr(error.orig, "sqlstate", None) == BEYOND:
            raise OverflowError("a number larger than any that is kept") from error
        fault = fault_of(error)
        if fault is None:
            raise
        raise fault from error


def _revision(path: Path) -> str | None:
    """The schema a file is at; `None` where it is new or empty.

    Raises:
        StorageFault: it cannot be read, or is no store of ours.
    """
    if not path.exists() or path.stat().st_size == 0:
        return None
    connection: sqlite3.Connection | None = None
    try:
        connection = sqlite3.connect(path, timeout=BUSY_S)
        tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        if not tables:
            return None
        if "alembic_version" not in tables:
            raise StorageFault(FOREIGN)
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.Error as error:
        raise fault_of(error) or StorageFault(UNREACHABLE, str(error)) from error
    finally:
        if connection is not None:
            connection.close()
    if row is None:
        return None
    if row[0] not in KNOWN:
        raise StorageFault(NEWER)
    return str(row[0])


def open_store(path: Path | str) -> Database:
    """Open the database at `path`, made or brought to the newest schema.

    Args:
        path: SQLite file, whose folder is made when missing, or the address of a PostgreSQL database.

    Raises:
        StorageFault: it cannot be opened; what to do is said.
    """
    from olvask.store.place import is_address
    from olvask.store.server import open_server

    try:
        return open_server(str(path)) if is_address(path) else _opened(Path(path))
    except StorageFault as fault:
        fault.place = Path(path) if not is_address(path) else None
        raise


def _opened(path: Path) -> Database:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StorageFault(UNREACHABLE, str(error)) from error
    if path.is_dir():
        raise StorageFault(FOREIGN)
    if (path.exists() and not os.access(path, os.W_OK)) or not os.access(path.parent, os.W_OK):
        raise StorageFault(READ_ONLY)
    revision = _revision(path)
    database = Database(path)
    if revision is not None:
        _break_seal(database)
    if revision != HEAD:
        patient = Database(path, MAKING_S)
        try:
            migrate(patient)
        finally:
            patient.engine.dispose()
    database.note_file()
    return database


def _break_seal(database: Database) -> None:
    """Opened as a store a backup is one no more: what is written to it would not be what was sealed."""
    with database.reading() as session:
        sealed = session.execute(text("SELECT 1 FROM sqlite_master WHERE name = :seal"), {"seal": SEAL}).first()
    if sealed is not None:
        with database.all_or_nothing() as connection:
            connection.exec_driver_sql(f"DROP TABLE {SEAL}")


def migrate(database: Database) -> None:
    """Bring a database to the newest schema in one transaction; of two who try, the second finds it done.

    Args:
        database: the file.
    """
    with said():
        connection = database.engine.raw_connection()
        try:
            connection.cursor().execute("PRAGMA journal_mode=WAL")
        finally:
            connection.close()
    # Read in before the lock is taken: whoever waits for it waits for the work alone.
    importlib.import_module("alembic.command")
    with database.all_or_nothing() as open_connection:
        if not _at_head(open_connection):
            run_migrations(open_connection)


def _at_head(connection: Connection) -> bool:
    """Whether another has brought it to the newest schema meanwhile."""
    named = {"name": "alembic_version"}
    if connection.execute(text("SELECT 1 FROM sqlite_master WHERE name = :name"), named).first() is None:
        return False
    return connection.execute(text("SELECT version_num FROM alembic_version")).scalar() == HEAD


def run_migrations(connection: Connection) -> None:
    """Bring what a connection leads to to the newest schema, within its transaction.

    Args:
        connection: open, in a transaction.
    """
    # Only here: a start with nothing to migrate is quick without.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(files("olvask.store").joinpath("migrations")))
    config.set_main_option("path_separator", "os")
    config.attributes["connection"] = connection
    command.upgrade(config, "head")
