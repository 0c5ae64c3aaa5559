"""Designs for tests, built from plain data so that nothing of the core is used to make them."""

from __future__ import annotations

from typing import Any

from olvask.core.assess import Assessment
from olvask.core.model import Design
from olvask.core.stages.wake.thresholds import Mark

Plain = dict[str, Any]


FLAT = {
    "start_v": ("start_rules", 0, "at_least_v"),
    "start_held_s": ("start_rules", 0, "held_s"),
    "quick_start_v": ("start_rules", 1, "at_least_v"),
    "stop_v": ("stop_rules", 0, "below_v"),
    "stop_held_s": ("stop_rules", 0, "held_s"),
    "guard_v": ("guard", None, "off_below_v"),
    "guard_held_s": ("guard", None, "held_s"),
    "back_v": ("guard", None, "back_at_v"),
}
RECORD = {
    "fixed_start_v": ("start_rules", "fixed_v"),
    "start_held_most_s": ("start_rules", "held_most_s"),
    "start_rows": ("start_rules", "rows"),
    "fixed_stop_v": ("stop_rules", "fixed_v"),
    "stop_held_most_s": ("stop_rules", "held_most_s"),
    "stop_rows": ("stop_rules", "rows"),
    "fixed_off_v": ("guard", "fixed_off_v"),
    "fixed_back_v": ("guard", "fixed_back_v"),
    "off_least_s": ("guard", "off_least_s"),
    "compensated": ("guard", "compensated"),
}

# A lithium pack whose own cut-off takes no charge below freezing.
REFUSES_COLD: Plain = {
    "chemistry": "lfp",
    "nominal_v": 12,
    "capacity_ah": 100.0,
    "charge_limit_a": 50.0,
    "low_temperature_cut_off": True,
    "charge_min_c": 0.0,
}


def activation(**flat: Any) -> Plain:
    """An activation from flat names: one start, one stop, a guard, and a quick second start where it is given."""
    made: Plain = {"start_rules": [{}], "stop_rules": [{}], "guard": {}}
    if flat.get("quick_start_v") is not None:
        made["start_rules"].append({"held_s": 0.0})
    for key, value in flat.items():
        place, row, field = FLAT.get(key, (key, None, ""))
        if not field:
            made[place] = value
        elif row is None:
            made[place][field] = value
        elif row < len(made[place]):
            made[place][row][field] = value
    return made


def charger(settable: tuple[float, float, float] | None = (10.5, 15.0, 0.05), **changes: Any) -> Plain:
    """A 12 to 12 V isolated 25 A unit with a continuous limit and every enable; `settable` is from, to and step in volts."""
    volts = {} if settable is None else dict(zip(("from_v", "to_v", "step_v"), settable, strict=True))
    record: Plain = {"start_rules": {"rows": 2} | volts, "stop_rules": dict(volts), "guard": dict(volts)}
    for key in [key for key in changes if key in RECORD]:
        place, field = RECORD[key]
        record[place][field] = changes.pop(key)
    return (
        record
        | {
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
        }
        | changes
    )


def cable(size: str = "25 mm²", length_m: Any = 3.0, **changes: Any) -> Plain:
    """A copper cable in the cabin."""
    return {"kind": "cable", "size": size, "length_m": length_m, "place": "cabin"} | changes


def fuse(rating_a: float = 60.0, family: str = "class_t") -> Plain:
    """A protective device."""
    return {"kind": "device", "family": family, "rating_a": rating_a}


def plain(**changes: Any) -> Plain:
    """A sound 12 V job: bonded body, fixed alternator, 25 A unit, short thick runs. Top-level parts may be replaced.

    Its pieces come out as d1, c1 on the supply run and c2, d2 on the delivery run.
    """
    if "activation" in changes:
        changes["activation"] = activation(**changes["activation"])
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


def mark(found: Assessment, kind: str, row: int = 0) -> Mark:
    """One mark of the voltage ladder: a start or stop rule by its row, the guard or its return."""
    return [item for item in found.wake.marks if item.kind == kind][row]
