"""A trailer socket's charge wire: what it would really deliver."""

from __future__ import annotations

from olvask.core.catalogue import NoStandardSize, ampacity_table, conductors
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Reckoned, Words
from olvask.core.findings.finding import caution, note
from olvask.core.model import Existing
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.conductors import resistance_ohm
from olvask.core.physics.dc_path import greatest_power_w

WIRE_MM2, WIRE_M = 2.5, 7.0  # of a factory socket, when not measured; our own estimate
CONTACTS_OHM = 2 * 0.004  # a pin and socket of ISO 11446 size, positive and negative, no longer new
WARM_C = 60.0
RATED_A = 15.0  # contact of a thirteen-pole socket's charge line, ISO 11446-1
HALF = 0.5


def judge_socket(ctx: Context) -> Judged:
    """Say what the socket's wire would carry into the battery by itself, and to a charger at its end."""
    wire = next((item for item in ctx.design.still_fed if item.kind == "socket_wire"), None)
    if wire is not None:
        yield from _judge_wire(ctx, wire)


def _judge_wire(ctx: Context, wire: Existing) -> Judged:
    design, solved = ctx.design, ctx.solved
    area_mm2, length_m = wire.wire_mm2 or WIRE_MM2, wire.wire_m or design.distances.supply_m or WIRE_M
    metric = [item for item in conductors() if item.system == "metric"]
    size = next((item for item in metric if item.area_mm2 >= area_mm2), None)
    if size is None:
        raise NoStandardSize(f"{area_mm2:g} mm² is larger than any standard size")
    within = [item for item in metric if item.area_mm2 <= area_mm2] or metric[
        :1
    ]  # a size between two carries as the smaller
    ohm_per_km = size.resistance_20c_ohm_per_km * size.area_mm2 / area_mm2
    loop_ohm = 2 * resistance_ohm(ohm_per_km, length_m, WARM_C) + CONTACTS_OHM
    sag_ohm = solved.running[0].source.sag_ohm
    carries_a = min(min(ampacity_table()[within[-1].size, "enclosed"].values())[0], RATED_A)
    lowest_v = min(item.source.regulated_v for item in solved.healthy)
    power_w = greatest_power_w(lowest_v, loop_ohm + sag_ohm, ctx.hold_v) if lowest_v > ctx.hold_v else 0.0
    power_w = min(power_w, ctx.hold_v * carries_a)
    unit, output = design.charger, solved.output
    out_a = power_w * unit.efficiency / output.terminal_v if unit is not None and output is not None else None
    if ctx.worded:
        yield Reckoned(
            "run.socket_wire_w",
            "The socket's charge wire carries",
            power_w,
            "W",
            words=lambda: Words(
                formula="min(V_hold · (V_s − V_hold) / R, V_hold · I_contact)",
                working=f"{area_mm2:g} mm² over {length_m:g} m and contacts, {loop_ohm * 1000:.0f} mΩ; {carries_a:.0f} A through "
                "the contact",
                inputs=(ctx.facts.idle, ctx.facts.sag),
                source="Ohm's law; contact rating of ISO 11446-1",
                changes="a run of its own with a high-current plug",
            ),
        )
    wanted = "" if output is None else f", {output.power_in_w:.0f} W are wanted"
    small = out_a is not None and output is not None and out_a < output.current_a
    said = caution if small and not design.supply.pieces else note
    yield said(
        "run.socket_wire",
        design.supply.pieces[0].id if design.supply.pieces else "charger",
        "The socket's charge wire is too thin" if small or out_a is None else "The socket's charge wire would do",
        f"{area_mm2:g} mm² over {length_m:g} m: {power_w:.0f} W at {ctx.hold_v:.2f} V{wanted}"
        + ("" if out_a is None else f", {out_a:.1f} A out")
        + f".{_directly(ctx, loop_ohm)}",
        concerns=(wire.id,),
    )


def _directly(ctx: Context, loop_ohm: float) -> str:
    """What the wire would push into the battery without a charger, in words."""
    auxiliary, source = ctx.design.auxiliary, ctx.solved.running[0].source
    if auxiliary.nominal_v != ctx.design.vehicle.system_v:
        return ""
    open_v = open_circuit_v(auxiliary.chemistry, HALF, auxiliary.nominal_v)
    inner = internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
    amps = max(0.0, (source.regulated_v - open_v) / (loop_ohm + source.sag_ohm + inner))
    return f" By itself it would push {amps:.1f} A into a half-charged battery."
