"""What is true of a design, and the tables it is drawn from."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from olvask.core.assess import Assessment, assess
from olvask.core.catalogue import conductors, devices
from olvask.core.findings.figure import Figure
from olvask.core.findings.finding import Remedy
from olvask.core.model import Design
from olvask.core.model.shelf import ShelfAlternator, ShelfBattery
from olvask.web.api.blueprint import api
from olvask.web.api.jobs import blank_design
from olvask.web.reach import answer_json, one_by_one, stores
from olvask.web.shapes import Out

MOST_OFFERED = 200  # batteries, alternators: a longer list nobody reads; Find on the shelf leads to the rest


class SizeOut(Out):
    """A standard size."""

    size: str
    system: str
    area_mm2: float


class FamilyOut(Out):
    """A device family and its ratings."""

    family: str
    label: str
    ratings_a: tuple[float, ...]
    source: str


class CatalogueOut(Out):
    """Standard sizes, ratings and the shelf."""

    sizes: tuple[SizeOut, ...]
    families: tuple[FamilyOut, ...]
    batteries: tuple[ShelfBattery, ...] = Field(description="in use, the first of them by number")
    alternators: tuple[ShelfAlternator, ...] = Field(description="in use, the first of them by number")
    blank: Design = Field(description="what a new job starts from")


@api.get("/health")
def health() -> dict[str, str]:
    """Say that the server is there."""
    return {"status": "ok"}


@api.get("/catalogue")
@api.output(CatalogueOut)
def catalogue() -> Response:
    """Standard sizes, device ratings and the shelf."""
    families: dict[str, FamilyOut] = {}
    for item in devices():
        earlier = families[item.family].ratings_a if item.family in families else ()
        families[item.family] = FamilyOut(
            family=item.family, label=item.label, ratings_a=(*earlier, item.rating_a), source=item.source
        )
    return answer_json(
        CatalogueOut(
            sizes=tuple(SizeOut(size=item.size, system=item.system, area_mm2=item.area_mm2) for item in conductors()),
            families=tuple(families.values()),
            batteries=tuple(stores().shelf.batteries()[:MOST_OFFERED]),
            alternators=tuple(stores().shelf.alternators()[:MOST_OFFERED]),
            blank=blank_design(),
        )
    )


class RemediesOut(Out):
    """Remedies of one finding, each tried: it removes the finding and brings no new stop."""

    id: str
    remedies: tuple[Remedy, ...]
    tried: int = Field(description="remedies tried that do not mend it, or bring a new stop")


class Mended(Out):
    """Remedies of every finding that has any, or for which any were tried."""

    findings: tuple[RemediesOut, ...]


WORDS = {"formula", "working", "inputs", "source", "changes"}


class Workings(Out):
    """Figures with their words."""

    figures: dict[str, Figure]


@api.post("/assess")
@one_by_one
@api.input(Design, arg_name="design")
@api.output(Assessment)
def assess_design(design: Design) -> Response:
    """Assess a design without storing anything; remedies and the words of figures are asked for apart."""
    return answer_json(assess(design, remedies=False, words=False), without={"figures": {"__all__": WORDS}})


@api.post("/figures")
@one_by_one
@api.input(Design, arg_name="design")
@api.output(Workings)
def figures_of(design: Design) -> Response:
    """Every figure of a design with its rule, its numbers and where they came from."""
    return answer_json(Workings(figures=assess(design, remedies=False).figures))


@api.post("/remedies")
@api.input(Design, arg_name="design")
@api.output(Mended)
def remedies_of(design: Design) -> Response:
    """Search and try the remedies of a design's findings; a breath behind its assessment."""
    found = assess(design).findings
    return answer_json(
        Mended(
            findings=tuple(
                RemediesOut(id=item.id, remedies=item.remedies, tried=item.tried)
                for item in found
                if item.remedies or item.tried
            )
        )
    )
