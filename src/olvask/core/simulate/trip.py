"""A vehicle through a programme: batteries, alternator, the unit's state machine, events and totals.

The circuit is the core's own: the start side as `physics.alternator` has it, the supply run as `circuit` solves it,
the unit a constant power. Conditions change only at the edges of stretches, at the unit's timers and slowly with the
charge of the batteries, so time is stepped from one of those to the next rather than by a fixed tick.

Each step, in this order: lockout, permission, then the start and stop timers. A timer that loses its condition starts
afresh. Current ramps up over `SOFT_START_S`.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from olvask.core.catalogue import chemistries, open_circuit_points
from olvask.core.circuit import Solved, run_state, solve
from olvask.core.model import Design
from olvask.core.physics.alternator import Source, draw
from olvask.core.physics.battery import internal_ohm
from olvask.core.physics.dc_path import Collapse
from olvask.core.rules.sources import HARVEST
from olvask.core.rules.thresholds import set_thresholds
from olvask.core.simulate.programme import Engine, Programme, Stretch

State = Literal["off", "waiting", "charging", "locked out"]

SOFT_START_S = 10.0
LOCKOUT_LEAST_S = 10.0  # least time locked out
SURFACE_TAU_S = 900.0  # surface charge of a lead battery leaks away with this time constant
CRANK_C = 4.0  # cranking amperes per ampere-hour
START_ACCEPT_C = 0.25  # what a start battery takes per ampere-hour, before its taper
START_TAPER = 0.8
RAMP_STEP_S = 1.0
LONGEST_STEP_S = 120.0
SETTLE_S = 0.05
NEAR_V, NEAR_STEP_S = 0.06, 2.0  # per 12 V: closer to a threshold than this, steps are short
TAIL_C = 0.02  # of capacity: below it the battery is full and charging floats


@dataclass(frozen=True, slots=True)
class Settings:
    """What the unit acts by, all at its input terminals."""

    methods: frozenset[str]
    start_v: float
    start_delay_s: float
    stop_v: float
    stop_delay_s: float
    lockout_v: float
    lockout_delay_s: float
    restart_v: float
    lockout_least_s: float = LOCKOUT_LEAST_S


@dataclass(frozen=True, slots=True)
class Sample:
    """One moment: time [s], state, volts, amperes, states of charge."""

    time_s: float
    state: State
    engine: Engine
    input_v: float
    input_a: float
    output_a: float
    post_v: float
    auxiliary_v: float
    start_charge: float
    auxiliary_charge: float


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened: starts, stops, lockouts, releases, collapses."""

    time_s: float
    what: Literal["start", "stop", "lockout", "release", "collapse"]
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
    drained_ah: float = 0.0
    lowest_start_charge: float = 1.0
    engine_off_charging_s: float = 0.0

    @property
    def starts(self) -> int:
        """How often charging started."""
        return sum(event.what == "start" for event in self.events)

    @property
    def lockouts(self) -> int:
        """How often it was locked out."""
        return sum(event.what == "lockout" for event in self.events)


def settings_of(design: Design, solved: Solved) -> Settings:
    """The unit's settings as chosen or proposed."""
    at, chosen = set_thresholds(design, solved), design.activation
    return Settings(
        frozenset(chosen.methods),
        at.start_v,
        chosen.start_delay_s,
        at.stop_v,
        chosen.stop_delay_s,
        at.lockout_v,
        chosen.lockout_delay_s,
        at.restart_v,
    )


def _ocv(chemistry: str, nominal_v: int) -> Callable[[float], float]:
    """Rested volts by state of charge, as a quick function."""
    points = open_circuit_points()[chemistry]
    charges = [charge for charge, _ in points]
    volts = [value * nominal_v / 12 for _, value in points]

    def at(charge: float) -> float:
        low = 0
        while low < len(charges) - 2 and charge > charges[low + 1]:
            low += 1
        share = (charge - charges[low]) / (charges[low + 1] - charges[low])
        return volts[low] + min(max(share, 0.0), 1.0) * (volts[low + 1] - volts[low])

    return at


