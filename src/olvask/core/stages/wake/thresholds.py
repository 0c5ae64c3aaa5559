"""Start, stop and lockout thresholds at the charger's terminals: windows, proposals, the voltage ladder.

- `set_thresholds`: windows and the thresholds in force, chosen or proposed.
- `step_up`, `step_down`: to the unit's steps.
- `ladder_bands`: the same for the voltage ladder, with the verdicts of the findings.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from olvask.core.circuit.solve import ConditionState, Solved
from olvask.core.findings.assessment import Band, Threshold, ThresholdKey, WakeBands
from olvask.core.findings.collector import Ledger
from olvask.core.model import Design
from olvask.core.model.charger import Behaviour
from olvask.core.physics.battery import charge_at_rest, internal_ohm, open_circuit_v
from olvask.core.physics.dc_path import Collapse, constant_power_volts

DEFAULT_STEP_V = 0.05
LOW_PHASE_S = 120.0  # longest low phase when not surveyed
THRESHOLD_FINDINGS: dict[ThresholdKey, tuple[str, ...]] = {
    "at_once": (
        "wake.at_once_parked",
        "wake.at_once_tight",
        "wake.at_once_under_start",
        "wake.at_once_never",
        "wake.range.start_at_once",
        "wake.step.start_at_once",
    ),
    "start": (
        "wake.never_starts",
        "wake.starts_parked",
        "wake.start_tight",
        "wake.hunts_in_phase",
        "wake.range.start",
        "wake.step.start",
    ),
    "stop": (
        "wake.never_stops",
        "wake.hunts",
        "wake.stop_tight",
        "wake.stop_above_start",
        "wake.range.stop",
        "wake.step.stop",
        "wake.low_phase",
        "wake.hunts_in_phase",
    ),
    "lockout": (
        "wake.lockout_above_stop",
        "wake.locked_out_running",
        "wake.lockout_low",
        "wake.range.lockout",
        "wake.step.lockout",
    ),
    "restart": ("wake.restart_low", "wake.restart_unreachable", "wake.range.restart", "wake.step.restart"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Thresholds:
    """Windows and thresholds in force, all at the charger's terminals [V].

    A unit that allows for its own draw judges the lockout on V + I·R, R being `lockout_ohm`, the supply run: volts at the
    posts. The battery's own sag is left to count, for an alternator at its limit would hide it. Of any other unit it is
    zero. `loaded_seen_v` and `phase_seen_v` are loaded volts as the lockout has them; `rebound_ohm` is what the input
    springs back through when the load goes.
    """

    rest_high_v: float
    unloaded_low_v: float
    loaded_low_v: float | None
    loaded_phase_v: float | None
    unloaded_phase_v: float | None
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
    at_once_v: float | None
    unloaded_high_v: float
    input_w: float
    rebound_ohm: float
    lockout_ohm: float
    loaded_seen_v: float | None
    phase_seen_v: float | None

    @property
    def at_once_proposal_v(self) -> float | None:
        """A start without delay worth setting: reached at the highest running volts, not at the lowest.

        `None` where running volts lie too close together for that: it would start at once always, or never.
        """
        volts = step_down(self.unloaded_high_v - self.margin_v, self.step_v)
        return volts if volts > max(self.unloaded_low_v, self.start_v) + 1e-9 else None

    @property
    def earliest_start_v(self) -> float:
        """The lower of the two starts."""
        return self.start_v if self.at_once_v is None else min(self.start_v, self.at_once_v)

    @property
    def floor_v(self) -> float:
        """Lower edge of both windows."""
        return self.rest_high_v + self.margin_v

    @property
    def stops_in_phase(self) -> bool:
        """Whether the sag in a low phase reaches the stop threshold, and the delay does not outlast the phase."""
        return not self.rides_low_phase and self.loaded_phase_v is not None and self.loaded_phase_v <= self.stop_v

    @property
    def hunts_in_phase(self) -> bool:
        """Whether it also starts again within the phase: relieved of its load, the input is back over the start."""
        return (
            self.stops_in_phase and self.unloaded_phase_v is not None and self.earliest_start_v <= self.unloaded_phase_v
        )


def _terminal_v(state: ConditionState) -> float | None:
    return state.drawn.terminal_v if state.drawn is not None else None


def _lowest(volts: Iterable[float | None]) -> float | None:
    """The lowest, or `None` where the run collapses in any."""
    known = list(volts)
    return None if None in known else min(value for value in known if value is not None)


def _seen_v(state: ConditionState, lockout_ohm: float) -> float | None:
    return state.drawn.terminal_v + state.drawn.current_a * lockout_ohm if state.drawn is not None else None


def step_up(volts: float, step_v: float) -> float:
    """The unit's step at or above a voltage [V]."""
    return round(math.ceil(volts / step_v - 1e-9) * step_v, 4)


