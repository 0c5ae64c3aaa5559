"""The store: saves, stale saves, revisions, migrations and what survives a crash."""

from __future__ import annotations

import sqlite3
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext

from olvask.store.cards import Heading
from olvask.store.demo import seed
from olvask.store.engine import migrate, open_store
from olvask.store.jobs import JobStore, NoSuchJob, StaleSave
from olvask.store.schema import Base
from olvask.store.stores import Stores
from tests.designs import cable, design, fuse

HEAD = Heading("Milk float", "MF-001", "Alderbeck Dairy")


class Clock:
    """A clock that ticks a minute at each look."""

    def __init__(self) -> None:
        self.at = datetime(2031, 5, 2, 9, 0, tzinfo=UTC).replace(tzinfo=None)

    def __call__(self) -> datetime:
        self.at += timedelta(minutes=1)
        return self.at


@pytest.fixture
def path(tmp_path: Path) -> Path:
    """A database file in a folder that does not exist yet."""
    return tmp_path / "new" / "jobs.sqlite"


@pytest.fixture
def store(path: Path) -> JobStore:
    """An empty store."""
    return JobStore(open_store(path), Clock())


def test_what_goes_in_comes_out(store: JobStore) -> None:
    """A created job is read back whole."""
    made = store.create(HEAD, design())
    read = store.get(made.id)
    assert (read.heading, read.version, read.design) == (HEAD, 1, design())


def test_every_revision_can_be_had_back(store: JobStore) -> None:
    """Three saves leave four revisions, each with its own design and time, newest first."""
    job = store.create(HEAD, design())
    sizes = ["16 mm²", "35 mm²", "50 mm²"]
    for version, size in enumerate(sizes, start=1):
        store.save(job.id, version, HEAD, design(supply={"pieces": [fuse(60.0), cable(size)]}))
    heads = store.revisions(job.id)
    assert [item.version for item in heads] == [4, 3, 2, 1]
    assert heads[0].saved_at > heads[-1].saved_at
    assert store.get(job.id, 1).design == design()
    old = store.get(job.id, 2).design.supply.pieces[1]
    assert old.model_dump()["size"] == "16 mm²"


def test_a_stale_save_is_refused_with_what_is_stored(store: JobStore) -> None:
    """A save based on an older version writes nothing and brings the stored job along."""
    job = store.create(HEAD, design())
    store.save(job.id, 1, Heading("Milk float, repainted"), design())
    with pytest.raises(StaleSave) as caught:
        store.save(job.id, 1, Heading("Milk float, sold"), design())
    assert caught.value.stored.version == 2
    assert caught.value.stored.heading.title == "Milk float, repainted"
    assert store.get(job.id).heading.title == "Milk float, repainted"
    assert len(store.revisions(job.id)) == 2


def test_a_save_whose_answer_was_lost_may_come_again(store: JobStore) -> None:
    """The very same once more is answered as it was, and makes no revision; anything else of that version is stale."""
    job = store.create(HEAD, design())
    changed = design(supply={"pieces": [fuse(60.0), cable("16 mm²")]})
    first = store.save(job.id, 1, HEAD, changed)
    again = store.save(job.id, 1, HEAD, changed)
    assert (again.version, again.design, again.heading) == (first.version, first.design, first.heading)
    assert [item.version for item in store.revisions(job.id)] == [2, 1]
    for heading, other in ((Heading("Milk float, sold"), changed), (HEAD, design())):
        with pytest.raises(StaleSave):
            store.save(job.id, 1, heading, other)
    store.save(job.id, 2, HEAD, design())
    with pytest.raises(StaleSave):
        store.save(job.id, 1, HEAD, changed)


def test_of_many_savers_exactly_one_wins(store: JobStore) -> None:
    """Eight saves based on the same version at once: one goes through, seven are told."""
    job = store.create(HEAD, design())

    def attempt(number: int) -> bool:
        try:
            store.save(job.id, 1, Heading(f"saver {number}"), design())
        except StaleSave:
            return False
        return True

    with ThreadPoolExecutor(8) as pool:
        won = list(pool.map(attempt, range(8)))
    assert sum(won) == 1
    assert store.get(job.id).version == 2


def test_absent_jobs_are_an_error_not_an_empty_one(store: JobStore) -> None:
    """Asking for what is not there raises, for jobs, versions, revisions and saves alike."""
    job = store.create(HEAD, design())
    for ask in (
        lambda: store.get(99),
        lambda: store.get(job.id, 7),
        lambda: store.revisions(99),
        lambda: store.save(99, 1, HEAD, design()),
    ):
        with pytest.raises(NoSuchJob):
            ask()


def test_last_saved_stands_first(store: JobStore) -> None:
    """The yard lists the job last worked on first."""
    first = store.create(Heading("first"), design())
    store.create(Heading("second"), design())
    assert [job.heading.title for job in store.page().jobs] == ["second", "first"]
    store.save(first.id, 1, Heading("first"), design())
    assert [job.heading.title for job in store.page().jobs] == ["first", "second"]


def test_a_second_opening_finds_everything(store: JobStore, path: Path) -> None:
    """Opening the file again migrates nothing away."""
    made = store.create(HEAD, design())
    assert JobStore(open_store(path)).get(made.id).design == design()


@pytest.mark.file
def test_settings_that_survive_a_power_cut(path: Path) -> None:
    """The file is in WAL, writes are synchronous and foreign keys hold."""
    with open_store(path).engine.connect() as connection:
        pragma = {
            name: connection.exec_driver_sql(f"PRAGMA {name}").scalar()
            for name in ("journal_mode", "synchronous", "foreign_keys")
        }
    assert pragma == {"journal_mode": "wal", "synchronous": 2, "foreign_keys": 1}


@pytest.mark.file
def test_a_revision_without_a_job_cannot_be(store: JobStore, path: Path) -> None:
    """The database itself refuses an orphan."""
    store.create(HEAD, design())
    connection = sqlite3.connect(path)
    connection.execute("PRAGMA foreign_keys=ON")
    with pytest.raises(sqlite3.IntegrityError):
        connection.execute("INSERT INTO revision VALUES (77, 1, '', '', '', '2031-01-01', '{}', '')")
    connection.close()


@pytest.mark.file
def test_migrations_and_tables_agree(path: Path) -> None:
    """After all migrations the database is what the table definitions say, and migrating again does nothing."""
    database = open_store(path)
    migrate(database)
    with database.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_seeding_never_touches_a_store_in_use(path: Path) -> None:
    """The demo fills an empty store with five jobs and a shelf, and leaves one in use alone."""
    stores = Stores.open(path)
    seed(stores)
    assert len(stores.jobs.ids()) == 5
    stores.shelf.retire("chargers", stores.shelf.chargers()[0].id, True)
    units = len(stores.shelf.chargers())
    seed(stores)
    assert len(stores.jobs.ids()) == 5
    assert len(stores.shelf.chargers()) == units
