"""Sums, banks and readings at the edges of their rules, by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.solve import solve
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.stages.survey.readings import assumed
from olvask.core.stages.survey.sums import NoAnswer, charge_from_rest, days_to_flat, load_average
from tests.designs import design, plain, vehicle


def levels(**changes: Any) -> dict[str, str]:
    """Level by finding."""
    return {item.id: item.level for item in assess(Design.model_validate(plain(**changes)), remedies=False).findings}


def bank(*strings: dict[str, Any], capacity_ah: float, **more: Any) -> dict[str, Any]:
    """An AGM bank of these strings."""
    return {"chemistry": "agm", "capacity_ah": capacity_ah, "absorption_v": 14.4, "strings": list(strings)} | more


class TestSums:
    def test_an_average_of_nothing_is_nothing(self) -> None:
        """80 % before and after, nothing in: 0 A, not one."""
        assert load_average(100.0, 0.8, 0.8, 10.0, 0.0, 0.99).value == pytest.approx(0.0)

    def test_nothing_to_stand_on(self) -> None:
        """It begins at the charge to keep: no days, no answer; a hundredth above it there is one."""
        with pytest.raises(NoAnswer):
            days_to_flat("flooded", 90.0, 0.5, 0.5, 30.0, 0.0, 0.0)
        assert days_to_flat("flooded", 90.0, 0.51, 0.5, 30.0, 0.0, 0.0).alone.value is not None

    def test_an_average_with_charge_in_between(self) -> None:
        """100 Ah from 90 to 70 % with 30 Ah in at 85 %: 45.5 Ah in 10 h, 4.55 A."""
        assert load_average(100.0, 0.9, 0.7, 10.0, 30.0, 0.85).value == pytest.approx(4.55)

    @pytest.mark.parametrize("volts", [9.0, 13.6])
    def test_no_battery_rests_there(self, volts: float) -> None:
        """2.5 V under an empty flooded battery's 11.6, or 0.6 V over a full one's 12.7."""
        with pytest.raises(NoAnswer):
            charge_from_rest("flooded", 12, volts)

    @pytest.mark.parametrize("volts", [9.2, 13.2])
    def test_flat_or_still_lifted(self, volts: float) -> None:
        """Just inside it is answered: flat, or carrying surface charge."""
        found = charge_from_rest("flooded", 12, volts)
        assert (found.low, found.high) == ((0.0, 0.0) if volts < 10 else (1.0, 1.0))

    def test_lithium_says_little(self) -> None:
        """13.1 V, 0.12 V either way, are 20 to 71 %: over a third wide, so it is said; 12.28 V of flooded are 55 to 65 %."""
        assert "says little" in charge_from_rest("lfp", 12, 13.1).text
        flooded = charge_from_rest("flooded", 12, 12.28)
        assert flooded.low == pytest.approx(0.5545, abs=1e-3)
        assert flooded.high == pytest.approx(0.65)
        assert "says little" not in flooded.text

    def test_a_maintainer_that_covers_all(self) -> None:
        """30 mA a day are 0.72 Ah and 5 % a month of 80 Ah 0.133: 24 Ah above 60 % last 28.1 days; 60 Ah spared cover 70.3
        more."""
        daily = 0.03 * 24 + 0.05 * 80 / 30
        kept = days_to_flat("flooded", 80.0, 0.9, 0.6, 30.0, 1.0, 60.0)
        assert kept.alone.value == pytest.approx(24 / daily)
        assert kept.maintained is not None
        assert kept.maintained.value == pytest.approx(60 / daily + 24 / daily)

    def test_a_maintainer_too_small(self) -> None:
        """0.1 A give 2.4 Ah of the 12.13 Ah a day that 500 mA drain; 9.73 Ah a day are short, so 24 Ah last 2.47 days though
        60 Ah would cover 25."""
        daily = 0.5 * 24 + 0.05 * 80 / 30
        kept = days_to_flat("flooded", 80.0, 0.9, 0.6, 500.0, 0.1, 60.0)
        assert kept.maintained is not None
        assert kept.maintained.value == pytest.approx(24 / (daily - 2.4))

    @pytest.mark.parametrize("drain_ma", [5.0, 30.0, 150.0, 800.0])
    @pytest.mark.parametrize("maintainer_a", [0.02, 0.1, 1.0])
    @pytest.mark.parametrize("spared_ah", [0.5, 20.0, 90.0])
    def test_day_by_day_it_comes_to_the_same(self, drain_ma: float, maintainer_a: float, spared_ah: float) -> None:
        """Counted in thousandths of a day: the maintainer gives what it can while there is something to spare."""
        start, spare, days, step = 80.0 * 0.3, spared_ah, 0.0, 1e-3
        wants = (drain_ma / 1000 * 24 + 0.05 * 80 / 30) * step
        while start > 0:
            given = min(wants, maintainer_a * 24 * step, spare)
            start, spare, days = start - wants + given, spare - given, days + step
        kept = days_to_flat("flooded", 80.0, 0.9, 0.6, drain_ma, maintainer_a, spared_ah)
        assert kept.maintained is not None
        assert kept.maintained.value == pytest.approx(days, abs=3 * step, rel=1e-4)

    def test_nothing_drains(self) -> None:
        """With no drain, lithium loses 3 % a month alone: 24 Ah of 80 last 300 days."""
        assert days_to_flat("lfp", 80.0, 0.9, 0.6, 0.0, 0.0, 0.0).alone.value == pytest.approx(24 / (0.03 * 80 / 30))


class TestBank:
    def test_capacity_within_half_a_per_cent(self) -> None:
        """Two of 100 Ah: 199 and 201 are the same, 198.9 is not."""
        two = ({"capacity_ah": 100.0}, {"capacity_ah": 100.0})
        assert "survey.bank_capacity" not in levels(auxiliary=bank(*two, capacity_ah=199.0))
        assert "survey.bank_capacity" not in levels(auxiliary=bank(*two, capacity_ah=201.0))
        assert levels(auxiliary=bank(*two, capacity_ah=198.9))["survey.bank_capacity"] == "caution"

    def test_too_warm_to_charge(self) -> None:
        """AGM up to 50 °C: 50 is right, 51 is not; its maker's 60 outranks that."""
        battery = {"chemistry": "agm", "capacity_ah": 100.0}
        assert "survey.warm" not in levels(auxiliary=battery | {"temperature_max_c": 50.0})
        assert levels(auxiliary=battery | {"temperature_max_c": 51.0})["survey.warm"] == "caution"
        assert "survey.warm" not in levels(auxiliary=battery | {"temperature_max_c": 55.0, "charge_max_c": 60.0})


