"""What is not known of a vehicle about to be measured: where it most likely lies and how far from there, by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.timing import starts_within_s, stops_after_s, stops_by_s
from olvask.core.stages.prove.unknowns import NAMES, Unknown, constants_of, unknowns_of
from tests.designs import cable, charger, design, fuse, plain, vehicle


def of(provenance: dict[str, str] | None = None, **changes: Any) -> dict[str, Unknown]:
    """Every unknown of the plain job with parts replaced."""
    made = Design.model_validate(plain(**changes) | {"provenance": provenance or {}})
    found = unknowns_of(Context.of(made))
    assert tuple(item.name for item in found) == NAMES
    return {item.name: item for item in found}


@pytest.mark.parametrize(
    ("name", "mean", "sigma"),
    [
        ("regulated_v", 13.9, 0.25),  # idle volts as surveyed, assumed until measured
        ("sag_ohm", 0.002, 0.4 * 0.002),
        ("spare_a", 120 * 0.6 - 15, 0.06 * 120),
        ("efficiency", 0.9, 0.02),
        ("limit_a", 25.0, 0.5),
        ("set_v", 14.4, 0.04),
        ("rest_start_v", 12.6, 0.12),
        ("fall_start_v", 0.35 + 10 * 0.5 / 90, 0.1),  # lamps for three minutes: 10 A through its own 5.6 mΩ besides
        ("fall_auxiliary_v", 0.25, 0.09),
        ("standby_ma", 30.0, 7.5),
        ("old_link_a", 0.0, 0.05),
        ("key_on_a", 0.0, 0.1),
        ("enable_v", 13.9 - 0.15, 0.2),
        ("sensor_share", 0.0, 0.02),
        ("monitor_share", 1.0, 0.015),
        ("zero_a", 0.0, 0.05),
        ("air_c", 25.0, 5.0),
        ("battery_c", 16.0, 7.0),
        ("read_limit_a", 25.0, 0.5),
        ("read_set_v", 14.4, 0.02),
    ],
)
def test_each_of_a_plain_job(name: str, mean: float, sigma: float) -> None:
    """At 12 V, nothing of it measured yet."""
    found = of()[name]
    assert (found.mean, found.sigma) == pytest.approx((mean, sigma), abs=1e-9)


def test_the_battery_under_charge() -> None:
    """It holds its set volts less one for lead, 0.8 for lithium, less what its resistance takes; half as much again of that."""
    for chemistry, below_v, spread_v in (("agm", 1.0, 0.35), ("lfp", 0.8, 0.2)):
        battery = {
            "chemistry": chemistry,
            "nominal_v": 12,
            "capacity_ah": 100.0,
            "charge_limit_a": 30.0,
            "absorption_v": 14.2,
        }
        found = of(auxiliary=battery)
        ohm = 1.5 * chemistries()[chemistry].resistance_ohm_ah / 100
        assert (found["auxiliary_ohm"].mean, found["auxiliary_ohm"].sigma) == pytest.approx((ohm, 0.4 * ohm))
        assert found["emf_v"].mean == pytest.approx(14.2 - below_v - 25 * ohm)
        assert found["emf_v"].sigma == pytest.approx(spread_v)
        assert found["rest_auxiliary_v"].sigma == pytest.approx(1.5 * 0.12)


def test_what_was_measured_is_known_better() -> None:
    """Volts to 0.06 V in place of 0.25; the source to 15 % in place of 40; what is left to 3 % of the rating in place of 6."""
    paths = ("vehicle.readings.idle_v", "vehicle.alternator.sag_mohm", "vehicle.alternator.hot_idle_share")
    found = of(provenance=dict.fromkeys(paths, "measured"))
    assert found["regulated_v"].sigma == pytest.approx(0.06)
    assert found["sag_ohm"].sigma == pytest.approx(0.15 * 0.002)
    assert found["spare_a"].sigma == pytest.approx(0.03 * 120)
    assert of(provenance={"vehicle.readings.idle_v": "datasheet"})["regulated_v"].sigma == pytest.approx(0.06)


def test_least_spreads() -> None:
    """A source of no resistance is known to 0.1 mΩ, a small alternator's rest to an ampere, a drain to 4 mA."""
    small = {"rated_a": 14.0, "regulation": "fixed", "loads_idle_a": 5.0, "hot_idle_share": 0.6, "sag_mohm": 0.0}
    found = of(vehicle=vehicle(alternator=small, standing_drain_ma=8.0))
    assert found["sag_ohm"].sigma == pytest.approx(1e-4)
    assert found["spare_a"].sigma == pytest.approx(1.0)
    assert (found["standby_ma"].mean, found["standby_ma"].sigma) == pytest.approx((8.0, 4.0))


