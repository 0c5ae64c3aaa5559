"""The one bill: conductors, ends, devices, slack and prices that ranking, compare, buying, labels and sheet read.

- `bill_of`: all of it.
- `Prices`: the workshop's own prices where they differ from the catalogue's.
"""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from olvask.core.catalogue import Device, chemistries, conductor, device
from olvask.core.circuit.context import Context
from olvask.core.findings.listed import capital
from olvask.core.model import RUNS, Branch, Cable, Design, Joint, OwnReturn, ProtectiveDevice
from olvask.core.physics.battery import prospective_short_a
from olvask.core.stages.build.conductors import CutConductor, conductors_of, cut_length_m, laid_signs, unit_tails
from olvask.core.stages.build.isolators import isolated
from olvask.core.stages.run.devices import small_fuse
from olvask.core.stages.settings.sensor import senses
from olvask.core.stages.wake.relay import relay_of
from olvask.core.stages.wake.wiring import SIGNAL_MM2, signal_wire

# Prices in €, all our own estimates of what a workshop pays; the shelf overrides cables and devices.
JOINT_PRICE = 8.0  # bus bar post or joint box, cover and nuts
END_PRICE = 2.0  # lug or ferrule with its sleeve
SHRINK_PRICE = 0.4  # 50 mm
ISOLATOR_PRICE = 24.0
SIGNAL_WIRE_PRICE, SMALL_FUSE_PRICE, RELAY_PRICE = 0.45, 1.0, 11.0  # a metre, a piece
CONDUIT_PRICE, CLIP_PRICE, GROMMET_PRICE, FAN_PRICE = 1.6, 0.25, 0.9, 32.0  # a metre, a piece
SHUNT_CABLE_PRICE, SENSOR_PRICE, SWITCH_PRICE, GRILLE_PRICE = 9.0, 14.0, 7.0, 6.0  # a piece
SENSE_FUSE_A = 1.0  # of a lead that carries milliamperes; trade practice
IN_A_HOLDER = " in a holder"  # how a small fuse is billed
CLIP_EVERY_M = 0.3  # trade practice
SIGNAL_M = 5.0  # of a wire whose route is not known yet
HOLDER_PRICE = {
    "blade": 5.0,
    "sf30": 9.0,
    "sf51": 14.0,
    "class_t": 22.0,
    "cartridge": 6.0,
    "nh": 26.0,
    "cube": 12.0,
    "breaker": 0.0,
}


@dataclass(frozen=True, slots=True)
class Prices:
    """The workshop's own prices where they differ from the catalogue's.

    Attributes:
        cables: size to € per metre.
        devices: (family, rating) to €.
    """

    cables: Mapping[str, float] = field(default_factory=dict)
    devices: Mapping[tuple[str, float], float] = field(default_factory=dict)

    def per_m(self, size: str) -> float:
        """Price of a cable [€/m]."""
        return self.cables.get(size, conductor(size).price_per_m)

    def of_device(self, family: str, rating_a: float) -> float:
        """Price of a device [€]."""
        return self.devices.get((family, rating_a), device(family, rating_a).price)


CATALOGUE_PRICES = Prices()


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """One line of the parts list; price for one, in €."""

    what: str
    detail: str
    count: float
    unit: str
    price: float
    key: str = ""  # what the shelf knows it by: cable:size:metal, device:family:rating, unit:number


@dataclass(frozen=True, slots=True, kw_only=True)
class Bill:
    """Everything a design takes, and what it comes to [€], labour apart."""

    conductors: tuple[CutConductor, ...]
    devices: tuple[ProtectiveDevice, ...]
    parts: tuple[Part, ...]
    total: float


def cable_price(size: str, length_m: float, slack: float, prices: Prices) -> float:
    """Price of one length of cable with its two ends [€].

    Args:
        size: standard size.
        length_m: measured path [m].
        slack: share added.
        prices: the workshop's own prices.
    """
    return prices.per_m(size) * cut_length_m(length_m, slack) + 2 * END_PRICE


def bill_of(ctx: Context, prices: Prices = CATALOGUE_PRICES) -> Bill:
    """Everything a design takes.

    Args:
        ctx: the design solved.
        prices: the workshop's own prices.
    """
    cuts = conductors_of(ctx)
    fitted = devices_of(ctx)
    parts = (
        *_unit_parts(ctx.design),
        *_cable_parts(cuts, prices),
        *_device_parts(ctx.design, fitted, prices),
        *_joint_parts(ctx),
        *_end_parts(cuts),
        *_laying_parts(ctx.design),
        *_signal_parts(ctx.design),
        *_relay_parts(ctx.design),
        *_metering_parts(ctx),
    )
    total = round(sum(round(part.count * part.price, 2) for part in parts), 2)  # to the cent, as each line is billed
    return Bill(conductors=cuts, devices=fitted, parts=parts, total=total)