class TestReadings:
    @pytest.mark.parametrize(("loads_a", "deficit"), [(15.0, False), (71.0, False), (73.0, True)])
    def test_more_loads_than_hot_idle_gives(self, loads_a: float, deficit: bool) -> None:
        """0.6 of 120 A are 72 A."""
        plant = {"rated_a": 120.0, "regulation": "fixed", "hot_idle_share": 0.6, "loads_idle_a": loads_a}
        assert ("survey.idle_deficit" in levels(vehicle=vehicle(alternator=plant))) is deficit

    @pytest.mark.parametrize(("fridge_a", "deficit"), [(56.0, False), (58.0, True)])
    def test_a_fridge_counts_with_them(self, fridge_a: float, deficit: bool) -> None:
        """Six tenths of 120 A are 72 A, the vehicle's own 15 A."""
        fridge = {"kind": "fridge_feed", "charge_a": fridge_a}
        assert ("survey.idle_deficit" in levels(existing=[fridge])) is deficit

    def test_a_converter_is_not_held_against_a_regulator(self) -> None:
        """14.8 V are more than a fixed regulator's 14.6 V; a converter may hold 15.0 V."""
        high = self.read(cruise_v=14.8)
        assert levels(vehicle=high)["survey.regulation.cruise_v"] == "caution"
        assert "survey.regulation.cruise_v" not in levels(vehicle=high | {"drive": "converter"})

    def test_what_is_only_assumed(self) -> None:
        """A low phase nobody measured on a managed alternator; one that was, none where there is none."""
        managed = {"rated_a": 150.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6}

        def names(**changes: Any) -> tuple[str, ...]:
            made = design(**changes)
            return assumed(made, solve(made))

        assert "low phase volts" in names(vehicle=vehicle(alternator=managed))
        assert "low phase volts" not in names(vehicle=self.read(low_phase_v=12.8) | {"alternator": managed})
        assert "low phase volts" not in names()

    def read(self, **readings: float) -> dict[str, Any]:
        whole = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2} | readings
        return vehicle(readings=whole)

    def test_a_low_phase_is_held_against_the_lower_of_the_others(self) -> None:
        """13.95 V stand above hot idle's 13.9 V: not low, though under cruise's 14.2 V."""
        assert levels(vehicle=self.read(low_phase_v=13.95))["survey.low_phase_high"] == "caution"
        assert "survey.low_phase_high" not in levels(vehicle=self.read(low_phase_v=13.85))

    def test_two_readings_within_a_fiftieth_of_a_volt_are_the_same(self) -> None:
        """0.01 V under the rest after stopping is a meter's last digit; 0.03 V is two readings swapped."""
        assert "survey.after_stop_low" not in levels(vehicle=self.read(after_stop_v=12.59))
        assert levels(vehicle=self.read(after_stop_v=12.57))["survey.after_stop_low"] == "caution"

    def test_a_cruise_that_was_read_is_held_against_the_rest(self) -> None:
        """12.6 V at cruise is not above 12.6 V rested; a cruise that nobody read accuses nobody."""
        assert levels(vehicle=self.read(cruise_v=12.6))["survey.cruise_not_charging"] == "caution"
        assert "survey.cruise_not_charging" not in levels(vehicle=self.read(cruise_v=12.65))
        unread = {"rest_v": 14.5, "after_stop_v": 14.5, "idle_v": 13.9}
        assert "survey.cruise_not_charging" not in levels(vehicle=vehicle(readings=unread))

    def test_no_lead_rests_at_13_volts(self) -> None:
        """13.1 V rested is lifted, or no lead; 13.05 V may be."""
        for rest_v, told in ((13.05, False), (13.1, True), (13.4, True)):
            assert ("survey.rest_high" in levels(vehicle=self.read(rest_v=rest_v, after_stop_v=rest_v + 0.1))) is told


