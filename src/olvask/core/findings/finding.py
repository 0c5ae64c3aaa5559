"""What is wrong with a design or worth knowing of it, and what can be done.

- `Finding`: as it leaves the core.
- `stop`, `caution`, `note`: what a judge yields; remedies may be left to a function, searched for only when wanted.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import Field

Level = Literal["stop", "caution", "note"]
Stage = Literal["survey", "match", "run", "wake", "settings", "build", "prove", "handover"]
STAGES: tuple[Stage, ...] = ("survey", "match", "run", "wake", "settings", "build", "prove", "handover")
LEVEL_ORDER: dict[Level, int] = {"stop": 0, "caution": 1, "note": 2}


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """Set one place of the design, named by its path, to a value."""

    path: str
    value: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class Remedy:
    """A computed change that one click applies."""

    label: str
    changes: tuple[Change, ...]

    @property
    def paths(self) -> frozenset[str]:
        """What it changes."""
        return frozenset(change.path for change in self.changes)


Remedies = Iterable[Remedy | None] | Callable[[], Iterable[Remedy | None]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """What is wrong or worth knowing, where on the path, why in numbers, and the remedies."""

    id: str
    level: Level
    stage: Stage
    place: Annotated[str, Field(description="a station such as charger, or the identity of a piece")]
    title: str
    text: str
    concerns: Annotated[tuple[str, ...], Field(description="paths of the design it speaks of")] = ()
    remedies: tuple[Remedy, ...] = ()
    tried: Annotated[int, Field(description="remedies tried that do not mend it, or bring a new stop")] = 0


@dataclass(frozen=True, slots=True)
class Found:
    """A finding as a judge yields it.

    Attributes:
        level: stop, caution or note.
        id: stable dotted name, ending in the identity of a piece where it may occur more than once.
        place: station, or identity of a piece, on the level line.
        title: what, in a few words.
        text: where and why, in numbers.
        remedies: computed remedies, or a function that searches for them; `None` among them is passed over.
        concerns: paths of the design it speaks of.
    """

    level: Level
    id: str
    place: str
    title: str
    text: str
    remedies: Remedies = ()
    concerns: tuple[str, ...] = ()


stop = partial(Found, "stop")
caution = partial(Found, "caution")
note = partial(Found, "note")


def worst_level(findings: Iterable[Finding]) -> Level | None:
    """The gravest level among findings; `None` where there is none."""
    return min((item.level for item in findings), key=LEVEL_ORDER.__getitem__, default=None)


def about(findings: Iterable[Finding], path: str) -> list[Finding]:
    """Findings that concern a path of the design.

    Args:
        findings: some findings.
        path: the path.
    """
    return [item for item in findings if path in item.concerns]
