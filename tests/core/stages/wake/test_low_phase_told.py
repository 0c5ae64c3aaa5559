"""What a low phase does to a unit started by voltage: hunting, stopping, riding through, in words, costs and ways out."""

from __future__ import annotations

import math
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.stages.wake.low_phase import _clearing, _longer_hold, _phase_volts
from tests.designs import charger, design, vehicle

LOW = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 12.7, "low_phase_s": 60.0}
HELD = {"ways": ["voltage"], "start_v": 13.4, "stop_v": 12.9, "stop_held_s": 90.0, "guard_v": 11.8}


def told(volts: float = 12.7, seconds: float = 60.0, **rules: Any) -> tuple[Context, dict[str, Finding]]:
    """A phase of so many volts and seconds under these rules."""
    readings = LOW | {"low_phase_v": volts, "low_phase_s": seconds}
    made = design(vehicle=vehicle(readings=readings), activation=HELD | rules)
    return Context.of(made), {item.id: item for item in assess(made).findings}


def test_riding_through_costs_ampere_hours_after_every_stop() -> None:
    """The longest hold at what the unit draws in the phase: 90 s at some 28 A are 0.7 Ah; four times the hold, four times that."""
    ctx, found = told()
    phase = ctx.solved.running_by_key("low")
    assert phase is not None
    assert phase.drawn is not None
    for held_s in (90.0, 360.0):
        ctx, found = told(stop_held_s=held_s)
        assert f"up to {phase.drawn.current_a * held_s / 3600:.1f} Ah after every" in found["wake.rides_low_phase"].text
        assert found["wake.rides_low_phase"].level == "note"
        assert f"{ctx.thresholds.loaded_phase_v:.2f} V in the low phase" in found["wake.rides_low_phase"].text


def test_volts_as_the_guard_has_them() -> None:
    """A guard that allows for the draw sees more than the terminals show: both are said; one that does not, one figure."""
    ctx, _ = told()
    assert _phase_volts(ctx.thresholds, 12.34) == "12.34 V"
    unit = charger(compensated=True)
    made = design(vehicle=vehicle(readings=LOW), activation=HELD, charger=unit)
    at = Context.of(made).thresholds
    assert at.guard_ohm > 0
    assert at.phase_seen_v is not None
    assert _phase_volts(at, 12.34) == f"12.34 V ({at.phase_seen_v:.2f} V to the guard)"


@pytest.mark.parametrize(
    ("seconds", "trips", "most_s", "held_s"),
    [
        (60.0, False, None, 90.0),
        (60.0, True, None, None),  # the guard is sooner
        (3570.0, False, None, 3600.0),
        (3571.0, False, None, None),  # an hour is the longest
        (60.0, False, 90.0, 90.0),
        (60.0, False, 89.0, None),  # the unit takes no more
    ],
)
def test_a_longer_hold_is_offered_where_it_helps(
    seconds: float, trips: bool, most_s: float | None, held_s: float | None
) -> None:
    """Half a minute past the phase, within an hour and what the unit takes."""
    unit = charger() if most_s is None else charger(stop_held_most_s=most_s)
    readings = LOW | {"low_phase_s": seconds}
    ctx = Context.of(design(vehicle=vehicle(readings=readings), activation=HELD | {"stop_held_s": 30.0}, charger=unit))
    found = _longer_hold(ctx, trips)
    assert (None if found is None else [change.value for change in found.changes]) == (
        None if held_s is None else [held_s]
    )


def test_what_is_typed_can_be_left_to_the_proposals() -> None:
    """Hunting with a start typed into the phase: proposing both is offered; with nothing typed there is nothing to leave."""
    label = "Propose start and stop from the windows"
    _, typed = told(13.0, stop_held_s=30.0, start_v=12.95, stop_v=12.8)
    _, start = told(13.0, stop_held_s=30.0, start_v=12.95, stop_v=None)
    hunting = [found["wake.hunts_in_phase"] for found in (typed, start) if "wake.hunts_in_phase" in found]
    assert hunting
    assert all(label in [item.label for item in found.remedies] for found in hunting)


@pytest.mark.parametrize("quick_start_v", [None, 13.9])
@pytest.mark.parametrize(
    ("start_v", "stop_v", "offered"), [(12.95, None, True), (None, 12.8, True), (None, None, False)]
)
def test_only_what_is_typed_can_be_left(
    start_v: float | None, stop_v: float | None, offered: bool, quick_start_v: float | None
) -> None:
    """A start or a stop alone is enough for there to be something to leave to the proposals."""
    rules = HELD | {"start_v": start_v, "stop_v": stop_v, "stop_held_s": 30.0, "quick_start_v": quick_start_v}
    readings = LOW | {"low_phase_v": 13.3}
    made = design(vehicle=vehicle(readings=readings), activation=rules)
    found = _clearing(made, Context.of(made).solved)
    assert (found is not None) is offered


@pytest.mark.parametrize(("rows", "words"), [(1, "Keep the first"), (2, "Keep the first 2")])
def test_more_rules_than_the_unit_takes(rows: int, words: str) -> None:
    """The first ones are kept; the fields of the others are marked."""
    plain = design(charger=charger(start_rows=rows)).model_dump(mode="json")
    plain["activation"] |= {
        "ways": ["voltage"],
        "start_rules": [{"at_least_v": 13.4}, {"at_least_v": 13.6}, {"at_least_v": 13.8}],
    }
    made = type(design()).model_validate(plain)
    found = next(item for item in assess(made).findings if item.id == "wake.rules.start")
    assert found.text == f"3 are set; Test unit takes {rows}."
    assert [item.label for item in found.remedies] == [words]
    assert found.concerns == tuple(f"activation.start_rules.{row}.at_least_v" for row in range(rows, 3))


def test_what_a_phase_costs_that_stops_it() -> None:
    """The volts that full current leaves of it, and the charge missed: 25 A of output for 60 s are 0.4 Ah."""
    ctx, found = told(13.0, stop_held_s=30.0, start_v=13.4, stop_v=12.95)
    text = found["wake.low_phase"].text
    assert ctx.thresholds.loaded_phase_v is not None
    assert text.startswith(
        f"The charger sees {ctx.thresholds.loaded_phase_v:.2f} V in the low phase, and stops below 12.95 V."
    )
    assert text.endswith("A phase of 60 s costs 0.4 Ah of charge.")


def test_a_guard_is_lowered_to_half_a_margin_under_the_phase() -> None:
    """On the unit's step; what the phase leaves less half of the margin of 0.15 V."""
    ctx, found = told(12.5, stop_held_s=30.0, stop_v=12.7, guard_v=12.4)
    at = ctx.thresholds
    assert at.phase_seen_v is not None
    lower_v = math.floor((at.phase_seen_v - at.margin_v / 2) / 0.05 + 1e-6) * 0.05
    lowered = [
        change.value
        for item in found["wake.low_phase"].remedies
        for change in item.changes
        if change.path.startswith("activation.guard") and change.value is not None
    ]
    assert lowered
    assert lowered == pytest.approx([lower_v] * len(lowered))
