"""Run: one cable in every standard size."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from olvask.core.analyses.size_ladder import SizeLadder, size_ladder
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, stores


class LadderIn(Described):
    """Which cable to put on the size ladder."""

    place: str = Field(max_length=40)
    design: Design


@api.post("/ladder")
@api.input(LadderIn, arg_name="asked")
@api.output(SizeLadder)
def ladder(asked: LadderIn) -> Response:
    """Judge one cable in every standard size."""
    shelf = stores().shelf
    stock = {item.size for item in shelf.cables() if item.stock_m is None or item.stock_m > 0}
    return answer_json(size_ladder(asked.design, asked.place, shelf.prices(), stock))
