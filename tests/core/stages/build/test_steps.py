"""Which steps a job has, what they say, and what a reading should be: each case with its reason, numbers by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.conductors import conductors_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.procedure.step import Step
from tests.designs import cable, charger, design, fuse, vehicle

OLD = {"kind": "built_in_charger", "cut": True}


def steps(made: Design) -> dict[str, Step]:
    return {placed.step.key: placed.step for placed in procedure_of(Context.of(made)).procedure.steps}


# what the job is; the step it has for that; whether it is there without
CASES: list[tuple[dict[str, Any], str, str]] = [
    ({"site": {"gas": True}}, "prepare.gas", "a spark and gas must not meet"),
    ({"site": {"codes": True}}, "prepare.codes", "what the battery holds is lost with it"),
    ({"site": {"mains": True}}, "off.mains", "a mains charger feeds the leads"),
    ({"use": {"mains_h": 8.0}}, "off.mains", "mains charging a day means there is an inlet"),
    ({"existing": [{"kind": "mains_charger"}]}, "off.mains", "a mains charger was found"),
    ({"site": {"inverter": True}}, "off.inverter", "the largest draw on board"),
    ({"use": {"loads": [{"name": "saw", "power_w": 900.0, "fed": "inverter"}]}}, "off.inverter", "a load hangs on one"),
    ({"solar": {"panel_w": 120.0}}, "off.solar", "a controller must not lose its battery in the sun"),
    (
        {"vehicle": vehicle(lifters=[{"id": "h1", "kind": "maintainer"}])},
        "off.lifter.h1",
        "it holds the start side live",
    ),
    ({"vehicle": vehicle(chassis={"trailer": True})}, "off.trailer", "its battery feeds back"),
    ({"site": {"seats": True}}, "seats.out", "seats come out"),
    ({"site": {"drills": True}}, "mount.holes", "holes are drilled"),
    ({"site": {"auxiliary_there": "new"}}, "mount.auxiliary", "a battery is fitted"),
    ({"mount": {"around": "vents", "vent_low_cm2": 40.0, "vent_high_cm2": 40.0}}, "mount.vents", "openings are cut"),
    ({"mount": {"fan_m3_h": 40.0}}, "mount.fan", "a fan is fitted"),
    ({"units": 2}, "mount.unit2", "a second unit is fixed"),
    ({"units": 2}, "mount.bars", "several units hang on bars"),
    ({"existing": [OLD]}, "out.e1.capacitors", "an old charger's capacitors are emptied"),
    ({"existing": [{"kind": "link"}], "old_link": {"decision": "disconnect"}}, "out.e1", "the old link is cut out"),
    ({"existing": [{"kind": "link"}], "old_link": {"decision": "changeover"}}, "on.relay", "a relay opens it"),
    ({"supply": {"pieces": [fuse(60.0), cable(there="out")]}}, "out.inherited", "a cable is used again"),
    ({"inherited": {"size": "16 mm²", "length_m": 4.0}}, "out.cable", "a cable is not used again"),
]


@pytest.mark.parametrize(("changes", "key", "reason"), CASES, ids=[f"{case[1]}: {case[2]}" for case in CASES])
def test_a_step_is_there_where_it_is_needed_and_only_there(changes: dict[str, Any], key: str, reason: str) -> None:
    """Steps come from the design and the survey, not from a fixed list."""
    plain = design(site={"auxiliary_there": "there"})
    assert key in steps(design(**changes)), reason
    assert key not in steps(plain), reason


# what the job is; the step it has not, however near it comes
NEITHER: list[tuple[dict[str, Any], str, str]] = [
    ({"mount": {"around": "vents"}}, "mount.vents", "openings of no size are not cut"),
    ({"mount": {"around": "shut", "vent_low_cm2": 9.0}}, "mount.vents", "a place that is shut has none"),
    ({"existing": [{"kind": "link"}], "old_link": {"decision": "keep"}}, "out.e1", "what is kept stays"),
    (
        {"existing": [{"kind": "mains_charger"}, {"kind": "link"}], "old_link": {"decision": "disconnect"}},
        "out.e1",
        "the link goes, the mains charger stays",
    ),
]


@pytest.mark.parametrize(("changes", "key", "reason"), NEITHER, ids=[f"{case[1]}: {case[2]}" for case in NEITHER])
def test_a_step_that_is_not_needed_is_not_there(changes: dict[str, Any], key: str, reason: str) -> None:
    """Beside each that is needed, one that only looks like it."""
    assert key not in steps(design(**changes)), reason


def test_what_goes_off_comes_on_again() -> None:
    """Nothing stays switched off or shut at the end."""
    found = steps(
        design(
            site={"mains": True, "gas": True, "inverter": True},
            solar={"panel_w": 100.0},
            vehicle=vehicle(lifters=[{"id": "h1", "kind": "maintainer"}]),
        )
    )
    off = {act.to for step in found.values() for act in step.acts if act.does == "off"}
    on = {act.to for step in found.values() for act in step.acts if act.does == "on"}
    assert off - {"trailer"} == on


def test_every_conductor_is_laid_crimped_and_bolted_by_its_name() -> None:
    """No conductor of the cut list is forgotten, and each end has its torque where it is bolted."""
    made = design(
        supply={
            "pieces": [fuse(60.0), cable(), {"kind": "joint", "form": "bus_bar", "name": "bar"}, cable("16 mm²", 0.4)]
        },
        delivery={"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": {"kind": "chassis"}},
    )
    found, cuts = steps(made), conductors_of(Context.of(made))
    for kind in ("end", "bolt"):
        named = {name for key, step in found.items() if key.startswith(f"{kind}.") for name in step.conductors}
        assert named == {cut.id for cut in cuts}
    laid = {name for key, step in found.items() if key.startswith("route.") for name in step.conductors}
    assert {cut.id for cut in cuts if cut.id[0] != "C"} == laid
    bolted = next(step for key, step in found.items() if key.startswith("bolt.") and "S2+" in step.conductors)
    assert any("S2+ to bar +, 12 N·m" in line for line in bolted.see)


def test_old_capacitors_are_empty_within_a_volt() -> None:
    """100 Ω empty 0.1 F in five times ten seconds: a minute, and then a volt either way at most."""
    step = steps(design(existing=[OLD]))["out.e1.capacitors"]
    assert step.wait_s is not None
    assert 5 * 100 * 0.1 <= step.wait_s <= 60
    assert step.expected is not None
    assert (step.expected.least, step.expected.most, step.expected.unit) == (-1.0, 1.0, "V")


def test_a_strap_is_measured() -> None:
    """The body carries the whole current back: bright metal, at most a milliohm."""
    found = steps(design(delivery={"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": {"kind": "chassis"}}))
    strap = next(step for key, step in found.items() if key.startswith("bolt.delivery.back"))
    assert strap.expected is not None
    assert (strap.expected.least, strap.expected.most, strap.expected.unit) == (0.0, 1.0, "mΩ")


def test_the_start_batterys_band_by_hand() -> None:
    """12 V flooded at 30 % rests near 11.9 V; rested volts of 12.72 V were measured, 12.80 V just after stopping."""
    made = design(
        vehicle=vehicle(
            start_battery={"chemistry": "flooded", "capacity_ah": 90.0},
            readings={"rest_v": 12.72, "after_stop_v": 12.80, "idle_v": 13.9, "cruise_v": 14.3},
        )
    )
    band = steps(made)["insert.supply"].expected
    assert band is not None
    assert band.least == pytest.approx(11.9, abs=0.12)
    assert band.most == pytest.approx(12.85, abs=0.01)


def test_a_sensor_on_the_negative_keeps_its_side() -> None:
    """The return lands on the body side of the sensor, never on the post; the sensor comes off with the clamp."""
    made = design(vehicle=vehicle(start_battery={"capacity_ah": 90.0, "negative_sensor": True}))
    found = steps(made)
    assert "body side of its sensor" in found["join.start_negative"].text
    assert "sensor and all" in found["part.start_negative"].text
    assert "sensor" not in steps(design())["join.start_negative"].text


def test_a_run_that_begins_at_a_stud_leaves_the_positive_post_alone() -> None:
    """Only what has to come off comes off."""
    made = design(vehicle=vehicle(source_point={"kind": "fused_stud", "rating_a": 100.0}))
    assert "part.start_positive" not in steps(made)
    assert "part.start_negative" in steps(made)
    assert "part.start_positive" in steps(design())


def test_the_airbag_wait_is_the_makers_or_ten_minutes() -> None:
    """As the vehicle's maker says; ten minutes where nothing is said."""
    said = steps(design(site={"seats": True, "airbags": True, "airbag_wait_s": 120.0}))["wait.airbag"]
    assert (said.wait_s, "as the vehicle's maker says" in said.text) == (120.0, True)
    assert steps(design(site={"seats": True, "airbags": True}))["wait.airbag"].wait_s == 600.0
    assert "wait.airbag" not in steps(design(site={"seats": True}))


