"""Appliances that a plain converter feeds from the engine side: input current, cable, device, and what happens parked.

- `judge_appliances`: each such load.
- `feed_for`: the feed of one, as it would be laid.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from olvask.core.catalogue import Conductor, Device, NoStandardSize, conductors
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.engine_side import CONVERTER_EFFICIENCY, converter_a
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Input, Reckoned, Words
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.findings.listed import percent
from olvask.core.findings.remedy import remedy
from olvask.core.model import Cable, Load
from olvask.core.physics.battery import prospective_short_a
from olvask.core.physics.conductors import resistance_ohm
from olvask.core.stages.run.devices import INDUSTRIAL, least_rating_a, suitable_device

WIRE_M = 4.0  # start battery to an appliance, where neither its wire nor the supply run is measured; our own estimate
WARM_C = 50.0  # the conductor under its load; our own estimate
LEAST_MM2 = 1.5  # thinner does not stand being pulled through a vehicle; our own estimate


class Feed(NamedTuple):
    """What feeds one appliance: current at the converter's input [A], cable, its length one way [m], drop [%], device."""

    input_a: float
    size: Conductor
    length_m: float
    drop_percent: float
    device: Device


def feed_for(ctx: Context, load: Load) -> Feed | None:
    """The feed of an appliance; `None` where no standard cable and device carry it.

    Args:
        ctx: the context.
        load: the appliance.

    The device is rated 1.25 times the input current at the lowest running volts; the cable carries the device and keeps
    the drop limit of the job.
    """
    design, battery = ctx.design, ctx.design.vehicle.start_battery
    input_v = min(float(ctx.facts.idle.value), float(ctx.facts.cruise.value))
    input_a = converter_a(load, design, input_v)
    length_m = load.wire_m or design.distances.supply_m or WIRE_M
    nominal_v = design.vehicle.system_v
    short_a = prospective_short_a(battery.chemistry, battery.capacity_ah, nominal_v, 0.0)
    industrial: Feed | None = None
    for size in conductors():
        if size.system != "metric" or size.area_mm2 < LEAST_MM2:
            continue
        cable = Cable(size=size.size, length_m=length_m)
        loop_ohm = resistance_ohm(size.resistance_20c_ohm_per_km, 2 * length_m, WARM_C)
        percent = 100 * input_a * loop_ohm / nominal_v
        if percent > design.choices.drop_percent:
            continue
        try:
            carries_a = ampacity(cable, design.choices.ampacity_school)[0]
            fitted = suitable_device(
                least_rating_a(input_a), carries_a, nominal_v, short_a, design.choices.protection_school
            )
        except NoStandardSize:
            continue
        laid = Feed(input_a, size, length_m, percent, fitted)
        if fitted.family not in INDUSTRIAL:
            return laid
        industrial = industrial or laid
    return industrial


def judge_appliances(ctx: Context) -> Judged:
    """Say how each is fed, and what it takes from the start battery while the engine rests."""
    for load in ctx.design.use.loads:
        if load.fed != "converter":
            continue
        place = f"use.loads.{load.id}"
        found = feed_for(ctx, load)
        yield from _parked(ctx, load, place)
        if found is None:
            yield caution(
                f"match.appliance.{load.id}",
                "start_battery",
                f"No cable and device feed the {load.name}",
                f"{load.needs_w(ctx.design.auxiliary.nominal_v):.0f} W are too much for one converter's feed; feed it from the "
                "auxiliary battery.",
                [remedy("Feed it from the auxiliary battery", (f"{place}.fed", "battery"))],
                concerns=(place,),
            )
            continue
        yield from _figures(ctx, load, found)
        yield note(
            f"match.appliance.{load.id}",
            "start_battery",
            f"A plain converter feeds the {load.name}",
            f"{found.input_a:.1f} A at its input: {found.device.label} {found.device.rating_a:g} A at the start battery, "
            f"{found.size.size} over {found.length_m:g} m each way, {found.drop_percent:.1f} % drop. Its negative goes where the "
            "unit's does. It is a supply, not a charger; its parts are not on this job's bill.",
            concerns=(place,),
        )


def _parked_a(ctx: Context, load: Load) -> float:
    """What an appliance draws from the start battery standing, on average of its hours [A]."""
    return converter_a(load, ctx.design, float(ctx.facts.rest.value)) * load.duty


def _taken(ctx: Context, load: Load) -> float:
    """What it takes of the start battery in a day's standing, as a share of its capacity."""
    return _parked_a(ctx, load) * load.standing_h / ctx.design.vehicle.start_battery.capacity_ah


def _parked(ctx: Context, load: Load, place: str) -> Iterator[Found]:
    """Hours standing come out of the start battery, of one appliance after the other: nothing fills it then."""
    if load.standing_h <= 0:
        return
    design, amps, taken = ctx.design, _parked_a(ctx, load), _taken(ctx, load)
    together = sum(_taken(ctx, other) for other in design.use.loads if other.fed == "converter")
    spare = 1 - design.choices.keep_state_of_charge
    beside = f", {percent(together)} with all that converters feed" if together > taken else ""
    said = (
        f"{amps:.1f} A over {load.standing_h:g} h take {percent(taken)} of the start battery{beside}; {percent(spare)} are above what is "
        "kept to crank. Switch the converter with the engine running, or feed it from the auxiliary battery."
    )
    ways = [
        remedy("Feed it from the auxiliary battery", (f"{place}.fed", "battery")),
        remedy("Only with the engine running", (f"{place}.standing_h", 0.0), (f"{place}.driving", True)),
    ]
    make = stop if together > spare else caution
    does = "empties" if taken > spare else "helps to empty" if together > spare else "draws on"
    title = f"The {load.name} {does} the start battery"
    yield make("match.appliance_parked." + load.id, "start_battery", title, said, ways, concerns=(place,))


def _figures(ctx: Context, load: Load, found: Feed) -> Iterator[Reckoned]:
    watts = load.needs_w(ctx.design.auxiliary.nominal_v)
    input_v = min(float(ctx.facts.idle.value), float(ctx.facts.cruise.value))
    yield Reckoned(
        f"match.appliance_a.{load.id}",
        f"Input of the converter, {load.name}",
        found.input_a,
        "A",
        words=lambda: Words(
            formula="P / (η · V_in)",
            working=f"{watts:.0f} W / ({CONVERTER_EFFICIENCY:.2f} · {input_v:.2f} V) = {found.input_a:.1f} A",
            inputs=(Input(load.name, watts, "W", "entered", f"use.loads.{load.id}"),),
            source="power balance of the converter, at the lowest running volts",
            changes="a shorter wire keeps the drop down; the current stays",
        ),
    )
