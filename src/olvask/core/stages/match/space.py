"""Space: does the unit go where it is meant to, free air and weight counted."""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import stop
from olvask.core.model import Charger, Mount


def no_room(unit: Charger, mount: Mount) -> str:
    """Why a unit does not go into the space, in words; empty where it does or where nothing is known.

    Args:
        unit: the unit; sizes not on its sheet are passed over.
        mount: the space.

    The unit may be turned about; its free air is kept on both sides of width and height, and in front.
    """
    if unit.weight_kg is not None and mount.weight_max_kg is not None and unit.weight_kg > mount.weight_max_kg:
        return f"weighs {unit.weight_kg:g} kg, {mount.weight_max_kg:g} kg is allowed there"
    size = _known(unit.width_mm, unit.height_mm, unit.depth_mm)
    room = _known(mount.width_mm, mount.height_mm, mount.depth_mm)
    if size is None or room is None:
        return ""
    (width, height, depth), air = size, unit.clearance_mm
    wanted = (width + 2 * air, height + 2 * air, depth + air)
    if all(need <= have for need, have in zip(sorted(wanted), sorted(room), strict=True)):
        return ""
    return (
        f"needs {wanted[0]:.0f} × {wanted[1]:.0f} × {wanted[2]:.0f} mm with {air:.0f} mm of free air, "
        f"the space is {room[0]:.0f} × {room[1]:.0f} × {room[2]:.0f} mm"
    )


def judge_space(ctx: Context) -> Judged:
    """A stop where the unit does not go into its place."""
    unit = ctx.design.charger
    why = no_room(unit, ctx.design.mount) if unit is not None else ""
    if unit is not None and why:
        yield stop(
            "match.space", "charger", "It does not fit the space", f"{unit.name} {why}.", concerns=("charger", "mount")
        )


def _known(*lengths_mm: float | None) -> tuple[float, ...] | None:
    """Lengths of which none is missing [mm]."""
    known = tuple(length_mm for length_mm in lengths_mm if length_mm is not None)
    return known if len(known) == len(lengths_mm) else None
