"""Whatever is answered of a hybrid, on screen, in files and on paper, is in its own words."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient
from pypdfium2 import PdfDocument
from werkzeug.test import TestResponse

from tests.core.test_hybrids import OF_AN_ENGINE, hybrid, sentences

ASKED = (
    "assess", "figures", "remedies", "build/mount", "build/procedure", "build/bench", "buying", "build/orders",
    "build/diagram", "unknowns", "methods", "old-link", "settings/sheet", "settings/climate", "settings/monitor",
    "settings/audit", "match", "week", "managed-link", "ladder", "prove", "prove/causes", "build/quote", "build/routes",
    "trip", "tolerance", "compare",
)  # fmt: skip
KEPT = (
    "cuts.csv", "parts.csv", "labels.csv", "labels.pdf", "orders.csv", "diagram-a4.pdf", "schematic.svg", "build",
    "build/left", "how-far", "sheet.pdf", "tests.csv", "tests.pdf", "settings.pdf", "signing", "customer.pdf", "logbook",
    "report.pdf",
)  # fmt: skip
ITS_OWN = re.compile(r"starts\s+its\s+engine\s+by\s+itself")  # a hybrid has one, and that is the danger


def asked_of(client: FlaskClient, address: str, design: dict[str, Any], other: dict[str, Any]) -> TestResponse:
    """One question about a design, as the screens put it."""
    cables = [piece["id"] for piece in design["supply"]["pieces"] if piece["kind"] == "cable"]
    besides = {
        "ladder": {"place": cables[0]},
        "trip": {"programme": "off 1 min\ncrank 2 s\nidle 2 min\ncruise 3 min\noff 2 min\n", "samples": 20},
        "tolerance": {"vehicles": 50},
    }
    bare: dict[str, Any] = {
        "build/quote": {"options": [{"name": "A", "design": design}]},
        "compare": {"variants": [{"name": "A", "design": design}, {"name": "B", "design": other}]},
    }
    body = bare.get(address, {"design": design} | besides.get(address, {}))
    answer = client.post(f"/api/{address}", json=body)
    return answer if answer.status_code < 400 else client.post(f"/api/{address}", json=design)


def said(answer: TestResponse) -> Iterator[str]:
    """Every sentence of an answer, whatever kind it is."""
    assert answer.status_code == 200, answer.get_data(as_text=True)[:200]
    kind = answer.content_type
    if "pdf" in kind:
        yield " ".join(" ".join(page.get_textpage().get_text_range().split()) for page in PdfDocument(answer.data))
    elif "ndjson" in kind:
        for line in answer.get_data(as_text=True).splitlines():
            yield from sentences(json.loads(line))
    elif "json" in kind:
        yield from sentences(answer.get_json())
    else:
        yield from (
            re.findall(r">([^<>]+)<", answer.get_data(as_text=True)) or answer.get_data(as_text=True).splitlines()
        )


@pytest.mark.parametrize("seed", [0, 1])
def test_no_answer_speaks_of_an_engine(client: FlaskClient, seed: int) -> None:
    """Every address that judges a design, then every file and paper of a job with it."""
    design, other = (hybrid(number).model_dump(mode="json") for number in (seed, seed + 100))
    job = client.post("/api/jobs", json={"title": "Meter van", "design": design}).get_json()
    answers = {address: asked_of(client, address, design, other) for address in ASKED}
    answers |= {address: client.get(f"/api/jobs/{job['id']}/{address}") for address in KEPT}
    wrong = {
        (address, found[0], text[max(0, found.start() - 60) : found.end() + 40])
        for address, answer in answers.items()
        for text in said(answer)
        for found in OF_AN_ENGINE.finditer(ITS_OWN.sub("", text))
    }
    assert wrong == set()


def test_a_fault_names_the_field_as_the_screen_does(client: FlaskClient) -> None:
    """Of a hybrid in its words, of an engine in those of the engine."""
    design = hybrid(0).model_dump(mode="json")
    design["vehicle"]["readings"]["rest_v"] = -1
    for drive, name in (("converter", "Vehicle off, rested"), ("engine", "Engine off, rested")):
        design["vehicle"]["drive"] = drive
        errors = client.post("/api/assess", json=design).get_json()["errors"]
        assert [error["field"] for error in errors] == [name]
