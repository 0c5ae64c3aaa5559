"""The tests of a plain job one by one: when, where the probes go, how long, which a job is signed off by."""

from __future__ import annotations

import random
from typing import Any

import pytest

from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.circuit.context import Context
from olvask.core.stages.build.bill import devices_of
from olvask.core.stages.prove import tests as of_job
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.report import prove
from tests.anything import anything
from tests.designs import cable, charger, design, fuse, vehicle
from tests.documents.test_sheet_alone import random_design


def listed(**changes: Any) -> dict[str, ProveTest]:
    """Every test of a job by its key."""
    return {item.key: item for item in of_job.tests_of(Context.of(design(**changes)))}


# key, when, red or clamp at, black at, minutes, signed off by
PLAIN = [
    ("through.supply", "dead", "start_battery", "charger", 2.0, True),
    ("short.supply", "dead", "start_battery", "start_battery-", 2.0, True),
    ("polarity.supply", "dead", "start_battery", "charger", 1.5, True),
    ("rating.d1", "dead", "d1", "", 0.5, True),
    ("through.delivery", "dead", "charger.out", "auxiliary", 2.0, True),
    ("short.delivery", "dead", "charger.out", "charger.out-", 2.0, True),
    ("polarity.delivery", "dead", "charger.out", "auxiliary", 1.5, True),
    ("rating.d2", "dead", "d2", "", 0.5, True),
    ("rest.start", "engine_off", "start_battery", "start_battery-", 1.0, True),
    ("rest.auxiliary", "engine_off", "auxiliary", "auxiliary-", 1.0, True),
    ("loaded.start", "engine_off", "start_battery", "start_battery-", 4.0, False),
    ("loaded.auxiliary", "engine_off", "auxiliary", "auxiliary-", 4.0, False),
    ("key_on_a", "engine_off", "charger", "", 6.0, True),
    ("standby_ma", "engine_off", "start_battery-", "", 5.0, True),
    ("output_rest_v", "engine_off", "charger.out", "charger.out-", 1.5, False),
    ("idle_posts_v", "running", "start_battery", "start_battery-", 1.0, True),
    ("posts_v", "running", "start_battery", "start_battery-", 1.0, True),
    ("input_a", "running", "charger", "", 1.0, True),
    ("input_v", "running", "charger", "charger-", 1.5, True),
    ("output_a", "running", "charger.out", "", 1.0, True),
    ("output_v", "running", "charger.out", "charger.out-", 1.5, True),
    ("auxiliary_v", "running", "auxiliary", "auxiliary-", 1.0, True),
    ("supply_out_mv", "running", "start_battery", "charger", 1.5, True),
    ("supply_back_mv", "running", "charger-", "start_battery-", 1.5, True),
    ("delivery_out_mv", "running", "charger.out", "auxiliary", 1.5, True),
    ("delivery_back_mv", "running", "auxiliary-", "charger.out-", 1.5, True),
    ("supply_device_mv", "running", "d1", "d1", 1.5, False),
    ("delivery_device_mv", "running", "d2", "d2", 1.5, False),
    ("air_c", "running", "charger", "", 2.0, False),
    ("hand_warm", "running", "", "", 3.0, True),
    ("start_s", "after", "charger", "", 1.167, True),  # its start holds ten seconds
    ("stop_s", "after", "charger", "", 1.5, True),  # its stop thirty
    ("lockout", "after", "charger", "", 6.0, False),
    ("read_set_v", "after", "charger", "", 1.0, True),
    ("read_limit_a", "after", "charger", "", 1.0, True),
    ("read_start_v", "after", "charger", "", 1.0, True),
    ("restarts", "after", "charger", "", 3.0, False),
]


def test_the_plain_job() -> None:
    """In working order; millivolts with the red probe on the side the current comes from, so that they read above zero."""
    found = [
        (item.key, item.group, item.red_at, item.black_at, round(item.minutes, 3), item.fewest)
        for item in listed().values()
        if item.group != "finding"
    ]
    assert found == PLAIN


def test_signing_off_takes_three_quarters_of_an_hour() -> None:
    """The fewest of a plain job by their minutes: 12 dead, 13 at rest, 17 running, 6 after."""
    minutes = {
        group: sum(item.minutes for item in listed().values() if item.group == group and item.fewest)
        for group in ("dead", "engine_off", "running", "after", "finding")
    }
    assert minutes == pytest.approx(
        {"dead": 12.0, "engine_off": 13.0, "running": 17.0, "after": 5.67, "finding": 0.0}, abs=0.01
    )


