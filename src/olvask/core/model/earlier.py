"""Documents of version 1 brought up to version 2: identities, start and stop rules, the battery guard.

Version 1 addressed pieces by position and had one start, one stop, one start at once and a lockout.

- `design_from_1`: a design.
- `charger_from_1`: a unit of the shelf.
- `is_charger_1`: whether a unit's document is of version 1.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from olvask.core.model.design import LETTER, LISTS

Plain = dict[str, Any]
OLD_BEHAVIOUR = (
    "lockout_compensated",
    "start_delay_max_s",
    "stop_delay_max_s",
    "fixed_start_v",
    "fixed_stop_v",
    "fixed_lockout_v",
    "fixed_restart_v",
    "off_least_s",
)
OLD_CHARGER = ("threshold_min_v", "threshold_max_v", "threshold_step_v")
# Paths that moved, besides those of things in lists.
MOVED = {
    "activation.methods": "activation.ways",
    "activation.start_v": "activation.start_rules.0.at_least_v",
    "activation.start_delay_s": "activation.start_rules.0.held_s",
    "activation.start_at_once_v": "activation.start_rules.1.at_least_v",
    "activation.stop_v": "activation.stop_rules.0.below_v",
    "activation.stop_delay_s": "activation.stop_rules.0.held_s",
    "activation.lockout_v": "activation.guard.off_below_v",
    "activation.lockout_delay_s": "activation.guard.held_s",
    "activation.restart_v": "activation.guard.back_at_v",
}


def _renamed(pairs: Mapping[str, str], document: Mapping[str, Any]) -> Plain:
    """The entries a document has of those named, under their new names."""
    return {new: document[old] for old, new in pairs.items() if old in document}


def is_charger_1(document: Mapping[str, Any]) -> bool:
    """Whether a unit's document has fields that only version 1 had."""
    behaviour = document.get("behaviour")
    has_old = isinstance(behaviour, Mapping) and any(key in behaviour for key in OLD_BEHAVIOUR)
    return has_old or any(key in document for key in OLD_CHARGER)


def charger_from_1(document: Mapping[str, Any]) -> Plain:
    """A unit's document as version 2 has it.

    Args:
        document: the unit as version 1 wrote it; what is no document at all is left for the model to refuse.
    """
    behaviour = document.get("behaviour", {})
    if not isinstance(behaviour, Mapping):
        return dict(document)
    volts = _renamed({"threshold_min_v": "from_v", "threshold_max_v": "to_v", "threshold_step_v": "step_v"}, document)
    start = {"rows": 2} | volts | _renamed({"start_delay_max_s": "held_most_s", "fixed_start_v": "fixed_v"}, behaviour)
    stop = volts | _renamed({"stop_delay_max_s": "held_most_s", "fixed_stop_v": "fixed_v"}, behaviour)
    guard = volts | _renamed(
        {
            "fixed_lockout_v": "fixed_off_v",
            "fixed_restart_v": "fixed_back_v",
            "off_least_s": "off_least_s",
            "lockout_compensated": "compensated",
        },
        behaviour,
    )
    kept = {key: value for key, value in document.items() if key not in OLD_CHARGER}
    kept["behaviour"] = {key: value for key, value in behaviour.items() if key not in OLD_BEHAVIOUR}
    return kept | {"start_rules": start, "stop_rules": stop, "guard": guard}


def _activation(old: Mapping[str, Any]) -> Plain:
    ways = [{"link": "bridge"}.get(way, way) for way in old.get("methods", ["voltage"])]
    first = _renamed({"start_v": "at_least_v", "start_delay_s": "held_s"}, old)
    start = [first]
    if old.get("start_at_once_v") is not None:
        start.append({"at_least_v": old["start_at_once_v"], "held_s": 0.0})
    stop = [_renamed({"stop_v": "below_v", "stop_delay_s": "held_s"}, old)]
    guard = _renamed({"lockout_v": "off_below_v", "lockout_delay_s": "held_s", "restart_v": "back_at_v"}, old)
    return {"ways": ways, "start_rules": start, "stop_rules": stop, "guard": guard}


def _named(document: Plain) -> dict[str, str]:
    """Give every thing in a list its identity, in place; the old paths of positions and what they become."""
    became: dict[str, str] = {}
    count: dict[str, int] = {}
    for path, letter in LISTS:
        owner: Any = document
        *way, last = path.split(".")
        for step in way:
            owner = owner.get(step) if isinstance(owner, dict) else None
        items = owner.get(last) if isinstance(owner, dict) else None
        for at, item in enumerate(items if isinstance(items, list) else []):
            if not isinstance(item, dict):
                continue
            begins = letter or LETTER.get(str(item.get("kind")), "x")
            count[begins] = count.get(begins, 0) + 1
            item["id"] = f"{begins}{count[begins]}"
            became[f"{path}.{at}"] = f"{path}.{item['id']}"
    return became


def _path(old: str, became: Mapping[str, str]) -> str:
    if old in MOVED:
        return MOVED[old]
    for place, named in became.items():
        if old == place or old.startswith(place + "."):
            return named + old[len(place) :]
    return old


def _copied(value: Any) -> Any:
    if isinstance(value, Mapping):
        return {key: _copied(item) for key, item in value.items()}
    return [_copied(item) for item in value] if isinstance(value, list) else value


def design_from_1(document: Mapping[str, Any]) -> Plain:
    """A design's document as version 2 has it; what does not fit is left for the model to refuse.

    Args:
        document: the design as version 1 wrote it.
    """
    design: Plain = _copied(document)
    became = _named(design)
    for run in ("supply", "delivery"):
        back = design[run].get("back") if isinstance(design.get(run), dict) else None
        if isinstance(back, dict) and "way" in back:
            back["kind"] = back.pop("way")
    if isinstance(design.get("charger"), dict):
        design["charger"] = charger_from_1(design["charger"])
    if isinstance(design.get("activation"), dict):
        design["activation"] = _activation(design["activation"])
    if isinstance(design.get("provenance"), dict):
        design["provenance"] = {
            _path(path, became): "entered" if word == "own" else word for path, word in design["provenance"].items()
        }
    return design
