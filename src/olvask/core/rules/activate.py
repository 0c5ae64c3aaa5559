"""Activate: start, stop and lockout at the charger's terminals, and by which signal.

- `set_thresholds`: windows and the thresholds in force, chosen or proposed.
- `judge_activation`: figures and findings on them.
- `ladder_bands`: the same for the voltage ladder.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from olvask.core.assessment import Band, Threshold, WakeBands, WayOut
from olvask.core.circuit import ConditionState, Solved, solve
from olvask.core.ledger import Ledger, way_out
from olvask.core.model import Design
from olvask.core.model.charger import Method
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.rules.cables import grow, thickest_need
from olvask.core.rules.match import turn_down

DEFAULT_STEP_V = 0.05
LOW_PHASE_S = 120.0  # longest low phase when not surveyed
ENABLE_FOR: dict[Method, str] = {
    "ignition": "ignition",
    "d_plus": "d_plus",
    "switch": "remote",
    "link": "remote",
    "voltage": "voltage",
}
METHOD_LABEL: dict[Method, str] = {
    "ignition": "ignition feed (15)",
    "d_plus": "charge indicator (D+, 61)",
    "switch": "manual switch",
    "link": "bridge link",
    "voltage": "engine-run detection by voltage",
}


@dataclass(frozen=True, slots=True)
class Thresholds:
    """Windows and thresholds in force, all at the charger's terminals [V]."""

    rest_high_v: float
    unloaded_low_v: float
    loaded_low_v: float | None
    loaded_phase_v: float | None
    margin_v: float
    start_high_v: float
    stop_high_v: float | None
    start_v: float
    stop_v: float
    lockout_v: float
    restart_v: float
    restart_least_v: float
    rides_low_phase: bool
    low_phase_s: float
    step_v: float

    @property
    def floor_v(self) -> float:
        """Lower edge of both windows."""
        return self.rest_high_v + self.margin_v


def _terminal_v(state: ConditionState) -> float | None:
    return state.drawn.terminal_v if state.drawn is not None else None


def _up(volts: float, step_v: float) -> float:
    return round(math.ceil(volts / step_v - 1e-9) * step_v, 4)


def _down(volts: float, step_v: float) -> float:
    return round(math.floor(volts / step_v + 1e-9) * step_v, 4)


def _within(low_v: float, high_v: float | None, step_v: float) -> float:
    """Middle of a window on the unit's step, never below its lower edge."""
    if high_v is None or high_v < low_v:
        return _up(low_v, step_v)
    return max(_up(low_v, step_v), _down((low_v + high_v) / 2, step_v))


def set_thresholds(design: Design, solved: Solved) -> Thresholds:
    """Work out windows from the survey and settle every threshold, as chosen or proposed."""
    facts, activation, unit = solved.facts, design.activation, design.charger
    margin_v = float(facts.margin.value)
    step_v = (unit.threshold_step_v if unit is not None else None) or DEFAULT_STEP_V * facts.scale
    healthy = solved.healthy
    phase = solved.running_by_key("low")
    unloaded_v = min(state.source.regulated_v for state in healthy)
    loaded = [_terminal_v(state) for state in healthy]
    loaded_v = None if any(volts is None for volts in loaded) else min(volts for volts in loaded if volts is not None)
    phase_v = _terminal_v(phase) if phase is not None else None
    phase_s = design.vehicle.readings.low_phase_s
    longest_s = LOW_PHASE_S if phase_s is None else phase_s
    rides = phase is None or activation.stop_delay_s > longest_s
    floor_v = facts.rest_high_v + margin_v
    start_high_v = unloaded_v - margin_v
    stop_high_v = loaded_v - margin_v if loaded_v is not None else None
    if stop_high_v is not None and not rides and phase_v is not None and phase_v - margin_v >= floor_v:
        stop_high_v = min(stop_high_v, phase_v - margin_v)  # a low phase that lies above rest can be lived with
    stop_v = activation.stop_v if activation.stop_v is not None else _within(floor_v, stop_high_v, step_v)
    start_v = (
        activation.start_v if activation.start_v is not None else max(_within(floor_v, start_high_v, step_v), stop_v)
    )
    start = design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, design.choices.keep_state_of_charge, design.vehicle.system_v)
    adjustable = unit is not None and unit.threshold_min_v is not None
    lockout_v = activation.lockout_v
    if lockout_v is None:
        lockout_v = _down(keep_v, step_v) if adjustable or unit is None else unit.input_min_v
    power_w = solved.output.power_in_w if solved.output is not None else 0.0
    source_ohm = internal_ohm(start.chemistry, start.capacity_ah, design.vehicle.system_v) + healthy[0].run.loop_ohm
    restart_least_v = lockout_v + power_w / lockout_v * source_ohm + margin_v
    restart_v = activation.restart_v if activation.restart_v is not None else _up(restart_least_v, step_v)
    return Thresholds(
        facts.rest_high_v,
        unloaded_v,
        loaded_v,
        phase_v,
        margin_v,
        start_high_v,
        stop_high_v,
        start_v,
        stop_v,
        lockout_v,
        restart_v,
        restart_least_v,
        rides,
        longest_s,
        step_v,
    )


