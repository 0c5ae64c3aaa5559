"""The wiring diagram of a design, laid out so that no words ever cross a line or other words.

The supply run lies above, from the start battery to the unit; the delivery run below, from the unit back to the auxiliary
battery; the unit stands at the right across both. What hangs on a row stands off it in a stretch of its own. Below all
stands what was there before, and the relay.

- `diagram_of`: the drawing.
"""

from __future__ import annotations

from collections import defaultdict

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.model import RUNS, Branch, Cable, Design, OwnReturn, RunName
from olvask.core.stages.build.conductors import SOURCE_WORDS, CutConductor, conductors_of, unit_tails
from olvask.documents.diagram.gear import draw_gear
from olvask.documents.diagram.pen import Drawing, Pen, width_of
from olvask.documents.diagram.slots import TAIL_UP, Rows, Slot, draw, slots_of
from olvask.documents.diagram.symbols import battery, chassis, machine, shunt
from olvask.documents.diagram.units import (
    body,
    draw_wires,
    join_ports,
    ports_of,
    several,
    strap,
    strap_width,
    tails_width,
    unit_width,
    wires_of,
    wires_width,
)

MARGIN = 16.0
MACHINE_X, BATTERY_X = 58.0, 176.0
ROW = 104.0  # from the outgoing to the returning row
BETWEEN = 172.0  # from the supply's returning to the delivery's returning row
SHUNT_W = 74.0


def diagram_of(ctx: Context) -> Drawing:
    """The wiring diagram of a design."""
    design, pen = ctx.design, Pen()
    cuts = conductors_of(ctx)
    rows, band_foot = _rows(design)
    by_place: defaultdict[str, list[CutConductor]] = defaultdict(list)
    for cut in cuts:
        by_place[cut.place].append(cut)
    slots = {run: _slots(ctx, run, by_place, rows[run].own) for run in RUNS}
    begin = _begin(design)
    straps = [cut for cut in cuts if cut.id[0] == "C" and cut.ends[0].at.startswith("unit")]
    widths = {run: sum(slot.width for slot in slots[run]) + _head(design, run) for run in RUNS}
    room = strap_width(straps) if straps and design.units == 1 else 30.0
    told = {run: _carried(design, run) for run in RUNS}
    end = begin + max(*widths.values(), room, *(width_of(words) for words in told.values())) + 40
    pen.text(begin, rows["supply"].minus_y + 44, told["supply"], "start", muted=True, place="supply.back")
    pen.text(begin, rows["delivery"].minus_y - 58, told["delivery"], "start", muted=True, place="delivery.back")
    _sources(pen, design, rows["supply"], rows["delivery"], begin, cuts)
    for run in RUNS:
        _row(pen, slots[run], rows[run], begin + _head(design, run), end)
    foot, right = _units(pen, ctx, cuts, rows, end)
    foot = max(foot, band_foot) + 20
    foot = draw_gear(pen, ctx, MARGIN, foot, right)
    return pen.drawing(right + MARGIN, foot + MARGIN)


def _rows(design: Design) -> tuple[dict[RunName, Rows], float]:
    above = TAIL_UP + 40 if any(isinstance(piece, Branch) for piece in design.supply.pieces) else 64.0
    below = TAIL_UP + 40 if any(isinstance(piece, Branch) for piece in design.delivery.pieces) else 40.0
    supply_plus = MARGIN + above
    supply_minus = supply_plus + ROW
    delivery_minus = supply_minus + BETWEEN
    delivery_plus = delivery_minus + ROW
    own = {run: isinstance(design.run(run).back, OwnReturn) for run in RUNS}
    rows: dict[RunName, Rows] = {
        "supply": Rows("supply", supply_plus, supply_minus, own["supply"], -1),
        "delivery": Rows("delivery", delivery_plus, delivery_minus, own["delivery"], 1),
    }
    return rows, delivery_plus + below


def _slots(ctx: Context, run: RunName, by_place: dict[str, list[CutConductor]], own: bool) -> list[Slot]:
    tails = unit_tails(ctx, run)
    laid = "" if tails is None or tails.laid is None else ctx.design.run(run).pieces[tails.laid].id
    placed = by_place
    if tails is not None and tails.laid is None:
        placed = {place: [cut for cut in found if "." not in cut.id] for place, found in by_place.items()}
    return slots_of(ctx.design, run, placed, laid, own)


