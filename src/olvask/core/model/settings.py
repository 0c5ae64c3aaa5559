"""The settings record of a device: the lines of its menu as its manual has them, in their order.

- `Setting`: one line, with what it means and how it behaves.
- `MenuChoice`: one choice of a line, and what else choosing it rewrites.
- `SettingsRecord`: the whole menu, checked for lines that refer to one another.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from olvask.core.model.base import Described, choice, tick
from olvask.core.model.unclear import unclear

Meaning = Literal[
    "battery_type",
    "absorption_v",
    "absorption_h",
    "absorbed_by",
    "tail_a",
    "after",
    "float_v",
    "rebulk_v",
    "bulk_h",
    "equalise",
    "equalise_v",
    "equalise_days",
    "compensation_mv_per_k",
    "cold_c",
    "hot_c",
    "current_limit_a",
    "start_v",
    "start_held_s",
    "stop_v",
    "stop_held_s",
    "guard_v",
    "guard_held_s",
    "back_v",
    "detection",
    "role",
    "signal_mode",
    "access_code",
    "display",
    "capacity_ah",
    "full_v",
    "full_tail_percent",
    "full_min",
    "efficiency_percent",
    "lead_exponent",
    "zero",
    "save",
    "other",
]
MEANINGS: dict[Meaning, str] = {
    "battery_type": "battery type",
    "absorption_v": "absorption volts",
    "absorption_h": "absorption time",
    "absorbed_by": "absorption by time or adaptive",
    "tail_a": "tail current",
    "after": "float or rest after absorption",
    "float_v": "float or storage volts",
    "rebulk_v": "starts again below",
    "bulk_h": "longest bulk",
    "equalise": "equalise on or off",
    "equalise_v": "equalise volts",
    "equalise_days": "days between equalising",
    "compensation_mv_per_k": "temperature compensation",
    "cold_c": "cold cut-off",
    "hot_c": "hot cut-off",
    "current_limit_a": "current limit",
    "start_v": "start volts",
    "start_held_s": "start delay",
    "stop_v": "stop volts",
    "stop_held_s": "stop delay",
    "guard_v": "lockout volts",
    "guard_held_s": "lockout delay",
    "back_v": "release volts",
    "detection": "engine-run detection on or off",
    "role": "charger or supply",
    "signal_mode": "signal input mode",
    "access_code": "access code",
    "display": "display",
    "capacity_ah": "battery capacity",
    "full_v": "full volts",
    "full_tail_percent": "full at tail",
    "full_min": "full for",
    "efficiency_percent": "charge efficiency",
    "lead_exponent": "lead exponent",
    "zero": "set zero",
    "save": "save",
    "other": "other",
}
Unit = Literal["", "V", "A", "%", "h", "min", "s", "°C", "mV/K", "Ah", "days"]
UNITS: dict[Unit, str] = {
    item: item or "none" for item in ("", "V", "A", "%", "h", "min", "s", "°C", "mV/K", "Ah", "days")
}
# Units a meaning's number may be written in, and what one of them is in the design's own.
WRITTEN: dict[Meaning, dict[Unit, float]] = {
    "absorption_v": {"V": 1.0},
    "absorption_h": {"h": 1.0, "min": 1 / 60},
    "tail_a": {"A": 1.0, "%": 0.0},
    "float_v": {"V": 1.0},
    "rebulk_v": {"V": 1.0},
    "bulk_h": {"h": 1.0, "min": 1 / 60},
    "equalise_v": {"V": 1.0},
    "equalise_days": {"days": 1.0},
    "compensation_mv_per_k": {"mV/K": 1.0},
    "cold_c": {"°C": 1.0},
    "hot_c": {"°C": 1.0},
    "current_limit_a": {"A": 1.0, "%": 0.0},
    "start_v": {"V": 1.0},
    "stop_v": {"V": 1.0},
    "guard_v": {"V": 1.0},
    "back_v": {"V": 1.0},
    "start_held_s": {"s": 1.0, "min": 60.0},
    "stop_held_s": {"s": 1.0, "min": 60.0},
    "guard_held_s": {"s": 1.0, "min": 60.0},
    "capacity_ah": {"Ah": 1.0},
    "full_v": {"V": 1.0},
    "full_tail_percent": {"%": 1.0},
    "full_min": {"min": 1.0, "s": 1 / 60},
    "efficiency_percent": {"%": 1.0},
    "lead_exponent": {"": 1.0},
}
Kind = Literal["number", "choice", "switch", "coded", "action"]
KINDS: dict[Kind, str] = {
    "number": "a number",
    "choice": "a choice",
    "switch": "on or off",
    "coded": "coded switch or jumper",
    "action": "an action, no value",
}
Value = float | str
ON, OFF = "on", "off"
LINE_ID = r"^[a-z][a-z0-9_]{0,23}$"


class Rewrite(Described):
    """Another line that gets a value when a choice is keyed."""

    line: str = Field(title="Rewrites line", pattern=LINE_ID)
    value: Value = Field(title="To")


class MenuChoice(Described):
    """One choice of a line: its label on the device, what it stands for, what it rewrites."""

    label: str = Field(title="Choice", min_length=1, max_length=40)
    stands_for: str = Field("", title="Stands for", max_length=20)
    rewrites: tuple[Rewrite, ...] = Field((), title="Rewrites", max_length=12)


class Setting(Described):
    """One line of a device's menu."""

    id: str = Field(title="Line", pattern=LINE_ID, description="A short name within this menu.")
    label: str = Field(title="Label on the device", min_length=1, max_length=60)
    means: Meaning = choice("Means", MEANINGS, default="other")
    kind: Kind = choice("Kind", KINDS, default="number")
    unit: Unit = choice("Unit", UNITS, default="")
    from_value: float | None = Field(None, title="From", ge=-1e6, le=1e6)
    to_value: float | None = Field(None, title="To", ge=-1e6, le=1e6)
    step: float | None = Field(None, title="Step", gt=0, le=1e6)
    steps: tuple[float, ...] = Field((), title="Only these values", max_length=60)
    options: tuple[MenuChoice, ...] = Field((), title="Choices", max_length=40)
    factory: Value | None = Field(None, title="Factory value", description="Left open where nobody knows it.")
    shown_line: str = Field("", title="Shown only when line", pattern=rf"^$|{LINE_ID}")
    shown_values: tuple[str, ...] = Field((), title="Has the value", max_length=20)
    hidden: bool = tick("Never shown, yet acts", help="Nobody can key it; what another line rewrites it to counts.")
    acts_hidden: bool = tick("While not shown, it still acts", default=True)
    latches: bool = tick("A signal once seen sticks")
    kept_without_remote: bool = tick("Kept without the remote", default=True)
    lost_at_reset: bool = tick("Lost at a reset", default=True)
    needs_saving: bool = tick("Needs saving")
    restarts: bool = tick("Restarts the device")
    at_power_up: bool = tick("Read only at power-up")
    per_block: bool = tick("Counts per 12 V block")
    note: str = Field("", title="How", max_length=200)

    @model_validator(mode="after")
    def _whole(self) -> Setting:
        if self.kind == "number":
            self._number()
        elif self.kind in ("choice", "coded") and len(self.options) < 2:
            raise ValueError(f"{self.label}: give at least two choices, or make it another kind")
        elif self.kind == "action" and self.factory is not None:
            raise ValueError(f"{self.label}: an action has no value; clear its factory value")
        if self.factory is not None and self.kind != "action" and not self.takes(self.factory):
            asked = unclear(self.factory) if self.kind == "number" else ""
            raise ValueError(
                f"{self.label}, factory value: {asked}"
                if asked
                else f"{self.label}: factory value {self.factory} is none it can have"
            )
        if bool(self.shown_line) != bool(self.shown_values):
            raise ValueError(f"{self.label}: say both the line it depends on and the values that show it, or neither")
        return self

    def _number(self) -> None:
        if not self.steps and (self.from_value is None or self.to_value is None or self.step is None):
            raise ValueError(f"{self.label}: a number needs its range and step, or its only values")
        if self.from_value is not None and self.to_value is not None and self.from_value > self.to_value:
            raise ValueError(f"{self.label}: its range runs backwards; swap the two")
        written = WRITTEN.get(self.means)
        if written is not None and self.unit not in written:
            allowed = " or ".join(unit or "no unit" for unit in written)
            raise ValueError(f"{self.label}: {MEANINGS[self.means]} is written in {allowed}")

    def values(self) -> tuple[str, ...]:
        """What it can be chosen as; empty for a number."""
        if self.kind == "switch":
            return (OFF, ON)
        return tuple(option.label for option in self.options)

    def takes(self, value: Value) -> bool:
        """Whether a value can be keyed."""
        if self.kind == "number":
            return isinstance(value, int | float) and abs(self.nearest(float(value)) - value) < 1e-5
        return value in self.values()

    def nearest(self, wanted: float, side: Literal["near", "down", "up"] = "near") -> float:
        """The value it can have that is nearest to one wanted, or the next below or above where there is one.

        Args:
            wanted: as the device writes it.
            side: to which side it may differ.
        """
        if self.steps:
            ladder = sorted(self.steps)
        else:
            low, high, step = self.from_value or 0.0, self.to_value or 0.0, self.step or 1.0
            at = (min(max(wanted, low), high) - low) / step
            lower = int(at + 1e-6)
            ladder = [round(low + step * n, 6) for n in (lower, lower + 1) if low + step * n <= high + 1e-6]
        if side == "down":
            below = [item for item in ladder if item <= wanted + 1e-6]
            return below[-1] if below else ladder[0]
        if side == "up":
            above = [item for item in ladder if item >= wanted - 1e-6]
            return above[0] if above else ladder[-1]
        return min(ladder, key=lambda item: (abs(item - wanted), item))

    def option(self, label: Value) -> MenuChoice | None:
        """The choice under its label."""
        return next((item for item in self.options if item.label == label), None)


