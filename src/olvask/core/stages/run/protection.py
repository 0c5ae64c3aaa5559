"""Protection: every positive conductor protected at the battery it leaves, by a device that fits.

- `judge_devices`: a device at each battery, and each device against everything it is held to.
- `fit_device`: the device that fits a place of the design.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from olvask.core.catalogue import Device, NoStandardSize, conductor, conductors, device
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import through_a
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Reckoned, Words
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import apart, capital
from olvask.core.findings.remedy import apply, remedy, with_cable
from olvask.core.model import RUNS, Cable, Design, ProtectiveDevice, Run, RunName, fresh_id
from olvask.core.physics.rounding import over, under
from olvask.core.stages.run.devices import (
    CONTINUOUS_FACTOR,
    INDUSTRIAL,
    SYSTEM_MAX_V,
    device_value,
    least_rating_a,
    suitable_device,
)
from olvask.core.stages.run.growth import RUN_LABEL, grow, resized, thickest_need
from olvask.core.stages.run.shorts import at_work, battery_side, far_end_short_a, far_end_v, prospective_a


def device_above(run: RunName, described: Run, index: int) -> int | None:
    """Index of the device that protects piece `index`: the nearest towards the battery."""
    towards = range(index - 1, -1, -1) if run == "supply" else range(index + 1, len(described.pieces))
    return next((at for at in towards if isinstance(described.pieces[at], ProtectiveDevice)), None)


def cables_behind(design: Design, run: RunName, index: int) -> list[tuple[int, Cable]]:
    """Cables that the device at `index` protects, with their positions."""
    described = design.run(run)
    return [
        (at, piece)
        for at, piece in enumerate(described.pieces)
        if isinstance(piece, Cable) and device_above(run, described, at) == index
    ]


def protected_ampacity_a(design: Design, run: RunName, index: int) -> float | None:
    """Smallest ampacity [A] of the cables that the device at `index` protects; `None` when it protects none."""
    school = design.choices.ampacity_school
    return min((ampacity(piece, school)[0] for _, piece in cables_behind(design, run, index)), default=None)


def bare_m(design: Design, run: RunName, index: int) -> float:
    """Cable between the battery's post and the device at `index` [m]."""
    pieces = design.run(run).pieces
    before = pieces[:index] if run == "supply" else pieces[index + 1 :]
    return sum(piece.length_m for piece in before if isinstance(piece, Cable))


def fit_device(ctx: Context, run: RunName, index: int) -> Remedy | None:
    """Remedy for the device at `index`: another device, or the cable grown until one fits."""
    design = ctx.design
    described = design.run(run)
    least_a = _least_a(ctx, run, index)
    nominal_v, short_a = battery_side(design, run)[2], prospective_a(design, run, index)
    ceiling_a = protected_ampacity_a(design, run, index)
    try:
        found = suitable_device(
            least_a, ceiling_a if ceiling_a is not None else 1e9, nominal_v, short_a, design.choices.protection_school
        )
    except NoStandardSize:
        return _grow_and_fit(design, run, index, least_a, short_a)
    id = described.pieces[index].id
    return remedy(f"Use {found.label} {found.rating_a:g} A", (f"{run}.pieces.{id}", device_value(found, id)))


def _least_a(ctx: Context, run: RunName, index: int) -> float:
    """Least rating of a device at a place, branches counted."""
    described, supply = ctx.design.run(run), run == "supply"
    return least_rating_a(
        through_a(described, supply, index, ctx.continuous_a(run)),
        through_a(described, supply, index, ctx.lingering_a(run)),
    )


