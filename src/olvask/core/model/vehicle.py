"""The vehicle as found: what the engine feeds, and what was measured on it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from olvask.core.model.base import Described, quantity

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


class Use(Described):
    """What the auxiliary battery has to give, and how long the engine runs to put it back."""

    daily_ah: float | None = quantity("Daily use", "Ah", default=None, ge=0, le=5000, example=60)
    drive_h: float | None = quantity("Driving per day", "h", default=None, gt=0, le=24, example=3)
    loads_driving_a: float = quantity("Auxiliary loads while driving", "A", default=0.0, ge=0, le=1000, example=5)


class Vehicle(Described):
    """Everything surveyed on the start side."""

    system_v: Literal[12, 24] = Field(12, title="System voltage")
    drive: Literal["engine", "converter"] = Field("engine", title="Drive")
    chassis: Chassis = Chassis()
    alternator: Alternator
    start_battery: StartBattery = StartBattery()
    readings: Readings = Readings()
    signals: Signals = Signals()
