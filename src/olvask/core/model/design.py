"""The whole design of one job."""

from __future__ import annotations

from enum import StrEnum
from typing import Literal

from pydantic import Field

from olvask.core.model.base import Described, quantity
from olvask.core.model.battery import AuxiliaryBattery
from olvask.core.model.charger import Charger, Method
from olvask.core.model.run import Run
from olvask.core.model.vehicle import ChemistryName, Existing, InheritedCable, Solar, Use, Vehicle


class Provenance(StrEnum):
    """Where a value came from."""

    DEFAULT = "default"
    DATASHEET = "datasheet"
    MEASURED = "measured"
    OWN = "own"
    COMPUTED = "computed"


class Mount(Described):
    """Where the unit sits."""

    place: Literal["cabin", "cupboard", "under_floor", "engine_bay"] = Field("cabin", title="Mounting place")
    ambient_c: float | None = quantity("Ambient at the unit", "°C", default=None, ge=-40, le=120, example=35)
    width_mm: float | None = quantity("Space, width", "mm", default=None, gt=0, le=5000, example=400)
    height_mm: float | None = quantity("Space, height", "mm", default=None, gt=0, le=5000, example=300)
    depth_mm: float | None = quantity("Space, depth", "mm", default=None, gt=0, le=5000, example=150)
    weight_max_kg: float | None = quantity("May weigh up to", "kg", default=None, gt=0, le=500, example=5)


class Distances(Described):
    """Where the runs will go, before they are laid: measured path, one-way."""

    supply_m: float | None = quantity("Start battery to unit", "m", default=None, gt=0, le=60, example=4.5)
    delivery_m: float | None = quantity("Unit to auxiliary battery", "m", default=None, gt=0, le=60, example=1.5)


class Activation(Described):
    """When the unit may charge. Voltages are at the charger's input terminals; absent ones are proposed."""

    methods: tuple[Method, ...] = Field(("voltage",), title="Method", max_length=5)
    start_at_once_v: float | None = quantity("Start at once", "V", default=None, gt=0, le=64, example=13.8)
    start_v: float | None = quantity("Start", "V", default=None, gt=0, le=64, example=13.3)
    start_delay_s: float = quantity("Delay before start", "s", default=10.0, ge=0, le=3600, example=10)
    stop_v: float | None = quantity("Stop", "V", default=None, gt=0, le=64, example=13.0)
    stop_delay_s: float = quantity("Delay before stop", "s", default=30.0, ge=0, le=3600, example=30)
    lockout_v: float | None = quantity("Lockout", "V", default=None, gt=0, le=64, example=12.1)
    lockout_delay_s: float = quantity("Lockout debounce", "s", default=2.0, ge=0, le=600, example=2)
    restart_v: float | None = quantity("Lockout release", "V", default=None, gt=0, le=64, example=12.8)


class OldLink(Described):
    """What becomes of a link that was there before, and the relay it takes."""

    decision: Literal["", "disconnect", "changeover", "keep"] = Field("", title="What becomes of it")
    relay_place: Literal["", "start_feed", "auxiliary_feed"] = Field("", title="Relay sits in")
    feed_a: float | None = quantity("Start-battery feed carries", "A", default=None, gt=0, le=500, example=10)
    living_a: float | None = quantity("Loads behind the panel", "A", default=None, gt=0, le=500, example=18)
    feed_mm2: float | None = quantity("Wire of that feed", "mm²", default=None, gt=0, le=120, example=6)
    coil_ma: float | None = quantity("Relay coil", "mA", default=None, gt=0, le=5000, example=160)
    d_plus_ma: float | None = quantity("D+ can give", "mA", default=None, gt=0, le=10000, example=300)


class ChargeSettings(Described):
    """How the unit is set to charge; what is absent is the battery's own."""

    profile: ChemistryName | None = Field(None, title="Charge profile the unit is set to")


class Choices(Described):
    """Schools and margins this job is held to."""

    alternator_school: Literal["share", "surplus"] = Field("surplus", title="Alternator budget")
    share_fraction: float = quantity("Share of rated current", "-", default=0.5, gt=0, le=1, example=0.5)
    surplus_fraction: float = quantity("Share of the hot-idle surplus", "-", default=0.8, gt=0, le=1, example=0.8)
    ampacity_school: Literal["enclosed", "free_air"] = Field("enclosed", title="Ampacity tables")
    drop_percent: float = quantity("Drop limit per run", "%", default=3.0, gt=0, le=20, example=3)
    margin_v: float | None = quantity("Threshold margin", "V", default=None, ge=0, le=5, example=0.15)
    lug_mohm: float = quantity("Each crimped and bolted end", "mΩ", default=0.05, ge=0, le=10, example=0.05)
    keep_state_of_charge: float = quantity("Charge kept for cranking", "-", default=0.6, ge=0, le=1, example=0.6)
    protection_school: Literal["fuse", "fuse_isolator", "breaker"] = Field("fuse", title="Protection")
    slack: float = quantity("Slack bought on top", "-", default=0.2, ge=0, le=1, example=0.2)
    energy_price: float = quantity("Energy from the alternator", "€/kWh", default=0.9, ge=0, le=20, example=0.9)
    rank_cost: float = quantity("Weight of cost", "-", default=1.0, ge=0, le=10, example=1)
    rank_rate: float = quantity("Weight of charge per hour", "-", default=1.0, ge=0, le=10, example=1)
    rank_margin: float = quantity("Weight of margin", "-", default=0.5, ge=0, le=10, example=0.5)
    fault_multiple: float = quantity("Fault current over rating", "×", default=5.0, ge=1, le=50, example=5)


class Design(Described):
    """One vehicle from alternator to auxiliary battery. Pieces and settings absent are `None`, never 0."""

    vehicle: Vehicle
    auxiliary: AuxiliaryBattery = AuxiliaryBattery()
    use: Use = Use()
    existing: tuple[Existing, ...] = Field((), title="What is there already", max_length=20)
    inherited: InheritedCable | None = Field(None, title="Inherited cable")
    solar: Solar = Solar()
    distances: Distances = Distances()
    charger: Charger | None = None
    units: int = Field(1, title="Units in parallel", ge=1, le=6, json_schema_extra={"unit": "units", "example": 1})
    current_limit_a: float | None = quantity("Set to", "A", default=None, gt=0, le=500, example=30)
    mount: Mount = Mount()
    supply: Run = Run()
    delivery: Run = Run()
    activation: Activation = Activation()
    charge: ChargeSettings = ChargeSettings()
    old_link: OldLink = OldLink()
    choices: Choices = Choices()
    provenance: dict[str, Provenance] = Field(default_factory=dict, title="Where values came from", max_length=400)
