"""Lockout and what the unit can be set to: guards cranking, releases, and stays within the unit's ranges.

- `judge_lockout`: lockout, its release, and trips that only look like faults.
- `judge_ranges`: thresholds and delays against the unit.
"""

from __future__ import annotations

from olvask.core.circuit.solve import ConditionState, Solved, solve
from olvask.core.findings.assessment import WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Design
from olvask.core.model.charger import Charger
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.dc_path import Collapse, constant_power_volts
from olvask.core.stages.run.cables import grow, thickest_need
from olvask.core.stages.wake.remedies import healthy_thresholds, less_current, spare_ah
from olvask.core.stages.wake.thresholds import Thresholds


def judge_lockout(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    """Findings on the lockout and its release.

    Args:
        design: the design.
        solved: its circuit.
        set_at: windows and thresholds in force.
        ledger: where findings go.
    """
    repair = (
        way_out("Propose the lockout from the charge to keep", ("activation.lockout_v", None))
        if design.activation.lockout_v is not None
        else None
    )
    loaded_v = set_at.loaded_seen_v
    if "voltage" in design.activation.methods and set_at.lockout_v >= set_at.stop_v:
        ledger.finding(
            "wake.lockout_above_stop",
            "stop",
            "wake",
            "charger",
            "Lockout lies above stop",
            f"Lockout {set_at.lockout_v:.2f} V must lie under stop {set_at.stop_v:.2f} V.",
            [repair],
        )
    if loaded_v is not None and set_at.lockout_v >= loaded_v:
        ledger.finding(
            "wake.locked_out_running",
            "stop",
            "wake",
            "charger",
            "Locked out while running",
            f"Full current pulls the terminals to {set_at.loaded_low_v:.2f} V"
            + (f", {loaded_v:.2f} V as the lockout has it" if set_at.lockout_ohm > 0 else "")
            + f"; lockout is {set_at.lockout_v:.2f} V.",
            lambda: [
                repair,
                grow(
                    design,
                    "supply",
                    thickest_need(design, "supply", solved.running[0].run),
                    _clears_lockout,
                    "to clear the lockout",
                ),
                less_current(design, _clears_lockout),
            ],
        )
    start = design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, design.choices.keep_state_of_charge, design.vehicle.system_v)
    if set_at.lockout_v < keep_v - 0.3 * solved.facts.scale:
        ledger.finding(
            "wake.lockout_low",
            "caution",
            "wake",
            "start_battery",
            "Lockout leaves too little to crank",
            f"{design.choices.keep_state_of_charge:.0%} of charge rests at {keep_v:.2f} V; lockout at {set_at.lockout_v:.2f} V guards less "
            "when the charger draws little.",
            [repair],
        )
    if loaded_v is not None and set_at.lockout_v < loaded_v:
        _judge_starving(design, solved, ledger)
    _judge_nuisance(design, solved, set_at, ledger)
    if set_at.restart_v > set_at.unloaded_low_v:
        ledger.finding(
            "wake.restart_unreachable",
            "stop",
            "wake",
            "charger",
            "A lockout is never released",
            f"Release at {set_at.restart_v:.2f} V lies above the {set_at.unloaded_low_v:.2f} V the engine holds: once locked out, "
            "even by one crank, it stays out.",
            lambda: _releasing_ways(design, solved, set_at),
        )
    if set_at.restart_v < set_at.restart_least_v - 1e-9:
        ledger.finding(
            "wake.restart_low",
            "caution",
            "wake",
            "charger",
            "Lockout releases too early",
            f"Without its load the input recovers to about {set_at.restart_least_v:.2f} V; released at {set_at.restart_v:.2f} V it chatters.",
            [way_out("Propose the release", ("activation.restart_v", None))],
        )


def _starving(solved: Solved) -> ConditionState | None:
    """The healthy condition in which the alternator is furthest over its limit, the start battery giving the rest."""
    over = [state for state in solved.healthy if state.drawn is not None and state.drawn.alternator_limited]
    return max(over, key=_given_a, default=None)


