"""A real server killed while it writes, and crowded by writers: what it acknowledged is there, and nobody is overwritten.

The long forms are `make check-crash` and `make check-races`.
"""

from __future__ import annotations

import http.client
import json
import os
import random
import shutil
import sqlite3
import sys
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

import pytest

from olvask.store.backup import check_store
from olvask.store.shelf import Shelved
from olvask.store.stores import Stores
from tests.designs import plain
from tests.e2e.server import FORKS, ForkedServer, _run

KILLS = int(os.environ.get("OLVASK_KILLS", "4"))
ROUNDS = int(os.environ.get("OLVASK_ROUNDS", "3"))
CLIENTS = 8
OLD = Path(__file__).parents[1] / "data" / "version_1" / "database.sql"
DESIGN = plain()

pytestmark = pytest.mark.skipif(sys.platform == "win32", reason="forks")


class Client:
    """One keep-alive connection."""

    def __init__(self, port: int) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)

    def close(self) -> None:
        """Hang up."""
        self.connection.close()

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """Status and answer of one request."""
        data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        self.connection.request(method, path, data, {"Content-Type": "application/json"})
        answer = self.connection.getresponse()
        return answer.status, json.loads(answer.read() or b"null")


def on_the_shelf(stores: Stores) -> dict[str, Shelved]:
    """Cables by number."""
    return {str(getattr(found.item, "id", "")): found for found in stores.shelf.all("cables")}


def together(works: list[Callable[[], None]]) -> None:
    """Run all at once; the first failure is raised."""
    failed: list[BaseException] = []

    def guarded(work: Callable[[], None]) -> None:
        try:
            work()
        except BaseException as error:  # raised below
            failed.append(error)

    threads = [threading.Thread(target=guarded, args=(work,)) for work in works]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    if failed:
        raise failed[0]


class Acknowledged:
    """What the server has said is stored."""

    def __init__(self) -> None:
        self.version, self.title = 1, ""
        self.options: set[int] = set()
        self.shelf_version, self.price = 0, 0.0
        self.jobs: set[int] = set()
        self.saves = 0

    def write(self, port: int, job: int, what: str) -> None:
        """Write one kind of thing over and over until the server is gone."""
        with closing(Client(port)) as client, suppress(OSError, http.client.HTTPException, json.JSONDecodeError):
            while True:  # until it is killed
                getattr(self, what)(client, job)
                self.saves += 1

    def save(self, client: Client, job: int) -> None:
        """A job's next revision; one stored without being acknowledged is taken from where it stands."""
        title = f"save {random.random()}"
        body = {"title": title, "based_on": self.version, "design": DESIGN}
        status, answer = client.ask("PUT", f"/api/jobs/{job}", body)
        if status == 409:
            _, there = client.ask("GET", f"/api/jobs/{job}")
            assert there["version"] == self.version + 1
            self.version, self.title = there["version"], there["title"]
        else:
            assert status == 200, answer
            self.version, self.title = answer["version"], title

    def option(self, client: Client, job: int) -> None:
        """An option kept; room is made when there are three."""
        status, answer = client.ask("POST", f"/api/jobs/{job}/options", {"name": "kept", "design": DESIGN})
        if status == 201:
            self.options.add(answer["id"])
            return
        assert status in (409, 422), answer
        for item in client.ask("GET", f"/api/jobs/{job}/options")[1]["options"]:
            self.options.discard(item["id"])
            client.ask("DELETE", f"/api/jobs/{job}/options/{item['id']}")

    def shelf(self, client: Client, _job: int) -> None:
        """A drum's price changed."""
        items = client.ask("GET", "/api/shelf/cables")[1]["items"]
        version = next((item["version"] for item in items if item["id"] == "drum"), None)
        assert version is None or version >= self.shelf_version
        price = round(random.uniform(1, 90), 2)
        body = {"document": {"size": "16 mm²", "price_per_m": price}, "based_on": version}
        status, answer = client.ask("PUT", "/api/shelf/cables/drum", body)
        assert status == 200, answer
        self.shelf_version, self.price = answer["version"], price

    def begin(self, client: Client, _job: int) -> None:
        """A new job."""
        status, answer = client.ask("POST", "/api/jobs", {"title": "begun"})
        assert status == 201, answer
        self.jobs.add(answer["id"])

    def held_by(self, path: Path, job: int) -> None:
        """Everything acknowledged stands in the file, or something newer in its place."""
        stores = Stores.open(path)
        stored = stores.jobs.get(job)
        assert stored.version in (self.version, self.version + 1)
        assert self.title in ("", stores.jobs.get(job, self.version).heading.title)
        self.version, self.title = stored.version, stored.heading.title  # from here on it counts, acknowledged or not
        drums = on_the_shelf(stores)
        if self.shelf_version:
            drum = drums["drum"]
            assert drum.version in (self.shelf_version, self.shelf_version + 1)
            price = getattr(drum.item, "price_per_m", None)
            assert drum.version > self.shelf_version or price == self.price
            self.shelf_version, self.price = drum.version, price or 0.0
        kept = {item.id for item in stores.options.all(job)}
        assert self.options <= kept
        assert len(kept) <= 3
        assert self.jobs <= set(stores.jobs.ids())
        stores.database.close()


