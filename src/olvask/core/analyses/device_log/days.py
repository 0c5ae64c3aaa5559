"""A log day by day, and since when something differs from the design.

- `LogDay`, `days_of`: each day's hours, charge, starts and resistance of the supply run.
- `Differs`, `differing`: what lies outside of what was designed, with the day since when.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from olvask.core.analyses.device_log.course import Course, spans
from olvask.core.analyses.device_log.fitted import Fit, Fitted, loop_of
from olvask.core.analyses.device_log.happened import DAY_S, HAPPENINGS, Happened, Happening
from olvask.core.analyses.device_log.series import Floats, Log
from olvask.core.analyses.device_log.stepped import Step
from olvask.core.findings.said import Said

MOST_DAYS = 3660
# How far a fitted value may lie from the designed one and be as designed, one way or both; share and sum: our own estimates.
ALLOWED: dict[Fitted, tuple[float, float]] = {
    "supply_mohm": (0.2, 1.0),
    "delivery_mohm": (0.2, 1.0),
    "source_v": (0.015, 0.0),
    "efficiency": (0.0, 3.0),
    "limit_a": (0.06, 0.5),
    "start_v": (0.0, 0.1),
    "stop_v": (0.0, 0.1),
}
WORSE_HIGH: tuple[Fitted, ...] = ("supply_mohm", "delivery_mohm")
WORSE_LOW: tuple[Fitted, ...] = ("efficiency", "limit_a")
TELLING: tuple[Happening, ...] = ("hunting", "lockout", "cold", "early_taper", "unfinished")


class LogDay(Said):
    """One day of the log, from midnight to midnight UTC."""

    day: Annotated[int, Field(description="days since 1970")]
    running_h: float
    charging_h: float
    charged_ah: float | None
    starts: int
    loop_mohm: float | None


class Differs(Said):
    """Something that is not as designed."""

    key: str
    level: Literal["note", "caution"]
    text: str
    since_s: Annotated[float | None, Field(description="seconds since 1970; none where it was so from the beginning")]


def days_of(log: Log, course: Course) -> tuple[LogDay, ...]:
    """Each day's sums.

    Args:
        log: as recorded.
        course: what the vehicle and the unit did.
    """
    day = np.floor(log.time_s / DAY_S).astype(int)
    first = int(day[0])
    number = np.minimum(day - first, MOST_DAYS - 1)
    count = int(number[-1]) + 1

    def summed(values: Floats) -> Floats:
        return np.asarray(np.bincount(number, weights=values, minlength=count), dtype=np.float64)

    running_h = summed(np.where(course.running, log.step_s, 0.0)) / 3600
    charging_h = summed(np.where(course.charging, log.step_s, 0.0)) / 3600
    out_a = log.get("output_a")
    charged = (
        None if out_a is None else summed(np.where(course.charging, np.nan_to_num(out_a), 0.0) * log.step_s) / 3600
    )
    starts = np.bincount(number[spans(course.charging)[:, 0]], minlength=count)
    edges = np.searchsorted(number, np.arange(count + 1))
    found = []
    for at in range(count):
        if edges[at] == edges[at + 1]:
            continue
        part = slice(int(edges[at]), int(edges[at + 1]))
        found.append(
            LogDay(
                day=first + at,
                running_h=float(running_h[at]),
                charging_h=float(charging_h[at]),
                charged_ah=None if charged is None else float(charged[at]),
                starts=int(starts[at]),
                loop_mohm=_loop(log, course, part),
            )
        )
    return tuple(found)


def _loop(log: Log, course: Course, part: slice) -> float | None:
    own = Log(log.time_s[part], {name: column[part] for name, column in log.values.items()})
    cut = Course(
        course.source_v[part],
        course.running_v,
        course.running[part],
        course.amps[part],
        course.charging[part],
        course.on_a,
    )
    estimate = loop_of(own, cut, "post_v", "input_v", "input_a")
    return None if estimate is None else 1000 * estimate.value


def differing(found: Sequence[Fit], step: Step | None, happened: Sequence[Happened]) -> tuple[Differs, ...]:
    """What lies outside of what was designed.

    Args:
        found: what was fitted.
        step: since when the supply run has more.
        happened: what happened.
    """
    differs = [item for fit in found if (item := _differs(fit, step)) is not None]
    for what in TELLING:
        those = [item for item in happened if item.what == what]
        if those:
            times = "once" if len(those) == 1 else f"{len(those)} times"
            words = HAPPENINGS[what]
            differs.append(
                Differs(
                    key=what,
                    level="note" if what == "cold" else "caution",
                    text=f"{words[:1].upper()}{words[1:]}: {times}.",
                    since_s=those[0].at_s,
                )
            )
    return tuple(differs)


def _differs(fit: Fit, step: Step | None) -> Differs | None:
    if fit.designed is None:
        return None
    share, more = ALLOWED[fit.key]
    allowed = share * abs(fit.designed) + more + fit.spread
    away = fit.value - fit.designed
    changed = step if fit.key == "supply_mohm" else None
    if abs(away) <= allowed and changed is None:
        return None
    worse = (fit.key in WORSE_HIGH and away > 0) or (fit.key in WORSE_LOW and away < 0)
    worse = worse or fit.key not in (*WORSE_HIGH, *WORSE_LOW)
    value = f"{fit.value:.{fit.digits}f} ± {fit.spread:.{fit.digits}f} {fit.unit}"
    text = f"{fit.label}: {value}, designed {fit.designed:.{fit.digits}f} {fit.unit}."
    if changed is not None:
        before, after = 1000 * changed.before, 1000 * changed.after
        text = f"Supply run, both ways: from {before:.1f} to {after:.1f} {fit.unit}, designed {fit.designed:.1f}."
        return Differs(key=fit.key, level="caution", text=text, since_s=changed.since_s)
    return Differs(key=fit.key, level="caution" if worse else "note", text=text, since_s=None)
