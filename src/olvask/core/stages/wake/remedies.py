"""Ways out that several rules of activation share: another signal, less current; and the words for methods."""

from __future__ import annotations

import math
from collections.abc import Callable

from olvask.core.circuit.solve import WORKING_CHARGE, Solved, solve
from olvask.core.findings.assessment import WayOut
from olvask.core.findings.collector import way_out
from olvask.core.model import Design
from olvask.core.model.charger import Method
from olvask.core.stages.match.limits import turn_down
from olvask.core.stages.wake.thresholds import Thresholds, set_thresholds

ENABLE_FOR: dict[Method, str] = {
    "ignition": "ignition",
    "d_plus": "d_plus",
    "switch": "remote",
    "link": "remote",
    "voltage": "voltage",
}
METHOD_LABEL: dict[Method, str] = {
    "ignition": "ignition feed (15)",
    "d_plus": "charge indicator (D+, 61)",
    "switch": "manual switch",
    "link": "bridge link",
    "voltage": "engine-run detection by voltage",
}


def signals_at_hand(design: Design) -> list[Method]:
    """Signal methods both the vehicle and the unit have, surest first.

    Args:
        design: the design.
    """
    unit, signals = design.charger, design.vehicle.signals
    if unit is None:
        return []
    offered: list[tuple[Method, bool]] = [("d_plus", signals.d_plus), ("ignition", signals.ignition)]
    return [method for method, present in offered if present and ENABLE_FOR[method] in unit.enables]


def signal_way(design: Design) -> WayOut | None:
    """The surest signal instead of voltage, where one is at hand.

    Args:
        design: the design.
    """
    signals = signals_at_hand(design)
    if not signals:
        return None
    return way_out(f"Use the {METHOD_LABEL[signals[0]]} instead of voltage", ("activation.methods", [signals[0]]))


def healthy_thresholds(design: Design, like: Solved | None = None) -> Thresholds:
    """Thresholds of a design with low phases left aside.

    Args:
        design: the design.
        like: the same design with another supply run, solved; saves doing the rest again.
    """
    return set_thresholds(design, solve(design, like, only=("cruise",)))


def spare_ah(design: Design) -> float:
    """What a start battery in daily use holds above the charge kept for cranking [Ah].

    Args:
        design: the design.
    """
    return max(0.0, WORKING_CHARGE - design.choices.keep_state_of_charge) * design.vehicle.start_battery.capacity_ah


def less_current(design: Design, opens: Callable[[Design], bool]) -> WayOut | None:
    """The largest current the unit can be turned down to that opens what is shut; `None` where none does.

    Args:
        design: the design.
        opens: whether a design does; true for every smaller current once true.
    """
    unit = design.charger
    if unit is None or unit.current_limit == "none":
        return None
    if unit.current_limit == "steps":
        choices = sorted(unit.limit_steps_a, reverse=True)
    else:
        lowest = math.ceil(unit.limit_min_a or 1)
        choices = [float(amps) for amps in range(int(unit.output_a) - 1, lowest - 1, -1)]
    low, high = 0, len(choices)
    while low < high:
        middle = (low + high) // 2
        if opens(design.model_copy(update={"current_limit_a": choices[middle]})):
            high = middle
        else:
            low = middle + 1
    if low == len(choices):
        return None
    remedy = turn_down(unit, choices[low])  # each unit's own setting
    return remedy and way_out(
        remedy.label,
        *((item.path, item.value) for item in remedy.changes),
        ("activation.stop_v", None),
        ("activation.start_v", None),
    )