class Vehicle:
    """The electrical side: what the terminals show for a current, what the batteries take."""

    def __init__(self, design: Design, solved: Solved) -> None:
        """Read the constants off a solved design."""
        start, auxiliary = design.vehicle.start_battery, design.auxiliary
        system_v = design.vehicle.system_v
        self.scale = system_v / 12
        self.start_ah = start.capacity_ah
        self.start_ocv = _ocv(start.chemistry, system_v)
        self.start_ohm = internal_ohm(start.chemistry, start.capacity_ah, system_v)
        self.auxiliary_ah = auxiliary.capacity_ah
        self.auxiliary_ocv = _ocv(auxiliary.chemistry, auxiliary.nominal_v)
        self.auxiliary_ohm = internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
        chemistry = chemistries()[auxiliary.chemistry]
        self.efficiency, self.taper = chemistry.charge_efficiency, chemistry.taper_from
        self.start_efficiency = chemistries()[start.chemistry].charge_efficiency
        self.limit_a = float(solved.facts.charge_limit.value)
        self.absorption_v = float(solved.facts.absorption.value)
        self.drain_a = float(solved.facts.standing_drain.value) / 1000
        self.surface_v = max(0.0, float(solved.facts.after_stop.value) - float(solved.facts.rest.value))
        lifted = solved.facts.lifted
        self.lifted_v = float(lifted.value) if lifted is not None else 13.8 * self.scale
        self.unit_efficiency = design.charger.efficiency if design.charger is not None else 1.0
        self.least_input_v = design.charger.input_min_v if design.charger is not None else 0.0
        output = solved.output
        self.output_a = output.current_a if output is not None else 0.0
        self.delivery_ohm = output.run.loop_ohm if output is not None else 0.0
        self.sources: dict[str, Source] = {state.key: state.source for state in solved.running}
        idle = solved.running[0]
        warm = idle.run if idle.drawn is not None else run_state(design.supply, self.output_a, design.choices.lug_mohm)
        self.supply_ohm, self.branch_v = warm.loop_ohm, warm.branch_v
        self.branch_a = warm.pieces[0].extra_a if warm.pieces else 0.0

    def source(self, stretch: Stretch, charge: float, surface_v: float, drawing: bool) -> Source:
        """The start side in a stretch; a panel holds it up only while the unit draws nothing."""
        if stretch.running:
            return self.sources.get(stretch.engine, self.sources["cruise"])
        open_v = self.start_ocv(charge) + surface_v
        if stretch.engine == "crank":
            open_v = self.start_ocv(charge) - CRANK_C * self.start_ah * self.start_ohm
        elif stretch.sun_start_w > 0 and drawing:
            open_v += stretch.sun_start_w * HARVEST / self.lifted_v * self.start_ohm
        elif stretch.sun_start_w > 0:
            open_v = max(open_v, self.lifted_v)
        return Source(open_v, self.start_ohm, None, open_v, self.start_ohm)

    def input_for(
        self, source: Source, stretch: Stretch, output_a: float, auxiliary_v: float
    ) -> tuple[float, float, float]:
        """Terminal volts, input amperes and post volts for an output current; zero volts where it collapses."""
        running = stretch.running
        extra_a, extra_v = (self.branch_a, self.branch_v) if running else (0.0, 0.0)
        if output_a <= 0:
            idle_a = extra_a if running else self.drain_a
            return (
                source.regulated_v - extra_v - source.sag_ohm * extra_a,
                0.0,
                source.regulated_v - source.sag_ohm * idle_a,
            )
        power_w = (auxiliary_v + output_a * self.delivery_ohm) * output_a / self.unit_efficiency
        try:
            drawn = draw(source, self.supply_ohm, power_w, extra_a, extra_v)
        except Collapse:
            return 0.0, 0.0, source.regulated_v
        return drawn.terminal_v, drawn.current_a, drawn.post_v

    def accepts_a(self, charge: float) -> float:
        """What the auxiliary battery takes at most [A]: its limit, its taper, and its absorption volts."""
        taken = self.limit_a
        if charge > self.taper:
            taken *= (1 - charge) / (1 - self.taper)
        headroom_v = self.absorption_v - self.auxiliary_ocv(charge)
        return max(0.0, min(taken, headroom_v / self.auxiliary_ohm))

    def start_accepts_a(self, charge: float) -> float:
        """What the start battery takes from a running alternator [A]."""
        taken = START_ACCEPT_C * self.start_ah
        return taken * (1 - charge) / (1 - START_TAPER) if charge > START_TAPER else taken


