"""Routes a run could take, each with the cable its own length needs, and what it comes to.

- `RouteOption`, `routes_of`: as they are told.
- `along`: a design with one run laid along a route.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from olvask.core.analyses.fit import CannotFit, fit_unit
from olvask.core.assess import assess
from olvask.core.catalogue import NoStandardSize, device
from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.model import Cable, Design, ProtectiveDevice, Route, Run
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, bill_of
from olvask.core.stages.build.labour import hours_of, labour_cost, labour_of


@dataclass(frozen=True, slots=True, kw_only=True)
class RouteOption:
    """One route worked out; money in € and tax apart, for the whole job as it would be then."""

    route: Route
    cable: str
    protected_by: str
    parts: float
    hours: float
    labour: float
    total: float
    drop_v: float | None
    stops: int
    refused: Annotated[str, Field(description="why it cannot be laid; empty where it can")]
    laid: Annotated[Run | None, Field(description="the run as it would be laid")]


class Routes(Said):
    """Every route of a job."""

    options: tuple[RouteOption, ...]


def along(design: Design, route: Route, prices: Prices = CATALOGUE_PRICES) -> Design:
    """The design with one run laid along a route: its own length, the cable and device that length needs.

    Args:
        design: the design.
        route: the route.
        prices: the workshop's own prices.

    Raises:
        NoStandardSize: no cable passes over that length.
        CannotFit: there is no unit, or it cannot be used at all.
    """
    if design.charger is None:
        raise CannotFit("choose a unit first: the cable follows its current")
    described = design.run(route.side)
    cables = [piece for piece in described.pieces if isinstance(piece, Cable)]
    length_m = sum(piece.length_m for piece in cables)
    stretched = tuple(
        piece.model_copy(update={"length_m": max(0.01, round(piece.length_m * route.length_m / length_m, 3))})
        if isinstance(piece, Cable)
        else piece
        for piece in described.pieces
    )
    measured = design.distances.model_copy(update={f"{route.side}_m": route.length_m})
    there = design.model_copy(
        update={route.side: described.model_copy(update={"pieces": stretched}), "distances": measured}
    )
    laid = fit_unit(there, design.charger, prices).run(route.side)
    chosen = tuple(
        item.model_copy(update={"taken": item.id == route.id if item.side == route.side else item.taken})
        for item in design.routes
    )
    return design.model_copy(update={route.side: laid, "distances": measured, "routes": chosen})


def routes_of(design: Design, prices: Prices = CATALOGUE_PRICES) -> Routes:
    """Work every route of a design out.

    Args:
        design: the design.
        prices: the workshop's own prices.
    """
    return Routes(options=tuple(_option(design, route, prices) for route in design.routes))


def _option(design: Design, route: Route, prices: Prices) -> RouteOption:
    try:
        there = along(design, route, prices)
    except (CannotFit, NoStandardSize) as error:
        return RouteOption(
            route=route,
            cable="",
            protected_by="",
            parts=0.0,
            hours=0.0,
            labour=0.0,
            total=0.0,
            drop_v=None,
            stops=0,
            refused=str(error),
            laid=None,
        )
    ctx = Context.of(there, worded=False)
    rows = labour_of(ctx)
    parts, hours, labour = bill_of(ctx, prices).total, hours_of(rows), labour_cost(ctx, rows)
    laid = there.run(route.side)
    sizes = dict.fromkeys(piece.size for piece in laid.pieces if isinstance(piece, Cable))
    guards = [piece for piece in laid.pieces if isinstance(piece, ProtectiveDevice)]
    found = assess(there, remedies=False, words=False)
    state = ctx.state(route.side)
    return RouteOption(
        route=route,
        cable=", ".join(sizes),
        protected_by=", ".join(f"{item.rating_a:g} A {device(item.family, item.rating_a).label}" for item in guards),
        parts=parts,
        hours=hours,
        labour=labour,
        total=round(parts + labour, 2),
        drop_v=state.drop_v,
        stops=len(found.stops),
        refused="",
        laid=laid,
    )
