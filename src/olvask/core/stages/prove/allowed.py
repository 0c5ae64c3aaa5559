"""What lets the unit charge, as a test needs it: given, taken away, or left on with the engine off.

- `quietened`: what else gives current and has to be still meanwhile.
- `is_wired`, `by_signal`, `by_remote`: whether a signal, a switch or a bridge lets it, and which of them.
- `taken_away`: how it is kept from charging with the engine running.
- `draws_left_on`, `left_on_words`: a unit that its key, its switch or a bridge keeps on with the engine off.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.model import Design, ProtectiveDevice
from olvask.core.physics.battery import internal_ohm
from olvask.core.physics.dc_path import Collapse, constant_power_volts
from olvask.core.stages.wake.wiring import TAPPED

NOTHING_A = 0.1  # spread of a unit that rests: a clamp's zero; our own estimate
DRAWN_SHARE = 0.15  # spread of what it draws, for the battery may take less than all; our own estimate
TIE_V = 0.2  # per 12 V: nearer its guard nobody can say whether it lets go; our own estimate
REMOTE = {"switch", "bridge"}
WIRED = {*TAPPED, *REMOTE}


def quietened(design: Design) -> str:
    """What is added to the state of a measurement, so that no panel or maintainer gives a current that nobody counts."""
    lifts = {item.kind for item in design.vehicle.lifters}
    panel = design.solar.panel_w is not None or "solar" in lifts
    maintained = "maintainer" in lifts or any(item.kind == "maintainer" for item in design.still_fed)
    return f"{', panel covered' if panel else ''}{', maintainer unplugged' if maintained else ''}"


def is_wired(design: Design) -> bool:
    """Whether something lets it charge that can be taken away: a signal, a switch or a bridge."""
    return not WIRED.isdisjoint(design.activation.ways)


def by_signal(design: Design) -> bool:
    """Whether a signal of the vehicle's lets it, with volts of its own: it goes with the engine or the key."""
    return not TAPPED.keys().isdisjoint(design.activation.ways)


def by_remote(design: Design) -> bool:
    """Whether a switch or a bridge that joins its remote terminals is all that lets it, and no signal with volts of its own."""
    return is_wired(design) and not by_signal(design)


def latches(design: Design) -> bool:
    """Whether its remote terminals are all that could be taken away, and it goes on without them."""
    ways, unit = set(design.activation.ways) - {"voltage"}, design.charger
    return unit is not None and unit.behaviour.latched and bool(ways) and ways <= REMOTE


def taken_away(design: Design) -> str:
    """How it is kept from charging with the engine running."""
    if is_wired(design) and not latches(design):
        return "its enable taken away"
    device = next((piece for piece in design.supply.pieces if isinstance(piece, ProtectiveDevice)), None)
    if device is not None and device.family == "breaker":
        return "the supply run's breaker open; it is closed again with the engine off"
    if device is not None:
        return "the supply run's device out; it goes back in with the engine off"
    return "the unit off"


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
    if latches(design):
        named["switch"] = ("its switch on", "its switch off and its mode reset")
    on, off = zip(*(named[way] for way in ways), strict=True)
    return ", ".join(filter(None, on)), "".join(f", {words}" for words in off if words)
