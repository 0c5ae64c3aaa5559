"""Energy: what the day needs of the unit, hours to recover, days it can stand.

- `daily_floor_a`: output that puts the day's use back in the day's driving.
- `judge_energy`: figures at a glance, and loads above the charge.
- `judge_need`: whether the day is put back.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import Facts
from olvask.core.circuit.solve import Output, Solved
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Input, Reckoned, Words, by_branches, computed
from olvask.core.findings.finding import caution
from olvask.core.findings.listed import percent
from olvask.core.model import Charger, Design
from olvask.core.physics.charging import Tapered, tapered
from olvask.core.stages.match.limits import site_a
from olvask.core.stages.match.sources import driving_now, maintainer_of, other_sources, solar_standing_a

RECOVER_FROM, RECOVER_TO = 0.40, 0.95
DRIVE_FROM_H, SUN_FROM_H, SUN_TO_H, MAINS_FROM_H = 8, 9, 15, 18  # of a typical day; our own estimate


def even_sun_a(design: Design) -> float:
    """The panel's full-sun hours, as they reach the auxiliary battery, laid evenly over the hours of sun [A]."""
    return solar_standing_a(design) * design.solar.sun_h / (SUN_TO_H - SUN_FROM_H)


def _stands_h(design: Design, from_h: float, hours: float) -> float:
    """How many of some hours, from a time of day on, are not driven [h]."""
    drive_h = design.use.drive_h or 0.0
    driven_h = sum(
        max(0.0, min(from_h + hours, begins_h + drive_h) - max(from_h, begins_h))
        for begins_h in (DRIVE_FROM_H - 24, DRIVE_FROM_H, DRIVE_FROM_H + 24)
    )
    return hours - driven_h


def _kept(design: Design) -> float:
    """Share of what is charged that the auxiliary battery gives back, 0 to 1."""
    return chemistries()[design.auxiliary.chemistry].charge_efficiency


def _mains_a(design: Design) -> float:
    return sum(source.peak_a for source in other_sources(design) if not source.driving)


def standing_ah(design: Design) -> float:
    """What sun and mains put in on a day without driving, before charge losses [Ah]."""
    return even_sun_a(design) * (SUN_TO_H - SUN_FROM_H) + _mains_a(design) * design.use.mains_h


def between_drives_ah(design: Design) -> float:
    """What sun and mains put in while it stands, on a day it drives, before charge losses [Ah].

    The sun of the hours driven is not among it: what it gives then is the source's share while driving.
    """
    sun_ah = even_sun_a(design) * _stands_h(design, SUN_FROM_H, SUN_TO_H - SUN_FROM_H)
    return sun_ah + _mains_a(design) * _stands_h(design, MAINS_FROM_H, design.use.mains_h)


def upkeep_a(design: Design, facts: Facts) -> float:
    """What a maintainer fed from the auxiliary battery takes of it while the vehicle stands [A].

    Once the start battery is full it gives what the standing drain takes.
    """
    kept = maintainer_of(design)
    if kept.taken_a <= 0:
        return 0.0
    return kept.taken_a * min(1.0, float(facts.standing_drain.value) / 1000 / kept.current_a)


def _upkeep_ah(design: Design, facts: Facts) -> float:
    """What it takes while the vehicle stands on a day that it drives [Ah]."""
    return upkeep_a(design, facts) * (24 - (design.use.drive_h or 0.0))


def net_daily_ah(design: Design, facts: Facts) -> float | None:
    """What a day of standing takes of the auxiliary battery, sun and mains counted [Ah]; `None` when not surveyed."""
    if facts.daily is None:
        return None
    return float(facts.daily.value) + 24 * upkeep_a(design, facts) - standing_ah(design) * _kept(design)


def _missing_ah(design: Design, facts: Facts, daily_ah: float) -> float:
    """What of the daily use is left for the driving [Ah out of the battery]."""
    return max(0.0, daily_ah + _upkeep_ah(design, facts) - between_drives_ah(design) * _kept(design))


