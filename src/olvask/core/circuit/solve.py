"""The circuit in each operating condition, conductor temperature iterated with the current.

- `solve`: a design in, volts and amps of every condition out.
- `Solved`, `ConditionState`, `Output`: what comes out.
"""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass
from typing import Final, Literal

from olvask.core.circuit.engine_side import engine_side
from olvask.core.circuit.facts import CRUISE_SHARE, Facts, gather
from olvask.core.circuit.mounted import felt_k, share_at
from olvask.core.circuit.runs import LaidRun, RunState
from olvask.core.findings.figure import Input
from olvask.core.model import Design
from olvask.core.physics.alternator import Draw, Source, draw, unloaded_v
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.dc_path import Collapse

ConditionKey = Literal["parked", "idle", "cruise", "low"]
RUNNING: tuple[ConditionKey, ...] = ("idle", "cruise", "low")
WORKING_CHARGE: Final = 0.8  # state of charge of a start battery in daily use; our own estimate
SETTLED: Final = 2e-4  # relative change of current between rounds at which current and temperature are taken as settled
ROUNDS: Final = 30


@dataclass(frozen=True, slots=True)
class Output:
    """The delivery side at full current and absorption volts, the same in every condition.

    Current is as the unit is set: a cold morning gives all of it, and everything is sized for it. `yield_a` is what heat
    leaves of it where the unit sits, `derating` the share of its rating.
    """

    current_a: float
    terminal_v: float
    battery_v: float
    run: RunState
    power_in_w: float
    derating: float
    yield_a: float


@dataclass(frozen=True, slots=True)
class ConditionState:
    """One operating condition solved. `drawn` is `None` when nothing flows or nothing can."""

    key: ConditionKey
    label: str
    source: Source
    drawn: Draw | None
    run: RunState
    collapsed: bool

    @property
    def open_v(self) -> float:
        """Volts its draw begins from [V]: its run's branches drawn, the copper as hot as it makes it."""
        return unloaded_v(self.source, self.run.first_extra_a, self.run.branch_v)

    @property
    def left_a(self) -> float | None:
        """What the alternator has for whatever charges [A], the vehicle, old gear and branches served; `None` for no limit."""
        available_a = self.source.available_a
        return None if available_a is None else max(0.0, available_a - self.run.first_extra_a)


def _rank(state: ConditionState) -> float:
    if state.drawn is not None:
        return state.drawn.terminal_v
    return -1.0 if state.collapsed else state.source.regulated_v


@dataclass(frozen=True, slots=True)
class Solved:
    """A design solved in every condition."""

    facts: Facts
    output: Output | None
    parked: ConditionState
    running: tuple[ConditionState, ...]
    idle_run: RunState  # the supply run with the unit idle and its branches on

    @property
    def worst(self) -> ConditionState:
        """The running condition with the lowest volts at the charger; a collapsed one first."""
        return min(self.running, key=_rank)

    @property
    def healthy(self) -> tuple[ConditionState, ...]:
        """Running conditions outside a low phase."""
        return tuple(state for state in self.running if state.key != "low")

    @property
    def worst_healthy(self) -> ConditionState:
        """The lowest of the running conditions outside a low phase."""
        return min(self.healthy, key=_rank)

    def unloaded_v(self, state: ConditionState) -> float:
        """Volts at the charger while it draws nothing and its run's branches do [V]."""
        return unloaded_v(state.source, self.idle_run.first_extra_a, self.idle_run.branch_v)

    def running_by_key(self, key: str) -> ConditionState | None:
        """The running condition called `key`, if this vehicle has it."""
        return next((state for state in self.running if state.key == key), None)


def set_output_a(design: Design) -> float:
    """Output current of all units together as they are set [A]; 0 without a unit."""
    unit = design.charger
    return 0.0 if unit is None else design.units * min(design.current_limit_a or unit.output_a, unit.output_a)


def derated(design: Design, facts: Facts) -> float:
    """Share of its rating, 0 to 1, that the unit gives in the air where it sits."""
    unit = design.charger
    if unit is None:
        return 1.0
    return share_at(unit, felt_c(design, facts))


def felt_c(design: Design, facts: Facts) -> float:
    """Air at the unit [°C], and what fins, backing and neighbours add to it."""
    air_c = float(facts.unit_ambient.value)
    return air_c + felt_k(design, air_c, float(facts.absorption.value))


def _output(design: Design, facts: Facts) -> Output | None:
    unit = design.charger
    if unit is None:
        return None
    current_a, derating = set_output_a(design), derated(design, facts)
    run = LaidRun(design.delivery, design.choices.lug_mohm, supply=False).carrying(current_a)
    battery_v = float(facts.absorption.value)
    terminal_v = battery_v + run.drop_v
    yield_a = min(current_a, design.units * unit.output_a * derating)
    return Output(current_a, terminal_v, battery_v, run, terminal_v * current_a / unit.efficiency, derating, yield_a)


