"""Prove over the air: bands of a design, and readings kept beside the steps of the work."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

from tests.designs import design


def test_bands_verdicts_and_legs(client: FlaskClient) -> None:
    """Every test has its band; a reading has its verdict; the later of two counts."""
    plain = design().model_dump(mode="json")
    found = client.post("/api/prove", json={"design": plain}).get_json()
    first = next(row for row in found["rows"] if row["test"]["key"] == "input_v")
    assert first["verdict"] == "open"
    assert first["least"] < first["expected"] < first["most"]
    readings = [{"test": "input_v", "value": 9.0}, {"test": "input_v", "value": first["expected"]}]
    judged = client.post("/api/prove", json={"design": plain, "readings": readings}).get_json()
    assert next(row for row in judged["rows"] if row["test"]["key"] == "input_v")["verdict"] == "right"
    assert len(judged["legs"]) == 4


def test_a_wrong_question_is_told(client: FlaskClient) -> None:
    """A reading that is no number is refused at its field."""
    body = {"design": design().model_dump(mode="json"), "readings": [{"test": "input_v", "value": "much"}]}
    answer = client.post("/api/prove", json=body)
    assert answer.status_code == 422
    assert answer.get_json()["errors"][0]["field"] == "Reading"


@pytest.mark.parametrize("value", [-1e7, 1e7, 1.0001e7, 1e9])
def test_what_can_be_noted_can_be_judged(client: FlaskClient, value: float) -> None:
    """A reading that the log takes stops no test of Prove, nor one of a store from before: fifty millions once did for good."""
    entry = {
        "id": "reading-0001",
        "procedure": "Prove",
        "step": "short.supply",
        "kind": "reading",
        "at": "2031-05-01T10:00Z",
    }
    noted = client.post("/api/jobs/5/build", json={"entries": [entry | {"value": value, "unit": "Ω"}]})
    assert noted.status_code == (200 if abs(value) <= 1e7 else 422)
    body = {"design": design().model_dump(mode="json"), "readings": [{"test": "short.supply", "value": value}]}
    assert client.post("/api/prove", json=body).status_code == 200
    assert client.get("/api/jobs/5/report.pdf").status_code == 200


def test_the_record_keeps_both_of_two_readings(client: FlaskClient) -> None:
    """Who, when and what, each reading of a test; the last one's verdict, the one before marked as measured again."""
    entries = [
        {
            "id": f"reading-{at}",
            "procedure": "Prove",
            "step": "output_a",
            "kind": "reading",
            "value": value,
            "unit": "A",
            "by": by,
            "at": moment,
        }
        for at, (value, by, moment) in enumerate(
            (("31.0", "E.K.", "2031-05-01T10:00:00Z"), ("40.1", "M.T.", "2031-05-01T10:05:00Z"))
        )
    ]
    assert client.post("/api/jobs/5/build", json={"entries": entries}).status_code == 200
    lines = client.get("/api/jobs/5/tests.csv").get_data(as_text=True).splitlines()
    assert len(lines) == 3
    assert lines[1].endswith("measured again")
    assert "E.K." in lines[1]
    assert lines[2].endswith("right")
    assert "M.T." in lines[2]


def test_what_was_measured_is_offered_to_the_survey(client: FlaskClient) -> None:
    """Volts and the fall of the posts that the survey only supposes: 13.9 V idle, (13.9 − 13.75) / 30 A = 5.0 mΩ."""
    plain = design().model_dump(mode="json")
    readings = [
        {"test": key, "value": value} for key, value in (("idle_posts_v", 13.9), ("posts_v", 13.75), ("input_a", 30.0))
    ]
    found = client.post("/api/prove", json={"design": plain, "readings": readings}).get_json()
    offers = {item["path"]: item["value"] for item in found["offers"]}
    assert offers["vehicle.readings.idle_v"] == 13.9
    assert offers["vehicle.alternator.sag_mohm"] == 5.0
    plain["vehicle"]["readings"]["idle_v"] = 13.9
    plain["provenance"]["vehicle.readings.idle_v"] = "measured"
    again = client.post("/api/prove", json={"design": plain, "readings": readings}).get_json()
    assert "vehicle.readings.idle_v" not in {item["path"] for item in again["offers"]}
