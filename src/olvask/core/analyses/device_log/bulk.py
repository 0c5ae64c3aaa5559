"""Charges that are not yet up to their volts: what the unit gives there is its own limit, if it is level.

- `absorbs_at`: what the unit holds in absorption.
- `wanting`: rows of such a charge.
- `limited`: those at which a limit holds the current, and not the battery.
"""

from __future__ import annotations

import numpy as np

from olvask.core.analyses.device_log.course import Course, spans
from olvask.core.analyses.device_log.series import Bools, Floats, Log, noise_of
from olvask.core.circuit.context import Context
from olvask.core.physics.charging import compensated_v
from olvask.core.simulate.profile import acting_stages, profile_of

# Our own estimates; volts per 12 V.
HOT_C = 45.0  # of a battery on a hot day
HELD_V = 0.1  # below what is set: nearer than that the battery may take less than the unit could give
RISES_V, MINUTE_S = 0.03, 60.0  # from a charge's first minute to its last; less, and its volts stand
LEVEL_SHARE, LEVEL_NOISES = 0.03, 3.0  # what a level current may vary by, and times what it differs by from row to row


def absorbs_at(ctx: Context, log: Log) -> Floats:
    """What the unit holds in absorption at each row [V], moved by the battery's warmth where it compensates; shape (rows,).

    Where that warmth was not logged, what it would hold on a hot battery: less than that it never holds.

    Args:
        ctx: the design solved.
        log: as recorded.
    """
    stages = acting_stages(ctx.design, ctx.solved)
    set_v, mv_per_k = profile_of(ctx.design, ctx.solved, stages).absorption_v, stages.compensation_mv_per_k or 0.0
    celsius = log.get("battery_c")
    warmth = np.full(len(log), HOT_C) if celsius is None else np.nan_to_num(celsius, nan=HOT_C)
    return np.asarray(compensated_v(set_v, mv_per_k, 0.0) + mv_per_k / 1000 * warmth)


def _output_v(ctx: Context, log: Log, course: Course) -> Floats | None:
    """Volts at the unit's output; where they were not logged, the battery's with the designed drop added."""
    volts, battery_v = log.get("output_v"), log.get("auxiliary_v")
    if volts is None and battery_v is not None:
        volts = battery_v + np.nan_to_num(course.amps) * ctx.state("delivery").loop_ohm
    return volts


def wanting(ctx: Context, log: Log, course: Course) -> Bools | None:
    """Where a charge seen from its beginning has not yet brought the output up to its volts; `None` where these were not logged.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
    """
    volts = _output_v(ctx, log, course)
    if volts is None:
        return None
    found = np.zeros(len(log), dtype=bool)
    set_v = absorbs_at(ctx, log) - HELD_V * ctx.design.auxiliary.nominal_v / 12
    for first, last in spans(course.charging):
        if first > 0 and not log.gap[first - 1]:
            there = np.flatnonzero(~(volts[first:last] < set_v[first:last]) | log.gap[first - 1 : last - 1])
            found[first : first + int(there[0]) if len(there) else last] = True
    return found


def limited(ctx: Context, log: Log, course: Course, full: Bools) -> Bools:
    """Rows at which the unit's limit holds the current, so that it is level; none where the battery may hold it.

    A battery that takes less than the unit gives may do so wherever volts stand or fall to float: a unit set to fewer
    volts than on the sheet holds them there. Where they rise, it is the unit's limit all the same.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
        full: where it gives all it can, in charges not yet up to their volts.
    """
    found, output = full & np.isfinite(course.amps), ctx.solved.output
    if output is None or float(ctx.facts.charge_limit.value) < output.current_a:
        found &= _rising(ctx, log, course, full)
    if found.any():
        low_a, middle_a, high_a = np.quantile(course.amps[found], (0.1, 0.5, 0.9))
        found &= high_a - low_a < LEVEL_SHARE * middle_a + LEVEL_NOISES * noise_of(course.amps[found])
    return np.asarray(found)


def _rising(ctx: Context, log: Log, course: Course, full: Bools) -> Bools:
    """Some rows of charges, of those through which the output's volts rise."""
    found, volts = np.zeros(len(log), dtype=bool), _output_v(ctx, log, course)
    if volts is None:
        return found
    for first, last in spans(course.charging):
        rows = first + np.flatnonzero(full[first:last] & np.isfinite(volts[first:last]))
        if len(rows):
            begun = rows[log.time_s[rows] <= log.time_s[rows[0]] + MINUTE_S]
            ended = rows[log.time_s[rows] >= log.time_s[rows[-1]] - MINUTE_S]
            rise_v = np.median(volts[ended]) - np.median(volts[begun])
            found[rows] = rise_v > RISES_V * ctx.design.auxiliary.nominal_v / 12
    return found
