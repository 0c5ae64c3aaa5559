"""A second simulator for tests: a fixed tick and currents by bisection, written apart from the core's.

Of the core it takes what is under test: thresholds and delays in force, resistances of the warm runs, regulated volts.
Batteries, stages of the charge and the state machine are its own, numbers typed in anew from the trade's tables.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from itertools import pairwise
from typing import NamedTuple

from olvask.core.circuit.runs import run_state
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.physics.alternator import Source
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.programme import Programme

SUN_SHARE = 0.9  # of a panel's rating that arrives
DRAIN_A = 0.03


class Kind(NamedTuple):
    """A chemistry per 12 V: rested volts from empty to full, ohm-ampere-hours, and how it is charged."""

    rested: list[tuple[float, float]]
    ohm_ah: float
    taper: float
    kept: float
    c_rate: float
    absorption: float
    floating: float
    again: float
    hours: float
    tail: float


LEAD = (0.0, 0.2, 0.4, 0.6, 0.8, 1.0)
KINDS = {
    "flooded": Kind(list(zip(LEAD, (11.60, 11.80, 12.06, 12.28, 12.48, 12.70), strict=True)), 0.50, 0.8, 0.80, 0.2, 14.6, 13.6, 12.8, 2.0, 0.02),
    "agm": Kind(list(zip(LEAD, (11.60, 11.90, 12.15, 12.40, 12.62, 12.85), strict=True)), 0.35, 0.8, 0.85, 0.25, 14.5, 13.6, 12.8, 2.0, 0.02),
    "gel": Kind(list(zip(LEAD, (11.60, 11.90, 12.15, 12.38, 12.60, 12.85), strict=True)), 0.55, 0.8, 0.85, 0.2, 14.2, 13.7, 12.8, 2.5, 0.02),
    "lfp": Kind([(0.0, 11.6), (0.1, 12.8), (0.2, 12.95), (0.4, 13.1), (0.6, 13.15), (0.8, 13.28), (0.95, 13.34), (1.0, 13.5)], 0.60, 0.95, 0.99, 0.5, 14.2, 13.5, 13.4, 0.5, 0.05),
}  # fmt: skip


@dataclass
class Fixed:
    """What the fixed tick found."""

    starts: list[int] = field(default_factory=list)  # the stretch of each start
    start_times: list[float] = field(default_factory=list)
    guard_trips: int = 0
    output_ah: float = 0.0
    lowest_start: float = 1.0

    @property
    def hunts(self) -> bool:
        """Three starts in one stretch."""
        return any(self.starts[at] == self.starts[at + 2] for at in range(len(self.starts) - 2))


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


def taking(kind: Kind, scale: float, charge: float, limit: float, full_v: float, inner: float) -> tuple[float, float]:
    """Ohms against charging, and the most a battery takes."""
    taper = kind.taper
    if charge >= taper:
        most = limit * (1 - charge) / (1 - taper)
        return max(inner, (full_v - rested(kind.rested, charge) * scale) / max(most, 1e-6)), most
    at_taper = max(inner, (full_v - rested(kind.rested, taper) * scale) / limit)
    return inner + (at_taper - inner) * (charge / taper) ** 2, limit


class Bank:
    """An auxiliary battery under charge: what it takes at a voltage held at the far end of its run."""

    def __init__(self, job: Design) -> None:
        battery = job.auxiliary
        self.kind, self.scale, self.ah = KINDS[battery.chemistry], battery.nominal_v / 12, battery.capacity_ah
        self.inner = self.kind.ohm_ah / self.ah * self.scale
        self.limit = battery.charge_limit_a if battery.charge_limit_a is not None else self.kind.c_rate * self.ah
        self.full_v = battery.absorption_v if battery.absorption_v is not None else self.kind.absorption * self.scale

    def rest(self, charge: float) -> float:
        return rested(self.kind.rested, charge) * self.scale

    def against(self, charge: float) -> tuple[float, float]:
        """Ohms against charging, and the most it takes."""
        return taking(self.kind, self.scale, charge, self.limit, self.full_v, self.inner)


class Starter:
    """The start battery at its posts: what it gives below its own volts, what it takes above them."""

    def __init__(self, job: Design) -> None:
        start = job.vehicle.start_battery
        self.kind, self.scale, self.ah = KINDS[start.chemistry], job.vehicle.system_v / 12, start.capacity_ah
        self.inner = self.kind.ohm_ah * self.scale / self.ah

    def rest(self, charge: float) -> float:
        return rested(self.kind.rested, charge) * self.scale

    def against(self, charge: float) -> tuple[float, float]:
        """Ohms against charging, and the most it takes: a quarter of its capacity."""
        return taking(self.kind, self.scale, charge, 0.25 * self.ah, self.kind.absorption * self.scale, self.inner)

    def driven(self, charge: float, post_v: float, left: float, drawn: float) -> float:
        """Current into it with the engine running: at those posts, with that much left, that much drawn there."""
        open_v = self.rest(charge)
        if post_v >= open_v:
            ohm, most = self.against(charge)
            return max(0.0, min(left, most, (post_v - open_v) / ohm))
        return 0.0 if charge <= 0 else max(-(open_v - post_v) / self.inner, -drawn)

    def parked_v(self, charge: float, open_v: float, feed: float, drawn: float, ceiling_v: float) -> float:
        """Volts at its posts with the engine off, under a feed that backs off at its ceiling: by bisection."""
        ohm, most = self.against(charge)

        def spare(volts: float) -> float:
            """Amperes too many at a voltage; the posts stand where there are none."""
            fed = feed if volts < ceiling_v else 0.0
            into = min(most, (volts - open_v) / ohm) if volts >= open_v else (volts - open_v) / self.inner
            return fed - drawn - into

        low, high = open_v - 4 * abs(drawn + 1) * self.inner, max(open_v, ceiling_v) + 1.0
        for _ in range(32):  # to a thousand-millionth of a volt
            middle = (low + high) / 2
            low, high = (middle, high) if spare(middle) > 0 else (low, middle)
        return low


def brute(job: Design, day: Programme, tick: float = 0.2) -> Fixed:
    """Drive a day, `tick` seconds at a time."""
    solved = solve(job)
    rule, unit, output = settings_of(job, solved), job.charger, solved.output
    assert unit is not None
    assert output is not None
    first = solved.running[0]
    warm = first.run if first.drawn is not None else run_state(job.supply, output.current_a, job.choices.lug_mohm)
    levels: dict[str, Source] = {state.key: state.source for state in solved.running}
    readings, scale, bank, starter = job.vehicle.readings, job.vehicle.system_v / 12, Bank(job), Starter(job)
    inner = starter.inner
    vehicle_a = {"idle": job.vehicle.alternator.loads_idle_a}
    assert readings.rest_v is not None
    assert readings.after_stop_v is not None
    surface_v = readings.after_stop_v - readings.rest_v
    lifts_to = max((item.lifts_to_v or 0.0 for item in job.vehicle.lifters), default=13.8 * scale)
    by_volts = "voltage" in rule.ways
    soft_s = unit.behaviour.soft_start_s or 10.0
    out_s = 10.0 if unit.guard.off_least_s is None else unit.guard.off_least_s
    allowed_ohm = warm.loop_ohm if unit.guard.compensated else 0.0  # V + I·R as keyed in
    starting = [(item.volts, item.held_s) for item in rule.start_rules] if by_volts else [(0.0, 0.0)]
    stopping = [(item.volts, item.held_s) for item in rule.stop_rules] if by_volts else []
    found = Fixed(lowest_start=day.start_charge)
    start_c, aux_c = day.start_charge, day.auxiliary_charge
    on, since, now, stage, absorbing = False, 0.0, 0.0, "bulk", 0.0
    started_at: list[float | None] = [None] * len(starting)
    stop_at: list[float | None] = [None] * len(stopping)
    low_at: float | None = None
    locked: float | None = None
    off_since: float | None = None
    ran = False
    for at, stretch in enumerate(day.stretches):
        running = stretch.engine in ("idle", "cruise", "low")
        off_since = None if running else now if ran else off_since  # surface charge is what a stopped engine leaves
        ran = running
        allowed = ("d_plus" not in rule.ways or running) and ("ignition" not in rule.ways or stretch.ignition)
        for _ in range(round(stretch.duration_s / tick)):
            ohm, sun_a, limit_a, held_v = warm.loop_ohm, 0.0, math.inf, 0.0
            if running:
                source = levels.get(stretch.engine, levels["cruise"])
                open_v, ohm = source.regulated_v, ohm + source.sag_ohm
                if source.available_a is not None:
                    limit_a, held_v = (
                        source.available_a,
                        min(starter.rest(start_c), source.regulated_v) + source.available_a * inner,
                    )
            else:
                ohm += inner
                fading = 0.0 if off_since is None else surface_v * math.exp(-(now - off_since) / 900.0)
                bare_v = starter.rest(start_c) + fading
                sun_a = stretch.sun_start_w * SUN_SHARE / lifts_to
                cranking = 4.0 * starter.ah if stretch.engine == "crank" else 0.0
                open_v = starter.parked_v(start_c, bare_v, sun_a, DRAIN_A + cranking, lifts_to)
            rest_v = bank.rest(aux_c)
            against, most = bank.against(aux_c)
            target = bank.kind.floating * bank.scale if stage == "float" else bank.full_v
            ramp = min(1.0, 0.1 + (now - since) / soft_s)
            held = max(0.0, (target - rest_v) / (against + output.run.loop_ohm))
            amps = min(output.current_a * ramp, held, most) if on else 0.0
            watts = (rest_v + amps * (against + output.run.loop_ohm)) * amps / unit.efficiency
            if amps > 0 and not running:
                volts, drawn = open_v, watts / open_v
                for _ in range(40):  # the posts under the draw, the draw at those posts
                    posts = starter.parked_v(start_c, bare_v, sun_a, DRAIN_A + cranking + drawn, lifts_to)
                    before, volts = drawn, posts - drawn * warm.loop_ohm
                    drawn = watts / volts if volts > 0.3 * bare_v else math.inf
                    if math.isinf(drawn):
                        volts = 0.0
                        break
                    if abs(drawn - before) < 1e-9:
                        break
            else:
                volts = terminal(open_v, ohm, watts) if amps > 0 else open_v
            if volts > 0 and amps > 0 and watts / volts > limit_a:  # the alternator gives no more: the battery holds it
                volts = terminal(held_v, inner + warm.loop_ohm, watts)
            # Guard, permission, rules.
            if locked is not None:
                if volts >= rule.back_v and now - locked >= out_s:
                    locked = None
            elif volts + (watts / volts * allowed_ohm if amps > 0 and volts > 0 else 0.0) < rule.guard_v:
                low_at = now if low_at is None else low_at
                if now - low_at >= rule.guard_held_s - 1e-6:
                    locked, on, low_at = now, False, None
                    started_at, stop_at = [None] * len(starting), [None] * len(stopping)
                    found.guard_trips += 1
            else:
                low_at = None
            if locked is None and not allowed:
                on, started_at, stop_at = False, [None] * len(starting), [None] * len(stopping)
            elif locked is None and on:
                stop_at = [
                    None if volts >= below else (now if was is None else was)
                    for was, (below, _) in zip(stop_at, stopping, strict=True)
                ]
                held_s = [
                    (now - was, held) for was, (_, held) in zip(stop_at, stopping, strict=True) if was is not None
                ]
                if any(long >= held - 1e-6 for long, held in held_s):
                    on, stop_at = False, [None] * len(stopping)
            elif locked is None:
                started_at = [
                    None if volts < max(unit.input_min_v, least) else (now if was is None else was)
                    for was, (least, _) in zip(started_at, starting, strict=True)
                ]
                held_s = [
                    (now - was, held) for was, (_, held) in zip(started_at, starting, strict=True) if was is not None
                ]
                if any(long >= held - 1e-6 for long, held in held_s):
                    on, since, started_at = True, now, [None] * len(starting)
                    stage = "float" if rest_v >= bank.kind.again * bank.scale else "bulk"
                    found.starts.append(at)
                    found.start_times.append(now)
            # Stages of the charge.
            if on and stage == "bulk" and now - since >= 0.9 * soft_s - 1e-6 and amps < output.current_a - 1e-9:
                stage, absorbing = "absorption", now
            elif on and stage == "absorption":
                lasts = bank.kind.hours * 3600.0
                lasts = lasts if job.auxiliary.chemistry == "lfp" else min(lasts, max(600.0, (absorbing - since) / 2))
                stage = "float" if amps <= bank.kind.tail * bank.ah or now - absorbing >= lasts else stage
            amps = amps if on else 0.0
            input_a = watts / volts if on and volts > 0 else 0.0
            hours = tick / 3600
            found.output_ah += amps * hours
            aux_c = min(1.0, aux_c + amps * bank.kind.kept * hours / bank.ah)
            if running and source.available_a is not None and input_a > source.available_a:
                flow = source.available_a - input_a
            elif running:
                post_v = source.regulated_v - source.sag_ohm * input_a
                drawn_a = input_a + vehicle_a.get(stretch.engine, job.vehicle.alternator.loads_cruise_a)
                flow = starter.driven(start_c, post_v, limit_a - input_a, drawn_a)
            else:
                posts = starter.parked_v(start_c, bare_v, sun_a, DRAIN_A + cranking + input_a, lifts_to)
                ohm_in, most_in = starter.against(start_c)
                flow = min(most_in, (posts - bare_v) / ohm_in) if posts >= bare_v else (posts - bare_v) / inner
            start_c += flow * (starter.kind.kept if flow > 0 else 1.0) * hours / starter.ah
            start_c = min(1.0, max(0.0, start_c))
            found.lowest_start = min(found.lowest_start, start_c)
            now += tick
    return found
