"""Two things that must not be taken for one another, each shown by a job in which they differ."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import resumes_v
from olvask.core.circuit.solve import felt_c, solve
from olvask.core.findings.finding import Finding
from olvask.core.stages.prove.meter import METER
from tests.designs import charger, design, vehicle


def finding(id: str, **changes: Any) -> Finding | None:
    return next((item for item in assess(design(**changes)).findings if item.id == id), None)


def told(id: str, **changes: Any) -> Finding:
    found = finding(id, **changes)
    assert found is not None
    return found


def test_the_worst_condition_is_the_lowest() -> None:
    """Of hot idle at 13.4 V and cruise at 14.2 V the idle; with cruise at 12.9 V that one."""
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.4, "cruise_v": 14.2}
    mild = solve(design(vehicle=vehicle(readings=readings)))
    assert mild.worst_healthy.key == "idle"
    assert mild.worst_healthy.drawn is not None
    assert mild.worst_healthy.drawn.terminal_v == min(item.drawn.terminal_v for item in mild.healthy if item.drawn)
    for cruise_v, worst in ((12.9, "cruise"), (14.9, "idle")):
        found = solve(design(vehicle=vehicle(readings=readings | {"cruise_v": cruise_v})))
        assert found.worst_healthy.key == worst


def test_without_a_unit_nothing_flows_in_either_run() -> None:
    """Every piece of the supply run stays at the air's temperature, the bare delivery run too."""
    ctx = Context.of(design(charger=None))
    for state in (*(item.run for item in ctx.solved.running), ctx.state("delivery")):
        assert state.current_a == 0.0
        assert all(piece.extra_a == 0.0 for piece in state.pieces)


@pytest.mark.parametrize(
    ("set_for", "rests", "volts"),
    [("flooded", False, 12.8), ("flooded", True, 12.48), ("lfp", True, 13.4), ("lfp", False, 13.4)],
)
def test_what_rests_on_flooded_begins_anew_under_what_that_rests_at(set_for: str, rests: bool, volts: float) -> None:
    """Full, flooded rests at 12.70 V, under its table's 12.8: then at 80 % of charge, 12.48 V. Lithium rests at 13.50, over its 13.4."""
    assert resumes_v(set_for, 12, rests) == pytest.approx(volts, abs=1e-9)


def test_a_bad_place_feels_warmer_than_its_air() -> None:
    """Lying, on its fins' wrong side, hemmed in: more than the air; upright and free: the air."""
    air = {"place": "cabin", "ambient_c": 30.0}
    free, shut = design(mount=air), design(mount=air | {"orientation": "hanging", "spacing_mm": 0.0}, units=2)
    assert felt_c(free, solve(free).facts) == pytest.approx(30.0)
    assert felt_c(shut, solve(shut).facts) > 31.0


@pytest.mark.parametrize(
    ("celsius", "level", "title"), [(55.0, "caution", "costs current"), (95.0, "stop", "leaves nothing")]
)
def test_heat_that_costs_and_heat_that_leaves_nothing(celsius: float, level: str, title: str) -> None:
    """Some of its current at 55 °C, none at 95: a caution and a stop, each by its name; places no warmer than it bears are offered."""
    unit = charger(derating_percent_per_k=2.5, rated_ambient_c=40.0)
    found = told("match.heat", charger=unit, mount={"place": "engine_bay", "ambient_c": celsius})
    assert (found.level, title in found.title) == (level, True)
    assert {change.value for item in found.remedies for change in item.changes if change.path == "mount.place"} == {
        "cabin",
        "under_floor",
    }


def test_a_meter_is_out_by_its_record_and_by_what_moves() -> None:
    """10 V on 0.5 % and two digits of 10 mV: half of 70 mV, and 10 mV of what moves, as the root of their squares."""
    accuracy = METER["V"]
    assert accuracy.sigma(10.0) == pytest.approx(math.sqrt(0.035**2 + 0.01**2), rel=1e-9)
    assert accuracy.sigmas(np.array([10.0, -10.0])) == pytest.approx([math.sqrt(0.035**2 + 0.01**2)] * 2, rel=1e-9)


LOW = {
    "readings": {
        "rest_v": 12.6,
        "after_stop_v": 12.7,
        "idle_v": 13.9,
        "cruise_v": 14.2,
        "low_phase_v": 12.9,
        "low_phase_s": 60.0,
    }
}
MANAGED = {"rated_a": 120.0, "regulation": "managed", "loads_idle_a": 15.0, "sag_mohm": 2.0, "hot_idle_share": 0.6}


@pytest.mark.parametrize(
    ("guard_v", "title", "also"),
    [(11.6, "It stops in the low phase", False), (12.7, "The battery guard switches it off in the low phase", True)],
)
def test_a_low_phase_stops_it_by_the_stop_or_by_the_guard(guard_v: float, title: str, also: bool) -> None:
    """Under the stop alone it stops; under the guard as well that switches it off, and the guard is named as a concern."""
    job = {
        "vehicle": vehicle(alternator=MANAGED, **LOW),
        "activation": {"ways": ["voltage"], "stop_v": 12.9, "start_v": 13.4, "guard_v": guard_v, "back_v": 12.9},
    }
    found = told("wake.low_phase", **job)
    assert found.title == title
    assert ("activation.guard.off_below_v" in found.concerns) is also
    assert (f"under the guard at {guard_v:.2f} V" in found.text) is also
