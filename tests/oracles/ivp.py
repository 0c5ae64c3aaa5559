"""The core's own equations and state machine integrated by scipy: what the trip's time stepping is held against."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, fields
from operator import attrgetter
from typing import Any

import numpy as np
from scipy.integrate import solve_ivp

from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.simulate.machine import Machine, settings_of
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.profile import profile_of
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.states import Flow, State
from olvask.core.simulate.trip import Trial

CHANGING = attrgetter(*(item.name for item in fields(State)))  # in the order of a state
NUDGE_S = 1e-3  # past a crossing, so that the sign has changed
Vector = np.ndarray[Any, np.dtype[np.float64]]


@dataclass
class Integrated:
    """What scipy makes of a day."""

    starts: int = 0
    guard_trips: int = 0
    charged_ah: float = 0.0
    input_wh: float = 0.0
    start_charge: float = 0.0
    auxiliary_charge: float = 0.0
    events: list[tuple[float, str]] = field(default_factory=list)


class Integral:
    """One vehicle through one programme; state, then ampere-hours out and watt-hours in."""

    def __init__(self, job: Design, day: Programme, method: str) -> None:
        solved = solve(job)
        self.trial = Trial(job, day, solved=solved)  # for its `moment` alone
        self.plant = Plant(job, solved)
        self.found = Integrated()
        self.machine = Machine(settings_of(job, solved), profile_of(job, solved), self.say)
        self.trial.machine = self.machine
        self.day, self.method, self.now = day, method, 0.0
        self.y: Vector = np.array([day.start_charge, day.auxiliary_charge, 0.0, 0.0, 0.0, day.ambient_c, 0.0, 0.0])

    def say(self, what: str, _text: str) -> None:
        self.found.events.append((self.now, what))

    def flow(self, t: float, y: Vector, stretch: Stretch) -> tuple[State, Flow]:
        state = State(min(1.0, max(0.0, y[0])), min(1.0, max(0.0, y[1])), y[2], y[3], y[4], y[5])
        return state, self.plant.flow(state, self.trial.moment(stretch, t))

    def slope(self, t: float, y: Vector, stretch: Stretch) -> Vector:
        state, flow = self.flow(t, y, stretch)
        hourly = (flow.output_a, flow.volts * flow.input_a) if self.machine.drawing else (0.0, 0.0)
        rates = self.plant.rates(state, flow, self.trial.air.ambient_c)
        return np.array([*CHANGING(rates), hourly[0] / 3600, hourly[1] / 3600])

    def crossings(self, stretch: Stretch) -> Iterator[Callable[[float, Vector], float]]:
        """What ends a piece early: a threshold crossed, or a stage of the charge that is over."""

        def event(value: Callable[[Flow], float]) -> Callable[[float, Vector], float]:
            def at(t: float, y: Vector) -> float:
                return value(self.flow(t, y, stretch)[1])

            at.terminal = True  # type: ignore[attr-defined]
            return at

        for at in range(len(self.machine.marks(0.0))):
            yield event(lambda flow, at=at: flow.volts - self.machine.marks(flow.input_a)[at])  # type: ignore[misc]
        if self.machine.working and self.machine.stage == "bulk":
            yield event(lambda flow: flow.spare_a)
        elif self.machine.working and self.machine.stage == "absorption":
            yield event(lambda flow: flow.auxiliary_a - self.machine.profile.tail_a)
        elif self.machine.working:
            yield event(lambda flow: flow.auxiliary_v - self.machine.profile.rebulk_v)

    def run(self) -> Integrated:
        for at, stretch in enumerate(self.day.stretches):
            before = self.day.stretches[at - 1] if at else None
            self.trial.begin(stretch)
            if stretch.running:
                self.trial.stopped_s = None
            elif before is not None and before.running:
                self.trial.stopped_s = self.now
            until = self.now + stretch.duration_s
            while self.now < until - 1e-9:
                self.piece(stretch, until)
        found = self.found
        found.starts = sum(what == "start" for _, what in found.events)
        found.guard_trips = sum(what == "guard" for _, what in found.events)
        found.start_charge, found.auxiliary_charge = float(self.y[0]), float(self.y[1])
        found.charged_ah, found.input_wh = float(self.y[6]), float(self.y[7])
        return found

    def piece(self, stretch: Stretch, until: float) -> None:
        """Act, then integrate to the next timer, edge or crossing."""
        machine = self.machine
        machine.look = lambda t: self.flow(t, self.y, stretch)[1]
        _, flow = self.flow(self.now, self.y, stretch)
        end = until
        if machine.act(self.now, stretch, flow):
            end = min(end, self.now + NUDGE_S)  # what a change does to the terminals is looked at at once
        due = machine.due(self.now)
        end = min(end, due) if due > self.now + 1e-9 else end
        if machine.drawing and self.now < machine.ramped_s - 1e-9:
            end = min(end, machine.ramped_s)
        done = solve_ivp(
            lambda t, y: self.slope(t, y, stretch),
            (self.now, end),
            self.y,
            method=self.method,
            rtol=1e-6,
            atol=1e-9,
            events=list(self.crossings(stretch)),
        )
        assert done.success, done.message
        self.now, self.y = float(done.t[-1]), done.y[:, -1]
        if done.status == 1 and self.now < until - NUDGE_S:
            self.y = self.y + self.slope(self.now, self.y, stretch) * NUDGE_S
            self.now += NUDGE_S
        elif done.status == 1:
            self.now = until


def integrate(job: Design, day: Programme, method: str = "RK45") -> Integrated:
    """Drive a day with scipy's integrator, events and all."""
    return Integral(job, day, method).run()


def any_day(pick: random.Random) -> Programme:
    """A day nobody planned: engine states, loads, sun on either side, a pulled plug, a lost wire, cold."""
    stretches = []
    for _ in range(pick.randint(3, 10)):
        engine = pick.choice(("off", "off", "crank", "idle", "cruise", "low"))
        seconds = pick.uniform(1, 5) if engine == "crank" else pick.choice((20, 90, 400, 1500)) * pick.uniform(0.5, 1.5)
        stretches.append(
            Stretch(
                engine,  # type: ignore[arg-type]
                round(seconds, 1),
                engine != "off" or pick.random() < 0.2,
                load_a=pick.choice((0.0, 0.0, 3.0, 12.0)),
                sun_auxiliary_w=pick.choice((0.0, 0.0, 60.0, 200.0)),
                sun_start_w=pick.choice((0.0, 0.0, 0.0, 50.0)),
                plugged=pick.random() > 0.05,
                remote=pick.random() > 0.1,
                ambient_c=pick.choice((None, None, -15.0, 10.0)),
            )
        )
    return Programme(tuple(stretches), pick.uniform(0.5, 1), pick.uniform(0.05, 1))