def charging_a(design: Design, solved: Solved) -> float:
    """Current into the auxiliary battery below its taper while driving [A]; before charge losses, never under 0."""
    return max(0.0, min(net_driving_a(design, solved), float(solved.facts.charge_limit.value)))


def rate_ah_per_h(design: Design, solved: Solved) -> float:
    """What an hour's driving puts into the auxiliary battery, less what charging loses [Ah to be had again]; never under 0.

    No more than the battery takes below its taper.
    """
    return charging_a(design, solved) * _kept(design)


def put_back_h(design: Design, solved: Solved) -> float | None:
    """Hours of driving that put a day's use back; `None` where it is not surveyed or nothing is left to charge with."""
    rate, daily = rate_ah_per_h(design, solved), solved.facts.daily
    if daily is None or rate <= 0:
        return None
    return _missing_ah(design, solved.facts, float(daily.value)) / rate


def reserve_of(design: Design) -> float:
    """State of charge never to go below: as chosen, else the chemistry's usual."""
    chosen = design.use.reserve
    return chemistries()[design.auxiliary.chemistry].reserve if chosen is None else chosen


def daily_floor_a(design: Design, solved: Solved) -> float | None:
    """Output current [A] that puts the daily use back in the daily driving; `None` when not surveyed."""
    drive_h, facts = design.use.drive_h, solved.facts
    if facts.daily is None or drive_h is None:
        return None
    efficiency = _kept(design)
    missing_ah = _missing_ah(design, facts, float(facts.daily.value))
    other_a = sum(source.driving_a for source in other_sources(design))
    return max(0.0, missing_ah / efficiency / drive_h + float(facts.loads_driving.value) - other_a)


def _floor_figure(ctx: Context) -> Iterator[Reckoned]:
    daily, drive_h = ctx.facts.daily, ctx.design.use.drive_h
    floor_a = daily_floor_a(ctx.design, ctx.solved)
    if floor_a is not None and daily is not None and drive_h is not None:
        words = partial(_floor_words, ctx, daily, drive_h, floor_a)
        yield Reckoned("match.daily_floor_a", "Output the day needs", floor_a, "A", words)


def _floor_words(ctx: Context, daily: Input, drive_h: float, floor_a: float) -> Words:
    design, loads = ctx.design, ctx.facts.loads_driving
    efficiency = _kept(design)
    daily_ah, other_ah = float(daily.value), between_drives_ah(design) * efficiency
    other_a = sum(source.driving_a for source in other_sources(design))
    kept_ah = _upkeep_ah(design, ctx.facts)
    missing = f"{daily_ah:.0f} Ah + {kept_ah:.1f} Ah" if kept_ah > 0 else f"{daily_ah:.0f} Ah"
    if other_ah > 0:
        missing = f"{missing} − {other_ah:.0f} Ah" if other_ah < daily_ah + kept_ah else "0 Ah"
    missing = f"({missing})" if " − " in missing or " + " in missing else missing
    worked = f"{missing} / ({efficiency:.2f} · {drive_h:.1f} h) + {float(loads.value):.1f} A"
    if other_a > 0:
        worked += f" − {other_a:.1f} A"
    origin = str(design.provenance.get("use.drive_h", "entered"))
    return Words(
        formula="(Ah per day + Ah of a maintainer − Ah of sun and mains standing) / (η_charge · h driving) + loads driving − other sources driving",
        working=f"{worked} = {floor_a:.1f} A" if floor_a > 0 else f"max(0 A, {worked}) = 0.0 A",
        inputs=(daily, loads, Input("Driving a day", drive_h, "h", origin, "use.drive_h")),
        source="charge balance over one day",
        changes="fewer ampere-hours a day, longer driving, or another source",
    )


