"""Windows from the survey, and the start rules, stop rules and battery guard in force, all at the unit's input.

- `set_thresholds`: settles every one, as entered, fixed in the unit or proposed.
- `hold_voltage`: lowest voltage the unit keeps working at.
- `step_up`, `step_down`: to the unit's steps.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from olvask.core.circuit.solve import ConditionState, Solved
from olvask.core.model import Charger, Design, GuardRecord, StartRecord, StopRecord
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.dc_path import Collapse, constant_power_volts
from olvask.core.physics.rounding import over, under

DEFAULT_STEP_V: Final = 0.05  # per 12 V, where the unit's record says none; our own estimate
LOW_PHASE_S: Final = 120.0  # longest low phase when not surveyed; our own estimate


@dataclass(frozen=True, slots=True)
class Rule:
    """One start or stop rule in force: volts [V], and how long they must be held [s]."""

    volts: float
    held_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Thresholds:
    """Windows and rules in force, all at the unit's input terminals [V].

    A unit that allows for its own draw judges its guard on V + I·R, R being `guard_ohm`, the supply run: volts at the
    posts. The battery's own sag is left to count, for an alternator at its limit would hide it. Of any other unit it is
    zero. `loaded_seen_v` and `phase_seen_v` are loaded volts as the guard has them; `rebound_ohm` is what the input
    springs back through when the load goes. Where the rules act `beside_signal`, one that keeps it off parked, they need not
    stand clear of the volts seen with the engine off: they are proposed so where that leaves room.
    """

    rest_high_v: float
    beside_signal: bool
    unloaded_low_v: float
    unloaded_high_v: float
    loaded_low_v: float | None
    loaded_phase_v: float | None
    unloaded_phase_v: float | None
    margin_v: float
    start_high_v: float
    stop_high_v: float | None
    start_rules: tuple[Rule, ...]
    stop_rules: tuple[Rule, ...]
    guard_v: float
    back_v: float
    back_least_v: float
    rides_low_phase: bool
    low_phase_s: float
    step_v: float
    input_w: float
    rebound_ohm: float
    guard_ohm: float
    loaded_seen_v: float | None
    phase_seen_v: float | None

    @property
    def start_v(self) -> float:
        """Volts of the first start rule."""
        return self.start_rules[0].volts

    @property
    def stop_v(self) -> float:
        """The highest stop: the first that falling volts come past."""
        return max(rule.volts for rule in self.stop_rules)

    @property
    def quick_start_proposal_v(self) -> float | None:
        """A second start rule without delay that is worth setting: met at the highest running volts, not at the lowest.

        `None` where running volts lie too close together for that: it would start at once always, or never.
        """
        volts = step_down(self.unloaded_high_v - self.margin_v, self.step_v)
        return volts if over(volts, max(self.unloaded_low_v, self.start_v)) else None

    @property
    def earliest_start_v(self) -> float:
        """The lowest of the start rules."""
        return min(rule.volts for rule in self.start_rules)

    @property
    def floor_v(self) -> float:
        """Lower edge of both windows: clear of parked volts, where that leaves room or must be."""
        clear_v = self.rest_high_v + self.margin_v
        stop_high_v = clear_v if self.stop_high_v is None else self.stop_high_v
        return clear_v if min(self.start_high_v, stop_high_v) >= clear_v else self.least_v

    @property
    def least_v(self) -> float:
        """What start and stop must stand at or above: clear of parked volts, or beside a signal of the guard alone."""
        return _least_v(self.rest_high_v, self.guard_v, self.margin_v, self.beside_signal)

    @property
    def stop_window_open(self) -> bool:
        """Whether a stop can stand clear of rest and of the loaded volts."""
        return self.stop_high_v is not None and self.stop_high_v >= self.floor_v

    @property
    def stops_in_phase(self) -> bool:
        """Whether the sag in a low phase reaches a stop, and its hold does not outlast the phase."""
        return not self.rides_low_phase and self.loaded_phase_v is not None and self.loaded_phase_v <= self.stop_v

    @property
    def hunts_in_phase(self) -> bool:
        """Whether it also starts again within the phase: relieved of its load, the input is back over a start."""
        return (
            self.stops_in_phase and self.unloaded_phase_v is not None and self.earliest_start_v <= self.unloaded_phase_v
        )


def terminal_v(state: ConditionState) -> float | None:
    """Volts at the unit's input in a condition; `None` where the run collapses."""
    return state.drawn.terminal_v if state.drawn is not None else None


