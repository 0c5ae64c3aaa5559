"""Prove: tests of a design, and readings judged by what it expects now."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from flask import Response
from pydantic import Field

from olvask.core.analyses.diagnosis import SYMPTOMS, Diagnosis, Symptom, diagnose
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.stages.build.progress import StepState, progress_of
from olvask.core.stages.prove.noted import proof_of
from olvask.core.stages.prove.plausible import confirmed, sound
from olvask.core.stages.prove.report import Proof, prove
from olvask.documents.schedules import tests_csv
from olvask.documents.test_record import RecordHead, record_pdf
from olvask.store.jobs import Job
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, house_now, stores
from olvask.web.shapes import MOST_READING


class ReadingIn(Described):
    """A reading of one test."""

    test: str = Field(title="Test", min_length=1, max_length=60)
    value: float = Field(
        title="Reading", ge=-100 * MOST_READING, le=100 * MOST_READING
    )  # what was stored once is judged


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

    symptoms: tuple[Symptom, ...] = Field(
        (),
        title="What the customer tells",
        max_length=12,
        json_schema_extra={"choices": [{"value": value, "label": label} for value, label in SYMPTOMS.items()]},
    )
    reports: tuple[Annotated[str, Field(max_length=200)], ...] = Field((), title="What the unit shows", max_length=80)


@api.post("/prove")
@api.input(ProveIn, arg_name="asked")
@api.output(Proof)
def proof(asked: ProveIn) -> Response:
    """Every test with its band, verdict and what would narrow it; every leg as it was measured."""
    return answer_json(prove(Context.of(asked.design), asked.newest, asked.twice, stores().meters()))


@api.post("/prove/causes")
@api.input(CausesIn, arg_name="asked")
@api.output(Diagnosis)
def causes(asked: CausesIn) -> Response:
    """What explains the readings, how well, and which measurement would tell most for each minute it takes."""
    ctx = Context.of(asked.design)
    meters = stores().meters()
    readings = sound(ctx, asked.newest, asked.twice, meters)
    return answer_json(diagnose(ctx, readings, asked.symptoms, asked.reports, meters, asked.twice))


def _judged(job: Job) -> tuple[Proof, tuple[StepState, ...]]:
    """A job's tests by the readings that count, and everything noted."""
    states = progress_of(stores().build.entries(job.id))
    return proof_of(Context.of(job.design), states, stores().meters()), states


@api.get("/jobs/<int:job_id>/tests.csv")
def test_record(job_id: int) -> Response:
    """Every reading of a job's tests, who took it and when, with its band and verdict."""
    job = stores().jobs.get(job_id)
    found, states = _judged(job)
    return Response(tests_csv(found, states), mimetype="text/csv", headers=attached(job, "tests.csv"))


@api.get("/jobs/<int:job_id>/tests.pdf")
def test_paper(job_id: int) -> Response:
    """The same on paper, with faults and cures, and every leg as it was found."""
    job = stores().jobs.get(job_id)
    found, states = _judged(job)
    head = RecordHead(
        title=job.heading.title,
        code=job.heading.code,
        customer=job.heading.customer,
        printed=datetime.now(UTC).date().isoformat(),
    )
    return Response(
        record_pdf(head, job.design, found, states, house_now()),
        mimetype="application/pdf",
        headers=attached(job, "tests.pdf"),
    )
