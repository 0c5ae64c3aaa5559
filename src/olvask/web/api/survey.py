"""Survey: what is still unknown, and sums on the side."""

from __future__ import annotations

from flask import Response

from olvask.core.analyses.unknowns import Unknown, unknowns
from olvask.core.model import Design
from olvask.web.api.blueprint import api
from olvask.web.api.sums import SumIn, SumOut, work_out
from olvask.web.reach import answer_json
from olvask.web.shapes import Out


class Unknowns(Out):
    """What is still unknown."""

    unknowns: tuple[Unknown, ...]


@api.post("/unknowns")
@api.input(Design, arg_name="design")
@api.output(Unknowns)
def what_is_unknown(design: Design) -> Response:
    """What is still unknown, and what it would change."""
    return answer_json(Unknowns(unknowns=unknowns(design)))


@api.post("/sums")
@api.input(SumIn, arg_name="asked")
@api.output(SumOut)
def sums(asked: SumIn) -> Response:
    """A sum done on the side: loads, rest volts, days to flat, bonding."""
    return answer_json(work_out(asked))
