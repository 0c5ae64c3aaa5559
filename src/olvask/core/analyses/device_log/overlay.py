"""The simulation of the same period beside the log, and both thinned for a picture.

- `programme_of`: the day as the log shows it, for the simulator.
- `window`: what was logged in a while, thinned to its lowest and highest, beside what the simulator says.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Annotated

import numpy as np
from pydantic import Field

from olvask.core.analyses.device_log.course import Course, spans
from olvask.core.analyses.device_log.happened import Happened
from olvask.core.analyses.device_log.series import Floats, Log
from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.model.device_log import MEASURES, Measured
from olvask.core.physics.battery import charge_at_rest
from olvask.core.simulate.programme import MOST_STRETCHES, Engine, Programme, Stretch
from olvask.core.simulate.report import thinned
from olvask.core.simulate.trip import drive

MOST_S, MOST_COLUMNS = 62 * 86400.0, 600
SHORTEST_S, JUST_S = 1.0, 0.05
LEAST_H = 2.0  # of standing, before a fall of the charge says what loads take
BEGIN_START, BEGIN_AUXILIARY = 0.9, 0.5
SHOWN: tuple[Measured, ...] = ("input_v", "post_v", "output_v", "auxiliary_v", "input_a", "output_a", "auxiliary_a")


class LogCurve(Said):
    """One measure in the window: lowest and highest of each column of the picture; none where nothing was logged."""

    measure: Measured
    label: str
    unit: str
    low: tuple[float | None, ...]
    high: tuple[float | None, ...]


class SimulatedCurve(Said):
    """What the simulator says of the same measure."""

    measure: Measured
    time_s: tuple[float, ...]
    value: tuple[float, ...]


class LogWindow(Said):
    """A while of the log beside the simulation."""

    from_s: Annotated[float, Field(description="seconds since 1970, UTC")]
    to_s: float
    time_s: Annotated[tuple[float, ...], Field(description="beginning of each column of the picture")]
    logged: tuple[LogCurve, ...]
    simulated: tuple[SimulatedCurve, ...]
    happened: tuple[Happened, ...]
    text: str


def programme_of(
    ctx: Context, log: Log, course: Course, happened: Sequence[Happened], begins: tuple[float, float]
) -> Programme:
    """The day as the log shows it: engine off, under way, and low phases, with the loads its charge speaks of.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
        happened: what was found in it.
        begins: charge of the start and of the auxiliary battery to begin with, 0 to 1.
    """
    load_a = _load_a(ctx, log, course)
    edges: list[tuple[float, Engine]] = [(float(log.time_s[0]), "cruise" if course.running[0] else "off")]
    for row in np.flatnonzero(np.diff(course.running.astype(np.int8))) + 1:
        edges.append((float(log.time_s[row]), "cruise" if course.running[row] else "off"))
    lows = [(item.at_s, item.until_s) for item in happened if item.what == "low_phase"]
    stretches = []
    end_s = float(log.time_s[-1])
    for at, (from_s, engine) in enumerate(edges):
        to_s = edges[at + 1][0] if at + 1 < len(edges) else end_s
        if to_s - from_s < SHORTEST_S:
            continue
        low = engine == "off" and any(abs(from_s - begun) < 1 for begun, _ in lows)
        known: Engine = "low" if low else engine
        stretches.append(Stretch(known, to_s - from_s, ignition=known != "off", load_a=load_a))
    return Programme(tuple(stretches[:MOST_STRETCHES]), *begins)


def _load_a(ctx: Context, log: Log, course: Course) -> float:
    """What the auxiliary battery's loads take on the average [A]: by its charge while nothing charges, else as surveyed."""
    percent, capacity_ah = log.get("charge_percent"), ctx.design.auxiliary.capacity_ah
    if percent is not None and np.isfinite(percent).sum() > 1:
        fell = hours = 0.0
        for first, last in spans(~course.charging & np.isfinite(percent)):
            fell += float(percent[first] - percent[last - 1]) / 100
            hours += float(log.time_s[last - 1] - log.time_s[first]) / 3600
        if hours > LEAST_H:
            return max(0.0, fell * capacity_ah / hours)
    daily = ctx.facts.daily
    return float(daily.value) / 24 if daily is not None else 0.0