def _carried(design: Design, run: RunName) -> str:
    """How the body carries a run back; empty where the run has a return of its own."""
    back = design.run(run).back
    if isinstance(back, OwnReturn):
        return ""
    measured = "not measured" if back.resistance_mohm is None else f"{back.resistance_mohm:g} mΩ"
    return f"{run}: chassis return, {measured}"


def _head(design: Design, run: RunName) -> float:
    """Room before the first stretch."""
    return SHUNT_W if run == "delivery" and design.shunted else 0.0


def _words(design: Design) -> dict[str, tuple[str, str]]:
    vehicle, auxiliary = design.vehicle, design.auxiliary
    start = vehicle.start_battery
    return {
        "machine": vehicle.source_words,
        "start": (
            "Start battery",
            f"{vehicle.system_v} V {start.capacity_ah:g} Ah {chemistries()[start.chemistry].label}",
        ),
        "auxiliary": (
            "Auxiliary battery",
            f"{auxiliary.nominal_v} V {auxiliary.capacity_ah:g} Ah {chemistries()[auxiliary.chemistry].label}",
        ),
    }


def _begin(design: Design) -> float:
    """Where the rows begin: right of the batteries and of their words."""
    told = [max(width_of(name, True), width_of(detail)) for name, detail in _words(design).values()]
    return max(BATTERY_X + 40.0, MARGIN + max(told) + 24)


def _sources(
    pen: Pen, design: Design, supply: Rows, delivery: Rows, begin: float, cuts: tuple[CutConductor, ...]
) -> None:
    told = _words(design)
    _start_side(pen, design, supply, begin, told)
    top, bottom = delivery.minus_y, delivery.plus_y
    battery(pen, BATTERY_X, top, bottom, False, "delivery")
    pen.ring(BATTERY_X, bottom, 4, terminal="auxiliary battery +", place="auxiliary")
    pen.ring(BATTERY_X, top, 4, terminal="auxiliary battery −", place="auxiliary")
    pen.line(((BATTERY_X, bottom), (begin + _head(design, "delivery"), bottom)), "link")
    # Its words end above the labels of its returning row.
    pen.text(MARGIN, top - 58, told["auxiliary"][0], "start", bold=True, place="auxiliary")
    pen.text(MARGIN, top - 43, told["auxiliary"][1], "start", muted=True, place="auxiliary")
    for cut in cuts:
        if cut.id[0] == "C" and cut.ends[0].at.startswith("auxiliary"):
            strap(pen, cut, BATTERY_X, top)
        elif cut.id[0] == "C" and cut.ends[0].at.startswith("shunt"):
            strap(pen, cut, begin + SHUNT_W, top, leftwards=False)
    if design.shunted:
        pen.line(((BATTERY_X, top), (begin + 8, top)), "link")
        shunt(pen, begin + 26, top)
        pen.line(((begin + 44, top), (begin + SHUNT_W, top)), "link")
        pen.text(begin + 26, top + 28, "shunt", muted=True, place="monitor")
    elif delivery.own:
        pen.line(((BATTERY_X, top), (begin, top)), "link")


