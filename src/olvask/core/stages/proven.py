"""Remedies tried before they are offered: each removes its finding and brings no new stop, or it is not shown.

- `proven`: findings with what is left of their remedies, in the order a tradesman would try them.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from pydantic import ValidationError

from olvask.core.catalogue import conductor, conductors
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import collect
from olvask.core.findings.finding import Change, Finding, Remedy
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.stages.registry import REGISTRY

# What a tradesman tries first: a setting, another place, a cable, a device, another unit. Industrial cartridges last.
SETTINGS = ("activation.", "charge.", "current_limit_a", "choices.", "auxiliary.", "vehicle.", "old_link.", "solar.")
PLACES = ("mount.", "existing.")
CARTRIDGE = "nh"
SIZES_UP = 6  # that a remedy grows a cable beyond what its own finding asks for
FIRST, PLACE, CABLE, DEVICE, UNIT, LAST = range(6)


def proven(design: Design, findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """Try every remedy on the design, and keep those that do what they say.

    Args:
        design: the design the findings are of.
        findings: with the remedies their judges propose.
    """
    findings = tuple(findings)
    stops = {item.id for item in findings if item.level == "stop"}
    tried: dict[tuple[tuple[str, str], ...], frozenset[tuple[str, bool]] | None] = {}
    return tuple(_kept(design, item, stops, tried) if item.remedies else item for item in findings)


def _kept(
    design: Design,
    finding: Finding,
    stops: set[str],
    tried: dict[tuple[tuple[str, str], ...], frozenset[tuple[str, bool]] | None],
) -> Finding:
    kept: list[Remedy] = []
    for proposed in finding.remedies:
        for remedy in (proposed, *_larger(proposed)):
            key = tuple((change.path, repr(change.value)) for change in remedy.changes)
            if key not in tried:
                tried[key] = _after(design, remedy)
            after = tried[key]
            new_stop = after is None or any(stopping and id not in stops for id, stopping in after)
            gone = after is not None and (finding.level == "note" or all(id != finding.id for id, _ in after))
            if gone and not new_stop:
                kept.append(remedy)
                break
    dropped = len(finding.remedies) - len(kept)
    return replace(finding, remedies=tuple(sorted(kept, key=_turn)), tried=dropped)


def _larger(remedy: Remedy) -> Iterator[Remedy]:
    """The same remedy with more copper, a few sizes up: what mends one thing may need more not to break another."""
    grown = remedy
    for _ in range(SIZES_UP):
        changes, label = [], grown.label
        for change in grown.changes:
            if not change.path.endswith(".size"):
                changes.append(change)
                continue
            present = conductor(str(change.value))
            larger = next(
                (item for item in conductors() if item.system == present.system and item.area_mm2 > present.area_mm2),
                None,
            )
            if larger is None:
                return
            changes.append(Change(path=change.path, value=larger.size))
            label = label.replace(present.size, larger.size)
        if label == grown.label:
            return
        grown = Remedy(label=label, changes=tuple(changes))
        yield grown


def _after(design: Design, remedy: Remedy) -> frozenset[tuple[str, bool]] | None:
    """What is said once a remedy is applied, each with whether it is a stop; `None` where it does not fit the model."""
    try:
        changed = apply(design, remedy)
    except (ValidationError, KeyError, IndexError):
        return None
    found = collect(Context.of(changed, worded=False), REGISTRY, remedies=False).findings
    return frozenset((item.id, item.level == "stop") for item in found)


def _turn(remedy: Remedy) -> int:
    """How early a tradesman would try a remedy: by the weightiest thing it changes."""
    return max(_weight(change.path, change.value) for change in remedy.changes)


def _weight(path: str, value: object) -> int:
    if f"'{CARTRIDGE}'" in repr(value):
        return LAST
    if path == "charger" or path.startswith("charger."):
        return UNIT
    if path.startswith(SETTINGS):
        return FIRST
    if path.startswith(PLACES):
        return PLACE
    return CABLE if path.endswith((".size", ".metal", ".parallel", ".length_m")) else DEVICE
