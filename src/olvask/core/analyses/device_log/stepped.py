"""Since when a run's resistance is another: the charge at which it stepped up and stayed.

- `Step`, `step_of`: of the supply run.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from olvask.core.analyses.device_log.course import Course, spans
from olvask.core.analyses.device_log.drops import SUPPLY, Drop, drop_of
from olvask.core.analyses.device_log.series import Floats, Log

LEAST_CHARGES, LEAST_ROWS = 3, 5  # before and after, and rows of each; our own estimates
MOST_CHARGES = 400  # told apart; of more, some in a row count as one
LEAST_OHM, LEAST_SHARE, NOISES = 0.0015, 0.12, 4.0  # what a step is: more than that, and than charges differ by


class Step(NamedTuple):
    """Since when [s since 1970], and the run's resistance before and after [Ω]."""

    since_s: float
    before: float
    after: float


def step_of(log: Log, course: Course, designed_ohm: float) -> Step | None:
    """The charge from which on the supply run has more; `None` where it has not.

    Args:
        log: as recorded.
        course: what the vehicle and the unit did.
        designed_ohm: of the supply run, both ways.
    """
    drop = drop_of(log, course, SUPPLY)
    if drop is None:
        return None
    times, ohms = _by_charge(log, course, drop)
    if len(ohms) < 2 * LEAST_CHARGES:
        return None
    # The cut that leaves the least scatter on both sides (least squares over one change).
    count = np.arange(1, len(ohms))
    sums, squares = np.cumsum(ohms)[:-1], np.cumsum(ohms * ohms)
    rest = len(ohms) - count
    scatter = squares[-1] - sums**2 / count - (ohms.sum() - sums) ** 2 / rest
    inner = slice(LEAST_CHARGES - 1, len(ohms) - LEAST_CHARGES)
    at = LEAST_CHARGES + int(np.argmin(scatter[inner]))
    before, after = float(np.median(ohms[:at])), float(np.median(ohms[at:]))
    noise = float(np.median(np.abs(np.concatenate((ohms[:at] - before, ohms[at:] - after)))))
    if after - before <= max(LEAST_OHM, LEAST_SHARE * designed_ohm, NOISES * noise):
        return None
    return Step(float(times[at]), before, after)


def _by_charge(log: Log, course: Course, drop: Drop) -> tuple[Floats, Floats]:
    """Beginning of each charge and the resistance it shows."""
    zero = float(np.mean(drop.volts[drop.still])) if drop.still.any() else 0.0
    edges = spans(course.charging)
    group = max(1, -(-len(edges) // MOST_CHARGES))
    volts, current, rows = (
        np.concatenate(([0.0], np.cumsum(np.where(drop.flows, values, 0.0))))
        for values in (drop.volts - zero, drop.amps, np.ones(len(log)))
    )
    times, ohms = [], []
    for at in range(0, len(edges), group):
        first, last = int(edges[at][0]), int(edges[min(at + group, len(edges)) - 1][1])
        if rows[last] - rows[first] >= LEAST_ROWS:
            times.append(float(log.time_s[first]))
            ohms.append((volts[last] - volts[first]) / (current[last] - current[first]))
    return np.array(times), np.array(ohms)