@pytest.mark.parametrize(("rest_v", "told"), [(12.6, True), (12.94, True), (12.96, False), (13.3, False)])
def test_lithium_that_rests_as_lead_does_is_nearly_empty(rest_v: float, told: bool) -> None:
    """Under 12.95 V a lithium start battery holds less than a fifth, or is none; above that its volts say nothing."""
    start = {"chemistry": "lfp", "capacity_ah": 60.0}
    readings = {"rest_v": rest_v, "after_stop_v": rest_v, "idle_v": 13.9, "cruise_v": 14.2}
    found = levels(vehicle=vehicle(start_battery=start, readings=readings))
    assert ("survey.start_low" in found) is told
    assert "survey.rest_high" not in found


@pytest.mark.parametrize(
    ("reading", "volts", "found"),
    [
        ("idle_v", 12.6, "survey.idle_not_charging"),
        ("idle_v", 12.75, None),
        ("cruise_v", 12.6, "survey.cruise_not_charging"),
        ("cruise_v", 12.75, None),
    ],
)
def test_running_volts_lie_above_rested_ones(reading: str, volts: float, found: str | None) -> None:
    """Equal to the 12.6 V rested they do not charge; a little above they may."""
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2} | {reading: volts}
    told = {name for name in levels(vehicle=vehicle(readings=readings)) if name.endswith("_not_charging")}
    assert told == ({found} if found else set())


@pytest.mark.parametrize(
    ("drive", "there", "ways", "found"),
    [
        ("converter", True, ["voltage"], {"survey.d_plus_converter"}),
        ("converter", False, ["voltage"], set()),
        ("engine", True, ["voltage"], set()),
        ("engine", True, ["d_plus"], {"survey.d_plus_unproven"}),
        ("converter", True, ["d_plus"], {"survey.d_plus_converter"}),
    ],
)
def test_where_a_charge_indicator_can_be(drive: str, there: bool, ways: list[str], found: set[str]) -> None:
    """A converter has none; on a managed alternator one that starts the unit is to be measured."""
    managed = {"rated_a": 180.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6, "sag_mohm": 2.0}
    there_is = vehicle(drive=drive, alternator=managed, signals={"ignition": True, "d_plus": there})
    told = levels(vehicle=there_is, activation={"ways": ways})
    assert {name for name in told if name.startswith("survey.d_plus")} == found


def test_nothing_is_left_on_the_road() -> None:
    """Nine tenths of 120 A; a converter gives all of it."""
    for loads_a, drive, deficit in (
        (108.0, "engine", False),
        (108.5, "engine", True),
        (119.0, "converter", False),
        (120.5, "converter", True),
    ):
        plant = {
            "rated_a": 120.0,
            "regulation": "fixed",
            "loads_idle_a": 15.0,
            "loads_cruise_a": loads_a,
            "hot_idle_share": 0.6,
        }
        assert ("survey.cruise_deficit" in levels(vehicle=vehicle(alternator=plant, drive=drive))) is deficit, loads_a


def test_a_charge_indicator_that_cannot_be_is_taken_out() -> None:
    """The remedy of a D+ noted on a hybrid leaves none, and nothing more is said of it."""
    made = design(vehicle=vehicle(drive="converter", signals={"ignition": True, "d_plus": True}))
    (said,) = [item for item in assess(made).findings if item.id == "survey.d_plus_converter"]
    mended = apply(made, said.remedies[0])
    assert not mended.vehicle.signals.d_plus
    assert not [item for item in assess(mended).findings if item.id.startswith("survey.d_plus")]
