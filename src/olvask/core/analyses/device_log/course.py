"""What the vehicle and the unit did, row by row: engine running or not, charging or not, and the volts behind the run.

- `Course`, `course_of`: read off the log.
- `spans`: stretches of rows in which something is so.
- `starts`: rows at which charging starts.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from olvask.core.analyses.device_log.series import Bools, Floats, Log, Places
from olvask.core.circuit.context import Context

# Per 12 V unless said; our own estimates.
APART_V, CLOSE_V = 0.3, 0.2  # heaps further apart are two; running and parked nearer than that cannot be told apart
UNDER_V, OVER_V = 0.1, 0.2  # a vehicle may lie so far off its survey
SIDE_V = 0.04  # past the middle between them before one becomes the other
ON_SHARE, ON_A = 0.06, 1.0  # of the unit's current: what flows is a charge, and no noise
FALLS = 0.45  # of its current within a row or two: it was switched off; less, and it fades
FADES_S = 20.0
SPLITS = 60  # places tried between lowest and highest


@dataclass(frozen=True, slots=True)
class Course:
    """What was going on at each row.

    Attributes:
        source_v: volts behind the supply run: of the start battery, or of the input with the run's drop put back [V].
        running_v: where parked and running part [V]; `None` where they lie too near one another to be told apart.
        running: whether the engine runs.
        amps: the unit's current that was logged, out of it or into it [A].
        charging: whether it charges, a faded charge at its end included.
        on_a: what counts as current [A].
    """

    source_v: Floats
    running_v: float | None
    running: Bools
    amps: Floats
    charging: Bools
    on_a: float

    def part(self, rows: slice) -> Course:
        """The course over some of the rows."""
        return replace(
            self,
            source_v=self.source_v[rows],
            running=self.running[rows],
            amps=self.amps[rows],
            charging=self.charging[rows],
        )


def course_of(ctx: Context, log: Log) -> Course:
    """Read the course of things off a log.

    Args:
        ctx: the design solved.
        log: as recorded.
    """
    source_v = _source(ctx, log)
    running_v, side = _parting(ctx, source_v), SIDE_V * ctx.facts.scale
    if running_v is None:
        running = np.zeros(len(log), dtype=bool)
    else:
        running = latched(source_v > running_v + side, source_v < running_v - side)
    amps = log.get("output_a", "input_a")
    if amps is None:
        amps = np.full(len(log), np.nan)
    full_a = ctx.solved.output.yield_a if ctx.solved.output is not None else 20.0
    on_a = max(ON_A, ON_SHARE * full_a)
    # What a hand or a bridge leaves on does not end with the engine.
    ends = running_v is not None and not ctx.design.left_on
    under_way = running if ends else np.ones(len(log), dtype=bool)
    said = log.get("charging")
    if said is not None and not np.isfinite(amps).any():
        charging = latched(said > 0.5, said < 0.5)  # a state that is missing is the one before
    else:
        charging = _charging(log, amps, under_way, on_a)
    return Course(source_v, running_v, running, amps, charging, on_a)


def _source(ctx: Context, log: Log) -> Floats:
    """Volts of the start battery; where they were not logged, those at the input with the designed drop put back."""
    posts = log.get("post_v")
    if posts is not None:
        return posts
    volts, amps = log.get("input_v"), log.get("input_a")
    if volts is None:
        return np.full(len(log), np.nan)
    if amps is None:
        return volts
    return np.asarray(volts + np.nan_to_num(amps) * ctx.state("supply").loop_ohm)


def bounds_of(ctx: Context) -> tuple[float, float]:
    """The most volts the start battery has parked, and the least under way with the unit charging [V].

    Args:
        ctx: the design solved.
    """
    loaded = [state.drawn.post_v for state in ctx.solved.healthy if state.drawn is not None]
    idle_v = min(float(ctx.facts.idle.value), float(ctx.facts.cruise.value))
    return ctx.thresholds.rest_high_v, min(loaded, default=idle_v)


def _parting(ctx: Context, volts: Floats) -> float | None:
    """The volts that part running from parked: where the log's two heaps part best (Otsu 1979), within what the survey allows."""
    scale = ctx.facts.scale
    parked_v, running_v = bounds_of(ctx)
    if running_v - parked_v < CLOSE_V * scale:
        return None
    heaps = _heaps(volts[np.isfinite(volts) & (volts > 10.5 * scale) & (volts < 16.5 * scale)])
    if heaps is None or heaps[1] - heaps[0] < APART_V * scale:
        return (parked_v + running_v) / 2
    middle = (heaps[0] + heaps[1]) / 2
    return float(min(max(middle, parked_v - UNDER_V * scale), running_v + OVER_V * scale, heaps[1] - 0.1 * scale))


