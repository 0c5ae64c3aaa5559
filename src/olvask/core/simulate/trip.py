"""A vehicle through a programme: the plant's equations and the unit's state machine stepped through time.

Conditions change only at the edges of stretches, at the unit's timers, when volts cross a threshold, and slowly with
the state. Time is stepped from one of those to the next rather than by a fixed tick.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import NamedTuple

from olvask.core.circuit.solve import Solved, solve
from olvask.core.model import Design
from olvask.core.physics.battery import REFERENCE_C
from olvask.core.simulate.machine import Machine, Settings, Stage, UnitState, What, settings_of
from olvask.core.simulate.plant import SURFACE_TAU_S, Flow, Moment, Plant, State, profile_of
from olvask.core.simulate.programme import Engine, Programme, Stretch

RAMP_STEP_S, RAMP_SHARE = 1.8, 0.18  # while the current ramps up: of a soft start of ten seconds, of a longer one
RAMP_COARSE = 0.3  # of the soft start, where only verdicts are wanted
RAMP_LONGEST_S = 5.0  # so that the guard's hold is not overslept in a slow one
RAMP_NEAR_V, RAMP_NEAR_STEP_S = 0.15, 0.3  # per 12 V: closer above a threshold, the ramp is looked at oftener
LONGEST_STEP_S = 120.0
LONGEST_BULK_S = 240.0
LONGEST_IDLE_S, GROWTH = 3600.0, 0.25  # nothing flowing: steps grow with the time it has stood
SETTLE_S = 1e-3
NEAR_V, NEAR_STEP_S = 0.06, 2.0  # per 12 V: closer to a threshold than this, steps are short
PART = 500  # steps after which a long stretch tells how far it is
MOST_EVENTS = 5000  # a trip that hunts so long is driven no further
MIDPOINT_S = 0.1  # longer steps are taken through their middle


class Sample(NamedTuple):
    """One moment: time [s], states, volts, amperes, states of charge, temperatures [°C]."""

    time_s: float
    state: UnitState
    stage: Stage
    engine: Engine
    input_v: float
    input_a: float
    output_a: float
    post_v: float
    auxiliary_v: float
    start_charge: float
    auxiliary_charge: float
    supply_c: float
    unit_c: float


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened: starts, stops, guard trips and returns, collapses, stages of the charge."""

    time_s: float
    what: What
    text: str
    stretch: int = 0  # which stretch of the programme it fell into


@dataclass(slots=True)
class Trip:
    """What came of it."""

    samples: list[Sample] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    charging_s: float = 0.0
    charged_ah: float = 0.0
    input_ah: float = 0.0
    input_wh: float = 0.0
    output_wh: float = 0.0
    drained_ah: float = 0.0
    cold_ah: float = 0.0
    refused_s: float = 0.0
    lowest_start_charge: float = 1.0
    coldest_c: float = REFERENCE_C
    engine_off_charging_s: float = 0.0
    hottest_supply_c: float = -273.15
    hottest_unit_c: float = -273.15
    start_charge: float = 1.0  # at the end
    auxiliary_charge: float = 1.0
    cut_s: float | None = None  # where it was driven no further, so often had it acted

    @property
    def starts(self) -> int:
        """How often charging started."""
        return sum(event.what == "start" for event in self.events)

    @property
    def guard_trips(self) -> int:
        """How often the battery guard switched it off."""
        return sum(event.what == "guard" for event in self.events)


