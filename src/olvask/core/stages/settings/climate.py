"""Cold and heat at the battery, the temperature sensor, and how a sleeping pack is woken.

- `ClimateReport`, `climate_of`: as it is told.
- `days_below`, `days_above`: days of a year past a temperature, from the year's extremes.
- `judge_climate`: a winter in which it hardly charges.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from pydantic import Field

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import least_charging_c
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution, note
from olvask.core.findings.listed import counted
from olvask.core.findings.said import Said
from olvask.core.stages.settings.frost import stops_c, stops_of, unstopped

YEAR_DAYS = 365
DAILY_SWING_K = 8.0  # of a battery inside a vehicle between night and day; our own estimate
WAKE_A_PER_AH = 0.05  # a pack that has slept at empty is lifted gently; trade practice
WAKE_MIN = 30.0  # longer than this without rising is a broken cell; trade practice


@dataclass(frozen=True, slots=True, kw_only=True)
class WakeStep:
    """One step of waking a pack: what to do, what to see, when to stop."""

    do: str
    see: str
    stop: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ColdStop:
    """Something that charges it, where that stops [°C], and whether that is soon enough."""

    label: str
    stops_c: float | None
    enough: bool


class ClimateReport(Said):
    """How often cold and heat keep the battery from charging, and what can be done about it."""

    text: str
    least_c: float = Field(description="coldest at which it may be charged")
    most_c: float = Field(description="warmest at which it may be charged")
    stops_c: float | None = Field(description="where something stops it in the cold; none where nothing does")
    days_cold: float | None
    days_hot: float | None
    stops: tuple[ColdStop, ...] = Field(description="everything that charges lithium without a cut-off of its own")
    ways: tuple[str, ...]
    sensor_text: str
    waking: tuple[WakeStep, ...]
    waking_text: str


def _share_below(least_c: float, most_c: float, limit_c: float) -> float:
    """Share of a year in which a sine between two extremes lies below a limit."""
    if limit_c <= least_c:
        return 0.0
    if limit_c >= most_c:
        return 1.0
    mean, swing = (least_c + most_c) / 2, (most_c - least_c) / 2
    return 0.5 + math.asin((limit_c - mean) / swing) / math.pi


def days_below(coldest_c: float, warmest_c: float, limit_c: float) -> float:
    """Days of a year whose coldest hour lies below a temperature.

    Args:
        coldest_c: coldest the battery gets in a year [°C].
        warmest_c: warmest it gets [°C].
        limit_c: the temperature [°C].

    The nights follow a sine over the year, from the coldest to the warmest day less the swing of a day.
    """
    return YEAR_DAYS * _share_below(coldest_c, max(coldest_c, warmest_c - DAILY_SWING_K), limit_c)


def days_above(coldest_c: float, warmest_c: float, limit_c: float) -> float:
    """Days of a year whose warmest hour lies above a temperature; arguments as for `days_below`.

    Args:
        coldest_c: coldest the battery gets in a year [°C].
        warmest_c: warmest it gets [°C].
        limit_c: the temperature [°C].
    """
    return YEAR_DAYS * (1 - _share_below(min(warmest_c, coldest_c + DAILY_SWING_K), warmest_c, limit_c))


def _limits(ctx: Context) -> tuple[float, float]:
    battery = ctx.design.auxiliary
    usual, least_c = chemistries()[battery.chemistry], least_charging_c(battery)
    return least_c, usual.charge_max_c if battery.charge_max_c is None else battery.charge_max_c


def climate_of(ctx: Context) -> ClimateReport:
    """Cold, heat, sensor and waking of this job."""
    battery = ctx.design.auxiliary
    least_c, most_c = _limits(ctx)
    at_c, low_c, high_c = stops_c(ctx), battery.temperature_min_c, battery.temperature_max_c
    cold = hot = None
    under_c = least_c if at_c is None else max(least_c, at_c)
    if low_c is not None and high_c is not None:
        cold = days_below(low_c, high_c, under_c)
        hot = days_above(low_c, high_c, most_c)
    return ClimateReport(
        text=_text(cold, hot, under_c, bool(unstopped(ctx))),
        least_c=least_c,
        most_c=most_c,
        stops_c=at_c,
        days_cold=cold,
        days_hot=hot,
        stops=_stops(ctx),
        ways=_ways(ctx, least_c) if battery.chemistry == "lfp" else (),
        sensor_text=_sensor(ctx),
        waking=_waking(ctx),
        waking_text=(
            "Its management switches it off at empty, and it wants a voltage to wake it."
            if battery.management is not None and battery.management.needs_waking
            else "Nothing is noted of a management that has to be woken. The steps, should it ever stand at zero volts:"
        ),
    )


def _stops(ctx: Context) -> tuple[ColdStop, ...]:
    battery = ctx.design.auxiliary
    if battery.chemistry != "lfp" or battery.low_temperature_cut_off:
        return ()
    late = unstopped(ctx)
    return tuple(ColdStop(label=item.label, stops_c=item.stops_c, enough=item not in late) for item in stops_of(ctx))


def _text(cold: float | None, hot: float | None, under_c: float, unstopped: bool) -> str:
    if cold is None or hot is None:
        return "Enter the coldest and the warmest the battery gets, and the days a year that it cannot be charged are shown."
    until = "must not be charged" if unstopped else "takes no charge"
    return (
        f"On {counted(cold, 'day')} a year the night is under {under_c:.0f} °C and it {until} until it has warmed; on "
        f"{hot:.0f} the afternoon is too hot."
    )


def _ways(ctx: Context, least_c: float) -> tuple[str, ...]:
    """Ways to stop charging lithium that has no cut-off of its own."""
    if ctx.design.auxiliary.low_temperature_cut_off:
        return ("Its own management stops it: prove that once, with cold spray on its sensor.",)
    found = [
        f"A unit with a sensor on the battery's post, set to stop under {least_c:.0f} °C.",
        f"A thermostat on the battery, opening at {least_c:.0f} °C, in the unit's enable wire; one in each other charger's.",
        "A battery with a cut-off of its own.",
        "A heating mat fed while it drives, with its own fuse, before anything charges.",
    ]
    unit = ctx.design.charger
    if unit is not None and unit.settings is not None and not unit.settings.meaning("cold_c"):
        found[0] = f"{unit.name} has no cold stop in its menu: the thermostat, or another unit."
    return tuple(found)


def _sensor(ctx: Context) -> str:
    if ctx.design.auxiliary.chemistry == "lfp":
        return (
            "With lithium a sensor may be fitted only where the unit uses it for a cold stop, not to compensate. On one battery's "
            "post, never on a bus bar."
        )
    return "A sensor on one battery's post lets the unit raise its volts in the cold and lower them in heat, as lead wants it."


def _waking(ctx: Context) -> tuple[WakeStep, ...]:
    """Waking a pack that shows nothing at its posts, with a limited source."""
    battery = ctx.design.auxiliary
    scale, amps = battery.nominal_v / 12, max(1.0, round(WAKE_A_PER_AH * battery.capacity_ah))
    return (
        WakeStep(do="Switch every load and inverter off, and part them.", see="0 A on a clamp.", stop=""),
        WakeStep(
            do="Measure the posts, and the battery's temperature.",
            see="0 to 2 V: its management is open.",
            stop=f"Swollen, hot, leaking, or under {_limits(ctx)[0]:.0f} °C: leave it, and make it safe.",
        ),
        WakeStep(
            do=f"Set a bench supply to {13.6 * scale:.1f} V and {amps:.0f} A at most, fused.",
            see="Volts on its own display, polarity proven.",
            stop="",
        ),
        WakeStep(
            do="Put it on the posts, positive first, for ten seconds.",
            see=f"The posts hold over {10.0 * scale:.0f} V as the supply is taken off: it is awake.",
            stop="Still at zero after three tries: the maker, or another battery.",
        ),
        WakeStep(
            do=f"Charge at {amps:.0f} A.",
            see=f"Over {12.0 * scale:.0f} V within {WAKE_MIN:.0f} min.",
            stop="Not rising, over 45 °C, or a smell: stop. A cell is gone.",
        ),
        WakeStep(do="Then by its own charger to full, and synchronise the monitor.", see="A true full.", stop=""),
    )


def judge_climate(ctx: Context) -> Judged:
    """A winter in which it hardly charges; lithium that nothing stops in the cold is Survey's to judge."""
    battery = ctx.design.auxiliary
    low_c, high_c = battery.temperature_min_c, battery.temperature_max_c
    if battery.chemistry != "lfp" or low_c is None:
        return
    at_c = stops_c(ctx)
    if at_c is None or high_c is None:
        return
    days = days_below(low_c, high_c, at_c)
    if days >= 1:
        said = caution if days > 60 else note
        what = "the unit does not charge" if unstopped(ctx) else "nothing charges"
        yield said(
            "settings.cold_days",
            "auxiliary",
            "Cold keeps it from charging",
            f"Under {at_c:.0f} °C {what}: the nights of about {counted(days, 'day')} a year, until it has warmed.",
            concerns=("auxiliary.temperature_min_c",),
        )
