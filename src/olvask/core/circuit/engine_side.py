"""What else draws from the start side while the engine runs: a built-in charger, a fridge, until their feed is cut.

- `engine_side`: each with its current there.
- `feed_is_cut`: whether the old link's start-battery feed is taken away while the engine runs.
"""

from __future__ import annotations

from typing import NamedTuple

from olvask.core.circuit.facts import Facts
from olvask.core.model import Design

BUILT_IN_A = 10.0  # a small built-in charger, when its current is not on a plate; our own estimate
BUILT_IN_EFFICIENCY = 0.85  # of such a charger; our own estimate
FRIDGE_A = 8.0  # a compressor fridge fed from the engine side, when its current is not known; our own estimate


class EngineLoad(NamedTuple):
    """Something old that draws from the start side with the engine running [A], and its path in the design."""

    label: str
    current_a: float
    path: str


def feed_is_cut(design: Design) -> bool:
    """Whether the feed that an old link brought from the start side is gone while the engine runs."""
    linked = any(item.kind in ("link", "panel") and not item.cut for item in design.existing)
    return linked and design.old_link.decision in ("disconnect", "changeover")


def engine_side(design: Design, facts: Facts) -> tuple[EngineLoad, ...]:
    """Everything besides the unit that draws from the start side while driving.

    Args:
        design: the design.
        facts: the survey's values.
    """
    if not design.existing:
        return ()
    found: list[EngineLoad] = []
    gone = feed_is_cut(design)
    for item in design.existing:
        if item.cut or gone:
            continue
        path = f"existing.{item.id}"
        if item.kind == "built_in_charger":
            out_w = (item.charge_a or BUILT_IN_A) * float(facts.absorption.value)
            amps = out_w / BUILT_IN_EFFICIENCY / float(facts.idle.value)
            found.append(EngineLoad(item.name or "built-in charger", amps, path))
        elif item.kind == "fridge_feed":
            found.append(EngineLoad(item.name or "fridge", item.charge_a or FRIDGE_A, path))
    return tuple(found)
