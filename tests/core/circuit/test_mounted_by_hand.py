"""The unit where it is mounted: its sizes, heat, yield and air, against sums done by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.mounted import (
    air_of,
    box_of,
    crowding,
    felt_k,
    heat_w,
    share_at,
    size_m,
    with_openings,
    yield_of,
)
from olvask.core.model import Charger
from olvask.core.model.site import Mount
from olvask.core.physics.enclosure import case_rise_k
from tests.designs import charger, design

SIZED: dict[str, Any] = {"width_mm": 200.0, "height_mm": 150.0, "depth_mm": 80.0}


def unit(**changes: Any) -> Charger:
    """The plain job's unit."""
    return Charger.model_validate(charger(**changes))


def test_sizes_as_recorded_or_as_usual() -> None:
    """Millimetres become metres; a unit nobody measured is taken for 190 × 130 × 70 mm."""
    assert size_m(unit(**SIZED)) == pytest.approx((0.2, 0.15, 0.08))
    assert size_m(unit()) == pytest.approx((0.19, 0.13, 0.07))
    assert size_m(unit(height_mm=150.0)) == pytest.approx((0.19, 0.15, 0.07))


def test_heat_is_what_efficiency_leaves() -> None:
    """25 A at 14.4 V are 360 W; at 90 % the unit takes 400 W, and 40 W stay in it."""
    assert heat_w(design(), 14.4, 25.0) == pytest.approx(40.0)
    assert heat_w(design(charger=None), 14.4, 25.0) == 0.0


def test_yield_in_hot_air() -> None:
    """2 % a kelvin above 40 °C of 25 A: at 55 °C 70 %, 17.5 A; a limit of 15 A holds up to there, not to 65 °C."""
    hot = unit(derating_percent_per_k=2.0, rated_ambient_c=40.0)
    assert [share_at(hot, celsius) for celsius in (-20.0, 40.0, 41.0, 55.0, 90.0, 140.0)] == pytest.approx(
        [1.0, 1.0, 0.98, 0.7, 0.0, 0.0]
    )
    record = charger(derating_percent_per_k=2.0, rated_ambient_c=40.0)
    assert yield_of(design(charger=record), 55.0) == pytest.approx(17.5)
    limited = design(charger=record, current_limit_a=15.0)
    assert [yield_of(limited, celsius) for celsius in (25.0, 55.0, 65.0)] == pytest.approx([15.0, 15.0, 12.5])
    assert yield_of(design(charger=None), 25.0) == 0.0


def test_a_cupboard_as_measured() -> None:
    """400 × 300 × 200 mm: back 0.12 m², the four sides 2 · 0.2 · 0.7 m²; openings, their height and the fan in metres."""
    vents = Mount(
        around="vents",
        width_mm=400,
        height_mm=300,
        depth_mm=200,
        vent_low_cm2=50,
        vent_high_cm2=40,
        vent_apart_mm=250,
        fan_m3_h=36,
    )
    box = box_of(vents)
    assert (box.wall_m2, box.low_m2, box.high_m2) == pytest.approx((0.40, 0.005, 0.004))
    assert (box.apart_m, box.fan_m3_s) == pytest.approx((0.25, 0.01))
    shut = box_of(vents.model_copy(update={"around": "shut"}))
    assert (shut.wall_m2, shut.low_m2, shut.high_m2, shut.fan_m3_s) == pytest.approx((0.40, 0.0, 0.0, 0.0))


def test_a_cupboard_nobody_measured() -> None:
    """500 × 400 × 300 mm: 0.2 + 2 · 0.3 · 0.9 = 0.74 m²; openings seven tenths of its height apart."""
    box = box_of(Mount(around="vents"))
    assert (box.wall_m2, box.apart_m) == pytest.approx((0.74, 0.28))
    assert box_of(Mount(around="vents", height_mm=600)).apart_m == pytest.approx(0.42)


@pytest.mark.parametrize(("spacing_mm", "share"), [(0.0, 0.5), (25.0, 0.75), (50.0, 1.0), (80.0, 1.0), (None, 1.0)])
def test_neighbours_take_convection(spacing_mm: float | None, share: float) -> None:
    """Touching, half of it is left; all from the maker's clearance of 50 mm on; one alone has all."""
    record = charger(clearance_mm=50.0)
    mount = {"place": "cabin", "spacing_mm": spacing_mm}
    assert crowding(design(charger=record, units=2, mount=mount)) == pytest.approx(share)
    assert crowding(design(charger=record, units=1, mount=mount)) == 1.0
    assert crowding(design(charger=charger(clearance_mm=0.0), units=2, mount=mount)) == 1.0


