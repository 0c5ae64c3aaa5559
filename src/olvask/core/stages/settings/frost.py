"""Lithium in the cold: everything that charges it has to stop, or the pack itself.

- `stops_of`: where each source stops charging in the cold.
- `unit_stops_c`, `stops_c`: the same of the unit alone, and of pack or unit.
- `unstopped`: what goes on charging.
- `judge_frost`: findings on a pack that gets colder than it may be charged, for the survey.
- `judge_stops`: what nobody has noted of that.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import least_charging_c
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import capital, listed
from olvask.core.findings.remedy import remedy
from olvask.core.stages.match.sources import other_sources
from olvask.core.stages.settings.sheet import planned_charge, planned_device
from olvask.core.stages.settings.sources import stages_of

CONCERNS = ("auxiliary.temperature_min_c", "auxiliary.low_temperature_cut_off")


class Stops(NamedTuple):
    """A source, the battery's temperature under which it stops [°C], where it does, and the entry that says so, if any."""

    label: str
    stops_c: float | None
    path: str


def unit_stops_c(ctx: Context) -> float | None:
    """Where the unit stops once its sheet is keyed [°C]; what is chosen counts where its menu is not on the shelf."""
    return ctx.once("settings.unit_stops", lambda: _unit_stops_c(ctx))


def _unit_stops_c(ctx: Context) -> float | None:
    unit = ctx.design.charger
    if unit is None or unit.settings is None:
        return ctx.design.charge.cold_c
    found = planned_charge(ctx.design, ctx.facts)
    acting = found.acting("cold_c") if found is not None else None
    return acting if isinstance(acting, float) else None


def stops_c(ctx: Context) -> float | None:
    """Where the pack or the unit stops the charge in the cold [°C]; `None` where neither does."""
    own_c = least_charging_c(ctx.design.auxiliary) if ctx.design.auxiliary.low_temperature_cut_off else None
    return max((at_c for at_c in (own_c, unit_stops_c(ctx)) if at_c is not None), default=None)


def stops_of(ctx: Context) -> tuple[Stops, ...]:
    """Everything that charges the auxiliary battery, the unit first."""
    return ctx.once("settings.stops", lambda: (*_unit(ctx), *_others(ctx), *_links(ctx)))


def _unit(ctx: Context) -> Iterator[Stops]:
    unit = ctx.design.charger
    can = unit is None or unit.settings is None or bool(unit.settings.meaning("cold_c"))
    yield Stops("unit", unit_stops_c(ctx), "charge.cold_c" if can else "")


def _others(ctx: Context) -> Iterator[Stops]:
    for source in other_sources(ctx.design):
        place = source.place if source.place.startswith("existing.") else "solar"
        stages, path = stages_of(ctx.design, place), f"{place}.stages.cold_c"
        if stages.settings is None:
            yield Stops(source.label, stages.cold_c, path)
            continue
        found = planned_device(ctx, place)
        acting = found.acting("cold_c") if found is not None else None
        yield Stops(source.label, acting if isinstance(acting, float) else None, "")


def _links(ctx: Context) -> Iterator[Stops]:
    """An old link that stays joins the batteries whatever the cold."""
    design = ctx.design
    stays = design.old_link.decision not in ("disconnect", "changeover")
    if stays and design.vehicle.system_v == design.auxiliary.nominal_v:
        for item in design.still_fed:
            if item.joins:
                yield Stops(item.name or "old link", None, "")


def unstopped(ctx: Context) -> tuple[Stops, ...]:
    """What goes on charging a battery colder than it may be charged; nothing where the pack's own cut-off sees to it."""
    battery = ctx.design.auxiliary
    if battery.chemistry != "lfp" or battery.low_temperature_cut_off:
        return ()
    least_c = least_charging_c(battery)
    return tuple(item for item in stops_of(ctx) if item.stops_c is None or item.stops_c < least_c)


def judge_frost(ctx: Context) -> Judged:
    """Lithium that gets colder than it may be charged: ruined, or not charged."""
    battery = ctx.design.auxiliary
    cold_c, least_c = battery.temperature_min_c, least_charging_c(battery)
    if battery.chemistry != "lfp" or cold_c is None or cold_c >= least_c:
        return
    there = (
        f"Down to {cold_c:.0f} °C there; {chemistries()[battery.chemistry].label} is charged from {least_c:.0f} °C up."
    )
    yield _ruined(ctx, there, least_c) if unstopped(ctx) else _stopped(ctx, there)


