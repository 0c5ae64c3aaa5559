"""Backups of a store that is written to, restored elsewhere: the same rows, whoever is killed in the middle.

The long form is `make check-restores`.
"""

from __future__ import annotations

import http.client
import multiprocessing
import os
import random
import sqlite3
import threading
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest

from olvask.store.backup import check_store, restore_backup, sealed, write_backup
from olvask.store.cards import Heading
from olvask.store.faults import StorageFault
from olvask.store.soundness import unsound
from olvask.store.stores import Stores
from tests.designs import design
from tests.e2e.server import ForkedServer
from tests.store.test_kills_and_races import DESIGN, Client

ROUNDS = int(os.environ.get("OLVASK_RESTORES", "5"))
FORK = multiprocessing.get_context("fork")


def rows(path: Path) -> dict[str, list[object]]:
    """Every row of every table of a store or a backup."""
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as read:
        names = [name for (name,) in read.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {
            name: read.execute(f'SELECT * FROM "{name}" ORDER BY rowid').fetchall()  # noqa: S608  # the file's own names
            for name in names
            if name != "backup_seal"
        }


def perhaps_killed(work: Callable[[], object], pick: random.Random, longest_s: float) -> bool:
    """Run in a process of its own, killed at a random moment half the times; whether it came to its end."""
    process = FORK.Process(target=work)
    process.start()
    if pick.random() < 0.5:
        time.sleep(pick.uniform(0, longest_s))
        process.kill()
    process.join()
    return process.exitcode == 0


class Writer:
    """One client that saves a job again and again: version n is titled n."""

    def __init__(self) -> None:
        self.acknowledged = 1

    def write(self, port: int, until: threading.Event) -> None:
        """Save until the server is gone or it is over."""
        try:
            with closing(Client(port)) as client:
                version = client.ask("GET", "/api/jobs/1")[1]["version"]
                while not until.is_set():
                    body = {"title": str(version + 1), "based_on": version, "design": DESIGN}
                    status, answer = client.ask("PUT", "/api/jobs/1", body)
                    assert status == 200, answer
                    version = self.acknowledged = answer["version"]
        except (OSError, ValueError, http.client.HTTPException):
            pass  # the server was killed


def test_restored_elsewhere_it_is_the_source(tmp_path: Path) -> None:
    """Taken under load, with the backup, the restore or the server killed: whole, with every save acknowledged before."""
    path, pick = tmp_path / "s.sqlite", random.Random(21)
    elsewhere = tmp_path / "elsewhere" / "there.sqlite"
    store = Stores.open(path)
    store.jobs.create(Heading("1"), design())
    store.database.close()
    writer = Writer()
    ended: list[bool] = []
    for round_ in range(ROUNDS):
        server, over = ForkedServer(path, "serve"), threading.Event()
        server.start()
        thread = threading.Thread(target=writer.write, args=(server.port, over))
        thread.start()
        time.sleep(0.05)
        before, copy = writer.acknowledged, tmp_path / f"copy{round_}"
        if pick.random() < 0.3:
            threading.Timer(pick.uniform(0, 0.1), server.kill).start()
        ended.append(perhaps_killed(lambda copy=copy: write_backup(path, copy), pick, 0.1))  # type: ignore[misc]
        if ended[-1]:
            assert copy.exists()
        elif not copy.exists():  # nothing half done bears its name, and what was left does not hinder the next
            write_backup(path, copy)
        over.set()
        server.kill()
        thread.join()
        check_store(copy)
        with closing(sqlite3.connect(f"file:{copy}?mode=ro", uri=True)) as read:
            (version, title) = read.execute("SELECT version, title FROM job").fetchone()
            titles = [row[0] for row in read.execute("SELECT title FROM revision ORDER BY version")]
        assert version >= before
        assert title == str(version)
        assert titles == [str(at) for at in range(1, version + 1)]
        was = rows(elsewhere) if elsewhere.exists() else None
        ended.append(perhaps_killed(lambda copy=copy: restore_backup(copy, elsewhere), pick, 0.2))  # type: ignore[misc]
        wanted = rows(copy)
        if not ended[-1]:
            assert not elsewhere.exists() or rows(elsewhere) in (was, wanted)  # the one or the other, never between
            restore_backup(copy, elsewhere)
        assert rows(elsewhere) == wanted
        assert not sealed(elsewhere)
        Stores.open(elsewhere).database.close()
        if round_ % 5 == 4:  # nobody writes: the backup is the source itself
            Stores.open(path).database.close()
            write_backup(path, copy)
            assert rows(copy) == rows(path)
        copy.unlink()
        for old in elsewhere.parent.glob("*.before-*"):
            old.unlink()
    assert len(set(ended)) == 2 or ROUNDS < 5


def test_a_changed_backup_is_named_as_such(tmp_path: Path) -> None:
    """One byte anywhere that matters, a page, the tail: refused, and the store it was meant for is as it was."""
    path, copy, pick = tmp_path / "s.sqlite", tmp_path / "copy", random.Random(5)
    store = Stores.open(path)
    for at in range(4):
        store.jobs.create(Heading(f"job {at}"), design())
    store.database.close()
    write_backup(path, copy)
    whole, wanted = copy.read_bytes(), rows(path)
    refused = 0
    for _ in range(60 + 10 * ROUNDS):
        spoilt, at = bytearray(whole), pick.randrange(len(whole))
        if pick.random() < 0.7:
            spoilt[at] ^= 1 << pick.randrange(8)
        elif pick.random() < 0.5:
            spoilt[at : at + 512] = bytes(len(spoilt[at : at + 512]))
        else:
            del spoilt[at:]
        copy.write_bytes(spoilt)
        try:
            restore_backup(copy, path)
        except StorageFault:
            refused += 1
        # Room that nothing is written in may change: then the rows are the same. Nothing else passes.
        assert rows(path) == wanted
    assert refused > 20


def test_a_backup_looked_through_stays_one(tmp_path: Path) -> None:
    """Checked it keeps its seal; served it becomes a store like any other, and can be backed up again."""
    path, copy = tmp_path / "s.sqlite", tmp_path / "copy"
    store = Stores.open(path)
    store.jobs.create(Heading("b"), design())
    store.database.close()
    write_backup(path, copy)
    assert list(unsound(copy)) == []
    assert sealed(copy)
    opened = Stores.open(copy)
    assert not sealed(copy)
    opened.jobs.create(Heading("c"), design())
    opened.database.close()
    assert restore_backup(copy, path)[0] == 2
    with pytest.raises(StorageFault):
        check_store(tmp_path / "none")
