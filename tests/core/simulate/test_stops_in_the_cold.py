"""What is set to stop in the cold or the heat gives a battery nothing there, be it the unit, a panel or an old charger."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.trip import drive
from tests.designs import charger, design

SUNNY = "begin start 80 % auxiliary 40 % ambient {celsius} °C\noff 2 h sun 100 W\n"
DRIVEN = "begin start 80 % auxiliary 40 % ambient {celsius} °C\ncruise 2 h\n"
DUAL = charger(dual_input="priority", dual_first="solar")
STOPS = {"cold_c": 5.0, "hot_c": 45.0}
PANEL = {"panel_w": 200.0, "into": "controller"}
SOURCES: dict[str, tuple[str, dict[str, Any], dict[str, Any]]] = {
    "controller": (SUNNY, {"solar": PANEL | {"stages": STOPS}}, {"solar": PANEL}),
    "second input": (
        SUNNY,
        {"charger": DUAL, "solar": PANEL | {"into": "second_input"}, "charge": STOPS},
        {"charger": DUAL, "solar": PANEL | {"into": "second_input"}},
    ),
    "unit": (DRIVEN, {"charge": STOPS}, {}),
    "built in": (
        DRIVEN,
        {"charger": None, "existing": [{"kind": "built_in_charger", "charge_a": 8.0, "stages": STOPS}]},
        {"charger": None, "existing": [{"kind": "built_in_charger", "charge_a": 8.0}]},
    ),
}


@pytest.mark.parametrize("source", SOURCES)
@pytest.mark.parametrize(("celsius", "charges"), [(0, False), (10, True), (44, True), (50, False)])
def test_it_charges_between_its_stops(source: str, celsius: int, charges: bool) -> None:
    """From 5 to 45 °C it gives what it gives without stops; outside nothing."""
    day, with_stops, without = SOURCES[source]
    programme = read_programme(day.format(celsius=celsius))
    stopped, free = drive(design(**with_stops), programme), drive(design(**without), programme)
    assert free.auxiliary_in_ah > 5.0
    assert stopped.auxiliary_in_ah == (pytest.approx(free.auxiliary_in_ah) if charges else 0.0)
