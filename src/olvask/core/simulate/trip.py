"""A vehicle through a programme: the plant's equations and the unit's state machine stepped through time.

Conditions change only at the edges of stretches, at the unit's timers, when volts cross a threshold, and slowly with
the state. Time is stepped from one of those to the next rather than by a fixed tick.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Final, Literal

from olvask.core.circuit.solve import Solved, solve
from olvask.core.model import Design
from olvask.core.physics.battery import REFERENCE_C, SURFACE_TAU_S
from olvask.core.simulate.batteries import EMPTY
from olvask.core.simulate.machine import NEVER, Machine, Settings, What, settings_of
from olvask.core.simulate.plant import BATTERY_TAU_S, Plant
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.record import Event, Sample, Trip
from olvask.core.simulate.states import Flow, Moment, State
from olvask.core.simulate.steps import end_share, mean_rates, moved

RAMP_SHARE: Final = 0.226  # of the soft start in one step: four while the current ramps up
FIRST_STEP_S: Final = 300.0  # after anything changed
LONGEST_STEP_S: Final = 14400.0
SHORTEST_S: Final = 0.05
TOLERANCE: Final = 5e-4  # error of a charge that a step may make; the next step is as long as that allows
MOST_MOVED: Final = 0.02  # of a battery's charge in one step, so that no bend in what it takes is stepped over
FINEST, SHARE = 2e-5, 0.007  # a step that moves less charge may err by less: this, and a share of what it moves
CLOSE_TO_S: Final = 0.1  # a threshold crossed is looked at again this soon after
KINK_S: Final = 12.0  # the point where volts begin to hold the current back is met this closely
RAMP_KINK_S: Final = 0.6  # the same while the current ramps up
FILLED_AGAIN: Final = 0.005  # charge above which a battery that was empty may be called so again
SETTLE_S: Final = 1e-3
PART: Final = 500  # steps after which a long stretch tells how far it is
MOST_EVENTS: Final = 5000  # a trip that hunts so long is driven no further
AT_ONCE_S: Final = 0.1  # shorter steps are taken by their beginning alone
NEAR: Final = 1e-4  # charge by which a step may end beside where it was foretold, for the flow there to serve the next
HALVES = (0.5, 0.5)


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
        finer: float = 1.0,
        enough: Callable[[Trip], bool] | None = None,
    ) -> None:
        """Get ready.

        Args:
            design: the design.
            programme: the day.
            settings: stand in for the design's own, so that others can be tried.
            solved: the design solved, where that is at hand.
            recorded: whether samples are kept and temperatures watched; verdicts need neither.
            plant: stands in for the design's own vehicle.
            finer: every step is that many times shorter; for checking that steps are short enough.
            enough: says of the trip so far whether nothing more needs to be known; asked after every event.
        """
        solved = solve(design) if solved is None else solved
        self.plant = Plant(design, solved) if plant is None else plant
        self.settings = settings or settings_of(design, solved)
        self.programme = programme
        self.machine = Machine(self.settings, self.plant.profile, self._say)
        self.machine.look, self.machine.second_input = self._look, self.plant.second_input
        self.trip = Trip()
        self.now_s = 0.0
        self.state = State(programme.start_charge, programme.auxiliary_charge, battery_c=programme.ambient_c)
        self.trip.lowest_start_charge = programme.start_charge
        self.trip.coldest_c = min(REFERENCE_C, programme.ambient_c)
        self.stopped_s: float | None = None
        self.first_ended_s = -math.inf  # when the input that goes first was last seen, of a unit with two
        self.stretch = 0
        self.recorded = recorded
        self.finer = finer
        self.enough = enough
        self.next_s = FIRST_STEP_S
        self.running, self.air = False, self.plant.air(programme.ambient_c)
        self.flat: set[str] = set()
        self.ahead: Flow | None = None  # the flow at the end of a step is that at the beginning of the next

    def run(self) -> Trip:
        """Drive the whole programme."""
        for _ in self.parts():
            pass
        return self.trip

    def parts(self) -> Iterator[float]:
        """Drive part by part, telling after each the share of the programme done; to stop, ask for no more."""
        whole_s = max(self.programme.duration_s, 1e-9)
        for at, stretch in enumerate(self.programme.stretches):
            self.stretch = at
            self.begin(stretch)
            until_s = self.now_s + stretch.duration_s
            steps = 0
            while self.now_s < until_s - 1e-9 and self.trip.cut_s is None:
                before = len(self.trip.events)
                self._step(stretch, until_s)
                if self.enough is not None and len(self.trip.events) > before and self.enough(self.trip):
                    self.trip.cut_s = self.now_s
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
        """Take up what holds throughout a stretch; an engine that stops leaves its battery a surface charge."""
        if stretch.running:
            self.stopped_s = None
        elif self.running:
            self.stopped_s = self.now_s
        self.running = stretch.running
        self.air = self.plant.air(self.programme.ambient_c if stretch.ambient_c is None else stretch.ambient_c)
        self.next_s, self.ahead = FIRST_STEP_S, None
        if stretch.engine == "crank" and self.state.start_charge <= EMPTY:
            self._say("uncranked", "the start battery is empty")

    def drive_on(self, stretch: Stretch, seconds: float) -> None:
        """Go on for a while with what a stretch says, whatever the programme; for a vehicle that is driven by hand.

        Args:
            stretch: what holds; its own duration does not count.
            seconds: how long.
        """
        self.programme = replace(self.programme, stretches=(stretch,))
        self.stretch = 0
        self.begin(stretch)
        until_s = self.now_s + seconds
        while self.now_s < until_s - 1e-9:
            self._step(stretch, until_s)
        self.now_s = until_s

    def moment(self, stretch: Stretch, now: float) -> Moment:
        """What holds at a time within a stretch."""
        machine = self.machine
        surface_v = 0.0
        if self.stopped_s is not None and stretch.engine == "off":
            surface_v = self.plant.surface_v * math.exp(-(now - self.stopped_s) / SURFACE_TAU_S)
        drawing = machine.state == "charging"
        ramp = machine.ramp(now) if drawing else 0.0
        waits = self._waits(now) if self.plant.second_input else ""
        collapsed = drawing and machine.collapsed
        return Moment(stretch, self.running, self.air, surface_v, drawing, ramp, machine.target_v, waits, collapsed)

    def _waits(self, now: float) -> Literal["", "alternator", "solar"]:
        """Which input of a unit with two waits out its delay after the other."""
        unit = self.plant.unit
        if unit is None or unit.dual_input != "priority":
            return ""
        if now >= self.first_ended_s + unit.dual_delay_s:
            return ""
        return "solar" if unit.dual_first == "alternator" else "alternator"

    def _watch_first(self, stretch: Stretch, now: float) -> None:
        """Note when the input that goes first is there."""
        unit = self.plant.unit
        if unit is None or not self.plant.second_input:
            return
        sun = unit.dual_first != "alternator"
        if (stretch.sun_auxiliary_w > 0) if sun else self.machine.drawing:
            self.first_ended_s = now

    def _look(self, now: float) -> Flow:
        return self.plant.flow(self.state, self.moment(self.programme.stretches[self.stretch], now))

    def _step(self, stretch: Stretch, until_s: float) -> None:
        plant, machine, now = self.plant, self.machine, self.now_s
        moment = self.moment(stretch, now)
        flow = plant.flow(self.state, moment) if self.ahead is None else self.ahead
        self.ahead = None
        self._watch_first(stretch, now)
        acted = machine.act(now, stretch, flow)
        if acted:
            moment = self.moment(stretch, now)
            flow = plant.flow(self.state, moment)
            self.next_s = FIRST_STEP_S
        if self.recorded:
            self._record(stretch, moment, flow)
        rates = plant.rates(self.state, flow, self.air.ambient_c)
        # What a change does to the terminals is looked at again at once.
        longest_s = min(SETTLE_S, until_s - now) if acted else self._length(until_s)
        empty_s = self._until_empty_s(rates)
        if longest_s <= AT_ONCE_S or empty_s <= min(longest_s, self.next_s):
            seconds, there, mean, shares = min(longest_s, empty_s), flow, rates, HALVES
        else:
            seconds, there, mean, shares = self._taken(stretch, flow, rates, longest_s)
        self.trip.count(plant, self.state, moment, flow, there, seconds, shares)
        after = self._bounded(moved(plant, self.state, mean, seconds))
        self.state = after
        self.trip.reached(plant, after, moment, self.recorded)
        if after.start_charge <= FILLED_AGAIN or after.auxiliary_charge <= FILLED_AGAIN or self.flat:
            self._notice_empty(flow)
        self.now_s = now + seconds
        self._watch_first(stretch, self.now_s)

    def _taken(
        self, stretch: Stretch, flow: Flow, rates: State, longest_s: float
    ) -> tuple[float, Flow, State, tuple[float, float]]:
        """A step as long as its error and the next threshold let it be.

        Rates at the beginning foretell the end; a mean of the rates at both moves it, weighted as is exact where a
        current decays as it fills (`end_share`).

        Returns:
            Time [s], flow at the foretold end, rates that stand for the step, and the shares of the end in them: of
            the start battery and of the auxiliary battery.
        """
        plant, now, air_c = self.plant, self.now_s, self.air.ambient_c
        seconds, most = min(longest_s, self.next_s / self.finer), TOLERANCE / self.finer
        ramping = self.machine.drawing and now < self.machine.ramped_s
        kink_s = RAMP_KINK_S if ramping else KINK_S
        fastest = max(abs(rates.start_charge), abs(rates.auxiliary_charge))
        if fastest > 0:
            seconds = min(seconds, MOST_MOVED / self.finer / fastest)
        erred, aimed = seconds < FIRST_STEP_S and self.next_s < FIRST_STEP_S, False
        while True:
            foretold = moved(plant, self.state, rates, seconds).within()
            there = plant.flow(foretold, self.moment(stretch, now + seconds))
            ended = plant.rates(foretold, there, air_c)
            start, auxiliary = ended.start_charge - rates.start_charge, ended.auxiliary_charge - rates.auxiliary_charge
            shares = HALVES
            if not ramping:  # what changes by the clock does not decay
                shares = end_share(rates.start_charge, start), end_share(rates.auxiliary_charge, auxiliary)
            error = seconds * max(abs(start) / 2, abs(auxiliary) * (0.25 if flow.held else 0.5))
            tolerance = min(most, FINEST + SHARE * seconds * fastest)
            if error > 2 * tolerance and seconds > SHORTEST_S:
                erred = True
                seconds = max(SHORTEST_S, seconds * max(0.2, 0.9 * math.sqrt(tolerance / error)))
                continue
            crossed_s = self._crossed(flow, there, seconds)
            if seconds > CLOSE_TO_S and crossed_s < NEVER and not (aimed and seconds - crossed_s <= CLOSE_TO_S):
                aimed = True  # a straight line over a step that ends so close by is right
                seconds = max(CLOSE_TO_S, min(crossed_s + CLOSE_TO_S / 2, 0.9 * seconds))
                continue
            if seconds > kink_s and flow.held_by != there.held_by:
                seconds = max(kink_s, seconds / 2)  # what holds the current back changes: slopes do not meet there
                continue
            grown = 5.0 if error <= 0 else min(5.0, max(0.3, 0.9 * math.sqrt(tolerance / error)))
            least_s = 0.0 if erred else FIRST_STEP_S
            self.next_s = min(LONGEST_STEP_S, max(least_s, seconds * self.finer * grown))
            missed = seconds * max(abs(start * shares[0]), abs(auxiliary * shares[1]))
            if missed <= NEAR:
                self.ahead = there
            return seconds, there, mean_rates(plant, self.state, rates, ended, foretold, shares), shares

    def _crossed(self, flow: Flow, there: Flow, seconds: float) -> float:
        """When within a step something came past a mark the unit acts on; infinity where nothing did [s]."""
        machine = self.machine
        soonest = NEVER
        were, are = machine.marks(flow.input_a), machine.marks(there.input_a)
        for at in range(len(are)):
            soonest = min(soonest, _past(flow.volts - were[at], there.volts - are[at]))
        if machine.working:
            if machine.stage == "bulk":
                if self.now_s >= machine.ramped_s:
                    soonest = min(soonest, _past(flow.spare_a, there.spare_a))
            elif machine.stage == "absorption":
                tail_a = machine.profile.tail_a
                soonest = min(soonest, _past(flow.auxiliary_a - tail_a, there.auxiliary_a - tail_a))
            else:
                rebulk_v = machine.profile.rebulk_v
                soonest = min(soonest, _past(flow.auxiliary_v - rebulk_v, there.auxiliary_v - rebulk_v))
        if flow.refused != there.refused or flow.collapsed != there.collapsed:
            soonest = min(soonest, 0.5)
        return seconds * soonest

    def _bounded(self, after: State) -> State:
        """A state within the bounds of charge; what did not fit, or was not there, is taken off the totals."""
        start, auxiliary, trip, plant = after.start_charge, after.auxiliary_charge, self.trip, self.plant
        if 0 <= start <= 1 and 0 <= auxiliary <= 1:
            return after
        self.ahead = None  # it was foretold for a state just past its bounds
        start_ah, auxiliary_ah = plant.start.cell.capacity_ah, plant.auxiliary.capacity_ah
        trip.start_in_ah -= max(0.0, start - 1) * start_ah / plant.start.cell.kept
        trip.start_out_ah -= max(0.0, -start) * start_ah
        over_ah = max(0.0, auxiliary - 1) * auxiliary_ah / plant.auxiliary.kept
        trip.auxiliary_in_ah -= over_ah
        trip.charged_ah -= over_ah
        under_ah = max(0.0, -auxiliary) * auxiliary_ah
        trip.auxiliary_out_ah -= under_ah
        trip.load_ah -= under_ah
        return after.within()

    def _until_empty_s(self, rates: State) -> float:
        """When a battery is empty at these rates [s]; from there on it gives nothing."""
        state, soonest = self.state, NEVER
        if rates.start_charge < 0 < state.start_charge:
            soonest = state.start_charge / -rates.start_charge
        if rates.auxiliary_charge < 0 < state.auxiliary_charge:
            soonest = min(soonest, state.auxiliary_charge / -rates.auxiliary_charge)
        return max(soonest, 1e-6)

    def _until_cold_s(self) -> float:
        """When the pack comes past the temperature at which its own cut-off acts [s]; just past it."""
        air_c, here_c, limit_c = self.air.ambient_c, self.state.battery_c, self.plant.coldest_c
        left, gone = air_c - limit_c, air_c - here_c
        if gone == 0 or not 0 < left / gone < 1:
            return NEVER
        return BATTERY_TAU_S * math.log(gone / left) + SHORTEST_S

    def _say(self, what: What, text: str) -> None:
        self.trip.events.append(Event(self.now_s, what, text, self.stretch))

    def _notice_empty(self, flow: Flow) -> None:
        """Say once that a battery is empty, until it holds something again."""
        for name, charge, amps in (
            ("start", self.state.start_charge, flow.start_a),
            ("auxiliary", self.state.auxiliary_charge, flow.auxiliary_a),
        ):
            if charge <= EMPTY and amps <= 0 and name not in self.flat:
                self.flat.add(name)
                self._say("flat", f"the {name} battery is empty")
            elif charge > FILLED_AGAIN:
                self.flat.discard(name)

    def _length(self, until_s: float) -> float:
        """Time to the next thing that can happen by itself [s]."""
        machine, now = self.machine, self.now_s
        seconds = until_s - now
        due_s = machine.due(now)
        if due_s - now > 1e-9:
            seconds = min(seconds, due_s - now)
        if self.plant.refuses_cold:
            seconds = min(seconds, self._until_cold_s())
        unit = self.plant.unit
        if unit is not None and self.plant.second_input:
            waited_s = self.first_ended_s + unit.dual_delay_s - now
            if waited_s > 1e-9:
                seconds = min(seconds, waited_s)
        if machine.state == "charging" and now < machine.ramped_s:
            seconds = min(seconds, RAMP_SHARE * machine.rule.soft_start_s / self.finer, machine.ramped_s - now + 1e-9)
        return max(seconds, 1e-3)

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
                flow.auxiliary_v + flow.output_a * plant.delivery.ohm(state.delivery_heating, shift_k),
                state.battery_c,
                flow.refused,
            )
        )


def _past(before: float, after: float) -> float:
    """At which share of a step something came past zero, as a straight line has it; infinity where it did not."""
    if (before < 0) == (after < 0):
        return NEVER
    return min(1.0, max(0.0, before / (before - after)))


def drive(design: Design, programme: Programme, settings: Settings | None = None, solved: Solved | None = None) -> Trip:
    """Drive a design's vehicle through a programme.

    Args:
        design: the design.
        programme: the day.
        settings: stand in for the design's own activation; `None` for those.
        solved: the design solved, where that is at hand.
    """
    return Trial(design, programme, settings, solved).run()
