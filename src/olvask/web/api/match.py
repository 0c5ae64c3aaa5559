"""Match: the shelf ranked, a unit fitted, the week, options compared."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from olvask.core.analyses.compare import Comparison, compare
from olvask.core.analyses.managed_link import ManagedLink, managed_link
from olvask.core.analyses.rank import UnitVerdict, fit_unit, rank_units
from olvask.core.analyses.week import WeekPicture, week_of
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.store.shelf import NoSuchItem
from olvask.web.api.blueprint import api
from olvask.web.api.jobs import Variant
from olvask.web.reach import answer_json, stores
from olvask.web.shapes import Out


class Verdicts(Out):
    """Every unit of the shelf judged."""

    units: tuple[UnitVerdict, ...]


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
    """Judge every unit of the shelf for a design, each with its own cables and devices, and rank them."""
    shelf = stores().shelf
    return answer_json(Verdicts(units=tuple(rank_units(design, shelf.chargers(), shelf.prices()))))


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
