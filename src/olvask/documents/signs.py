"""Warning signs of ISO 7010 for papers: a triangle in black on yellow, understood in any language.

- `signs_of`: those that a design's cautions call for.
"""

from __future__ import annotations

from olvask.core.model import Design

INSIDE = {
    "W001": '<path d="M24 17v12M24 33v3"/>',
    "W002": '<circle cx="24" cy="27" r="5"/><path d="M24 19v-3M31 22l3-2M17 22l-3-2M32 30l4 1M16 30l-4 1"/>',
    "W012": '<path d="M26 15l-6 11h7l-4 10"/>',
}
NAMES = {"W001": "Warning", "W002": "Warning: explosive atmosphere", "W012": "Warning: electricity"}
VENTS = ("flooded",)  # charging drives hydrogen out of it


def signs_of(design: Design) -> list[dict[str, str]]:
    """Signs with their names: electricity and the general one always, explosive atmosphere where a battery vents.

    Args:
        design: the design.
    """
    vents = {design.auxiliary.chemistry, design.vehicle.start_battery.chemistry} & set(VENTS)
    return [{"svg": _drawn(code), "name": NAMES[code]} for code in ("W001", "W012", *(("W002",) if vents else ()))]


def _drawn(code: str) -> str:
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 44" fill="none" stroke="black" stroke-width="3" '
        'stroke-linejoin="round" stroke-linecap="round"><path fill="#F9A800" d="M24 3L45 40H3z"/>'
        f"{INSIDE[code]}</svg>"
    )
