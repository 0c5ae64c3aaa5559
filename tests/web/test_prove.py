"""Prove over the air: bands of a design, and readings kept beside the steps of the work."""

from __future__ import annotations

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
