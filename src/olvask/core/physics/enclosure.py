"""Heat of a unit where it is fixed: its case in free air, and the air of the cupboard that closes it in.

- `case_rise_k`: case above the air around it.
- `Box`, `air_rise_k`: air of a closed place above the room, by its walls, its openings and a fan.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from olvask.core.physics.heat import GRAVITY, PRANDTL, STEFAN_BOLTZMANN

EMISSIVITY = 0.9  # painted or anodised metal
FIN_AREA = 2.0  # of the front with its ribs over the flat face; our own estimate
# Natural convection of a plate, laminar, over that of the same plate upright: McAdams (1954), Nu = 0.59, 0.54 and
# 0.27·Ra^¼; ribs across the rising air block it, our own estimate.
TURNED = {"": 1.0, "upright": 1.0, "sideways": 0.7, "lying": 0.54 / 0.59, "hanging": 0.27 / 0.59}
SPREAD_M = 0.056  # how far a 1 mm steel sheet carries heat: √(k·t / 2h), 50 W/m·K, 8 W/m²K on either side
AIR_KG_M3, AIR_J_KGK = 1.15, 1006.0  # at 35 °C and 1 bar
ORIFICE = 0.6  # discharge of a sharp-edged opening, as ISO 5167 orifices at high Reynolds numbers
WALL_W_M2K = 2.97  # 10 mm plywood, 0.13 W/m·K, between surface resistances of 0.13 m²K/W, ISO 6946
FAN_PA = 25.0  # a 12 V axial fan of a hand's size against a closed duct; our own estimate
PINHOLE_M2, STILL_M3_S = 1e-8, 1e-9  # below them an opening or a fan is none
MOST_K = 400.0  # no air in a vehicle gets further above its room


def _film_w_m2k(height_m: float, rise_k: float, air_c: float) -> float:
    """Film coefficient of an upright plate [W/m²K]: Churchill and Chu (1975), laminar."""
    mean_c = air_c + rise_k / 2
    viscosity = 1.33e-5 + 9.3e-8 * mean_c
    rayleigh = GRAVITY * rise_k * height_m**3 * PRANDTL / ((mean_c + 273.15) * viscosity**2)
    nusselt = 0.68 + 0.670 * rayleigh**0.25 / (1 + (0.492 / PRANDTL) ** (9 / 16)) ** (4 / 9)
    return float(nusselt * (0.0243 + 7.3e-5 * mean_c) / height_m)


def case_rise_k(
    heat_w: float,
    size_m: tuple[float, float, float],
    air_c: float,
    turned: str = "upright",
    metal: bool = False,
    crowded: float = 1.0,
) -> float:
    """Case of a unit above the air around it [K].

    Args:
        heat_w: what it gives off [W].
        size_m: width, height, depth [m]; its back lies on what it is fixed to.
        air_c: air around it [°C].
        turned: how its fins stand, a key of `TURNED`.
        metal: whether it is fixed to sheet metal, which spreads and sheds heat; else its back sheds none.
        crowded: share of the convection that neighbours leave it, 0 to 1.

    Front (ribbed) and sides by natural convection and grey-body radiation.
    """
    width_m, height_m, depth_m = size_m
    plain_m2 = width_m * height_m + 2 * depth_m * (width_m + height_m)
    ribbed_m2 = plain_m2 + (FIN_AREA - 1) * width_m * height_m
    sheet_m2 = 0.0
    if metal:
        spread_m2 = (width_m + 2 * SPREAD_M) * (height_m + 2 * SPREAD_M)
        sheet_m2 = 2 * spread_m2 - width_m * height_m
    share = TURNED[turned] * crowded

    def shed_w(rise_k: float) -> float:
        film = _film_w_m2k(height_m, rise_k, air_c)
        hot_k, cold_k = air_c + rise_k + 273.15, air_c + 273.15
        glow = EMISSIVITY * STEFAN_BOLTZMANN * (hot_k**2 + cold_k**2) * (hot_k + cold_k)
        return (film * (share * ribbed_m2 + sheet_m2) + glow * (plain_m2 + sheet_m2)) * rise_k

    return _meets(shed_w, lambda _: heat_w)


@dataclass(frozen=True, slots=True)
class Box:
    """A closed place with openings.

    Attributes:
        wall_m2: walls that shed heat to the room [m²].
        low_m2: opening at the bottom [m²].
        high_m2: opening at the top [m²].
        apart_m: height between their middles [m].
        fan_m3_s: what the fan moves in free air [m³/s]; 0 for none.
    """

    wall_m2: float
    low_m2: float = 0.0
    high_m2: float = 0.0
    apart_m: float = 0.25
    fan_m3_s: float = 0.0


def flow_m3_s(box: Box, rise_k: float, room_c: float) -> float:
    """Air through a box whose air is `rise_k` above the room [m³/s].

    Args:
        box: the place.
        rise_k: its air above the room [K].
        room_c: the room [°C].

    Two openings: buoyancy and the fan against both orifices in series. Each opening alone exchanges through its two
    halves. The larger of the two counts.
    """
    room_k = room_c + 273.15
    through = 0.0
    if min(box.low_m2, box.high_m2) > PINHOLE_M2:
        area_m2 = 1 / math.hypot(1 / box.low_m2, 1 / box.high_m2)
        through = _driven(area_m2, AIR_KG_M3 * GRAVITY * box.apart_m * rise_k / room_k, box.fan_m3_s)
    alone = sum(_exchanged(area_m2, rise_k, room_k) for area_m2 in (box.low_m2, box.high_m2))
    return max(through, alone)


def _driven(area_m2: float, stack_pa: float, fan_m3_s: float) -> float:
    """Flow [m³/s] that a stack and a fan whose pressure falls in a line to nothing push through an area."""
    loss = AIR_KG_M3 / (2 * (ORIFICE * area_m2) ** 2)
    if fan_m3_s <= STILL_M3_S:
        return math.sqrt(stack_pa / loss)
    slope = FAN_PA / fan_m3_s
    pushed = (-slope + math.sqrt(slope * slope + 4 * loss * (stack_pa + FAN_PA))) / (2 * loss)
    return max(pushed, math.sqrt(stack_pa / loss))  # a fan that is outrun does not hold the air back


def _exchanged(area_m2: float, rise_k: float, room_k: float) -> float:
    """Flow [m³/s] out at the upper and in at the lower half of one square opening."""
    if area_m2 <= PINHOLE_M2:
        return 0.0
    stack_pa = AIR_KG_M3 * GRAVITY * (math.sqrt(area_m2) / 2) * rise_k / room_k
    return _driven(area_m2 / 2 / math.sqrt(2), stack_pa, 0.0)


def air_rise_k(box: Box, room_c: float, heat_w: Callable[[float], float]) -> float:
    """Air of a box above the room [K], steady.

    Args:
        box: the place.
        room_c: the room [°C].
        heat_w: what is given off in it [W] by how far its air is above the room [K]; never rises with it.
    """

    def shed_w(rise_k: float) -> float:
        carried = AIR_KG_M3 * AIR_J_KGK * flow_m3_s(box, rise_k, room_c)
        return (WALL_W_M2K * box.wall_m2 + carried) * rise_k

    return _meets(shed_w, heat_w)


def _meets(shed_w: Callable[[float], float], heat_w: Callable[[float], float]) -> float:
    """Where what is shed meets what is given off [K]; the first rises, the second never does."""
    low_k, high_k = 0.0, MOST_K
    if heat_w(0.0) <= 0:
        return 0.0
    for _ in range(48):
        middle_k = (low_k + high_k) / 2
        if shed_w(middle_k) < heat_w(middle_k):
            low_k = middle_k
        else:
            high_k = middle_k
    return (low_k + high_k) / 2