def test_killed_while_writing(tmp_path: Path) -> None:
    """Whatever moment the server dies at, all it acknowledged is there at the next start."""
    path = tmp_path / "k.sqlite"
    pick = random.Random(11)
    said = Acknowledged()
    server = ForkedServer(path, "serve")
    server.start()
    with closing(Client(server.port)) as client:
        job = client.ask("POST", "/api/jobs", {"title": "killed", "design": DESIGN})[1]["id"]
    for kill in range(KILLS):
        writers = [
            threading.Thread(target=said.write, args=(server.port, job, what))
            for what in ("save", "option", "shelf", "begin")
        ]
        before, begun = said.saves, time.monotonic()
        for writer in writers:
            writer.start()
        while kill % 2 and said.saves < before + 3 and time.monotonic() < begun + 20:
            time.sleep(0.01)  # every other one in full swing, however slow the machine
        time.sleep(pick.uniform(0.05, 0.35))
        server.kill()
        for writer in writers:
            writer.join()
        said.held_by(path, job)
        if kill % 25 == 24:
            check_store(path)
        server = ForkedServer(path, "serve")
        server.start()
    server.kill()
    check_store(path)
    assert said.saves > KILLS


@pytest.mark.parametrize("old", [False, True], ids=["made", "migrated"])
def test_killed_while_beginning(tmp_path: Path, old: bool) -> None:
    """Killed at any moment of its first start on a new file, or on one of an earlier version, it opens all the same."""
    pick = random.Random(12)
    made = tmp_path / "old.sqlite"
    jobs = 0
    if old:
        with closing(sqlite3.connect(made)) as connection:
            connection.executescript(OLD.read_text(encoding="utf-8"))
            (jobs,) = connection.execute("select count(*) from job").fetchone()
    for kill in range(max(2, KILLS // 3)):
        path = tmp_path / f"{kill}.sqlite"
        if old:
            shutil.copy(made, path)
        told, teller = FORKS.Pipe(duplex=False)
        process = FORKS.Process(target=_run, args=(["serve", "--database", str(path), "--port", "0"], teller))
        process.start()
        time.sleep(pick.uniform(0.0, 0.5))
        process.kill()
        process.join()
        told.close()
        teller.close()
        stores = Stores.open(path)
        assert len(stores.jobs.ids()) == jobs
        stores.database.close()
        check_store(path)


class Crowd:
    """Eight clients that write everything; each takes note of what it was told is stored."""

    def __init__(self, port: int, job: int) -> None:
        self.port, self.job = port, job
        self.lock = threading.Lock()
        self.saved: dict[int, str] = {}
        self.drum: dict[int, float] = {}
        self.numbers: dict[str, int] = defaultdict(int)
        self.refused = 0

    def work(self, at: int) -> None:
        """One client's rounds."""
        pick = random.Random(at)
        with closing(Client(self.port)) as client:
            for round_ in range(ROUNDS):
                steps = [self.save, self.drum_price, self.same_number, self.option, self.take_file, self.read]
                pick.shuffle(steps)
                for step in steps:
                    step(client, at, round_)

    def ask(self, client: Client, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """A request that may be refused, never fail."""
        status, answer = client.ask(method, path, body)
        assert status < 500, (method, path, status, answer)
        if status == 409:
            with self.lock:
                self.refused += 1
        return status, answer

    def save(self, client: Client, at: int, round_: int) -> None:
        """The job, from the version just read."""
        _, job = self.ask(client, "GET", f"/api/jobs/{self.job}")
        title = f"client {at} round {round_}"
        body = {"title": title, "based_on": job["version"], "design": DESIGN}
        status, answer = self.ask(client, "PUT", f"/api/jobs/{self.job}", body)
        if status == 200:
            with self.lock:
                assert answer["version"] not in self.saved, "two were told the same version is theirs"
                self.saved[answer["version"]] = title

    def drum_price(self, client: Client, at: int, round_: int) -> None:
        """One shelf item, from the version just read."""
        items = self.ask(client, "GET", "/api/shelf/cables")[1]["items"]
        version = next(item["version"] for item in items if item["id"] == "drum")
        price = at + 1 + round_ / 1000
        body = {"document": {"size": "16 mm²", "price_per_m": price}, "based_on": version}
        status, answer = self.ask(client, "PUT", "/api/shelf/cables/drum", body)
        if status == 200:
            with self.lock:
                assert answer["version"] not in self.drum
                self.drum[answer["version"]] = price

    def same_number(self, client: Client, _at: int, round_: int) -> None:
        """A new item under a number that all add in the same round."""
        body = {"document": {"size": "25 mm²", "price_per_m": 4.0}, "based_on": None}
        status, _ = self.ask(client, "PUT", f"/api/shelf/cables/new-{round_}", body)
        if status == 200:
            with self.lock:
                self.numbers[f"new-{round_}"] += 1

    def option(self, client: Client, at: int, _round: int) -> None:
        """An option kept, or the oldest dropped."""
        status, _ = self.ask(client, "POST", f"/api/jobs/{self.job}/options", {"name": f"by {at}", "design": DESIGN})
        there = self.ask(client, "GET", f"/api/jobs/{self.job}/options")[1]["options"]
        assert len(there) <= 3
        if status != 201 and there:
            self.ask(client, "DELETE", f"/api/jobs/{self.job}/options/{there[0]['id']}")

    def take_file(self, client: Client, at: int, round_: int) -> None:
        """A shelf file of one row of its own."""
        text = f"id,size,price_per_m\nrow-{at}-{round_},35 mm²,{at + 1}\n".encode()
        status, answer = self.ask(client, "POST", "/api/shelf/cables/import?accept=all", text)
        assert status == 200, answer

    def read(self, client: Client, _at: int, _round: int) -> None:
        """What others read meanwhile."""
        for path in ("/api/jobs", "/api/catalogue", f"/api/jobs/{self.job}/revisions", "/api/health"):
            assert self.ask(client, "GET", path)[0] == 200


def test_a_crowd_of_writers(tmp_path: Path) -> None:
    """Every version acknowledged holds what its client wrote; a number is given once; no answer fails."""
    path = tmp_path / "c.sqlite"
    with ForkedServer(path, "serve") as server, closing(Client(server.port)) as client:
        job = client.ask("POST", "/api/jobs", {"title": "crowded", "design": DESIGN})[1]["id"]
        first = {"document": {"size": "16 mm²", "price_per_m": 1.0}, "based_on": None}
        client.ask("PUT", "/api/shelf/cables/drum", first)
        crowd = Crowd(server.port, job)
        together([lambda at=at: crowd.work(at) for at in range(CLIENTS)])  # type: ignore[misc]
        with closing(Client(server.port)) as after:  # the first has stood idle, and may have been hung up on
            assert after.ask("GET", f"/api/jobs/{job}")[1]["version"] == 1 + len(crowd.saved)
    stores = Stores.open(path)
    for version, title in crowd.saved.items():
        assert stores.jobs.get(job, version).heading.title == title
    shelf = on_the_shelf(stores)
    assert shelf["drum"].version == 1 + len(crowd.drum)
    assert getattr(shelf["drum"].item, "price_per_m", None) == crowd.drum[max(crowd.drum)]
    assert crowd.numbers == {f"new-{round_}": 1 for round_ in range(ROUNDS)}
    assert {f"row-{at}-{round_}" for at in range(CLIENTS) for round_ in range(ROUNDS)} <= set(shelf)
    assert crowd.refused > 0