def window(
    ctx: Context, log: Log, course: Course, happened: Sequence[Happened], from_s: float, to_s: float
) -> LogWindow:
    """What was logged in a while beside what the simulator says of it.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
        happened: what was found in it.
        from_s: from then on [s since 1970].
        to_s: up to then.
    """
    from_s, to_s = max(from_s, float(log.time_s[0])), min(to_s, float(log.time_s[-1]))
    to_s = max(to_s, from_s + 10 * max(log.every_s, SHORTEST_S))
    edges = np.linspace(from_s, to_s, MOST_COLUMNS + 1)
    logged = tuple(_curve(log, name, edges) for name in SHOWN if name in log.values)
    simulated, text = _simulated(ctx, log, course, happened, (from_s, to_s))
    return LogWindow(
        from_s=from_s,
        to_s=to_s,
        time_s=tuple(float(at) for at in edges[:-1]),
        logged=logged,
        simulated=simulated,
        happened=tuple(item for item in happened if item.at_s < to_s and (item.until_s or item.at_s) >= from_s)[
            :MOST_COLUMNS
        ],
        text=text,
    )


def _curve(log: Log, name: Measured, edges: Floats) -> LogCurve:
    column = log.values[name]
    bounds = np.searchsorted(log.time_s, edges)
    low: list[float | None] = []
    high: list[float | None] = []
    for first, last in pairwise(bounds):
        part = column[first:last]
        part = part[np.isfinite(part)]
        low.append(round(float(part.min()), 3) if len(part) else None)
        high.append(round(float(part.max()), 3) if len(part) else None)
    measure = MEASURES[name]
    return LogCurve(measure=name, label=measure.label, unit=measure.unit, low=tuple(low), high=tuple(high))


def _simulated(
    ctx: Context, log: Log, course: Course, happened: Sequence[Happened], between: tuple[float, float]
) -> tuple[tuple[SimulatedCurve, ...], str]:
    """The simulator through the same stretches, from the charge the log begins with in that while."""
    from_s, to_s = between
    if ctx.design.charger is None:
        return (), "Without a unit in the design there is nothing to simulate."
    if to_s - from_s > MOST_S:
        return (), "The simulation is laid beside two months at most: choose a shorter while."
    rows = log.rows(from_s, to_s)
    if rows.stop - rows.start < 2:
        return (), ""
    own, cut = log.part(rows), course.part(rows)
    programme = programme_of(ctx, own, cut, happened, (BEGIN_START, _begun(ctx, own, cut)))
    if not programme.stretches:
        return (), ""
    trip = drive(ctx.design, programme)
    begun = float(own.time_s[0])
    # What changes at once is drawn at once: what stood before stands up to there.
    samples = []
    for before, item in pairwise([None, *thinned(trip, 2 * MOST_COLUMNS)]):
        if before is not None and item is not None and (before.state, before.engine) != (item.state, item.engine):
            samples.append(replace(before, time_s=item.time_s - JUST_S))
        if item is not None:
            samples.append(item)
    times = tuple(round(begun + item.time_s, 2) for item in samples)
    curves: list[tuple[Measured, tuple[float, ...]]] = [
        ("input_v", tuple(round(item.input_v, 3) for item in samples)),
        ("post_v", tuple(round(item.post_v, 3) for item in samples)),
        ("auxiliary_v", tuple(round(item.auxiliary_v, 3) for item in samples)),
        ("input_a", tuple(round(item.input_a, 2) for item in samples)),
        ("output_a", tuple(round(item.output_a, 2) for item in samples)),
    ]
    return tuple(SimulatedCurve(measure=name, time_s=times, value=value) for name, value in curves), ""


def _begun(ctx: Context, log: Log, course: Course) -> float:
    """The auxiliary battery's charge the log begins with: as logged, or by its volts at rest before the first charge."""
    percent = log.get("charge_percent")
    if percent is not None and np.isfinite(percent).any():
        return float(min(1.0, max(0.0, percent[np.isfinite(percent)][0] / 100)))
    volts = log.get("auxiliary_v", "output_v")
    if volts is None:
        return BEGIN_AUXILIARY
    charges = spans(course.charging)
    rest = volts[: int(charges[0][0])] if len(charges) else volts
    rest = rest[np.isfinite(rest)]
    if not len(rest):
        return BEGIN_AUXILIARY
    battery = ctx.design.auxiliary
    found = charge_at_rest(battery.chemistry, float(np.median(rest)), battery.nominal_v)
    return BEGIN_AUXILIARY if not math.isfinite(found) else min(1.0, max(0.0, found))
