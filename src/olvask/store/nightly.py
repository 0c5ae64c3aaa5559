"""A backup each night, the latest few kept.

- `due`: whether one is; `write_due`: write it.
"""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from olvask.store.backup import write_backup

KEPT = 14  # nights; our own estimate of when a mistake is noticed
FROM_HOUR = 2  # local time: the shop is closed


def _names(folder: Path) -> list[Path]:
    return sorted(folder.glob("olvask-????-??-??.backup"))


def due(folder: Path, now: datetime) -> Path | None:
    """The backup that is to be written now; `None` where this night's is there, or it is not time yet.

    Args:
        folder: where they are kept.
        now: local time.
    """
    file = folder / f"olvask-{now:%Y-%m-%d}.backup"
    return file if now.hour >= FROM_HOUR and not file.exists() else None


def write_due(database: Path, folder: Path, now: datetime) -> Path | None:
    """Write this night's backup if it is due, checked after writing; the oldest give way.

    Args:
        database: the store, in use or not.
        folder: where they are kept; made when missing.
        now: local time.

    Raises:
        StorageFault: it did not come out whole; the ones there are stay.
    """
    file = due(folder, now)
    if file is None:
        return None
    folder.mkdir(parents=True, exist_ok=True)
    write_backup(database, file)
    for old in _names(folder)[:-KEPT]:
        old.unlink()
    return file
