"""Figures of the Wake stage: volts seen, windows, rules and guard, each with its working.

- `judge_figures`: all of them.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from olvask.core.circuit.context import Context
from olvask.core.circuit.thresholds import Thresholds, terminal_v
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Reckoned, Words, computed
from olvask.core.findings.listed import percent
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


def _seen(ctx: Context) -> Iterator[Reckoned]:
    facts, at = ctx.facts, ctx.thresholds
    named = {"rested": facts.rest, "just after stopping": facts.after_stop, "full": facts.full, "lifted": facts.lifted}
    off = {name: item for name, item in named.items() if item is not None}
    yield Reckoned(
        "wake.rest_v",
        "Highest engine-off volts",
        at.rest_high_v,
        "V",
        words=lambda: Words(
            formula=f"max({', '.join(off)})",
            working=f"max({', '.join(f'{float(item.value):.2f} V' for item in off.values())})",
            inputs=tuple(off.values()),
            source="no current flows, so the terminals see the posts",
            changes="a measured reading just after stopping",
        ),
    )
    yield Reckoned(
        "wake.run_unloaded_v",
        "Lowest running, charger idle",
        at.unloaded_low_v,
        "V",
        words=lambda: Words(
            formula="min(hot idle, cruise)",
            working=f"min({', '.join(f'{ctx.solved.unloaded_v(state):.2f} V' for state in ctx.solved.healthy)})",
            inputs=(facts.idle, facts.cruise),
            source="one healthy phase is enough to start"
            + (", what branches off the supply run drawn" if ctx.solved.healthy[0].run.first_extra_a else ""),
        ),
    )
    power = (computed("input.power_w"),) if ctx.solved.output is not None else ()
    yield Reckoned(
        "wake.run_loaded_v",
        "Lowest running, full current",
        at.loaded_low_v,
        "V",
        words=lambda: Words(
            formula="min(hot idle, cruise) of V_in = (V_s + √(V_s² − 4·R·P)) / 2",
            working="no stable voltage"
            if at.loaded_low_v is None
            else f"min({', '.join(f'{volts:.2f} V' for volts in map(terminal_v, ctx.solved.healthy) if volts is not None)})",
            inputs=(facts.idle, facts.sag, *power),
            source="constant-power input at absorption volts",
            changes="more copper, less current",
        ),
    )


def _windows(ctx: Context) -> Iterator[Reckoned]:
    at, inputs = ctx.thresholds, (ctx.facts.margin,)

    def edge(name: str, label: str, value: float | None, formula: str, from_v: float | None, sign: str) -> Reckoned:
        def words() -> Words:
            working = "none" if from_v is None else f"{from_v:.2f} V {sign} {at.margin_v:.2f} V"
            return Words(formula, working, inputs, MARGIN)

        return Reckoned(name, label, value, "V", words)

    loaded_v = None if at.stop_high_v is None else at.stop_high_v + at.margin_v
    low_v = at.floor_v - at.margin_v
    low = "V_off + m" if under(low_v, at.rest_high_v) else "V_rest + m"
    yield edge("wake.start_window_low_v", "Start window, from", at.floor_v, low, low_v, "+")
    yield edge("wake.start_window_high_v", "Start window, to", at.start_high_v, "V_run0 − m", at.unloaded_low_v, "−")
    yield edge("wake.stop_window_low_v", "Stop window, from", at.floor_v, low, low_v, "+")
    yield edge("wake.stop_window_high_v", "Stop window, to", at.stop_high_v, "V_runL − m", loaded_v, "−")
    yield Reckoned(
        "wake.quick_start_v",
        "A quick second start",
        at.quick_start_proposal_v,
        "V",
        words=lambda: Words(
            formula="V_run0,high − m, where that is over V_run0",
            working=f"{at.unloaded_high_v:.2f} V − {at.margin_v:.2f} V, lowest running {at.unloaded_low_v:.2f} V",
            inputs=inputs,
            source="at the higher running volts the start battery has recovered; at the lower it is given time",
        ),
    )


def _rule(
    name: str,
    label: str,
    value: float,
    entered: float | None,
    fixed: float | None,
    proposed: Callable[[], tuple[str, str]],
) -> Reckoned:
    """A threshold in force with what is proposed for it: by which rule, and its numbers."""

    def words() -> Words:
        formula, working = proposed()
        if entered is not None:
            return Words(formula, f"{entered:.2f} V, as entered; proposed: {working}", source="design")
        if fixed is not None:
            return Words("fixed in the unit", working, source="its manual, by the shelf")
        return Words(formula, working, source="proposed on the unit's steps, within its range")

    return Reckoned(name, label, value, "V", words)


def _in_force(ctx: Context) -> Iterator[Reckoned]:
    at, chosen, unit = ctx.thresholds, ctx.design.activation, ctx.design.charger
    starts = unit.start_rules if unit is not None else StartRecord()
    stops = unit.stop_rules if unit is not None else StopRecord()
    guard = unit.guard if unit is not None else GuardRecord()

    def stands(formula: str) -> tuple[str, str]:
        return formula, f"{at.rest_high_v:.2f} V parked, {at.unloaded_low_v:.2f} V running"

    first, halt = chosen.start_rules[0].at_least_v, chosen.stop_rules[0].below_v
    middle = "middle of its window"
    yield _rule(
        "wake.start_v", "Start", at.start_v, first, starts.fixed, lambda: stands(f"{middle}, not under the stop")
    )
    yield _rule("wake.stop_v", "Stop", at.stop_v, halt, stops.fixed, lambda: stands(middle))
    off_v, back_v = chosen.guard.off_below_v, chosen.guard.back_at_v
    keeps = partial(_keeps, ctx, unit is None or guard.settable)
    yield _rule("wake.guard_v", "Battery guard, off below", at.guard_v, off_v, guard.fixed_off, keeps)
    returns = partial(_returns, at)
    yield _rule("wake.back_v", "Battery guard, back at", at.back_v, back_v, guard.fixed_back, returns)
    if at.guard_ohm > 0:
        yield Reckoned(
            "wake.guard_mohm",
            "Battery guard allows for",
            at.guard_ohm * 1000,
            "mΩ",
            words=lambda: Words(
                formula="R_run, for V + I·R",
                working=f"{at.guard_ohm * 1000:.1f} mΩ, out and back, warm at full current",
                source="the supply run; key it into the unit",
                changes="more copper",
            ),
        )


def _keeps(ctx: Context, settable: bool) -> tuple[str, str]:
    """Where the guard switches off: rule and numbers."""
    if not settable:
        return "the unit's lowest input: it has no guard to set", f"{ctx.thresholds.guard_v:.2f} V"
    keep, start = ctx.design.choices.keep_state_of_charge, ctx.design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, keep, ctx.design.vehicle.system_v)
    return f"resting voltage at {percent(keep)} of charge", f"{keep_v:.2f} V, the unit's step below"


def _returns(at: Thresholds) -> tuple[str, str]:
    """Where the guard lets go: rule and numbers."""
    formula = (
        f"V_off + P_in / V_off · {'R_battery' if at.guard_ohm > 0 else '(R_battery + R_run)'}, at most V_rest, + m"
    )
    rebound = f"{at.guard_v:.2f} V + {at.input_w:.0f} W / {at.guard_v:.2f} V · {at.rebound_ohm * 1000:.1f} mΩ"
    least = f"min({rebound}, {max(at.rest_high_v, at.guard_v):.2f} V) + {at.margin_v:.2f} V = {at.back_least_v:.2f} V"
    reached = under(at.back_v, at.back_least_v)
    return formula, f"{least} to stand clear; set to what the engine reaches" if reached else f"{least} at least"