def devices_of(ctx: Context) -> tuple[ProtectiveDevice, ...]:
    """Every protective device: of the runs, of branch tails, of each unit's own tail."""
    found: list[ProtectiveDevice] = []
    for run in RUNS:
        for piece in ctx.design.run(run).pieces:
            if isinstance(piece, ProtectiveDevice):
                found.append(piece)
            elif isinstance(piece, Branch) and piece.device is not None:
                found.append(piece.device)
        tails = unit_tails(ctx, run)
        if tails is not None and tails.device is not None:
            found += [tails.device] * ctx.design.units
    return tuple(found)


def _unit_parts(design: Design) -> Iterator[Part]:
    unit = design.charger
    if unit is not None:
        many, key = float(design.units), f"unit:{unit.id}"
        yield Part(what=unit.name, detail=unit.maker, count=many, unit="pieces", price=unit.price, key=key)
    battery = design.auxiliary
    if design.auxiliary_new:
        name = (
            battery.name or f"{battery.nominal_v} V {battery.capacity_ah:g} Ah {chemistries()[battery.chemistry].label}"
        )
        price = design.site.auxiliary_price or 0.0
        yield Part(what="Auxiliary battery", detail=name, count=1.0, unit="pieces", price=price)


def _cable_parts(cuts: Sequence[CutConductor], prices: Prices) -> Iterator[Part]:
    metres: defaultdict[tuple[str, str], float] = defaultdict(float)
    for cut in cuts:
        if not cut.there:
            metres[cut.size, cut.metal] += cut.cut_m
    for (size, metal), total_m in sorted(metres.items(), key=lambda item: conductor(item[0][0]).area_mm2):
        detail = "copper" if metal == "copper" else "copper-clad aluminium"
        count, key = round(total_m, 2), f"cable:{size}:{metal}"
        yield Part(what=f"Cable {size}", detail=detail, count=count, unit="m", price=prices.per_m(size), key=key)


def _device_parts(design: Design, fitted: Sequence[ProtectiveDevice], prices: Prices) -> Iterator[Part]:
    for (family, rating_a), count in Counter((item.family, item.rating_a) for item in fitted).items():
        label, many = device(family, rating_a).label, float(count)
        price = prices.of_device(family, rating_a)
        what, key = f"{label} {rating_a:g} A", f"device:{family}:{rating_a:g}"
        yield Part(what=what, detail="device", count=many, unit="pieces", price=price, key=key)
        if HOLDER_PRICE[family]:
            yield Part(what=f"Holder, {label}", detail="", count=many, unit="pieces", price=HOLDER_PRICE[family])
    apart = float(len(isolated(design)))
    if apart:
        told = "beside each fuse at a battery"
        yield Part(what="Isolator", detail=told, count=apart, unit="pieces", price=ISOLATOR_PRICE)


def _joint_parts(ctx: Context) -> Iterator[Part]:
    joints: Counter[str] = Counter()
    for run in RUNS:
        described = ctx.design.run(run)
        both = 2 if isinstance(described.back, OwnReturn) else 1
        for piece in described.pieces:
            if isinstance(piece, Joint):
                joints[f"{piece.form.replace('_', ' ').capitalize()}: {piece.called}"] += both
        tails = unit_tails(ctx, run)
        if tails is not None and tails.bus_bars:
            joints[f"Bus bar: {run}, for {ctx.design.units} units"] += tails.bus_bars
    for name, count in joints.items():
        yield Part(what=name, detail="", count=float(count), unit="pieces", price=JOINT_PRICE)


def _end_parts(cuts: Sequence[CutConductor]) -> Iterator[Part]:
    ends = [end for cut in cuts for end in cut.ends]
    for kind, count in sorted(Counter(end.kind for end in ends if not end.kind.startswith("bare")).items()):
        yield Part(what=capital(kind), detail="", count=float(count), unit="pieces", price=END_PRICE)
    sleeves = Counter(end.heat_shrink_mm for end in ends if end.heat_shrink_mm is not None)
    for shrink, count in sorted(sleeves.items()):
        yield Part(
            what=f"Heat-shrink {shrink:g} mm",
            detail="50 mm each",
            count=float(count),
            unit="pieces",
            price=SHRINK_PRICE,
        )


