"""What a vehicle's readings come to over the years: trends with their uncertainty, and when a drift will matter.

- `Noted`: one reading of the logbook.
- `Kind`, `kinds_of`: what is read for it, and within what it can be at all.
- `Trend`, `trends_of`: what is followed, and where it leads.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from olvask.core.analyses.refit import t975
from olvask.core.circuit.context import Context
from olvask.core.findings.driven import spoken
from olvask.core.findings.listed import counted
from olvask.core.findings.said import Said
from olvask.core.physics.alternator import behind, short_of
from olvask.core.physics.battery import charge_at_rest, open_circuit_v

Followed = Literal["loop_mohm", "rest_start_v", "standby_ma", "capacity_ah"]
FOLLOWED: Mapping[Followed, tuple[str, str, int]] = {
    "loop_mohm": ("Supply run, both ways", "mΩ", 1),
    "rest_start_v": ("Start battery, rested", "V", 2),
    "standby_ma": ("Drawn while parked", "mA", 0),
    "capacity_ah": ("Auxiliary battery's capacity", "Ah", 0),
}
# How far a reading may be out from one visit to the next, one standard deviation: share and digits, volts for a system of
# 12 V; our own estimates.
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
STEPPED = (
    3.0  # standard deviations off what came before, after a change that was noted: it is another vehicle's reading
)
HALF, WORN = 0.5, 0.7  # a start battery's charge, a battery's capacity; our own estimates of when it matters
LITHIUM_LOW = 0.2  # its volts hardly tell the charge above, and it cranks nearly empty; our own estimate
LEFT_OUT = " Readings from before the last change are left out."
PARKED_D = 14.0  # a vehicle should be able to stand as long; our own estimate


class Kind(Said):
    """One kind of reading, and the least and most that it can be."""

    key: str
    label: str
    unit: str
    least: float
    most: float

    def holds(self, value: float) -> bool:
        """Whether a reading of the kind can be so."""
        return self.least <= value <= self.most


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
    begins: Annotated[float, Field(description="day the line begins: of the first reading since something was changed")]
    now: Annotated[float, Field(description="where the line stands at the last reading")]
    designed: float | None
    limit: float | None
    per_month: float | None
    spread: Annotated[float | None, Field(description="half the width of the slope's 95 % interval, a month")]
    in_days: Annotated[
        float | None, Field(description="from the last reading until the limit is met; none where it is not")
    ]
    level: Literal["", "note", "caution", "stop"]
    text: str


class Line(NamedTuple):
    """Slope [a day], half its 95 % interval, where the line stands at the last reading, and how well that is known."""

    slope: float | None
    half: float | None
    now: float
    spread: float


CHARGE, DRIVEN = "charge_percent", "driven_h"
# Beyond it a reading is a slip of the pen, not a worn vehicle: a run that carries nothing, a battery that boils, a draw
# that empties one overnight, a battery larger than any vehicle has, ten days at the wheel (as `DayReading` takes them).
# Our own estimates.
MOST_LOOP_MOHM, MOST_REST_V, MOST_STANDBY_MA, MOST_CAPACITY_AH, MOST_DRIVEN_H = 10_000.0, 17.0, 50_000.0, 5000.0, 240.0


def kinds_of(system_v: float) -> tuple[Kind, ...]:
    """What the logbook reads of a vehicle.

    Args:
        system_v: nominal volts of its start side.
    """
    most = {
        "loop_mohm": MOST_LOOP_MOHM,
        "rest_start_v": MOST_REST_V * system_v / 12,
        "standby_ma": MOST_STANDBY_MA,
        "capacity_ah": MOST_CAPACITY_AH,
    }
    return (
        *(Kind(key=key, label=FOLLOWED[key][0], unit=FOLLOWED[key][1], least=0.0, most=most[key]) for key in FOLLOWED),
        Kind(key=CHARGE, label="Driver's diary: charge", unit="%", least=0.0, most=100.0),
        Kind(key=DRIVEN, label="Driven since", unit="h", least=0.0, most=MOST_DRIVEN_H),
    )


def trends_of(
    ctx: Context, noted: Mapping[Followed, Sequence[Noted]], changed: Sequence[float] = ()
) -> tuple[Trend, ...]:
    """Every quantity that was read, with where it leads.

    Args:
        ctx: the design solved.
        noted: readings of each, in any order.
        changed: days on which a fault was mended or a part changed. Where what was read stepped then, its line begins anew.
    """
    days = sorted(changed, reverse=True)
    can_be = {kind.key: kind.holds for kind in kinds_of(ctx.design.vehicle.system_v)}
    trends = []
    for key in FOLLOWED:
        points = sorted((item for item in noted.get(key, ()) if can_be[key](item.value)), key=lambda item: item.day)
        if points:
            trends.append(_trend(ctx, key, points, days, len(noted[key]) - len(points)))
    return spoken(ctx.design, tuple(trends))


def _trend(ctx: Context, key: Followed, points: Sequence[Noted], changed: Sequence[float], slips: int) -> Trend:
    label, unit, digits = FOLLOWED[key]
    designed, limit = _designed(ctx, key), _limit(ctx, key)
    counted_in = _since_step(key, points, changed, ctx.facts.scale)
    slope, half, now, _ = _line(key, counted_in, ctx.facts.scale)
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
        begins=counted_in[0].day,
        now=now,
        designed=designed,
        limit=limit,
        per_month=None if slope is None else slope * MONTH_D,
        spread=None if half is None else half * MONTH_D,
        in_days=in_days,
        level=level,
        text=_text(key, (now, limit), slope, drifts, in_days)
        + (LEFT_OUT if len(counted_in) < len(points) else "")
        + (f" Left out, for it cannot be: {counted(slips, 'reading')}." if slips else ""),
    )


def _since_step(key: Followed, points: Sequence[Noted], changed: Sequence[float], scale: float) -> Sequence[Noted]:
    """The readings since the last change at which what is read stepped; all of them where it never did."""
    for day in changed:
        before, after = [point for point in points if point.day < day], [point for point in points if point.day >= day]
        if not before or not after:
            continue
        line = _line(key, before, scale)
        due = line.now + (line.slope or 0.0) * (after[0].day - before[-1].day)
        if abs(after[0].value - due) > STEPPED * math.hypot(line.spread, _spread(key, after[0].value, scale)):
            return after
    return points


def _spread(key: Followed, value: float, scale: float) -> float:
    """Standard deviation of one reading."""
    share, digits = SPREAD[key]
    return share * abs(value) + digits * (scale if key == "rest_start_v" else 1.0)


def _line(key: Followed, points: Sequence[Noted], scale: float) -> Line:
    """The line through some readings, by weighted least squares; too few have no slope."""
    last = points[-1]
    if len(points) < LEAST or points[-1].day - points[0].day < 1:
        return Line(None, None, last.value, _spread(key, last.value, scale))
    weights = [1 / _spread(key, point.value, scale) ** 2 for point in points]
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
    known = math.sqrt(max(1.0, scatter) * (1 / total + (last.day - middle) ** 2 / max(square, 1e-12)))
    return Line(slope, times / math.sqrt(max(square, 1e-12)), mean + slope * (last.day - middle), known)


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
        return _loop_limit_mohm(ctx)
    if key == "rest_start_v":
        return open_circuit_v(start.chemistry, LITHIUM_LOW if start.chemistry == "lfp" else HALF, system_v)
    if key == "standby_ma":
        charge = charge_at_rest(start.chemistry, float(ctx.facts.rest.value), system_v)
        spare_ah = max(0.0, charge - ctx.design.choices.keep_state_of_charge) * start.capacity_ah
        return 1000 * spare_ah / (PARKED_D * 24) if spare_ah > 0 else None
    return WORN * ctx.design.auxiliary.capacity_ah


def _loop_limit_mohm(ctx: Context) -> float | None:
    """Resistance from which the unit lets go at idle, `None` where it would with none: it draws the more, the lower its terminals fall.

    Either they fall to where it lets go, or its current to all that the alternator has, and the start battery's volts are left.
    """
    idle, output = ctx.solved.running[0], ctx.solved.output
    if output is None or output.power_in_w <= 0:
        return None
    source, power_w, extra_a, extra_v = idle.source, output.power_in_w, idle.run.first_extra_a, idle.run.branch_v
    least_v = ctx.linger_v if "voltage" in ctx.design.activation.ways else ctx.hold_v

    def up_to(limited: bool, volts: float) -> float:
        open_v, ohm = behind(source, limited, extra_a, extra_v)
        there_v = max(volts, open_v / 2)  # no line gives more power than with half its volts left
        return (open_v - there_v) * there_v / power_w - ohm

    found = up_to(False, least_v)
    if source.available_a is not None and short_of(source, power_w / least_v + extra_a):
        left_a = source.available_a - extra_a
        held = up_to(False, power_w / left_a) if left_a > 0 else 0.0
        found = max(held, up_to(True, least_v))
    return 1000 * found if found > 0 else None


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
