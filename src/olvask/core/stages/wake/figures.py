"""Figures of the Wake stage: volts seen, windows, thresholds, each with its working.

- `write_wake_figures`: all of them.
"""

from __future__ import annotations

from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Ledger
from olvask.core.model import Design
from olvask.core.model.charger import Behaviour
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.wake.thresholds import Thresholds


def write_wake_figures(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    """Volts seen, windows, thresholds.

    Args:
        design: the design.
        solved: its circuit.
        set_at: windows and thresholds in force.
        ledger: where figures go.
    """
    facts = solved.facts
    ledger.figure(
        "wake.rest_v",
        "Highest engine-off volts",
        set_at.rest_high_v,
        "V",
        formula="max(rested, just after stopping)",
        working=f"max({float(facts.rest.value):.2f} V, {float(facts.after_stop.value):.2f} V)",
        inputs=[facts.rest, facts.after_stop],
        source="no current flows, so the terminals see the posts",
        changes="a measured reading just after stopping",
    )
    ledger.figure(
        "wake.run_unloaded_v",
        "Lowest running, charger idle",
        set_at.unloaded_low_v,
        "V",
        formula="min(hot idle, cruise)",
        working=f"min({float(facts.idle.value):.2f} V, {float(facts.cruise.value):.2f} V)",
        inputs=[facts.idle, facts.cruise],
        source="one healthy phase is enough to start",
    )
    ledger.figure(
        "wake.run_loaded_v",
        "Lowest running, full current",
        set_at.loaded_low_v,
        "V",
        formula="V_in = (V_s + √(V_s² − 4·R·P)) / 2",
        working="no stable voltage" if set_at.loaded_low_v is None else f"{set_at.loaded_low_v:.2f} V at the terminals",
        inputs=[facts.idle, facts.sag, "input.power_w"]
        if "input.power_w" in ledger.figures
        else [facts.idle, facts.sag],
        source="constant-power input at absorption volts",
        changes="more copper, less current",
    )
    rows = (
        (
            "wake.start_window_low_v",
            "Start window, from",
            set_at.floor_v,
            "V_rest + m",
            f"{set_at.rest_high_v:.2f} V + {set_at.margin_v:.2f} V",
        ),
        (
            "wake.start_window_high_v",
            "Start window, to",
            set_at.start_high_v,
            "V_run0 − m",
            f"{set_at.unloaded_low_v:.2f} V − {set_at.margin_v:.2f} V",
        ),
        (
            "wake.stop_window_low_v",
            "Stop window, from",
            set_at.floor_v,
            "V_rest + m",
            f"{set_at.rest_high_v:.2f} V + {set_at.margin_v:.2f} V",
        ),
        (
            "wake.stop_window_high_v",
            "Stop window, to",
            set_at.stop_high_v,
            "V_runL − m",
            "none"
            if set_at.stop_high_v is None
            else f"{set_at.stop_high_v + set_at.margin_v:.2f} V − {set_at.margin_v:.2f} V",
        ),
    )
    for name, label, value, formula, working in rows:
        ledger.figure(
            name,
            label,
            value,
            "V",
            formula=formula,
            working=working,
            inputs=[facts.margin],
            source="margin either side of what is seen",
        )
    ledger.figure(
        "wake.at_once_proposal_v",
        "Start at once, where used",
        set_at.at_once_proposal_v,
        "V",
        formula="V_run0,high − m, where that is over V_run0",
        working=f"{set_at.unloaded_high_v:.2f} V − {set_at.margin_v:.2f} V, lowest running {set_at.unloaded_low_v:.2f} V",
        inputs=[facts.margin],
        source="at the higher running volts the start battery has recovered; at the lower it is given the delay",
    )
    _threshold_figures(design, set_at, ledger)


def _threshold_figures(design: Design, set_at: Thresholds, ledger: Ledger) -> None:
    """Every threshold in force with what is proposed for it; the ohms a lockout allows for its own draw."""
    chosen, keep, start = design.activation, design.choices.keep_state_of_charge, design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, keep, design.vehicle.system_v)
    unit = design.charger
    adjustable = unit is None or unit.adjustable
    own = unit.fixed if unit is not None else Behaviour()
    stands = f"{set_at.rest_high_v:.2f} V parked, {set_at.unloaded_low_v:.2f} V running"
    keeps = (
        f"rested volts at {keep:.0%} of charge" if adjustable else "the unit's lowest input: it has no lockout to set"
    )
    below = f"{keep_v:.2f} V, the unit's step below" if adjustable else f"{set_at.lockout_v:.2f} V"
    releases = f"V_lock + P_in / V_lock · {'R_battery' if set_at.lockout_ohm > 0 else '(R_battery + R_run)'} + m"
    least = (
        f"{set_at.lockout_v:.2f} V + {set_at.input_w:.0f} W / {set_at.lockout_v:.2f} V × {set_at.rebound_ohm * 1000:.1f} mΩ + "
        f"{set_at.margin_v:.2f} V = {set_at.restart_least_v:.2f} V at least"
    )
    rows = (
        (
            "start",
            "Start threshold",
            set_at.start_v,
            chosen.start_v,
            own.fixed_start_v,
            "middle of its window, not under stop",
            stands,
        ),
        ("stop", "Stop threshold", set_at.stop_v, chosen.stop_v, own.fixed_stop_v, "middle of its window", stands),
        ("lockout", "Lockout", set_at.lockout_v, chosen.lockout_v, own.fixed_lockout_v, keeps, below),
        ("restart", "Lockout release", set_at.restart_v, chosen.restart_v, own.fixed_restart_v, releases, least),
    )
    for key, label, value, typed, fixed, formula, working in rows:
        if typed is not None:
            working, source = f"{typed:.2f} V, your own; proposed: {working}", "design"
        elif fixed is not None:
            formula, source = "fixed in the unit", "its manual, by the shelf"
        else:
            source = "proposed on the unit's steps, within its range"
        ledger.figure(f"wake.{key}_v", label, value, "V", formula=formula, working=working, source=source)
    if set_at.lockout_ohm > 0:
        ledger.figure(
            "wake.lockout_mohm",
            "Lockout allows for",
            set_at.lockout_ohm * 1000,
            "mΩ",
            formula="R_run, for V + I·R",
            working=f"{set_at.lockout_ohm * 1000:.1f} mΩ, out and back, warm at full current",
            source="the supply run; key it into the unit",
            changes="more copper",
        )
