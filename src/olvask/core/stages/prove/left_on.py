"""A unit that its key, its switch or a bridge keeps on with the engine off, its guard alone behind it.

- `draws_left_on`: what it draws then.
- `left_on_words`: how it is left on for a test, and kept off for the others.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm
from olvask.core.physics.dc_path import Collapse, constant_power_volts

NOTHING_A = 0.1  # spread of a unit that rests: a clamp's zero; our own estimate
DRAWN_SHARE = 0.15  # spread of what it draws, for the battery may take less than all; our own estimate
TIE_V = 0.2  # per 12 V: nearer its guard nobody can say whether it lets go; our own estimate


def draws_left_on(ctx: Context) -> tuple[float, float]:
    """What the unit draws some minutes after it was left on with the engine off, and the spread of it [A].

    Nothing where a signal or its volts keep it off, and where full current pulls a rested start battery under its guard.
    """
    design, at = ctx.design, ctx.thresholds
    if not design.left_on or ctx.solved.output is None:
        return 0.0, NOTHING_A
    start = design.vehicle.start_battery
    inner_ohm = internal_ohm(start.chemistry, start.capacity_ah, design.vehicle.system_v)
    try:
        volts = constant_power_volts(
            float(ctx.facts.rest.value), inner_ohm + ctx.solved.healthy[0].run.loop_ohm, at.input_w
        )
    except Collapse:
        return 0.0, NOTHING_A
    amps, over_v = at.input_w / volts, volts - ctx.hold_v
    if abs(over_v) < TIE_V * ctx.facts.scale:
        return amps / 2, amps / 2
    return (amps, DRAWN_SHARE * amps) if over_v > 0 else (0.0, NOTHING_A)


def left_on_words(design: Design) -> tuple[str, str]:
    """The state in which its way to start leaves it on with the engine off, and what is added to a state for it to rest."""
    ways = design.activation.ways
    if not design.left_on:
        return "key on", ""
    named = {
        "ignition": ("key on", ""),
        "switch": ("its switch on", "its switch off"),
        "bridge": ("", "its bridge out"),
    }
    on, off = zip(*(named[way] for way in ways), strict=True)
    return ", ".join(filter(None, on)), "".join(f", {words}" for words in off if words)