def step_down(volts: float, step_v: float) -> float:
    """The unit's step at or below a voltage [V]."""
    return round(math.floor(volts / step_v + 1e-9) * step_v, 4)


def _within(low_v: float, high_v: float | None, step_v: float) -> float:
    """Middle of a window on the unit's step, never below its lower edge."""
    if high_v is None or high_v < low_v:
        return step_up(low_v, step_v)
    return max(step_up(low_v, step_v), step_down((low_v + high_v) / 2, step_v))


def _first(chosen: float | None, fixed: float | None, proposed: float) -> float:
    """A threshold as typed in, or as the unit has it, or as proposed."""
    return chosen if chosen is not None else fixed if fixed is not None else proposed


def _clear_of(below_v: float, margin_v: float, wanted_high_v: float, step_v: float) -> float:
    """A setting above a voltage: by the margin where a window's upper edge leaves room, by a step at least."""
    return max(
        step_up(below_v + step_v, step_v), min(step_up(below_v + margin_v, step_v), step_down(wanted_high_v, step_v))
    )


def set_thresholds(design: Design, solved: Solved) -> Thresholds:
    """Work out windows from the survey and settle every threshold, as chosen or proposed."""
    facts, activation, unit = solved.facts, design.activation, design.charger
    margin_v = float(facts.margin.value)
    step_v = (unit.threshold_step_v if unit is not None else None) or DEFAULT_STEP_V * facts.scale
    healthy = solved.healthy
    phase = solved.running_by_key("low")
    unloaded_v = min(state.source.regulated_v for state in healthy)
    loaded_v = _lowest(_terminal_v(state) for state in healthy)
    phase_v = _terminal_v(phase) if phase is not None else None
    phase_s = design.vehicle.readings.low_phase_s
    longest_s = LOW_PHASE_S if phase_s is None else phase_s
    rides = phase is None or activation.stop_delay_s > longest_s

    def in_range(volts: float) -> float:
        """What the unit can be set to, nearest to a proposal."""
        if unit is None or unit.threshold_min_v is None or unit.threshold_max_v is None:
            return volts
        return min(max(volts, unit.threshold_min_v), unit.threshold_max_v)

    floor_v = facts.rest_high_v + margin_v
    start_high_v = unloaded_v - margin_v
    stop_high_v = loaded_v - margin_v if loaded_v is not None else None
    if stop_high_v is not None and not rides and phase_v is not None and phase_v - margin_v >= floor_v:
        stop_high_v = min(stop_high_v, phase_v - margin_v)  # a low phase that lies above rest can be lived with
    fixed = unit.fixed if unit is not None else Behaviour()
    stop_v = _first(activation.stop_v, fixed.fixed_stop_v, in_range(_within(floor_v, stop_high_v, step_v)))
    proposed_start_v = max(_within(floor_v, start_high_v, step_v), stop_v)
    phase_open_v = phase.source.regulated_v if phase is not None else None
    if phase_open_v is not None and not rides and phase_v is not None and phase_v <= stop_v:
        clear_v = _clear_of(phase_open_v, margin_v, start_high_v, step_v)  # else it starts again within the phase
        proposed_start_v = max(proposed_start_v, clear_v) if clear_v < unloaded_v else proposed_start_v
    proposed_start_v = in_range(proposed_start_v)
    start_v = _first(activation.start_v, fixed.fixed_start_v, proposed_start_v)
    start = design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, design.choices.keep_state_of_charge, design.vehicle.system_v)
    lowest_v = in_range(step_down(keep_v, step_v)) if unit is None or unit.adjustable else unit.input_min_v
    lockout_v = _first(activation.lockout_v, fixed.fixed_lockout_v, lowest_v)
    power_w = solved.output.power_in_w if solved.output is not None else 0.0
    lockout_ohm = healthy[0].run.loop_ohm if unit is not None and unit.behaviour.lockout_compensated else 0.0
    inner_ohm = internal_ohm(start.chemistry, start.capacity_ah, design.vehicle.system_v)
    rebound_ohm = inner_ohm + healthy[0].run.loop_ohm - lockout_ohm
    restart_least_v = lockout_v + power_w / lockout_v * rebound_ohm + margin_v
    restart_v = _first(activation.restart_v, fixed.fixed_restart_v, in_range(step_up(restart_least_v, step_v)))
    return Thresholds(
        rest_high_v=facts.rest_high_v,
        unloaded_low_v=unloaded_v,
        loaded_low_v=loaded_v,
        loaded_phase_v=phase_v,
        unloaded_phase_v=phase_open_v,
        margin_v=margin_v,
        start_high_v=start_high_v,
        stop_high_v=stop_high_v,
        start_v=start_v,
        stop_v=stop_v,
        lockout_v=lockout_v,
        restart_v=restart_v,
        restart_least_v=restart_least_v,
        rides_low_phase=rides,
        low_phase_s=longest_s,
        step_v=step_v,
        at_once_v=activation.start_at_once_v,
        unloaded_high_v=max(state.source.regulated_v for state in healthy),
        input_w=power_w,
        rebound_ohm=rebound_ohm,
        lockout_ohm=lockout_ohm,
        loaded_seen_v=_lowest(_seen_v(state, lockout_ohm) for state in healthy),
        phase_seen_v=_seen_v(phase, lockout_ohm) if phase is not None else None,
    )