def _laying_parts(design: Design) -> Iterator[Part]:
    """What cables are laid with: conduit, clips, grommets, and the fan kit of a closed place."""
    runs = [design.run(run) for run in RUNS]
    cables = [piece for run in runs for piece in run.pieces if isinstance(piece, Cable) and laid_signs(run, piece)]
    piped = round(sum(piece.length_m for piece in cables if piece.conduit), 1)
    clips = sum(math.ceil(piece.length_m / CLIP_EVERY_M) for piece in cables)
    if piped:
        yield Part(what="Conduit, split, with end caps", detail="", count=piped, unit="m", price=CONDUIT_PRICE)
    if clips:
        detail = f"one every {CLIP_EVERY_M:g} m"
        yield Part(what="Clip with screw", detail=detail, count=float(clips), unit="pieces", price=CLIP_PRICE)
    edges = 2 * sum(piece.place != "cabin" for piece in cables)
    if edges:
        yield Part(
            what="Grommet",
            detail="where a cable passes a panel",
            count=float(edges),
            unit="pieces",
            price=GROMMET_PRICE,
        )
    mount = design.mount
    grilles = float((mount.vent_low_cm2 > 0) + (mount.vent_high_cm2 > 0)) if mount.around == "vents" else 0.0
    if grilles:
        detail = f"{mount.vent_low_cm2:g} cm² low, {mount.vent_high_cm2:g} cm² high"
        yield Part(what="Grille", detail=detail, count=grilles, unit="pieces", price=GRILLE_PRICE)
    if design.mount.fan_m3_h > 0:
        detail = f"{design.mount.fan_m3_h:g} m³/h, with guard and thermostat"
        yield Part(what="Fan kit", detail=detail, count=1.0, unit="pieces", price=FAN_PRICE)


def _signal_parts(design: Design) -> Iterator[Part]:
    """What the unit's enable wires take: wire to the unit's side of the run, and a fuse at each live tap."""
    if design.charger is None:
        return
    laid_m = sum(piece.length_m for piece in design.supply.pieces if isinstance(piece, Cable))
    each_m = cut_length_m(design.distances.supply_m or laid_m or SIGNAL_M, design.choices.slack)
    for way in design.activation.ways:
        wire = signal_wire(design, way)
        if wire.wire_mm2 is not None and way != "bridge":  # a bridge lies across two terminals
            through = f" through the plug, {wire.plug}" if wire.plug else ""
            detail = f"{wire.taken_at}{through} to {wire.ends_at}"
            yield Part(
                what=f"Wire {wire.wire_mm2:g} mm²", detail=detail, count=each_m, unit="m", price=SIGNAL_WIRE_PRICE
            )
        if wire.fuse_a is not None:
            yield _tap(device("blade", wire.fuse_a), f"at terminal {wire.terminal}")
        if way == "switch":
            told = "at the unit's remote terminals"
            yield Part(what="Switch", detail=told, count=1.0, unit="pieces", price=SWITCH_PRICE)


def _tap(item: Device, where: str) -> Part:
    """A small fuse in its holder."""
    price = HOLDER_PRICE[item.family] + (SMALL_FUSE_PRICE if item.family == "blade" else item.price)
    what = f"{item.label} {item.rating_a:g} A{IN_A_HOLDER}"
    return Part(what=what, detail=where, count=1.0, unit="pieces", price=price)


def _metering_parts(ctx: Context) -> Iterator[Part]:
    """A battery monitor with what it is joined by, and the unit's sensor."""
    monitor = ctx.design.monitor.unit
    if monitor is not None:
        rated = "with its shunt" if monitor.shunt_a is None else f"with its shunt, {monitor.shunt_a:g} A"
        name = monitor.name or "Battery monitor"
        yield Part(what=name, detail=rated, count=1.0, unit="pieces", price=ctx.design.monitor.price or 0.0)
        joined = "as thick as the thickest on the post, with its lugs"
        yield Part(what="Cable, shunt to post", detail=joined, count=1.0, unit="pieces", price=SHUNT_CABLE_PRICE)
        battery = ctx.design.auxiliary
        short_a = prospective_short_a(battery.chemistry, battery.capacity_ah, battery.nominal_v, 0.0)
        yield _tap(small_fuse(SENSE_FUSE_A, battery.nominal_v, short_a), "the monitor's sense lead, at the post")
    if senses(ctx):
        detail = "for the unit's sensor input, where none comes with it"
        yield Part(what="Temperature sensor", detail=detail, count=1.0, unit="pieces", price=SENSOR_PRICE)


def _relay_parts(design: Design) -> Iterator[Part]:
    """What opening the old link takes: the relay, a fuse in its contact, one in its coil."""
    relay = relay_of(design)
    if relay is None:
        return
    rating = "" if relay.contact_a is None else f", break contact {relay.contact_a:g} A"
    yield Part(
        what=f"Changeover relay {design.vehicle.system_v} V{rating}",
        detail=f"30, 87a, 87, 86, 85; {relay.place_text}",
        count=1.0,
        unit="pieces",
        price=RELAY_PRICE,
    )
    coil_m = cut_length_m(design.distances.supply_m or SIGNAL_M, design.choices.slack)
    line = relay.driven_by.rpartition(" (")[0]
    told = f"{line[:1].upper()}{line[1:]} to the relay's coil"
    yield Part(what=f"Wire {SIGNAL_MM2:g} mm²", detail=told, count=coil_m, unit="m", price=SIGNAL_WIRE_PRICE)
    yield _tap(device("blade", relay.coil_fuse_a), f"relay coil, at {line}")
    if relay.contact_fuse_a is not None and relay.contact_fuse_family is not None:
        yield _tap(device(relay.contact_fuse_family, relay.contact_fuse_a), "relay contact, terminal 30")
