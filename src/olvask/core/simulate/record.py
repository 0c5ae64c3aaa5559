"""What comes of a trip: moments, events and totals.

- `Sample`, `Event`, `Trip`: the record.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from mypy_extensions import mypyc_attr

from olvask.core.physics.battery import REFERENCE_C
from olvask.core.simulate.machine import Stage, UnitState, What
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.programme import Engine
from olvask.core.simulate.states import Flow, Moment, State


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)  # written out, it is made in an eighth of the time where compiled
class Sample:
    """One moment: time [s], states, volts, amperes, states of charge, temperatures [°C], whether the pack refuses the cold."""

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
    output_v: float
    battery_c: float
    refused: bool

    def __init__(
        self,
        time_s: float,
        state: UnitState,
        stage: Stage,
        engine: Engine,
        input_v: float,
        input_a: float,
        output_a: float,
        post_v: float,
        auxiliary_v: float,
        start_charge: float,
        auxiliary_charge: float,
        supply_c: float,
        unit_c: float,
        output_v: float = 0.0,
        battery_c: float = REFERENCE_C,
        refused: bool = False,
    ) -> None:
        """Take its parts."""
        self.time_s = time_s
        self.state = state
        self.stage = stage
        self.engine = engine
        self.input_v = input_v
        self.input_a = input_a
        self.output_a = output_a
        self.post_v = post_v
        self.auxiliary_v = auxiliary_v
        self.start_charge = start_charge
        self.auxiliary_charge = auxiliary_charge
        self.supply_c = supply_c
        self.unit_c = unit_c
        self.output_v = output_v
        self.battery_c = battery_c
        self.refused = refused


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)
class Event:
    """Something that happened: starts, stops, guard trips and returns, collapses, stages of the charge."""

    time_s: float
    what: What
    text: str
    stretch: int  # which stretch of the programme it fell into

    def __init__(self, time_s: float, what: What, text: str, stretch: int = 0) -> None:
        """Take its parts."""
        self.time_s = time_s
        self.what = what
        self.text = text
        self.stretch = stretch


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
    sun_ah: float = 0.0
    load_ah: float = 0.0
    start_in_ah: float = 0.0  # into either battery and out of it, before losses
    start_out_ah: float = 0.0
    auxiliary_in_ah: float = 0.0
    auxiliary_out_ah: float = 0.0
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

    def count(
        self,
        plant: Plant,
        state: State,
        moment: Moment,
        flow: Flow,
        there: Flow,
        seconds: float,
        shares: tuple[float, float],
    ) -> None:
        """Add a step to the totals, by a mean of the flows at its ends.

        Args:
            plant: the vehicle.
            state: its state at the beginning.
            moment: what held.
            flow: volts and amperes at the beginning.
            there: the same at the end.
            seconds: how long the step took [s].
            shares: weight of the end, of the start battery and of the auxiliary battery.
        """
        hours = seconds / 3600
        there_h = hours * shares[0]
        here_h = hours - there_h
        self.start_in_ah += max(0.0, flow.start_a) * here_h + max(0.0, there.start_a) * there_h
        self.start_out_ah -= min(0.0, flow.start_a) * here_h + min(0.0, there.start_a) * there_h
        there_h = hours * shares[1]
        here_h = hours - there_h
        self.auxiliary_in_ah += max(0.0, flow.auxiliary_a) * here_h + max(0.0, there.auxiliary_a) * there_h
        self.auxiliary_out_ah -= min(0.0, flow.auxiliary_a) * here_h + min(0.0, there.auxiliary_a) * there_h
        self.sun_ah += flow.sun_a * here_h + there.sun_a * there_h
        self.load_ah += flow.load_a * here_h + there.load_a * there_h
        self.charged_ah += flow.output_a * here_h + there.output_a * there_h
        battery_c = state.battery_c
        if battery_c < plant.coldest_c:
            self.cold_ah += max(0.0, flow.auxiliary_a) * here_h + max(0.0, there.auxiliary_a) * there_h
        if not moment.drawing:
            return
        self.charging_s += seconds
        input_ah = flow.input_a * here_h + there.input_a * there_h
        self.input_ah += input_ah
        in_wh = flow.volts * flow.input_a * here_h + there.volts * there.input_a * there_h
        self.input_wh += in_wh
        self.output_wh += in_wh * plant.unit_efficiency
        self.refused_s += seconds if flow.refused else 0.0
        if not moment.running:
            self.drained_ah += input_ah
            self.engine_off_charging_s += seconds

    def reached(self, plant: Plant, after: State, moment: Moment, watched: bool) -> None:
        """Keep what a step ended at where it is lower, colder, or, of what charges, hotter than any before.

        Args:
            plant: the vehicle.
            after: its state at the end.
            moment: what held until then.
            watched: whether temperatures of cable and unit are wanted.
        """
        self.lowest_start_charge = min(self.lowest_start_charge, after.start_charge)
        self.coldest_c = min(self.coldest_c, after.battery_c)
        if watched and moment.drawing:
            shift_k = moment.air.shift_k
            self.hottest_supply_c = max(self.hottest_supply_c, plant.supply.celsius(after.supply_heating, shift_k))
            self.hottest_unit_c = max(self.hottest_unit_c, plant.unit_air_c + shift_k + after.unit_rise_k)
