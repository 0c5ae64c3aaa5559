"""Judgement, case by case with its reason: what must speak and how gravely, and good work that must not be stopped.

The cases of `simulate/test_scenarios.py` speak too; these are what passed in silence once, or was called wrong.
"""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.analyses.managed_link import managed_link
from olvask.core.analyses.week import week_of
from olvask.core.assess import assess
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.solve import solve
from olvask.core.model import Cable
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.trip import drive
from olvask.core.stages.wake.method import advise
from olvask.core.stages.wake.wiring import signal_wire
from tests.core.simulate.test_scenarios import CASES
from tests.designs import cable, charger, design, fuse, vehicle

LITHIUM = {
    "chemistry": "lfp",
    "nominal_v": 12,
    "capacity_ah": 200.0,
    "charge_limit_a": 100.0,
    "low_temperature_cut_off": True,
}
MANAGED = {"rated_a": 180.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6, "sag_mohm": 2.0}
PLUG = {"kind": "joint", "form": "plug", "name": "trailer plug", "resistance_mohm": 0.5}
LINK = {"kind": "link", "name": "old relay"}


def on(**changes: Any) -> dict[str, Any]:
    """Vehicle changes."""
    return {"vehicle": vehicle(**changes)}


def lithium(**changes: Any) -> dict[str, Any]:
    return {"auxiliary": LITHIUM | changes, "delivery": {"pieces": [cable("16 mm²", 1.5), fuse(40.0, "class_t")]}}


def fan(**changes: Any) -> dict[str, Any]:
    """A fan off the supply run, 0.4 A on a 1.5 mm² tail with a 5 A blade."""
    branch = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 0.4, "device": fuse(5.0, "blade")} | changes
    return {"supply": {"pieces": [fuse(60.0), cable(), branch, cable()]}}


def by_converter(power_w: float, **load: Any) -> dict[str, Any]:
    """An appliance fed from the engine side by a plain converter."""
    return {"use": {"loads": [{"id": "l1", "name": "drug safe", "power_w": power_w, "fed": "converter"} | load]}}


def behind_a_plug(**activation: Any) -> dict[str, Any]:
    """A unit in a trailer, allowed by the ignition feed."""
    pieces = [fuse(60.0), cable("16 mm²", 2.0), PLUG, cable("16 mm²", 1.0)]
    return {"supply": {"pieces": pieces}, "activation": {"ways": ["ignition", "voltage"]} | activation}


