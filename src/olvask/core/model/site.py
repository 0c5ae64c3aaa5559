"""Around the work: where the unit sits, what is disturbed, and steps the shop adds of its own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from olvask.core.model.base import ONCE, Described, Identified, choice, quantity, several, tick

Group = Literal[
    "prepare",
    "make_safe",
    "take_out",
    "mount",
    "route",
    "terminate",
    "dead_checks",
    "first_power",
    "key_in",
    "connect",
    "enable",
    "put_back",
]
GROUPS: dict[Group, str] = {
    "prepare": "Prepare",
    "make_safe": "Make safe",
    "take_out": "Take out and re-use",
    "mount": "Mount",
    "route": "Route",
    "terminate": "Terminate",
    "dead_checks": "Dead checks",
    "first_power": "First power",
    "key_in": "Key in",
    "connect": "Connect",
    "enable": "Enable",
    "put_back": "Put back",
}
Near = Literal["fuel", "exhaust", "airbag", "plastic", "moving", "water"]
NEAR: dict[Near, str] = {
    "fuel": "fuel or gas",
    "exhaust": "exhaust or another hot thing",
    "airbag": "an airbag or belt tensioner",
    "plastic": "plastic or cloth",
    "moving": "moving parts",
    "water": "splashing water",
}


class Mount(Described):
    """Where the unit sits, what closes it in and what cools it."""

    place: Literal["cabin", "cupboard", "under_floor", "engine_bay"] = choice(
        "Unit mounted in",
        {"cabin": "cabin, free air", "cupboard": "cupboard", "under_floor": "under floor", "engine_bay": "engine bay"},
        default="cabin",
    )
    ambient_c: float | None = quantity("Air at the unit", "°C", default=None, ge=-40, le=120, example=35, step=1)
    width_mm: float | None = quantity("Space, width", "mm", default=None, gt=0, le=5000, example=400, step=10)
    height_mm: float | None = quantity("Space, height", "mm", default=None, gt=0, le=5000, example=300, step=10)
    depth_mm: float | None = quantity("Space, depth", "mm", default=None, gt=0, le=5000, example=150, step=10)
    weight_max_kg: float | None = quantity("May weigh up to", "kg", default=None, gt=0, le=500, example=5, step=0.5)
    around: Literal["", "open", "vents", "shut"] = choice(
        "Air around the unit",
        {"": "not said", "open": "open room", "vents": "closed in, with openings", "shut": "closed in, no opening"},
        default="",
        help="Closed in, its air is worked out from its own heat and the openings.",
    )
    room_c: float | None = quantity(
        "Air outside it",
        "°C",
        default=None,
        ge=-40,
        le=120,
        example=30,
        step=1,
        help="Of the room the cupboard stands in, on a hot day.",
    )
    vent_low_cm2: float = quantity("Opening, low", "cm²", default=0.0, ge=0, le=20000, example=60, step=5)
    vent_high_cm2: float = quantity("Opening, high", "cm²", default=0.0, ge=0, le=20000, example=60, step=5)
    vent_apart_mm: float | None = quantity(
        "Openings apart, height", "mm", default=None, gt=0, le=5000, example=250, step=10
    )
    fan_m3_h: float = quantity("Fan kit moves", "m³/h", default=0.0, ge=0, le=2000, example=40, step=5)
    orientation: Literal["", "upright", "sideways", "lying", "hanging"] = choice(
        "Fins stand",
        {
            "": "not said",
            "upright": "upright, air rises through them",
            "sideways": "level, on a wall",
            "lying": "up, unit lying flat",
            "hanging": "down, unit under a shelf",
        },
        default="",
    )
    backing: Literal["", "metal", "fireproof", "wood", "plastic"] = choice(
        "Fixed to",
        {"": "not said", "metal": "metal", "fireproof": "fireproof board", "wood": "wood", "plastic": "plastic"},
        default="",
    )
    spacing_mm: float | None = quantity(
        "Between the units", "mm", default=None, ge=0, le=5000, example=100, step=10, help="Where there are several."
    )
    near_asked: bool = tick("Looked at what lies near")
    near: Annotated[tuple[Near, ...], ONCE] = several("Within half a metre of it", NEAR)


class Site(Described):
    """What the work disturbs, and what else is on board."""

    seats: bool = tick("Seats come out")
    airbags: bool = tick("They carry airbags or belt tensioners")
    airbag_wait_s: float | None = quantity(
        "Wait, battery off",
        "s",
        default=None,
        ge=0,
        le=7200,
        example=180,
        step=30,
        help="Before an airbag's plug is touched, as the vehicle's maker says.",
    )
    drills: bool = tick("Holes are drilled")
    tank: bool = tick("A tank or line behind them")
    gas: bool = tick("Gas on board")
    mains: bool = tick("Mains inlet on board")
    inverter: bool = tick("Inverter on board")
    codes: bool = tick("Battery off loses codes", help="Radio, clock, windows, alarm.")
    auxiliary_there: Literal["", "there", "new"] = choice(
        "Auxiliary battery is",
        {"": "as it looks", "there": "fitted already", "new": "fitted in this job"},
        default="",
        help="As it looks: fitted already where the survey found something that charges or feeds from it.",
    )
    auxiliary_price: float | None = quantity("Price of battery", "€", default=None, ge=0, le=1e5, example=640, step=10)


class OwnStep(Identified):
    """A step the shop adds, and where it wants it."""

    text: str = Field(title="Step", min_length=1, max_length=200)
    why: str = Field("", title="Its reason", max_length=200)
    group: Group = choice("Stands in", GROUPS, default="prepare")
    after: str = Field("", title="After step", max_length=60)
    before: str = Field("", title="Before step", max_length=60)