def _grow_and_fit(design: Design, run: RunName, index: int, least_a: float, short_a: float) -> Remedy | None:
    """Grow every too-small cable behind the device to the first size for which a usual device exists, else any."""
    industrial: Remedy | None = None
    areas = {at: conductor(piece.size) for at, piece in cables_behind(design, run, index)}
    nominal_v, school, id = battery_side(design, run)[2], design.choices.protection_school, _id(design, run, index)
    for size in conductors():
        grown = design
        changed = [
            at for at, present in areas.items() if present.system == size.system and present.area_mm2 < size.area_mm2
        ]
        for at in changed:
            grown = with_cable(grown, run, at, size.size)
        if not changed:
            continue
        try:
            found = suitable_device(least_a, protected_ampacity_a(grown, run, index) or 0.0, nominal_v, short_a, school)
        except NoStandardSize:
            continue
        grown_to = remedy(
            f"Grow the cable to {size.size} and use {found.label} {found.rating_a:g} A",
            *(item for at in changed for item in resized(design, run, at, size.size)),
            (f"{run}.pieces.{id}", device_value(found, id)),
        )
        if found.family not in INDUSTRIAL:
            return grown_to
        industrial = industrial or grown_to
    return industrial


def _id(design: Design, run: RunName, index: int) -> str:
    return design.run(run).pieces[index].id


def judge_devices(ctx: Context) -> Judged:
    """A device at each battery, and each device against current, cable, volts, short circuit and far end."""
    for run in RUNS:
        described = ctx.design.run(run)
        if not any(isinstance(piece, Cable) for piece in described.pieces):
            continue
        yield from _judge_presence(ctx, run)
        for index, piece in enumerate(described.pieces):
            if isinstance(piece, ProtectiveDevice):
                yield from _judge_device(ctx, run, index, piece)


def _judge_presence(ctx: Context, run: RunName) -> Iterator[Found]:
    design = ctx.design
    order = list(enumerate(design.run(run).pieces))
    if run == "delivery":
        order.reverse()
    bare, at = 0.0, None
    for index, piece in order:
        if isinstance(piece, ProtectiveDevice):
            at = index
            break
        bare += piece.length_m if isinstance(piece, Cable) else 0.0
    if at is not None and bare <= design.choices.holder_m:
        return
    battery = "start battery" if run == "supply" else "auxiliary battery"
    if at is None:
        short_a = prospective_a(design, run, order[0][0])
        text = f"No device protects the {run} run at the {battery}: a short would draw {short_a:.0f} A through it."
    else:
        text = f"{bare:.2f} m of cable leaves the {battery} before its device; {design.choices.holder_m:g} m is the most allowed."
    yield stop(
        f"protect.missing.{run}",
        "start_battery" if run == "supply" else "auxiliary",
        f"{RUN_LABEL[run]} is not protected at the battery",
        text,
        lambda: [_insert_device(ctx, run)],
        concerns=(f"{run}.pieces",),
    )


def _insert_device(ctx: Context, run: RunName) -> Remedy | None:
    """A device put in at the battery; where none fits as it stands, the cable grown with it."""
    design = ctx.design
    described = design.run(run)
    placeholder = ProtectiveDevice(id=fresh_id(design, "d"), family="sf30", rating_a=30)
    pieces = (placeholder, *described.pieces) if run == "supply" else (*described.pieces, placeholder)
    index = 0 if run == "supply" else len(pieces) - 1
    trial = design.model_copy(update={run: described.model_copy(update={"pieces": pieces})})
    fitted = fit_device(Context(trial, ctx.solved, ctx.thresholds, ctx.hold_v, ctx.stay_v, ctx.linger_v), run, index)
    if fitted is None:
        return None
    value = apply(trial, fitted).run(run).model_dump(mode="json")["pieces"]
    label = f"Put a device at the battery: {fitted.label[0].lower()}{fitted.label[1:]}"
    return remedy(label, (f"{run}.pieces", value))


class _Held(NamedTuple):
    """A device and what it is held to."""

    item: Device
    id: str
    name: str
    amps: float
    lingering_a: float
    ceiling_a: float | None
    nominal_v: int
    short_a: float
    fault_a: float
    fault_volts: float

    @property
    def least_a(self) -> float:
        return least_rating_a(self.amps, self.lingering_a)

    @property
    def multiple(self) -> float:
        return self.fault_a / self.item.rating_a