# Reason, changes of the sound job, finding, level.
SPEAKS: list[tuple[str, dict[str, Any], str, str]] = [
    ("a 20 A stud cannot feed 29 A", on(source_point={"kind": "fused_stud", "rating_a": 20.0}), "match.stud_small", "stop"),
    ("29 A through a 35 A stud is over 80 %", on(source_point={"kind": "fused_stud", "rating_a": 35.0}), "match.stud_tight", "caution"),
    ("a stud nobody has read", on(source_point={"kind": "fused_stud"}), "match.stud_unknown", "caution"),
    ("a 50 A stud above a 60 A device", on(source_point={"kind": "fused_stud", "rating_a": 50.0}), "match.stud_order", "caution"),
    ("60 W by converter for five hours standing are 27 of the 36 Ah above what is kept", by_converter(60.0, standing_h=5.0), "match.appliance_parked.l1", "caution"),
    ("600 W by converter overnight empty the start battery", by_converter(600.0, standing_h=8.0), "match.appliance_parked.l1", "stop"),
    ("60 W by converter while driving: what it is laid with", by_converter(60.0, driving=True), "match.appliance.l1", "note"),
    ("8 kW are no converter's feed", by_converter(8000.0, driving=True), "match.appliance.l1", "caution"),
    ("an ignition feed to a unit behind a plug without a contact for it", behind_a_plug(), "wake.plug_contact.ignition", "caution"),
    ("15.0 V float on lithium", lithium(float_v=15.0), "settings.float_high", "stop"),
    ("14.2 V float where its management opens at just that", lithium(float_v=14.2, absorption_v=14.2, management={"high_disconnect_v": 14.2}), "settings.float_high", "stop"),
    ("13.9 V float on lithium ages it", lithium(float_v=13.9), "settings.float_high", "caution"),
    ("13.0 V absorption on lithium never fills it", lithium(absorption_v=13.0), "settings.absorption_low", "stop"),
    ("13.7 V absorption on lithium stays short", lithium(absorption_v=13.7), "settings.absorption_low", "caution"),
    ("15.2 V absorption on lithium", lithium(absorption_v=15.2), "settings.absorption_high", "stop"),
    ("14.8 V absorption on AGM is a tenth over", {"auxiliary": {"chemistry": "agm", "capacity_ah": 110.0, "absorption_v": 14.8}}, "settings.absorption_high", "caution"),
    ("15.5 V absorption on gel", {"auxiliary": {"chemistry": "gel", "capacity_ah": 110.0, "absorption_v": 15.5}}, "settings.absorption_high", "stop"),
    ("12.9 V float does not hold AGM", {"auxiliary": {"chemistry": "agm", "capacity_ah": 110.0, "float_v": 12.9}}, "settings.float_low", "caution"),
    ("14.5 V float boils flooded cells", {"auxiliary": {"chemistry": "flooded", "capacity_ah": 110.0, "float_v": 14.5}}, "settings.float_high", "stop"),
    ("60 A set on a 25 A unit", {"current_limit_a": 60.0}, "match.setting", "stop"),
    ("2 A set where 5 A is the least", {"current_limit_a": 2.0}, "match.setting", "stop"),
    ("160 Ah a day on an hour's drive", {"use": {"daily_ah": 160.0, "drive_h": 1.0}}, "match.week", "caution"),
    ("copper-clad aluminium", {"supply": {"pieces": [fuse(60.0), cable(metal="cca")]}}, "run.cca.c1", "caution"),
    ("D+ taken for granted on a managed alternator", on(alternator=MANAGED) | {"activation": {"ways": ["d_plus"]}}, "survey.d_plus_unproven", "caution"),
    ("the return bypasses the battery sensor", on(start_battery={"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": True}), "survey.negative_sensor", "caution"),
    ("lithium, no cut-off, no temperature", lithium(low_temperature_cut_off=False), "settings.cold_unknown", "caution"),
    ("lithium at -5 °C without a cut-off", lithium(low_temperature_cut_off=False, temperature_min_c=-5.0), "survey.cold", "stop"),
    ("lithium at 3 °C: some makers allow it", lithium(low_temperature_cut_off=False, temperature_min_c=3.0), "survey.cold", "caution"),
    ("lithium at 3 °C whose maker says 5", lithium(low_temperature_cut_off=False, temperature_min_c=3.0, charge_min_c=5.0), "survey.cold", "stop"),
    ("always on by a bridge", {"activation": {"ways": ["bridge"]}}, "wake.guard_alone.bridge", "caution"),
    ("a switch somebody forgets", {"activation": {"ways": ["switch"]}}, "wake.guard_alone.switch", "caution"),
    ("a guard without a hold trips on every crank", {"activation": {"guard_held_s": 0.0}}, "wake.guard_hold_short", "caution"),
    ("a guard that waits five minutes", {"activation": {"guard_held_s": 300.0}}, "wake.guard_hold_long", "caution"),
    ("a stop that waits an hour", {"activation": {"stop_held_s": 3600.0}}, "wake.stop_hold_long", "caution"),
    ("a start that waits half an hour", {"activation": {"start_held_s": 1800.0}}, "wake.start_hold_long", "caution"),
    ("a start battery resting at 12.0 V", on(readings={"rest_v": 12.0, "after_stop_v": 12.1, "idle_v": 13.9, "cruise_v": 14.2}), "survey.start_low", "caution"),
    ("management that opens at 13.0 V", lithium(management={"low_disconnect_v": 13.1}), "match.management_low", "caution"),
    ("absorption a tenth under the disconnect", lithium(absorption_v=14.2, management={"high_disconnect_v": 14.3}), "match.management_near", "caution"),
    ("70 °C air takes three quarters of it", {"mount": {"place": "engine_bay"}}, "match.heat", "caution"),
    ("80 °C air leaves nothing", {"mount": {"place": "engine_bay", "ambient_c": 80.0}}, "match.heat", "stop"),
    ("two units on one tail", {"units": 2, "charger": charger(output_a=12.0)}, "run.shared_tail.supply", "caution"),
    ("flooded cells in the cabin", {"auxiliary": {"chemistry": "flooded", "capacity_ah": 110.0, "place": "cabin"}}, "survey.venting", "stop"),
    ("flooded cells nobody knows where", {"auxiliary": {"chemistry": "flooded", "capacity_ah": 110.0}}, "survey.venting_unknown", "caution"),
    ("D+ and 15 at one input", {"activation": {"ways": ["d_plus", "ignition"]}}, "wake.two_signals", "caution"),
    ("a bridge across the switch", {"activation": {"ways": ["switch", "bridge"]}}, "wake.bridged_switch", "caution"),
    ("a switch that a bridge makes one", {"activation": {"ways": ["switch", "bridge"]}}, "wake.guard_alone.bridge", "caution"),
    ("a key and a stop that is never met", {"activation": {"ways": ["ignition", "voltage"], "stop_v": 12.3}}, "wake.never_stops", "caution"),
    ("a start under the parked volts beside D+", {"activation": {"ways": ["d_plus", "voltage"], "start_v": 12.6, "stop_v": 12.4}}, "wake.signal_tells", "note"),
    ("a link kept on a managed alternator", on(alternator=MANAGED) | {"existing": [LINK], "old_link": {"decision": "keep"}, "charger": None}, "survey.link_on_managed", "caution"),
    ("a link kept beside the unit", {"existing": [LINK], "old_link": {"decision": "keep"}}, "survey.link_beside_unit", "stop"),
    ("a 24 V link to a 12 V battery", on(system_v=24, readings={}) | {"existing": [LINK], "old_link": {"decision": "keep"}, "charger": None}, "survey.link_voltages", "stop"),
    ("two links of which one is planned", {"existing": [LINK, {"kind": "panel", "name": "panel"}]}, "survey.two_links", "caution"),
    ("D+ noted in a hybrid", on(drive="converter"), "survey.d_plus_converter", "caution"),
    ("29 A through a 25 A plug", {"supply": {"pieces": [fuse(60.0), cable(), PLUG | {"rating_a": 25.0}, cable()]}}, "run.plug.j1", "stop"),
    ("29 A through a 35 A plug is over 80 %", {"supply": {"pieces": [fuse(60.0), cable(), PLUG | {"rating_a": 35.0}, cable()]}}, "run.plug_tight.j1", "caution"),
    ("a 5 A blade on a 4.5 A fan runs warm", fan(current_a=4.5), "protect.branch_tight.b1", "caution"),
    ("a stop between rested and just after stopping", on(readings={"rest_v": 12.5, "after_stop_v": 12.9, "idle_v": 13.9, "cruise_v": 14.2}) | {"activation": {"stop_v": 12.7, "start_v": 13.3}}, "wake.stops_late", "caution"),
]  # fmt: skip