def _sources(design: Design, facts: Facts) -> list[tuple[ConditionKey, str, Source]]:
    vehicle = design.vehicle
    alternator, start = vehicle.alternator, vehicle.start_battery
    held_v = open_circuit_v(start.chemistry, WORKING_CHARGE, vehicle.system_v)
    battery_ohm = internal_ohm(start.chemistry, start.capacity_ah, vehicle.system_v)
    others_a = sum(item.current_a for item in engine_side(design, facts))
    idle_left_a = max(0.0, alternator.rated_a * float(facts.share.value) - alternator.loads_idle_a - others_a)
    cruise_share = 1.0 if vehicle.drive == "converter" else CRUISE_SHARE
    cruise_left_a = max(0.0, alternator.rated_a * cruise_share - alternator.loads_cruise_a - others_a)
    rows: list[tuple[ConditionKey, str, Input | None, float]] = [
        ("idle", "Ready" if vehicle.drive == "converter" else "Hot idle", facts.idle, idle_left_a),
        ("cruise", "Driving" if vehicle.drive == "converter" else "Cruise", facts.cruise, cruise_left_a),
        ("low", "Low phase", facts.low, cruise_left_a),
    ]
    sag_ohm = float(facts.sag.value) / 1000
    return [
        (key, label, Source(float(volts.value), sag_ohm, left_a, held_v, battery_ohm))
        for key, label, volts, left_a in rows
        if volts is not None
    ]


def _condition(
    laid: LaidRun, key: ConditionKey, label: str, source: Source, power_w: float, still: RunState, near: RunState | None
) -> ConditionState:
    """One condition solved: conductor temperature and current found together.

    The current drawn rises with the temperature it causes, so plain repetition creeps near collapse;
    a secant through the last two rounds closes the gap. Approached from cold neither overshoots.
    """
    state = near if near is not None else still
    if power_w <= 0:
        return ConditionState(key, label, source, None, state.carrying(0.0), False)
    drawn: Draw | None
    try:
        drawn = _draw(source, state, power_w)
    except Collapse:
        drawn = None
    earlier: tuple[float, float] | None = None
    for _ in range(ROUNDS):
        if drawn is None:
            if near is not None:  # a neighbour's hotter copper may collapse where this condition's own would not
                return _condition(laid, key, label, source, power_w, still, None)
            return ConditionState(key, label, source, None, state, True)
        carried_a, drawn_a = state.current_a, drawn.current_a
        if abs(drawn_a - carried_a) < SETTLED * drawn_a:
            break
        moved_a = carried_a - earlier[0] if earlier is not None else 0.0
        slope = (drawn_a - earlier[1]) / moved_a if earlier is not None and moved_a != 0 else 0.0
        earlier = (carried_a, drawn_a)
        next_a = carried_a + (drawn_a - carried_a) / (1 - slope) if 0 < slope < 1 else drawn_a
        state, drawn = _warmed(laid, source, power_w, state, (next_a, drawn_a))
    if drawn is None:
        return ConditionState(key, label, source, None, state, True)
    return ConditionState(key, label, source, drawn, state.carrying(drawn.current_a), False)


def _draw(source: Source, state: RunState, power_w: float) -> Draw:
    """The unit's draw through a run, its branches reckoned with."""
    return draw(source, state.loop_ohm, power_w, state.first_extra_a, state.branch_v)


def _warmed(
    laid: LaidRun, source: Source, power_w: float, near: RunState, currents_a: tuple[float, float]
) -> tuple[RunState, Draw | None]:
    """Run and draw at the first current, or at the second where the first leaves no voltage; no draw if neither does."""
    state = near
    for amps in currents_a:
        state = laid.carrying(amps, near)
        try:
            return state, _draw(source, state, power_w)
        except Collapse:
            continue
    return state, None


def solve(
    design: Design, like: Solved | None = None, only: Container[ConditionKey] = RUNNING, facts: Facts | None = None
) -> Solved:
    """Solve operating conditions of `design` at full output current and absorption volts.

    Args:
        design: the design.
        like: the same design with another supply run, solved; saves doing the rest again.
        only: running conditions wanted; hot idle is always there.
        facts: the survey's values, where already gathered.
    """
    if facts is None:
        facts = like.facts if like is not None else gather(design)
    output = like.output if like is not None else _output(design, facts)
    power_w = output.power_in_w if output is not None else 0.0
    laid = LaidRun(design.supply, design.choices.lug_mohm)
    still_run = laid.carrying(0.0)
    running: list[ConditionState] = []
    near: RunState | None = None
    for key, label, source in _sources(design, facts):
        if key == "idle" or key in only:
            state = _condition(laid, key, label, source, power_w, still_run, near)
            near = state.run if state.drawn is not None else None
            running.append(state)
    rest_v = facts.rest_high_v
    still = Source(rest_v, 0.0, None, rest_v, 0.0)
    parked = ConditionState("parked", "Parked", still, None, still_run.without_branches(), False)
    return Solved(facts, output, parked, tuple(running), still_run)