def test_legs_by_their_copper_and_their_ends() -> None:
    """7 % of itself and a quarter of a milliohm; a device a fifth; a body nobody measured 1.2 mΩ."""
    ctx = Context.of(design())
    found = of()
    for run, state in (("supply", ctx.state("supply")), ("delivery", ctx.state("delivery"))):
        index = 0 if run == "supply" else 1
        device_ohm = state.pieces[index].out_ohm
        assert found[f"{run}_device"].mean == pytest.approx(device_ohm)
        assert found[f"{run}_device"].sigma == pytest.approx(0.2 * device_ohm + 2e-5)
        out_ohm = state.out_ohm - device_ohm
        assert found[f"{run}_out"].mean == pytest.approx(out_ohm)
        assert found[f"{run}_out"].sigma == pytest.approx(0.07 * out_ohm + 0.00025)
        assert found[f"{run}_back"].sigma == pytest.approx(0.07 * state.back_ohm + 0.00025)
    body = {"pieces": [fuse(), cable()], "back": {"kind": "chassis"}}
    assert of(supply=body)["supply_back"].sigma == pytest.approx(0.0012)
    measured = {"pieces": [fuse(), cable()], "back": {"kind": "chassis", "resistance_mohm": 3.0}}
    assert of(supply=measured)["supply_back"].sigma < 0.0012
    assert of(supply={"pieces": [cable()]})["supply_device"].mean == 0.0


def test_volts_of_24_are_twice_those_of_12() -> None:
    """On either side by its own nominal volts."""
    readings = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": 28.4}
    down = charger(settable=None, input_nominal_v=24, input_min_v=18.0, input_max_v=34.0)
    truck = of(vehicle=vehicle(system_v=24, readings=readings), charger=down, activation={"ways": ["d_plus"]})
    own = of()
    for name in ("regulated_v", "battery_v", "rest_start_v", "enable_v"):
        assert truck[name].sigma == pytest.approx(2 * own[name].sigma)
    for name in ("set_v", "emf_v", "rest_auxiliary_v", "fall_auxiliary_v", "read_set_v"):
        assert truck[name].sigma == pytest.approx(own[name].sigma)


def test_a_monitors_zero() -> None:
    """As its sheet says, 20 mA at least; 50 mA where there is none."""
    assert of(monitor={"unit": {"zero_error_ma": 80.0}})["zero_a"].sigma == pytest.approx(0.08)
    assert of(monitor={"unit": {"zero_error_ma": 5.0}})["zero_a"].sigma == pytest.approx(0.02)
    assert of(monitor={"unit": {}})["zero_a"].sigma == pytest.approx(0.02)


def test_what_is_taken_as_known() -> None:
    """Volts per 12, branches by what they add on the average of each leg, what the unit yields."""
    fan = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 6.0, "device": fuse(10.0, "blade")}
    ctx = Context.of(design(supply={"pieces": [fuse(), cable(), fan, cable()]}))
    known = constants_of(ctx)
    assert (known.scale, known.auxiliary_scale, known.full_a) == (1, 1, 25.0)
    assert known.extra_source_a == pytest.approx(6.0)
    pieces = ctx.state("supply").pieces
    expected = sum(piece.out_ohm * piece.extra_a for piece in pieces) / sum(piece.out_ohm for piece in pieces)
    assert known.extra_a["supply_out"] == pytest.approx(expected)
    assert 0 < expected < 6.0
    assert known.extra_a["delivery_out"] == 0.0
    assert constants_of(Context.of(design())).extra_source_a == 0.0


def test_when_the_current_is_gone_after_the_engine_stops() -> None:
    """At once where a signal goes with the engine, else by the hold of its stop rule."""
    for ways, seconds in ((["voltage"], 45.0), (["d_plus"], 0.0), (["ignition", "voltage"], 0.0), (["switch"], 45.0)):
        made = design(activation={"ways": ways, "start_v": 13.3, "stop_v": 12.9, "stop_held_s": 45.0})
        assert stops_after_s(Context.of(made)) == seconds


