"""What a charger with a voltage to hold, a rating and a lead gives a battery, in plain numbers.

- `held_a`, `powered_a`, `backed_off_a`: what each of its limits lets through against volts behind a resistance.
- `compensated_v`: a target moved by temperature.
- `derated`: what heat leaves of a rating.
- `bends_at`, `tapered`: from where a battery that takes less as it fills holds a current back, and how long that charges it.
"""

from __future__ import annotations

import math
from typing import Final, NamedTuple

COMPENSATED_FROM_C: Final = 25.0  # targets are stated for this; EN 60335-2-29 chargers and makers' sheets alike
CHARGER_RISE_K: Final = 25.0  # inside a charger over the air around it at full current; our own estimate
CHARGER_TAU_S: Final = 1800.0  # it warms up in half an hour; our own estimate


def held_a(target_v: float, behind_v: float, ohm: float) -> float:
    """Current at which a source that holds `target_v` at its terminals meets volts behind a resistance [A].

    Args:
        target_v: volts it holds [V].
        behind_v: open-circuit volts behind the resistance [V].
        ohm: resistance between [Ω].

    Ohm's law; nothing flows back.
    """
    return max(0.0, target_v - behind_v) / max(ohm, 1e-6)


def powered_a(rated_a: float, rated_at_v: float, behind_v: float, ohm: float) -> float:
    """Current of a source whose rating holds up to some volts, and whose power is all it has above them [A].

    Args:
        rated_a: its current up to those volts [A].
        rated_at_v: those volts at its terminals [V].
        behind_v: open-circuit volts behind the resistance [V].
        ohm: resistance between [Ω].

    Above them `(V + I·R)·I = P`, the positive root.
    """
    if behind_v + rated_a * ohm <= rated_at_v:
        return rated_a
    power_w = rated_a * rated_at_v
    if ohm < 1e-9:
        return power_w / behind_v
    return (math.sqrt(behind_v * behind_v + 4 * ohm * power_w) - behind_v) / (2 * ohm)


def backed_off_a(rated_a: float, from_v: float, to_v: float, behind_v: float, ohm: float) -> float:
    """Current of a source that lets it fall in a straight line between two voltages at its terminals [A].

    Args:
        rated_a: its current below the lower one [A].
        from_v: from here it falls [V].
        to_v: here it is nothing [V].
        behind_v: open-circuit volts behind the resistance [V].
        ohm: resistance between [Ω].
    """
    if from_v >= to_v:
        return rated_a
    slope = rated_a / (to_v - from_v)
    return min(rated_a, max(0.0, slope * (to_v - behind_v) / (1 + slope * ohm)))


def compensated_v(target_v: float, mv_per_k: float, celsius: float) -> float:
    """A target moved by temperature from 25 °C [V].

    Args:
        target_v: at 25 °C [V].
        mv_per_k: of the whole battery, below zero for lead [mV/K].
        celsius: what its sensor tells [°C].
    """
    return target_v + mv_per_k / 1000 * (celsius - COMPENSATED_FROM_C)


def derated(percent_per_k: float, rated_c: float, air_c: float, heat: float) -> float:
    """Share of a rating that heat leaves, 0 to 1.

    Args:
        percent_per_k: lost above the rated air [%/K].
        rated_c: air up to which it gives everything, warmed through [°C].
        air_c: the air around it [°C].
        heat: how far it has warmed up, 1 at full current for long.
    """
    over_k = air_c + CHARGER_RISE_K * heat - (rated_c + CHARGER_RISE_K)
    return max(0.0, 1 - percent_per_k / 100 * max(0.0, over_k))


def bends_at(amps: float, limit_a: float, taper_from: float) -> float:
    """State of charge, 0 to 1, from which a battery takes less than there is for it.

    Args:
        amps: what there is, no more than its limit [A].
        limit_a: most it takes below its taper [A].
        taper_from: state of charge from which what it takes falls to nothing at full, in proportion to what is missing.
    """
    return 1 - (1 - taper_from) * amps / limit_a


class Tapered(NamedTuple):
    """A charge at absorption volts, part by part.

    Attributes:
        even_ah: what goes in at the whole current [Ah], charge losses apart.
        amps: that current [A].
        bend: state of charge, 0 to 1, from which the battery takes less than there is.
        falls: natural logarithm of how often what is missing there holds what is missing in the end; 0 where it ends before.
        room_ah: above the taper [Ah].
        limit_a: most the battery takes below its taper [A].
        kept: share of what is charged that it gives back.
    """

    even_ah: float
    amps: float
    bend: float
    falls: float
    room_ah: float
    limit_a: float
    kept: float

    @property
    def hours(self) -> float:
        """How long it takes [h]."""
        return self.even_ah / (self.amps * self.kept) + self.falls * self.room_ah / (self.limit_a * self.kept)


def tapered(
    begun: float, ended: float, amps: float, capacity_ah: float, limit_a: float, taper_from: float, kept: float
) -> Tapered:
    """How a steady current charges a battery that takes its limit below its taper, above it in proportion to what is missing.

    Args:
        begun: state of charge to begin with, 0 to 1.
        ended: state of charge to end with, under 1.
        amps: what there is for the battery, above zero [A].
        capacity_ah: of the battery [Ah].
        limit_a: most it takes below its taper [A].
        taper_from: state of charge from which it takes less, 0 to 1.
        kept: share of what is charged that it gives back.

    Where what flows is in proportion to what is missing, what is missing falls by the same share each hour.
    """
    amps = min(amps, limit_a)
    bend = bends_at(amps, limit_a, taper_from)
    even = max(0.0, min(ended, bend) - begun)
    falls = math.log((1 - max(bend, begun)) / (1 - ended)) if ended > bend else 0.0
    return Tapered(even * capacity_ah, amps, bend, falls, (1 - taper_from) * capacity_ah, limit_a, kept)
