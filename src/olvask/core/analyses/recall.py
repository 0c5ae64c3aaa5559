"""Which jobs hold a thing, and what would change if the shelf's own item stood in place of the job's copy.

- `Holds`, `holds`: where a design holds what is looked for.
- `Recalled`, `with_item`: findings that would come or go with the shelf's unit.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from olvask.core.assess import assess
from olvask.core.catalogue import device
from olvask.core.findings.said import Said
from olvask.core.model import Charger, Design
from olvask.core.model.base import word_of

What = Literal["unit", "battery", "cable", "device", "monitor"]
WHAT: dict[What, str] = {
    "unit": "unit",
    "battery": "battery",
    "cable": "cable size",
    "device": "device",
    "monitor": "battery monitor",
}


class Holds(Said):
    """One place of a design that holds it."""

    path: str
    words: str


class Recalled(Said):
    """What is different with the shelf's item as it is now."""

    differs: bool
    come: tuple[str, ...]
    go: tuple[str, ...]


def holds(design: Design, what: What, key: str) -> tuple[Holds, ...]:
    """Where a design holds a thing.

    Args:
        design: the design.
        what: of which kind it is.
        key: a unit's shelf number or name, a battery's or monitor's name, a cable's size, a device's family and rating.
    """
    wanted = key.casefold().strip()
    return tuple(found for found in _things(design, what) if wanted and wanted in found.words.casefold())


def _things(design: Design, what: What) -> Iterator[Holds]:
    if what == "unit" and design.charger is not None:
        yield Holds(path="charger", words=f"{design.charger.id} {design.charger.name}")
    elif what == "battery" and design.auxiliary.name:
        yield Holds(path="auxiliary", words=design.auxiliary.name)
    elif what == "monitor" and design.monitor.unit is not None:
        yield Holds(path="monitor", words=design.monitor.unit.name)
    elif what in ("cable", "device"):
        for name, run in (("supply", design.supply), ("delivery", design.delivery)):
            for piece in run.pieces:
                if piece.kind == "cable" and what == "cable":
                    yield Holds(path=f"{name}.pieces.{piece.id}", words=f"{piece.size} {word_of(piece, 'metal')}")
                elif piece.kind == "device" and what == "device":
                    yield Holds(
                        path=f"{name}.pieces.{piece.id}",
                        words=f"{device(piece.family, piece.rating_a).label} {piece.rating_a:g} A",
                    )


def with_item(design: Design, item: Charger) -> Recalled:
    """What would come and go with the shelf's unit in place of the copy the job was made with.

    Args:
        design: the job's.
        item: as it stands on the shelf now.
    """
    if design.charger is None or design.charger == item:
        return Recalled(differs=False, come=(), go=())
    document: dict[str, Any] = design.model_dump(mode="json") | {"charger": item.model_dump(mode="json")}
    before = _wrong(design)
    after = _wrong(Design.model_validate(document))
    return Recalled(
        differs=True,
        come=tuple(title for key, title in after.items() if key not in before),
        go=tuple(title for key, title in before.items() if key not in after),
    )


def _wrong(design: Design) -> dict[str, str]:
    """Stops and cautions of a design, by their identity."""
    return {item.id: item.title for item in assess(design, remedies=False).findings if item.level != "note"}
