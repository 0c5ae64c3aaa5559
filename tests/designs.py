"""Designs for tests, built from plain data so that nothing of the core is used to make them."""

from __future__ import annotations

from typing import Any

from olvask.core.model import Design

Plain = dict[str, Any]


def charger(**changes: Any) -> Plain:
    """A 12 to 12 V isolated 25 A unit with a continuous limit and every enable."""
    return {
        "id": "test-unit",
        "name": "Test unit",
        "isolated": True,
        "input_nominal_v": 12,
        "output_nominal_v": 12,
        "output_a": 25.0,
        "current_limit": "continuous",
        "limit_min_a": 5.0,
        "efficiency": 0.9,
        "input_min_v": 9.0,
        "input_max_v": 17.0,
        "output_min_v": 11.5,
        "output_max_v": 15.5,
        "terminal_max_mm2": 25.0,
        "enables": ["ignition", "d_plus", "remote", "voltage"],
        "threshold_min_v": 10.5,
        "threshold_max_v": 15.0,
        "threshold_step_v": 0.05,
    } | changes


def cable(size: str = "25 mm²", length_m: Any = 3.0, **changes: Any) -> Plain:
    """A copper cable in the cabin."""
    return {"kind": "cable", "size": size, "length_m": length_m, "place": "cabin"} | changes


def fuse(rating_a: float = 60.0, family: str = "class_t") -> Plain:
    """A protective device."""
    return {"kind": "device", "family": family, "rating_a": rating_a}


def plain(**changes: Any) -> Plain:
    """A sound 12 V job: bonded body, fixed alternator, 25 A unit, short thick runs. Top-level parts may be replaced."""
    return {
        "vehicle": vehicle(),
        "auxiliary": {
            "chemistry": "agm",
            "nominal_v": 12,
            "capacity_ah": 110.0,
            "charge_limit_a": 30.0,
            "absorption_v": 14.4,
        },
        "charger": charger(),
        "mount": {"place": "cabin", "ambient_c": 25.0},
        "supply": {"pieces": [fuse(60.0), cable()]},
        "delivery": {"pieces": [cable("16 mm²", 1.5), fuse(40.0)]},
    } | changes


def vehicle(**changes: Any) -> Plain:
    """A bonded 12 V vehicle with a fixed 120 A alternator, everything measured."""
    return {
        "system_v": 12,
        "chassis": {"body": "metal_bonded", "bonding_mohm": 3.0},
        "alternator": {
            "rated_a": 120.0,
            "regulation": "fixed",
            "loads_idle_a": 15.0,
            "sag_mohm": 2.0,
            "hot_idle_share": 0.6,
        },
        "start_battery": {"chemistry": "flooded", "capacity_ah": 90.0},
        "readings": {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2},
        "signals": {"ignition": True, "d_plus": True},
    } | changes


def design(**changes: Any) -> Design:
    """`plain` as a design."""
    return Design.model_validate(plain(**changes))
