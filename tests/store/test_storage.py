"""What can go wrong with the place where jobs are kept: cuts, crowds, faults, and backups taken meanwhile."""

from __future__ import annotations

import os
import sqlite3
import sys
import threading
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from click.testing import CliRunner
from sqlalchemy import event

from olvask.cli import main
from olvask.core.model.shelf import ShelfCable
from olvask.store import engine
from olvask.store.backup import check_store, restore_backup, write_backup
from olvask.store.cards import Heading, Wanted
from olvask.store.demo import seed
from olvask.store.engine import HEAD, KNOWN, Database, open_store
from olvask.store.faults import StorageFault
from olvask.store.options import TooManyOptions
from olvask.store.shelf import StaleItem
from olvask.store.stores import Stores
from olvask.web.app import Config, create_app
from tests.designs import design

OLD = Path(__file__).parents[1] / "data" / "version_1" / "database.sql"
CUTS = int(os.environ.get("OLVASK_CUTS", "12"))


def in_a_child(work: Callable[[], None]) -> int:
    """Run in a forked process; its exit status."""
    child = os.fork()
    if child == 0:
        try:
            work()
            os._exit(0)
        except BaseException:  # a child must never come back
            os._exit(1)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])


def opened_until(path: Path, statements: int) -> None:
    """Open a store and die hard after so many statements."""
    left = [statements]

    def count(*_: object) -> None:
        left[0] -= 1
        if left[0] < 0:
            os._exit(9)

    class Dying(Database):
        def __init__(self, at: Path, *waits_s: float) -> None:
            super().__init__(at, *waits_s)
            event.listen(self.engine, "before_cursor_execute", count)

    engine.Database = Dying  # type: ignore[misc,assignment]  # in the child alone
    open_store(path)


@pytest.mark.skipif(sys.platform == "win32", reason="forks")
@pytest.mark.parametrize("old", [False, True], ids=["made", "migrated"])
def test_cut_off_anywhere_it_opens_again(tmp_path: Path, old: bool) -> None:
    """Killed after any statement of making or migrating, the next start finds all or nothing, and finishes it."""
    died = 0
    for cut in range(CUTS):
        path = tmp_path / f"{cut}.sqlite"
        jobs = 0
        if old:
            with closing(sqlite3.connect(path)) as made:
                made.executescript(OLD.read_text(encoding="utf-8"))
                (jobs,) = made.execute("select count(*) from job").fetchone()
        status = in_a_child(lambda path=path, cut=cut: opened_until(path, cut))  # type: ignore[misc]
        assert status in (0, 9)
        died += status == 9
        stores = Stores.open(path)
        assert len(stores.jobs.ids()) == jobs
        stores.database.close()
        check_store(path)
    assert died >= min(CUTS, 12) - 1


def test_who_opens_waits_for_who_makes(tmp_path: Path) -> None:
    """A machine so slow that making takes longer than a writer waits for another: who opens meanwhile gets the store made."""
    path = tmp_path / "new.sqlite"
    opening = threading.Thread(target=lambda: Stores.open(path).jobs.create(Heading("one"), design()))
    with closing(sqlite3.connect(path, isolation_level=None)) as making:
        making.execute("PRAGMA journal_mode=WAL")
        making.execute("BEGIN IMMEDIATE")
        opening.start()
        time.sleep(1.5 * engine.BUSY_S)
        making.execute("ROLLBACK")
    opening.join()
    assert check_store(path) == 1


def test_many_begin_on_one_new_file(tmp_path: Path) -> None:
    """Eight servers that start at once on a file that is not there yet: all open it, and it is whole."""
    path = tmp_path / "new" / "one.sqlite"
    children = []
    for _ in range(8):
        child = os.fork()
        if child == 0:
            try:
                Stores.open(path).jobs.create(Heading("one"), design())
                os._exit(0)
            except BaseException:
                os._exit(1)
        children.append(child)
    assert [os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]) for child in children] == [0] * 8
    assert check_store(path) == 8


def test_the_newest_schema_is_known() -> None:
    """What the quick start takes for the newest is the newest migration."""
    names = sorted(path.name[:4] for path in Path(engine.__file__).parent.glob("migrations/versions/0*.py"))
    assert names == list(KNOWN)
    assert names[-1] == HEAD


