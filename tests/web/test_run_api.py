"""Cut list, parts and labels over HTTP, and the ladder with the workshop's own stock."""

from __future__ import annotations

import csv
import io

import pytest
from flask.testing import FlaskClient

from tests.designs import cable, fuse, plain
from tests.papers import words_of
from tests.web.test_api import problem

BRANCHED = plain(
    supply={
        "pieces": [
            fuse(70.0),
            cable("25 mm²", 2.0),
            {"kind": "branch", "name": "fan", "current_a": 2.0, "size": "1.5 mm²", "length_m": 1.5, "device": fuse(5.0, "blade")},
            cable("25 mm²", 1.0),
        ]
    }
)  # fmt: skip


def rows(text: str) -> list[dict[str, str]]:
    """A CSV answer as rows."""
    return list(csv.DictReader(io.StringIO(text)))


def test_buying_lists_cuts_drums_parts_and_labels(client: FlaskClient) -> None:
    """Every conductor lies on exactly one drum or is to be bought, and the total is that of the parts."""
    found = client.post("/api/buying", json={"code": "X-1", "design": BRANCHED}).get_json()
    cuts = [cut["id"] for cut in found["conductors"]]
    placed = [cut for drum in found["drums"] for cut in drum["cuts"]]
    assert sorted(placed) == sorted(cuts)
    assert found["total"] == pytest.approx(sum(part["count"] * part["price"] for part in found["parts"]), abs=0.01)
    assert all(label["lines"][0].startswith("X-1 ") for label in found["labels"])


@pytest.mark.parametrize("what", ["cuts", "parts", "labels"])
def test_schedules_come_as_csv(client: FlaskClient, what: str) -> None:
    """Each schedule has a header and rows, and a name to save it under."""
    answer = client.get(f"/api/jobs/1/{what}.csv")
    assert answer.mimetype == "text/csv"
    assert f".{what}.csv" in answer.headers["Content-Disposition"]
    assert rows(answer.text)


def test_labels_come_as_a_sheet(client: FlaskClient) -> None:
    """The PDF holds each conductor's name."""
    cuts = rows(client.get("/api/jobs/1/cuts.csv").text)
    text = words_of(client.get("/api/jobs/1/labels.pdf").data)
    assert all(row["conductor"] in text for row in cuts)


def test_no_such_schedule_or_job(client: FlaskClient) -> None:
    """Another name, or a job that is not there, is told apart from a mistake of ours."""
    problem(client.get("/api/jobs/1/spanners.csv"), 404)
    problem(client.get("/api/jobs/99/cuts.csv"), 404)


def test_the_ladder_knows_the_stock(client: FlaskClient) -> None:
    """What stands on the shelf is suggested; a retired drum is not."""
    asked = {"place": "c1", "design": plain()}
    said = {item["key"]: item for item in client.post("/api/ladder", json=asked).get_json()["suggestions"]}
    assert "stock" in said
    for item in client.get("/api/shelf/cables").get_json()["items"]:
        client.post(f"/api/shelf/cables/{item['id']}/retire", json={"retired": True})
    said = {item["key"]: item for item in client.post("/api/ladder", json=asked).get_json()["suggestions"]}
    assert "stock" not in said


@pytest.mark.parametrize(
    ("piece", "path"),
    [
        ({"kind": "branch", "name": "x", "current_a": -1.0}, "supply.pieces.1.current_a"),
        ({"kind": "branch", "name": "x", "size": "9 mm²"}, "supply.pieces.1.size"),
        ({"kind": "joint", "form": "glue"}, "supply.pieces.1.form"),
        (cable("50 mm²", parallel=9), "supply.pieces.1.parallel"),
        ({"kind": "pipe"}, "supply.pieces.1"),
    ],
)
def test_wrong_pieces_are_located(client: FlaskClient, piece: dict[str, object], path: str) -> None:
    """A wrong piece is refused at its place in the run, with the remedy."""
    wrong = plain(supply={"pieces": [fuse(60.0), piece]})
    found = problem(client.post("/api/assess", json=wrong), 422)
    assert found["errors"][0]["path"] == path
    assert found["errors"][0]["message"]