def hold_voltage(design: Design, thresholds: Thresholds) -> float:
    """Lowest voltage [V] at which the unit keeps working: its lockout, or its own lowest input above that."""
    unit = design.charger
    return thresholds.lockout_v if unit is None else max(unit.input_min_v, thresholds.lockout_v)


def judge_activation(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    """Figures and findings of the Wake stage.

    Args:
        design: the design.
        solved: its circuit.
        set_at: windows and thresholds in force.
        ledger: where figures and findings go.
    """
    _figures(solved, set_at, ledger)
    unit, methods = design.charger, design.activation.methods
    if unit is None or solved.output is None:
        return
    _judge_methods(design, ledger)
    _judge_lockout(design, solved, set_at, ledger)
    if "voltage" in methods:
        _judge_start(design, set_at, ledger)
        _judge_stop(design, solved, set_at, ledger)
        _judge_low_phase(design, solved, set_at, ledger)
    _judge_ranges(design, set_at, ledger)


def _figures(solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
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
    for name, label, value in (
        ("wake.start_v", "Start threshold", set_at.start_v),
        ("wake.stop_v", "Stop threshold", set_at.stop_v),
        ("wake.lockout_v", "Lockout", set_at.lockout_v),
        ("wake.restart_v", "Lockout release", set_at.restart_v),
    ):
        ledger.figure(
            name,
            label,
            value,
            "V",
            formula="as set, or proposed from the windows",
            working=f"{value:.2f} V",
            source="design",
        )


def signals_at_hand(design: Design) -> list[Method]:
    """Signal methods both the vehicle and the unit have, surest first."""
    unit, signals = design.charger, design.vehicle.signals
    if unit is None:
        return []
    offered: list[tuple[Method, bool]] = [("d_plus", signals.d_plus), ("ignition", signals.ignition)]
    return [method for method, present in offered if present and ENABLE_FOR[method] in unit.enables]


def _signal_way(design: Design) -> WayOut | None:
    signals = signals_at_hand(design)
    if not signals:
        return None
    return way_out(f"Use the {METHOD_LABEL[signals[0]]} instead of voltage", ("activation.methods", [signals[0]]))


def _judge_methods(design: Design, ledger: Ledger) -> None:
    unit, methods, signals = design.charger, design.activation.methods, design.vehicle.signals
    if unit is None:
        return
    if not methods:
        possible = signals_at_hand(design) or (["voltage"] if "voltage" in unit.enables else ["link"])
        ledger.finding(
            "wake.no_method",
            "stop",
            "wake",
            "charger",
            "Nothing lets it charge",
            "A unit with no enable connected does nothing: the commonest call for a dead unit.",
            [way_out(f"Use the {METHOD_LABEL[possible[0]]}", ("activation.methods", [possible[0]]))],
        )
    for method in methods:
        if ENABLE_FOR[method] not in unit.enables:
            ledger.finding(
                f"wake.unsupported.{method}",
                "stop",
                "wake",
                "charger",
                f"The unit has no {METHOD_LABEL[method]}",
                f"{unit.name} takes: {', '.join(unit.enables) or 'no enable at all'}.",
                [_signal_way(design)],
            )
        absent = (method == "ignition" and not signals.ignition) or (method == "d_plus" and not signals.d_plus)
        if absent:
            ledger.finding(
                f"wake.signal_absent.{method}",
                "caution",
                "wake",
                "charger",
                f"No {METHOD_LABEL[method]} surveyed",
                "The design counts on a signal the survey does not list. Find it and note it, or choose another way.",
                [way_out("It is there: note it in the survey", (f"vehicle.signals.{method}", True))],
            )
    if methods == ("ignition",) or methods == ("link",) or methods == ("switch",):
        ledger.finding(
            f"wake.lockout_guards.{methods[0]}",
            "note",
            "wake",
            "charger",
            f"Lockout guards the {METHOD_LABEL[methods[0]]}",
            "It may be on with the engine stopped; then only the lockout keeps charge for cranking.",
        )


def _judge_start(design: Design, set_at: Thresholds, ledger: Ledger) -> None:
    start_v = set_at.start_v
    repair = way_out("Propose the start threshold from the window", ("activation.start_v", None))
    ways = [repair if design.activation.start_v is not None else None, _signal_way(design)]
    if start_v >= set_at.unloaded_low_v:
        ledger.finding(
            "wake.never_starts",
            "stop",
            "wake",
            "charger",
            "It does not start",
            f"Start at {start_v:.2f} V, but the lowest running voltage is {set_at.unloaded_low_v:.2f} V.",
            ways,
        )
    elif start_v <= set_at.rest_high_v:
        ledger.finding(
            "wake.starts_parked",
            "stop",
            "wake",
            "charger",
            "It starts with the engine off",
            f"Start at {start_v:.2f} V lies under the {set_at.rest_high_v:.2f} V seen engine off: it empties the start battery.",
            ways,
        )
    elif start_v > set_at.start_high_v + 1e-9 or start_v < set_at.floor_v - 1e-9:
        ledger.finding(
            "wake.start_tight",
            "caution",
            "wake",
            "charger",
            "Start threshold is tight",
            f"{start_v:.2f} V stands {start_v - set_at.rest_high_v:.2f} V above rest and {set_at.unloaded_low_v - start_v:.2f} V below "
            f"running; {set_at.margin_v:.2f} V either side is wanted.",
            ways,
        )


def _stop_window_open(set_at: Thresholds) -> bool:
    return set_at.stop_high_v is not None and set_at.stop_high_v >= set_at.floor_v


def _healthy(design: Design, like: Solved | None = None) -> Thresholds:
    """Thresholds of a design like the solved one but for its supply run, low phases left aside."""
    return set_thresholds(design, solve(design, like, only=("cruise",)))


def _opening_ways(design: Design, solved: Solved) -> list[WayOut | None]:
    """Ways to open the stop window: a signal, more copper, less current."""
    bare = design.model_copy(
        update={"activation": design.activation.model_copy(update={"stop_v": None, "start_v": None})}
    )
    cable = grow(
        bare,
        "supply",
        thickest_need(design, "supply", solved.running[0].run),
        lambda candidate: _stop_window_open(_healthy(candidate, solved)),
        "to open the stop window",
    )
    if cable is not None:
        cable = way_out(
            cable.label,
            *((item.path, item.value) for item in cable.changes),
            ("activation.stop_v", None),
            ("activation.start_v", None),
        )
    return [_signal_way(design), cable, _less_current(bare, lambda candidate: _stop_window_open(_healthy(candidate)))]


def _less_current(design: Design, opens: Callable[[Design], bool]) -> WayOut | None:
    unit = design.charger
    if unit is None or unit.current_limit == "none":
        return None
    if unit.current_limit == "steps":
        choices = sorted(unit.limit_steps_a, reverse=True)
    else:
        lowest = math.ceil(unit.limit_min_a or 1)
        choices = [float(amps) for amps in range(int(unit.output_a) - 1, lowest - 1, -1)]
    low, high = 0, len(choices)
    while low < high:
        middle = (low + high) // 2
        if opens(design.model_copy(update={"current_limit_a": choices[middle]})):
            high = middle
        else:
            low = middle + 1
    if low == len(choices):
        return None
    remedy = turn_down(unit, choices[low])
    return remedy and way_out(
        remedy.label,
        *((item.path, item.value) for item in remedy.changes),
        ("activation.stop_v", None),
        ("activation.start_v", None),
    )


def _judge_stop(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    stop_v, loaded_v = set_at.stop_v, set_at.loaded_low_v
    repair = (
        way_out("Propose the stop threshold from the window", ("activation.stop_v", None))
        if design.activation.stop_v is not None
        else None
    )
    if stop_v > set_at.start_v:
        ledger.finding(
            "wake.stop_above_start",
            "stop",
            "wake",
            "charger",
            "Stop lies above start",
            f"Stop {stop_v:.2f} V, start {set_at.start_v:.2f} V: it stops as soon as it starts.",
            [repair],
        )
    if stop_v <= set_at.rest_high_v:
        ledger.finding(
            "wake.never_stops",
            "stop",
            "wake",
            "charger",
            "It does not stop",
            f"Stop at {stop_v:.2f} V lies under the unloaded {set_at.rest_high_v:.2f} V engine off: once charging has tapered "
            "nothing sags, and it drains the start battery to the lockout.",
            [repair, _signal_way(design)],
        )
    if loaded_v is None:
        return
    if stop_v > loaded_v:
        ledger.finding(
            "wake.hunts",
            "stop",
            "wake",
            "charger",
            "It hunts",
            f"Full current pulls the terminals to {loaded_v:.2f} V, under the {stop_v:.2f} V stop: it starts, sags its own input, "
            "stops, recovers and starts again. A longer delay only makes that slower.",
            [repair if _stop_window_open(set_at) else None, *_opening_ways(design, solved)],
        )
    elif stop_v > loaded_v - set_at.margin_v + 1e-9 or set_at.rest_high_v < stop_v < set_at.floor_v - 1e-9:
        ledger.finding(
            "wake.stop_tight",
            "caution",
            "wake",
            "charger",
            "Stop threshold is tight",
            f"{stop_v:.2f} V stands {stop_v - set_at.rest_high_v:.2f} V above rest and {loaded_v - stop_v:.2f} V under the loaded "
            f"running voltage; {set_at.margin_v:.2f} V either side is wanted.",
            [repair if _stop_window_open(set_at) else None, *_opening_ways(design, solved)],
        )


def _judge_low_phase(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    phase = solved.running_by_key("low")
    if phase is None or set_at.loaded_phase_v is None:
        return
    phase_v = set_at.loaded_phase_v
    current_a = phase.drawn.current_a if phase.drawn is not None else 0.0
    if set_at.rides_low_phase:
        cost_ah = current_a * design.activation.stop_delay_s / 3600
        ledger.finding(
            "wake.rides_low_phase",
            "caution" if phase_v <= set_at.lockout_v else "note",
            "wake",
            "charger",
            "The lockout trips in the low phase" if phase_v <= set_at.lockout_v else "It rides through the low phase",
            f"{phase_v:.2f} V at the charger in the low phase, lockout {set_at.lockout_v:.2f} V. The long stop delay costs the start "
            f"battery up to {cost_ah:.1f} Ah after every engine stop.",
            [_signal_way(design)],
        )
    elif phase_v <= set_at.stop_v:
        longer_s = set_at.low_phase_s + 30
        delay = (
            way_out(f"Delay the stop to {longer_s:.0f} s", ("activation.stop_delay_s", longer_s))
            if phase_v > set_at.lockout_v
            else None
        )
        ledger.finding(
            "wake.low_phase",
            "caution",
            "wake",
            "charger",
            "It stops in the low phase",
            f"The charger sees {phase_v:.2f} V in the low phase and stops below {set_at.stop_v:.2f} V. It stops and starts while driving.",
            [_signal_way(design), delay],
        )


def _judge_lockout(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    repair = (
        way_out("Propose the lockout from the charge to keep", ("activation.lockout_v", None))
        if design.activation.lockout_v is not None
        else None
    )
    loaded_v = set_at.loaded_low_v
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
            f"Full current pulls the terminals to {loaded_v:.2f} V; lockout is {set_at.lockout_v:.2f} V.",
            [
                repair,
                grow(
                    design,
                    "supply",
                    thickest_need(design, "supply", solved.running[0].run),
                    _clears_lockout,
                    "to clear the lockout",
                ),
                _less_current(design, _clears_lockout),
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
    if set_at.restart_v > set_at.unloaded_low_v:
        index = thickest_need(design, "supply", solved.running[0].run)
        ledger.finding(
            "wake.restart_unreachable",
            "stop",
            "wake",
            "charger",
            "A lockout is never released",
            f"Release at {set_at.restart_v:.2f} V lies above the {set_at.unloaded_low_v:.2f} V the engine holds: once locked out, "
            "even by one crank, it stays out.",
            [
                way_out("Propose the release", ("activation.restart_v", None))
                if design.activation.restart_v is not None
                else None,
                grow(design, "supply", index, _releases, "so that the release is reached"),
                _less_current(design, _releases),
            ],
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


def _releases(design: Design) -> bool:
    thresholds = _healthy(design)
    return thresholds.restart_least_v + thresholds.step_v <= thresholds.unloaded_low_v


def _clears_lockout(design: Design) -> bool:
    thresholds = _healthy(design)
    return thresholds.loaded_low_v is not None and thresholds.loaded_low_v > thresholds.lockout_v + thresholds.margin_v


def _judge_ranges(design: Design, set_at: Thresholds, ledger: Ledger) -> None:
    unit = design.charger
    if unit is None or unit.threshold_min_v is None or unit.threshold_max_v is None:
        return
    used = [("lockout", set_at.lockout_v)]
    if "voltage" in design.activation.methods:
        used += [("start", set_at.start_v), ("stop", set_at.stop_v)]
    for key, volts in used:
        if not unit.threshold_min_v - 1e-9 <= volts <= unit.threshold_max_v + 1e-9:
            ledger.finding(
                f"wake.range.{key}",
                "stop",
                "wake",
                "charger",
                f"The unit cannot be set to this {key}",
                f"{volts:.2f} V; {unit.name} takes {unit.threshold_min_v:.1f} to {unit.threshold_max_v:.1f} V.",
                [way_out(f"Propose the {key} threshold", (f"activation.{key}_v", None))],
            )


def _window(low_v: float, high_v: float | None) -> Band | None:
    return Band(low_v=low_v, high_v=high_v) if high_v is not None and high_v >= low_v else None


def ladder_bands(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> WakeBands:
    """Bands, windows and thresholds for the voltage ladder, verdicts from the findings."""
    facts, activation = solved.facts, design.activation
    healthy = solved.healthy
    phase = solved.running_by_key("low")
    loaded = [volts for state in healthy if (volts := _terminal_v(state)) is not None]
    by_level = {
        key: [item.level for item in ledger.findings if item.id in names]
        for key, names in {
            "start": ("wake.never_starts", "wake.starts_parked", "wake.start_tight", "wake.range.start"),
            "stop": (
                "wake.never_stops",
                "wake.hunts",
                "wake.stop_tight",
                "wake.stop_above_start",
                "wake.range.stop",
                "wake.low_phase",
            ),
            "lockout": ("wake.lockout_above_stop", "wake.locked_out_running", "wake.lockout_low", "wake.range.lockout"),
            "restart": ("wake.restart_low", "wake.restart_unreachable"),
        }.items()
    }

    def threshold(key: str, label: str, value_v: float, chosen: float | None, margin_text: str) -> Threshold:
        levels = by_level[key]
        verdict = "wrong" if "stop" in levels else "tight" if "caution" in levels else "good"
        return Threshold.model_validate(
            {
                "key": key,
                "label": label,
                "value_v": value_v,
                "proposed": chosen is None,
                "verdict": verdict,
                "margin_text": margin_text,
            }
        )

    above_rest = f"{set_at.stop_v - set_at.rest_high_v:.2f} V above rest"
    under_run = f"{set_at.unloaded_low_v - set_at.start_v:.2f} V under running"
    return WakeBands(
        rest=Band(low_v=min(float(facts.rest.value), float(facts.after_stop.value)), high_v=set_at.rest_high_v),
        unloaded=Band(low_v=set_at.unloaded_low_v, high_v=max(state.source.regulated_v for state in healthy)),
        loaded=Band(low_v=min(loaded), high_v=max(loaded)) if len(loaded) == len(healthy) else None,
        low_phase=None
        if phase is None
        else Band(
            low_v=phase.source.regulated_v if phase.drawn is None else phase.drawn.terminal_v,
            high_v=phase.source.regulated_v,
        ),
        start_window=_window(set_at.floor_v, set_at.start_high_v),
        stop_window=_window(set_at.floor_v, set_at.stop_high_v),
        thresholds=(
            threshold("start", "Start", set_at.start_v, activation.start_v, under_run),
            threshold("stop", "Stop", set_at.stop_v, activation.stop_v, above_rest),
            threshold(
                "restart", "Release", set_at.restart_v, activation.restart_v, f"least {set_at.restart_least_v:.2f} V"
            ),
            threshold(
                "lockout",
                "Lockout",
                set_at.lockout_v,
                activation.lockout_v,
                f"keeps {design.choices.keep_state_of_charge:.0%} to crank",
            ),
        ),
        step_v=set_at.step_v,
        voltage_used="voltage" in activation.methods,
    )
