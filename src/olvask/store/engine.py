"""The database connection and its migrations."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event


def open_store(path: Path) -> Engine:
    """Open (and create or migrate) the database file at `path`.

    Args:
        path: SQLite file; its folder is made when missing.

    Raises:
        OSError: the folder cannot be made.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: object) -> None:
        cursor = connection.cursor()
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    migrate(engine)
    return engine


def migrate(engine: Engine) -> None:
    """Bring the database to the newest schema."""
    config = Config()
    config.set_main_option("script_location", str(files("olvask.store").joinpath("migrations")))
    config.set_main_option("path_separator", "os")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
