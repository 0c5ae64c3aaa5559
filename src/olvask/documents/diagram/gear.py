"""What was there before, the sun, the monitor and the relay: boxes below the runs, each with its words.

- `draw_gear`: all of them, in lines as wide as the drawing.
"""

from __future__ import annotations

from dataclasses import dataclass

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import choices_of
from olvask.core.model.monitor import BYPASSES
from olvask.core.model.vehicle import Existing
from olvask.core.stages.settings.sensor import senses
from olvask.core.stages.wake.relay import relay_of
from olvask.documents.diagram.pen import Pen, width_of

HEIGHT, GAP, MARK, ROW = 44.0, 14.0, 22.0, 18.0


@dataclass(frozen=True, slots=True)
class Box:
    """One box: a name, what is said of it, and how it stands."""

    name: str
    detail: str
    how: str  # stays, cut, new
    place: str = ""
    rows: tuple[tuple[str, str], ...] = ()  # terminals, and what goes on each


def draw_gear(pen: Pen, ctx: Context, left: float, top: float, right: float) -> float:
    """Boxes in lines; where they end.

    Args:
        pen: where to.
        ctx: the design solved.
        left: where a line begins.
        top: where the first lies.
        right: where a line ends.
    """
    boxes = [*_old(ctx.design), *_relay(ctx.design), *_sun(ctx.design), *_monitor(ctx.design), *_sensor(ctx)]
    x, y = left, top
    tall = 0.0
    for box in boxes:
        told = [width_of(f"{name}  {goes}") + 8 for name, goes in box.rows]
        width = MARK + max(width_of(box.name, True), width_of(box.detail), *told, 0.0) + 22
        if x > left and x + width > right:
            x, y, tall = left, y + tall + GAP, 0.0
        height = HEIGHT + ROW * len(box.rows)
        _box(pen, box, x, y, width, height)
        x, tall = x + width + GAP, max(tall, height)
    foot = y + tall + 26 if boxes else top
    words = "Conductors are named as on the cut list and the labels."
    if any(box.how != "new" for box in boxes):
        words += " Dashed: stays as it was. Crossed: cut."
    pen.text(left, foot, words, "start", muted=True)
    return foot + 6


def _box(pen: Pen, box: Box, x: float, y: float, width: float, height: float) -> None:
    pen.box(x, y, width, height, "old" if box.how != "new" else "symbol", dashed=box.how == "stays", place=box.place)
    at, middle = x + MARK / 2 + 4, y + HEIGHT / 2
    if box.how == "cut":
        pen.line(((at - 8, middle - 8), (at + 8, middle + 8)), "old", bold=True, place=box.place)
        pen.line(((at - 8, middle + 8), (at + 8, middle - 8)), "old", bold=True, place=box.place)
    else:
        pen.ring(at, middle, 5, "old" if box.how == "stays" else "symbol", place=box.place)
    pen.text(x + MARK + 10, y + 18, box.name, "start", bold=True, place=box.place)
    pen.text(x + MARK + 10, y + 34, box.detail, "start", muted=True, place=box.place)
    for row, (name, goes) in enumerate(box.rows):
        level = y + HEIGHT + ROW * row
        pen.ring(at, level, 4, terminal=f"relay {name}", place=box.place)
        pen.text(x + MARK + 10, level + 4, f"{name}  {goes}", "start", place=box.place)


def _old(design: Design) -> list[Box]:
    labels = choices_of(Existing, "kind")
    gone = {item.id for item in design.taken_out}
    found = []
    for item in design.existing:
        cut = item.id in gone
        detail = item.name or ("its feed cut, both ends insulated" if cut else "stays")
        label = labels[item.kind]
        found.append(Box(label[:1].upper() + label[1:], detail, "cut" if cut else "stays", f"existing.{item.id}"))
    for lifter in design.vehicle.lifters:
        found.append(Box("Holds the start battery up", choices_of(type(lifter), "kind")[lifter.kind], "stays"))
    return found


def _relay(design: Design) -> list[Box]:
    relay = relay_of(design)
    if relay is None:
        return []
    rated = f", contact fuse {relay.contact_fuse_a:g} A" if relay.contact_fuse_a is not None else ""
    name = f"Changeover relay {design.vehicle.system_v} V, coil fuse {relay.coil_fuse_a:g} A{rated}"
    rows = tuple((item.terminal, item.goes_to) for item in relay.terminals)
    return [Box(name, relay.place_text, "new", "old_link", rows)]


def _sun(design: Design) -> list[Box]:
    solar = design.solar
    if solar.panel_w is None:
        return []
    into = {
        "controller": "its own controller, to the auxiliary battery",
        "second_input": "the unit's second input",
        "start_side": "the start battery",
    }[solar.into]
    wire = f", {solar.wire_mm2:g} mm²" if solar.wire_mm2 is not None else ""
    return [Box(f"Solar panel {solar.panel_w:g} W", f"into {into}{wire}", "stays", "solar")]


def _monitor(design: Design) -> list[Box]:
    unit = design.monitor.unit
    if unit is None:
        return []
    shunt = (
        f"shunt {unit.shunt_a:g} A in the auxiliary negative"
        if unit.shunt_a is not None
        else "shunt in the auxiliary negative"
    )
    past = dict.fromkeys(design.monitor.bypassed_by)
    return [
        Box(unit.name or "Battery monitor", f"{shunt}, sense lead fused at the post", "new", "monitor"),
        *(Box("Past the shunt", BYPASSES[item], "stays", "monitor") for item in past),
    ]


def _sensor(ctx: Context) -> list[Box]:
    """A temperature sensor, where the unit compensates, or stops in the cold or the heat, once its sheet is keyed."""
    if not senses(ctx):
        return []
    return [
        Box("Temperature sensor", "on one post of the auxiliary battery, to the unit's sensor input", "new", "charge")
    ]
