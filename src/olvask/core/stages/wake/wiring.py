"""How a signal reaches the unit: where it is taken, its fuse, what it passes, where it ends.

- `signal_wire`: one signal, by DIN 72552 terminal numbers.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.findings.listed import listed
from olvask.core.model import Design, StartWay

SIGNAL_FUSE_A = 3.0  # ISO 8820-3 has 3 A; a signal draws milliamperes
SIGNAL_MM2 = 0.75  # thin, yet strong enough to be routed; our own estimate

# Signals tapped in the vehicle: terminal, where, when it is live, what a broken wire does.
TAPPED: dict[StartWay, tuple[str, str, str, str]] = {
    "ignition": (
        "15",
        "ignition feed in the fuse box",
        "with the key on, engine running or not",
        "it never charges: safe, and the first thing to look for.",
    ),
    "d_plus": (
        "61",
        "alternator D+, the charge lamp's line",
        "only while the alternator generates",
        "it never charges. A short to the body lights the charge lamp and can keep the alternator from exciting: hence "
        "the fuse at the tap.",
    ),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class SignalWire:
    """How one signal reaches the unit: where it is taken, its fuse, what it passes, where it ends."""

    way: StartWay
    terminal: Annotated[str, Field(description="DIN 72552 number where it is taken; empty where there is none")]
    taken_at: str
    fuse_a: float | None
    wire_mm2: float | None
    through: Literal["", "switch", "bridge"]
    plug: Annotated[str, Field(description="the contact it passes a plug by, in words; empty where there is no plug")]
    ends_at: str
    live: Annotated[str, Field(description="when it allows charging")]
    if_broken: str


def signal_wire(design: Design, way: StartWay) -> SignalWire:
    """How a signal reaches the unit.

    Args:
        design: the design.
        way: the way to start.
    """
    if way in ("switch", "bridge"):
        return _remote(design, way)
    if way == "voltage":
        return SignalWire(
            way=way,
            terminal="30",
            taken_at="the supply run itself",
            fuse_a=None,
            wire_mm2=None,
            through="",
            plug="",
            ends_at="input terminals",
            live="while the input meets its start rules",
            if_broken="there is no signal wire; with the supply run open it is dead.",
        )
    terminal, taken_at, live, if_broken = TAPPED[way]
    if way == "ignition" and design.vehicle.drive == "converter":
        live = "with the vehicle ready"
    if design.plugged:
        if_broken = "it never charges, and the same with the plug out: safe, and the first thing to look for."
    return SignalWire(
        way=way,
        terminal=terminal,
        taken_at=taken_at,
        fuse_a=SIGNAL_FUSE_A,
        wire_mm2=SIGNAL_MM2,
        through="",
        plug=_contact(design),
        ends_at="an enable input of its own"
        if {"d_plus", "ignition"} <= set(design.activation.ways)
        else "enable input",
        live=live,
        if_broken=if_broken,
    )


def _contact(design: Design) -> str:
    """The contact a tapped signal passes the trailer plug by; empty without a plug."""
    if not design.plugged:
        return ""
    named = design.activation.plug_contact
    return f"contact {named}" if named else "own contact"


def stopped_by(design: Design) -> str:
    """What still stops a unit that its remote terminals no longer do, with its verb."""
    named = {"ignition": "the key", "d_plus": "the engine's signal", "voltage": "its stop by voltage"}
    if design.vehicle.ready_fed:
        named["ignition"] = "the ready feed"
    found = [named[way] for way in design.activation.ways if way in named]
    return f"{listed([*found, 'the battery guard'])} {'stop' if found else 'stops'} it"


def _remote(design: Design, way: StartWay) -> SignalWire:
    behaviour = design.charger.behaviour if design.charger is not None else None
    lost = "it stops and stays off."
    if behaviour is not None and behaviour.latched:
        kept = f": {behaviour.keeps_without_remote}" if behaviour.keeps_without_remote else ""
        lost = f"it stays as it was{kept}; only {stopped_by(design)}."
    return SignalWire(
        way=way,
        terminal="",
        taken_at="first remote terminal",
        fuse_a=None,
        wire_mm2=SIGNAL_MM2,
        through="switch" if way == "switch" else "bridge",
        plug="",
        ends_at="second remote terminal",
        live="while switched on" if way == "switch" else "always",
        if_broken=lost,
    )
