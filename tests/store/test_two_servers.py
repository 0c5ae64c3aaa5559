"""Two servers of Olvask over one store under sixteen clients: nothing lost, doubled or mixed.

The long form is `make check-servers`: five minutes on SQLite, five on a PostgreSQL server.
"""

from __future__ import annotations

import os
import random
import threading
import time
import uuid
from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import create_engine, text

from olvask.store.stores import Stores
from tests.e2e.server import Server
from tests.store.test_kills_and_races import DESIGN, Client, together

SECONDS = float(os.environ.get("OLVASK_SERVERS_S", "5"))
CLIENTS = 16
WHERE = ["file", pytest.param("server", marks=pytest.mark.skipif(not os.environ.get("PGHOST"), reason="no PostgreSQL"))]


class Notes:
    """What the clients were told is stored."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.saved: dict[tuple[int, int], str] = {}
        self.entries: dict[int, list[str]] = {}
        self.begun: dict[int, str] = {}
        self.turned_away = 0

    def work(self, at: int, ports: list[int], jobs: list[int], until: float) -> None:
        """One client, now at the one server and now at the other."""
        pick = random.Random(at)
        with ExitStack() as stack:
            clients = [stack.enter_context(closing(Client(port))) for port in ports]
            while time.monotonic() < until:
                step = pick.choice([self.save, self.save, self.note, self.begin, self.read])
                step(pick.choice(clients), at, pick)

    def _ask(self, client: Client, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        status, answer = client.ask(method, path, body)
        assert status < 500 or status == 503, (method, path, status, answer)
        if status == 503:  # asked to come again: nothing was stored
            with self.lock:
                self.turned_away += 1
        return status, answer

    def save(self, client: Client, at: int, pick: random.Random) -> None:
        """One of two jobs, from the version just read."""
        job_id = pick.choice((1, 2))
        status, job = self._ask(client, "GET", f"/api/jobs/{job_id}")
        if status == 503:
            return
        title = f"client {at}, {uuid.uuid4()}"
        body = {"title": title, "based_on": job["version"], "design": DESIGN}
        status, answer = self._ask(client, "PUT", f"/api/jobs/{job_id}", body)
        if status == 200:
            with self.lock:
                key = (job_id, answer["version"])
                assert key not in self.saved, "two were told the same version is theirs"
                self.saved[key] = title

    def note(self, client: Client, at: int, pick: random.Random) -> None:
        """A step ticked, handed in once more now and then, as a phone does that heard no answer."""
        job_id, entry = pick.choice((1, 2)), str(uuid.uuid4())
        body = {
            "entries": [
                {
                    "id": entry,
                    "procedure": "Build",
                    "step": f"step.{at}",
                    "kind": "done",
                    "by": f"C{at}",
                    "at": "2031-05-01T10:00:00Z",
                }
            ]
        }
        for time_ in range(pick.choice((1, 1, 2))):
            status, answer = self._ask(client, "POST", f"/api/jobs/{job_id}/build", body)
            if status == 503:
                return
            assert status in (200, 201), answer
            if time_ == 0:
                with self.lock:
                    self.entries.setdefault(job_id, []).append(entry)

    def begin(self, client: Client, at: int, _pick: random.Random) -> None:
        """A new job."""
        title = f"begun by {at}, {uuid.uuid4()}"
        status, answer = self._ask(client, "POST", "/api/jobs", {"title": title, "design": DESIGN})
        if status == 201:
            with self.lock:
                assert answer["id"] not in self.begun, "one number for two jobs"
                self.begun[answer["id"]] = title

    def read(self, client: Client, _at: int, _pick: random.Random) -> None:
        """What others look at meanwhile."""
        for path in ("/api/jobs", "/api/jobs/1/revisions", "/api/health"):
            self._ask(client, "GET", path)


@contextmanager
def place(where: str, folder: Path) -> Iterator[Path | str]:
    """A file, or a database of its own on the server that libpq's variables name."""
    if where == "file":
        yield folder / "two.sqlite"
        return
    name = f"olvask_{uuid.uuid4().hex[:12]}"
    admin = create_engine("postgresql+psycopg:///postgres", isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        connection.execute(text(f"CREATE DATABASE {name}"))
    try:
        yield f"postgresql:///{name}"
    finally:
        with admin.connect() as connection:
            connection.execute(text(f"DROP DATABASE {name} WITH (FORCE)"))
        admin.dispose()


@pytest.mark.parametrize("where", WHERE)
def test_two_servers_one_store(tmp_path: Path, where: str) -> None:
    """Each acknowledged save is its version, each entry is there once, each job begun is its own."""
    notes = Notes()
    with place(where, tmp_path) as store:
        with Server(store, "serve") as one, Server(store, "serve") as other:
            with closing(Client(one.port)) as client:
                for title in ("first", "second"):
                    assert client.ask("POST", "/api/jobs", {"title": title, "design": DESIGN})[0] == 201
            until = time.monotonic() + SECONDS
            ports = [one.port, other.port]
            together([lambda at=at: notes.work(at, ports, [1, 2], until) for at in range(CLIENTS)])  # type: ignore[misc]
        held_by(notes, Stores.open(store))
    print(f"{where}: {len(notes.saved)} saves, {len(notes.begun)} jobs begun, {notes.turned_away} asked to come again")


def held_by(notes: Notes, stores: Stores) -> None:
    """Everything acknowledged stands in the store, once and whole."""
    for job_id in (1, 2):
        versions = [version for job, version in notes.saved if job == job_id]
        assert sorted(versions) == list(range(2, 2 + len(versions)))
        assert stores.jobs.get(job_id).version == 1 + len(versions)
        for version in versions:
            assert stores.jobs.get(job_id, version).heading.title == notes.saved[job_id, version]
        entries = [item.id for item in stores.build.entries(job_id)]
        assert len(set(entries)) == len(entries)
        assert sorted(entries) == sorted(notes.entries.get(job_id, []))
    assert {job: stores.jobs.get(job).heading.title for job in notes.begun} == notes.begun
    assert len(stores.jobs.ids()) == 2 + len(notes.begun)
    assert notes.saved
    assert notes.entries
    assert notes.begun
    stores.database.close()
