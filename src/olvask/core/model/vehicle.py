"""The vehicle as found: what the engine feeds, and what was measured on it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from olvask.core.model.base import (
    ONCE,
    Described,
    Identified,
    choice,
    quantity,
    several,
    standard_size,
    tick,
    whole,
    word_of,
)
from olvask.core.model.charging import Sourced
from olvask.core.model.chemistry import CHEMISTRIES, MAYBE_CHEMISTRY, ChemistryName

Carried = Literal["meter", "fridge", "upkeep", "lamp"]
CARRIES: dict[Carried, str] = {
    "meter": "start battery meter",
    "fridge": "fridge feed while driving",
    "upkeep": "upkeep of the start battery from the mains",
    "lamp": "the panel's charging signal",
}
METALS = {"copper": "copper", "cca": "copper-clad aluminium"}


class Chassis(Described):
    """The body as a conductor between the two battery negatives."""

    body: Literal["metal_bonded", "mixed", "boat", "unknown"] = choice(
        "Body",
        {"metal_bonded": "metal, bonded", "mixed": "mixed or composite", "boat": "boat", "unknown": "unknown"},
        default="unknown",
    )
    bonding_mohm: float | None = quantity(
        "Bonding, measured",
        "mΩ",
        default=None,
        ge=0,
        le=1e7,
        example=4.0,
        help="Resistance between the two battery negatives.",
    )
    trailer: bool = tick("Auxiliary battery on a trailer")


class Alternator(Described):
    """What charges the start side; in a hybrid its DC converter stands in."""

    name: str = Field("", title="Alternator", max_length=80)
    rated_a: float = quantity("Rated current", "A", gt=0, le=1000, example=150, step=5)
    regulation: Literal["fixed", "compensated", "managed"] = choice(
        "Regulation",
        {"fixed": "fixed", "compensated": "temperature-compensated", "managed": "engine-managed"},
        default="fixed",
    )
    hot_idle_share: float | None = quantity(
        "Share left at hot idle",
        "share",
        default=None,
        gt=0,
        le=1,
        example=0.5,
        step=0.05,
        help="What it still gives at hot idle, as a share of its rated current.",
    )
    loads_idle_a: float = quantity("Vehicle loads, idle", "A", default=25.0, ge=0, le=1000, example=25, step=1)
    loads_cruise_a: float = quantity("Vehicle loads, cruise", "A", default=35.0, ge=0, le=1000, example=35, step=1)
    sag_mohm: float | None = quantity(
        "Source resistance",
        "mΩ",
        default=None,
        ge=0,
        le=200,
        example=3.0,
        step=0.5,
        help="How far the posts fall for each ampere drawn.",
    )


class StartBattery(Described):
    """The battery that cranks the engine."""

    name: str = Field("", title="Start battery", max_length=80)
    chemistry: ChemistryName = choice("Start battery type", CHEMISTRIES, default="flooded")
    capacity_ah: float = quantity("Start battery capacity", "Ah", default=80.0, gt=0, le=1000, example=95, step=5)
    negative_sensor: bool = tick(
        "Sensor on its negative", help="Usual with an engine-managed alternator: returns go to the chassis side of it."
    )


class Readings(Described):
    """Volts at the start battery posts; an absent reading falls back on the regulation's default."""

    rest_v: float | None = quantity("Engine off, rested", "V", default=None, gt=0, le=64, example=12.7, step=0.05)
    after_stop_v: float | None = quantity(
        "Just after stopping", "V", default=None, gt=0, le=64, example=12.9, step=0.05
    )
    idle_v: float | None = quantity(
        "Hot idle, loads on",
        "V",
        default=None,
        gt=0,
        le=64,
        example=13.6,
        step=0.05,
        help="Lights and blower on, charger idle.",
    )
    cruise_v: float | None = quantity("Cruise", "V", default=None, gt=0, le=64, example=14.2, step=0.05)
    low_phase_v: float | None = quantity("Low phase", "V", default=None, gt=0, le=64, example=12.5, step=0.05)
    low_phase_s: float | None = quantity("Longest low phase", "s", default=None, ge=0, le=7200, example=120, step=10)


