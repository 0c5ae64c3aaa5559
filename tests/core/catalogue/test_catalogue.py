"""Invariants of the tables, and spot checks against the printed standards."""

from __future__ import annotations

import csv
from itertools import pairwise
from pathlib import Path

import pytest

from olvask.core.catalogue import (
    NoStandardSize,
    ampacity_table,
    conductor,
    conductors,
    device,
    devices,
    open_circuit_points,
)
from olvask.core.model.shelf import alternators, batteries, chargers

DATA = Path(__file__).parents[3] / "src/olvask/core/catalogue/data"


@pytest.mark.parametrize("system", ["metric", "awg"])
def test_more_area_less_resistance(system: str) -> None:
    """Within a system resistance falls as area grows."""
    rows = [item for item in conductors() if item.system == system]
    assert len(rows) > 12
    for smaller, larger in pairwise(rows):
        assert smaller.area_mm2 < larger.area_mm2
        assert smaller.resistance_20c_ohm_per_km > larger.resistance_20c_ohm_per_km
        assert smaller.price_per_m < larger.price_per_m


def test_resistance_is_plausible_for_copper() -> None:
    """ρ = R · A lies 0 to 16 % above annealed copper for every size; a slipped decimal would show."""
    for item in conductors():
        rho = item.resistance_20c_ohm_per_km * item.area_mm2
        assert 17.24 <= rho <= 17.24 * 1.165, item.size


@pytest.mark.parametrize("school", ["enclosed", "free_air"])
def test_more_area_more_ampacity(school: str) -> None:
    """Within a table ampacity grows with area, and free air never carries less than enclosed."""
    table = ampacity_table()
    for system in ("metric", "awg"):
        sizes = [item.size for item in conductors() if item.system == system]
        for smaller, larger in pairwise(sizes):
            for insulation_c, (amps, _) in table[smaller, school].items():
                assert amps < table[larger, school][insulation_c][0]
    for (size, kind), columns in table.items():
        if kind == "enclosed":
            for insulation_c, (amps, _) in columns.items():
                assert amps <= table[size, "free_air"][insulation_c][0]


@pytest.mark.parametrize(
    ("size", "school", "insulation_c", "amps"),
    [
        ("10 mm²", "enclosed", 70, 57),  # IEC 60364-5-52:2009 Table B.52.2, B1
        ("35 mm²", "enclosed", 90, 164),  # Table B.52.3, B1
        ("16 mm²", "free_air", 90, 115),  # Table B.52.12, E
        ("4 AWG", "enclosed", 75, 85),  # NFPA 70 Table 310.16
        ("2/0 AWG", "free_air", 90, 300),  # NFPA 70 Table 310.17
    ],
)
def test_printed_ampacities(size: str, school: str, insulation_c: int, amps: float) -> None:
    """Spot values as printed in the standards named beside them."""
    assert ampacity_table()[size, school][insulation_c][0] == amps


def test_every_row_names_its_source() -> None:
    """Each data row says where it comes from, below a units row."""
    for path in sorted(DATA.glob("*.csv")):
        with path.open(encoding="utf-8") as text:
            units, *rows = list(csv.DictReader(text))
        assert units["source"] == "-", path.name
        assert rows, path.name
        for row in rows:
            assert row["source"].strip(), (path.name, row)


def test_device_ladders_ascend_and_break_what_they_say() -> None:
    """Ratings ascend within a family; interrupt ratings never grow with voltage."""
    families: dict[str, list[float]] = {}
    for item in devices():
        families.setdefault(item.family, []).append(item.rating_a)
        assert item.interrupt_12v_a >= item.interrupt_24v_a >= item.interrupt_48v_a
        assert item.resistance_ohm > 0
        assert item.resistance_ohm < 0.05 or item.resistance_ohm * item.rating_a**2 < 1.5  # a small one by its heat [W]
    assert len(families) == 8
    for family, ratings in families.items():
        assert ratings == sorted(set(ratings)), family


def test_sf30_stops_at_two_hundred() -> None:
    """Off the ladder is an error that lists what there is, never the nearest rating."""
    assert device("sf30", 200.0).rating_a == 200.0
    with pytest.raises(NoStandardSize, match="choose 30, 40"):
        device("sf30", 225.0)


def test_eight_awg_is_not_ten_square() -> None:
    """8 AWG keeps its own 8.37 mm²."""
    assert conductor("8 AWG").area_mm2 == pytest.approx(8.37, abs=0.01)
    with pytest.raises(NoStandardSize):
        conductor("8.37 mm²")


def test_resting_voltage_rises_with_charge() -> None:
    """Open-circuit tables run from empty to full and only rise."""
    for points in open_circuit_points().values():
        assert points[0][0] == 0.0
        assert points[-1][0] == 1.0
        assert all(a < b for a, b in pairwise(points))


def test_the_shelf_covers_the_trade() -> None:
    """14 units or more over four voltage pairs, with and without limits, a converter and dual inputs; 8 batteries, 6 alternators."""
    shelf = chargers()
    assert len(shelf) >= 14
    assert {(item.input_nominal_v, item.output_nominal_v) for item in shelf} >= {(12, 12), (12, 24), (24, 12), (24, 24)}
    assert {item.isolated for item in shelf} == {True, False}
    assert {item.current_limit for item in shelf} == {"none", "steps", "continuous"}
    assert any(item.kind == "converter" for item in shelf)
    assert any(item.dual_input != "none" for item in shelf)
    assert len({item.id for item in shelf}) == len(shelf)
    assert len(batteries()) >= 8
    assert len(alternators()) >= 6
