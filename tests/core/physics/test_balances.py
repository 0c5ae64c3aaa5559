"""What settles: heat made is heat shed, at the temperature that is told; air as tables of its properties have it."""

from __future__ import annotations

import pytest

from olvask.core.physics.enclosure import _film_w_m2k
from olvask.core.physics.heat import conductor_c, thermal_resistance_km_per_w


@pytest.mark.parametrize("ambient_c", [-20.0, 5.0, 30.0, 60.0])
@pytest.mark.parametrize(("current_a", "area_mm2"), [(60.0, 10.0), (25.0, 4.0), (180.0, 50.0)])
@pytest.mark.parametrize("guess_c", [None, 20.0, 150.0])
def test_a_conductor_sheds_what_it_makes(
    current_a: float, area_mm2: float, ambient_c: float, guess_c: float | None
) -> None:
    """I²·R20·(1 + 0.00393·(T − 20)) through the thermal resistance at that rise is the rise, wherever it began."""
    per_m = 0.0178 / area_mm2
    found_c = conductor_c(current_a, per_m, area_mm2, ambient_c, guess_c=guess_c)
    rise_k = found_c - ambient_c
    made_w = current_a**2 * per_m * (1 + 0.00393 * (found_c - 20))
    assert rise_k > 1
    assert made_w * thermal_resistance_km_per_w(area_mm2, rise_k, ambient_c, 1.0) == pytest.approx(rise_k, abs=0.1)


@pytest.mark.parametrize(
    ("mean_c", "viscosity", "conductivity"),
    [(0.0, 1.328e-5, 0.0243), (20.0, 1.506e-5, 0.0257), (60.0, 1.896e-5, 0.0285), (100.0, 2.306e-5, 0.0314)],
)
def test_the_film_of_an_upright_plate(mean_c: float, viscosity: float, conductivity: float) -> None:
    """Dry air at 1 bar as engineers' tables have it; Nu by Churchill and Chu at Pr 0.71: 0.515·Ra^¼ beside 0.68."""
    height_m, rise_k = 0.2, 30.0
    rayleigh = 9.81 * rise_k * height_m**3 * 0.71 / ((mean_c + 273.15) * viscosity**2)
    expected = (0.68 + 0.515 * rayleigh**0.25) * conductivity / height_m
    assert _film_w_m2k(height_m, rise_k, mean_c - rise_k / 2) == pytest.approx(expected, rel=0.015)
