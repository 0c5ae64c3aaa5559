"""Space: does the unit go where it is meant to, free air and weight counted."""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import stop
from olvask.core.model import Charger, Mount


def no_room(unit: Charger, mount: Mount, units: int = 1) -> str:
    """Why a unit, or several side by side, do not go into the space, in words; empty where they do or nothing is known.

    Args:
        unit: the unit; sizes not on its sheet are passed over.
        mount: the space, and how far apart they sit; their free air where that is not noted.
        units: how many.

    They may be turned about; the free air is kept on both sides of width and height, and in front.
    """
    count, weigh, need = (f"{units} of them ", "weigh", "need") if units > 1 else ("", "weighs", "needs")
    if unit.weight_kg is not None and mount.weight_max_kg is not None and units * unit.weight_kg > mount.weight_max_kg:
        return f"{count}{weigh} {units * unit.weight_kg:g} kg, {mount.weight_max_kg:g} kg is allowed there"
    size = _known(unit.width_mm, unit.height_mm, unit.depth_mm)
    room = _known(mount.width_mm, mount.height_mm, mount.depth_mm)
    if size is None or room is None:
        return ""
    (width, height, depth), air = size, unit.clearance_mm
    apart = air if mount.spacing_mm is None else mount.spacing_mm
    row, column = (units * side + (units - 1) * apart + 2 * air for side in (width, height))
    wanted = (row, height + 2 * air, depth + air)
    for sides in (wanted, (width + 2 * air, column, depth + air)):
        if all(side <= have for side, have in zip(sorted(sides), sorted(room), strict=True)):
            return ""
    return (
        f"{count}{need} {wanted[0]:.0f} × {wanted[1]:.0f} × {wanted[2]:.0f} mm with {air:.0f} mm of free air, "
        f"the space is {room[0]:.0f} × {room[1]:.0f} × {room[2]:.0f} mm"
    )


def judge_space(ctx: Context) -> Judged:
    """A stop where the unit does not go into its place."""
    unit = ctx.design.charger
    why = no_room(unit, ctx.design.mount, ctx.design.units) if unit is not None else ""
    if unit is not None and why:
        text = f"{unit.name}{':' if ctx.design.units > 1 else ''} {why}."
        yield stop("match.space", "charger", "It does not fit the space", text, concerns=("charger", "mount", "units"))


def _known(*lengths_mm: float | None) -> tuple[float, ...] | None:
    """Lengths of which none is missing [mm]."""
    known = tuple(length_mm for length_mm in lengths_mm if length_mm is not None)
    return known if len(known) == len(lengths_mm) else None
