"""Whatever was noted on a job, every page and paper of it still answers: one slip hides nothing that is right."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from olvask.core.analyses.logbook import kinds_of
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.tests import tests_of as every_test

JOB = 5
VALUES = (None, 0.0, -1.0, 1e7, -1e7, 1e-12, 12.6, 300.0)
WORDS = ("", "soon", "2031-13-45", "9999-12-31", "Mended: ", "14,2", "<b>&amp;", "-", "x" * 400, "Ωµ²")
KINDS = ("done", "skip", "open", "reading", "photo", "note")


def steps(design: Design) -> list[tuple[str, str]]:
    """Procedure and step of everything something can be noted of, and of what there is not."""
    ctx = Context.of(design)
    return [
        *(("Logbook", kind.key) for kind in kinds_of(design.vehicle.system_v)),
        *(("Logbook", step) for step in ("visit", "part", "firmware", "access_code", "service_due", "other")),
        *(("Prove", test.key) for test in every_test(ctx)),
        *(("Prove", step) for step in ("cure", "visit", "gone")),
        *(("Build", placed.step.key) for placed in procedure_of(ctx).procedure.steps),
        *(("Settings", "absorption_v"), ("None such", "none")),
    ]


def entries(pick: random.Random, places: list[tuple[str, str]], count: int) -> Iterator[dict[str, Any]]:
    """Entries of any kind, of any worth, at any time of a few days."""
    for at in range(count):
        procedure, step = pick.choice(places)
        yield {
            "id": f"any-{at:08}",
            "procedure": procedure,
            "step": step,
            "kind": pick.choice(KINDS),
            "text": pick.choice(WORDS),
            "value": pick.choice(VALUES),
            "unit": pick.choice(("", "V", "mΩ", "%")),
            "by": pick.choice(("", "E.K.")),
            "at": f"2031-02-0{pick.randint(1, 3)}T07:0{pick.randint(0, 2)}:00Z",
        }


def pages(app: Flask) -> list[str]:
    """Every address of a job that asks for nothing but its number."""
    return [
        rule.rule.replace("<int:job_id>", str(JOB))
        for rule in app.url_map.iter_rules()
        if rule.rule.startswith("/api/jobs/<int:job_id>")
        and rule.arguments == {"job_id"}
        and "GET" in (rule.methods or ())
    ]


@pytest.mark.parametrize("seed", range(2))
def test_every_page_and_paper_answers(client: FlaskClient, seed: int) -> None:
    """What the log takes it takes whole; what it does not is refused with its reason; a logbook once fell for good over 300 hours."""
    pick = random.Random(seed)
    stored = client.get(f"/api/jobs/{JOB}").get_json()["design"]
    places, design = steps(Design.model_validate(stored)), stored
    taken = 0
    for entry in entries(pick, places, 160):
        answer = client.post(f"/api/jobs/{JOB}/build", json={"entries": [entry]})
        assert answer.status_code in (200, 422), entry
        taken += answer.status_code == 200
    assert taken > 90
    found = {page: client.get(page).status_code for page in (*pages(client.application), "/api/jobs")}
    assert len(found) > 12
    assert {page: code for page, code in found.items() if code >= 400} == {}
    states = client.get(f"/api/jobs/{JOB}/build").get_json()["steps"]
    readings = [
        {"test": state["step"], "value": item["value"]}
        for state in states
        if state["procedure"] == "Prove"
        for item in state["entries"]
        if item["kind"] == "reading" and item["value"] is not None
    ]
    for path in ("/api/prove", "/api/prove/causes"):
        answer = client.post(path, json={"design": design, "readings": readings})
        assert answer.status_code == 200, answer.get_json()
