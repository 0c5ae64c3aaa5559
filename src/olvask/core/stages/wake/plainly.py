"""When it charges and when it does not, in a customer's words.

- `behaves`: sentences for the customer's page and the quote.
"""

from __future__ import annotations

from olvask.core.findings.listed import listed
from olvask.core.model import Design, StartWay

WHILE: dict[StartWay, str] = {
    "ignition": "the key is on",
    "d_plus": "the engine runs",
    "switch": "its switch is on",
    "bridge": "power is there",
    "voltage": "the engine holds the battery's volts up",
}
READY: dict[StartWay, str] = {
    "ignition": "the vehicle is ready",
    "voltage": "the vehicle is ready and holds the battery's volts up",
}
RUNNING = "the engine runs and holds the battery's volts up"  # a signal of the engine beside them: the same engine


def behaves(design: Design) -> tuple[str, ...]:
    """When it charges by itself, and what is left to whoever drives; nothing where nothing starts it.

    Args:
        design: the design.
    """
    ways, ready = design.activation.ways, design.vehicle.drive == "converter"
    if design.charger is None or not ways:
        return ()
    switched = "switch" in ways and "bridge" not in ways  # bridged, its switch does nothing
    latched = switched and design.charger.behaviour.latched
    words, told = WHILE | (READY if ready else {}), set(ways)
    signal: StartWay = "ignition" if ready else "d_plus"
    if {signal, "voltage"} <= told:  # told with its volts
        words["voltage"] = READY["voltage"] if ready else RUNNING
        told.discard(signal)
    if latched or not switched:
        told.discard("switch")
    named = listed([words[way] for way in ways if way in told])
    it = "Once switched on, it" if latched else "It"
    if design.tells_running:
        return (f"{it} charges while {named}, and stops by itself. It leaves the start battery alone otherwise.",)
    if "ignition" in ways:
        return (
            f"{it} charges while {named}.",
            "With the key on and the engine off it takes from the start battery, until its guard stops it: do not leave the key on.",
        )
    if latched:
        return (
            "Once it has been switched on it charges, the engine running or not, and goes on when it is switched off.",
            "Only a reset, or its guard, stops it: ask the workshop how before the vehicle stands for long.",
        )
    if switched:
        return (
            f"It charges while {named}, the engine running or not.",
            "Switch it off with the engine: only its guard stops it before the start battery is too low to start.",
        )
    return (
        "It charges whenever the start battery's volts allow, the engine running or not.",
        "Parked it empties the start battery down to its guard, each time it stands.",
    )