def _lowest(volts: Iterable[float | None]) -> float | None:
    """The lowest, or `None` where the run collapses in any."""
    known = list(volts)
    return None if None in known else min(value for value in known if value is not None)


def _seen_v(state: ConditionState, guard_ohm: float) -> float | None:
    return state.drawn.terminal_v + state.drawn.current_a * guard_ohm if state.drawn is not None else None


def step_up(volts: float, step_v: float) -> float:
    """The unit's step at or above a voltage [V]."""
    return round(math.ceil(volts / step_v - 1e-9) * step_v, 4)


def step_down(volts: float, step_v: float) -> float:
    """The unit's step at or below a voltage [V]."""
    return round(math.floor(volts / step_v + 1e-9) * step_v, 4)


def _least_v(rest_high_v: float, guard_v: float, margin_v: float, beside_signal: bool) -> float:
    """What start and stop must stand above: parked volts, or the guard alone where a signal keeps it off parked."""
    return (min(rest_high_v, guard_v) if beside_signal else rest_high_v) + margin_v


def _within(clear_v: float, floor_v: float, high_v: float | None, step_v: float) -> float:
    """Middle of a window on the unit's step, clear of parked volts where that leaves any, never below its lower edge."""
    low_v = clear_v if high_v is not None and high_v >= clear_v else floor_v
    if high_v is None or high_v < low_v:
        return step_up(low_v, step_v)
    return max(step_up(low_v, step_v), step_down((low_v + high_v) / 2, step_v))


def _first(chosen: float | None, fixed: float | None, proposed: float) -> float:
    """A threshold as entered, or as the unit has it, or as proposed."""
    return chosen if chosen is not None else fixed if fixed is not None else proposed


def _held(chosen_s: float, record: StartRecord | StopRecord | None) -> float:
    """How long a rule must hold [s]: the unit's own delay where nobody can set it."""
    fixed_s = record.fixed_held_s if record is not None and not record.settable else None
    return chosen_s if fixed_s is None else fixed_s


def _clear_of(below_v: float, margin_v: float, wanted_high_v: float, step_v: float) -> float:
    """A setting above a voltage: by the margin where a window's upper edge leaves room, by a step at least."""
    return max(
        step_up(below_v + step_v, step_v), min(step_up(below_v + margin_v, step_v), step_down(wanted_high_v, step_v))
    )


def _reached(least_v: float, high_v: float, step_v: float, guard_v: float, guarded: bool) -> float:
    """A return at or above the least, on the unit's step; under what the engine holds where that does not matter.

    With a start that the engine-off volts do not reach, or D+, a return that comes early starts nothing: it only has to
    be reached.
    """
    wanted_v, within_v = step_up(least_v, step_v), step_down(high_v, step_v)
    if within_v >= wanted_v or within_v <= guard_v:
        return wanted_v
    return within_v if guarded or not under(within_v, least_v) else wanted_v


def _into(volts: float, record: StartRecord | StopRecord | GuardRecord | None) -> float:
    """What the unit can be set to, nearest to a proposal."""
    if record is None or record.from_v is None or record.to_v is None:
        return volts
    return min(max(volts, record.from_v), record.to_v)


def own_step_v(record: StopRecord | GuardRecord | None, step_v: float) -> float:
    """The step that a unit's stop, or its guard, is set in [V]; that of its start where it names none.

    Args:
        record: what the unit can be set to, where one is chosen.
        step_v: the step of its start [V].
    """
    return step_v if record is None or record.step_v is None else record.step_v


def guard_step_v(unit: Charger | None, step_v: float) -> float:
    """The step that its guard and the guard's return are set in [V].

    Args:
        unit: the unit, where one is chosen.
        step_v: the step of its start [V].
    """
    return own_step_v(unit.guard if unit is not None else None, step_v)