class Signals(Described):
    """Signals that can be had at the charger."""

    ignition: bool = tick("Ignition feed (15)")
    d_plus: bool = tick("Charge indicator (D+, 61)")


class Lifter(Identified):
    """Something that lifts the start battery's voltage with the engine off."""

    kind: Literal["solar", "maintainer", "other"] = choice(
        "What lifts it",
        {"solar": "solar panel", "maintainer": "maintainer", "other": "something else"},
        default="solar",
    )
    lifts_to_v: float | None = quantity("Lifts it to", "V", default=None, gt=0, le=64, example=13.2, step=0.1)


class SourcePoint(Described):
    """Where the supply run takes its current, and what lies upstream."""

    kind: Literal["battery_post", "alternator_stud", "fused_stud"] = choice(
        "Supply run starts at",
        {
            "battery_post": "start battery post",
            "alternator_stud": "alternator stud",
            "fused_stud": "fused stud in the vehicle",
        },
        default="battery_post",
    )
    rating_a: float | None = quantity("Fuse upstream", "A", default=None, gt=0, le=1000, example=100, step=10)


LoadFeed = Literal["battery", "inverter", "converter"]
LOAD_V = 12.5  # of a 12 V battery half full under light load; our own estimate
INVERTER_EFFICIENCY = 0.9  # of the power it passes; our own estimate
INVERTER_IDLE_W = 8.0  # what it takes for itself while on; our own estimate


class Load(Identified):
    """One thing the auxiliary battery feeds."""

    name: str = Field(title="Load", min_length=1, max_length=60)
    current_a: float | None = quantity("Current when on", "A", default=None, gt=0, le=1000, example=4.5, step=0.5)
    power_w: float | None = quantity("Power when on", "W", default=None, gt=0, le=20000, example=600, step=10)
    fed: LoadFeed = choice(
        "Fed",
        {"battery": "direct", "inverter": "by inverter", "converter": "by converter"},
        default="battery",
        help="Direct or by an inverter from the auxiliary battery; by a plain converter from the start side.",
    )
    wire_m: float | None = quantity(
        "Its wire, one-way", "m", default=None, gt=0, le=60, example=4, step=0.5, help="Of what a converter feeds."
    )
    duty: float = quantity("Share of time on", "share", default=1.0, gt=0, le=1, example=0.4, step=0.05)
    standing_h: float = quantity("Hours a day, standing", "h", default=0.0, ge=0, le=24, example=10, step=0.5)
    driving: bool = tick("Runs while driving")

    @model_validator(mode="after")
    def _by_current_or_power(self) -> Load:
        if (self.current_a is None) == (self.power_w is None):
            raise ValueError("give either its current or its power; clear the other")
        return self

    def needs_w(self, nominal_v: int) -> float:
        """What it needs at its own terminals when on [W], on a system of `nominal_v`."""
        return self.power_w if self.power_w is not None else (self.current_a or 0.0) * LOAD_V * nominal_v / 12

    def drawn_a(self, nominal_v: int) -> float:
        """What it draws from an auxiliary battery of `nominal_v` when on [A], an inverter's own draw apart.

        A current typed is that at the battery.
        """
        if self.fed == "converter":
            return 0.0
        if self.power_w is None:
            return self.current_a or 0.0
        watts = self.power_w
        if self.fed == "inverter":
            watts = watts / INVERTER_EFFICIENCY
        return watts / (LOAD_V * nominal_v / 12)

    def mean_a(self, nominal_v: int) -> float:
        """The same over its share of time on [A]."""
        return self.drawn_a(nominal_v) * self.duty

    @property
    def keeps_inverter_on(self) -> bool:
        """Whether an inverter's own draw comes on top of it, for as long as it is switched on; amperes typed hold it."""
        return self.fed == "inverter" and self.power_w is not None


