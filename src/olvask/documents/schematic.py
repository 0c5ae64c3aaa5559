"""The wiring of a design as SVG: one symbol a station or piece, in the order of the current."""

from __future__ import annotations

from dataclasses import dataclass, field
from xml.sax.saxutils import escape

from olvask.core.catalogue import chemistries, device
from olvask.core.model import Branch, Cable, Design, Joint, OwnReturn, Piece, ProtectiveDevice, Run

INK, COPPER, TEAL, MUTED = "#20262B", "#A4552A", "#2B6A70", "#676B6B"
TOP_Y, BACK_Y, HEIGHT = 56, 184, 210
STATION_W, CABLE_W, DEVICE_W, JOINT_W, GAP = 96, 128, 72, 62, 6


@dataclass
class _Sheet:
    """Where the pen is and what it has drawn."""

    x: float = 14.0
    parts: list[str] = field(default_factory=list)

    def line(self, x1: float, y1: float, x2: float, y2: float, colour: str = INK, width: float = 1.6) -> None:
        self.parts.append(
            f'<line x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}" stroke="{colour}" stroke-width="{width}"/>'
        )

    def box(self, x: float, y: float, width: float, height: float, colour: str = INK) -> None:
        self.parts.append(
            f'<rect x="{x:.1f}" y="{y:.1f}" width="{width:.1f}" height="{height:.1f}" rx="2" '
            f'fill="#FFFFFF" stroke="{colour}" stroke-width="1.6"/>'
        )

    def text(self, x: float, y: float, words: str, size: float = 10, colour: str = INK, bold: bool = False) -> None:
        weight = "600" if bold else "400"
        self.parts.append(
            f'<text x="{x:.1f}" y="{y:.1f}" font-size="{size:g}" font-weight="{weight}" fill="{colour}" '
            f'text-anchor="middle">{escape(words)}</text>'
        )

    def ground(self, x: float, y: float) -> None:
        """Chassis symbol hanging at a point."""
        self.line(x, y, x, y + 14)
        for step, half in enumerate((12, 8, 4)):
            self.line(x - half, y + 14 + 5 * step, x + half, y + 14 + 5 * step)


def schematic_svg(design: Design) -> str:
    """Draw the wiring of `design` as an SVG document (text kept as text, no fonts embedded)."""
    sheet = _Sheet()
    vehicle, auxiliary = design.vehicle, design.auxiliary
    source = "DC converter" if vehicle.drive == "converter" else "Alternator"
    alternator_x = _station(
        sheet, source, f"{vehicle.alternator.rated_a:g} A {vehicle.alternator.regulation}", "circle"
    )
    start_chemistry = chemistries()[vehicle.start_battery.chemistry].label
    start_x = _station(sheet, "Start battery", f"{vehicle.start_battery.capacity_ah:g} Ah {start_chemistry}", "battery")
    sheet.line(alternator_x + 22, TOP_Y, start_x - 24, TOP_Y, COPPER)
    sheet.ground(alternator_x, TOP_Y + 22)
    begin = start_x + 24
    for piece in design.supply.pieces:
        _piece(sheet, piece, COPPER)
    unit_x = _unit(sheet, design)
    sheet.parts.insert(0, _rail(begin, unit_x - 48, COPPER))
    _return(sheet, design.supply, start_x, unit_x - 24, COPPER)
    out_begin = unit_x + 48
    for piece in design.delivery.pieces:
        _piece(sheet, piece, TEAL)
    chemistry = chemistries()[auxiliary.chemistry].label
    auxiliary_x = _station(
        sheet, "Auxiliary battery", f"{auxiliary.nominal_v} V {auxiliary.capacity_ah:g} Ah {chemistry}", "battery"
    )
    sheet.parts.insert(0, _rail(out_begin, auxiliary_x - 24, TEAL))
    _return(sheet, design.delivery, auxiliary_x, unit_x + 24, TEAL)
    width = sheet.x + 8
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.0f} {HEIGHT}" width="{width:.0f}" '
        f'height="{HEIGHT}" font-family="Barlow Semi Condensed, Barlow, sans-serif" role="img" '
        f'aria-label="Wiring diagram">{"".join(sheet.parts)}</svg>'
    )


def _rail(x1: float, x2: float, colour: str) -> str:
    return f'<line x1="{x1:.1f}" y1="{TOP_Y}" x2="{x2:.1f}" y2="{TOP_Y}" stroke="{colour}" stroke-width="1.6"/>'


def _station(sheet: _Sheet, title: str, detail: str, symbol: str) -> float:
    x = sheet.x + STATION_W / 2
    if symbol == "circle":
        sheet.parts.append(
            f'<circle cx="{x:.1f}" cy="{TOP_Y}" r="22" fill="#FFFFFF" stroke="{INK}" stroke-width="1.6"/>'
        )
        sheet.text(x, TOP_Y + 4, "G", 12, bold=True)
    else:
        sheet.box(x - 24, TOP_Y - 16, 48, 32)
        sheet.text(x - 12, TOP_Y + 4, "−", 12)
        sheet.text(x + 12, TOP_Y + 4, "+", 12)
    sheet.text(x, TOP_Y - 38, title, 11, bold=True)
    sheet.text(x, TOP_Y - 26, detail, 9.5, MUTED)
    sheet.x += STATION_W + GAP
    return x


