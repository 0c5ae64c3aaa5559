"""The unit between the two batteries and what its manual says of it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from olvask.core.model.base import ONCE, Described, choice, quantity, several, tick, whole
from olvask.core.model.settings import Setting, SettingsRecord

StartWay = Literal["ignition", "d_plus", "switch", "bridge", "voltage"]
EnableInput = Literal["ignition", "d_plus", "remote", "voltage"]
ENABLE_FOR: dict[StartWay, EnableInput] = {
    "ignition": "ignition",
    "d_plus": "d_plus",
    "switch": "remote",
    "bridge": "remote",
    "voltage": "voltage",
}
WAY_WORDS: dict[StartWay, str] = {
    "ignition": "ignition feed (15)",
    "d_plus": "charge indicator (D+, 61)",
    "switch": "manual switch",
    "bridge": "bridged remote terminals",
    "voltage": "engine-run detection by voltage",
}
ENABLE_WORDS: dict[EnableInput, str] = {
    "ignition": WAY_WORDS["ignition"],
    "d_plus": WAY_WORDS["d_plus"],
    "remote": "remote terminals",
    "voltage": WAY_WORDS["voltage"],
}


class VoltRange(Described):
    """Volts a unit can be set to."""

    from_v: float | None = quantity("Settable from", "V", default=None, gt=0, le=64, example=11.0)
    to_v: float | None = quantity("Settable to", "V", default=None, gt=0, le=64, example=15.0)
    step_v: float | None = quantity("In steps of", "V", default=None, ge=0.001, le=5, example=0.05)

    @model_validator(mode="after")
    def _in_order(self) -> VoltRange:
        if self.from_v is not None and self.to_v is not None and self.from_v > self.to_v:
            raise ValueError("the lowest setting must not lie above the highest; swap the two")
        return self

    @property
    def settable(self) -> bool:
        """Whether it can be set at all."""
        return self.from_v is not None and self.to_v is not None


class StartRecord(VoltRange):
    """The start rules a unit takes: volts at least this, held for so long."""

    rows: int = whole("Start rules it takes", "rules", default=1, ge=1, le=3)
    held_most_s: float | None = quantity("Held for up to", "s", default=None, ge=0, le=36000, example=120)
    fixed_v: float | None = quantity(
        "Starts at, not settable",
        "V",
        default=None,
        gt=0,
        le=64,
        example=13.3,
        help="Counts only where nothing can be set.",
    )
    fixed_held_s: float | None = quantity(
        "Held for, not settable",
        "s",
        default=None,
        ge=0,
        le=36000,
        example=15,
        help="Its own delay, where nobody can set it.",
    )

    @property
    def fixed(self) -> float | None:
        """Volts nobody can change; `None` where they can be set or are not known."""
        return None if self.settable else self.fixed_v


class StopRecord(VoltRange):
    """The stop rules a unit takes: volts below this, held for so long."""

    rows: int = whole("Stop rules it takes", "rules", default=1, ge=1, le=2)
    held_most_s: float | None = quantity("Held for up to", "s", default=None, ge=0, le=36000, example=300)
    fixed_v: float | None = quantity(
        "Stops below, not settable",
        "V",
        default=None,
        gt=0,
        le=64,
        example=12.9,
        help="Counts only where nothing can be set.",
    )
    fixed_held_s: float | None = quantity(
        "Held for, not settable",
        "s",
        default=None,
        ge=0,
        le=36000,
        example=60,
        help="Its own delay, where nobody can set it.",
    )

    @property
    def fixed(self) -> float | None:
        """Volts nobody can change; `None` where they can be set or are not known."""
        return None if self.settable else self.fixed_v


class GuardRecord(VoltRange):
    """The battery guard of a unit: off below this, back at that."""

    fixed_off_v: float | None = quantity("Off below, not settable", "V", default=None, gt=0, le=64, example=12.0)
    fixed_back_v: float | None = quantity("Back at, not settable", "V", default=None, gt=0, le=64, example=12.8)
    off_least_s: float | None = quantity("Stays off at least", "s", default=None, ge=0, le=3600, example=10)
    compensated: bool = tick("Allows for its own draw, V + I·R")

    @property
    def fixed_off(self) -> float | None:
        """Volts it switches off below that nobody can change; `None` where they can be set or are not known."""
        return None if self.settable else self.fixed_off_v

    @property
    def fixed_back(self) -> float | None:
        """Volts it comes back at that nobody can change; `None` where they can be set or are not known."""
        return None if self.settable else self.fixed_back_v


class Behaviour(Described):
    """What the unit's manual says of how it acts; the user fills it in."""

    latched: bool = tick(
        "A mode stays until reset", help="Once started by its remote terminals it does not need them any more."
    )
    keeps_without_remote: str = Field("", title="Keeps without its remote", max_length=200)
    soft_start_s: float | None = quantity("Soft start over", "s", default=None, ge=0.5, le=600, example=10)
    wake_v: float | None = quantity("Wakes at input", "V", default=None, gt=0, le=64, example=8.0)
    connect_first: Literal["", "start_side", "auxiliary_side"] = choice(
        "Connect first", {"": "not said", "start_side": "start side", "auxiliary_side": "auxiliary side"}, default=""
    )
    enable_when: Literal["", "before_keying"] = choice(
        "Enable goes on", {"": "last", "before_keying": "before it is keyed in"}, default=""
    )
    capacitor_wait_s: float | None = quantity(
        "Capacitors empty after", "s", default=None, ge=0, le=3600, example=60, step=10
    )
    button_hold_s: float | None = quantity(
        "Reset: button held for", "s", default=None, ge=0.5, le=120, example=10, step=1
    )
    button: str = Field("", title="Timed-button procedures", max_length=400)
    reset: str = Field("", title="What a reset does", max_length=400)
    off_reasons: tuple[str, ...] = Field((), title="Off-reasons it reports", max_length=40)
    lamps: tuple[str, ...] = Field((), title="What its lamps mean", max_length=40)


