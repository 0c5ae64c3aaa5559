"""Lithium in frost: no finding says it is safe while anything that charges it goes on, whatever that is.

What charges it is worked out here from the job as plain data, by whoever reads it.
"""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.stages.settings.climate import climate_of
from tests.designs import charger, design

COLD = {"chemistry": "lfp", "capacity_ah": 100.0, "charge_limit_a": 50.0}
FROST = COLD | {"temperature_min_c": -15.0, "temperature_max_c": 30.0, "charge_min_c": 5.0}
LINE = {
    "id": "cold",
    "label": "Cold stop",
    "means": "cold_c",
    "unit": "°C",
    "from_value": -10,
    "to_value": 10,
    "step": 1,
}
VOLTS = {
    "id": "v",
    "label": "Volts",
    "means": "absorption_v",
    "unit": "V",
    "from_value": 12,
    "to_value": 15,
    "step": 0.1,
}


def levels(**changes: Any) -> dict[str, str]:
    return {item.id: item.level for item in assess(design(**changes), remedies=False).findings}


# Sources, and whether each stops at 5 °C or above.
UNITS: list[tuple[dict[str, Any], float | None, bool]] = [
    ({"settings": {"lines": [LINE]}}, 5.0, True),
    ({"settings": {"lines": [LINE]}}, None, True),  # its sheet keys it, as the battery has no cut-off
    ({"settings": {"lines": [LINE]}}, 2.0, False),
    ({"settings": {"lines": [LINE | {"to_value": 3}]}}, 5.0, False),  # no higher than 3 °C can be keyed
    ({"settings": {"lines": [VOLTS]}}, 5.0, False),  # no such line in its menu
    ({}, 5.0, True),  # nobody has noted its menu: as chosen
    ({}, None, False),
]
BESIDE: list[tuple[dict[str, Any], bool]] = [
    ({}, True),
    ({"solar": {"panel_w": 200.0, "into": "controller"}}, False),
    ({"solar": {"panel_w": 200.0, "into": "controller", "stages": {"cold_c": 5.0}}}, True),
    ({"solar": {"panel_w": 200.0, "into": "controller", "stages": {"cold_c": 0.0}}}, False),
    ({"solar": {"panel_w": 200.0, "into": "start_side"}}, True),
    ({"solar": {"panel_w": 200.0, "into": "controller", "stages": {"settings": {"lines": [LINE]}}}}, True),
    ({"solar": {"panel_w": 200.0, "into": "controller", "stages": {"settings": {"lines": [VOLTS]}}}}, False),
    ({"existing": [{"kind": "mains_charger"}]}, False),
    ({"existing": [{"kind": "mains_charger", "cut": True}]}, True),
    ({"existing": [{"kind": "portable_charger", "stages": {"cold_c": 6.0}}]}, True),
    ({"existing": [{"kind": "built_in_charger"}]}, False),
    ({"existing": [{"kind": "link"}], "old_link": {"decision": "keep"}}, False),
    ({"existing": [{"kind": "link"}], "old_link": {"decision": "disconnect"}}, True),
    ({"existing": [{"kind": "maintainer"}]}, True),  # it keeps the start battery
]


@pytest.mark.parametrize(("unit", "beside"), list(itertools.product(UNITS, BESIDE)))
def test_it_is_safe_only_where_all_of_it_stops(
    unit: tuple[dict[str, Any], float | None, bool], beside: tuple[dict[str, Any], bool]
) -> None:
    """A stop while one of them goes on; a note that it is not charged where none does."""
    job = {"charger": charger(**unit[0]), "charge": {"cold_c": unit[1]}, "auxiliary": FROST} | beside[0]
    found = levels(**job)
    safe = unit[2] and beside[1]
    assert found.get("survey.cold") == (None if safe else "stop")
    assert found.get("survey.cold_stopped") == ("note" if safe else None)
    shown = climate_of(Context.of(design(**job))).stops
    assert all(item.enough for item in shown) is safe
    assert all(item.enough is (item.stops_c is not None and item.stops_c >= 5.0) for item in shown)
    own = levels(**job | {"auxiliary": FROST | {"low_temperature_cut_off": True}})
    assert (own.get("survey.cold"), own.get("survey.cold_stopped")) == (None, "note")
    asked = levels(**job | {"auxiliary": COLD | {"charge_min_c": 5.0}})
    assert asked.get("settings.cold_unknown") == (None if safe else "caution")


def test_what_goes_on_is_named_and_the_way_out_stops_all_of_it() -> None:
    """The unit stops, a panel and a mains charger do not: both named, and one remedy for both."""
    job = design(
        auxiliary=FROST,
        charger=charger(settings={"lines": [LINE]}),
        solar={"panel_w": 200.0, "into": "controller"},
        existing=[{"kind": "mains_charger", "name": "hook-up charger"}],
    )
    found = next(item for item in assess(job).findings if item.id == "survey.cold")
    assert "The hook-up charger and the solar controller would go on charging." in found.text
    changed = [{change.path: change.value for change in item.changes} for item in found.remedies]
    assert {"existing.e1.stages.cold_c": 5.0, "solar.stages.cold_c": 5.0} in changed
    for remedy in found.remedies:
        assert "survey.cold" not in {item.id for item in assess(apply(job, remedy)).findings}


@pytest.mark.parametrize(
    ("cold_c", "panel", "title", "goes_on"),
    [
        (None, False, "Nothing keeps it from charging frozen", ""),
        (2.0, False, "It is stopped later than it may be charged", "The unit, down to 2 °C, would go on charging."),
        (
            2.0,
            True,
            "Not all that charges it stops in the cold",
            "The unit, down to 2 °C, and the solar controller would go on",
        ),
        (5.0, True, "Not all that charges it stops in the cold", "The solar controller would go on charging."),
    ],
)
def test_what_is_not_known_of_the_cold_is_called_by_its_name(
    cold_c: float | None, panel: bool, title: str, goes_on: str
) -> None:
    """Nothing stops, something stops too late, something does not stop: none is taken for another."""
    job = {"auxiliary": COLD | {"charge_min_c": 5.0}, "charge": {"cold_c": cold_c}}
    if panel:
        job["solar"] = {"panel_w": 200.0, "into": "controller"}
    found = next(item for item in assess(design(**job)).findings if item.id == "settings.cold_unknown")
    assert found.title == title
    assert goes_on in found.text
    assert ("would go on" in found.text) is bool(goes_on)


def test_a_unit_of_which_nobody_knows_is_proven_first() -> None:
    """Chosen to stop, its menu not on the shelf: a caution; none where its menu has the line, or the pack sees to it."""
    chosen = {"auxiliary": FROST, "charge": {"cold_c": 5.0}}
    assert levels(**chosen)["settings.cold_unproven"] == "caution"
    known = chosen | {"charger": charger(settings={"lines": [LINE]})}
    assert "settings.cold_unproven" not in levels(**known)
    assert "settings.cold_unproven" not in levels(**chosen | {"auxiliary": FROST | {"low_temperature_cut_off": True}})


@pytest.mark.parametrize("seen", ["2 °C", "5 °C"])
def test_a_cold_stop_read_back_wrong_is_a_stop(seen: str) -> None:
    """Keyed to 5 °C; read as 2 °C it charges frozen lithium."""
    keyed = [{"line": "cold", "value": "5 °C", "keyed": True, "seen": seen}]
    found = levels(auxiliary=FROST, charger=charger(settings={"lines": [LINE]}), keyed=keyed)
    assert found.get("settings.read_back.cold") == ("stop" if seen == "2 °C" else None)
