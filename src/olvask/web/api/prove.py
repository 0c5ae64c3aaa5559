"""Prove: tests of a design, and readings judged by what it expects now."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.stages.prove.report import Proof, prove
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json


class ReadingIn(Described):
    """A reading of one test."""

    test: str = Field(title="Test", min_length=1, max_length=60)
    value: float = Field(title="Reading", ge=-1e7, le=1e7)


class ProveIn(Described):
    """A design and what was read on it so far; of two readings of one test the later counts."""

    readings: tuple[ReadingIn, ...] = Field((), title="Readings", max_length=400)
    design: Design


@api.post("/prove")
@api.input(ProveIn, arg_name="asked")
@api.output(Proof)
def proof(asked: ProveIn) -> Response:
    """Every test with its band, verdict and what would narrow it; every leg as it was measured."""
    readings = {item.test: item.value for item in asked.readings}
    return answer_json(prove(Context.of(asked.design), readings))
