"""Remedies tried before they are offered: each removes its finding and brings no new stop, or it is not shown.

A fault may hide another: what collapses does not hunt. Then the remedy is joined with that of what it brings to light.

- `proven`: findings with what is left of their remedies, in the order a tradesman would try them.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import NamedTuple

from pydantic import ValidationError

from olvask.core.catalogue import conductor, conductors
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import collect
from olvask.core.findings.finding import Change, Finding, Remedy
from olvask.core.findings.remedy import apply, joined
from olvask.core.model import Design
from olvask.core.stages.registry import REGISTRY

# What a tradesman tries first: a setting, another place, a cable, a device, another unit. Industrial cartridges last.
SETTINGS = ("activation.", "charge.", "current_limit_a", "choices.", "auxiliary.", "vehicle.", "old_link.", "solar.")
PLACES = ("mount.", "existing.")
CARTRIDGE = "nh"
COMPANIONS = 2  # further remedies joined to one that brings other stops to light
SIZES_UP = 6  # that a remedy grows a cable beyond what its own finding asks for
FIRST, PLACE, CABLE, DEVICE, UNIT, LAST = range(6)


def proven(design: Design, findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """Try every remedy on the design, and keep those that do what they say.

    Args:
        design: the design the findings are of.
        findings: with the remedies their judges propose.
    """
    findings = tuple(findings)
    trials = _Trials(design, frozenset(item.id for item in findings if item.level == "stop"))
    return tuple(trials.kept(item) if item.remedies else item for item in findings)


class _Trials:
    """Remedies tried on one design; each set of changes is judged once."""

    def __init__(self, design: Design, stops: frozenset[str]) -> None:
        """Take the design and the stops that stand against it."""
        self.design, self.stops = design, stops
        self.judged: dict[str, _After | None] = {}

    def kept(self, finding: Finding) -> Finding:
        """A finding with those of its remedies that mend it, in the order they would be tried."""
        kept = [found for proposed in finding.remedies if (found := self._mends(finding, proposed)) is not None]
        dropped = len(finding.remedies) - len(kept)
        return replace(finding, remedies=tuple(sorted(kept, key=_turn)), tried=dropped)

    def _mends(self, finding: Finding, proposed: Remedy) -> Remedy | None:
        """The remedy, or the same with more copper, or with what the stops it brings to light want besides."""
        for remedy in (proposed, *_larger(proposed)):
            after = self._after(remedy)
            if after is not None and after.mends(finding) and not after.stops - self.stops:
                return remedy
        wider: Remedy | None = proposed
        for _ in range(COMPANIONS):
            wider = self._with_companion(finding, wider) if wider is not None else None
            after = self._after(wider) if wider is not None else None
            if after is not None and not after.stops - self.stops:
                return wider
        return None

    def _with_companion(self, finding: Finding, remedy: Remedy) -> Remedy | None:
        """The remedy joined with one that takes a stop away which it brought to light, such as hunting behind a collapse."""
        after = self._after(remedy)
        if after is None or not after.mends(finding):
            return None
        new = after.stops - self.stops
        proposed = collect(Context.of(after.design, worded=False), REGISTRY).findings
        best: tuple[int, int, Remedy] | None = None
        for other in (remedy for item in proposed if item.id in new for remedy in item.remedies):
            both = joined(f"{remedy.label}, and {other.label[0].lower()}{other.label[1:]}", remedy, other)
            then = self._after(both)
            if then is None or not then.mends(finding) or not then.stops - self.stops < new:
                continue
            weighed = (len(then.stops - self.stops), _turn(other), both)
            best = weighed if best is None or weighed[:2] < best[:2] else best
        return None if best is None else best[2]

    def _after(self, remedy: Remedy) -> _After | None:
        """What is said once a remedy is applied; `None` where it does not fit the model."""
        key = repr(remedy.changes)
        if key not in self.judged:
            self.judged[key] = _After.of(self.design, remedy)
        return self.judged[key]


class _After(NamedTuple):
    """A design with a remedy applied, and the findings and stops it then has."""

    design: Design
    ids: frozenset[str]
    stops: frozenset[str]

    @classmethod
    def of(cls, design: Design, remedy: Remedy) -> _After | None:
        try:
            changed = apply(design, remedy)
        except (ValidationError, KeyError, IndexError):
            return None
        found = collect(Context.of(changed, worded=False), REGISTRY, remedies=False).findings
        stops = frozenset(item.id for item in found if item.level == "stop")
        return cls(changed, frozenset(item.id for item in found), stops)

    def mends(self, finding: Finding) -> bool:
        """Whether a finding is gone; a note only offers something."""
        return finding.level == "note" or finding.id not in self.ids


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
