"""What a log says of the circuit: resistance of the runs, volts of the source, efficiency, thresholds at work.

Each with half the width of its 95 % interval, which holds what the device's own sensors may be out by.

- `Fit`, `fits`: the whole log's.
- `loop_of`: resistance of a run from the volts at both its ends.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal, NamedTuple

import numpy as np
from pydantic import Field

from olvask.core.analyses.device_log.bulk import limited, wanting
from olvask.core.analyses.device_log.course import Course, spans, starts
from olvask.core.analyses.device_log.drops import DELIVERY, SUPPLY, Ends, drop_of
from olvask.core.analyses.device_log.series import Bools, Floats, Log, noise_of
from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.simulate.machine import SOFT_START_S, settings_of

Fitted = Literal["supply_mohm", "delivery_mohm", "source_v", "efficiency", "limit_a", "start_v", "stop_v"]
# What the sensors of such a device are out by, one standard deviation; our own estimates.
GAIN_V, GAIN_A, ZERO_V = 0.0025, 0.0075, 0.006
Z975 = 1.96  # of a normal spread
LEAST_ROWS = 20
ALIKE_S = 20.0  # rows so near one another tell little more than one; our own estimate
SOFT_S = 2.0  # times the soft start: then it is over
DIGITS, ON_GRID, MOSTLY = (1.0, 0.1, 0.01, 0.001), 0.01, 0.99
ROUNDED = 0.3  # of its last digit a mean may be out by
# Of a rule's hold, by which rows and clocks may be off; per 12 V, what volts fall within it where something else ended a
# charge, and how near its volts the guard may have done it. Our own estimates.
HELD_SHARE, FALLS_V, GUARD_NEAR_V = 0.8, 0.3, 0.1
HELD_TIMES, HELD_S = 1.5, 12.0  # of a rule's own hold, and besides: volts held so long did not act
QUANTILE = 0.02


class Fit(Said):
    """One value that the log gives, beside the designed one."""

    key: Fitted
    label: str
    unit: str
    digits: int
    value: float
    spread: Annotated[float, Field(description="half the width of its 95 % interval")]
    designed: float | None
    rows: Annotated[int, Field(description="rows it rests on")]


class Estimate(NamedTuple):
    """A mean, and its own standard deviation without what the sensors are out by."""

    value: float
    sigma: float
    rows: int


class Ended(NamedTuple):
    """What ends a charge: how long the stop rule waits [s], volts at which the guard may be it, a fall that is no waiting [V]."""

    hold_s: float
    guard_v: float
    falls_v: float


def fits(ctx: Context, log: Log, course: Course) -> tuple[Fit, ...]:
    """Everything that can be fitted from the columns there are.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
    """
    return tuple(_fits(ctx, log, course))


def full(ctx: Context, log: Log, course: Course, among: Bools | None = None) -> Bools:
    """Where the unit gives all it can: charging for a while, the soft start over, current near its highest.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
        among: rows looked at; `None` for all.
    """
    soft_s = settings_of(ctx.design, ctx.solved).soft_start_s or SOFT_START_S
    found = course.charging & course.running & (course.amps > 2 * course.on_a)
    if among is not None:
        found &= among
    for first, last in spans(course.charging):
        found[first : first + int(np.searchsorted(log.time_s[first:last], log.time_s[first] + SOFT_S * soft_s))] = False
    if not found.any():
        return found
    most_a = float(np.nanpercentile(course.amps[found], 90))
    return np.asarray(found & (course.amps > 0.9 * most_a))


def _fits(ctx: Context, log: Log, course: Course) -> Iterator[Fit]:
    loops: tuple[tuple[Fitted, str, Ends], ...] = (
        ("supply_mohm", "Supply run, both ways", SUPPLY),
        ("delivery_mohm", "Delivery run, both ways", DELIVERY),
    )
    for key, label, ends in loops:
        estimate = loop_of(log, course, ends)
        if estimate is not None:
            yield _loop_fit(ctx, key, label, estimate)
    whole = full(ctx, log, course)
    yield from _source(ctx, log, course, whole)
    yield from _efficiency(ctx, log, course)
    yield from _limit(ctx, log, course)
    yield from _thresholds(ctx, log, course)


def supply_since(ctx: Context, log: Log, course: Course, since_s: float) -> Fit | None:
    """The supply run's resistance from some moment on.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
        since_s: that moment [s since 1970].
    """
    estimate = loop_of(log, course, SUPPLY, since_s)
    return None if estimate is None else _loop_fit(ctx, "supply_mohm", "Supply run, since it changed", estimate)


def _loop_fit(ctx: Context, key: Fitted, label: str, estimate: Estimate) -> Fit:
    laid = ctx.state("supply" if key == "supply_mohm" else "delivery").loop_ohm
    designed = 1000 * laid if laid > 0 else None  # a run that is not laid yet is designed as nothing
    half = Z975 * math.hypot(estimate.sigma, GAIN_A * estimate.value)
    return _fit(key, label, ("mΩ", 1), (1000 * estimate.value, 1000 * half), designed, estimate.rows)


def _fit(
    key: Fitted, label: str, unit: tuple[str, int], found: tuple[float, float], designed: float | None, rows: int
) -> Fit:
    return Fit(
        key=key,
        label=label,
        unit=unit[0],
        digits=unit[1],
        value=found[0],
        spread=found[1],
        designed=designed,
        rows=rows,
    )


def loop_of(log: Log, course: Course, ends: Ends, since_s: float = -math.inf) -> Estimate | None:
    """Resistance of a run [Ω]: the drop under current, less what the two sensors differ by without, over the current.

    Args:
        log: as recorded.
        course: what the vehicle and the unit did.
        ends: the measures at both ends, and the current.
        since_s: looked at from then on [s since 1970].
    """
    drop = drop_of(log, course, ends)
    if drop is None:
        return None
    flows = drop.flows & (log.time_s >= since_s)
    if np.count_nonzero(flows) < LEAST_ROWS:
        return None
    mean_a = float(np.mean(drop.amps[flows]))
    here, here_s = _mean(log, drop.volts, flows)
    away_v = float(np.mean(drop.high[flows]))  # over which two sensors' gains differ
    zero, zero_s = 0.0, math.sqrt(2) * ZERO_V  # without a row at rest their difference is only known from their kind
    if np.count_nonzero(drop.still) >= LEAST_ROWS:
        zero, zero_s = _mean(log, drop.volts, drop.still)
        away_v = abs(away_v - float(np.mean(drop.high[drop.still])))
    rounded = ROUNDED * math.hypot(_digit(drop.high), _digit(drop.low))
    sigma = math.sqrt(here_s**2 + zero_s**2 + rounded**2 + 2 * (GAIN_V * away_v) ** 2) / mean_a
    return Estimate(max(0.0, (here - zero) / mean_a), sigma, int(np.count_nonzero(flows)))


def _mean(log: Log, values: Floats, where: Bools) -> tuple[float, float]:
    """A mean and its standard deviation; rows close to one another count as one."""
    picked = values[where]
    together = max(1.0, ALIKE_S / max(log.every_s, 0.1))
    return float(np.mean(picked)), float(np.std(picked)) / math.sqrt(max(1.0, len(picked) / together))


def _digit(values: Floats) -> float:
    """The last digit a column is written with."""
    looked = values[np.isfinite(values)][:20000]
    for digit in DIGITS:
        off = np.abs(looked / digit - np.round(looked / digit))
        if np.mean(off < ON_GRID) > MOSTLY:
            return digit
    return DIGITS[-1]


def _source(ctx: Context, log: Log, course: Course, whole: Bools) -> Iterator[Fit]:
    """Volts at the posts while the unit takes all it does."""
    where = whole & np.isfinite(course.source_v)
    if np.count_nonzero(where) < LEAST_ROWS or log.get("post_v") is None:
        return
    value, sigma = _mean(log, course.source_v, where)
    drawn = [state.drawn.post_v for state in ctx.solved.healthy if state.drawn is not None]
    half = Z975 * math.sqrt(sigma**2 + (GAIN_V * value) ** 2 + ZERO_V**2)
    designed = sum(drawn) / len(drawn) if drawn else None
    yield _fit("source_v", "Start battery while it charges", ("V", 2), (value, half), designed, int(where.sum()))


def _efficiency(ctx: Context, log: Log, course: Course) -> Iterator[Fit]:
    """Watts out over watts in."""
    in_v, in_a, out_v, out_a = log.get("input_v"), log.get("input_a"), log.get("output_v"), log.get("output_a")
    if in_v is None or in_a is None or out_v is None or out_a is None:
        return
    where = course.charging & (in_a > 2 * course.on_a) & (out_a > course.on_a)
    where &= np.isfinite(in_v * in_a * out_v * out_a)
    if np.count_nonzero(where) < LEAST_ROWS:
        return
    taken, given = float(np.sum(in_v[where] * in_a[where])), float(np.sum(out_v[where] * out_a[where]))
    value = given / taken
    shares = out_v[where] * out_a[where] / (in_v[where] * in_a[where])
    sigma = float(np.std(shares)) / math.sqrt(max(1.0, where.sum() * log.every_s / ALIKE_S))
    zero = 0.02 / max(float(np.mean(in_a[where])), 1.0)
    half = Z975 * math.sqrt(sigma**2 + value**2 * (2 * GAIN_V**2 + 2 * GAIN_A**2 + 2 * zero**2))
    designed = ctx.design.charger.efficiency if ctx.design.charger is not None else None
    yield _fit(
        "efficiency",
        "Efficiency of the unit",
        ("%", 1),
        (100 * value, 100 * half),
        100 * designed if designed is not None else None,
        int(where.sum()),
    )


def _limit(ctx: Context, log: Log, course: Course) -> Iterator[Fit]:
    """What the unit gives when nothing holds it back: no battery that is up to its volts, and takes what it likes."""
    amps, bulk = log.get("output_a"), wanting(ctx, log, course)
    if amps is None or bulk is None or ctx.solved.output is None:
        return
    where = limited(ctx, log, course, full(ctx, log, course, bulk))
    if np.count_nonzero(where) < LEAST_ROWS:
        return
    value, sigma = _mean(log, amps, where)
    half = Z975 * math.hypot(sigma, GAIN_A * value)
    yield _fit("limit_a", "Current it gives", ("A", 1), (value, half), ctx.solved.output.current_a, int(where.sum()))


def _thresholds(ctx: Context, log: Log, course: Course) -> Iterator[Fit]:
    """Where it started and where it did not, where it stopped and where it did not: the threshold lies between.

    Only of a unit that starts by volts alone, by one rule: of others the enable acts as well, and nothing is told.
    """
    settings = settings_of(ctx.design, ctx.solved)
    volts = log.get("input_v")
    alone = settings.ways == {"voltage"} and len(settings.start_rules) == 1 and len(settings.stop_rules) == 1
    if ctx.design.charger is None or volts is None or not alone or len(log) < LEAST_ROWS:
        return
    charges = spans(course.charging)
    noise = 2.5 * noise_of(volts)
    scale = ctx.facts.scale
    ended = Ended(settings.stop_rules[0].held_s, settings.guard_v + GUARD_NEAR_V * scale, FALLS_V * scale)
    bounds: tuple[tuple[Fitted, str, tuple[float, float] | None, float], ...] = (
        (
            "start_v",
            "Start threshold at work",
            _started(log, course, volts, HELD_TIMES * settings.start_rules[0].held_s + HELD_S),
            settings.start_rules[0].volts,
        ),
        (
            "stop_v",
            "Stop threshold at work",
            _stopped(log, course, volts, HELD_TIMES * settings.stop_rules[0].held_s + HELD_S, ended),
            settings.stop_rules[0].volts,
        ),
    )
    for key, label, found, designed in bounds:
        if found is None:
            continue
        low, high = found[0] - noise, found[1] + noise
        if low > high:
            continue
        middle = (low + high) / 2
        half = (high - low) / 2 + Z975 * math.hypot(GAIN_V * middle, ZERO_V)
        yield _fit(key, label, ("V", 2), (middle, half), designed, len(charges))


def _sustained(log: Log, values: Floats, seconds: float, lowest: bool) -> Floats:
    """The lowest, or the highest, of what was held for a while before each row; not a number where less is known."""
    rows = max(1, math.ceil(seconds / max(log.every_s, 1e-3))) + 1
    if rows > len(values):
        return np.full(len(values), np.nan)
    windows = np.lib.stride_tricks.sliding_window_view(values, rows)
    found = np.full(len(values), np.nan)
    step = max(1, 4_000_000 // rows)
    for at in range(0, len(windows), step):
        part = windows[at : at + step]
        found[rows - 1 + at : rows - 1 + at + len(part)] = part.min(axis=1) if lowest else part.max(axis=1)
    spread_s = np.full(len(values), np.inf)
    spread_s[rows - 1 :] = log.time_s[rows - 1 :] - log.time_s[: len(values) - rows + 1]
    found[spread_s > 1.5 * rows * log.every_s + 1] = np.nan
    return found


def _started(log: Log, course: Course, volts: Floats, held_s: float) -> tuple[float, float] | None:
    """Between the most volts held so long without a start and the least at which it started."""
    before = [
        float(np.nanmax(volts[max(0, first - 2) : first]))
        for first in starts(log, course)
        if first >= 2 and not log.gap[first - 2 : first].any() and np.isfinite(volts[max(0, first - 2) : first]).any()
    ]
    still = np.where(course.charging, -np.inf, np.nan_to_num(volts, nan=-np.inf))
    held = _sustained(log, still, held_s, lowest=True)
    held = held[np.isfinite(held)]
    if len(before) < 2 or not len(held):
        return None
    return float(np.max(held)), float(np.quantile(before, QUANTILE))


def _stopped(log: Log, course: Course, volts: Floats, held_s: float, ended: Ended) -> tuple[float, float] | None:
    """Between the volts at which it had stopped and the least at which it went on for so long."""
    flowing = np.where(course.charging, np.nan_to_num(volts, nan=np.inf), np.inf)
    held = _sustained(log, flowing, held_s, lowest=False)
    held = held[np.isfinite(held)]
    if not len(held):
        return None
    upper = float(np.min(held))
    at = [_waited(log, volts, (int(first), int(last)), ended) for first, last in spans(course.charging)]
    under = [value for value in at if value is not None and value <= upper]
    return (max(under), upper) if len(under) >= 2 else None


def _waited(log: Log, volts: Floats, charge: tuple[int, int], ended: Ended) -> float | None:
    """The most volts through the hold that a stop rule waits before it ends a charge.

    `None` where they fell within it, or to the guard's: then something else ended the charge before the rule could.
    """
    first, last = charge
    if last >= len(log) or log.gap[last - 1]:
        return None
    since = int(np.searchsorted(log.time_s, log.time_s[last] - HELD_SHARE * ended.hold_s))
    # A single row may have been written in the midst of a fall: the one before it tells.
    waited, looked = volts[max(first, min(since, last - 1)) : last], volts[max(first, min(since, last - 2)) : last + 1]
    if not np.isfinite(waited).any() or np.nanmin(looked) < ended.guard_v:
        return None
    fell_v = float(np.nanmax(looked) - min(np.nanmin(waited), np.nan_to_num(volts[last], nan=np.inf)))
    return float(np.nanmax(waited)) if fell_v < ended.falls_v else None
