"""Whether a unit belongs here, what a plain link would do instead, and the current it is set to: edges worked by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.stages.match.direct_link import contrast_link, link_current_a
from olvask.core.stages.match.isolation import common_negative
from tests.designs import charger, design, vehicle

READINGS_24 = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": 28.4}
BODY = {"kind": "chassis", "resistance_mohm": 3.0}


def findings(**changes: Any) -> dict[str, Finding]:
    """Findings by name."""
    return {item.id: item for item in assess(design(**changes)).findings}


def chassis(**changes: Any) -> dict[str, Any]:
    """A vehicle with another body."""
    return {"vehicle": vehicle(chassis=changes)}


@pytest.mark.parametrize(
    ("body", "proven", "words"),
    [
        ({"body": "metal_bonded"}, True, "metal and bonded"),
        ({"body": "mixed"}, False, "not measured"),
        ({"body": "boat"}, False, "a boat"),
        ({"body": "unknown"}, False, "bonding is not known"),
        ({"body": "mixed", "bonding_mohm": 10.0}, True, "10.0 mΩ"),
        ({"body": "metal_bonded", "bonding_mohm": 10.1}, False, "10.1 mΩ"),
        ({"body": "mixed", "bonding_mohm": 2400.0}, False, "2.4 Ω"),
        ({"body": "mixed", "bonding_mohm": 999.0}, False, "999.0 mΩ"),
        ({"body": "mixed", "bonding_mohm": 1000.0}, False, "1.0 Ω"),
        ({"body": "metal_bonded", "bonding_mohm": 2.0, "trailer": True}, False, "on a trailer"),
    ],
)
def test_what_proves_a_common_negative(body: dict[str, Any], proven: bool, words: str) -> None:
    """Ten milliohms measured, or a bonded metal body; never the coupling of a trailer."""
    found, evidence = common_negative(Design.model_validate(design(**chassis(**body)).model_dump(mode="json")))
    assert found is proven
    assert words in evidence
    assert assess(design(**chassis(**body))).figures["match.isolation_needed"].value == (0.0 if proven else 1.0)


@pytest.mark.parametrize(
    ("body", "isolated", "finding", "title"),
    [
        ("metal_bonded", True, "match.isolation", "Isolated, though not needed"),
        ("mixed", True, "match.isolation", "Isolated unit is right here"),
        ("metal_bonded", False, "match.isolation", "Non-isolated unit is right here"),
        ("mixed", False, "match.isolated_wanted", "An isolated unit belongs here"),
    ],
)
def test_isolated_or_not(body: str, isolated: bool, finding: str, title: str) -> None:
    """Only a shared negative where none is proven is cautioned against."""
    found = findings(**chassis(body=body), charger=charger(isolated=isolated))
    assert found[finding].title == title
    assert found[finding].level == ("caution" if finding == "match.isolated_wanted" else "note")
    assert len({"match.isolation", "match.isolated_wanted"} & set(found)) == 1


@pytest.mark.parametrize("runs", [("supply",), ("delivery",), ("supply", "delivery")])
def test_a_return_by_a_body_that_proves_nothing(runs: tuple[str, ...]) -> None:
    """A stop, and the remedy gives each of those runs its own cable; on a bonded body it is well."""
    plain = design()
    changes = {run: plain.run(run).model_dump(mode="json") | {"back": BODY} for run in runs}  # type: ignore[arg-type]
    found = findings(**changes, **chassis(body="mixed"))["match.no_common_negative"]
    assert found.level == "stop"
    assert [change.path for change in found.remedies[0].changes] == [f"{run}.back" for run in runs]
    assert "match.no_common_negative" not in findings(**changes)


def test_nominal_volts_and_kinds() -> None:
    """24 V in or out where there are 12, and a converter in place of a charger, are stops; the sound job has none."""
    assert not {"match.input_voltage", "match.output_voltage", "match.converter"} & set(findings())
    into = charger(settable=None, input_nominal_v=24, input_min_v=18.0, input_max_v=34.0)
    assert findings(charger=into)["match.input_voltage"].level == "stop"
    out = charger(output_nominal_v=24, output_min_v=23.0, output_max_v=31.0)
    assert findings(charger=out)["match.output_voltage"].level == "stop"
    assert findings(charger=charger(kind="converter"))["match.converter"].level == "stop"


def test_stepping_up_draws_more_than_its_ratio() -> None:
    """10 A at 24 V are 20 A by the ratio alone, and some 24 at the input; nothing of it where it does not step up."""
    battery = {"chemistry": "agm", "nominal_v": 24, "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 28.8}
    up = charger(output_nominal_v=24, output_min_v=23.0, output_max_v=31.0, output_a=10.0)
    found = findings(auxiliary=battery, charger=up)["match.step_up"]
    drawn = [
        state.drawn.current_a
        for state in Context.of(design(auxiliary=battery, charger=up)).solved.running
        if state.drawn is not None
    ]
    assert f"10.0 A at 24 V is not 20 A but {max(drawn):.1f} A" in found.text
    assert "match.step_up" not in findings()


def test_absorption_within_the_units_reach_and_the_chemistrys_range() -> None:
    """Reach: ends belong to it. Range: the table's highest; above it only a datasheet or a measurement is believed."""

    def with_v(volts: float, **changes: Any) -> dict[str, Finding]:
        battery = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0}
        return findings(auxiliary=battery | {"absorption_v": volts}, **changes)

    reach = {"charger": charger(output_min_v=13.0, output_max_v=14.4)}
    assert "match.absorption_range" not in with_v(14.4, **reach)
    assert with_v(14.5, **reach)["match.absorption_range"].level == "stop"
    assert "match.absorption_range" not in with_v(13.0, **reach)
    assert "match.absorption_range" in with_v(12.9, **reach)
    highest_v = chemistries()["agm"].absorption_max_v
    assert "match.absorption_high" not in with_v(highest_v)
    assert with_v(highest_v + 0.05)["match.absorption_high"].level == "caution"
    for origin in ("datasheet", "measured"):
        assert "match.absorption_high" not in with_v(highest_v + 0.05, provenance={"auxiliary.absorption_v": origin})


