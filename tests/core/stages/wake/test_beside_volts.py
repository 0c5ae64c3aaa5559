"""A signal beside detection by voltage: what it takes off the rules' shoulders, and what it leaves on them."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.stages.wake.remedies import signal_instead
from tests.designs import charger, design, vehicle

# 12.90 V just after stopping leaves a stop no room under what full current leaves of 13.10 V at idle.
SHUT = {"rest_v": 12.7, "after_stop_v": 12.9, "idle_v": 13.1, "cruise_v": 13.4}


def told(ways: list[str], readings: dict[str, float], **rules: Any) -> tuple[Context, dict[str, Finding]]:
    made = design(vehicle=vehicle(readings=readings), activation={"ways": ways, **rules})
    return Context.of(made), {item.id: item for item in assess(made).findings}


def test_where_parked_volts_leave_no_window_a_signal_lets_the_rules_lie_lower() -> None:
    """Above the guard and under what full current leaves; by its volts or with a key beside them nothing fits."""
    for ways in (["voltage"], ["ignition", "voltage"]):
        assert "wake.no_stop_window" in told(ways, SHUT)[1], ways
    ctx, found = told(["d_plus", "voltage"], SHUT)
    at = ctx.thresholds
    assert at.loaded_low_v is not None
    assert at.guard_v + 0.15 <= at.stop_v <= at.loaded_low_v - 0.15
    assert at.stop_v <= at.start_v <= at.unloaded_low_v - 0.15
    assert not {item.id for item in found.values() if item.level != "note" and item.id.startswith("wake.")}
    assert f"{at.stop_v:.2f} V" in found["wake.signal_tells"].text
    margins = {mark.kind: mark.margin_text for mark in assess(ctx.design).wake.marks}
    assert margins["stop"] == f"{at.stop_v - at.guard_v:.2f} V above the guard"
    low = assess(ctx.design).figures["wake.stop_window_low_v"]
    assert low.value == pytest.approx(at.guard_v + 0.15)
    assert low.formula == "V_off + m"


def test_where_there_is_room_the_rules_tell_a_stopped_engine_besides() -> None:
    """12.70 V just after stopping, 13.9 V at idle: with D+ beside them the rules are proposed as without it."""
    alone, _ = told(["voltage"], {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2})
    both, found = told(["d_plus", "voltage"], {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2})
    assert (both.thresholds.start_v, both.thresholds.stop_v) == (alone.thresholds.start_v, alone.thresholds.stop_v)
    assert "wake.signal_tells" not in found


def test_a_long_hold_costs_nothing_after_a_stop_where_a_signal_ends_it() -> None:
    """The hold outlasts the phase of 60 s by half a minute: with D+ the start battery gives for the phase, not for the hold."""
    low = {
        "rest_v": 12.6,
        "after_stop_v": 12.7,
        "idle_v": 13.9,
        "cruise_v": 14.2,
        "low_phase_v": 12.7,
        "low_phase_s": 60.0,
    }
    rules = {"start_v": 13.4, "stop_v": 12.9, "stop_held_s": 90.0, "guard_v": 11.8}
    said = {
        tuple(ways): told(ways, low, **rules) for ways in (["voltage"], ["d_plus", "voltage"], ["ignition", "voltage"])
    }
    ctx, found = said["d_plus", "voltage"]
    phase = ctx.solved.running_by_key("low")
    assert phase is not None
    assert phase.drawn is not None
    assert f"up to {phase.drawn.current_a / 60:.1f} Ah in every phase." in found["wake.rides_low_phase"].text
    assert "after every engine stop." in said["voltage",][1]["wake.rides_low_phase"].text
    assert "with the key left on." in said["ignition", "voltage"][1]["wake.rides_low_phase"].text
    for ways, late in ((["voltage"], True), (["d_plus", "voltage"], False)):
        assert ("wake.stop_hold_long" in told(ways, low, **rules | {"stop_held_s": 1000.0})[1]) is late


@pytest.mark.parametrize(
    ("ways", "label"),
    [
        (["voltage"], "Use the charge indicator (D+, 61) instead of voltage"),
        (["ignition", "voltage"], "Use the charge indicator (D+, 61) instead of voltage"),
        (["d_plus", "voltage"], "Use the charge indicator (D+, 61), without voltage"),
        (["bridge"], "Use the charge indicator (D+, 61)"),
    ],
)
def test_what_a_signal_takes_the_place_of(ways: list[str], label: str) -> None:
    """Named only where it is in use; what starts by that signal alone has nothing to turn to."""
    found = signal_instead(design(activation={"ways": ways}))
    assert found is not None
    assert found.label == label
    assert signal_instead(design(activation={"ways": ["d_plus"]})) is None


def test_a_second_start_under_parked_volts() -> None:
    """By its volts a stop; with a key a caution that names it; with D+ nothing of its own."""
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2}
    unit = charger(start_rows=2)
    levels = {}
    for ways in (["voltage"], ["ignition", "voltage"], ["d_plus", "voltage"]):
        made = design(
            vehicle=vehicle(readings=readings),
            charger=unit,
            activation={"ways": ways, "start_v": 13.4, "stop_v": 13.0, "quick_start_v": 12.65},
        )
        found = {item.id: item for item in assess(made).findings}
        levels[tuple(ways)] = found["wake.start_parked.1"].level if "wake.start_parked.1" in found else None
    assert levels == {("voltage",): "stop", ("ignition", "voltage"): "caution", ("d_plus", "voltage"): None}


ROOMY = {"rest_v": 12.6, "after_stop_v": 12.8, "idle_v": 13.9, "cruise_v": 14.2}


@pytest.mark.parametrize("keyed", [False, True])
@pytest.mark.parametrize(
    ("id", "rules"),
    [
        ("wake.starts_parked", {"start_v": 12.7, "stop_v": 12.65}),
        ("wake.never_stops", {"start_v": 13.4, "stop_v": 12.5}),
        ("wake.stops_late", {"start_v": 13.4, "stop_v": 12.7}),
    ],
)
def test_what_a_key_left_on_does_is_said_of_it(id: str, rules: dict[str, float], keyed: bool) -> None:
    """By its volts alone it is a stop, and no key is spoken of; stopping late is a caution either way."""
    ways = ["ignition", "voltage"] if keyed else ["voltage"]
    found = told(ways, ROOMY, **rules)[1][id]
    assert found.level == ("caution" if keyed or id == "wake.stops_late" else "stop")
    assert ("with the key left on" in found.text) is keyed
    assert ("key" in found.title) is (keyed and id != "wake.stops_late")
    assert id not in told(["d_plus", "voltage"], ROOMY, **rules)[1]


def test_which_signal_tells() -> None:
    """D+ of an engine, the feed of a hybrid that is live when ready; each rule that parked volts meet is named."""
    low = {"start_v": 12.75, "stop_v": 12.7}
    text = told(["d_plus", "voltage"], ROOMY, **low)[1]["wake.signal_tells"].text
    assert text.startswith("The start at 12.75 V and the stop at 12.70 V lie not above the 12.80 V")
    assert "the charge indicator (D+, 61) alone" in text
    one = told(["d_plus", "voltage"], ROOMY, start_v=13.4, stop_v=12.7)[1]["wake.signal_tells"]
    assert one.text.startswith("The stop at 12.70 V lies not above")
    assert one.concerns == ("activation.stop_rules.0.below_v",)
    hybrid = design(
        vehicle=vehicle(drive="converter", readings=ROOMY), activation={"ways": ["ignition", "voltage"], **low}
    )
    found = {item.id: item for item in assess(hybrid).findings}
    assert "the ignition feed (15) alone" in found["wake.signal_tells"].text
    dead = design(vehicle=vehicle(drive="converter", readings=ROOMY), activation={"ways": ["d_plus", "voltage"], **low})
    assert "wake.signal_tells" not in {item.id for item in assess(dead).findings}


def test_beside_a_signal_the_guard_is_what_rules_stand_above() -> None:
    """A margin over it is wanted of start and stop; parked volts are no bound, and not spoken of."""
    for rules, id in (
        ({"start_v": 12.1, "stop_v": 12.05}, "wake.start_tight"),
        ({"start_v": 13.4, "stop_v": 12.1}, "wake.stop_tight"),
    ):
        found = told(["d_plus", "voltage"], ROOMY, guard_v=12.0, back_v=12.9, **rules)[1]
        assert "above the guard" in found[id].text
        assert "resting" not in found[id].text
        clear = {key: volts + 0.15 for key, volts in rules.items()}
        assert id not in told(["d_plus", "voltage"], ROOMY, guard_v=12.0, back_v=12.9, **clear)[1]


def test_a_guard_under_full_current_leaves_a_stop_no_room_even_beside_a_signal() -> None:
    """Said of the guard, not of a stopped engine."""
    ctx, _ = told(["d_plus", "voltage"], SHUT)
    assert ctx.thresholds.loaded_low_v is not None
    high = round(ctx.thresholds.loaded_low_v - 0.05, 2)
    text = told(["d_plus", "voltage"], SHUT, guard_v=high)[1]["wake.no_stop_window"].text
    assert f"the {high:.2f} V of the guard" in text
    assert "the guard stops it first" in text
    assert "of a stopped engine" in told(["voltage"], SHUT)[1]["wake.no_stop_window"].text