@pytest.mark.parametrize(
    ("stop_v", "latest_s"),
    [
        (12.9, 45.0),  # over the 12.80 V that a full flooded battery with 0.1 V of surface charge shows
        (12.75, 45.0 + 900 * math.log(0.1 / 0.05)),  # until half of the surface charge has leaked away
        (12.7, None),  # a full one rests on it
    ],
)
def test_by_when_it_is_gone_with_a_full_start_battery(stop_v: float, latest_s: float | None) -> None:
    """Found at 12.5 V rested and 12.6 V just after stopping, it rests at 12.70 V once a drive has filled it."""
    found = vehicle(readings={"rest_v": 12.5, "after_stop_v": 12.6, "idle_v": 13.9, "cruise_v": 14.2})
    rules = {"start_v": 13.3, "stop_v": stop_v, "stop_held_s": 45.0}
    by_s = stops_by_s(Context.of(design(vehicle=found, activation={"ways": ["voltage"], **rules})))
    assert by_s == (None if latest_s is None else pytest.approx(latest_s))
    assert stops_by_s(Context.of(design(vehicle=found, activation={"ways": ["d_plus", "voltage"], **rules}))) == 0.0


@pytest.mark.parametrize(
    ("unit", "value", "sigma"),
    [("V", 14.0, 0.045), ("mV", 40.0, 0.25), ("A", 25.0, 0.4), ("mA", 30.0, 1.225), ("s", 30.0, 1.0), ("Ω", 0.4, 0.152), ("mΩ", 10.0, 0.2), ("°C", 20.0, 2.0)],
)  # fmt: skip
def test_a_usual_workshop_meter(unit: str, value: float, sigma: float) -> None:
    """Per cent of the reading and digits, both together two standard deviations; what moves meanwhile besides, by Pythagoras."""
    meter = METER[unit]
    still = Accuracy(meter.percent, meter.besides)
    assert still.sigma(value) == still.sigma(-value) == pytest.approx(sigma)
    assert meter.sigma(value) == pytest.approx((sigma**2 + (meter.moves * value) ** 2) ** 0.5)
    moves = {"V": 0.001, "mV": 0.006, "A": 0.006, "mA": 0.02}
    assert meter.moves == moves.get(unit, 0.0)


def test_what_the_start_battery_holds_is_never_more_than_the_regulator() -> None:
    """Its own volts while the alternator has no more: 12.6 V of a good battery under 13.9 V; a regulator at 12.0 V is less."""
    held_v = Context.of(design()).solved.running[0].source.battery_v
    assert of()["battery_v"].mean == pytest.approx(held_v)
    weak = vehicle(readings={"rest_v": 11.9, "after_stop_v": 11.9, "idle_v": 12.0, "cruise_v": 12.1})
    assert held_v > 12.0
    assert of(vehicle=weak)["battery_v"].mean == pytest.approx(12.0)


@pytest.mark.parametrize(
    "changes",
    [
        {"units": 2},
        {"mount": {"place": "cabin", "ambient_c": 55.0}},
        {"units": 3, "mount": {"place": "cabin", "ambient_c": 55.0}},
    ],
)
def test_the_limit_is_read_back_as_each_unit_is_set(changes: dict[str, Any]) -> None:
    """Of two in parallel each shows its own 25 A; heat takes from what flows, not from what the menu shows."""
    whole, changed = of()["read_limit_a"], of(**changes)["read_limit_a"]
    assert (changed.mean, changed.sigma) == (whole.mean, whole.sigma) == (25.0, 0.5)
    assert of(current_limit_a=12.0, **changes)["read_limit_a"].mean == 12.0


@pytest.mark.parametrize(
    ("first_s", "quick_v", "soonest_s", "latest_s"),
    [
        (60.0, 13.6, 0.0, 0.0),  # 13.9 V at hot idle are over it for certain
        (60.0, 13.85, 0.0, 60.0),  # on some days
        (60.0, 14.25, 0.0, 60.0),  # at fast idle, cold, as on the road
        (60.0, 14.6, 60.0, 60.0),  # never
        (60.0, None, 60.0, 60.0),
    ],
)
def test_of_two_starts_the_one_that_is_met_soonest(
    first_s: float, quick_v: float | None, soonest_s: float, latest_s: float
) -> None:
    """Beside a first at 13.2 V held for a minute, a second without a hold."""
    rules = {"ways": ["voltage"], "start_v": 13.2, "start_held_s": first_s, "stop_v": 12.9, "quick_start_v": quick_v}
    ctx = Context.of(design(charger=charger(start_rows=2), activation=rules))
    assert starts_within_s(ctx) == (soonest_s, latest_s)