def inverter_a(nominal_v: int) -> float:
    """What an inverter takes for itself while on, from an auxiliary battery of `nominal_v` [A]."""
    return INVERTER_IDLE_W / (LOAD_V * nominal_v / 12)


def inverter_h(loads: Iterable[Load]) -> float:
    """Hours a day, standing, for which loads keep the inverter on [h]: one after the other, for nobody says otherwise."""
    return min(24.0, math.fsum(load.standing_h for load in loads if load.keeps_inverter_on))


def standing_ah(loads: Sequence[Load], nominal_v: int) -> float:
    """What loads take of an auxiliary battery of `nominal_v` standing, the inverter's own draw among it [Ah a day]."""
    own_ah = inverter_a(nominal_v) * inverter_h(loads)
    return math.fsum((own_ah, *(load.mean_a(nominal_v) * load.standing_h for load in loads)))


def driving_a(loads: Iterable[Load], nominal_v: int) -> float:
    """The same while driving, on average [A]."""
    on = [load for load in loads if load.driving]
    own_a = inverter_a(nominal_v) if any(load.keeps_inverter_on for load in on) else 0.0
    return math.fsum((own_a, *(load.mean_a(nominal_v) for load in on)))


class Use(Described):
    """What the auxiliary battery has to give, and how long the engine runs to put it back.

    `daily_ah` and `loads_driving_a`, where given, stand above what the list of loads adds up to.
    """

    daily_ah: float | None = quantity("Daily use, standing", "Ah", default=None, ge=0, le=5000, example=60, step=5)
    rest_day_ah: float | None = quantity(
        "Use on a rest day", "Ah", default=None, ge=0, le=5000, example=10, step=5, help="A day without driving."
    )
    drive_h: float | None = quantity("Driving a day", "h", default=None, gt=0, le=24, example=3, step=0.5)
    drive_days: int = whole("Driving days a week", "days", default=5, ge=0, le=7, example=5)
    loads_driving_a: float | None = quantity("Loads while driving", "A", default=None, ge=0, le=1000, example=5, step=1)
    loads: tuple[Load, ...] = Field((), title="Loads", max_length=40)
    mains_h: float = quantity("Mains charging a day", "h", default=0.0, ge=0, le=24, example=8, step=1)
    reserve: float | None = quantity(
        "Reserve kept",
        "share",
        default=None,
        ge=0,
        lt=1,
        example=0.5,
        step=0.05,
        help="State of charge never to go below.",
    )


class Existing(Identified):
    """Something already fitted that feeds, links or charges."""

    kind: Literal[
        "link",
        "panel",
        "fridge_feed",
        "socket_wire",
        "built_in_charger",
        "mains_charger",
        "portable_charger",
        "monitor",
        "maintainer",
    ] = choice(
        "What is there",
        {
            "link": "relay that links the batteries",
            "panel": "panel with its own link",
            "fridge_feed": "fridge fed from the start side",
            "socket_wire": "trailer-socket charge wire",
            "built_in_charger": "small built-in charger",
            "mains_charger": "mains charger",
            "portable_charger": "portable charger",
            "monitor": "battery monitor",
            "maintainer": "start-battery maintainer",
        },
    )
    name: str = Field("", title="Note", max_length=80)
    charge_a: float | None = quantity(
        "Its current", "A", default=None, gt=0, le=500, example=10, step=1, help="What it charges with, or draws."
    )
    profile: ChemistryName | None = choice("Set for", MAYBE_CHEMISTRY, default=None)
    stages: Sourced = Field(Sourced(), title="Its stages")
    cut: bool = tick("Its feed is cut", help="Taken out of use: it draws and gives nothing any more.")
    carries: Annotated[tuple[Carried, ...], ONCE] = several("Besides charging it carries", CARRIES)
    wire_mm2: float | None = quantity("Wire size", "mm²", default=None, gt=0, le=120, example=2.5)
    wire_m: float | None = quantity("Wire, one-way", "m", default=None, gt=0, le=60, example=8, step=0.5)

    @property
    def called(self) -> str:
        """Its note; where it has none, what it is."""
        return self.name.strip() or self.kind.replace("built_in", "built-in").replace("_", " ")

    @property
    def joins(self) -> bool:
        """Whether it joins the two batteries while the engine runs."""
        return self.kind in ("link", "panel")


