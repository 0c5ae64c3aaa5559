"""Figures of the Wake stage: volts seen, windows, rules and guard, each with its working.

- `judge_figures`: all of them.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Figure, computed
from olvask.core.model import GuardRecord, StartRecord, StopRecord
from olvask.core.physics.battery import open_circuit_v
from olvask.core.physics.rounding import under

MARGIN = "margin either side of what is seen"


def judge_figures(ctx: Context) -> Judged:
    """Volts seen, windows, rules in force."""
    if not ctx.worded:
        return
    yield from _seen(ctx)
    yield from _windows(ctx)
    yield from _in_force(ctx)


def _seen(ctx: Context) -> Iterator[Figure]:
    facts, at = ctx.facts, ctx.thresholds
    off = (facts.rest, facts.after_stop, *((facts.lifted,) if facts.lifted is not None else ()))
    yield Figure(
        "wake.rest_v",
        "Highest engine-off volts",
        at.rest_high_v,
        "V",
        formula="max(rested, just after stopping)"
        if facts.lifted is None
        else "max(rested, just after stopping, lifted)",
        working=f"max({', '.join(f'{float(item.value):.2f} V' for item in off)})",
        inputs=off,
        source="no current flows, so the terminals see the posts",
        changes="a measured reading just after stopping",
    )
    yield Figure(
        "wake.run_unloaded_v",
        "Lowest running, charger idle",
        at.unloaded_low_v,
        "V",
        formula="min(hot idle, cruise)",
        working=f"min({float(facts.idle.value):.2f} V, {float(facts.cruise.value):.2f} V)",
        inputs=(facts.idle, facts.cruise),
        source="one healthy phase is enough to start",
    )
    power = (computed("input.power_w"),) if ctx.solved.output is not None else ()
    yield Figure(
        "wake.run_loaded_v",
        "Lowest running, full current",
        at.loaded_low_v,
        "V",
        formula="V_in = (V_s + √(V_s² − 4·R·P)) / 2",
        working="no stable voltage" if at.loaded_low_v is None else f"{at.loaded_low_v:.2f} V at the terminals",
        inputs=(facts.idle, facts.sag, *power),
        source="constant-power input at absorption volts",
        changes="more copper, less current",
    )


def _windows(ctx: Context) -> Iterator[Figure]:
    at, inputs = ctx.thresholds, (ctx.facts.margin,)
    low = f"{at.rest_high_v:.2f} V + {at.margin_v:.2f} V"
    high = f"{at.unloaded_low_v:.2f} V − {at.margin_v:.2f} V"
    loaded = "none"
    if at.stop_high_v is not None:
        loaded = f"{at.stop_high_v + at.margin_v:.2f} V − {at.margin_v:.2f} V"
    rows = (
        ("wake.start_window_low_v", "Start window, from", at.floor_v, "V_rest + m", low),
        ("wake.start_window_high_v", "Start window, to", at.start_high_v, "V_run0 − m", high),
        ("wake.stop_window_low_v", "Stop window, from", at.floor_v, "V_rest + m", low),
        ("wake.stop_window_high_v", "Stop window, to", at.stop_high_v, "V_runL − m", loaded),
    )
    for name, label, value, formula, working in rows:
        yield Figure(name, label, value, "V", formula, working, inputs, MARGIN)
    yield Figure(
        "wake.quick_start_v",
        "A quick second start",
        at.quick_start_proposal_v,
        "V",
        formula="V_run0,high − m, where that is over V_run0",
        working=f"{at.unloaded_high_v:.2f} V − {at.margin_v:.2f} V, lowest running {at.unloaded_low_v:.2f} V",
        inputs=inputs,
        source="at the higher running volts the start battery has recovered; at the lower it is given time",
    )


def _rule(
    name: str, label: str, value: float, entered: float | None, fixed: float | None, formula: str, working: str
) -> Figure:
    """A threshold in force with what is proposed for it."""
    source = "proposed on the unit's steps, within its range"
    if entered is not None:
        working, source = f"{entered:.2f} V, as entered; proposed: {working}", "design"
    elif fixed is not None:
        formula, source = "fixed in the unit", "its manual, by the shelf"
    return Figure(name, label, value, "V", formula, working, source=source)


def _in_force(ctx: Context) -> Iterator[Figure]:
    at, chosen, unit = ctx.thresholds, ctx.design.activation, ctx.design.charger
    starts = unit.start_rules if unit is not None else StartRecord()
    stops = unit.stop_rules if unit is not None else StopRecord()
    guard = unit.guard if unit is not None else GuardRecord()
    stands = f"{at.rest_high_v:.2f} V parked, {at.unloaded_low_v:.2f} V running"
    first = chosen.start_rules[0].at_least_v
    middle = "middle of its window, not under the stop"
    yield _rule("wake.start_v", "Start", at.start_v, first, starts.fixed, middle, stands)
    halt = chosen.stop_rules[0].below_v
    yield _rule("wake.stop_v", "Stop", at.stop_v, halt, stops.fixed, "middle of its window", stands)
    keep, start = ctx.design.choices.keep_state_of_charge, ctx.design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, keep, ctx.design.vehicle.system_v)
    if unit is None or guard.settable:
        keeps, below = f"resting voltage at {keep:.0%} of charge", f"{keep_v:.2f} V, the unit's step below"
    else:
        keeps, below = "the unit's lowest input: it has no guard to set", f"{at.guard_v:.2f} V"
    off_v, back_v = chosen.guard.off_below_v, chosen.guard.back_at_v
    yield _rule("wake.guard_v", "Battery guard, off below", at.guard_v, off_v, guard.fixed_off, keeps, below)
    back = f"V_off + P_in / V_off · {'R_battery' if at.guard_ohm > 0 else '(R_battery + R_run)'}, at most V_rest, + m"
    rebound = f"{at.guard_v:.2f} V + {at.input_w:.0f} W / {at.guard_v:.2f} V · {at.rebound_ohm * 1000:.1f} mΩ"
    least = f"min({rebound}, {max(at.rest_high_v, at.guard_v):.2f} V) + {at.margin_v:.2f} V = {at.back_least_v:.2f} V"
    least += " to stand clear; set to what the engine reaches" if under(at.back_v, at.back_least_v) else " at least"
    yield _rule("wake.back_v", "Battery guard, back at", at.back_v, back_v, guard.fixed_back, back, least)
    if at.guard_ohm > 0:
        yield Figure(
            "wake.guard_mohm",
            "Battery guard allows for",
            at.guard_ohm * 1000,
            "mΩ",
            formula="R_run, for V + I·R",
            working=f"{at.guard_ohm * 1000:.1f} mΩ, out and back, warm at full current",
            source="the supply run; key it into the unit",
            changes="more copper",
        )
