"""Practice over the API: nothing is given away before the end, refusals name what to do, what was done is kept by person."""

from __future__ import annotations

import csv
import io
import re
from typing import Any

import pytest
from flask.testing import FlaskClient

from olvask.core.practice.course import case_of
from olvask.core.practice.drills import drill_of, judged
from olvask.core.practice.drills.drill import Answer


def case(client: FlaskClient, steps: list[dict[str, str]], level: int = 1, number: int = 3, **more: Any) -> Any:
    body = {"level": level, "number": number, "steps": steps} | more
    return client.post("/api/practice/case", json=body)


def best(level: int, number: int) -> list[dict[str, str]]:
    return [{"kind": item.step.kind, "what": item.step.what} for item in case_of(level, number)[1].told]


def test_only_what_was_measured_is_told(client: FlaskClient) -> None:
    """Of a fresh case nothing is known of the line; one reading inks its station, and nothing names the fault."""
    fresh = case(client, []).get_json()
    assert [item["volts"] for item in fresh["line"]] == [None] * 6
    assert "hidden" not in fresh
    steps = [{"kind": "measure", "what": "posts_v"}]
    known = case(client, steps).get_json()
    assert [item["volts"] is None for item in known["line"]] == [False, True, True, True, True, True]
    assert known["told"][0]["value"] == known["line"][0]["volts"]
    assert known["minutes"] == 4.0
    assert case(client, steps).get_json() == known
    parked = case(client, [{"kind": "measure", "what": "rest.start"}]).get_json()
    assert [item["volts"] for item in parked["line"]] == [None] * 6  # another state of the vehicle


def test_the_best_course_is_read_and_kept(client: FlaskClient) -> None:
    """Handed back it is read: a hundred points, what it was, and a line under one's own initials only."""
    steps = best(2, 1)
    assert case(client, steps, 2, 1).get_json()["over"]
    body = {"level": 2, "number": 1, "steps": steps, "by": "AK"}
    read = client.post("/api/practice/case/ended", json=body).get_json()
    assert (read["solved"], read["score"]) == (True, 100)
    assert len(read["steps"]) == len(steps)
    assert client.post("/api/practice/case/ended", json=body).get_json() == read  # read once more, kept once
    (kept,) = client.get("/api/practice/attempts?by=AK").get_json()["attempts"]
    assert (kept["name"], kept["right"], kept["score"]) == ("case 2-1", True, 100)
    assert client.get("/api/practice/attempts?by=BT").get_json()["attempts"] == []
    body["by"] = " "
    assert client.post("/api/practice/case/ended", json=body).get_json() == read  # read, and kept for nobody
    for nobody in ("", "?by=", "?by=%20"):
        assert client.get(f"/api/practice/attempts{nobody}").get_json()["attempts"] == []
    rows = list(csv.reader(io.StringIO(client.get("/api/practice/attempts.csv?by=AK").get_data(as_text=True))))
    assert rows[0][:3] == ["when", "who", "exercise"]
    assert rows[1][1:5] == ["AK", "case 2-1", "yes", "100"]


REFUSED = [
    ({"kind": "measure", "what": "moon"}, "moon"),
    ({"kind": "mend", "what": "healthy"}, "healthy"),
    ({"kind": "dance", "what": ""}, "Step"),
]


@pytest.mark.parametrize(("step", "named"), REFUSED)
def test_a_step_that_is_none_is_refused_by_name(client: FlaskClient, step: dict[str, str], named: str) -> None:
    answer = case(client, [step])
    assert 400 <= answer.status_code < 500
    assert named in answer.get_data(as_text=True)


def test_a_number_that_is_none_is_refused_with_its_range(client: FlaskClient) -> None:
    """The range is said in figures that one reads aloud."""
    (error,) = case(client, [], 1, 0).get_json()["errors"]
    assert error["field"] == "Number"
    assert re.search(r"from 1 to 1\s000\s000", error["message"]), error["message"]


def test_a_course_that_is_not_over_is_not_read(client: FlaskClient) -> None:
    """Nothing is kept of it, and the remedy is said."""
    answer = client.post("/api/practice/case/ended", json={"level": 1, "number": 1, "steps": [], "by": "AK"})
    assert 400 <= answer.status_code < 500
    assert "Hand the vehicle back" in answer.get_json()["detail"]
    assert client.get("/api/practice/attempts?by=AK").get_json()["attempts"] == []


def test_a_drill_is_judged_and_worked_through(client: FlaskClient) -> None:
    """Right and wrong are kept; a kind nobody knows is not there; an answer that is none is refused."""
    items = [item["key"] for item in client.get("/api/practice/drill/isolation/2").get_json()["items"]]
    told = {}
    for key in items:
        body = {"kind": "isolation", "number": 2, "chosen": key, "by": "AK"}
        told[key] = client.post("/api/practice/drill", json=body).get_json()
    assert [told[key]["right"] for key in items] == [judged("isolation", 2, Answer(chosen=key)).right for key in items]
    assert all(answer["working"] for answer in told.values())
    assert len(client.get("/api/practice/attempts?by=AK").get_json()["attempts"]) == len(items)
    assert client.get("/api/practice/drill/moon/1").status_code == 404
    assert client.get("/api/practice/drill/size/0").status_code == 404
    answer = client.post("/api/practice/drill", json={"kind": "size", "number": 1, "chosen": "moon"})
    assert answer.status_code in (409, 422)
    assert drill_of("isolation", 2).items


def test_a_set_and_what_everybody_did_of_it(client: FlaskClient) -> None:
    """Fixed by names; results hold its exercises alone; the same name twice, and a name of nothing, are refused."""
    body = {"name": "Monday", "items": ["size 1", "case 2-1"]}
    made = client.post("/api/practice/sets", json=body)
    assert made.status_code == 200, made.get_json()
    assert client.post("/api/practice/sets", json=body).status_code in (409, 422)
    wrong = client.post("/api/practice/sets", json={"name": "T", "items": ["moon 4"]})
    assert wrong.status_code == 422
    assert "moon 4” names no exercise" in wrong.get_json()["errors"][0]["message"]
    assert wrong.get_json()["errors"][0]["field"].startswith("Exercises")
    for by, kind in (("AK", "size"), ("=BT", "size"), ("AK", "fuse")):
        chosen = drill_of(kind, 1).items[0].key  # type: ignore[arg-type]  # kinds
        client.post("/api/practice/drill", json={"kind": kind, "number": 1, "chosen": chosen, "by": by})
    number = made.get_json()["id"]
    text = client.get(f"/api/practice/sets/{number}/results.csv").get_data(as_text=True)
    rows = list(csv.reader(io.StringIO(text)))[1:]
    assert [row[1:3] for row in rows] == [["AK", "size 1"], ["'=BT", "size 1"]]
    assert [item["name"] for item in client.get("/api/practice/sets").get_json()["sets"]] == ["Monday"]
    assert client.delete(f"/api/practice/sets/{number}").status_code == 204
    assert client.delete(f"/api/practice/sets/{number}").status_code == 404