def judge_stops(ctx: Context) -> Judged:
    """Lithium of which nobody knows how cold it gets, and a unit relied upon of which nobody knows whether it stops."""
    battery = ctx.design.auxiliary
    cold_c = battery.temperature_min_c
    if battery.chemistry != "lfp" or battery.low_temperature_cut_off:
        return
    if cold_c is None and unstopped(ctx):
        yield _unknown(ctx)
    if ctx.design.charge.cold_c is not None and (cold_c is None or cold_c < least_charging_c(battery)):
        yield from _unproven(ctx)


def _stopped(ctx: Context, there: str) -> Found:
    if ctx.design.auxiliary.low_temperature_cut_off:
        by = "Its own cut-off stops charging"
    else:
        by = "The unit stops charging" if len(stops_of(ctx)) == 1 else "All that charges it stops"
    text = f"{there} {by}: plan the use for it."
    return note("survey.cold_stopped", "auxiliary", "It is not charged in the cold", text, concerns=CONCERNS)


def _ruined(ctx: Context, there: str, least_c: float) -> Found:
    """Between freezing and the chemistry's usual limit it is the maker's word that decides."""
    battery = ctx.design.auxiliary
    sure = (battery.temperature_min_c or 0.0) < 0 or battery.charge_min_c is not None
    return (stop if sure else caution)(
        "survey.cold",
        "auxiliary",
        "Charging it cold would ruin it" if sure else "It gets close to too cold to charge",
        f"{there}{_goes_on(ctx)} Fit a cut-off or warm its place."
        + ("" if sure else " Some makers allow it down to 0 °C."),
        [_cut_off(), _set(ctx, least_c)],
        concerns=CONCERNS,
    )


def _unknown(ctx: Context) -> Found:
    open_ended = any(item.stops_c is None for item in unstopped(ctx))
    if not open_ended:
        title = "It is stopped later than it may be charged"
    elif all(item.stops_c is None for item in stops_of(ctx)):
        title = "Nothing keeps it from charging frozen"
    else:
        title = "Not all that charges it stops in the cold"
    return caution(
        "settings.cold_unknown",
        "auxiliary",
        title,
        "Lithium charged in the frost is ruined for good. Neither a cut-off of its own nor how cold it gets is noted: ask, and "
        f"note it.{_goes_on(ctx)}",
        [_cut_off()],
        concerns=CONCERNS[::-1],
    )


def _goes_on(ctx: Context) -> str:
    """What charges on and how far down, where anything stops at all."""
    if all(item.stops_c is None for item in stops_of(ctx)):
        return ""
    names = listed([f"the {item.label}{_down_to(item)}" for item in unstopped(ctx)])
    return f" {capital(names)} would go on charging."


def _down_to(item: Stops) -> str:
    return "" if item.stops_c is None else f", down to {item.stops_c:.0f} °C,"


def _cut_off() -> Remedy:
    return remedy("The battery cuts off by itself: note it", ("auxiliary.low_temperature_cut_off", True))


def _set(ctx: Context, least_c: float) -> Remedy | None:
    """The unit set, and whatever else charges on noted as stopping; `None` where one of them has no such stop."""
    wanted = unstopped(ctx)
    if any(not item.path for item in wanted):
        return None
    label = f"Set the unit to stop under {least_c:.0f} °C"
    if [item.label for item in wanted] != ["unit"]:
        label = f"All that charges it stops under {least_c:.0f} °C: set it, and note it"
    return remedy(label, *((item.path, least_c) for item in wanted))


def _unproven(ctx: Context) -> Iterator[Found]:
    """A unit whose menu nobody has noted, relied upon to stop."""
    unit = ctx.design.charger
    if unit is not None and unit.settings is None:
        yield caution(
            "settings.cold_unproven",
            "charger",
            "Not on record whether the unit stops in the cold",
            f"{unit.name} is to stop charging under {ctx.design.charge.cold_c:g} °C, and its menu is not on the shelf. Look it up, "
            "and prove it with cold spray on its sensor.",
            concerns=("charge.cold_c", "charger"),
        )
