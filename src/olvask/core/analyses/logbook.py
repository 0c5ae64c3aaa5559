"""What a vehicle's readings come to over the years: trends with their uncertainty, and when a drift will matter.

- `Noted`: one reading of the logbook.
- `Trend`, `trends_of`: what is followed, and where it leads.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.analyses.refit import t975
from olvask.core.circuit.context import Context
from olvask.core.findings.driven import spoken
from olvask.core.findings.listed import counted
from olvask.core.findings.said import Said
from olvask.core.physics.battery import charge_at_rest, open_circuit_v

Followed = Literal["loop_mohm", "rest_start_v", "standby_ma", "capacity_ah"]
FOLLOWED: Mapping[Followed, tuple[str, str, int]] = {
    "loop_mohm": ("Supply run, both ways", "mΩ", 1),
    "rest_start_v": ("Start battery, rested", "V", 2),
    "standby_ma": ("Drawn while parked", "mA", 0),
    "capacity_ah": ("Auxiliary battery's capacity", "Ah", 0),
}
# How far a reading may be out from one visit to the next, one standard deviation: share and digits; our own estimates.
SPREAD: Mapping[Followed, tuple[float, float]] = {
    "loop_mohm": (0.02, 0.1),
    "rest_start_v": (0.0, 0.05),
    "standby_ma": (0.08, 2.0),
    "capacity_ah": (0.03, 0.5),
}
Z975 = 1.96  # of a normal spread
LEAST = 3  # readings; two make a line, three a trend
AHEAD_D = 3 * 365.0  # a drift that matters later than that is none yet
MONTH_D = 30.44
HALF, WORN = 0.5, 0.7  # a start battery's charge, a battery's capacity; our own estimates of when it matters
PARKED_D = 14.0  # a vehicle should be able to stand as long; our own estimate


class Noted(Said):
    """One reading."""

    day: Annotated[float, Field(description="days since any day")]
    value: float


class Trend(Said):
    """One thing followed."""

    key: Followed
    label: str
    unit: str
    digits: int
    points: tuple[Noted, ...]
    designed: float | None
    limit: float | None
    per_month: float | None
    spread: Annotated[float | None, Field(description="half the width of the slope's 95 % interval, a month")]
    in_days: Annotated[
        float | None, Field(description="from the last reading until the limit is met; none where it is not")
    ]
    level: Literal["", "note", "caution", "stop"]
    text: str


def trends_of(ctx: Context, noted: Mapping[Followed, Sequence[Noted]]) -> tuple[Trend, ...]:
    """Every quantity that was read, with where it leads.

    Args:
        ctx: the design solved.
        noted: readings of each, in any order.
    """
    trends = (_trend(ctx, key, sorted(noted[key], key=lambda item: item.day)) for key in FOLLOWED if noted.get(key))
    return spoken(ctx.design, tuple(trends))


def _trend(ctx: Context, key: Followed, points: Sequence[Noted]) -> Trend:
    label, unit, digits = FOLLOWED[key]
    designed, limit = _designed(ctx, key), _limit(ctx, key)
    slope, half, now = _line(key, points)
    up = key in ("loop_mohm", "standby_ma")
    drifts = slope is not None and half is not None and (slope if up else -slope) > half
    in_days = None
    if limit is not None:
        if (now >= limit) if up else (now <= limit):
            in_days = 0.0
        elif drifts and slope is not None:
            ahead = (limit - now) / slope
            in_days = ahead if ahead <= AHEAD_D else None
    level: Literal["", "note", "caution", "stop"] = "" if in_days is None else "stop" if in_days <= 0 else "caution"
    return Trend(
        key=key,
        label=label,
        unit=unit,
        digits=digits,
        points=tuple(points),
        designed=designed,
        limit=limit,
        per_month=None if slope is None else slope * MONTH_D,
        spread=None if half is None else half * MONTH_D,
        in_days=in_days,
        level=level,
        text=_text(key, (now, limit), slope, drifts, in_days),
    )


def _line(key: Followed, points: Sequence[Noted]) -> tuple[float | None, float | None, float]:
    """Slope [a day], half its 95 % interval, and where the line stands at the last reading; weighted least squares."""
    last = points[-1]
    if len(points) < LEAST or points[-1].day - points[0].day < 1:
        return None, None, last.value
    share, digits = SPREAD[key]
    weights = [1 / (share * abs(point.value) + digits) ** 2 for point in points]
    total = math.fsum(weights)
    middle = math.fsum(weight * point.day for weight, point in zip(weights, points, strict=True)) / total
    mean = math.fsum(weight * point.value for weight, point in zip(weights, points, strict=True)) / total
    square = math.fsum(weight * (point.day - middle) ** 2 for weight, point in zip(weights, points, strict=True))
    slope = math.fsum(
        weight * (point.day - middle) * (point.value - mean) for weight, point in zip(weights, points, strict=True)
    ) / max(square, 1e-12)
    missed = math.fsum(
        weight * (point.value - mean - slope * (point.day - middle)) ** 2
        for weight, point in zip(weights, points, strict=True)
    )
    # Readings that scatter more than the meter does widen it, and are few to know by how much.
    scatter = missed / (len(points) - 2)
    times = Z975 if scatter <= 1 else t975(len(points) - 2) * math.sqrt(scatter)
    return slope, times / math.sqrt(max(square, 1e-12)), mean + slope * (last.day - middle)


def _designed(ctx: Context, key: Followed) -> float | None:
    if key == "loop_mohm":
        return 1000 * ctx.state("supply").loop_ohm
    if key == "rest_start_v":
        return float(ctx.facts.rest.value)
    return float(ctx.facts.standing_drain.value) if key == "standby_ma" else ctx.design.auxiliary.capacity_ah


def _limit(ctx: Context, key: Followed) -> float | None:
    """From where it matters: the unit lets go, the engine may not start, a fortnight parked is too long, it is worn."""
    start = ctx.design.vehicle.start_battery
    system_v = ctx.design.vehicle.system_v
    if key == "loop_mohm":
        drawn = ctx.solved.running[0].drawn
        if drawn is None:
            return None
        least_v = ctx.linger_v if "voltage" in ctx.design.activation.ways else ctx.hold_v
        return max(0.0, 1000 * (drawn.post_v - least_v) / drawn.current_a)
    if key == "rest_start_v":
        return open_circuit_v(start.chemistry, HALF, system_v)
    if key == "standby_ma":
        charge = charge_at_rest(start.chemistry, float(ctx.facts.rest.value), system_v)
        spare_ah = max(0.0, charge - ctx.design.choices.keep_state_of_charge) * start.capacity_ah
        return 1000 * spare_ah / (PARKED_D * 24) if spare_ah > 0 else None
    return WORN * ctx.design.auxiliary.capacity_ah


def _text(
    key: Followed, at: tuple[float, float | None], slope: float | None, drifts: bool, in_days: float | None
) -> str:
    label, unit, digits = FOLLOWED[key]
    now, limit = at
    matters = {
        "loop_mohm": "the unit lets go at idle",
        "rest_start_v": "a start in the cold is no longer sure",
        "standby_ma": "a fortnight parked is too long",
        "capacity_ah": "it counts as worn",
    }[key]
    if in_days == 0:
        return f"{label}: {now:.{digits}f} {unit}. From {limit or 0:.{digits}f} {unit} on {matters}: see to it now."
    if slope is None:
        return f"{label}: {now:.{digits}f} {unit}; a third reading, some days apart, shows where it leads."
    if not drifts:
        return f"{label}: {now:.{digits}f} {unit}, steady."
    much = f"{abs(slope) * MONTH_D:.{digits + 1}f} {unit} a month"
    way = "grows" if slope > 0 else "falls"
    if in_days is None:
        return f"{label} {way} by {much}; it does not matter within three years."
    return f"{label} {way} by {much}: in about {counted(max(1, round(in_days / MONTH_D)), 'month')} {matters} ({limit or 0:.{digits}f} {unit})."