def test_a_plain_converter_is_not_keyed() -> None:
    """It has nothing to key; without any unit there is nothing to enable either."""
    assert "key.sheet" not in steps(design(charger=charger(kind="converter")))
    bare = steps(design(charger=None))
    assert not {"key.sheet", "enable", "prepare.bench", "mount.unit"} & set(bare)


def test_every_step_says_what_and_why() -> None:
    """Sentences, not codes: every step of a full job has its reason, and its own words."""
    made = design(
        site=dict.fromkeys(("seats", "airbags", "drills", "tank", "gas", "mains", "inverter", "codes"), True),
        existing=[OLD, {"kind": "link"}],
        old_link={"decision": "changeover"},
        solar={"panel_w": 100.0, "into": "second_input"},
        units=2,
        mount={"around": "vents", "vent_low_cm2": 40.0, "vent_high_cm2": 40.0, "fan_m3_h": 30.0},
        activation={"ways": ["ignition", "switch"]},
    )
    found = list(steps(made).values())
    assert len(found) > 60
    assert len({step.text for step in found}) == len(found)
    for step in found:
        assert len(step.text) > 8, step.key
        assert len(step.why) > 8, step.key
        assert step.why.rstrip()[-1] in ".!", step.key
        assert "_" not in step.text + step.why, step.key


def test_an_enable_by_volts_alone_says_when() -> None:
    """No wire to join: the last step says at how many volts it starts by itself."""
    rules = {"ways": ["voltage"], "start_rules": [{"at_least_v": 13.35, "held_s": 10.0}]}
    found = steps(design(activation=rules))["enable"]
    assert "13.35 V" in found.number
    signal = steps(design(activation={"ways": ["d_plus"]}))["enable"]
    assert "61" in signal.text
    assert "3 A" in signal.number
