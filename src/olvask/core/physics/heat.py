"""Steady-state conductor temperature by heat balance, and ambient correction of tables."""

from __future__ import annotations

import math
from functools import cache
from typing import Final

from olvask.core.physics.conductors import ALPHA_CU_PER_K

STEFAN_BOLTZMANN: Final = 5.670374e-8  # W/m²K⁴, CODATA
GRAVITY: Final = 9.81  # m/s²
PRANDTL: Final = 0.71  # air, 0 to 100 °C
SIXTH: Final = 1 / 6
EMISSIVITY: Final = 0.9  # matt cable sheath
INSULATION_W_PER_MK: Final = 0.20  # PVC and cross-linked polyethylene lie between 0.17 and 0.29
STRAND_FILL: Final = 0.75  # copper share of the circle of a class 5 conductor
COPPER_J_PER_M3K: Final = 3.45e6  # density 8960 kg/m³ times 385 J/(kg·K)
INSULATION_J_PER_M3K: Final = 1.9e6  # PVC, 1350 kg/m³ times about 1400 J/(kg·K)
MELT_C: Final = 1083.0  # copper; a balance above it is reported as this


def cable_diameters_m(area_mm2: float) -> tuple[float, float]:
    """Conductor and outside diameter [m] of a single-core vehicle cable of `area_mm2` [mm²].

    Wall of 0.6 mm plus a tenth of the square root of the area, close to ISO 6722-1 thick wall.
    """
    core_m = math.sqrt(4 * area_mm2 / math.pi / STRAND_FILL) / 1000
    return core_m, core_m + 2 * (0.6 + 0.1 * math.sqrt(area_mm2)) / 1000


@cache
def _shape(area_mm2: float) -> tuple[float, float]:
    """Outside diameter [m] and resistance to heat of the insulation wall [K·m/W]."""
    core_m, outer_m = cable_diameters_m(area_mm2)
    return outer_m, math.log(outer_m / core_m) / (2 * math.pi * INSULATION_W_PER_MK)


def thermal_resistance_km_per_w(area_mm2: float, rise_k: float, ambient_c: float, surface: float) -> float:
    """Resistance to heat [K·m/W] from conductor to still air.

    Args:
        area_mm2: cross-section [mm²].
        rise_k: conductor above ambient [K], sets the film coefficients.
        ambient_c: air temperature [°C].
        surface: surface resistance over that of one cable in free air (conduit, bundle).

    Natural convection of a horizontal cylinder by Churchill and Chu (1975), Nu = (0.60 + 0.321·Ra^(1/6))² at
    the Prandtl number of air, and grey-body radiation.
    """
    outer_m, wall_km_per_w = _shape(area_mm2)
    surface_k = 0.85 * rise_k if rise_k > 0.6 else 0.5
    mean_c = ambient_c + surface_k / 2
    mean_k = mean_c + 273.15
    viscosity = 1.33e-5 + 9.3e-8 * mean_c  # kinematic, air at 1 bar [m²/s]
    rayleigh = GRAVITY * surface_k * outer_m**3 * PRANDTL / (mean_k * viscosity * viscosity)
    root = 0.60 + 0.321 * math.pow(rayleigh, SIXTH)
    nusselt = root * root
    film = nusselt * (0.0243 + 7.3e-5 * mean_c) / outer_m + 4 * EMISSIVITY * STEFAN_BOLTZMANN * mean_k**3
    return wall_km_per_w + surface / (film * math.pi * outer_m)


def time_constant_s(area_mm2: float, rise_k: float, ambient_c: float, surface: float = 1.0) -> float:
    """Time [s] in which a conductor comes within 1/e of its steady temperature.

    Args:
        area_mm2: cross-section [mm²].
        rise_k: conductor above ambient, steady [K].
        ambient_c: air temperature [°C].
        surface: surface resistance over that of one cable in free air.

    Heat held by copper and insulation times the resistance to heat; one lump.
    """
    core_m, outer_m = cable_diameters_m(area_mm2)
    insulation_m2 = math.pi / 4 * (outer_m**2 - core_m**2)
    held_j_per_mk = area_mm2 * 1e-6 * COPPER_J_PER_M3K + insulation_m2 * INSULATION_J_PER_M3K
    return held_j_per_mk * thermal_resistance_km_per_w(area_mm2, rise_k, ambient_c, surface)


def conductor_c(
    current_a: float,
    resistance_20c_ohm_per_m: float,
    area_mm2: float,
    ambient_c: float,
    surface: float = 1.0,
    guess_c: float | None = None,
) -> float:
    """Steady conductor temperature [°C].

    Args:
        current_a: continuous current [A].
        resistance_20c_ohm_per_m: conductor resistance at 20 °C [Ω/m].
        area_mm2: cross-section [mm²].
        ambient_c: air temperature [°C].
        surface: surface resistance over that of one cable in free air.
        guess_c: where to begin [°C]; saves rounds, does not move the answer.

    The balance runs away when resistance grows faster than the heat leaves; then copper's melting
    point is returned.
    """
    if current_a == 0:
        return ambient_c
    limit_k = MELT_C - ambient_c
    cold_w = current_a**2 * resistance_20c_ohm_per_m
    at_ambient_w = cold_w * (1 + ALPHA_CU_PER_K * (ambient_c - 20))
    rise_k = 10.0 if guess_c is None else max(guess_c - ambient_c, 0.1)
    for _ in range(40):
        to_air = thermal_resistance_km_per_w(area_mm2, rise_k, ambient_c, surface)
        # rise = to_air · cold · (1 + α(Ta + rise - 20)) solved for rise
        gain = to_air * cold_w * ALPHA_CU_PER_K
        if gain >= 1:
            return MELT_C
        new_k = to_air * at_ambient_w / (1 - gain)
        if new_k >= limit_k:
            return MELT_C
        if abs(new_k - rise_k) < 0.02:
            return ambient_c + new_k
        rise_k = new_k
    return ambient_c + rise_k


def ambient_factor(limit_c: float, table_limit_c: float, ambient_c: float) -> float:
    """Factor on a 30 °C ampacity table for another ambient and insulation.

    Args:
        limit_c: temperature the insulation withstands [°C].
        table_limit_c: conductor temperature the table was made for [°C].
        ambient_c: air temperature [°C].

    √(heat allowed over heat of the table, each at its own hot resistance); 0 where ambient is at
    or above the limit. Source: IEC 60287-1-1 form, as IEC 60364-5-52 Table B.52.14.
    """
    if ambient_c >= limit_c:
        return 0.0
    hot = 1 + ALPHA_CU_PER_K * (limit_c - 20)
    hot_table = 1 + ALPHA_CU_PER_K * (table_limit_c - 20)
    return math.sqrt((limit_c - ambient_c) / (table_limit_c - 30) * hot_table / hot)
