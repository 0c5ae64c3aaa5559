"""A device's log over HTTP: looked at, mapped once, taken in with progress, read against the design, taken out."""

from __future__ import annotations

import json
import random
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.device_logs import Made, made
from tests.logs.test_spoilt_files import sample_of


@pytest.fixture(scope="module")
def case() -> Made:
    """A vehicle's log of two days."""
    return made(random.Random("over HTTP"), days=2)


def job_of(client: FlaskClient, case: Made) -> int:
    body = {"title": "Logged", "code": "LG-001", "customer": "", "design": case.ctx.design.model_dump(mode="json")}
    answer = client.post("/api/jobs", json=body)
    assert answer.status_code in (200, 201), answer.get_json()
    number: int = answer.get_json()["id"]
    return number


def taken(client: FlaskClient, job: int, kind: int, text: bytes) -> list[dict[str, Any]]:
    answer = client.post(f"/api/jobs/{job}/logs/take?kind={kind}&name=days.csv", data=text)
    assert answer.status_code == 200, answer.get_json()
    return [json.loads(line) for line in answer.get_data(as_text=True).splitlines()]


def test_a_log_is_mapped_once_and_read_against_the_design(client: FlaskClient, case: Made) -> None:
    job, text = job_of(client, case), case.text.encode()
    looked = client.post("/api/log-kinds/look", data=sample_of(text)).get_json()
    assert looked["kind"] is None
    guess = {
        key: looked["sniffed"][key] for key in ("encoding", "delimiter", "decimal", "header_line", "columns", "order")
    }
    kind = client.post("/api/log-kinds", json=guess | {"zone": case.layout.zone}).get_json()["kind"]
    assert client.post("/api/log-kinds/look", data=sample_of(text)).get_json()["kind"] == kind
    tried = client.post(f"/api/log-kinds/{kind}/try", data=sample_of(text)).get_json()
    assert abs(tried["rows"][0]["time_s"] - case.log.time_s[0]) < 1
    lines = taken(client, job, kind, text)
    assert lines[-1]["fault"] == ""
    assert [line["done"] for line in lines] == sorted(line["done"] for line in lines)
    number = lines[-1]["log"]
    said = client.get(f"/api/jobs/{job}/logs/{number}").get_json()
    assert said["report"]["rows"] == len(case.log.time_s)
    known = {item["what"]: item["count"] for item in said["report"]["counted"]}
    assert known["start"] == sum(what == "start" for _, what in case.log.truth.events)
    from_s = said["report"]["begins_s"]
    seen = client.get(f"/api/jobs/{job}/logs/{number}/window?from_s={from_s}&to_s={from_s + 90000}").get_json()
    assert {curve["measure"] for curve in seen["simulated"]} >= {"input_v", "output_a"}
    assert len(seen["logged"][0]["low"]) == len(seen["time_s"])
    assert client.delete(f"/api/jobs/{job}/logs/{number}").get_json()["logs"] == []
    assert client.get(f"/api/jobs/{job}/logs/{number}").status_code == 404


def test_what_cannot_be_read_is_refused_by_its_place(client: FlaskClient, case: Made) -> None:
    job, text = job_of(client, case), case.text.encode()
    assert "no table" in client.post("/api/log-kinds/look", data=b"\x00\x01\x02" * 50).get_json()["detail"]
    looked = client.post("/api/log-kinds/look", data=sample_of(text)).get_json()["sniffed"]
    guess = {key: looked[key] for key in ("encoding", "delimiter", "decimal", "header_line", "columns", "order")}
    none = [column | {"role": "", "unit": ""} for column in guess["columns"]]
    refused = client.post("/api/log-kinds", json=guess | {"columns": none}).get_json()
    assert "no column holds date and time" in json.dumps(refused)
    kind = client.post("/api/log-kinds", json=guess | {"zone": case.layout.zone}).get_json()["kind"]
    other = text.replace(b"Input", b"Inlet", 1)
    lines = taken(client, job, kind, other)
    assert "Inlet" in lines[-1]["fault"]
    assert client.get(f"/api/jobs/{job}/logs").get_json()["logs"] == []


def test_the_same_columns_written_otherwise_are_looked_at_again(client: FlaskClient) -> None:
    """A device set to another language: the mapping of the kind stands, but nothing is taken in by it unseen."""
    point = "When;In [V]\n" + "".join(f"2026-03-{day} 10:00:00;12.{day}\n" for day in range(10, 30))
    looked = client.post("/api/log-kinds/look", data=point).get_json()["sniffed"]
    guess = {key: looked[key] for key in ("encoding", "delimiter", "decimal", "header_line", "columns", "order")}
    kind = client.post("/api/log-kinds", json=guess | {"zone": "Europe/Lisbon"}).get_json()["kind"]
    assert client.post("/api/log-kinds/look", data=f"Serial 7\n{point}").get_json()["kind"] == kind
    comma = client.post("/api/log-kinds/look", data=point.replace(".", ",")).get_json()
    assert comma["kind"] is None
    assert (comma["mapping"]["decimal"], comma["mapping"]["zone"]) == (",", "Europe/Lisbon")


def test_a_preamble_of_another_length_is_no_other_kind(client: FlaskClient, case: Made) -> None:
    """The line in which the columns are named is looked for in each file."""
    job, text = job_of(client, case), case.text.encode()
    looked = client.post("/api/log-kinds/look", data=sample_of(text)).get_json()["sniffed"]
    guess = {key: looked[key] for key in ("encoding", "delimiter", "decimal", "header_line", "columns", "order")}
    kind = client.post("/api/log-kinds", json=guess | {"zone": case.layout.zone}).get_json()["kind"]
    lines = taken(client, job, kind, b"Owner: nobody\nModel: none\n\n" + text)
    assert lines[-1]["fault"] == ""
    number = lines[-1]["log"]
    assert client.get(f"/api/jobs/{job}/logs/{number}").get_json()["report"]["rows"] == len(case.log.time_s)


@pytest.mark.parametrize("asked", ["kind=0&name=x", "kind=x&name=x", "name=x", "kind=1&name="])
def test_what_is_asked_badly_is_named(client: FlaskClient, case: Made, asked: str) -> None:
    job = job_of(client, case)
    answer = client.post(f"/api/jobs/{job}/logs/take?{asked}", data=b"")
    assert answer.status_code in (404, 422)
    assert answer.get_json()["detail"]


def test_a_kind_or_job_that_is_not_there_is_not_found(client: FlaskClient, case: Made) -> None:
    job = job_of(client, case)
    for path in (
        "/api/log-kinds/77/try",
        f"/api/jobs/{job}/logs/take?kind=77&name=x",
        "/api/jobs/999/logs/take?kind=1&name=x",
    ):
        assert client.post(path, data=b"a").status_code == 404
    assert client.get("/api/jobs/999/logs").status_code == 404
    assert client.get(f"/api/jobs/{job}/logs/5/window").status_code == 404
