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


FROST = LFP | {"charge_min_c": 0.0}


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
    for daily_ah, level in ((0.45, "note"), (0.55, "caution")):  # half a per cent a day is a monitor's own error
        small = job(use={"daily_ah": daily_ah}, monitor={"bypassed_by": ["loads"]})
        assert levels(small)["settings.shunt.loads"] == level


def test_drift_by_zero_error_and_trackers() -> None:
    """(20 + 30) mA * 24 h = 1.2 Ah of 100 Ah: 1.2 % a day, 5 % after 4.2 days."""
    design = job(monitor={"unit": {"zero_error_ma": 20.0}, "unmetered_ma": 30.0})
    found = monitor_of(Context.of(design))
    assert found.drift_percent_day == pytest.approx(1.2)
    assert found.days_to_drift == pytest.approx(5 / 1.2)


def test_time_to_go() -> None:
    """80 Ah down to a fifth: by 40 Ah a day 48 h; by a 2 A load that stands on for 12 of 24 h, 80 h; by one of 0.5 A, 320."""
    by_average = monitor_of(Context.of(job(use={"daily_ah": 40.0})))
    assert by_average.hours_by_average == pytest.approx(48.0)
    loads = [{"name": "lamp", "current_a": 2.0, "standing_h": 12.0}]
    assert monitor_of(Context.of(job(use={"loads": loads}))).hours_by_loads == pytest.approx(80.0)
    small = [{"name": "lamp", "current_a": 0.5, "standing_h": 12.0}]
    assert monitor_of(Context.of(job(use={"loads": small}))).hours_by_loads == pytest.approx(320.0)
    assert monitor_of(Context.of(job(use={"daily_ah": 0.5}))).hours_by_average == pytest.approx(3840.0)


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
    assert stopped["survey.cold_stopped"] == "note"
    assert "survey.cold" not in stopped
    assert stopped["settings.cold_days"] in ("note", "caution")


def test_waking_is_gentle_and_ends() -> None:
    """5 A on 100 Ah, every step with what to see, and a moment to stop at."""
    found = climate_of(Context.of(job()))
    assert "5 A" in found.waking[2].do
    assert all(step.see for step in found.waking)
    assert sum(bool(step.stop) for step in found.waking) >= 3


@pytest.mark.parametrize(
    ("least_c", "most_c", "days", "level"),
    [(-3.0, 35.0, 75, "caution"), (1.0, 35.0, 0, None), (-0.02, 40.0, 6, "note"), (-0.0001, 40.0, 0, None)],
)
def test_days_without_charge_are_counted(least_c: float, most_c: float, days: int, level: str | None) -> None:
    """Lithium that stops at 0 °C: over sixty days a year a caution, over one a note; nothing where it is less, or never cold."""
    pack = FROST | {"low_temperature_cut_off": True, "temperature_min_c": least_c, "temperature_max_c": most_c}
    found = {item.id: item for item in assess(job(auxiliary=pack), remedies=False).findings}.get("settings.cold_days")
    assert (found.level if found is not None else None) == level
    report = climate_of(Context.of(job(auxiliary=pack)))
    assert report.days_cold is not None
    assert report.days_cold == pytest.approx(days, abs=1.5)
    assert (report.least_c, report.stops_c) == (0.0, 0.0)


def test_lead_is_charged_in_the_cold() -> None:
    """A unit told to stop at 5 °C for lead is judged by its own value; days of frost are counted for lithium alone."""
    lead = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 100.0}
    cold = {"temperature_min_c": -8.0, "temperature_max_c": 30.0}
    assert "settings.cold_days" not in levels(job(auxiliary=lead | cold, charge={"cold_c": 5.0}))
    assert "settings.cold_days" in levels(job(auxiliary=FROST | cold, charge={"cold_c": 5.0}))
    assert "settings.cold_days" not in levels(job(auxiliary=FROST | {"temperature_max_c": 30.0}))


