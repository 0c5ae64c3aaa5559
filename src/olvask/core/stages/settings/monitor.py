"""The battery monitor: what goes past its shunt, what to key in, how far it drifts, how long the charge lasts.

- `MonitorReport`, `monitor_of`: as it is told.
- `monitor_wanted`: what to key into it.
- `judge_monitor`: findings on what it cannot see and on a reading that does not fit.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import Field

from olvask.core.catalogue import charge_limits, chemistries
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, note
from olvask.core.findings.listed import capital, counted, percent
from olvask.core.findings.remedy import remedy
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.model.monitor import BYPASSES, Bypass
from olvask.core.model.vehicle import standing_ah
from olvask.core.physics.battery import charge_at_rest
from olvask.core.stages.match.energy import reserve_of
from olvask.core.stages.match.sources import other_sources, solar_standing_a
from olvask.core.stages.settings.ending import FULL_MIN, Ending, ending_of
from olvask.core.stages.settings.wishes import Wanted

ZERO_ERROR_MA = 10.0  # of a shunt's amplifier; our own estimate
DRIFT_MATTERS = 0.05  # of charge: further off it misleads
FULL_UNDER_V = {"lfp": 0.1, "flooded": 0.2, "agm": 0.2, "gel": 0.2}  # under absorption, per 12 V; trade practice
FULL_TAIL_PERCENT = {"lfp": 4.0, "flooded": 2.0, "agm": 2.0, "gel": 2.0}  # of capacity; trade practice
FULL_CLEAR_V = 0.05  # per 12 V, of the volts that count as full under what the delivery run leaves; our own estimate
TAIL_CLEAR = 1.15  # of the monitor's tail over the current that has to pass under it; our own estimate
LEAD_EXPONENT = {"lfp": 1.05, "flooded": 1.25, "agm": 1.15, "gel": 1.15}  # Peukert's, as makers print it


@dataclass(frozen=True, slots=True, kw_only=True)
class Passed:
    """Something whose current the shunt does not see, and what that comes to in a day."""

    what: Bypass
    label: str
    ah_day: float | None
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ToKey:
    """A value to key into the monitor."""

    label: str
    value: float
    unit: str
    why: str


class MonitorReport(Said):
    """What a monitor of this job needs and can be trusted with."""

    there: bool = Field(description="whether one is noted, in Survey or here")
    values: tuple[ToKey, ...]
    passed: tuple[Passed, ...]
    drift_percent_day: float
    drift_text: str
    days_to_drift: float | None
    first_text: str
    hours_by_loads: float | None = Field(description="from full to the reserve by the list of loads")
    hours_by_average: float | None = Field(description="the same by the daily use")
    go_text: str
    charge_low: float | None = Field(description="state of charge that the rested volts allow, from")
    charge_high: float | None
    volts_text: str


def monitor_wanted(ctx: Context) -> dict[str, Wanted]:
    """What to key into a monitor, by meaning: a full is what this charge ends in, so that it synchronises."""
    battery, scale = ctx.design.auxiliary, ctx.design.auxiliary.nominal_v / 12
    name, ending = battery.chemistry, ending_of(ctx)
    drop_v = 0.0 if ending is None else ending.drop_v + FULL_CLEAR_V * scale
    under_v = max(FULL_UNDER_V[name] * scale, drop_v)
    tail, why = FULL_TAIL_PERCENT[name], "of capacity, over where chargers end"
    if ending is not None:
        tail = min(max(tail, _over_ending(ending)), _most_percent(name))
        why = f"of capacity, over the {percent(ending.share, 1)} at which the unit ends"
    return {
        "capacity_ah": Wanted(battery.capacity_ah, "as on the battery"),
        "full_v": Wanted(round(float(ctx.facts.absorption.value) - under_v, 2), "a little under absorption"),
        "full_tail_percent": Wanted(tail, why),
        "full_min": Wanted(FULL_MIN, "so that a cloud does not count as full"),
        "efficiency_percent": Wanted(round(100 * chemistries()[name].charge_efficiency), "what it keeps of a charge"),
        "lead_exponent": Wanted(LEAD_EXPONENT[name], "what fast discharge costs"),
    }


def _over_ending(ending: Ending) -> float:
    """A tail that the current is under for long enough as absorption ends [% of capacity], in half percents."""
    return math.ceil(2 * 100 * TAIL_CLEAR * ending.before) / 2


def _most_percent(chemistry: str) -> float:
    """Highest tail that still tells a full [% of capacity]: where a charger that ended there would cut the charge short."""
    return 100 * (charge_limits()[chemistry, "tail_share"].high or 1.0)


LABELS = {
    "capacity_ah": ("Capacity", "Ah"),
    "full_v": ("Full from", "V"),
    "full_tail_percent": ("Full under a tail of", "%"),
    "full_min": ("Full for", "min"),
    "efficiency_percent": ("Charge efficiency", "%"),
    "lead_exponent": ("Lead exponent", ""),
}


def _there(design: Design) -> bool:
    return design.monitor.unit is not None or any(item.kind == "monitor" for item in design.still_fed)


def _passed(ctx: Context) -> tuple[Passed, ...]:
    """What goes past the shunt, in ampere-hours a day where that can be told; charge uncounted is above zero."""
    design, found = ctx.design, []
    use, sources = design.use, {source.place: source for source in other_sources(design)}
    kinds = {f"existing.{item.id}": item.kind for item in design.existing}

    def of_kinds(*wanted: str) -> float:
        return sum(source.peak_a for place, source in sources.items() if kinds.get(place) in wanted)

    drive_h = (use.drive_h or 0.0) * use.drive_days / 7
    daily = float(ctx.facts.daily.value) if ctx.facts.daily is not None else None
    by: dict[Bypass, float | None] = {
        "unit": (ctx.solved.output.yield_a if ctx.solved.output is not None else 0.0) * drive_h,
        "solar": solar_standing_a(design) * design.solar.sun_h,
        "mains": of_kinds("mains_charger", "portable_charger") * use.mains_h,
        "built_in": of_kinds("built_in_charger") * drive_h,
        "loads": None if daily is None else -daily,
        "inverter": -standing_ah([load for load in use.loads if load.fed == "inverter"], design.auxiliary.nominal_v),
        "chassis": None,
        "monitor_feed": -24 * (_own_ma(design) / 1000),
    }
    for what in design.monitor.bypassed_by:
        ah_day = by[what]
        counted = (
            "what comes by it is never counted in" if (ah_day or 0) > 0 else "what goes by it is never counted out"
        )
        worth = "" if ah_day is None or abs(ah_day) < 0.05 else f", about {abs(ah_day):.1f} Ah a day"
        label = BYPASSES[what]
        text = f"{capital(label)} {'sit' if what == 'loads' else 'sits'} on the battery's own negative: {counted}{worth}. Move it to the shunt's far side."
        found.append(Passed(what=what, label=label, ah_day=ah_day, text=text))
    return tuple(found)


def _own_ma(design: Design) -> float:
    unit = design.monitor.unit
    return (unit.own_draw_ma if unit is not None else None) or 0.0


def _drift(ctx: Context, passed: tuple[Passed, ...]) -> float:
    """How far the count runs off in a day [% of capacity]."""
    monitor, capacity_ah = ctx.design.monitor, ctx.design.auxiliary.capacity_ah
    zero_ma = monitor.unit.zero_error_ma if monitor.unit is not None else None
    error_ah = 24 * ((ZERO_ERROR_MA if zero_ma is None else zero_ma) + (monitor.unmetered_ma or 0.0)) / 1000
    error_ah += sum(abs(item.ah_day or 0.0) for item in passed)
    return 100 * error_ah / capacity_ah


def _hours(ctx: Context) -> tuple[float | None, float | None]:
    """Hours from full to the reserve: by the loads that run while standing, and by the daily use."""
    design = ctx.design
    usable_ah = design.auxiliary.capacity_ah * (1 - reserve_of(design))
    standing_a = standing_ah(design.use.loads, design.auxiliary.nominal_v) / 24
    daily = float(ctx.facts.daily.value) if ctx.facts.daily is not None else 0.0
    return (usable_ah / standing_a if standing_a > 0 else None, 24 * usable_ah / daily if daily > 0 else None)


def _band(ctx: Context) -> tuple[float, float] | None:
    """What charge rested volts allow."""
    battery, volts = ctx.design.auxiliary, ctx.design.monitor.rested_v
    if volts is None:
        return None
    spread_v = chemistries()[battery.chemistry].rest_tolerance_v * battery.nominal_v / 12
    low = charge_at_rest(battery.chemistry, volts - spread_v, battery.nominal_v)
    return low, charge_at_rest(battery.chemistry, volts + spread_v, battery.nominal_v)


def monitor_of(ctx: Context) -> MonitorReport:
    """What a monitor of this job needs and can be trusted with."""
    design = ctx.design
    passed = _passed(ctx)
    drift = _drift(ctx, passed)
    days = 100 * DRIFT_MATTERS / drift if drift > 0 else None
    by_loads, by_average = _hours(ctx)
    band = _band(ctx)
    wanted = monitor_wanted(ctx)
    hours = [
        f"{value:.0f} h by {name}"
        for value, name in ((by_loads, "the list of loads"), (by_average, "the daily use"))
        if value
    ]
    return MonitorReport(
        there=_there(design),
        values=tuple(
            ToKey(label=LABELS[key][0], value=float(item.value), unit=LABELS[key][1], why=item.why)
            for key, item in wanted.items()
        ),
        passed=passed,
        drift_percent_day=drift,
        days_to_drift=days,
        drift_text=_drift_text(drift, days),
        first_text=(
            "It has seen a true full: what it shows can be believed."
            if design.monitor.synchronised
            else "Until it has seen the first true full, what it shows means nothing: charge to the end, then look."
        ),
        hours_by_loads=by_loads,
        hours_by_average=by_average,
        go_text=f"From full to the reserve: {', '.join(hours)}."
        if hours
        else "Enter loads or daily use to see how long it lasts.",
        charge_low=None if band is None else band[0],
        charge_high=None if band is None else band[1],
        volts_text=_volts_text(ctx, band),
    )


def _drift_text(drift: float, days: float | None) -> str:
    if days is None or math.isinf(days):
        return "It does not drift."
    return f"{drift:.1f} % a day by its zero error and what it does not see: 5 % off after {counted(days, 'day')} without a full."


def _volts_text(ctx: Context, band: tuple[float, float] | None) -> str:
    """What rested volts say of the charge."""
    if band is None:
        lithium = ctx.design.auxiliary.chemistry == "lfp"
        return (
            "Between 20 and 80 % the volts of LFP say next to nothing: trust the count."
            if lithium
            else "Rest it for hours before volts say anything."
        )
    low, high = band
    return f"Rested at {ctx.design.monitor.rested_v:.2f} V it may hold anything from {percent(low)} to {percent(high)}."


def _never_full(ctx: Context) -> Iterator[Found]:
    """A charge that ends at more current than any monitor should take for a full."""
    design, ending = ctx.design, ending_of(ctx)
    most = _most_percent(design.auxiliary.chemistry)
    if ending is None or not _there(design) or _over_ending(ending) <= most:
        return
    typed = [f"charge.{name}" for name in ("tail_a", "absorption_h") if getattr(design.charge, name) is not None]
    back = [remedy("End absorption as usual", *((path, None) for path in typed))] if typed else []
    yield (note if other_sources(design) else caution)(
        "settings.monitor_never",
        "auxiliary",
        "The monitor never sees a full",
        f"The unit ends absorption at {100 * ending.share:.1f} % of capacity; a tail over {most:.0f} % would count a battery as full "
        "that is not. Absorb longer, or to a lower current.",
        back,
        ("charge.tail_a", "charge.absorption_h"),
    )


def judge_monitor(ctx: Context) -> Judged:
    """Findings on what goes past the shunt, and on a reading the volts do not allow."""
    monitor = ctx.design.monitor
    for item in _passed(ctx):
        rest = tuple(what for what in monitor.bypassed_by if what != item.what)
        said = note if item.ah_day is not None and abs(item.ah_day) < 0.5 else caution
        yield said(
            f"settings.shunt.{item.what}",
            "auxiliary",
            "Something goes past the monitor's shunt",
            item.text,
            [remedy(f"Move {item.label} to the shunt's far side", ("monitor.bypassed_by", list(rest)))],
            ("monitor.bypassed_by",),
        )
    yield from _never_full(ctx)
    band = _band(ctx)
    if band is None or monitor.shows_percent is None:
        return
    shown = monitor.shows_percent / 100
    if not band[0] - 0.05 <= shown <= band[1] + 0.05:
        yield caution(
            "settings.monitor_off",
            "auxiliary",
            "The monitor's charge does not fit the volts",
            f"It shows {percent(shown)}; rested at {monitor.rested_v:.2f} V the battery holds {percent(band[0])} to {percent(band[1])}. Charge it "
            "to a true full and let it synchronise.",
            concerns=("monitor.shows_percent", "monitor.rested_v"),
        )
