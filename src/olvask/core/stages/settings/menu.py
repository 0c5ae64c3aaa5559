"""A device's menu worked through: what is shown, what a key rewrites, what saving, restarting and power do.

- `Step`: one thing done at the device.
- `Menu`: its state while being keyed.
- `outcome`: what acts after some steps from the factory state; `None` where they cannot be done.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from olvask.core.model.settings import Setting, SettingsRecord, Value

UNKNOWN = "?"  # a value nobody knows before it is keyed
Do = Literal["key", "save", "power"]


@dataclass(frozen=True, slots=True)
class Step:
    """One thing done: a line keyed to a value, the menu saved, the device switched off and on."""

    do: Do
    line: str = ""
    value: Value = ""


class Menu:
    """A menu in the middle of being keyed; it begins as it left the factory."""

    def __init__(self, record: SettingsRecord) -> None:
        """Begin; what latches, or whose factory value nobody wrote down, may show anything."""
        self.lines: Mapping[str, Setting] = {line.id: line for line in record.lines}
        begun: dict[str, Value] = {
            line.id: UNKNOWN if line.factory is None or line.latches else line.factory for line in record.lines
        }
        self.shown, self.kept, self.powered = begun, dict(begun), dict(begun)

    def visible(self, line: Setting) -> bool:
        """Whether a line is in the menu now."""
        if line.hidden:
            return False
        while line.shown_line:
            above = self.lines[line.shown_line]
            if above.hidden or self.shown[above.id] not in line.shown_values:
                return False
            line = above
        return True

    def key(self, id: str, value: Value) -> bool:
        """Key a line; false where it is not there or does not take the value."""
        line = self.lines[id]
        if line.kind == "action" or not self.visible(line) or not line.takes(value):
            return False
        self._put(line, value)
        option = line.option(value)
        for rewrite in option.rewrites if option is not None else ():
            self._put(self.lines[rewrite.line], rewrite.value)
        if line.restarts and not line.needs_saving:
            self.power()
        return True

    def _put(self, line: Setting, value: Value) -> None:
        self.shown[line.id] = value
        if not line.needs_saving:
            self.kept[line.id] = value
        if not line.at_power_up:
            self.powered[line.id] = value

    def save(self) -> None:
        """Keep everything that wants saving; what restarts the device and wants saving restarts it now."""
        restarts = any(self.lines[id].restarts for id, value in self.shown.items() if value != self.kept[id])
        self.kept.update(self.shown)
        if restarts:
            self.power()

    def power(self) -> None:
        """Switch off and on: what was not kept is gone, what is read then is read."""
        self.shown = dict(self.kept)
        self.powered = dict(self.kept)

    def leave(self) -> None:
        """Leave the menu: what was not kept is gone."""
        for id, value in self.shown.items():
            if value != self.kept[id] and not self.lines[id].at_power_up:
                self.powered[id] = self.kept[id]
        self.shown = dict(self.kept)

    @property
    def pending(self) -> bool:
        """Whether something would be lost by leaving now."""
        return self.shown != self.kept

    @property
    def unread(self) -> bool:
        """Whether something kept is not yet acted by, for it is read at power-up."""
        return any(line.at_power_up and self.kept[id] != self.powered[id] for id, line in self.lines.items())

    def acting(self) -> dict[str, Value]:
        """Every line that acts with the value it acts by, having left the menu."""
        return {
            id: self.powered[id]
            for id, line in self.lines.items()
            if line.kind != "action" and (line.acts_hidden or line.hidden or self.visible(line))
        }


def outcome(record: SettingsRecord, steps: Iterable[Step]) -> dict[str, Value] | None:
    """What acts after some steps from the factory state; `None` where a step cannot be done.

    Args:
        record: the menu.
        steps: in order.
    """
    menu = Menu(record)
    for step in steps:
        if step.do == "key" and not menu.key(step.line, step.value):
            return None
        if step.do == "save":
            menu.save()
        elif step.do == "power":
            menu.power()
    menu.leave()
    return menu.acting()