LITHIUM = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0}


class TestLink:
    def test_a_plain_link_by_ohms_law(self) -> None:
        """13.9 V against a battery a fifth full, through the runs, the source's sag and the battery's own resistance."""
        ctx = Context.of(design())
        amps, battery_v, battery_ohm = link_current_a(ctx.design, ctx.solved, 0.010)
        assert battery_ohm == pytest.approx(chemistries()["agm"].resistance_ohm_ah / 110)
        assert amps == pytest.approx((13.9 - battery_v) / (0.010 + 0.002 + battery_ohm))
        found = contrast_link(ctx)
        assert found is not None
        assert found.laid
        assert found.alternator_percent == pytest.approx(100 * (found.link_a + 15) / 120)
        # Budget at hot idle: 0.8 · (0.6 · 120 − 15) = 45.6 A on average; after its first rush the AGM takes its 30 A.
        assert found.link_a > 45.6
        assert (found.duty, found.managed_a) == (1.0, 30.0)
        lithium = contrast_link(Context.of(design(auxiliary=LITHIUM)))
        assert lithium is not None
        assert lithium.link_a > 45.6
        assert lithium.duty == pytest.approx(45.6 / lithium.link_a)
        assert lithium.managed_a == pytest.approx(45.6)

    def test_a_lead_bank_that_takes_more_than_the_budget_rests(self) -> None:
        """90 A of a 300 Ah bank where 45.6 A are to spare: on for half the time; that is over what hot idle leaves."""
        bank = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 300.0, "charge_limit_a": 90.0}
        found = contrast_link(Context.of(design(auxiliary=bank)))
        assert found is not None
        assert found.link_a > 90.0
        assert found.duty == pytest.approx(45.6 / 90.0)
        assert any("takes 90 A where hot idle leaves 57 A" in risk for risk in found.risks)

    @pytest.mark.parametrize(("idle_v", "cruise_v", "filled"), [(14.4, 14.4, True), (13.9, 14.2, False)])
    def test_what_is_never_filled(self, idle_v: float, cruise_v: float, filled: bool) -> None:
        """An AGM bank that wants 14.4 V, and gets them or 14.2."""
        bank = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 14.4}
        readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": idle_v, "cruise_v": cruise_v}
        found = contrast_link(Context.of(design(auxiliary=bank, vehicle=vehicle(readings=readings))))
        assert found is not None
        assert any("never filled" in risk for risk in found.risks) is not filled

    def test_a_link_within_the_budget_is_on_all_the_time(self) -> None:
        """A long thin way passes little: no rests are needed, and it stays below what hot idle leaves."""
        far = design(supply={"pieces": [{"kind": "cable", "size": "6 mm²", "length_m": 12.0, "place": "cabin"}]})
        found = contrast_link(Context.of(far))
        assert found is not None
        assert found.link_a < 30.0
        assert (found.duty, found.managed_a) == (1.0, found.link_a)
        assert not any("hot idle leaves" in risk for risk in found.risks)

    def test_what_a_link_risks(self) -> None:
        """Over what hot idle leaves; a lithium pack's surge; never full where the alternator stays under absorption."""
        strong = contrast_link(Context.of(design()))
        assert strong is not None
        assert not any("hot idle leaves" in risk for risk in strong.risks)  # its 30 A are below
        assert not any("lithium" in risk for risk in strong.risks)
        pack = contrast_link(Context.of(design(auxiliary=LITHIUM)))
        assert pack is not None
        assert any("lithium" in risk for risk in pack.risks)
        managed = {"rated_a": 120.0, "regulation": "managed", "loads_idle_a": 15.0, "hot_idle_share": 0.6}
        low = contrast_link(Context.of(design(vehicle=vehicle(alternator=managed))))
        assert low is not None
        assert any("low phase" in risk for risk in low.risks)
        assert not any("low phase" in risk for risk in strong.risks)

    def test_no_link_joins_12_and_24_volts(self) -> None:
        """Nothing to contrast."""
        assert (
            contrast_link(Context.of(design(vehicle=vehicle(system_v=24, readings=READINGS_24), charger=None))) is None
        )


