"""Isolated or non-isolated, charger or converter, voltages and absorption: does the unit belong here at all.

- `common_negative`: whether a common negative is proven, and by what.
- `judge_isolation`, `judge_kind`: findings of both.
"""

from __future__ import annotations

from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import ChassisReturn, Design

BONDED_MOHM = 10.0  # measured between the two negatives; above it the body is no conductor to build on


def common_negative(design: Design) -> tuple[bool, str]:
    """Whether a common negative is proven, and the evidence in words."""
    chassis = design.vehicle.chassis
    if chassis.trailer:
        return False, "the auxiliary battery rides on a trailer, whose negative should not hang on the coupling"
    if chassis.bonding_mohm is not None:
        measured = f"bonding measured {_ohms(chassis.bonding_mohm)} between the negatives"
        return chassis.bonding_mohm <= BONDED_MOHM, f"{measured} (proven up to {BONDED_MOHM:.0f} mΩ)"
    return {
        "metal_bonded": (True, "bonded metal body"),
        "mixed": (False, "mixed or composite body, bonding not measured"),
        "boat": (False, "a boat has no body to bond to"),
        "unknown": (False, "bonding unknown"),
    }[chassis.body]


def _ohms(milliohm: float) -> str:
    return f"{milliohm / 1000:.1f} Ω" if milliohm >= 1000 else f"{milliohm:.1f} mΩ"


def judge_isolation(design: Design, ledger: Ledger) -> None:
    """Isolated or non-isolated, with the evidence."""
    unit = design.charger
    proven, evidence = common_negative(design)
    ledger.figure(
        "match.isolation_needed",
        "Isolated unit needed",
        0.0 if proven else 1.0,
        "-",
        formula="needed unless a common negative is proven",
        working=evidence,
        source="trade practice",
        changes=f"a measured bonding at or under {BONDED_MOHM:.0f} mΩ between the two negatives",
    )
    if unit is None:
        return
    by_chassis = [run for run in ("supply", "delivery") if isinstance(getattr(design, run).back, ChassisReturn)]
    belief = "Isolation does not make it charge better; either kind suits any chemistry."
    if by_chassis and not proven:
        ledger.finding(
            "match.no_common_negative",
            "stop",
            "match",
            f"{by_chassis[0]}.back",
            "The chassis return is not proven",
            f"The {' and '.join(by_chassis)} return goes through the body, but {evidence}.",
            [way_out("Use a dedicated negative cable", *((f"{run}.back", {"way": "cable"}) for run in by_chassis))],
        )
    if not unit.isolated and not proven:
        ledger.finding(
            "match.isolated_wanted",
            "caution",
            "match",
            "charger",
            "An isolated unit belongs here",
            f"{unit.name} shares one negative and {evidence}. The negatives would be joined by its cables alone. {belief}",
        )
    elif unit.isolated:
        why = f"{evidence[0].upper()}{evidence[1:]}."
        title = "Isolated unit is right here" if not proven else "Isolated, though not needed"
        ledger.finding("match.isolation", "note", "match", "charger", title, f"{why} {belief}")
    else:
        ledger.finding(
            "match.isolation",
            "note",
            "match",
            "charger",
            "Non-isolated unit is right here",
            f"{evidence[0].upper()}{evidence[1:]}. {belief}",
        )


def judge_kind(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Charger or plain converter, nominal voltages, absorption within reach."""
    unit, auxiliary = design.charger, design.auxiliary
    if unit is None:
        return
    if unit.kind == "converter":
        ledger.finding(
            "match.converter",
            "stop",
            "match",
            "charger",
            "A plain converter is not a charger",
            f"{unit.name} holds one fixed voltage: no stages, no taper, and nothing to stop it draining the start "
            "battery. Choose a charger from the shelf.",
        )
    if unit.input_nominal_v != design.vehicle.system_v:
        ledger.finding(
            "match.input_voltage",
            "stop",
            "match",
            "charger",
            "Wrong input voltage",
            f"{unit.name} takes {unit.input_nominal_v} V, the vehicle has {design.vehicle.system_v} V.",
        )
    if unit.output_nominal_v != auxiliary.nominal_v:
        ledger.finding(
            "match.output_voltage",
            "stop",
            "match",
            "charger",
            "Wrong output voltage",
            f"{unit.name} gives {unit.output_nominal_v} V, the auxiliary battery is {auxiliary.nominal_v} V.",
        )
        return
    output = solved.output
    if output is not None and unit.output_nominal_v > unit.input_nominal_v and output.power_in_w > 0:
        lowest_v = min(state.source.regulated_v for state in solved.healthy)
        drawn = [state.drawn.current_a for state in solved.healthy if state.drawn is not None]
        input_a = max(drawn, default=output.power_in_w / lowest_v)
        simple_a = output.current_a * unit.output_nominal_v / unit.input_nominal_v
        ledger.finding(
            "match.step_up",
            "note",
            "match",
            "charger",
            "Stepping up draws more than the ratio says",
            f"{output.current_a:.1f} A at {unit.output_nominal_v} V is not {simple_a:.0f} A but {input_a:.1f} A at the input: loss and sag come "
            "on top. Cable and device follow the input.",
        )
    absorption_v = float(solved.facts.absorption.value)
    if unit.kind == "charger" and not unit.output_min_v <= absorption_v <= unit.output_max_v:
        ledger.finding(
            "match.absorption_range",
            "stop",
            "match",
            "charger",
            "Absorption is out of the unit's reach",
            f"The battery wants {absorption_v:.2f} V; {unit.name} can be set from {unit.output_min_v:.1f} to "
            f"{unit.output_max_v:.1f} V.",
        )
    chemistry = chemistries()[auxiliary.chemistry]
    highest_v = chemistry.absorption_max_v * auxiliary.nominal_v / 12
    if absorption_v > highest_v + 1e-9 and solved.facts.absorption.provenance not in ("datasheet", "measured"):
        ledger.finding(
            "match.absorption_high",
            "caution",
            "match",
            "auxiliary",
            "Absorption above the usual range",
            f"{absorption_v:.2f} V for {chemistry.label}, usually up to {highest_v:.2f} V. Check the maker's sheet and "
            "record it as datasheet if it agrees.",
        )
