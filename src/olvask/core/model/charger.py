"""The unit between the two batteries and what its manual says of it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from olvask.core.model.base import Described, quantity

Method = Literal["ignition", "d_plus", "switch", "link", "voltage"]


class Charger(Described):
    """One unit from the shelf. A design keeps its own copy, so the shelf may change freely."""

    id: str = Field(title="Shelf number", min_length=1, max_length=60)
    name: str = Field(title="Unit", min_length=1, max_length=80)
    maker: str = Field("", title="Maker", max_length=80)
    kind: Literal["charger", "converter"] = Field("charger", title="Kind")
    isolated: bool = Field(title="Isolated")
    input_nominal_v: Literal[12, 24] = Field(title="Input, nominal")
    output_nominal_v: Literal[12, 24, 48] = Field(title="Output, nominal")
    output_a: float = quantity("Output current", "A", gt=0, le=500, example=40)
    current_limit: Literal["none", "steps", "continuous"] = Field("none", title="Current limit")
    limit_steps_a: tuple[float, ...] = Field((), title="Current limit steps", max_length=20)
    limit_min_a: float | None = quantity("Lowest current limit", "A", default=None, gt=0, le=500)
    efficiency: float = quantity("Efficiency", "-", gt=0.3, le=1, example=0.92)
    input_min_v: float = quantity("Lowest input", "V", gt=0, le=64, example=9.0)
    input_max_v: float = quantity("Highest input", "V", gt=0, le=80, example=17.0)
    output_min_v: float = quantity("Lowest output setting", "V", gt=0, le=80, example=12.0)
    output_max_v: float = quantity("Highest output setting", "V", gt=0, le=80, example=15.0)
    terminal_max_mm2: float = quantity("Terminal takes up to", "mm²", gt=0, le=300, example=25)
    rated_ambient_c: float = quantity("Full output up to", "°C", default=40.0, ge=-20, le=100, example=40)
    derating_percent_per_k: float = quantity("Derating above it", "%/K", default=2.5, ge=0, le=100, example=2.5)
    dual_input: Literal["none", "priority", "split"] = Field("none", title="Second (solar) input")
    enables: tuple[Literal["ignition", "d_plus", "remote", "voltage"], ...] = Field((), title="Enable inputs")
    threshold_min_v: float | None = quantity("Thresholds from", "V", default=None, gt=0, le=64)
    threshold_max_v: float | None = quantity("Thresholds to", "V", default=None, gt=0, le=64)
    threshold_step_v: float | None = quantity("Threshold step", "V", default=None, gt=0, le=5)
    maker_cable_mm2: float | None = quantity("Maker's table says", "mm²", default=None, gt=0, le=300)
    price: float = quantity("Price", "€", default=0.0, ge=0, le=1e6)
    source: str = Field("", title="Source", max_length=200)

    @model_validator(mode="after")
    def _ranges_in_order(self) -> Charger:
        if self.input_min_v >= self.input_max_v:
            raise ValueError("lowest input must lie below highest input")
        if self.output_min_v > self.output_max_v:
            raise ValueError("lowest output setting must not lie above the highest")
        if self.current_limit == "steps" and not self.limit_steps_a:
            raise ValueError("a unit limited in steps needs its steps in amperes")
        return self

    def settable_a(self, wanted_a: float) -> float | None:
        """Largest current the unit can be set to at or below `wanted_a` [A]; None when it cannot."""
        if wanted_a >= self.output_a:
            return self.output_a
        if self.current_limit == "steps":
            below = [step for step in self.limit_steps_a if step <= wanted_a]
            return max(below) if below else None
        if self.current_limit == "continuous" and wanted_a >= (self.limit_min_a or 0):
            return wanted_a
        return None
