"""Backups: everything stored in one file, taken while running, checked after writing, restored in one step.

- `write_backup`, `restore_backup`: the two ways.
- `check_store`: whether a file is a whole store.
- `sealed`: whether a file is a backup that nobody has opened as a store since.

A backup carries a seal, a digest over every row of it: a letter changed in a title leaves the file's pages whole, and is
found all the same.
"""

from __future__ import annotations

import hashlib
import os
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from olvask.store.engine import BUSY_S, KNOWN, SEAL, existing, open_store
from olvask.store.faults import (
    FOREIGN,
    FULL,
    IN_THE_WAY,
    LOCKED,
    NEWER,
    NO_BACKUP,
    NOT_WRITTEN,
    SPOILT,
    SPOILT_BACKUP,
    UNREACHABLE,
    StorageFault,
    fault_of,
)

SEALED = f"SELECT digest FROM {SEAL}"  # noqa: S608  # our own name


def check_store(path: Path) -> int:
    """Read a store through and count its jobs.

    Args:
        path: the file.

    Raises:
        StorageFault: it is no whole store of this Olvask or an older one.
    """
    try:
        with closing(sqlite3.connect(existing(path, "ro"), uri=True, timeout=BUSY_S)) as connection:
            tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if not {"alembic_version", "job", "revision"} <= tables:
                raise StorageFault(FOREIGN)
            if connection.execute("PRAGMA integrity_check").fetchall() != [("ok",)]:
                raise StorageFault(SPOILT)
            if connection.execute("PRAGMA foreign_key_check").fetchall():
                raise StorageFault(SPOILT)
            (revision,) = connection.execute("SELECT version_num FROM alembic_version").fetchone()
            if revision not in KNOWN:
                raise StorageFault(NEWER)
            if SEAL in tables and connection.execute(SEALED).fetchall() != [(_digest(connection),)]:
                raise StorageFault(SPOILT)
            (count,) = connection.execute("SELECT count(*) FROM job").fetchone()
            return int(count)
    except UnicodeDecodeError as error:
        raise StorageFault(SPOILT, str(error)) from error
    except sqlite3.Error as error:
        raise fault_of(error) or StorageFault(SPOILT, str(error)) from error


def _digest(connection: sqlite3.Connection) -> str:
    """SHA-256 over every row of every table but the seal, in order."""
    found = hashlib.sha256()
    connection.text_factory = bytes  # as it stands: what is spoilt may be no text any more
    names = connection.execute(
        "SELECT name FROM sqlite_master WHERE type = 'table' AND name != ? ORDER BY name", (SEAL,)
    )
    for (name,) in names.fetchall():
        found.update(name + b"\0")
        for row in connection.execute(f'SELECT * FROM "{name.decode()}" ORDER BY rowid'):  # noqa: S608  # the file's own name
            found.update(repr(row).encode())
    connection.text_factory = str
    return found.hexdigest()


def sealed(path: Path) -> bool:
    """Whether a file is a backup that nobody has opened as a store since.

    Args:
        path: the file.
    """
    try:
        with closing(sqlite3.connect(existing(path, "ro"), uri=True, timeout=BUSY_S)) as connection:
            return connection.execute("SELECT 1 FROM sqlite_master WHERE name = ?", (SEAL,)).fetchone() is not None
    except sqlite3.Error:
        return False  # whoever opens it says what is wrong


def _seal(path: Path) -> None:
    """Write the seal into a copy.

    Raises:
        StorageFault: it cannot be written.
    """
    try:
        with closing(sqlite3.connect(path)) as connection, connection:
            connection.execute(f"DROP TABLE IF EXISTS {SEAL}")  # a backup of a backup
            connection.execute(f"CREATE TABLE {SEAL} (digest TEXT NOT NULL)")
            connection.execute(f"INSERT INTO {SEAL} VALUES (?)", (_digest(connection),))  # noqa: S608  # our own name
    except sqlite3.Error as error:
        raise fault_of(error) or StorageFault(UNREACHABLE, str(error)) from error


def _copied(source: Path, target: Path) -> None:
    """Copy a store page by page, the log with it, as one state of it.

    Raises:
        StorageFault: it cannot be read or written.
    """
    try:
        with (
            closing(sqlite3.connect(existing(source, "ro"), uri=True, timeout=BUSY_S)) as from_,
            closing(sqlite3.connect(target)) as to,
        ):
            from_.backup(to)
            to.execute("PRAGMA journal_mode=DELETE")
        with target.open("rb+") as file:
            os.fsync(file.fileno())
    except sqlite3.Error as error:
        raise fault_of(error) or StorageFault(UNREACHABLE, str(error)) from error
    except OSError as error:
        raise StorageFault(FULL if error.errno == 28 else UNREACHABLE, str(error)) from error