class SettingsRecord(Described):
    """The menu of a device, its lines in order."""

    lines: tuple[Setting, ...] = Field((), title="Lines", max_length=60)
    enter: str = Field("", title="How to get in", max_length=200)
    save: str = Field("", title="How to save", max_length=200)

    @model_validator(mode="after")
    def _refer(self) -> SettingsRecord:
        known = {line.id: line for line in self.lines}
        if len(known) < len(self.lines):
            twice = next(
                line.id for at, line in enumerate(self.lines) if line.id in [item.id for item in self.lines[:at]]
            )
            raise ValueError(f"line {twice} stands twice; name each of its own")
        for line in self.lines:
            if line.shown_line:
                self._shown(line, known)
            for option in line.options:
                for rewrite in option.rewrites:
                    target = known.get(rewrite.line)
                    if target is None or target is line or not target.takes(rewrite.value):
                        raise ValueError(
                            f"{line.label}, {option.label}: it rewrites {rewrite.line} to {rewrite.value}, which is no line or "
                            "no value of it"
                        )
        return self

    def _shown(self, line: Setting, known: dict[str, Setting]) -> None:
        seen, at = {line.id}, line
        while at.shown_line:
            above = known.get(at.shown_line)
            if above is None:
                raise ValueError(f"{at.label}: it depends on {at.shown_line}, which is no line of this menu")
            if above.id in seen:
                raise ValueError(f"{line.label}: it depends on itself")
            wrong = [value for value in at.shown_values if above.kind == "number" or value not in above.values()]
            if wrong:
                raise ValueError(f"{at.label}: {above.label} cannot be {wrong[0]}")
            seen.add(above.id)
            at = above

    def line(self, id: str) -> Setting:
        """A line by its name."""
        return next(line for line in self.lines if line.id == id)

    def meaning(self, means: Meaning) -> tuple[Setting, ...]:
        """The lines of a meaning."""
        return tuple(line for line in self.lines if line.means == means)