class Charger(Described):
    """One unit from the shelf. A design keeps its own copy, so the shelf may change freely."""

    id: str = Field(title="Shelf number", min_length=1, max_length=60, pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]*$")
    name: str = Field(title="Unit", min_length=1, max_length=80)
    maker: str = Field("", title="Maker", max_length=80)
    kind: Literal["charger", "converter"] = choice(
        "Kind", {"charger": "charger", "converter": "plain converter"}, default="charger"
    )
    isolated: bool = tick("Isolated", default=...)  # type: ignore[arg-type]  # has to be said
    input_nominal_v: Literal[12, 24] = choice("Input, nominal", {12: "12 V", 24: "24 V"})
    output_nominal_v: Literal[12, 24, 48] = choice("Output, nominal", {12: "12 V", 24: "24 V", 48: "48 V"})
    output_a: float = quantity("Output current", "A", gt=0, le=500, example=40)
    current_limit: Literal["none", "steps", "continuous"] = choice(
        "Current limit", {"none": "none", "steps": "in steps", "continuous": "continuous"}, default="none"
    )
    limit_steps_a: tuple[float, ...] = Field((), title="Current limit steps", max_length=20)
    limit_min_a: float | None = quantity("Lowest current limit", "A", default=None, gt=0, le=500)
    efficiency: float = quantity("Efficiency", "share", gt=0.3, le=1, example=0.92)
    input_min_v: float = quantity("Lowest input", "V", gt=0, le=64, example=9.0)
    input_max_v: float = quantity("Highest input", "V", gt=0, le=80, example=17.0)
    output_min_v: float = quantity("Lowest output setting", "V", gt=0, le=80, example=12.0)
    output_max_v: float = quantity("Highest output setting", "V", gt=0, le=80, example=15.0)
    terminal_max_mm2: float = quantity("Terminal takes up to", "mm²", ge=0.75, le=300, example=25)
    terminal_stud: Literal["", "M4", "M5", "M6", "M8", "M10"] = choice(
        "Terminal stud", {"": "none, a clamp", "M4": "M4", "M5": "M5", "M6": "M6", "M8": "M8", "M10": "M10"}, default=""
    )
    terminal_torque_nm: float | None = quantity("Terminal torque", "N·m", default=None, gt=0, le=100, example=4)
    rated_ambient_c: float = quantity("Full output up to", "°C", default=40.0, ge=-20, le=100, example=40)
    derating_percent_per_k: float = quantity("Derating above it", "%/K", default=2.5, ge=0, le=100, example=2.5)
    dual_input: Literal["none", "priority", "split"] = choice(
        "Second (solar) input",
        {"none": "none", "priority": "one source at a time", "split": "half to each source"},
        default="none",
    )
    dual_first: Literal["alternator", "solar"] = choice(
        "Which source goes first", {"alternator": "alternator", "solar": "solar panel"}, default="alternator"
    )
    dual_delay_s: float = quantity("The other waits", "s", default=60.0, ge=0, le=36000, example=60)
    width_mm: float | None = quantity("Width", "mm", default=None, gt=0, le=3000, example=190)
    height_mm: float | None = quantity("Height", "mm", default=None, gt=0, le=3000, example=130)
    depth_mm: float | None = quantity("Depth", "mm", default=None, gt=0, le=3000, example=70)
    clearance_mm: float = quantity("Free air all round", "mm", default=50.0, ge=0, le=1000, example=50)
    weight_kg: float | None = quantity("Weight", "kg", default=None, gt=0, le=500, example=1.3)
    enables: Annotated[tuple[EnableInput, ...], ONCE] = several("Enable inputs", ENABLE_WORDS)
    start_rules: StartRecord = Field(StartRecord(), title="Start rules")
    stop_rules: StopRecord = Field(StopRecord(), title="Stop rules")
    guard: GuardRecord = Field(GuardRecord(), title="Battery guard")
    behaviour: Behaviour = Field(Behaviour(), title="Behaviour")
    settings: SettingsRecord | None = Field(None, title="Settings record")
    maker_cable_mm2: float | None = quantity("Maker's table says", "mm²", default=None, gt=0, le=300)
    price: float = quantity("Price", "€", default=0.0, ge=0, le=1e6)
    supplier: str = Field("", title="Supplier", max_length=80)
    source: str = Field("", title="Source", max_length=200)

    @model_validator(mode="after")
    def _ranges_in_order(self) -> Charger:
        if self.input_min_v >= self.input_max_v:
            raise ValueError("lowest input must lie below highest input")
        if self.output_min_v > self.output_max_v:
            raise ValueError("lowest output setting must not lie above the highest")
        start_v, stop_v = self.start_rules.fixed_v, self.stop_rules.fixed_v
        if start_v is not None and stop_v is not None and stop_v > start_v:
            raise ValueError("the fixed stop must not lie above the fixed start")
        if self.current_limit == "steps" and not self.limit_steps_a:
            raise ValueError("a unit limited in steps needs its steps in amperes")
        return self

    @model_validator(mode="after")
    def _one_truth(self) -> Charger:
        """Lines of start, stop and guard agree with the rules' own ranges."""
        ranges: dict[str, VoltRange] = {
            "start_v": self.start_rules,
            "stop_v": self.stop_rules,
            "guard_v": self.guard,
            "back_v": self.guard,
        }
        for line in self.settings.lines if self.settings is not None else ():
            record = ranges.get(line.means)
            if record is None or not record.settable:
                continue
            if line.hidden:
                raise ValueError(
                    f"{line.label}: nobody can key it, yet the unit's rules are set from {record.from_v:g} V; show the line, or "
                    "give the rule's fixed volts"
                )
            if not _agrees(line, record, self.input_nominal_v):
                raise ValueError(
                    f"{line.label}: the unit's rules are set from {record.from_v:g} to {record.to_v:g} V; give its line the "
                    "same range and step"
                )
        return self

    @property
    def adjustable(self) -> bool:
        """Whether its start and stop rules can be set."""
        return self.start_rules.settable and self.stop_rules.settable

    def settable_a(self, wanted_a: float) -> float | None:
        """Largest current the unit can be set to at or below `wanted_a` [A]; None when it cannot."""
        if wanted_a >= self.output_a:
            return self.output_a
        line = next((line for line in self.settings.meaning("current_limit_a")), None) if self.settings else None
        if line is not None and not line.hidden:
            one_a = self.output_a / 100 if line.unit == "%" else 1.0
            settable_a = round(line.nearest(wanted_a / one_a, "down") * one_a, 4)
            return settable_a if settable_a <= wanted_a + 1e-6 else None
        if self.current_limit == "steps":
            below = [step for step in self.limit_steps_a if step <= wanted_a]
            return max(below) if below else None
        if self.current_limit == "continuous" and wanted_a >= (self.limit_min_a or 0):
            return wanted_a
        return None


def _agrees(line: Setting, record: VoltRange, nominal_v: int) -> bool:
    """Whether a line of a menu has the range and step of the rule it sets; a line per block is a share of it."""
    blocks = nominal_v / 12 if line.per_block else 1.0
    pairs = ((line.from_value, record.from_v), (line.to_value, record.to_v), (line.step, record.step_v))
    return all(a is not None and (b is None or abs(a * blocks - b) < 1e-6) for a, b in pairs)
