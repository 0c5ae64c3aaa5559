"""A pytest plugin that keeps every store of a test on a PostgreSQL server instead of in a file, each in a schema of its own.

    pg_virtualenv pytest -p tests.on_postgres tests/store/test_jobs.py tests/web

libpq's own variables (PGHOST and the like) say where the server is. Tests of files themselves make no sense there.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

import olvask.store
from olvask.store import engine
from olvask.store.engine import Database

SERVER = "postgresql+psycopg:///"
opened: list[tuple[str, Database]] = []
in_file = engine.open_store


def on_server(place: Path | str) -> Database:
    """The store that stands for a file's: one schema a path, kept open through a test."""
    if isinstance(place, str):  # an address of its own
        return in_file(place)
    name = "s" + hashlib.sha256(str(place).encode()).hexdigest()[:20]
    admin = create_engine(SERVER)
    with admin.begin() as connection:
        connection.execute(text(f"CREATE SCHEMA IF NOT EXISTS {name}"))
    admin.dispose()
    database = in_file(f"{SERVER}?options=-csearch_path%3D{name}")
    opened.append((name, database))
    return database


def pytest_configure(config: pytest.Config) -> None:
    """Stores are on the server from here on."""
    for module in (olvask.store, engine):
        vars(module)["open_store"] = on_server


@pytest.fixture(autouse=True)
def _put_away() -> object:
    """A test's schemas go with it."""
    yield
    for _, database in opened:
        database.close()
    for name in {name for name, _ in opened}:
        admin = create_engine(SERVER)
        with admin.begin() as connection:
            connection.execute(text(f"DROP SCHEMA IF EXISTS {name} CASCADE"))
        admin.dispose()
    opened.clear()
