"""Holds and signals at their edges: what is said just beyond each, and nothing just within."""

from __future__ import annotations

from itertools import combinations
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.trip import drive as drive_of
from tests.designs import charger, design, plain, vehicle

RULES = {"start_v": 13.4, "stop_v": 13.0, "guard_v": 12.0, "back_v": 12.9}


def said(**changes: Any) -> set[str]:
    """Ids of the findings of Wake."""
    return {item.id for item in assess(design(**changes), remedies=False).findings if item.stage == "wake"}


@pytest.mark.parametrize(
    ("held", "value", "finding"),
    [
        ("guard_held_s", 0.4, "wake.guard_hold_short"),
        ("guard_held_s", 0.5, None),
        ("guard_held_s", 60.0, None),
        ("guard_held_s", 61.0, "wake.guard_hold_long"),
        ("stop_held_s", 900.0, None),
        ("stop_held_s", 901.0, "wake.stop_hold_long"),
        ("start_held_s", 600.0, None),
        ("start_held_s", 601.0, "wake.start_hold_long"),
    ],
)
def test_holds_too_short_and_too_long(held: str, value: float, finding: str | None) -> None:
    """Half a second to a minute for the guard, a quarter of an hour for the stop, ten minutes for the start."""
    kinds = {"wake.guard_hold_short", "wake.guard_hold_long", "wake.stop_hold_long", "wake.start_hold_long"}
    found = said(activation={"ways": ["voltage"], **RULES, held: value}) & kinds
    assert found == ({finding} if finding else set())


def test_rules_that_do_not_act_are_not_judged() -> None:
    """On D+ alone nobody waits for a start or stop rule, however long; the guard is judged all the same."""
    found = said(
        activation={"ways": ["d_plus"], **RULES, "stop_held_s": 2000.0, "start_held_s": 2000.0, "guard_held_s": 99.0}
    )
    assert not {"wake.stop_hold_long", "wake.start_hold_long"} & found
    assert "wake.guard_hold_long" in found


@pytest.mark.parametrize(
    ("ways", "finding"),
    [
        ([], "wake.no_way"),
        (["ignition"], "wake.guard_alone.ignition"),
        (["bridge"], "wake.guard_alone.bridge"),
        (["switch"], "wake.guard_alone.switch"),
        (["d_plus"], None),
        (["ignition", "voltage"], None),
        (["d_plus", "ignition"], None),
    ],
)
def test_what_stands_behind_a_way(ways: list[str], finding: str | None) -> None:
    """A key, a bridge or a switch alone has only the guard behind it; a signal of the running engine has more."""
    found = {
        item
        for item in said(activation={"ways": ways, **RULES})
        if item.startswith(("wake.no_way", "wake.guard_alone"))
    }
    assert found == ({finding} if finding else set())


@pytest.mark.parametrize(
    ("ways", "latched", "there"), [(["switch"], True, True), (["switch"], False, False), (["d_plus"], True, False)]
)
def test_a_mode_that_stays(ways: list[str], latched: bool, there: bool) -> None:
    """A unit that keeps its mode without its remote is dangerous where a remote is what stops it."""
    unit = charger(behaviour={"latched": latched})
    assert ("wake.latched" in said(charger=unit, activation={"ways": ways, **RULES})) is there


@pytest.mark.parametrize("way", ["ignition", "d_plus", "switch", "voltage"])
def test_a_way_the_unit_has_not(way: str) -> None:
    """Each is refused by a unit without that enable, and by no other."""
    enables = {"ignition": "ignition", "d_plus": "d_plus", "switch": "remote", "voltage": "voltage"}
    others = [item for item in enables.values() if item != enables[way]]
    refused = f"wake.unsupported.{way}"
    assert refused in said(charger=charger(enables=others), activation={"ways": [way], **RULES})
    assert refused not in said(activation={"ways": [way], **RULES})