@dataclass(frozen=True, slots=True)
class _Seen:
    """What the input shows: running, in a low phase, and between the two."""

    unloaded_v: float
    loaded_v: float | None
    phase_v: float | None
    phase_open_v: float | None
    phase_s: float
    rides: bool

    @classmethod
    def of(cls, design: Design, solved: Solved) -> _Seen:
        phase, phase_s = solved.running_by_key("low"), design.vehicle.readings.low_phase_s
        longest_s = LOW_PHASE_S if phase_s is None else phase_s
        record = design.charger.stop_rules if design.charger is not None else None
        held_s = min(_held(rule.held_s, record) for rule in design.activation.stop_rules)
        return cls(
            unloaded_v=min(solved.unloaded_v(state) for state in solved.healthy),
            loaded_v=_lowest(terminal_v(state) for state in solved.healthy),
            phase_v=terminal_v(phase) if phase is not None else None,
            phase_open_v=phase.source.regulated_v if phase is not None else None,
            phase_s=longest_s,
            rides=phase is None or held_s > longest_s,
        )


def _rules(
    design: Design,
    seen: _Seen,
    lows: tuple[float, float],
    highs: tuple[float, float | None],
    margin_v: float,
    step_v: float,
) -> tuple[tuple[Rule, ...], tuple[Rule, ...]]:
    """Start and stop rules in force: as entered, fixed in the unit, or the middle of their windows.

    Args:
        design: the design.
        seen: what the input shows.
        lows: volts clear of those parked, and the windows' lower edge.
        highs: upper edges of the start and the stop window.
        margin_v: the margin.
        step_v: the unit's step.
    """
    activation, unit = design.activation, design.charger
    start_high_v, stop_high_v = highs
    stops, starts = (unit.stop_rules, unit.start_rules) if unit is not None else (None, None)
    stop_step_v = own_step_v(stops, step_v)
    proposed_stop_v = _within(*lows, stop_high_v, stop_step_v)
    # A start that stands already is one more upper edge, where it leaves room: what is stopped above it begins anew at once.
    entered = [rule.at_least_v for rule in activation.start_rules] + [starts.fixed if starts is not None else None]
    earliest_v = min([volts for volts in entered if volts is not None], default=proposed_stop_v)
    if under(earliest_v, proposed_stop_v):
        proposed_stop_v = max(step_down(earliest_v - stop_step_v, stop_step_v), step_up(lows[1], stop_step_v))
    proposed_stop_v = _into(proposed_stop_v, stops)
    stop_v = _first(activation.stop_rules[0].below_v, stops.fixed if stops else None, proposed_stop_v)
    stop_rules = tuple(
        Rule(stop_v if at == 0 else rule.below_v or stop_v, _held(rule.held_s, stops))
        for at, rule in enumerate(activation.stop_rules)
    )
    highest_v = max(rule.volts for rule in stop_rules)
    proposed_v = max(_within(*lows, start_high_v, step_v), step_up(highest_v, step_v))
    if seen.phase_open_v is not None and not seen.rides and seen.phase_v is not None and seen.phase_v <= highest_v:
        clear_v = _clear_of(seen.phase_open_v, margin_v, start_high_v, step_v)  # else it starts again within the phase
        proposed_v = max(proposed_v, clear_v) if clear_v < seen.unloaded_v else proposed_v
    start_v = _first(activation.start_rules[0].at_least_v, starts.fixed if starts else None, _into(proposed_v, starts))
    start_rules = tuple(
        Rule(start_v if at == 0 else rule.at_least_v or start_v, _held(rule.held_s, starts))
        for at, rule in enumerate(activation.start_rules)
    )
    return start_rules, stop_rules


def _guard(design: Design, step_v: float) -> float:
    """Volts below which the battery guard switches off: as entered, fixed, or the resting volts of the charge to keep."""
    unit, start = design.charger, design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, design.choices.keep_state_of_charge, design.vehicle.system_v)
    record = unit.guard if unit is not None else None
    settable = unit is None or unit.guard.settable
    own_v = guard_step_v(unit, step_v)
    proposed_v = _into(step_down(keep_v, own_v), record) if settable or unit is None else unit.input_min_v
    return _first(design.activation.guard.off_below_v, record.fixed_off if record else None, proposed_v)


