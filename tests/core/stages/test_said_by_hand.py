"""What a finding, a remedy or a row says, done again by hand, where only a figure of it could be wrong."""

from __future__ import annotations

import math
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.report import report
from olvask.core.stages.match.space import no_room
from olvask.core.stages.wake.existing_link import plan_existing_link
from tests.designs import charger, design, vehicle


def found_in(made: Design) -> dict[str, Finding]:
    """Findings by name, with their remedies."""
    return {item.id: item for item in assess(made).findings}


def test_how_long_surface_charge_keeps_it_on() -> None:
    """It leaks away by exp(−t / 15 min): from 13.0 over 12.6 V rested to a stop at 12.8 V half of it, 10 min."""
    readings = {"rest_v": 12.6, "after_stop_v": 13.0, "idle_v": 13.9, "cruise_v": 14.2}
    rules = {"ways": ["voltage"], "start_v": 13.4, "stop_v": 12.8, "guard_v": 11.8}
    late = found_in(design(vehicle=vehicle(readings=readings), activation=rules))["wake.stops_late"]
    assert f"after about {15 * math.log(2):.0f} min" in late.text


@pytest.mark.parametrize("absorption_v", [14.3, 14.4, 14.6])
def test_absorption_is_lowered_clear_of_the_management(absorption_v: float) -> None:
    """0.2 V under what opens it, at or over its volts as well as near them."""
    pack = {
        "chemistry": "lfp",
        "capacity_ah": 100.0,
        "absorption_v": absorption_v,
        "management": {"high_disconnect_v": 14.4},
    }
    found = found_in(design(auxiliary=pack))
    (near,) = (found[name] for name in ("match.management_near", "match.management_high") if name in found)
    assert [change.value for remedy in near.remedies for change in remedy.changes] == [14.2]


def test_a_rule_that_leads_to_nothing_is_taken_out_alone() -> None:
    """A second start under the engine-off volts: it goes, the first stays."""
    rules = {"ways": ["voltage"], "start_v": 13.4, "quick_start_v": 12.5, "stop_v": 12.9}
    made = design(activation=rules)
    parked = found_in(made)["wake.start_parked.1"]
    out = next(item for item in parked.remedies if item.label == "Take start rule 2 out")
    assert [rule.at_least_v for rule in apply(made, out).activation.start_rules] == [13.4]


@pytest.mark.parametrize(("volts", "odd"), [(20.9, True), (21.1, False), (31.1, False), (31.3, True)])
def test_what_no_24_v_vehicle_shows(volts: float, odd: bool) -> None:
    """Alive it shows 21 to 31.2 V."""
    readings = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": volts}
    made = design(vehicle=vehicle(system_v=24, readings=readings), charger=None)
    assert ("survey.implausible.cruise_v" in found_in(made)) is odd


@pytest.mark.parametrize(("width", "fits"), [(159.0, False), (161.0, True)])
def test_free_air_on_both_sides(width: float, fits: bool) -> None:
    """100 mm and 30 mm either side are 160 mm; in front once, 50 + 30."""
    unit = design(charger=charger(width_mm=100.0, height_mm=60.0, depth_mm=50.0, clearance_mm=30.0)).charger
    assert unit is not None
    for units, height in ((1, 120.0), (2, 210.0)):  # two, one over the other, with as much between them
        place = {"place": "cabin", "width_mm": width, "height_mm": height, "depth_mm": 80.0}
        assert (no_room(unit, design(mount=place).mount, units) == "") is fits


@pytest.mark.parametrize(
    ("keeps", "charging"), [("keep", "alternator through the link"), ("disconnect", "the unit, 25 A")]
)
def test_what_charges_it_afterwards(keeps: str, charging: str) -> None:
    """A link that is kept goes on charging it; else the unit does."""
    made = design(existing=[{"kind": "link"}], old_link={"decision": keeps})
    (row,) = (row for row in plan_existing_link(made).rows if row.name == "Auxiliary battery, charging")
    assert row.before_running.startswith("alternator through the link")
    assert row.after_running.startswith(charging)


def decimals(value: float) -> int:
    """How many are written."""
    return len(repr(float(value)).partition(".")[2])


def test_series_are_rounded_to_what_a_picture_shows() -> None:
    """Tenths of a millivolt, milliamperes, thousandths of a per cent of charge; not more, for a day has a thousand moments."""
    series: Any = report(design(), read_programme("off 2 min\nidle 7 min\ncruise 13 min")).series
    for name, most in (("input_v", 4), ("input_a", 3), ("auxiliary_charge", 5), ("time_s", 3)):
        found = [decimals(value) for value in getattr(series, name)]
        assert max(found) == most if name != "time_s" else max(found) <= most, name


@pytest.mark.parametrize(
    ("nominal_v", "unit"), [(12, {}), (24, {"output_nominal_v": 24, "output_min_v": 23.0, "output_max_v": 31.0})]
)
def test_equalising_at_the_usual_volts_of_the_battery(nominal_v: int, unit: dict[str, Any]) -> None:
    """A charger that equalises at no volts anybody noted: at those of its chemistry, twice as many for 24 V."""
    mains = {"kind": "mains_charger", "charge_a": 15.0, "profile": "flooded", "stages": {"equalise": True}}
    pack = {"chemistry": "lfp", "nominal_v": nominal_v, "capacity_ah": 100.0}
    made = design(auxiliary=pack, existing=[mains], charger=charger(**unit))
    (told,) = (item for name, item in found_in(made).items() if name.startswith("settings.source"))
    assert f"{chemistries()['flooded'].equalise_v * nominal_v / 12:.1f}" in told.text
