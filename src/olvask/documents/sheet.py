"""The hand-over sheet: one PDF page from which a vehicle can be wired, protected and keyed without the screen."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from olvask.core.assess import Assessment
from olvask.core.catalogue import chemistries, device
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import floats_at
from olvask.core.findings.driven import spoken
from olvask.core.findings.figure import show
from olvask.core.model import RUNS, Branch, Design, ProtectiveDevice
from olvask.core.model.base import word_of
from olvask.core.model.house import House
from olvask.core.stages.build.conductors import conductors_of, unit_tails
from olvask.core.stages.build.progress import Left
from olvask.core.stages.wake.relay import existing_link_of, relay_of
from olvask.core.stages.wake.wiring import signal_wire
from olvask.documents.diagram.svg import schematic_svg
from olvask.documents.signs import signs_of
from olvask.documents.typeset import NO_HOUSE, typeset

SHOWN_FINDINGS, SHOWN_LEFT = 5, 3
SHORT = {"ignition": "ignition (15)", "d_plus": "D+ (61)", "switch": "switch", "bridge": "bridge", "voltage": "voltage"}
VALUES = (
    "idle.input_v",
    "idle.input_a",
    "low.input_v",
    "output.voltage_v",
    "output.current_a",
    "supply.drop_v",
    "delivery.drop_v",
    "charger.heat_w",
    "match.alternator_load_percent",
    "energy.recover_h",
)
CAUTIONS = (
    "A battery drives thousands of amperes into a spanner: insulate tools, remove jewellery, negative off first.",
    "Fit fuses before anything is live. Isolate and prove dead before touching a terminal.",
    "Seats may carry airbags: follow the vehicle maker's procedure. Look behind before drilling.",
    "Local code and the makers' instructions rule. This sheet is an aid to a competent person.",
)
CLOSED_ROOM = {
    "engine": "Long idling to charge heats the alternator and fills a garage with carbon monoxide.",
    "converter": "A hybrid that is left ready starts its engine by itself and fills a garage with carbon monoxide.",
}
HIGH_VOLTAGE = (
    "High voltage lies under orange covers and in orange leads: not opened, cut or probed; work on it is for licensed people. "
    "Its DC converter can wake by itself and make the 12 V side live."
)
OLD_LINK = {
    "": "not decided yet",
    "disconnect": "disconnected and made safe",
    "changeover": "opened by a relay while the engine runs",
    "keep": "kept",
}
CHEMISTRY_CAUTION = {
    "lfp": "Never charge LFP below freezing: the low-temperature cut-off must be proven.",
    "flooded": "Charging lead-acid vents hydrogen: ventilate, keep sparks away.",
}


def cautions_of(design: Design) -> tuple[str, ...]:
    """What the papers of any job warn of, and a vehicle with a traction battery besides.

    Args:
        design: the design.
    """
    room = CLOSED_ROOM[design.vehicle.drive]
    said = (*CAUTIONS[:-1], room, CAUTIONS[-1])
    return (HIGH_VOLTAGE, *said) if design.vehicle.drive == "converter" else said


@dataclass(frozen=True, slots=True)
class SheetHead:
    """What stands at the top of the sheet."""

    title: str
    code: str
    customer: str
    version: int
    printed: date


def sheet_pdf(
    head: SheetHead, design: Design, assessment: Assessment, left: Left | None = None, house: House = NO_HOUSE
) -> bytes:
    """Typeset the hand-over sheet.

    Args:
        head: title block.
        design: the design.
        assessment: what the core says of it.
        left: what of the work is not done; `None` where nobody noted any.

    Returns the PDF as bytes.
        house: the house rules.
    """
    ctx = Context.of(design)
    data = {
        "title": head.title,
        "code": head.code,
        "customer": head.customer,
        "version": head.version,
        "printed": head.printed.isoformat(),
        "state": _state(design, assessment),
        "values": _values(assessment),
        "settings": _settings(ctx, assessment),
        "conductors": _conductors(ctx),
        "devices": _devices(ctx),
        "wiring": spoken(design, _wiring(design)),
        "findings": [
            {"level": item.level, "title": item.title, "text": item.text}
            for item in assessment.findings
            if item.level != "note"
        ][:SHOWN_FINDINGS],
        "more": max(0, sum(item.level != "note" for item in assessment.findings) - SHOWN_FINDINGS),
        "cautions": _cautions(design),
        "signs": signs_of(design),
        "left": _left(left),
    }
    return typeset("sheet.typ", data, schematic_svg(design), house=house)


def _left(left: Left | None) -> list[str]:
    """What was skipped or is still open, once the work has begun."""
    if left is None or not left.begun or not left.steps:
        return []
    skipped = [f"{step.number} {step.text}: {step.reason}" for step in left.steps if step.skipped]
    waiting = [step.number for step in left.steps if not step.skipped]
    rows = [f"Skipped: {row}" for row in skipped[:SHOWN_LEFT]]
    if len(skipped) > SHOWN_LEFT:
        rows.append(f"and {len(skipped) - SHOWN_LEFT} more skipped")
    if waiting:
        rows.append(f"Not done: {len(waiting)} of {left.total} steps, from step {waiting[0]} on")
    return rows


def _state(design: Design, assessment: Assessment) -> str:
    if design.unfinished:
        return f"Not finished: {', '.join(design.unfinished)}"
    count = len(assessment.stops)
    return f"Not to be built as it stands: {count} {'stop' if count == 1 else 'stops'} open" if count else ""


def _values(assessment: Assessment) -> list[tuple[str, str]]:
    shown = [assessment.figures[name] for name in VALUES if name in assessment.figures]
    return [(figure.label, show(figure.value, figure.unit)) for figure in shown]


def _settings(ctx: Context, assessment: Assessment) -> list[tuple[str, str]]:
    design = ctx.design
    activation, rests = design.activation, design.charge.after in ("rest", "pulses")
    rows = [("Unit", design.unit_named or "none chosen")]
    if design.charger is not None:
        limit_a = design.current_limit_a or design.charger.output_a
        rows.append(("Current limit", show(limit_a, "A") + (" each" if design.units > 1 else "")))
        rows.append(("Absorb at", show(float(ctx.facts.absorption.value), "V")))
        rows.append(
            ("After absorption", word_of(design.charge, "after"))
            if rests
            else ("Float or store at", show(floats_at(design), "V"))
        )
    rows.append(("Starts by", ", ".join(SHORT[way] for way in activation.ways) or "nothing yet"))
    rows += [
        (mark.label, _held(mark.value_v, mark.held_s, mark.proposed)) for mark in assessment.wake.marks if mark.acts
    ]
    if design.charge.profile is not None:
        rows.append(("Charge profile", chemistries()[design.charge.profile].label))
    return rows


def _held(volts: float, held_s: float | None, proposed: bool) -> str:
    """A rule as it is keyed in."""
    held = "" if held_s is None else f" for {held_s:g} s"
    return f"{show(volts, 'V')}{held}{' proposed' if proposed else ''}"


def _conductors(ctx: Context) -> list[tuple[str, str, str, str]]:
    """Every conductor by its name: cable, length as measured and as cut, and where its two ends go."""
    return [
        (
            cut.id,
            cut.size + ("" if cut.metal == "copper" else " copper-clad"),
            f"{cut.length_m:g} m, cut {cut.cut_m:g} m",
            " → ".join(f"{end.at} ({_fitting(end.kind, cut.size)})" for end in cut.ends),
        )
        for cut in conductors_of(ctx)
    ]


def _fitting(kind: str, size: str) -> str:
    """What is crimped on, without the size that stands beside it."""
    return " ".join(kind.replace(size, "").split())


def _devices(ctx: Context) -> list[tuple[str, str]]:
    """Every protective device: which it is, where it sits."""
    rows: list[tuple[str, str]] = []
    for run in RUNS:
        for piece in ctx.design.run(run).pieces:
            if isinstance(piece, ProtectiveDevice):
                rows.append((_device(piece), f"{run} run"))
            elif isinstance(piece, Branch) and piece.device is not None:
                rows.append((_device(piece.device), f"tail of {piece.called}"))
        tails = unit_tails(ctx, run)
        if tails is not None and tails.device is not None:
            rows.append((f"{ctx.design.units} × {_device(tails.device)}", f"{run} tail of each unit"))
    return rows


def _device(piece: ProtectiveDevice) -> str:
    return f"{device(piece.family, piece.rating_a).label} {piece.rating_a:g} A"


def _wiring(design: Design) -> list[tuple[str, str]]:
    """The enable's wire, and the changeover relay pin by pin."""
    rows = [
        (
            f"Enable from {wire.terminal}",
            f"{wire.wire_mm2:g} mm², fuse {wire.fuse_a:g} A at the tap, to {wire.ends_at}"
            + (f", plug {wire.plug}" if wire.plug else ""),
        )
        for wire in (signal_wire(design, way) for way in design.activation.ways)
        if wire.fuse_a is not None and wire.wire_mm2 is not None
    ]
    link = existing_link_of(design)
    if link is None:
        return rows
    rows.append(("Old link", OLD_LINK[design.old_link.decision]))
    relay = relay_of(design)
    if relay is not None:
        rows += [(f"Relay {pin.terminal}", pin.goes_to) for pin in relay.terminals]
    return rows


def _cautions(design: Design) -> list[str]:
    own = [
        CHEMISTRY_CAUTION[key]
        for key in {design.auxiliary.chemistry, design.vehicle.start_battery.chemistry}
        if key in CHEMISTRY_CAUTION
    ]
    return [*sorted(own), *cautions_of(design)]
