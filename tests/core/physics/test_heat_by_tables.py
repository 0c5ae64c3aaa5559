"""Heat of cables and of closed places against the published correlations in full, with air off a printed table."""

from __future__ import annotations

import math

import pytest

from olvask.core.physics.alternator import Source, draw
from olvask.core.physics.enclosure import Box, air_rise_k, flow_m3_s
from olvask.core.physics.heat import cable_diameters_m, conductor_c, thermal_resistance_km_per_w, time_constant_s

# Dry air at 1 atm by kelvin: kinematic viscosity [m²/s], conductivity [W/m·K]. Incropera, Table A.4.
AIR = {300.0: (15.89e-6, 26.3e-3), 350.0: (20.92e-6, 30.0e-3)}


def air(kelvin: float) -> tuple[float, float]:
    """Viscosity and conductivity, as a straight line between two rows."""
    share = (kelvin - 300.0) / 50.0
    low, high = AIR[300.0], AIR[350.0]
    return low[0] + share * (high[0] - low[0]), low[1] + share * (high[1] - low[1])


@pytest.mark.parametrize(
    ("area_mm2", "core_mm", "outer_mm"), [(4.0, 2.61, 4.21), (25.0, 6.51, 8.71), (95.0, 12.70, 15.85)]
)
def test_diameters_of_a_cable(area_mm2: float, core_mm: float, outer_mm: float) -> None:
    """Copper fills three quarters of its circle: d = √(4·A / π / 0.75); the wall is 0.6 mm and 0.1 mm per √mm² on each side."""
    core_m, outer_m = cable_diameters_m(area_mm2)
    assert core_m * 1000 == pytest.approx(core_mm, abs=0.01)
    assert outer_m * 1000 == pytest.approx(outer_mm, abs=0.02)


@pytest.mark.parametrize("surface", [1.0, 2.5])
@pytest.mark.parametrize(
    ("area_mm2", "rise_k", "ambient_c"), [(4.0, 30.0, 30.0), (25.0, 40.0, 30.0), (95.0, 50.0, 40.0)]
)
def test_resistance_to_heat_as_published(area_mm2: float, rise_k: float, ambient_c: float, surface: float) -> None:
    """Churchill and Chu (1975) for a level cylinder, Nu = {0.60 + 0.387·Ra^⅙ / [1 + (0.559/Pr)^(9/16)]^(8/27)}², and 0.9·4σT³.

    The sheath stands 0.85 of the rise above the air; the wall is ln(D/d) / 2πλ at 0.20 W/m·K.
    """
    core_m, outer_m = cable_diameters_m(area_mm2)
    sheath_k = 0.85 * rise_k
    mean_k = ambient_c + 273.15 + sheath_k / 2
    viscosity, conductivity = air(mean_k)
    rayleigh = 9.81 * sheath_k * outer_m**3 * 0.705 / (mean_k * viscosity**2)
    nusselt = (0.60 + 0.387 * rayleigh ** (1 / 6) / (1 + (0.559 / 0.705) ** (9 / 16)) ** (8 / 27)) ** 2
    film = nusselt * conductivity / outer_m + 0.9 * 4 * 5.670374e-8 * mean_k**3
    wall = math.log(outer_m / core_m) / (2 * math.pi * 0.20)
    expected = wall + surface / (film * math.pi * outer_m)
    assert thermal_resistance_km_per_w(area_mm2, rise_k, ambient_c, surface) == pytest.approx(expected, rel=0.01)


def test_a_cable_that_hardly_warms_still_sheds() -> None:
    """Below 0.6 K the sheath is taken for half a kelvin warm, so that the film is never nothing; continuous there."""
    below = thermal_resistance_km_per_w(25.0, 0.59, 30.0, 1.0)
    assert thermal_resistance_km_per_w(25.0, 0.0, 30.0, 1.0) == below
    assert thermal_resistance_km_per_w(25.0, 0.61, 30.0, 1.0) == pytest.approx(below, rel=0.02)


