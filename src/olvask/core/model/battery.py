"""The battery that is charged: as one, or as strings of blocks."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from olvask.core.model.base import Described, Identified, choice, quantity, tick, whole
from olvask.core.model.chemistry import CHEMISTRIES, MAYBE_CHEMISTRY, ChemistryName


class Block(Identified):
    """One string of a bank: like blocks in series. Strings stand in parallel."""

    series: int = whole("Blocks in series", "blocks", default=1, ge=1, le=24)
    block_v: float = quantity("Volts of a block", "V", default=12.0, ge=1.2, le=60, example=12)
    capacity_ah: float = quantity("Capacity of a block", "Ah", gt=0, le=5000, example=100, step=5)
    chemistry: ChemistryName | None = choice("Type of these blocks", MAYBE_CHEMISTRY, default=None)
    age_years: float | None = quantity("Age", "years", default=None, ge=0, le=40, example=2, step=1)

    @property
    def string_v(self) -> float:
        """Nominal volts of the string [V]; lithium blocks count 3.2 V a cell as 3 V, as their 12 V class does."""
        per_block = {3.2: 3.0, 12.8: 12.0, 25.6: 24.0, 51.2: 48.0}.get(self.block_v, float(self.block_v))
        return per_block * self.series


class Management(Described):
    """What the battery's own management system does."""

    charge_max_a: float | None = quantity("Stops charge above", "A", default=None, gt=0, le=2000, example=100, step=5)
    low_disconnect_v: float | None = quantity(
        "Disconnects below", "V", default=None, gt=0, le=64, example=10.5, step=0.1
    )
    high_disconnect_v: float | None = quantity(
        "Disconnects above", "V", default=None, gt=0, le=80, example=14.6, step=0.1
    )
    needs_waking: bool = tick("Needs a voltage to wake it")


class AuxiliaryBattery(Described):
    """The auxiliary battery; volts, amperes and capacity are for the whole bank."""

    name: str = Field("", title="Auxiliary battery", max_length=80)
    chemistry: ChemistryName = choice("Auxiliary type", CHEMISTRIES, default="agm")
    nominal_v: Literal[12, 24, 48] = choice("Auxiliary voltage", {12: "12 V", 24: "24 V", 48: "48 V"}, default=12)
    capacity_ah: float = quantity("Auxiliary capacity", "Ah", default=100.0, gt=0, le=5000, example=100, step=5)
    charge_limit_a: float | None = quantity("Charge limit", "A", default=None, gt=0, le=5000, example=50, step=5)
    absorption_v: float | None = quantity("Absorption", "V", default=None, gt=0, le=64, example=14.2, step=0.1)
    float_v: float | None = quantity("Float", "V", default=None, gt=0, le=64, example=13.5, step=0.1)
    place: Literal["", "cabin", "vented_box", "outside"] = choice(
        "Auxiliary battery sits",
        {"": "not said", "cabin": "in the cabin", "vented_box": "in a box vented outside", "outside": "outside"},
        default="",
    )
    charge_min_c: float | None = quantity(
        "Charged from",
        "°C",
        default=None,
        ge=-50,
        le=40,
        example=0,
        step=1,
        help="Coldest the maker allows it to be charged; the chemistry's usual where nothing is said.",
    )
    charge_max_c: float | None = quantity(
        "Charged up to",
        "°C",
        default=None,
        ge=20,
        le=90,
        example=45,
        step=1,
        help="Warmest the maker allows it to be charged; the chemistry's usual where nothing is said.",
    )
    low_temperature_cut_off: bool = tick("Stops charging in the cold", help="By its own management system.")
    temperature_min_c: float | None = quantity("Coldest it gets", "°C", default=None, ge=-50, le=60, example=-5, step=1)
    temperature_max_c: float | None = quantity("Warmest it gets", "°C", default=None, ge=-20, le=90, example=45, step=1)
    strings: tuple[Block, ...] = Field((), title="Strings of blocks", max_length=12)
    management: Management | None = Field(None, title="Management system")

    @model_validator(mode="after")
    def _temperatures_in_order(self) -> AuxiliaryBattery:
        low, high = self.temperature_min_c, self.temperature_max_c
        if low is not None and high is not None and low > high:
            raise ValueError("coldest must not lie above warmest; swap the two")
        return self