def hold_voltage(design: Design, thresholds: Thresholds) -> float:
    """Lowest voltage [V] at which the unit keeps working: where its lockout trips, or its own lowest input above that."""
    unit, trips_v = design.charger, thresholds.lockout_v
    if unit is None:
        return trips_v
    if thresholds.lockout_ohm > 0:
        try:
            trips_v = constant_power_volts(trips_v, thresholds.lockout_ohm, thresholds.input_w)
        except Collapse:
            return unit.input_min_v
    return max(unit.input_min_v, trips_v)


def _window(low_v: float, high_v: float | None) -> Band | None:
    return Band(low_v=low_v, high_v=high_v) if high_v is not None and high_v >= low_v else None


def _at_once(set_at: Thresholds, threshold: Callable[..., Threshold]) -> tuple[Threshold, ...]:
    """The start without delay, where one is set."""
    if set_at.at_once_v is None:
        return ()
    words = f"{set_at.at_once_v - set_at.rest_high_v:.2f} V above rest"
    return (threshold("at_once", "At once", set_at.at_once_v, set_at.at_once_v, words),)


def ladder_bands(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> WakeBands:
    """Bands, windows and thresholds for the voltage ladder, verdicts from the findings."""
    facts, activation, start = solved.facts, design.activation, design.vehicle.start_battery
    healthy = solved.healthy
    phase = solved.running_by_key("low")
    loaded = [volts for state in healthy if (volts := _terminal_v(state)) is not None]
    by_level: dict[ThresholdKey, list[str]] = {
        key: [item.level for item in ledger.findings if item.id in names] for key, names in THRESHOLD_FINDINGS.items()
    }

    def threshold(key: ThresholdKey, label: str, value_v: float, chosen: float | None, margin_text: str) -> Threshold:
        levels = by_level[key]
        return Threshold(
            key=key,
            label=label,
            value_v=value_v,
            proposed=chosen is None,
            verdict="wrong" if "stop" in levels else "tight" if "caution" in levels else "good",
            margin_text=margin_text,
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
            *_at_once(set_at, threshold),
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
                f"keeps {charge_at_rest(start.chemistry, set_at.lockout_v, design.vehicle.system_v):.0%} to crank",
            ),
        ),
        step_v=set_at.step_v,
        at_once_proposal_v=set_at.at_once_proposal_v,
        voltage_used="voltage" in activation.methods,
        adjustable=design.charger is None or design.charger.adjustable,
    )