class Trial:
    """One vehicle through one programme."""

    def __init__(
        self,
        design: Design,
        programme: Programme,
        settings: Settings | None = None,
        solved: Solved | None = None,
        recorded: bool = True,
        plant: Plant | None = None,
    ) -> None:
        """Get ready.

        Args:
            design: the design.
            programme: the day.
            settings: stand in for the design's own, so that others can be tried.
            solved: the design solved, where that is at hand.
            recorded: whether samples are kept. Where they are not, steps are taken by their beginning instead of
                their middle and temperatures are not watched: enough for verdicts, and twice as quick.
            plant: stands in for the design's own vehicle.
        """
        solved = solve(design) if solved is None else solved
        self.plant = Plant(design, solved) if plant is None else plant
        self.settings = settings or settings_of(design, solved)
        self.programme = programme
        self.machine = Machine(self.settings, profile_of(design, solved), self._say)
        self.machine.look = self._look
        self.trip = Trip()
        self.now_s = 0.0
        self.state = State(programme.start_charge, programme.auxiliary_charge)
        self.trip.lowest_start_charge = programme.start_charge
        self.stopped_s: float | None = None
        self.stretch = 0
        self.recorded = recorded
        self.running, self.air = False, self.plant.air(programme.ambient_c)
        self.near_v = NEAR_V * self.plant.scale

    def run(self) -> Trip:
        """Drive the whole programme."""
        for _ in self.parts():
            pass
        return self.trip

    def parts(self) -> Iterator[float]:
        """Drive part by part, telling after each the share of the programme done; to stop, ask for no more."""
        was_running = False
        whole_s = max(self.programme.duration_s, 1e-9)
        for at, stretch in enumerate(self.programme.stretches):
            self.stretch = at
            if was_running and not stretch.running:
                self.stopped_s = self.now_s
            elif stretch.running:
                self.stopped_s = None
            self.begin(stretch)
            was_running = stretch.running
            until_s = self.now_s + stretch.duration_s
            steps = 0
            while self.now_s < until_s - 1e-9 and self.trip.cut_s is None:
                self._step(stretch, until_s)
                steps += 1
                if steps % PART == 0:
                    yield self.now_s / whole_s
                    if len(self.trip.events) >= MOST_EVENTS:
                        self.trip.cut_s = self.now_s
            if self.trip.cut_s is not None:
                break
            self.now_s = until_s
            yield until_s / whole_s
        if self.recorded and self.programme.stretches:
            last = self.programme.stretches[self.stretch]
            moment = self.moment(last, self.now_s)
            self._record(last, moment, self.plant.flow(self.state, moment))
        self.trip.start_charge, self.trip.auxiliary_charge = self.state.start_charge, self.state.auxiliary_charge

    def begin(self, stretch: Stretch) -> None:
        """Take up what holds throughout a stretch."""
        self.running = stretch.running
        self.air = self.plant.air(self.programme.ambient_c if stretch.ambient_c is None else stretch.ambient_c)
        self.trip.coldest_c = min(self.trip.coldest_c, self.air.ambient_c)

    def moment(self, stretch: Stretch, now: float) -> Moment:
        """What holds at a time within a stretch."""
        machine = self.machine
        surface_v = 0.0
        if self.stopped_s is not None and stretch.engine == "off":
            surface_v = self.plant.surface_v * math.exp(-(now - self.stopped_s) / SURFACE_TAU_S)
        drawing = machine.state == "charging"
        ramp = machine.ramp(now) if drawing else 0.0
        return Moment(stretch, self.running, self.air, surface_v, drawing, ramp, machine.target_v)

    def _look(self, now: float) -> Flow:
        return self.plant.flow(self.state, self.moment(self.programme.stretches[self.stretch], now))

    def _step(self, stretch: Stretch, until_s: float) -> None:
        plant, machine, now = self.plant, self.machine, self.now_s
        moment = self.moment(stretch, now)
        flow = plant.flow(self.state, moment)
        acted = machine.act(now, stretch, flow)
        if acted:
            moment = self.moment(stretch, now)
            flow = plant.flow(self.state, moment)
        if self.recorded:
            self._record(stretch, moment, flow)
        # What a change does to the terminals is looked at again at once.
        seconds = min(SETTLE_S, until_s - now) if acted else self._length(stretch, until_s, flow)
        if seconds > MIDPOINT_S and self.recorded:
            half_s = seconds / 2
            middle = self._moved(plant.rates(self.state, flow), half_s)
            flow = plant.flow(middle, self.moment(stretch, now + half_s))
            rates = plant.rates(middle, flow)
            if flow.collapsed:
                seconds = MIDPOINT_S
        else:
            rates = plant.rates(self.state, flow)
        self._count(stretch, moment, flow, seconds)
        self.state = self._moved(rates, seconds)
        self.trip.lowest_start_charge = min(self.trip.lowest_start_charge, self.state.start_charge)
        self.now_s = now + seconds

    def _moved(self, rates: State, seconds: float) -> State:
        """The state after a time; heating approaches its end exactly, charge follows its rate."""
        state, plant = self.state, self.plant
        supply_s, delivery_s, unit_s = plant.supply.tau_s, plant.delivery.tau_s, plant.unit_tau_s
        start = state.start_charge + rates.start_charge * seconds
        auxiliary = state.auxiliary_charge + rates.auxiliary_charge * seconds
        return State(
            start if 0 < start < 1 else min(1.0, max(0.0, start)),
            auxiliary if 0 < auxiliary < 1 else min(1.0, max(0.0, auxiliary)),
            state.supply_heating + rates.supply_heating * supply_s * -math.expm1(-seconds / supply_s),
            state.delivery_heating + rates.delivery_heating * delivery_s * -math.expm1(-seconds / delivery_s),
            state.unit_rise_k + rates.unit_rise_k * unit_s * -math.expm1(-seconds / unit_s),
        )

    def _say(self, what: What, text: str) -> None:
        self.trip.events.append(Event(self.now_s, what, text, self.stretch))

    def _length(self, stretch: Stretch, until_s: float, flow: Flow) -> float:
        """Time to the next thing that can happen [s]."""
        machine, now = self.machine, self.now_s
        seconds = until_s - now
        due_s = machine.due(now)
        if due_s - now > 1e-9:
            seconds = min(seconds, due_s - now)
        if machine.state == "charging" and now < machine.ramped_s:
            seconds = min(seconds, self._ramp_step_s(flow))
        return max(min(seconds, self._longest(stretch, flow)), 1e-3)

    def _ramp_step_s(self, flow: Flow) -> float:
        """How long the current may ramp up before the volts are looked at again [s]."""
        soft_s = self.machine.rule.soft_start_s
        if not self.recorded:  # crossings are dated by halving all the same
            return min(RAMP_LONGEST_S, RAMP_COARSE * soft_s)
        near_v = RAMP_NEAR_V * self.plant.scale
        for mark in self.machine.marks(flow.input_a):
            if 0 <= flow.volts - mark < near_v:
                return RAMP_NEAR_STEP_S
        return min(RAMP_LONGEST_S, max(RAMP_STEP_S, RAMP_SHARE * soft_s))

    def _longest(self, stretch: Stretch, flow: Flow) -> float:
        """How long the state may drift before the volts are looked at again [s]."""
        machine = self.machine
        if machine.state == "charging":
            if not stretch.running and self._near(flow):
                return NEAR_STEP_S
            return LONGEST_STEP_S if flow.by_volts or machine.stage != "bulk" else LONGEST_BULK_S
        if stretch.running:
            return LONGEST_IDLE_S if machine.state == "off" else LONGEST_STEP_S
        if self._near(flow):
            return NEAR_STEP_S if machine.state != "off" or stretch.sun_start_w > 0 else LONGEST_STEP_S
        if stretch.sun_start_w > 0 or stretch.sun_auxiliary_w > 0:
            return LONGEST_STEP_S
        stood_s = self.now_s - self.stopped_s if self.stopped_s is not None else LONGEST_IDLE_S
        return min(LONGEST_IDLE_S, LONGEST_STEP_S + GROWTH * stood_s)

    def _near(self, flow: Flow) -> bool:
        return any(-self.near_v < flow.volts - mark < self.near_v for mark in self.machine.marks(flow.input_a))

    def _record(self, stretch: Stretch, moment: Moment, flow: Flow) -> None:
        state, plant = self.state, self.plant
        shift_k = moment.air.shift_k
        self.trip.samples.append(
            Sample(
                self.now_s,
                self.machine.state,
                self.machine.stage,
                stretch.engine,
                flow.volts,
                flow.input_a,
                flow.output_a,
                flow.post_v,
                flow.auxiliary_v,
                state.start_charge,
                state.auxiliary_charge,
                plant.supply.celsius(state.supply_heating, shift_k),
                plant.unit_air_c + shift_k + state.unit_rise_k,
            )
        )

    def _count(self, stretch: Stretch, moment: Moment, flow: Flow, seconds: float) -> None:
        """Add a step to the totals."""
        trip, hours, plant = self.trip, seconds / 3600, self.plant
        if not moment.drawing:
            return
        trip.charging_s += seconds
        trip.charged_ah += flow.output_a * hours
        trip.input_ah += flow.input_a * hours
        in_wh = flow.volts * flow.input_a * hours
        trip.input_wh += in_wh
        trip.output_wh += in_wh * plant.unit_efficiency
        if moment.air.ambient_c < plant.coldest_c:
            trip.cold_ah += max(0.0, flow.auxiliary_a) * hours
            trip.refused_s += seconds if plant.refuses_cold else 0.0
        if not stretch.running:
            trip.drained_ah += flow.input_a * hours
            trip.engine_off_charging_s += seconds
        if not self.recorded:
            return
        shift_k = moment.air.shift_k
        supply_c = plant.supply.celsius(self.state.supply_heating, shift_k)
        trip.hottest_supply_c = max(trip.hottest_supply_c, supply_c)
        trip.hottest_unit_c = max(trip.hottest_unit_c, plant.unit_air_c + shift_k + self.state.unit_rise_k)


def drive(design: Design, programme: Programme, settings: Settings | None = None, solved: Solved | None = None) -> Trip:
    """Drive a design's vehicle through a programme.

    Args:
        design: the design.
        programme: the day.
        settings: stand in for the design's own activation; `None` for those.
        solved: the design solved, where that is at hand.
    """
    return Trial(design, programme, settings, solved).run()