def test_a_body_is_measured_by_a_current_through_it() -> None:
    """Twice what is reckoned with, five milliohms at least; between the two earths of that run; nothing with a cable back."""
    for milliohm, most in ((1.0, 5.0), (2.5, 5.0), (4.0, 8.0)):
        back = {"kind": "chassis", "resistance_mohm": milliohm}
        supply = listed(supply={"pieces": [fuse(), cable()], "back": back})["bonding.supply"]
        reckoned = (
            Context.of(design(supply={"pieces": [fuse(), cable()], "back": back})).state("supply").back_ohm * 1000
        )
        assert supply.most == pytest.approx(max(5.0, 2 * reckoned), abs=0.05)
        assert supply.most is not None
        assert supply.most >= most
        assert (supply.red_at, supply.black_at, supply.least, supply.unit) == ("charger-", "start_battery-", 0.0, "mΩ")
    out = listed(
        delivery={"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": {"kind": "chassis", "resistance_mohm": 3.0}}
    )
    assert (out["bonding.delivery"].red_at, out["bonding.delivery"].black_at) == ("charger.out-", "auxiliary-")
    assert not {"bonding.supply", "bonding.delivery"} & set(listed())


@pytest.mark.parametrize(
    ("battery", "charge", "asked"),
    [
        ({"low_temperature_cut_off": True, "temperature_min_c": -10.0}, {}, "of all"),
        ({"low_temperature_cut_off": True, "temperature_min_c": 12.0}, {}, ""),
        ({"temperature_min_c": -10.0}, {"cold_c": 5.0}, "of the fewest"),
        ({"temperature_min_c": None}, {"cold_c": 5.0}, "of the fewest"),
        ({"temperature_min_c": -10.0}, {}, ""),  # nothing to try: Survey has a stop
        ({"chemistry": "agm", "temperature_min_c": -10.0}, {"cold_c": 5.0}, ""),
    ],
)
def test_what_stops_lithium_in_the_cold_is_tried(battery: dict[str, Any], charge: dict[str, Any], asked: str) -> None:
    """Where it gets cold and something stops it: the unit's stop among the fewest, a pack's own among all."""
    found = listed(auxiliary={"chemistry": "lfp", "capacity_ah": 100.0} | battery, charge=charge).get("cold_stop")
    assert (found is not None) is bool(asked)
    if found is not None:
        assert found.fewest is (asked == "of the fewest")
        assert found.answers[0] == "yes"


def test_the_guard_is_tried_at_its_volts() -> None:
    """As typed, and as proposed where nothing is: 60 % of a flooded battery rest at 12.40 V, in steps of 0.05 V."""
    typed = listed(activation={"guard_v": 12.1, "back_v": 12.9})["lockout"].text
    assert typed == "Does it let go below 12.10 V, and come back at 12.90 V?"
    proposed = listed()["lockout"].text
    guard = Context.of(design()).thresholds
    assert f"below {guard.guard_v:.2f} V, and come back at {guard.back_v:.2f} V" in proposed
    assert 12.2 <= guard.guard_v <= 12.4


def test_every_device_is_looked_at() -> None:
    """Those of the runs and of a branch's tail; no run, no test of it."""
    tail = {"kind": "branch", "id": "b1", "name": "fan", "feeds": "fan", "current_a": 1.0, "device": fuse(5.0, "blade")}
    found = listed(supply={"pieces": [fuse(), cable(), tail]})
    assert len([key for key in found if key.startswith("rating.")]) == 3
    bare = listed(supply={"pieces": []})
    assert not {"through.supply", "short.supply", "polarity.supply"} & set(bare)
    assert "through.delivery" in bare


@pytest.mark.parametrize("seed", range(30))
def test_every_device_that_is_bought_is_looked_at(seed: int) -> None:
    """Each rating on the bill is asked about: of runs, of branches, of the tails of several units."""
    ctx = Context.of(random_design(random.Random(seed)))
    asked = " ".join(test.text for test in of_job.tests_of(ctx) if test.key.startswith("rating."))
    for item in devices_of(ctx):
        assert f"Is {item.rating_a:g} A printed" in asked, (seed, item)


def test_with_several_units_each_is_rung_out() -> None:
    """Polarity is asked of each unit, not of one."""
    found = listed(units=2)
    assert "each unit's in +" in found["polarity.supply"].text
    assert found["polarity.delivery"].text == "Does each unit's out + reach the auxiliary battery +, and − the −?"
    assert "the unit's in +" in listed()["polarity.supply"].text


