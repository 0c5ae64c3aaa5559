"""One job that cannot be read or judged hides no other."""

from __future__ import annotations

import json

import pytest
from flask.testing import FlaskClient
from sqlalchemy import text

from olvask.core.assess import assess
from olvask.core.model import Design
from olvask.store import cards
from olvask.store.stores import Stores


def spoil(client: FlaskClient, job_id: int, document: str) -> None:
    """Write something else in the place of a job's stored design."""
    stores: Stores = client.application.extensions["olvask.stores"]
    with stores.database.engine.begin() as connection:
        connection.execute(text("update revision set design = :d where job_id = :id"), {"d": document, "id": job_id})


def begin(client: FlaskClient, title: str) -> int:
    return int(client.post("/api/jobs", json={"title": title}).get_json()["id"])


@pytest.mark.parametrize("document", ["", "{", "[]", "{}", '{"vehicle": {"alternator": {"rated_a": "many"}}}'])
def test_a_job_that_cannot_be_read_says_so_in_its_own_row(client: FlaskClient, document: str) -> None:
    """The yard comes whole; the spoilt row says why; its file can be taken as it stands; opening it says what to do."""
    good, bad = begin(client, "Good"), begin(client, "Bad")
    spoil(client, bad, document)
    rows = {row["id"]: row for row in client.get("/api/jobs").get_json()["jobs"]}
    assert rows[good]["spoilt"] == ""
    assert rows[good]["next_action"]
    assert rows[bad]["title"] == "Bad"
    assert "cannot be read" in rows[bad]["spoilt"]
    assert client.get(f"/api/jobs/{bad}/file").get_data(as_text=True) == document
    opened = client.get(f"/api/jobs/{bad}")
    assert opened.status_code == 422
    assert "import it" in opened.get_json()["detail"]
    assert client.get("/api/shelf/chargers").status_code == 200


def test_a_job_that_cannot_be_judged_says_so_in_its_own_row(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A mistake of the program in one job's assessment leaves the others as they are."""
    good, bad = begin(client, "Good"), begin(client, "Bad")
    design = client.get(f"/api/jobs/{bad}").get_json()["design"]
    design["units"] = 3
    real = assess

    def falling(job: Design, remedies: bool = True) -> object:
        if job.units == 3:
            raise ZeroDivisionError
        return real(job, remedies)

    monkeypatch.setattr(cards, "assess", falling)
    client.put(f"/api/jobs/{bad}", json={"title": "Bad", "based_on": 1, "design": design})
    answer = client.get("/api/jobs")
    assert answer.status_code == 200
    rows = {row["id"]: row for row in json.loads(answer.data)["jobs"]}
    assert rows[good]["spoilt"] == ""
    assert "cannot be judged" in rows[bad]["spoilt"]