@pytest.mark.parametrize(("changes", "id", "level"), [case[1:] for case in SPEAKS], ids=[case[0] for case in SPEAKS])
def test_it_speaks(changes: dict[str, Any], id: str, level: str) -> None:
    """The finding is there, at its level, and says why in numbers or plain words."""
    found = {item.id: item for item in assess(design(**changes), remedies=False).findings}
    assert id in found, sorted(found)
    assert found[id].level == level
    assert len(found[id].text) > 30


# Good work of many kinds: nothing of it is stopped.
GOOD: list[tuple[str, dict[str, Any]]] = [
    ("the plain job", {}),
    ("by D+", {"activation": {"ways": ["d_plus"]}}),
    ("by ignition", {"activation": {"ways": ["ignition"]}}),
    ("by ignition and voltage", {"activation": {"ways": ["ignition", "voltage"]}}),
    ("by D+ and voltage", {"activation": {"ways": ["d_plus", "voltage"]}}),
    ("by a switch beside D+", {"activation": {"ways": ["d_plus", "switch"]}}),
    ("lithium at 14.0 V, the gentler school", lithium(absorption_v=14.0)),
    ("lithium at 14.4 V", lithium(absorption_v=14.4)),
    ("lithium with a storage float", lithium(float_v=13.4)),
    ("lithium at 3 °C with a cut-off", lithium(temperature_min_c=3.0)),
    ("lithium whose maker allows 0 °C", lithium(low_temperature_cut_off=False, temperature_min_c=2.0, charge_min_c=0.0)),
    ("flooded in a vented box", {"auxiliary": {"chemistry": "flooded", "capacity_ah": 150.0, "place": "vented_box"}}),
    ("AGM in the cabin", {"auxiliary": {"chemistry": "agm", "capacity_ah": 110.0, "place": "cabin"}}),
    ("gel at its own volts", {"auxiliary": {"chemistry": "gel", "capacity_ah": 150.0, "absorption_v": 14.2}}),
    ("AGM kept to the maker's 14.7 V", {"auxiliary": {"chemistry": "agm", "capacity_ah": 110.0, "absorption_v": 14.7}}),
    ("50 A of fuse at the delivery end", {"delivery": {"pieces": [cable("16 mm²", 1.5), fuse(50.0)]}}),
    ("a 40 A fuse on 29 A", {"supply": {"pieces": [fuse(40.0), cable()]}}),
    ("a 60 A fuse on 29 A over 25 mm²", {"supply": {"pieces": [fuse(60.0), cable("25 mm²", 2.0)]}}),
    ("16 mm² over three metres", {"supply": {"pieces": [fuse(50.0), cable("16 mm²", 3.0)]}}),
    ("4 AWG over two metres", {"supply": {"pieces": [fuse(50.0), cable("4 AWG", 2.0)]}}),
    ("a bus bar near the unit and a tail", {"supply": {"pieces": [fuse(60.0), cable("35 mm²", 3.0), {"kind": "joint", "form": "bus_bar", "name": "bar"}, cable("25 mm²", 0.3)]}}),
    ("a measured chassis return", {"supply": {"pieces": [fuse(60.0), cable()], "back": {"kind": "chassis", "resistance_mohm": 2.0}}}),
    ("a non-isolated unit on a bonded body", {"charger": charger(isolated=False)}),
    ("a plug of 50 A", {"supply": {"pieces": [fuse(60.0), cable(), PLUG | {"rating_a": 50.0}, cable()]}}),
    ("a 0.4 A fan on an inline blade, the run's fuse above it", fan()),
    ("a fused stud of 60 A", on(source_point={"kind": "fused_stud", "rating_a": 60.0})),
    ("the alternator's stud", on(source_point={"kind": "alternator_stud"})),
    ("turned down to 18 A", {"current_limit_a": 18.0}),
    ("a warm cupboard that costs a little", {"mount": {"place": "cupboard", "ambient_c": 45.0}}),
    ("a small panel on its own controller", {"solar": {"panel_w": 60.0, "into": "controller"}}),
    ("a mains charger set for the battery", {"existing": [{"kind": "mains_charger", "charge_a": 15.0, "profile": "agm"}]}),
    ("an old link disconnected", {"existing": [LINK], "old_link": {"decision": "disconnect"}}),
    ("an old built-in charger cut off", {"existing": [{"kind": "built_in_charger", "charge_a": 10.0, "cut": True}]}),
    ("a maintainer for weeks of standing", {"existing": [{"kind": "maintainer", "charge_a": 1.0}], "activation": {"ways": ["d_plus"]}}),
    ("a managed alternator by D+ that was measured", on(alternator=MANAGED, readings={"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 12.9, "low_phase_s": 60.0}) | {"activation": {"ways": ["d_plus"]}, "provenance": {"vehicle.signals.d_plus": "measured"}}),
    ("a managed alternator whose low phase stays high", on(alternator=MANAGED, readings={"rest_v": 12.5, "after_stop_v": 12.6, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 13.5, "low_phase_s": 60.0})),
    ("a hybrid by the feed that is live when ready", on(drive="converter", signals={"ignition": True, "d_plus": False}) | {"activation": {"ways": ["ignition"]}}),
    ("an enable wire with its contact in the plug", behind_a_plug(plug_contact="9")),
    ("an appliance by converter while driving", by_converter(60.0, driving=True)),
    ("a workshop's inverter among the loads", {"use": {"loads": [{"name": "grinder", "power_w": 400.0, "fed": "inverter", "duty": 0.1, "standing_h": 3.0}], "drive_h": 3.0}}),
    ("breakers as the school", {"choices": {"protection_school": "breaker"}}),
    ("free-air tables as the school", {"choices": {"ampacity_school": "free_air"}}),
    ("six per cent allowed on a long run", {"choices": {"drop_percent": 6.0}, "supply": {"pieces": [fuse(50.0), cable("16 mm²", 5.0)]}, "activation": {"ways": ["d_plus"]}}),
    ("a day that is put back", {"use": {"daily_ah": 25.0, "drive_h": 3.0}}),
    ("a use of nothing but loads while driving", {"use": {"daily_ah": 0.0, "drive_h": 3.0, "loads_driving_a": 5.0}}),
]  # fmt: skip


@pytest.mark.parametrize("changes", [case[1] for case in GOOD], ids=[case[0] for case in GOOD])
def test_good_work_is_not_stopped(changes: dict[str, Any]) -> None:
    """Nothing is called a stop, and its remedies, where there are any, bring none."""
    found = assess(design(**changes), remedies=False)
    assert [item.id for item in found.stops] == []


def test_there_are_enough() -> None:
    """Cases of judgement are many and of many kinds."""
    assert len(SPEAKS) + len(CASES) >= 90
    assert len(GOOD) >= 40
    assert len({id.split(".")[0] for _, _, id, _ in SPEAKS}) >= 6


def test_the_week_and_its_finding_are_one() -> None:
    """The picture of the week and the finding say the same, whatever the use."""
    for daily in (5.0, 20.0, 40.0, 60.0, 90.0, 150.0):
        job = design(use={"daily_ah": daily, "drive_h": 2.0, "drive_days": 5})
        said = any(item.id == "match.week" for item in assess(job, remedies=False).findings)
        assert said is (week_of(job).verdict == "runs_down")


def test_d_plus_wins_where_voltage_leaves_too_little() -> None:
    """Windows of two tenths beyond their margins: regulators and batteries of like vehicles overrun them; D+ is there."""
    close = vehicle(readings={"rest_v": 12.75, "after_stop_v": 13.0, "idle_v": 13.6, "cruise_v": 13.7})
    assert advise(design(vehicle=close)).methods[0].key.startswith("d_plus")
    wide = vehicle(readings={"rest_v": 12.5, "after_stop_v": 12.6, "idle_v": 14.2, "cruise_v": 14.3})
    assert advise(design(vehicle=wide)).methods[0].key == "voltage"


def test_no_use_is_not_put_back() -> None:
    """With nothing used standing, what is asked for is to carry the loads, not to put 0 Ah back."""
    job = design(use={"daily_ah": 0.0, "drive_h": 2.0, "loads_driving_a": 40.0})
    texts = [item.text for item in assess(job, remedies=False).findings if item.id.startswith("match.")]
    assert any("carry the loads" in text for text in texts)
    assert not any("0 Ah back" in text for text in texts)


def test_a_guard_is_lowered_before_copper_is_bought() -> None:
    """A low phase that falls a little under the guard: lowering it within reason stands before any cable."""
    low = {
        "rest_v": 12.5,
        "after_stop_v": 12.6,
        "idle_v": 13.9,
        "cruise_v": 14.2,
        "low_phase_v": 12.6,
        "low_phase_s": 120.0,
    }
    job = design(vehicle=vehicle(alternator=MANAGED, readings=low), activation={"ways": ["d_plus"], "guard_v": 12.4})
    found = next(item for item in assess(job).findings if item.id == "wake.guarded_in_phase")
    assert found.remedies[0].label.startswith("Lower the guard")


def test_a_contact_noted_is_enough() -> None:
    """With its contact in the plug named, nothing is left to ask, and the wire says by which it goes."""
    job = design(**behind_a_plug(plug_contact="9"))
    assert not any(item.id.startswith("wake.plug_contact") for item in assess(job, remedies=False).findings)
    assert signal_wire(job, "ignition").plug == "contact 9"
    assert signal_wire(design(), "ignition").plug == ""


def test_loads_in_watts_and_through_an_inverter() -> None:
    """100 W for two hours: 16 Ah from 12.5 V direct; by inverter 100 / 0.9 + 8 = 119.1 W, 19.1 Ah; by converter none."""
    for fed, wanted in (("battery", 16.0), ("inverter", 19.06), ("converter", 0.0)):
        loads = [{"name": "lamp", "power_w": 100.0, "fed": fed, "standing_h": 2.0, "driving": True}]
        facts = assess(design(use={"loads": loads}), remedies=False).facts
        assert float(facts["use.daily_ah"].value) == pytest.approx(wanted, abs=0.01)
        assert float(facts["use.loads_driving_a"].value) == pytest.approx(wanted / 2, abs=0.01)
    for both in ({"current_a": 2.0, "power_w": 24.0}, {}):
        with pytest.raises(ValueError, match="either its current or its power"):
            design(use={"loads": [{"name": "lamp"} | both]})


def test_an_inverter_is_on_for_as_long_as_its_loads() -> None:
    """8 W for itself all the hours, whatever its load's share of them; once for all while driving; never past 24 h a day.

    45 W at 40 % for ten hours: 50 · 0.4 + 8 = 28 W, 22.4 Ah; a second such load keeps it on ten hours more, with a third of
    20 h it is on day and night: (50 · 0.4 · 40 + 8 · 24) / 12.5 = 79.4 Ah. Amperes typed were read with it.
    """
    cooler: dict[str, Any] = {"power_w": 45.0, "fed": "inverter", "duty": 0.4, "standing_h": 10.0, "driving": True}
    for loads, daily_ah, driving_a in (
        ([cooler], 22.4, 28 / 12.5),
        ([cooler, cooler], 44.8, 48 / 12.5),
        ([cooler, cooler, cooler | {"standing_h": 20.0}], 79.36, 68 / 12.5),
        ([{"current_a": 4.0, "fed": "inverter", "duty": 0.5, "standing_h": 10.0, "driving": True}], 20.0, 2.0),
    ):
        named = [load | {"name": f"cooler {at}"} for at, load in enumerate(loads)]
        facts = assess(design(use={"loads": named}), remedies=False).facts
        assert float(facts["use.daily_ah"].value) == pytest.approx(daily_ah, abs=0.01)
        assert float(facts["use.loads_driving_a"].value) == pytest.approx(driving_a, abs=0.01)


def test_an_appliance_costs_the_alternator() -> None:
    """600 W at 13.6 V through 88 % are 50 A that hot idle no longer has for the unit."""
    alone, fed = design(), design(**by_converter(600.0, driving=True))
    left = [solve(job).running[0].source.available_a for job in (alone, fed)]
    assert left[0] is not None
    assert left[1] is not None
    idle_v = solve(alone).running[0].source.regulated_v
    assert left[0] - left[1] == pytest.approx(600 / 0.88 / idle_v, rel=0.01)


def test_a_units_own_delay_counts_where_nobody_can_set_it() -> None:
    """It starts 20 s into the idle and stops 90 s after the engine, whatever is typed."""
    record = {"rows": 1, "fixed_v": 13.2, "fixed_held_s": 20.0}
    unit = charger(settable=None) | {"start_rules": record, "stop_rules": {"fixed_v": 13.0, "fixed_held_s": 90.0}}
    job = design(
        charger=unit, activation={"ways": ["voltage"], "start_held_s": 5.0, "stop_held_s": 30.0, "guard_v": 11.0}
    )
    trip = drive(job, read_programme("off 1 min\nidle 5 min\noff 5 min\n"))
    start, stop = (next(event.time_s for event in trip.events if event.what == what) for what in ("start", "stop"))
    assert start == pytest.approx(60 + 20, abs=1)
    assert stop == pytest.approx(360 + 90, abs=3)


class TestManagedLink:
    def test_its_cable_carries_its_device_and_its_device_the_link(self) -> None:
        """For lengths and batteries of every size: current of Ohm's law, device 1.25 times that, cable above the device."""
        for metres in (1.0, 4.0, 10.0, 25.0):
            for capacity in (60.0, 110.0, 300.0):
                job = design(auxiliary={"chemistry": "agm", "capacity_ah": capacity}, supply={"pieces": []}, delivery={"pieces": []}, distances={"supply_m": metres})  # fmt: skip
                found = managed_link(job)
                assert found is not None
                if not found.cable:
                    assert found.verdict == "not_here"
                    continue
                rated_a = float(found.device.split()[-2])
                assert rated_a >= 1.25 * found.first_a - 1e-6
                laid = Cable(size=found.cable, length_m=metres)
                assert ampacity(laid, "enclosed")[0] >= rated_a
                budget_a = 0.8 * (solve(job).running[0].source.available_a or 0.0)
                assert found.mean_a <= budget_a + found.first_a * 0.25 / 20 + 1e-6 or found.on_min == 0.5
                assert found.on_min + found.off_min == pytest.approx(20)

    def test_where_it_does_not_belong(self) -> None:
        """Lithium behind a plain alternator: stopped with its reason. 24 V behind 12 V: no link at all."""
        lithium_job = managed_link(design(auxiliary=LITHIUM))
        assert lithium_job is not None
        assert lithium_job.verdict == "not_here"
        assert managed_link(design(auxiliary={"chemistry": "agm", "nominal_v": 24, "capacity_ah": 100.0})) is None

    def test_a_lead_bank_rests_for_what_it_takes_not_for_its_first_rush(self) -> None:
        """110 Ah AGM that takes 30 A behind 0.8 of (0.6 x 120 A - 15 A) = 45.6 A: over 100 A rush in, 30 A go on, so it stays
        closed; two hours of them from half full are some 50 Ah. With 55 A of loads 13.6 A are left: closed for nine
        minutes of twenty. Lithium goes on as it began, and rests for that."""
        lead = managed_link(design(choices={"alternator_school": "surplus"}, use={"drive_h": 2.0}))
        assert lead is not None
        assert lead.first_a > 100.0
        assert lead.held_a == pytest.approx(30.0)
        assert (lead.on_min, lead.off_min) == (20.0, 0.0)
        assert 35.0 < lead.charged_ah < 60.0
        assert "only the rests" not in str(lead.reasons)
        assert "then what the battery takes, 30 A at most" in str(lead.reasons)
        loaded = vehicle()
        loaded["alternator"]["loads_idle_a"] = 55.0
        rests = managed_link(design(vehicle=loaded, choices={"alternator_school": "surplus"}))
        assert rests is not None
        assert rests.on_min == pytest.approx(20 * 13.6 / 30, abs=0.25)
        assert "takes 30 A where hot idle leaves 17 A" in str(rests.reasons)
        lithium = managed_link(design(auxiliary=LITHIUM, choices={"alternator_school": "surplus"}))
        assert lithium is not None
        assert lithium.held_a == lithium.first_a
        assert lithium.mean_a == pytest.approx(45.6, abs=lithium.first_a * 0.25 / 20)

    def test_a_drive_charges_no_more_than_the_battery_takes(self) -> None:
        """Three hours closed from half full: within capacity."""
        for metres in (2.0, 20.0):
            job = design(
                supply={"pieces": []}, delivery={"pieces": []}, distances={"supply_m": metres}, use={"drive_h": 3.0}
            )
            found = managed_link(job)
            assert found is not None
            assert 0 < found.charged_ah * 0.85 <= 0.5 * job.auxiliary.capacity_ah + 0.1
            assert found.ended <= 1
