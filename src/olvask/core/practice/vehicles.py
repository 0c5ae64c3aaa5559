"""A made-up vehicle and its charging as it was designed: sound by this program's own judgement.

- `vehicle_of`: one, and what it is called.
- `woken_by_volts`: one whose unit wakes by voltage alone.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from olvask.core.assess import assess
from olvask.core.catalogue import conductors
from olvask.core.circuit.context import Context
from olvask.core.circuit.thresholds import Thresholds
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.practice.chance import Chance
from olvask.core.stages.wake.method import advise

# The invented world's own trades; nobody real is meant.
TRADES = (
    "mobile library",
    "farrier's truck",
    "cheese-round van",
    "river-rescue estate",
    "bell tuner's van",
    "ferry crew's bus",
    "orchard sprayer's pick-up",
    "puppet theatre lorry",
    "weather-station van",
    "peat surveyor's truck",
    "night baker's van",
    "lighthouse tender's trailer",
)
# Usual values and their spread; our own estimates, so that most vehicles come out sound.
UNITS_A = (15.0, 20.0, 25.0, 30.0, 40.0)
ALTERNATORS_A = (110.0, 140.0, 180.0)
DROP = 0.02  # of the system's volts, that a run is laid for at full current
COPPER_OHM_MM2_M = 0.0172  # copper at 20 °C, IEC 60228
DEVICES_A = (30.0, 40.0, 50.0, 60.0, 80.0, 100.0, 125.0)
TRIES = 40


@dataclass(frozen=True, slots=True)
class MadeUp:
    """A vehicle: what it is called, how it was designed."""

    name: str
    design: Design


def vehicle_of(chance: Chance) -> MadeUp:
    """A vehicle that nobody has seen, charging at idle as designed, without a stop.

    Args:
        chance: which.

    Raises:
        LookupError: no sound one was met, which does not happen.
    """
    for _ in range(TRIES):
        name, design = chance.one_of(TRADES), _designed(chance)
        wired = next(item for item in advise(design).methods if item.key == design.activation.ways[0])
        if wired.verdict == "unavailable":
            continue
        design = apply(design, wired.take)
        if _sound(design):
            return MadeUp(name, design)
    raise LookupError("no sound vehicle was met")


def woken_by_volts(chance: Chance) -> tuple[str, Design, Thresholds] | None:
    """A vehicle whose unit wakes by voltage alone: its name, its design, thresholds as they are proposed; `None` where it cannot.

    Args:
        chance: which.
    """
    made = vehicle_of(chance)
    method = next(item for item in advise(made.design).methods if item.key == "voltage")
    if method.verdict == "unavailable":
        return None
    design = apply(made.design, method.take)
    return made.name, design, Context.of(design).thresholds


def _sound(design: Design) -> bool:
    """Whether it charges at idle with the alternator carrying it, and has no stop."""
    ctx = Context.of(design)
    idle, unit = ctx.solved.running[0], design.charger
    if idle.drawn is None or unit is None or idle.drawn.terminal_v < unit.input_min_v + 0.5 * ctx.facts.scale:
        return False
    if idle.drawn.current_a > 0.8 * (idle.source.available_a or 0.0):
        return False
    return not assess(design, remedies=False).stops


def _designed(chance: Chance) -> Design:
    scale = chance.weighted({1: 3.0, 2: 1.0})
    unit_a, alternator_a = chance.one_of(UNITS_A), chance.one_of(ALTERNATORS_A)
    isolated = chance.happens(0.6)
    lengths = chance.between(2.0, 6.0), chance.between(1.0, 3.0)
    chemistry = chance.weighted({"lfp": 2.0, "agm": 2.0, "flooded": 1.0})
    rest_v, idle_v = chance.between(12.5, 12.7), chance.between(13.9, 14.4)
    ways = chance.weighted({"ignition": 2.0, "d_plus": 2.0, "voltage": 1.0})
    supply_a = unit_a * 14.4 / 0.9 / 13.5
    document: dict[str, Any] = {
        "vehicle": {
            "system_v": 12 * scale,
            "alternator": {
                "name": f"{alternator_a:.0f} A alternator",
                "rated_a": alternator_a,
                "regulation": chance.one_of(("fixed", "compensated")),
                "loads_idle_a": 15.0,
                "sag_mohm": round(2.0 * scale, 1),
                "hot_idle_share": 0.7,
            },
            "start_battery": {"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": chance.happens(0.25)},
            "readings": {
                "rest_v": round(rest_v * scale, 2),
                "after_stop_v": round((rest_v + 0.15) * scale, 2),
                "idle_v": round(idle_v * scale, 2),
                "cruise_v": round((idle_v + 0.1) * scale, 2),
            },
            "chassis": {"body": "metal_bonded", "bonding_mohm": 3.0},
            "signals": {"ignition": ways != "d_plus", "d_plus": ways == "d_plus"},
            "standing_drain_ma": 20.0,
        },
        "auxiliary": {
            "chemistry": chemistry,
            "nominal_v": 12,
            "capacity_ah": chance.one_of((100.0, 150.0, 200.0)),
            "charge_limit_a": 60.0,
            "absorption_v": 14.2 if chemistry == "lfp" else 14.4,
            "place": "vented_box",
        },
        "charger": _unit(scale, unit_a, isolated),
        "mount": {"place": "cabin", "ambient_c": 25.0, "backing": "metal"},
        "supply": _run(supply_a / scale, lengths[0], scale, True, chance.happens(0.3)),
        "delivery": _run(unit_a, lengths[1], 1, False, False),
        "activation": {"ways": [ways]},
    }
    if chance.happens(0.35):
        document["monitor"] = {"unit": {"name": "Shunt 300", "shunt_a": 300.0, "zero_error_ma": 20.0}}
    return Design.model_validate(document)


def _unit(scale: int, unit_a: float, isolated: bool) -> dict[str, Any]:
    volts = {"from_v": 10.5 * scale, "to_v": 15.0 * scale, "step_v": 0.05 * scale}
    return {
        "id": f"made-up-{unit_a:.0f}",
        "name": f"unit of {unit_a:.0f} A",
        "isolated": isolated,
        "input_nominal_v": 12 * scale,
        "output_nominal_v": 12,
        "output_a": unit_a,
        "current_limit": "continuous",
        "limit_min_a": round(0.2 * unit_a, 1),
        "efficiency": 0.9,
        "input_min_v": 9.0 * scale,
        "input_max_v": 17.0 * scale,
        "output_min_v": 11.0,
        "output_max_v": 15.5,
        "terminal_max_mm2": 50.0,
        "enables": ["ignition", "d_plus", "remote", "voltage"],
        "start_rules": {"rows": 2} | volts,
        "stop_rules": dict(volts),
        "guard": dict(volts),
        "price": round(60.0 + 6.0 * unit_a, 2),
    }


def _run(amps: float, length_m: float, scale: int, supply: bool, chassis: bool) -> dict[str, Any]:
    """A run laid for its drop and its current, with a device at the battery."""
    ohm = DROP * 12 * scale / amps
    wanted = max(2 * length_m * COPPER_OHM_MM2_M / ohm, amps / 4.0)  # 4 A/mm²: well within any table for short runs
    sizes = sorted((item.area_mm2, item.size) for item in conductors() if item.size.endswith("mm²"))
    size = next((name for area, name in sizes if area >= wanted and area >= 6), sizes[-1][1])
    rating = next(item for item in DEVICES_A if item >= 1.25 * amps)
    device = {"kind": "device", "family": "cube", "rating_a": rating}
    long = {"kind": "cable", "size": size, "length_m": round(length_m, 1), "place": "cabin"}
    short = long | {"length_m": 0.2}
    run: dict[str, Any] = {"pieces": [short, device, long] if supply else [long, device, short]}
    return run | ({"back": {"kind": "chassis", "resistance_mohm": 2.0}} if chassis else {})