def held_of(ctx: Context, run: RunName, index: int, piece: ProtectiveDevice) -> _Held:
    """A device with everything it is judged by, worked out once a design.

    Args:
        ctx: the design solved.
        run: the run it stands in.
        index: its position there.
        piece: the device.
    """
    return ctx.once(f"protect.held.{piece.id}", lambda: _work_out(ctx, run, index, piece))


def _work_out(ctx: Context, run: RunName, index: int, piece: ProtectiveDevice) -> _Held:
    design, item = ctx.design, device(piece.family, piece.rating_a)
    chemistry, capacity_ah, nominal_v = battery_side(design, run)
    return _Held(
        item=item,
        id=piece.id,
        name=f"{capital(item.label)} {item.rating_a:g} A",
        amps=through_a(design.run(run), run == "supply", index, ctx.continuous_a(run)),
        lingering_a=through_a(design.run(run), run == "supply", index, ctx.lingering_a(run)),
        ceiling_a=protected_ampacity_a(design, run, index),
        nominal_v=nominal_v,
        short_a=prospective_a(design, run, index),
        fault_a=far_end_short_a(chemistry, capacity_ah, nominal_v, at_work(ctx, run).loop_ohm),
        fault_volts=far_end_v(chemistry, nominal_v),
    )


def _judge_device(ctx: Context, run: RunName, index: int, piece: ProtectiveDevice) -> Judged:
    held = held_of(ctx, run, index, piece)
    if ctx.worded:
        yield from _figures(held)
    made: list[Remedy | None] = []

    def once() -> list[Remedy | None]:
        """The remedy of all its faults, computed when the first of them is wanted."""
        if not made:
            made.append(fit_device(ctx, run, index))
        return made

    for key, title, text in _faults(held):
        yield stop(f"protect.{key}.{held.id}", held.id, title, text, once, concerns=(held.id,))
    highest_a = max(held.amps, held.lingering_a)
    if not under(held.item.rating_a, highest_a) and under(held.item.rating_a, CONTINUOUS_FACTOR * held.amps):
        yield caution(
            f"protect.tight.{held.id}",
            held.id,
            f"{held.name} runs close to its rating",
            f"{held.amps:.1f} A are {apart(100 * held.amps / held.item.rating_a, 80, 0)[0]} % of its rating; the rule is "
            f"80 %, 1.25 · {held.amps:.1f} A = {CONTINUOUS_FACTOR * held.amps:.1f} A. It runs warm and ages early.",
            once,
            concerns=(held.id,),
        )
    school = ctx.design.choices.protection_school
    if (
        school == "breaker"
        and not held.item.resettable
        and bare_m(ctx.design, run, index) <= ctx.design.choices.holder_m
    ):
        yield note(
            f"protect.school.{held.id}",
            held.id,
            "A fuse, where breakers are chosen",
            f"{held.name}: no breaker of this rating breaks the {held.short_a:.0f} A short circuit, or none is chosen. "
            "Fit an isolator beside it.",
            concerns=(held.id, "choices.protection_school"),
        )
    least = ctx.design.choices.fault_multiple
    if held.multiple < least:
        yield caution(
            f"protect.fault.{held.id}",
            held.id,
            "A short at the far end may not open it promptly",
            f"It draws {held.fault_a:.0f} A, {apart(held.multiple, least, 1, entered=True)[0]} times the {held.item.rating_a:g} A rating; {least:g} times "
            "is wanted. More copper, or a smaller device.",
            lambda: [_smaller(ctx, run, held), _more_copper(ctx, run, index, piece)],
            concerns=(held.id, "choices.fault_multiple"),
        )


def _smaller(ctx: Context, run: RunName, held: _Held) -> Remedy | None:
    """A device that carries the run as well and that a short at the far end opens promptly."""
    prompt_a = held.fault_a / ctx.design.choices.fault_multiple
    ceiling_a = prompt_a if held.ceiling_a is None else min(prompt_a, held.ceiling_a)
    school = ctx.design.choices.protection_school
    try:
        found = suitable_device(held.least_a, ceiling_a, held.nominal_v, held.short_a, school)
    except NoStandardSize:
        return None
    return remedy(f"Use {found.label} {found.rating_a:g} A", (f"{run}.pieces.{held.id}", device_value(found, held.id)))