def _heaps(volts: Floats) -> tuple[float, float] | None:
    """Means of the two heaps that volts part into best."""
    if len(volts) < 2:
        return None
    counts, edges = np.histogram(volts, bins=SPLITS)
    middles = (edges[:-1] + edges[1:]) / 2
    below, sums = np.cumsum(counts)[:-1], np.cumsum(counts * middles)[:-1]
    above = len(volts) - below
    whole = float(np.sum(counts * middles))
    with np.errstate(invalid="ignore", divide="ignore"):
        low, high = sums / below, (whole - sums) / above
        between = np.where((below > 0) & (above > 0), below * above * (high - low) ** 2, -1.0)
    best = int(np.argmax(between))
    return (float(low[best]), float(high[best])) if between[best] > 0 else None


def latched(rises: Bools, falls: Bools) -> Bools:
    """Whether the last of two signs was that of rising; before the first of either, what comes first is not yet.

    Args:
        rises: where it becomes so.
        falls: where it ceases to be so.
    """
    mark = np.where(rises, 1, np.where(falls, -1, 0))
    known = np.flatnonzero(mark)
    if not len(known):
        return np.zeros(len(mark), dtype=bool)
    last = np.searchsorted(known, np.arange(len(mark)), side="right") - 1
    return np.asarray((last >= 0) & (mark[known[np.maximum(last, 0)]] > 0))


def spans(where: Bools) -> Places:
    """Stretches of rows: first and one past the last of each; shape (stretches, 2).

    Args:
        where: whether it is so, by row.
    """
    edges = np.flatnonzero(np.diff(np.concatenate(([0], where.astype(np.int8), [0]))))
    return edges.reshape(-1, 2)


def starts(log: Log, course: Course) -> Places:
    """Rows at which charging was seen to start: not after a gap, and not as the engine stops, when loads come back.

    Args:
        log: as recorded.
        course: what the vehicle and the unit did.
    """
    found = []
    for first in spans(course.charging)[:, 0]:
        if first == 0 or log.gap[first - 1]:
            continue
        before = int(np.searchsorted(log.time_s, log.time_s[first] - FADES_S))
        stopped = course.running_v is not None and not course.running[first] and course.running[before:first].any()
        if stopped and not course.charging[before:first].any():
            continue
        found.append(int(first))
    return np.array(found, dtype=int)


def _charging(log: Log, amps: Floats, running: Bools, on_a: float) -> Bools:
    """Whether it charges: from where current rises to where it is switched off; what fades ends with the engine."""
    flows = latched(amps > on_a, amps < 0.5 * on_a)
    found = flows.copy()
    bounds = spans(flows)
    for place, (first, last) in enumerate(bounds):
        if last >= len(log) or not _faded(log, amps, first, last):
            continue
        following = bounds[place + 1][0] if place + 1 < len(bounds) else len(log)
        stopped = np.flatnonzero(~running[last:following])
        gaps = np.flatnonzero(log.gap[last - 1 : following - 1])
        until = min(
            last + int(stopped[0]) if len(stopped) else following, last + int(gaps[0]) if len(gaps) else following
        )
        if following < len(log) and not len(gaps) and log.time_s[following] - log.time_s[until] <= FADES_S:
            until = following  # with the engine off the battery's loads come back onto a unit that is still on
        found[last:until] = True
    return found


def _faded(log: Log, amps: Floats, first: int, last: int) -> bool:
    """Whether a charge ended by itself: its current was small for a while before it ceased."""
    from_s = log.time_s[last - 1] - FADES_S
    before = amps[max(first, int(np.searchsorted(log.time_s, from_s))) : last]
    whole = amps[first:last]
    if not len(before) or not np.isfinite(whole).any():
        return False
    return bool(np.nanmax(before) < FALLS * np.nanmax(whole) and np.nanmax(before) < 6 * max(1e-9, np.nanmin(before)))
