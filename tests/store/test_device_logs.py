"""Logs and their kinds on disk: back as they went in, known by their columns, gone with their job; migrations lose nothing."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

import numpy as np
import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

import olvask.store
from olvask.core.analyses.device_log import Log
from olvask.core.model.device_log import Column, LogMapping
from olvask.store.cards import Heading
from olvask.store.device_logs import LogAbout, NoSuchLog, TooManyLogs
from olvask.store.engine import KNOWN
from olvask.store.jobs import NoSuchJob
from olvask.store.stores import Stores
from tests.designs import design

WHEN = Column(name="When", role="moment")
MAPPING = LogMapping(columns=(WHEN, Column(name="In", role="input_v", unit="V")))
ABOUT = LogAbout(name="days.csv", rows=3, begins_s=1.0, ends_s=2.0, mapping=MAPPING, troubles=("2 cells",))


@pytest.fixture
def stores(tmp_path: Path) -> Stores:
    return Stores.open(tmp_path / "logs.sqlite")


def log(rows: int = 5000) -> Log:
    chance = np.random.default_rng(rows)
    moments = 1_770_000_000.25 + np.cumsum(chance.uniform(0.5, 30, rows))
    volts = chance.normal(13, 1, rows).astype(np.float32)
    volts[::7] = np.nan
    return Log(moments, {"input_v": volts, "battery_c": np.full(rows, 20.0, dtype=np.float32)})


def test_a_log_comes_back_as_it_went_in(stores: Stores) -> None:
    """Values to the bit, moments to a hundredth of a second over days; what it is without its columns."""
    job, kept = stores.jobs.create(Heading("Van"), design()).id, log()
    number = stores.device_logs.add(job, ABOUT, kept)
    found = stores.device_logs.log(job, number)
    np.testing.assert_allclose(found.time_s, kept.time_s, atol=0.01)
    assert list(found.values) == ["input_v", "battery_c"]
    for name in kept.values:
        np.testing.assert_array_equal(found.values[name], kept.values[name])
    about = stores.device_logs.about(job, number)
    assert (about.name, about.mapping, about.troubles) == ("days.csv", MAPPING, ("2 cells",))


def test_a_log_belongs_to_its_job_and_goes_with_it(stores: Stores) -> None:
    one, other = (stores.jobs.create(Heading(title), design()).id for title in ("Van", "Lorry"))
    number = stores.device_logs.add(one, ABOUT, log(3))
    for ask in (stores.device_logs.about, stores.device_logs.log, stores.device_logs.remove):
        with pytest.raises(NoSuchLog):
            ask(other, number)
    with pytest.raises(NoSuchJob):
        stores.device_logs.add(99, ABOUT, log(3))
    stores.device_logs.remove(one, number)
    assert stores.device_logs.all(one) == []


def test_no_more_are_kept_than_are_kept(stores: Stores, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("olvask.store.device_logs.MOST_LOGS", 2)
    job = stores.jobs.create(Heading("Van"), design()).id
    for _ in range(2):
        stores.device_logs.add(job, ABOUT, log(3))
    with pytest.raises(TooManyLogs, match="take one out first"):
        stores.device_logs.add(job, ABOUT, log(3))


def test_a_kind_is_known_by_its_columns_and_keeps_its_last_mapping(stores: Stores) -> None:
    number = stores.device_logs.keep_kind(MAPPING)
    anew = MAPPING.model_copy(update={"zone": "Europe/Lisbon"})
    assert stores.device_logs.keep_kind(anew) == number
    assert stores.device_logs.kind_of(MAPPING.signature) == (number, anew)
    parted = MAPPING.model_copy(update={"delimiter": ";"})
    assert stores.device_logs.kind_of(parted.signature) is None
    assert stores.device_logs.keep_kind(parted) != number
    with pytest.raises(NoSuchLog):
        stores.device_logs.kind(99)


def _upgraded(path: Path, revision: str) -> None:
    config = Config()
    config.set_main_option("script_location", str(Path(olvask.store.__file__).parent / "migrations"))
    config.set_main_option("path_separator", "os")
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        connection.exec_driver_sql(
            "PRAGMA foreign_keys=ON"
        )  # as the application has it: what refers to a row goes with it
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
    engine.dispose()


def _filled(path: Path) -> dict[str, int]:
    """One row more in every table, what may be empty empty; how many each holds then."""
    with closing(sqlite3.connect(path)) as made:
        tables = [row[0] for row in made.execute("select name from sqlite_master where type = 'table'")]
        for table in tables:
            columns = made.execute(f"pragma table_info({table})").fetchall()
            if table.startswith(("alembic", "sqlite")):
                continue
            values = [1 if "INT" in kind or "FLOAT" in kind else "2031-01-01" for _, _, kind, *_ in columns]
            marks = ", ".join("?" * len(columns))
            made.execute(f"insert or ignore into {table} values ({marks})", values)  # noqa: S608 - the same
        made.commit()
        return _counts(path)


def _counts(path: Path) -> dict[str, int]:
    with closing(sqlite3.connect(path)) as made:
        tables = [row[0] for row in made.execute("select name from sqlite_master where type = 'table'")]
        return {table: made.execute(f"select count(*) from {table}").fetchone()[0] for table in tables}  # noqa: S608


@pytest.mark.parametrize("begun", KNOWN[3:-1])  # before, designs are read and brought up, which test_version_1 holds
def test_no_migration_loses_a_row(tmp_path: Path, begun: str) -> None:
    """From each schema to the next newest: every table holds what it held."""
    path = tmp_path / "old.sqlite"
    _upgraded(path, begun)
    before = _filled(path)
    assert before["revision"] == before["job"] == 1
    _upgraded(path, "head")
    after = _counts(path)
    assert {table: after[table] for table in before} == before
