"""What findings and windows weigh against a way to start: the order of the list, in numbers by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.solve import solve
from olvask.core.stages.wake.method import BY_HAND, CANDIDATES, _entered, _judge, _Judged
from tests.designs import charger, design, vehicle

BY_KEY = {item.key: item for item in CANDIDATES}
FIXED = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2}
FLAT = {"rest_v": 12.9, "after_stop_v": 13.1, "idle_v": 13.2, "cruise_v": 13.3}
NONE = {"ignition": False, "d_plus": False}


def judged(key: str, **changes: Any) -> _Judged:
    """One way of a job."""
    made = design(**changes)
    return _judge(made, solve(made), BY_KEY[key])


def weight(item: _Judged, more: float = 0.0) -> float:
    """By hand: its burden, 2 for each caution, 100 and 3 for each stop where there is one, 1000 for what is not there."""
    stops = 100.0 + 3.0 * len(item.stops) if item.stops else 0.0
    return item.candidate.burden + 2.0 * len(item.cautions) + stops + (1000.0 if item.missing else 0.0) + more


def test_a_sound_way_weighs_its_burden() -> None:
    """Wide windows, everything there."""
    found = judged("d_plus")
    assert (found.stops, found.cautions, found.missing) == ((), (), "")
    assert found.weight == found.candidate.burden


def test_what_is_missing_outweighs_everything() -> None:
    """A thousand for a signal that is not surveyed; being absent is no caution besides."""
    found = judged("d_plus", vehicle=vehicle(signals=NONE))
    assert found.missing
    assert found.weight >= 1000.0
    assert found.weight == pytest.approx(weight(found))
    assert not any(item.id.startswith("wake.signal_absent") for item in found.cautions)


def test_windows_that_are_shut() -> None:
    """Hardly more running than resting: stops, a hundred and three each, and three for the narrow window."""
    found = judged("voltage", vehicle=vehicle(readings=FLAT))
    assert found.stops
    assert found.weight == pytest.approx(weight(found, 3.0))


def test_a_window_wide_enough_alone_is_narrow_beside_d_plus() -> None:
    """Where D+ can be had, less than 0.3 V per 12 V counts as narrow; without it, less than the margin."""
    margins = []
    for idle_v in (13.3, 13.5, 13.7, 13.9, 14.1):
        readings = FIXED | {"idle_v": idle_v, "cruise_v": 14.4}
        there = judged("voltage", vehicle=vehicle(readings=readings))
        without = judged("voltage", vehicle=vehicle(readings=readings, signals=NONE))
        at = there.ctx.thresholds
        width = min(at.start_high_v, at.stop_high_v if at.stop_high_v is not None else at.floor_v - 1) - at.floor_v
        assert there.weight == pytest.approx(weight(there, 3.0 if width < max(0.3, at.margin_v) else 0.0))
        assert without.weight == pytest.approx(weight(without, 3.0 if width < at.margin_v else 0.0))
        margins.append(there.weight - without.weight)
    assert any(margins), "no window between the two was tried"


def test_what_is_set_now_by_hand_is_a_burden() -> None:
    """A switch alone is by hand; with D+ or volts it is none; volts typed are judged as they are typed."""
    for ways, burden in ((["switch"], BY_HAND), (["switch", "ignition"], BY_HAND), (["switch", "d_plus"], 0.0)):
        found = _entered(design(activation={"ways": ways, "start_v": 13.3}))
        assert found is not None
        assert (found.key, found.burden) == ("entered", burden)
    made = design(activation={"ways": ["voltage"], "start_v": 13.35, "stop_v": 12.95})
    typed = _entered(made)
    assert typed is not None
    assert _judge(made, solve(made), typed).ctx.design.activation.start_rules[0].at_least_v == 13.35
    assert _judge(made, solve(made), BY_KEY["voltage"]).ctx.design.activation.start_rules[0].at_least_v is None
    assert _entered(design(activation={"ways": ["voltage"]})) is None


def test_a_unit_that_cannot_hold_its_stop() -> None:
    """Riding a phase needs a stop that lies above it: where it has none, that weighs three."""
    low = FIXED | {"low_phase_v": 13.0, "low_phase_s": 60.0}
    found = judged("voltage_held", vehicle=vehicle(readings=low), charger=charger())
    at = found.ctx.thresholds
    width = min(at.start_high_v, at.stop_high_v if at.stop_high_v is not None else at.floor_v - 1) - at.floor_v
    narrow = 3.0 if width < max(0.3, at.margin_v) else 0.0
    assert found.weight == pytest.approx(weight(found, narrow + (0.0 if at.stop_high_v else 3.0)))
