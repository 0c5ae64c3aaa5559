"""The logbook over the air: visits kept, readings followed, a driver's diary fitted."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from olvask.core.stages.build.progress import Entry


def note(client: FlaskClient, rows: list[dict[str, Any]]) -> None:
    entries = [{"id": f"log-{at:08}", "procedure": "Logbook", "by": "E.K.", **row} for at, row in enumerate(rows)]
    assert client.post("/api/jobs/5/build", json={"entries": entries}).status_code == 200


def test_visits_trends_and_use_are_told(client: FlaskClient) -> None:
    """A visit with its words, a loop that grows, and forty days of a diary: all read back, newest first."""
    rows: list[dict[str, Any]] = [
        {"step": "visit", "kind": "note", "text": "Firmware 2.1", "at": "2031-01-05T09:00:00Z"},
        {"step": "service_due", "kind": "note", "text": "2032-05-01", "at": "2031-01-05T09:01:00Z"},
    ]
    rows += [
        {
            "step": "loop_mohm",
            "kind": "reading",
            "value": 8.5 + 0.4 * at,
            "unit": "mΩ",
            "at": f"2031-0{1 + 2 * at}-05T10:00:00Z",
        }
        for at in range(4)
    ]
    charge = 75.0
    for day in range(1, 29):
        hours = (0.0, 0.0, 2.0, 1.5)[day % 4]
        charge += (35 * hours - 40) / 2
        charge = min(96.0, max(20.0, charge))
        moment = f"2031-02-{day:02}T07:00:00Z"
        rows.append({"step": "charge_percent", "kind": "reading", "value": round(charge, 1), "unit": "%", "at": moment})
        rows.append({"step": "driven_h", "kind": "reading", "value": hours, "unit": "h", "at": moment})
    note(client, rows)
    found = client.get("/api/jobs/5/logbook").get_json()
    assert found["service_due"] == "2032-05-01"
    assert found["entries"][0]["at"] > found["entries"][-1]["at"]
    (loop,) = [trend for trend in found["trends"] if trend["key"] == "loop_mohm"]
    assert len(loop["points"]) == 4
    assert "grows" in loop["text"]
    assert found["use"]["spans"] + found["use"]["left_out"] == 27


@pytest.mark.parametrize(
    "change",
    [
        {"step": "part", "text": "Return made anew"},
        {"procedure": "Prove", "step": "cure", "text": "Strap cleaned"},
        {"step": "visit", "text": "Looked at"},
    ],
)
def test_readings_before_a_repair_are_left_out_of_the_line(client: FlaskClient, change: dict[str, Any]) -> None:
    """A part changed and a fault mended are what may have made a reading step; a visit is not."""
    rows: list[dict[str, Any]] = [
        {"step": "loop_mohm", "kind": "reading", "unit": "mΩ", "value": value, "at": f"2031-0{month}-05T10:00:00Z"}
        for month, value in ((1, 15.0), (3, 17.0), (5, 19.0), (7, 9.0), (8, 9.1))
    ]
    note(client, [*rows, {"kind": "note", "at": "2031-06-05T10:00:00Z"} | change])
    (loop,) = client.get("/api/jobs/5/logbook").get_json()["trends"]
    days = [point["day"] for point in loop["points"]]
    assert loop["begins"] == (days[0] if change["step"] == "visit" else days[3])


def test_an_empty_logbook_is_empty(client: FlaskClient) -> None:
    """Nothing noted: nothing said."""
    found = client.get("/api/jobs/4/logbook").get_json()
    assert [kind["key"] for kind in found.pop("kinds")][-2:] == ["charge_percent", "driven_h"]
    assert found == {"entries": [], "trends": [], "use": None, "service_due": ""}


@pytest.mark.parametrize(
    ("step", "value", "unit", "field"),
    [
        ("charge_percent", 250.0, "%", "Driver's diary: charge"),
        ("charge_percent", -1.0, "%", "Driver's diary: charge"),
        ("driven_h", 300.0, "h", "Driven since"),
        ("loop_mohm", -5.0, "mΩ", "Supply run, both ways"),
        ("rest_start_v", 126.0, "V", "Start battery, rested"),
    ],
)
def test_a_reading_that_cannot_be_is_refused_and_one_kept_before_spoils_nothing(
    client: FlaskClient, step: str, value: float, unit: str, field: str
) -> None:
    """Minutes for hours, a slip of the comma: told with the field and what it can be; of an older store it is left out, and said to be."""
    at = "2031-02-01T07:00:00Z"
    entry: dict[str, Any] = {
        "id": "log-00000001",
        "procedure": "Logbook",
        "step": step,
        "kind": "reading",
        "unit": unit,
        "at": at,
    }
    entry |= {"text": "", "photo": "", "by": "E.K."}
    answer = client.post("/api/jobs/5/build", json={"entries": [entry | {"value": value}]})
    (error,) = answer.get_json()["errors"]
    assert (answer.status_code, error["field"]) == (422, field)
    assert "out of range; give a number from 0 to " in error["message"]
    good = {"charge_percent": 60.0, "driven_h": 1.0, "loop_mohm": 9.0, "rest_start_v": 12.6}
    kept = [
        Entry(
            **entry
            | {"id": f"log-{number:08}", "step": name, "value": read, "at": f"2031-02-0{number % 3 + 1}T07:00:00+00:00"}
        )
        for number, (name, read) in enumerate([*good.items(), (step, value), *good.items()], 2)
    ]
    client.application.extensions["olvask.stores"].build.add(5, kept)
    found = client.get("/api/jobs/5/logbook")
    assert found.status_code == 200
    for trend in found.get_json()["trends"]:
        assert all(point["value"] > 0 for point in trend["points"])
        assert ("Left out, for it cannot be: 1 reading." in trend["text"]) is (trend["key"] == step)
