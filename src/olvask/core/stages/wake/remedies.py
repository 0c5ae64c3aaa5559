"""Remedies that several judges of activation share: a signal instead, less current, proposals instead of entries.

- `signal_instead`, `less_current`, `propose`: the remedies.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from olvask.core.circuit.solve import WORKING_CHARGE, Solved, solve
from olvask.core.circuit.thresholds import Thresholds, set_thresholds
from olvask.core.findings.finding import Remedy
from olvask.core.findings.remedy import joined, remedy
from olvask.core.model import Activation, Design, StartWay
from olvask.core.model.charger import ENABLE_FOR, WAY_WORDS
from olvask.core.stages.match.limits import turn_down

START_PATH = "activation.start_rules.0.at_least_v"
STOP_PATH = "activation.stop_rules.0.below_v"
LOW_V = 0.3  # per 12 V: a guard this far under the volts of the charge to keep leaves too little; our own estimate
GUARD_PATH = "activation.guard.off_below_v"
BACK_PATH = "activation.guard.back_at_v"
PROPOSED = ((START_PATH, None), (STOP_PATH, None))


def signals_at_hand(design: Design) -> list[StartWay]:
    """Signals both the vehicle and the unit have, surest first.

    Args:
        design: the design.
    """
    unit, signals = design.charger, design.vehicle.signals
    if unit is None:
        return []
    d_plus = signals.d_plus and design.vehicle.drive != "converter"  # a DC converter gives none, whatever was noted
    offered: list[tuple[StartWay, bool]] = [("d_plus", d_plus), ("ignition", signals.ignition)]
    return [way for way, present in offered if present and ENABLE_FOR[way] in unit.enables]


def signal_instead(design: Design) -> Remedy | None:
    """The surest signal alone instead of what starts it now, where one is at hand.

    Args:
        design: the design.
    """
    signals, ways = signals_at_hand(design), design.activation.ways
    if not signals or ways == (signals[0],):
        return None
    beside = ", without voltage" if signals[0] in ways else " instead of voltage"
    label = f"Use the {WAY_WORDS[signals[0]]}{beside if 'voltage' in ways else ''}"
    return remedy(label, ("activation.ways", [signals[0]]))


def unset(activation: Activation) -> Activation:
    """The first start and the first stop rule left to the proposals."""
    start = activation.start_rules[0].model_copy(update={"at_least_v": None})
    stop = activation.stop_rules[0].model_copy(update={"below_v": None})
    rules = {"start_rules": (start, *activation.start_rules[1:]), "stop_rules": (stop, *activation.stop_rules[1:])}
    return activation.model_copy(update=rules)


def propose(design: Design, label: str, path: str, value: float | None) -> Remedy | None:
    """Leave a threshold to the proposal, where one is entered.

    Args:
        design: the design.
        label: what the remedy is called.
        path: the threshold's path.
        value: what is entered there.
    """
    return remedy(label, (path, None)) if value is not None else None


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


def less_current(design: Design, opens: Callable[[Design], bool]) -> Remedy | None:
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
    turned = turn_down(unit, choices[low])  # each unit's own setting
    return turned and joined(turned.label, turned, PROPOSED)