def test_where_a_test_cannot_be_done_it_says_why() -> None:
    """Without a unit the runs end nowhere: what needs it says so; nothing is silently left out."""
    without = listed(charger=None)
    assert without["output_a"].cannot
    assert without["input_v"].cannot
    assert not without["rest.start"].cannot
    assert not any(item.cannot for item in listed().values() if item.fewest)


def test_how_long_start_and_stop_may_take() -> None:
    """Three seconds sooner to fifteen later than the start's hold; eight later than the stop's, sooner where the guard lets go."""
    rules = {"start_v": 13.3, "start_held_s": 20.0, "stop_v": 12.9, "stop_held_s": 45.0}
    found = listed(activation=rules)
    assert (found["start_s"].least, found["start_s"].most) == (17.0, 35.0)
    assert (found["stop_s"].least, found["stop_s"].most) == (0.0, 53.0)
    assert listed(activation=rules | {"start_held_s": 2.0})["start_s"].least == 0.0


@pytest.mark.parametrize(
    ("decision", "cut", "asked"),
    [("disconnect", False, True), ("changeover", False, True), ("keep", False, False), ("disconnect", True, False)],
)
def test_an_old_link_that_should_carry_nothing(decision: str, cut: bool, asked: bool) -> None:
    """Nobody signs off without having looked; one that stays is not asked, nor one that is cut."""
    link = [{"id": "e1", "kind": "link", "cut": cut}]
    found = listed(existing=link, old_link={"decision": decision})
    assert ("link.current" in found) is asked
    if asked:
        assert (found["link.current"].fewest, found["link.current"].unit) == (True, "A")


def test_a_branchs_device_is_looked_at_where_it_sits() -> None:
    """Under the branch's own name, beside the run's."""
    fan = {"kind": "branch", "id": "b1", "feeds": "fan", "name": "fan", "current_a": 6.0, "device": fuse(10.0, "blade")}
    found = listed(supply={"pieces": [fuse(), cable(), fan, cable()]})
    assert found["rating.b1"].text == "Is 10 A printed on the device of the branch fan?"
    assert found["rating.b1"].red_at == "b1"
    assert found["rating.d1"].text == "Is 60 A printed on the device of the supply run?"
    assert "rating.b1" not in listed(supply={"pieces": [fuse(), cable(), fan | {"device": None}, cable()]})


@pytest.mark.parametrize("seed", range(0, 40, 8))
def test_the_instrument_fits_where_it_goes(seed: int) -> None:
    """Of any job: amperes off a display or by a clamp, and then a clamp is what is needed; two probes are a meter's."""
    seen: set[str] = set()
    for each in range(seed, seed + 8):
        for item in of_job.tests_of(Context.of(anything(each))):
            if item.answers:
                continue
            seen.add(item.needs)
            assert ("clamp" in item.needs) == ("clamp" in item.red), item
            assert ("meter" in item.needs.split(", ")) == bool(item.black), item
            assert ("thermometer" in item.needs) == (item.unit == "°C"), item
            assert ("stop-watch" in item.needs) == (item.unit == "s"), item
    assert {"meter", "clamp", "milliamp clamp", "thermometer"} <= seen


def test_what_start_and_stop_prove() -> None:
    """Seconds to charging prove the start; seconds to letting go the stop."""
    found = listed()
    assert found["start_s"].proves == "Its start rule works."
    assert found["stop_s"].proves.startswith("It lets go")


def test_a_reading_off_the_monitor_needs_the_unit_that_charges() -> None:
    """What the monitor shows going in is read while it charges: between laid runs alone there is nothing to read."""
    found = listed(monitor={"unit": {"name": "shunt", "shunt_a": 500.0}})
    assert found["monitor_a"].needs_unit
    assert found["monitor_a"].red_at == "auxiliary-"
    assert found["monitor_a"].fewest  # a shunt on the wrong side shows it


@pytest.mark.parametrize(
    ("ways", "signed_by"),
    [
        (["voltage"], True),
        (["ignition"], True),
        (["d_plus"], False),
        (["d_plus", "ignition"], True),
        (["bridge"], False),
    ],
)
def test_a_key_left_on_is_tried_where_it_or_its_volts_start_the_unit(ways: list[str], signed_by: bool) -> None:
    """By volts or by ignition the unit may draw with the engine off; by D+ or a bridge a key left on says nothing."""
    assert listed(activation={"ways": ways})["key_on_a"].fewest is signed_by


def test_how_long_two_looks_take() -> None:
    """A plug's contacts with the engine off, two minutes; a monitor's display at a true full, one."""
    found = listed(monitor={"unit": {"name": "shunt", "shunt_a": 500.0}})
    assert found["monitor_full"].minutes == 1.0
    plug = {"kind": "joint", "form": "plug", "resistance_mohm": 0.5}
    parted = [
        item for key, item in listed(supply={"pieces": [fuse(60.0), cable(), plug]}).items() if key.startswith("parted")
    ]
    assert [item.minutes for item in parted] == [2.0]


