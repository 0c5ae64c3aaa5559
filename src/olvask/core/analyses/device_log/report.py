"""A device's log read against the design: what happened, what it gives for the circuit, what differs and since when.

- `LogReport`, `log_report`: all of it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Annotated

import numpy as np
from pydantic import Field

from olvask.core.analyses.device_log.course import Course, bounds_of, course_of
from olvask.core.analyses.device_log.differs import Differs, differing
from olvask.core.analyses.device_log.fitted import LEAST_ROWS, Fit, fits, full, supply_since
from olvask.core.analyses.device_log.happened import HAPPENINGS, Happened, Happening, happenings
from olvask.core.analyses.device_log.series import Log
from olvask.core.analyses.device_log.stepped import Step, step_of
from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.model.device_log import Measured
from olvask.core.stages.prove.plant import Quantity
from olvask.core.stages.prove.tests import tests_of

MOST_TOLD = 20_000  # of happenings; our own estimate of what anybody reads
EVIDENCE_S = 1800.0  # of the last full charge: readings taken together belong together
# Readings of the bench that a log holds as well, by the measure they are.
QUANTITY: dict[Measured, Quantity] = {
    "input_v": "input_v",
    "input_a": "input_a",
    "output_v": "output_v",
    "output_a": "output_a",
    "post_v": "posts_v",
    "auxiliary_v": "auxiliary_v",
}


class Counted(Said):
    """How often something happened."""

    what: Happening
    label: str
    count: int


class LogReading(Said):
    """A reading that the log gives to the bench: the state at full current, last time."""

    test: str
    value: float
    unit: str


class LogReport(Said):
    """What a log says."""

    begins_s: Annotated[float, Field(description="seconds since 1970, UTC")]
    ends_s: float
    rows: int
    every_s: float
    gaps: int
    missing_h: float
    counted: tuple[Counted, ...]
    happened: tuple[Happened, ...]
    fits: tuple[Fit, ...]
    differs: tuple[Differs, ...]
    readings: tuple[LogReading, ...]
    unsaid: tuple[str, ...]


def log_report(ctx: Context, log: Log) -> tuple[LogReport, Course]:
    """Read a log against the design; the course of things with it, for pictures.

    Args:
        ctx: the design solved.
        log: as recorded.
    """
    course = course_of(ctx, log)
    happened = happenings(ctx, log, course)
    found = fits(ctx, log, course)
    step = step_of(log, course, ctx.state("supply").loop_ohm)
    count = Counter(item.what for item in happened)
    return (
        LogReport(
            begins_s=float(log.time_s[0]),
            ends_s=float(log.time_s[-1]),
            rows=len(log),
            every_s=log.every_s,
            gaps=len(log.gaps),
            missing_h=sum(to_s - from_s for from_s, to_s in log.gaps) / 3600,
            counted=tuple(
                Counted(what=what, label=label, count=count[what]) for what, label in HAPPENINGS.items() if count[what]
            ),
            happened=happened[:MOST_TOLD],
            fits=_as_now(ctx, log, course, found, step),
            differs=differing(found, step, happened),
            readings=_readings(ctx, log, course),
            unsaid=tuple(_unsaid(ctx, log, course)),
        ),
        course,
    )


def _as_now(ctx: Context, log: Log, course: Course, found: Sequence[Fit], step: Step | None) -> tuple[Fit, ...]:
    """The fits, the supply run's as it is now where it stepped up."""
    later = supply_since(ctx, log, course, step.since_s) if step is not None else None
    return tuple(later if later is not None and fit.key == later.key else fit for fit in found)


def _readings(ctx: Context, log: Log, course: Course) -> tuple[LogReading, ...]:
    """Medians of the last half-hour at full current, as readings of the bench's own tests."""
    rows = np.flatnonzero(full(ctx, log, course))
    if len(rows) < LEAST_ROWS:
        return ()
    rows = rows[log.time_s[rows] >= log.time_s[rows[-1]] - EVIDENCE_S]
    tests = {test.quantity: test for test in tests_of(ctx) if test.quantity is not None and not test.cannot}
    found = []
    for name, quantity in QUANTITY.items():
        test, column = tests.get(quantity), log.get(name)
        if test is None or column is None:
            continue
        picked = column[rows]
        picked = picked[np.isfinite(picked)]
        if len(picked) >= min(LEAST_ROWS, len(rows)):
            found.append(LogReading(test=test.key, value=round(float(np.median(picked)), 3), unit=test.unit))
    return tuple(found)


def _unsaid(ctx: Context, log: Log, course: Course) -> list[str]:
    """What this log cannot tell for want of a column."""
    have = set(log.values)
    found = []
    if course.running_v is None:
        parked_v, running_v = bounds_of(ctx)
        found.append(
            f"Parked at up to {parked_v:.1f} V and under way at {running_v:.1f} V, it cannot be told when the engine ran: "
            "low phases, hunting and the cold stay unsaid."
        )
    if "charging" in have and not have & {"input_a", "output_a"}:
        found.append(
            "No current of the unit was logged: what it did is told by its own words, how well it charged is not."
        )
    elif not have & {"input_a", "output_a"}:
        found.append("No current of the unit was logged: starts, stops and everything about its charge stay unsaid.")
    if not {"post_v", "input_v", "input_a"} <= have:
        found.append("The supply run's resistance needs the start battery's volts, the input's volts and its current.")
    if not {"output_v", "auxiliary_v", "output_a"} <= have:
        found.append("The delivery run's resistance needs the output's volts, the battery's volts and the current.")
    if not {"input_v", "input_a", "output_v", "output_a"} <= have:
        found.append("Efficiency needs volts and current at both sides of the unit.")
    if "battery_c" not in have and ctx.design.auxiliary.low_temperature_cut_off:
        found.append("Whether the cold kept it from charging needs the battery's temperature.")
    return found