def _more_copper(ctx: Context, run: RunName, index: int, piece: ProtectiveDevice) -> Remedy | None:
    """The run grown until a short at its far end opens the device that is there."""

    def opens(candidate: Design) -> bool:
        return held_of(Context.of(candidate), run, index, piece).multiple >= candidate.choices.fault_multiple

    thickest = thickest_need(ctx.design.run(run), at_work(ctx, run))
    return grow(ctx.design, run, thickest, opens, "so that a short opens its device")


def _faults(held: _Held) -> Iterator[tuple[str, str, str]]:
    """What is wrong with a device: key, title, text."""
    item, name = held.item, held.name
    highest_a = max(held.amps, held.lingering_a)
    if under(item.rating_a, highest_a):
        where = "" if held.lingering_a <= held.amps else ", at the lowest voltage the unit can stay at"
        yield (
            "small",
            f"{name} is too small",
            f"It opens in service: {highest_a:.1f} A flow{where}. {held.least_a:.1f} A is the least rating.",
        )
    if held.ceiling_a is not None and over(item.rating_a, held.ceiling_a):
        yield (
            "large",
            f"{name} does not protect its cable",
            f"The smallest cable behind it carries {held.ceiling_a:.1f} A by the chosen tables.",
        )
    if item.voltage_v < SYSTEM_MAX_V[held.nominal_v]:
        yield (
            "voltage",
            f"{name} is rated for too little voltage",
            f"{item.voltage_v:g} V against {SYSTEM_MAX_V[held.nominal_v]:g} V system maximum.",
        )
    breaks_a = item.interrupt_a(held.nominal_v)
    if breaks_a < held.short_a:
        yield (
            "interrupt",
            f"{name} cannot break a short circuit here",
            f"{held.short_a:.0f} A prospective; it breaks up to {breaks_a:.0f} A at {held.nominal_v} V.",
        )


def _figures(held: _Held) -> Iterator[Reckoned]:
    item, name = held.item, held.name
    ceiling = f" ≤ {held.ceiling_a:.0f} A" if held.ceiling_a is not None else ""
    yield Reckoned(
        f"device.{held.id}.least_rating_a",
        f"Least rating for {name}",
        held.least_a,
        "A",
        words=lambda: Words(
            formula="max(1.25 · I_continuous, I_lingering)",
            working=f"max(1.25 · {held.amps:.1f} A, {held.lingering_a:.1f} A) = {held.least_a:.1f} A ≤ {item.rating_a:g} A{ceiling}",
            source="a fuse protects its cable: 1.25 · I ≤ rating ≤ ampacity",
            changes="a larger device, or less current",
        ),
    )
    yield Reckoned(
        f"device.{held.id}.prospective_a",
        f"Short circuit at {name}",
        held.short_a,
        "A",
        words=lambda: Words(
            formula="max(V / (R_batt + R_path), 10 · Ah for lithium)",
            working=f"{held.short_a:.0f} A; it breaks {item.interrupt_a(held.nominal_v):.0f} A at {held.nominal_v} V",
            source="Ohm's law; " + item.source,
            changes="another device family",
        ),
    )
    yield Reckoned(
        f"device.{held.id}.fault_multiple",
        f"Far-end short over {name}",
        held.multiple,
        "×",
        words=lambda: Words(
            formula="V / (2 · R_batt + R_loop) / rating",
            working=f"{held.fault_volts:.1f} V / {1000 * held.fault_volts / held.fault_a:.1f} mΩ / {item.rating_a:g} A = {held.multiple:.1f}",
            source="prompt opening needs several times the rating; battery half charged and aged to twice its resistance",
            changes="more copper, or a smaller device",
        ),
    )
