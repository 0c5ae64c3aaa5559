"""What can be wrong with the place where jobs are kept, each said in one sentence with its remedy.

- `StorageFault`: the error.
- `fault_of`: a database's error as one.
"""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy.exc import DBAPIError


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of fault.

    Attributes:
        key: its name.
        title: what is wrong.
        remedy: what to do.
        status: HTTP status of an answer that meets it.
        again_s: after how long to try again [s]; `None` where trying again does not help.
    """

    key: str
    title: str
    remedy: str
    status: int = 503
    again_s: int | None = None


LOCKED = Kind("locked", "The store is busy", "Another program writes to it. Try again in a moment.", again_s=1)
FULL = Kind("full", "The disk is full", "Make room on it, then save again. What you typed is kept.", 507)
READ_ONLY = Kind(
    "read_only", "The store cannot be written", "Its file or folder is read-only. Allow writing, then save again."
)
GONE = Kind(
    "gone",
    "The store's file is gone",
    "Put the file or its folder back and start Olvask again. What you typed is kept.",
)
SPOILT = Kind("spoilt", "The store's file is damaged", "Stop Olvask and restore a backup with olvask restore.", 500)
FOREIGN = Kind(
    "foreign", "The file is not a store of Olvask", "Choose another file with --database, or move this one away."
)
NEWER = Kind(
    "newer", "The store was made by a newer Olvask", "Install that version, or restore a backup made by this one."
)
NO_BACKUP = Kind("no_backup", "The file is not a backup of Olvask", "Choose one that olvask backup wrote.")
SPOILT_BACKUP = Kind("spoilt_backup", "The backup is damaged", "Restore another one.", 500)
IN_THE_WAY = Kind(
    "in_the_way", "The file is there already and is not a backup", "Choose another name; nothing was written over."
)
NOT_WRITTEN = Kind(
    "not_written", "The backup cannot be written", "Check that its folder exists, may be written and has room."
)
UNREACHABLE = Kind(
    "unreachable", "The store cannot be opened", "Check that its folder exists and may be read and written."
)

NO_SERVER = Kind(
    "no_server",
    "The database server does not answer",
    "Check that it runs, and that address, name and password are right.",
    again_s=5,
)

# Words of SQLite, first match counts.
WORDS = (
    ("locked", LOCKED),
    ("disk is full", FULL),
    ("readonly", READ_ONLY),
    ("read-only", READ_ONLY),
    ("not a database", FOREIGN),
    ("malformed", SPOILT),
    ("disk i/o error", GONE),
    ("unable to open", UNREACHABLE),
)


# States of PostgreSQL (Appendix A of its manual), whole or by class.
STATES = {
    "55P03": LOCKED,
    "40001": LOCKED,
    "40P01": LOCKED,
    "53100": FULL,
    "25006": READ_ONLY,
    "42P01": FOREIGN,
    "08": NO_SERVER,
    "57": NO_SERVER,
    "28": NO_SERVER,
    "3D": NO_SERVER,
}


class StorageFault(Exception):
    """The store cannot do what was asked; nothing was written.

    Attributes:
        kind: what is wrong, and the remedy.
        detail: the database's own words.
        place: the file, where it was being opened.
    """

    def __init__(self, kind: Kind, detail: str = "") -> None:
        super().__init__(f"{kind.title}. {kind.remedy}")
        self.kind, self.detail = kind, detail
        self.place: Path | None = None


def fault_of(error: DBAPIError | sqlite3.Error) -> StorageFault | None:
    """A database's error as a fault; `None` where it is none of the storage's.

    Args:
        error: of SQLite or SQLAlchemy.
    """
    origin = error.orig if isinstance(error, DBAPIError) else error
    state = getattr(origin, "sqlstate", None)
    if isinstance(error, DBAPIError) and type(origin).__module__.partition(".")[0] == "psycopg":
        kind = STATES.get(state or "") or STATES.get((state or "08")[:2])
        return StorageFault(kind, str(origin)) if kind is not None else None
    if not isinstance(origin, sqlite3.Error) or isinstance(origin, sqlite3.IntegrityError):
        return None
    text = str(origin).lower()
    return next((StorageFault(kind, str(origin)) for word, kind in WORDS if word in text), None)
