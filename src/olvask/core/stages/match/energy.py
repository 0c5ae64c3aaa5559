"""Energy: what the day needs of the unit, hours to recover, days it can stand.

- `daily_floor_a`: output that puts the day's use back in the day's driving.
- `judge_energy`: figures at a glance and whether the day is put back.
"""

from __future__ import annotations

from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Ledger
from olvask.core.findings.figure import Input
from olvask.core.model import Design
from olvask.core.stages.match.sources import driving_now, other_sources, solar_peak_a

RECOVER_FROM, RECOVER_TO = 0.40, 0.95


def standing_ah(design: Design) -> float:
    """What sun and mains put in on a day without driving, before charge losses [Ah]."""
    solar = design.solar
    sun_ah = solar_peak_a(design) * solar.sun_h if solar.into != "start_side" else 0.0
    mains_a = sum(source.peak_a for source in other_sources(design) if not source.driving)
    return sun_ah + mains_a * design.use.mains_h


def reserve_of(design: Design) -> float:
    """State of charge never to go below: as chosen, else the chemistry's usual."""
    chosen = design.use.reserve
    return chemistries()[design.auxiliary.chemistry].reserve if chosen is None else chosen


def daily_floor_a(design: Design, solved: Solved, ledger: Ledger) -> float | None:
    """Output current [A] that puts the daily use back in the daily driving; `None` when not surveyed."""
    drive_h, facts = design.use.drive_h, solved.facts
    if facts.daily is None or drive_h is None:
        return None
    efficiency = chemistries()[design.auxiliary.chemistry].charge_efficiency
    daily_ah, driving_a = float(facts.daily.value), float(facts.loads_driving.value)
    other_ah = standing_ah(design) * efficiency
    other_a = sum(source.driving_a for source in other_sources(design))
    floor_a = max(0.0, max(0.0, daily_ah - other_ah) / efficiency / drive_h + driving_a - other_a)
    minus = f" less {other_ah:.0f} Ah of sun and mains" if other_ah > 0 else ""
    ledger.figure(
        "match.daily_floor_a",
        "Output the day needs",
        floor_a,
        "A",
        formula="(Ah per day − other Ah) / (η_charge · h driving) + loads driving − other sources driving",
        working=f"{daily_ah:.0f} Ah{minus} / ({efficiency:.2f} · {drive_h:.1f} h) + {driving_a:.1f} A"
        + (f" − {other_a:.1f} A" if other_a > 0 else "")
        + f" = {floor_a:.1f} A",
        inputs=[
            facts.daily,
            facts.loads_driving,
            Input("Driving per day", drive_h, "h", str(design.provenance.get("use.drive_h", "own")), "use.drive_h"),
        ],
        source="charge balance over one day",
        changes="fewer ampere-hours a day, longer driving, or another source",
    )
    return floor_a


def judge_need(design: Design, solved: Solved, ledger: Ledger, floor_a: float | None, allowed_a: float) -> None:
    """Say whether the day is put back, and whether any unit could.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where findings go.
        floor_a: output the day needs [A]; `None` when not surveyed.
        allowed_a: what battery, alternator and source point allow any unit [A].
    """
    if floor_a is None:
        return
    daily = solved.facts.daily
    need = f"{float(daily.value):.0f} Ah" if daily is not None else "the day's use"
    if floor_a > allowed_a:
        ledger.finding(
            "match.need_unreachable",
            "caution",
            "match",
            "auxiliary",
            "No unit can put the day back here",
            f"{floor_a:.1f} A would put {need} back in {design.use.drive_h or 0:.1f} h of driving; battery and alternator allow {allowed_a:.1f} A. "
            "Less use, longer driving, or another source such as sun or mains.",
        )
    output = solved.output
    if output is None:
        return
    given_a = driving_now(design, output.current_a).total_a
    if given_a < floor_a <= allowed_a:
        ledger.finding(
            "match.daily_need",
            "caution",
            "match",
            "auxiliary",
            "The day is not put back",
            f"{floor_a:.1f} A would put {need} back in {design.use.drive_h or 0:.1f} h of driving; the unit gives {given_a:.1f} A.",
        )


