"""Match: does the unit suit the vehicle, the alternator and the battery, and what binds."""

from __future__ import annotations

from olvask.core.assessment import Limit, Ruler, WayOut
from olvask.core.catalogue import chemistries
from olvask.core.circuit import Output, Solved, ampacity, run_state
from olvask.core.figure import Input
from olvask.core.ledger import Ledger, way_out
from olvask.core.model import Cable, Charger, ChassisReturn, Design
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.dc_path import greatest_power_w

BONDED_MOHM = 10.0  # measured between the two negatives; above it the body is no conductor to build on
RECOVER_FROM, RECOVER_TO = 0.40, 0.95
DIRECT_LINK_CHARGE = 0.2  # state of charge at which the plain link is compared


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


def judge_match(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> Ruler:
    """All of Match: kind, isolation, energy, limits.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and findings go.
        hold_v: voltage the charger's terminals must stay above [V].
    """
    judge_kind(design, solved, ledger)
    judge_isolation(design, ledger)
    energy_figures(design, solved, ledger)
    return build_ruler(design, solved, ledger, hold_v)


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


def turn_down(unit: Charger, wanted_a: float) -> WayOut | None:
    """Turn the unit down to at most `wanted_a` [A], where it can be."""
    settable_a = unit.settable_a(wanted_a)
    if settable_a is None or settable_a >= unit.output_a:
        return None
    settable_a = int(settable_a * 10) / 10
    return way_out(f"Turn the unit down to {settable_a:g} A", ("current_limit_a", settable_a))


def _output_for_input_a(design: Design, solved: Solved, output: Output, input_a: float) -> float:
    """Output amperes that draw `input_a` at hot idle."""
    unit, idle = design.charger, solved.running[0]
    if unit is None or input_a <= 0:
        return 0.0
    terminal_v = idle.source.regulated_v - input_a * (idle.source.sag_ohm + idle.run.loop_ohm)
    return max(0.0, terminal_v * input_a * unit.efficiency / output.terminal_v)


def build_ruler(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> Ruler:
    """Every limit on the output current, the daily floor, and which limit binds.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and findings go.
        hold_v: voltage the charger's terminals must stay above [V].
    """
    unit, output, facts, choices = design.charger, solved.output, solved.facts, design.choices
    alternator, idle = design.vehicle.alternator, solved.running[0]
    share_a = choices.share_fraction * alternator.rated_a
    surplus_a = choices.surplus_fraction * max(
        0.0, alternator.rated_a * float(facts.share.value) - alternator.loads_idle_a
    )
    rated = Input(
        "Rated current",
        alternator.rated_a,
        "A",
        str(design.provenance.get("vehicle.alternator.rated_a", "own")),
        "vehicle.alternator.rated_a",
    )
    loads = Input(
        "Vehicle loads at idle",
        alternator.loads_idle_a,
        "A",
        str(design.provenance.get("vehicle.alternator.loads_idle_a", "default")),
        "vehicle.alternator.loads_idle_a",
    )
    ledger.figure(
        "match.alternator_share_a",
        "Alternator, share school",
        share_a,
        "A",
        formula="k · I_rated",
        working=f"{choices.share_fraction:.2f} · {alternator.rated_a:.0f} A = {share_a:.1f} A",
        inputs=[rated],
        source="share school: a fraction of rated current",
        changes="a larger alternator or another fraction",
    )
    ledger.figure(
        "match.alternator_surplus_a",
        "Alternator, surplus school",
        surplus_a,
        "A",
        formula="k · (I_rated · share at hot idle − loads)",
        working=f"{choices.surplus_fraction:.2f} · ({alternator.rated_a:.0f} A · {float(facts.share.value):.2f} − "
        f"{alternator.loads_idle_a:.0f} A) = {surplus_a:.1f} A",
        inputs=[rated, facts.share, loads],
        source="surplus school: a part of what hot idle leaves",
        changes="fewer loads at idle, a measured share at hot idle, or another fraction",
    )
    bars: list[tuple[str, str, float, str, bool]] = []

    def bar(key: str, label: str, amps: float, text: str, governs: bool = True) -> None:
        bars.append((key, label, amps, text, governs))

    bar(
        "battery",
        "Battery charge limit",
        float(facts.charge_limit.value),
        f"{facts.charge_limit.provenance} figure of the battery",
    )
    if unit is not None and output is not None:
        for school, input_a in (("share", share_a), ("surplus", surplus_a)):
            amps = _output_for_input_a(design, solved, output, input_a)
            bar(
                f"alternator_{school}",
                f"Alternator by {school}",
                amps,
                f"{input_a:.1f} A at the input, hot idle",
                choices.alternator_school == school,
            )
        worst = solved.worst_healthy
        run_ohm = worst.source.sag_ohm + worst.run.loop_ohm
        if design.supply.pieces and run_ohm > 0:
            power_w = (
                greatest_power_w(worst.source.regulated_v, run_ohm, hold_v)
                if worst.source.regulated_v > hold_v
                else 0.0
            )
            bar(
                "supply_volts",
                "Supply run holds volts",
                power_w * unit.efficiency / output.terminal_v,
                f"stays above {hold_v:.2f} V in {worst.label.lower()}",
            )
        supply_a = [
            ampacity(piece, choices.ampacity_school)[0] for piece in design.supply.pieces if isinstance(piece, Cable)
        ]
        if supply_a:
            bar(
                "supply_cable",
                "Supply cable ampacity",
                min(supply_a) * hold_v * unit.efficiency / output.terminal_v,
                f"{min(supply_a):.0f} A at {hold_v:.2f} V",
            )
        delivery_a = [
            ampacity(piece, choices.ampacity_school)[0] for piece in design.delivery.pieces if isinstance(piece, Cable)
        ]
        if delivery_a:
            bar("delivery_cable", "Delivery cable ampacity", min(delivery_a), "smallest cable of the run")
        bar(
            "heat",
            f"Unit itself at {float(facts.unit_ambient.value):.0f} °C",
            unit.output_a * output.derating,
            f"full output up to {unit.rated_ambient_c:.0f} °C, then {unit.derating_percent_per_k:g} %/K less",
        )
    floor_a = daily_floor_a(design, ledger)
    binding, label, allowed_a, text, _ = min((item for item in bars if item[4]), key=lambda item: item[2])
    limits = tuple(
        Limit(key=item[0], label=item[1], amps=item[2], text=item[3], governs=item[4], binding=item[0] == binding)
        for item in bars
    )
    _judge_current(design, solved, ledger, idle_label=idle.label)
    ledger.figure(
        "match.allowed_output_a",
        "Output allowed by all limits",
        allowed_a,
        "A",
        formula="min of all governing limits",
        working=f"{label}: {text}",
        source="trade practice",
        changes=f"a higher limit at: {label.lower()}",
    )
    return Ruler(limits=limits, floor_a=floor_a, binding=binding, allowed_a=allowed_a)


def _judge_current(design: Design, solved: Solved, ledger: Ledger, idle_label: str) -> None:
    unit, output, facts, choices = design.charger, solved.output, solved.facts, design.choices
    if unit is None or output is None:
        return
    limit_a = float(facts.charge_limit.value)
    if output.current_a > limit_a + 1e-6:
        ledger.finding(
            "match.battery_limit",
            "stop",
            "match",
            "auxiliary",
            "More current than the battery may take",
            f"{output.current_a:.1f} A into a battery that allows {limit_a:.1f} A ({facts.charge_limit.provenance}).",
            [turn_down(unit, limit_a)],
        )
    setting_a = design.current_limit_a
    if setting_a is not None and setting_a < unit.output_a and unit.settable_a(setting_a) != setting_a:
        allowed = (
            f"steps of {', '.join(f'{step:g}' for step in unit.limit_steps_a)} A"
            if unit.current_limit == "steps"
            else (
                f"{unit.limit_min_a or 0:g} to {unit.output_a:g} A"
                if unit.current_limit == "continuous"
                else "no current limit at all"
            )
        )
        ledger.finding(
            "match.setting",
            "stop",
            "match",
            "charger",
            "The unit cannot be set so",
            f"Set to {setting_a:g} A, but {unit.name} has {allowed}.",
            [turn_down(unit, setting_a), way_out("Run it at full current", ("current_limit_a", None))],
        )
    if output.derating < 1 and unit.output_a * output.derating < (setting_a or unit.output_a):
        ledger.finding(
            "match.heat",
            "caution",
            "match",
            "charger",
            "The heat where it sits takes current away",
            f"At {float(facts.unit_ambient.value):.0f} °C {unit.name} gives {output.current_a:.1f} A of {unit.output_a:g} A.",
        )
    idle = solved.running_by_key("idle")
    if idle is None or idle.drawn is None:
        return
    input_a = idle.drawn.current_a
    budget_name = "match.alternator_share_a" if choices.alternator_school == "share" else "match.alternator_surplus_a"
    budget_a = ledger.figures[budget_name].value or 0.0
    allowed_a = _output_for_input_a(design, solved, output, budget_a)
    available_a = idle.source.available_a or 0.0
    ledger.figure(
        "match.alternator_load_percent",
        "Alternator at hot idle",
        100 * (input_a + design.vehicle.alternator.loads_idle_a) / design.vehicle.alternator.rated_a,
        "%",
        formula="(I_in + loads) / I_rated",
        working=f"({input_a:.1f} A + {design.vehicle.alternator.loads_idle_a:.1f} A) / {design.vehicle.alternator.rated_a:.0f} A",
        source="definition",
    )
    if idle.drawn.alternator_limited:
        ledger.finding(
            "match.alternator_overrun",
            "stop",
            "match",
            "alternator",
            "The alternator cannot feed this",
            f"At {idle_label.lower()} {available_a:.1f} A are left after the vehicle's loads; the charger takes {input_a:.1f} A. "
            f"The voltage falls to {idle.drawn.post_v:.2f} V and the start battery pays.",
            [turn_down(unit, min(allowed_a, _output_for_input_a(design, solved, output, 0.98 * available_a)))],
        )
    elif input_a > budget_a + 1e-6:
        ledger.finding(
            "match.alternator_budget",
            "caution",
            "match",
            "alternator",
            "Above the alternator budget",
            f"The charger takes {input_a:.1f} A at {idle_label.lower()}; the {choices.alternator_school} school allows {budget_a:.1f} A.",
            [turn_down(unit, allowed_a)],
        )


def daily_floor_a(design: Design, ledger: Ledger) -> float | None:
    """Output current [A] that puts the daily use back in the daily driving; `None` when not surveyed."""
    use = design.use
    if use.daily_ah is None or use.drive_h is None:
        return None
    efficiency = chemistries()[design.auxiliary.chemistry].charge_efficiency
    floor_a = use.daily_ah / efficiency / use.drive_h + use.loads_driving_a
    ledger.figure(
        "match.daily_floor_a",
        "Output the day needs",
        floor_a,
        "A",
        formula="Ah per day / (η_charge · h driving) + loads driving",
        working=f"{use.daily_ah:.0f} Ah / ({efficiency:.2f} · {use.drive_h:.1f} h) + {use.loads_driving_a:.1f} A = {floor_a:.1f} A",
        source="charge balance over one day",
        changes="fewer ampere-hours a day or longer driving",
    )
    given_a = design.charger and (design.current_limit_a or design.charger.output_a)
    if given_a and given_a < floor_a:
        ledger.finding(
            "match.daily_need",
            "caution",
            "match",
            "auxiliary",
            "The day is not put back",
            f"{floor_a:.1f} A would put {use.daily_ah:.0f} Ah back in {use.drive_h:.1f} h of driving; the unit gives {given_a:.1f} A.",
        )
    return floor_a


def energy_figures(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Input and output at a glance, heat, and hours to recover the auxiliary battery."""
    unit, output, auxiliary = design.charger, solved.output, design.auxiliary
    if unit is None or output is None:
        return
    ledger.figure(
        "output.current_a",
        "Output current",
        output.current_a,
        "A",
        formula="setting, or rated output less derating",
        working=f"{unit.output_a:g} A unit, derating {output.derating:.2f}",
        source="unit's datasheet",
        inputs=[solved.facts.unit_ambient],
    )
    ledger.figure(
        "output.voltage_v",
        "Output terminals",
        output.terminal_v,
        "V",
        formula="V_abs + I_out · R_delivery",
        working=f"{output.battery_v:.2f} V + {output.current_a:.1f} A · {output.run.loop_ohm * 1000:.2f} mΩ = {output.terminal_v:.2f} V",
        inputs=[solved.facts.absorption, "output.current_a"],
        source="Ohm's law, at absorption and full current (worst case)",
    )
    ledger.figure(
        "input.power_w",
        "Input power",
        output.power_in_w,
        "W",
        formula="V_out · I_out / η",
        working=f"{output.terminal_v:.2f} V · {output.current_a:.1f} A / {unit.efficiency:.2f} = {output.power_in_w:.0f} W",
        inputs=[
            "output.voltage_v",
            "output.current_a",
            Input("Efficiency", unit.efficiency, "-", "datasheet", "charger.efficiency"),
        ],
        source="energy balance of the unit",
    )
    heat_w = output.power_in_w - output.terminal_v * output.current_a
    ledger.figure(
        "charger.heat_w",
        "Heat at the unit",
        heat_w,
        "W",
        formula="P_out · (1/η − 1)",
        working=f"{output.terminal_v * output.current_a:.0f} W · (1/{unit.efficiency:.2f} − 1) = {heat_w:.0f} W",
        inputs=["input.power_w"],
        source="energy balance of the unit",
    )
    net_a = output.current_a - design.use.loads_driving_a
    missing_ah = auxiliary.capacity_ah * (RECOVER_TO - RECOVER_FROM)
    efficiency = chemistries()[auxiliary.chemistry].charge_efficiency
    hours = missing_ah / (net_a * efficiency) if net_a > 0 else None
    ledger.figure(
        "energy.recover_h",
        f"{auxiliary.capacity_ah:.0f} Ah from {RECOVER_FROM:.0%} to {RECOVER_TO:.0%}",
        hours,
        "h",
        formula="Ah missing / ((I_out − loads) · η_charge)",
        working=f"{missing_ah:.0f} Ah / ({net_a:.1f} A · {efficiency:.2f})"
        + ("" if hours is None else f" = {hours:.1f} h"),
        inputs=["output.current_a"],
        source="charge balance; absorption taper not counted",
    )


def direct_link(design: Design, solved: Solved, ledger: Ledger) -> None:
    """What a plain link over the same cables would draw at hot idle, for contrast."""
    auxiliary, idle = design.auxiliary, solved.running[0]
    if auxiliary.nominal_v != design.vehicle.system_v or solved.output is None or not design.supply.pieces:
        return
    cold_supply = run_state(design.supply, 0.0, design.choices.lug_mohm)
    link_ohm = cold_supply.loop_ohm + solved.output.run.loop_ohm + idle.source.sag_ohm
    battery_ohm = internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
    battery_v = open_circuit_v(auxiliary.chemistry, DIRECT_LINK_CHARGE, auxiliary.nominal_v)
    amps = max(0.0, (idle.source.regulated_v - battery_v) / (link_ohm + battery_ohm))
    ledger.figure(
        "match.direct_link_a",
        "A plain link would draw",
        amps,
        "A",
        formula="(V_alt − V_ocv) / (R_link + R_batt)",
        working=f"({idle.source.regulated_v:.2f} V − {battery_v:.2f} V) / ({link_ohm * 1000:.1f} mΩ + {battery_ohm * 1000:.1f} mΩ) = {amps:.0f} A",
        inputs=[solved.facts.idle, solved.facts.sag],
        source="Ohm's law, auxiliary battery at 20 %, first moment",
        changes="only resistance limits it: a thinner link, or a charger",
    )