def judge_need(ctx: Context) -> Judged:
    """Say whether the day is put back, and whether any unit could."""
    if ctx.worded:
        yield from _floor_figure(ctx)
    floor_a = daily_floor_a(ctx.design, ctx.solved)
    daily, output = ctx.facts.daily, ctx.solved.output
    if floor_a is None or daily is None:
        return
    allowed_a = site_a(ctx)
    wanted = (
        f"{floor_a:.1f} A would put {float(daily.value):.0f} Ah back in {ctx.design.use.drive_h or 0:.1f} h of driving"
    )
    if _missing_ah(ctx.design, ctx.facts, float(daily.value)) <= 0:
        wanted = f"{floor_a:.1f} A would carry the loads while driving"
    if floor_a > allowed_a:
        yield caution(
            "match.need_unreachable",
            "auxiliary",
            "No unit can put the day's use back here",
            f"{wanted}; battery and alternator allow {allowed_a:.1f} A. Less use, longer driving, or another source such as "
            "sun or mains.",
            concerns=("use.daily_ah", "use.drive_h"),
        )
    if output is None:
        return
    given_a = driving_now(ctx.design, output.yield_a).total_a
    if given_a < floor_a <= allowed_a:
        yield caution(
            "match.daily_need",
            "auxiliary",
            "The day's use is not put back",
            f"{wanted}; the unit gives {given_a:.1f} A.",
            concerns=("use.daily_ah", "use.drive_h", "charger"),
        )


def net_driving_a(design: Design, solved: Solved) -> float:
    """Current into the auxiliary battery while driving, all sources less loads [A]; before charge losses."""
    output_a = solved.output.yield_a if solved.output is not None else 0.0
    others_a = sum(source.driving_a for source in other_sources(design))
    return driving_now(design, output_a).total_a + others_a - float(solved.facts.loads_driving.value)


def judge_energy(ctx: Context) -> Judged:
    """Figures of input and output at a glance, hours to recover and days of standing; loads above the charge."""
    unit, output = ctx.design.charger, ctx.solved.output
    if ctx.worded:
        yield from _standing(ctx)
        if unit is not None and output is not None:
            yield from _unit_figures(ctx, unit, output)
            yield _recovery(ctx)
    if output is None:
        return
    net_a, loads_a = net_driving_a(ctx.design, ctx.solved), float(ctx.facts.loads_driving.value)
    if net_a <= 0:
        yield caution(
            "match.loads_exceed",
            "auxiliary",
            "It still empties while driving, only slower",
            f"Loads take {loads_a:.1f} A, the sources give {net_a + loads_a:.1f} A.",
            concerns=("use.loads_driving_a",),
        )


def _unit_figures(ctx: Context, unit: Charger, output: Output) -> Iterator[Reckoned]:
    many = f"{ctx.design.units} units of " if ctx.design.units > 1 else ""
    out_w = output.terminal_v * output.current_a
    yield Reckoned(
        "output.current_a",
        "Output current",
        output.current_a,
        "A",
        words=lambda: Words(
            formula="as set, within the rating; units in parallel add up",
            working=f"{many}{output.current_a / ctx.design.units:g} A = {output.current_a:.1f} A",
            source="unit's datasheet",
        ),
    )
    yield Reckoned(
        "output.voltage_v",
        "Output terminals",
        output.terminal_v,
        "V",
        words=lambda: Words(
            formula="V_abs + I_out · R_delivery",
            working=f"{output.battery_v:.2f} V + {output.current_a:.1f} A · {output.run.loop_ohm * 1000:.2f} mΩ"
            f"{by_branches(output.run.branch_v)} = "
            f"{output.terminal_v:.2f} V",
            inputs=(ctx.facts.absorption, computed("output.current_a")),
            source="Ohm's law, at absorption and full current (worst case)",
        ),
    )
    yield Reckoned(
        "input.power_w",
        "Input power",
        output.power_in_w,
        "W",
        words=lambda: Words(
            formula="V_out · I_out / η",
            working=f"{output.terminal_v:.2f} V · {output.current_a:.1f} A / {unit.efficiency:.2f} = {output.power_in_w:.0f} W",
            inputs=(
                computed("output.voltage_v"),
                computed("output.current_a"),
                Input("Efficiency", unit.efficiency, "share", "datasheet", "charger.efficiency"),
            ),
            source="energy balance of the unit",
        ),
    )
    yield Reckoned(
        "charger.heat_w",
        "Heat at the unit",
        output.power_in_w - out_w,
        "W",
        words=lambda: Words(
            formula="P_out · (1/η − 1)",
            working=f"{out_w:.0f} W · (1/{unit.efficiency:.2f} − 1) = {output.power_in_w - out_w:.0f} W",
            inputs=(computed("input.power_w"),),
            source="energy balance of the unit",
        ),
    )


