"""The battery that is charged."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from olvask.core.model.base import Described, quantity
from olvask.core.model.vehicle import ChemistryName


class AuxiliaryBattery(Described):
    """The auxiliary battery; volts are for the whole bank."""

    name: str = Field("", title="Auxiliary battery", max_length=80)
    chemistry: ChemistryName = Field("agm", title="Chemistry")
    nominal_v: Literal[12, 24, 48] = Field(12, title="Nominal voltage")
    capacity_ah: float = quantity("Capacity", "Ah", default=100.0, gt=0, le=5000, example=100)
    charge_limit_a: float | None = quantity("Charge limit", "A", default=None, gt=0, le=2000, example=50)
    absorption_v: float | None = quantity("Absorption", "V", default=None, gt=0, le=64, example=14.2)
