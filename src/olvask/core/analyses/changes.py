"""What changed between two designs, in the words the screens have for them.

- `Changed`: one thing.
- `changes_between`: all of them, in the order of the design.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from functools import cache
from typing import Any, Literal

from olvask.core.findings.driven import spoken
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.model.base import as_shown
from olvask.core.model.form import FormField, Option, fields_of
from olvask.core.stages.settings.read_back import named_lines

AREAS: dict[str, str] = {
    "vehicle": "Vehicle",
    "auxiliary": "Auxiliary battery",
    "use": "Use",
    "existing": "What is there already",
    "inherited": "Inherited cable",
    "solar": "Solar",
    "distances": "Distances",
    "charger": "Unit",
    "units": "Unit",
    "current_limit_a": "Unit",
    "access_code_changed": "Unit",
    "mount": "Mounting",
    "site": "On board",
    "own_steps": "Steps of the shop's own",
    "supply": "Supply run",
    "delivery": "Delivery run",
    "activation": "Activation",
    "charge": "Charge settings",
    "keyed": "Keyed into the unit",
    "monitor": "Battery monitor",
    "old_link": "Old link",
    "routes": "Routes",
    "terms": "Terms",
    "choices": "Choices",
}
QUIET = {"provenance", "id"}  # where a value came from is told with it; identities are nobody's concern
NAMED = ("name", "size", "label", "kind", "line")  # what a thing of a list is called by, the first it has
WHOLE = {"charger", "unit"}  # a record from the shelf: another one is one change, not forty
NOTHING = "not said"
COUNTED = re.compile(r" [a-z]{3,}s")  # a unit that is a word, of several
BACK = FormField(
    path="run.back.kind",
    label="Return",
    unit="",
    kind="choice",
    choices=(Option(value="cable", label="own cable"), Option(value="chassis", label="chassis")),
    required=False,
    group="",
)


class Changed(Said):
    """One thing that changed."""

    area: str
    path: str
    what: str
    how: Literal["changed", "added", "removed", "moved"]
    before: str
    after: str

    @property
    def text(self) -> str:
        """The whole in a line."""
        if self.how == "added":
            return f"{self.what} added"
        if self.how in ("removed", "moved"):
            return f"{self.what} {self.how}"
        return f"{self.what}: {self.before} → {self.after}"


@cache
def _fields() -> Mapping[str, FormField]:
    return {field.path: field for field in (*fields_of(Design), BACK)}


@cache
def _kinds() -> Mapping[str, str]:
    """Words for every kind of thing that can be chosen."""
    kinds = [field for path, field in _fields().items() if path.endswith(".kind")]
    return {str(choice.value): choice.label for field in kinds for choice in field.choices}


def changes_between(old: Design, new: Design) -> tuple[Changed, ...]:
    """Everything that differs, in the order of the design.

    Args:
        old: the earlier design.
        new: the later one.
    """
    before, after = old.model_dump(mode="json"), new.model_dump(mode="json")
    names = named_lines(old) | named_lines(new)
    for item in (*before["keyed"], *after["keyed"]):
        item["label"] = names.get(item["line"].partition("@")[0], "a line of another menu")  # as the device calls it
    return spoken(new, tuple(_within(before, after, (), ())))


def _within(old: Any, new: Any, path: tuple[str, ...], pattern: tuple[str, ...]) -> Iterator[Changed]:
    if old == new:
        return
    if path and path[-1] in WHOLE and _record(old) != _record(new):
        yield _changed(path, AREAS.get(path[0], path[0]), _record(old) or NOTHING, _record(new) or NOTHING)
        return
    if isinstance(old, dict) and isinstance(new, dict):
        for key in dict.fromkeys([*old, *new]):
            if key not in QUIET:
                step = "run" if not path and key in ("supply", "delivery") else key
                yield from _within(old.get(key), new.get(key), (*path, key), (*pattern, step))
    elif isinstance(old, list) and isinstance(new, list) and _things(old) and _things(new):
        yield from _listed(old, new, path, pattern)
    elif isinstance(old, dict) or isinstance(new, dict):
        how: Literal["added", "removed"] = "added" if old is None else "removed"
        yield _whole(path, new if old is None else old, how)
    else:
        field = _fields().get(".".join(pattern))
        what = field.label if field is not None else path[-1].replace("_", " ")
        yield _changed(path, what, _shown(old, field), _shown(new, field))


def _listed(old: list[Any], new: list[Any], path: tuple[str, ...], pattern: tuple[str, ...]) -> Iterator[Changed]:
    """Things of a list, by identity; those without one by their place."""
    before = {_identity(item, at): item for at, item in enumerate(old)}
    after = {_identity(item, at): item for at, item in enumerate(new)}
    for key, item in before.items():
        if key not in after:
            yield _whole((*path, key), item, "removed")
    for key, item in after.items():
        if key not in before:
            yield _whole((*path, key), item, "added")
        else:
            step = item.get("kind", "*") if "pieces" in path else "*"
            for found in _within(before[key], item, (*path, key), (*pattern, step)):
                name = _name(item)
                yield (
                    found
                    if not name or name in found.what
                    else found.model_copy(update={"what": f"{name}: {found.what}"})
                )
    kept_old = [key for key in before if key in after]
    kept_new = [key for key in after if key in before]
    if kept_old != kept_new:
        yield _whole((*path, "order"), {"name": "their order"}, "moved")


def _things(items: list[Any]) -> bool:
    return all(isinstance(item, dict) for item in items)


def _identity(item: dict[str, Any], at: int) -> str:
    return str(item.get("id") or item.get("line") or at)


def _record(item: Any) -> str:
    return str(item.get("name") or item.get("id") or "") if isinstance(item, dict) else ""


def _name(item: dict[str, Any]) -> str:
    """What a thing is called by: its name, else its size or kind and rating."""
    words = next((str(item[key]) for key in NAMED if item.get(key)), "")
    words = _kinds().get(words, words) if words == item.get("kind") else words
    rating = item.get("rating_a")
    return f"{words} {rating:g} A" if rating is not None and item.get("kind") == "device" else words


def _whole(path: tuple[str, ...], item: Any, how: Literal["added", "removed", "moved"]) -> Changed:
    name = _name(item) if isinstance(item, dict) else str(item)
    return Changed(
        area=AREAS.get(path[0], path[0]), path=".".join(path), what=name or path[-1], how=how, before="", after=""
    )


def _changed(path: tuple[str, ...], what: str, before: str, after: str) -> Changed:
    return Changed(
        area=AREAS.get(path[0], path[0]), path=".".join(path), what=what, how="changed", before=before, after=after
    )


def _shown(value: Any, field: FormField | None) -> str:
    """A value as the screen shows it."""
    if value is None or value == "" or value == []:
        return NOTHING
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return ", ".join(_shown(item, field) for item in value)
    labels = {choice.value: choice.label for choice in field.choices} if field is not None else {}
    if value in labels:
        return labels[value]
    unit = field.unit if field is not None else ""
    if isinstance(value, int | float):
        value, unit = as_shown(value, unit)
    unit = f" {unit}" if unit else ""
    if value == 1 and COUNTED.fullmatch(unit):
        unit = unit[:-1]
    return f"{value:g}{unit}" if isinstance(value, int | float) else f"{value}{unit}"