def net_driving_a(design: Design, solved: Solved) -> float:
    """Current into the auxiliary battery while driving, all sources less loads [A]; before charge losses."""
    output_a = solved.output.current_a if solved.output is not None else 0.0
    others_a = sum(source.driving_a for source in other_sources(design))
    return driving_now(design, output_a).total_a + others_a - float(solved.facts.loads_driving.value)


def judge_energy(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Figures of input and output at a glance, hours to recover and days of standing; loads above the charge."""
    if not ledger.verdicts_only:
        _standing(design, solved, ledger)
        _at_a_glance(design, solved, ledger)
    if solved.output is None:
        return
    net_a, loads_a = net_driving_a(design, solved), float(solved.facts.loads_driving.value)
    if net_a <= 0:
        ledger.finding(
            "match.loads_exceed",
            "caution",
            "match",
            "auxiliary",
            "It empties while driving, only slower",
            f"Loads take {loads_a:.1f} A, the sources give {net_a + loads_a:.1f} A.",
        )


def _at_a_glance(design: Design, solved: Solved, ledger: Ledger) -> None:
    unit, output, auxiliary = design.charger, solved.output, design.auxiliary
    if unit is None or output is None:
        return
    many = f"{design.units} units of " if design.units > 1 else ""
    ledger.figure(
        "output.current_a",
        "Output current",
        output.current_a,
        "A",
        formula="setting, or rated output less derating; units in parallel add up",
        working=f"{many}{unit.output_a:g} A, derating {output.derating:.2f} = {output.current_a:.1f} A",
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
    net_a = net_driving_a(design, solved)
    missing_ah = auxiliary.capacity_ah * (RECOVER_TO - RECOVER_FROM)
    efficiency = chemistries()[auxiliary.chemistry].charge_efficiency
    hours = missing_ah / (net_a * efficiency) if net_a > 0 else None
    ledger.figure(
        "energy.recover_h",
        f"{auxiliary.capacity_ah:.0f} Ah from {RECOVER_FROM:.0%} to {RECOVER_TO:.0%}",
        hours,
        "h",
        formula="Ah missing / ((I_sources − loads) · η_charge)",
        working=f"{missing_ah:.0f} Ah / ({net_a:.1f} A · {efficiency:.2f})"
        + (": the loads take it all" if hours is None else f" = {hours:.1f} h"),
        inputs=["output.current_a", solved.facts.loads_driving],
        source="charge balance; absorption taper not counted",
    )


def _standing(design: Design, solved: Solved, ledger: Ledger) -> None:
    daily = solved.facts.daily
    if daily is None:
        return
    reserve = reserve_of(design)
    efficiency = chemistries()[design.auxiliary.chemistry].charge_efficiency
    usable_ah = design.auxiliary.capacity_ah * (1 - reserve)
    net_ah = float(daily.value) - standing_ah(design) * efficiency
    ledger.figure(
        "energy.standing_days",
        "Days it can stand",
        usable_ah / net_ah if net_ah > 0 else None,
        "days",
        formula="C · (1 − reserve) / (Ah per day − other Ah)",
        working=f"{design.auxiliary.capacity_ah:.0f} Ah · {1 - reserve:.2f} / {net_ah:.0f} Ah a day"
        if net_ah > 0
        else "sun and mains cover the day: no end",
        inputs=[
            daily,
            Input(
                "Reserve",
                reserve,
                "-",
                "default" if design.use.reserve is None else str(design.provenance.get("use.reserve", "own")),
                "use.reserve",
            ),
        ],
        source="charge balance from full, without driving",
        changes="a larger battery, less use, or another source",
    )
