"""Match: the shelf ranked, a unit fitted, the week, options compared."""

from __future__ import annotations

from typing import Literal

from flask import Response
from pydantic import Field

from olvask.core.analyses.compare import Comparison, compare
from olvask.core.analyses.fit import fit_unit
from olvask.core.analyses.managed_link import ManagedLink, managed_link
from olvask.core.analyses.rank import Ranking, UnitVerdict, next_unit, ranking
from olvask.core.analyses.week import WeekPicture, week_of
from olvask.core.model import Charger, Design
from olvask.core.model.base import Described
from olvask.store.shelf import NoSuchItem
from olvask.web.api.blueprint import api
from olvask.web.api.jobs import Variant
from olvask.web.reach import answer_json, answer_lines, stores
from olvask.web.shapes import Out

MOST_SHOWN = 200  # units of one answer, usable or not


class Verdicts(Out):
    """Units of the shelf judged so far, the best first; the last answer has weighed all."""

    done: float = Field(description="0 to 1")
    of: int = Field(description="units on the shelf")
    weighed: int
    refused: int = Field(description="of those weighed, how many cannot be used")
    units: tuple[UnitVerdict, ...] = Field(description="the best, and the first that cannot be used")


class NextIn(Described):
    """A step to the next unit."""

    by: Literal[1, -1] = Field(title="Step", description="1 to a stronger one, -1 to a weaker")
    design: Design


class NextOut(Out):
    """The next unit; none beyond the last."""

    unit: Charger | None


class FitIn(Described):
    """Which unit to fit."""

    unit: str = Field(title="Unit", max_length=60)
    design: Design


class FitOut(Out):
    """A design with a unit fitted."""

    design: Design


class ManagedLinkOut(Out):
    """A managed link; none where the batteries differ in nominal voltage."""

    link: ManagedLink | None


class CompareIn(Described):
    """Variants to compare."""

    variants: tuple[Variant, ...] = Field(title="Options", min_length=2, max_length=4)


@api.post("/match")
@api.input(Design, arg_name="design")
@api.output(Verdicts)
def match(design: Design) -> Response:
    """Judge every unit of the shelf for a design, each with its own cables and devices; a large one line by line."""
    shelf = stores().shelf
    units, prices = shelf.chargers(), shelf.prices()
    return answer_lines(None if found is None else _verdicts(found) for found in ranking(design, units, prices))


def _verdicts(found: Ranking) -> Verdicts:
    usable = [unit for unit in found.units if unit.fit != "no"]
    refused = [unit for unit in found.units if unit.fit == "no"]
    weighed = len(found.units)
    return Verdicts(
        done=weighed / found.of if found.of else 1.0,
        of=found.of,
        weighed=weighed,
        refused=len(refused),
        units=(*usable[:MOST_SHOWN], *refused[:MOST_SHOWN]),
    )


@api.post("/match/next")
@api.input(NextIn, arg_name="asked")
@api.output(NextOut)
def match_next(asked: NextIn) -> Response:
    """The next stronger or weaker unit of the shelf in use, of the job's voltages."""
    return answer_json(NextOut(unit=next_unit(asked.design, stores().shelf.chargers(), asked.by)))


@api.post("/match/fit")
@api.input(FitIn, arg_name="asked")
@api.output(FitOut)
def match_fit(asked: FitIn) -> Response:
    """The design with one unit of the shelf, its setting, and runs laid for it."""
    shelf = stores().shelf
    unit = next((item for item in shelf.chargers() if item.id == asked.unit), None)
    if unit is None:
        raise NoSuchItem(f"no unit {asked.unit} in use on the shelf")
    return answer_json(FitOut(design=fit_unit(asked.design, unit, shelf.prices())))


@api.post("/week")
@api.input(Design, arg_name="design")
@api.output(WeekPicture)
def week(design: Design) -> Response:
    """The auxiliary battery's charge over a typical week."""
    return answer_json(week_of(design))


@api.post("/managed-link")
@api.input(Design, arg_name="design")
@api.output(ManagedLinkOut)
def link_by_time(design: Design) -> Response:
    """A contactor closed by time in the unit's place: parts, a drive's charge, what speaks against it."""
    return answer_json(ManagedLinkOut(link=managed_link(design)))


@api.post("/compare")
@api.input(CompareIn, arg_name="asked")
@api.output(Comparison)
def compare_variants(asked: CompareIn) -> Response:
    """Two to four variants side by side, differences only."""
    variants = [(item.name, item.design) for item in asked.variants]
    return answer_json(compare(variants, stores().shelf.prices()))
