"""The unit between the two batteries and what its manual says of it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from olvask.core.model.base import Described, quantity

Method = Literal["ignition", "d_plus", "switch", "link", "voltage"]


class Behaviour(Described):
    """What the unit's manual says of how it acts; the user fills it in."""

    latched: bool = Field(False, title="A mode sticks until reset")
    lockout_compensated: bool = Field(False, title="Lockout allows for its own draw, V + I·R")
    keeps_without_remote: str = Field("", title="What a lost remote keeps", max_length=200)
    start_delay_max_s: float | None = quantity("Start delay up to", "s", default=None, ge=0, le=36000, example=120)
    stop_delay_max_s: float | None = quantity("Stop delay up to", "s", default=None, ge=0, le=36000, example=300)
    fixed_start_v: float | None = quantity("Starts at, not adjustable", "V", default=None, gt=0, le=64, example=13.3)
    fixed_stop_v: float | None = quantity("Stops below, not adjustable", "V", default=None, gt=0, le=64, example=12.9)
    fixed_lockout_v: float | None = quantity(
        "Locks out below, not adjustable", "V", default=None, gt=0, le=64, example=12
    )
    fixed_restart_v: float | None = quantity(
        "Released at, not adjustable", "V", default=None, gt=0, le=64, example=12.8
    )
    soft_start_s: float | None = quantity("Soft start over", "s", default=None, ge=0.5, le=600, example=10)
    off_least_s: float | None = quantity("Stays locked out at least", "s", default=None, ge=0, le=3600, example=10)
    wake_v: float | None = quantity("Wakes at input", "V", default=None, gt=0, le=64, example=8.0)
    connect_first: Literal["", "start_side", "auxiliary_side"] = Field("", title="Connect first")
    button: str = Field("", title="Timed-button procedures", max_length=400)
    reset: str = Field("", title="What a reset does", max_length=400)
    off_reasons: tuple[str, ...] = Field((), title="Off-reasons it reports", max_length=40)
    lamps: tuple[str, ...] = Field((), title="What its lamps mean", max_length=40)


class Charger(Described):
    """One unit from the shelf. A design keeps its own copy, so the shelf may change freely."""

    id: str = Field(title="Shelf number", min_length=1, max_length=60, pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]*$")
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
    terminal_stud: Literal["", "M4", "M5", "M6", "M8", "M10"] = Field("", title="Terminal stud, none for a clamp")
    terminal_torque_nm: float | None = quantity("Terminal torque", "N·m", default=None, gt=0, le=100, example=4)
    rated_ambient_c: float = quantity("Full output up to", "°C", default=40.0, ge=-20, le=100, example=40)
    derating_percent_per_k: float = quantity("Derating above it", "%/K", default=2.5, ge=0, le=100, example=2.5)
    dual_input: Literal["none", "priority", "split"] = Field("none", title="Second (solar) input")
    dual_first: Literal["alternator", "solar"] = Field("alternator", title="Which source goes first")
    dual_delay_s: float = quantity("The other waits", "s", default=60.0, ge=0, le=36000, example=60)
    width_mm: float | None = quantity("Width", "mm", default=None, gt=0, le=3000, example=190)
    height_mm: float | None = quantity("Height", "mm", default=None, gt=0, le=3000, example=130)
    depth_mm: float | None = quantity("Depth", "mm", default=None, gt=0, le=3000, example=70)
    clearance_mm: float = quantity("Free air all round", "mm", default=50.0, ge=0, le=1000, example=50)
    weight_kg: float | None = quantity("Weight", "kg", default=None, gt=0, le=500, example=1.3)
    behaviour: Behaviour = Behaviour()
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
        start_v, stop_v = self.behaviour.fixed_start_v, self.behaviour.fixed_stop_v
        if start_v is not None and stop_v is not None and stop_v > start_v:
            raise ValueError("the fixed stop must not lie above the fixed start")
        if self.current_limit == "steps" and not self.limit_steps_a:
            raise ValueError("a unit limited in steps needs its steps in amperes")
        return self

    @property
    def adjustable(self) -> bool:
        """Whether its thresholds can be set."""
        return self.threshold_min_v is not None and self.threshold_max_v is not None

    @property
    def fixed(self) -> Behaviour:
        """What its manual says of thresholds nobody can set; blank where they can be set."""
        return Behaviour() if self.adjustable else self.behaviour

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
