"""The unit where it is mounted: the air it gets, how hot its case runs, what it gives then.

- `air_of`: air at the unit, worked out where it is closed in and not measured.
- `felt_k`: how much hotter than its record allows for its case runs, by fins, backing and neighbours.
"""

from __future__ import annotations

from olvask.core.model import Charger, Design
from olvask.core.model.site import Mount
from olvask.core.physics.enclosure import Box, air_rise_k, case_rise_k

USUAL_MM = (190.0, 130.0, 70.0)  # a unit whose size is not on its record; our own estimate
SPACE_MM = (500.0, 400.0, 300.0)  # a cupboard that was not measured; our own estimate
APART_SHARE = 0.7  # of a cupboard's height, between the middles of its openings; our own estimate
CROWDED_LEAST = 0.5  # share of convection left to units that touch; our own estimate


def size_m(unit: Charger) -> tuple[float, float, float]:
    """Width, height and depth of a unit [m]."""
    sizes = (unit.width_mm, unit.height_mm, unit.depth_mm)
    width, height, depth = (size or usual for size, usual in zip(sizes, USUAL_MM, strict=True))
    return width / 1000, height / 1000, depth / 1000


def heat_w(design: Design, battery_v: float, yield_a: float) -> float:
    """Heat of one unit [W] at an output current: P_out·(1/η − 1).

    Args:
        design: the design.
        battery_v: volts it charges at [V].
        yield_a: what this unit gives [A].
    """
    unit = design.charger
    return 0.0 if unit is None else yield_a * battery_v * (1 / unit.efficiency - 1)


def share_at(unit: Charger, felt_c: float) -> float:
    """Share of its rating that a unit gives, 0 to 1, in air that feels like this [°C]."""
    return max(0.0, 1 - unit.derating_percent_per_k / 100 * max(0.0, felt_c - unit.rated_ambient_c))


def yield_of(design: Design, felt_c: float) -> float:
    """What one unit gives [A] as it is set, in air that feels like this [°C]."""
    unit = design.charger
    if unit is None:
        return 0.0
    set_a = min(design.current_limit_a or unit.output_a, unit.output_a)
    return min(set_a, unit.output_a * share_at(unit, felt_c))


def box_of(mount: Mount) -> Box:
    """The place that closes the unit in, as the physics takes it; its back counts as the vehicle's wall."""
    sizes = (mount.width_mm, mount.height_mm, mount.depth_mm)
    width, height, depth = ((size or usual) / 1000 for size, usual in zip(sizes, SPACE_MM, strict=True))
    vents = mount.around == "vents"
    return Box(
        wall_m2=width * height + 2 * depth * (width + height),
        low_m2=mount.vent_low_cm2 / 1e4 if vents else 0.0,
        high_m2=mount.vent_high_cm2 / 1e4 if vents else 0.0,
        apart_m=(mount.vent_apart_mm or height * APART_SHARE * 1000) / 1000,
        fan_m3_s=mount.fan_m3_h / 3600 if vents else 0.0,
    )


def felt_k(design: Design, air_c: float, battery_v: float) -> float:
    """How much hotter its case runs than upright on board with free air, as its record supposes [K]; never less than 0.

    Args:
        design: the design.
        air_c: air at the unit [°C].
        battery_v: volts it charges at [V].
    """
    unit, mount = design.charger, design.mount
    crowded = crowding(design)
    if unit is None or (mount.orientation in ("", "upright") and crowded >= 1):
        return 0.0
    hot_w = heat_w(design, battery_v, yield_of(design, air_c))
    size = size_m(unit)
    as_is = case_rise_k(hot_w, size, air_c, mount.orientation, mount.backing == "metal", crowded)
    return max(0.0, as_is - case_rise_k(hot_w, size, air_c))


def crowding(design: Design) -> float:
    """Share of its convection that neighbours leave a unit, 0 to 1."""
    unit, spacing_mm = design.charger, design.mount.spacing_mm
    if unit is None or design.units == 1 or spacing_mm is None or unit.clearance_mm <= 0:
        return 1.0
    return CROWDED_LEAST + (1 - CROWDED_LEAST) * min(1.0, spacing_mm / unit.clearance_mm)


def air_of(design: Design, room_c: float, battery_v: float, mount: Mount | None = None) -> float:
    """Air at the unit [°C] where it is closed in: the room, and what its own heat adds.

    Args:
        design: the design.
        room_c: the room outside [°C].
        battery_v: volts it charges at [V].
        mount: another place than the design's; `None` for that.
    """
    place = design.mount if mount is None else mount
    if place.around not in ("vents", "shut") or design.charger is None:
        return room_c
    there = design if mount is None else design.model_copy(update={"mount": mount})
    extra_k = felt_k(there, room_c, battery_v)

    def given_off(rise_k: float) -> float:
        return design.units * heat_w(design, battery_v, yield_of(design, room_c + rise_k + extra_k))

    return room_c + air_rise_k(box_of(place), room_c, given_off)


def with_openings(mount: Mount, each_cm2: float) -> Mount:
    """The same place with two openings of one size."""
    return mount.model_copy(update={"around": "vents", "vent_low_cm2": each_cm2, "vent_high_cm2": each_cm2})
