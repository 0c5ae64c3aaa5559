"""Recall over the yard: every job that holds a thing and no other, told with how far it is, and what the shelf's unit would change."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import text


def lines(client: FlaskClient, what: str, key: str) -> list[dict[str, Any]]:
    answer = client.post("/api/recall", json={"what": what, "key": key})
    assert answer.status_code == 200
    return [json.loads(line) for line in answer.get_data(as_text=True).splitlines()]


HELD = [
    ("unit", "Redshank", {"KV-118"}),
    ("cable", "35 mm²", {"KV-118"}),
    ("battery", "cairn", {"KV-118"}),
    ("unit", "no such thing", set()),
]


@pytest.mark.parametrize(("what", "key", "codes"), HELD)
def test_every_job_that_holds_it_and_no_other(client: FlaskClient, what: str, key: str, codes: set[str]) -> None:
    """By its words, whatever their case; the share done only grows, to the whole."""
    found = lines(client, what, key)
    held = {line["code"] for line in found if line["job"] is not None}
    assert codes <= held
    if not codes:
        assert held == set()
    for job in (line for line in found if line["job"] is not None):
        assert all(key.casefold() in item["words"].casefold() for item in job["where"])
    shares = [line["done"] for line in found]
    assert shares == sorted(shares)
    assert shares[-1] == 1.0


def test_a_unit_changed_on_the_shelf_says_what_comes_of_it(client: FlaskClient) -> None:
    """Its lowest input raised above what arrives: the job that holds it would have a stop more."""
    number = client.get("/api/jobs/5").get_json()["design"]["charger"]["id"]
    item = client.get(f"/api/shelf/chargers/{number}").get_json()
    assert [line["changed"]["differs"] for line in lines(client, "unit", number) if line["job"]] == [False]
    document = item["document"] | {"input_min_v": 13.5}
    body = {"document": document, "based_on": item["version"]}
    saved = client.put(f"/api/shelf/chargers/{number}", json=body)
    assert saved.status_code == 200, saved.get_json()
    (job,) = [line for line in lines(client, "unit", number) if line["job"]]
    assert job["changed"]["differs"]
    assert job["changed"]["come"]


def test_what_is_asked_for_has_to_be_said(client: FlaskClient) -> None:
    """Nothing, or a kind nobody knows, is refused at its field."""
    for body in ({"what": "unit", "key": ""}, {"what": "moon", "key": "x"}):
        answer = client.post("/api/recall", json=body)
        assert answer.status_code == 422
        assert answer.get_json()["errors"][0]["field"] in ("Which", "What")


def test_what_the_whole_yard_is_asked(client: FlaskClient) -> None:
    """Judged anew, nothing is otherwise than when it was saved; within tolerances, those at fault are told with shares."""
    answer = client.post("/api/yard/work", json={"work": "judge"})
    found = [json.loads(line) for line in answer.get_data(as_text=True).splitlines()]
    assert found[-1]["done"] == 1.0
    assert [line for line in found if line["job"]] == []
    answer = client.post("/api/yard/work", json={"work": "tolerance", "vehicles": 20})
    found = [json.loads(line) for line in answer.get_data(as_text=True).splitlines()]
    for line in found:
        if line["job"]:
            shares = line["shares"]
            assert 0 < shares["any"] <= 1
            assert shares["any"] >= max(shares["start"], shares["hunt"], shares["drain"])
    assert client.post("/api/yard/work", json={"work": "tolerance", "vehicles": 0}).status_code == 422


def test_what_is_judged_otherwise_is_found_in_the_yard(client: FlaskClient) -> None:
    """A job whose kept findings are not those of today's rules stands under “judged otherwise since saved” until it is saved."""
    stores = client.application.extensions["olvask.stores"]
    with stores.database.writing() as session:
        session.execute(
            text("UPDATE card SET rules = 'older', findings = :f WHERE job_id = 5"), {"f": "gone\tGone rule"}
        )
    asked = {"stands": "changed"}
    client.get("/api/jobs")  # rows seen are brought up to date
    (job,) = client.get("/api/jobs", query_string=asked).get_json()["jobs"]
    assert job["id"] == 5
    assert "−Gone rule" in job["changed"]
    stored = client.get("/api/jobs/5").get_json()
    body = {key: stored[key] for key in ("title", "code", "customer", "design")} | {"based_on": stored["version"]}
    assert client.put("/api/jobs/5", json=body).status_code == 200
    assert client.get("/api/jobs", query_string=asked).get_json()["total"] == 0
