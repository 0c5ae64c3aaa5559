"""`olvask check` reads everything and names what cannot be read; a backup each night, the latest kept."""

from __future__ import annotations

import io
import sqlite3
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner
from PIL import Image

from olvask.cli import main
from olvask.store.backup import check_store
from olvask.store.nightly import KEPT, write_due
from olvask.store.photographs import remade
from olvask.store.stores import Stores
from tests.seeded import seeded

SPOILT = [
    ("update revision set design = '{}' where job_id = 2", "job 2, revision 1"),
    ("update quote set document = 'x' where id = 1", "quote 1"),
    ("update signature set document = '[]'", "signature 1"),
    ("update photograph set picture = x'00'", "no picture"),
    ("update device_log set columns = x'504b0304'", "log 1 of job"),
    ("update house set document = '{\"units\": 3}'", "house rules 1"),
    ("update shelf_item set document = '{}' where kind = 'cables'", "shelf cables"),
]


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    """A workshop with a history, as bytes."""
    path = seeded(tmp_path_factory.mktemp("sound") / "demo.sqlite", history=True)
    stores = Stores.open(path)
    stores.house.save(stores.house.get().house, stores.house.get().version)
    picture = io.BytesIO()
    Image.new("RGB", (40, 30), (120, 60, 30)).save(picture, "PNG")
    stores.build.keep(1, remade(picture.getvalue()))
    stores.database.close()
    return path.read_bytes()


def checked(path: Path) -> tuple[int, str]:
    done = CliRunner().invoke(main, ["check", "--database", str(path)])
    return done.exit_code, done.output


def test_a_sound_store_says_so(tmp_path: Path, demo: bytes) -> None:
    path = tmp_path / "sound.sqlite"
    path.write_bytes(demo)
    assert checked(path) == (0, f"{path}: 5 jobs, everything can be read\n")


@pytest.mark.parametrize(("change", "says"), SPOILT)
def test_what_cannot_be_read_is_named(tmp_path: Path, demo: bytes, change: str, says: str) -> None:
    path = tmp_path / "spoilt.sqlite"
    path.write_bytes(demo)
    with closing(sqlite3.connect(path)) as connection, connection:
        assert connection.execute(change).rowcount > 0, "the demo has none of it"
    code, told = checked(path)
    assert code == 1
    assert says in told


def test_a_backup_each_night_and_the_latest_kept(tmp_path: Path, demo: bytes) -> None:
    """Not before two, once a night, each whole; a fortnight of them stays."""
    path, folder = tmp_path / "shop.sqlite", tmp_path / "nights"
    path.write_bytes(demo)
    now = datetime(2031, 5, 1, 0, 30)  # noqa: DTZ001  # the shop's own clock
    assert write_due(path, folder, now) is None
    written = []
    for _ in range(6 * (KEPT + 3)):
        now += timedelta(hours=4)
        file = write_due(path, folder, now)
        if file is not None:
            written.append(file.name)
    assert len(written) == len(set(written)) == KEPT + 3
    left = sorted(folder.iterdir())
    assert [file.name for file in left] == written[-KEPT:]
    assert {check_store(file) for file in left} == {5}