def _given_a(state: ConditionState) -> float:
    """What the start battery gives in a condition with the engine running [A]."""
    if state.drawn is None or state.source.available_a is None:
        return 0.0
    branch_a = state.run.pieces[0].extra_a if state.run.pieces else 0.0
    return state.drawn.current_a + branch_a - state.source.available_a


def _judge_starving(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Running, with more drawn than the alternator has: the lockout lets it go on until the start battery is low."""
    worst = _starving(solved)
    if worst is None or worst.drawn is None or worst.source.available_a is None:
        return
    given_a = _given_a(worst)
    ledger.finding(
        "wake.starves",
        "stop",
        "wake",
        "alternator",
        "It empties the start battery while driving",
        f"At {worst.label.lower()} the alternator has {worst.source.available_a:.0f} A left, the unit takes {worst.drawn.current_a:.0f} A: the start "
        f"battery gives {given_a:.0f} A and is down to what is kept for cranking in {60 * spare_ah(design) / given_a:.0f} min. When the "
        "lockout trips at last, it does so again after every release.",
        lambda: [less_current(design, lambda candidate: _starving(solve(candidate)) is None)],
    )


def _judge_nuisance(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    """A lockout set for light load trips at full load, when the engine stops before the unit does."""
    output, start = solved.output, design.vehicle.start_battery
    if output is None or "voltage" not in design.activation.methods:
        return
    open_v = float(solved.facts.after_stop.value)
    ohm = internal_ohm(start.chemistry, start.capacity_ah, design.vehicle.system_v) + solved.healthy[0].run.loop_ohm
    try:
        loaded_v = constant_power_volts(open_v, ohm, output.power_in_w)
    except Collapse:
        return
    delay_s = design.activation.lockout_delay_s
    loaded_v += output.power_in_w / loaded_v * set_at.lockout_ohm
    if loaded_v >= set_at.lockout_v or delay_s >= design.activation.stop_delay_s:
        return
    ledger.finding(
        "wake.lockout_nuisance",
        "note",
        "wake",
        "charger",
        "The lockout may trip before the stop",
        f"When the engine stops at full current the input falls from {open_v:.2f} V to {loaded_v:.2f} V, under the lockout of "
        f"{set_at.lockout_v:.2f} V: it trips after {delay_s:g} s instead of stopping after {design.activation.stop_delay_s:g} s, and is released at "
        f"{set_at.restart_v:.2f} V with the next start. It costs nothing; it guards cranking at light load too.",
    )


def _releases(design: Design) -> bool:
    thresholds = healthy_thresholds(design)
    return thresholds.restart_least_v + thresholds.step_v <= thresholds.unloaded_low_v


def _releasing_ways(design: Design, solved: Solved, set_at: Thresholds) -> list[WayOut | None]:
    """Ways to a release the engine reaches: the proposal where that will do, else a smaller rebound."""
    propose = ("activation.restart_v", None)
    if set_at.restart_least_v + set_at.step_v <= set_at.unloaded_low_v:
        return [way_out("Propose the release", propose)]
    index = thickest_need(design, "supply", solved.running[0].run)
    ways = [grow(design, "supply", index, _releases, "so that the release is reached"), less_current(design, _releases)]
    return [
        way_out(way.label, *((item.path, item.value) for item in way.changes), propose)
        for way in ways
        if way is not None
    ]


def _clears_lockout(design: Design) -> bool:
    thresholds = healthy_thresholds(design)
    return (
        thresholds.loaded_seen_v is not None and thresholds.loaded_seen_v > thresholds.lockout_v + thresholds.margin_v
    )


def judge_ranges(design: Design, set_at: Thresholds, ledger: Ledger) -> None:
    """Findings on thresholds and delays the unit cannot be set to.

    Args:
        design: the design.
        set_at: windows and thresholds in force.
        ledger: where findings go.
    """
    unit = design.charger
    if unit is None:
        return
    _judge_delays(design, unit, ledger)
    if unit.threshold_min_v is None or unit.threshold_max_v is None:
        _judge_fixed(design, unit, ledger)
        return
    used = [("lockout", set_at.lockout_v)]
    if "voltage" in design.activation.methods:
        used += [("start", set_at.start_v), ("stop", set_at.stop_v)]
        if set_at.at_once_v is not None:
            used.append(("start_at_once", set_at.at_once_v))
    if design.activation.restart_v is not None:
        used.append(("restart", set_at.restart_v))
    for key, volts in used:
        if not unit.threshold_min_v - 1e-9 <= volts <= unit.threshold_max_v + 1e-9:
            words = key.replace("_", " ")
            ledger.finding(
                f"wake.range.{key}",
                "stop",
                "wake",
                "charger",
                f"The unit cannot be set to this {words}",
                f"{volts:.2f} V; {unit.name} takes {unit.threshold_min_v:.1f} to {unit.threshold_max_v:.1f} V.",
                [way_out(f"Propose the {words} threshold", (f"activation.{key}_v", None))],
            )
        elif unit.threshold_step_v is not None and volts not in (unit.threshold_min_v, unit.threshold_max_v):
            _judge_step(key, volts, unit.threshold_step_v, unit, ledger)


def _judge_fixed(design: Design, unit: Charger, ledger: Ledger) -> None:
    """A unit whose thresholds nobody can set: what it has counts, and has to be known."""
    chosen, own, by_volts = design.activation, unit.behaviour, "voltage" in design.activation.methods
    rows = (
        ("start", chosen.start_v, own.fixed_start_v, by_volts),
        ("stop", chosen.stop_v, own.fixed_stop_v, by_volts),
        ("lockout", chosen.lockout_v, own.fixed_lockout_v or unit.input_min_v, True),
        ("restart", chosen.restart_v, own.fixed_restart_v, True),
    )
    for key, typed, fixed, used in rows:
        if used and typed is not None and (fixed is None or abs(typed - fixed) > 1e-6):
            ledger.finding(
                f"wake.range.{key}",
                "stop",
                "wake",
                "charger",
                f"The unit cannot be set to this {key}",
                f"{typed:.2f} V; {unit.name} has no {key} to set"
                + (f", it is fixed at {fixed:.2f} V." if fixed is not None else "."),
                [way_out(f"Leave the {key} to the unit", (f"activation.{key}_v", None))],
            )
    if by_volts and (own.fixed_start_v is None or own.fixed_stop_v is None):
        ledger.finding(
            "wake.thresholds_unknown",
            "caution",
            "wake",
            "charger",
            "Nobody knows where this unit starts and stops",
            f"{unit.name} detects the running engine by volts of its own, and the shelf does not say which. Enter start and stop "
            "from its manual in its behaviour record; what is judged here is only a guess.",
        )


def _judge_step(key: str, volts: float, step_v: float, unit: Charger, ledger: Ledger) -> None:
    """A threshold typed in between two steps cannot be keyed in; what is would be another one."""
    settable_v = round(round(volts / step_v) * step_v, 4)
    if abs(settable_v - volts) < 1e-6:
        return
    words = key.replace("_", " ")
    ledger.finding(
        f"wake.step.{key}",
        "caution",
        "wake",
        "charger",
        f"The unit has no step at this {words}",
        f"{volts:.3f} V lies between two steps; {unit.name} is set in steps of {step_v:g} V.",
        [way_out(f"Set it to {settable_v:.2f} V", (f"activation.{key}_v", settable_v))],
    )


def _judge_delays(design: Design, unit: Charger, ledger: Ledger) -> None:
    """Delays against what the unit's manual says it can be set to."""
    chosen = design.activation
    rows = (
        ("start", chosen.start_delay_s, unit.behaviour.start_delay_max_s),
        ("stop", chosen.stop_delay_s, unit.behaviour.stop_delay_max_s),
    )
    for key, seconds, most_s in rows:
        if most_s is not None and seconds > most_s:
            ledger.finding(
                f"wake.range.{key}_delay",
                "stop",
                "wake",
                "charger",
                f"The unit cannot wait that long to {key}",
                f"{seconds:g} s; {unit.name} takes up to {most_s:g} s.",
                [way_out(f"Delay the {key} by {most_s:g} s", (f"activation.{key}_delay_s", most_s))],
            )