@pytest.mark.parametrize(("way", "signal"), [("ignition", "ignition"), ("d_plus", "d_plus")])
def test_a_signal_nobody_found(way: str, signal: str) -> None:
    """Relied on and not surveyed: said; surveyed, or not relied on: not."""
    absent = f"wake.signal_absent.{way}"
    other = "d_plus" if way == "ignition" else "ignition"
    bare = vehicle(signals={signal: False, other: True})
    assert absent in said(vehicle=bare, activation={"ways": [way], **RULES})
    assert absent not in said(vehicle=bare, activation={"ways": [other], **RULES})
    assert absent not in said(activation={"ways": [way], **RULES})


def test_a_unit_behind_a_plug_needs_a_contact() -> None:
    """Tapped at the vehicle the wire passes the plug; noted there, or started by voltage, nothing is missing."""
    supply = {"pieces": [*plain()["supply"]["pieces"], {"kind": "joint", "resistance_mohm": 0.5, "form": "plug"}]}
    wired = {"ways": ["d_plus"], **RULES}
    missing = "wake.plug_contact.d_plus"
    assert missing in said(supply=supply, activation=wired)
    assert missing not in said(supply=supply, activation=wired | {"plug_contact": "13"})
    assert missing not in said(supply=supply, activation={"ways": ["voltage"], **RULES})
    assert missing not in said(activation=wired)


def test_what_a_late_guard_costs() -> None:
    """Power over the guard's volts for as long as it waits: 360 W of output through 0.9 at 12.00 V for two minutes, 1.1 Ah."""
    job = design(activation={"ways": ["voltage"], **RULES, "guard_v": 12.0, "guard_held_s": 120.0})
    text = next(item.text for item in assess(job, remedies=False).findings if item.id == "wake.guard_hold_long")
    watts = Context.of(job).thresholds.input_w
    assert watts == pytest.approx(400, rel=0.03)
    assert f"120 s under 12.00 V take up to {watts / 12 * 120 / 3600:.1f} Ah" in text
    small = design(
        vehicle=vehicle(start_battery={"chemistry": "flooded", "capacity_ah": 1.0}),
        activation=job.activation.model_dump(),
    )
    told = next(item.text for item in assess(small, remedies=False).findings if item.id == "wake.guard_hold_long")
    assert "up to 1.0 Ah" in told  # no battery gives more than it holds


def test_a_stop_at_the_settled_volts_never_stops() -> None:
    """Not above the unloaded volts of a stopped engine: at them as little as under them."""
    settled_v = Context.of(design()).facts.settled_v
    for stop_v, never in ((settled_v, True), (settled_v + 0.05, False)):
        found = said(activation={"ways": ["voltage"], **RULES, "stop_v": stop_v})
        assert ("wake.never_stops" in found) is never


ALL_WAYS = ("ignition", "d_plus", "switch", "bridge", "voltage")
TOGETHER = [list(ways) for count in range(1, 6) for ways in combinations(ALL_WAYS, count)]


@pytest.mark.parametrize("drive", ["engine", "converter"])
@pytest.mark.parametrize("ways", TOGETHER, ids="-".join)
def test_any_ways_together_say_what_the_road_test_does(ways: list[str], drive: str) -> None:
    """With the key on and the engine off it charges if and only if it is said that its guard alone stands behind it."""
    made = design(vehicle=vehicle(drive=drive), activation={"ways": ways, **RULES, "guard_v": 11.0, "back_v": 12.0})
    found = {item.id: item for item in assess(made).findings}
    standing = read_programme("begin start 90 % auxiliary 40 %\noff 5 min ignition on\n")
    trip = drive_of(made, standing)
    alone = [id for id in found if id.startswith("wake.guard_alone.")]
    if drive == "engine":  # the key of a hybrid in accessory is no ready feed, which a programme cannot leave on
        assert bool(alone) is (trip.engine_off_charging_s > 60)
    assert len(alone) <= 1
    assert bool(alone) is made.left_on
    assert ("wake.bridged_switch" in found) is ({"switch", "bridge"} <= set(ways))
    assert ("wake.two_signals" in found) is (drive == "engine" and {"d_plus", "ignition"} <= set(ways))
    for id in ("wake.bridged_switch", "wake.two_signals"):
        for way_out in found[id].remedies if id in found else ():
            kept = way_out.changes[0].value
            assert set(kept) < set(ways)
            assert len(kept) == len(ways) - 1