class TestFaults:
    """Each is said with its remedy, and nothing that was acknowledged is lost."""

    def said(self, path: Path) -> StorageFault:
        with pytest.raises(StorageFault) as caught:
            Stores.open(path)
        assert caught.value.kind.remedy in str(caught.value)
        return caught.value

    def test_not_a_store(self, tmp_path: Path) -> None:
        """A text file, another program's database, a folder."""
        text = tmp_path / "text"
        text.write_text("minutes of the meeting\n" * 200)
        other = tmp_path / "other.sqlite"
        with closing(sqlite3.connect(other)) as made:
            made.execute("create table songs (name text)")
        folder = tmp_path / "folder"
        folder.mkdir()
        for path in (text, other, folder):
            assert self.said(path).kind.key == "foreign"
        assert text.read_text().startswith("minutes")

    def test_newer(self, tmp_path: Path) -> None:
        """A schema nobody here knows is left alone."""
        path = tmp_path / "n.sqlite"
        open_store(path).close()
        with closing(sqlite3.connect(path)) as made:
            made.execute("update alembic_version set version_num = '0999'")
            made.commit()
        assert self.said(path).kind.key == "newer"

    def test_read_only(self, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
        """A file or folder that may not be written; the caller may be root, whom nothing stops, so the check is asked."""
        path = tmp_path / "r.sqlite"
        open_store(path).close()
        monkeypatch.setattr(os, "access", lambda _path, _mode: False)
        assert self.said(path).kind.key == "read_only"

    def test_gone_while_running(self, tmp_path: Path) -> None:
        """A folder put away: a save is refused, never acknowledged and lost."""
        path = tmp_path / "in" / "g.sqlite"
        stores = Stores.open(path)
        job = stores.jobs.create(Heading("here"), design())
        path.parent.rename(tmp_path / "away")
        with pytest.raises(StorageFault) as caught:
            stores.jobs.save(job.id, 1, Heading("there"), design())
        assert caught.value.kind.key == "gone"
        assert Stores.open(tmp_path / "away" / "g.sqlite").jobs.get(job.id).heading.title == "here"

    @pytest.mark.parametrize("instead", ["nothing", "another store"])
    def test_gone_before_it_is_connected_to_anew(self, tmp_path: Path, instead: str) -> None:
        """The file alone is put away, and no connection to it is left open: reading and writing are refused, and nothing is
        made or changed in its place. Put back, it goes on."""
        path, away = tmp_path / "a folder #1 é" / "g.sqlite", tmp_path / "g.away"
        stores = Stores.open(path)
        job = stores.jobs.create(Heading("here"), design())
        stores.database.engine.dispose()
        path.rename(away)
        other = ""
        if instead == "another store":
            there = Stores.open(path)
            other = there.jobs.create(Heading("other"), design()).heading.title
            there.database.close()
        for tried in (
            lambda: stores.jobs.get(job.id),
            lambda: stores.jobs.save(job.id, 1, Heading("there"), design()),
            lambda: stores.jobs.refresh(20),
        ):
            with pytest.raises(StorageFault) as caught:
                tried()
            assert caught.value.kind.key == "gone"
        assert path.exists() is bool(other)
        if other:
            assert Stores.open(path).jobs.get(1).heading.title == other
            path.unlink()
        away.rename(path)
        assert stores.jobs.get(job.id).heading.title == "here"

    def test_full(self, tmp_path: Path) -> None:
        """No room: the save is refused, what was stored stands, and with room it goes on."""
        stores = Stores.open(tmp_path / "f.sqlite")
        job = stores.jobs.create(Heading("small"), design())
        with stores.database.engine.connect() as connection:
            pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
        limit = [pages]
        event.listen(
            stores.database.engine,
            "begin",
            lambda connection: connection.exec_driver_sql(f"PRAGMA max_page_count={limit[0]}"),
        )

        def fill() -> None:
            for version in range(1, 40):
                stores.jobs.save(job.id, version, Heading("more"), design())

        with pytest.raises(StorageFault) as caught:
            fill()
        assert caught.value.kind.status == 507
        stored = stores.jobs.get(job.id).version
        limit[0] = 100_000
        stores.jobs.save(job.id, stored, Heading("again"), design())
        check_store(tmp_path / "f.sqlite")

    def test_spoilt_pages(self, tmp_path: Path) -> None:
        """Pages overwritten with junk are said to be damaged, here or when they are read."""
        path = tmp_path / "s.sqlite"
        stores = Stores.open(path)
        seed(stores)
        stores.database.close()
        raw = bytearray(path.read_bytes())
        raw[4096 : len(raw) // 2] = b"\x5a" * (len(raw) // 2 - 4096)
        path.write_bytes(raw)
        with pytest.raises(StorageFault) as caught:
            Stores.open(path).jobs.page()
        assert caught.value.kind.key in ("spoilt", "foreign")
        with pytest.raises(StorageFault):
            check_store(path)

    def test_locked_is_said_soon(self, tmp_path: Path) -> None:
        """Another program holds the write lock: 503 with when to try again, within seconds; afterwards it goes on."""
        app = create_app(Config(tmp_path / "l.sqlite"))
        stores, client = app.extensions["olvask.stores"], app.test_client()
        body = {"title": "Busy"}
        with closing(sqlite3.connect(stores.database.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            began = time.monotonic()
            refused = client.post("/api/jobs", json=body)
            assert time.monotonic() - began < 5
            assert refused.status_code == 503
            assert refused.headers["Retry-After"] == "1"
            assert "busy" in refused.get_json()["title"]
            other.execute("ROLLBACK")
        assert client.post("/api/jobs", json=body).status_code == 201


class TestCrowds:
    """Several at once: nobody's work goes under in silence."""

    def crowd(self, work: Callable[[int], None], many: int = 8) -> None:
        failed: list[BaseException] = []

        def run(at: int) -> None:
            try:
                work(at)
            except BaseException as error:  # told below
                failed.append(error)

        threads = [threading.Thread(target=run, args=(at,)) for at in range(many)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert failed == []

    def test_a_shelf_item_is_never_overwritten_in_silence(self, tmp_path: Path) -> None:
        """Eight editors of one drum: as many versions as were taken, and the price of the last."""
        stores = Stores.open(tmp_path / "s.sqlite")
        stores.shelf.put("cables", ShelfCable(id="d", size="16 mm²", price_per_m=1.0), None)
        taken: list[int] = []

        def edit(at: int) -> None:
            for _ in range(6):
                version = stores.shelf.all("cables")[0].version
                try:
                    item = ShelfCable(id="d", size="16 mm²", price_per_m=float(at + 2))
                    taken.append(stores.shelf.put("cables", item, version).version)
                except StaleItem:
                    continue

        self.crowd(edit)
        assert sorted(taken) == list(range(2, len(taken) + 2))

    def test_new_numbers_are_given_once(self, tmp_path: Path) -> None:
        """Eight add the same number: one is stored, seven are told it is taken."""
        stores = Stores.open(tmp_path / "s.sqlite")
        taken: list[str] = []

        def add(at: int) -> None:
            try:
                stores.shelf.put("cables", ShelfCable(id="d", size="16 mm²", price_per_m=at + 1.0), None)
            except StaleItem:
                taken.append("taken")

        self.crowd(add)
        assert len(taken) == 7

    def test_three_options_are_three(self, tmp_path: Path) -> None:
        """Eight keep an option each: three are kept."""
        stores = Stores.open(tmp_path / "o.sqlite")
        job = stores.jobs.create(Heading("o"), design())
        refused: list[int] = []

        def keep(at: int) -> None:
            try:
                stores.options.keep(job.id, f"option {at}", design())
            except TooManyOptions:
                refused.append(at)

        self.crowd(keep)
        assert len(stores.options.all(job.id)) == 3
        assert len(refused) == 5


class TestBackups:
    def test_taken_while_jobs_are_saved(self, tmp_path: Path) -> None:
        """Each backup holds every save acknowledged before it began, and is whole."""
        path = tmp_path / "b.sqlite"
        stores = Stores.open(path)
        job = stores.jobs.create(Heading("b"), design())
        done = threading.Event()
        acknowledged = [1]

        def save() -> None:
            while not done.is_set():
                stores.jobs.save(job.id, acknowledged[0], Heading("b"), design())
                acknowledged[0] += 1

        writer = threading.Thread(target=save)
        writer.start()
        try:
            for round_ in range(10):
                before = acknowledged[0]
                copy = tmp_path / f"copy{round_}.sqlite"
                assert write_backup(path, copy) == 1
                with closing(sqlite3.connect(copy)) as read:
                    (version,) = read.execute("select version from job").fetchone()
                assert version >= before
        finally:
            done.set()
            writer.join()

    def test_there_and_back(self, tmp_path: Path) -> None:
        """A backup restored over another store gives what was in it; the other is kept beside it."""
        first, second = tmp_path / "first.sqlite", tmp_path / "second.sqlite"
        seed(Stores.open(first))
        other = Stores.open(second)
        other.jobs.create(Heading("the other"), design())
        other.database.close()
        write_backup(first, tmp_path / "copy")
        count, kept = restore_backup(tmp_path / "copy", second)
        assert count == 5
        assert kept is not None
        assert [job.heading.title for job in Stores.open(kept).jobs.page().jobs] == ["the other"]
        there, back = Stores.open(first).jobs, Stores.open(second).jobs
        assert [there.get(id) for id in there.ids()] == [back.get(id) for id in back.ids()]

    def test_what_is_no_backup_is_refused(self, tmp_path: Path) -> None:
        """Cut short or overwritten, it is named as such, and the store stays as it was."""
        path = tmp_path / "k.sqlite"
        stores = Stores.open(path)
        seed(stores)
        stores.database.close()
        write_backup(path, tmp_path / "copy")
        whole = (tmp_path / "copy").read_bytes()
        for at, bad in enumerate((whole[: len(whole) // 2], whole[:5000] + b"\0" * 9000 + whole[14000:], b"", b"text")):
            file = tmp_path / f"bad{at}"
            file.write_bytes(bad)
            with pytest.raises(StorageFault):
                restore_backup(file, path)
        assert len(Stores.open(path).jobs.ids()) == 5

    def test_an_older_one_is_brought_up(self, tmp_path: Path) -> None:
        """A backup made by an earlier version opens as today's."""
        old = tmp_path / "old"
        with closing(sqlite3.connect(old)) as made:
            made.executescript(OLD.read_text(encoding="utf-8"))
        restore_backup(old, tmp_path / "new.sqlite")
        assert Stores.open(tmp_path / "new.sqlite").jobs.page().total >= 5


class TestYard:
    def test_it_is_searched_sorted_and_paged_by_the_store(self, tmp_path: Path) -> None:
        """Words in any order and case, in vehicle, number, customer or unit; pages of any length; nothing twice."""
        stores = Stores.open(tmp_path / "y.sqlite")
        for at in range(30):
            unit = {"charger": None} if at % 2 else {}
            stores.jobs.create(
                Heading(f"Float {at:02d}", f"MF-{at:03d}", "Alderbeck 100%" if at < 10 else ""), design(**unit)
            )
        everything = stores.jobs.page(Wanted(order="title", rows=200))
        assert everything.total == 30
        titles = [job.heading.title for job in everything.jobs]
        assert titles == sorted(titles)
        paged = [
            job.heading.title
            for begin in range(0, 30, 7)
            for job in stores.jobs.page(Wanted(order="title", begin=begin, rows=7)).jobs
        ]
        assert paged == titles
        assert stores.jobs.page(Wanted(sought="float alderbeck")).total == 10
        assert stores.jobs.page(Wanted(sought="100%")).total == 10
        assert stores.jobs.page(Wanted(sought="_")).total == 0
        assert stores.jobs.page(Wanted(sought="test UNIT")).total == 15
        stands = [stores.jobs.page(Wanted(stands=way)).total for way in ("stop", "caution", "clear", "spoilt")]
        assert sum(stands) == 30

    def test_cards_follow_saves_and_rules(self, tmp_path: Path) -> None:
        """A save changes the row; other rules make it anew, a few at a time."""
        stores = Stores.open(tmp_path / "c.sqlite")
        job = stores.jobs.create(Heading("c"), design())
        assert stores.jobs.page().jobs[0].card.stops == 0
        stores.jobs.save(job.id, 1, Heading("c"), design(current_limit_a=60.0))
        assert stores.jobs.page().jobs[0].card.stops > 0
        with closing(sqlite3.connect(tmp_path / "c.sqlite")) as made:
            made.execute("update card set rules = 'older', stops = 0")
            made.commit()
        assert stores.jobs.refresh() == 0
        with closing(sqlite3.connect(tmp_path / "c.sqlite")) as read:
            assert read.execute("select stops > 0, rules <> 'older' from card").fetchone() == (1, 1)
        assert stores.jobs.used("unit_id") == {"test-unit": 1}


@pytest.mark.parametrize("words", [["serve", "--port", "0"], ["export", "1"]])
def test_every_command_says_what_is_wrong_with_the_store(tmp_path: Path, words: list[str]) -> None:
    """A sentence with the file and the remedy, and no traceback."""
    path = tmp_path / "text"
    path.write_text("minutes of the meeting\n" * 200)
    told = CliRunner().invoke(main, [*words, "--database", str(path)])
    assert told.exit_code == 1
    assert str(path) in told.output
    assert "Choose another file" in told.output
    assert not isinstance(told.exception, StorageFault)