def test_which_volts_are_rested_volts() -> None:
    """Each battery's own, at its own posts."""
    for side in ("start", "auxiliary"):
        assert listed()[f"rest.{side}"].quantity == f"rest_{side}_v"


def test_each_device_is_read_as_its_own_runs() -> None:
    """Millivolts over the one of a run say nothing of the other's."""
    found = {key: test.quantity for key, test in listed().items() if key.endswith("_device_mv")}
    assert found == {"supply_device_mv": "supply_device_mv", "delivery_device_mv": "delivery_device_mv"}


def test_what_needs_a_unit_cannot_be_done_without_one() -> None:
    """Between runs that end nowhere no current flows: every test that reads one says so."""
    bare = listed(charger=None)
    keys = ("input_a", "posts_v", "supply_device_mv", "delivery_device_mv")
    assert all(bare[key].cannot for key in keys)
    assert listed(charger=None, activation={"ways": ["d_plus"]})["enable_v"].cannot
    assert not listed(activation={"ways": ["d_plus"]})["enable_v"].cannot


def test_a_low_phase_takes_a_drive() -> None:
    """A quarter of an hour of even driving."""
    low = {
        "rest_v": 12.6,
        "after_stop_v": 12.7,
        "idle_v": 13.9,
        "cruise_v": 14.2,
        "low_phase_v": 13.4,
        "low_phase_s": 60.0,
    }
    assert listed(vehicle=vehicle(readings=low))["rides_low"].minutes == 15.0
    assert "rides_low" not in listed()


@pytest.mark.parametrize(
    "key", ["cold_stop", "sensor_a", "follows", "state_read", "restarts", "stop_s", "start_s", "output_a"]
)
def test_what_watches_a_unit_charge_waits_for_one(key: str) -> None:
    """Done with a unit, and not without: it starts, stops, charges or says what it does."""
    lithium = {"chemistry": "lfp", "capacity_ah": 100.0, "temperature_min_c": -10.0}
    battery = {"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": True}
    job: dict[str, Any] = {
        "auxiliary": lithium,
        "charge": {"cold_c": 5.0},
        "vehicle": vehicle(start_battery=battery),
        "activation": {"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9},
    }
    there, gone = listed(**job), listed(**job, charger=None)
    assert not there[key].cannot
    assert key not in gone or gone[key].cannot


def test_a_sensor_is_among_the_fewest_and_cold_spray_takes_three_minutes() -> None:
    """A return that goes round the sensor miscounts the start battery for good."""
    lithium = {"chemistry": "lfp", "capacity_ah": 100.0, "temperature_min_c": -10.0}
    battery = {"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": True}
    found = listed(auxiliary=lithium, charge={"cold_c": 5.0}, vehicle=vehicle(start_battery=battery))
    assert found["sensor_a"].fewest
    assert found["cold_stop"].minutes == 3.0


@pytest.mark.parametrize(("run", "at"), [("supply", "charger"), ("delivery", "charger.out")])
def test_the_devices_of_the_tails_sit_at_their_runs_end(run: str, at: str) -> None:
    """One for each of two units, at the bus bar of its own run, half a minute each."""
    found = listed(
        units=2,
        supply={"pieces": [fuse(150.0), cable("50 mm²")]},
        delivery={"pieces": [cable("50 mm²", 1.5), fuse(150.0)]},
    )
    tails = found[f"rating.{run}.tails"]
    assert (tails.red_at, tails.minutes) == (at, 1.0)


@pytest.mark.parametrize(
    ("kind", "begins"),
    [
        ("battery_post", "start battery +"),
        ("alternator_stud", "alternator stud, B+ (30)"),
        ("fused_stud", "fused stud in the vehicle"),
    ],
)
def test_the_supply_is_measured_from_where_it_takes_its_current(kind: str, begins: str) -> None:
    """A stud's own cable to the battery is the vehicle's: it is no part of the run, and carries other currents."""
    found = listed(vehicle=vehicle(source_point={"kind": kind, "rating_a": 100.0}))
    assert (found["supply_out_mv"].red, found["through.supply"].red) == (begins, begins)
    assert begins.split(",")[0].split(" +")[0] in found["polarity.supply"].text
    assert found["posts_v"].red == "start battery +"  # the volts that the engine holds


@pytest.mark.parametrize("sensor", [False, True])
def test_the_return_is_measured_to_where_it_lands(sensor: bool) -> None:
    """Past a battery sensor, as it is connected: across its shunt flows what the whole vehicle draws."""
    battery = {"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": sensor}
    found = listed(vehicle=vehicle(start_battery=battery))["supply_back_mv"]
    assert ("chassis side of its sensor" in found.black) is sensor
    assert ("chassis side of its sensor" in found.text) is sensor


def test_of_several_units_each_is_meant_or_all_of_them() -> None:
    """The clamp on the run reads them together; volts and millivolts are those of each."""
    one, several = listed(), listed(units=2)
    assert (one["input_a"].text, several["input_a"].text) == (
        "Current into the unit",
        "Current into the units together",
    )
    assert several["output_a"].text == "Current out of the units together"
    assert several["input_v"].red == "each unit's in +"
    assert several["supply_out_mv"].text == "Millivolts from the start battery's + to each unit's in +"
    assert not [test.text for test in several.values() if " each each" in test.text]


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({}, ""),
        ({"solar": {"panel_w": 120.0}}, ", panel covered"),
        ({"vehicle": vehicle(lifters=[{"kind": "solar"}])}, ", panel covered"),
        ({"vehicle": vehicle(lifters=[{"kind": "maintainer"}])}, ", maintainer unplugged"),
        ({"existing": [{"kind": "maintainer"}]}, ", maintainer unplugged"),
        ({"existing": [{"kind": "maintainer", "cut": True}]}, ""),
    ],
)
def test_nothing_else_charges_while_volts_and_amperes_are_read(changes: dict[str, Any], words: str) -> None:
    """A panel or a maintainer lifts a battery at rest and takes the unit's work from it; what is read back it does not touch."""
    found = listed(monitor={"unit": {"name": "Monitor"}}, **changes)
    ours = ("rest.start", "rest.auxiliary", "standby_ma", "zero_a", "input_a", "output_v", "monitor_a", "supply_out_mv")
    for key in (*ours, "delivery_far_v"):
        assert found[key].state.endswith(words), key
        assert "panel" in words or "panel" not in found[key].state
        assert "maintainer" in words or "maintainer" not in found[key].state
    assert not [key for key in ("read_set_v", "through.supply", "air_c") if words and found[key].state.endswith(words)]


