"""What a run drops: volts at one end less those at the other, where current flows and where none does.

- `Drop`, `drop_of`: of one run.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from olvask.core.analyses.device_log.course import Course
from olvask.core.analyses.device_log.series import Bools, Floats, Log
from olvask.core.model.device_log import Measured

Ends = tuple[Measured, Measured, Measured]  # the end current comes from, the other end, the current
SUPPLY: Ends = ("post_v", "input_v", "input_a")
DELIVERY: Ends = ("output_v", "auxiliary_v", "output_a")


class Drop(NamedTuple):
    """By row: volts at both ends, what lies between them [V], the current [A], whether it flows, whether none does."""

    high: Floats
    low: Floats
    volts: Floats
    amps: Floats
    flows: Bools
    still: Bools


def drop_of(log: Log, course: Course, ends: Ends) -> Drop | None:
    """A run's drop; `None` where an end or the current was not logged.

    Args:
        log: as recorded.
        course: what the vehicle and the unit did.
        ends: the measures.
    """
    high, low, amps = (log.get(name) for name in ends)
    if high is None or low is None or amps is None:
        return None
    volts = high - low
    good = np.isfinite(volts) & np.isfinite(amps)
    return Drop(
        high,
        low,
        volts,
        amps,
        flows=good & course.charging & (amps > 2 * course.on_a),
        still=good & ~course.charging & (np.abs(amps) < 0.5 * course.on_a),
    )
