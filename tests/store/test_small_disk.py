"""Each thing that can go wrong with a disk, brought about on a small one of its own under a running server.

What is said at the start and on the page, and that nothing acknowledged is lost. Mounting takes a right that not every
user has; without it these are left out.
"""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from olvask.store.backup import check_store, restore_backup, write_backup
from olvask.store.stores import Stores
from tests.designs import plain
from tests.e2e.server import ForkedServer
from tests.store.test_kills_and_races import Client

DESIGN = plain()


def mount(*words: str) -> bool:
    """Run mount; whether it went through."""
    program = shutil.which("mount")
    return program is not None and subprocess.run([program, *words], capture_output=True, check=False).returncode == 0


@pytest.fixture
def disk(tmp_path: Path) -> Iterator[Path]:
    """A file system of one and a half megabytes."""
    place = tmp_path / "disk"
    place.mkdir()
    if not mount("-t", "tmpfs", "-o", "size=1536k", "tmpfs", str(place)):
        pytest.skip("mounting is not allowed here")
    yield place
    subprocess.run(["/usr/bin/umount", "-l", str(place)], capture_output=True, check=False)


class Kept:
    """A job on the disk, saved over and over; what was acknowledged."""

    def __init__(self, client: Client) -> None:
        self.client = client
        answer = client.ask("POST", "/api/jobs", {"title": "kept", "design": DESIGN})[1]
        self.job, self.version = answer["id"], answer["version"]

    def save(self) -> tuple[int, Any]:
        """One save more."""
        body = {"title": f"kept {self.version}", "based_on": self.version, "design": DESIGN}
        status, answer = self.client.ask("PUT", f"/api/jobs/{self.job}", body)
        if status == 200:
            self.version = answer["version"]
        return status, answer

    def stands(self, path: Path) -> None:
        """Everything acknowledged is in the file."""
        stores = Stores.open(path)
        assert stores.jobs.get(self.job).version == self.version
        stores.database.close()
        check_store(path)


def started(path: Path) -> subprocess.CompletedProcess[str]:
    """What `olvask serve` says when it cannot start."""
    words = [sys.executable, "-m", "olvask", "serve", "--port", "0", "--database", str(path)]
    return subprocess.run(words, capture_output=True, text=True, timeout=60, check=False)


def test_full(disk: Path) -> None:
    """No room: said with its remedy; all that was acknowledged stands; with room it goes on."""
    path = disk / "o.sqlite"
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        kept = Kept(client)
        status: int = 200
        answer: Any = None
        for _ in range(2000):
            status, answer = kept.save()
            if status != 200:
                break
        assert status == 507
        assert "full" in answer["title"]
        assert "kept" in answer["detail"]
        assert client.ask("GET", f"/api/jobs/{kept.job}")[1]["version"] == kept.version
        assert mount("-o", "remount,size=8m", str(disk))
        assert kept.save()[0] == 200
    kept.stands(path)


def test_read_only_while_running_and_at_the_start(disk: Path) -> None:
    """A disk that turns read-only: reading goes on, a save is refused in words; writable again, it goes on."""
    path = disk / "o.sqlite"
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        kept = Kept(client)
        assert kept.save()[0] == 200
    assert mount("-o", "remount,ro", str(disk))
    told = started(path)
    assert told.returncode == 1
    assert "read-only" in told.stderr
    assert "Traceback" not in told.stderr
    assert mount("-o", "remount,rw", str(disk))
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        kept.client = client
        assert kept.save()[0] == 200
    kept.stands(path)


def test_taken_away_while_running(disk: Path, tmp_path: Path, request: pytest.FixtureRequest) -> None:
    """The disk is pulled: a save is refused, never acknowledged and lost."""
    path = disk / "o.sqlite"
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        kept = Kept(client)
        assert kept.save()[0] == 200
        aside = tmp_path / "aside"
        aside.mkdir()
        assert mount("--move", str(disk), str(aside)) or mount("--bind", str(disk), str(aside))
        subprocess.run(["/usr/bin/umount", "-l", str(disk)], capture_output=True, check=False)
        request.addfinalizer(
            lambda: subprocess.run(["/usr/bin/umount", "-l", str(aside)], capture_output=True, check=False)
        )
        status, answer = kept.save()
        assert status == 503
        assert "gone" in answer["title"]
    kept.stands(aside / "o.sqlite")


def test_locked_by_another_program(disk: Path) -> None:
    """Another program writes: told when to try again, and then it goes through."""
    path = disk / "o.sqlite"
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        kept = Kept(client)
        with closing(sqlite3.connect(path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            status, answer = kept.save()
            assert status == 503
            assert "busy" in answer["title"]
            assert client.ask("GET", "/api/health")[0] == 200
            other.execute("ROLLBACK")
        assert kept.save()[0] == 200
    kept.stands(path)


@pytest.mark.parametrize("fault", ["text", "cut", "spoilt", "newer"])
def test_a_file_that_is_none(disk: Path, fault: str) -> None:
    """Not a database, cut short, overwritten, of a newer version: one sentence with the file and the remedy; a backup brings it back."""
    path, copy = disk / "o.sqlite", disk / "copy"
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        kept = Kept(client)
        assert kept.save()[0] == 200
    Stores.open(path).database.close()  # what the log holds is in the file
    write_backup(path, copy)
    whole = path.read_bytes()
    if fault == "newer":
        with closing(sqlite3.connect(path)) as made:
            made.execute("update alembic_version set version_num = '0999'")
            made.commit()
    else:
        path.write_bytes(
            {"text": b"minutes\n" * 900, "cut": whole[:3000], "spoilt": whole[:100] + b"\x5a" * len(whole)}[fault]
        )
    told = started(path)
    assert told.returncode == 1
    assert str(path) in told.stderr
    assert len(told.stderr.strip().splitlines()) == 1
    assert "Traceback" not in told.stderr
    assert any(word in told.stderr for word in ("Choose another file", "restore", "Install that version"))
    restore_backup(copy, path)
    kept.stands(path)


def test_one_unreadable_thing_hides_no_other(disk: Path) -> None:
    """A job and a shelf item nobody can read: the page shows the rest, and says which."""
    path = disk / "o.sqlite"
    with ForkedServer(path) as server, closing(Client(server.port)) as client:
        with closing(sqlite3.connect(path)) as spoilt:
            spoilt.execute("update revision set design = '{' where job_id = 2")
            spoilt.execute("update shelf_item set document = '{' where kind = 'cables' and id = 'drum-16'")
            spoilt.commit()
        _, yard = client.ask("GET", "/api/jobs")
        assert yard["total"] == 5
        assert [job["id"] for job in yard["jobs"] if job["spoilt"]] == [2]
        _, shelf = client.ask("GET", "/api/shelf/cables")
        assert shelf["unreadable"] == ["drum-16"]
        assert len(shelf["items"]) > 3
        assert client.ask("GET", "/api/jobs/3")[0] == 200
        assert client.ask("GET", "/api/jobs/2")[0] == 422