def test_time_constant_by_hand() -> None:
    """25 mm² of copper at 8960 kg/m³ · 385 J/kg·K hold 86.2 J/m·K, its sheath of 26.3 mm² at 1.9 MJ/m³K another 50."""
    core_m, outer_m = cable_diameters_m(25.0)
    held = 25e-6 * 8960 * 385 + math.pi / 4 * (outer_m**2 - core_m**2) * 1350 * 1400
    expected = held * thermal_resistance_km_per_w(25.0, 40.0, 30.0, 1.0)
    assert time_constant_s(25.0, 40.0, 30.0) == pytest.approx(expected, rel=0.005)
    assert time_constant_s(25.0, 40.0, 30.0, 2.5) > time_constant_s(25.0, 40.0, 30.0)


def test_one_opening_breathes_through_its_halves() -> None:
    """100 cm² alone, 10 K in a room of 30 °C: half of it out, half in, 5 cm apart.

    Halves in series are 0.005/√2 m²; 1.15 · 9.81 · 0.05 m · 10/303.15 = 0.0186 Pa through 0.6 · 0.00354 m² at
    √(2·p/ρ) = 0.180 m/s are 0.382 l/s.
    """
    for box in (Box(0.4, low_m2=0.01), Box(0.4, high_m2=0.01)):
        assert flow_m3_s(box, 10.0, 30.0) == pytest.approx(0.382e-3, rel=0.01)
    # Each alone does it twice where there are two that the height between them does not help.
    assert flow_m3_s(Box(0.4, 0.01, 0.01, apart_m=1e-6), 10.0, 30.0) == pytest.approx(2 * 0.382e-3, rel=0.01)
    assert flow_m3_s(Box(0.4), 10.0, 30.0) == 0.0


def test_a_box_without_heat_is_as_warm_as_its_room() -> None:
    """Nothing is given off, nothing rises."""
    assert air_rise_k(Box(0.4), 30.0, lambda _rise_k: 0.0) == 0.0


def test_an_alternator_at_its_limit_with_a_branch() -> None:
    """The battery lends what the alternator lacks, for unit and branch.

    12.5 V and 40 A through 6 mΩ hold 12.74 V; a branch of 5 A takes 30 mV and 0.1 V along the way; 600 W through 11 mΩ:
    (12.61 + √(12.61² − 4 · 0.011 · 600)) / 2 = 12.06 V and 49.7 A; posts 12.74 − 54.7 A · 6 mΩ.
    """
    source = Source(regulated_v=13.9, sag_ohm=0.002, available_a=40.0, battery_v=12.5, battery_ohm=0.006)
    found = draw(source, 0.005, 600.0, extra_a=5.0, extra_v=0.1)
    assert found.alternator_limited
    assert found.terminal_v == pytest.approx(12.063, abs=0.002)
    assert found.current_a == pytest.approx(49.74, abs=0.02)
    assert found.post_v == pytest.approx(12.74 - 54.74 * 0.006, abs=0.002)
    assert found.terminal_v * found.current_a == pytest.approx(600.0)


def test_what_the_regulator_holds_with_a_branch() -> None:
    """Within its limit: 13.9 V less 5 A · 2 mΩ and 0.1 V, then the unit's draw through sag and run."""
    source = Source(regulated_v=13.9, sag_ohm=0.002, available_a=80.0, battery_v=12.5, battery_ohm=0.006)
    found = draw(source, 0.005, 600.0, extra_a=5.0, extra_v=0.1)
    open_v = 13.9 - 0.01 - 0.1
    terminal_v = (open_v + math.sqrt(open_v**2 - 4 * 0.007 * 600)) / 2
    assert not found.alternator_limited
    assert found.terminal_v == pytest.approx(terminal_v)
    assert found.post_v == pytest.approx(13.9 - (600 / terminal_v + 5) * 0.002)


def test_copper_is_never_told_hotter_than_it_melts() -> None:
    """Whatever flows, at any air: what would come above 1083 °C is told as that, wherever the search began."""
    for ambient_c in (-40.0, 25.0, 120.0):
        found = [conductor_c(amps, 1.21e-3, 16.0, ambient_c) for amps in range(20, 1200, 5)]
        assert max(found) == 1083.0
        assert found == sorted(found)
        assert all(celsius < 1083.0 for celsius in found[:30])
        for guess_c in (ambient_c - 30.0, ambient_c + 80.0, 900.0):
            assert conductor_c(150.0, 1.21e-3, 16.0, ambient_c, guess_c=guess_c) == pytest.approx(
                conductor_c(150.0, 1.21e-3, 16.0, ambient_c), abs=0.05
            )