def test_what_is_told_of_cold_and_heat() -> None:
    """Without both ends of the year it is asked for; with them both counts stand, heat above the chemistry's most."""
    half = climate_of(Context.of(job(auxiliary=LFP | {"temperature_min_c": -8.0})))
    assert (half.days_cold, half.days_hot) == (None, None)
    assert half.text.startswith("Enter the coldest")
    both = climate_of(Context.of(job(auxiliary=FROST | {"temperature_min_c": -8.0, "temperature_max_c": 60.0})))
    assert both.days_hot == pytest.approx(days_above(-8.0, 60.0, both.most_c))
    assert both.days_cold == pytest.approx(days_below(-8.0, 60.0, 0.0))
    assert f"On {both.days_cold:.0f} days a year" in both.text
    limits = LFP | {"charge_min_c": 5.0, "charge_max_c": 40.0, "temperature_min_c": -8.0, "temperature_max_c": 60.0}
    own = climate_of(Context.of(job(auxiliary=limits)))
    assert (own.least_c, own.most_c, own.stops_c) == (5.0, 40.0, None)
    stopped = climate_of(Context.of(job(auxiliary=limits, charge={"cold_c": 8.0})))
    assert stopped.stops_c == 8.0
    assert stopped.days_cold == pytest.approx(days_below(-8.0, 60.0, 8.0))
    assert "the night is under 8 °C and it takes no charge" in stopped.text  # the days of that temperature, not of 5 °C
    hardy = LFP | {"charge_min_c": -10.0, "temperature_min_c": -20.0, "temperature_max_c": 40.0}
    at_freezing = climate_of(Context.of(job(auxiliary=hardy, charge={"cold_c": 0.0})))  # a stop at 0 °C is a stop
    assert at_freezing.days_cold == pytest.approx(days_below(-20.0, 40.0, 0.0))


def test_ways_to_stop_lithium_in_the_cold() -> None:
    """Its own cut-off is to be proven; without one four ways, the unit's only where its menu has it; lead needs none."""
    own = climate_of(Context.of(job(auxiliary=LFP | {"low_temperature_cut_off": True})))
    assert len(own.ways) == 1
    four = climate_of(Context.of(job())).ways
    assert len(four) == 4
    assert "set to stop under 5 °C" in four[0]  # usual of lithium
    assert climate_of(Context.of(Design.model_validate(plain()))).ways == ()


@pytest.mark.parametrize(
    ("nominal_v", "supply", "holds", "over"), [(12, "13.6 V", "10 V", "12 V"), (24, "27.2 V", "20 V", "24 V")]
)
def test_waking_volts_by_the_pack(nominal_v: int, supply: str, holds: str, over: str) -> None:
    """A twentieth of its hours, an ampere at least; volts twice for 24."""
    steps = climate_of(
        Context.of(job(auxiliary=LFP | {"nominal_v": nominal_v, "absorption_v": 14.2 * nominal_v / 12}, charger=None))
    ).waking
    assert supply in steps[2].do
    assert holds in steps[3].see
    assert over in steps[4].see
    small = climate_of(Context.of(job(auxiliary=LFP | {"capacity_ah": 10.0, "charge_limit_a": 5.0}))).waking
    assert "1 A at most" in small[2].do


def test_nothing_noted_of_the_cold_is_asked() -> None:
    """Lithium with neither a cut-off nor a coldest day: a caution, cured by noting either; lead is not asked."""
    plain_pack = levels(job())
    assert plain_pack["settings.cold_unknown"] == "caution"
    for known in ({"low_temperature_cut_off": True}, {"temperature_min_c": 5.0}):
        assert "settings.cold_unknown" not in levels(job(auxiliary=LFP | known))
    assert "settings.cold_unknown" not in levels(job(charge={"cold_c": 5.0}))
    assert "settings.cold_unknown" not in levels(Design.model_validate(plain()))
