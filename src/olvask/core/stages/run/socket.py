"""A trailer socket's charge wire: what it would really deliver."""

from __future__ import annotations

from olvask.core.catalogue import NoStandardSize, ampacity_table, conductors
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Ledger
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.conductors import resistance_ohm
from olvask.core.physics.dc_path import greatest_power_w

WIRE_MM2, WIRE_M = 2.5, 7.0  # of a factory socket, when not measured
CONTACTS_OHM = 2 * 0.004  # a pin and socket of ISO 11446 size, positive and negative, no longer new
WARM_C = 60.0
RATED_A = 15.0  # contact of a thirteen-pole socket's charge line, ISO 11446-1
HALF = 0.5


def judge_socket(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> None:
    """Say what the socket's wire would carry into the battery by itself, and to a charger at its end.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and the finding go.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    wire = next((item for item in design.existing if item.kind == "socket_wire"), None)
    if wire is None:
        return
    area_mm2, length_m = wire.wire_mm2 or WIRE_MM2, wire.wire_m or design.distances.supply_m or WIRE_M
    size = next((item for item in conductors() if item.system == "metric" and item.area_mm2 >= area_mm2), None)
    if size is None:
        raise NoStandardSize(f"{area_mm2:g} mm² is larger than any standard size")
    loop_ohm = 2 * resistance_ohm(size.resistance_20c_ohm_per_km, length_m, WARM_C) + CONTACTS_OHM
    idle = solved.running[0]
    auxiliary = design.auxiliary
    carries_a = min(min(ampacity_table()[size.size, "enclosed"].values())[0], RATED_A)
    direct_a = None
    if auxiliary.nominal_v == design.vehicle.system_v:
        ocv = open_circuit_v(auxiliary.chemistry, HALF, auxiliary.nominal_v)
        inner = internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
        direct_a = max(0.0, (idle.source.regulated_v - ocv) / (loop_ohm + idle.source.sag_ohm + inner))
    lowest_v = min(item.source.regulated_v for item in solved.healthy)
    power_w = greatest_power_w(lowest_v, loop_ohm + idle.source.sag_ohm, hold_v) if lowest_v > hold_v else 0.0
    power_w = min(power_w, hold_v * carries_a)
    unit, output = design.charger, solved.output
    out_a = power_w * unit.efficiency / output.terminal_v if unit is not None and output is not None else None
    ledger.figure(
        "run.socket_wire_w",
        "The socket's charge wire carries",
        power_w,
        "W",
        formula="min(V_hold · (V_s − V_hold) / R, V_hold · I_contact)",
        working=f"{size.size} over {length_m:g} m and contacts, {loop_ohm * 1000:.0f} mΩ; {carries_a:.0f} A through the contact",
        inputs=[solved.facts.idle, solved.facts.sag],
        source="Ohm's law; contact rating of ISO 11446-1",
        changes="a run of its own with a high-current plug",
    )
    wanted = "" if output is None else f", {output.power_in_w:.0f} W are wanted"
    directly = "" if direct_a is None else f" By itself it would push {direct_a:.1f} A into a half-charged battery."
    small = out_a is not None and output is not None and out_a < output.current_a
    ledger.finding(
        "run.socket_wire",
        "caution" if small and not design.supply.pieces else "note",
        "run",
        "supply.0" if design.supply.pieces else "charger",
        "The socket's charge wire is too thin" if small or out_a is None else "The socket's charge wire would do",
        f"{size.size} over {length_m:g} m: {power_w:.0f} W at {hold_v:.2f} V{wanted}"
        + ("" if out_a is None else f", {out_a:.1f} A out")
        + f".{directly}",
    )
