"""A cable found in the vehicle: keep it for the supply run or replace it, by the rules a new one is held to."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import Device, NoStandardSize
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import note
from olvask.core.findings.listed import apart
from olvask.core.findings.remedy import remedy
from olvask.core.model import Cable, Design, InheritedCable, ProtectiveDevice, Run, fresh_id
from olvask.core.physics.battery import prospective_short_a
from olvask.core.stages.run.devices import least_rating_a, suitable_device
from olvask.core.stages.run.drop import TOLERABLE_PERCENT, drop_percent
from olvask.core.stages.run.shorts import battery_side


def judge_inherited(ctx: Context) -> Judged:
    """Say keep or replace, and why."""
    design, found = ctx.design, ctx.design.inherited
    if found is None or design.charger is None or ctx.solved.output is None:
        return
    cable = Cable(id=fresh_id(design, "c"), size=found.size, length_m=found.length_m, metal=found.metal, there="out")
    amps = ctx.continuous_a("supply") + found.shared_a
    limit_a = ampacity(cable, design.choices.ampacity_school)[0]
    fitted = _device(design, least_rating_a(amps, ctx.lingering_a("supply") + found.shared_a), limit_a)
    tried = _laid(design, cable, fitted)
    again = solve(tried, facts=ctx.facts)
    percent = drop_percent(tried, again, "supply")
    reasons = list(_condition(found, amps, limit_a, fitted))
    if again.worst.drawn is None:
        reasons.append("it cannot carry the power at all: the voltage collapses")
    elif again.worst.drawn.terminal_v < ctx.hold_v:
        reasons.append(f"the unit would see {again.worst.drawn.terminal_v:.2f} V and drop out at {ctx.hold_v:.2f} V")
    elif percent is not None and percent > TOLERABLE_PERCENT:
        reasons.append(f"it drops {percent:.1f} %")
    name = f"{found.size}, {found.length_m:g} m"
    place = design.supply.pieces[0].id if design.supply.pieces else "charger"
    if reasons:
        text = f"{name}: {'; '.join(reasons)}."
        yield note("run.inherited", place, "Replace the inherited cable", text, concerns=("inherited",))
        return
    over = percent is not None and percent > design.choices.drop_percent
    cost = f" It drops {percent:.1f} %, more than the limit; that is the price of keeping it." if over else ""
    pieces = tried.supply.model_dump(mode="json")["pieces"]
    yield note(
        "run.inherited",
        place,
        "The inherited cable can stay",
        f"{name}: {amps:.1f} A continuous, it carries {limit_a:.1f} A.{cost}",
        [remedy("Lay it as the supply run", ("supply.pieces", pieces))],
        concerns=("inherited",),
    )


def _device(design: Design, least_a: float, limit_a: float) -> Device | None:
    chemistry, capacity_ah, nominal_v = battery_side(design, "supply")
    try:
        short_a = prospective_short_a(chemistry, capacity_ah, nominal_v, 0.0)
        return suitable_device(least_a, limit_a, nominal_v, short_a, design.choices.protection_school)
    except NoStandardSize:
        return None


def _laid(design: Design, cable: Cable, fitted: Device | None) -> Design:
    """The design with the inherited cable as its supply run, behind a device where one fits."""
    pieces: tuple[ProtectiveDevice | Cable, ...] = (cable,)
    if fitted is not None:
        values = {"id": fresh_id(design, "d"), "family": fitted.family, "rating_a": fitted.rating_a}
        pieces = (ProtectiveDevice.model_validate(values), cable)
    return design.model_copy(update={"supply": Run(pieces=pieces, back=design.supply.back)})


def _condition(found: InheritedCable, amps: float, limit_a: float, fitted: Device | None) -> Iterator[str]:
    """What speaks against it before the circuit is looked at."""
    if not found.sound:
        yield "it does not look sound"
    if found.shared_a > 0:
        yield f"it also feeds something else, {found.shared_a:g} A"
    if amps > limit_a:
        flows, carried = apart(amps, limit_a, 1)
        yield f"{flows} A continuous against {carried} A it carries"
    elif fitted is None:
        yield f"no device lies between 1.25 × {amps:.1f} A and {limit_a:.1f} A"