def _start_side(pen: Pen, design: Design, supply: Rows, begin: float, told: dict[str, tuple[str, str]]) -> None:
    top, bottom = supply.plus_y, supply.minus_y
    middle = (top + bottom) / 2
    point = design.vehicle.source_point.kind
    pen.line(((MACHINE_X, middle - 18), (MACHINE_X, top), (BATTERY_X, top)), "vehicle")
    machine(pen, MACHINE_X, middle, design.vehicle.drive == "converter")
    pen.line(((MACHINE_X, middle + 18), (MACHINE_X, bottom)), "vehicle")
    chassis(pen, MACHINE_X, bottom)
    battery(pen, BATTERY_X, top, bottom, True, "supply")
    at = MACHINE_X if point == "alternator_stud" else BATTERY_X
    pen.ring(at, top, 4, terminal=SOURCE_WORDS[point], place="vehicle.source_point")
    pen.text(MARGIN, top - 40, told["machine"][0], "start", bold=True, place="vehicle.alternator")
    pen.text(MARGIN, top - 25, told["machine"][1], "start", muted=True, place="vehicle.alternator")
    if point != "battery_post":
        pen.text(MARGIN, top - 9, f"run taken at the {SOURCE_WORDS[point].split(',')[0]}", "start", muted=True)
    pen.text(MARGIN, bottom + 44, told["start"][0], "start", bold=True, place="vehicle.start_battery")
    pen.text(MARGIN, bottom + 59, told["start"][1], "start", muted=True, place="vehicle.start_battery")
    pen.line(((BATTERY_X, bottom), (BATTERY_X - 34, bottom)), "vehicle")
    chassis(pen, BATTERY_X - 34, bottom)
    sensor = design.vehicle.start_battery.negative_sensor
    name = "start battery −, chassis side of its sensor" if sensor else "start battery −"
    if sensor:
        pen.box(BATTERY_X - 6, bottom - 26, 12, 16, filled=True)
        pen.text(BATTERY_X - 12, bottom - 14, "sensor", "end", muted=True)
    pen.ring(BATTERY_X, bottom, 4, terminal=name, place="vehicle.start_battery")
    pen.line(((BATTERY_X, top), (begin, top)), "link")
    if supply.own:
        pen.line(((BATTERY_X, bottom), (begin, bottom)), "link")


def _row(pen: Pen, slots: list[Slot], rows: Rows, begin: float, end: float) -> None:
    """Stretches side by side; what room is left goes to the cables, or else to a plain line."""
    spare = end - begin - sum(slot.width for slot in slots)
    cables = [slot for slot in slots if isinstance(slot.piece, Cable)]
    each = spare / len(cables) if cables else 0.0
    at = begin
    for slot in slots:
        right = at + slot.width + (each if isinstance(slot.piece, Cable) else 0.0)
        draw(pen, slot, rows, at, right)
        at = right
    if at < end - 1e-6:
        pen.line(((at, rows.plus_y), (end, rows.plus_y)), "link")
        if rows.own:
            pen.line(((at, rows.minus_y), (end, rows.minus_y)), "link")


def _units(
    pen: Pen, ctx: Context, cuts: tuple[CutConductor, ...], rows: dict[RunName, Rows], end: float
) -> tuple[float, float]:
    """The unit or units; where they end below and at the right."""
    design = ctx.design
    supply, delivery = rows["supply"], rows["delivery"]
    wires = wires_of(design)
    if design.units > 1:
        unit_x = end + tails_width(ctx, cuts)
        top = supply.plus_y - 10
        bottom = several(pen, ctx, cuts, rows, end, unit_x, top)
        edge = unit_x + unit_width(design)
        lowest = draw_wires(pen, design, edge, top + 40)
        return max(bottom, lowest), edge + wires_width(design)
    straps = [cut for cut in cuts if cut.id[0] == "C" and cut.ends[0].at.startswith("unit")]
    ports = ports_of(design, "", (supply.plus_y, supply.minus_y, delivery.minus_y, delivery.plus_y))
    shared = len(ports) == 3
    unit_x = end + 24
    top, bottom = supply.plus_y - 30, delivery.plus_y + 30
    for run in RUNS:
        pen.line(((end, rows[run].plus_y), (unit_x, rows[run].plus_y)), "link")
    has: set[RunName] = {run for run in RUNS if rows[run].own}
    for run in RUNS:
        if rows[run].own:
            pen.line(((end, rows[run].minus_y), (unit_x if not shared else end, rows[run].minus_y)), "link")
    for cut in straps:
        run = "supply" if cut.place.startswith("supply") else "delivery"
        strap(pen, cut, end if shared else unit_x, rows[run].minus_y)
        has.add(run)
    if shared:
        join_ports(pen, ports, rows, unit_x, has)
    body(pen, design, unit_x, top, bottom, ports, "")
    edge = unit_x + unit_width(design)
    draw_wires(pen, design, edge, top + 40)
    lowest = top + 40 + 44 * len(wires)
    return max(bottom, lowest), edge + wires_width(design)
