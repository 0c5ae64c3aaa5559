"""Where the unit is mounted: its air, its case, what it gives there, and the opening that would be enough.

- `MountReport`, `mount_of`: as it is told.
- `judge_mounting`: plastic, fuel and the rest near it; no way out for its heat; a fan that nothing feeds.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import room_c
from olvask.core.circuit.mounted import air_of, crowding, felt_k, heat_w, share_at, size_m, with_openings, yield_of
from olvask.core.circuit.solve import felt_c
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.findings.remedy import remedy
from olvask.core.findings.said import Said
from olvask.core.model import Branch, Charger, Design
from olvask.core.model.site import NEAR, Near
from olvask.core.physics.enclosure import case_rise_k
from olvask.core.physics.rounding import under

MOST_CM2 = 2000.0  # an opening larger than a cupboard's door is an open room
CURVE_CM2 = (0, 5, 10, 15, 20, 30, 40, 50, 60, 80, 100, 130, 160, 200, 250, 300, 400)
ENOUGH = 0.995  # of what it gives in the room itself; our own estimate
HOT_CASE_C = 70.0  # metal that burns at a touch of a second, ISO 13732-1
ROUND_CM2 = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """What two openings of one size, low and high, make of it."""

    each_cm2: float
    air_c: float
    yield_a: float


class MountReport(Said):
    """The unit where it is mounted; current is of all units together."""

    room_c: float
    air_c: float
    felt_c: float = Field(description="air that would make its case as hot, upright and free")
    case_c: float
    heat_w: float
    wanted_a: float
    yield_a: float
    in_room_a: float = Field(description="what it would give in the room itself, upright and free")
    enough_cm2: float | None = Field(
        description="each of two openings; none where no opening is enough, or none is asked for"
    )
    curve: tuple[Opening, ...]
    text: str
    advice: tuple[str, ...]


def mount_of(ctx: Context) -> MountReport | None:
    """The unit where it is mounted; `None` without a unit."""
    design, unit, output = ctx.design, ctx.design.charger, ctx.solved.output
    if unit is None or output is None:
        return None
    volts, room, air = output.battery_v, room_c(design), float(ctx.facts.unit_ambient.value)
    felt = felt_c(design, ctx.facts)
    hot_w = heat_w(design, volts, yield_of(design, felt))
    mount = design.mount
    case = air + case_rise_k(hot_w, size_m(unit), air, mount.orientation, mount.backing == "metal", crowding(design))
    closed = mount.around in ("vents", "shut")
    enough = enough_cm2(design, room, volts) if closed else None
    return MountReport(
        room_c=room,
        air_c=air,
        felt_c=felt,
        case_c=case,
        heat_w=design.units * hot_w,
        wanted_a=output.current_a,
        yield_a=output.yield_a,
        in_room_a=design.units * yield_of(design, room),
        enough_cm2=enough,
        curve=tuple(_opening(design, room, volts, each) for each in CURVE_CM2) if closed else (),
        text=_text(design, air, output.yield_a, output.current_a),
        advice=tuple(_advice(ctx, unit, case, enough)),
    )


def _opening(design: Design, room: float, volts: float, each_cm2: float) -> Opening:
    mount = with_openings(design.mount, each_cm2)
    air = air_of(design, room, volts, mount)
    felt = air + felt_k(design, air, volts)
    return Opening(each_cm2=each_cm2, air_c=air, yield_a=design.units * yield_of(design, felt))


def enough_cm2(design: Design, room: float, volts: float) -> float | None:
    """The smallest two openings [cm² each] with which it gives what it gives in the room itself, as it stands there.

    Args:
        design: the design.
        room: the room [°C].
        volts: volts it charges at [V].

    `None` where no opening is enough.
    """
    wanted = ENOUGH * design.units * yield_of(design, room + felt_k(design, room, volts))

    def gives(each_cm2: float) -> bool:
        return _opening(design, room, volts, each_cm2).yield_a >= wanted

    if wanted <= 0 or not gives(MOST_CM2):
        return None
    low, high = 0.0, MOST_CM2
    while high - low > ROUND_CM2 / 2:
        middle = (low + high) / 2
        low, high = (low, middle) if gives(middle) else (middle, high)
    return ROUND_CM2 * -(-high // ROUND_CM2)


def _text(design: Design, air: float, yield_a: float, wanted_a: float) -> str:
    if not under(yield_a, wanted_a):
        return f"The air at it is {air:.0f} °C: it gives all of its {wanted_a:.0f} A."
    return f"The air at it is {air:.0f} °C: it gives {yield_a:.1f} A of {wanted_a:.0f} A."


def _advice(ctx: Context, unit: Charger, case: float, enough: float | None) -> Iterator[str]:
    design, mount = ctx.design, ctx.design.mount
    lost = ctx.solved.output is not None and under(ctx.solved.output.yield_a, ctx.solved.output.current_a)
    if mount.around in ("vents", "shut") and mount.ambient_c is not None:
        yield f"Its air was given as {mount.ambient_c:g} °C, and that counts. Clear it, and its own heat and the openings do."
    if mount.around in ("vents", "shut") and enough is not None and lost:
        yield f"Two openings of {enough:.0f} cm² each, one low and one high, would be enough."
    if mount.around in ("vents", "shut") and enough is None:
        yield "No opening is enough: a cooler place, or a lower current."
    if mount.orientation not in ("", "upright"):
        yield "With its fins upright the case runs cooler."
    if design.units > 1:
        yield f"Keep {unit.clearance_mm:.0f} mm between the units: each breathes what the other gives off."
    if case >= HOT_CASE_C:
        yield f"Its case reaches {case:.0f} °C: a guard where a hand or a coat can touch it."
    if mount.fan_m3_h > 0 and mount.around in ("vents", "shut"):
        yield "A fan wears out: it gives what the openings alone allow when it stands."


def judge_mounting(ctx: Context) -> Judged:
    """What the unit must not sit on, near or in."""
    unit, mount = ctx.design.charger, ctx.design.mount
    if unit is None:
        return
    if mount.backing == "plastic":
        yield stop(
            "build.plastic",
            "charger",
            "It is fixed to plastic",
            "It runs hot for hours, and a fault runs hotter. Metal or fireproof board only.",
            [remedy("Fix it to fireproof board", ("mount.backing", "fireproof"))],
            concerns=("mount.backing",),
        )
    for near in mount.near:
        yield _near(near)
    yield from _fan(ctx.design)
    if mount.around == "shut":
        yield from _shut(ctx, unit)


NEAR_WORDS: dict[Near, str] = {
    "fuel": "A spark or a hot case must not meet fuel or gas: another place.",
    "exhaust": "It adds its heat to the unit's: another place, or a heat shield and the air measured there.",
    "airbag": "Nothing is fixed, drilled or routed in its way: as the vehicle's maker says.",
    "plastic": "It has to stay clear of a case that runs hot: fireproof board between, and its free air kept.",
    "moving": "A loose cable finds them: covers, clips, and distance.",
    "water": "Dry, unless the unit is rated for it: another place, or a cover that still lets air through.",
}


def _near(near: Near) -> Found:
    kind = stop if near == "fuel" else caution
    return kind(f"build.near_{near}", "charger", f"Near {NEAR[near]}", NEAR_WORDS[near], concerns=("mount.near",))


def _fan(design: Design) -> Iterator[Found]:
    fed = any(
        isinstance(piece, Branch) and piece.feeds == "fan"
        for run in (design.supply, design.delivery)
        for piece in run.pieces
    )
    if design.mount.fan_m3_h > 0 and not fed:
        yield caution(
            "build.fan",
            "charger",
            "Nothing feeds the fan",
            "It needs a tail of its own with a small device: add a branch that feeds a fan.",
            concerns=("mount.fan_m3_h",),
        )
    if design.mount.fan_m3_h > 0 and design.mount.around == "open":
        yield note(
            "build.fan_open",
            "charger",
            "A fan where the air is free",
            "The unit breathes by itself there: nothing is counted for the fan, and it stands on the bill.",
            [remedy("Leave the fan out", ("mount.fan_m3_h", 0.0))],
            concerns=("mount.fan_m3_h", "mount.around"),
        )
    if design.mount.fan_m3_h > 0 and design.mount.around == "shut":
        yield caution(
            "build.fan_shut",
            "charger",
            "A fan in a closed box",
            "It stirs its own warm air. Without an opening in and an opening out it cools nothing.",
            concerns=("mount.fan_m3_h", "mount.around"),
        )


def _shut(ctx: Context, unit: Charger) -> Iterator[Found]:
    design, output = ctx.design, ctx.solved.output
    if output is None or share_at(unit, felt_c(design, ctx.facts)) >= 1:
        return
    enough = enough_cm2(design, room_c(design), output.battery_v)
    opened = (
        [
            remedy(
                f"Two openings of {enough:.0f} cm² each",
                ("mount.around", "vents"),
                ("mount.vent_low_cm2", enough),
                ("mount.vent_high_cm2", enough),
            )
        ]
        if enough is not None and enough > 0
        else []
    )
    yield caution(
        "build.shut",
        "charger",
        "Closed in, its heat cannot leave",
        f"Its own heat takes the air there to {float(ctx.facts.unit_ambient.value):.0f} °C.",
        opened,
        concerns=("mount.around",),
    )
