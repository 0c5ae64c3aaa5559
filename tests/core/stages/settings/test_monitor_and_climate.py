"""Monitor, cold and heat against sums by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.settings.climate import climate_of, days_above, days_below
from olvask.core.stages.settings.monitor import monitor_of
from tests.designs import plain

LFP = {"chemistry": "lfp", "capacity_ah": 100.0, "charge_limit_a": 50.0, "absorption_v": 14.2}


def job(**changes: Any) -> Design:
    return Design.model_validate(plain(auxiliary=LFP) | changes)


def levels(design: Design) -> dict[str, str]:
    return {item.id: item.level for item in assess(design, remedies=False).findings}


def test_what_goes_past_the_shunt_is_worth_its_day() -> None:
    """30 Ah of loads a day on 100 Ah are 30 %, and 10 mA of zero error 0.24 %: 5 % off within a day."""
    design = job(use={"daily_ah": 30.0}, monitor={"bypassed_by": ["loads"]})
    found = monitor_of(Context.of(design))
    assert found.passed[0].ah_day == pytest.approx(-30.0)
    assert found.drift_percent_day == pytest.approx(30.24)
    assert levels(design)["settings.shunt.loads"] == "caution"


def test_drift_by_zero_error_and_trackers() -> None:
    """(20 + 30) mA * 24 h = 1.2 Ah of 100 Ah: 1.2 % a day, 5 % after 4.2 days."""
    design = job(monitor={"unit": {"zero_error_ma": 20.0}, "unmetered_ma": 30.0})
    found = monitor_of(Context.of(design))
    assert found.drift_percent_day == pytest.approx(1.2)
    assert found.days_to_drift == pytest.approx(5 / 1.2)


def test_time_to_go() -> None:
    """80 Ah down to a fifth: by 40 Ah a day 48 h; by a 2 A load that stands on for 12 of 24 h, 80 h."""
    by_average = monitor_of(Context.of(job(use={"daily_ah": 40.0})))
    assert by_average.hours_by_average == pytest.approx(48.0)
    loads = [{"name": "lamp", "current_a": 2.0, "standing_h": 12.0}]
    assert monitor_of(Context.of(job(use={"loads": loads}))).hours_by_loads == pytest.approx(80.0)


def test_values_to_key_in() -> None:
    """Full a tenth under absorption on lithium, 4 % tail; on lead twice as far under and 85 %."""
    lithium = {item.label: item.value for item in monitor_of(Context.of(job())).values}
    assert lithium["Full from"] == pytest.approx(14.1)
    assert lithium["Charge efficiency"] == 99
    agm = {item.label: item.value for item in monitor_of(Context.of(Design.model_validate(plain()))).values}
    assert agm["Full from"] == pytest.approx(14.2)
    assert agm["Charge efficiency"] == 85


@pytest.mark.parametrize(("shows", "off"), [(50.0, False), (75.0, False), (99.0, True), (3.0, True)])
def test_volts_against_the_count(shows: float, off: bool) -> None:
    """Rested at 13.15 V, 0.12 V either way, lithium holds 23 to 79 %: 50 % fits, 99 % does not."""
    design = job(monitor={"rested_v": 13.15, "shows_percent": shows})
    assert ("settings.monitor_off" in levels(design)) is off


def test_days_below_a_temperature() -> None:
    """Nights from -10 to 22 °C over the year: half are under 6 °C, a third under -2 °C (asin(-1/2) is -30°), none under -11."""
    assert days_below(-10, 30, 6) == pytest.approx(365 / 2)
    assert days_below(-10, 30, -2) == pytest.approx(365 / 3)
    assert days_below(-10, 30, -11) == 0
    assert days_below(-10, 30, 40) == 365
    assert days_above(-10, 30, 14) == pytest.approx(365 / 2)


def test_the_units_own_cold_stop_counts_as_one() -> None:
    """Down to -8 °C with nothing to stop it: a stop. With the unit set to stop at 5 °C: none, but the days are told."""
    cold = LFP | {"temperature_min_c": -8.0, "temperature_max_c": 32.0}
    assert levels(job(auxiliary=cold))["survey.cold"] == "stop"
    stopped = levels(job(auxiliary=cold, charge={"cold_c": 5.0}))
    assert stopped["survey.cold"] == "note"
    assert stopped["settings.cold_days"] in ("note", "caution")


def test_waking_is_gentle_and_ends() -> None:
    """5 A on 100 Ah, every step with what to see, and a moment to stop at."""
    found = climate_of(Context.of(job()))
    assert "5 A" in found.waking[2].do
    assert all(step.see for step in found.waking)
    assert sum(bool(step.stop) for step in found.waking) >= 3
