"""Isolated or non-isolated, charger or converter, voltages and absorption: does the unit belong here at all.

- `common_negative`: whether a common negative is proven, and by what.
- `judge_isolation`, `judge_kind`: findings of both.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import YES_NO, Reckoned, Words
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.findings.listed import capital
from olvask.core.findings.remedy import remedy
from olvask.core.model import RUNS, Charger, ChassisReturn, Design
from olvask.core.physics.rounding import over

BONDED_MOHM = 10.0  # between the two negatives; above it the body is no conductor to build on; our own estimate
BELIEF = "Isolation does not make it charge better; either kind suits any chemistry."


def common_negative(design: Design) -> tuple[bool, str]:
    """Whether a common negative is proven, and the evidence in words."""
    chassis = design.vehicle.chassis
    if chassis.trailer:
        return False, "the auxiliary battery is on a trailer, whose negative should not depend on the coupling"
    if chassis.bonding_mohm is not None:
        measured = f"the bonding between the negatives measured {_ohms(chassis.bonding_mohm)}"
        return chassis.bonding_mohm <= BONDED_MOHM, f"{measured} (proven up to {BONDED_MOHM:.0f} mΩ)"
    return {
        "metal_bonded": (True, "the body is metal and bonded"),
        "mixed": (False, "the body is mixed or composite, and its bonding is not measured"),
        "boat": (False, "a boat has no body to bond to"),
        "unknown": (False, "the bonding is not known"),
    }[chassis.body]


def _ohms(milliohm: float) -> str:
    return f"{milliohm / 1000:.1f} Ω" if milliohm >= 1000 else f"{milliohm:.1f} mΩ"


def judge_isolation(ctx: Context) -> Judged:
    """Isolated or non-isolated, with the evidence."""
    design, unit = ctx.design, ctx.design.charger
    proven, evidence = common_negative(design)
    if ctx.worded:
        yield Reckoned(
            "match.isolation_needed",
            "Isolated unit needed",
            0.0 if proven else 1.0,
            YES_NO,
            words=lambda: Words(
                formula="needed unless a common negative is proven",
                working=evidence,
                source="trade practice",
                changes=f"a measured bonding at or under {BONDED_MOHM:.0f} mΩ between the two negatives",
            ),
        )
    if unit is None:
        return
    by_chassis = [run for run in RUNS if isinstance(design.run(run).back, ChassisReturn)]
    if by_chassis and not proven:
        yield stop(
            "match.no_common_negative",
            f"{by_chassis[0]}.back",
            "The chassis return is not proven",
            f"The {' and '.join(by_chassis)} return goes through the body, but {evidence}.",
            [remedy("Use a dedicated negative cable", *((f"{run}.back", {"kind": "cable"}) for run in by_chassis))],
            concerns=tuple(f"{run}.back" for run in by_chassis),
        )
    why = f"{capital(evidence)}. {BELIEF}"
    if not unit.isolated and not proven:
        yield caution(
            "match.isolated_wanted",
            "charger",
            "An isolated unit belongs here",
            f"{unit.name} shares one negative, and {evidence}. Only its cables would join the negatives. {BELIEF}",
            concerns=("charger",),
        )
    elif unit.isolated:
        title = "Isolated unit is right here" if not proven else "Isolated, though not needed"
        yield note("match.isolation", "charger", title, why, concerns=("charger",))
    else:
        yield note("match.isolation", "charger", "Non-isolated unit is right here", why, concerns=("charger",))


def judge_kind(ctx: Context) -> Judged:
    """Charger or plain converter, nominal voltages, absorption within reach."""
    unit, auxiliary = ctx.design.charger, ctx.design.auxiliary
    if unit is None:
        return
    if unit.kind == "converter":
        yield stop(
            "match.converter",
            "charger",
            "A plain converter is not a charger",
            f"{unit.name} holds one fixed voltage: no stages, no taper, and nothing to stop it draining the start "
            "battery. Choose a charger from the shelf.",
            concerns=("charger",),
        )
    if unit.input_nominal_v != ctx.design.vehicle.system_v:
        yield stop(
            "match.input_voltage",
            "charger",
            "Wrong input voltage",
            f"{unit.name} takes {unit.input_nominal_v} V, the vehicle has {ctx.design.vehicle.system_v} V.",
            concerns=("charger", "vehicle.system_v"),
        )
    if unit.output_nominal_v != auxiliary.nominal_v:
        yield stop(
            "match.output_voltage",
            "charger",
            "Wrong output voltage",
            f"{unit.name} gives {unit.output_nominal_v} V, the auxiliary battery is {auxiliary.nominal_v} V.",
            concerns=("charger", "auxiliary.nominal_v"),
        )
        return
    yield from _step_up(ctx, unit)
    yield from _absorption(ctx, unit)


def _step_up(ctx: Context, unit: Charger) -> Iterator[Found]:
    output, solved = ctx.solved.output, ctx.solved
    if output is None or unit.output_nominal_v <= unit.input_nominal_v or output.power_in_w <= 0:
        return
    lowest_v = min(state.source.regulated_v for state in solved.healthy)
    drawn = [state.drawn.current_a for state in solved.healthy if state.drawn is not None]
    input_a = max(drawn, default=output.power_in_w / lowest_v)
    simple_a = output.current_a * unit.output_nominal_v / unit.input_nominal_v
    yield note(
        "match.step_up",
        "charger",
        "Stepping up draws more than the ratio says",
        f"{output.current_a:.1f} A at {unit.output_nominal_v} V is not {simple_a:.0f} A but {input_a:.1f} A at the input: "
        "loss and sag come on top. Cable and device follow the input.",
        concerns=("charger",),
    )


def _absorption(ctx: Context, unit: Charger) -> Iterator[Found]:
    auxiliary, absorption = ctx.design.auxiliary, ctx.facts.absorption
    absorption_v, own = float(absorption.value), absorption.path == "auxiliary.absorption_v"
    if unit.kind == "charger" and not unit.output_min_v <= absorption_v <= unit.output_max_v:
        yield stop(
            "match.absorption_range",
            "charger",
            "The unit cannot reach this absorption",
            f"{'The battery wants' if own else 'It is to be set to'} {absorption_v:.2f} V; {unit.name} can be set from "
            f"{unit.output_min_v:.1f} to {unit.output_max_v:.1f} V.",
            concerns=("charger", absorption.path),
        )
    chemistry = chemistries()[auxiliary.chemistry]
    highest_v = chemistry.absorption_max_v * auxiliary.nominal_v / 12
    if over(absorption_v, highest_v) and absorption.provenance not in ("datasheet", "measured"):
        yield caution(
            "match.absorption_high",
            "auxiliary",
            "Absorption above the usual range",
            f"{absorption_v:.2f} V for {chemistry.label}, usually up to {highest_v:.2f} V. Check the maker's sheet and "
            "mark it as datasheet if it agrees.",
            concerns=(absorption.path,),
        )