def _put_away_log(database: Path) -> None:
    """Take a store's log into its file and away, so that it is never read beside another file.

    Raises:
        StorageFault: someone has the store open.
    """
    try:
        with closing(sqlite3.connect(database, timeout=BUSY_S)) as connection:
            (mode,) = connection.execute("PRAGMA journal_mode=DELETE").fetchone()
    except sqlite3.Error as error:
        raise fault_of(error) or StorageFault(UNREACHABLE, str(error)) from error
    if mode != "delete":
        raise StorageFault(LOCKED)


def _set_aside(database: Path, kept: Path) -> None:
    """Keep what stands in a store's place: copied as a store, or, where it cannot be read as one, moved as it is.

    Raises:
        StorageFault: someone has the store open.
    """
    try:
        _copied(database, kept)
        _put_away_log(database)
    except StorageFault as fault:
        if fault.kind not in (SPOILT, FOREIGN):
            raise
        for ending in ("", "-wal", "-shm"):
            part = database.with_name(database.name + ending)
            if part.exists():
                os.replace(part, kept.with_name(kept.name + ending))


def write_backup(database: Path, file: Path) -> int:
    """Write a backup and read it again; only then it takes its name. How many jobs it holds.

    Args:
        database: the store, in use or not.
        file: where the backup goes.

    Raises:
        StorageFault: the store cannot be read, the backup cannot be written, something else is there (the store itself, for
            one), or it did not come out whole.
    """
    if not database.exists():
        raise StorageFault(UNREACHABLE, f"{database} is not there")
    if file.exists() and not (file.is_file() and (file.stat().st_size == 0 or sealed(file))):
        raise _of(file, StorageFault(IN_THE_WAY))
    unfinished = file.with_name(f".{file.name}.unfinished")
    try:
        unfinished.unlink(missing_ok=True)
        unfinished.touch()
    except OSError as error:
        raise _of(file, StorageFault(NOT_WRITTEN, str(error))) from error
    try:
        _copied(database, unfinished)
        _seal(unfinished)
        count = check_store(unfinished)
        os.replace(unfinished, file)
    except OSError as error:
        raise _of(file, StorageFault(NOT_WRITTEN, str(error))) from error
    finally:
        unfinished.unlink(missing_ok=True)
    return count


def _of(file: Path, fault: StorageFault) -> StorageFault:
    """A fault, with the file it is of."""
    fault.place = file
    return fault


def _check_backup(file: Path, database: Path) -> int:
    """Read a backup through and count its jobs.

    Raises:
        StorageFault: it is not whole, or is the very store it shall take the place of.
    """
    if database.exists() and file.samefile(database):
        raise _of(file, StorageFault(NO_BACKUP))
    try:
        return check_store(file)
    except StorageFault as fault:
        kind = {FOREIGN: NO_BACKUP, SPOILT: SPOILT_BACKUP}.get(fault.kind, fault.kind)
        raise _of(file, StorageFault(kind, fault.detail)) from fault


def restore_backup(file: Path, database: Path) -> tuple[int, Path | None]:
    """Put a backup in a store's place, brought to the newest schema; the former file is kept beside it.

    Args:
        file: the backup.
        database: the store; no server may have it open.

    Returns:
        How many jobs it holds, and where the former store is now.

    Raises:
        StorageFault: the backup is not whole, or cannot be put there; then everything is as it was.
    """
    count = _check_backup(file, database)
    database.parent.mkdir(parents=True, exist_ok=True)
    unfinished = database.with_name(f".{database.name}.unfinished")
    unfinished.unlink(missing_ok=True)
    try:
        _copied(file, unfinished)
        open_store(unfinished).close()
        check_store(unfinished)
        kept = None
        if database.exists():
            kept = database.with_name(f"{database.name}.before-{datetime.now(UTC):%Y%m%dT%H%M%S}")
            _set_aside(database, kept)
        os.replace(unfinished, database)
    finally:
        for ending in ("", "-wal", "-shm"):
            unfinished.with_name(unfinished.name + ending).unlink(missing_ok=True)
    return count, kept