class TestCurrent:
    def test_more_than_the_battery_takes(self) -> None:
        """25 A into 25 A is as much as it may take; into 24.9 A too much, and turning down is offered."""
        battery = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "absorption_v": 14.4}
        assert "match.battery_limit" not in findings(auxiliary=battery | {"charge_limit_a": 25.0})
        found = findings(auxiliary=battery | {"charge_limit_a": 24.9})["match.battery_limit"]
        assert found.level == "stop"
        assert found.remedies[0].label == "Turn the unit down to 24.9 A"
        two = findings(auxiliary=battery | {"charge_limit_a": 40.0}, units=2)["match.battery_limit"]
        assert two.remedies[0].label == "Turn each unit down to 20 A"

    @pytest.mark.parametrize(
        ("record", "setting_a", "words"),
        [
            ({}, 25.0, None),
            ({}, 25.5, "gives 25 A at most"),
            ({}, 4.0, "5 to 25 A"),
            ({}, 5.0, None),
            ({"current_limit": "none"}, 20.0, "no current limit at all"),
            ({"current_limit": "steps", "limit_steps_a": [10.0, 20.0]}, 15.0, "steps of 10, 20 A"),
            ({"current_limit": "steps", "limit_steps_a": [10.0, 20.0]}, 20.0, None),
        ],
    )
    def test_what_it_can_be_set_to(self, record: dict[str, Any], setting_a: float, words: str | None) -> None:
        """Within its range, or on one of its steps."""
        found = findings(charger=charger(**record), current_limit_a=setting_a).get("match.setting")
        assert (found is not None) is (words is not None)
        if found is not None:
            assert words is not None
            assert words in found.text
            assert found.level == "stop"

    def test_heat_costs_current_or_leaves_none(self) -> None:
        """2.5 % a kelvin over 40 °C: a fifth at 48 °C, all at 80 °C; cooler places are offered, its own is not."""

        def at(celsius: float) -> Finding | None:
            mount = {"place": "engine_bay", "ambient_c": celsius}
            record = charger(derating_percent_per_k=2.5, rated_ambient_c=40.0)
            return findings(charger=record, mount=mount).get("match.heat")

        assert at(40.0) is None
        warm, hot = at(48.0), at(80.0)
        assert warm is not None
        assert hot is not None
        assert (warm.level, hot.level) == ("caution", "stop")
        assert "gives 20.0 A of 25 A, 20 % less" in warm.text
        assert any(remedy.label == "Mount it in the cabin" for remedy in hot.remedies)
        assert not any("engine" in remedy.label for remedy in hot.remedies)

    def test_several_units_are_named_together(self) -> None:
        """Two of 25 A: 50 A together."""
        assert "Together 50.0 A" in findings(units=2)["match.parallel"].text
        assert "match.parallel" not in findings()


@pytest.mark.parametrize(("hours", "title"), [(8.0, "empties"), (0.5, "draws on")])
def test_a_converter_standing_takes_from_the_start_battery(hours: float, title: str) -> None:
    """300 W for eight hours are more than is above the charge to crank with; for half an hour some of it."""
    load = {"id": "saw", "name": "saw", "power_w": 300.0, "fed": "converter", "standing_h": hours}
    found = findings(use={"loads": [load]})["match.appliance_parked.saw"]
    assert title in found.title
    assert found.level == ("stop" if title == "empties" else "caution")


def test_two_that_would_not_empty_it_alone_do_so_together() -> None:
    """Each of two converters takes a third of the start battery, half is above the charge to crank with: both are stops."""
    loads = [
        {"id": name, "name": name, "power_w": 90.0, "fed": "converter", "standing_h": 3.0} for name in ("saw", "kettle")
    ]
    start = {"chemistry": "flooded", "capacity_ah": 80.0}
    changes: dict[str, Any] = {"vehicle": vehicle(start_battery=start), "choices": {"keep_state_of_charge": 0.5}}
    both = findings(use={"loads": loads}, **changes)
    one = findings(use={"loads": loads[:1]}, **changes)
    assert one["match.appliance_parked.saw"].level == "caution"
    for name in ("saw", "kettle"):
        found = both[f"match.appliance_parked.{name}"]
        assert (found.level, found.title) == ("stop", f"The {name} helps to empty the start battery")
        assert "with all that converters feed" in found.text