def hours_between(design: Design, solved: Solved, begun: float, ended: float) -> Tapered | None:
    """Driving that brings the auxiliary battery from one state of charge to another; `None` where nothing is left for it.

    Args:
        design: the design.
        solved: the design solved.
        begun: state of charge to begin with, 0 to 1.
        ended: state of charge to end with, under 1.
    """
    amps, battery = charging_a(design, solved), design.auxiliary
    if amps <= 0:
        return None
    taper_from, limit_a = chemistries()[battery.chemistry].taper_from, float(solved.facts.charge_limit.value)
    return tapered(begun, ended, amps, battery.capacity_ah, limit_a, taper_from, _kept(design))


def _recovery(ctx: Context) -> Reckoned:
    auxiliary = ctx.design.auxiliary
    found = hours_between(ctx.design, ctx.solved, RECOVER_FROM, RECOVER_TO)
    return Reckoned(
        "energy.recover_h",
        f"{auxiliary.capacity_ah:.0f} Ah from {percent(RECOVER_FROM)} to {percent(RECOVER_TO)}",
        None if found is None else found.hours,
        "h",
        words=lambda: Words(
            formula="Ah / (I · η) while the battery takes it all, then ln(missing there / missing in the end) · Ah above the "
            "taper / (I_limit · η)",
            working="the loads take it all" if found is None else _recovered(found),
            inputs=(computed("output.current_a"), ctx.facts.loads_driving, ctx.facts.charge_limit),
            source="charge balance at absorption volts, with the battery's limit and taper; a profile that gives up sooner "
            "takes longer, see the audit of sources",
        ),
    )


def _recovered(found: Tapered) -> str:
    """The hours of a charge, in its numbers."""
    parts = []
    if found.even_ah > 0:
        parts.append(f"{found.even_ah:.1f} Ah / ({found.amps:.1f} A · {found.kept:.2f})")
    if found.falls > 0:
        parts.append(f"{found.falls:.2f} · {found.room_ah:.1f} Ah / ({found.limit_a:.1f} A · {found.kept:.2f})")
    return f"{' + '.join(parts)} = {found.hours:.1f} h"


def _standing(ctx: Context) -> Iterator[Reckoned]:
    design, daily = ctx.design, ctx.facts.daily
    if daily is None:
        return
    reserve = reserve_of(design)
    usable_ah = design.auxiliary.capacity_ah * (1 - reserve)
    net_ah = net_daily_ah(design, ctx.facts) or 0.0
    worked = f"{design.auxiliary.capacity_ah:.0f} Ah · {1 - reserve:.2f} / {net_ah:.0f} Ah a day"
    chosen = design.use.reserve is not None
    origin = str(design.provenance.get("use.reserve", "entered")) if chosen else "default"
    yield Reckoned(
        "energy.standing_days",
        "Days it can stand",
        usable_ah / net_ah if net_ah > 0 else None,
        "days",
        words=lambda: Words(
            formula="C · (1 − reserve) / (Ah per day + Ah of a maintainer − other Ah)",
            working=worked if net_ah > 0 else "sun and mains cover the day: no end",
            inputs=(daily, Input("Reserve", reserve, "share", origin, "use.reserve")),
            source="charge balance from full, without driving",
            changes="a larger battery, less use, or another source",
        ),
    )
