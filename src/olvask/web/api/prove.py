"""Prove: tests of a design, and readings judged by what it expects now."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from pydantic import Field

from olvask.core.analyses.diagnosis import Diagnosis, Symptom, diagnose
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.stages.build.progress import progress_of
from olvask.core.stages.prove.plausible import confirmed, sound
from olvask.core.stages.prove.report import Proof, prove
from olvask.documents.schedules import tests_csv
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, stores


class ReadingIn(Described):
    """A reading of one test."""

    test: str = Field(title="Test", min_length=1, max_length=60)
    value: float = Field(title="Reading", ge=-1e7, le=1e7)


class ProveIn(Described):
    """A design and what was read on it so far; of two readings of one test the later counts."""

    readings: tuple[ReadingIn, ...] = Field((), title="Readings", max_length=400)
    design: Design

    @property
    def newest(self) -> dict[str, float]:
        """The newest reading of each test."""
        return {item.test: item.value for item in self.readings}

    @property
    def twice(self) -> frozenset[str]:
        """Tests that were read twice with the same result."""
        return confirmed([(item.test, item.value) for item in self.readings])


class CausesIn(ProveIn):
    """Readings, what the customer tells, and what the unit shows."""

    symptoms: tuple[Symptom, ...] = Field((), title="What the customer tells", max_length=12)
    reports: tuple[Annotated[str, Field(max_length=200)], ...] = Field((), title="What the unit shows", max_length=80)


@api.post("/prove")
@api.input(ProveIn, arg_name="asked")
@api.output(Proof)
def proof(asked: ProveIn) -> Response:
    """Every test with its band, verdict and what would narrow it; every leg as it was measured."""
    return answer_json(prove(Context.of(asked.design), asked.newest, asked.twice))


@api.post("/prove/causes")
@api.input(CausesIn, arg_name="asked")
@api.output(Diagnosis)
def causes(asked: CausesIn) -> Response:
    """What explains the readings, how well, and which measurement would tell most for each minute it takes."""
    ctx = Context.of(asked.design)
    readings = sound(ctx, asked.newest, asked.twice)
    return answer_json(diagnose(ctx, readings, asked.symptoms, asked.reports))


@api.get("/jobs/<int:job_id>/tests.csv")
def test_record(job_id: int) -> Response:
    """Every reading of a job's tests, who took it and when, with its band and verdict."""
    job = stores().jobs.get(job_id)
    states = progress_of(stores().build.entries(job_id))
    readings = {
        state.step: entry.value
        for state in states
        if state.procedure == "Prove"
        for entry in state.entries
        if entry.kind == "reading" and entry.value is not None
    }
    found = prove(Context.of(job.design), readings)
    return Response(tests_csv(found, states), mimetype="text/csv", headers=attached(job, "tests.csv"))
