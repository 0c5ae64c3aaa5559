"""Settings over the wire: sheet, audit, monitor, climate, paper, menus as files."""

from __future__ import annotations

import json

import pytest
from flask.testing import FlaskClient

from olvask.core.model.shelf import chargers
from tests.papers import leaves


@pytest.fixture
def design(client: FlaskClient) -> dict[str, object]:
    """The farrier's truck as stored."""
    jobs = client.get("/api/jobs").get_json()["jobs"]
    number = next(job["id"] for job in jobs if job["code"] == "FT-041")
    found: dict[str, object] = client.get(f"/api/jobs/{number}").get_json()["design"]
    return found


def test_every_question_of_the_stage_is_answered(client: FlaskClient, design: dict[str, object]) -> None:
    """With the shapes the screens read."""
    sheet = client.post("/api/settings/sheet", json={"design": design}).get_json()
    assert [line["do"] for line in sheet["sheet"]["lines"]][-1] == "save"
    assert [item["place"] for item in sheet["devices"]] == ["monitor"]
    audit = client.post("/api/settings/audit", json={"design": design, "charge_from": 0.4, "celsius": 20}).get_json()
    assert {"unit", "solar", "mains_charger", "link"} == {item["kind"] for item in audit["sources"]}
    assert client.post("/api/settings/monitor", json=design).get_json()["values"]
    assert client.post("/api/settings/climate", json=design).get_json()["waking"]


@pytest.mark.parametrize(
    ("body", "field"), [({"charge_from": 1.0}, "From a charge of"), ({"celsius": 200}, "Battery and air at")]
)
def test_a_wrong_beginning_is_told_at_its_field(
    client: FlaskClient, design: dict[str, object], body: dict[str, object], field: str
) -> None:
    """A full battery has nothing to show; no battery is at 200 °C."""
    answer = client.post("/api/settings/audit", json={"design": design} | body)
    assert answer.status_code == 422
    assert [item["field"] for item in answer.get_json()["errors"]] == [field]


def test_a_device_that_is_not_there_has_no_sheet(client: FlaskClient, design: dict[str, object]) -> None:
    """Asked for by a place that holds nothing."""
    answer = client.post("/api/settings/sheet", json={"design": design, "device": "existing.e99"})
    assert answer.get_json()["sheet"] is None


def test_the_paper(client: FlaskClient) -> None:
    """One page for every demo job."""
    for job in client.get("/api/jobs").get_json()["jobs"]:
        answer = client.get(f"/api/jobs/{job['id']}/settings.pdf")
        assert answer.mimetype == "application/pdf"
        assert len(leaves(answer.data)) == 1


def test_a_menu_out_and_in(client: FlaskClient) -> None:
    """As CSV, and errors with their row."""
    record = chargers()[0].settings
    assert record is not None
    text = client.post("/api/menu.csv", json=json.loads(record.model_dump_json()))
    assert text.mimetype == "text/csv"
    back = client.post("/api/menu/read", data=text.data).get_json()
    assert back["errors"] == []
    assert len(back["lines"]) == len(record.lines)
    wrong = client.post("/api/menu/read", data=b"id,label,kind\na,A,noise\n").get_json()
    assert wrong["errors"][0]["path"] == "row 2"