@pytest.mark.parametrize("turned", ["sideways", "lying", "hanging"])
def test_turned_fins_run_hotter_by_the_difference(turned: str) -> None:
    """Its record supposes upright fins on board: what it runs hotter than so counts, at the heat it gives off there."""
    job = design(charger=charger(**SIZED), mount={"place": "cabin", "orientation": turned, "backing": "wood"})
    size = (0.2, 0.15, 0.08)
    expected_k = case_rise_k(40.0, size, 30.0, turned) - case_rise_k(40.0, size, 30.0)
    assert felt_k(job, 30.0, 14.4) == pytest.approx(expected_k)
    assert expected_k > 0.5


def test_upright_alone_is_as_recorded() -> None:
    """Nothing more is felt upright, nor on metal, which only cools; without a unit there is nothing to feel."""
    for mount in ({"orientation": "upright"}, {}, {"orientation": "upright", "backing": "metal"}):
        assert felt_k(design(mount={"place": "cabin"} | mount), 30.0, 14.4) == 0.0
    assert felt_k(design(charger=None, mount={"place": "cabin", "orientation": "lying"}), 30.0, 14.4) == 0.0
    metal = {"place": "cabin", "orientation": "sideways", "backing": "metal"}
    assert felt_k(design(mount=metal), 30.0, 14.4) < felt_k(design(mount=metal | {"backing": "wood"}), 30.0, 14.4)


def test_neighbours_are_felt_upright_too() -> None:
    """Two that touch shed half by convection: hotter, whichever way the fins stand."""
    mount = {"place": "cabin", "orientation": "upright", "spacing_mm": 0.0}
    crowded = design(charger=charger(clearance_mm=50.0, **SIZED), units=2, mount=mount)
    size = (0.2, 0.15, 0.08)
    expected_k = case_rise_k(40.0, size, 30.0, crowded=0.5) - case_rise_k(40.0, size, 30.0)
    assert felt_k(crowded, 30.0, 14.4) == pytest.approx(expected_k)


def test_air_shut_in_by_hand() -> None:
    """40 W through 0.4 m² of plywood at 2.97 W/m²K: 33.7 K above a room of 20 °C; twice that for two units."""
    sizes = {"width_mm": 400.0, "height_mm": 300.0, "depth_mm": 200.0}
    mount = {"place": "cupboard", "around": "shut", **sizes}
    record = charger(derating_percent_per_k=0.0)
    assert air_of(design(charger=record, mount=mount), 20.0, 14.4) == pytest.approx(20 + 33.7, abs=0.1)
    assert air_of(design(charger=record, mount=mount, units=2), 20.0, 14.4) == pytest.approx(20 + 67.3, abs=0.2)
    for around in ("", "open"):
        assert air_of(design(charger=record, mount=mount | {"around": around}), 20.0, 14.4) == 20.0
    assert air_of(design(charger=None, mount=mount), 20.0, 14.4) == 20.0


def test_heat_that_falls_with_the_air_is_followed() -> None:
    """5 % a kelvin above 30 °C: 40 W·(1 − 0.05·(T − 30)) = 2.97·0.4·(T − 20) meets at 38.8 °C."""
    sizes = {"width_mm": 400.0, "height_mm": 300.0, "depth_mm": 200.0}
    record = charger(derating_percent_per_k=5.0, rated_ambient_c=30.0)
    job = design(charger=record, mount={"place": "cupboard", "around": "shut", **sizes})
    meets_c = (40 * 2.5 + 2.97 * 0.4 * 20) / (40 * 0.05 + 2.97 * 0.4)
    assert air_of(job, 20.0, 14.4) == pytest.approx(meets_c, abs=0.1)


def test_a_hotter_case_gives_less_heat_to_the_box() -> None:
    """Lying down it runs hotter, gives less where heat takes current, and so warms the box around it less."""
    sizes = {"width_mm": 400.0, "height_mm": 300.0, "depth_mm": 200.0}
    record = charger(derating_percent_per_k=5.0, rated_ambient_c=30.0)
    upright, lying = (
        air_of(design(charger=record, mount={"around": "shut", "orientation": turned, **sizes}), 20.0, 14.4)
        for turned in ("upright", "lying")
    )
    assert 20.0 < lying < upright - 0.5


def test_another_place_is_asked_with_its_own_fins() -> None:
    """A place tried instead of the design's counts as it stands: open to the room, the room's air."""
    shut = design(mount={"place": "cupboard", "around": "shut"})
    there = with_openings(shut.mount, 300.0)
    assert (there.around, there.vent_low_cm2, there.vent_high_cm2) == ("vents", 300.0, 300.0)
    assert 20.0 < air_of(shut, 20.0, 14.4, there) < air_of(shut, 20.0, 14.4)
