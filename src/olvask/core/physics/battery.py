"""Batteries: rested voltage by state of charge, internal resistance, short-circuit current."""

from __future__ import annotations

from functools import cache
from itertools import pairwise
from typing import Final

from olvask.core.catalogue import chemistries, open_circuit_points

REFERENCE_C: Final = 25.0  # rested volts and resistances are stated for this
COLDEST_FACTOR: Final = 0.1  # acceptance never falls below this share
SURFACE_TAU_S: Final = 900.0  # surface charge of a lead battery leaks away with this time constant; our own estimate
LITHIUM_SHORT_A_PER_AH: Final = 10.0  # floor for the prospective short circuit of a lithium bank


class Rested:
    """Rested voltage [V] at 25 °C by state of charge, quick enough to step through time with: a line between points."""

    def __init__(self, chemistry: str, nominal_v: int) -> None:
        """Lay the lines.

        Args:
            chemistry: key of the chemistry table.
            nominal_v: 12, 24 or 48 [V].
        """
        self.highs: list[float] = []  # state of charge up to which each line holds
        self.zeros_v: list[float] = []  # its volts at none [V]
        self.slopes_v: list[float] = []  # by how much it rises from none to full [V]
        for (low, low_v), (high, high_v) in pairwise(open_circuit_points()[chemistry]):
            slope = (high_v - low_v) / (high - low)
            self.highs.append(high)
            self.zeros_v.append((low_v - slope * low) * nominal_v / 12)
            self.slopes_v.append(slope * nominal_v / 12)

    def volts(self, charge: float) -> float:
        """Volts at a state of charge; past the last point its line goes on."""
        for at, high in enumerate(self.highs):
            if charge <= high:
                return self.zeros_v[at] + self.slopes_v[at] * charge
        return self.zeros_v[-1] + self.slopes_v[-1] * charge


@cache
def rested_volts(chemistry: str, nominal_v: int) -> Rested:
    """Rested voltage [V] at 25 °C by state of charge.

    Args:
        chemistry: key of the chemistry table.
        nominal_v: 12, 24 or 48 [V].
    """
    return Rested(chemistry, nominal_v)


def open_circuit_v(chemistry: str, state_of_charge: float, nominal_v: int) -> float:
    """Rested voltage [V] at 25 °C.

    Args:
        chemistry: key of the chemistry table.
        state_of_charge: 0 to 1.
        nominal_v: 12, 24 or 48 [V].

    Raises:
        ValueError: state of charge outside 0..1.
    """
    if not 0 <= state_of_charge <= 1:
        raise ValueError(f"state of charge {state_of_charge} is outside 0 to 1")
    return rested_volts(chemistry, nominal_v).volts(state_of_charge)


def charge_at_rest(chemistry: str, rest_v: float, nominal_v: int) -> float:
    """State of charge, 0 to 1, at which it rests at a voltage; the inverse of `open_circuit_v`.

    Args:
        chemistry: key of the chemistry table.
        rest_v: rested voltage at 25 °C [V].
        nominal_v: 12, 24 or 48 [V].
    """
    points, volts = open_circuit_points()[chemistry], rest_v * 12 / nominal_v
    if volts <= points[0][1]:
        return 0.0
    for (low, low_v), (high, high_v) in pairwise(points):
        if volts <= high_v:
            return low + (volts - low_v) / (high_v - low_v) * (high - low) if high_v > low_v else high
    return 1.0


def internal_ohm(chemistry: str, capacity_ah: float, nominal_v: int) -> float:
    """Internal resistance [Ω], charged and warm.

    Args:
        chemistry: key of the chemistry table.
        capacity_ah: capacity [Ah].
        nominal_v: 12, 24 or 48 [V].

    Scales inversely with capacity and with blocks in series; a typical figure, not a datasheet's.
    """
    return chemistries()[chemistry].resistance_ohm_ah / capacity_ah * nominal_v / 12


def prospective_short_a(chemistry: str, capacity_ah: float, nominal_v: int, path_ohm: float) -> float:
    """Prospective short-circuit current [A] behind `path_ohm` from the posts.

    Args:
        chemistry: key of the chemistry table.
        capacity_ah: capacity [Ah].
        nominal_v: 12, 24 or 48 [V].
        path_ohm: resistance between post and fault [Ω].

    The larger of V/(R_batt + R_path) and, for lithium, 10 A per Ah.
    """
    by_resistance = open_circuit_v(chemistry, 1.0, nominal_v) / (
        internal_ohm(chemistry, capacity_ah, nominal_v) + path_ohm
    )
    by_capacity = LITHIUM_SHORT_A_PER_AH * capacity_ah if chemistry == "lfp" else 0.0
    return max(by_resistance, by_capacity)


def cold_resistance_factor(chemistry: str, celsius: float) -> float:
    """Internal resistance over that at 25 °C.

    Args:
        chemistry: key of the chemistry table.
        celsius: battery temperature [°C].

    Lead: 1.2 % a kelvin below 25 °C, so half as much again at -17 °C. Lithium: doubles every 25 K below 25 °C.
    Warmer counts as 25 °C. Typical of published cell data; a maker's figure is better.
    """
    below_k = max(0.0, REFERENCE_C - celsius)
    return 2.0 ** (below_k / 25.0) if chemistry == "lfp" else 1 + 0.012 * below_k


def cold_acceptance_factor(chemistry: str, celsius: float) -> float:
    """Charge current a battery takes over that at 25 °C, 0.1 to 1.

    Args:
        chemistry: key of the chemistry table.
        celsius: battery temperature [°C].

    The inverse of the resistance for lithium; lead loses 1.8 % a kelvin below 25 °C.
    """
    if chemistry == "lfp":
        return max(COLDEST_FACTOR, 1 / cold_resistance_factor(chemistry, celsius))
    return max(COLDEST_FACTOR, 1 - 0.018 * max(0.0, REFERENCE_C - celsius))


def cold_capacity_factor(celsius: float) -> float:
    """Ampere-hours a battery gives over those at 25 °C, 0.1 to 1.

    Args:
        celsius: battery temperature [°C].

    0.8 % a kelvin below 25 °C: 80 % at freezing, two thirds at -18 °C. Typical of lead; lithium loses about as much.
    """
    return max(COLDEST_FACTOR, 1 - 0.008 * max(0.0, REFERENCE_C - celsius))
