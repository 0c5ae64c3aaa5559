"""Everything of one customer: given whole, erased whole, nothing of anybody else touched."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from PIL import Image

from olvask.documents.job_file import read_job_file
from olvask.store.photographs import remade
from olvask.store.stores import Stores
from olvask.web.app import Config, create_app
from tests.seeded import seeded

CUSTOMER = "Marrow Valley Dispensary"


def workshop(tmp_path: Path) -> tuple[FlaskClient, Stores]:
    app = create_app(Config(seeded(tmp_path / "customers.sqlite", history=True)))
    stores = app.extensions["olvask.stores"]
    assert isinstance(stores, Stores)
    return app.test_client(), stores


@pytest.mark.file
def test_a_dossier_holds_all_and_an_erasure_leaves_nothing(tmp_path: Path) -> None:
    """The van with its history: each file can be read again; erased, no table and no page of the file knows of it."""
    client, stores = workshop(tmp_path)
    mine = stores.customers.jobs(CUSTOMER)[0]
    picture = io.BytesIO()
    Image.new("RGB", (40, 30), (120, 60, 30)).save(picture, "PNG")
    stores.build.keep(mine, remade(picture.getvalue()))
    answer = client.get("/api/customers/dossier.zip", query_string={"customer": CUSTOMER.upper()})
    assert answer.status_code == 200
    packed = zipfile.ZipFile(io.BytesIO(answer.data))
    names = packed.namelist()
    assert len({name.split("/")[0] for name in names}) == 1
    job = int(names[0].split("/")[0].removeprefix("job-"))
    revisions = [name for name in names if "revision-" in name]
    assert len(revisions) == len(stores.jobs.revisions(job))
    assert all(read_job_file(packed.read(name)).customer == CUSTOMER for name in revisions)
    notes = packed.read(f"job-{job}/notes.csv").decode().splitlines()
    assert len(notes) == 1 + len(stores.build.entries(job))
    logs = [name for name in names if "device-log" in name]
    assert [len(packed.read(name).splitlines()) - 1 for name in logs] == [
        len(stores.device_logs.log(job, log.id)) for log in stores.device_logs.all(job)
    ]
    assert len(json.loads(packed.read(f"job-{job}/signatures.json"))) == len(stores.signatures.all(job))
    pictures = [name for name in names if name.endswith(".jpg")]
    assert pictures
    for name in pictures:
        Image.open(io.BytesIO(packed.read(name))).load()
    others = [(other, stores.jobs.get(other).design) for other in stores.jobs.ids() if other != job]
    slip = client.post("/api/customers/erase", json={"customer": CUSTOMER, "again": "Marrow"})
    assert slip.status_code == 404
    assert job in stores.jobs.ids()
    done = client.post("/api/customers/erase", json={"customer": CUSTOMER, "again": CUSTOMER.lower()})
    assert done.json == {"jobs": 1}
    assert [(other, stores.jobs.get(other).design) for other in stores.jobs.ids()] == others
    assert client.get("/api/customers/dossier.zip", query_string={"customer": CUSTOMER}).status_code == 404
    stores.database.close()
    assert CUSTOMER.encode() not in stores.database.path.read_bytes()
