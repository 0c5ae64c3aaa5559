"""The yard as it grows: put away, templates, the next service, found by any word in any letters, each with its line."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient


def yard(client: FlaskClient, **asked: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get("/api/jobs", query_string=asked).get_json()["jobs"]
    return found


def codes(client: FlaskClient, **asked: str) -> list[str]:
    return [job["code"] for job in yard(client, **asked)]


def due(client: FlaskClient, job: int, text: str, at: str) -> None:
    entry = {
        "id": f"due-{job}-{at[:10]}",
        "procedure": "Logbook",
        "step": "service_due",
        "kind": "note",
        "text": text,
        "by": "E.K.",
        "at": at,
    }
    assert client.post(f"/api/jobs/{job}/build", json={"entries": [entry]}).status_code == 200


def test_a_job_put_away_is_out_of_sight_and_comes_back_whole(client: FlaskClient) -> None:
    job = yard(client)[0]
    before = client.get(f"/api/jobs/{job['id']}").get_json()
    client.put(f"/api/jobs/{job['id']}/shelved", json={"archived": True, "template": False})
    assert job["code"] not in codes(client)
    assert codes(client, stands="archived") == [job["code"]]
    assert client.get(f"/api/jobs/{job['id']}").get_json() == before
    client.put(f"/api/jobs/{job['id']}/shelved", json={"archived": False, "template": True})
    assert job["code"] in codes(client)
    assert codes(client, stands="template") == [job["code"]]
    assert client.put("/api/jobs/999/shelved", json={"archived": True, "template": False}).status_code == 404


def test_the_next_service_is_the_newest_date_noted(client: FlaskClient) -> None:
    """Soonest first; words instead of a date stay in the logbook and are no date."""
    one, other, third = (job["id"] for job in yard(client)[:3])
    due(client, one, "2031-09-01", "2031-01-05T10:00:00Z")
    due(client, other, "2031-04-01", "2031-01-05T10:00:00Z")
    due(client, third, "when the belt is changed", "2031-01-05T10:00:00Z")
    assert [job["id"] for job in yard(client, order="service")[:2]] == [other, one]
    assert {job["id"] for job in yard(client, stands="service")} == {one, other}
    due(client, other, "2031-12-01", "2031-02-05T10:00:00Z")
    assert [job["id"] for job in yard(client, order="service")[:2]] == [one, other]


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("rescue", {"RR-031"}),
        ("RESCUE water", {"RR-031"}),
        ("kv-118", {"KV-118"}),
        ("%", set()),
        ("_", set()),
        ("dunlin", {"RR-031", "FT-041"}),
    ],
)
def test_any_word_finds_a_job(client: FlaskClient, typed: str, found: set[str]) -> None:
    assert set(codes(client, sought=typed)) == found


def test_a_job_renamed_is_found_by_its_new_name_in_any_letters(client: FlaskClient) -> None:
    job = client.get("/api/jobs/2").get_json()
    body = {key: job[key] for key in ("code", "customer", "design")} | {
        "title": "Ölbrunn Möwe",
        "based_on": job["version"],
    }
    assert client.put("/api/jobs/2", json=body).status_code == 200
    assert codes(client, sought="ÖLBRUNN möwe") == [job["code"]]
    assert codes(client, sought="rescue") == []


def test_the_line_of_a_job_is_that_of_its_assessment(client: FlaskClient) -> None:
    for job in yard(client):
        design = client.get(f"/api/jobs/{job['id']}").get_json()["design"]
        idle = next(
            item for item in client.post("/api/assess", json=design).get_json()["conditions"] if item["key"] == "idle"
        )
        volts = [idle["source_v"], idle["input_v"], idle["output_v"], idle["auxiliary_v"]]
        assert job["line"] == pytest.approx(volts, abs=0.006)