class InheritedCable(Described):
    """A cable found in the vehicle that may be worth keeping for the supply run."""

    size: str = Field(title="Inherited cable size", max_length=20)
    length_m: float = quantity("Inherited, one-way", "m", gt=0, le=60, example=4.0, step=0.1)
    metal: Literal["copper", "cca"] = choice("Inherited cable metal", METALS, default="copper")
    sound: bool = tick("Looks sound, ends and all", default=True)
    shared_a: float = quantity("What else it feeds", "A", default=0.0, ge=0, le=500, example=0, step=1)

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)


class Solar(Described):
    """A panel and where it comes in."""

    panel_w: float | None = quantity("Solar panel", "W", default=None, gt=0, le=20000, example=120, step=10)
    into: Literal["controller", "second_input", "start_side"] = choice(
        "Panel feeds",
        {
            "controller": "its own controller",
            "second_input": "the unit's second input",
            "start_side": "the start battery",
        },
        default="controller",
    )
    sun_h: float = quantity("Full-sun hours a day", "h", default=2.5, ge=0, le=12, example=2.5, step=0.5)
    share_driving: float = quantity(
        "Sun while driving", "share", default=0.4, ge=0, le=1, example=0.4, step=0.05, help="As a share of full sun."
    )
    profile: ChemistryName | None = choice("Controller set for", MAYBE_CHEMISTRY, default=None)
    stages: Sourced = Field(Sourced(), title="Controller's stages")
    wire_mm2: float | None = quantity("Controller's wire", "mm²", default=None, gt=0, le=120, example=6)
    wire_m: float | None = quantity("Controller to battery", "m", default=None, gt=0, le=60, example=2, step=0.5)


class Vehicle(Described):
    """Everything surveyed on the start side."""

    system_v: Literal[12, 24] = choice("System voltage", {12: "12 V", 24: "24 V"}, default=12)
    drive: Literal["engine", "converter"] = choice(
        "Drive",
        {"engine": "engine", "converter": "hybrid or electric"},
        default="engine",
        help="A hybrid or electric drive holds the start battery up with a DC converter.",
    )
    chassis: Chassis = Chassis()
    alternator: Alternator
    start_battery: StartBattery = StartBattery()
    readings: Readings = Readings()
    signals: Signals = Signals()
    lifters: tuple[Lifter, ...] = Field((), title="Holds the start battery up", max_length=4)
    source_point: SourcePoint = SourcePoint()
    standing_drain_ma: float | None = quantity("Standing drain", "mA", default=None, ge=0, le=20000, example=30, step=5)

    @property
    def managed(self) -> bool:
        """Whether an engine-managed alternator charges its start side; a DC converter is none, whatever was chosen before."""
        return self.drive == "engine" and self.alternator.regulation == "managed"

    @property
    def low_phased(self) -> bool:
        """Whether its volts fall in low phases: as a managed alternator's do, or as was measured."""
        return self.managed or self.readings.low_phase_v is not None

    @property
    def ready_fed(self) -> bool:
        """Whether its ignition feed is one that is live only while it is ready, as a hybrid's is taken."""
        return self.drive == "converter"

    @property
    def source_words(self) -> tuple[str, str]:
        """What charges its start side, and how much of what kind."""
        amps = f"{self.alternator.rated_a:g} A"
        if self.drive == "converter":
            return "DC converter", amps
        return "Alternator", f"{amps}, {word_of(self.alternator, 'regulation')}"