def unit_step_v(unit: Charger | None, scale: float) -> float:
    """The step its start rules are set in [V].

    Args:
        unit: the unit, where one is chosen.
        scale: system voltage over 12 V.
    """
    return (unit.start_rules.step_v if unit is not None else None) or DEFAULT_STEP_V * scale


def set_thresholds(design: Design, solved: Solved) -> Thresholds:
    """Work out windows from the survey and settle every rule and the guard, as entered or proposed."""
    facts, unit, start = solved.facts, design.charger, design.vehicle.start_battery
    margin_v = float(facts.margin.value)
    step_v = unit_step_v(unit, facts.scale)
    seen = _Seen.of(design, solved)
    guard_v = _guard(design, step_v)
    by_volts = "voltage" in design.activation.ways
    clear_v, beside = facts.rest_high_v + margin_v, by_volts and design.kept_off
    floor_v = _least_v(facts.rest_high_v, guard_v, margin_v, beside)
    start_high_v = seen.unloaded_v - margin_v
    stop_high_v = seen.loaded_v - margin_v if seen.loaded_v is not None else None
    phase_high_v = None if seen.phase_v is None or seen.rides else seen.phase_v - margin_v
    if stop_high_v is not None and phase_high_v is not None and phase_high_v >= floor_v:
        stop_high_v = min(stop_high_v, phase_high_v)  # a low phase that lies above them can be lived with
    lows, highs = (clear_v, floor_v), (start_high_v, stop_high_v)
    start_rules, stop_rules = _rules(design, seen, lows, highs, margin_v, step_v)
    power_w = solved.output.power_in_w if solved.output is not None else 0.0
    run_ohm = solved.healthy[0].run.loop_ohm
    guard_ohm = run_ohm if unit is not None and unit.guard.compensated else 0.0
    inner_ohm = internal_ohm(start.chemistry, start.capacity_ah, design.vehicle.system_v)
    rebound_ohm = inner_ohm + run_ohm - guard_ohm
    # Relieved, the input recovers to the unloaded source: engine off never above what the battery shows there.
    back_least_v = min(guard_v + power_w / guard_v * rebound_ohm, max(facts.rest_high_v, guard_v)) + margin_v
    record = unit.guard if unit is not None else None
    earliest_v = min(rule.volts for rule in start_rules)
    guarded = design.kept_off or (by_volts and earliest_v > facts.rest_high_v)
    back_v = _first(
        design.activation.guard.back_at_v,
        record.fixed_back if record else None,
        _into(_reached(back_least_v, start_high_v, guard_step_v(unit, step_v), guard_v, guarded), record),
    )
    phase = solved.running_by_key("low")
    return Thresholds(
        rest_high_v=facts.rest_high_v,
        beside_signal=beside,
        unloaded_low_v=seen.unloaded_v,
        unloaded_high_v=max(state.source.regulated_v for state in solved.healthy),
        loaded_low_v=seen.loaded_v,
        loaded_phase_v=seen.phase_v,
        unloaded_phase_v=seen.phase_open_v,
        margin_v=margin_v,
        start_high_v=start_high_v,
        stop_high_v=stop_high_v,
        start_rules=start_rules,
        stop_rules=stop_rules,
        guard_v=guard_v,
        back_v=back_v,
        back_least_v=back_least_v,
        rides_low_phase=seen.rides,
        low_phase_s=seen.phase_s,
        step_v=step_v,
        input_w=power_w,
        rebound_ohm=rebound_ohm,
        guard_ohm=guard_ohm,
        loaded_seen_v=_lowest(_seen_v(state, guard_ohm) for state in solved.healthy),
        phase_seen_v=_seen_v(phase, guard_ohm) if phase is not None else None,
    )


def hold_voltage(design: Design, thresholds: Thresholds) -> float:
    """Lowest voltage [V] at which the unit keeps working: where its guard trips, or its own lowest input above that."""
    unit, trips_v = design.charger, thresholds.guard_v
    if unit is None:
        return trips_v
    if thresholds.guard_ohm > 0:
        try:
            trips_v = constant_power_volts(trips_v, thresholds.guard_ohm, thresholds.input_w)
        except Collapse:
            return unit.input_min_v
    return max(unit.input_min_v, trips_v)
