"""What else draws from the start side while the engine runs: a built-in charger, a fridge, until their feed is cut.

- `beside_a`: all of it together, with what branches take off the supply run.
- `converter_a`: what a converter that feeds an appliance draws.
- `engine_side`: each with its current there.
- `feed_is_cut`: whether the old link's start-battery feed is taken away while the engine runs.
"""

from __future__ import annotations

from typing import NamedTuple

from olvask.core.circuit.facts import Facts, charge_volts
from olvask.core.model import Branch, Design, Load

BUILT_IN_A = 10.0  # a small built-in charger, when its current is not on a plate; our own estimate
BUILT_IN_EFFICIENCY = 0.85  # of such a charger; our own estimate
CONVERTER_EFFICIENCY = 0.88  # of a plain converter that feeds an appliance; our own estimate
FRIDGE_A = 8.0  # a compressor fridge fed from the engine side, when its current is not known; our own estimate


class EngineLoad(NamedTuple):
    """Something old that draws from the start side with the engine running [A], and its path in the design."""

    label: str
    current_a: float
    path: str


def feed_is_cut(design: Design) -> bool:
    """Whether the feed that an old link brought from the start side is gone while the engine runs."""
    linked = any(item.joins for item in design.still_fed)
    return linked and design.old_link.decision in ("disconnect", "changeover")


def converter_a(load: Load, design: Design, input_v: float) -> float:
    """What a plain converter draws at its input to feed a load [A].

    Args:
        load: the load, at its full current or power.
        design: the design, for the volts the load expects.
        input_v: volts at the converter's input [V].
    """
    return load.needs_w(design.auxiliary.nominal_v) / CONVERTER_EFFICIENCY / input_v


def engine_side(design: Design, facts: Facts) -> tuple[EngineLoad, ...]:
    """Everything besides the unit that draws from the start side while driving.

    Args:
        design: the design.
        facts: the survey's values.
    """
    found = [
        EngineLoad(load.name, converter_a(load, design, float(facts.idle.value)) * load.duty, f"use.loads.{load.id}")
        for load in design.use.loads
        if load.fed == "converter" and load.driving
    ]
    for item in () if feed_is_cut(design) else design.still_fed:
        path = f"existing.{item.id}"
        if item.kind == "built_in_charger":
            out_w = (item.charge_a or BUILT_IN_A) * charge_volts(design.auxiliary, item.profile)[0]
            amps = out_w / BUILT_IN_EFFICIENCY / float(facts.idle.value)
            found.append(EngineLoad(item.name or "built-in charger", amps, path))
        elif item.kind == "fridge_feed":
            found.append(EngineLoad(item.name or "fridge", item.charge_a or FRIDGE_A, path))
    return tuple(found)


def beside_a(design: Design, facts: Facts) -> float:
    """What an alternator gives while driving besides the unit and the vehicle's own loads [A]: it is left with less.

    Args:
        design: the design.
        facts: the survey's values.
    """
    branches_a = sum(piece.current_a for piece in design.supply.pieces if isinstance(piece, Branch))
    return sum(item.current_a for item in engine_side(design, facts)) + branches_a