@pytest.mark.parametrize(
    ("unit", "solar", "keys"),
    [
        ({"dual_input": "priority", "dual_first": "solar"}, "second_input", ["by_sun", "one_waits"]),
        ({"dual_input": "priority", "dual_first": "alternator"}, "second_input", ["by_sun", "one_waits"]),
        ({"dual_input": "split"}, "second_input", ["by_sun"]),
        ({"dual_input": "priority"}, "controller", []),
        ({}, "second_input", []),
    ],
)
def test_a_second_input_is_proven(unit: dict[str, Any], solar: str, keys: list[str]) -> None:
    """By the sun alone, and where one of the two waits, that it does."""
    found = listed(charger=charger(**unit), solar={"panel_w": 120.0, "into": solar})
    assert [key for key in found if key in ("by_sun", "one_waits")] == keys
    if "one_waits" in keys:
        alone = "the panel" if unit["dual_first"] == "solar" else "the start side"
        assert f"from {alone} alone" in found["one_waits"].text
    assert not listed(charger=charger(**unit), solar={"panel_w": None, "into": solar}).keys() & {"by_sun", "one_waits"}


@pytest.mark.parametrize(
    ("past", "back", "counted"),
    [
        ([], {"kind": "cable"}, True),
        (["solar"], {"kind": "cable"}, True),
        (["unit"], {"kind": "cable"}, False),
        (["chassis"], {"kind": "cable"}, True),
        (["chassis"], {"kind": "chassis", "resistance_mohm": 2.0}, False),
    ],
)
def test_a_monitor_counts_what_is_not_noted_to_go_past_it(past: list[str], back: dict[str, Any], counted: bool) -> None:
    """The unit's return on the battery's own post, or the body's, is a finding; what the monitor shows follows from it."""
    monitor = {"unit": {"name": "Monitor", "shunt_a": 300.0}, "bypassed_by": past}
    delivery = {"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": back}
    made = design(monitor=monitor, delivery=delivery)
    ctx = Context.of(made)
    row = next(row for row in prove(ctx, {}).rows if row.test.key == "monitor_a")
    assert row.expected == pytest.approx(25.0 if counted else 0.0, abs=0.3)
    assert ("counts nothing" in row.test.proves) is not counted
    assert any(fault.key == "monitor_bypassed" for fault in faults_of(ctx)) is counted