def _piece(sheet: _Sheet, piece: Piece, colour: str) -> None:
    if isinstance(piece, Cable):
        middle = sheet.x + CABLE_W / 2
        sheet.line(sheet.x + 8, TOP_Y, sheet.x + CABLE_W - 8, TOP_Y, colour, 5)
        sheet.text(middle, TOP_Y + 24, f"{piece.size} · {piece.length_m:g} m", 10.5, bold=True)
        metal = "copper" if piece.metal == "copper" else "copper-clad aluminium"
        sheet.text(middle, TOP_Y + 37, f"{metal} {piece.insulation_c} °C", 9.5, MUTED)
        sheet.text(
            middle, TOP_Y + 49, piece.place.replace("_", " ") + (", conduit" if piece.conduit else ""), 9.5, MUTED
        )
        sheet.x += CABLE_W + GAP
    elif isinstance(piece, ProtectiveDevice):
        middle = sheet.x + DEVICE_W / 2
        item = device(piece.family, piece.rating_a)
        sheet.box(middle - 18, TOP_Y - 8, 36, 16)
        sheet.line(middle - 18, TOP_Y, middle + 18, TOP_Y)
        sheet.text(middle, TOP_Y + 24, f"{piece.rating_a:g} A", 10.5, bold=True)
        sheet.text(middle, TOP_Y + 37, item.label, 9.5, MUTED)
        sheet.x += DEVICE_W + GAP
    elif isinstance(piece, Branch):
        middle = sheet.x + DEVICE_W / 2
        sheet.parts.append(f'<circle cx="{middle:.1f}" cy="{TOP_Y}" r="4" fill="{INK}"/>')
        sheet.line(middle, TOP_Y, middle, TOP_Y - 24, colour)
        if piece.device is not None:
            sheet.box(middle - 5, TOP_Y - 20, 10, 14)
        sheet.text(middle, TOP_Y - 28, piece.name, 9.5, bold=True)
        guard = "no device" if piece.device is None else f"{piece.device.rating_a:g} A"
        sheet.text(middle, TOP_Y + 24, f"{piece.size}, {guard}", 9.5, MUTED)
        sheet.x += DEVICE_W + GAP
    else:
        middle = sheet.x + JOINT_W / 2
        sheet.parts.append(f'<circle cx="{middle:.1f}" cy="{TOP_Y}" r="5" fill="{INK}"/>')
        sheet.text(middle, TOP_Y + 24, _joint_name(piece), 10.5, bold=True)
        sheet.x += JOINT_W + GAP


def _joint_name(piece: Joint) -> str:
    return piece.name or "joint"


def _unit(sheet: _Sheet, design: Design) -> float:
    unit = design.charger
    x = sheet.x + 60
    sheet.box(x - 48, TOP_Y - 24, 96, BACK_Y - TOP_Y - 40)
    bottom = BACK_Y - 64
    sheet.text(x - 30, TOP_Y - 8, "in +", 9.5, COPPER)
    sheet.text(x + 30, TOP_Y - 8, "out +", 9.5, TEAL)
    sheet.text(x, TOP_Y + 22, unit.name if unit else "no unit chosen", 10.5, bold=True)
    if unit is not None:
        sheet.text(x, TOP_Y + 35, "isolated" if unit.isolated else "non-isolated", 9.5, MUTED)
        sheet.text(x, TOP_Y + 47, f"{design.current_limit_a or unit.output_a:g} A", 9.5, MUTED)
    isolated = unit is None or unit.isolated
    if isolated:
        sheet.text(x - 24, bottom - 7, "in −", 9.5, COPPER)
        sheet.text(x + 24, bottom - 7, "out −", 9.5, TEAL)
        sheet.parts.append(
            f'<line x1="{x:.1f}" y1="{TOP_Y + 54}" x2="{x:.1f}" y2="{bottom}" stroke="{INK}" stroke-dasharray="3 3"/>'
        )
    else:
        sheet.text(x, bottom - 7, "common −", 9.5)
    for offset in (-24, 24):
        sheet.line(x + offset, bottom, x + offset, BACK_Y)
    words = {"ignition": "15", "d_plus": "D+ / 61", "switch": "switch", "bridge": "bridge", "voltage": ""}
    signal = ", ".join(text for way in design.activation.ways if (text := words[way]))
    if signal:
        sheet.parts.append(
            f'<path d="M{x:.1f} {TOP_Y - 24} V{TOP_Y - 40}" stroke="{INK}" stroke-dasharray="4 2" fill="none"/>'
        )
        sheet.text(x, TOP_Y - 44, f"enable: {signal}", 9.5)
    sheet.x += 120 + GAP
    return x


def _return(sheet: _Sheet, run: Run, battery_x: float, unit_x: float, colour: str) -> None:
    sheet.line(battery_x - 12, TOP_Y + 16, battery_x - 12, BACK_Y, colour)
    middle = (battery_x - 12 + unit_x) / 2
    if isinstance(run.back, OwnReturn):
        sheet.line(battery_x - 12, BACK_Y, unit_x, BACK_Y, colour)
        sizes = " + ".join(piece.size for piece in run.pieces if isinstance(piece, Cable)) or "no cable yet"
        sheet.text(middle, BACK_Y + 15, f"own negative cable, {sizes}", 10, MUTED)
    else:
        sheet.ground(battery_x - 12, BACK_Y)
        sheet.ground(unit_x, BACK_Y)
        stated = "not measured" if run.back.resistance_mohm is None else f"{run.back.resistance_mohm:g} mΩ"
        sheet.text(middle, BACK_Y + 15, f"chassis return, {stated}", 10, MUTED)