def test_of_two_stops_the_one_that_a_stopped_engine_meets() -> None:
    """12.8 V for five minutes, and 12.0 V for ten seconds: at 12.7 V after stopping only the first is met."""
    rules = {"ways": ["voltage"], "start_v": 13.4, "stop_v": 12.9}
    made = plain(charger=charger(stop_rows=2), activation=rules)
    for second_v, seconds in ((12.0, 300.0), (12.85, 10.0)):
        stops = [{"below_v": 12.9, "held_s": 300.0}, {"below_v": second_v, "held_s": 10.0}]
        ctx = Context.of(Design.model_validate(made | {"activation": made["activation"] | {"stop_rules": stops}}))
        assert (stops_after_s(ctx), stops_by_s(ctx)) == (seconds, seconds)


@pytest.mark.parametrize("scale", [1, 2])
@pytest.mark.parametrize(
    ("first_v", "quick_v", "soonest_s", "latest_s"),
    [
        (13.2, 13.79, 0.0, 0.0),  # a tenth of a volt under the 13.90 V of hot idle
        (13.2, 13.81, 0.0, 60.0),
        (13.2, 14.29, 0.0, 60.0),  # a tenth over the 14.20 V of the road
        (13.2, 14.31, 60.0, 60.0),
        (13.85, 13.95, 0.0, 60.0),  # neither for certain
    ],
)
def test_a_tenth_of_a_volt_decides_which_start_is_met(
    scale: int, first_v: float, quick_v: float, soonest_s: float, latest_s: float
) -> None:
    """Per 12 V: what an engine holds differs so from day to day."""
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2}
    found = vehicle(system_v=12 * scale, readings={key: volts * scale for key, volts in readings.items()})
    unit = charger((10.0, 32.0, 0.01), start_rows=2, input_nominal_v=12 * scale, input_max_v=40.0)
    rules = {"start_v": first_v * scale, "start_held_s": 60.0, "stop_v": 12.9 * scale, "quick_start_v": quick_v * scale}
    made = design(vehicle=found, charger=unit, activation={"ways": ["voltage"], **rules})
    assert starts_within_s(Context.of(made)) == (soonest_s, latest_s)


@pytest.mark.parametrize(("over_v", "ends"), [(0.009, False), (0.011, True), (0.018, True)])
@pytest.mark.parametrize("scale", [1, 2])
def test_a_stop_on_the_volts_of_a_full_battery_never_comes(scale: int, over_v: float, ends: bool) -> None:
    """12.70 V per 12 V of a flooded battery that is full, to the hundredth of a volt."""
    readings = {"rest_v": 12.5, "after_stop_v": 12.6, "idle_v": 13.9, "cruise_v": 14.2}
    found = vehicle(system_v=12 * scale, readings={key: volts * scale for key, volts in readings.items()})
    rules = {"start_v": 13.3 * scale, "stop_v": (12.7 + over_v) * scale, "stop_held_s": 45.0}
    by_s = stops_by_s(Context.of(design(vehicle=found, activation={"ways": ["voltage"], **rules})))
    assert (by_s is not None) is ends
    if by_s is not None:
        assert by_s == pytest.approx(45.0 + 900 * math.log(0.1 / over_v), rel=1e-3)


def test_of_two_stops_that_nothing_meets_the_longer_hold_is_told() -> None:
    """Both under what a stopped engine shows: neither comes, and the plan of the time is the longer."""
    made = plain(charger=charger(stop_rows=2), activation={"ways": ["voltage"], "start_v": 13.4, "stop_v": 12.4})
    stops = [{"below_v": 12.4, "held_s": 300.0}, {"below_v": 12.3, "held_s": 10.0}]
    ctx = Context.of(Design.model_validate(made | {"activation": made["activation"] | {"stop_rules": stops}}))
    assert (stops_after_s(ctx), stops_by_s(ctx)) == (300.0, None)
