"""A server without a network: the application and its test client."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from olvask.store.demo import seed
from olvask.web.app import Config, create_app
from tests.seeded import seeded


@pytest.fixture
def client(tmp_path: Path) -> FlaskClient:
    """A client of an application with the five demo jobs."""
    app = create_app(Config(seeded(tmp_path / "web.sqlite")))
    seed(app.extensions["olvask.stores"])  # where it is no file
    return app.test_client()
