"""A constant-power load at the end of a resistance: the charger on its supply run."""

from __future__ import annotations

import math


class Collapse(ValueError):
    """The run cannot carry the power at any voltage."""


def constant_power_volts(source_v: float, resistance_ohm: float, power_w: float) -> float:
    """Voltage [V] at a load that draws `power_w` through `resistance_ohm`.

    Args:
        source_v: open-circuit voltage of the source [V].
        resistance_ohm: everything between source and load, both ways [Ω].
        power_w: power the load takes [W].

    Raises:
        Collapse: V² < 4·R·P, the power is more than the run can pass; or there are no volts to begin with.

    Valid for the upper (stable) root of V² - V_s·V + R·P = 0.
    """
    discriminant = source_v * source_v - 4 * resistance_ohm * power_w
    if source_v <= 0 or discriminant < 0:
        raise Collapse(
            f"{power_w:.0f} W through {resistance_ohm * 1000:.1f} mΩ from {source_v:.2f} V cannot be carried"
        )
    return (source_v + math.sqrt(discriminant)) / 2


def greatest_power_w(source_v: float, resistance_ohm: float, load_min_v: float) -> float:
    """Most power [W] the run delivers while the load stays at or above `load_min_v`.

    Args:
        source_v: open-circuit voltage of the source [V].
        resistance_ohm: everything between source and load, both ways, above zero [Ω].
        load_min_v: lowest voltage allowed at the load [V].

    The mathematical limit is at half the source voltage; a floor below that is raised to it.
    """
    floor_v = max(load_min_v, source_v / 2)
    return max(0.0, floor_v * (source_v - floor_v) / resistance_ohm)