@dataclass(slots=True)
class _Unit:
    """The unit's own state: what it does, its timers, and how far its current has ramped."""

    state: State = "off"
    start_since_s: float | None = None
    stop_since_s: float | None = None
    low_since_s: float | None = None
    locked_since_s: float = -math.inf
    charging_since_s: float = 0.0


class Trial:
    """One vehicle through one programme."""

    def __init__(self, design: Design, programme: Programme, settings: Settings | None = None) -> None:
        """Get ready; `settings` stand in for the design's own, so that a dragged threshold can be tried."""
        solved = solve(design)
        self.vehicle = Vehicle(design, solved)
        self.settings = settings or settings_of(design, solved)
        self.programme = programme
        self.unit = _Unit()
        self.trip = Trip()
        self.now_s = 0.0
        self.start_charge, self.auxiliary_charge = programme.start_charge, programme.auxiliary_charge
        self.trip.lowest_start_charge = self.start_charge
        self.stopped_s: float | None = None
        self.stretch = 0
        self.has_unit = design.charger is not None

    def run(self) -> Trip:
        """Drive the whole programme."""
        was_running = False
        for at, stretch in enumerate(self.programme.stretches):
            self.stretch = at
            if was_running and not stretch.running:
                self.stopped_s = self.now_s
            elif stretch.running:
                self.stopped_s = None
            was_running = stretch.running
            until_s = self.now_s + stretch.duration_s
            while self.now_s < until_s - 1e-9:
                self._step(stretch, until_s)
        return self.trip

    def _surface_v(self) -> float:
        if self.stopped_s is None:
            return 0.0
        return self.vehicle.surface_v * math.exp(-(self.now_s - self.stopped_s) / SURFACE_TAU_S)

    def _output_a(self, stretch: Stretch) -> float:
        """Current while charging: ramped, within what loads and battery take together."""
        if self.unit.state != "charging":
            return 0.0
        ramp = min(1.0, (self.now_s - self.unit.charging_since_s + RAMP_STEP_S) / SOFT_START_S)
        wanted = self.vehicle.accepts_a(self.auxiliary_charge) + stretch.load_a - self._sun_a(stretch)
        return max(0.0, min(self.vehicle.output_a * ramp, wanted))

    def _sun_a(self, stretch: Stretch) -> float:
        return stretch.sun_auxiliary_w * HARVEST / self.vehicle.absorption_v

    def _step(self, stretch: Stretch, until_s: float) -> None:
        vehicle = self.vehicle
        source = self._source(stretch)
        auxiliary_v = vehicle.auxiliary_ocv(self.auxiliary_charge)
        if self.unit.state == "charging":
            auxiliary_v = min(
                vehicle.absorption_v,
                auxiliary_v + max(0.0, self._output_a(stretch) - stretch.load_a) * vehicle.auxiliary_ohm,
            )
        volts, input_a, post_v = self._terminals(stretch, source, auxiliary_v)
        acted = self._act(stretch, volts, input_a)
        if acted:
            source = self._source(stretch)
            volts, input_a, post_v = self._terminals(stretch, source, auxiliary_v)
        output_a = self._output_a(stretch) if input_a > 0 or self.unit.state != "charging" else 0.0
        self.trip.samples.append(
            Sample(
                self.now_s,
                self.unit.state,
                stretch.engine,
                volts,
                input_a,
                output_a,
                post_v,
                auxiliary_v,
                self.start_charge,
                self.auxiliary_charge,
            )
        )
        # What a change does to the terminals is looked at again at once.
        seconds = min(SETTLE_S, until_s - self.now_s) if acted else self._length(stretch, until_s, volts)
        self._flow(stretch, source, seconds, input_a, output_a)
        self.now_s += seconds

    def _source(self, stretch: Stretch) -> Source:
        drawing = self.unit.state == "charging"
        return self.vehicle.source(stretch, self.start_charge, self._surface_v(), drawing)

    def _terminals(self, stretch: Stretch, source: Source, auxiliary_v: float) -> tuple[float, float, float]:
        if not stretch.plugged:
            return 0.0, 0.0, source.regulated_v
        return self.vehicle.input_for(source, stretch, self._output_a(stretch), auxiliary_v)

    def _permitted(self, stretch: Stretch) -> bool:
        """Every signal the unit is wired to says yes; with none wired, voltage alone decides."""
        methods = self.settings.methods
        if not methods:
            return False
        says = {
            "ignition": stretch.ignition,
            "d_plus": stretch.running,
            "switch": stretch.remote,
            "link": stretch.remote,
            "voltage": True,
        }
        return all(says[method] for method in methods)

    def _act(self, stretch: Stretch, volts: float, input_a: float) -> bool:
        """Let the state machine act on what the terminals show; true when the current changes."""
        unit, rule, now = self.unit, self.settings, self.now_s
        was = unit.state
        if was == "charging" and input_a == 0.0 and self._output_a(stretch) > 0:
            self._say("collapse", "the run cannot carry the current")
            self._rest("off")
            return True
        if self._locked(volts):
            return unit.state != was
        if not self._permitted(stretch) or not self.has_unit:
            if was == "charging":
                self._say("stop", "the signal went")
            self._rest("off")
            return was == "charging"
        by_volts = "voltage" in rule.methods
        if was == "charging":
            if not by_volts or volts >= rule.stop_v:
                unit.stop_since_s = None
            elif unit.stop_since_s is None:
                unit.stop_since_s = now
            if unit.stop_since_s is not None and now - unit.stop_since_s >= rule.stop_delay_s - 1e-9:
                self._say("stop", f"{volts:.2f} V, under {rule.stop_v:.2f} V for {rule.stop_delay_s:g} s")
                self._rest("off")
                return True
            return False
        able = volts >= max(self.vehicle.least_input_v, rule.start_v if by_volts else 0.0)
        if not able:
            unit.start_since_s = None
            unit.state = "off"
            return False
        if unit.start_since_s is None:
            unit.start_since_s = now
        unit.state = "waiting"
        if now - unit.start_since_s >= (rule.start_delay_s if by_volts else 0.0) - 1e-9:
            self._say("start", f"at {volts:.2f} V")
            unit.state, unit.charging_since_s = "charging", now
            unit.start_since_s = unit.stop_since_s = None
            return True
        return False

    def _locked(self, volts: float) -> bool:
        """Lockout first: tripped after its debounce, released at its own volts after a least time."""
        unit, rule, now = self.unit, self.settings, self.now_s
        if unit.state == "locked out":
            if volts < rule.restart_v or now - unit.locked_since_s < rule.lockout_least_s:
                return True
            self._say("release", f"at {volts:.2f} V")
            self._rest("off")
            return False
        if volts >= rule.lockout_v:
            unit.low_since_s = None
            return False
        if unit.low_since_s is None:
            unit.low_since_s = now
        if now - unit.low_since_s < rule.lockout_delay_s - 1e-9:
            return False
        self._say("lockout", f"{volts:.2f} V, under {rule.lockout_v:.2f} V for {rule.lockout_delay_s:g} s")
        self._rest("locked out")
        unit.locked_since_s = now
        return True

    def _rest(self, state: State) -> None:
        unit = self.unit
        unit.state = state
        unit.start_since_s = unit.stop_since_s = unit.low_since_s = None

    def _say(self, what: Literal["start", "stop", "lockout", "release", "collapse"], text: str) -> None:
        self.trip.events.append(Event(self.now_s, what, text, self.stretch))

    def _length(self, stretch: Stretch, until_s: float, volts: float) -> float:
        """Time to the next thing that can happen [s]."""
        unit, rule, now = self.unit, self.settings, self.now_s
        longest = LONGEST_STEP_S
        due: list[float] = [until_s - now]
        if unit.state == "charging" and now - unit.charging_since_s < SOFT_START_S:
            due.append(RAMP_STEP_S)
        if unit.start_since_s is not None:
            due.append(unit.start_since_s + rule.start_delay_s - now)
        if unit.stop_since_s is not None:
            due.append(unit.stop_since_s + rule.stop_delay_s - now)
        if unit.low_since_s is not None:
            due.append(unit.low_since_s + rule.lockout_delay_s - now)
        if unit.state == "locked out":
            due.append(unit.locked_since_s + rule.lockout_least_s - now)
        if not stretch.running and unit.state in ("charging", "waiting"):
            marks = (rule.stop_v, rule.lockout_v)
            if min(abs(volts - mark) for mark in marks) < NEAR_V * self.vehicle.scale:
                longest = NEAR_STEP_S
        due.append(longest)
        return max(min(length for length in due if length > 1e-9), 1e-3)

    def _flow(self, stretch: Stretch, source: Source, seconds: float, input_a: float, output_a: float) -> None:
        """Move charge for the length of a step."""
        vehicle, trip, hours = self.vehicle, self.trip, seconds / 3600
        net_a = output_a + self._sun_a(stretch) - stretch.load_a
        kept = vehicle.efficiency if net_a > 0 else 1.0
        net_a = min(net_a, vehicle.accepts_a(self.auxiliary_charge)) if net_a > 0 else net_a
        self.auxiliary_charge = min(1.0, max(0.0, self.auxiliary_charge + net_a * kept * hours / vehicle.auxiliary_ah))
        if stretch.running:
            left_a = math.inf if source.available_a is None else source.available_a - input_a - vehicle.branch_a
            start_a = min(left_a, vehicle.start_accepts_a(self.start_charge))
        else:
            crank_a = CRANK_C * vehicle.start_ah if stretch.engine == "crank" else 0.0
            sun_a = stretch.sun_start_w * HARVEST / vehicle.lifted_v
            start_a = (
                min(sun_a, vehicle.start_accepts_a(self.start_charge) + input_a) - input_a - vehicle.drain_a - crank_a
            )
        kept = vehicle.start_efficiency if start_a > 0 else 1.0
        self.start_charge = min(1.0, max(0.0, self.start_charge + start_a * kept * hours / vehicle.start_ah))
        trip.lowest_start_charge = min(trip.lowest_start_charge, self.start_charge)
        trip.charged_ah += output_a * hours
        trip.input_ah += input_a * hours
        if not stretch.running:
            trip.drained_ah += input_a * hours
        if self.unit.state == "charging":
            trip.charging_s += seconds
            if not stretch.running:
                trip.engine_off_charging_s += seconds


def drive(design: Design, programme: Programme, settings: Settings | None = None) -> Trip:
    """Drive a design's vehicle through a programme.

    Args:
        design: the design.
        programme: the day.
        settings: stand in for the design's own activation; `None` for those.
    """
    return Trial(design, programme, settings).run()
