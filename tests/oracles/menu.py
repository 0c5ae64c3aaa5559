"""A device with a menu, made from its record as the manual would describe it; shares nothing with the core's planner.

It is keyed as a person keys it: by the label of a line and the text on the sheet.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

Plain = dict[str, Any]


class Refused(Exception):
    """The line is not there, or does not take that value."""


class Device:
    """What is on the display, what is stored, and what was stored when it last started."""

    def __init__(self, record: Plain, present: Mapping[str, Any]) -> None:
        """Begin as it is found: factory values, and `present` for lines nobody can know."""
        self.lines = record["lines"]
        self.display = {line["id"]: present.get(line["id"], line["factory"]) for line in self.lines}
        self.stored = dict(self.display)
        self.started_with = dict(self.display)

    def line(self, id: str) -> Plain:
        return next(line for line in self.lines if line["id"] == id)

    def in_menu(self, id: str) -> bool:
        line = self.line(id)
        if line["hidden"]:
            return False
        if line["shown_line"] == "":
            return True
        above = line["shown_line"]
        return self.in_menu(above) and self.display[above] in line["shown_values"]

    def key(self, id: str, text: str) -> None:
        line = self.line(id)
        if line["kind"] == "action" or not self.in_menu(id):
            raise Refused(id)
        value = self.read(line, text)
        self.turn(id, value)
        for option in line["options"]:
            if option["label"] == value:
                for rewrite in option["rewrites"]:
                    self.turn(rewrite["line"], rewrite["value"])
        if line["restarts"] and not line["needs_saving"]:
            self.off_and_on()

    def turn(self, id: str, value: Any) -> None:
        self.display[id] = value
        if not self.line(id)["needs_saving"]:
            self.stored[id] = value

    def read(self, line: Plain, text: str) -> Any:
        """The value a text means on this line: a number the knob can stop at, or one of the words."""
        if line["kind"] == "switch":
            if text not in ("on", "off"):
                raise Refused(text)
            return text
        if line["kind"] in ("choice", "coded"):
            if text not in [option["label"] for option in line["options"]]:
                raise Refused(text)
            return text
        number = float(text.split()[0])
        if line["steps"]:
            stops = list(line["steps"])
        else:
            count = round((line["to_value"] - line["from_value"]) / line["step"])
            stops = [line["from_value"] + n * line["step"] for n in range(count + 1)]
        near = min(stops, key=lambda stop: abs(stop - number))
        if abs(near - number) > 1e-3:
            raise Refused(text)
        return near

    def save(self) -> None:
        restarts = any(self.line(id)["restarts"] for id in self.display if self.display[id] != self.stored[id])
        self.stored = dict(self.display)
        if restarts:
            self.off_and_on()

    def off_and_on(self) -> None:
        self.display = dict(self.stored)
        self.started_with = dict(self.stored)

    def left(self) -> dict[str, Any]:
        """What it acts by once the menu is left: unsaved entries are gone, hidden lines may not count."""
        self.display = dict(self.stored)
        acting = {}
        for line in self.lines:
            id = line["id"]
            if line["kind"] == "action" or not (line["hidden"] or line["acts_hidden"] or self.in_menu(id)):
                continue
            acting[id] = self.started_with[id] if line["at_power_up"] else self.stored[id]
        return acting
