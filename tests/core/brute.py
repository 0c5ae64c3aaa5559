"""A second simulator for tests: a fixed tick and currents by bisection, written apart from the core's.

Knows the jobs of `tests.designs` only: a flooded start battery and an AGM auxiliary of 12 V and 110 Ah, absorbed at
14.4 V with 30 A at most, its unit of 25 A. Of the core it takes the thresholds and resistances under test.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from itertools import pairwise

from olvask.core.circuit import run_state, solve
from olvask.core.model import Design
from olvask.core.physics.alternator import Source
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.programme import Programme

FLOODED = [(0.0, 11.60), (0.2, 11.80), (0.4, 12.06), (0.6, 12.28), (0.8, 12.48), (1.0, 12.70)]
AGM = [(0.0, 11.60), (0.2, 11.90), (0.4, 12.15), (0.6, 12.40), (0.8, 12.62), (1.0, 12.85)]
AUXILIARY_AH, AUXILIARY_OHM, ABSORPTION_V = 110.0, 0.35 / 110.0, 14.4
SUN_SHARE = 0.9  # of a panel's rating that arrives
DRAIN_A = 0.03


@dataclass
class Fixed:
    """What the fixed tick found."""

    starts: list[int] = field(default_factory=list)  # the stretch of each start
    start_times: list[float] = field(default_factory=list)
    lockouts: int = 0
    output_ah: float = 0.0
    lowest_start: float = 1.0

    @property
    def hunts(self) -> bool:
        """Three starts in ten minutes of one stretch."""
        return any(
            self.starts[at] == self.starts[at + 2] and self.start_times[at + 2] - self.start_times[at] <= 600.0
            for at in range(len(self.starts) - 2)
        )


def rested(points: list[tuple[float, float]], charge: float) -> float:
    """Rested volts of a 12 V battery."""
    for (low, low_v), (high, high_v) in pairwise(points):
        if charge <= high:
            return low_v + (high_v - low_v) * (charge - low) / (high - low)
    return points[-1][1]


def terminal(open_v: float, ohm: float, watts: float) -> float:
    """Input volts at a constant power through a resistance; zero where none holds it."""
    low, high = open_v / 2, open_v
    if low * (open_v - low) / ohm < watts:
        return 0.0
    for _ in range(30):
        middle = (low + high) / 2
        low, high = (middle, high) if middle * (open_v - middle) / ohm >= watts else (low, middle)
    return low


def brute(job: Design, day: Programme, tick: float = 0.2) -> Fixed:
    """Drive a day, `tick` seconds at a time."""
    solved = solve(job)
    rule, unit, output = settings_of(job, solved), job.charger, solved.output
    assert unit is not None
    assert output is not None
    first = solved.running[0]
    warm = first.run if first.drawn is not None else run_state(job.supply, 25.0, job.choices.lug_mohm)
    levels: dict[str, Source] = {state.key: state.source for state in solved.running}
    start, readings, scale = job.vehicle.start_battery, job.vehicle.readings, job.vehicle.system_v / 12
    inner = 0.5 * scale / start.capacity_ah
    assert readings.rest_v is not None
    assert readings.after_stop_v is not None
    surface_v = readings.after_stop_v - readings.rest_v
    lifts_to = max((item.lifts_to_v or 0.0 for item in job.vehicle.lifters), default=13.8 * scale)
    by_volts = "voltage" in rule.methods
    found = Fixed(lowest_start=day.start_charge)
    start_c, aux_c = day.start_charge, day.auxiliary_charge
    on, since, now = False, 0.0, 0.0
    started_at: float | None = None
    stop_at: float | None = None
    low_at: float | None = None
    locked: float | None = None
    off_since: float | None = None
    for at, stretch in enumerate(day.stretches):
        running = stretch.engine in ("idle", "cruise", "low")
        off_since = None if running else (now if off_since is None and now > 0 else off_since)
        allowed = ("d_plus" not in rule.methods or running) and ("ignition" not in rule.methods or stretch.ignition)
        for _ in range(round(stretch.duration_s / tick)):
            ohm, sun_a = warm.loop_ohm, 0.0
            if running:
                source = levels.get(stretch.engine, levels["cruise"])
                open_v, ohm = source.regulated_v, ohm + source.sag_ohm
            else:
                ohm += inner
                fading = 0.0 if off_since is None else surface_v * math.exp(-(now - off_since) / 900.0)
                open_v = rested(FLOODED, start_c) * scale + fading
                sun_a = stretch.sun_start_w * SUN_SHARE / lifts_to
                if stretch.engine == "crank":
                    open_v = rested(FLOODED, start_c) * scale - 4.0 * start.capacity_ah * inner
                elif sun_a > 0:
                    open_v = open_v + sun_a * inner if on else max(open_v, lifts_to)
            rest_v = rested(AGM, aux_c)
            taken = 30.0 if aux_c <= 0.8 else 30.0 * (1 - aux_c) / 0.2
            taken = min(taken, max(0.0, (ABSORPTION_V - rest_v) / AUXILIARY_OHM))
            amps = min(output.current_a * min(1.0, (now - since + 1.0) / 10.0), taken) if on else 0.0
            battery_v = min(ABSORPTION_V, rest_v + amps * AUXILIARY_OHM)
            watts = (battery_v + amps * output.run.loop_ohm) * amps / unit.efficiency
            volts = terminal(open_v, ohm, watts) if amps > 0 else open_v
            # Lockout, permission, timers.
            if locked is not None:
                if volts >= rule.restart_v and now - locked >= 10.0:
                    locked = None
            elif volts < rule.lockout_v:
                low_at = now if low_at is None else low_at
                if now - low_at >= rule.lockout_delay_s - 1e-6:
                    locked, on, low_at, started_at, stop_at = now, False, None, None, None
                    found.lockouts += 1
            else:
                low_at = None
            if locked is None and not allowed:
                on, started_at, stop_at = False, None, None
            elif locked is None and on:
                stop_at = None if not by_volts or volts >= rule.stop_v else (now if stop_at is None else stop_at)
                if stop_at is not None and now - stop_at >= rule.stop_delay_s - 1e-6:
                    on, stop_at = False, None
            elif locked is None and volts >= max(unit.input_min_v, rule.start_v if by_volts else 0.0):
                started_at = now if started_at is None else started_at
                if now - started_at >= (rule.start_delay_s if by_volts else 0.0) - 1e-6:
                    on, since, started_at = True, now, None
                    found.starts.append(at)
                    found.start_times.append(now)
            else:
                started_at = None
            amps = amps if on else 0.0
            input_a = watts / volts if on and volts > 0 else 0.0
            hours = tick / 3600
            found.output_ah += amps * hours
            aux_c = min(1.0, aux_c + amps * 0.85 * hours / AUXILIARY_AH)
            gain = 0.25 * start.capacity_ah * (1.0 if start_c <= 0.8 else (1 - start_c) / 0.2)
            if running:
                flow = gain
            else:
                cranking = 4.0 * start.capacity_ah if stretch.engine == "crank" else 0.0
                flow = min(sun_a, gain + input_a) - input_a - DRAIN_A - cranking
            start_c += flow * (0.8 if flow > 0 else 1.0) * hours / start.capacity_ah
            start_c = min(1.0, max(0.0, start_c))
            found.lowest_start = min(found.lowest_start, start_c)
            now += tick
    return found
