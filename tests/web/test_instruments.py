"""Instruments over the air: kept, refused beyond the workshop's network, read, gone, and the rig told that it was mended."""

from __future__ import annotations

import socket
from collections.abc import Iterator

import pytest
from flask.testing import FlaskClient

from olvask.rig.faults import spoilt
from olvask.rig.serving import Rig
from olvask.store.demo import demo_designs

READS = ["volts", "amps", "ohms", "celsius", "seconds"]


@pytest.fixture
def rig() -> Iterator[Rig]:
    design = next(design for heading, design in demo_designs() if heading.code == "KV-118")
    made = Rig(design, spoilt("joint.supply_back"), speed=10.0)  # little time of its own goes by between two readings
    yield made
    made.close()


def kept(client: FlaskClient, **more: object) -> int:
    answer = client.post("/api/instruments", json={"name": "Rig meter", "reads": READS, **more})
    assert answer.status_code == 200, answer.get_json()
    number: int = answer.get_json()["instruments"][-1]["id"]
    return number


def test_a_rig_is_read_cured_and_read_again(client: FlaskClient, rig: Rig) -> None:
    """The return drops too much, the rig says what it was, and drops no more."""
    number = kept(client, port=rig.ports[0])
    body = {"test": "supply_back_mv", "design": rig.design.model_dump(mode="json")}
    before = client.post(f"/api/instruments/{number}/read", json=body).get_json()
    assert before["value"] > 500
    assert "Rig meter" in before["text"]
    assert client.post(f"/api/instruments/{number}/name").get_json()["rig"] is True
    assert "return of the supply" in client.post(f"/api/instruments/{number}/cure").get_json()["words"]
    after = client.post(f"/api/instruments/{number}/read", json=body).get_json()
    assert after["value"] < 300


def test_a_meter_that_is_gone_is_told_with_its_remedy(client: FlaskClient, rig: Rig) -> None:
    """424 with a sentence, for it is the meter that failed and no server; nothing waits longer than a breath."""
    with socket.create_server(("127.0.0.1", 0)) as probe:
        port = probe.getsockname()[1]
    number = kept(client, name="Bench meter", port=port)
    answer = client.post(
        f"/api/instruments/{number}/read", json={"test": "posts_v", "design": rig.design.model_dump(mode="json")}
    )
    assert answer.status_code == 424
    assert "Bench meter does not answer" in answer.get_json()["detail"]


@pytest.mark.parametrize("host", ["8.8.8.8", "meter.example", "0.0.0.0", "2001:4860:4860::8888"])  # noqa: S104  # what is refused
def test_an_address_beyond_the_workshop_is_refused_at_its_field(client: FlaskClient, host: str) -> None:
    """Only addresses by number, of this machine or a private network."""
    answer = client.post("/api/instruments", json={"name": "Far", "host": host})
    assert answer.status_code == 422
    assert answer.get_json()["errors"][0]["field"] == "Address"


def test_what_an_instrument_cannot_read_is_said(client: FlaskClient, rig: Rig) -> None:
    """A voltmeter asked for amperes says so; a look is no reading; a number that is not there is not there."""
    number = kept(client, name="Voltmeter", port=rig.ports[0], reads=["volts"])
    body = {"test": "input_a", "design": rig.design.model_dump(mode="json")}
    refused = client.post(f"/api/instruments/{number}/read", json=body)
    assert refused.status_code == 422
    assert "does not read A" in refused.get_json()["detail"]
    assert client.delete(f"/api/instruments/{number}").status_code == 200
    assert client.delete(f"/api/instruments/{number}").status_code == 404


def test_a_better_meter_makes_narrower_bands(client: FlaskClient, rig: Rig) -> None:
    """The workshop's own accuracy stands in the bands."""
    body = {"design": rig.design.model_dump(mode="json"), "readings": [{"test": "idle_posts_v", "value": 13.88}]}

    def width() -> float:
        rows = client.post("/api/prove", json=body).get_json()["rows"]
        row = next(row for row in rows if row["test"]["key"] == "posts_v")
        return float(row["most"] - row["least"])

    usual = width()
    kept(client, port=rig.ports[0], percent=0.02, digits=0.001)
    assert width() < 0.8 * usual
