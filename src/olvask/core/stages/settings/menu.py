"""A device's menu worked through: what is shown, what a key rewrites, what saving, restarting and power do.

- `Step`: one thing done at the device.
- `Menu`: its state while being keyed.
- `outcome`: what acts after some steps from the factory state; `None` where they cannot be done.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from typing import Literal

from olvask.core.model.settings import Setting, SettingsRecord, Value

UNKNOWN = "?"  # a value nobody knows before it is keyed
Do = Literal["key", "save", "power"]
# What lines nobody knew turn out to have shown: other values; by chance what is keyed; that where it starts the device anew.
Found = Literal["other", "same", "same_restarts"]
FOUND: tuple[Found, ...] = ("other", "same", "same_restarts")


@dataclass(frozen=True, slots=True)
class Step:
    """One thing done: a line keyed to a value, the menu saved, the device switched off and on."""

    do: Do
    line: str = ""
    value: Value = ""


class Menu:
    """A menu in the middle of being keyed; it begins as it left the factory."""

    def __init__(self, record: SettingsRecord, found: Found = "other") -> None:
        """Begin; what latches, or whose factory value nobody wrote down, may show anything.

        Args:
            record: the menu.
            found: what a line nobody knew is taken to have shown once it is keyed: another value, or that one already.
        """
        self.found = found
        self.lines: Mapping[str, Setting] = {line.id: line for line in record.lines}
        begun: dict[str, Value] = {
            line.id: UNKNOWN if line.factory is None or line.latches else line.factory for line in record.lines
        }
        self.shown, self.kept, self.powered = begun, dict(begun), dict(begun)

    def copy(self) -> Menu:
        """Another that stands where this one does, and goes its own way from there."""
        found = copy(self)
        found.shown, found.kept, found.powered = dict(self.shown), dict(self.kept), dict(self.powered)
        return found

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
        for id, value in self.shown.items():
            if self.kept[id] == UNKNOWN and self._there_already(self.lines[id]):
                self.kept[id] = self.powered[id] = value
        restarts = any(self.lines[id].restarts for id, value in self.shown.items() if value != self.kept[id])
        self.kept.update(self.shown)
        if restarts:
            self.power()

    def _there_already(self, line: Setting) -> bool:
        """Whether what nobody knew of a line is taken to have been what is saved now."""
        return self.found == "same" or (self.found == "same_restarts" and line.restarts)

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


def outcome(record: SettingsRecord, steps: Sequence[Step]) -> dict[str, Value] | None:
    """What acts after some steps from the factory state; `None` where a step cannot be done.

    Args:
        record: the menu.
        steps: in order.

    What hangs on a value nobody knows comes out as `UNKNOWN`.
    """
    worlds = FOUND if any(line.restarts for line in record.lines) else FOUND[:1]
    first, *others = [_done(Menu(record, found), steps) for found in worlds]
    if first is None:
        return None
    agreed = {id: all(other is not None and other.get(id) == value for other in others) for id, value in first.items()}
    return {id: value if agreed[id] else UNKNOWN for id, value in first.items()}


def _done(menu: Menu, steps: Iterable[Step]) -> dict[str, Value] | None:
    for step in steps:
        if step.do == "key" and not menu.key(step.line, step.value):
            return None
        if step.do == "save":
            menu.save()
        elif step.do == "power":
            menu.power()
    menu.leave()
    return menu.acting()
