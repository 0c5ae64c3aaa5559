"""Input nobody would type and somebody sends: each is refused where it stands, small and soon, and nothing falls over."""

from __future__ import annotations

import json
import time
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as st

from olvask.documents.csv_text import ACTS, NUMBER, defused, restored

HUGE = "9" * 30
DIGITS = "9" * 5000


def text_of(client: FlaskClient) -> str:
    """A job's design as JSON."""
    return json.dumps(client.get("/api/jobs/1").get_json()["design"])


def refused(answer: Any) -> list[dict[str, str]]:
    """The faults of an answer that is a small, located refusal."""
    assert 400 <= answer.status_code < 500, answer.get_data(as_text=True)[:300]
    assert answer.mimetype == "application/problem+json"
    assert len(answer.data) < 100_000
    found: list[dict[str, str]] = answer.get_json()["errors"]
    return found


@pytest.mark.parametrize("number", [HUGE, DIGITS[:4000]])
def test_numbers_beyond_counting(client: FlaskClient, number: str) -> None:
    """Numbers of jobs, versions, options and rows that no store holds."""
    for path in (
        f"/api/jobs/{number}",
        f"/api/jobs/{number}/file",
        f"/api/jobs/1/revisions/{number}",
        f"/api/jobs?begin={number}",
    ):
        refused(client.get(path))
    refused(client.delete(f"/api/jobs/1/options/{number}"))
    save = f'{{"title": "x", "based_on": {number}, "design": {text_of(client)}}}'
    (fault,) = refused(client.put("/api/jobs/1", data=save, content_type="application/json"))
    assert fault["field"] == "Based on version"
    assert "9 007 199 254 740 992" in fault["message"]


@pytest.mark.parametrize("value", ["NaN", "Infinity", "-Infinity", "1e999", DIGITS, HUGE])
def test_figures_that_are_none(client: FlaskClient, value: str) -> None:
    """Not a number, infinite, or of five thousand digits, in a design and in a file."""
    text = text_of(client).replace('"units": 1', f'"units": {value}')
    assert refused(client.post("/api/assess", data=text, content_type="application/json"))
    file = f'{{"format": "olvask-job", "version": 2, "title": "x", "design": {text}}}'
    assert refused(client.post("/api/jobs/import", data=file))


CONTROLS = ["\\u0000", "\\u0007", "\\u001b", "\\ud800", "\\ufffe", "\\u007f", "\x7f", "\\u0085", "\x9f"]
TURNING = ["\\u202e", "\u202a", "\u202e", "\\u2066", "\u2069"]  # a number behind one is read from its end


@pytest.mark.parametrize("sign", [*CONTROLS, *TURNING])
def test_signs_nobody_can_print(client: FlaskClient, sign: str) -> None:
    """They would break drawings and papers, or turn round what is written: refused by the field's own name."""
    faults = refused(client.post("/api/jobs", data=f'{{"title": "a{sign}b"}}', content_type="application/json"))
    assert [fault["path"] for fault in faults] in (["title"], [""])
    text = text_of(client).replace('"auxiliary": {"name": "', f'"auxiliary": {{"name": "{sign}')
    if sign != "\\ud800":  # no JSON reader takes half a pair
        (fault,) = refused(client.post("/api/assess", data=text, content_type="application/json"))
        assert fault["field"] == "Auxiliary battery"


def test_a_file_of_two_hundred_thousand_bad_pieces(client: FlaskClient) -> None:
    """Refused within seconds, in a short answer."""
    design = json.loads(text_of(client))
    design["supply"]["pieces"] = [{"kind": "cable"}] * 200_000
    began = time.monotonic()
    file = {"format": "olvask-job", "version": 2, "title": "x", "design": design}
    refused(client.post("/api/jobs/import", data=json.dumps(file, separators=(",", ":"))[: 4 * 1024 * 1024 - 1] or ""))
    design["supply"]["pieces"] = [{"kind": "cable"}] * 150_000
    refused(client.post("/api/assess", json=design))
    design["supply"]["pieces"] = [{"kind": "cable", "size": at} for at in range(900)]
    assert len(refused(client.post("/api/assess", json=design))) <= 201
    assert time.monotonic() - began < 10


def test_what_a_browser_calls_cross_site(client: FlaskClient) -> None:
    """Refused even without an Origin; a link followed from elsewhere opens the page."""
    marked = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "no-cors"}
    assert client.get("/api/jobs", headers=marked).status_code == 403
    assert client.post("/api/jobs", json={"title": "x"}, headers=marked).status_code == 403
    assert client.get("/", headers={"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate"}).status_code == 200
    assert client.get("/api/jobs", headers={"Sec-Fetch-Site": "same-origin"}).status_code == 200


def test_a_spreadsheet_calculates_nothing(client: FlaskClient) -> None:
    """A shelf item named like a formula goes out defused and comes back as it was."""
    items = client.get("/api/shelf/chargers").get_json()["items"]
    item = dict(items[0]["document"]) | {"id": "calc", "name": '=HYPERLINK("x")'}
    assert client.put("/api/shelf/chargers/calc", json={"document": item}).status_code in (200, 201)
    text = client.get("/api/shelf/chargers/file.csv").get_data(as_text=True)
    assert "'=HYPERLINK" in text
    assert '"=HYPERLINK' not in text
    taken = client.post("/api/shelf/chargers/import?store=true", data=text.encode())
    assert taken.status_code == 200, taken.get_data(as_text=True)[:300]
    assert taken.get_json()["same"] == len(items) + 1


@given(st.text(max_size=12))
def test_cells_come_back(text: str) -> None:
    """Whatever a cell holds, it goes out so that nothing acts, and comes back as it was."""
    out = defused(text)
    assert restored(out) == text or NUMBER.fullmatch(text)
    assert not out.startswith(ACTS) or NUMBER.fullmatch(out)
