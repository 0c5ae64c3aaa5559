"""The vehicle as found: what the engine feeds, and what was measured on it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator

from olvask.core.model.base import Described, quantity, standard_size

ChemistryName = Literal["flooded", "agm", "gel", "lfp"]


class Chassis(Described):
    """The body as a conductor between the two battery negatives."""

    body: Literal["metal_bonded", "mixed", "boat", "unknown"] = Field("unknown", title="Body")
    bonding_mohm: float | None = quantity("Measured bonding", "mΩ", default=None, ge=0, le=1e7, example=4.0)
    trailer: bool = Field(False, title="Auxiliary battery rides on a trailer")


class Alternator(Described):
    """What charges the start side; in a hybrid its DC converter stands in."""

    name: str = Field("", title="Alternator", max_length=80)
    rated_a: float = quantity("Rated current", "A", gt=0, le=1000, example=150)
    regulation: Literal["fixed", "compensated", "managed"] = Field("fixed", title="Regulation")
    hot_idle_share: float | None = quantity("Share left at hot idle", "of rated", default=None, gt=0, le=1, example=0.5)
    loads_idle_a: float = quantity("Vehicle's own loads at idle", "A", default=25.0, ge=0, le=1000, example=25)
    loads_cruise_a: float = quantity("Vehicle's own loads at cruise", "A", default=35.0, ge=0, le=1000, example=35)
    sag_mohm: float | None = quantity("Source resistance", "mΩ", default=None, ge=0, le=200, example=3.0)


class StartBattery(Described):
    """The battery that cranks the engine."""

    name: str = Field("", title="Start battery", max_length=80)
    chemistry: ChemistryName = Field("flooded", title="Chemistry")
    capacity_ah: float = quantity("Capacity", "Ah", default=80.0, gt=0, le=1000, example=95)


class Readings(Described):
    """Volts at the start battery posts; an absent reading falls back on the regulation's default."""

    rest_v: float | None = quantity("Engine off, rested", "V", default=None, gt=0, le=64, example=12.7)
    after_stop_v: float | None = quantity("Just after stopping", "V", default=None, gt=0, le=64, example=12.9)
    idle_v: float | None = quantity("Hot idle, lights and blower on", "V", default=None, gt=0, le=64, example=13.6)
    cruise_v: float | None = quantity("Cruise", "V", default=None, gt=0, le=64, example=14.2)
    low_phase_v: float | None = quantity("Low phase", "V", default=None, gt=0, le=64, example=12.5)
    low_phase_s: float | None = quantity("Longest low phase", "s", default=None, ge=0, le=7200, example=120)


class Signals(Described):
    """Signals that can be had at the charger."""

    ignition: bool = Field(False, title="Ignition feed (15)")
    d_plus: bool = Field(False, title="Charge indicator (D+, 61)")


class Lifter(Described):
    """Something that lifts the start battery's voltage with the engine off."""

    kind: Literal["solar", "maintainer", "other"] = Field("solar", title="What lifts it")
    lifts_to_v: float | None = quantity("Lifts it to", "V", default=None, gt=0, le=64, example=13.2)


class SourcePoint(Described):
    """Where the supply run takes its current, and what lies upstream."""

    kind: Literal["battery_post", "alternator_stud", "fused_stud"] = Field("battery_post", title="Source point")
    rating_a: float | None = quantity("Stud's fuse upstream", "A", default=None, gt=0, le=1000, example=100)


class Load(Described):
    """One thing the auxiliary battery feeds."""

    name: str = Field(title="Load", min_length=1, max_length=60)
    current_a: float = quantity("Current when on", "A", gt=0, le=1000, example=4.5)
    duty: float = quantity("Share of the time on", "-", default=1.0, gt=0, le=1, example=0.4)
    standing_h: float = quantity("Hours a day, standing", "h", default=0.0, ge=0, le=24, example=10)
    driving: bool = Field(False, title="Runs while driving")


class Use(Described):
    """What the auxiliary battery has to give, and how long the engine runs to put it back.

    `daily_ah` and `loads_driving_a`, where given, stand above what the list of loads adds up to.
    """

    daily_ah: float | None = quantity("Daily use, standing", "Ah", default=None, ge=0, le=5000, example=60)
    rest_day_ah: float | None = quantity("Use on a day without driving", "Ah", default=None, ge=0, le=5000, example=10)
    drive_h: float | None = quantity("Driving per day", "h", default=None, gt=0, le=24, example=3)
    drive_days: int = Field(
        5, title="Driving days a week", ge=0, le=7, json_schema_extra={"unit": "days", "example": 5}
    )
    loads_driving_a: float | None = quantity(
        "Auxiliary loads while driving", "A", default=None, ge=0, le=1000, example=5
    )
    loads: tuple[Load, ...] = Field((), title="Loads", max_length=40)
    mains_h: float = quantity("Mains charging per day", "h", default=0.0, ge=0, le=24, example=8)
    reserve: float | None = quantity("Charge never to go below", "-", default=None, ge=0, lt=1, example=0.5)


class Existing(Described):
    """Something already fitted that feeds, links or charges."""

    kind: Literal[
        "link", "panel", "fridge_feed", "socket_wire", "built_in_charger", "mains_charger", "monitor", "maintainer"
    ] = Field(title="What is there")
    name: str = Field("", title="Note", max_length=80)
    charge_a: float | None = quantity("Charges with", "A", default=None, gt=0, le=500, example=10)
    profile: ChemistryName | None = Field(None, title="Charge profile set for")
    carries: tuple[Literal["meter", "fridge", "upkeep", "lamp"], ...] = Field(
        (), title="Besides charging it carries", max_length=4
    )
    wire_mm2: float | None = quantity("Wire size", "mm²", default=None, gt=0, le=120, example=2.5)
    wire_m: float | None = quantity("Wire, one-way", "m", default=None, gt=0, le=60, example=8)


class InheritedCable(Described):
    """A cable found in the vehicle that may be worth keeping for the supply run."""

    size: str = Field(title="Size", max_length=20)
    length_m: float = quantity("One-way length", "m", gt=0, le=60, example=4.0)
    metal: Literal["copper", "cca"] = Field("copper", title="Metal")
    sound: bool = Field(True, title="Looks sound, ends and all")
    shared_a: float = quantity("What else hangs on it", "A", default=0.0, ge=0, le=500, example=0)

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)


class Solar(Described):
    """A panel and where it comes in."""

    panel_w: float | None = quantity("Solar panel", "W", default=None, gt=0, le=20000, example=120)
    into: Literal["controller", "second_input", "start_side"] = Field("controller", title="Comes in at")
    sun_h: float = quantity("Full-sun hours a day", "h", default=2.5, ge=0, le=12, example=2.5)
    share_driving: float = quantity("Share of full sun while driving", "-", default=0.4, ge=0, le=1, example=0.4)
    profile: ChemistryName | None = Field(None, title="Controller set for")


class Vehicle(Described):
    """Everything surveyed on the start side."""

    system_v: Literal[12, 24] = Field(12, title="System voltage")
    drive: Literal["engine", "converter"] = Field("engine", title="Drive")
    chassis: Chassis = Chassis()
    alternator: Alternator
    start_battery: StartBattery = StartBattery()
    readings: Readings = Readings()
    signals: Signals = Signals()
    lifters: tuple[Lifter, ...] = Field((), title="What lifts the start battery", max_length=4)
    source_point: SourcePoint = SourcePoint()
    standing_drain_ma: float | None = quantity("Standing drain", "mA", default=None, ge=0, le=20000, example=30)
