"""Hours of the work, operation by operation, and what they cost.

- `labour_of`: the rows.
- `hours_of`, `labour_cost`: their sum, and its price.

Hours are our own estimates of a practised fitter in a van that is easy to get at; the workshop's factor and rate, and the
hours given with a route, take their place.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from olvask.core.circuit.context import Context
from olvask.core.findings.listed import counted, listed
from olvask.core.model import RUNS, Branch, Cable, Route, RunName
from olvask.core.model.charger import WAY_WORDS
from olvask.core.stages.build.bill import devices_of as fitted
from olvask.core.stages.build.conductors import conductors_of, laid_signs
from olvask.core.stages.build.found import called
from olvask.core.stages.settings.sheet import devices_of, lines_of, sheet_of
from olvask.core.stages.wake.relay import relay_of

# Hours each, our own estimates.
PREPARE_H, SAFE_H, CHECK_H, PUT_BACK_H, PROVE_H, HAND_OVER_H = 0.5, 0.4, 0.4, 0.5, 1.0, 0.5
UNIT_H, DEVICE_H, END_H, BRANCH_H, SIGNAL_H, RELAY_H = 0.5, 0.25, 0.08, 0.4, 0.75, 1.0
OLD_H, SEATS_H, FAN_H, VENTS_H, MONITOR_H, BATTERY_H = 0.5, 1.0, 0.5, 0.5, 0.6, 0.75
LINE_H, KEY_H = 0.02, 0.3
PER_M = {"cabin": 0.10, "under_floor": 0.15, "engine_bay": 0.20}
CONDUIT = 1.4  # as long as without
RETURN = 1.3  # a second cable along the same way


@dataclass(frozen=True, slots=True, kw_only=True)
class Operation:
    """One kind of work and its hours."""

    what: str
    detail: str
    hours: float


def labour_of(ctx: Context) -> tuple[Operation, ...]:
    """Every operation of a design, hours as they are charged."""
    factor = ctx.design.terms.hours_factor
    rows = [
        Operation(what=row.what, detail=row.detail, hours=round(row.hours * factor, 2))
        for row in _rows(ctx)
        if row.hours > 0
    ]
    terms = ctx.design.terms
    if terms.extra_h > 0:
        rows.append(Operation(what=terms.extra_for or "Besides", detail="", hours=terms.extra_h))
    return tuple(rows)


def hours_of(rows: tuple[Operation, ...]) -> float:
    """Their sum [h]."""
    return round(sum(row.hours for row in rows), 2)


def labour_cost(ctx: Context, rows: tuple[Operation, ...]) -> float:
    """What they cost, each row to the cent, tax apart [€]."""
    return round(sum(round(row.hours * ctx.design.terms.rate_per_h, 2) for row in rows), 2)


def _row(what: str, detail: str, hours: float) -> Operation:
    return Operation(what=what, detail=detail, hours=hours)


def _rows(ctx: Context) -> Iterator[Operation]:
    design, site, mount = ctx.design, ctx.design.site, ctx.design.mount
    yield _row("Prepare and make safe", "parts laid out, batteries off, proven dead", PREPARE_H + SAFE_H)
    old = tuple(called(item) for item in design.taken_out)
    yield _row("Take out", listed(old), OLD_H * len(old))
    yield _row("Seats out and back", "to the maker's torque", SEATS_H if site.seats else 0.0)
    unit = design.charger
    if unit is not None:
        many = "" if design.units == 1 else f"{design.units} units"
        yield _row("Mount the unit", many, UNIT_H * design.units)
    yield _row("Set the auxiliary battery in", "strapped down", BATTERY_H if design.auxiliary_new else 0.0)
    opened = mount.around == "vents" and mount.vent_low_cm2 + mount.vent_high_cm2 > 0
    yield _row("Openings", "cut, with grilles", VENTS_H if opened else 0.0)
    yield _row("Fan kit", "", FAN_H if mount.fan_m3_h > 0 else 0.0)
    for run in RUNS:
        yield _laying(ctx, run)
    yield from _fitting(ctx)
    yield _row("Dead checks", "rung out, no short, torque marked", CHECK_H)
    if unit is not None and sheet_of(ctx) is not None:
        lines = lines_of(ctx)
        yield _row("Key in and read back", counted(lines, "line"), (KEY_H + LINE_H * lines) * design.units)
    for place, name in devices_of(design):
        lines = lines_of(ctx, place)
        yield _row(f"Key in and read back, {name}", counted(lines, "line"), KEY_H + LINE_H * lines if lines else 0.0)
    yield _row("Put back", "", PUT_BACK_H)
    yield _row("Prove and hand over", "measured against this design, papers", PROVE_H + HAND_OVER_H)


def taken(ctx: Context, run: RunName) -> Route | None:
    """The route a run is laid by, where one is taken."""
    return next((route for route in ctx.design.routes if route.taken and route.side == run), None)


def _laying(ctx: Context, run: RunName) -> Operation:
    route = taken(ctx, run)
    if route is not None:
        return _row(f"Lay the {run} run", route.name, route.hours)
    described = ctx.design.run(run)
    cables = [piece for piece in described.pieces if isinstance(piece, Cable)]
    times = {piece.id: (0.0, 1.0, RETURN)[len(laid_signs(described, piece))] for piece in cables}
    hours = sum(
        times[piece.id] * PER_M[piece.place] * piece.length_m * piece.parallel * (CONDUIT if piece.conduit else 1.0)
        for piece in cables
    )
    metres = sum(piece.length_m for piece in cables if times[piece.id])
    return _row(f"Lay the {run} run", f"{metres:g} m", hours)


def _fitting(ctx: Context) -> Iterator[Operation]:
    design = ctx.design
    ends = 2 * len(conductors_of(ctx))
    yield _row("Crimp, label, bolt", f"{ends} ends", END_H * ends)
    pieces = [piece for run in RUNS for piece in design.run(run).pieces]
    branches = sum(isinstance(piece, Branch) for piece in pieces)
    devices = len(fitted(ctx)) - sum(isinstance(piece, Branch) and piece.device is not None for piece in pieces)
    yield _row("Device holders", f"{devices}", DEVICE_H * devices)
    yield _row("Branch tails", f"{branches}", BRANCH_H * branches)
    wired = [way for way in design.activation.ways if way not in ("voltage", "bridge")]
    yield _row("Enable wires", ", ".join(WAY_WORDS[way] for way in wired), SIGNAL_H * len(wired))
    yield _row("Changeover relay", "", RELAY_H if relay_of(design) is not None else 0.0)
    yield _row("Monitor and shunt", "", MONITOR_H if design.monitor.unit is not None else 0.0)
